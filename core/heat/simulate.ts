import type { Edge, Point } from '../anatomy/index.ts';
import { LIMITS, ROOM, ZONES, type Zone } from './limits.ts';
import { jetAt, type HeatSource } from './sources.ts';
import { Conduction, type Surface, type Surfaces } from './solver.ts';
import type { Stack, Stretch } from './stack.ts';

/** Which part of the seam is warmed in one go. */
export type Where = 'whole' | Edge | 'first-half' | 'last-half';

/** One go with a source, or without one: then it cools. */
export interface Turn {
  source: HeatSource | null;
  where: Where;
  seconds: number;
}

export interface HeatOptions {
  /** °C; the device starts at the room's temperature unless told otherwise. */
  room?: number;
  start?: number;
  /** Time step, s. */
  step?: number;
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

/** Default time step, s. Origin: measured; see docs/decisions/0008. */
const HEAT_STEP = 5;
/** Emissivity of glass, paint and plastic (Incropera & DeWitt, App. A, from memory), and the Stefan-Boltzmann constant, W/m²K⁴. */
const EMISSIVITY = 0.9;
const SIGMA = 5.670374e-8;
/**
 * From a side, or a face that is not heated now, to still air, W/m²K: convection and radiation together. Origin:
 * usual value for small bodies.
 */
const STILL = 10;
/** From a gel pack to the air above it, W/m²K. Origin: as still air, a little insulated. */
const PACK_LOSS = 8;
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

export function takesPart(stretch: Pick<Stretch, 'edge' | 'half'>, where: Where): boolean {
  if (where === 'whole') return true;
  if (where === 'first-half') return stretch.half === 'first';
  if (where === 'last-half') return stretch.half === 'last';
  return stretch.edge === where;
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
  const { room = ROOM, step = HEAT_STEP, frames = 0, until, onProgress } = options;
  const start = options.start ?? room;
  if (!(step > 0)) throw new Error(`the time step must be above 0 s, not ${step}`);
  for (const [name, v] of [
    ['room', room],
    ['start', start],
  ] as const)
    if (!(v > -40 && v < 80)) throw new Error(`${name} must be a temperature from -40 to 80 °C, not ${v}`);
  for (const turn of turns)
    if (!(turn.seconds >= 0)) throw new Error(`a turn must take 0 s or more, not ${turn.seconds}`);

  const { block, grid, body, seam } = stack;
  const plane = grid.nx * grid.ny;
  const heat = new Conduction(block, start);
  const before = heat.energy();
  const run: HeatRun = {
    times: [],
    turns: [],
    coldest: [],
    warmest: [],
    edges: {},
    zones: {},
    backMiddle: [],
    seam: [],
    frames: [],
    took: [],
    energyError: 0,
  };
  const total = turns.reduce((sum, t) => sum + t.seconds, 0);
  const frameEvery = frames > 0 ? total / frames : Number.POSITIVE_INFINITY;
  const middle =
    Math.floor(grid.ny / 2) * grid.nx + Math.floor(grid.nx / 2) + (stack.face === 'front' ? (block.nz - 1) * plane : 0);

  const note = (time: number, turn: number): void => {
    const t = heat.temperature;
    const here = Float32Array.from(seam, (s) => t[s.cell]!);
    run.times.push(time);
    run.turns.push(turn);
    run.seam.push(here);
    run.coldest.push(here.reduce((a, b) => Math.min(a, b)));
    run.warmest.push(here.reduce((a, b) => Math.max(a, b)));
    const edges = new Map<Edge, number>();
    seam.forEach((s, i) => edges.set(s.edge, Math.min(edges.get(s.edge) ?? Number.POSITIVE_INFINITY, here[i]!)));
    for (const [edge, v] of edges) push(run.edges, edge, v);
    for (const zone of ZONES) {
      const cells = stack.zones[zone];
      if (!cells) continue;
      let hottest = Number.NEGATIVE_INFINITY;
      for (const c of cells) if (t[c]! > hottest) hottest = t[c]!;
      push(run.zones, zone, hottest);
    }
    run.backMiddle.push(t[middle]!);
    if (frames > 0 && (run.frames.length === 0 || time >= run.frames.length * frameEvery - 1e-6)) {
      const layer = (z: number) => Float32Array.from(t.subarray(z * plane, (z + 1) * plane));
      run.frames.push({ time, seam: layer(stack.seamLayer), cell: layer(stack.cellLayer) });
    }
  };

  let time = 0;
  note(0, 0);
  yield run;
  const length = (grid.nx * grid.dx * grid.ny * grid.dy) / (2 * (grid.nx * grid.dx + grid.ny * grid.dy)) / 1000;
  for (const [index, turn] of turns.entries()) {
    const applied = applicator(stack, turn, room, options.evenSweep ?? false);
    const here = seam.flatMap((s, i) => (takesPart(s, turn.where) ? [i] : []));
    let turnTime = 0;
    let sinceFree = Number.POSITIVE_INFINITY;
    let free: Surface | null = null;
    while (turnTime < turn.seconds - 1e-9) {
      const dt = Math.min(step, turn.seconds - turnTime);
      // The face away from the heat: still air above, or a bench mat below when the heat comes from above.
      if (sinceFree >= 30) {
        const { temperature: t } = heat;
        const offset = stack.face === 'front' ? (block.nz - 1) * plane : 0;
        let sum = 0;
        for (let p = 0; p < plane; p++) sum += t[offset + p]!;
        const h = applied.fromBelow || turn.source === null ? freeConductance(sum / plane, room, length) : BENCH;
        free = {
          conductance: body.map((share) => Math.max(0.01, share * h)),
          temperature: new Float64Array(plane).fill(room),
        };
        sinceFree = 0;
      }
      const warmed = applied.at(turnTime, dt, heat.temperature);
      const surfaces: Surfaces =
        stack.face === 'front'
          ? { front: warmed, back: free!, side: { conductance: STILL, temperature: room } }
          : { front: free!, back: warmed, side: { conductance: STILL, temperature: room } };
      heat.step(dt, surfaces);
      time += dt;
      turnTime += dt;
      sinceFree += dt;
      note(time, index);
      onProgress?.(total > 0 ? Math.min(1, time / total) : 1);
      yield run;
      if (until) {
        const last = run.seam.at(-1)!;
        const zones: Moment['zones'] = {};
        for (const zone of ZONES) if (run.zones[zone]) zones[zone] = run.zones[zone].at(-1)!;
        const coldestHere = here.reduce((least, i) => Math.min(least, last[i]!), Number.POSITIVE_INFINITY);
        if (
          until({
            time,
            turn: index,
            turnTime,
            coldestHere: here.length > 0 ? coldestHere : run.coldest.at(-1)!,
            coldest: run.coldest.at(-1)!,
            warmest: run.warmest.at(-1)!,
            zones,
          })
        )
          break;
      }
    }
    run.took.push(turnTime);
  }
  const gained = heat.energy() - before;
  run.energyError = Math.abs(gained - heat.absorbed) / Math.max(1e-9, Math.abs(heat.absorbed), Math.abs(gained));
  return run;
}

function push<K extends string>(lists: Partial<Record<K, number[]>>, key: K, value: number): void {
  const list = lists[key];
  if (list) list.push(value);
  else lists[key] = [value];
}

interface Applicator {
  /** The device lies on it; otherwise it comes from above. */
  fromBelow: boolean;
  /** What the heated face meets from `turnTime` on, for `dt` seconds. */
  at: (turnTime: number, dt: number, temperature: Float64Array) => Surface;
}

/**
 * The way a jet is swept along stretches of a seam: from one side of their widest gap to the other, and over the
 * smaller ones in steps of at most `most` mm.
 */
function swept(points: readonly Point[], most: number): Point[] {
  const step = (i: number) => Math.hypot(points[i]![0] - points.at(i - 1)![0], points[i]![1] - points.at(i - 1)![1]);
  const first = points.reduce((best, _, i) => (step(i) > step(best) ? i : best), 0);
  const way = [...points.slice(first), ...points.slice(0, first)];
  return way.flatMap((to, i): Point[] => {
    if (i === 0) return [to];
    const from = way[i - 1]!;
    const parts = Math.max(1, Math.ceil(Math.hypot(to[0] - from[0], to[1] - from[1]) / most));
    return Array.from({ length: parts }, (_, k) => {
      const share = (k + 1) / parts;
      return [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])];
    });
  });
}

