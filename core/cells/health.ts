import { leastSquares } from '../statistics/index.ts';
import type { FindingMessage, ReadingMessage } from './messages.ts';
import { chargeAt, inSeries, layoutOf, newOhms, type Rating } from './cell.ts';

/** What a bench supply tells while it loads a cell: s, V at the terminals, A that are drawn. */
export interface LoadSample {
  seconds: number;
  volts: number;
  amps: number;
}

export interface Resistance {
  ohms: number;
  /** Half the width of its 95 % interval. */
  half: number;
  /** V without load at the begin. */
  rest: number;
  /** V that it falls each second by itself, as it is drawn. */
  sag: number;
}

/** Fewer samples tell nothing; from so many on the sag is fitted too. Origin: own choice. */
const FEWEST = 4;
const WITH_SAG = 8;

/**
 * The inner resistance from a load step: U = E − I R − b t by least squares; b is what the rest voltage falls by as the cell
 * is drawn. The interval is Student's.
 * @throws RangeError for too few samples, a current that never changes, or a resistance that cannot be: all of its interval
 * at or below nothing
 */
export function resistanceOf(samples: readonly LoadSample[]): Resistance {
  if (samples.length < FEWEST)
    throw new RangeError(`${samples.length} samples tell no resistance; at least ${FEWEST} are needed`);
  const amps = samples.map((s) => s.amps);
  if (Math.max(...amps) - Math.min(...amps) < 0.01)
    throw new RangeError('the current never changes: step it, by 0.5 A say, and back');
  const from = samples[0]!.seconds;
  const sag = samples.length >= WITH_SAG;
  const rows = samples.map((s) => (sag ? [1, s.amps, s.seconds - from] : [1, s.amps]));
  const { coefficients, half } = leastSquares(
    rows,
    samples.map((s) => s.volts),
  );
  const ohms = -coefficients[1]!;
  if (!(ohms + half[1]! > 0))
    throw new RangeError(
      `${Math.round(ohms * 1000)} ± ${Math.round(half[1]! * 1000)} mΩ cannot be: the volts rise with the load; look at the leads`,
    );
  return { ohms, half: half[1]!, rest: coefficients[0]!, sag: sag ? -coefficients[2]! : 0 };
}

/** A value and half the width of its interval; without `half`, what the usual instrument is good for (`METER`). */
export interface Reading {
  value: number;
  half?: number | null;
}

/** What is known of a cell by measuring. Every field may be left out. */
export interface CellMeasures {
  /** mAh that it gave from full to empty. */
  milliampHours?: number | Reading;
  cycles?: number;
  /** Ω of the pack. */
  ohms?: Reading;
  /** V at rest, at least half an hour after it was used. */
  restVolts?: number | Reading;
  /** V at rest a while later, read with the same meter, and how many hours that was. */
  later?: { volts: number | Reading; hours: number };
}

/** good and bad were shown; worn is a finding as well; what cannot be told is not good. */
export type Grade = 'good' | 'cannot-tell' | 'worn' | 'bad';

export type MeasureOf = 'capacity' | 'cycles' | 'resistance' | 'rest' | 'self-discharge';

/** What one measure says. */
export interface Finding {
  of: MeasureOf;
  grade: Grade;
  says: FindingMessage;
}

/**
 * From where on a cell is worn, or bad. Origin: 80 % of the rated capacity is what makers call worn (common practice), and
 * 500 cycles what many rate to it; twice the resistance of a new one, and the self-discharge, are own estimates. Below 3.0 V
 * a cell was drawn too far, below 2.5 V copper dissolves and it is never charged again (common practice); above 4.55 V it was
 * overcharged (own estimate: the highest limits of phones are about 4.5 V).
 */
export const HEALTH_LIMITS = {
  worn: 0.8,
  bad: 0.6,
  cycles: 500,
  ohmsWorn: 2,
  ohmsBad: 3.5,
  low: 3.0,
  dead: 2.5,
  over: 4.55,
  /** % of charge a month. */
  leaks: 5,
  leaksBad: 20,
} as const;

/**
 * Half the interval of what is read where nobody said it. Origin: own estimates; a capacity is counted to 3 %, a usual
 * multimeter shows steps of 10 mV in its range for a cell, a resistance read off an instrument is good for 10 %.
 */
export const METER = { capacityShare: 0.03, volts: 0.005, ohmsShare: 0.1 } as const;

/**
 * What no cell can have. Origin: own choice, well outside what is met; beyond it the reading, not the cell, is wrong. V are
 * of one cell in a row, the capacity a share of what is rated.
 */
export const MEASURE_LIMITS = { capacityShare: 1.2, cycles: 5000, ohms: 10, volts: 5 } as const;

/** How far the rest curve may be off where a self-discharge is read from it, V. Origin: own estimate, as that of the curve. */
const CURVE_OFF = 0.02;
const HOURS_A_MONTH = 730;
/** % a month that a sound cell loses by itself. Origin: common practice. */
const USUAL_LOSS = 2;

