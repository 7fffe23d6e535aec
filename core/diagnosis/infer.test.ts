import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { infer, type Posterior } from './infer.ts';
import type { Finding, Network } from './network.ts';

/** All joint states one by one: nothing but the definition of a noisy-OR, written without the expansion. */
function byEnumeration({ causes, findings }: Network): Posterior {
  const likelihoodOf = (f: Finding, state: number): number => {
    let up = 1 - f.leak;
    for (const [c, strength] of f.strength) if ((state >> c) & 1) up *= 1 - strength;
    const down = 1 - up;
    return f.failed ? up * f.falseFail + down * (1 - f.falsePass) : up * (1 - f.falseFail) + down * f.falsePass;
  };
  let evidence = 0;
  let nothing = 0;
  const so = causes.map(() => 0);
  const items = new Map(causes.map((c) => [c.item, 0]));
  for (let state = 0; state < 1 << causes.length; state++) {
    let p = 1;
    causes.forEach((c, i) => {
      p *= (state >> i) & 1 ? c.prior : 1 - c.prior;
    });
    for (const f of findings) p *= likelihoodOf(f, state);
    evidence += p;
    if (state === 0) nothing = p;
    const hit = new Set(causes.filter((_, i) => (state >> i) & 1).map((c) => c.item));
    for (const item of hit) items.set(item, items.get(item)! + p);
    so.forEach((sum, i) => {
      if ((state >> i) & 1) so[i] = sum + p;
    });
  }
  return {
    evidence,
    causes: so.map((p) => p / evidence),
    items: new Map([...items].map(([item, p]) => [item, p / evidence])),
    nothing: nothing / evidence,
    bound: 0,
  };
}

const chance = (most: number) => fc.double({ min: 0.01, max: most, noNaN: true });

/** Networks of 1 to 14 causes on 1 to 6 items, with 1 to 14 findings. */
const networks: fc.Arbitrary<Network> = fc
  .record({ causes: fc.integer({ min: 1, max: 14 }), findings: fc.integer({ min: 1, max: 14 }) })
  .chain(({ causes, findings }) =>
    fc.record({
      causes: fc.tuple(
        ...Array.from({ length: causes }, (_, i) =>
          fc.record({
            id: fc.constant(`c${i}`),
            item: fc.integer({ min: 0, max: 5 }).map((n) => `item-${n}`),
            kind: fc.constant('any'),
            prior: chance(0.6),
          }),
        ),
      ),
      findings: fc.tuple(
        ...Array.from({ length: findings }, (_, i) =>
          fc.record({
            of: fc.constant(`f${i}`),
            failed: fc.boolean(),
            strength: fc
              .array(fc.tuple(fc.integer({ min: 0, max: causes - 1 }), chance(1)), { maxLength: causes })
              .map((pairs) => new Map(pairs)),
            leak: chance(0.3),
            falseFail: chance(0.2),
            falsePass: chance(0.2),
          }),
        ),
      ),
    }),
  );

describe('the posterior against all joint states', () => {
  test('on networks of up to 14 causes it is the same to nine digits', () => {
    fc.assert(
      fc.property(networks, (network) => {
        const quick = infer(network);
        const slow = byEnumeration(network);
        expect(quick.evidence).toBeCloseTo(slow.evidence, 9);
        quick.causes.forEach((p, i) => expect(p).toBeCloseTo(slow.causes[i]!, 8));
        for (const [item, p] of slow.items) expect(quick.items.get(item), item).toBeCloseTo(p, 8);
        expect(quick.nothing).toBeCloseTo(slow.nothing, 8);
      }),
      { numRuns: 60, seed: 11 },
    );
  });

  test('a network too wide to be expanded at once is cut apart and comes to the same', () => {
    // One hub under fourteen findings, and a cause of its own for each three of them.
    const causes = Array.from({ length: 6 }, (_, i) => ({
      id: `c${i}`,
      item: `item-${i % 4}`,
      kind: 'any',
      prior: 0.05 + 0.03 * i,
    }));
    const findings = Array.from({ length: 14 }, (_, i) => ({
      of: `f${i}`,
      failed: i % 3 === 0,
      strength: new Map([
        [0, 0.5],
        [1 + (i % 5), 0.9],
        [1 + ((i * 2) % 5), 0.4],
      ]),
      leak: 0.01,
      falseFail: 0.03,
      falsePass: 0.05,
    }));
    const quick = infer({ causes, findings });
    const slow = byEnumeration({ causes, findings });
    quick.causes.forEach((p, i) => expect(p).toBeCloseTo(slow.causes[i]!, 9));
    for (const [item, p] of slow.items) expect(quick.items.get(item)).toBeCloseTo(p, 9);
  });
});

