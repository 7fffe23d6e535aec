import { jStat } from 'jstat';
import { describe, expect, test } from 'vitest';
import { planDive } from '../dive/index.ts';
import { chanceOf } from '../explore/index.ts';
import { demoModel } from '../../demo/models.ts';
import { mishapsOf } from './mishaps.ts';
import { added, DEFAULT_TILL, moneyOf, readMoney, rounded, taxOn, tellMoney } from './money.ts';
import { quoteOf } from './quote.ts';
import { expectedWork, mishapBins, spreadOf, type PastJob } from './spread.ts';
import { incompleteBeta, logGamma, studentCdf } from '../statistics/index.ts';

describe('distributions against jstat', () => {
  test("Student's distribution, the incomplete beta function, the gamma function", () => {
    for (const freedom of [1, 2, 6, 12.5, 80])
      for (const t of [-6, -1.3, -0.2, 0, 0.4, 1, 2.7, 9])
        expect(studentCdf(t, freedom)).toBeCloseTo(jStat.studentt.cdf(t, freedom), 7);
    for (const [x, a, b] of [
      [0.1, 2, 3],
      [0.5, 0.5, 0.5],
      [0.93, 7, 1.5],
    ] as const)
      expect(incompleteBeta(x, a, b)).toBeCloseTo(jStat.ibeta(x, a, b) as number, 7);
    for (const x of [0.3, 1, 4.5, 30]) expect(logGamma(x)).toBeCloseTo(jStat.gammaln(x), 8);
  });

  test('quantiles of a dive without risks are those of Student in the logarithm', () => {
    const spread = spreadOf(1000, []);
    for (const share of [0.1, 0.5, 0.9])
      expect(spread.quantile(share)).toBeCloseTo(1000 * Math.exp(0.22 * jStat.studentt.inv(share, 6)), 2);
  });

  test('what mishaps add is a distribution with the mean that they have', () => {
    const mishaps = [
      { chance: 0.3, seconds: 420 },
      { chance: 0.05, seconds: 900 },
      { chance: 0.5, seconds: 60 },
    ];
    const bins = mishapBins(mishaps);
    expect(bins.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 12);
    expect(bins.reduce((sum, p, i) => sum + p * i * 30, 0)).toBeCloseTo(expectedWork(0, mishaps), 9);
  });
});

/**
 * A shop that keeps to no model of ours: one factor for each technician and day, steps that vary each by itself, and
 * mishaps that lengthen several steps in a row, of which the record says nothing.
 */
function shopOf(seed: number) {
  const random = chanceOf(seed);
  const normal = () => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
  const technicians = [0.9, 1.05, 1.3];
  const model = demoModel('velmora-quill-5');
  const dives = ['battery', 'display', 'camera', 'dock'].map((part) => {
    const plan = planDive(model, { replace: [part] }, undefined, { budget: 0, heat: 'usual' });
    const mishaps = mishapsOf(model, plan);
    return { plan, mishaps, planned: expectedWork(plan.totals.hands, mishaps) };
  });
  let day = 1;
  let technician = 1;
  return (i: number) => {
    if (i % 6 === 0) {
      day = Math.exp(0.12 * normal());
      technician = technicians[Math.floor(random() * technicians.length)]!;
    }
    const dive = dives[i % dives.length]!;
    let slow = 1;
    const taken = dive.plan.steps.reduce((sum, step) => {
      if (random() < 0.02) slow = 2.5;
      else if (random() < 0.2) slow = 1;
      return sum + step.seconds * day * technician * slow * Math.exp(0.25 * normal());
    }, 0);
    return { dive, taken };
  };
}

