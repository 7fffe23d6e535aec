import type { Edge } from '../anatomy/index.ts';
import { applicator, evenSurface, STILL, takesPart, type Turn } from './applicator.ts';
import { ROOM, ZONES, type Limit, type Zone } from './limits.ts';
import { Conduction, type Surface, type Surfaces } from './solver.ts';
import type { Stack } from './stack.ts';

export interface HeatOptions {
  /** °C; the device starts at the room's temperature unless told otherwise. */
  room?: number;
  start?: number;
  /** Time step, s. */
  step?: number;
  /** What the air takes away, as a factor on what is reckoned with. */
  air?: number;
  /** Takes a swept jet as spread evenly over its path, which is exact for fast sweeps and quicker to compute. */
  evenSweep?: boolean;
  /** How many pictures of the whole device are kept, evenly spread; 0 keeps none. */
  frames?: number;
  /** Ends a turn early. Asked after every step. */
  until?: (now: Moment) => boolean;
  /** Share done, 0 to 1. */
  onProgress?: (share: number) => void;
}

/** Where a heating stands after a step. Temperatures in °C. */
export interface Moment {
  time: number;
  turn: number;
  /** Seconds since the turn began. */
  turnTime: number;
  /** Coldest stretch among those the turn is for, of the whole seam, and its warmest. */
  coldestHere: number;
  coldest: number;
  warmest: number;
  zones: Partial<Record<Zone, number>>;
}

export interface Frame {
  time: number;
  /** Temperature over the plane, row by row, °C: at the seam's layer and at the cell's. */
  seam: Float32Array;
  cell: Float32Array;
}

/** Temperatures over time, °C, one value for each entry of `times` (s). */
export interface HeatRun {
  times: number[];
  /** The turn that each time belongs to. */
  turns: number[];
  coldest: number[];
  warmest: number[];
  /** The coldest stretch of each edge that has a seam. */
  edges: Partial<Record<Edge, number[]>>;
  /** The hottest spot of each zone. */
  zones: Partial<Record<Zone, number[]>>;
  /** What each zone bears in this device. */
  limits: Readonly<Record<Zone, Limit>>;
  /** The middle of the face away from the heat. */
  backMiddle: number[];
  /** Every stretch at every time. */
  seam: Float32Array[];
  frames: Frame[];
  /** Seconds that each turn took. */
  took: number[];
  /** What the heat balance misses, as a share of the heat taken in. */
  energyError: number;
}

/** Time step, s. Origin: measured against a coupled solution; at 5 s the hottest place of a cell reads a degree too low. */
export const HEAT_STEP = 1;
/**
 * How often heat goes along the plane of a device, s. Origin: measured against a coupled solution; what warms a device is spread
 * over its plane already.
 */
const PLANE_EVERY = 2;
/** How often the air over the free face is looked at anew, s. Origin: measured; its conductance changes slowly. */
const FREE_EVERY = 30;
/** Emissivity of glass, paint and plastic (Incropera & DeWitt, App. A, from memory), and the Stefan-Boltzmann constant, W/m²K⁴. */
const EMISSIVITY = 0.9;
const SIGMA = 5.670374e-8;
/** Under a device that lies on a bench mat, W/m²K. Origin: own estimate, 2 mm of silicone on wood. */
const BENCH = 12;

/**
 * Still air over a warm plate that faces up, and radiation: h = 1.32 (ΔT / L)^¼ + 4 ε σ T³, W/m²K (Incropera &
 * DeWitt, ch. 9: Nu = 0.54 Ra^¼ with the properties of air near 320 K, from memory).
 * @param length area over perimeter, m
 */
export function freeConductance(surface: number, room: number, length: number): number {
  const mean = (surface + room) / 2 + 273.15;
  return 1.32 * (Math.max(0, surface - room) / length) ** 0.25 + 4 * EMISSIVITY * SIGMA * mean ** 3;
}

/**
 * Warms a device and lets it cool, turn after turn.
 * @throws Error for a step, a time or a temperature that makes no sense
 */
