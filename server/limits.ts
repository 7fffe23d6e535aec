import { readFileSync } from 'node:fs';
import { Problem } from './problem.ts';

/** How long something may compute, and how long it may take in all, the waits for a hand and for a processor included; ms. */
export interface Limit {
  computingMs: number;
  inAllMs: number;
}

/** Which of the two it came to. */
export type Late = keyof Limit;

/**
 * The usual limit. Origin: own choice; the slowest dive known computes for 2 s, and on a machine that is kept busy by something else
 * it is given a processor for a small share of the time.
 */
export const USUAL: Limit = { computingMs: 45_000, inAllMs: 240_000 };

/** How often it is looked at, ms. Origin: own choice. */
const LOOK_MS = 100;
/** ms of a tick in which Linux counts the time of processors (`USER_HZ`, 100 on every machine; proc(5)). */
const TICK_MS = 10;

/**
 * Ends what takes too long. A busy machine is no fault of what is computed, so that only its own time at a processor counts.
 * @param computes what computes it, as `computedMs` takes it; `null` before it has begun. Where the system does not tell, it is by
 *   the clock
 * @param end called once, with what was too much
 * @returns ends the watch
 */
export function watch(limit: Limit, computes: () => string | null, end: (late: Late) => void): () => void {
  const began = performance.now();
  // By one of the two clocks from beginning to end: what is told no more has ended, and is late by neither.
  let first: { at: number; clock: (of: string) => number | null } | null = null;
  const timer = setInterval(() => {
    const of = computes();
    if (of !== null && first === null) {
      const at = computedMs(of);
      first = at === null ? { at: performance.now(), clock: () => performance.now() } : { at, clock: computedMs };
    }
    const now = of !== null && first ? first.clock(of) : null;
    let late: Late | null = null;
    if (now !== null && now - first!.at >= limit.computingMs) late = 'computingMs';
    else if (performance.now() - began >= limit.inAllMs) late = 'inAllMs';
    if (!late) return;
    clearInterval(timer);
    end(late);
  }, LOOK_MS);
  return () => clearInterval(timer);
}

/**
 * ms at a processor of a process, or of one thread of this one, since it began.
 * @param of `/proc/<pid>` or `/proc/self/task/<tid>`
 * @returns `null` where the system does not tell
 */
export function computedMs(of: string): number | null {
  try {
    // Its name stands in brackets and may hold anything; utime and stime are the 14th and 15th field (proc(5)).
    const stat = readFileSync(`${of}/stat`, 'utf8');
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    return (Number(fields[11]) + Number(fields[12])) * TICK_MS;
  } catch {
    return null;
  }
}

/** @param what as it is named to whoever waits for it */
export const tooLate = (what: string, late: Late, limit: Limit): Problem =>
  new Problem(503, {
    error:
      late === 'computingMs'
        ? `${what} takes longer than ${limit.computingMs / 1000} s and was stopped`
        : `the machine is too busy for ${what}; ask again in a moment`,
  });
