import { studentQuantile } from '../statistics/index.ts';
import type { LeakReason } from './messages.ts';

/** What a pressure-decay tester tells: s, Pa above the air outside, °C within. */
export interface DecaySample {
  seconds: number;
  pascal: number;
  celsius: number;
}

/** pass and fail were shown, to the worse end of the interval; not-told lies between; no-test: the readings are of no leak. */
export const LEAK_OUTCOMES = ['pass', 'fail', 'not-told', 'no-test'] as const;
export type LeakOutcome = (typeof LEAK_OUTCOMES)[number];

/** A leak that was measured. */
export interface LeakMeasured {
  /** ml of air at the air's own pressure that leave in a minute, and half the width of its 95 % interval. */
  leak: number;
  half: number;
  /** Pa that the drift of temperature alone has moved it, from begin to end. */
  drift: number;
  outcome: Exclude<LeakOutcome, 'no-test'>;
  because: LeakReason;
}
/** Readings that tell no leak, and why. */
export interface NoLeakTest {
  leak: null;
  half: null;
  drift: null;
  outcome: 'no-test';
  because: LeakReason;
}
export type LeakResult = LeakMeasured | NoLeakTest;

export interface DecayTest {
  /** ml of air within: the device, the hose and the tester. */
  millilitres: number;
  /** ml by which that may be wrong; left out, a tenth of it. */
  millilitresHalf?: number | undefined;
  /** Pa of the air outside. Origin: standard atmosphere where it is not measured. */
  air?: number;
  /** ml/min that are let pass. */
  limit: number;
  /** Steps of the gauge, Pa, and of the thermometer, K; left out, they are read off the readings. */
  steps?: { pascal?: number; kelvin?: number };
}

export const STANDARD_AIR = 101_325;
const KELVIN = 273.15;
/** Fewer samples tell nothing. Origin: own choice. */
const FEWEST = 8;
/** Readings by which a leak at the limit must move the gauge, in its steps. Origin: common practice. */
const STEPS_TO_TELL = 10;
/**
 * K that a thermometer steps by where its readings never change, so that they hide as much. Origin: common practice, a tenth.
 * The volume within is known to a tenth where nobody said better (own estimate).
 */
const USUAL_KELVIN = 0.1;
const VOLUME_SHARE = 0.1;

/** Whether a leak is within its limit, by the end of its interval that speaks against it. */
export const leakOutcome = (leak: number, half: number, limit: number): LeakMeasured['outcome'] =>
  leak - half > limit ? 'fail' : leak + half <= limit ? 'pass' : 'not-told';

/**
 * The leak from a decay of pressure. The amount of air is n = pV/RT (ideal gas law), so that every reading is first brought
 * to the temperature of the first, p · T₀/T, and what then falls has leaked: Q = V · Δp/Δt, here at the begin of
 * an exponential, p = p₀ e^(−t/τ), since a leak goes with the pressure that drives it. Fitted by Gauss and Newton. Its
 * interval is Student's with two coefficients taken off, and wider by what no spread shows: half a step of the thermometer
 * and of the gauge, each where it moves the fall most, and the error of the volume.
 * @returns `no-test` where the readings are of no decaying pressure: stuck, rising, none at all, or too short to be seen
 * @throws RangeError for fewer than eight readings, a volume of nothing, or time that does not go on
 */
