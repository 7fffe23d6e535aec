import { modelOf } from '../anatomy/index.ts';
import type { Plan } from '../dive/index.ts';
import { runContext, type RunContext } from './context.ts';
import type { RunEvent, ServerMade } from './events.ts';

const derived = new WeakMap<object, RunContext>();

/** The dive and the device after a change of either; made once for each event. */
export function contextAfter(before: RunContext, event: RunEvent & ServerMade): RunContext {
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
