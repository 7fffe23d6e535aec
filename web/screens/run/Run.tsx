import { lazy, Suspense, useCallback, useEffect, useMemo, useState } from 'react';
import { DEFAULT_RULES, explain } from '../../../core/dive/index.ts';
import { itemsLeft, itemWise, timerId, timerLeft, waitsBefore, type EventBody } from '../../../core/run/index.ts';
import { DeviceDrawing } from '../../drawing/DeviceDrawing.tsx';
import { DiveProfile } from '../../drawing/DiveProfile.tsx';
import { SeamDrawing } from '../../drawing/SeamDrawing.tsx';
import { useCut } from '../../state/useCut.ts';
import { usePrefs } from '../../state/prefs.ts';
import { useRun } from '../../state/run.ts';
import { useNow } from '../../state/useNow.ts';
import { ActionBar } from './ActionBar.tsx';
import { Panel, type PanelKind } from './Panels.tsx';
import { PowerStrip } from './PowerStrip.tsx';
import { RefusalNote } from './RefusalNote.tsx';
import { StepCard } from './StepCard.tsx';
import { StepPicker } from './StepPicker.tsx';
import { canFollow, HeatFollow, ThermometerSwitch } from './HeatFollow.tsx';
import { DriverSwitch, TorquePanel } from './Torque.tsx';
import { Tray } from './Tray.tsx';
import { useRunKeys } from './useRunKeys.ts';

const ZoomPane = lazy(() => import('../../drawing/ZoomPane.tsx'));

