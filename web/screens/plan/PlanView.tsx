import { useEffect, useMemo, useRef, useState } from 'react';
import { Link } from 'react-router';
import type { Model } from '../../../core/anatomy/index.ts';
import type { Plan, Step } from '../../../core/dive/index.ts';
import { isOver, lossesToAgree } from '../../../core/run/index.ts';
import { Button, buttonClass, Measure } from '../../controls/index.tsx';
import { DeviceDrawing } from '../../drawing/DeviceDrawing.tsx';
import { DiveProfile } from '../../drawing/DiveProfile.tsx';
import { BeneathSwitch, layerOfItems, useBeneath } from '../../drawing/plates.tsx';
import { useRunOf } from '../../state/run.ts';
import { Advice, Losses, Ready } from './BeforeTheDive.tsx';
import { ScrewsOfDive } from './ScrewsOfDive.tsx';
import { SideBySide } from './SideBySide.tsx';
import { StepDetail, StepList } from './Steps.tsx';
import { Times } from './Times.tsx';
import { WhileThere } from './WhileThere.tsx';
import { useGo } from '../../state/here.ts';

export default function PlanView() {
  const { job, context, state } = useRunOf('job', 'context', 'state');
  const leave = useGo();
  const [chosen, setChosen] = useState<number | null>(null);
  const plan = job?.plan ? (context?.plan ?? null) : null;
  const page = useRef<HTMLDivElement>(null);
  const there = plan !== null;
  // Whoever comes with the keyboard stands at the dive; at nothing while it is not agreed, for nobody agrees by accident.
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
  const run = `/jobs/${job!.id}/run`;
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
          <Times plan={plan} note={proof(plan)} />
          <Measure value={plan.steps.length} label="steps" />
          <Measure value={t.screws} label="screws" />
          <Measure value={t.connectors} label="connectors" />
          <Measure value={t.toolChanges} label="tool changes" />
          <Measure value={t.turnOvers} label="turn-overs" />
          {started || isOver(state) ? (
            <Link to={run} className={buttonClass('main', 'text-lg')}>
              {isOver(state) ? 'Look at the run' : `Go on at step ${standing}`}
            </Link>
          ) : (
            <span className="flex flex-wrap items-center gap-3">
              {!agreed && <a href="#losses">First agree to what will be lost</a>}
              <Button
                weight="main"
                data-next={agreed ? true : undefined}
                className="text-lg"
                disabled={!agreed}
                onClick={() => leave()(run)}
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
            <OnDevice device={job?.anatomy ?? null} model={model} plan={plan} step={step} lit={lit} />
            <div className="text-sm">
              {step ? (
                <StepDetail step={step} model={model} plan={plan} job={job!.id} />
              ) : (
                <p className="text-quiet">
                  Point at a step, in the profile or the list, to see it here: why it is there, with what, how long, and
                  what to watch.
                </p>
              )}
            </div>
          </section>
          <Advice plan={plan} model={model} />
          <Losses plan={plan} model={model} state={state} job={job!.id} />
          <SideBySide plan={plan} model={model} />
          <ScrewsOfDive plan={plan} model={model} job={job!.id} />
          <Ready plan={plan} model={model} />
          <WhileThere plan={plan} model={model} begun={started} />
        </section>
      </div>
    </div>
  );
}

/** What is known of the order: that none is quicker, or how far from the best it may be. */
function proof(plan: Plan): string {
  const { cost, lowerBound, proved } = plan.optimality;
  return proved
    ? ', proved quickest'
    : `, at most ${Math.max(0.1, (1 - lowerBound / cost) * 100).toFixed(1)} % over the best`;
}

/** The device with the items of a step lit, over its photograph where there is one. */
function OnDevice({
  device,
  model,
  plan,
  step,
  lit,
}: {
  device: string | null;
  model: Model;
  plan: Plan;
  step: Step | null;
  lit: ReadonlySet<string>;
}) {
  const backFirst = !step && model.parts.get(plan.replace[0]!)?.face === 'back';
  const face = step?.face === 'back' || backFirst ? 'back' : 'front';
  const { beneath, there } = useBeneath(device, face, layerOfItems(model, lit));
  return (
    <div>
      <DeviceDrawing
        model={model}
        face={face}
        lit={lit}
        beneath={beneath}
        label={step ? `Step ${step.n} on the device` : 'The parts to replace'}
        className="max-h-96 w-full lg:h-[calc(max(20rem,100vh-29.2rem)-2rem)] lg:max-h-none"
      />
      <BeneathSwitch there={there} />
    </div>
  );
}
