import type { Point } from '../anatomy/index.ts';

/** The direction from one point to another, of length 1. */
export function direction(from: Point, to: Point): Point {
  const l = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
  return [(to[0] - from[0]) / l, (to[1] - from[1]) / l];
}

/** A corner is drawn out no further than this times its offset. Own choice; sharper turns than 140° are none of a bond's. */
const LONGEST_MITRE = 3;

/**
 * For each point of a line the way by which it moves when the line is offset by 1 mm to its right as it runs: corners are
 * mitred.
 */
export function offsets(points: readonly Point[], closed: boolean): Point[] {
  const n = points.length;
  return points.map((p, i): Point => {
    const before = closed || i > 0 ? points[(i + n - 1) % n]! : null;
    const after = closed || i < n - 1 ? points[(i + 1) % n]! : null;
    const d1 = before ? direction(before, p) : direction(p, after ?? p);
    const d2 = after ? direction(p, after) : d1;
    const normal: Point = [-(d1[1] + d2[1]) / 2, (d1[0] + d2[0]) / 2];
    const l2 = Math.max(1 / LONGEST_MITRE ** 2, normal[0] ** 2 + normal[1] ** 2);
    return [normal[0] / l2, normal[1] / l2];
  });
}

/** A line moved so many mm to its right. */
export function offsetLine(points: readonly Point[], closed: boolean, by: number): Point[] {
  const ways = offsets(points, closed);
  return points.map(([x, y], i): Point => [x + ways[i]![0] * by, y + ways[i]![1] * by]);
}

/** mm along a line. */
export const lineLength = (points: readonly Point[]): number =>
  points.slice(1).reduce((s, [x, y], i) => s + Math.hypot(x - points[i]![0], y - points[i]![1]), 0);
