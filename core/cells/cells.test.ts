import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { seededDraw } from '../../demo/synthetic.ts';
import {
  CELL_MARKS,
  chargeAt,
  compareCell,
  drawSeconds,
  healthOf,
  inSeries,
  leastWaitHours,
  measureFault,
  newOhms,
  provedWelds,
  ratingOf,
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
  wantedCell,
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

describe('of a device with several cells', () => {
  const { anatomy } = demoModel('corvane-almanac-7');
  it('each has a label of its own, and the pack is what they are together', () => {
    expect(ratingOf(anatomy, 'cell-right')).toMatchObject({ milliampHours: 2520, cells: 1 });
    expect(ratingOf(anatomy, 'cell-left')).toMatchObject({ milliampHours: 1960, cells: 1 });
    expect(ratingOf(anatomy)).toMatchObject({ milliampHours: 4480, cells: 2 });
    const [right, left] = ['cell-right', 'cell-left'].map((id) => wattHoursOf(ratingOf(anatomy, id)).pack);
    expect(right! + left!).toBeCloseTo(wattHoursOf(ratingOf(anatomy)).pack, 6);
    expect(wantedCell(demoModel('corvane-almanac-7'), 'cell-left')).toMatchObject({
      code: 'wanted-cell',
      volts: 3.88,
      milliampHours: 1960,
    });
  });
});

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
    ['too near to worn', { milliampHours: 3200 }, 'cannot-tell'],
    ['drawn too far', { restVolts: 2.8 }, 'worn'],
    ['perhaps drawn too far', { restVolts: { value: 3.0, half: 0.05 } }, 'cannot-tell'],
    ['overcharged', { restVolts: 4.7 }, 'bad'],
    ['dead', { restVolts: 2.2 }, 'bad'],
    ['of high resistance', { ohms: { value: 0.3, half: 0.01 } }, 'bad'],
    ['of a resistance that is not sure', { ohms: { value: 0.14, half: 0.06 } }, 'cannot-tell'],
    ['of a resistance within an interval that holds everything', { ohms: { value: 0.5, half: 0.45 } }, 'cannot-tell'],
    ['of a resistance that drowns', { ohms: { value: 0.06, half: 5 } }, 'cannot-tell'],
    ['of a resistance below nothing', { ohms: { value: -0.08, half: 0.002 } }, 'cannot-tell'],
    ['of twice its capacity', { milliampHours: 7960 }, 'cannot-tell'],
    ['of half a cycle', { cycles: 40.5 }, 'cannot-tell'],
    ['losing by itself', { restVolts: 3.9, later: { volts: 3.8, hours: 48 } }, 'bad'],
    ['one step of its meter lower after an hour', { restVolts: 3.9, later: { volts: 3.899, hours: 1 } }, 'cannot-tell'],
    ['higher than at first', { restVolts: 3.8, later: { volts: 3.9, hours: 100 } }, 'cannot-tell'],
    [
      'steady for a month by a fine meter',
      { restVolts: { value: 3.9, half: 0.0005 }, later: { volts: { value: 3.898, half: 0.0005 }, hours: 730 } },
      'good',
    ],
  ] as const)('%s is said', (_, measures, grade) => {
    expect(healthOf(RATING, measures).grade).toBe(grade);
  });
  it('what is bad enough is good nowhere: a worse reading or a wider doubt never makes a grade better', () => {
    const order = ['good', 'cannot-tell', 'worn', 'bad'];
    const draw = seededDraw(31);
    for (let k = 0; k < 2000; k++) {
      const value = 0.02 + draw(400) / 1000;
      const half = draw(300) / 1000;
      const grade = (v: number, h: number) => order.indexOf(healthOf(RATING, { ohms: { value: v, half: h } }).grade!);
      const here = grade(value, half);
      // The worse end alone decides whether it is good (recomputed from the limits of the trade).
      expect(here === 0).toBe(half < value && (value + half) / 0.0603015 <= 2);
      if (half < value) expect(grade(value + 0.05, half)).toBeGreaterThanOrEqual(here);
      if (here > 0) expect(grade(value, half + 0.05)).toBeGreaterThan(0);
    }
  });
  it('says how long to wait, and after so long a sound cell can be shown to be sound', () => {
    for (const [volts, half] of [
      [3.75, 0.0005],
      [3.9, 0.0005],
      [4.1, 0.005],
    ] as const) {
      const hours = leastWaitHours(RATING, volts, half);
      const sound = { volts: { value: volts, half }, hours };
      expect(healthOf(RATING, { restVolts: { value: volts, half }, later: sound }).findings.at(-1)!.grade).toBe('good');
      const early = { ...sound, hours: hours / 10 };
      const told = healthOf(RATING, { restVolts: { value: volts, half }, later: early }).findings.at(-1)!;
      expect(told.grade).toBe('cannot-tell');
      expect(told.says.code).toBe('self-read-again');
    }
  });
  it('readings that cannot be are named, and are not cut to what could be', () => {
    expect(measureFault(RATING, 'resistance', -0.08)).toMatchObject({ code: 'resistance-cannot-be' });
    expect(measureFault(RATING, 'capacity', 7960)).toMatchObject({ code: 'capacity-cannot-be' });
    expect(measureFault(RATING, 'rest', 7.4)).toMatchObject({
      code: 'volts-cannot-be',
      layout: { code: 'layout-one' },
      most: 5,
    });
    expect(measureFault({ ...RATING, volts: 7.7, cells: 2 }, 'rest', 7.4)).toBeNull();
    expect(measureFault(RATING, 'cycles', Number.NaN)).toEqual({ code: 'reading-no-number' });
    expect(() => resistanceOf(loadStep(-0.08, 3))).toThrow(/rise with the load/);
  });
  it('two cells side by side have the volts of one and half its resistance; two in a row twice both', () => {
    const pair = { volts: 3.87, milliampHours: 8200, cells: 2 };
    expect(inSeries(pair)).toBe(1);
    expect(healthOf(pair, { restVolts: 3.87 }).grade).toBe('good');
    expect(newOhms(pair)).toBeCloseTo(newOhms({ ...pair, milliampHours: 4100, cells: 1 }) / 2, 12);
    const row = { volts: 7.74, milliampHours: 4100, cells: 2 };
    expect(inSeries(row)).toBe(2);
    expect(newOhms(row)).toBeCloseTo(2 * newOhms({ volts: 3.87, milliampHours: 4100, cells: 1 }), 12);
    expect(healthOf(row, { restVolts: 4.6 }).grade).toBe('bad');
    expect(inSeries({ volts: 11.4, milliampHours: 9000, cells: 6 })).toBe(3);
    expect(inSeries({ volts: 5, milliampHours: 4000, cells: 2 })).toBeNull();
    expect(healthOf({ volts: 5, milliampHours: 4000, cells: 2 }, { restVolts: 3.9 }).grade).toBe('cannot-tell');
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
        for (const health of [null, 'good', 'cannot-tell', 'worn', 'bad'] as const)
          for (const house of ['never-refit', 'refit-if-flawless'] as const) {
            const marks = CELL_MARKS.filter((_, i) => mask & (1 << i));
            const { verdict, reasons } = refitOf(
              { removal, marks },
              {
                grade: health,
                findings: health ? [{ of: 'capacity', grade: health, says: { code: 'self-rose' } }] : [],
              },
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
    [{ volts: 7.58, milliampHours: 6120, cells: 2 }, 46.3896, 'small'],
    [{ volts: 3.87, milliampHours: 12_000, cells: 2 }, 46.44, 'small'],
    [{ volts: 3.87, milliampHours: 12_000, cells: 1 }, 46.44, 'large'],
    [{ volts: 11.4, milliampHours: 5000, cells: 3 }, 57, 'small'],
    [{ volts: 11.4, milliampHours: 9000, cells: 6 }, 102.6, 'large'],
  ] as const)('%j has %s Wh and is %s', (rating, wattHours, kind) => {
    const found = transportOf(rating);
    expect(found.wattHours).toBeCloseTo(wattHours, 3);
    expect(found.class).toBe(kind);
    expect(found.numbers).toEqual({ alone: 'UN 3480', withDevice: 'UN 3481', within: 'UN 3481' });
    expect(found.source).toMatch(/from memory.*carrier decide/);
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
