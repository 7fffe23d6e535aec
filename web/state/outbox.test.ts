import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { RunEvent } from '../../core/run/index.ts';
import { keep, kept, RETRY_MS, send, sendKept } from './outbox.ts';

const note = (id: string, job: string): RunEvent => ({
  id,
  job,
  seq: 1,
  at: '2026-01-01T00:00:00Z',
  by: 'Ysolde',
  type: 'note',
  step: null,
  text: id,
});

/** A server that stores, refuses or cannot be reached, job by job. */
let answers: Map<string, 'stores' | 'refuses' | 'fails' | 'away'>;
let stored: string[];
let asked: string[];
let values: Map<string, string>;

beforeEach(() => {
  vi.useFakeTimers();
  [answers, stored, asked, values] = [new Map(), [], [], new Map()];
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => values.get(key) ?? null,
    setItem: (key: string, value: string) => void values.set(key, value),
    removeItem: (key: string) => void values.delete(key),
    key: (i: number) => [...values.keys()][i] ?? null,
    get length() {
      return values.size;
    },
  });
  vi.stubGlobal('fetch', async (url: string, init: RequestInit) => {
    const job = /jobs\/([^/]+)\/events/.exec(url)![1]!;
    asked.push(job);
    const answer = answers.get(job) ?? 'stores';
    if (answer === 'away') throw new TypeError('unreachable');
    if (answer !== 'stores')
      return new Response(JSON.stringify({ error: answer }), { status: answer === 'refuses' ? 422 : 500 });
    const { events } = JSON.parse(init.body as string) as { events: RunEvent[] };
    for (const e of events) {
      expect(e).not.toHaveProperty('job');
      if (!stored.includes(e.id)) stored.push(e.id);
    }
    return new Response(JSON.stringify({ events: events.map((e) => ({ ...e, job })) }));
  });
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});
const left = () => [...values.keys()].sort();

describe('the outbox', () => {
  it('keeps a list for each job, and nothing where there is nothing', () => {
    keep('a', [note('1', 'a'), note('2', 'a')]);
    keep('b', [note('3', 'b')]);
    expect(kept('a').map((e) => e.id)).toEqual(['1', '2']);
    keep('a', []);
    expect(left()).toEqual(['nibrel.outbox.b']);
    expect(kept('a')).toEqual([]);
  });
  it('takes a list that cannot be read for an empty one', () => {
    values.set('nibrel.outbox.a', '[{"id": ');
    expect(kept('a')).toEqual([]);
  });
  it('sends events without the name of their job, which stands in the address', async () => {
    expect((await send('a', [note('1', 'a')])).map((e) => e.job)).toEqual(['a']);
    expect(stored).toEqual(['1']);
  });
});

describe('what jobs were left with', () => {
  it('is sent for every job but the one that is open', async () => {
    for (const job of ['a', 'b', 'c']) keep(job, [note(`of ${job}`, job)]);
    values.set('nibrel.prefs', '{}');
    await sendKept(() => 'b');
    expect(stored).toEqual(['of a', 'of c']);
    expect(left()).toEqual(['nibrel.outbox.b', 'nibrel.prefs']);
  });
  it('is tried again, less and less often, until the server answers', async () => {
    keep('a', [note('1', 'a')]);
    answers.set('a', 'away');
    await sendKept(() => null);
    const times: number[] = [];
    for (let at = 0, seen = asked.length; at < 20_000; at += 100) {
      await vi.advanceTimersByTimeAsync(100);
      if (asked.length > seen) times.push(at + 100);
      seen = asked.length;
    }
    const pauses = times.map((t, i) => t - (times[i - 1] ?? 0));
    expect(pauses[0]).toBe(RETRY_MS.first);
    for (const [i, p] of pauses.entries()) if (i > 0) expect(p).toBe(Math.min(RETRY_MS.longest, pauses[i - 1]! * 2));
    answers.set('a', 'stores');
    await vi.advanceTimersByTimeAsync(RETRY_MS.longest);
    expect([stored, left()]).toEqual([['1'], []]);
    const quiet = asked.length;
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked).toHaveLength(quiet);
  });
  it('a server that stumbles is asked again as well', async () => {
    keep('a', [note('1', 'a')]);
    answers.set('a', 'fails');
    await sendKept(() => null);
    answers.delete('a');
    await vi.advanceTimersByTimeAsync(RETRY_MS.first);
    expect(left()).toEqual([]);
  });
  it('one that is refused holds up no other, and waits for its job to be opened', async () => {
    for (const job of ['a', 'b']) keep(job, [note(`of ${job}`, job)]);
    answers.set('a', 'refuses');
    await sendKept(() => null);
    expect([stored, left()]).toEqual([['of b'], ['nibrel.outbox.a']]);
    await vi.advanceTimersByTimeAsync(60_000);
    expect(asked.filter((job) => job === 'a')).toHaveLength(1);
  });
  it('what was added while it was under way stays for the next time', async () => {
    keep('a', [note('1', 'a')]);
    const under = sendKept(() => null);
    keep('a', [note('1', 'a'), note('2', 'a')]);
    await under;
    expect(kept('a').map((e) => e.id)).toEqual(['2']);
  });
});
