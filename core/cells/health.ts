import { leastSquares } from '../statistics/index.ts';
import { chargeAt, newOhms, type Rating } from './cell.ts';

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
 * @throws RangeError for too few samples, or where the current never changes
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
  return { ohms: -coefficients[1]!, half: half[1]!, rest: coefficients[0]!, sag: sag ? -coefficients[2]! : 0 };
}

/** What is known of a cell by measuring. Every field may be left out. */
export interface CellMeasures {
  /** mAh that it gave from full to empty. */
  milliampHours?: number;
  cycles?: number;
  ohms?: { value: number; half: number };
  /** V at rest, at least half an hour after it was used. */
  restVolts?: number;
  /** V at rest a while later, and how many hours that was. */
  later?: { volts: number; hours: number };
}

export type Grade = 'good' | 'worn' | 'bad';

/** What one measure says. */
export interface Finding {
  of: 'capacity' | 'cycles' | 'resistance' | 'rest' | 'self-discharge';
  grade: Grade;
  says: string;
}

/**
 * From where on a cell is worn, or bad. Origin: 80 % of the rated capacity is what makers call worn (common practice), and
 * 500 cycles what many rate to it; twice the resistance of a new one, and the self-discharge, are own estimates. Below 3.0 V
 * a cell was drawn too far, below 2.5 V copper dissolves and it is never charged again (common practice).
 */
export const HEALTH_LIMITS = {
  worn: 0.8,
  bad: 0.6,
  cycles: 500,
  ohmsWorn: 2,
  ohmsBad: 3.5,
  low: 3.0,
  dead: 2.5,
  /** % of charge a month. */
  leaks: 5,
  leaksBad: 20,
} as const;

const HOURS_A_MONTH = 730;

/** What each measure of a cell says, and what all say together: the worst. */
export function healthOf(rating: Rating, measures: CellMeasures): { findings: Finding[]; grade: Grade | null } {
  const L = HEALTH_LIMITS;
  const findings: Finding[] = [];
  const say = (of: Finding['of'], grade: Grade, says: string) => findings.push({ of, grade, says });
  const { milliampHours, cycles, ohms, restVolts, later } = measures;
  if (milliampHours !== undefined) {
    const share = milliampHours / rating.milliampHours;
    const grade = share >= L.worn ? 'good' : share >= L.bad ? 'worn' : 'bad';
    say('capacity', grade, `${Math.round(share * 100)} % of its ${rating.milliampHours} mAh are left`);
  }
  if (cycles !== undefined)
    say('cycles', cycles <= L.cycles ? 'good' : 'worn', `${cycles} cycles; about ${L.cycles} are what it is made for`);
  if (ohms !== undefined) {
    const fresh = newOhms(rating);
    // Judged by the end of the interval that speaks for the cell: doubt is no finding.
    const ratio = (ohms.value - ohms.half) / fresh;
    const grade = ratio <= L.ohmsWorn ? 'good' : ratio <= L.ohmsBad ? 'worn' : 'bad';
    say(
      'resistance',
      grade,
      `${Math.round(ohms.value * 1000)} ± ${Math.round(ohms.half * 1000)} mΩ, a new one has about ${Math.round(fresh * 1000)}`,
    );
  }
  if (restVolts !== undefined) {
    const each = restVolts / Math.max(1, rating.cells);
    const grade = each >= L.low ? 'good' : each >= L.dead ? 'worn' : 'bad';
    const words =
      grade === 'good'
        ? `about ${Math.round(chargeAt(rating, restVolts) * 100)} % charged`
        : grade === 'worn'
          ? 'drawn too far; charge it slowly and watch it, or better renew it'
          : 'drawn so far that it is never charged again';
    say('rest', grade, `${restVolts.toFixed(2)} V at rest: ${words}`);
  }
  if (restVolts !== undefined && later !== undefined && later.hours > 0) {
    const lost = (chargeAt(rating, restVolts) - chargeAt(rating, later.volts)) * 100;
    const month = (lost * HOURS_A_MONTH) / later.hours;
    const grade = month <= L.leaks ? 'good' : month <= L.leaksBad ? 'worn' : 'bad';
    say('self-discharge', grade, `it loses about ${Math.max(0, month).toFixed(1)} % a month by itself`);
  }
  const order: Grade[] = ['good', 'worn', 'bad'];
  const worst = findings.reduce((w, f) => Math.max(w, order.indexOf(f.grade)), -1);
  return { findings, grade: worst < 0 ? null : order[worst]! };
}
