import { useMemo, useState } from 'react';
import { DEFAULT_RULES, type Step } from '../../../core/dive/index.ts';
import type { Job } from '../../../core/jobs/index.ts';
import { itemWise, timerLeft, type RunContext, type RunState, type Timer } from '../../../core/run/index.ts';
import { deferred } from '../../controls/deferred.tsx';
import { DiveProfile } from '../../drawing/DiveProfile.tsx';
import { serverNow } from '../../state/clock.ts';
import { usePrefs } from '../../state/prefs.ts';
import { useRunOf } from '../../state/run.ts';
import { useCut } from '../../state/useCut.ts';
import { useNow } from '../../state/useNow.ts';
import { useStable } from '../../state/useStable.ts';
import { ActionBar } from './ActionBar.tsx';
import { AgreeFirst } from './AgreeFirst.tsx';
import { DrawingPane } from './DrawingPane.tsx';
import { canFollow } from './HeatFollow.tsx';
import { MeasureScrew } from './MeasureScrew.tsx';
import { OutboxNote } from './OutboxNote.tsx';
import { Panel } from './Panels.tsx';
import { PowerStrip } from './PowerStrip.tsx';
import { RefusalNote } from './RefusalNote.tsx';
import { joinsCell, standingAt, whyNot, type Standing } from './standing.ts';
import { StepCard } from './StepCard.tsx';
import { FullPhoto } from './StepPhotos.tsx';
import { StepPicker } from './StepPicker.tsx';
import { DriverSwitch, TorquePanel } from './Torque.tsx';
import { useRunActs, type RunActs } from './useRunActs.ts';
import { useRunView, type RunView } from './useRunView.ts';
import { explainAll } from '../../../words/index.ts';

const LaterProfile = deferred(DiveProfile);

/** One step at a time, in large type, driven with one key. */
export default function Run() {
  const { job, context, state } = useRunOf('job', 'context', 'state');
  if (!job?.plan || !context || !state) return <p className="p-8">This job has no dive to run.</p>;
  return <RunOf job={job} context={context} state={state} />;
}

interface Running {
  job: Job;
  context: RunContext;
  state: RunState;
}

function RunOf({ job, context, state }: Running) {
  const view = useRunView(context, state);
  const acts = useRunActs(job.id, view);
  const timers = useMemo(() => [...state.timers.values()].filter((t) => t.endedAt === null), [state]);
  // A wait that has run is worth a word only while its step is still open.
  const now = useNow(timers.some((t) => timerLeft(t, serverNow()) > -1));
  const { thermometers } = usePrefs();
  // What is left of a heating by its thermometers, which goes before the clock.
  const [heatLeft, setHeatLeft] = useState<number | null>(null);
  const { step } = view;
  const cut = useStepCut({ job, context }, step);
  if (!step) return <p className="p-8">This job has no dive to run.</p>;
  const at = standingAt(state, step, now, acts.soft, thermometers);
  const here = { job, context, state, step, view, acts, at };
  const followed = at.watched && at.timer && canFollow(step) ? { step, startedAt: at.timer.startedAt } : null;
  const shownByHeat = (t: Timer) => followed !== null && heatLeft !== null && t.step === step.id;
  const byHeat = followed && heatLeft !== null && !at.cooling && !at.soft ? heatLeft : at.wait;

  return (
    <div className="grid h-dvh grid-rows-[auto_minmax(0,1fr)_auto]">
      <PowerStrip
        job={job}
        state={state}
        timers={timers.filter((t) => !shownByHeat(t) && (timerLeft(t, now) > 0 || !state.done.has(t.step)))}
        now={now}
        choose={view.chooseStep}
      />
      <div className="relative min-h-0">
        <main
          id="main"
          className={
            'grid h-full min-h-0 auto-rows-max gap-4 overflow-auto p-3 sm:p-4 lg:auto-rows-[minmax(0,1fr)] ' +
            'lg:grid-cols-[minmax(0,1.35fr)_minmax(0,1fr)] lg:overflow-hidden'
          }
        >
          <StepSide {...here} wait={byHeat} />
          <DrawingPane
            job={job}
            context={context}
            state={state}
            step={step}
            followed={followed}
            cut={cut}
            nextItem={at.nextItem}
            mirror={view.mirror}
            oneLayer={view.oneLayer}
            onScrew={itemWise(step) === 'screw' && !at.done ? acts.screw : undefined}
            onSoft={acts.onSoft}
            onTime={setHeatLeft}
          />
        </main>
        {view.panel && (
          <Panel
            panel={view.panel}
            step={step}
            model={context.model}
            state={state}
            nextItem={at.nextItem}
            send={acts.send}
            passAll={acts.passAll}
            close={() => view.open(null)}
            open={view.open}
          />
        )}
      </div>
      <Foot {...here} />
      {view.picture && <FullPhoto step={step} context={context} state={state} close={() => view.showPicture(false)} />}
      {view.whole && (
        <StepPicker
          plan={context.plan}
          state={state}
          model={context.model}
          standing={view.standing}
          chosen={view.chosen}
          choose={(to) => {
            view.showWhole(false);
            view.choose(to);
          }}
          close={() => view.showWhole(false)}
        />
      )}
    </div>
  );
}

