import { modelOf, type Model } from '../anatomy/index.ts';
import { Checker, closedDevice, copyDevice, joinedTo, type Device, type Plan, type Step } from '../dive/index.ts';
import { wellsOf, type Wells } from '../screws/index.ts';
import type { DeviationKind, Replanned, RunEvent, TestOutcome } from './events.ts';

/** What a fold needs beside the events: the dive and the device it is carried out on. */
export interface RunContext {
  model: Model;
  plan: Plan;
  checker: Checker;
  wells: Wells;
  steps: ReadonlyMap<number, Step>;
}

export function runContext(model: Model, plan: Plan): RunContext {
  return {
    model,
    plan,
    checker: new Checker(model),
    wells: wellsOf(model, plan),
    steps: new Map(plan.steps.map((s) => [s.n, s])),
  };
}

export interface Timer {
  id: string;
  step: number;
  seconds: number;
  startedAt: string;
  /** When it was ended by hand, else `null`: it ends by itself when its seconds have run. */
  endedAt: string | null;
  reason: string;
}

export interface Deviation {
  item: string | null;
  kind: DeviationKind;
  note: string;
  at: string;
  step: number | null;
}

export interface TestResult {
  outcome: TestOutcome;
  reason: string;
  at: string;
}

/** The state of a job: a pure fold over its events, the same on the server and in the browser. */
export interface RunState {
  /** The dive and the device as they are now: the ones the job began with, unless it was planned anew. */
  context: RunContext;
  /** Number of the last event; 0 before the first. */
  seq: number;
  startedAt: string | null;
  lastAt: string | null;
  done: Map<number, string>;
  left: Set<number>;
  /** Items dealt with in a step that goes item by item. */
  items: Map<number, Set<string>>;
  /** Screws in wells now: fastener → well. Captive ones are loose but in no well. */
  out: Map<string, string | null>;
  /** Every screw that ever came out and every one that went back. */
  screwsOut: Set<string>;
  screwsIn: Set<string>;
  timers: Map<string, Timer>;
  deviations: Deviation[];
  tests: Map<string, TestResult>;
  gates: Map<number, { outcome: 'passed' | 'refused'; reason: string; at: string }>;
  photos: { photo: string; step: number | null; note: string; at: string }[];
  notes: { step: number | null; text: string; at: string; by: string }[];
  readings: { sensor: string; value: number; unit: string; at: string }[];
  agreed: { losses: string[]; at: string; by: string } | null;
  signedOff: { name: string; at: string } | null;
  device: Device;
  isolated: boolean;
  /** The step the technician stands at: the first that is neither done nor left; `null` when all are done. */
  cursor: number | null;
  /** Step of the latest action that can be taken back, with its item when only that is. */
  undoable: { step: number; item: string | null } | null;
}

/** Verbs whose items are recorded one by one. */
export function itemWise(step: Step): 'screw' | 'connector' | 'test' | null {
  if (step.do === 'unscrew' || step.do === 'fasten') return 'screw';
  if (step.do === 'disconnect' || step.do === 'desolder' || step.do === 'connect' || step.do === 'solder')
    return 'connector';
  return step.do === 'test' ? 'test' : null;
}

type Action = { step: number; item: string | null };

function actionOf(event: RunEvent): Action | null {
  switch (event.type) {
    case 'step-done':
    case 'step-left':
    case 'timer-started':
      return { step: event.step, item: null };
    case 'gate':
      return event.outcome === 'passed' ? { step: event.step, item: null } : null;
    case 'screw-out':
    case 'screw-in':
      return { step: event.step, item: event.fastener };
    case 'connector-opened':
    case 'connector-seated':
      return { step: event.step, item: event.connector };
    default:
      return null;
  }
}

/** Which events were taken back later. */
function cancelled(events: readonly RunEvent[]): Set<RunEvent> {
  const gone = new Set<RunEvent>();
  const live: { event: RunEvent; action: Action }[] = [];
  for (const event of events) {
    // Step numbers before a new plan mean other steps.
    if (event.type === 'replanned') live.length = 0;
    else if (event.type === 'step-undone') {
      const wholeStep = event.item === null;
      for (let i = live.length - 1; i >= 0; i--) {
        const { event: earlier, action } = live[i]!;
        if (action.step !== event.step) continue;
        if (wholeStep || action.item === null || action.item === event.item) {
          gone.add(earlier);
          live.splice(i, 1);
          if (!wholeStep && action.item === event.item) break;
        }
      }
    } else {
      const action = actionOf(event);
      if (action) live.push({ event, action });
    }
  }
  return gone;
}

