import type { Model } from '../anatomy/index.ts';
import { checkPlan } from './judged.ts';
import type { HouseRules } from './house/rules.ts';
import { measureDepth, pairLimbs, setTimes, totalsOf } from './order/number.ts';
import { nameSteps } from './order/stepIds.ts';
import { planDive, type PlanOptions } from './plan.ts';
import { NoDive, type DiveRequest, type Plan, type Standing, type Step } from './types.ts';

/** A whole dive that begins with what was done. */
export interface PlannedOn {
  plan: Plan;
  /** The steps that were not done before. */
  fresh: Step[];
}

/**
 * Plans on from an open device: the steps that were done stay, in their order; the rest is planned from where it stands.
 * @param kept what was done, numbered from 1; `waitsFor` among themselves
 * @throws NoDive when no sound dive goes on from here
 */
export function planOn(
  model: Model,
  kept: readonly Step[],
  request: DiveRequest & { from: Standing },
  rules: HouseRules,
  options: PlanOptions & { tie?: (fresh: readonly Step[]) => void } = {},
): PlannedOn {
  const rest = planDive(model, request, rules, options);
  const shift = kept.length;
  const fresh = rest.steps.map((s) => ({ ...s, n: s.n + shift, waitsFor: s.waitsFor.map((n) => n + shift) }));
  nameSteps(
    fresh,
    kept.map((s) => s.id),
  );
  options.tie?.(fresh);
  const steps = [...kept, ...fresh];
  measureDepth(model, steps);
  pairLimbs(steps);
  setTimes(steps, rest.rules);
  const totals = totalsOf(steps, rest.rules);
  const plan: Plan = {
    ...rest,
    steps,
    totals,
    absent: [...request.from.absent],
    optimality: {
      ...rest.optimality,
      cost: totals.elapsed,
      lowerBound: totals.elapsed - (rest.optimality.cost - rest.optimality.lowerBound),
    },
  };
  return { plan, fresh };
}

/**
 * What was done is done, however oddly: only the laws are asked of the whole, and no oddity leaves a device without a
 * way back.
 * @param done how many of the steps were acts, which are not judged at all
 * @throws NoDive naming the law that it breaks
 */
export function lawful(model: Model, plan: Plan, done = 0): void {
  const violation = checkPlan(model, plan, { laws: true, done });
  if (violation)
    throw new NoDive(violation.item, `no sound dive goes on from here: ${violation.message} (${violation.rule})`);
}
