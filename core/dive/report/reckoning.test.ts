import { describe, expect, it } from 'vitest';
import { feeding } from '../../../demo/planOracle.ts';
import { demoModel, DEVICES } from '../../../demo/models.ts';
import type { Model } from '../../anatomy/index.ts';
import { planDive } from '../plan.ts';
import { DEFAULT_RULES, type HouseRules } from '../house/rules.ts';
import type { Plan, Step } from '../types.ts';

/** Rules far enough apart to lay a dive out differently. */
const HOUSES: Partial<HouseRules>[] = [
  {},
  { pressing: 'weight', openedDisplay: 'take-off', toolChange: 40 },
  { gluedBattery: 'solvent', powerOnTest: 'after-closing', turnOver: 90 },
];

/** Times as usual, and the first order that is found: what is reckoned anew here hangs on neither. */
const QUICK = { budget: 0, heat: 'usual' } as const;

function plansOf(model: Model): Plan[] {
  return model.anatomy.parts
    .filter((p) => !p.fixed)
    .map((p, i) => planDive(model, { replace: [p.id] }, { ...DEFAULT_RULES, ...HOUSES[i % HOUSES.length] }, QUICK));
}

/** Calls `look` with the device before each step: what is off or swung, and whether all is cut off that feeds what it works on. */
function walk(model: Model, plan: Plan, look: (step: Step, off: ReadonlySet<string>, isolated: boolean) => void): void {
  const off = new Set<string>();
  const open = new Set<string>();
  const isolating = model.anatomy.connectors.filter((c) => c.isolatesPower);
  const apart = (items: readonly string[]) => {
    const cutting = feeding(model.anatomy, isolating, items);
    return cutting.length > 0 && cutting.every((c) => open.has(c.id) || (c.kind === 'contact' && off.has(c.from)));
  };
  for (const step of plan.steps) {
    look(step, off, apart(step.items));
    for (const id of step.items) {
      if (step.do === 'lift' || step.do === 'swing') off.add(id);
      if (step.do === 'fit') off.delete(id);
      if (step.do === 'disconnect' || step.do === 'desolder') open.add(id);
      if (step.do === 'connect' || step.do === 'solder') open.delete(id);
    }
  }
}

/** Bare hands put the tool down; what is only looked at or said leaves it in hand (R12). */
const LOOKED_AT = 'discharge power-off photo inspect turn-over power-on test gate confirm-loss'.split(' ');
const heldAfter = (step: Step, held: string | null): string | null =>
  step.tool ?? (LOOKED_AT.includes(step.do) ? held : null);