/** The state of a job before anything happened on it. */
function atTheStart(context: RunContext): RunState {
  return {
    context,
    seq: 0,
    startedAt: null,
    lastAt: null,
    done: new Map(),
    left: new Set(),
    items: new Map(),
    out: new Map(),
    screwsOut: new Set(),
    screwsIn: new Set(),
    timers: new Map(),
    deviations: [],
    tests: new Map(),
    gates: new Map(),
    photos: [],
    notes: [],
    readings: [],
    agreed: null,
    signedOff: null,
    device: closedDevice(),
    isolated: false,
    cursor: null,
    undoable: null,
  };
}

/** A state that may be changed without changing `s`. */
function copyState(s: RunState): RunState {
  const copies = <K, V extends object>(map: ReadonlyMap<K, V>) =>
    new Map([...map].map(([key, value]) => [key, { ...value }] as const));
  return {
    ...s,
    done: new Map(s.done),
    left: new Set(s.left),
    items: new Map([...s.items].map(([n, ids]) => [n, new Set(ids)])),
    out: new Map(s.out),
    screwsOut: new Set(s.screwsOut),
    screwsIn: new Set(s.screwsIn),
    timers: copies(s.timers),
    deviations: [...s.deviations],
    tests: new Map(s.tests),
    gates: new Map(s.gates),
    photos: s.photos.map((p) => ({ ...p })),
    notes: s.notes.map((n) => ({ ...n })),
    readings: [...s.readings],
    device: copyDevice(s.device),
  };
}

/**
 * @param context what the job began with
 * @param events in the order of their `seq`, from 1 without a gap
 * @param known the state of a beginning of these events, left as it is: only what follows it is folded, unless something is taken back
 */
export function foldRun(context: RunContext, events: readonly RunEvent[], known?: RunState | null): RunState {
  const goesOn =
    known &&
    known.seq <= events.length &&
    (known.seq === 0 || events[known.seq - 1]!.seq === known.seq) &&
    !events.slice(known.seq).some((event) => event.type === 'step-undone');
  if (goesOn && known.seq > 0 && known.seq === events.length) return known;
  const state = goesOn ? copyState(known) : atTheStart(context);
  const gone = goesOn ? null : cancelled(events);
  for (const event of goesOn ? events.slice(known.seq) : events) {
    state.seq = event.seq;
    if (!gone?.has(event)) apply(state.context, state, event);
  }
  const { checker, plan } = state.context;
  state.isolated = checker.isolated(state.device);
  state.cursor =
    plan.steps.find((s) => !state.done.has(s.n) && !state.left.has(s.n))?.n ??
    plan.steps.find((s) => !state.done.has(s.n))?.n ??
    null;
  return state;
}

function apply(context: RunContext, state: RunState, event: RunEvent): void {
  const physical = (step: Step, items: string[]) => {
    const fresh = items.filter((id) => !state.items.get(step.n)?.has(id));
    state.device = context.checker.advance(state.device, { ...step, items: fresh });
    const dealt = state.items.get(step.n) ?? new Set<string>();
    for (const id of items) dealt.add(id);
    state.items.set(step.n, dealt);
  };
  const action = actionOf(event);
  if (action) {
    state.startedAt ??= event.at;
    state.lastAt = event.at;
    // The last item of a step closes it; taking that back takes back the item, not the whole step.
    const closes = event.type === 'step-done' && state.undoable?.step === event.step && state.undoable.item !== null;
    if (!closes) state.undoable = action;
  }
  switch (event.type) {
    case 'step-done': {
      const step = context.steps.get(event.step);
      if (!step) break;
      physical(step, step.items);
      if (step.do === 'release')
        for (const id of step.items)
          if (context.model.fasteners.has(id)) {
            state.out.set(id, context.wells.get(id) ?? null);
            state.screwsOut.add(id);
          }
      state.done.set(step.n, event.at);
      state.left.delete(step.n);
      break;
    }
    case 'step-left':
      state.left.add(event.step);
      break;
    case 'screw-out':
    case 'screw-in': {
      const step = context.steps.get(event.step);
      if (!step) break;
      physical(step, [event.fastener]);
      if (event.type === 'screw-out') {
        state.out.set(event.fastener, event.well);
        state.screwsOut.add(event.fastener);
        state.screwsIn.delete(event.fastener);
      } else {
        state.out.delete(event.fastener);
        state.screwsIn.add(event.fastener);
      }
      break;
    }
    case 'connector-opened':
    case 'connector-seated': {
      const step = context.steps.get(event.step);
      if (!step) break;
      physical(step, [event.connector]);
      // What was proved before a connector was opened again is not proved any more.
      if (event.type === 'connector-opened')
        for (const f of context.model.connectors.get(event.connector)?.carries ?? []) state.tests.delete(f);
      break;
    }
    case 'deviation':
      state.deviations.push({ item: event.item, kind: event.kind, note: event.note, at: event.at, step: null });
      if (event.kind === 'missing' && event.item !== null && context.model.parts.has(event.item)) {
        for (const id of joinedTo(context.model, event.item)) {
          state.device.absent.add(id);
          state.out.delete(id);
        }
        state.device = context.checker.without(state.device, event.item);
      }
      if (event.kind === 'missing' && event.item !== null && context.model.fasteners.has(event.item)) {
        state.device.absent.add(event.item);
        state.out.delete(event.item);
        for (const step of context.plan.steps)
          if (itemWise(step) === 'screw' && step.items.includes(event.item))
            state.items.set(step.n, (state.items.get(step.n) ?? new Set()).add(event.item));
      }
      break;
    case 'reading':
      state.readings.push({ sensor: event.sensor, value: event.value, unit: event.unit, at: event.at });
      break;
    case 'timer-started':
      state.timers.set(event.timer, {
        id: event.timer,
        step: event.step,
        seconds: event.seconds,
        startedAt: event.at,
        endedAt: null,
        reason: '',
      });
      break;
    case 'timer-ended': {
      const timer = state.timers.get(event.timer);
      if (timer) Object.assign(timer, { endedAt: event.at, reason: event.reason });
      break;
    }
    case 'photo':
      state.photos.push({ photo: event.photo, step: event.step, note: event.note, at: event.at });
      break;
    case 'note':
      state.notes.push({ step: event.step, text: event.text, at: event.at, by: event.by });
      break;
    case 'gate':
      state.gates.set(event.step, { outcome: event.outcome, reason: event.reason, at: event.at });
      break;
    case 'test':
      state.tests.set(event.function, { outcome: event.outcome, reason: event.reason, at: event.at });
      break;
    case 'losses-agreed':
      state.agreed = { losses: event.losses, at: event.at, by: event.by };
      break;
    case 'replanned':
      replan(state, event);
      break;
    case 'signed-off':
      state.signedOff = { name: event.name, at: event.at };
      break;
  }
}