/** One step at a time, in large type, driven with one key. */
export default function Run() {
  const { job, context, state, press, tap, record, refusal, problem, dismiss } = useRun();
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
  const plan = job?.plan ?? null;
  const standing = state?.cursor ?? plan?.steps.length ?? 1;
  const n = chosen ?? standing;
  const step = plan?.steps[n - 1] ?? null;
  const timers = useMemo(() => [...(state?.timers.values() ?? [])].filter((t) => t.endedAt === null), [state]);
  // A wait that has run is worth a word only while its step is still open.
  const now = useNow(timers.some((t) => timerLeft(t, Date.now()) > -1));

  const choose = useCallback(
    (to: number | null) => {
      dismiss();
      setPanel(null);
      setMirror(false);
      setChosen(to === null || to === standing ? null : Math.min(plan?.steps.length ?? 1, Math.max(1, to)));
    },
    [dismiss, standing, plan],
  );
  // When the run moves on, here or on another screen, the view goes along.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the step reached is what moves the view
  useEffect(() => {
    setMirror(false);
  }, [standing]);

  const act = useCallback(
    (all: boolean) => {
      const now = useRun.getState();
      // A key that bounces, or is quicker than the screen, was meant for what is done by now; it is no press of the next step, which nobody has seen yet.
      if (!step || now.state?.done.has(step.n)) return;
      performance.mark('nibrel-press');
      const screw =
        step.do === 'fasten' && torqueDriver && !all && now.state ? itemsLeft(now.state, step)[0] : undefined;
      // With a torque driver at hand the screw is driven by it, and judged, before it counts as in.
      if (screw) return setDriver((at) => at ?? { fastener: screw, step: step.n });
      // The thermometers have the last word about a heating: what is soft need not wait for the clock.
      const timer = now.state?.timers.get(timerId(step));
      if (
        timer &&
        soft?.startedAt === timer.startedAt &&
        timerLeft(timer, Date.now()) > 0 &&
        !record([{ type: 'timer-ended', timer: timer.id, reason: soft.reason }])
      )
        return;
      if (press(step.n, all) === 'moved' && useRun.getState().state?.done.has(step.n)) setChosen(null);
    },
    [press, step, torqueDriver, soft, record],
  );
  const onSoft = useCallback((startedAt: string, reason: string) => setSoft({ startedAt, reason }), []);
  const [driver, setDriver] = useState<{ fastener: string; step: number } | null>(null);
  const fastening = step?.do === 'fasten';
  const onScrew = useCallback(
    (id: string) => {
      if (!step) return;
      if (fastening && torqueDriver) setDriver({ fastener: id, step: step.n });
      else if (tap(step.n, id) === 'moved' && useRun.getState().state?.done.has(step.n)) setChosen(null);
    },
    [step, fastening, torqueDriver, tap],
  );
  const back = useCallback(() => {
    const last = useRun.getState().state?.undoable;
    if (last && record([{ type: 'step-undone', step: last.step, item: last.item }])) choose(null);
  }, [record, choose]);
  const send = useCallback(
    (bodies: EventBody[]) => {
      if (!record(bodies)) return false;
      setPanel(null);
      return true;
    },
    [record],
  );
  const leave = useCallback(() => {
    if (step && record([{ type: 'step-left', step: step.n }])) choose(null);
  }, [record, step, choose]);

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

  // Where the pick goes is drawn instead of the layers while the seam is opened.
  const cutBond =
    context &&
    step &&
    (step.do === 'cut' || step.do === 'gap') &&
    !context.model.bonds.get(step.items[0]!)?.joins.some((id) => context.model.parts.get(id)?.kind === 'battery')
      ? step.items[0]!
      : null;
  const rules = { ...DEFAULT_RULES, ...plan?.rules };
  const cut = useCut(context?.model ?? null, cutBond, {
    marks: rules.pickMarks,
    margin: rules.pickMargin,
    firstGap: rules.firstGap,
    crackedGlass: job?.crackedGlass ?? false,
  });
  const lit = useMemo(() => new Set(step?.items.filter((id) => context?.model.items.has(id)) ?? []), [step, context]);
  if (!job || !plan || !context || !state || !step) return <p className="p-8">This job has no dive to run.</p>;
  const { model } = context;
  const left = itemsLeft(state, step);
  const nextItem = itemWise(step) && !state.done.has(step.n) ? (left[0] ?? null) : null;
  const timer = state.timers.get(timerId(step)) ?? null;
  // The wait of an earlier step that stands before this one, else this step's own.
  const before = state.done.has(step.n)
    ? []
    : waitsBefore(state, step, now).filter((w) => state.timers.has(`step-${w.step}`));
  const wait = before.length > 0 ? Math.max(...before.map((w) => w.left)) : timer ? timerLeft(timer, now) : null;
  // While the thermometers watch a heating, what they say stands in the place of the drawing.
  const followed =
    canFollow(step) && !state.done.has(step.n) && thermometers && timer && timer.endedAt === null ? step : null;
  const softNow = timer !== null && soft?.startedAt === timer.startedAt && before.length === 0;
  const face = (step.face === 'back') !== mirror ? 'back' : 'front';
  const litLayer = lit.size > 0 ? Math.min(...[...lit].map((id) => model.layerOf(id))) : null;

  return (
    <div className="grid min-h-screen grid-rows-[auto_minmax(0,1fr)_auto] lg:h-screen">
      <PowerStrip
        job={job}
        state={state}
        timers={timers.filter(
          (t) =>
            !(followed && heatLeft !== null && t.step === step.n) && (timerLeft(t, now) > 0 || !state.done.has(t.step)),
        )}
        now={now}
        choose={choose}
      />
      <main className="grid min-h-0 gap-4 p-4 lg:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)]">
        <div className="flex min-h-0 flex-col gap-3 overflow-auto" data-testid="step">
          <StepCard
            context={context}
            step={step}
            state={state}
            total={plan.steps.length}
            standing={standing}
            nextItem={nextItem}
            left={left.length}
            wait={softNow ? 0 : followed && heatLeft !== null ? heatLeft : wait}
            waitsFor={before[0]?.step ?? null}
            timer={timer}
            soft={softNow}
            because={step.because.slice(0, 3).map((b) => explain(model, b))}
            goBack={() => choose(null)}
          />
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
          {fastening && !state.done.has(step.n) && !driver && <DriverSwitch />}
          {refusal && <RefusalNote refusal={refusal} choose={choose} dismiss={dismiss} open={setPanel} />}
          {problem && (
            <p role="alert" className="rounded-lg bg-panel p-4 text-lg font-semibold text-crimson">
              {problem}
            </p>
          )}
        </div>
        <div className="panel relative grid min-h-0 grid-rows-[minmax(16rem,1fr)_auto] gap-2 overflow-hidden p-3">
          {followed && timer ? (
            <HeatFollow
              key={timer.startedAt}
              job={job.id}
              step={followed}
              model={model}
              rules={plan.rules}
              startedAt={timer.startedAt}
              onSoft={onSoft}
              onTime={setHeatLeft}
            />
          ) : (
            <Suspense fallback={<div />}>
              <ZoomPane>
                {cutBond && !cut.problem ? (
                  cut.cut ? (
                    <SeamDrawing
                      model={model}
                      cut={cut.cut}
                      label={`${model.anatomy.name}, the cut of step ${step.n}`}
                      className="h-full min-h-0 w-full"
                    />
                  ) : (
                    <div />
                  )
                ) : (
                  <DeviceDrawing
                    model={model}
                    face={face}
                    lit={lit}
                    next={nextItem}
                    onScrew={itemWise(step) === 'screw' && !state.done.has(step.n) ? onScrew : undefined}
                    device={state.device}
                    layer={oneLayer ? litLayer : null}
                    label={`${model.anatomy.name} from the ${face}, step ${step.n}`}
                    className="h-full min-h-0 w-full"
                  />
                )}
              </ZoomPane>
            </Suspense>
          )}
          {!followed && (
            <p className="pointer-events-none absolute top-3 left-4 text-sm font-semibold text-quiet">
              {face === 'back' ? 'Back up, mirrored' : 'Front up'}
              {oneLayer && litLayer !== null && `, layer ${litLayer}`}
            </p>
          )}
          {canFollow(step) && !state.done.has(step.n) ? (
            <ThermometerSwitch />
          ) : (
            <Tray context={context} state={state} step={step} nextItem={nextItem} />
          )}
          {panel && (
            <Panel
              panel={panel}
              step={step}
              model={model}
              state={state}
              nextItem={nextItem}
              send={send}
              close={() => setPanel(null)}
              open={setPanel}
            />
          )}
        </div>
      </main>
      <div>
        <div className="px-4">
          <DiveProfile plan={plan} at={standing} done={state.done} chosen={chosen} height={92} className="w-full" />
        </div>
        <ActionBar
          step={step}
          state={state}
          left={left.length}
          wait={softNow ? 0 : wait}
          act={act}
          back={back}
          leave={leave}
          open={setPanel}
          showWhole={() => setWhole(true)}
        />
      </div>
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
