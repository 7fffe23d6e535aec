import type { Point } from '../anatomy/index.ts';
import type { ClosingBench } from './bench.ts';
import { direction, offsets } from './offset.ts';

/** One piece of tape. */
export interface Strip {
  n: number;
  /** mm */
  width: number;
  /** Along its middle line, mm. */
  length: number;
  line: Point[];
  /** Degrees by which each end is cut off square: 0 is a butt, half the turn of a corner a mitre. */
  angles: [number, number];
  /** V-notches on the inside of a turn, so that the tape lies flat: mm from its begin, and degrees of each. */
  notches: { at: number; degrees: number }[];
  /** What it is cut from: a roll of that width, or a sheet. */
  from: { roll: number } | { sheet: [number, number] };
  /** The tape is wider than the strip, and is cut along. */
  slit: boolean;
  /** Several strips lie side by side where the bond is wider than any tape. */
  lane: number;
}

/**
 * Own choices, mm: a joint keeps off corners and ends by so much, a strip longer than that is hard to lay straight, and one
 * shorter than that hard to hold. Several strips side by side keep apart by `apart`;
 * what is left of a lane of tape is kept from `kept` on.
 */
export const STRIP_LIMITS = { joint: 5, longest: 160, shortest: 4, apart: 0.3, kept: 30 } as const;

/** Why a bond is not laid with strips. */
export class NoStrips extends Error {}

/** Strips that lie side by side: how wide each is, and how far its middle lies from the bond's, mm. */
export interface Lane {
  width: number;
  offset: number;
}
export interface TapeChoice {
  lanes: Lane[];
  from: Strip['from'];
  slit: boolean;
}

/**
 * The tape for a bond of such a width: as many rolls side by side as fill most of it, where one alone fills less; from a
 * sheet, or along a wider roll, where no roll is narrow enough.
 * @throws NoStrips when the shop has no tape
 */
export function tapeFor(
  width: number,
  { rolls, sheets }: Pick<ClosingBench, 'rolls' | 'sheets'>,
  most = 3,
): TapeChoice {
  const fitting = rolls.filter((r) => r <= width + 1e-9).toSorted((a, b) => b - a);
  if (fitting.length === 0) {
    const [sheet] = sheets;
    const roll = rolls.toSorted((a, b) => a - b)[0];
    const one = [{ width, offset: 0 }];
    if (sheet) return { lanes: one, from: { sheet }, slit: false };
    if (roll !== undefined) return { lanes: one, from: { roll }, slit: true };
    throw new NoStrips('the shop has no tape; put its rolls and sheets into the house rules');
  }
  const widest = fitting[0]!;
  let best = [widest];
  const filled = (set: readonly number[]) => set.reduce((s, w) => s + w, 0) - STRIP_LIMITS.apart * (set.length - 1);
  const wide = (set: readonly number[]) => set.reduce((s, w) => s + w, 0) + STRIP_LIMITS.apart * (set.length - 1);
  const grow = (set: number[]) => {
    if (wide(set) > width + 1e-9) return;
    if (filled(set) > filled(best) + 1e-9) best = set;
    if (set.length < most) for (const r of fitting) if (r <= set.at(-1)!) grow([...set, r]);
  };
  for (const r of fitting) grow([r]);
  let at = -wide(best) / 2;
  const lanes = best.map((w) => {
    const lane = { width: w, offset: at + w / 2 };
    at += w + STRIP_LIMITS.apart;
    return lane;
  });
  return { lanes, from: { roll: widest }, slit: false };
}

/** The lines of an area, side by side: as many of the widest tape as fit, evenly spread. */
export function areaLanes(breadth: number, rolls: readonly number[], count: number | null, middle: boolean): Lane[] {
  const fitting = rolls.filter((r) => r <= breadth).toSorted((a, b) => b - a);
  const width = fitting[0] ?? breadth;
  const most = Math.max(1, Math.floor((breadth + STRIP_LIMITS.apart) / (width + STRIP_LIMITS.apart)));
  const wanted = Math.min(most, count ?? most);
  // Of a round or odd shape one strip lies along its middle.
  const n = middle && wanted % 2 === 0 ? wanted - 1 : wanted;
  const pitch = breadth / n;
  return Array.from({ length: n }, (_, i) => ({ width, offset: -breadth / 2 + pitch * (i + 0.5) }));
}

/** The rim of a strip: its line moved half its width to either side, with its ends as they are cut. */
export function rimOf({ line, width, angles }: Strip): Point[] {
  const ways = offsets(line, false);
  const last = line.length - 1;
  const side = (half: number): Point[] =>
    line.map(([x, y], i): Point => {
      // A mitre makes one side of an end longer than the other.
      const cut = i === 0 ? -angles[0] : i === last ? angles[1] : 0;
      const [tx, ty] = i === 0 ? direction(line[0]!, line[1]!) : direction(line[i - 1]!, line[i]!);
      const along = half * Math.tan((cut * Math.PI) / 180);
      return [x + half * ways[i]![0] + along * tx, y + half * ways[i]![1] + along * ty];
    });
  return [...side(width / 2), ...side(-width / 2).reverse()];
}
