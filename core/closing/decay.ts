import { studentQuantile } from '../statistics/index.ts';

/** What a pressure-decay tester tells: s, Pa above the air outside, °C within. */
export interface DecaySample {
  seconds: number;
  pascal: number;
  celsius: number;
}

export interface LeakResult {
  /** ml of air at the air's own pressure that leave in a minute, and half the width of its 95 % interval. */
  leak: number;
  half: number;
  /** Pa that the drift of temperature alone has moved it, from begin to end. */
  drift: number;
  outcome: 'pass' | 'fail' | 'not-told';
  because: string;
}

export interface DecayTest {
  /** ml of air within: the device, the hose and the tester. */
  millilitres: number;
  /** Pa of the air outside. Origin: standard atmosphere where it is not measured. */
  air?: number;
  /** ml/min that are let pass. */
  limit: number;
}

export const STANDARD_AIR = 101_325;
const KELVIN = 273.15;
/** Fewer samples tell nothing. Origin: own choice. */
const FEWEST = 8;

/**
 * The leak from a decay of pressure. The amount of air is n = pV/RT (ideal gas law), so that every reading is first brought
 * to the temperature of the first, p · T₀/T, and what then falls has leaked: Q = V · Δp/Δt, here at the begin of
 * an exponential, p = p₀ e^(−t/τ), since a leak goes with the pressure that drives it. Fitted by Gauss and Newton, the
 * interval by Student's distribution with two coefficients taken off.
 * @throws RangeError for fewer than eight readings, a volume of nothing, or time that does not go on
 */
export function leakOf(samples: readonly DecaySample[], test: DecayTest): LeakResult {
  const { millilitres, limit, air = STANDARD_AIR } = test;
  if (samples.length < FEWEST)
    throw new RangeError(`${samples.length} readings tell no leak; at least ${FEWEST} are needed`);
  if (!(millilitres > 0)) throw new RangeError('the volume within must be above 0 ml');
  const t0 = samples[0]!.seconds;
  const times = samples.map((s) => s.seconds - t0);
  if (!times.every((t, i) => i === 0 || t > times[i - 1]!)) throw new RangeError('the time of the readings must go on');
  const first = samples[0]!.celsius + KELVIN;
  // Absolute pressure is what the gas law is of.
  const corrected = samples.map((s) => (s.pascal + air) * (first / (s.celsius + KELVIN)) - air);
  const { start, rate, freedom, errorOfFall } = exponential(times, corrected);
  const fall = start * rate;
  // Q in ml of air at the outside's pressure: V · (dp/dt) / p_air.
  const toFlow = (millilitres * 60) / air;
  const leak = fall * toFlow;
  const half = studentQuantile(0.975, freedom) * errorOfFall * toFlow;
  const last = samples.at(-1)!;
  const drift = (samples[0]!.pascal + air) * ((last.celsius + KELVIN) / first - 1);
  const told = leak - half > limit ? 'fail' : leak + half <= limit ? 'pass' : 'not-told';
  const flow = (v: number) => `${v.toFixed(3)} ml/min`;
  const words = {
    pass: `${flow(leak)} ± ${flow(half)} leak, within ${flow(limit)}`,
    fail: `${flow(leak)} ± ${flow(half)} leak, more than ${flow(limit)}`,
    'not-told': `${flow(leak)} ± ${flow(half)}: too near to ${flow(limit)} to be told; measure for longer`,
  } as const;
  return {
    leak,
    half,
    drift,
    outcome: told,
    because: `${words[told]}. It says nothing of a rating; that is never certified by it.`,
  };
}

/** p = a e^(−kt) by Gauss and Newton, from the straight line as a begin. The fall a · k has its error from both. */
function exponential(
  times: readonly number[],
  values: readonly number[],
): { start: number; rate: number; freedom: number; errorOfFall: number } {
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
    freedom,
    // The fall is a · k; its variance by first order, both coefficients and what they share.
    errorOfFall: Math.sqrt(Math.max(0, k * k * va + a * a * vk + 2 * a * k * cov)),
  };
}
