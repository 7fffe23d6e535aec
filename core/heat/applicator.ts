import type { Edge, Point } from '../anatomy/index.ts';
import { jetAt, packOf, sweepSpeed, type HeatSource } from './sources.ts';
import type { Surface } from './solver.ts';
import type { Stack, Stretch } from './stack.ts';

/** Which part of the seam is warmed in one go. */
export type Where = 'whole' | Edge | 'first-half' | 'last-half';

/** One go with a source, or without one: then it cools. */
export interface Turn {
  source: HeatSource | null;
  where: Where;
  seconds: number;
}

/**
 * From a side, or a face that is not heated now, to still air, W/m²K: convection and radiation together. Origin:
 * usual value for small bodies.
 */
export const STILL = 10;
/** From a gel pack to the air above it, W/m²K. Origin: as still air, a little insulated. */
const PACK_LOSS = 8;
/** Least conductance to anything, W/m²K, so that a cell without body still has a temperature. */
const LEAST = 0.01;

export function takesPart(stretch: Pick<Stretch, 'edge' | 'half'>, where: Where): boolean {
  if (where === 'whole') return true;
  if (where === 'first-half') return stretch.half === 'first';
  if (where === 'last-half') return stretch.half === 'last';
  return stretch.edge === where;
}

export interface Applicator {
  /** The device lies on it; otherwise it comes from above. */
  fromBelow: boolean;
  /** What the heated face meets from `turnTime` on, for `dt` seconds. */
  at: (turnTime: number, dt: number, temperature: Float64Array) => Surface;
}

/**
 * What a source does to the heated face.
 * @param room °C
 * @param evenSweep takes a swept jet as spread evenly over its path
 */
export function applicator(stack: Stack, { source, where }: Turn, room: number, evenSweep: boolean): Applicator {
  if (source === null) return alike(stack, STILL, room, true);
  if (source.kind === 'mat' || source.kind === 'pad') return alike(stack, source.conductance, source.set, true);
  const points = stack.seam.filter((s) => takesPart(s, where)).map((s) => s.at);
  if (points.length === 0) return alike(stack, STILL, room, false);
  if (source.kind === 'gel-pack') return gelPack(stack, source, points, room);
  return sweptJet(stack, source, points, room, evenSweep);
}

/** The same over the whole face: still air, a mat or a pad. */
const alike = (stack: Stack, conductance: number, temperature: number, fromBelow: boolean): Applicator => {
  const surface = evenSurface(stack, conductance, temperature);
  return { fromBelow, at: () => surface };
};

/** A face that meets the same all over. @param conductance W/m²K @param temperature °C */
export function evenSurface({ body }: Stack, conductance: number, temperature: number): Surface {
  return {
    conductance: body.map((share) => Math.max(LEAST, share * conductance)),
    temperature: new Float64Array(body.length).fill(temperature),
  };
}

/** Distance of the middle of a column of cells from a point, mm. */
const distance = ({ grid }: Stack, column: number, [x, y]: Point): number =>
  Math.hypot(((column % grid.nx) + 0.5) * grid.dx - x, (Math.floor(column / grid.nx) + 0.5) * grid.dy - y);

/** A pack of gel laid over the seam; it gives heat to the glass below it and to the air above it. */
function gelPack(stack: Stack, source: HeatSource, points: readonly Point[], room: number): Applicator {
  const { body, grid } = stack;
  const plane = grid.nx * grid.ny;
  const offset = stack.face === 'front' ? 0 : (stack.block.nz - 1) * plane;
  const { reach, content } = packOf(source);
  const covered = Float64Array.from({ length: plane }, (_, p) =>
    points.some((at) => distance(stack, p, at) <= reach) ? body[p]! : 0,
  );
  const area = covered.reduce((a, b) => a + b, 0);
  const conductance = covered.map((c, p) => Math.max(LEAST, c * source.conductance + (body[p]! - c) * STILL));
  const surface: Surface = { conductance, temperature: new Float64Array(plane) };
  let pack = source.set;
  return {
    fromBelow: false,
    at: (_, dt, t) => {
      let under = 0;
      for (let p = 0; p < plane; p++) under += covered[p]! * t[offset + p]!;
      const mean = area > 0 ? under / area : room;
      // Its own store falls by what it gives.
      const rate = (source.conductance + PACK_LOSS) / content;
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

/**
 * A jet of hot air that goes to and fro along the seam; over a step each cell gets the share of the time that it lay
 * under the spot.
 */
function sweptJet(
  stack: Stack,
  source: HeatSource,
  points: readonly Point[],
  room: number,
  evenSweep: boolean,
): Applicator {
  const { body, grid } = stack;
  const plane = grid.nx * grid.ny;
  const jet = jetAt(source, room);
  const way = swept(points, jet.spot / 2);
  const inSpot = way.map((at) => {
    const cells: number[] = [];
    for (let p = 0; p < plane; p++) if (distance(stack, p, at) <= jet.spot / 2) cells.push(p);
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
  const speed = sweepSpeed(source);
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
        surface.conductance[p] = Math.max(LEAST, body[p]! * (hot + cool));
        surface.temperature[p] = hot + cool > 0 ? (hot * jet.temperature + cool * room) / (hot + cool) : room;
      }
      if (fast) even = surface;
      return surface;
    },
  };
}
