import { IDBFactory } from 'fake-indexeddb';
import 'fake-indexeddb/auto';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { modelOf } from '../../core/anatomy/index.ts';
import { planDive, type Plan } from '../../core/dive/index.ts';
import type { JobFile } from '../../core/jobs/index.ts';
import { foldRun, proposeReplan, replanFrom, runContext, type RunEvent, type SentEvent } from '../../core/run/index.ts';
import { tinyDevice } from '../../demo/tiny.ts';

/** What the store needs of a browser, and no more. */
class Memory {
  private readonly values = new Map<string, string>();
  getItem = (key: string) => this.values.get(key) ?? null;
  setItem = (key: string, value: string) => void this.values.set(key, value);
  removeItem = (key: string) => void this.values.delete(key);
  key = (i: number) => this.keys[i] ?? null;
  get length() {
    return this.values.size;
  }
  get keys() {
    return [...this.values.keys()];
  }
}
class Stream {
  static CLOSED = 2;
  static last: Stream | null = null;
  readyState = 1;
  onerror: (() => void) | null = null;
  private readonly heard = new Map<string, (e: { data: string; lastEventId: string }) => void>();
  constructor(readonly url: string) {
    Stream.last = this;
  }
  addEventListener(type: string, listener: (e: { data: string; lastEventId: string }) => void) {
    this.heard.set(type, listener);
  }
  close() {
    this.readyState = Stream.CLOSED;
  }
  say(event: RunEvent) {
    const data = JSON.stringify({ kind: 'event', event });
    this.heard.get('told')?.({ data, lastEventId: 'a-1' });
  }
  open() {
    this.heard.get('hello')?.({ data: String(Date.now()), lastEventId: 'a-0' });
  }
}

/** A cover, a battery with its flex, and the board. */
const anatomy = tinyDevice((a) => {
  a.parts = a.parts.filter((p) => !['bracket', 'camera'].includes(p.id));
  a.fasteners = a.fasteners.filter((f) => ['c1', 'c2', 'b1'].includes(f.id));
  a.connectors = a.connectors.filter((c) => c.id === 'battery-flex');
  a.functions = a.functions.filter((f) => f.id === 'power');
});
const plan: Plan = planDive(modelOf(anatomy), { replace: ['battery'] });

/** The server's side of one job, with switches to make it fail. */
class Bench {
  readonly stored: RunEvent[] = [];
  online = true;
  refuse: { status: number; body: (events: SentEvent[]) => object } | null = null;
  readonly batches: number[] = [];
  posts = 0;
  /** What the answer with the whole job waits for once it is drawn up. */
  slow: Promise<void> = Promise.resolve();
  readonly file: JobFile = {
    contact: '',
    job: {
      id: 'j1',
      number: 1,
      anatomy: 'bench',
      revision: 1,
      device: null,
      customer: 'X',
      complaint: '',
      outside: '',
      crackedGlass: false,
      triage: [],
      customerId: null,
      earlier: null,
      worth: null,
      plan,
      createdAt: '2026-01-01T00:00:00Z',
    },
    anatomy,
    events: [],
    latest: 1,
  };
  fetch = async (url: string, init: RequestInit = {}): Promise<Response> => {
    if (!this.online) throw new TypeError('unreachable');
    const answer = (status: number, body: unknown) => new Response(JSON.stringify(body), { status });
    if (url.endsWith('/photos')) return answer(201, { hash: 'f'.repeat(64) });
    if (!url.endsWith('/events')) {
      const file = { ...this.file, events: [...this.stored] };
      await this.slow;
      return answer(200, file);
    }
    this.posts++;
    const { events } = JSON.parse(init.body as string) as { events: SentEvent[] };
    this.batches.push(events.length);
    if (this.refuse) return answer(this.refuse.status, this.refuse.body(events));
    const fresh = events.filter((e) => !this.stored.some((s) => s.id === e.id));
    if (fresh.length > 0 && fresh[0]!.seq !== this.stored.length + 1)
      return answer(409, { error: 'late', missed: this.stored.slice(fresh[0]!.seq - 1) });
    for (const e of fresh) this.stored.push({ ...e, job: 'j1', by: 'X', version: 1 });
    return answer(200, { events: events.map((e) => this.stored.find((s) => s.id === e.id)) });
  };
  /** Another screen was quicker. */
  other(body: Record<string, unknown>): RunEvent {
    const event = {
      id: crypto.randomUUID(),
      job: 'j1',
      seq: this.stored.length + 1,
      at: new Date().toISOString(),
      by: 'Other',
      version: 1,
      ...body,
    } as RunEvent;
    this.stored.push(event);
    return event;
  }
}

