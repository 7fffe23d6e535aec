import type { Step } from '../dive/index.ts';
import { admit, type Refusal } from './admit.ts';
import type { EventBody } from './events.ts';
import { itemWise, runsBeside, timerId, timerLeft, waitsBefore, type RunContext, type RunState } from './fold.ts';
import { gateBlockers } from './gates.ts';

/** What the one key does now: events to record, or why it cannot. */
export type Move =
  | { kind: 'events'; events: EventBody[] }
  | { kind: 'wait'; seconds: number }
  | { kind: 'refused'; refusal: Refusal; record: EventBody[] };

/** Items of a step still to be dealt with. */
export function itemsLeft(state: RunState, step: Step): string[] {
  const dealt = state.items.get(step.n);
  if (itemWise(step) === 'test') return step.items.filter((f) => !state.tests.has(f));
  return step.items.filter((id) => !dealt?.has(id) && !state.device.absent.has(id));
}

function itemEvent(context: RunContext, step: Step, id: string): EventBody {
  switch (step.do) {
    case 'unscrew':
      return { type: 'screw-out', step: step.n, fastener: id, well: context.wells.get(id) ?? null };
    case 'fasten':
      return { type: 'screw-in', step: step.n, fastener: id, well: context.wells.get(id) ?? null };
    case 'disconnect':
    case 'desolder':
      return { type: 'connector-opened', step: step.n, connector: id };
    case 'test':
      return { type: 'test', function: id, outcome: 'pass', reason: '' };
    default:
      return { type: 'connector-seated', step: step.n, connector: id };
  }
}

/**
 * The move of the one key at `step`.
 * @param whole deal with everything left in the step at once, not only the next item
 */
export function moveAt(context: RunContext, state: RunState, step: Step, now: number, whole = false): Move {
  const done: EventBody = { type: 'step-done', step: step.n };
  const offer = (events: EventBody[]): Move => {
    const refusal = admit(context, state, events[0]!, now);
    return refusal ? { kind: 'refused', refusal, record: [] } : { kind: 'events', events };
  };
  if (state.done.has(step.n))
    return {
      kind: 'refused',
      record: [],
      refusal: { rule: 'run', message: `step ${step.n} is done already`, item: null, blockers: [] },
    };
  // A press is asked for by its gate; every other wait is simply waited for.
  const before =
    step.gate === 'G6' ? [] : waitsBefore(state, step, now).filter((w) => state.timers.has(`step-${w.step}`));
  if (before.length > 0) return { kind: 'wait', seconds: Math.max(...before.map((w) => w.left)) };
  if (step.gate) {
    const blockers = gateBlockers(context, state, step, now);
    if (blockers.length === 0)
      return {
        kind: 'events',
        events: [{ type: 'gate', step: step.n, gate: step.gate, outcome: 'passed', reason: '' }, done],
      };
    const refusal: Refusal = { rule: step.gate, message: blockers[0]!.because, item: blockers[0]!.item, blockers };
    const again =
      state.gates.get(step.n)?.outcome === 'refused' && state.gates.get(step.n)?.reason === blockers[0]!.because;
    return {
      kind: 'refused',
      refusal,
      record: again
        ? []
        : [{ type: 'gate', step: step.n, gate: step.gate, outcome: 'refused', reason: blockers[0]!.because }],
    };
  }
  const kind = itemWise(step);
  if (kind) {
    const left = itemsLeft(state, step);
    if (left.length === 0) return offer([done]);
    const taken = whole ? left : left.slice(0, 1);
    const events = taken.map((id) => itemEvent(context, step, id));
    return offer(taken.length === left.length ? [...events, done] : events);
  }
  if (step.waits > 0) {
    const timer = state.timers.get(timerId(step));
    const start: EventBody = { type: 'timer-started', timer: timerId(step), step: step.n, seconds: step.waits };
    if (!timer) return offer(runsBeside(context, step) ? [start, done] : [start]);
    const left = timerLeft(timer, now);
    if (left > 0 && !runsBeside(context, step)) return { kind: 'wait', seconds: left };
  }
  return offer([done]);
}

/** The move that deals with one item of a step, out of turn: a screw tapped on the drawing. */
export function moveItem(context: RunContext, state: RunState, step: Step, id: string, now: number): Move {
  const event = itemEvent(context, step, id);
  const refusal = admit(context, state, event, now);
  if (refusal) return { kind: 'refused', refusal, record: [] };
  const rest = itemsLeft(state, step).filter((other) => other !== id);
  return { kind: 'events', events: rest.length === 0 ? [event, { type: 'step-done', step: step.n }] : [event] };
}
