import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { modelOf, type Anatomy } from '../../core/anatomy/index.ts';
import { planDive, type Plan } from '../../core/dive/index.ts';
import type { JobFile } from '../../core/jobs/index.ts';
import {
  admit,
  foldRun,
  proposeReplan,
  replanFrom,
  runContext,
  type RunEvent,
  type SentEvent,
} from '../../core/run/index.ts';

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
  private readonly heard = new Map<string, (e: { data: string }) => void>();
  constructor(readonly url: string) {
    Stream.last = this;
  }
  addEventListener(type: string, listener: (e: { data: string }) => void) {
    this.heard.set(type, listener);
  }
  close() {
    this.readyState = Stream.CLOSED;
  }
  say(type: string, data: unknown) {
    this.heard.get(type)?.({ data: JSON.stringify(data) });
  }
}

const part = (id: string, kind: string, layer: number, rect: number[], rest: object = {}) => ({
  id,
  name: id,
  kind,
  fixed: false,
  face: 'front',
  layer,
  exits: [],
  outline: { rect },
  within: null,
  swing: null,
  fate: 'keep',
  pairing: [],
  functions: [],
  conductive: false,
  glass: false,
  note: '',
  ...rest,
});
const screw = (id: string, holds: string, at: number[]) => ({
  id,
  kind: 'screw',
  drive: 'PH000',
  length: 1.4,
  thread: 1.2,
  head: 2,
  holds: [holds],
  into: 'frame',
  at,
  face: 'front',
  holeDepth: 1.9,
  torque: null,
  threadlock: false,
  magnetic: true,
  fate: 'keep',
  order: null,
});
const anatomy = {
  schema: 'nibrel.anatomy/1',
  id: 'bench',
  name: 'Bench',
  maker: 'Nobody',
  kind: 'phone',
  body: { width: 40, height: 80, thickness: 8, cornerRadius: 0, ingress: null },
  battery: { volts: 3.8, milliampHours: 1000, cells: 1 },
  parts: [
    part('frame', 'frame', 0, [0, 0, 40, 80], { fixed: true }),
    part('cover', 'cover', 0, [0, 0, 40, 80]),
    part('battery', 'battery', 2, [2, 30, 14, 46], { functions: ['power'] }),
    part('board', 'board', 3, [18, 2, 20, 50]),
  ],
  fasteners: [screw('c1', 'cover', [3, 77]), screw('c2', 'cover', [37, 77]), screw('b1', 'board', [20, 48])],
  connectors: [
    {
      id: 'flex',
      name: 'flex',
      kind: 'press',
      from: 'battery',
      to: 'board',
      at: [28, 24],
      size: [4, 2],
      face: 'front',
      layer: null,
      isolatesPower: true,
      beneath: [],
      under: [],
      reachedBy: null,
      after: [],
      carries: ['power'],
    },
  ],
  bonds: [],
  latches: [],
  orders: [],
  mateOrder: [],
  functions: [{ id: 'power', name: 'Power', test: 'It starts.', afterClosing: false }],
  spares: [],
} as unknown as Anatomy;
const plan: Plan = planDive(modelOf(anatomy), { replace: ['battery'] });

/** The server's side of one job, with switches to make it fail. */
class Bench {
  readonly stored: RunEvent[] = [];
  online = true;
  refuse: { status: number; body: object } | null = null;
  posts = 0;
  /** What the answer with the whole job waits for once it is drawn up. */
  slow: Promise<void> = Promise.resolve();
  readonly file: JobFile = {
    job: {
      id: 'j1',
      number: 1,
      anatomy: 'bench',
      revision: 1,
      customer: 'X',
      complaint: '',
      outside: '',
      crackedGlass: false,
      triage: [],
      plan,
      createdAt: '2026-01-01T00:00:00Z',
    },
    anatomy,
    events: [],
  };
  fetch = async (url: string, init: RequestInit = {}): Promise<Response> => {
    if (!this.online) throw new TypeError('unreachable');
    const answer = (status: number, body: unknown) => new Response(JSON.stringify(body), { status });
    if (!url.endsWith('/events')) {
      const file = { ...this.file, events: [...this.stored] };
      await this.slow;
      return answer(200, file);
    }
    this.posts++;
    if (this.refuse) return answer(this.refuse.status, this.refuse.body);
    const { events } = JSON.parse(init.body as string) as { events: SentEvent[] };
    const fresh = events.filter((e) => !this.stored.some((s) => s.id === e.id));
    if (fresh.length > 0 && fresh[0]!.seq !== this.stored.length + 1)
      return answer(409, { error: 'late', missed: this.stored.slice(fresh[0]!.seq - 1) });
    for (const e of fresh) this.stored.push({ ...e, job: 'j1' });
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
      ...body,
    } as RunEvent;
    this.stored.push(event);
    return event;
  }
}