let bench: Bench;
let useRun: typeof import('./run.ts')['useRun'];
const run = () => useRun.getState();
const settled = () =>
  vi.waitFor(
    async () => {
      expect([run().connection, run().pending.length, (await waits()).length]).toEqual(['saved', 0, 0]);
    },
    { timeout: 5000, interval: 5 },
  );
const waits = async () => (await import('./outbox.ts')).kept('j1');
const kept = (count: number) => vi.waitFor(async () => expect(await waits()).toHaveLength(count));
const id = (n: number) => plan.steps[n - 1]!.id;
const stepOf = (verb: string) => run().context!.plan.steps.find((s) => s.do === verb)!;
const note = (text: string) => ({ type: 'note', step: null, text }) as const;

beforeEach(async () => {
  bench = new Bench();
  vi.stubGlobal('indexedDB', new IDBFactory());
  vi.stubGlobal('localStorage', new Memory());
  vi.stubGlobal('BroadcastChannel', undefined);
  vi.stubGlobal('EventSource', Stream);
  vi.stubGlobal('window', { addEventListener: () => {}, location: { pathname: '/jobs/j1/run', search: '' } });
  vi.stubGlobal('fetch', bench.fetch);
  vi.resetModules();
  ({ useRun } = await import('./run.ts'));
  await run().load('j1');
});
afterEach(() => {
  forget();
  vi.unstubAllGlobals();
});
/** The tab is closed: its store does no more. */
function forget(): void {
  run().leave();
  useRun.setState({ job: null });
  vi.resetModules();
}
const reopen = async () => {
  forget();
  ({ useRun } = await import('./run.ts'));
  await run().load('j1');
};
const offline = async () => {
  bench.online = false;
  run().press(id(1));
  await vi.waitFor(() => expect(run().connection).toBe('offline'));
};