type Interval = readonly [low: number, high: number];
const around = (value: number, half: number): Interval => [value - half, value + half];
const asMeasured = (m: number | Reading): Reading => (typeof m === 'number' ? { value: m } : m);
const voltsAround = (m: number | Reading): Interval => {
  const { value, half } = asMeasured(m);
  return around(value, half ?? METER.volts);
};

/**
 * Why a reading cannot be true; `null` where it can. Such a reading is refused, never cut to what could be.
 */
export function measureFault(
  rating: Rating,
  of: MeasureOf,
  value: number,
  half: number | null = null,
): ReadingMessage | null {
  const L = MEASURE_LIMITS;
  if (!Number.isFinite(value) || (half !== null && !(half >= 0 && Number.isFinite(half))))
    return { code: 'reading-no-number' };
  const series = inSeries(rating) ?? rating.cells;
  switch (of) {
    case 'capacity': {
      const most = L.capacityShare * rating.milliampHours;
      if (value < 0 || value > most)
        return { code: 'capacity-cannot-be', value, rated: rating.milliampHours, most: Math.round(most) };
      return null;
    }
    case 'cycles':
      return Number.isInteger(value) && value >= 0 && value <= L.cycles
        ? null
        : { code: 'cycles-cannot-be', value, most: L.cycles };
    case 'resistance':
      return value > 0 && value <= L.ohms
        ? null
        : { code: 'resistance-cannot-be', value: Math.round(value * 1000), most: L.ohms * 1000 };
    case 'rest':
    case 'self-discharge':
      return value >= 0 && value <= L.volts * series
        ? null
        : { code: 'volts-cannot-be', value, layout: layoutOf(rating), series, most: L.volts * series };
    default:
      return of satisfies never;
  }
}

/**
 * The grade of an interval against two limits, where more is worse: good only if its worse end passes, worn or bad only if
 * its better end does not, else it cannot be told.
 */
function graded([low, high]: Interval, worn: number, bad: number): Grade {
  if (high <= worn) return 'good';
  if (low > bad) return 'bad';
  return low > worn ? 'worn' : 'cannot-tell';
}

/** The least and the most charge that a volt is worth about some volts: the slope of the rest curve, which may be off a little. */
function chargePerVolt(rating: Rating, volts: number): Interval {
  const series = inSeries(rating) ?? 1;
  const [low, high] = around(volts, 2 * CURVE_OFF * series);
  let [least, most] = [Infinity, 0];
  const steps = 40;
  const dv = (high - low) / steps;
  for (let i = 0; i < steps; i++) {
    const v = low + i * dv;
    const slope = (chargeAt(rating, v + dv) - chargeAt(rating, v)) / dv;
    least = Math.min(least, slope);
    most = Math.max(most, slope);
  }
  return [least, most];
}

/**
 * Hours after which a second reading can show that a sound cell loses no more than is let pass: until then the steps of the
 * meter alone are more.
 * @param half half the step of the meter, V
 * @returns Infinity where the curve is too flat or too steep about there to be read
 */
export function leastWaitHours(rating: Rating, volts: number, half: number = METER.volts): number {
  const [, most] = chargePerVolt(rating, volts);
  const doubt = 2 * half * most * 100;
  return (doubt * HOURS_A_MONTH) / (HEALTH_LIMITS.leaks - USUAL_LOSS);
}

const grades: readonly Grade[] = ['good', 'cannot-tell', 'worn', 'bad'];

/** What several findings say together: the worst; `null` of none. What cannot be told is worse than good. */
export const worstOf = (findings: readonly Pick<Finding, 'grade'>[]): Grade | null =>
  findings.length === 0 ? null : grades[Math.max(...findings.map((f) => grades.indexOf(f.grade)))]!;

/**
 * What each measure of a cell says, and what all say together: the worst. A measure is good only where the unfavourable end
 * of its interval is; a value that no cell can have says that it cannot be told.
 */
export function healthOf(rating: Rating, measures: CellMeasures): { findings: Finding[]; grade: Grade | null } {
  const { milliampHours, cycles, ohms, restVolts, later } = measures;
  const findings = [
    milliampHours === undefined ? null : ofCapacity(rating, asMeasured(milliampHours)),
    cycles === undefined ? null : ofCycles(rating, cycles),
    ohms === undefined ? null : ofResistance(rating, ohms),
    restVolts === undefined ? null : ofRest(rating, asMeasured(restVolts)),
    restVolts === undefined || later === undefined ? null : ofSelfDischarge(rating, restVolts, later),
  ].filter((f) => f !== null);
  return { findings, grade: worstOf(findings) };
}

const L = HEALTH_LIMITS;
/** A finding, unless the reading cannot be true. */
const found = (of: MeasureOf, fault: ReadingMessage | null, tell: () => Omit<Finding, 'of'>): Finding =>
  fault === null ? { of, ...tell() } : { of, grade: 'cannot-tell', says: fault };

