import type { Step } from '../dive/index.ts';
import { admit, refuse, testsLeft, type Refusal } from './admit.ts';
import type { RunContext } from './context.ts';
import type { EventBody } from './events.ts';
import { sameMessage } from '../message/index.ts';
import { gateBlockers } from './gates.ts';
import { circumstanceNow, itemWise, type RunState } from './state.ts';
import { runsBeside, timerId, timerLeft, waitsBefore } from './timers.ts';

/** What the one key does now: events to record, or why it cannot. */
export type Move =
  | { kind: 'events'; events: EventBody[] }
  | { kind: 'wait'; seconds: number }
  | { kind: 'refused'; refusal: Refusal; record: EventBody[] };

/** Items of a step still to be dealt with. */
export function itemsLeft(state: RunState, step: Step): string[] {
  if (itemWise(step) === 'test') return testsLeft(state.context, state, step);
  const dealt = state.items.get(step.id);
  return step.items.filter((id) => !dealt?.has(id) && !state.device.absent.has(id));
}

function itemEvent(context: RunContext, state: RunState, step: Step, id: string): EventBody {
  const well = context.wells.get(id) ?? null;
  switch (step.do) {
    case 'unscrew':
      return { type: 'screw-out', step: step.id, fastener: id, well };
    case 'fasten':
      return { type: 'screw-in', step: step.id, fastener: id, well };
    case 'disconnect':
    case 'desolder':
      return { type: 'connector-opened', step: step.id, connector: id };
    case 'test':
      return { type: 'test', function: id, outcome: 'pass', reason: '', circumstance: circumstanceNow(state) };
    default:
      return { type: 'connector-seated', step: step.id, connector: id };
  }
}

/**
 * The move of the one key at `step`.
 * @param whole deal with everything left in the step at once, not only the next item
 */
export function moveAt(context: RunContext, state: RunState, step: Step, now: number, whole = false): Move {
  const done: EventBody = { type: 'step-done', step: step.id };
  const offer = (events: EventBody[]): Move => {
    const refusal = admit(context, state, events[0]!, now);
    return refusal ? { kind: 'refused', refusal, record: [] } : { kind: 'events', events };
  };
  if (state.done.has(step.id)) return offer([done]);
  // A press is asked for by its gate; every other wait is simply waited for.
  const before = step.gate === 'G6' ? [] : waitsBefore(state, step, now).filter((w) => w.started);
  if (before.length > 0) return { kind: 'wait', seconds: Math.max(...before.map((w) => w.left)) };
  if (step.gate) return moveAtGate(context, state, step, now);
  if (itemWise(step)) {
    const left = itemsLeft(state, step);
    if (left.length === 0) return offer([done]);
    const taken = whole ? left : left.slice(0, 1);
    const events = taken.map((id) => itemEvent(context, state, step, id));
    return offer(taken.length === left.length ? [...events, done] : events);
  }
  if (step.waits > 0) {
    const timer = state.timers.get(timerId(step));
    const start: EventBody = { type: 'timer-started', step: step.id, seconds: step.waits };
    if (!timer) return offer(runsBeside(context, step) ? [start, done] : [start]);
    const left = timerLeft(timer, now);
    if (left > 0 && !runsBeside(context, step)) return { kind: 'wait', seconds: left };
  }
  return offer([done]);
}

function moveAtGate(context: RunContext, state: RunState, step: Step, now: number): Move {
  const gate = step.gate!;
  const pass: EventBody = { type: 'gate', step: step.id, gate, outcome: 'passed', reason: '' };
  const blockers = gateBlockers(context, state, step, now);
  if (blockers.length === 0) {
    const refusal = admit(context, state, pass, now);
    if (refusal) return { kind: 'refused', refusal, record: [] };
    return { kind: 'events', events: [pass, { type: 'step-done', step: step.id }] };
  }
  const { said, item } = blockers[0]!;
  const refusal = refuse(gate, said, item, blockers);
  const last = state.gates.get(step.id);
  const again = last?.outcome === 'refused' && sameMessage(last.blocked, said);
  const told: EventBody = { type: 'gate', step: step.id, gate, outcome: 'refused', reason: '', blocked: said };
  return { kind: 'refused', refusal, record: again ? [] : [told] };
}

/** The move that deals with one item of a step, out of turn: a screw tapped on the drawing. */
export function moveItem(context: RunContext, state: RunState, step: Step, id: string, now: number): Move {
  const event = itemEvent(context, state, step, id);
  const refusal = admit(context, state, event, now);
  if (refusal) return { kind: 'refused', refusal, record: [] };
  const rest = itemsLeft(state, step).filter((other) => other !== id);
  return { kind: 'events', events: rest.length === 0 ? [event, { type: 'step-done', step: step.id }] : [event] };
}
