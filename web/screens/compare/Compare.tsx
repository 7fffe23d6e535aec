import { useEffect, useMemo, useState } from 'react';
import type { Model } from '../../../core/anatomy/index.ts';
import {
  comparePlans,
  stepItemName,
  timesOf,
  type HouseRules,
  type Plan,
  type Step,
  type Condition,
} from '../../../core/dive/index.ts';
import type { RuleSet } from '../../../core/jobs/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Button, Loading, ProblemNote } from '../../controls/index.tsx';
import { DiveProfile } from '../../drawing/DiveProfile.tsx';
import { messageOf } from '../../state/api.ts';
import { planAnew } from '../../state/planAnew.ts';
import { useRunOf } from '../../state/run.ts';
import { useLoad } from '../../state/useLoad.ts';
import { planInWorker, type Job } from '../../workers/planner.ts';
import type { SearchProgress } from '../../workers/planner.worker.ts';
import { useGo } from '../../state/here.ts';
import { nameOfLoss, tell, toolName, spoken } from '../../../words/index.ts';

interface Side {
  set: string;
  /** Spare for each replaced part that has more than one. */
  spares: Record<string, string>;
}

type Outcome =
  | { state: 'working'; progress: SearchProgress | null }
  | { state: 'stopped' }
  | { state: 'refused'; why: string }
  | { state: 'planned'; plan: Plan };