const contexts = new WeakMap<Plan, RunContext>();

/** Steps get new numbers; what was done stays done, what was left for later is asked again. */
function replan(state: RunState, event: Replanned): void {
  const before = state.context;
  let context = contexts.get(event.plan);
  if (!context) {
    context = runContext(event.anatomy ? modelOf(event.anatomy) : before.model, event.plan);
    contexts.set(event.plan, context);
  }
  const now = new Map(event.kept);
  const move = <T>(map: ReadonlyMap<number, T>) =>
    new Map([...map].flatMap(([n, value]) => (now.has(n) ? [[now.get(n)!, value] as const] : [])));
  const stepNow = (n: number | null) => (n === null ? null : (now.get(n) ?? null));
  state.context = context;
  // A step that was done in part is kept as a step of its own that is done.
  const doneAt = new Map(event.kept.map(([old, n]) => [n, state.done.get(old) ?? state.lastAt ?? '']));
  state.done = doneAt;
  state.items = new Map(event.kept.map(([, n]) => [n, new Set(context.steps.get(n)!.items)]));
  state.left = new Set();
  state.gates = move(state.gates);
  state.timers = new Map(
    [...state.timers.values()]
      .flatMap((t) => (now.has(t.step) ? [{ ...t, step: now.get(t.step)!, id: `step-${now.get(t.step)!}` }] : []))
      .map((t) => [t.id, t]),
  );
  for (const photo of state.photos) photo.step = stepNow(photo.step);
  for (const note of state.notes) note.step = stepNow(note.step);
  for (const id of event.restored)
    if (state.device.absent.delete(id) && context.model.fasteners.has(id)) {
      state.device.out.add(id);
      state.out.set(id, null);
      state.screwsOut.add(id);
    }
  state.undoable = null;
}

/** Seconds a timer still has to run at `now`, 0 when it has run or was ended. */
export function timerLeft(timer: Timer, now: number): number {
  if (timer.endedAt !== null) return 0;
  return Math.max(0, timer.seconds - (now - Date.parse(timer.startedAt)) / 1000);
}

export function timerId(step: Step): string {
  return `step-${step.n}`;
}

/** A wait that runs beside the next steps; the others are waited for at their own step. */
export function runsBeside(context: RunContext, step: Step): boolean {
  const next = context.steps.get(step.n + 1);
  return step.waits > 0 && next !== undefined && !next.waitsFor.includes(step.n);
}

/** The waits that keep a step from being begun: timers still running, and steps whose wait was never started. */
export function waitsBefore(state: RunState, step: Step, now: number): { step: number; left: number }[] {
  return step.waitsFor.flatMap((n) => {
    const timer = state.timers.get(`step-${n}`);
    if (!timer) return state.done.has(n) ? [] : [{ step: n, left: state.context.steps.get(n)!.waits }];
    const left = timerLeft(timer, now);
    return left > 0 ? [{ step: n, left }] : [];
  });
}