describe('the run in the browser', () => {
  it('shows what was done at once, and sends it', async () => {
    expect(run().press(id(1))).toBe('moved');
    expect(run().state!.done.has(id(1))).toBe(true);
    await settled();
    expect(bench.stored.map((e) => e.type)).toEqual(['step-done']);
  });
  it('refuses by the same rules as the server, and sends nothing', async () => {
    expect(run().press(stepOf('lift').id)).toBe('refused');
    expect(run().refusal).not.toBeNull();
    expect(bench.posts).toBe(0);
    run().dismiss();
    expect(run().refusal).toBeNull();
  });
  it('asks the browser to hold fast what waits, once, and not before something does', async () => {
    const persist = vi.fn(async () => true);
    vi.stubGlobal('navigator', { storage: { persist } });
    run().press(id(1));
    await settled();
    expect(persist).not.toHaveBeenCalled();
    bench.online = false;
    run().record([note('One.')]);
    await vi.waitFor(() => expect(run().connection).toBe('offline'));
    run().record([note('Two.')]);
    await new Promise((resolve) => setTimeout(resolve, 900));
    expect(persist).toHaveBeenCalledTimes(1);
  });
  it('keeps what cannot be sent, over a reload, and sends it when the server is back', async () => {
    await offline();
    await kept(1);
    bench.online = true;
    await reopen();
    expect(run().state!.done.has(id(1))).toBe(true);
    await settled();
    expect(bench.stored).toHaveLength(1);
  });
  it('shows the job as it was last seen, when it is opened without the server', async () => {
    run().press(id(1));
    await settled();
    await new Promise((resolve) => setTimeout(resolve, 500));
    bench.online = false;
    await reopen();
    expect([run().remembered, run().state!.done.has(id(1))]).toEqual([true, true]);
    expect(run().press(id(2))).toBe('moved');
    await kept(run().pending.length);
    bench.online = true;
    await settled();
    expect(bench.stored.length).toBeGreaterThan(1);
  });
  it('an event that is sent twice is stored once', async () => {
    run().press(id(1));
    await settled();
    const { keep } = await import('./outbox.ts');
    await keep([{ job: 'j1', event: bench.stored[0]!, session: null, made: { page: 'x', ticks: 0, wall: 0 } }]);
    await run().load('j1');
    expect(run().pending).toEqual([]);
    expect(bench.stored).toHaveLength(1);
    await kept(0);
  });
  it('goes along with another screen, live', async () => {
    Stream.last!.say(bench.other(note('From the other screen.')));
    expect(run().state!.notes.map((n) => n.text)).toEqual(['From the other screen.']);
  });
  it('puts its own behind what it missed, with new numbers', async () => {
    bench.other(note('Theirs.'));
    run().press(id(1));
    await settled();
    expect(bench.stored.map((e) => [e.seq, e.type])).toEqual([
      [1, 'note'],
      [2, 'step-done'],
    ]);
    expect(run().events).toHaveLength(2);
  });
  it('what is no longer admitted is set aside, and says why', async () => {
    bench.other({ type: 'step-done', step: id(1) });
    run().press(id(1));
    await settled();
    expect(bench.stored).toHaveLength(1);
    expect(run().refusal).toMatchObject({ said: expect.objectContaining({ code: 'done-already' }) });
    await vi.waitFor(() => expect(run().aside.map((a) => a.event.type)).toEqual(['step-done']));
  });
  it('a server that has less than it once had gets what it lacks again', async () => {
    run().press(id(1));
    run().press(id(2));
    await settled();
    const had = bench.stored.length;
    expect(had).toBeGreaterThan(1);
    bench.stored.length = 1;
    run().record([note('After the copy was put back.')]);
    await vi.waitFor(() => expect(bench.stored).toHaveLength(had + 1), { timeout: 4000 });
    await settled();
    expect(bench.stored.map((e) => e.seq)).toEqual(bench.stored.map((_, i) => i + 1));
    expect(run().events.map((e) => e.id)).toEqual(bench.stored.map((e) => e.id));
  });
  it('an answer older than what was acknowledged meanwhile takes nothing back', async () => {
    let go = () => {};
    bench.slow = new Promise((resolve) => {
      go = resolve;
    });
    const loading = run().load('j1');
    run().press(id(1));
    run().press(id(2));
    await settled();
    const had = bench.stored.map((e) => e.id);
    expect(had.length).toBeGreaterThan(1);
    go();
    await loading;
    expect([...run().state!.done.keys()]).toContain(id(1));
    await settled();
    expect(bench.stored.map((e) => e.id)).toEqual(had);
    expect(run().events.map((e) => e.id)).toEqual(had);
  });
  it('a new plan that arrives is the plan from then on', async () => {
    const context = runContext(modelOf(anatomy), plan);
    Stream.last!.say(bench.other({ type: 'step-done', step: id(1) }));
    Stream.last!.say(bench.other({ type: 'deviation', item: 'c1', kind: 'stripped', note: 'x' }));
    const before = foldRun(context, bench.stored);
    const { event } = replanFrom(before, proposeReplan(before), { budget: 0 });
    Stream.last!.say(bench.other({ ...event }));
    const { context: now, job, state } = run();
    expect(now!.plan.steps.some((s) => s.tool === 'screw-extractor')).toBe(true);
    expect(job!.plan).toBe(now!.plan);
    expect(state!.done.has(id(1))).toBe(true);
    expect(run().press(state!.cursor!)).toBe('moved');
  });
  it('a screw is tapped out of turn', async () => {
    const step = stepOf('unscrew');
    for (const s of run().context!.plan.steps.filter((x) => x.n < step.n)) {
      run().press(s.id);
      if (s.waits > 0) run().record([{ type: 'timer-ended', timer: s.id, how: 'judged', reason: 'low enough' }]);
      if (!run().state!.done.has(s.id)) run().press(s.id);
    }
    expect(run().tap(step.id, step.items[1]!)).toBe('moved');
    expect(run().tap(step.id, 'b1')).toBe('refused');
    expect([...run().state!.out.keys()]).toEqual([step.items[1]]);
  });
  it('another job starts clean', async () => {
    run().press(id(1));
    await settled();
    bench.file.job.id = 'j2';
    bench.stored.length = 0;
    await run().load('j2');
    expect(run().state!.done.size).toBe(0);
  });
});

