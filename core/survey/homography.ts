import type { Point } from '../anatomy/index.ts';

/** A plane-to-plane map, 3 × 3 row by row, scaled so that its last entry is 1. */
export type Homography = readonly [number, number, number, number, number, number, number, number, number];

/** Why points or lines give no map, in a sentence that says what to do. */
export class NoSurvey extends Error {}

/** Where a point goes. */
export function mapped(h: Homography, [x, y]: Point): Point {
  const w = h[6] * x + h[7] * y + h[8];
  return [(h[0] * x + h[1] * y + h[2]) / w, (h[3] * x + h[4] * y + h[5]) / w];
}

type Nine = [number, number, number, number, number, number, number, number, number];

const scaled = (h: readonly number[]): Homography => h.map((v) => v / h[8]!) as Nine;

export function product(a: readonly number[], b: readonly number[]): Homography {
  const out: number[] = [];
  for (let i = 0; i < 3; i++)
    for (let j = 0; j < 3; j++) out.push(a[i * 3]! * b[j]! + a[i * 3 + 1]! * b[3 + j]! + a[i * 3 + 2]! * b[6 + j]!);
  return scaled(out);
}

/** @throws NoSurvey when the map sends everything onto a line */
export function inverse(h: readonly number[]): Homography {
  const [a, b, c, d, e, f, g, i, k] = h as Nine;
  const minors = [
    e * k - f * i,
    c * i - b * k,
    b * f - c * e,
    f * g - d * k,
    a * k - c * g,
    c * d - a * f,
    d * i - e * g,
    b * g - a * i,
    a * e - b * d,
  ];
  const determinant = a * minors[0]! + b * minors[3]! + c * minors[6]!;
  if (!(Math.abs(determinant) > 1e-14))
    throw new NoSurvey('three of the points lie on one line; lay them further apart');
  return scaled(minors);
}

/** Moves the centre of the points to the origin and their mean distance to √2. */
function normalising(points: readonly Point[]): Nine {
  const n = points.length;
  const cx = points.reduce((s, p) => s + p[0], 0) / n;
  const cy = points.reduce((s, p) => s + p[1], 0) / n;
  const spread = points.reduce((s, p) => s + Math.hypot(p[0] - cx, p[1] - cy), 0) / n;
  if (!(spread > 0)) throw new NoSurvey('all points lie on one spot; lay them further apart');
  const k = Math.SQRT2 / spread;
  return [k, 0, -k * cx, 0, k, -k * cy, 0, 0, 1];
}

/** Sweeps after which the columns are orthogonal to the last bit. Origin: own measurement; six are enough for 9 columns. */
const SWEEPS = 30;

/**
 * The unit vector that a matrix shrinks most, by one-sided Jacobi rotations of its columns (Hestenes 1958, from memory):
 * the singular vectors without squaring the matrix.
 * @param rows of equal length
 */
function leastVector(rows: number[][]): number[] {
  const n = rows[0]!.length;
  const columns = Array.from({ length: n }, (_, j) => rows.map((row) => row[j]!));
  const v = Array.from({ length: n }, (_, j) => Array.from({ length: n }, (_, i) => (i === j ? 1 : 0)));
  const dot = (a: number[], b: number[]) => a.reduce((s, x, i) => s + x * b[i]!, 0);
  const turn = (a: number[], b: number[], c: number, s: number) => {
    for (let i = 0; i < a.length; i++) {
      const [x, y] = [a[i]!, b[i]!];
      a[i] = c * x - s * y;
      b[i] = s * x + c * y;
    }
  };
  for (let sweep = 0; sweep < SWEEPS; sweep++) {
    let off = 0;
    for (let p = 0; p < n; p++)
      for (let q = p + 1; q < n; q++) {
        const [alpha, beta, gamma] = [
          dot(columns[p]!, columns[p]!),
          dot(columns[q]!, columns[q]!),
          dot(columns[p]!, columns[q]!),
        ];
        if (Math.abs(gamma) <= 1e-16 * Math.sqrt(alpha * beta) || gamma === 0) continue;
        off = Math.max(off, Math.abs(gamma) / Math.sqrt(alpha * beta));
        const zeta = (beta - alpha) / (2 * gamma);
        const t = Math.sign(zeta || 1) / (Math.abs(zeta) + Math.sqrt(1 + zeta * zeta));
        const c = 1 / Math.sqrt(1 + t * t);
        turn(columns[p]!, columns[q]!, c, c * t);
        turn(v[p]!, v[q]!, c, c * t);
      }
    if (off < 1e-15) break;
  }
  const sizes = columns.map((column) => dot(column, column));
  const least = sizes.indexOf(Math.min(...sizes));
  const sorted = [...sizes].sort((a, b) => a - b);
  // Two directions that are shrunk alike: the points do not say which map it is.
  if (!(sorted[1]! > 1e-18 * sorted.at(-1)!)) {
    throw new NoSurvey('the points do not say how the picture lies; no three of them may lie on one line');
  }
  return v[least]!;
}

