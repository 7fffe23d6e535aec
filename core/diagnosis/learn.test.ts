import { describe, expect, test } from 'vitest';
import { CAUSES, CHANCES } from './chances.ts';
import { learntOf, meanOf, priorOf, ratesOf } from './learn.ts';

describe('a rate learnt from cases', () => {
  test('is the closed form: (a + guilty) / (a + b + handled)', () => {
    expect(learntOf({ a: 2, b: 8 }, { handled: 30, guilty: 5 })).toEqual({ a: 7, b: 33 });
    expect(meanOf({ a: 7, b: 33 })).toBeCloseTo(0.175, 12);
  });

  test('is the same in one piece and case by case', () => {
    let step = priorOf('torn');
    for (let i = 0; i < 40; i++) step = learntOf(step, { handled: 1, guilty: i % 8 === 0 ? 1 : 0 });
    expect(step).toEqual(learntOf(priorOf('torn'), { handled: 40, guilty: 5 }));
  });

  test('begins at the rate of the table and ends at that of the shop', () => {
    for (const kind of CAUSES) expect(meanOf(priorOf(kind))).toBeCloseTo(CHANCES[kind].rate, 12);
    expect(ratesOf({ 'not-seated': { handled: 100_000, guilty: 9000 } })['not-seated']).toBeCloseTo(0.09, 3);
    expect(ratesOf({}).torn).toBeUndefined();
  });

  test('counts that cannot be are refused', () => {
    expect(() => learntOf({ a: 1, b: 1 }, { handled: 2, guilty: 3 })).toThrow('3 guilty of 2 handled');
  });
});
