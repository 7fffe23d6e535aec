/*
 * Why something is suspected, or why it is not more so. `n` is the number of a step, times are minutes, torque is N·cm.
 */

/** What in the record of a dive points at an item, or away from it. */
export type TelltaleMessage =
  | { code: 'recorded-as'; kind: string; words: string }
  | { code: 'driver-ended'; torque: number; verdict: string }
  | { code: 'looked-and-found'; words: string }
  | { code: 'counter-points-to' | 'counter-points-away' }
  | { code: 'took-longer'; n: number; took: number; planned: number };

export type SuspectMessage =
  | TelltaleMessage
  | { code: 'rests-on' | 'yet-works'; functions: readonly string[] }
  | { code: 'put-back-at'; n: number }
  | { code: 'new-on-dive' | 'not-touched' | 'found-sound' };
