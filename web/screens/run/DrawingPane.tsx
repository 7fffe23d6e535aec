import { type ComponentProps, useMemo } from 'react';
import type { HeatSetting, Step } from '../../../core/dive/index.ts';
import type { Job } from '../../../core/jobs/index.ts';
import type { RunContext, RunState } from '../../../core/run/index.ts';
import { deferred } from '../../controls/deferred.tsx';
import { late } from '../../controls/late.tsx';
import { BeneathSwitch, layerOfItems, useBeneath } from '../../drawing/plates.tsx';
import { DeviceDrawing } from '../../drawing/DeviceDrawing.tsx';
import { SeamDrawing } from '../../drawing/SeamDrawing.tsx';
import type { Cut } from '../../workers/heat.worker.ts';
import { canFollow, HeatFollow, ThermometerSwitch } from './HeatFollow.tsx';
import { StepPhotos } from './StepPhotos.tsx';
import { Tray } from './Tray.tsx';

const ZoomPane = late(
  () => import('../../drawing/ZoomPane.tsx'),
  ({ children }) => children,
);

/** The device with its items lit, the cut, or the thermometers. */
function Picture({
  job,
  context,
  state,
  step,
  followed,
  cut,
  nextItem,
  mirror,
  oneLayer,
  onScrew,
  onSoft,
  onTime,
}: {
  job: Job;
  context: RunContext;
  state: RunState;
  step: Step;
  /** The heating that the thermometers watch. */
  followed: { step: Step & { heat: HeatSetting }; startedAt: string } | null;
  /** The cut of this step; its `cut` is `null` while it is computed. */
  cut: { cut: Cut | null } | null;
  nextItem: string | null;
  mirror: boolean;
  oneLayer: boolean;
  onScrew: ((id: string) => void) | undefined;
  onSoft: (startedAt: string, reason: string) => void;
  onTime: (left: number | null) => void;
}) {
  const { model } = context;
  const lit = useMemo(() => new Set(step.items.filter((id) => model.items.has(id))), [step, model]);
  const face = (step.face === 'back') !== mirror ? 'back' : 'front';
  const { beneath, there } = useBeneath(job.anatomy, face, layerOfItems(model, lit));
  const litLayer = lit.size > 0 ? Math.min(...[...lit].map((id) => model.layerOf(id))) : null;
  const title = `${face === 'back' ? 'Back up, mirrored' : 'Front up'}${oneLayer && litLayer !== null ? `, layer ${litLayer}` : ''}`;
  if (followed) {
    return (
      <HeatFollow
        key={followed.startedAt}
        job={job.id}
        step={followed.step}
        model={model}
        rules={context.plan.rules}
        startedAt={followed.startedAt}
        onSoft={onSoft}
        onTime={onTime}
      />
    );
  }
  const drawing = cut ? (
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
      onScrew={onScrew}
      device={state.device}
      layer={oneLayer ? litLayer : null}
      beneath={beneath}
      label={`${model.anatomy.name} from the ${face}, step ${step.n}`}
      className="h-full min-h-0 w-full"
    />
  );
  return (
    <>
      <ZoomPane>{drawing}</ZoomPane>
      <p className="pointer-events-none absolute top-3 left-4 text-sm font-semibold text-quiet">{title}</p>
      {there && !cut && (
        <div className="absolute top-8 left-4">
          <BeneathSwitch there={there} />
        </div>
      )}
    </>
  );
}

const LaterPicture = deferred(Picture);

/** What lies beside the step: its picture, drawn a moment after the words, the photographs, and the tray. */
export function DrawingPane(shown: ComponentProps<typeof Picture>) {
  const { context, state, step, nextItem } = shown;
  return (
    <div
      className={
        'panel relative grid h-[26rem] [contain:strict] will-change-transform ' +
        'grid-rows-[minmax(0,1fr)_auto_auto] sm:h-[34rem] lg:h-auto gap-2 overflow-hidden p-3 lg:min-h-0'
      }
    >
      <LaterPicture {...shown} />
      <StepPhotos step={step} context={context} state={state} />
      {canFollow(step) && !state.done.has(step.id) ? (
        <ThermometerSwitch />
      ) : (
        <Tray context={context} state={state} step={step} nextItem={nextItem} />
      )}
    </div>
  );
}
