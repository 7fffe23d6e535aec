import { modelOf } from '../anatomy/index.ts';
import { functionsOn, joinedTo, proofRestsOn, undoesProof, type Plan, type Step } from '../dive/index.ts';
import { runContext, type RunContext } from './context.ts';
import type { DeviationKind, Edited, EventBody, Planned, Replanned, RunEvent } from './events.ts';
import { atTheStart, copyState, itemWise, type Action, type RunState, type TestResult } from './state.ts';
import { coolingId, COOLING_SECONDS, isCooling } from './timers.ts';

/** What an event does that can be taken back, or `null`. */
function actionOf(event: EventBody): Action | null {
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

/** The items that an action moves. */
const movedBy = (context: RunContext, { step, item }: Action): readonly string[] =>
  item === null ? (context.steps.get(step)?.items ?? []) : [item];

/**
 * Which events were taken back later. With an action goes every test made between it and its taking back whose proof
 * rests on what the action had put in its place.
 */
function cancelled(origin: RunContext, events: readonly RunEvent[]): Set<RunEvent> {
  const gone = new Set<RunEvent>();
  const live: { event: RunEvent; action: Action; place: number }[] = [];
  let context = origin;
  const cancel = (i: number, now: number) => {
    const { event, action, place } = live[i]!;
    gone.add(event);
    live.splice(i, 1);
    const step = context.steps.get(action.step);
    if (!step || !proofRestsOn(step.do)) return;
    const rested = new Set(movedBy(context, action).flatMap((id) => [...functionsOn(context.model, id)]));
    for (const later of events.slice(place + 1, now)) {
      if (later.type === 'test' && rested.has(later.function) && later.circumstance !== 'intake') gone.add(later);
    }
  };
  for (const [place, event] of events.entries()) {
    if (event.type === 'planned' || event.type === 'replanned' || event.type === 'anatomy-edited') {
      // A step of an older plan is not taken back in a newer one.
      if (event.type !== 'anatomy-edited') live.length = 0;
      context = contextAfter(context, event);
    } else if (event.type === 'step-undone') {
      const wholeStep = event.item === null;
      for (let i = live.length - 1; i >= 0; i--) {
        const { action } = live[i]!;
        if (action.step !== event.step) continue;
        if (wholeStep || action.item === null || action.item === event.item) {
          cancel(i, place);
          if (!wholeStep && action.item === event.item) break;
        }
      }
    } else {
      const action = actionOf(event);
      if (action) live.push({ event, action, place });
    }
  }
  return gone;
}

const derived = new WeakMap<object, RunContext>();

/** The dive and the device after a change of either; made once for each event. */
function contextAfter(before: RunContext, event: RunEvent & (Planned | Replanned | Edited)): RunContext {
  const key: object = event.type === 'anatomy-edited' ? event.anatomy : event.plan;
  const known = derived.get(key);
  if (known) return known;
  const edited = event.type === 'planned' ? null : event.anatomy;
  const model = edited ? modelOf(edited) : before.model;
  const planned = before.version > 0 ? before.plan : null;
  const plan: Plan | null = event.type === 'anatomy-edited' ? planned : event.plan;
  const version = event.type === 'anatomy-edited' ? before.version : before.version + 1;
  const context = runContext(model, plan, version);
  derived.set(key, context);
  return context;
}

/** What stands after the last event: read off the state, so that it is done once for a batch. */
function settle(state: RunState): RunState {
  const { checker } = state.context;
  state.isolated = checker.isolated(state.device);
  state.cursor = cursorOf(state);
  return state;
}

/** The first step that is neither done nor left, else the first that was left. */
function cursorOf({ context: { plan }, done, left }: RunState): string | null {
  const open = plan.steps.filter((s) => !done.has(s.id));
  return (open.find((s) => !left.has(s.id)) ?? open[0])?.id ?? null;
}

function resultOf(event: Extract<RunEvent, { type: 'test' }>): TestResult {
  const { function: id, outcome, reason, circumstance, at, by } = event;
  return { function: id, outcome, reason, circumstance, at, by };
}

/**
 * @param context what the job began with
 * @param events in the order of their `seq`, from 1 without a gap
 * @param known the state of a beginning of these events, left as it is: only what follows it is folded, unless
 *   something is taken back
 */
export function foldRun(context: RunContext, events: readonly RunEvent[], known?: RunState | null): RunState {
  const from = known?.seq ?? 0;
  const goesOn =
    known &&
    from <= events.length &&
    (from === 0 || events[from - 1]!.seq === from) &&
    !events.slice(from).some((event) => event.type === 'step-undone');
  if (goesOn && from > 0 && from === events.length) return known;
  const state = goesOn ? copyState(known) : atTheStart(context);
  const gone = goesOn ? null : cancelled(context, events);
  for (const event of goesOn ? events.slice(from) : events) {
    if (!gone?.has(event)) apply(state, event);
    else {
      state.seq = event.seq;
      if (event.type === 'test') state.tested.push(resultOf(event));
    }
  }
  return settle(state);
}

/**
 * Folds one more event into a state, in place: the cost does not grow with what has happened before.
 * @returns false, the state untouched, for what has to be folded from the start: an action that is taken back
 */
export function foldOn(state: RunState, event: RunEvent): boolean {
  if (event.type === 'step-undone') return false;
  apply(state, event);
  settle(state);
  return true;
}

/** A fold that goes on event by event, and leaves the state that it began with as it is. */
export class Folding {
  private own = false;
  private readonly added: RunEvent[] = [];

  /**
   * @param origin what the job began with
   * @param before the events that `state` is the fold of
   */
  constructor(
    private readonly origin: RunContext,
    private readonly before: readonly RunEvent[],
    public state: RunState,
  ) {}

  add(event: RunEvent): void {
    this.added.push(event);
    if (!this.own) this.state = copyState(this.state);
    this.own = true;
    if (!foldOn(this.state, event)) this.state = foldRun(this.origin, [...this.before, ...this.added]);
  }
}

function apply(state: RunState, event: RunEvent): void {
  state.seq = event.seq;
  const { context } = state;
  const action = actionOf(event);
  if (action) {
    state.startedAt ??= event.at;
    const since = state.lastAt === null ? 0 : Date.parse(event.at) - Date.parse(state.lastAt);
    if (since >= 0) {
      state.elapsed += since / 1000;
      state.lastAt = event.at;
    } else {
      state.backwards++;
      state.lastAt ??= event.at;
    }
    // The last item of a step closes it; taking that back takes back the item, not the whole step.
    const closes = event.type === 'step-done' && state.undoable?.step === event.step && state.undoable.item !== null;
    if (!closes) state.undoable = action;
  }
  switch (event.type) {
    case 'step-done': {
      const step = context.steps.get(event.step);
      if (!step) break;
      move(state, step, step.items);
      if (step.do === 'release') {
        for (const id of step.items) if (context.model.fasteners.has(id)) takeOut(state, id, context.wells.get(id));
      }
      state.done.set(step.id, event.at);
      state.left.delete(step.id);
      break;
    }
    case 'step-left':
      state.left.add(event.step);
      break;
    case 'screw-out':
    case 'screw-in': {
      const step = context.steps.get(event.step);
      if (!step) break;
      move(state, step, [event.fastener]);
      if (event.type === 'screw-out') takeOut(state, event.fastener, event.well);
      else {
        state.out.delete(event.fastener);
        state.screwsIn.add(event.fastener);
      }
      break;
    }
    case 'connector-opened':
    case 'connector-seated': {
      const step = context.steps.get(event.step);
      if (step) move(state, step, [event.connector]);
      break;
    }
    case 'deviation':
      deviate(state, event);
      break;
    case 'reading':
      state.readings.push({ sensor: event.sensor, value: event.value, unit: event.unit, at: event.at });
      break;
    case 'torque':
      state.torques.push({
        step: event.step,
        fastener: event.fastener,
        peak: event.peak,
        verdict: event.verdict,
        accepted: event.accepted,
        at: event.at,
      });
      break;
    case 'timer-started':
      startTimer(state, event.step, event.step, event.seconds, event.at);
      break;
    case 'timer-ended': {
      const timer = state.timers.get(event.timer);
      if (timer) {
        state.timers.set(timer.id, { ...timer, endedAt: event.at, how: event.how, reason: event.reason });
      }
      break;
    }
    case 'photo':
      state.photos.push({ photo: event.photo, step: event.step, note: event.note, at: event.at });
      break;
    case 'note':
      state.notes.push({ step: event.step, text: event.text, at: event.at, by: event.by });
      break;
    case 'act':
      state.acts.push({ act: event.act, item: event.item, note: event.note, at: event.at, by: event.by });
      break;
    case 'tried':
      state.trials.push({
        standing: event.standing,
        worked: event.worked,
        note: event.note,
        at: event.at,
        by: event.by,
      });
      break;
    case 'gate':
      state.gates.set(event.step, { outcome: event.outcome, reason: event.reason, at: event.at });
      break;
    case 'test': {
      const result = resultOf(event);
      const { function: id, outcome, circumstance } = result;
      state.tested.push(result);
      if (circumstance === 'intake') {
        state.before.set(id, result);
        break;
      }
      state.tests.set(id, result);
      if (outcome === 'fail') state.device.proved.delete(id);
      else state.device.proved.add(id);
      break;
    }
    case 'losses-agreed':
      state.agreed = { losses: event.losses, version: state.version, at: event.at, by: event.by };
      break;
    case 'planned':
      state.context = contextAfter(context, event);
      state.version = state.context.version;
      // What was agreed was agreed of another plan.
      state.agreed = null;
      break;
    case 'replanned':
      replan(state, event);
      break;
    case 'anatomy-edited':
      state.context = contextAfter(context, event);
      break;
    case 'signed-off':
      state.signedOff = { name: event.name, at: event.at };
      break;
    case 'step-undone':
      break;
    default:
      event satisfies never;
  }
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

function startTimer(state: RunState, id: string, step: string, seconds: number, at: string): void {
  state.timers.set(id, { id, step, seconds, startedAt: at, endedAt: null, how: null, reason: '' });
}

type Deviated = Extract<RunEvent, { type: 'deviation' }>;

function deviate(state: RunState, event: Deviated): void {
  const { item, kind, note, at } = event;
  const value = event.value ?? null;
  const { model, checker, plan } = state.context;
  if (kind === 'overheated') {
    overheat(state, event);
    return;
  }
  state.deviations.push({ item, kind, note, at, value });
  if (kind !== 'missing' || item === null) return;
  if (model.parts.has(item)) {
    for (const id of joinedTo(model, item)) {
      state.device.absent.add(id);
      state.out.delete(id);
    }
    state.device = checker.without(state.device, item);
  }
  if (model.fasteners.has(item)) {
    state.device.absent.add(item);
    state.out.delete(item);
    for (const step of plan.steps) {
      if (itemWise(step) !== 'screw' || !step.items.includes(item)) continue;
      state.items.set(step.id, new Set(state.items.get(step.id)).add(item));
    }
  }
}

/** A limit was passed: the peak stands in the record, and the device cools before anything goes on. */
function overheat(state: RunState, { item, note, at, value }: Deviated): void {
  const peak = value ?? null;
  const kind: DeviationKind = 'overheated';
  const known = state.deviations.findIndex((d) => d.kind === kind && d.item === item);
  const worst = Math.max(peak ?? Number.NEGATIVE_INFINITY, state.deviations[known]?.value ?? Number.NEGATIVE_INFINITY);
  const told = { item, kind, note, at, value: Number.isFinite(worst) ? worst : null };
  if (known >= 0) state.deviations[known] = told;
  else state.deviations.push(told);
  const step = cursorOf(state);
  if (step !== null) startTimer(state, coolingId(step), step, COOLING_SECONDS, at);
}

/** What was done stays done, what was left for later is asked again. */
function replan(state: RunState, event: RunEvent & Replanned): void {
  const context = contextAfter(state.context, event);
  const kept = new Set(event.kept);
  const keep = <T>(map: ReadonlyMap<string, T>) => new Map([...map].filter(([id]) => kept.has(id)));
  state.context = context;
  state.version = context.version;
  // A step that was done in part is kept as a step of its own that is done.
  state.done = new Map(event.kept.map((id) => [id, state.done.get(id) ?? state.lastAt ?? event.at]));
  state.items = new Map(event.kept.map((id) => [id, new Set(context.steps.get(id)?.items)]));
  state.left = new Set();
  state.gates = keep(state.gates);
  state.timers = new Map([...state.timers].filter(([, t]) => kept.has(t.step) || isCooling(t)));
  for (const id of event.restored) {
    if (!state.device.absent.delete(id) || !context.model.fasteners.has(id)) continue;
    state.device.out.add(id);
    state.out.set(id, null);
    state.screwsOut.add(id);
  }
  state.undoable = null;
}
