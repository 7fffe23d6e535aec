import { format } from 'date-fns/format';
import { useEffect, useMemo, useRef, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import {
  chainOf,
  explain,
  stepItemName,
  toolName,
  type Extra,
  type Plan,
  type Step,
} from '../../../core/dive/index.ts';
import type { Model } from '../../../core/anatomy/index.ts';
import { lastChange, lossesToAgree } from '../../../core/run/index.ts';
import { lookAlikes, trayPlan } from '../../../core/screws/index.ts';
import { minutes } from '../../../core/units/index.ts';
import { Button, buttonClass, CautionLine, Measure, ProblemNote, Progress } from '../../controls/index.tsx';
import { DeviceDrawing } from '../../drawing/DeviceDrawing.tsx';
import { DiveProfile } from '../../drawing/DiveProfile.tsx';
import { TradeMark } from '../../drawing/marks.tsx';
import { ScrewTray } from '../../drawing/ScrewTray.tsx';
import type { JobFile } from '../../../core/jobs/index.ts';
import { api, messageOf } from '../../state/api.ts';
import { useRunOf } from '../../state/run.ts';
import { PHASE_WORDS, tradeOf, VERB_WORDS } from '../../words.ts';
import { extrasInWorker } from '../../workers/planner.ts';

export default function PlanView() {
  const { job, context, state, record } = useRunOf('job', 'context', 'state', 'record');
  const navigate = useNavigate();
  const [chosen, setChosen] = useState<number | null>(null);
  const plan = job?.plan ?? null;
  const page = useRef<HTMLDivElement>(null);
  const begin = useRef<HTMLButtonElement>(null);
  const there = plan !== null;
  // Whoever comes with the keyboard stands at what comes next: the agreement, or the dive.
  useEffect(() => {
    if (there && document.activeElement === document.body) {
      page.current?.querySelector<HTMLElement>('[data-next]')?.focus({ preventScroll: true });
    }
  }, [there]);
  const step = plan && chosen ? plan.steps[chosen - 1]! : null;
  const lit = useMemo(() => new Set(step?.items ?? plan?.replace ?? []), [step, plan]);
  if (!plan || !context || !state)
    return <p className="panel p-8">This job has no dive. Take the device in again and choose the parts to replace.</p>;
  const { model } = context;
  const started = state.startedAt !== null;
  const agreed = lossesToAgree(state).length === 0;
  const standing = (state.cursor && context.steps.get(state.cursor)?.n) ?? plan.steps.length;
  const t = plan.totals;
  return (
    <div ref={page} className="grid gap-4">
      <section aria-label="Dive profile" className="panel px-3 pt-2 pb-3">
        <DiveProfile
          plan={plan}
          at={started ? state.cursor : null}
          done={state.done}
          chosen={chosen}
          onChoose={setChosen}
          height={215}
          className="w-full"
        />
        <div className="flex flex-wrap items-center justify-between gap-x-6 gap-y-3 px-3">
          <Measure value={minutes(t.elapsed)} label={proof(plan)} />
          <Measure value={minutes(t.hands)} label="of work" />
          <Measure value={minutes(t.idle)} label="of waiting" />
          <Measure value={plan.steps.length} label="steps" />
          <Measure value={t.screws} label="screws" />
          <Measure value={t.connectors} label="connectors" />
          <Measure value={t.toolChanges} label="tool changes" />
          <Measure value={t.turnOvers} label="turn-overs" />
          {started ? (
            <Link to="run" className={buttonClass('main', 'text-lg')}>
              {state.signedOff ? 'Look at the run' : `Go on at step ${standing}`}
            </Link>
          ) : (
            <span className="flex flex-wrap items-center gap-3">
              {!agreed && <a href="#losses">First agree to what will be lost</a>}
              <Button
                weight="main"
                data-next={agreed ? true : undefined}
                ref={begin}
                className="text-lg"
                disabled={!agreed}
                onClick={() => void navigate('run')}
              >
                Begin the dive
              </Button>
            </span>
          )}
        </div>
      </section>
      <div className="grid gap-4 lg:grid-cols-[minmax(0,1.5fr)_minmax(0,1fr)]">
        <section
          aria-label="Steps"
          className="panel max-h-[46rem] overflow-auto p-2 lg:h-[max(20rem,calc(100vh-29.2rem))]"
          tabIndex={0}
        >
          <StepList plan={plan} model={model} chosen={chosen} setChosen={setChosen} done={state.done} />
        </section>
        <section
          aria-label="Around the dive"
          tabIndex={0}
          className="grid content-start gap-5 overflow-auto lg:h-[max(20rem,calc(100vh-29.2rem))]"
        >
          <section aria-label="Device" className="panel grid grid-cols-[minmax(0,1fr)_minmax(0,1.2fr)] gap-4 p-4">
            <DeviceDrawing
              model={model}
              face={
                step?.face === 'back' || (!step && model.parts.get(plan.replace[0]!)?.face === 'back')
                  ? 'back'
                  : 'front'
              }
              lit={lit}
              label={step ? `Step ${step.n} on the device` : 'The parts to replace'}
              className="max-h-96 w-full lg:h-[calc(max(20rem,100vh-29.2rem)-2rem)] lg:max-h-none"
            />
            <div className="text-sm">
              {step ? (
                <StepDetail step={step} model={model} plan={plan} />
              ) : (
                <p className="text-quiet">
                  Point at a step, in the profile or the list, to see it here: why it is there, with what, how long, and
                  what to watch.
                </p>
              )}
            </div>
          </section>
          <Advice plan={plan} />
          <Losses
            plan={plan}
            model={model}
            agreed={agreed ? (state.agreed?.at ?? null) : null}
            agree={() => {
              record([{ type: 'losses-agreed', losses: [...new Set(plan.losses.map((l) => l.function))] }]);
              setTimeout(() => begin.current?.focus());
            }}
          />
          <SideBySide plan={plan} model={model} />
          <ScrewsOfDive plan={plan} model={model} job={job!.id} />
          <Ready plan={plan} model={model} />
          <WhileThere plan={plan} model={model} begun={started} />
        </section>
      </div>
    </div>
  );
}

function because(model: Model, step: Step, most = 3): string {
  const shown = step.because.slice(0, most).map((b) => explain(model, b));
  const more = step.because.length - shown.length;
  return shown.join('; ') + (more > 0 ? `; and ${more} more` : '');
}

function StepList({
  plan,
  model,
  chosen,
  setChosen,
  done,
}: {
  plan: Plan;
  model: Model;
  chosen: number | null;
  setChosen: (n: number) => void;
  done: ReadonlyMap<string, string>;
}) {
  return (
    <ol>
      {plan.steps.map((s, i) => (
        <li key={s.n}>
          {(i === 0 || plan.steps[i - 1]!.phase !== s.phase) && (
            <h3 className="px-3 pt-3 pb-1 text-sm font-semibold tracking-wide text-quiet">{PHASE_WORDS[s.phase]}</h3>
          )}
          <button
            type="button"
            onClick={() => setChosen(s.n)}
            onMouseEnter={() => setChosen(s.n)}
            onFocus={() => setChosen(s.n)}
            aria-current={chosen === s.n ? 'step' : undefined}
            className={
              `grid min-h-12 w-full grid-cols-[2.2rem_1.6rem_minmax(0,1fr)_auto] items-center gap-2 rounded-lg ` +
              `px-2 py-1 text-left ${chosen === s.n ? 'bg-sunk' : ''} ${done.has(s.id) ? 'text-quiet' : ''}`
            }
          >
            <span className="num text-right text-sm text-quiet">{s.n}</span>
            <svg viewBox="-12 -12 24 24" className="size-6" aria-hidden="true">
              <TradeMark trade={tradeOf(s)} x={0} y={0} r={7} />
            </svg>
            <span className="min-w-0">
              <span className="block truncate">
                <b>{s.gate ? `Gate ${s.gate}` : VERB_WORDS[s.do]}</b>{' '}
                {s.do === 'gate' ? s.hint : s.items.map((id) => stepItemName(model, s, id)).join(', ')}
              </span>
              <span className="block truncate text-sm text-quiet">{because(model, s, 2)}</span>
            </span>
            <span className="text-right text-sm whitespace-nowrap text-quiet">
              <span className="num block">
                {minutes(s.seconds)}
                {s.waits > 0 && <b className="text-ember"> + {minutes(s.waits)}</b>}
              </span>
              {s.cautions.length > 0 && (
                <span className="font-semibold text-crimson">
                  <span aria-hidden="true">▲ </span>
                  {s.cautions.join(', ')}
                </span>
              )}
            </span>
          </button>
        </li>
      ))}
    </ol>
  );
}

function StepDetail({ step, model, plan }: { step: Step; model: Model; plan: Plan }) {
  const chain = useMemo(() => chainOf(model, plan, step), [model, plan, step]);
  return (
    <div className="grid gap-2">
      <p className="text-lg leading-tight font-bold">
        {step.n}. {step.gate ? `Gate ${step.gate}` : VERB_WORDS[step.do]}{' '}
        <span className="font-normal">
          {step.items
            .slice(0, 6)
            .map((id) => stepItemName(model, step, id))
            .join(', ')}
          {step.items.length > 6 && ` and ${step.items.length - 6} more`}
        </span>
      </p>
      <p>
        <span className="text-quiet">With</span> {toolName(step.tool)}
        {step.live && step.phase !== 'prove' && <b className="text-crimson"> ⚡ live</b>}
      </p>
      {chain.length > 1 ? (
        <div>
          <p className="text-quiet">Because</p>
          <ol aria-label="Why this step" className="border-l-2 border-petrol pl-3">
            {chain.map((link, i) => (
              <li key={link.action}>
                {i === 0 ? (
                  <>to {link.text}</>
                ) : (
                  <>
                    {link.text}: <span className="text-quiet">{link.because}</span>
                  </>
                )}
              </li>
            ))}
          </ol>
        </div>
      ) : (
        <p>
          <span className="text-quiet">Because</span> {because(model, step, 4)}
        </p>
      )}
      {step.waitsFor.length > 0 && <p className="text-ember">Waits for step {step.waitsFor.join(' and ')}</p>}
      {step.hint && <p>{step.hint}</p>}
      {(step.do === 'heat' || step.do === 'gap' || step.do === 'cut') && (
        <Link className="underline" to={`opening?bond=${step.items[0]}&view=${step.do === 'heat' ? 'heat' : 'depth'}`}>
          {step.do === 'heat' ? 'See how hot it gets' : 'See how deep it goes'}
        </Link>
      )}
      {step.mirrors && (
        <p className="text-quiet">
          Level with step <span className="num">{step.mirrors}</span>
        </p>
      )}
      {step.cautions.map((c) => (
        <CautionLine key={c} caution={c} />
      ))}
    </div>
  );
}

function Losses({
  plan,
  model,
  agreed,
  agree,
}: {
  plan: Plan;
  model: Model;
  agreed: string | null;
  agree: () => void;
}) {
  const name = (id: string) =>
    model.anatomy.functions.find((f) => f.id === id)?.name ??
    { 'moisture-rating': 'Moisture rating', data: 'Data' }[id] ??
    id;
  return (
    <section aria-labelledby="losses" className="panel p-5">
      <h2 id="losses" className="mb-2 text-xl font-semibold">
        What will be lost
      </h2>
      {plan.losses.length === 0 ? (
        <p>Nothing: no pairing is broken and no seal is given up.</p>
      ) : (
        <>
          <ul className="grid gap-2">
            {plan.losses.map((l, i) => (
              <li key={i}>
                <b>{name(l.function)}</b>: {l.because}. <span className="text-quiet">{l.remedy}</span>
              </li>
            ))}
          </ul>
          {agreed ? (
            <p className="mt-3 font-semibold text-moss">
              ✓ Agreed with the customer, {format(new Date(agreed), 'd MMM yyyy, HH:mm')}
            </p>
          ) : (
            <Button weight="main" data-next className="mt-3" onClick={agree}>
              The customer agrees
            </Button>
          )}
        </>
      )}
    </section>
  );
}

function Ready({ plan, model }: { plan: Plan; model: Model }) {
  const tools = [...new Set(plan.steps.flatMap((s) => (s.tool ? [s.tool] : [])))];
  const spares = plan.replace.map(
    (id) => model.anatomy.spares.find((s) => s.replaces === id && plan.spares.includes(s.id))?.name ?? model.nameOf(id),
  );
  const renew = plan.renew.filter((id) => !plan.replace.includes(id)).map((id) => model.nameOf(id));
  const rows: [string, string[]][] = [
    ['Spares', spares],
    ['Moved to the spare', plan.transfers.map((t) => model.nameOf(t.part))],
    ['Renewed', renew],
    ['Tools', tools.map((t) => toolName(t))],
  ];
  return (
    <section aria-labelledby="ready" className="panel p-5">
      <h2 id="ready" className="mb-2 text-xl font-semibold">
        Have ready
      </h2>
      <dl className="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-1">
        {rows
          .filter(([, items]) => items.length > 0)
          .map(([label, items]) => (
            <div key={label} className="contents">
              <dt className="text-quiet">{label}</dt>
              <dd>{items.join(', ')}</dd>
            </div>
          ))}
      </dl>
    </section>
  );
}

/** What is known of the order: that none is quicker, or how far from the best it may be. */
function proof(plan: Plan): string {
  const { cost, lowerBound, proved } = plan.optimality;
  return proved
    ? 'in all, proved quickest'
    : `in all, at most ${Math.max(0.1, (1 - lowerBound / cost) * 100).toFixed(1)} % over the best`;
}

/** What the shop lacks, and what that has changed. */
function Advice({ plan }: { plan: Plan }) {
  if (plan.missingTools.length + plan.changes.length === 0) return null;
  return (
    <section aria-label="Tools the shop lacks" className="panel border-l-8 border-ember p-5">
      {plan.missingTools.length > 0 && (
        <p className="font-semibold text-ember">
          Needed and not at hand: {plan.missingTools.map(toolName).join(', ')}.
        </p>
      )}
      {plan.changes.map((change) => (
        <p key={change}>{change.charAt(0).toUpperCase() + change.slice(1)}.</p>
      ))}
    </section>
  );
}

/** Old and new assembly beside each other: what moves across, and what the spare brings. */
function SideBySide({ plan, model }: { plan: Plan; model: Model }) {
  const spares = plan.spares
    .map((id) => model.anatomy.spares.find((s) => s.id === id)!)
    .filter((s) => plan.transfers.some((t) => t.from === s.replaces));
  if (spares.length === 0) return null;
  return (
    <section aria-labelledby="sides" className="panel p-5">
      <h2 id="sides" className="mb-2 text-xl font-semibold">
        Old and new, side by side
      </h2>
      {spares.map((spare) => {
        const moved = plan.transfers.filter((t) => t.from === spare.replaces).map((t) => t.part);
        const steps = plan.steps.filter(
          (s) =>
            s.phase === 'turn' && s.items.some((id) => model.contextOf(id) === spare.replaces || moved.includes(id)),
        );
        return (
          <div key={spare.id} className="grid grid-cols-2 gap-4">
            {(['old', 'new'] as const).map((which) => (
              <div key={which}>
                <p className="mb-1 font-semibold">
                  {which === 'old' ? `Old ${model.nameOf(spare.replaces)}` : spare.name}
                </p>
                <ul>
                  {model.familyOf(spare.replaces).map((part) => {
                    const moves = moved.includes(part);
                    return (
                      <li key={part} className={moves ? 'text-brass' : ''}>
                        {moves ? (which === 'old' ? '→ ' : '← ') : '· '}
                        {model.nameOf(part)}
                        {moves ? (which === 'old' ? ' comes off' : ' goes on') : ''}
                      </li>
                    );
                  })}
                </ul>
              </div>
            ))}
            <p className="col-span-2 text-sm text-quiet">On the mat: steps {steps.map((s) => s.n).join(', ')}</p>
          </div>
        );
      })}
    </section>
  );
}

/** What any other part would take on this dive, against a dive of its own. */
function WhileThere({ plan, model, begun }: { plan: Plan; model: Model; begun: boolean }) {
  const { job, events, adopt } = useRunOf('job', 'events', 'adopt');
  const [extras, setExtras] = useState<Extra[] | null>(null);
  const [asked, setAsked] = useState(false);
  const [share, setShare] = useState(0);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    if (!asked) return;
    const work = extrasInWorker(model.anatomy, plan, setShare);
    work.result.then(setExtras, (error) => setProblem(messageOf(error))).finally(() => setAsked(false));
    return work.cancel;
  }, [asked, plan, model]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another plan asks anew
  useEffect(() => {
    setExtras(null);
    setAsked(false);
  }, [plan]);
  const add = async (part: string) => {
    try {
      adopt(
        await api<JobFile>(`/jobs/${job!.id}/plan`, {
          json: { replace: [...plan.replace, part], spares: plan.spares, crackedGlass: job!.crackedGlass },
          ifMatch: lastChange(events),
        }),
      );
    } catch (error) {
      setProblem(messageOf(error));
    }
  };
  return (
    <section aria-labelledby="there" className="panel p-5">
      <h2 id="there" className="mb-1 text-xl font-semibold">
        While you are in there
      </h2>
      {problem && <ProblemNote>{problem}</ProblemNote>}
      {!extras && !asked && (
        <>
          <p className="mb-2 text-quiet">What any other part would take on this dive, against a dive of its own.</p>
          <Button
            onClick={() => {
              setShare(0);
              setAsked(true);
            }}
          >
            Work it out
          </Button>
        </>
      )}
      {!extras && asked && <Progress share={share} label="Dives planned" stop={() => setAsked(false)} />}
      {extras && (
        <table className="w-full text-left" data-testid="extras">
          <thead className="text-sm text-quiet">
            <tr>
              <th scope="col" className="font-normal">
                Part
              </th>
              <th scope="col" className="text-right font-normal">
                more here
              </th>
              <th scope="col" className="text-right font-normal">
                by itself
              </th>
              {!begun && (
                <th scope="col">
                  <span className="sr-only">Add</span>
                </th>
              )}
            </tr>
          </thead>
          <tbody>
            {extras.map((e) => (
              <tr key={e.part} className="border-t border-line">
                <th scope="row" className="py-1 font-normal">
                  {model.nameOf(e.part)}
                </th>
                <td className={`num text-right ${e.extra < e.alone * 0.25 ? 'font-bold text-moss' : ''}`}>
                  {minutes(e.extra)}
                </td>
                <td className="num text-right text-quiet">{minutes(e.alone)}</td>
                {!begun && (
                  <td className="text-right">
                    <Button
                      weight="quiet"
                      aria-label={`Add ${model.nameOf(e.part)} to this dive`}
                      onClick={() => void add(e.part)}
                    >
                      Add
                    </Button>
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

/** Before the first screw comes out: which of them are taken for each other, and where each goes. */
function ScrewsOfDive({ plan, model, job }: { plan: Plan; model: Model; job: string }) {
  const size = useMemo(
    () => ({ rows: plan.rules.trayRows, columns: plan.rules.trayColumns, trays: plan.rules.trays }),
    [plan],
  );
  const tray = useMemo(() => trayPlan(model, plan, size), [model, plan, size]);
  const worst = useMemo(() => {
    const letters = new Set(tray.lots.map((l) => l.letter));
    return lookAlikes(model).filter(({ a, b }) => letters.has(a) && letters.has(b));
  }, [model, tray]);
  if (tray.lots.length === 0) return null;
  return (
    <section aria-labelledby="dive-screws" className="panel grid gap-3 p-5">
      <h2 id="dive-screws" className="text-xl font-semibold">
        Screws of this dive
      </h2>
      {worst.length === 0 ? (
        <p>Whatever looks alike here fits alike.</p>
      ) : (
        <ul className="grid gap-1">
          {worst.slice(0, 6).map(({ a, b, dangers }) => (
            <li key={`${a}${b}`}>
              <b>
                {a} / {b}
              </b>{' '}
              look alike: {dangers[0]!.screw} at {dangers[0]!.at} is{' '}
              <span className="text-crimson">{dangers[0]!.worst.text}</span>
            </li>
          ))}
          {worst.length > 6 && <li className="text-quiet">and {worst.length - 6} more pairs</li>}
        </ul>
      )}
      {plan.rules.screws === 'wells' ? (
        <>
          <ScrewTray plan={tray} size={size} model={model} />
          <p className="text-sm text-quiet">
            {tray.proved
              ? 'Proved: no tray plan is better.'
              : `Objective ${tray.cost}, no plan is below ${tray.lowerBound}.`}{' '}
            Harmful look-alikes never share a well nor lie side by side{tray.conflicts.length > 0 ? ', but for:' : '.'}
          </p>
          {tray.conflicts.map((c) => (
            <p key={c} className="text-crimson">
              ▲ {c}
            </p>
          ))}
        </>
      ) : (
        <p>
          {plan.rules.screws === 'map'
            ? 'Each screw lies on its place on the map.'
            : 'Each screw lies on its place on the magnetic mat.'}
        </p>
      )}
      <div className="flex flex-wrap gap-2">
        <a className={buttonClass()} href={`/api/screws/map/${model.anatomy.id}.pdf?paper=A4&job=${job}`} download>
          Screw map 1:1, A4
        </a>
        <a className={buttonClass()} href={`/api/screws/map/${model.anatomy.id}.pdf?paper=Letter&job=${job}`} download>
          Letter
        </a>
        <Link className={buttonClass('quiet')} to={`/anatomies/${model.anatomy.id}/screws`}>
          All screws
        </Link>
      </div>
    </section>
  );
}
