import { functionsOn, proofRestsOn } from '../dive/index.ts';
import type { RunContext } from './context.ts';
import { contextAfter } from './contextAfter.ts';
import { isServerMade, type EventBody, type RunEvent } from './events.ts';
import type { Action } from './state.ts';

/** What an event does that can be taken back, or `null`. */
export function actionOf(event: EventBody): Action | null {
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

/** Does an event take back what was recorded before it? */
export const takesBack = ({ type }: EventBody): boolean => type === 'step-undone' || type === 'act-undone';

/** The items that an action moves. */
const movedBy = (context: RunContext, { step, item }: Action): readonly string[] =>
  item === null ? (context.steps.get(step)?.items ?? []) : [item];

/**
 * Which events were taken back later. With an action goes every test made between it and its taking back whose proof
 * rests on what the action had put in its place.
 */
export function cancelled(origin: RunContext, events: readonly RunEvent[]): Set<RunEvent> {
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
    if (isServerMade(event)) {
      // A step of an older plan is not taken back in a newer one.
      if (event.type !== 'anatomy-edited') live.length = 0;
      context = contextAfter(context, event);
    } else if (event.type === 'act-undone') {
      const act = events.slice(0, place).find((e) => e.id === event.act);
      if (act) gone.add(act);
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
