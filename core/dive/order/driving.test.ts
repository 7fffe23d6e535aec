import { describe, expect, it } from 'vitest';
import { tinyScrew } from '../../../demo/tiny.ts';
import { handsAmiss } from '../../../scripts/mutations/hands.ts';
import { tighteningOrder } from './driving.ts';

describe('the way of the hand', () => {
  it('is the shortest of all orders of few screws, and of many one that no two turned round could mend', () => {
    expect(handsAmiss()).toBeNull();
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