/** What a source does to the heated face. */
function applicator(stack: Stack, { source, where }: Turn, room: number, evenSweep: boolean): Applicator {
  const { grid, body, seam } = stack;
  const plane = grid.nx * grid.ny;
  const offset = stack.face === 'front' ? 0 : (stack.block.nz - 1) * plane;
  if (source === null) {
    const surface: Surface = {
      conductance: body.map((s) => Math.max(0.01, s * STILL)),
      temperature: new Float64Array(plane).fill(room),
    };
    return { fromBelow: true, at: () => surface };
  }
  if (source.kind === 'mat' || source.kind === 'pad') {
    const surface: Surface = {
      conductance: body.map((s) => Math.max(0.01, s * source.conductance)),
      temperature: new Float64Array(plane).fill(source.set),
    };
    return { fromBelow: true, at: () => surface };
  }
  const points = seam.filter((s) => takesPart(s, where)).map((s) => s.at);
  if (points.length === 0) {
    const surface: Surface = {
      conductance: body.map((s) => Math.max(0.01, s * STILL)),
      temperature: new Float64Array(plane).fill(room),
    };
    return { fromBelow: false, at: () => surface };
  }
  const near = (p: number, [x, y]: readonly [number, number]) =>
    Math.hypot(((p % grid.nx) + 0.5) * grid.dx - x, (Math.floor(p / grid.nx) + 0.5) * grid.dy - y);
  if (source.kind === 'gel-pack') {
    const reach = source.reach ?? 40;
    const covered = Float64Array.from({ length: plane }, (_, p) =>
      points.some((at) => near(p, at) <= reach) ? body[p]! : 0,
    );
    const area = covered.reduce((a, b) => a + b, 0);
    const conductance = covered.map((c, p) => Math.max(0.01, c * source.conductance + (body[p]! - c) * STILL));
    const surface: Surface = { conductance, temperature: new Float64Array(plane) };
    let pack = source.set;
    return {
      fromBelow: false,
      at: (_, dt, t) => {
        // The pack gives heat to the glass below it and to the air above it; its own store falls by what it gives.
        let under = 0;
        for (let p = 0; p < plane; p++) under += covered[p]! * t[offset + p]!;
        const mean = area > 0 ? under / area : room;
        const rate = (source.conductance + PACK_LOSS) / (source.content ?? 50_000);
        const rest = (source.conductance * mean + PACK_LOSS * room) / (source.conductance + PACK_LOSS);
        pack = rest + (pack - rest) * Math.exp(-rate * dt);
        for (let p = 0; p < plane; p++)
          surface.temperature[p] =
            (covered[p]! * source.conductance * pack + (body[p]! - covered[p]!) * STILL * room) /
            Math.max(1e-9, covered[p]! * source.conductance + (body[p]! - covered[p]!) * STILL);
        return surface;
      },
    };
  }
  const jet = jetAt(source, room);
  const way = swept(points, jet.spot / 2);
  // The spot goes to and fro along the seam; over a step each cell gets the share of the time that it lay under the spot.
  const inSpot = way.map((at) => {
    const cells: number[] = [];
    for (let p = 0; p < plane; p++) if (near(p, at) <= jet.spot / 2) cells.push(p);
    return cells;
  });
  let whole = 0;
  const ends = way.map((at, i) => {
    if (i > 0) whole += Math.hypot(at[0] - way[i - 1]![0], at[1] - way[i - 1]![1]);
    return whole;
  });
  const at = (s: number): number => {
    const i = ends.findIndex((e) => e >= s);
    return i < 0 ? way.length - 1 : i;
  };
  const speed = source.speed ?? 40;
  let even: Surface | null = null;
  return {
    fromBelow: false,
    at: (turnTime, dt) => {
      // Swept many times within a step, every stretch gets the same share.
      const fast = evenSweep || speed * dt > 4 * whole;
      if (fast && even) return even;
      const share = new Float64Array(plane);
      const samples = fast ? way.length : Math.max(4, Math.ceil((speed * dt) / 4));
      for (let k = 0; k < samples; k++) {
        let i = k;
        if (!fast) {
          const travelled = speed * (turnTime + ((k + 0.5) * dt) / samples);
          const lap = whole === 0 ? 0 : travelled % (2 * whole);
          i = at(lap <= whole ? lap : 2 * whole - lap);
        }
        for (const p of inSpot[i]!) share[p] = share[p]! + 1 / samples;
      }
      const surface: Surface = { conductance: new Float64Array(plane), temperature: new Float64Array(plane) };
      for (let p = 0; p < plane; p++) {
        const hot = Math.min(1, share[p]!) * jet.conductance;
        const cool = (1 - Math.min(1, share[p]!)) * STILL;
        surface.conductance[p] = Math.max(0.01, body[p]! * (hot + cool));
        surface.temperature[p] = hot + cool > 0 ? (hot * jet.temperature + cool * room) / (hot + cool) : room;
      }
      if (fast) even = surface;
      return surface;
    },
  };
}

