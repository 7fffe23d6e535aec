import { studentQuantile } from './student.ts';

/** What ordinary least squares says of a linear model. */
export interface Fitted {
  coefficients: number[];
  /** Standard error of each coefficient. */
  errors: number[];
  /** Half the width of each coefficient's 95 % interval, by Student's distribution. */
  half: number[];
  /** What is left of each observation. */
  residuals: number[];
  /** Standard deviation of what is left; degrees of freedom. */
  spread: number;
  freedom: number;
}

/**
 * Ordinary least squares by the normal equations, each column scaled to its own size first; the interval of a coefficient
 * is t · s · √((XᵀX)⁻¹)ᵢᵢ (Draper & Smith, Applied Regression Analysis, ch. 1, from memory).
 * @param rows one row of regressors an observation
 * @param values the observations
 * @throws RangeError when there are fewer observations than coefficients and one more, or when regressors say the same
 */
export function leastSquares(rows: readonly (readonly number[])[], values: readonly number[]): Fitted {
  const n = rows.length;
  const k = rows[0]?.length ?? 0;
  if (k === 0 || n !== values.length) throw new RangeError('as many rows of regressors as values are asked for');
  if (n <= k) throw new RangeError(`${n} readings are too few for ${k} coefficients; at least ${k + 1} are needed`);
  const scale = Array.from({ length: k }, (_, j) => Math.sqrt(rows.reduce((s, r) => s + r[j]! ** 2, 0)) || 1);
  const scaled = rows.map((r) => r.map((v, j) => v / scale[j]!));
  const normal = Array.from({ length: k }, (_, i) =>
    Array.from({ length: k }, (_, j) => scaled.reduce((s, r) => s + r[i]! * r[j]!, 0)),
  );
  const right = Array.from({ length: k }, (_, i) => scaled.reduce((s, r, m) => s + r[i]! * values[m]!, 0));
  const inverse = inverted(normal);
  const unscaled = inverse.map((row) => row.reduce((s, v, j) => s + v * right[j]!, 0));
  const residuals = scaled.map((r, m) => values[m]! - r.reduce((s, v, j) => s + v * unscaled[j]!, 0));
  const freedom = n - k;
  const spread = Math.sqrt(residuals.reduce((s, v) => s + v * v, 0) / freedom);
  const errors = inverse.map((row, i) => (spread * Math.sqrt(Math.max(0, row[i]!))) / scale[i]!);
  const t = studentQuantile(0.975, freedom);
  return {
    coefficients: unscaled.map((v, i) => v / scale[i]!),
    errors,
    half: errors.map((e) => t * e),
    residuals,
    spread,
    freedom,
  };
}

/** A pivot below this share of the largest says that two columns are one. Own choice, well above rounding. */
const SINGULAR = 1e-12;

/** Gauss and Jordan with pivots. @throws RangeError when the matrix is singular */
function inverted(matrix: readonly (readonly number[])[]): number[][] {
  const k = matrix.length;
  const a = matrix.map((row, i) => [...row, ...Array.from({ length: k }, (_, j) => (i === j ? 1 : 0))]);
  for (let c = 0; c < k; c++) {
    let best = c;
    for (let r = c + 1; r < k; r++) if (Math.abs(a[r]![c]!) > Math.abs(a[best]![c]!)) best = r;
    if (Math.abs(a[best]![c]!) < SINGULAR)
      throw new RangeError('the readings do not tell their causes apart; vary what is set between them');
    [a[c], a[best]] = [a[best]!, a[c]!];
    const pivot = a[c]![c]!;
    a[c] = a[c]!.map((v) => v / pivot);
    for (let r = 0; r < k; r++) {
      if (r === c) continue;
      const by = a[r]![c]!;
      a[r] = a[r]!.map((v, j) => v - by * a[c]![j]!);
    }
  }
  return a.map((row) => row.slice(k));
}
