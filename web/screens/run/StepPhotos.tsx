import type { Step } from '../../../core/dive/index.ts';
import type { RunContext, RunState } from '../../../core/run/index.ts';

/** Photographs of this step, and, on the way back, those of the step it mirrors: how it lay on the way in. */
export function StepPhotos({ step, context, state }: { step: Step; context: RunContext; state: RunState }) {
  const mirrored = step.mirrors === null ? undefined : context.plan.steps[step.mirrors - 1];
  const ids = [step.id, ...(mirrored && mirrored.n < step.n ? [mirrored.id] : [])];
  const shown = state.photos.filter((p) => p.step !== null && ids.includes(p.step) && /^[0-9a-f]{64}$/.test(p.photo));
  if (shown.length === 0) return <div />;
  return (
    <ul aria-label="Photographs of this step" className="flex gap-2 overflow-x-auto">
      {shown.map((p, i) => (
        <li key={i} className="shrink-0">
          <a href={`/api/photos/${p.photo}`} target="_blank" rel="noreferrer">
            <img
              src={`/api/photos/${p.photo}/thumb`}
              alt={p.step === step.id ? `Step ${step.n}` : `On the way in, step ${mirrored!.n}`}
              className="h-20 rounded-md"
            />
          </a>
        </li>
      ))}
    </ul>
  );
}