/** A temperature that was passed. */
export interface Exceeded {
  zone: Zone;
  level: 'caution' | 'stop';
  /** Seconds from the beginning. */
  at: number;
  /** The highest temperature reached, °C. */
  peak: number;
}

/** What a run of temperatures means. Times in s from the beginning, `null` when it never happens. */
export interface HeatAnswers {
  softAt: number | null;
  edgeSoftAt: Partial<Record<Edge, number | null>>;
  /** How long the whole seam stayed workable once it was soft and the heat was gone; `null` when it was never soft. */
  staysSoft: number | null;
  /** True when it was still workable at the end of what was computed. */
  stillSoft: boolean;
  exceeded: Exceeded[];
  peaks: Partial<Record<Zone, number>>;
}

/**
 * @param softensAt °C
 * @param workableFrom the seam counts as cold again below this, °C
 * @param heatEnds when the heat was taken away, s
 */
export function answersOf(run: HeatRun, softensAt: number, workableFrom: number, heatEnds: number): HeatAnswers {
  const firstAt = (values: readonly number[], from: number): number | null => {
    const i = values.findIndex((v) => v >= from);
    if (i < 0) return null;
    if (i === 0) return run.times[0]!;
    const share = (from - values[i - 1]!) / (values[i]! - values[i - 1]!);
    return run.times[i - 1]! + share * (run.times[i]! - run.times[i - 1]!);
  };
  const softAt = firstAt(run.coldest, softensAt);
  let staysSoft: number | null = null;
  let stillSoft = false;
  if (softAt !== null) {
    const from = Math.max(softAt, heatEnds);
    const cold = run.times.findIndex((t, i) => t > from && run.coldest[i]! < workableFrom);
    stillSoft = cold < 0;
    staysSoft = Math.max(0, (cold < 0 ? run.times.at(-1)! : run.times[cold]!) - from);
  }
  const exceeded: Exceeded[] = [];
  const peaks: HeatAnswers['peaks'] = {};
  for (const zone of ZONES) {
    const values = run.zones[zone];
    if (!values) continue;
    const peak = values.reduce((a, b) => Math.max(a, b));
    peaks[zone] = peak;
    for (const level of ['caution', 'stop'] as const) {
      const at = firstAt(values, LIMITS[zone][level]);
      if (at !== null) exceeded.push({ zone, level, at, peak });
    }
  }
  const edgeSoftAt: HeatAnswers['edgeSoftAt'] = {};
  for (const [edge, values] of Object.entries(run.edges) as [Edge, number[]][])
    edgeSoftAt[edge] = firstAt(values, softensAt);
  return { softAt, edgeSoftAt, staysSoft, stillSoft, exceeded: exceeded.sort((a, b) => a.at - b.at), peaks };
}
