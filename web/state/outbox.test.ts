import { IDBFactory } from 'fake-indexeddb';
import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { RunEvent } from '../../core/run/index.ts';

type Outbox = typeof import('./outbox.ts');
let outbox: Outbox;

const note = (id: string, job: string): RunEvent => ({
  id,
  job,
  seq: 1,
  at: '2026-01-01T00:00:00Z',
  by: 'Ysolde',
  version: 1,
  type: 'note',
  step: null,
  text: id,
});
const keep = (job: string, ids: string[], session: string | null = null) =>
  outbox.keep(
    ids.map((id) => ({ job, event: note(id, job), session, made: { page: 'x', ticks: 0, wall: Date.now() } })),
  );

/** A server that stores, refuses or cannot be reached, job by job. */
let answers: Map<string, 'stores' | 'refuses' | 'fails' | 'away'>;
let stored: string[];
let asked: { job: string; session: string | null; count: number }[];

beforeEach(async () => {
  [answers, stored, asked] = [new Map(), [], []];
  vi.stubGlobal('indexedDB', new IDBFactory());
  vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => {}, removeItem: () => {} });
  vi.stubGlobal('window', { location: { pathname: '/jobs/a', search: '' } });
  vi.stubGlobal('fetch', async (url: string, init: RequestInit) => {
    const job = /jobs\/([^/]+)\/events/.exec(url)![1]!;
    const { events, session } = JSON.parse(init.body as string) as { events: RunEvent[]; session: string | null };
    asked.push({ job, session, count: events.length });
    const answer = answers.get(job) ?? 'stores';
    if (answer === 'away') throw new TypeError('unreachable');
    if (answer === 'fails') return new Response(JSON.stringify({ error: answer }), { status: 500 });
    if (answer === 'refuses') {
      const refused = { id: events[0]!.id, error: 'no', refusal: null };
      return new Response(JSON.stringify({ error: 'no', refused, events: [] }), { status: 422 });
    }
    for (const e of events) {
      expect(e).not.toHaveProperty('job');
      if (!stored.includes(e.id)) stored.push(e.id);
    }
    return new Response(JSON.stringify({ events: events.map((e) => ({ ...e, job })) }));
  });
  vi.resetModules();
  outbox = await import('./outbox.ts');
});
afterEach(() => vi.unstubAllGlobals());
const left = async (job: string) => (await outbox.kept(job)).map((e) => e.event.id);

describe('the outbox', () => {
  it('keeps a row an event, by job, in the order in which they were made', async () => {
    await keep('a', ['1', '2']);
    await keep('b', ['3']);
    await keep('a', ['4']);
    expect([await left('a'), await left('b'), await left('c')]).toEqual([['1', '2', '4'], ['3'], []]);
    expect((await outbox.waiting()).sort()).toEqual(['a', 'b']);
    await outbox.acknowledged('a', new Set(['1', '4', '3']));
    expect([await left('a'), await left('b')]).toEqual([['2'], ['3']]);
  });
  it('sends what was made in one session together, and names it', async () => {
    await keep('a', ['1', '2'], 'morning');
    await keep('a', ['3'], 'evening');
    await outbox.send(
      'a',
      (await outbox.kept('a')).map((e) => e.event),
    );
    expect(asked.map((a) => [a.session, a.count])).toEqual([
      ['morning', 2],
      ['evening', 1],
    ]);
    expect(stored).toEqual(['1', '2', '3']);
  });
  it('sets aside in order, with what they rest on', async () => {
    await keep('a', ['1', '2', '3']);
    const said = (restsOn: string | null) => ({ why: 'no', refusal: null, restsOn, at: 0 });
    await outbox.setAside('a', [said(null), said('1')], [note('1', 'a'), note('3', 'a')]);
    expect(await left('a')).toEqual(['2']);
    const aside = await outbox.asideOf('a');
    expect(aside.map((e) => [e.event.id, e.restsOn])).toEqual([
      ['1', null],
      ['3', '1'],
    ]);
    await outbox.dropAside(aside[0]!.key!);
    expect(await outbox.asideOf('a')).toHaveLength(1);
  });
});

describe('what jobs were left with', () => {
  it('is sent for every job but the one that is open', async () => {
    for (const job of ['a', 'b', 'c']) await keep(job, [`of ${job}`]);
    await outbox.sendKept(() => 'b');
    expect(stored).toEqual(['of a', 'of c']);
    expect(await outbox.waiting()).toEqual(['b']);
  });
  it('is tried again, less and less often, until the server answers', async () => {
    await keep('a', ['1']);
    answers.set('a', 'away');
    const times: number[] = [];
    vi.spyOn(globalThis, 'setTimeout').mockImplementation(((_: () => void, ms: number) => {
      times.push(ms);
      return 0;
    }) as never);
    for (let i = 0; i < 6; i++) {
      const again = outbox.retrying(() => {});
      if (i === 0) for (let k = 0; k < 6; k++) again.later();
    }
    vi.restoreAllMocks();
    expect(times).toEqual([400, 800, 1600, 3200, 5000, 5000]);
    await outbox.sendKept(() => null);
    expect(await left('a')).toEqual(['1']);
    answers.set('a', 'stores');
    await vi.waitFor(async () => expect(await left('a')).toEqual([]), { timeout: 4000 });
  });
  it('a server that stumbles is asked again as well', async () => {
    await keep('a', ['1']);
    answers.set('a', 'fails');
    await outbox.sendKept(() => null);
    answers.delete('a');
    await vi.waitFor(async () => expect(await left('a')).toEqual([]), { timeout: 4000 });
  });
  it('one that is refused holds up no other, and waits for its job to be opened', async () => {
    for (const job of ['a', 'b']) await keep(job, [`of ${job}`]);
    answers.set('a', 'refuses');
    await outbox.sendKept(() => null);
    expect(stored).toEqual(['of b']);
    expect(await left('a')).toEqual(['of a']);
  });
});
