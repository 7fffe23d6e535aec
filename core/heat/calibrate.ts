import { capacityOf, MATERIALS, type MaterialId } from './materials.ts';
import { ROOM } from './limits.ts';
import { freeConductance } from './simulate.ts';
import { Conduction, uniformBlock } from './solver.ts';
import { isLocal, jetAt, packOf, type HeatSource } from './sources.ts';

/** A plate of known make, laid on the source, with a thermometer on its far face. */
export interface Plate {
  id: string;
  name: string;
  material: MaterialId;
  /** mm */
  thickness: number;
  /** Length of its sides, mm. */
  side: number;
}

export const PLATES: readonly Plate[] = [
  { id: 'aluminium-4', name: 'Aluminium plate, 100 × 100 × 4 mm', material: 'aluminium', thickness: 4, side: 100 },
  { id: 'aluminium-8', name: 'Aluminium plate, 100 × 100 × 8 mm', material: 'aluminium', thickness: 8, side: 100 },
  { id: 'glass-4', name: 'Glass plate, 100 × 100 × 4 mm', material: 'glass', thickness: 4, side: 100 },
];

/** A thermometer's reading: seconds since the plate was laid on, °C. */
export interface Reading {
  time: number;
  temperature: number;
}

export interface Conditions {
  /** °C */
  room?: number;
  /** °C of the plate when it was laid on; the room's if left out. */
  start?: number;
  /** Time constant of the thermometer, s. */
  lag?: number;
}

export interface Calibration {
  /** W/m²K: contact conductance of mat, pad or pack, air coefficient of gun or dryer. */
  conductance: number;
  /** 95 % interval. */
  low: number;
  high: number;
  /** Measured less computed at each reading, K. */
  residuals: number[];
  /** Their standard deviation, K. */
  deviation: number;
  /** What the fit says at each reading, °C. */
  fitted: number[];
}

/** Why readings cannot be fitted: which one, and what to do. */
export class NoCalibration extends Error {
  constructor(
    readonly path: string,
    message: string,
  ) {
    super(message);
    this.name = 'NoCalibration';
  }
}

const STEP = 1;

/** What the thermometer shows on a plate over the source, at the given times (s, rising). */
export function plateReadings(
  plate: Plate,
  source: HeatSource,
  times: readonly number[],
  { room = ROOM, start = room, lag = 0 }: Conditions = {},
): number[] {
  const m = MATERIALS[plate.material];
  const nz = 4;
  const heat = new Conduction(
    uniformBlock(
      { nx: 1, ny: 1, nz, dx: 1, dy: 1, dz: plate.thickness / 1000 / nz },
      { inPlane: m.inPlane, through: m.through, capacity: capacityOf(m) },
    ),
    start,
  );
  const air = isLocal(source) && source.kind !== 'gel-pack';
  const { temperature, conductance } = air
    ? jetAt(source, room)
    : { temperature: source.set, conductance: source.conductance };
  const below = { conductance: Float64Array.of(conductance), temperature: Float64Array.of(temperature) };
  const length = plate.side / 4 / 1000;
  const found: number[] = [];
  let shown = start;
  let time = 0;
  let pack = temperature;
  for (const at of times) {
    while (time < at - 1e-9) {
      const dt = Math.min(STEP, at - time);
      const face = heat.temperature[nz - 1]!;
      if (source.kind === 'gel-pack') {
        pack -= (dt * source.conductance * (pack - heat.temperature[0]!)) / packOf(source).content;
        below.temperature[0] = pack;
      }
      heat.step(dt, {
        front: below,
        back: { conductance: Float64Array.of(freeConductance(face, room, length)), temperature: Float64Array.of(room) },
        side: null,
      });
      // A thermometer follows its plate with its own lag.
      const now = heat.temperature[nz - 1]!;
      shown = lag > 0 ? now + (shown - now) * Math.exp(-dt / lag) : now;
      time += dt;
    }
    found.push(shown);
  }
  return found;
}

