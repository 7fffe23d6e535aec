import { useEffect, useRef, useState } from 'react';
import type { Anatomy } from '../../../core/anatomy/index.ts';
import { workable } from '../../../core/draft/index.ts';
import { DEFAULT_RULES, timesOf, type Plan } from '../../../core/dive/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { DiveProfile } from '../../drawing/DiveProfile.tsx';
import { messageOf } from '../../state/api.ts';
import { planInWorker } from '../../workers/planner.ts';
import { useBoard } from './board.ts';
import { BY_ID, tell, spoken } from '../../../words/index.ts';

/** How long edits rest before the dive is planned anew, ms. Origin: own choice. */
const REST_MS = 350;

interface Planned {
  plan: Plan | null;
  refused: string | null;
  /** What the last edits changed in it, in words. */
  changed: string[];
}

const lineOf = (plan: Plan) =>
  new Map(plan.steps.map((s) => [s.id, `${spoken.verbs[s.do]} ${s.items.join(', ')}`.trim()]));

/** What came into a dive and what went out of it. */
function changesOf(before: Plan | null, after: Plan): string[] {
  if (!before || before.replace.join() !== after.replace.join()) return [];
  const [old, now] = [lineOf(before), lineOf(after)];
  const come = [...now].filter(([id, text]) => old.get(id) !== text).map(([, text]) => `+ ${text}`);
  const gone = [...old].filter(([id, text]) => now.get(id) !== text).map(([, text]) => `− ${text}`);
  return [...come, ...gone];
}

/** The dive to the part that is aimed at, small and live, with what the last edit changed in it. */
export function SmallDive({ anatomy, sound }: { anatomy: Anatomy; sound: boolean }) {
  const { aim, set } = useBoard();
  const [found, setFound] = useState<Planned>({ plan: null, refused: null, changed: [] });
  const before = useRef<Plan | null>(null);
  const parts = anatomy.parts.filter((p) => !p.fixed);
  const target = parts.some((p) => p.id === aim)
    ? aim
    : (parts.find((p) => p.kind === 'battery')?.id ?? parts.at(-1)?.id ?? null);
  useEffect(() => {
    if (!target) return;
    let cancel = () => {};
    const timer = setTimeout(() => {
      const job = planInWorker(workable(anatomy), { replace: [target] }, DEFAULT_RULES);
      cancel = job.cancel;
      job.result.then(
        (told) => {
          if ('refused' in told) {
            setFound({ plan: null, refused: tell(BY_ID, told.refused), changed: [] });
            return;
          }
          const changed = changesOf(before.current, told.plan);
          before.current = told.plan;
          setFound((f) => ({
            plan: told.plan,
            refused: null,
            changed: changed.length > 0 ? changed : f.plan ? f.changed : [],
          }));
        },
        (error) => setFound({ plan: null, refused: messageOf(error), changed: [] }),
      );
    }, REST_MS);
    return () => {
      clearTimeout(timer);
      cancel();
    };
  }, [anatomy, target]);
  const { plan, refused, changed } = found;
  return (
    <section
      aria-label="The dive"
      className="panel grid grid-cols-[11rem_minmax(0,1fr)_15rem] items-center gap-3 px-3 py-1 max-lg:grid-cols-[9rem_minmax(0,1fr)]"
    >
      <label>
        <span className="text-sm text-quiet">Dive to</span>
        <select
          className="min-h-11 w-full rounded-lg border border-line bg-ground px-2"
          value={target ?? ''}
          onChange={(e) => set({ aim: e.target.value })}
        >
          {parts.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      </label>
      <div className="h-20 min-w-0">
        {plan && <DiveProfile plan={plan} height={78} className="h-full w-full" />}
        {!plan && (
          <p className="content-center text-quiet h-full">
            {refused ?? (target ? 'Planning…' : 'Draw a part, and its dive is shown here.')}
          </p>
        )}
      </div>
      <div className="text-sm max-lg:hidden" data-testid="small-dive">
        {plan && (
          <p className="num">
            {plan.steps.length} steps, {minutes(timesOf(plan).work)}
            {!sound && <span className="ml-1 text-crimson">with faults</span>}
          </p>
        )}
        <ul className="max-h-14 overflow-auto" aria-label="What changed in it">
          {changed.slice(0, 8).map((text) => (
            <li key={text} className="truncate">
              {text}
            </li>
          ))}
        </ul>
      </div>
    </section>
  );
}
