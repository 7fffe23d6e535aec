import { describe, expect, it } from 'vitest';
import { TRIES, Tries } from './tries.ts';

describe('wrong tries', () => {
  it('are free at first, then each waits twice as long as the one before, up to an hour', () => {
    const tries = new Tries();
    let now = 0;
    for (let i = 0; i < TRIES.free; i++) expect(tries.take('a', now)).toBe(0);
    const waits: number[] = [];
    for (let i = 0; i < 9; i++) {
      const wait = tries.take('a', now);
      waits.push(wait);
      now += wait;
      expect(tries.take('a', now)).toBe(0);
    }
    expect(waits.map((w) => w / 60_000)).toEqual([1, 2, 4, 8, 16, 32, 60, 60, 60]);
    // Another is held up by none of it.
    expect(tries.take('b', now)).toBe(0);
  });
  it('a right one gives back itself and nothing else: guessing beside signing in gains nothing', () => {
    const tries = new Tries();
    let guesses = 0;
    for (let now = 0; now < 52_000; now += 200) {
      if (tries.take('account', now) === 0) guesses++;
      // The guesser's own account, signed in to again and again.
      if (tries.take('own', now) === 0) tries.giveBack('own');
    }
    expect(guesses).toBe(TRIES.free);
  });
  it('are forgotten after a day', () => {
    const tries = new Tries();
    for (let i = 0; i < TRIES.free; i++) tries.take('a', 0);
    expect(tries.take('a', 1000)).toBeGreaterThan(0);
    expect(tries.take('a', 25 * 3600_000)).toBe(0);
  });
});
