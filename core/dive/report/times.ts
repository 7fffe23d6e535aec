import type { Plan } from '../types.ts';

/** How long a dive takes, s. */
export interface Times {
  elapsed: number;
  /** Work, taking up tools and turning the device over with it: what is left of the whole without the waiting. */
  work: number;
  /** Waiting that nothing fills. */
  idle: number;
  /** What of the waiting draws a cell down whose charge nobody knows, taken as full; `null` where it is known, or none is drawn. */
  drawingDown: number | null;
}

/** The one place that says how long a dive takes; what was quoted besides is what usually goes wrong. */
export function timesOf({ totals: { elapsed, idle }, steps, condition }: Plan): Times {
  const waits = steps.filter((s) => s.do === 'discharge').reduce((sum, s) => sum + s.waits, 0);
  const unknown = (condition?.charge ?? null) === null && condition?.dark !== true;
  return { elapsed, work: elapsed - idle, idle, drawingDown: unknown && waits > 0 ? waits : null };
}