describe('A2 the outbox loses nothing', () => {
  it.each([
    [400, { error: 'the request is not JSON' }],
    [401, { error: 'sign in' }],
    [403, { error: 'not from here' }],
    [413, { error: 'too large' }],
    [422, { error: 'events: must hold at most 500' }],
    [429, { error: 'too many' }],
    [500, { error: 'stumbled' }],
    [507, { error: 'the disk is full' }],
  ])('to an answer of %i that names no event', async (status, body) => {
    bench.refuse = { status, body: () => body };
    run().press(id(1));
    await vi.waitFor(() => expect(['offline', 'signed-out']).toContain(run().connection));
    await kept(1);
    expect(run().state!.done.has(id(1))).toBe(true);
    bench.refuse = null;
    await settled();
    expect(bench.stored).toHaveLength(1);
  });
  it('not with fifty events that wait for a sign-in, over a reload', async () => {
    bench.refuse = { status: 401, body: () => ({ error: 'sign in with your PIN' }) };
    for (let i = 0; i < 50; i++) run().record([note(`note ${i}`)]);
    await vi.waitFor(() => expect(run().connection).toBe('signed-out'));
    await kept(50);
    await reopen();
    bench.refuse = null;
    await settled();
    expect(bench.stored.map((e) => (e.type === 'note' ? e.text : e.type))).toEqual(
      Array.from({ length: 50 }, (_, i) => `note ${i}`),
    );
  });
  it('more events than one request takes are split', async () => {
    bench.online = false;
    for (let i = 0; i < 12; i++) run().record(Array.from({ length: 100 }, (_, k) => note(`${i} ${k}`)));
    await kept(1200);
    bench.online = true;
    await vi.waitFor(() => expect(bench.stored).toHaveLength(1200), { timeout: 9000 });
    await settled();
    expect(Math.max(...bench.batches)).toBeLessThanOrEqual(500);
  }, 20_000);
  it('an event that the server refuses by name is shown and kept aside, with those that rest on it, in their order', async () => {
    bench.online = false;
    for (const n of [1, 2]) run().press(id(n));
    run().record([note('Stands by itself.')]);
    const made = run().pending.map((e) => e.id);
    await kept(made.length);
    bench.refuse = {
      status: 422,
      body: (events) => {
        // It is refused once; what comes after is taken in.
        bench.refuse = null;
        const refusal = { rule: 'A1', said: { code: 'is-fixed', item: 'cover' }, item: null, blockers: [] };
        return { error: 'covered', refusal, refused: { id: events[0]!.id, error: 'covered', refusal }, events: [] };
      },
    };
    bench.online = true;
    await vi.waitFor(() => expect(run().aside.length).toBeGreaterThan(0), { timeout: 4000 });
    await settled();
    expect(run().aside[0]).toMatchObject({ why: 'covered', restsOn: null, event: { id: made[0] } });
    expect(
      run()
        .aside.slice(1)
        .every((a) => a.restsOn === made[0]),
    ).toBe(true);
    const order = run().aside.map((a) => made.indexOf(a.event.id));
    expect(order).toEqual([...order].sort((a, b) => a - b));
    expect(bench.stored.map((e) => e.type)).toContain('note');
    expect(run().aside.length + bench.stored.length).toBe(made.length);
    // Still there after a reload; tried again it goes through.
    await reopen();
    const [first] = run().aside;
    run().retryAside(first!);
    await settled();
    expect(bench.stored.some((e) => e.type === first!.event.type)).toBe(true);
    expect(run().aside.some((a) => a.key === first!.key)).toBe(false);
  });
  it('what a job was left with is sent while another is open', async () => {
    await offline();
    await kept(1);
    forget();
    const { sendKept } = await import('./outbox.ts');
    await sendKept(() => 'j1');
    await sendKept(() => null);
    expect(await waits()).toHaveLength(1);
    bench.online = true;
    await vi.waitFor(async () => expect(await waits()).toEqual([]), { timeout: 4000 });
    expect(bench.stored.map((e) => e.type)).toEqual(['step-done']);
  });
  it('a stale number of a job that was left waits until it is opened', async () => {
    await offline();
    await kept(1);
    forget();
    const { sendKept } = await import('./outbox.ts');
    bench.online = true;
    bench.other(note('Theirs.'));
    await sendKept(() => null);
    expect(await waits()).toHaveLength(1);
    ({ useRun } = await import('./run.ts'));
    await run().load('j1');
    await settled();
    expect(bench.stored.map((e) => [e.seq, e.type])).toEqual([
      [1, 'note'],
      [2, 'step-done'],
    ]);
  });
  it('a photograph that was taken without the server is stored before the event that names it', async () => {
    bench.online = false;
    run().record([{ type: 'photo', photo: '0'.repeat(64), step: null, note: '' }], new Blob(['jpeg']));
    await kept(1);
    bench.online = true;
    await settled();
    expect(bench.stored).toMatchObject([{ type: 'photo', photo: 'f'.repeat(64) }]);
  });
  it('two tabs that made something meanwhile both get it through', async () => {
    await offline();
    await kept(1);
    const { keep } = await import('./outbox.ts');
    const theirs = { ...run().pending[0]!, ...note('From the other tab.'), id: '00000000-0000-4000-8000-000000000001' };
    await keep([
      { job: 'j1', event: theirs as RunEvent, session: null, made: { page: 'x', ticks: 0, wall: Date.now() } },
    ]);
    bench.online = true;
    Stream.last!.open();
    await settled();
    expect(bench.stored.map((e) => e.type).sort()).toEqual(['note', 'step-done']);
  });
});