export function simulate(stack: Stack, turns: readonly Turn[], options: HeatOptions = {}): HeatRun {
  const steps = simulating(stack, turns, options);
  for (;;) {
    const { done, value } = steps.next();
    if (done) return value;
  }
}

/**
 * The same one step at a time, for whoever has other things to do in between.
 * @returns one run that grows with every step, its first entry before any heat
 * @throws Error as `simulate`
 */
export function* simulating(
  stack: Stack,
  turns: readonly Turn[],
  options: HeatOptions = {},
): Generator<HeatRun, HeatRun> {
  const { room = ROOM, step = HEAT_STEP, frames = 0, air = 1, until, onProgress } = options;
  const start = options.start ?? room;
  refuseNonsense(turns, { step, room, start });
  const heat = new Conduction(stack.block, start, PLANE_EVERY);
  const before = heat.energy();
  const total = turns.reduce((sum, t) => sum + t.seconds, 0);
  const run = new Recorder(stack, heat, frames > 0 ? total / frames : null);
  let time = 0;
  run.note(0, 0);
  yield run.heatRun;
  for (const [index, turn] of turns.entries()) {
    const applied = applicator(stack, turn, room, options.evenSweep ?? false);
    const here = stack.seam.flatMap((s, i) => (takesPart(s, turn.where) ? [i] : []));
    let turnTime = 0;
    let sinceFree = Number.POSITIVE_INFINITY;
    let free: Surface | null = null;
    while (turnTime < turn.seconds - 1e-9) {
      const dt = Math.min(step, turn.seconds - turnTime);
      if (free === null || sinceFree >= FREE_EVERY) {
        free = freeFace(stack, heat.temperature, applied.fromBelow || turn.source === null, room, air);
        sinceFree = 0;
      }
      heat.step(dt, facing(stack, applied.at(turnTime, dt, heat.temperature), free, room, air));
      time += dt;
      turnTime += dt;
      sinceFree += dt;
      run.note(time, index);
      onProgress?.(total > 0 ? Math.min(1, time / total) : 1);
      yield run.heatRun;
      if (until?.(run.moment({ time, turn: index, turnTime }, here))) break;
    }
    run.heatRun.took.push(turnTime);
  }
  const gained = heat.energy() - before;
  run.heatRun.energyError =
    Math.abs(gained - heat.absorbed) / Math.max(1e-9, Math.abs(heat.absorbed), Math.abs(gained));
  return run.heatRun;
}

/** @throws Error for a step, a time or a temperature that makes no sense */
function refuseNonsense(turns: readonly Turn[], { step, room, start }: Record<'step' | 'room' | 'start', number>) {
  if (!(step > 0)) throw new Error(`the time step must be above 0 s, not ${step}`);
  for (const [name, v] of Object.entries({ room, start }))
    if (!(v > -40 && v < 80)) throw new Error(`${name} must be a temperature from -40 to 80 °C, not ${v}`);
  for (const turn of turns)
    if (!(turn.seconds >= 0)) throw new Error(`a turn must take 0 s or more, not ${turn.seconds}`);
}

/** The first cell of the face away from the heat. */
const awayFromHeat = ({ face, block, grid }: Stack): number =>
  face === 'front' ? (block.nz - 1) * grid.nx * grid.ny : 0;

/** The face away from the heat: still air above, or a bench mat below when the heat comes from above. */
function freeFace(stack: Stack, temperature: Float64Array, inAir: boolean, room: number, air: number): Surface {
  const { grid } = stack;
  const plane = grid.nx * grid.ny;
  const [width, height] = [grid.nx * grid.dx, grid.ny * grid.dy];
  // Area over perimeter, m.
  const length = (width * height) / (2 * (width + height)) / 1000;
  const offset = awayFromHeat(stack);
  let sum = 0;
  for (let p = 0; p < plane; p++) sum += temperature[offset + p]!;
  return evenSurface(stack, inAir ? air * freeConductance(sum / plane, room, length) : BENCH, room);
}

