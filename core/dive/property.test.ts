import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { DirectedGraph } from 'graphology';
import { topologicalSort } from 'graphology-dag';
import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { seededDraw, syntheticAnatomy } from '../../demo/synthetic.ts';
import { amountOf, isTried, THOROUGH } from '../../demo/thorough.ts';
import { modelOf, readAnatomy, type Model } from '../anatomy/index.ts';
import { keyOf } from './graph/keys.ts';
import { plain } from './graph/reasons.ts';
import { StepGraph } from './graph/stepGraph.ts';
import { planDive } from './plan.ts';
import { checkerFor, checkPlan, needless } from './judged.ts';
import { DEFAULT_RULES } from './house/rules.ts';
import { NoDive, type Plan } from './types.ts';
import { givesUp } from './changes.ts';

/** A device drawn from a list of numbers, so that a counterexample shrinks to a small device. */
const device = fc
  .tuple(fc.array(fc.nat(997), { minLength: 30, maxLength: 160 }), fc.integer({ min: 1, max: 6 }))
  .map(([numbers, size]) => {
    let at = 0;
    return syntheticAnatomy((below) => numbers[at++ % numbers.length]! % below, size);
  });

/** The search is cut short: whether a plan is sound must not hang on how long its order was looked for. */
const QUICK = { budget: 0, heat: 'usual' } as const;

function attempt(model: Model, part: string): Plan | NoDive {
  try {
    return planDive(
      model,
      { replace: [part] },
      { ...DEFAULT_RULES, firstGap: part.length % 3 ? 'suction-cup' : 'thin-blade' },
      { budget: part.length % 2 ? 0 : 40, heat: 'usual' },
    );
  } catch (error) {
    if (error instanceof NoDive) return error;
    throw error;
  }
}