const ofCapacity = (rating: Rating, { value, half }: Reading): Finding =>
  found('capacity', measureFault(rating, 'capacity', value, half ?? null), () => {
    const rated = rating.milliampHours;
    const [low, high] = around(value / rated, (half ?? METER.capacityShare * rated) / rated);
    // Less is worse here: both ends and both limits turned round.
    const grade = low >= L.worn ? 'good' : graded([-high, -low], -L.worn, -L.bad);
    const left = Math.round((value / rated) * 100);
    const near = { low: Math.round(low * 100), high: Math.round(high * 100) };
    return {
      grade,
      says:
        grade === 'cannot-tell'
          ? { code: 'capacity-too-near', left, rated, ...near }
          : { code: 'capacity-left', left, rated },
    };
  });

const ofCycles = (rating: Rating, cycles: number): Finding =>
  found('cycles', measureFault(rating, 'cycles', cycles), () => ({
    grade: cycles <= L.cycles ? 'good' : 'worn',
    says: { code: 'cycles-made-for', cycles, made: L.cycles },
  }));

const ofResistance = (rating: Rating, { value, half }: Reading): Finding =>
  found('resistance', measureFault(rating, 'resistance', value, half ?? null), () => {
    const fresh = newOhms(rating);
    const doubt = half ?? METER.ohmsShare * value;
    const [low, high] = around(value, doubt);
    const [ohmsTold, halfTold, freshTold] = [value, doubt, fresh].map((v) => Math.round(v * 1000)) as [
      number,
      number,
      number,
    ];
    const told = { ohms: ohmsTold, half: halfTold, fresh: freshTold };
    // A resistance whose interval holds nothing was not measured at all.
    if (low <= 0) return { grade: 'cannot-tell', says: { code: 'resistance-doubt', ...told } };
    const grade = graded([low / fresh, high / fresh], L.ohmsWorn, L.ohmsBad);
    return {
      grade,
      says: { code: grade === 'cannot-tell' ? 'resistance-uncertain' : 'resistance-told', ...told },
    };
  });

const ofRest = (rating: Rating, { value, half }: Reading): Finding =>
  found('rest', measureFault(rating, 'rest', value, half ?? null), () => {
    const volts = value;
    const series = inSeries(rating);
    if (series === null)
      return { grade: 'cannot-tell', says: { code: 'rest-layout-unknown', volts, cells: rating.cells } };
    const [low, high] = around(value / series, (half ?? METER.volts) / series);
    if (high > L.over)
      return low > L.over
        ? { grade: 'bad', says: { code: 'rest-over', volts } }
        : { grade: 'cannot-tell', says: { code: 'rest-perhaps-over', volts } };
    if (low >= L.low)
      return {
        grade: 'good',
        says: { code: 'rest-charged', volts, percent: Math.round(chargeAt(rating, value) * 100) },
      };
    if (high < L.dead) return { grade: 'bad', says: { code: 'rest-dead', volts } };
    if (high < L.low)
      return {
        grade: 'worn',
        says: { code: low >= L.dead ? 'rest-low' : 'rest-perhaps-dead', volts },
      };
    return { grade: 'cannot-tell', says: { code: 'rest-perhaps-low', volts } };
  });

/**
 * The loss of a month from two readings of one meter. The steps of the meter stand in the interval, each reading may be off by
 * half of one; so does the slope of the rest curve, which is not known better than its volts.
 */
const ofSelfDischarge = (
  rating: Rating,
  rest: number | Reading,
  { volts, hours }: { volts: number | Reading; hours: number },
): Finding =>
  found(
    'self-discharge',
    measureFault(rating, 'self-discharge', asMeasured(volts).value) ??
      measureFault(rating, 'self-discharge', asMeasured(rest).value) ??
      (hours > 0 && Number.isFinite(hours) ? null : { code: 'reading-hours' }),
    () => {
      const [r, l] = [voltsAround(rest), voltsAround(volts)];
      const fall: Interval = [r[0] - l[1], r[1] - l[0]];
      const before = asMeasured(rest).value;
      if (fall[1] < 0) return { grade: 'cannot-tell', says: { code: 'self-rose' } };
      const [least, most] = chargePerVolt(rating, before);
      const perMonth = (100 * HOURS_A_MONTH) / hours;
      const low = fall[0] * (fall[0] >= 0 ? least : most) * perMonth;
      const high = fall[1] * most * perMonth;
      const grade = graded([low, high], L.leaks, L.leaksBad);
      const told = { low: Math.max(0, low), high };
      if (grade !== 'cannot-tell') return { grade, says: { code: 'self-loses', ...told } };
      const wait = leastWaitHours(rating, before, (r[1] - r[0]) / 2);
      return {
        grade,
        says: Number.isFinite(wait)
          ? { code: 'self-read-again', ...told, hours: Math.ceil(wait) }
          : { code: 'self-tells-nothing', ...told },
      };
    },
  );
