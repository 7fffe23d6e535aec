import { useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { DEFAULT_RULES, explain } from '../../../core/dive/index.ts';
import {
  isCooling,
  itemsLeft,
  itemWise,
  lossesToAgree,
  stepAt,
  timerId,
  timerLeft,
  waitsBefore,
  type EventBody,
  type RunState,
  type Timer,
} from '../../../core/run/index.ts';
import { deferred } from '../../controls/deferred.tsx';
import { serverNow } from '../../state/clock.ts';
import { useCut } from '../../state/useCut.ts';
import { usePrefs } from '../../state/prefs.ts';
import { useRun, useRunOf } from '../../state/run.ts';
import { useStable } from '../../state/useStable.ts';
import { useNow } from '../../state/useNow.ts';
import { DiveProfile } from '../../drawing/DiveProfile.tsx';
import { ActionBar } from './ActionBar.tsx';
import { AgreeFirst } from './AgreeFirst.tsx';
import { DrawingPane } from './DrawingPane.tsx';
import { canFollow } from './HeatFollow.tsx';
import { OutboxNote } from './OutboxNote.tsx';
import { Panel, type PanelKind } from './Panels.tsx';
import { PowerStrip } from './PowerStrip.tsx';
import { RefusalNote } from './RefusalNote.tsx';
import { StepCard } from './StepCard.tsx';
import { StepPicker } from './StepPicker.tsx';
import { DriverSwitch, TorquePanel } from './Torque.tsx';
import { useRunKeys } from './useRunKeys.ts';

const LaterProfile = deferred(DiveProfile);

/** One step at a time, in large type, driven with one key. */
export default function Run() {
  const { job, context, state, press, tap, record, refusal, problem, dismiss } = useRunOf(
    'job',
    'context',
    'state',
    'press',
    'tap',
    'record',
    'refusal',
    'problem',
    'dismiss',
  );
  const navigate = useNavigate();
  /** The place of the step that is looked at, where that is not the one the run stands at. */
  const [chosen, setChosen] = useState<number | null>(null);
  const [panel, setPanel] = useState<PanelKind | null>(null);
  const [mirror, setMirror] = useState(false);
  const [oneLayer, setOneLayer] = useState(false);
  const [whole, setWhole] = useState(false);
  const { torqueDriver, thermometers } = usePrefs();
  // What is left of a heating by its thermometers, which goes before the clock.
  const [heatLeft, setHeatLeft] = useState<number | null>(null);
  // A seam is soft in the heating it was measured in, not in one begun anew.
  const [soft, setSoft] = useState<{ startedAt: string; reason: string } | null>(null);
  const [driver, setDriver] = useState<{ fastener: string; step: string } | null>(null);
  const plan = job?.plan ?? null;
  const total = plan?.steps.length ?? 1;
  const standing = (state?.cursor && context?.steps.get(state.cursor)?.n) || total;
  const n = chosen ?? standing;
  const step = plan && context ? (stepAt(context, n) ?? null) : null;
  const finished = state?.cursor === null;
  const timers = useMemo(() => [...(state?.timers.values() ?? [])].filter((t) => t.endedAt === null), [state]);
  // A wait that has run is worth a word only while its step is still open.
  const now = useNow(timers.some((t) => timerLeft(t, serverNow()) > -1));

  const choose = useStable((to: number | null) => {
    dismiss();
    setPanel(null);
    setMirror(false);
    setChosen(to === null || to === standing ? null : Math.min(total, Math.max(1, to)));
  });
  const chooseStep = useStable((id: string) => choose(context?.steps.get(id)?.n ?? null));
  // When the run moves on, here or on another screen, the view goes along.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the step reached is what moves the view
  useEffect(() => {
    setMirror(false);
  }, [standing]);

  const model = context?.model;

  const act = useStable((all: boolean) => {
    const { state: latest } = useRun.getState();
    if (latest?.cursor === null && plan) return void navigate(`/jobs/${job?.id}/record`);
    // A key that bounces, or is quicker than the screen, was meant for what is done by now; it is no press of the
    // next step, which nobody has seen yet.
    if (!step || !latest || latest.done.has(step.id)) return;
    // Functions are passed one by one; all at once is asked for with the list in sight.
    if (all && step.do === 'test') return setPanel({ kind: 'all-passed' });
    const screw = step.do === 'fasten' && torqueDriver && !all ? itemsLeft(latest, step)[0] : undefined;
    // With a torque driver at hand the screw is driven by it, and judged, before it counts as in.
    if (screw) return setDriver((at) => at ?? { fastener: screw, step: step.id });
    // The thermometers have the last word about a heating: what is soft need not wait for the clock.
    const timer = latest.timers.get(timerId(step));
    const hot = timer !== undefined && tooHotSince(latest, timer);
    if (timer && !hot && soft?.startedAt === timer.startedAt && timerLeft(timer, serverNow()) > 0) {
      if (!record([{ type: 'timer-ended', timer: timer.id, how: 'thermometer', reason: soft.reason }])) return;
    }
    if (press(step.id, all) === 'moved' && useRun.getState().state?.done.has(step.id)) setChosen(null);
  });
  const onSoft = useStable((startedAt: string, reason: string) => setSoft({ startedAt, reason }));
  const fastening = step?.do === 'fasten';
  const onScrew = useStable((id: string) => {
    if (!step) return;
    if (fastening && torqueDriver) setDriver({ fastener: id, step: step.id });
    else if (tap(step.id, id) === 'moved' && useRun.getState().state?.done.has(step.id)) setChosen(null);
  });
  const back = useStable(() => {
    const last = useRun.getState().state?.undoable;
    if (last && record([{ type: 'step-undone', step: last.step, item: last.item }])) choose(null);
  });
  const send = useStable((bodies: EventBody[], blob?: Blob) => {
    if (!record(bodies, blob)) return false;
    setPanel(null);
    return true;
  });
  const leave = useStable(() => {
    if (step && record([{ type: 'step-left', step: step.id }])) choose(null);
  });

  const showWhole = useStable(() => setWhole(true));

  useRunKeys(
    {
      done: () => act(false),
      whole: () => act(true),
      back,
      leave,
      deviation: () => setPanel({ kind: 'deviation', item: null }),
      photo: () => setPanel({ kind: 'photo' }),
      note: () => setPanel({ kind: 'note' }),
      timer: () => setPanel({ kind: 'timer' }),
      replan: () => setPanel({ kind: 'replan' }),
      try: () => setPanel({ kind: 'try' }),
      fail: () => setPanel({ kind: 'test', outcome: 'fail' }),
      waive: () => setPanel({ kind: 'test', outcome: 'waived' }),
      mirror: () => setMirror((m) => !m),
      layers: () => setOneLayer((l) => !l),
      profile: () => setWhole((w) => !w),
      help: () => setPanel({ kind: 'help' }),
      next: () => choose(n + 1),
      previous: () => choose(n - 1),
      escape: () => {
        if (panel) setPanel(null);
        else if (whole) setWhole(false);
        else choose(null);
      },
    },
    step?.do === 'test',
  );

  const bond = step && (step.do === 'cut' || step.do === 'gap') ? step.items[0]! : null;
  const underCell = bond !== null && joinsCell(context, bond);
  // Where the pick goes is drawn instead of the layers while the seam is opened.
  const cutBond = bond !== null && !underCell ? bond : null;
  const rules = { ...DEFAULT_RULES, ...plan?.rules };
  const cut = useCut(context?.model ?? null, cutBond, {
    marks: rules.pickMarks,
    margin: rules.pickMargin,
    firstGap: rules.firstGap,
    crackedGlass: job?.crackedGlass ?? false,
  });
  if (!job || !plan || !context || !state || !step || !model)
    return <p className="p-8">This job has no dive to run.</p>;
  const left = itemsLeft(state, step);
  const done = state.done.has(step.id);
  const nextItem = itemWise(step) && !done ? (left[0] ?? null) : null;
  const timer = state.timers.get(timerId(step)) ?? null;
  // The wait of an earlier step that stands before this one, else this step's own.
  const before = done ? [] : waitsBefore(state, step, now).filter((w) => w.started);
  const cooling = before.find((w) => isCooling({ id: w.timer })) ?? null;
  const wait = before.length > 0 ? Math.max(...before.map((w) => w.left)) : timer ? timerLeft(timer, now) : null;
  // What was too hot since is not to be called soft.
  const overheated = timer !== null && tooHotSince(state, timer);
  // While the thermometers watch a heating, what they say stands in the place of the drawing; a device that was too
  // hot is watched until it has cooled.
  const watched = thermometers && timer !== null && timer.endedAt === null && (!overheated || cooling !== null);
  const followed = canFollow(step) && !done && watched ? step : null;
  const softNow = timer !== null && soft?.startedAt === timer.startedAt && before.length === 0 && !overheated;
  const toAgree = lossesToAgree(state);

  return (
    <div className="grid h-dvh grid-rows-[auto_minmax(0,1fr)_auto]">
      <PowerStrip
        job={job}
        state={state}
        timers={timers.filter((t) => {
          const shownByHeat = followed && heatLeft !== null && t.step === step.id;
          return !shownByHeat && (timerLeft(t, now) > 0 || !state.done.has(t.step));
        })}
        now={now}
        choose={chooseStep}
      />
      <div className="relative min-h-0">
        <main
          id="main"
          className={
            'grid h-full min-h-0 auto-rows-max gap-4 overflow-auto p-3 sm:p-4 lg:auto-rows-[minmax(0,1fr)] ' +
            'lg:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)] lg:overflow-hidden'
          }
        >
          <div className="flex min-h-0 flex-col gap-3 lg:overflow-auto lg:[contain:strict]" data-testid="step">
            <OutboxNote />
            {refusal && <RefusalNote refusal={refusal} choose={chooseStep} dismiss={dismiss} open={setPanel} />}
            {problem && (
              <p role="alert" className="rounded-lg bg-panel p-4 text-lg font-semibold text-crimson">
                {problem}
              </p>
            )}
            {toAgree.length > 0 ? (
              <AgreeFirst losses={toAgree} />
            ) : (
              <StepCard
                context={context}
                step={step}
                state={state}
                total={total}
                standing={standing}
                nextItem={nextItem}
                left={left.length}
                wait={softNow ? 0 : followed && heatLeft !== null && !cooling ? heatLeft : wait}
                waitsFor={before[0]?.step ?? null}
                cooling={cooling !== null}
                timer={timer}
                soft={softNow}
                because={step.because.slice(0, 3).map((b) => explain(model, b))}
                goBack={() => choose(null)}
              />
            )}
            {driver && (
              <TorquePanel
                key={driver.fastener}
                job={job.id}
                screw={model.fasteners.get(driver.fastener)!}
                step={driver.step}
                close={() => {
                  setDriver(null);
                  if (useRun.getState().state?.done.has(driver.step)) setChosen(null);
                }}
              />
            )}
            {fastening && !done && !driver && <DriverSwitch />}
          </div>
          <DrawingPane
            job={job}
            context={context}
            state={state}
            step={step}
            followed={followed && timer ? { step: followed, startedAt: timer.startedAt } : null}
            cut={cutBond && !cut.problem ? { cut: cut.cut } : null}
            nextItem={nextItem}
            mirror={mirror}
            oneLayer={oneLayer}
            onScrew={itemWise(step) === 'screw' && !done ? onScrew : undefined}
            onSoft={onSoft}
            onTime={setHeatLeft}
          />
        </main>
        {panel && (
          <Panel
            panel={panel}
            step={step}
            model={model}
            state={state}
            nextItem={nextItem}
            send={send}
            passAll={() => {
              setPanel(null);
              if (press(step.id, true) === 'moved') setChosen(null);
            }}
            close={() => setPanel(null)}
            open={setPanel}
          />
        )}
      </div>
      <footer className="border-t border-line bg-ground">
        <div className="hidden h-24 px-4 [contain:strict] will-change-transform lg:block [@media(max-height:640px)]:hidden">
          <LaterProfile
            plan={plan}
            at={state.cursor ?? plan.steps.at(-1)!.id}
            done={state.done}
            chosen={chosen}
            height={92}
            className="h-full w-full"
          />
        </div>
        <ActionBar
          step={step}
          state={state}
          left={left.length}
          wait={softNow ? 0 : wait}
          why={whyNot({
            finished,
            done,
            standing,
            wait: softNow ? 0 : wait,
            cooling: cooling !== null,
            before: before[0]?.step.n ?? null,
            toAgree: toAgree.length > 0,
            n,
          })}
          finished={finished}
          act={act}
          back={back}
          leave={leave}
          open={setPanel}
          showWhole={showWhole}
          goToStanding={() => choose(null)}
        />
      </footer>
      {whole && (
        <StepPicker
          plan={plan}
          state={state}
          model={model}
          standing={standing}
          chosen={chosen}
          choose={(to) => {
            setWhole(false);
            choose(to);
          }}
          close={() => setWhole(false)}
        />
      )}
    </div>
  );
}

function joinsCell(context: ReturnType<typeof useRun.getState>['context'], bond: string): boolean {
  const { joins = [] } = context?.model.bonds.get(bond) ?? {};
  return joins.some((id) => context?.model.parts.get(id)?.kind === 'battery');
}

/** Why the one key does nothing now, in words; `null` when it does. */
function whyNot(now: {
  finished: boolean;
  done: boolean;
  standing: number;
  wait: number | null;
  cooling: boolean;
  before: number | null;
  toAgree: boolean;
  n: number;
}): string | null {
  if (now.finished) return null;
  if (now.toAgree) return 'What will be lost has to be agreed first.';
  if (now.done) return `Step ${now.n} is done; the run stands at step ${now.standing}.`;
  if (now.wait === null || now.wait <= 0) return null;
  if (now.cooling) return 'It was too hot: it cools first. End the cooling when a thermometer says below 40 °C.';
  if (now.before !== null && now.before !== now.n) return `The wait of step ${now.before} runs before this.`;
  return 'The wait of this step runs.';
}

/** Was a limit passed after this heating began? */
const tooHotSince = (state: RunState, timer: Timer): boolean =>
  state.deviations.some((d) => d.kind === 'overheated' && d.at >= timer.startedAt);
