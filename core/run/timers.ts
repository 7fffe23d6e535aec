import type { Step } from '../dive/index.ts';
import type { RunContext } from './context.ts';
import type { RunState, Timer } from './state.ts';

/**
 * Seconds that a device cools after a limit was passed, unless a thermometer says sooner. Origin: own estimate; a
 * body of 200 g and 800 J/kg·K with 0.02 m² at 12 W/m²K has τ = mc/hA ≈ 670 s (lumped body, Incropera & DeWitt,
 * ch. 5), and comes from 65 °C to 40 °C in a room of 22 °C in 0.87 τ.
 */
export const COOLING_SECONDS = 600;

/** The timer of a step's own wait. */
export const timerId = (step: Step): string => step.id;

/** The timer of the wait in which a device cools that was too hot at a step. */
export const coolingId = (step: string): string => `cool:${step}`;

export const isCooling = (timer: Pick<Timer, 'id'>): boolean => timer.id.startsWith('cool:');

/** Seconds a timer still has to run at `now` (ms since the epoch), 0 when it has run or was ended. */
export function timerLeft(timer: Timer, now: number): number {
  if (timer.endedAt !== null) return 0;
  return Math.max(0, timer.seconds - (now - Date.parse(timer.startedAt)) / 1000);
}

/** A wait that runs beside the next steps; the others are waited for at their own step. */
export function runsBeside(context: RunContext, step: Step): boolean {
  const next = context.plan.steps[step.n];
  return step.waits > 0 && next !== undefined && !next.waitsFor.includes(step.n);
}

/** A wait that stands before a step: `started` is false when nobody began it. */
export interface WaitBefore {
  timer: string;
  step: Step;
  left: number;
  started: boolean;
}

/** The waits that keep a step from being begun: cooling, timers still running, and waits that were never started. */
export function waitsBefore(state: RunState, step: Step, now: number): WaitBefore[] {
  const { plan, steps } = state.context;
  const found: WaitBefore[] = [];
  for (const timer of state.timers.values()) {
    const left = isCooling(timer) ? timerLeft(timer, now) : 0;
    if (left > 0) found.push({ timer: timer.id, step: steps.get(timer.step) ?? step, left, started: true });
  }
  for (const n of step.waitsFor) {
    const on = plan.steps[n - 1]!;
    const timer = state.timers.get(timerId(on));
    const left = timer ? timerLeft(timer, now) : on.waits;
    if (timer ? left > 0 : !state.done.has(on.id)) {
      found.push({ timer: timerId(on), step: on, left, started: timer !== undefined });
    }
  }
  return found;
}

/** Begins a wait. */
export function startTimer(state: RunState, id: string, step: string, seconds: number, at: string): void {
  state.timers.set(id, { id, step, seconds, startedAt: at, endedAt: null, how: null, reason: '' });
}
