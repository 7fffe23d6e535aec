import type { Fastener } from '../anatomy/index.ts';

/**
 * Default tightening torque by nominal thread, N·cm, for small steel screws into metal. Origin: own table, on the
 * careful side of common practice (0.9 to 1.1 kgf·cm seen on board screws of M1.4, 20 N·cm on case screws of M1.8
 * and more). An anatomy's own value comes first.
 */
export const DEFAULT_TORQUE: readonly [thread: number, ncm: number][] = [
  [1.0, 3.5],
  [1.2, 6],
  [1.4, 9],
  [1.6, 12],
  [1.8, 16],
  [2.0, 20],
  [2.5, 30],
];
/** Tolerance around the target, as a share. Origin: common practice for hand drivers of this size. */
export const TORQUE_TOLERANCE = 0.15;
/**
 * Torque that should not be reached before the head is near its seat, as a share of the target; and how near, in
 * turns. Origin: own estimate.
 */
const RUNDOWN = { share: 0.4, turnsLeft: 0.5 } as const;

export interface TorqueTarget {
  target: number;
  low: number;
  high: number;
  /** Where the target comes from. */
  from: 'anatomy' | 'default';
}

/** Target and limits in N·cm; a default is never above the table. */
export function torqueTarget(f: Pick<Fastener, 'torque' | 'thread'>): TorqueTarget {
  const target =
    f.torque ??
    [...DEFAULT_TORQUE].reverse().find(([thread]) => thread <= f.thread + 1e-9)?.[1] ??
    DEFAULT_TORQUE[0]![1];
  return {
    target,
    low: target * (1 - TORQUE_TOLERANCE),
    high: target * (1 + TORQUE_TOLERANCE),
    from: f.torque === null ? 'default' : 'anatomy',
  };
}

/** One reading of a driver on the way in: turns since the thread was caught, and torque in N·cm. */
export interface TorqueSample {
  turns: number;
  torque: number;
}

export const TORQUE_VERDICTS = ['good', 'under', 'over', 'cross-threaded'] as const;
export type TorqueVerdict = (typeof TORQUE_VERDICTS)[number];

/**
 * Judges one screw from what its driver streamed. Cross-threading shows as torque that rises long before the head
 * can have come to its seat.
 * @param pitch of the thread, mm; the turns to the seat follow from the length
 * @throws Error when there is no sample
 */
export function judgeTorque(
  f: Pick<Fastener, 'torque' | 'thread' | 'length'>,
  samples: readonly TorqueSample[],
): { verdict: TorqueVerdict; peak: number } {
  if (samples.length === 0) throw new Error('no torque was read');
  const { target, low, high } = torqueTarget(f);
  const peak = Math.max(...samples.map((s) => s.torque));
  const seat = samples.at(-1)!.turns;
  const early = samples.some((s) => s.turns < seat - RUNDOWN.turnsLeft && s.torque > RUNDOWN.share * target);
  // A screw that stops after few turns with a high torque never went in.
  const stuck = seat < 0.6 * (f.length / pitchOf(f.thread)) && peak > RUNDOWN.share * target;
  return { verdict: early || stuck ? 'cross-threaded' : peak > high ? 'over' : peak < low ? 'under' : 'good', peak };
}

/** Coarse pitch of miniature metric threads, mm (ISO 261, from memory). */
const PITCH: readonly [thread: number, pitch: number][] = [
  [1.0, 0.25],
  [1.2, 0.25],
  [1.4, 0.3],
  [1.6, 0.35],
  [1.8, 0.35],
  [2.0, 0.4],
  [2.5, 0.45],
];
export function pitchOf(thread: number): number {
  return [...PITCH].reverse().find(([t]) => t <= thread + 1e-9)?.[1] ?? PITCH[0]![1];
}
