import { ROOM, WORKABLE_DROP, ZONES, type Zone } from './limits.ts';
import type { Turn } from './applicator.ts';
import { HEAT_STEP, simulate, type HeatRun } from './simulate.ts';
import type { HeatSource } from './sources.ts';
import type { Stack } from './stack.ts';

/** What thermometers say while a device lies on its heat: seconds since it was laid on, °C. */
export interface HeatReading {
  time: number;
  /** A thermocouple in the middle of the face away from the heat. */
  back: number;
  /** An infrared thermometer that looks at the seam from the side, on the mean of it. */
  seam: number;
}

/**
 * Time constants of the two thermometers, s, and the scatter of a reading, K. Origin: own estimates, typical of a
 * taped bead and a hand-held infrared meter.
 */
export const LAG = { back: 4, seam: 1 } as const;
export const SCATTER = { back: 0.4, seam: 0.8 } as const;
/**
 * How far a real heating strays from the model, as a standard deviation of the logarithm of the conductance. Origin:
 * own estimate, 100 to 150 W/m²K.
 */
const STRAY = 0.25;
/** Factors on the conductance that are simulated beforehand; between them it is interpolated. */
const FACTORS = [0.5, 0.65, 0.8, 1, 1.25, 1.6];
/** A limit is warned of when it is this near, K or s. Origin: own choice: time to walk over and take the device off. */
export const WARN = { kelvin: 3, seconds: 30 } as const;

/** What the thermometers would say in each of the family's heatings. */
interface Member {
  factor: number;
  run: HeatRun;
  back: number[];
  seam: number[];
}

export interface Family {
  members: Member[];
  softensAt: number;
  step: number;
}

/** Where a heating stands by its readings. Times in s, temperatures in °C. */
export interface Following {
  /** The source against what was assumed: 1 is as assumed; and its standard deviation as a share. */
  factor: number;
  uncertainty: number;
  /** When the coldest stretch is soft, from the beginning; `null` when it never is. */
  softAt: number | null;
  remaining: number | null;
  /** Now, as the model has it with this factor. */
  coldest: number;
  zones: Partial<Record<Zone, number>>;
  state: 'heating' | 'soft' | 'warning' | 'alarm';
  /** The zone that a warning or alarm is about, and when it passes its stop temperature. */
  zone: Zone | null;
  zoneAt: number | null;
}

/**
 * Heatings of one device with sources somewhat better and worse than assumed, to hold readings against.
 * @param longest how far they are computed, s
 */
export function familyOf(
  stack: Stack,
  source: HeatSource,
  softensAt: number,
  {
    room = ROOM,
    longest = 1800,
    onProgress = () => {},
  }: { room?: number; longest?: number; onProgress?: (share: number) => void } = {},
): Family {
  const step = HEAT_STEP;
  const members = FACTORS.map((factor, i): Member => {
    const turns: Turn[] = [
      { source: { ...source, conductance: source.conductance * factor }, where: 'whole', seconds: longest },
    ];
    const run = simulate(stack, turns, { room, step, evenSweep: true });
    onProgress((i + 1) / FACTORS.length);
    const mean = run.seam.map((t) => t.reduce((a, b) => a + b, 0) / t.length);
    return {
      factor,
      run,
      back: run.backMiddle.map(thermometer(step, LAG.back)),
      seam: mean.map(thermometer(step, LAG.seam)),
    };
  });
  return { members, softensAt, step };
}

/** A thermometer with a time constant `lag`: what it shows of each temperature it is given, `step` seconds apart. */
export function thermometer(step: number, lag: number): (temperature: number) => number {
  const keep = lag > 0 ? Math.exp(-step / lag) : 0;
  let shown: number | null = null;
  return (temperature) => {
    shown = shown === null ? temperature : temperature + (shown - temperature) * keep;
    return shown;
  };
}

const at = (values: readonly number[], position: number): number => {
  const i = Math.min(values.length - 2, Math.max(0, Math.floor(position)));
  return values[i]! + (values[i + 1]! - values[i]!) * Math.min(1, Math.max(0, position - i));
};

