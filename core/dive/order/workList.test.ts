import { describe, expect, it } from 'vitest';
import { DEFAULT_RULES } from '../house/rules.ts';
import { WorkList } from './workList.ts';

/** A list of works without steps, each waiting for those given. */
function listOf(...before: number[][]): WorkList {
  const list = new WorkList(DEFAULT_RULES);
  for (const sooner of before) list.add([], { before: sooner });
  return list;
}

describe('works that follow one another at once', () => {
  it('the second is next, and what it waits for beside the first comes before both', () => {
    const list = listOf([], [], [0, 1]);
    expect(list.follow(0, 2)).toBe(true);
    expect(list.works[0]!.then).toBe(2);
    expect(list.precedes(1, 0)).toBe(true);
  });
  it('nothing comes between the works of a chain: what its last waits for comes before its first', () => {
    const list = listOf([], [0], [0, 3], []);
    expect([list.follow(0, 1), list.follow(1, 2)]).toEqual([true, true]);
    expect(list.leadsTo(2)).toBe(0);
    expect(list.precedes(3, 0)).toBe(true);
    expect(list.precedes(0, 3)).toBe(false);
  });
  it('is refused where the second waits for something that waits for the first of the chain', () => {
    // 3 waits for 0, and 2 for 3: it would have to come between 0 and 1.
    const list = listOf([], [0], [1, 3], [0]);
    expect([list.follow(0, 1), list.follow(1, 2)]).toEqual([true, false]);
    expect(list.works.map((w) => w.then)).toEqual([1, null, null, null]);
  });
  it('one work is next to one other only, and never to what comes before it', () => {
    const list = listOf([], [0], [0], [2]);
    expect(list.follow(0, 1)).toBe(true);
    expect([list.follow(0, 2), list.follow(3, 1), list.follow(3, 2), list.follow(2, 2)]).toEqual([
      false,
      false,
      false,
      false,
    ]);
  });
  it('a wish that would lead round in a circle is refused, and says so', () => {
    const list = listOf([], [0], [1]);
    expect([list.prefer(2, 0), list.prefer(0, 2), list.prefer(1, 1)]).toEqual([false, true, false]);
  });
});