export function leakOf(samples: readonly DecaySample[], test: DecayTest): LeakResult {
  const { millilitres, limit, air = STANDARD_AIR } = test;
  if (samples.length < FEWEST)
    throw new RangeError(`${samples.length} readings tell no leak; at least ${FEWEST} are needed`);
  if (!(millilitres > 0)) throw new RangeError('the volume within must be above 0 ml');
  if (!(limit > 0)) throw new RangeError('the leak that is let pass must be above 0 ml/min');
  const volumeShare = (test.millilitresHalf ?? VOLUME_SHARE * millilitres) / millilitres;
  if (!(volumeShare >= 0 && volumeShare < 1))
    throw new RangeError('the volume may be wrong by 0 ml to less than itself');
  const t0 = samples[0]!.seconds;
  const times = samples.map((s) => s.seconds - t0);
  if (!times.every((t, i) => i === 0 || t > times[i - 1]!)) throw new RangeError('the time of the readings must go on');
  const pascal = stepOf(samples.map((s) => s.pascal));
  const kelvin = stepOf(samples.map((s) => s.celsius));
  const stepPascal = test.steps?.pascal ?? pascal;
  const stepKelvin = test.steps?.kelvin ?? (kelvin > 0 ? kelvin : USUAL_KELVIN);
  // Q in ml of air at the outside's pressure: V · (dp/dt) / p_air.
  const toFlow = (millilitres * 60) / air;
  const because = noTest(samples, stepPascal, (limit / toFlow) * times.at(-1)!);
  if (because !== null) return noLeak(because);
  const first = samples[0]!.celsius + KELVIN;
  // Absolute pressure is what the gas law is of.
  const corrected = samples.map((s) => (s.pascal + air) * (first / (s.celsius + KELVIN)) - air);
  const { start, rate, spread, freedom, errorOfFall } = exponential(times, corrected);
  if (![start, rate, errorOfFall].every(Number.isFinite)) return noLeak({ code: 'no-decay' });
  const leak = start * rate * toFlow;
  // A step hides half of it either way at each reading; a straight line's slope moves by no more than Σ|cᵢ| of that.
  const lever = slopeLever(times);
  const hidden =
    lever * (((samples[0]!.pascal + air) * stepKelvin) / 2 / first + (spread < stepPascal ? stepPascal / 2 : 0));
  const seen = studentQuantile(0.975, freedom) * errorOfFall;
  const half = (seen + hidden) * toFlow * (1 + volumeShare) + Math.abs(leak) * volumeShare;
  // What rises beyond its own noise is no decay, even where a step of the thermometer might explain it.
  if (start * rate + seen < 0) return noLeak({ code: 'pressure-rises' });
  const last = samples.at(-1)!;
  const drift = (samples[0]!.pascal + air) * ((last.celsius + KELVIN) / first - 1);
  const outcome = leakOutcome(leak, half, limit);
  const said = { pass: 'leak-within', fail: 'leak-more', 'not-told': 'leak-too-near' } as const;
  return {
    leak,
    half,
    drift,
    outcome,
    because: { code: said[outcome], leak, half, allowed: limit },
  };
}

const noLeak = (because: LeakReason): NoLeakTest => ({
  leak: null,
  half: null,
  drift: null,
  outcome: 'no-test',
  because,
});

/** The least step between any two different readings; 0 where they are all the same. */
function stepOf(values: readonly number[]): number {
  const sorted = [...new Set(values)].sort((a, b) => a - b);
  let least = Infinity;
  for (let i = 1; i < sorted.length; i++) least = Math.min(least, sorted[i]! - sorted[i - 1]!);
  return Number.isFinite(least) ? least : 0;
}

/** Σ|cᵢ| of the least-squares slope Σ cᵢ yᵢ, 1/s: by how much readings that are each off by one can tilt a line. */
function slopeLever(times: readonly number[]): number {
  const mean = times.reduce((s, t) => s + t, 0) / times.length;
  return times.reduce((s, t) => s + Math.abs(t - mean), 0) / times.reduce((s, t) => s + (t - mean) ** 2, 0);
}

/** Readings that stay the same for so long are looked at. Origin: own choice. */
const STUCK_RUN = 8;

/**
 * Why readings are no test of a leak; `null` where they may be one.
 * @param step of the gauge, Pa; 0 where all its readings are the same
 * @param fallAtLimit Pa by which a leak at the limit would have fallen meanwhile
 */
