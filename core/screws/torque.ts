import type { Fastener } from '../anatomy/index.ts';

/**
 * Least breaking torque of a screw by nominal thread, N·cm, property class 8.8. Source: ISO 898-7, for M1 to M10 (from
 * memory); M1.8 is not in it and stands between its neighbours by d³ (own estimate). It knows nothing below M1.
 */
export const BREAKING_TORQUE: readonly [thread: number, ncm: number][] = [
  [1.0, 3.3],
  [1.2, 7.5],
  [1.4, 12],
  [1.6, 16],
  [1.8, 22.5],
  [2.0, 37],
  [2.5, 82],
];
/**
 * Default tightening torque by nominal thread, N·cm, for small steel screws into metal. Origin: own table; two thirds of the
 * least breaking torque up to M1.8, so that the tolerance of a driver does not come near it, then what is seen in practice
 * (20 N·cm on case screws of M1.8 and more). An anatomy's own value comes first.
 */
export const DEFAULT_TORQUE: readonly [thread: number, ncm: number][] = [
  [1.0, 2.2],
  [1.2, 5],
  [1.4, 8],
  [1.6, 10.5],
  [1.8, 15],
  [2.0, 20],
  [2.5, 30],
];
/**
 * Below M1 no published minimum is known: the default of M1 scaled by d³, as strength goes with the section times its
 * radius, and by how much that may be wrong as a share of it, down and up. Its lower half is used. Origin: own estimate.
 */
const BELOW_M1 = { doubt: 0.35 } as const;
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
  /** Where the target comes from; an estimate is nobody's limit. */
  from: 'anatomy' | 'default' | 'estimate';
  /** N·cm at which the thread may break at the least; `null` where no standard says it. */
  breaks: number | null;
}

const upTo = (table: readonly (readonly [thread: number, value: number])[], thread: number): number | null =>
  table.findLast(([t]) => t <= thread + 1e-9)?.[1] ?? null;

/**
 * Target and limits in N·cm. A default goes by the next smaller thread of the table; below M1 it is an estimate, whose limits
 * are its own doubt downwards and the estimate itself upwards.
 */
export function torqueTarget(f: Pick<Fastener, 'torque' | 'thread'>): TorqueTarget {
  const breaks = upTo(BREAKING_TORQUE, f.thread);
  const usual = upTo(DEFAULT_TORQUE, f.thread);
  if (f.torque === null && usual === null) {
    const middle = DEFAULT_TORQUE[0]![1] * f.thread ** 3;
    const low = middle * (1 - BELOW_M1.doubt);
    const rounded = (v: number) => Math.round(v * 100) / 100;
    return { target: rounded((low + middle) / 2), low: rounded(low), high: rounded(middle), from: 'estimate', breaks };
  }
  const target = f.torque ?? usual!;
  return {
    target,
    low: target * (1 - TORQUE_TOLERANCE),
    high: target * (1 + TORQUE_TOLERANCE),
    from: f.torque === null ? 'default' : 'anatomy',
    breaks,
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
  const stuck = f.length !== null && seat < 0.6 * (f.length / pitchOf(f.thread)) && peak > RUNDOWN.share * target;
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
