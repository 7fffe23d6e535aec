import { functionIn, type Model } from '../../../core/anatomy/index.ts';
import { MARKS } from '../../../core/counter/index.ts';
import { CHECKS, likelyCauses } from '../../../core/diagnosis/index.ts';
import type { RunState } from '../../../core/run/index.ts';
import { Panel } from './Panel.tsx';
import { spoken } from '../../../words/index.ts';

/** Causes that are told beside how it came in. Origin: own choice. */
const LIKELIEST = 3;

/** How it came in: marks, what worked, what was checked, and what is likely behind it. */
export function CameIn({ state, model }: { state: RunState; model: Model }) {
  const { marks, checks, symptoms } = state.counter;
  const tried = [...state.before.values()];
  const name = (id: string) => functionIn(model.anatomy, id).name;
  const failed = tried.filter((t) => t.outcome === 'fail').map((t) => name(t.function));
  const told = (outcome: 'pass' | 'fail') => tried.filter((t) => t.outcome === outcome).map((t) => t.function);
  const complaint = { symptoms, failed: told('fail'), passed: told('pass'), checks };
  const behind =
    symptoms.length > 0 || complaint.failed.length > 0 ? likelyCauses(model, complaint).slice(0, LIKELIEST) : [];
  if (marks.size === 0 && tried.length === 0 && Object.keys(checks).length === 0 && symptoms.length === 0) return null;
  return (
    <Panel id="came-in" title="How it came in">
      {tried.length > 0 && (
        <p>
          <span className="num">{tried.length}</span> functions tried;{' '}
          {failed.length > 0 ? <b className="text-crimson">failed: {failed.join(', ')}</b> : 'all worked'}.
        </p>
      )}
      {behind.length > 0 && (
        <p>
          Likely behind it:{' '}
          {behind.map((c, i) => (
            <span key={c.id}>
              {i > 0 && ', '}
              {c.item === null ? spoken.sorts[c.sort].toLowerCase() : model.nameOf(c.item)}{' '}
              <span className="num">{Math.round(c.odds * 100)} %</span>
            </span>
          ))}
          .
        </p>
      )}
      <ul className="grid gap-1">
        {[...marks.values()].map((m) => (
          <li key={m.id} className="flex items-center gap-3">
            {m.photo && <img src={`/api/photos/${m.photo}/thumb`} alt={MARKS[m.kind]} className="h-12 rounded-md" />}
            {MARKS[m.kind]}, {m.face} <span className="num text-quiet">{m.at.join(' × ')} mm</span>
          </li>
        ))}
        {Object.entries(checks).map(([id, outcome]) => (
          <li key={id} className="text-quiet">
            {CHECKS[id as keyof typeof CHECKS].name}:{' '}
            {(CHECKS[id as keyof typeof CHECKS].outcomes as Record<string, string>)[outcome]}
          </li>
        ))}
      </ul>
    </Panel>
  );
}
