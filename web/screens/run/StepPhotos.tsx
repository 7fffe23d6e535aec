import type { Step } from '../../../core/dive/index.ts';
import type { RunContext, RunState } from '../../../core/run/index.ts';
import { Button } from '../../controls/index.tsx';

interface Shown {
  photo: string;
  /** `this` step, the one it `mirrors`, or another of the way in at the same depth. */
  of: 'this' | 'mirrors' | 'depth';
  n: number;
}

/**
 * Photographs of a step. On the way back those of the way in as well, unasked: of the step that it mirrors, then of the
 * others at the same depth, the newest first. How the flex lay is what people forget.
 */
export function photosFor({ plan, steps }: RunContext, state: RunState, step: Step): Shown[] {
  const wayBack = step.phase === 'ascent';
  const own: Shown[] = [];
  const mirrored: Shown[] = [];
  const level: Shown[] = [];
  for (const { photo, step: id } of [...state.photos].reverse()) {
    const at = id === null ? undefined : steps.get(id);
    if (!at || !/^[0-9a-f]{64}$/.test(photo)) continue;
    if (at.id === step.id) own.push({ photo, of: 'this', n: at.n });
    else if (step.mirrors !== null && plan.steps[step.mirrors - 1]?.id === at.id && at.n < step.n)
      mirrored.push({ photo, of: 'mirrors', n: at.n });
    else if (wayBack && at.phase === 'descent' && at.depth === step.depth) level.push({ photo, of: 'depth', n: at.n });
  }
  return [...own, ...mirrored, ...level];
}

const wordOf = ({ of, n }: Shown): string => (of === 'this' ? `Step ${n}` : `On the way in, step ${n}`);

export function StepPhotos({ step, context, state }: { step: Step; context: RunContext; state: RunState }) {
  const shown = photosFor(context, state, step);
  if (shown.length === 0) return <div />;
  return (
    <ul aria-label="Photographs of this step" className="flex gap-2 overflow-x-auto">
      {shown.map((p, i) => (
        <li key={i} className="shrink-0">
          <a href={`/api/photos/${p.photo}`} target="_blank" rel="noreferrer">
            <img src={`/api/photos/${p.photo}/thumb`} alt={wordOf(p)} className="h-20 rounded-md" />
          </a>
        </li>
      ))}
    </ul>
  );
}

/** The newest photograph of the way in at full size, over the screen; the same key, or a press, puts it away. */
export function FullPhoto({
  step,
  context,
  state,
  close,
}: {
  step: Step;
  context: RunContext;
  state: RunState;
  close: () => void;
}) {
  const shown = photosFor(context, state, step);
  const one = shown.find((p) => p.of !== 'this') ?? shown[0];
  return (
    <section
      aria-label="Photograph, full size"
      className="fixed inset-0 z-20 grid grid-rows-[minmax(0,1fr)_auto] bg-ground p-2"
    >
      {one ? (
        <img src={`/api/photos/${one.photo}`} alt={wordOf(one)} className="h-full w-full object-contain" />
      ) : (
        <p className="place-self-center text-xl">No photograph was taken at this depth on the way in.</p>
      )}
      <div className="flex items-center justify-between gap-3 px-2">
        <span className="text-lg">{one ? wordOf(one) : ''}</span>
        <Button weight="main" onClick={close}>
          Put it away
        </Button>
      </div>
    </section>
  );
}
