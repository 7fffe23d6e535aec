import { isOverLimit, type AgreementTerms } from '../counter/index.ts';
import { functionsOn, undoesProof, type Step } from '../dive/index.ts';
import { contextAfter } from './contextAfter.ts';
import { deviate } from './deviate.ts';
import type { Replanned, RunEvent, TurnedRound } from './events.ts';
import { priceNow, sameWork, type RunState, type TestResult } from './state.ts';
import { actionOf } from './taken.ts';
import { isCooling, startTimer } from './timers.ts';
import { APPLY_CARE } from './care.ts';
import { heatedBefore } from './heatedBefore.ts';

type Of<T extends RunEvent['type']> = RunEvent & { type: T };

/** Does to a state, in place, what an event says. */
export function apply(state: RunState, event: RunEvent): void {
  state.seq = event.seq;
  clock(state, event);
  // A page that is older than its server may be told of a kind of event that it does not know.
  (APPLY[event.type] as ((state: RunState, event: RunEvent) => void) | undefined)?.(state, event);
}

/** The time that goes by between two actions, and which of them can be taken back. */
function clock(state: RunState, event: RunEvent): void {
  const action = actionOf(event);
  if (!action && event.type !== 'act') return;
  state.startedAt ??= event.at;
  const since = state.lastAt === null ? 0 : Date.parse(event.at) - Date.parse(state.lastAt);
  if (since >= 0) {
    state.elapsed += since / 1000;
    state.lastAt = event.at;
  } else {
    state.backwards++;
    state.lastAt ??= event.at;
  }
  if (!action) return;
  // The last item of a step closes it; taking that back takes back the item, not the whole step.
  const closes = event.type === 'step-done' && state.undoable?.step === event.step && state.undoable.item !== null;
  if (!closes) state.undoable = action;
}