/** Plans one side beside the interface, anew whenever what it depends on changes. */
function usePlanned(
  model: Model | null,
  replace: readonly string[],
  side: Side | null,
  rules: HouseRules | null,
  condition: Partial<Condition>,
): { outcome: Outcome; stop: () => void; again: () => void } {
  const [outcome, setOutcome] = useState<Outcome>({ state: 'working', progress: null });
  const [round, setRound] = useState(0);
  const [job, setJob] = useState<Job<unknown> | null>(null);
  const wanted = JSON.stringify([replace, side?.spares, rules, condition]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: `wanted` stands for everything the plan depends on
  useEffect(() => {
    if (!model || !rules || !side) return;
    setOutcome({ state: 'working', progress: null });
    const made = planInWorker(
      model.anatomy,
      { replace: [...replace], spares: Object.values(side.spares), condition },
      rules,
      (progress) => setOutcome({ state: 'working', progress }),
    );
    setJob(made);
    made.result.then(
      (r) =>
        setOutcome(
          'plan' in r ? { state: 'planned', plan: r.plan } : { state: 'refused', why: tell(model, r.refused) },
        ),
      (error) => setOutcome({ state: 'refused', why: messageOf(error) }),
    );
    return made.cancel;
  }, [model, wanted, round]);
  return {
    outcome,
    stop: () => {
      job?.cancel();
      setOutcome({ state: 'stopped' });
    },
    again: () => setRound((n) => n + 1),
  };
}

/** Two ways to do the same job, side by side. */
export default function Compare() {
  const { job, context, state } = useRunOf('job', 'context', 'state');
  const leave = useGo();
  const { data: sets, problem } = useLoad<RuleSet[]>('/rules');
  const model = context?.model ?? null;
  const replace = job?.plan?.replace ?? [];
  const chosen = sets?.find((s) => s.chosen)?.id ?? null;
  const [sides, setSides] = useState<[Side, Side] | null>(null);
  const [error, setError] = useState<string | null>(null);
  useEffect(() => {
    if (!sets || !chosen || !job?.plan || !model || sides) return;
    const spares = Object.fromEntries(
      job.plan.replace.flatMap((part) => {
        const offered = model.anatomy.spares.filter((s) => s.replaces === part);
        return offered.length > 1
          ? [[part, offered.find((s) => job.plan!.spares.includes(s.id))?.id ?? offered[0]!.id]]
          : [];
      }),
    );
    const [part] = Object.keys(spares);
    const other = part
      ? { ...spares, [part]: model.anatomy.spares.find((s) => s.replaces === part && s.id !== spares[part])!.id }
      : spares;
    setSides([
      { set: chosen, spares },
      { set: sets.find((s) => s.id !== chosen)?.id ?? chosen, spares: other },
    ]);
  }, [sets, chosen, job, model, sides]);
  const rulesOf = (side: Side | undefined) => sets?.find((s) => s.id === side?.set)?.rules ?? null;
  const condition = useMemo(() => ({ ...job?.plan?.condition, crackedGlass: job?.crackedGlass ?? false }), [job]);
  const first = usePlanned(model, replace, sides?.[0] ?? null, rulesOf(sides?.[0]), condition);
  const second = usePlanned(model, replace, sides?.[1] ?? null, rulesOf(sides?.[1]), condition);
  const plans = [first, second].map(({ outcome }) => (outcome.state === 'planned' ? outcome.plan : null));
  const difference = useMemo(
    () => (plans[0] && plans[1] ? comparePlans(plans[0], plans[1]) : null),
    [plans[0], plans[1]],
  );
  if (!job?.plan || !model) return <p className="panel p-8">This job has no dive to compare.</p>;
  if (!sets || !sides) return problem ? <ProblemNote>{problem}</ProblemNote> : <Loading what="the house rules" />;
  const begun = state?.startedAt != null;
  const change = (i: 0 | 1, side: Partial<Side>) =>
    setSides(i === 0 ? [{ ...sides[0], ...side }, sides[1]] : [sides[0], { ...sides[1], ...side }]);
  const take = async (side: Side) => {
    const go = leave();
    try {
      await planAnew({ replace, spares: Object.values(side.spares), rules: side.set });
      go(`/jobs/${job.id}`);
    } catch (cause) {
      setError(messageOf(cause));
    }
  };
  return (
    <div className="grid gap-4">
      {error && <ProblemNote>{error}</ProblemNote>}
      <div className="grid gap-4 md:grid-cols-2">
        {([0, 1] as const).map((i) => {
          const side = sides[i];
          const { outcome, stop, again } = i === 0 ? first : second;
          const other = plans[1 - i];
          return (
            <section
              key={i}
              aria-label={i === 0 ? 'One way' : 'Another way'}
              data-side={i}
              className="panel grid content-start gap-3 p-4"
            >
              <label>
                <span className="label">House rules</span>
                <select className="field" value={side.set} onChange={(e) => change(i, { set: e.target.value })}>
                  {sets.map((s) => (
                    <option key={s.id} value={s.id}>
                      {s.name}
                      {s.chosen ? ' (in use)' : ''}
                    </option>
                  ))}
                </select>
              </label>
              {Object.keys(side.spares).map((part) => (
                <label key={part}>
                  <span className="label">Spare for {model.nameOf(part)}</span>
                  <select
                    className="field"
                    value={side.spares[part]}
                    onChange={(e) => change(i, { spares: { ...side.spares, [part]: e.target.value } })}
                  >
                    {model.anatomy.spares
                      .filter((s) => s.replaces === part)
                      .map((s) => (
                        <option key={s.id} value={s.id}>
                          {s.name}
                        </option>
                      ))}
                  </select>
                </label>
              ))}
              {outcome.state === 'working' && (
                <div role="status" className="flex min-h-40 flex-wrap items-center gap-4">
                  <span>
                    Looking for the quickest order
                    {outcome.progress && (
                      <>
                        : <span className="num">{outcome.progress.expanded}</span> states
                        {outcome.progress.best !== null && (
                          <>
                            , best so far <span className="num">{minutes(outcome.progress.best)}</span>
                          </>
                        )}
                      </>
                    )}
                    …
                  </span>
                  <Button onClick={stop}>Stop</Button>
                </div>
              )}
              {outcome.state === 'stopped' && (
                <div className="flex min-h-40 items-center gap-4">
                  <span>Stopped.</span>
                  <Button onClick={again}>Look again</Button>
                </div>
              )}
              {outcome.state === 'refused' && <ProblemNote>{outcome.why}</ProblemNote>}
              {outcome.state === 'planned' && (
                <>
                  <DiveProfile plan={outcome.plan} height={150} className="w-full" />
                  <Figures plan={outcome.plan} other={other ?? null} />
                  {!begun && (
                    <Button weight="main" onClick={() => void take(side)}>
                      Plan the job this way
                    </Button>
                  )}
                </>
              )}
            </section>
          );
        })}
      </div>
      {difference && (
        <div className="grid gap-4 md:grid-cols-2">
          {([0, 1] as const).map((i) => (
            <section key={i} aria-label={i === 0 ? 'Only the one way' : 'Only the other way'} className="panel p-5">
              <h2 className="mb-2 text-xl font-semibold">Only here</h2>
              <Only
                model={model}
                steps={i === 0 ? difference.onlyFirst : difference.onlySecond}
                renew={i === 0 ? difference.renewOnlyFirst : difference.renewOnlySecond}
                losses={i === 0 ? difference.lossesOnlyFirst : difference.lossesOnlySecond}
              />
            </section>
          ))}
        </div>
      )}
    </div>
  );
}

function Figures({ plan, other }: { plan: Plan; other: Plan | null }) {
  const rows: [string, (p: Plan) => number, (n: number) => string][] = [
    ['in all', (p) => p.totals.elapsed, minutes],
    ['of work', (p) => timesOf(p).work, minutes],
    ['of waiting that nothing fills', (p) => timesOf(p).idle, minutes],
    ['steps', (p) => p.steps.length, String],
    ['screws', (p) => p.totals.screws, String],
    ['tool changes', (p) => p.totals.toolChanges, String],
    ['turn-overs', (p) => p.totals.turnOvers, String],
    ['to renew', (p) => p.renew.length, String],
    ['losses', (p) => p.losses.length, String],
  ];
  return (
    <dl className="grid grid-cols-[auto_minmax(0,1fr)] items-baseline gap-x-4">
      {rows.map(([label, of, word]) => {
        const less = other !== null && of(plan) < of(other);
        return (
          <div key={label} className="contents">
            <dt className={`num text-right text-lg ${less ? 'font-bold text-moss' : ''}`}>
              {less && <span aria-hidden="true">▾ </span>}
              {word(of(plan))}
              {less && <span className="sr-only">, less</span>}
            </dt>
            <dd className="text-quiet">{label}</dd>
          </div>
        );
      })}
    </dl>
  );
}

function Only({ model, steps, renew, losses }: { model: Model; steps: Step[]; renew: string[]; losses: string[] }) {
  const name = (id: string) => (model.items.has(id) ? model.nameOf(id) : nameOfLoss(model, id));
  if (steps.length + renew.length + losses.length === 0)
    return <p className="text-quiet">Nothing that the other way has not.</p>;
  return (
    <ul className="grid gap-1">
      {losses.map((f) => (
        <li key={f} className="font-semibold text-crimson">
          ▲ lost: {name(f)}
        </li>
      ))}
      {renew.map((id) => (
        <li key={id} className="text-mauve">
          renewed: {name(id)}
        </li>
      ))}
      {steps.map((s) => (
        <li key={s.n}>
          <span className="num text-quiet">{s.n}</span> <b>{s.gate ? `Gate ${s.gate}` : spoken.verbs[s.do]}</b>{' '}
          {s.gate
            ? ''
            : s.items
                .slice(0, 6)
                .map((id) => stepItemName(model, s, id))
                .join(', ')}
          {s.tool && <span className="text-quiet"> with {toolName(s.tool)}</span>}
        </li>
      ))}
    </ul>
  );
}