describe('planner and checker, which share no code', () => {
  const random = amountOf(2000, 25);
  it(`agree on ${random} random devices: every plan keeps every rule, takes off nothing that could stay, or says what it gave up`, () => {
    const draw = seededDraw(2026);
    const broken: string[] = [];
    let plans = 0;
    let givenUp = 0;
    for (let k = 0; k < random; k++) {
      const model = modelOf(syntheticAnatomy(draw, 1 + (k % 6)));
      const parts = model.anatomy.parts.filter((p) => !p.fixed);
      const part = parts[draw(parts.length)]!.id;
      const plan = attempt(model, part);
      if (plan instanceof NoDive) continue;
      plans++;
      // What no order keeps is given up in words; the laws hold all the same.
      const laws = givesUp(plan);
      if (laws) givenUp++;
      const violation = checkPlan(model, plan, { laws });
      const idle = violation || laws ? null : needless(model, plan);
      if (violation) broken.push(`${k} ${part}: ${violation.rule}, ${JSON.stringify(violation.said)}`);
      if (idle) broken.push(`${k} ${part}: R11, ${idle} could stay`);
    }
    console.log(
      `${random} random devices: ${plans} plans, ${givenUp} of which give something up, ${broken.length} broken`,
    );
    expect(plans).toBeGreaterThan(0.75 * random);
    expect(givenUp).toBeLessThan(plans / 50);
    expect(broken).toEqual([]);
  }, 240_000);

  const larger = amountOf(700, 25);
  it(`agree on ${larger} larger random devices, of 4 to 20 parts`, () => {
    const broken: string[] = [];
    let plans = 0;
    let largest = 0;
    for (const [seed, devices, least, span] of [
      [77, Math.round(larger * 0.7), 4, 7],
      [5, Math.round(larger * 0.3), 11, 10],
    ] as const) {
      const draw = seededDraw(seed);
      for (let k = 0; k < devices; k++) {
        const model = modelOf(syntheticAnatomy(draw, least + (k % span)));
        const parts = model.anatomy.parts.filter((p) => !p.fixed);
        const replace = Array.from({ length: 1 + ((k + 1) % 2) }, () => parts[draw(parts.length)]!.id);
        let plan: Plan;
        try {
          plan = planDive(model, { replace }, DEFAULT_RULES, { budget: 100, heat: 'usual' });
        } catch (error) {
          if (!(error instanceof NoDive)) throw error;
          continue;
        }
        plans++;
        largest = Math.max(largest, plan.steps.length);
        const violation = checkPlan(model, plan, { laws: givesUp(plan) });
        if (violation) broken.push(`${seed}/${k} ${replace}: ${violation.rule}, ${JSON.stringify(violation.said)}`);
      }
    }
    console.log(`${larger} larger devices: ${plans} plans of up to ${largest} steps, ${broken.length} broken`);
    expect(plans).toBeGreaterThan(0.45 * larger);
    expect(largest).toBeGreaterThan(THOROUGH ? 100 : 60);
    expect(broken).toEqual([]);
  }, 240_000);

  it('agree on random devices drawn to shrink: every plan keeps the laws, and what has no plan does not come off', () => {
    fc.assert(
      fc.property(device, (anatomy) => {
        expect(readAnatomy(structuredClone(anatomy))).toMatchObject({ ok: true });
        const model = modelOf(anatomy);
        const checker = checkerFor(model);
        for (const part of anatomy.parts.filter((p) => !p.fixed)) {
          const plan = attempt(model, part.id);
          if (!(plan instanceof NoDive)) expect(checkPlan(model, plan, { laws: true })).toBeNull();
          else if (plan.said.code === 'waits-for-itself') {
            // Power may forbid what geometry allows: then isolation itself is out of reach.
            const isolates = anatomy.connectors.find((c) => c.isolatesPower)!.from;
            expect(checker.comesOff(part.id) && checker.comesOff(isolates)).toBe(false);
          }
        }
      }),
      { numRuns: amountOf(1000, 10) },
    );
  }, 120_000);

  it('parts that wait for each other when one is swung get another way in', () => {
    const model = modelOf(
      JSON.parse(readFileSync(new URL('testdata/waiting-circle.json', import.meta.url), 'utf8')) as Parameters<
        typeof modelOf
      >[0],
    );
    for (const part of model.anatomy.parts.filter((p) => !p.fixed)) {
      for (const budget of [0, 40])
        expect(checkPlan(model, planDive(model, { replace: [part.id] }, undefined, { budget })), part.id).toBeNull();
    }
  });

  it.each(DEVICES)(
    `%s: agree on every part and ${THOROUGH ? 'every pair' : 'every fortieth pair'} of parts, however the first gap is raised`,
    (name) => {
      const model = demoModel(name);
      const graph = new StepGraph(model);
      const parts = model.anatomy.parts.filter((p) => !p.fixed).map((p) => p.id);
      let plans = 0;
      let givenUp = 0;
      parts.forEach((a, i) => {
        for (const [k, b] of parts.slice(i).entries()) {
          if (!THOROUGH && k > 0 && (7 * i + 3 * k) % 40 !== 0) continue;
          // Metal goes in only where it may (A5).
          const plan = planDive(
            model,
            { replace: [...new Set([a, b])] },
            { ...DEFAULT_RULES, firstGap: k % 2 ? 'thin-blade' : 'suction-cup' },
            { graph, ...QUICK },
          );
          // A plan that says what no order keeps is held to the laws.
          expect(checkPlan(model, plan, { laws: givesUp(plan) }), `${a}, ${b}`).toBeNull();
          plans++;
          if (givesUp(plan)) givenUp++;
        }
      });
      console.log(`${name}: ${plans} parts and pairs, ${givenUp} plans give something up`);
      const pairs = (parts.length * (parts.length - 1)) / 2;
      expect(plans).toBeGreaterThanOrEqual(parts.length + (THOROUGH ? pairs : 0.01 * pairs));
    },
    120_000,
  );

  it.each(DEVICES)('%s: nothing in a plan can be left out', (name) => {
    const model = demoModel(name);
    const needed = new Set([
      'unscrew',
      'disconnect',
      'release',
      'cut',
      'pull',
      'swing',
      'lift',
      'eject',
      'fasten',
      'connect',
      'fit',
      'gate',
      'bond',
      'renew',
    ]);
    for (const [i, part] of model.anatomy.parts.filter((p) => !p.fixed).entries()) {
      if (!isTried(i, 8)) continue;
      const plan = planDive(model, { replace: [part.id] }, undefined, QUICK);
      for (const step of plan.steps.filter((s) => needed.has(s.do))) {
        // The test before closing an unbonded device is the house's choice, not a rule.
        const closing = plan.steps.find((s) => s.n > step.n && s.do === 'fit')?.items[0];
        if (step.gate === 'G4' && !model.anatomy.bonds.some((b) => b.kind === 'tape' && b.joins.includes(closing!)))
          continue;
        expect(
          checkPlan(model, { ...plan, steps: plan.steps.filter((s) => s !== step) }),
          `${part.id}: without ${step.n} ${step.do} ${step.items.join()}`,
        ).not.toBeNull();
      }
    }
  });

  it.each(DEVICES)('%s: the closure is acyclic and complete by a general graph library (graphology)', (name) => {
    const model = demoModel(name);
    const graph = new StepGraph(model);
    for (const part of model.anatomy.parts.filter((p) => !p.fixed)) {
      const closure = graph.closureOf(new Map([[keyOf('lift', part.id), plain('target')]]), new Map());
      const g = new DirectedGraph();
      for (const key of closure.actions.keys()) g.addNode(key);
      for (const [key, needs] of closure.needs) for (const need of needs) g.mergeDirectedEdge(need.key, key);
      const order = topologicalSort(g);
      expect(order).toHaveLength(closure.actions.size);
      expect(order.at(-1)).toBe(keyOf('lift', part.id));
    }
  });
});

