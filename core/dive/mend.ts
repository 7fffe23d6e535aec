import type { Model } from '../anatomy/index.ts';
import type { Violation } from '../judge/index.ts';
import { checkPlan } from './judged.ts';
import type { Deed, Demand } from './order/demands.ts';
import type { Plan, Step } from './types.ts';

/** Places that are tried for one fault. Origin: own choice; a limb has fewer than a hundred steps. */
const MOST_PLACES = 160;

const renumbered = (plan: Plan, steps: readonly Step[]): Plan => ({
  ...plan,
  steps: steps.map((s, i) => ({ ...s, n: i + 1 })),
});

const same = (a: Violation, b: Violation): boolean => a.rule === b.rule && a.item === b.item;

/** What moves with a step: the gates, tests and looks that make it ready. */
const READY: readonly Step['do'][] = ['power-on', 'test', 'power-off', 'gate', 'inspect', 'remove-liner', 'bend-aside'];

const deedOf = (step: Step): Deed => ({ phase: step.phase, do: step.do, item: step.items[0]! });

/**
 * What a plan needs to be rid of a fault: one step put before another. Every place of its limb is tried for the step that was
 * found at fault, and for those that the judge names, and the plan that comes of it is judged.
 * @returns `null` where no single step does it
 */
export function demandFor(model: Model, plan: Plan, fault: Violation, laws: boolean): Demand | null {
  const at = plan.steps.findIndex((s) => s.n === fault.step);
  if (at < 0) return null;
  const { phase } = plan.steps[at]!;
  const limb = plan.steps.flatMap((s, i) =>
    s.phase === phase && !READY.includes(s.do) && s.items.length > 0 ? [i] : [],
  );
  const named = limb.filter((i) => i !== at && plan.steps[i]!.items.includes(fault.item));
  const moves: [what: number, before: number][] = [
    ...named.filter((i) => i > at).map((i): [number, number] => [i, at]),
    ...limb
      .filter((i) => i < at)
      .reverse()
      .map((i): [number, number] => [at, i]),
    ...named.filter((i) => i < at).map((i): [number, number] => [at, i]),
    ...named.flatMap((what) =>
      limb
        .filter((i) => i < what && i !== at)
        .reverse()
        .map((i): [number, number] => [what, i]),
    ),
    ...limb.filter((i) => i > at).map((i): [number, number] => [i, at]),
  ];
  let best: Demand | null = null;
  let furthest = fault.step ?? 0;
  for (const [what, before] of moves.slice(0, MOST_PLACES)) {
    const [moved, stays] = [plan.steps[what]!, plan.steps[before]!];
    const steps = plan.steps.filter((s) => s !== moved);
    steps.splice(steps.indexOf(stays), 0, moved);
    const left = checkPlan(model, renumbered(plan, steps), { laws });
    const demand = { first: deedOf(moved), then: deedOf(stays) };
    if (left === null) return demand;
    // A fault further on, of another kind, is mended in its turn.
    if (!same(left, fault) && (left.step ?? Number.POSITIVE_INFINITY) > furthest) {
      furthest = left.step ?? Number.POSITIVE_INFINITY;
      best = demand;
    }
  }
  return best;
}
