import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { seededDraw } from '../../demo/synthetic.ts';
import {
  CELL_MARKS,
  chargeAt,
  compareCell,
  drawSeconds,
  healthOf,
  newOhms,
  provedWelds,
  REMOVALS,
  refitOf,
  resistanceOf,
  restVolts,
  transplantFault,
  transplantFaults,
  transplantRefusals,
  transplantState,
  transplantSteps,
  transportOf,
  wattHoursOf,
  type LoadSample,
  type NewCell,
  type TransplantDone,
  type TransplantRules,
} from './index.ts';

const RATING = { volts: 3.86, milliampHours: 3980, cells: 1 };

/** The same draw in steps of a second: the charge goes down by the current that the power asks for. */
function stepByStep(from: number, to: number, watts: number, ohms: number): number {
  const rating = RATING;
  const coulombs = (rating.milliampHours / 1000) * 3600;
  let charge = from / 100;
  let seconds = 0;
  const h = 0.5;
  while (charge > to / 100 && seconds < 1e6) {
    const e = restVolts(rating, charge);
    // The current by fixed point, not by the formula.
    let amps = watts / e;
    for (let i = 0; i < 40; i++) amps = watts / (e - amps * ohms);
    charge -= (amps * h) / coulombs;
    seconds += h;
  }
  return seconds;
}

describe('drawing a cell down', () => {
  it.each([
    [80, 25, 3.5],
    [100, 25, 4],
    [55, 30, 8],
    [30, 25, 1],
  ])('from %s to %s %% with %s W takes what small steps say', (from, to, watts) => {
    for (const ohms of [0, newOhms(RATING), 0.2]) {
      const found = drawSeconds(RATING, from, to, watts, { ohms });
      expect(Math.abs(found / stepByStep(from, to, watts, ohms) - 1)).toBeLessThan(0.002);
    }
  });
  it.each(DEVICES)('%s: is the energy over the power, shortened by its resistance where that is known', (id) => {
    const rating = demoModel(id).anatomy.battery;
    const plain = (wattHoursOf(rating).pack * 0.55 * 3600) / 2;
    expect(drawSeconds(rating, 80, 25, 2) / plain).toBeCloseTo(1, 2);
    const lossy = drawSeconds(rating, 80, 25, 2, { ohms: newOhms(rating) }) / plain;
    expect(lossy).toBeGreaterThan(0.9);
    expect(lossy).toBeLessThan(1);
  });
  it('a worn cell is empty sooner; one that cannot give the power never gets there; below already takes nothing', () => {
    expect(drawSeconds(RATING, 80, 25, 4, { health: 0.7 })).toBeCloseTo(0.7 * drawSeconds(RATING, 80, 25, 4), 6);
    expect(drawSeconds(RATING, 80, 25, 40, { ohms: 1 })).toBe(Infinity);
    expect(drawSeconds(RATING, 20, 25, 4)).toBe(0);
    expect(() => drawSeconds(RATING, 80, 25, 0)).toThrow(RangeError);
    expect(() => drawSeconds(RATING, 120, 25, 4)).toThrow(RangeError);
  });
  it('volts at rest and charge are one curve, whose mean is the label', () => {
    for (let c = 0; c <= 1; c += 0.01) expect(chargeAt(RATING, restVolts(RATING, c))).toBeCloseTo(c, 9);
    const mean =
      Array.from({ length: 10_000 }, (_, i) => restVolts(RATING, (i + 0.5) / 10_000)).reduce((s, v) => s + v, 0) /
      10_000;
    expect(mean).toBeCloseTo(RATING.volts, 4);
  });
});