function noTest(samples: readonly DecaySample[], step: number, fallAtLimit: number): LeakReason | null {
  const pressures = samples.map((s) => s.pascal);
  if (!samples.every((s) => Number.isFinite(s.pascal) && Number.isFinite(s.celsius) && s.celsius > -KELVIN))
    return { code: 'reading-odd' };
  if (step === 0 || stuck(pressures, step)) return { code: 'gauge-stuck' };
  const early = [...pressures.slice(0, 3)].sort((a, b) => a - b)[1]!;
  const noise = Math.sqrt(
    pressures.slice(2).reduce((s, p, i) => s + (p - 2 * pressures[i + 1]! + pressures[i]!) ** 2, 0) /
      (6 * (pressures.length - 2)),
  );
  if (early <= STEPS_TO_TELL * Math.max(step, noise)) return { code: 'never-filled', pascal: Math.round(early) };
  if (pressures.some((p) => p < -STEPS_TO_TELL * Math.max(step, noise))) return { code: 'below-air' };
  if (fallAtLimit < STEPS_TO_TELL * step)
    return { code: 'test-too-short', steps: fallAtLimit / step, needed: STEPS_TO_TELL };
  return null;
}

/**
 * True where a gauge tells the same for longer than its own unrest or the fall about it allow. A coarse one that steps
 * seldom may well rest on a step; one whose other readings move by several steps each time may not.
 */
function stuck(values: readonly number[], step: number): boolean {
  let [longest, end] = [1, 0];
  for (let i = 1, run = 1; i < values.length; i++) {
    run = values[i] === values[i - 1] ? run + 1 : 1;
    if (run > longest) [longest, end] = [run, i];
  }
  if (longest < STUCK_RUN) return false;
  const moves = values
    .slice(1)
    .map((v, i) => Math.abs(v - values[i]!))
    .filter((_, i) => i + 1 > end || i + 1 <= end - longest + 1)
    .sort((a, b) => a - b);
  const usual = moves.length === 0 ? 0 : moves[Math.floor(moves.length / 2)]!;
  return usual >= 2 * step;
}

/** p = a e^(−kt) by Gauss and Newton, from the straight line as a begin. The fall a · k has its error from both. */
function exponential(
  times: readonly number[],
  values: readonly number[],
): { start: number; rate: number; spread: number; freedom: number; errorOfFall: number } {
  const n = times.length;
  const mean = (v: readonly number[]) => v.reduce((s, x) => s + x, 0) / n;
  const [mt, mv] = [mean(times), mean(values)];
  const slope =
    times.reduce((s, t, i) => s + (t - mt) * (values[i]! - mv), 0) / times.reduce((s, t) => s + (t - mt) ** 2, 0);
  let a = mv - slope * mt;
  let k = a === 0 ? 0 : -slope / a;
  let normal: [number, number, number] = [1, 0, 1];
  for (let round = 0; round < 40; round++) {
    let [aa, ab, bb, ra, rb] = [0, 0, 0, 0, 0];
    for (let i = 0; i < n; i++) {
      const e = Math.exp(-k * times[i]!);
      const [da, dk] = [e, -a * times[i]! * e];
      const r = values[i]! - a * e;
      aa += da * da;
      ab += da * dk;
      bb += dk * dk;
      ra += da * r;
      rb += dk * r;
    }
    normal = [aa, ab, bb];
    const det = aa * bb - ab * ab;
    if (!(Math.abs(det) > 1e-300)) break;
    const [sa, sk] = [(bb * ra - ab * rb) / det, (aa * rb - ab * ra) / det];
    a += sa;
    k += sk;
    if (Math.abs(sa) < 1e-10 * Math.abs(a) && Math.abs(sk) < 1e-14 + 1e-10 * Math.abs(k)) break;
  }
  const freedom = n - 2;
  const variance = times.reduce((s, t, i) => s + (values[i]! - a * Math.exp(-k * t)) ** 2, 0) / freedom;
  const [aa, ab, bb] = normal;
  const det = aa * bb - ab * ab;
  const [va, vk, cov] = [(variance * bb) / det, (variance * aa) / det, (-variance * ab) / det];
  return {
    start: a,
    rate: k,
    spread: Math.sqrt(variance),
    freedom,
    // The fall is a · k; its variance by first order, both coefficients and what they share.
    errorOfFall: Math.sqrt(Math.max(0, k * k * va + a * a * vk + 2 * a * k * cov)),
  };
}
