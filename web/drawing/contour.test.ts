import { expect, it } from 'vitest';
import { contour } from './contour.ts';

it('an isotherm of a slope is a straight line across', () => {
  const nx = 5;
  const ny = 4;
  const field = Array.from({ length: nx * ny }, (_, i) => 10 * (i % nx));
  const strokes = contour(field, nx, ny, 25);
  expect(strokes).toHaveLength(ny - 1);
  for (const [x1, , x2] of strokes) expect([x1, x2]).toEqual([2.5, 2.5]);
});

it('round a hot spot it closes; above the hottest there is none', () => {
  const n = 21;
  const field = Array.from({ length: n * n }, (_, i) => 100 - Math.hypot((i % n) - 10, Math.floor(i / n) - 10));
  const strokes = contour(field, n, n, 95.3);
  const ends = strokes.flatMap(([x1, y1, x2, y2]) => [
    `${x1.toFixed(3)},${y1.toFixed(3)}`,
    `${x2.toFixed(3)},${y2.toFixed(3)}`,
  ]);
  for (const end of new Set(ends)) expect(ends.filter((e) => e === end)).toHaveLength(2);
  const length = strokes.reduce((sum, [x1, y1, x2, y2]) => sum + Math.hypot(x2 - x1, y2 - y1), 0);
  expect(length).toBeCloseTo(2 * Math.PI * 4.7, 0);
  expect(contour(field, n, n, 101)).toEqual([]);
});
