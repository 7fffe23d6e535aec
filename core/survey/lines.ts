import type { Point } from '../anatomy/index.ts';
import { NoSurvey } from './homography.ts';

/**
 * A straight edge in a picture, px: two points on it, and how well each is known across it.
 * `covariance`: variance at `a`, covariance of both, variance at `b`, px².
 */
export interface EdgeLine {
  a: Point;
  b: Point;
  covariance: readonly [aa: number, ab: number, bb: number];
}

/** A line as a hand lays it: each end off by `sigma` px, apart from the other. */
export function laidLine(a: Point, b: Point, sigma: number): EdgeLine {
  if (!(Math.hypot(b[0] - a[0], b[1] - a[1]) > 1)) throw new NoSurvey('a line has no length; lay its ends apart');
  return { a, b, covariance: [sigma * sigma, 0, sigma * sigma] };
}

/** The unit vector across a line, to the left of its way from `a` to `b` as the picture is seen. */
export function normalOf({ a, b }: Pick<EdgeLine, 'a' | 'b'>): Point {
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
  return [(b[1] - a[1]) / length, -(b[0] - a[0]) / length];
}

/** A line with its ends moved across by so many px. */
export function shifted(line: Pick<EdgeLine, 'a' | 'b'>, atA: number, atB: number): { a: Point; b: Point } {
  const [nx, ny] = normalOf(line);
  const { a, b } = line;
  return { a: [a[0] + nx * atA, a[1] + ny * atA], b: [b[0] + nx * atB, b[1] + ny * atB] };
}

/** Where two lines cross. @throws NoSurvey when they run side by side */
export function crossing(p: Pick<EdgeLine, 'a' | 'b'>, q: Pick<EdgeLine, 'a' | 'b'>): Point {
  const [dx, dy] = [p.b[0] - p.a[0], p.b[1] - p.a[1]];
  const [ex, ey] = [q.b[0] - q.a[0], q.b[1] - q.a[1]];
  const turn = dx * ey - dy * ex;
  if (!(Math.abs(turn) > 1e-6 * Math.hypot(dx, dy) * Math.hypot(ex, ey))) {
    throw new NoSurvey('two neighbouring edges run side by side; lay each along its own side of the body');
  }
  const t = ((q.a[0] - p.a[0]) * ey - (q.a[1] - p.a[1]) * ex) / turn;
  return [p.a[0] + t * dx, p.a[1] + t * dy];
}

/** Points on an edge, each by its place along a line and its distance across it, px, with a weight. */
export interface Offset {
  along: number;
  across: number;
  weight: number;
}

/** Residuals beyond so many robust deviations count for nothing (Tukey's biweight, 4.685 for 95 % efficiency; from memory). */
const TUKEY = 4.685;
const ROUNDS = 12;

/**
 * A straight line through offsets from `line`, robust against those that lie on something else.
 * @param floor what no fit is better than at an end, px
 * @returns the line, its ends where those of `line` were, and the share of the weight that supports it; `null` when
 *   fewer than five offsets agree
 */
export function fittedLine(
  line: Pick<EdgeLine, 'a' | 'b'>,
  offsets: readonly Offset[],
  floor: number,
): { line: EdgeLine; spread: number; support: number } | null {
  const length = Math.hypot(line.b[0] - line.a[0], line.b[1] - line.a[1]);
  if (offsets.length < 5) return null;
  let weights = offsets.map((o) => o.weight);
  let [atA, atB] = [0, 0];
  let spread = 0;
  let inverse: [number, number, number] = [0, 0, 0];
  for (let round = 0; round < ROUNDS; round++) {
    let [aa, ab, bb, ra, rb] = [0, 0, 0, 0, 0];
    offsets.forEach(({ along, across }, i) => {
      const [u, w] = [along / length, weights[i]!];
      aa += w * (1 - u) * (1 - u);
      ab += w * (1 - u) * u;
      bb += w * u * u;
      ra += w * (1 - u) * across;
      rb += w * u * across;
    });
    const det = aa * bb - ab * ab;
    if (!(det > 1e-12)) return null;
    atA = (bb * ra - ab * rb) / det;
    atB = (aa * rb - ab * ra) / det;
    inverse = [bb / det, -ab / det, aa / det];
    const misses = offsets.map(({ along, across }) => across - (atA * (1 - along / length) + (atB * along) / length));
    // The median of what is left, as a standard deviation, over what still counts.
    const sizes = misses.filter((_, i) => weights[i]! > 0).map(Math.abs);
    if (sizes.length < 5) return null;
    sizes.sort((x, y) => x - y);
    spread = Math.max(1.4826 * sizes[sizes.length >> 1]!, 0.05);
    weights = offsets.map(({ weight }, i) => {
      const z = misses[i]! / (TUKEY * spread);
      return Math.abs(z) >= 1 ? 0 : weight * (1 - z * z) ** 2;
    });
  }
  const counted = weights.filter((w) => w > 0).length;
  const total = offsets.reduce((s, o) => s + o.weight, 0);
  const mean = weights.reduce((s, w) => s + w, 0) / Math.max(1, counted);
  const variance = spread * spread * mean;
  const fitted = shifted(line, atA, atB);
  const [iaa, iab, ibb] = inverse;
  return {
    line: {
      ...fitted,
      covariance: [
        iaa * variance + floor * floor,
        iab * variance + 0.5 * floor * floor,
        ibb * variance + floor * floor,
      ],
    },
    spread,
    support: weights.reduce((s, w) => s + w, 0) / Math.max(1e-9, total),
  };
}
