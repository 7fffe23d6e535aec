import { describe, expect, it } from 'vitest';
import { seededDraw } from '../../../demo/synthetic.ts';
import { tinyScrew } from '../../../demo/tiny.ts';
import type { Point } from '../../anatomy/index.ts';
import { shortestPath, tighteningOrder } from './driving.ts';

const length = (points: readonly Point[], order: readonly number[]) =>
  order
    .slice(1)
    .reduce(
      (sum, i, k) => sum + Math.hypot(points[i]![0] - points[order[k]!]![0], points[i]![1] - points[order[k]!]![1]),
      0,
    );
function* permutations(left: number[], done: number[] = []): Generator<number[]> {
  if (left.length === 0) yield done;
  for (const [k, i] of left.entries()) yield* permutations(left.toSpliced(k, 1), [...done, i]);
}
const draw = seededDraw(3);
const points = (n: number) => Array.from({ length: n }, (): Point => [draw(700) / 10, draw(1400) / 10]);

describe('the way of the hand', () => {
  it('is the shortest of all orders, for up to 7 screws', () => {
    for (let k = 0; k < 40; k++) {
      const p = points(1 + draw(7));
      const order = shortestPath(p);
      expect([...order].sort((a, b) => a - b)).toEqual(p.map((_, i) => i));
      const best = Math.min(...[...permutations(p.map((_, i) => i))].map((o) => length(p, o)));
      expect(length(p, order)).toBeCloseTo(best, 6);
    }
  });
  it('visits every one of many, and crosses itself nowhere that 2-opt could mend', () => {
    const p = points(40);
    const order = shortestPath(p);
    expect(new Set(order).size).toBe(40);
    for (let i = 0; i < 38; i++)
      for (let j = i + 1; j < 39; j++) {
        const turned = [...order.slice(0, i + 1), ...order.slice(i + 1, j + 1).reverse(), ...order.slice(j + 1)];
        expect(length(p, turned)).toBeGreaterThanOrEqual(length(p, order) - 1e-6);
      }
  });
});

describe('tightening', () => {
  it('goes crosswise over a cover of four', () => {
    const four = [
      tinyScrew('a', 'cover', [0, 0]),
      tinyScrew('b', 'cover', [30, 0]),
      tinyScrew('c', 'cover', [30, 60]),
      tinyScrew('d', 'cover', [0, 60]),
    ];
    expect(tighteningOrder(four)).toEqual(['a', 'c', 'b', 'd']);
  });
  it('follows the numbers of the maker where there are any', () => {
    const numbered = [
      tinyScrew('a', 'cover', [0, 0], { order: 2 }),
      tinyScrew('b', 'cover', [30, 0], { order: 3 }),
      tinyScrew('c', 'cover', [30, 60], { order: 1 }),
    ];
    expect(tighteningOrder(numbered)).toEqual(['c', 'a', 'b']);
  });
});
