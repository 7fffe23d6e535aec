import { number, optional, record, type Of } from '../format/index.ts';
import { NoHeat } from './noHeat.ts';

/** A means of warming a seam. */
export interface HeatSource {
  kind: SourceKind;
  /** °C: of the mat, of the air as it leaves the nozzle, or of the pack when it is laid on. */
  set: number;
  /** The coolest and hottest that can be asked of it, °C. */
  least: number;
  most: number;
  /** W/m²K between source and surface; for air at the nozzle's own length of free jet. */
  conductance: number;
  /** Hot air: opening of the nozzle, its distance from the surface and how fast it is swept; mm, mm, mm/s. */
  nozzle?: number;
  distance?: number;
  speed?: number;
  /** Pack: how far it reaches in from the edge it lies on, mm, and what it holds, J/m²K. */
  reach?: number;
  content?: number;
  origin: string;
}

export type SourceKind = 'mat' | 'pad' | 'gun' | 'gel-pack' | 'dryer';

/** What a shop has measured of its own source; it goes before the default. */
export const settingsFormat = record({
  set: optional(number({ least: 20, most: 300, unit: '°C' })),
  conductance: optional(number({ least: 0.5, most: 2000, unit: 'W/m²K' })),
  nozzle: optional(number({ least: 2, most: 200, unit: 'mm' })),
  distance: optional(number({ least: 5, most: 1000, unit: 'mm' })),
  speed: optional(number({ least: 1, most: 500, unit: 'mm/s' })),
});
export interface SourceSettings extends Of<typeof settingsFormat> {}

/** A jet of hot air, unless the source says otherwise; mm, mm, mm/s. Origin: common practice. */
const JET = { nozzle: 20, distance: 50, speed: 40 };

/** A gel pack, unless the source says otherwise; mm, J/m²K. Origin: own estimate; a gel of 3.5 kJ/kg·K, 15 mm thick. */
const PACK = { reach: 40, content: 54_000 };

/**
 * Defaults. Settings are common practice (mat 70 °C, pad 60 °C, gun 80 °C, low air from 75 to 100 mm). Contact of mat
 * and pad: 100 to 150 W/m²K is the usual estimate for film on glass. Air: the mean under a round impinging jet out to
 * three nozzle diameters, Nu = G F(Re) Pr^0.42 (Martin 1977, from memory).
 */
export const SOURCES: Record<SourceKind, HeatSource> = {
  mat: {
    kind: 'mat',
    set: 70,
    least: 40,
    most: 90,
    conductance: 120,
    origin: 'common practice; contact: own estimate, 100 to 150 W/m²K',
  },
  pad: {
    kind: 'pad',
    set: 60,
    least: 40,
    most: 80,
    conductance: 140,
    origin: 'common practice; contact: own estimate, soft and pressed on',
  },
  gun: {
    kind: 'gun',
    set: 80,
    least: 50,
    most: 130,
    conductance: 150,
    ...JET,
    origin: 'common practice; jet of 25 m/s: Martin 1977 (from memory)',
  },
  'gel-pack': {
    kind: 'gel-pack',
    set: 80,
    least: 50,
    most: 90,
    conductance: 150,
    ...PACK,
    origin: 'common practice; own estimate',
  },
  dryer: {
    kind: 'dryer',
    set: 60,
    least: 60,
    most: 60,
    conductance: 65,
    ...JET,
    nozzle: 45,
    distance: 80,
    origin: 'common practice: as is, slower; jet of 10 m/s: Martin 1977 (from memory)',
  },
};

/** In the order in which one takes the place of another that the shop lacks, best first (common practice). */
export const SOURCE_KINDS = Object.keys(SOURCES) as SourceKind[];

/** A source with what the shop knows of its own. @throws NoHeat naming a number that makes no sense */
export function sourceOf(kind: SourceKind, own: SourceSettings = {}): HeatSource {
  const source: HeatSource = { ...SOURCES[kind] };
  for (const [key, value] of Object.entries(own) as [keyof SourceSettings, number | undefined][]) {
    if (value === undefined) continue;
    if (!(value > 0) || value > 2000)
      throw new NoHeat(key, `${key} of the ${source.kind} must be above 0, not ${value}`);
    source[key] = value;
  }
  if (source.set > source.most || source.set < source.least)
    throw new NoHeat(
      'set',
      `set of the ${source.kind} must be ${source.least} to ${source.most} °C, not ${source.set}`,
    );
  return source;
}

/** True when it warms a stretch at a time, so that edges or halves are taken in turn. */
export function isLocal({ kind }: Pick<HeatSource, 'kind'>): boolean {
  return kind === 'gun' || kind === 'gel-pack' || kind === 'dryer';
}

/** How far a pack reaches in from the seam, mm, and what it holds, J/m²K. */
export const packOf = ({ reach = PACK.reach, content = PACK.content }: HeatSource): typeof PACK => ({ reach, content });

/** How fast a jet is swept along the seam, mm/s. */
export const sweepSpeed = ({ speed = JET.speed }: HeatSource): number => speed;

/** Diameters of nozzle that the mean conductance holds for: out to three on each side (Martin 1977, from memory). */
const SPOT_DIAMETERS = 6;
/** Lengths of nozzle over which a free jet keeps the temperature and speed of its core (Rajaratnam 1976, from memory). */
const CORE_LENGTHS = 6;

/**
 * A jet of hot air where it meets the surface.
 * @returns its temperature in °C, conductance in W/m²K, and the diameter of the spot in mm
 */
export function jetAt(source: HeatSource, room: number): { temperature: number; conductance: number; spot: number } {
  const { nozzle = JET.nozzle, distance = JET.distance } = source;
  // Beyond its core both excess temperature and speed fall with the distance; the conductance goes with the speed to the power 0.7.
  const kept = Math.min(1, (CORE_LENGTHS * nozzle) / distance);
  return {
    temperature: room + (source.set - room) * kept,
    conductance: source.conductance * kept ** 0.7,
    spot: SPOT_DIAMETERS * nozzle,
  };
}