describe.each(DEVICES)('%s: what a plan tells of itself, reckoned anew', (name) => {
  const model = demoModel(name);
  const plans = plansOf(model);
  const each = (check: (plan: Plan, what: string) => void) => {
    for (const plan of plans) check(plan, plan.replace.join());
  };

  it('no step begins before the hands, the tool and what it waits for are there, nor later than that', () =>
    each((plan, what) => {
      let held: string | null = null;
      let free = 0;
      for (const step of plan.steps) {
        const change = step.tool !== null && step.tool !== held ? plan.rules.toolChange : 0;
        const turn = step.do === 'turn-over' ? plan.rules.turnOver : 0;
        const waits = step.waitsFor.map((n) => {
          const on = plan.steps[n - 1]!;
          return on.starts + on.seconds + on.waits;
        });
        expect(step.starts, `${what}, step ${step.n}`).toBeCloseTo(Math.max(free + change + turn, ...waits), 6);
        free = step.starts + step.seconds;
        held = heldAfter(step, held);
      }
      expect(plan.totals.elapsed).toBeCloseTo(free, 6);
    }));

  it('the totals are those of the steps, and the time is hands, tools, turns and nothing but idling', () =>
    each((plan, what) => {
      const { totals, rules, steps } = plan;
      const of = (...verbs: Step['do'][]) =>
        new Set(steps.filter((s) => verbs.includes(s.do)).flatMap((s) => s.items)).size;
      let held: string | null = null;
      let taken = 0;
      for (const step of steps) {
        if (step.tool !== null && step.tool !== held) taken++;
        held = heldAfter(step, held);
      }
      expect(totals, what).toMatchObject({
        hands: steps.reduce((sum, s) => sum + s.seconds, 0),
        waits: steps.reduce((sum, s) => sum + s.waits, 0),
        screws: of('unscrew'),
        connectors: of('disconnect', 'desolder'),
        toolChanges: taken,
        turnOvers: steps.filter((s) => s.do === 'turn-over').length,
      });
      expect(totals.idle).toBeGreaterThanOrEqual(0);
      expect(
        totals.hands + totals.idle + totals.toolChanges * rules.toolChange + totals.turnOvers * rules.turnOver,
        what,
      ).toBeCloseTo(totals.elapsed, 6);
      expect(plan.optimality.lowerBound).toBeLessThanOrEqual(plan.optimality.cost + 1e-6);
    }));

  it('depth is what is off by then; live is whether the battery is joined', () =>
    each((plan, what) => {
      walk(model, plan, (step, off, isolated) => {
        const counted = [...off].filter(
          (id) =>
            !(step.do === 'fit' && step.items.includes(id)) &&
            model.parts.get(id)!.within === null &&
            model.parts.get(id)!.face !== 'edge',
        );
        expect(step.depth, `${what}, step ${step.n}`).toBe(counted.length);
        if (step.phase !== 'prepare') expect(step.live, `${what}, step ${step.n} ${step.do}`).toBe(!isolated);
      });
    }));

  it('every step of the way in that is undone knows the step that undoes it, and that one knows it', () =>
    each((plan, what) => {
      for (const step of plan.steps) {
        if (step.mirrors === null) continue;
        const other = plan.steps[step.mirrors - 1]!;
        expect(other.mirrors, `${what}, step ${step.n}`).toBe(step.n);
        expect(step.items.some((id) => other.items.includes(id))).toBe(true);
      }
      const done = (phase: Step['phase'], ...verbs: Step['do'][]) =>
        plan.steps
          .filter((s) => s.phase === phase && verbs.includes(s.do))
          .flatMap((s) => s.items)
          .sort();
      expect(done('ascent', 'connect', 'solder'), what).toEqual(done('descent', 'disconnect', 'desolder'));
    }));

  it('waits are for earlier steps that have one', () =>
    each((plan, what) => {
      for (const step of plan.steps)
        for (const n of step.waitsFor) {
          expect(n, `${what}, step ${step.n}`).toBeLessThan(step.n);
          expect(plan.steps[n - 1]!.waits).toBeGreaterThan(0);
        }
    }));

  it('all that a connector or a part that was moved does is tested, each once unless it was opened again', () =>
    each((plan, what) => {
      const moved = new Set<string>();
      for (const step of plan.steps)
        for (const id of step.items) {
          const connector = model.connectors.get(id);
          if (connector && ['disconnect', 'desolder'].includes(step.do))
            for (const f of connector.carries) moved.add(f);
          if (step.do === 'lift' || step.do === 'swing')
            for (const part of model.familyOf(id)) for (const f of model.parts.get(part)!.functions) moved.add(f);
        }
      const tested = plan.steps.filter((s) => s.do === 'test').flatMap((s) => s.items);
      const lost = plan.losses.map((l) => l.function);
      for (const f of moved) if (!lost.includes(f)) expect(tested, what).toContain(f);
      expect([...new Set(tested)].sort(), what).toEqual([...plan.touched].sort());
      const twice = tested.filter((f, i) => tested.indexOf(f) !== i);
      const first = plan.steps.findIndex((s) => s.do === 'test');
      const again = plan.steps.slice(first).filter((s) => s.do === 'swing');
      for (const f of twice)
        expect(
          again.some((s) =>
            s.items.some((id) => model.familyOf(id).some((p) => model.parts.get(p)!.functions.includes(f))),
          ),
          `${what}: ${f} is tested twice`,
        ).toBe(true);
    }));

  it('what never goes back is told, and what is told is renewed', () =>
    each((plan, what) => {
      for (const id of plan.replace) expect(plan.renew, what).toContain(id);
      const lifted = plan.steps.filter((s) => s.phase !== 'ascent' && s.do === 'lift').flatMap((s) => s.items);
      for (const id of lifted) if (model.parts.get(id)!.fate === 'renew') expect(plan.renew, what).toContain(id);
      const drawn = plan.steps
        .filter((s) => s.do === 'unscrew')
        .flatMap((s) => s.items)
        .map((id) => model.fasteners.get(id)!);
      for (const f of drawn) if (f.fate === 'renew' || f.threadlock) expect(plan.renew, what).toContain(f.id);
      for (const step of plan.steps.filter((s) => s.do === 'renew'))
        for (const id of step.items) expect(plan.renew, what).toContain(id);
    }));
});

describe('what an exchange costs', () => {
  it.each(DEVICES)('%s: a pair that parts company loses what it is told to, and no other does', (name) => {
    const model = demoModel(name);
    const pairs = model.anatomy.parts.flatMap((p) =>
      p.pairing.map((pair) => ({ a: p.id, b: pair.with, loses: pair.loses })),
    );
    for (const part of model.anatomy.parts.filter((p) => !p.fixed)) {
      const plan = planDive(model, { replace: [part.id] }, DEFAULT_RULES, QUICK);
      const moved = new Set(plan.transfers.flatMap((t) => model.familyOf(t.part)));
      const fresh = new Set(model.familyOf(part.id).filter((id) => !moved.has(id)));
      const due = new Set(pairs.filter(({ a, b }) => fresh.has(a) || fresh.has(b)).flatMap(({ loses }) => loses));
      const told = new Set(plan.losses.map((l) => l.function));
      for (const f of due) expect(told, part.id).toContain(f);
      for (const f of told)
        expect(due.has(f) || f === 'moisture-rating' || f === 'data', `${part.id}: ${f}`).toBe(true);
      expect(told.has('data')).toBe(part.kind === 'board');
    }
  });
});