function normal(draw: (below: number) => number): () => number {
  const even = () => (draw(1_000_000) + 0.5) / 1_000_000;
  return () => Math.sqrt(-2 * Math.log(even())) * Math.cos(2 * Math.PI * even());
}
const loadStep = (ohms: number, seed: number, noise = 0.002): LoadSample[] => {
  const random = normal(seededDraw(seed));
  return Array.from({ length: 32 }, (_, i) => {
    const amps = [0, 0.5, 1, 0.5][Math.floor(i / 8)]!;
    return { seconds: i / 4, amps, volts: 3.9 - ohms * amps - 0.0005 * (i / 4) + noise * random() };
  });
};

describe('the health of a cell', () => {
  it('a load step gives R within its stated 95 % interval in 93.5 to 96.5 % of 2,000 seeds', () => {
    let within = 0;
    for (let seed = 1; seed <= 2000; seed++) {
      const found = resistanceOf(loadStep(0.08, seed));
      if (Math.abs(found.ohms - 0.08) <= found.half) within++;
    }
    expect(within / 2000).toBeGreaterThanOrEqual(0.935);
    expect(within / 2000).toBeLessThanOrEqual(0.965);
  });
  it('without noise it is exact, and the sag beside it', () => {
    const found = resistanceOf(loadStep(0.123, 1, 0));
    expect(found.ohms).toBeCloseTo(0.123, 9);
    expect(found.rest).toBeCloseTo(3.9, 9);
    expect(found.sag).toBeCloseTo(0.0005, 9);
  });
  it('a current that never changes and too few samples are refused', () => {
    expect(() => resistanceOf(loadStep(0.1, 1).map((s) => ({ ...s, amps: 1 })))).toThrow(/never changes/);
    expect(() => resistanceOf(loadStep(0.1, 1).slice(0, 3))).toThrow(/at least 4/);
  });
  it.each([
    ['as new', { milliampHours: 3900, cycles: 40, ohms: { value: 0.06, half: 0.005 }, restVolts: 3.85 }, 'good'],
    ['worn by its capacity', { milliampHours: 3000 }, 'worn'],
    ['done for', { milliampHours: 2000 }, 'bad'],
    ['drawn too far', { restVolts: 2.8 }, 'worn'],
    ['dead', { restVolts: 2.2 }, 'bad'],
    ['of high resistance', { ohms: { value: 0.3, half: 0.01 } }, 'bad'],
    ['of a resistance that is not sure', { ohms: { value: 0.14, half: 0.06 } }, 'good'],
    ['losing by itself', { restVolts: 3.9, later: { volts: 3.8, hours: 48 } }, 'bad'],
  ] as const)('%s is said', (_, measures, grade) => {
    expect(healthOf(RATING, measures).grade).toBe(grade);
  });
  it('of nothing measured nothing is said', () => {
    expect(healthOf(RATING, {})).toEqual({ findings: [], grade: null });
  });
});

describe('may it go back?', () => {
  it('only where nothing at all speaks against it: over every combination', () => {
    let refitted = 0;
    for (const removal of REMOVALS)
      for (let mask = 0; mask < 1 << CELL_MARKS.length; mask++)
        for (const health of [null, 'good', 'worn', 'bad'] as const)
          for (const house of ['never-refit', 'refit-if-flawless'] as const) {
            const marks = CELL_MARKS.filter((_, i) => mask & (1 << i));
            const { verdict, reasons } = refitOf(
              { removal, marks },
              { grade: health, findings: health ? [{ of: 'capacity', grade: health, says: 'so' }] : [] },
              house,
            );
            expect(reasons.length).toBeGreaterThan(0);
            const flawless =
              marks.length === 0 &&
              ['loose', 'tabs', 'solvent'].includes(removal) &&
              house === 'refit-if-flawless' &&
              (health === null || health === 'good');
            expect(verdict === 'refit').toBe(flawless);
            if (marks.some((m) => m === 'swollen' || m === 'punctured' || m === 'bent')) expect(verdict).toBe('unfit');
            if (verdict === 'refit') refitted++;
          }
    expect(refitted).toBe(6);
  });
});

