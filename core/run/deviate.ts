import type { DeviationKind, RunEvent } from './events.ts';
import { cursorOf, itemWise, type RunState } from './state.ts';
import { coolingId, COOLING_SECONDS, startTimer } from './timers.ts';

type Deviated = Extract<RunEvent, { type: 'deviation' }>;

/** What happened otherwise than planned: it stands in the record, and what is gone is asked for no more. */
export function deviate(state: RunState, event: Deviated): void {
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
    for (const id of checker.joinedTo(item)) {
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