describe('A1 two screens around a change of plan', () => {
  it('what was made against the older plan is set aside, and the screen follows', async () => {
    await offline();
    const other = planDive(modelOf(anatomy), { replace: ['board'] });
    bench.other({ type: 'planned', plan: other, because: 'the board instead' });
    bench.online = true;
    await vi.waitFor(() => expect(run().state!.version).toBe(2), { timeout: 4000 });
    await vi.waitFor(() => expect(run().aside).toHaveLength(1));
    expect(run().job!.plan!.replace).toEqual(['board']);
    expect(run().aside[0]!.why).toMatch(/plan was changed/);
    expect(bench.stored.map((e) => e.type)).toEqual(['planned']);
  });
});

describe('A3 one clock', () => {
  it('what was begun without the server goes by the time that has passed, whatever the clock of the tablet says', async () => {
    const { hearTime, serverNow } = await import('./clock.ts');
    hearTime(Date.now() + 3600_000);
    bench.online = false;
    run().record([note('An hour behind.')]);
    await kept(1);
    const made = serverNow();
    // The clock of the tablet is set back meanwhile.
    vi.spyOn(Date, 'now').mockReturnValue(Date.now() - 86_400_000);
    bench.online = true;
    await vi.waitFor(() => expect(bench.stored).toHaveLength(1), { timeout: 4000 });
    vi.restoreAllMocks();
    expect(Math.abs(Date.parse(bench.stored[0]!.at) - made)).toBeLessThan(300);
  });
});

