import type { Model } from '../core/anatomy/index.ts';
import { checkerFor, checkPlan, setTimes, type Plan, type Step } from '../core/dive/index.ts';
import { closedDevice, type Device } from '../core/judge/index.ts';

/*
 * A second, slow planner: every order of the steps of one phase in which no step breaks a law, found by trying each step at each
 * place on the device itself. It knows nothing of precedence, bundles or bounds.
 */

/** Most orders of one limb that are followed to their end; a device with more is left out. */
const MOST_ORDERS = 30_000;

/** The plan with its steps in another order: renumbered, its waits tied as before, timed anew. */
function reordered(plan: Plan, steps: readonly Step[]): Plan {
  const place = new Map(steps.map((s, i) => [s.n, i + 1]));
  const next = steps.map((s) => ({ ...s, n: place.get(s.n)!, waitsFor: s.waitsFor.map((n) => place.get(n)!) }));
  setTimes(next, plan.rules);
  return { ...plan, steps: next };
}

const elapsed = (plan: Plan): number => {
  const last = plan.steps.at(-1)!;
  return last.starts + last.seconds;
};

/** Steps that make ready for the next one and stand with it: gates, tests, looks, liners. */
const READY: readonly Step['do'][] = ['power-on', 'test', 'power-off', 'gate', 'inspect', 'remove-liner'];

/** The steps of a phase as they are moved: each with what makes it ready. */
function blocksOf(steps: readonly Step[]): Step[][] {
  const blocks: Step[][] = [[]];
  for (const step of steps) {
    blocks.at(-1)!.push(step);
    if (!READY.includes(step.do)) blocks.push([]);
  }
  return blocks.filter((block) => block.length > 0);
}

/** Two steps that are one piece of work in their order: of one item, of a part and its bond, or the test and its gates. */
function tied(model: Model, a: Step, b: Step): boolean {
  if (a.items.some((id) => b.items.includes(id))) return true;
  const joins = (bond: Step, part: Step) =>
    bond.items.some((id) => (model.bonds.get(id) ?? model.latches.get(id))?.joins.some((p) => part.items.includes(p)));
  return joins(a, b) || joins(b, a);
}

/** @returns the orders, `null` when there are too many */
function everyOrder(model: Model, plan: Plan, phase: Step['phase']): Step[][] | null {
  const first = plan.steps.findIndex((s) => s.phase === phase);
  const last = plan.steps.findLastIndex((s) => s.phase === phase);
  const checker = checkerFor(model, plan);
  let start = closedDevice();
  for (const step of plan.steps.slice(0, first)) start = checker.advance(start, step);
  const orders: Step[][] = [];
  const after = (device: Device, block: readonly Step[]): Device | null => {
    let at = device;
    for (const step of block) {
      if (checker.violation(at, step)) return null;
      at = checker.advance(at, step);
    }
    return at;
  };
  const visit = (device: Device, done: Step[], left: readonly Step[][]): boolean => {
    if (left.length === 0) {
      orders.push([...plan.steps.slice(0, first), ...done, ...plan.steps.slice(last + 1)]);
      return orders.length < MOST_ORDERS;
    }
    return left.every((block, i) => {
      if (left.slice(0, i).some((sooner) => sooner.some((s) => block.some((step) => tied(model, s, step)))))
        return true;
      const next = after(device, block);
      return (
        next === null ||
        visit(
          next,
          [...done, ...block],
          left.filter((other) => other !== block),
        )
      );
    });
  };
  return visit(start, [], blocksOf(plan.steps.slice(first, last + 1))) ? orders : null;
}

/** A flex is bent aside as soon as its plug is open. */
const bentAtOnce = (steps: readonly Step[]): boolean =>
  steps.every((s, i) => s.do !== 'bend-aside' || steps[i - 1]!.items[0] === s.items[0]);

/** Power is isolated as soon as it can be reached, and joined when all that can be done before is done (the default school). */
function powered(model: Model, steps: readonly Step[]): { isolated: number; joined: number } {
  const own = new Set(model.anatomy.connectors.filter((c) => c.isolatesPower).flatMap((c) => [c.id, c.from]));
  const at = (...verbs: Step['do'][]) =>
    steps.findIndex((s) => verbs.includes(s.do) && s.items.some((id) => own.has(id)));
  return { isolated: at('disconnect', 'lift'), joined: at('connect', 'fit') };
}

/** @returns how many orders there are, and one that is quicker where there is one; `null` where nothing can be said */
export function quickerOrder(
  model: Model,
  plan: Plan,
  phase: 'descent' | 'ascent',
): { orders: number; quicker: Plan | null } | null {
  const moving = plan.steps.filter((s) => s.phase === phase);
  if (!plan.optimality.proved || moving.length < 4 || moving.length > 14) return null;
  // What an order says of a part goes for what holds it as well, by habit and not by law.
  if (plan.steps.some((s) => s.do === 'turn-over') || model.anatomy.orders.length > 0) return null;
  const every = everyOrder(model, plan, phase);
  if (!every) return null;
  for (const steps of every) {
    const other = reordered(plan, steps);
    if (elapsed(other) >= elapsed(plan) - 1e-6) continue;
    if (!bentAtOnce(steps) || checkPlan(model, other) !== null) continue;
    const [was, is] = [powered(model, plan.steps), powered(model, other.steps)];
    if (is.isolated > was.isolated || is.joined < was.joined) continue;
    return { orders: every.length, quicker: other };
  }
  return { orders: every.length, quicker: null };
}
