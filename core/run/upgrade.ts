import { type Anatomy, type Model, modelOf } from '../anatomy/index.ts';
import { nameSteps, stepIds, type Plan } from '../dive/index.ts';
import { runContext, withWells } from './context.ts';
import type { EventBody, RunEvent } from './events.ts';
import { foldRun } from './fold.ts';
import { circumstanceNow, type RunState } from './state.ts';

/** An event of the time when a step was named by its place in the plan. */
export interface OldEvent {
  id: string;
  job: string;
  seq: number;
  at: string;
  by: string;
  type: string;
  [field: string]: unknown;
}

interface OldReplanned {
  plan: Plan;
  kept: [old: number, now: number][];
  anatomy: Anatomy | null;
}

/**
 * A job of the time when a step was its place, as it would be written today: its plan with named steps, its events
 * with the steps they mean and the plan they were made against.
 */
export function upgradeLog(
  model: Model,
  oldPlan: Plan | null,
  old: readonly OldEvent[],
): { plan: Plan | null; events: RunEvent[] } {
  const plan = oldPlan === null ? null : withWells(model, named(oldPlan));
  const context = runContext(model, plan);
  let now = context.plan;
  let device = model;
  let version = context.version;
  const events: RunEvent[] = [];
  let state: RunState = foldRun(context, events);
  for (const { id, job, seq, at, by, ...rest } of old) {
    const body: Record<string, unknown> = { ...rest };
    const idOf = (n: unknown) => now.steps[Number(n) - 1]?.id ?? `step-${String(n)}`;
    if (typeof body.step === 'number') body.step = idOf(body.step);
    if (body.type === 'timer-started') delete body.timer;
    if (body.type === 'timer-ended') {
      body.timer = idOf(String(body.timer).replace('step-', ''));
      body.how = 'judged';
    }
    if (body.type === 'test') body.circumstance = circumstanceNow(state);
    if (body.type === 'deviation') body.value = null;
    const made = version;
    if (body.type === 'replanned') {
      const { plan: next, kept, anatomy } = rest as unknown as OldReplanned;
      if (anatomy) device = modelOf(anatomy);
      const before = now;
      now = withWells(device, carried(before, next, kept));
      body.plan = now;
      body.kept = kept.map(([, n]) => now.steps[n - 1]!.id);
      version++;
    }
    events.push({ id, job, seq, at, by, version: made, ...(body as EventBody) });
    state = foldRun(context, events, state);
  }
  return { plan, events };
}

/** A plan whose steps have names; one that has them already is left as it is. */
function named(plan: Plan): Plan {
  if (plan.steps.every((s) => typeof s.id === 'string')) return plan;
  const steps = plan.steps.map((s) => ({ ...s }));
  nameSteps(steps);
  return { ...plan, steps };
}

/** A plan that went on from another: what was kept has the name it had there. */
function carried(before: Plan, next: Plan, kept: OldReplanned['kept']): Plan {
  const from = new Map(kept.map(([old, n]) => [n, before.steps[old - 1]!.id]));
  const fresh = next.steps.filter((s) => !from.has(s.n));
  const ids = stepIds(fresh, from.values());
  const idOf = new Map(fresh.map((s, i) => [s.n, ids[i]!]));
  return { ...next, steps: next.steps.map((s) => ({ ...s, id: from.get(s.n) ?? idOf.get(s.n)! })) };
}