describe('A2 a store of the browser that does not answer', () => {
  /** Opens, and never says that it did. */
  const silent = () => ({ open: () => new IDBOpenDBRequest() });
  const seconds = (n: number) => vi.advanceTimersByTimeAsync(n * 1000);
  beforeEach(() => vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] }));
  afterEach(() => vi.useRealTimers());

  it('holds up neither the screen nor the sending, and is said', async () => {
    forget();
    vi.stubGlobal('indexedDB', silent());
    ({ useRun } = await import('./run.ts'));
    const loaded = run().load('j1');
    await seconds(5);
    await loaded;
    expect(run().job?.id).toBe('j1');
    expect(run().press(id(1))).toBe('moved');
    await seconds(9);
    expect(bench.stored.map((e) => e.type)).toEqual(['step-done']);
    run().record([{ type: 'photo', photo: '0'.repeat(64), step: null, note: '' }], new Blob(['jpeg']));
    await seconds(5);
    expect(run().problem).toMatch(/its store does not answer/);
    await seconds(9);
    expect(bench.stored[1]).toMatchObject({ type: 'photo', photo: 'f'.repeat(64) });
  });

  it('when it answers again, what waited there is sent, and what was refused is shown', async () => {
    const answering = indexedDB;
    bench.online = false;
    run().press(id(1));
    vi.useRealTimers();
    await kept(1);
    const refused = { ...run().pending[0]!, id: '00000000-0000-4000-8000-000000000002' };
    const { setAside } = await import('./outbox.ts');
    await setAside('j1', [{ why: 'no', refusal: null, restsOn: null, at: 0 }], [refused]);
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
    forget();
    bench.online = true;
    vi.stubGlobal('indexedDB', silent());
    ({ useRun } = await import('./run.ts'));
    const loaded = run().load('j1');
    await seconds(5);
    await loaded;
    expect([run().state!.done.size, run().aside.length]).toEqual([0, 0]);
    vi.stubGlobal('indexedDB', answering);
    await seconds(9);
    vi.useRealTimers();
    await settled();
    expect(bench.stored.map((e) => e.type)).toEqual(['step-done']);
    expect(run().aside.map((a) => a.event.id)).toEqual([refused.id]);
  });
});

describe('A2 a disk that is full', () => {
  /** From now on the disk of this browser takes nothing. */
  const fill = () =>
    vi.spyOn(IDBObjectStore.prototype, 'add').mockImplementation(() => {
      throw new DOMException('full', 'QuotaExceededError');
    });
  afterEach(() => vi.restoreAllMocks());

  it('is said, and what was done goes on to the server from this page, also when its job was left', async () => {
    fill();
    await offline();
    run().record([{ type: 'photo', photo: '0'.repeat(64), step: null, note: '' }], new Blob(['jpeg']));
    await vi.waitFor(() => expect(run().problem).toMatch(/disk of this device is full/));
    run().leave();
    useRun.setState({ job: null, pending: [], events: [] });
    bench.online = true;
    const { sendKept } = await import('./outbox.ts');
    await sendKept(() => null);
    await vi.waitFor(() => expect(bench.stored).toHaveLength(2), { timeout: 4000 });
    expect(bench.stored).toMatchObject([{ type: 'step-done' }, { type: 'photo', photo: 'f'.repeat(64) }]);
    expect(await waits()).toEqual([]);
  });
  it('what is refused then is shown all the same, and can be let go of', async () => {
    await offline();
    fill();
    bench.online = true;
    bench.refuse = {
      status: 422,
      body: (events) => ({ error: 'no', refused: { id: events[0]!.id, error: 'no', refusal: null }, events: [] }),
    };
    await vi.waitFor(() => expect(run().aside).toHaveLength(1), { timeout: 4000 });
    expect(run().aside[0]).toMatchObject({ why: 'no', event: { type: 'step-done' } });
    expect(run().problem).toMatch(/disk of this device is full/);
    run().forgetAside(run().aside[0]!);
    expect(run().aside).toEqual([]);
  });
});