function facing({ face }: Stack, warmed: Surface, free: Surface, room: number, air: number): Surfaces {
  const side = { conductance: STILL * air, temperature: room };
  return face === 'front' ? { front: warmed, back: free, side } : { front: free, back: warmed, side };
}

/** Writes down the temperatures that matter, moment after moment. */
class Recorder {
  readonly heatRun: HeatRun;
  private readonly middle: number;
  /** The cell of every stretch of the seam, and the stretches of every edge. */
  private readonly seam: Int32Array;
  private readonly edges: [Edge, number[]][];

  /** @param frameEvery s between pictures of the whole device; `null` keeps none */
  constructor(
    private readonly stack: Stack,
    private readonly heat: Conduction,
    private readonly frameEvery: number | null,
  ) {
    this.heatRun = {
      times: [],
      turns: [],
      coldest: [],
      warmest: [],
      edges: {},
      zones: {},
      limits: stack.limits,
      backMiddle: [],
      seam: [],
      frames: [],
      took: [],
      energyError: 0,
    };
    const { nx, ny } = stack.grid;
    this.seam = Int32Array.from(stack.seam, (s) => s.cell);
    const edges = new Map<Edge, number[]>();
    stack.seam.forEach(({ edge }, i) => edges.set(edge, [...(edges.get(edge) ?? []), i]));
    this.edges = [...edges];
    this.middle = Math.floor(ny / 2) * nx + Math.floor(nx / 2) + awayFromHeat(stack);
  }

  note(time: number, turn: number): void {
    const { heatRun: run, stack } = this;
    const t = this.heat.temperature;
    const here = new Float32Array(this.seam.length);
    let [coldest, warmest] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY];
    for (let i = 0; i < here.length; i++) {
      here[i] = t[this.seam[i]!]!;
      if (here[i]! < coldest) coldest = here[i]!;
      if (here[i]! > warmest) warmest = here[i]!;
    }
    run.times.push(time);
    run.turns.push(turn);
    run.seam.push(here);
    run.coldest.push(coldest);
    run.warmest.push(warmest);
    for (const [edge, stretches] of this.edges) {
      let least = Number.POSITIVE_INFINITY;
      for (const i of stretches) if (here[i]! < least) least = here[i]!;
      push(run.edges, edge, least);
    }
    for (const zone of ZONES) {
      const cells = stack.zones[zone];
      if (!cells) continue;
      let hottest = Number.NEGATIVE_INFINITY;
      for (const c of cells) if (t[c]! > hottest) hottest = t[c]!;
      push(run.zones, zone, hottest);
    }
    run.backMiddle.push(t[this.middle]!);
    if (this.frameEvery !== null && time >= run.frames.length * this.frameEvery - 1e-6) this.picture(time);
  }

  private picture(time: number): void {
    const { stack, heat } = this;
    const plane = stack.grid.nx * stack.grid.ny;
    const layer = (z: number) => Float32Array.from(heat.temperature.subarray(z * plane, (z + 1) * plane));
    this.heatRun.frames.push({ time, seam: layer(stack.seamLayer), cell: layer(stack.cellLayer) });
  }

  /** @param here the stretches of the seam that the turn is for */
  moment(at: Pick<Moment, 'time' | 'turn' | 'turnTime'>, here: readonly number[]): Moment {
    const { seam, coldest, warmest, zones } = this.heatRun;
    const last = seam.at(-1)!;
    const now: Moment['zones'] = {};
    for (const zone of ZONES) if (zones[zone]) now[zone] = zones[zone].at(-1)!;
    return {
      ...at,
      coldestHere:
        here.length > 0
          ? here.reduce((least, i) => Math.min(least, last[i]!), Number.POSITIVE_INFINITY)
          : coldest.at(-1)!,
      coldest: coldest.at(-1)!,
      warmest: warmest.at(-1)!,
      zones: now,
    };
  }
}

function push<K extends string>(lists: Partial<Record<K, number[]>>, key: K, value: number): void {
  const list = lists[key];
  if (list) list.push(value);
  else lists[key] = [value];
}
