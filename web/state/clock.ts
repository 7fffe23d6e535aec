import { newId } from './ids.ts';
import type { Made } from './store.ts';

/**
 * The one clock: the server's. What the server said last is carried on by a clock that nobody can set, the time since
 * this page was opened; only for a page opened without the server is it the tablet's own, with the difference measured
 * before.
 */
interface Heard {
  /** ms since the epoch by the server. */
  server: number;
  /** `performance.now()` when it was heard. */
  at: number;
}

const KEY = 'nibrel.clock';
/** From here on it is said that the clock of this screen is off, s. Origin: own choice. */
export const WORTH_A_WORD = 5;

let heard: Heard | null = null;

const keptOffset = (): number => {
  try {
    return Number(localStorage.getItem(KEY) ?? 0) || 0;
  } catch {
    return 0;
  }
};

/** Milliseconds since the epoch by the server's clock; never ahead of it by more than a rounding. */
export function serverNow(): number {
  if (heard) return heard.server + (performance.now() - heard.at);
  return Date.now() + keptOffset();
}

/**
 * The server said what time it is. What it says is late by the way it took, so that of two readings the one that
 * gives the later time is the better one.
 */
export function hearTime(server: number): void {
  if (!Number.isFinite(server)) return;
  const at = performance.now();
  const known = heard ? heard.server + (at - heard.at) : Number.NEGATIVE_INFINITY;
  // A server whose clock was set back is followed at once; otherwise the latest reading wins.
  if (server >= known || known - server > 1000) heard = { server, at };
  try {
    localStorage.setItem(KEY, String(Math.round(serverNow() - Date.now())));
  } catch {
    // A page opened without the server then goes by its own clock.
  }
}

const page = newId();

/** When something is made, for telling later how long ago that was. */
export const madeNow = (): Made => ({ page, ticks: performance.now(), wall: Date.now() });

/**
 * Milliseconds since something was made: by the clock of the page where it is the same one, so that a clock that was
 * set meanwhile changes nothing.
 */
export function ageOf(made: Made): number {
  return Math.max(0, made.page === page ? performance.now() - made.ticks : Date.now() - made.wall);
}

/** Seconds that the clock of this screen is ahead of the server's. */
export function skew(): number {
  return (Date.now() - serverNow()) / 1000;
}

/** For tests: as when the page was opened. */
export function forgetTime(): void {
  heard = null;
}
