import type { Model } from '../../anatomy/index.ts';
import { StepGraph } from '../graph/stepGraph.ts';
import { planDive } from '../plan.ts';
import type { HouseRules } from '../house/rules.ts';
import { NoDive, type DiveRequest, type Plan, type Step } from '../types.ts';

/** What it takes to replace one more part on a dive, against a dive of its own. Times in s. */
export interface Extra {
  part: string;
  /** Longer than the dive as it is. */
  extra: number;
  /** A dive for this part alone. */
  alone: number;
}

/** Expansions for each of many plans that are only weighed against each other. Origin: measured, a few tens of ms each. */
const WEIGHING_BUDGET = 400;

/**
 * "While you are in there": for every other part of the device the extra time on this dive, cheapest first.
 * Parts that cannot be reached are left out.
 * @param onProgress share done, 0 to 1
 */
export function extrasOf(
  model: Model,
  plan: Plan,
  rules: HouseRules = plan.rules,
  onProgress: (share: number) => void = () => {},
): Extra[] {
  const graph = new StepGraph(model);
  const parts = model.anatomy.parts.filter((p) => !p.fixed && !plan.replace.includes(p.id));
  const cost = (request: DiveRequest) =>
    planDive(model, { condition: plan.condition, ...request }, rules, { graph, budget: WEIGHING_BUDGET }).optimality
      .cost;
  const base = cost({ replace: plan.replace, spares: plan.spares });
  const found: Extra[] = [];
  parts.forEach((part, i) => {
    try {
      found.push({
        part: part.id,
        extra: Math.max(0, cost({ replace: [...plan.replace, part.id], spares: plan.spares }) - base),
        alone: cost({ replace: [part.id] }),
      });
    } catch (error) {
      if (!(error instanceof NoDive)) throw error;
    }
    onProgress((i + 1) / parts.length);
  });
  return found.sort((a, b) => a.extra - b.extra);
}

/** Two plans side by side: what only one of them has. */
export interface Comparison {
  onlyFirst: Step[];
  onlySecond: Step[];
  renewOnlyFirst: string[];
  renewOnlySecond: string[];
  lossesOnlyFirst: string[];
  lossesOnlySecond: string[];
}

const workOf = (s: Step): string => `${s.gate ?? s.do} ${[...s.items].sort().join(' ')} ${s.tool ?? ''}`;

/** Compares what is done, renewed and lost; steps that differ only in their place are the same. */
export function comparePlans(first: Plan, second: Plan): Comparison {
  const work = (plan: Plan) => new Set(plan.steps.map(workOf));
  const only = <T>(list: readonly T[], other: ReadonlySet<string>, key: (item: T) => string) =>
    list.filter((item) => !other.has(key(item)));
  const id = (x: string) => x;
  const losses = (plan: Plan) => plan.losses.map((l) => l.function);
  return {
    onlyFirst: only(first.steps, work(second), workOf),
    onlySecond: only(second.steps, work(first), workOf),
    renewOnlyFirst: only(first.renew, new Set(second.renew), id),
    renewOnlySecond: only(second.renew, new Set(first.renew), id),
    lossesOnlyFirst: only(losses(first), new Set(losses(second)), id),
    lossesOnlySecond: only(losses(second), new Set(losses(first)), id),
  };
}
