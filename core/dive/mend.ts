import type { Model } from '../anatomy/index.ts';
import type { Asked, Violation } from '../judge/index.ts';
import { checkPlan } from './judged.ts';
import { givesUp, type Change } from './changes.ts';
import type { Deed, Demand } from './order/demands.ts';
import { NoDive, type CraftName, type Plan, type Step } from './types.ts';

/** How often a plan that the judge finds fault with is drawn up anew. Origin: own choice; more than one is rare. */
const MOST_ROUNDS = 8;

/** What of a plan is judged: which steps are ahead, and which were done before anybody could judge them. */
export type Judged = Pick<Asked, 'ahead' | 'done'>;

/**
 * Draws up a plan until the judge finds no fault with it: what it finds goes back as a demand. A rule of good work that no
 * demand keeps is given up and told in `changes`.
 * @param draw the plan that heeds these demands
 * @param onRound told of every plan that is put before the judge, from 0
 * @throws NoDive naming the law that no plan keeps
 */
export function mended(
  model: Model,
  draw: (demands: readonly Demand[]) => Plan,
  judged: Judged = {},
  onRound?: (round: number) => void,
): Plan {
  const demands: Demand[] = [];
  let bound = Number.POSITIVE_INFINITY;
  for (let round = 0; ; round++) {
    const drawn = draw(demands);
    onRound?.(round);
    // What the judge asks for makes no dive quicker: the bound that held without it goes on holding.
    bound = Math.min(bound, drawn.optimality.lowerBound);
    const plan = boundedBy(drawn, bound);
    const asked = { ...judged, laws: givesUp(plan) };
    const fault = checkPlan(model, plan, asked);
    if (fault === null) return plan;
    const demand = round < MOST_ROUNDS ? demandFor(model, plan, fault, asked) : null;
    const known = demand && demands.some((d) => JSON.stringify(d) === JSON.stringify(demand));
    if (demand && !known) {
      demands.push(demand);
      continue;
    }
    if (!fault.rule.startsWith('R') || checkPlan(model, plan, { ...judged, laws: true }) !== null)
      throw new NoDive(fault.item, {
        code: 'no-sound-dive',
        fault: fault.said,
        rule: fault.rule,
        step: fault.step ?? plan.steps.length,
      });
    const conceded: Change = { code: 'rule-not-kept', rule: fault.rule as CraftName, item: fault.item };
    return { ...plan, changes: [...plan.changes, conceded] };
  }
}

function boundedBy(plan: Plan, bound: number): Plan {
  const { cost } = plan.optimality;
  const lowerBound = Math.min(bound, cost);
  return { ...plan, optimality: { cost, lowerBound, proved: cost <= lowerBound + 1e-6 } };
}

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
function demandFor(model: Model, plan: Plan, fault: Violation, asked: Asked): Demand | null {
  const { ahead = 0 } = asked;
  const at = plan.steps.findIndex((s) => s.n === fault.step);
  if (at < 0) return null;
  const { phase } = plan.steps[at]!;
  const limb = plan.steps.flatMap((s, i) =>
    i >= ahead && s.phase === phase && !READY.includes(s.do) && s.items.length > 0 ? [i] : [],
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
    const left = checkPlan(model, renumbered(plan, steps), asked);
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
