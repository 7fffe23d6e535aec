import { jStat } from 'jstat';
import { Matrix, solve } from 'ml-matrix';
import { describe, expect, it } from 'vitest';
import { seededDraw } from '../../demo/synthetic.ts';
import { leastSquares, studentCdf, studentQuantile } from './index.ts';

const draw = seededDraw(12);
const even = () => (draw(1_000_000) + 0.5) / 1_000_000;
/** Normal noise by Box and Muller. */
const normal = () => Math.sqrt(-2 * Math.log(even())) * Math.cos(2 * Math.PI * even());

describe('least squares', () => {
  it('gives the coefficients of another library (ml-matrix) on random models', () => {
    for (let k = 0; k < 60; k++) {
      const columns = 1 + draw(4);
      const rows = Array.from({ length: columns + 2 + draw(30) }, () =>
        Array.from({ length: columns }, (_, j) => (j === 0 ? 1 : 10 ** (j - 2) * normal())),
      );
      const values = rows.map((r) => r.reduce((s, v, j) => s + v * (j + 1), 0) + 0.1 * normal());
      const other = solve(new Matrix(rows), Matrix.columnVector(values)).to1DArray();
      const { coefficients, residuals, freedom } = leastSquares(rows, values);
      coefficients.forEach((c, j) => expect(Math.abs(c - other[j]!)).toBeLessThan(1e-6 * (1 + Math.abs(other[j]!))));
      expect(freedom).toBe(rows.length - columns);
      // What is left stands at right angles to every column.
      for (let j = 0; j < columns; j++)
        expect(Math.abs(rows.reduce((s, r, i) => s + r[j]! * residuals[i]!, 0))).toBeLessThan(1e-6);
    }
  });
  it('gives the error of a mean as s / √n', () => {
    const values = [4.1, 3.9, 4.3, 4.0, 3.8];
    const { coefficients, errors, half, spread } = leastSquares(
      values.map(() => [1]),
      values,
    );
    const mean = values.reduce((s, v) => s + v, 0) / 5;
    const s = Math.sqrt(values.reduce((t, v) => t + (v - mean) ** 2, 0) / 4);
    expect(coefficients[0]).toBeCloseTo(mean, 12);
    expect(spread).toBeCloseTo(s, 12);
    expect(errors[0]).toBeCloseTo(s / Math.sqrt(5), 12);
    expect(half[0]).toBeCloseTo(jStat.studentt.inv(0.975, 4) * (s / Math.sqrt(5)), 7);
  });
  it('its intervals hold a slope as often as they say', () => {
    let within = 0;
    for (let k = 0; k < 2000; k++) {
      const rows = Array.from({ length: 9 }, (_, i) => [1, i]);
      const { coefficients, half } = leastSquares(
        rows,
        rows.map(([, x]) => 2 - 0.7 * x! + normal()),
      );
      if (Math.abs(coefficients[1]! + 0.7) <= half[1]!) within++;
    }
    expect(within / 2000).toBeGreaterThan(0.935);
    expect(within / 2000).toBeLessThan(0.965);
  });
  it.each([
    ['fewer readings than coefficients', [[1, 2]], [1], /too few/],
    [
      'readings that tell two causes apart by nothing',
      [
        [1, 2],
        [2, 4],
        [3, 6],
        [4, 8],
      ],
      [1, 2, 3, 4],
      /apart/,
    ],
    ['rows and values of other lengths', [[1], [1]], [1], /as many rows/],
  ])('%s are refused', (_, rows, values, words) => {
    expect(() => leastSquares(rows, values)).toThrow(words);
  });
});

describe("Student's distribution (jstat)", () => {
  it.each([1, 2, 5, 30, 400])('with %s degrees of freedom', (freedom) => {
    for (const share of [0.01, 0.2, 0.5, 0.9, 0.975, 0.999]) {
      const t = studentQuantile(share, freedom);
      expect(studentCdf(t, freedom)).toBeCloseTo(share, 9);
      expect(t / (jStat.studentt.inv(share, freedom) || 1)).toBeCloseTo(share === 0.5 ? 0 : 1, 5);
    }
  });
});