/** One entry for each kind of event. */
const APPLY: { [T in RunEvent['type']]: (state: RunState, event: Of<T>) => void } = {
  'step-done': stepDone,
  'step-left': (state, event) => void state.left.add(event.step),
  'step-undone': () => {},
  'screw-out': (state, event) => {
    if (moveItem(state, event.step, event.fastener)) takeOut(state, event.fastener, event.well);
  },
  'screw-in': (state, event) => {
    if (!moveItem(state, event.step, event.fastener)) return;
    state.out.delete(event.fastener);
    state.screwsIn.add(event.fastener);
  },
  'connector-opened': (state, event) => void moveItem(state, event.step, event.connector),
  'connector-seated': (state, event) => void moveItem(state, event.step, event.connector),
  deviation: deviate,
  reading: (state, { sensor, value, unit, at, heated }) =>
    void state.readings.push({ sensor, value, unit, at, heated: heated ?? heatedBefore(state.context, sensor) }),
  torque: (state, { step, fastener, peak, verdict, accepted, at }) =>
    void state.torques.push({ step, fastener, peak, verdict, accepted, at }),
  'timer-started': (state, { step, seconds, at }) => startTimer(state, step, step, seconds, at),
  'timer-ended': (state, { timer, at, how, reason }) => {
    const known = state.timers.get(timer);
    if (known) state.timers.set(timer, { ...known, endedAt: at, how, reason });
  },
  'wait-started': (state, { wait, kind, what, item, seconds, at }) => {
    startTimer(state, wait, '', seconds, at);
    state.timers.set(wait, { ...state.timers.get(wait)!, own: { kind, what, item } });
  },
  ...APPLY_CARE,
  photo: (state, { photo, step, note, at }) => void state.photos.push({ photo, step, note, at }),
  note: (state, { step, text, said = null, at, by }) => void state.notes.push({ step, text, said, at, by }),
  act: (state, { id, act, item, note, seen, at, by }) =>
    void state.acts.push({ id, act, item, note, seen: seen ?? {}, at, by }),
  // The act that is taken back is left out by the fold.
  'act-undone': () => {},
  answered: (state, { question, answer }) => void state.answers.set(question, answer),
  tried: (state, { standing, worked, note, at, by }) => void state.trials.push({ standing, worked, note, at, by }),
  gate: (state, { step, outcome, reason, blocked = null, at }) =>
    void state.gates.set(step, { outcome, reason, blocked, at }),
  test: tested,
  'losses-agreed': (state, { losses, word, said, at, by }) => {
    state.agreed = {
      losses,
      version: state.version,
      at,
      by,
      signed: null,
      spoken: word ? { word, said } : null,
      price: priceNow(state),
    };
  },
  'screw-measured': (state, { fastener, length }) => void state.measured.set(fastener, length),
  // That it was read stands in the log; it changes nothing of the job.
  'unlock-read': () => {},
  'consent-withdrawn': (state) => {
    state.agreed = null;
  },
  agreed: (state, event) => {
    const { losses, at, by, text, signature } = event;
    state.agreed = {
      losses,
      version: state.version,
      at,
      by,
      spoken: null,
      // What is over the limit was not agreed to.
      price: isOverLimit(priceNow(state), event.limit) ? null : priceNow(state),
      signed: { terms: termsOf(event), text, signature },
    };
  },
  looked: (state, { item, found, note, at, seq }) => void state.looks.push({ item, found, note, at, seq }),
  identified: ({ counter }, { imei, serial, how }) => {
    counter.identity = { imei, serial, how };
    // What a register said was of the numbers before.
    counter.register = null;
  },
  'register-told': ({ counter }, { report }) => {
    counter.register = report;
  },
  'condition-marked': ({ counter }, { mark }) => void counter.marks.set(mark.id, mark),
  'condition-unmarked': ({ counter }, { mark }) => void counter.marks.delete(mark),
  complained: ({ counter }, { symptoms }) => {
    counter.symptoms = symptoms;
  },
  checked: ({ counter }, { check, outcome }) => {
    if (outcome === null) delete counter.checks[check];
    else counter.checks[check] = outcome;
  },
  quoted: ({ counter, version }, { quote, at, supplier, simulated }) => {
    counter.quote = { quote, version, at, supplier, simulated };
  },
  'donor-fitted': ({ counter }, { part, donor }) => void counter.donors.set(part, donor),
  parked: ({ counter }, { why, where, note, at, by }) => {
    counter.parked = { why, where, note, at, by };
  },
  resumed: ({ counter }) => {
    counter.parked = null;
  },
  'handed-on': ({ counter }, { to, where, note, at }) => {
    counter.holder = { name: to, where, note, at };
  },
  collected: ({ counter }, { name, signature, at }) => {
    counter.collected = { name, signature, at };
  },
  erased: ({ counter }) => {
    counter.erased = true;
  },
  planned: (state, event) => {
    state.context = contextAfter(state.context, event);
    state.version = state.context.version;
    // What was agreed was agreed of another plan.
    state.agreed = null;
  },
  moved: (state, event) => {
    state.context = contextAfter(state.context, event);
    state.version = state.context.version;
    state.revision = event.revision;
    state.agreed = event.holds && state.agreed ? { ...state.agreed, version: state.version } : null;
  },
  replanned: replan,
  'turned-round': turnRound,
  'anatomy-edited': (state, event) => {
    state.context = contextAfter(state.context, event);
  },
  'signed-off': (state, { name, at }) => {
    state.signedOff = { name, at };
  },
};

/** The terms of an agreement without what its event bears beside them. */
function termsOf({ losses, limit, currency, data, unfinished, language }: AgreementTerms): AgreementTerms {
  return { losses, limit, currency, data, unfinished, language };
}

function stepDone(state: RunState, event: Of<'step-done'>): void {
  const { model, steps, wells } = state.context;
  const step = steps.get(event.step);
  if (!step) return;
  move(state, step, step.items);
  if (step.do === 'release') {
    for (const id of step.items) if (model.fasteners.has(id)) takeOut(state, id, wells.get(id));
  }
  state.done.set(step.id, event.at);
  state.left.delete(step.id);
}

/** Moves one item of a step. @returns false where the plan has no such step */
function moveItem(state: RunState, id: string, item: string): boolean {
  const step = state.context.steps.get(id);
  if (step) move(state, step, [item]);
  return step !== undefined;
}

