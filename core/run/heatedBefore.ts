import type { RunContext } from './context.ts';
import type { HeatedAt } from './events.ts';

/** A reading of before said in its sensor's name at which step it was taken, and where: `heat step 7, back`. */
const NAMED = /^heat step (\d+), (back|seam)$/;

/** Where such a reading was taken; `null` for every other. */
export function heatedBefore({ plan }: RunContext, sensor: string): HeatedAt | null {
  const [, n, at] = NAMED.exec(sensor) ?? [];
  const step = plan.steps.find((s) => s.n === Number(n));
  return step && at ? { step: step.id, at: at as HeatedAt['at'] } : null;
}