describe('quotes against jobs of a shop of another kind', () => {
  test('half of the jobs are within P50 and nine of ten within P90, once the shop has done some', () => {
    // A shop's six jobs of a day share one factor: four shops, so that days enough tell a share within 0.02.
    const shops = [77, 78, 79, 80].map(within);
    const mean = (of: (shop: { within50: number; within90: number }) => number) =>
      shops.reduce((sum, shop) => sum + of(shop), 0) / shops.length;
    expect(Math.abs(mean((s) => s.within50) - 0.5)).toBeLessThan(0.05);
    expect(Math.abs(mean((s) => s.within90) - 0.9)).toBeLessThan(0.04);
  });

  /** The shares of a shop's later jobs that end within what is told of them. */
  function within(seed: number): { within50: number; within90: number } {
    const draw = shopOf(seed);
    const past: PastJob[] = [];
    let within50 = 0;
    let within90 = 0;
    const later = 1500;
    for (let i = 0; i < 500; i++) {
      const { dive, taken } = draw(i);
      past.push({ planned: dive.planned, taken });
    }
    const spreads = new Map<object, [number, number]>();
    for (let i = 0; i < later; i++) {
      const { dive, taken } = draw(i);
      let told = spreads.get(dive);
      if (!told) {
        const spread = spreadOf(dive.plan.totals.hands, dive.mishaps, past);
        told = [spread.quantile(0.5), spread.quantile(0.9)];
        spreads.set(dive, told);
      }
      if (taken <= told[0]) within50++;
      if (taken <= told[1]) within90++;
    }
    return { within50: within50 / later, within90: within90 / later };
  }
});

describe('money', () => {
  test('is added in decimals: a tenth and two tenths are three tenths', () => {
    expect(added(['0.1', '0.2']).toString()).toBe('0.3');
    expect(taxOn('99.99', { tax: '19', currency: 'EUR' })).toBe('19.00');
    expect(rounded('2.005', 'EUR')).toBe('2.01');
    expect(rounded('1234.5', 'JPY')).toBe('1235');
  });
  test.each([
    ['12,50', '12.50'],
    ['12.5', '12.50'],
    [' 1 200 ', '1200.00'],
    ['-1', null],
    ['1e3', null],
    ['12.345', null],
    ['', null],
  ])('%s as it is typed is %s', (text, sum) => {
    expect(readMoney(text, 'EUR')).toBe(sum);
  });
  test('is told with its sign, and a text that is none is refused', () => {
    expect(tellMoney('1234.50', 'EUR')).toBe('€1,234.50');
    expect(() => moneyOf('twelve')).toThrow('"twelve" is no sum');
  });
});

describe('what a dive comes to', () => {
  const model = demoModel('velmora-quill-5');
  const plan = planDive(model, { replace: ['battery'], spares: ['battery-new'] });
  const offers = [{ spare: 'battery-new', price: '20.00', stock: 2, days: 3 }];
  const quote = quoteOf(model, plan, { till: DEFAULT_TILL, offers });

  test('is its parts, what is renewed, its work and the tax, to the cent', () => {
    const { parts, renewables, labour, tax, total } = quote.price;
    expect(parts).toBe('23.00');
    expect(added([parts, renewables, labour, tax]).toFixed(2)).toBe(total);
    expect(quote.renewables.map((l) => l.item)).toContain('cell-tabs');
    expect(Number(quote.price.most)).toBeGreaterThan(Number(total));
    expect(quote.p90).toBeGreaterThan(quote.p50);
    expect(quote.days).toBe(3);
  });

  test('names what may go wrong: a strip that snaps, the panel that is pried, the screws', () => {
    expect(quote.risks.map((r) => r.kind)).toEqual(
      expect.arrayContaining(['panel-cracks', 'tab-snaps', 'screw-strips', 'spare-bad']),
    );
    const cracked = planDive(model, { replace: ['battery'], condition: { crackedGlass: true } });
    const panel = (p: typeof plan) => mishapsOf(model, p).find((m) => m.kind === 'panel-cracks')!.chance;
    expect(panel(cracked)).toBeGreaterThan(panel(plan));
  });

  test('takes a spare from the shelf before it buys one, but not one that is spoken for', () => {
    const own = { id: 'a', anatomy: model.anatomy.id, spare: 'battery-new', price: '10.00', count: 1 };
    const free = quoteOf(model, plan, { till: DEFAULT_TILL, offers, shelf: [{ ...own, reserved: 0 }] });
    const taken = quoteOf(model, plan, { till: DEFAULT_TILL, offers, shelf: [{ ...own, reserved: 1 }] });
    expect(free.parts[0]).toMatchObject({ from: 'shelf', price: '11.50', days: 0 });
    expect(taken.parts[0]).toMatchObject({ from: 'supplier' });
  });

  test('says so where it is not worth doing, and where a price is only an estimate', () => {
    expect(quoteOf(model, plan, { till: DEFAULT_TILL, offers, worth: '60.00' }).against[0]).toContain(
      'of what the device is worth',
    );
    expect(quoteOf(model, plan, { till: DEFAULT_TILL, offers: [] }).against[0]).toContain('estimate');
    expect(quote.against).toEqual([]);
  });
});