const finite = (points: readonly Point[]): boolean =>
  points.every(([x, y]) => Number.isFinite(x) && Number.isFinite(y));

/**
 * The map that takes each point of `from` to its partner: normalised direct linear transformation (Hartley & Zisserman,
 * algorithm 4.2, from memory), and over more than four pairs then least squares of the distances in the plane of `to`.
 * @throws NoSurvey with fewer than four pairs, or when they do not fix the map
 */
export function homographyOf(from: readonly Point[], to: readonly Point[]): Homography {
  if (from.length !== to.length || from.length < 4)
    throw new NoSurvey('at least four points are needed, each with its place');
  if (!finite(from) || !finite(to)) throw new NoSurvey('a point has no number; set all of them');
  const [s, t] = [normalising(from), normalising(to)];
  const [a, b] = [from.map((p) => mapped(s, p)), to.map((p) => mapped(t, p))];
  const rows = a.flatMap(([x, y], i) => {
    const [u, v] = b[i]!;
    return [
      [-x, -y, -1, 0, 0, 0, u * x, u * y, u],
      [0, 0, 0, -x, -y, -1, v * x, v * y, v],
    ];
  });
  // Four pairs fix it exactly; the middle of the points never goes to infinity, so that its last entry may be 1.
  const h =
    from.length === 4
      ? [
          ...solved(
            rows.map((row) => row.slice(0, 8)),
            rows.map((row) => -row[8]!),
            1e-9,
          ),
          1,
        ]
      : refined(leastVector(rows), a, b);
  return product(product(inverse(t), h), s);
}

/** Steps of Gauss and Newton; from the linear solution two or three are enough. Origin: own choice. */
const STEPS = 12;

/** Least squares of the distances, from a first map. */
function refined(first: readonly number[], from: readonly Point[], to: readonly Point[]): number[] {
  let h = first.map((v) => v / first[8]!);
  for (let step = 0; step < STEPS; step++) {
    const normal = Array.from({ length: 8 }, () => new Array<number>(8).fill(0));
    const right = new Array<number>(8).fill(0);
    from.forEach(([x, y], i) => {
      const w = h[6]! * x + h[7]! * y + 1;
      const [u, v] = [(h[0]! * x + h[1]! * y + h[2]!) / w, (h[3]! * x + h[4]! * y + h[5]!) / w];
      const rows = [
        [x / w, y / w, 1 / w, 0, 0, 0, (-u * x) / w, (-u * y) / w],
        [0, 0, 0, x / w, y / w, 1 / w, (-v * x) / w, (-v * y) / w],
      ];
      const miss = [to[i]![0] - u, to[i]![1] - v];
      rows.forEach((row, r) => {
        for (let p = 0; p < 8; p++) {
          right[p]! += row[p]! * miss[r]!;
          for (let q = 0; q < 8; q++) normal[p]![q]! += row[p]! * row[q]!;
        }
      });
    });
    const change = solved(normal, right);
    h = h.map((v, i) => v + (change[i] ?? 0));
    if (Math.hypot(...change) < 1e-13) break;
  }
  return h;
}

/**
 * Solves a small linear system by elimination with pivots.
 * @param least a pivot that is smaller is none
 * @throws NoSurvey when it is singular
 */
export function solved(matrix: number[][], right: number[], least = 1e-18): number[] {
  const n = right.length;
  const m = matrix.map((row, i) => [...row, right[i]!]);
  for (let k = 0; k < n; k++) {
    let pivot = k;
    for (let i = k + 1; i < n; i++) if (Math.abs(m[i]![k]!) > Math.abs(m[pivot]![k]!)) pivot = i;
    if (!(Math.abs(m[pivot]![k]!) > least)) throw new NoSurvey('the points do not fix the map; lay them further apart');
    [m[k], m[pivot]] = [m[pivot]!, m[k]!];
    for (let i = k + 1; i < n; i++) {
      const f = m[i]![k]! / m[k]![k]!;
      for (let j = k; j <= n; j++) m[i]![j]! -= f * m[k]![j]!;
    }
  }
  const out = new Array<number>(n).fill(0);
  for (let k = n - 1; k >= 0; k--) {
    let sum = m[k]![n]!;
    for (let j = k + 1; j < n; j++) sum -= m[k]![j]! * out[j]!;
    out[k] = sum / m[k]![k]!;
  }
  return out;
}

/** Distances that are left in the plane of `to`. */
export function residuals(h: Homography, from: readonly Point[], to: readonly Point[]): number[] {
  return from.map((p, i) => {
    const [x, y] = mapped(h, p);
    return Math.hypot(x - to[i]![0], y - to[i]![1]);
  });
}
