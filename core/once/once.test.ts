import { describe, expect, it } from 'vitest';
import { listed, once, onceEach } from './index.ts';

describe('once', () => {
  it('works an answer out the first time only, whatever it is', () => {
    const known = new Map<string, number | undefined>();
    let asked = 0;
    const make = (answer: number | undefined) => () => {
      asked++;
      return answer;
    };
    expect([once(known, 'a', make(0)), once(known, 'a', make(7)), once(known, 'b', make(undefined))]).toEqual([
      0,
      0,
      undefined,
    ]);
    expect(once(known, 'b', make(3))).toBeUndefined();
    expect(asked).toBe(2);
  });

  it('keeps the answers of a function, each by its argument', () => {
    let asked = 0;
    const twice = onceEach((n: number) => {
      asked++;
      return 2 * n;
    });
    expect([twice(2), twice(3), twice(2)]).toEqual([4, 6, 4]);
    expect(asked).toBe(2);
  });

  it('lists what came under each key, in order', () => {
    expect([
      ...listed([
        ['a', 1],
        ['b', 2],
        ['a', 3],
      ] as const),
    ]).toEqual([
      ['a', [1, 3]],
      ['b', [2]],
    ]);
  });
});
