import { describe, expect, it } from 'vitest';
import { THOROUGH } from '../../demo/thorough.ts';
import { seededDraw, syntheticAnatomy } from '../../demo/synthetic.ts';
import { modelOf, type Model } from '../anatomy/index.ts';
import { checkerFor, checkPlan, NoDive, planDive, setTimes, type Plan, type Step } from './index.ts';
import { closedDevice, type Device } from '../judge/index.ts';

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

/**
 * A second, slow planner: every order of the steps of one phase in which no step breaks a law, found by trying each
 * step at each place on the device itself. It knows nothing of precedence, bundles or bounds.
 * @returns `null` when there are too many
 */
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

/** Power is isolated as soon as it can be reached (the default school): no order of the way in does so later. */
function isolates(model: Model, steps: readonly Step[]): number {
  const own = new Set(model.anatomy.connectors.filter((c) => c.isolatesPower).flatMap((c) => [c.id, c.from]));
  return steps.findIndex((s) => (s.do === 'disconnect' || s.do === 'lift') && s.items.some((id) => own.has(id)));
}

describe('no order of the printed steps is quicker', () => {
  it.each(['descent', 'ascent'] as const)(
    'of the %s of small random devices, by trying every order',
    (phase) => {
      const draw = seededDraw(phase === 'descent' ? 12 : 13);
      let compared = 0;
      let orders = 0;
      for (let k = 0; k < 400 && compared < (THOROUGH ? 60 : 25); k++) {
        const model = modelOf(syntheticAnatomy(draw, 1 + (k % 3)));
        for (const part of model.anatomy.parts.filter((p) => !p.fixed)) {
          let plan: Plan;
          try {
            plan = planDive(model, { replace: [part.id] }, undefined, { heat: 'usual' });
          } catch (error) {
            if (error instanceof NoDive) continue;
            throw error;
          }
          const moving = plan.steps.filter((s) => s.phase === phase);
          if (!plan.optimality.proved || moving.length < 4 || moving.length > 14) continue;
          if (plan.steps.some((s) => s.do === 'turn-over')) continue;
          const every = everyOrder(model, plan, phase);
          if (!every) continue;
          compared++;
          orders += every.length;
          for (const steps of every) {
            const other = reordered(plan, steps);
            if (elapsed(other) >= elapsed(plan) - 1e-6) continue;
            if (!bentAtOnce(steps) || checkPlan(model, other) !== null) continue;
            if (phase === 'descent' && isolates(model, other.steps) > isolates(model, plan.steps)) continue;
            const told = (p: Plan) =>
              p.steps.filter((s) => s.phase === phase).map((s) => `${s.gate ?? s.do} ${s.items.join(' ')}`);
            expect([elapsed(other), ...told(other)], `${k} ${part.id}: ${told(plan).join(' | ')}`).toEqual([
              elapsed(plan),
            ]);
          }
        }
      }
      expect(compared).toBeGreaterThanOrEqual(25);
      expect(orders).toBeGreaterThan(300);
      console.log(`${phase}: ${compared} devices, ${orders} orders`);
    },
    240_000,
  );
});