/** A curve for a factor between two members. */
function blend(family: Family, factor: number, of: (m: Member) => readonly number[]): (position: number) => number {
  const log = Math.log(Math.min(FACTORS.at(-1)!, Math.max(FACTORS[0]!, factor)));
  let i = family.members.findIndex((m) => Math.log(m.factor) >= log - 1e-12);
  i = Math.max(1, i);
  const [low, high] = [family.members[i - 1]!, family.members[i]!];
  const share = (log - Math.log(low.factor)) / (Math.log(high.factor) - Math.log(low.factor));
  return (position) => at(of(low), position) * (1 - share) + at(of(high), position) * share;
}

/**
 * Reads a heating: the factor that fits the readings best (maximum a posteriori: normal scatter of the readings, a
 * lognormal guess about the source), and from it what the thermometers cannot see. Readings that come later correct it.
 * @param now seconds since the device was laid on
 */
export function follow(family: Family, readings: readonly HeatReading[], now: number): Following {
  const { step, members } = family;
  const loss = (log: number): number => {
    const factor = Math.exp(log);
    const [back, seam] = [blend(family, factor, (m) => m.back), blend(family, factor, (m) => m.seam)];
    let sum = (log / STRAY) ** 2;
    for (const r of readings)
      sum +=
        ((r.back - back(r.time / step)) / SCATTER.back) ** 2 + ((r.seam - seam(r.time / step)) / SCATTER.seam) ** 2;
    return sum;
  };
  // Golden section over the whole range: one smooth valley.
  const golden = (Math.sqrt(5) - 1) / 2;
  let [low, high] = [Math.log(FACTORS[0]!), Math.log(FACTORS.at(-1)!)];
  for (let i = 0; i < 40; i++) {
    const [a, b] = [high - golden * (high - low), low + golden * (high - low)];
    if (loss(a) < loss(b)) high = b;
    else low = a;
  }
  const log = (low + high) / 2;
  const width = 0.02;
  const curvature = (loss(log + width) - 2 * loss(log) + loss(log - width)) / (2 * width * width);
  const uncertainty = Math.min(STRAY, 1 / Math.sqrt(Math.max(1 / STRAY ** 2, curvature)));
  const factor = Math.exp(log);
  const coldest = blend(family, factor, (m) => m.run.coldest);
  const last = members[0]!.run.times.length - 1;
  const firstAt = (curve: (position: number) => number, from: number): number | null => {
    for (let i = 0; i <= last; i++) {
      if (curve(i) < from) continue;
      const [a, b] = [i > 0 ? curve(i - 1) : from, curve(i)];
      return i === 0 ? 0 : step * (i - 1 + (from - a) / Math.max(1e-9, b - a));
    }
    return null;
  };
  const softAt = firstAt(coldest, family.softensAt);
  const position = now / step;
  const zones: Following['zones'] = {};
  let state: Following['state'] = softAt !== null && now >= softAt ? 'soft' : 'heating';
  let zone: Zone | null = null;
  let zoneAt: number | null = null;
  const { limits } = members[0]!.run;
  for (const z of ZONES) {
    if (!members[0]!.run.zones[z]) continue;
    const curve = blend(family, factor, (m) => m.run.zones[z]!);
    zones[z] = curve(position);
    const stop = firstAt(curve, limits[z].stop);
    const level =
      zones[z] >= limits[z].stop
        ? 2
        : zones[z] >= limits[z].stop - WARN.kelvin || (stop !== null && stop - now <= WARN.seconds)
          ? 1
          : 0;
    if (level > (state === 'alarm' ? 2 : state === 'warning' ? 1 : 0)) {
      state = level === 2 ? 'alarm' : 'warning';
      zone = z;
      zoneAt = stop;
    }
  }
  return {
    factor,
    uncertainty,
    softAt,
    remaining: softAt === null ? null : Math.max(0, softAt - now),
    coldest: coldest(position),
    zones,
    state,
    zone,
    zoneAt,
  };
}

/** A seam that has been soft counts as cold again below this, °C. */
export function coldAgain(softensAt: number): number {
  return softensAt - WORKABLE_DROP;
}