/** Does the work of a step on those of `items` that it has not dealt with yet. */
function move(state: RunState, step: Step, items: readonly string[]): void {
  const dealt = new Set(state.items.get(step.id));
  const fresh = items.filter((id) => !dealt.has(id));
  state.device = state.context.checker.advance(state.device, { ...step, items: step.do === 'test' ? [] : fresh });
  for (const id of items) dealt.add(id);
  state.items.set(step.id, dealt);
  if (!undoesProof(step.do)) return;
  // What was proved before it was undone is not proved any more.
  for (const id of fresh) for (const f of functionsOn(state.context.model, id)) state.tests.delete(f);
}

function takeOut(state: RunState, fastener: string, well: string | null | undefined): void {
  state.out.set(fastener, well ?? null);
  state.screwsOut.add(fastener);
  state.screwsIn.delete(fastener);
}

/** What a test said, as the record keeps it. */
export function resultOf(event: Of<'test'>): TestResult {
  const { function: id, outcome, reason, circumstance, at, by } = event;
  return { function: id, outcome, reason, circumstance, at, by };
}

function tested(state: RunState, event: Of<'test'>): void {
  const result = resultOf(event);
  const { function: id, outcome, circumstance } = result;
  state.tested.push(result);
  if (circumstance === 'intake') {
    state.before.set(id, result);
    return;
  }
  state.tests.set(id, result);
  if (outcome === 'fail') state.device.proved.delete(id);
  else state.device.proved.add(id);
}

/** What was done stays done, what was left for later is asked again. */
function replan(state: RunState, event: RunEvent & Replanned): void {
  const context = contextAfter(state.context, event);
  const same = sameWork(state.context.plan, context.plan);
  const { quote } = state.counter;
  // What was quoted and agreed stands while the work for it does.
  if (same && quote?.version === state.version)
    state.counter = { ...state.counter, quote: { ...quote, version: context.version } };
  if (!same && state.agreed) state.agreed = { ...state.agreed, price: null };
  const kept = new Set(event.kept);
  const keep = <T>(map: ReadonlyMap<string, T>) => new Map([...map].filter(([id]) => kept.has(id)));
  state.context = context;
  state.version = context.version;
  // A step that was done in part is kept as a step of its own that is done.
  state.done = new Map(event.kept.map((id) => [id, state.done.get(id) ?? state.lastAt ?? event.at]));
  state.items = new Map(event.kept.map((id) => [id, new Set(context.steps.get(id)?.items)]));
  state.left = new Set();
  state.gates = keep(state.gates);
  state.timers = new Map([...state.timers].filter(([, t]) => kept.has(t.step) || isCooling(t) || t.own));
  // A cell that is not moved any more begins anew if it ever is.
  if (!event.plan.transplant?.length) state.care = { ...state.care, transplant: [] };
  for (const id of event.restored) {
    if (!state.device.absent.delete(id) || !context.model.fasteners.has(id)) continue;
    state.device.out.add(id);
    state.out.set(id, null);
    state.screwsOut.add(id);
  }
  state.undoable = null;
}

/** The acts become steps that are done, on the device as they told it. */
function turnRound(state: RunState, event: RunEvent & TurnedRound): void {
  const context = contextAfter(state.context, event);
  state.context = context;
  state.version = context.version;
  state.agreed = null;
  state.goesBack = true;
  // What was found different is of items that have other names now.
  state.deviations = state.deviations.map((d) => ({
    ...d,
    item: d.item === null ? null : (event.names[d.item] ?? d.item),
  }));
  state.undoable = null;
  for (const id of event.kept) {
    const step = context.steps.get(id);
    if (!step) continue;
    state.device = context.checker.advance(state.device, step);
    state.items.set(id, new Set(step.items));
    state.done.set(id, state.lastAt ?? event.at);
    for (const item of step.items)
      if (context.model.fasteners.has(item)) takeOut(state, item, event.wells[item] ?? null);
  }
}