/** Where the pick goes is drawn instead of the layers while a seam is opened; not while a cell is. */
function useStepCut({ job, context: { model, plan } }: Omit<Running, 'state'>, step: Step | null) {
  const bond = step && (step.do === 'cut' || step.do === 'gap') ? step.items[0]! : null;
  const drawn = bond !== null && !joinsCell(model, bond) ? bond : null;
  const rules = { ...DEFAULT_RULES, ...plan.rules };
  const { cut, problem } = useCut(model, drawn, {
    marks: rules.pickMarks,
    margin: rules.pickMargin,
    firstGap: rules.firstGap,
    crackedGlass: job.crackedGlass,
  });
  return drawn !== null && !problem ? { cut } : null;
}

interface AtStep extends Running {
  step: Step;
  view: RunView;
  acts: RunActs;
  at: Standing;
}

/** The step in words, and what stands before it. @param wait seconds, by the thermometers where they watch */
function StepSide({ job, context, state, step, view, acts, at, wait }: AtStep & { wait: number | null }) {
  const { refusal, problem, dismiss } = useRunOf('refusal', 'problem', 'dismiss');
  const { model } = context;
  return (
    <div className="flex min-h-0 flex-col gap-3 lg:overflow-auto lg:[contain:strict]" data-testid="step">
      <OutboxNote />
      {refusal && <RefusalNote refusal={refusal} choose={view.chooseStep} dismiss={dismiss} open={view.open} />}
      {problem && (
        <p role="alert" className="rounded-lg bg-panel p-4 text-lg font-semibold text-crimson">
          {problem}
        </p>
      )}
      {at.toAgree.length > 0 ? (
        <AgreeFirst losses={at.toAgree} />
      ) : (
        <StepCard
          context={context}
          step={step}
          state={state}
          total={view.total}
          standing={view.standing}
          nextItem={at.nextItem}
          left={at.left.length}
          wait={wait}
          waitsFor={at.before?.step ?? null}
          cooling={at.cooling}
          timer={at.timer}
          soft={at.soft}
          because={explainAll(model, step.because).slice(0, 3)}
          goBack={() => view.choose(null)}
        />
      )}
      <MeasureScrew model={model} state={state} />
      {acts.driver && (
        <TorquePanel
          key={acts.driver.fastener}
          job={job.id}
          screw={model.fasteners.get(acts.driver.fastener)!}
          step={acts.driver.step}
          close={acts.putDriverDown}
        />
      )}
      {step.do === 'fasten' && !at.done && !acts.driver && <DriverSwitch />}
    </div>
  );
}

/** The profile of the dive, and the keys. */
function Foot({ context, state, step, view, acts, at }: AtStep) {
  const { plan } = context;
  const finished = state.cursor === null;
  const showWhole = useStable(() => view.showWhole(true));
  return (
    <footer className="border-t border-line bg-ground">
      <div className="hidden h-24 px-4 [contain:strict] will-change-transform lg:block [@media(max-height:640px)]:hidden">
        <LaterProfile
          plan={plan}
          at={state.cursor ?? plan.steps.at(-1)!.id}
          done={state.done}
          chosen={view.chosen}
          height={92}
          className="h-full w-full"
        />
      </div>
      <ActionBar
        step={step}
        state={state}
        left={at.left.length}
        wait={at.wait}
        why={whyNot(at, { finished, n: view.n, standing: view.standing })}
        finished={finished}
        act={acts.act}
        back={acts.back}
        leave={acts.leave}
        open={view.open}
        showWhole={showWhole}
        goToStanding={() => view.choose(null)}
      />
    </footer>
  );
}