/** Two-sided 95 % quantile of Student's t (Abramowitz & Stegun 26.7.5, from memory). */
export function studentT95(freedom: number): number {
  const z = 1.959964;
  const v = freedom;
  return (
    z +
    (z ** 3 + z) / (4 * v) +
    (5 * z ** 5 + 16 * z ** 3 + 3 * z) / (96 * v * v) +
    (3 * z ** 7 + 19 * z ** 5 + 17 * z ** 3 - 15 * z) / (384 * v ** 3)
  );
}

/**
 * Fits the conductance of a source to readings on a known plate: least squares by Gauss and Newton on its logarithm,
 * damped (Levenberg 1944, from memory), with a 95 % interval from the scatter of the readings.
 * @throws NoCalibration when the readings are too few, out of order, or say nothing about the source
 */
export function calibrate(
  readings: readonly Reading[],
  plate: Plate,
  source: HeatSource,
  conditions: Conditions = {},
): Calibration {
  if (readings.length < 5)
    throw new NoCalibration(
      'readings',
      `${readings.length} readings are too few; take at least 5 while the plate warms`,
    );
  readings.forEach((r, i) => {
    if (!Number.isFinite(r.time) || r.time < 0 || r.time > 7200)
      throw new NoCalibration(`readings[${i}].time`, `must be seconds from 0 to 7200, not ${r.time}`);
    if (!Number.isFinite(r.temperature) || r.temperature < -20 || r.temperature > 200)
      throw new NoCalibration(`readings[${i}].temperature`, `must be °C from -20 to 200, not ${r.temperature}`);
    if (i > 0 && r.time <= readings[i - 1]!.time)
      throw new NoCalibration(
        `readings[${i}].time`,
        `must come after ${readings[i - 1]!.time} s; put the readings in order`,
      );
  });
  const times = readings.map((r) => r.time);
  const room = conditions.room ?? ROOM;
  const rise = Math.max(...readings.map((r) => r.temperature)) - readings[0]!.temperature;
  if (rise < 3)
    throw new NoCalibration(
      'readings',
      `the plate warms by only ${rise.toFixed(1)} K; begin when it is laid on, and let it warm`,
    );
  const curve = (log: number) =>
    plateReadings(plate, { ...source, conductance: Math.exp(log) }, times, { ...conditions, room });
  const residualsOf = (fit: readonly number[]) => readings.map((r, i) => r.temperature - fit[i]!);
  const squares = (list: readonly number[]) => list.reduce((sum, v) => sum + v * v, 0);
  const slopeAt = (log: number, fit: readonly number[]) => curve(log + 1e-4).map((v, i) => (v - fit[i]!) / 1e-4);

  let log = Math.log(source.conductance);
  let fit = curve(log);
  let damping = 1e-3;
  for (let round = 0; round < 60; round++) {
    const residuals = residualsOf(fit);
    const slope = slopeAt(log, fit);
    const gradient = slope.reduce((sum, s, i) => sum + s * residuals[i]!, 0);
    const curvature = squares(slope);
    if (curvature < 1e-9)
      throw new NoCalibration(
        'readings',
        'the readings do not depend on the source; begin while the plate is still cold',
      );
    const step = Math.max(-1, Math.min(1, gradient / (curvature * (1 + damping))));
    const tried = curve(log + step);
    if (squares(residualsOf(tried)) <= squares(residuals)) {
      log += step;
      fit = tried;
      damping = Math.max(1e-9, damping / 4);
      if (Math.abs(step) < 1e-7) break;
    } else {
      damping = damping * 8 + 1e-6;
      if (damping > 1e9) break;
    }
  }
  const conductance = Math.exp(log);
  if (conductance > 5000 || conductance < 0.5)
    throw new NoCalibration(
      'readings',
      `they would need a conductance of ${conductance.toPrecision(3)} W/m²K, which no such source has; check the setting and the plate`,
    );
  const residuals = residualsOf(fit);
  const freedom = readings.length - 1;
  const deviation = Math.sqrt(squares(residuals) / freedom);
  const half = (studentT95(freedom) * deviation) / Math.sqrt(squares(slopeAt(log, fit)));
  return {
    conductance,
    low: conductance * Math.exp(-half),
    high: conductance * Math.exp(half),
    residuals,
    deviation,
    fitted: fit,
  };
}
