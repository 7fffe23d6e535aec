/** Wrong tries that cost nothing, and the first wait after them, ms; each further wrong one waits twice as long. Origin: own choice. */
export const TRIES = { free: 10, firstWait: 60_000, longestWait: 3600_000 } as const;
/** A count is forgotten after so long without a try, ms. Origin: own choice. */
const FORGOTTEN = 24 * 3600_000;
/** Keys that are kept at the most; the oldest are forgotten first. Origin: own choice. */
const MOST_KEPT = 20_000;

interface Kept {
  wrong: number;
  until: number;
  at: number;
}

/**
 * Counts tries by what they are made at. A try is counted before it is looked at, so that a burst counts as many as it is, and
 * given back when it was right.
 */
export class Tries {
  private readonly kept = new Map<string, Kept>();

  /** @returns ms that have to be waited; 0 where it may be tried, and is counted */
  take(key: string, now = Date.now()): number {
    const known = this.kept.get(key);
    const mine = known && now - known.at < FORGOTTEN ? known : { wrong: 0, until: 0, at: now };
    if (now < mine.until) return mine.until - now;
    mine.wrong++;
    mine.at = now;
    if (mine.wrong >= TRIES.free)
      mine.until = now + Math.min(TRIES.longestWait, TRIES.firstWait * 2 ** (mine.wrong - TRIES.free));
    this.kept.delete(key);
    this.kept.set(key, mine);
    if (this.kept.size > MOST_KEPT) this.kept.delete(this.kept.keys().next().value!);
    return 0;
  }

  /** It was right: only this try is given back, for what was wrong before stays wrong. */
  giveBack(key: string): void {
    const mine = this.kept.get(key);
    if (!mine) return;
    mine.wrong--;
    mine.until = 0;
    if (mine.wrong <= 0) this.kept.delete(key);
  }

  /** All of it is forgotten: whoever was right here owns it. */
  clear(key: string): void {
    this.kept.delete(key);
  }
}
