import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { expectedSeconds, searchOrder, type Candidate } from './search.ts';

const PRICES: Record<string, number> = { 'lift:a': 60, 'lift:b': 20, 'lift:c': 200, 'lift:d': 5 };
const price = (key: string) => PRICES[key]!;

/** Every order of the candidates: the full expansion of what could be looked at next, and next, and next. */
function quickestOfAll(candidates: readonly Candidate[]): number {
  let best = Number.POSITIVE_INFINITY;
  const tryAll = (done: Candidate[], left: readonly Candidate[]): void => {
    if (left.length === 0) best = Math.min(best, expectedSeconds(done, price));
    left.forEach((c, i) => tryAll([...done, c], [...left.slice(0, i), ...left.slice(i + 1)]));
  };
  tryAll([], candidates);
  return best;
}

const candidate = (needs: fc.Arbitrary<string[]>) =>
  fc.record({
    odds: fc.double({ min: 0.01, max: 0.9, noNaN: true }),
    seconds: fc.integer({ min: 5, max: 120 }),
    needs: needs.map((keys) => new Set(keys)),
  });
const named = (list: Omit<Candidate, 'item'>[]): Candidate[] => list.map((c, i) => ({ ...c, item: `i${i}` }));

describe('the order to look in, against every order there is', () => {
  test('where nothing has to be opened it is the best: most odds for its seconds first (Smith 1956, from memory)', () => {
    fc.assert(
      fc.property(fc.array(candidate(fc.constant([])), { minLength: 1, maxLength: 6 }), (list) => {
        const all = named(list);
        expect(expectedSeconds(searchOrder(all, price), price)).toBeCloseTo(quickestOfAll(all), 6);
      }),
      { numRuns: 60, seed: 3 },
    );
  });

  test('where one thing lies under another it is the best, or within a hundredth', () => {
    const chain = ['lift:a', 'lift:b', 'lift:c'];
    const nested = fc.integer({ min: 0, max: 3 }).map((depth) => chain.slice(0, depth));
    fc.assert(
      fc.property(fc.array(candidate(nested), { minLength: 2, maxLength: 6 }), (list) => {
        const all = named(list);
        const best = quickestOfAll(all);
        expect(expectedSeconds(searchOrder(all, price), price)).toBeLessThanOrEqual(best * 1.01 + 1e-9);
      }),
      { numRuns: 60, seed: 5 },
    );
  });

  test('where ways cross it is at most a tenth worse', () => {
    const any = fc.subarray(Object.keys(PRICES));
    fc.assert(
      fc.property(fc.array(candidate(any), { minLength: 2, maxLength: 6 }), (list) => {
        const all = named(list);
        expect(expectedSeconds(searchOrder(all, price), price)).toBeLessThanOrEqual(quickestOfAll(all) * 1.1 + 1e-9);
      }),
      { numRuns: 80, seed: 8 },
    );
  });
});

test('what is laid bare on the way is looked at before more is opened', () => {
  const all: Candidate[] = [
    { item: 'deep', odds: 0.5, seconds: 20, needs: new Set(['lift:b', 'lift:c']) },
    { item: 'on the way', odds: 0.3, seconds: 20, needs: new Set(['lift:b']) },
    { item: 'far', odds: 0.05, seconds: 20, needs: new Set(['lift:a']) },
  ];
  expect(searchOrder(all, price).map((c) => c.item)).toEqual(['on the way', 'deep', 'far']);
});
