/** What a sender says of its own clock beside the events it sends. */
export interface SenderClock {
  /** ms since the epoch by the sender's clock at the moment of sending; `null` when it does not say. */
  now: number | null;
  /** ms since the epoch by our clock when it came in. */
  received: number;
}

/** Below this an event was made just now, ms; above it, it was made while the sender could not reach us. */
export const JUST_NOW_MS = 2000;
/** From here on a difference between two clocks is worth a word, s. Origin: own choice. */
const WORTH_A_WORD = 2;

export interface Timed {
  /** ms since the epoch by our clock. */
  at: number;
  /** Seconds that the sender's clock is ahead, where that is worth a word. */
  skew: number | undefined;
}

/**
 * When an event was made, by our own clock. The sender says how long ago by its own: a difference of two readings
 * of one clock, which is right however wrong that clock is. Nothing is from the future, and nothing comes before
 * what was recorded before it. Without a sender's clock an event was made when it came in.
 * @param claimed the time that the event bears
 * @param before ms since the epoch of the event that stands before it
 */
export function timeOf(claimed: string, { now, received }: SenderClock, before: number): Timed {
  const told = Date.parse(claimed);
  const age = now === null || !Number.isFinite(told) ? 0 : Math.max(0, now - told);
  const at = Math.min(received, Math.max(received - age, before));
  // Without a sender's clock an old time may be an old event; only one from the future tells of a clock.
  const ahead = (now === null ? Math.max(0, told - received) : now - received) / 1000;
  const skew = Number.isFinite(ahead) && Math.abs(ahead) > WORTH_A_WORD ? Math.round(ahead) : undefined;
  // Kept within what a clock can be off by; beyond it only the sign says something.
  return { at, skew: skew === undefined ? undefined : Math.max(-1e9, Math.min(1e9, skew)) };
}

/** The moment at which an event has to have been allowed: now, or, for one made out of reach, then. */
export const judgedAt = (at: number, received: number): number =>
  received - at < JUST_NOW_MS ? received : at + JUST_NOW_MS;
