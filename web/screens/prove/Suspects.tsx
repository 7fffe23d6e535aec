import { Search } from 'lucide-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { Diagnosis, Suspect } from '../../../core/diagnosis/index.ts';
import type { Model } from '../../../core/anatomy/index.ts';
import type { JobFile } from '../../../core/jobs/index.ts';
import { putRight } from '../../../core/proof/index.ts';
import { isOver, lastChange } from '../../../core/run/index.ts';
import { Button, buttonClass, ProblemNote } from '../../controls/index.tsx';
import { DeviceDrawing } from '../../drawing/DeviceDrawing.tsx';
import { api, messageOf } from '../../state/api.ts';
import { technicianNow } from '../../state/shop.ts';
import { useRun, useRunOf } from '../../state/run.ts';
import { LookAnswers } from './LookAnswers.tsx';
import { TestAgain } from './TestAgain.tsx';
import { useDiagnosis } from './useDiagnosis.ts';
import { spoken, tell, tellNext } from '../../../words/index.ts';

/** Suspects that are shown before more are asked for. Origin: own choice. */
const SHOWN = 5;

/** Which opened item most likely did it, what to look at next, and the dive from here to there. */
export function Suspects() {
  const { state, context, job } = useRunOf('state', 'context', 'job');
  const { found, working, problem } = useDiagnosis(state);
  const [all, setAll] = useState(false);
  const [lit, setLit] = useState<string | null>(null);
  if (!state || !context || !job) return null;
  const right = putRight(state);
  if (right && !isOver(state)) return <TestAgain right={right} model={context.model} />;
  if (problem) return <ProblemNote>{problem}</ProblemNote>;
  if (!found)
    return working ? (
      <p role="status" className="panel p-5 text-quiet">
        Weighing what may have done it…
      </p>
    ) : null;
  const { model } = context;
  const shown = lit ?? found.next?.item ?? null;
  return (
    <section aria-labelledby="suspects" className="panel grid gap-4 p-5 md:grid-cols-[minmax(0,1fr)_11rem]">
      <div className="grid content-start gap-3">
        <h2 id="suspects" className="text-xl font-semibold">
          Which of them did it?
        </h2>
        {found.next && <Next diagnosis={found} model={model} locked={isOver(state)} />}
        <ol aria-label="Suspects" className="grid gap-1">
          {found.suspects.slice(0, all ? undefined : SHOWN).map((s) => (
            <SuspectLine key={s.item} suspect={s} model={model} point={() => setLit(s.item)} locked={isOver(state)} />
          ))}
        </ol>
        <p className="text-quiet">
          <span className="num">{Math.round(found.nothing * 100)} %</span> that nothing is wrong and a test was judged
          wrongly. Odds rest on what this dive touched, on every test, and on the shop's own cases.
          {found.bound > 0.0005 && (
            <>
              {' '}
              They are within <span className="num">{(found.bound * 100).toFixed(1)}</span> points: what is unlikely
              together was left out.
            </>
          )}
        </p>
        {found.suspects.length > SHOWN && (
          <Button weight="quiet" onClick={() => setAll(!all)}>
            {all ? 'Fewer' : `All ${found.suspects.length}`}
          </Button>
        )}
      </div>
      {shown && model.items.has(shown) && (
        <DeviceDrawing
          model={model}
          face={model.faceOf(shown) === 'back' ? 'back' : 'front'}
          lit={new Set([shown])}
          label={`Where ${model.nameOf(shown)} lies`}
          className="max-h-96 w-full"
        />
      )}
    </section>
  );
}

function Next({ diagnosis, model, locked }: { diagnosis: Diagnosis; model: Model; locked: boolean }) {
  const job = useRun((s) => s.job)!;
  const state = useRun((s) => s.state)!;
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const next = diagnosis.next!;
  const planned = state.context.plan.look?.includes(next.item) ?? false;
  const bare = next.opens.filter((id) => id !== next.item).length === 0;
  const saved = Math.round(next.saves / 60);
  const plan = async () => {
    setBusy(true);
    try {
      await api(`/jobs/${job.id}/plan-on`, {
        json: {
          look: [next.item],
          because: `${model.nameOf(next.item)} may be why a test failed`,
          keep: true,
          by: technicianNow() ?? undefined,
        },
        ifMatch: lastChange(useRun.getState().events),
      });
      useRun.getState().adopt(await api<JobFile>(`/jobs/${job.id}`));
      setProblem(null);
    } catch (error) {
      setProblem(messageOf(error));
    }
    setBusy(false);
  };
  return (
    <div className="grid gap-2 border-l-8 border-petrol pl-4">
      <p className="text-lg font-semibold">{tellNext(model, next)}.</p>
      {saved > 0 && (
        <p className="text-quiet">
          Looking in this order takes about{' '}
          <span className="num">{Math.max(1, Math.round(diagnosis.expected.seconds / 60))}</span> min on average,{' '}
          <span className="num">{saved}</span> fewer than in the order of the way back.
        </p>
      )}
      {!locked && (
        <div className="flex flex-wrap gap-2">
          {planned ? (
            <Link to={`/jobs/${job.id}/run`} className={buttonClass('main')}>
              Go there, step by step
            </Link>
          ) : (
            state.startedAt && (
              <Button weight="main" disabled={busy} onClick={() => void plan()}>
                <Search size={18} aria-hidden="true" />
                {bare ? 'Plan the look' : 'Plan the way there'}
              </Button>
            )
          )}
        </div>
      )}
      {problem && <ProblemNote>{problem}</ProblemNote>}
    </div>
  );
}

function SuspectLine({
  suspect,
  model,
  point,
  locked,
}: {
  suspect: Suspect;
  model: Model;
  point: () => void;
  locked: boolean;
}) {
  const [asking, setAsking] = useState(false);
  const percent = Math.round(suspect.odds * 100);
  return (
    <li data-suspect={suspect.item} className="rounded-lg px-2 py-1 hover:bg-sunk" onPointerEnter={point}>
      <div className="grid grid-cols-[3.4rem_minmax(0,1fr)_auto] items-center gap-3">
        <span className="num text-right text-lg font-semibold">{percent < 1 ? '<1' : percent} %</span>
        <span className="min-w-0">
          <span className="font-semibold">{model.nameOf(suspect.item)}</span>, {spoken.causes[suspect.cause]}
          <span className="block h-1.5 rounded-full bg-sunk">
            <span className="block h-full rounded-full bg-petrol" style={{ width: `${Math.max(1, percent)}%` }} />
          </span>
          <span className="block text-sm text-quiet">{suspect.because.map((b) => tell(model, b)).join('; ')}</span>
        </span>
        {!locked && (
          <Button weight="quiet" aria-expanded={asking} onClick={() => setAsking(!asking)} onFocus={point}>
            Looked at
          </Button>
        )}
      </div>
      {asking && (
        <div className="py-2 pl-16">
          <LookAnswers model={model} item={suspect.item} suspect={suspect} answered={() => setAsking(false)} />
        </div>
      )}
    </li>
  );
}
