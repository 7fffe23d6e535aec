import type { Model } from '../anatomy/index.ts';
import { checkerFor, currentPlan, DEFAULT_RULES, SOUND, type Plan, type PlanOne, type Step } from '../dive/index.ts';
import type { Checker } from '../judge/index.ts';
import { wellsOf, type Wells } from '../screws/index.ts';

/** What a fold needs beside the events: the dive and the device it is carried out on. */
export interface RunContext {
  model: Model;
  /** The dive; one without steps while there is none. */
  plan: Plan;
  /** 0 while there is no plan. */
  version: number;
  checker: Checker;
  wells: Wells;
  steps: ReadonlyMap<string, Step>;
}

/** The dive of a job that has none yet. */
const nothingPlanned = (anatomy: string): Plan => ({
  schema: 'nibrel.plan/2',
  anatomy,
  replace: [],
  spares: [],
  rules: DEFAULT_RULES,
  condition: SOUND,
  steps: [],
  transfers: [],
  renew: [],
  losses: [],
  touched: [],
  totals: { hands: 0, waits: 0, idle: 0, elapsed: 0, toolChanges: 0, turnOvers: 0, screws: 0, connectors: 0 },
  missingTools: [],
  changes: [],
  absent: [],
  wells: {},
  optimality: { cost: 0, lowerBound: 0, proved: true },
});

/**
 * @param plan as it is kept, of whatever format; `null` for a job that has no dive; what needs no step can still be recorded on it
 * @param version of that plan
 */
export function runContext(model: Model, plan: Plan | PlanOne | null, version = plan === null ? 0 : 1): RunContext {
  const known = plan === null ? nothingPlanned(model.anatomy.id) : withAllRules(currentPlan(plan));
  return {
    model,
    plan: known,
    version,
    checker: checkerFor(model, known),
    wells: known.wells ? new Map(Object.entries(known.wells)) : wellsOf(model, known),
    steps: new Map(known.steps.map((s) => [s.id, s])),
  };
}

/** A plan that was made before some rule was there goes by its default. */
function withAllRules(plan: Plan): Plan {
  const whole = Object.keys(DEFAULT_RULES).every((rule) => rule in plan.rules);
  return whole ? plan : { ...plan, rules: { ...DEFAULT_RULES, ...plan.rules } };
}

/** A plan with its tray laid out, so that nobody has to search for it again. */
export const withWells = (model: Model, plan: Plan): Plan =>
  plan.wells ? plan : { ...plan, wells: Object.fromEntries(wellsOf(model, plan)) };

/** The step at a place of the plan, from 1. */
export const stepAt = (context: RunContext, n: number): Step | undefined => context.plan.steps[n - 1];