/** Causes under as many findings, most of which rest on many of them: what falls apart nowhere. */
function dense(causes: number, findings: number, prior: (i: number) => number): Network {
  return {
    causes: Array.from({ length: causes }, (_, i) => ({
      id: `c${i}`,
      item: `item-${i % Math.ceil(causes / 2)}`,
      kind: 'any',
      prior: prior(i),
    })),
    findings: Array.from({ length: findings }, (_, f) => ({
      of: `f${f}`,
      failed: f % 4 === 1,
      strength: new Map(
        Array.from({ length: causes }, (_, c) => [c, ((c * 7 + f * 5) % 11) / 12] as const).filter(([, s]) => s > 0.2),
      ),
      leak: 0.005,
      falseFail: 0.02,
      falsePass: 0.04,
    })),
  };
}

describe('networks that fall apart nowhere', () => {
  test('of up to twenty causes are summed whole, and say that nothing was left out', () => {
    for (const causes of [12, 16]) {
      const network = dense(causes, 18, (i) => 0.02 + 0.01 * (i % 5));
      const quick = infer(network);
      const slow = byEnumeration(network);
      expect(quick.bound).toBe(0);
      quick.causes.forEach((p, i) => expect(p).toBeCloseTo(slow.causes[i]!, 9));
      for (const [item, p] of slow.items) expect(quick.items.get(item), item).toBeCloseTo(p, 9);
    }
    expect(infer(dense(20, 11, () => 0.03)).bound).toBe(0);
  });

  test('of more are cut short, and what they are off by is within what they say', () => {
    for (const [causes, prior] of [
      [11, 0.01],
      [13, 0.05],
      [15, 0.004],
    ] as const) {
      const network = dense(causes, 12, () => prior);
      const quick = infer(network, 200);
      const slow = byEnumeration(network);
      expect(quick.bound).toBeGreaterThan(0);
      expect(quick.bound).toBeLessThan(1);
      const off = Math.max(
        ...quick.causes.map((p, i) => Math.abs(p - slow.causes[i]!)),
        ...[...slow.items].map(([item, p]) => Math.abs(p - quick.items.get(item)!)),
        Math.abs(quick.nothing - slow.nothing),
      );
      expect(off).toBeLessThanOrEqual(quick.bound);
    }
  });
});

describe('what one case says', () => {
  const one = (prior: number, failed: boolean): Network => ({
    causes: [{ id: 'c', item: 'plug', kind: 'not-seated', prior }],
    findings: [{ of: 'picture', failed, strength: new Map([[0, 0.9]]), leak: 0, falseFail: 0, falsePass: 0 }],
  });

  test('by the theorem of Bayes for one cause and one test', () => {
    expect(infer(one(0.1, true)).causes[0]).toBeCloseTo(1, 12);
    expect(infer(one(0.1, false)).causes[0]).toBeCloseTo((0.1 * 0.1) / (0.1 * 0.1 + 0.9), 12);
  });

  test('a cause that is certain and brings down all stays certain', () => {
    const sure = one(1, true);
    sure.findings[0]!.strength = new Map([[0, 1]]);
    expect(infer(sure).causes[0]).toBeCloseTo(1, 9);
  });

  test('what was never tested is as likely as before', () => {
    const { causes, findings } = one(0.1, true);
    const more = [...causes, { id: 'd', item: 'lens', kind: 'dirty', prior: 0.2 }];
    const { causes: p, items } = infer({ causes: more, findings });
    expect(p[1]).toBe(0.2);
    expect(items.get('lens')).toBeCloseTo(0.2, 12);
  });

  test('a number that is no probability is refused by name', () => {
    expect(() => infer(one(1.2, true))).toThrow('the chance of c must be from 0 to 1, not 1.2');
    const wrong = one(0.1, true);
    wrong.findings[0]!.strength = new Map([[4, 0.5]]);
    expect(() => infer(wrong)).toThrow('picture rests on cause 4, which is not there');
  });

  test('what cannot happen is said, and not divided by', () => {
    const never = one(0, true);
    expect(() => infer(never)).toThrow('what was found is impossible');
  });
});
