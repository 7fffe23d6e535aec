import { mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { Halted, Journal, type Procedure } from './journal.ts';

const fileOf = () => join(mkdtempSync(join(tmpdir(), 'nibrel-journal-')), 'journal.sqlite');

/** A procedure whose steps write down that they were done; `fails` says which of them trips, as often as it counts. */
function counting(done: string[], fails: Record<string, number> = {}, rest: Partial<Procedure<string>> = {}) {
  const step = (name: string) => ({
    name,
    run: (what: string) => {
      if ((fails[name] ?? 0) > 0) {
        fails[name]!--;
        throw Object.assign(new Error(`${name} has no room`), { code: 'ENOSPC' });
      }
      done.push(`${name} ${what}`);
    },
  });
  return { kind: 'counting', steps: [step('one'), step('two'), step('three')], left: () => null, ...rest };
}

describe('C a journal of what was begun', () => {
  it('does every step once, in order, and keeps nothing of it when it is done', async () => {
    const path = fileOf();
    const journal = new Journal(path);
    const done: string[] = [];
    journal.add(counting(done));
    await journal.begin('counting', 'a', 'Wendeline Obershagen');
    expect(done).toEqual(['one', 'two', 'three'].map((s) => `${s} Wendeline Obershagen`));
    expect(journal.unfinished()).toEqual([]);
    await journal.close();
    expect(readFileSync(path).includes('Obershagen')).toBe(false);
  });
  it('goes on with the step that failed, after a new start as well, and says why it stopped', async () => {
    const path = fileOf();
    const done: string[] = [];
    const first = new Journal(path);
    first.add(counting(done, { two: 2 }));
    const failed = first.begin('counting', 'a', 'x');
    await expect(failed).rejects.toBeInstanceOf(Halted);
    await expect(failed).rejects.toMatchObject({ code: 'ENOSPC' });
    expect(first.unfinished()).toMatchObject([{ kind: 'counting', step: 'two', error: 'two has no room' }]);
    await first.close();
    const second = new Journal(path);
    second.add(counting(done, { two: 1 }));
    expect(await second.resume()).toHaveLength(1);
    expect(await second.resume()).toEqual([]);
    expect(done).toEqual(['one x', 'two x', 'three x']);
    await second.close();
  });
  it('is not done before somebody has looked, and begins again where something is left', async () => {
    const journal = new Journal(':memory:');
    const done: string[] = [];
    journal.add(counting(done, {}, { left: () => (done.length < 6 ? 'something is left' : null) }));
    await expect(journal.begin('counting', 'a', 'x')).rejects.toThrow('something is left');
    expect(await journal.resume()).toEqual([]);
    expect(done).toHaveLength(6);
    await journal.close();
  });
  it('is begun once under one key, and one after another in a lane; another lane does not wait', async () => {
    const journal = new Journal(':memory:');
    const order: string[] = [];
    const slow = (kind: string, lane: string, ms: number): Procedure<string> => ({
      kind,
      lane,
      steps: [
        {
          name: 'work',
          run: async (what) => {
            order.push(`${what} begins`);
            await new Promise((resolve) => setTimeout(resolve, ms));
            order.push(`${what} ends`);
          },
        },
      ],
      left: () => null,
    });
    journal.add(slow('slow', 'data', 40));
    journal.add(slow('quick', 'other', 1));
    await Promise.all([
      journal.begin('slow', 'a', 'a'),
      journal.begin('slow', 'a', 'again'),
      journal.begin('slow', 'b', 'b'),
      journal.begin('quick', 'c', 'c'),
    ]);
    expect(order.filter((o) => !o.startsWith('c'))).toEqual(['a begins', 'a ends', 'b begins', 'b ends']);
    expect(order.indexOf('c ends')).toBeLessThan(order.indexOf('a ends'));
    await journal.close();
  });
  it('takes back what is not worth going on with, and leaves nothing of it', async () => {
    const journal = new Journal(':memory:');
    const undone: string[] = [];
    journal.add(counting([], { two: 1 }, { undo: (what) => void undone.push(what) }));
    await expect(journal.begin('counting', 'a', 'x')).rejects.toThrow('no room');
    expect([undone, journal.unfinished()]).toEqual([['x'], []]);
    await journal.close();
  });
  it('makes up for what follows from a work, and for nothing where the work failed', async () => {
    const journal = new Journal(':memory:');
    const done: string[] = [];
    journal.add(counting(done));
    expect(await journal.around('counting', 'a', 'x', async () => 7)).toBe(7);
    await expect(
      journal.around('counting', 'b', 'y', async () => {
        throw new Error('not done');
      }),
    ).rejects.toThrow('not done');
    expect(done).toEqual(['one x', 'two x', 'three x']);
    expect(journal.unfinished()).toEqual([]);
    await journal.close();
  });
  it('that is damaged is laid aside, and holds up no start', async () => {
    const path = fileOf();
    writeFileSync(path, 'scrambled '.repeat(2000));
    const journal = new Journal(path);
    expect(journal.unfinished()).toEqual([]);
    await journal.close();
    expect(readdirSync(join(path, '..')).some((name) => name.includes('.damaged-'))).toBe(true);
  });
});