let bench: Bench;
let memory: Memory;
let useRun: typeof import('./run.ts')['useRun'];
const settled = () =>
  vi.waitFor(
    () => {
      if (useRun.getState().connection !== 'saved' || useRun.getState().pending.length > 0) throw new Error('not yet');
    },
    { timeout: 4000, interval: 5 },
  );

beforeEach(async () => {
  bench = new Bench();
  memory = new Memory();
  vi.stubGlobal('localStorage', memory);
  vi.stubGlobal('EventSource', Stream);
  vi.stubGlobal('fetch', bench.fetch);
  vi.resetModules();
  ({ useRun } = await import('./run.ts'));
  await useRun.getState().load('j1');
});
afterEach(() => {
  forget();
  vi.unstubAllGlobals();
});
/** The tab is closed: its store does no more. */
function forget(): void {
  useRun.getState().leave();
  useRun.setState({ job: null });
  vi.resetModules();
}
const stepOf = (verb: string) => useRun.getState().context!.plan.steps.find((s) => s.do === verb)!;

describe('the run in the browser', () => {
  it('shows what was done at once, and sends it', async () => {
    expect(useRun.getState().press(1)).toBe('moved');
    expect(useRun.getState().state!.done.has(1)).toBe(true);
    await settled();
    expect(bench.stored.map((e) => e.type)).toEqual(['step-done']);
    expect(memory.keys).toEqual([]);
  });
  it('refuses by the same rules as the server, and sends nothing', async () => {
    expect(useRun.getState().press(stepOf('lift').n)).toBe('refused');
    expect(useRun.getState().refusal).not.toBeNull();
    expect(bench.posts).toBe(0);
    useRun.getState().dismiss();
    expect(useRun.getState().refusal).toBeNull();
  });
  it('keeps what cannot be sent, over a reload, and sends it when the server is back', async () => {
    bench.online = false;
    useRun.getState().press(1);
    await vi.waitFor(() => expect(useRun.getState().connection).toBe('offline'));
    expect(memory.keys).toEqual(['nibrel.outbox.j1']);
    // A reload: the store is new, the outbox is not.
    forget();
    ({ useRun } = await import('./run.ts'));
    bench.online = true;
    await useRun.getState().load('j1');
    expect(useRun.getState().state!.done.has(1)).toBe(true);
    await settled();
    expect(bench.stored).toHaveLength(1);
  });
  it('an event that is sent twice is stored once', async () => {
    useRun.getState().press(1);
    await settled();
    const [event] = bench.stored;
    memory.setItem('nibrel.outbox.j1', JSON.stringify([event]));
    await useRun.getState().load('j1');
    expect(useRun.getState().pending).toEqual([]);
    expect(bench.stored).toHaveLength(1);
  });
  it('goes along with another screen, live', async () => {
    Stream.last!.say('run', bench.other({ type: 'note', step: 1, text: 'From the other screen.' }));
    expect(useRun.getState().state!.notes.map((n) => n.text)).toEqual(['From the other screen.']);
  });
  it('puts its own behind what it missed, with new numbers', async () => {
    bench.other({ type: 'note', step: 1, text: 'Theirs.' });
    useRun.getState().press(1);
    await settled();
    expect(bench.stored.map((e) => [e.seq, e.type])).toEqual([
      [1, 'note'],
      [2, 'step-done'],
    ]);
    expect(useRun.getState().events).toHaveLength(2);
  });
  it('gives up what is no longer admitted, and says why', async () => {
    bench.other({ type: 'step-done', step: 1 });
    useRun.getState().press(1);
    await settled();
    expect(bench.stored).toHaveLength(1);
    expect(useRun.getState().refusal).toMatchObject({ message: expect.stringContaining('done already') });
  });
  it('a server that has less than it once had gets what it lacks again', async () => {
    useRun.getState().press(1);
    useRun.getState().press(2);
    await settled();
    const had = bench.stored.length;
    expect(had).toBeGreaterThan(1);
    bench.stored.length = 1;
    useRun.getState().record([{ type: 'note', step: 2, text: 'After the copy was put back.' }]);
    await vi.waitFor(() => expect(bench.stored).toHaveLength(had + 1), { timeout: 4000 });
    await settled();
    expect(bench.stored.map((e) => e.seq)).toEqual(bench.stored.map((_, i) => i + 1));
    expect(useRun.getState().events.map((e) => e.id)).toEqual(bench.stored.map((e) => e.id));
  });
  it('an answer older than what was acknowledged meanwhile takes nothing back', async () => {
    let go = () => {};
    bench.slow = new Promise((resolve) => {
      go = resolve;
    });
    const loading = useRun.getState().load('j1');
    useRun.getState().press(1);
    useRun.getState().press(2);
    await settled();
    const had = bench.stored.map((e) => e.id);
    expect(had.length).toBeGreaterThan(1);
    go();
    await loading;
    expect([...useRun.getState().state!.done.keys()]).toEqual([1]);
    await settled();
    expect(bench.stored.map((e) => e.id)).toEqual(had);
    expect(useRun.getState().events.map((e) => e.id)).toEqual(had);
  });
  it('a refusal of the server takes its own back', async () => {
    bench.refuse = {
      status: 422,
      body: { error: 'no', refusal: { rule: 'A1', message: 'covered', item: null, blockers: [] } },
    };
    useRun.getState().press(1);
    await vi.waitFor(() => expect(useRun.getState().refusal?.rule).toBe('A1'));
    expect(useRun.getState().state!.done.size).toBe(0);
    expect(memory.keys).toEqual([]);
  });
  it('a new plan that arrives is the plan from then on', async () => {
    const context = runContext(modelOf(anatomy), plan);
    for (const step of [1, 2]) {
      const state = foldRun(context, bench.stored);
      const bodies =
        step === 1
          ? [{ type: 'step-done', step: 1 }]
          : [{ type: 'deviation', item: 'c1', kind: 'stripped', note: 'x' }];
      for (const body of bodies)
        if (admit(context, state, body as never, Date.now()) === null) Stream.last!.say('run', bench.other(body));
    }
    const { event } = replanFrom(foldRun(context, bench.stored), proposeReplan(foldRun(context, bench.stored)), {
      budget: 0,
    });
    Stream.last!.say('run', bench.other(event as never));
    const { context: now, job, state } = useRun.getState();
    expect(now!.plan.steps.some((s) => s.tool === 'screw-extractor')).toBe(true);
    expect(job!.plan).toBe(now!.plan);
    expect(state!.done.has(1)).toBe(true);
    expect(useRun.getState().press(state!.cursor!)).toBe('moved');
  });
  it('a screw is tapped out of turn', async () => {
    const step = stepOf('unscrew');
    for (const s of useRun.getState().context!.plan.steps.filter((x) => x.n < step.n)) {
      useRun.getState().press(s.n);
      if (s.waits > 0) useRun.getState().record([{ type: 'timer-ended', timer: `step-${s.n}`, reason: 'x' }]);
      if (!useRun.getState().state!.done.has(s.n)) useRun.getState().press(s.n);
    }
    expect(useRun.getState().tap(step.n, step.items[1]!)).toBe('moved');
    expect(useRun.getState().tap(step.n, 'b1')).toBe('refused');
    expect([...useRun.getState().state!.out.keys()]).toEqual([step.items[1]]);
  });
  it('what a job was left with is sent while another is open', async () => {
    bench.online = false;
    useRun.getState().press(1);
    await vi.waitFor(() => expect(useRun.getState().connection).toBe('offline'));
    forget();
    const { sendKept } = await import('./outbox.ts');
    await sendKept(() => 'j1');
    await sendKept(() => null);
    expect(memory.keys).toEqual(['nibrel.outbox.j1']);
    bench.online = true;
    await vi.waitFor(() => expect(memory.keys).toEqual([]), { timeout: 4000 });
    expect(bench.stored.map((e) => e.type)).toEqual(['step-done']);
  });
  it('what the server refuses of a job that was left stays until it is opened', async () => {
    bench.online = false;
    useRun.getState().press(1);
    await vi.waitFor(() => expect(useRun.getState().connection).toBe('offline'));
    forget();
    const { sendKept } = await import('./outbox.ts');
    bench.online = true;
    bench.other({ type: 'note', step: 1, text: 'Theirs.' });
    await sendKept(() => null);
    expect(bench.posts).toBe(1);
    expect(memory.keys).toEqual(['nibrel.outbox.j1']);
    ({ useRun } = await import('./run.ts'));
    await useRun.getState().load('j1');
    await settled();
    expect(memory.keys).toEqual([]);
    expect(bench.stored.map((e) => [e.seq, e.type])).toEqual([
      [1, 'note'],
      [2, 'step-done'],
    ]);
  });
  it('another job starts clean', async () => {
    useRun.getState().press(1);
    await settled();
    bench.file.job.id = 'j2';
    bench.stored.length = 0;
    await useRun.getState().load('j2');
    expect(useRun.getState().state!.done.size).toBe(0);
  });
});
