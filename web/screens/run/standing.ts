import type { Model } from '../../../core/anatomy/index.ts';
import type { Step } from '../../../core/dive/index.ts';
import {
  isCooling,
  itemsLeft,
  itemWise,
  lossesToAgree,
  timerId,
  timerLeft,
  waitsBefore,
  type RunState,
  type Timer,
  type WaitBefore,
} from '../../../core/run/index.ts';

/** A heating that the thermometers called soft, by when its timer began: it counts in no heating begun anew. */
export interface Softened {
  startedAt: string;
  reason: string;
}

/** How a run stands at the step that is looked at, as the screen and its one key need it. */
export interface Standing {
  /** What of the step is not dealt with yet. */
  left: readonly string[];
  done: boolean;
  nextItem: string | null;
  timer: Timer | null;
  /** The wait of an earlier step that stands before this one. */
  before: WaitBefore | null;
  /** The device was too hot, and cools before anything goes on. */
  cooling: boolean;
  /** The thermometers said that it is soft: no wait is left. */
  soft: boolean;
  /** Seconds to wait, of an earlier step's wait or of this step's own; `null` without one. */
  wait: number | null;
  /** The thermometers watch this step: what they say stands in the place of the drawing. */
  watched: boolean;
  /** Functions that are lost and that nobody agreed to. */
  toAgree: string[];
}

/**
 * @param now ms since the epoch, by the server's clock
 * @param thermometers true where the shop measures while it heats
 */
export function standingAt(
  state: RunState,
  step: Step,
  now: number,
  soft: Softened | null,
  thermometers: boolean,
): Standing {
  const left = itemsLeft(state, step);
  const done = state.done.has(step.id);
  const timer = state.timers.get(timerId(step)) ?? null;
  const waits = done ? [] : waitsBefore(state, step, now).filter((w) => w.started);
  const cooling = waits.some((w) => isCooling({ id: w.timer }));
  // What was too hot since is not to be called soft.
  const overheated = timer !== null && tooHotSince(state, timer);
  const softNow = timer !== null && soft?.startedAt === timer.startedAt && waits.length === 0 && !overheated;
  const own = timer ? timerLeft(timer, now) : null;
  // A device that was too hot is watched until it has cooled.
  const watched = thermometers && !done && timer !== null && timer.endedAt === null && (!overheated || cooling);
  return {
    left,
    done,
    nextItem: itemWise(step) && !done ? (left[0] ?? null) : null,
    timer,
    before: waits[0] ?? null,
    cooling,
    soft: softNow,
    wait: softNow ? 0 : waits.length > 0 ? Math.max(...waits.map((w) => w.left)) : own,
    watched,
    toAgree: lossesToAgree(state),
  };
}

/** Was a limit passed after this heating began? */
export const tooHotSince = (state: RunState, timer: Timer): boolean =>
  state.deviations.some((d) => d.kind === 'overheated' && d.at >= timer.startedAt);

/**
 * Why the one key does nothing now, in words; `null` when it does.
 * @param finished the dive has no step left
 * @param n the step that is looked at
 * @param standing the step that the run stands at
 */
export function whyNot(
  { toAgree, done, wait, cooling, before }: Standing,
  { finished, n, standing }: { finished: boolean; n: number; standing: number },
): string | null {
  if (finished) return null;
  if (toAgree.length > 0) return 'What will be lost has to be agreed first.';
  if (done) return `Step ${n} is done; the run stands at step ${standing}.`;
  if (wait === null || wait <= 0) return null;
  if (cooling) return 'It was too hot: it cools first. End the cooling when a thermometer says below 40 °C.';
  if (before !== null && before.step.n !== n) return `The wait of step ${before.step.n} runs before this.`;
  return 'The wait of this step runs.';
}

/** Does a bond join the cell? Then nothing is drawn of the pick's way. */
export const joinsCell = (model: Model, bond: string): boolean =>
  (model.bonds.get(bond)?.joins ?? []).some((id) => model.parts.get(id)?.kind === 'battery');