describe('a new cell', () => {
  const model = demoModel('velmora-quill-5');
  const good: NewCell = {
    ...RATING,
    chargeVolts: 4.4,
    size: { width: 26, height: 80, thickness: 3.9 },
    made: '2026-07',
    restVolts: 3.8,
    samePlug: true,
    sameFlex: true,
  };
  const grades = (cell: NewCell) =>
    Object.fromEntries(compareCell(model, 'battery', cell, 4.4, new Date('2026-11-01')).map((f) => [f.of, f.grade]));
  it('as the old one fits', () => {
    expect(Object.values(grades(good))).not.toContain('no');
  });
  it.each([
    ['of another chemistry', { volts: 3.7 }, 'volts', 'no'],
    ['that bears less than the device charges to', { chargeVolts: 4.35 }, 'charge-limit', 'no'],
    ['too wide for its bay', { size: { width: 27, height: 80, thickness: 3.9 } }, 'size', 'no'],
    ['of unbelievable capacity', { milliampHours: 6000 }, 'capacity', 'look'],
    ['of old stock', { made: '2024-01' }, 'age', 'look'],
    ['deeply empty', { restVolts: 3.2 }, 'charge', 'look'],
    ['with another plug', { samePlug: false }, 'plug', 'no'],
  ] as const)('%s is told', (_, change, of, grade) => {
    expect(grades({ ...good, ...change } as NewCell)[of]).toBe(grade);
  });
  it('leaves its growth room where the bay is drawn', () => {
    const anatomy = structuredClone(model.anatomy);
    anatomy.parts.find((p) => p.id === 'battery')!.thickness = 4;
    const drawn = {
      ...model,
      parts: new Map(model.parts).set('battery', anatomy.parts.find((p) => p.id === 'battery')!),
    };
    const grown = (thickness: number) =>
      compareCell(drawn, 'battery', { ...good, size: { width: 26, height: 80, thickness } }, 4.4, new Date()).find(
        (f) => f.of === 'growth',
      )!.grade;
    expect(grown(4)).toBe('fits');
    expect(grown(4.6)).toBe('no');
  });
});

describe('transport (IATA DGR, packing instructions 965 to 967, from memory)', () => {
  it.each([
    [{ volts: 3.86, milliampHours: 3980, cells: 1 }, 15.3628, 'small'],
    [{ volts: 3.7, milliampHours: 5405.4, cells: 1 }, 20, 'small'],
    [{ volts: 3.7, milliampHours: 5500, cells: 1 }, 20.35, 'large'],
    [{ volts: 7.58, milliampHours: 6120, cells: 2 }, 46.3896, 'large'],
    [{ volts: 11.4, milliampHours: 5000, cells: 3 }, 57, 'small'],
    [{ volts: 11.4, milliampHours: 9000, cells: 6 }, 102.6, 'large'],
  ] as const)('%j has %s Wh and is %s', (rating, wattHours, kind) => {
    const found = transportOf(rating);
    expect(found.wattHours).toBeCloseTo(wattHours, 3);
    expect(found.class).toBe(kind);
  });
  it('what is hurt never goes in a parcel', () => {
    expect(transportOf(RATING, true)).toMatchObject({ class: 'damaged' });
    expect(transportOf(RATING, true).never.join(' ')).toMatch(/never by air/);
  });
});

