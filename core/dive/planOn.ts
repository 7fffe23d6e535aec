import type { Model } from '../anatomy/index.ts';
import { Allowance } from './allowance.ts';
import { mended } from './mend.ts';
import type { Demand } from './order/demands.ts';
import type { HouseRules } from './house/rules.ts';
import { measureDepth, pairLimbs, setTimes, totalsOf } from './order/number.ts';
import { nameSteps } from './order/stepIds.ts';
import { drawUp, type PlanOptions } from './plan.ts';
import type { DiveRequest, Plan, Standing, Step } from './types.ts';

interface PlanOnOptions extends PlanOptions {
  /** Ties waits that still run to the work that waits for them. */
  tie?: (fresh: readonly Step[]) => void;
  /** How many of the steps were acts on a device that nobody had drawn, and are not judged at all. */
  acts?: number;
}

/**
 * Plans on from an open device: the steps that were done stay, in their order; the rest is planned from where it stands.
 * What was done is done, however oddly: of it only the laws are asked.
 * @param kept what was done, numbered from 1; `waitsFor` among themselves
 * @returns the whole dive, which begins with what was done
 * @throws NoDive when no sound dive goes on from here
 */
export function planOn(
  model: Model,
  kept: readonly Step[],
  request: DiveRequest & { from: Standing },
  rules: HouseRules,
  options: PlanOnOptions = {},
): Plan {
  const allowance = new Allowance(options);
  const draw = (demands: readonly Demand[]) =>
    joined(model, kept, drawUp(model, request, rules, options, demands, allowance), request.from, options.tie);
  return mended(model, draw, { ahead: kept.length, done: options.acts ?? 0 }, options.onRound);
}

function joined(model: Model, kept: readonly Step[], rest: Plan, from: Standing, tie: PlanOnOptions['tie']): Plan {
  const shift = kept.length;
  const fresh = rest.steps.map((s) => ({ ...s, n: s.n + shift, waitsFor: s.waitsFor.map((n) => n + shift) }));
  nameSteps(
    fresh,
    kept.map((s) => s.id),
  );
  tie?.(fresh);
  const steps = [...kept, ...fresh];
  measureDepth(model, steps);
  pairLimbs(steps);
  setTimes(steps, rest.rules);
  const totals = totalsOf(steps, rest.rules);
  return {
    ...rest,
    steps,
    totals,
    absent: [...from.absent],
    optimality: {
      ...rest.optimality,
      cost: totals.elapsed,
      lowerBound: totals.elapsed - (rest.optimality.cost - rest.optimality.lowerBound),
    },
  };
}