describe('the checker finds what was spoilt', () => {
  const model = demoModel('velmora-quill-5');
  const plan = planDive(model, { replace: ['battery'] });
  const swap = (a: number, b: number): Plan => {
    const steps = [...plan.steps];
    [steps[a - 1], steps[b - 1]] = [steps[b - 1]!, steps[a - 1]!];
    return { ...plan, steps };
  };
  const n = (verb: string, item: string) =>
    plan.steps.find((s) => (s.gate ?? s.do) === verb && s.items.includes(item))!.n;

  const cases: [string, () => Plan, string][] = [
    ['a screw under the closed display', () => swap(n('unscrew', 'p1'), n('unscrew', 'e1')), 'A1'],
    ['a display opened while it is still glued', () => swap(n('swing', 'display'), n('cut', 'display-seal')), 'A3'],
    [
      'a motor lifted while its screws hold',
      () => ({ ...plan, steps: plan.steps.filter((s) => !(s.do === 'unscrew' && s.items.includes('m3'))) }),
      'A2',
    ],
    [
      'a loose connector closed in',
      () => ({ ...plan, steps: plan.steps.filter((s) => !(s.do === 'connect' && s.items.includes('battery-flex'))) }),
      'A7',
    ],
    [
      'a seal that is used again',
      () => ({ ...plan, steps: plan.steps.filter((s) => !(s.do === 'bond' && s.items.includes('display-seal'))) }),
      'A7',
    ],
    [
      'a display sealed before it is proved',
      () => ({ ...plan, steps: plan.steps.filter((s) => s.gate !== 'G4') }),
      'G4',
    ],
    [
      'a cover over a connector that nobody looked at',
      () => ({ ...plan, steps: plan.steps.filter((s) => s.gate !== 'G1') }),
      'G1',
    ],
    ['screws that nobody counted', () => ({ ...plan, steps: plan.steps.filter((s) => s.gate !== 'G2') }), 'G2'],
    ['a dirty battery', () => ({ ...plan, steps: plan.steps.filter((s) => s.gate !== 'G3') }), 'G3'],
    ['liners left on', () => ({ ...plan, steps: plan.steps.filter((s) => s.gate !== 'G5') }), 'G5'],
    ['a press cut short', () => ({ ...plan, steps: plan.steps.filter((s) => s.gate !== 'G6') }), 'G6'],
    ['no signature', () => ({ ...plan, steps: plan.steps.filter((s) => s.gate !== 'G7') }), 'G7'],
    [
      'a metal tool in a live device',
      () => ({ ...plan, steps: plan.steps.map((s) => (s.do === 'disconnect' ? { ...s, tool: 'soldering-iron' } : s)) }),
      'A5',
    ],
    ['a device that is on', () => ({ ...plan, steps: plan.steps.filter((s) => s.do !== 'power-off') }), 'A6'],
    ['a tray left in', () => ({ ...plan, steps: plan.steps.filter((s) => s.do !== 'eject') }), 'A6'],
  ];
  it.each(cases)('%s', (_, spoil, rule) => {
    expect(checkPlan(model, spoil())?.rule).toBe(rule);
  });
});