describe('a cell moved to its old protection board', () => {
  const weld = {
    machine: 'Bench welder',
    setting: 'program 3',
    strip: 'nickel 4 × 0.1 mm',
    coupons: [31, 28, 33],
    date: '2026-10-02',
    by: 'Tobin Hask',
  };
  const rules: TransplantRules = { trained: ['Tobin Hask'], pull: 20, welds: [weld] };
  const bare = { ...RATING, chargeVolts: 4.4, size: { width: 26, height: 72, thickness: 4 } };
  const pack = { ...bare, size: { width: 26, height: 74, thickness: 4 }, boardRoom: 5 };

  it('is offered only to shops that have settled it, by people who are named, with welds that coupons prove', () => {
    expect(transplantRefusals(null, 'Tobin Hask')).toHaveLength(1);
    expect(transplantRefusals(rules, 'Tobin Hask')).toEqual([]);
    expect(transplantRefusals(rules, 'Ines Varga')[0]).toMatch(/not marked as trained/);
    expect(transplantRefusals({ ...rules, welds: [{ ...weld, coupons: [31, 28] }] }, 'Tobin Hask')).toHaveLength(1);
    expect(provedWelds({ ...rules, welds: [{ ...weld, coupons: [31, 28, 12] }] })).toEqual([]);
  });
  it('what does not belong together is said', () => {
    expect(transplantFaults(bare, pack)).toEqual([]);
    expect(transplantFaults({ ...bare, chargeVolts: 4.35 }, pack)[0]).toMatch(/must be the same/);
    expect(transplantFaults({ ...bare, size: { width: 26, height: 80, thickness: 4 } }, pack)[0]).toMatch(/height/);
    expect(transplantFaults(bare, { ...pack, boardRoom: 1 })[0]).toMatch(/no room/);
  });

  const done = (step: string, value: number | null, good = true, note = ''): TransplantDone => ({
    step,
    value,
    good,
    note,
    by: 'Tobin Hask',
    at: '2026-11-01T10:00:00Z',
  });
  /** Every step as it should be. */
  function all(): TransplantDone[] {
    const log: TransplantDone[] = [];
    for (let i = 0; i < 60; i++) {
      const at = transplantState(rules, log);
      if (at.state !== 'open') return log;
      const { check, id } = at.next;
      const value =
        check.kind !== 'measure'
          ? null
          : check.unit === 'V'
            ? 3.8
            : check.unit === 'mΩ'
              ? 60
              : check.unit === 'N'
                ? 25
                : check.unit === 'mm'
                  ? 3
                  : 24;
      expect(transplantFault(at.next, value, rules, 'Bench welder: program 3')).toBeNull();
      log.push(done(id, value));
    }
    throw new Error('it never ends');
  }
  it('goes step by step to its end, one tab free at a time', () => {
    const log = all();
    expect(transplantState(rules, log)).toEqual({ state: 'done' });
    const order = log.map((d) => d.step);
    expect(order.indexOf('old-cut-negative')).toBeLessThan(order.indexOf('old-cut-positive'));
    expect(order.indexOf('weld-negative')).toBeLessThan(order.indexOf('weld-positive'));
    for (const pole of ['negative', 'positive'])
      expect(order.indexOf(`pull-${pole}`)).toBe(order.indexOf(`weld-${pole}`) + 1);
    expect(order.slice(-6)).toEqual(['cable-first', 'off', 'mate', 'start', 'report', 'rest']);
  });
  it('anything off ends it, wherever it is', () => {
    const log = all();
    for (let i = 0; i < log.length; i++) {
      const spoilt = [...log.slice(0, i), done(log[i]!.step, log[i]!.value, false, 'a spark was seen')];
      expect(transplantState(rules, spoilt)).toMatchObject({ state: 'ended', because: 'a spark was seen' });
    }
  });
  it('a weak weld, a warm pouch, other volts after than before, and a setting without coupons are faults', () => {
    const steps = new Map(transplantSteps(rules, { volts: 3.8, milliohms: 60 }).map((s) => [s.id, s]));
    const fault = (id: string, value: number | null, note = '') => transplantFault(steps.get(id)!, value, rules, note);
    expect(fault('pull-negative', 19)).toMatch(/less than 20 N/);
    expect(fault('pull-negative', 20)).toBeNull();
    expect(fault('warm', 50)).toMatch(/more than 45/);
    expect(fault('volts-after', 3.7)).toMatch(/less than/);
    expect(fault('weld-negative', null, 'Bench welder: program 9')).toMatch(/your own coupons/);
    expect(fault('volts-before', Number.NaN)).toMatch(/asked for/);
  });
});
