import {
  boundsOf,
  outlineContains,
  placementsOf,
  regionOf,
  type Bond,
  type Edge,
  type Model,
  type Part,
  type PartKind,
  type Point,
} from '../anatomy/index.ts';
import { BONDS, CONNECTORS } from '../kinds/index.ts';
import type { UnderCell } from './messages.ts';
import { distanceTo, type Shape } from './distance.ts';
import { pathOf, placeAt, type Path } from './path.ts';

/** Why no cut can be planned: where in the anatomy or the request, and what to do. */
export class NoCut extends Error {
  constructor(
    readonly path: string,
    message: string,
    /** How it is released instead, where that is known. */
    readonly said: UnderCell | null = null,
  ) {
    super(message);
    this.name = 'NoCut';
  }
}

/**
 * How a bond that no pick goes into is really released; `null` for one that is cut along its seam. Origin: common practice; a lever
 * or a blade under a cell bends or pierces it.
 */
export function underCell(model: Model, bond: Bond): UnderCell | null {
  const { tabs } = BONDS.of(bond.kind);
  if (tabs !== null) return { code: `no-pick-${tabs}` };
  return bond.joins.some((id) => model.parts.get(id)?.kind === 'battery') ? { code: 'no-pick-cell' } : null;
}

/** Distance between samples along the seam, mm. */
const SEAM_STEP = 0.5;
/** Kept between a pick and whatever lies behind, mm. Origin: own choice: the width of a mark and an unsteady hand. */
export const MARGIN = 0.5;
/** Width of the tip of a pick, mm: it never goes deeper than is clear over its whole width. Origin: own estimate of a rounded pick. */
const PICK_TIP = 4;
/** How far in from the edge a bond is still cut from it, mm. Origin: own choice. */
const REACH = 60;
/**
 * A tether whose route is not drawn is taken to run straight from its plug to the hinge, and to end this far from the
 * edge, mm. Origin: own estimate.
 */
const FOLD = 4;

const FRAGILE: ReadonlySet<PartKind> = new Set([
  'battery',
  'board',
  'camera',
  'lens',
  'sensor',
  'button',
  'flex',
  'reader',
  'coil',
  'antenna',
]);

/** Something a pick must not touch. */
export interface Obstacle {
  item: string;
  /** In words, for the screen: `Side buttons`, `flex of Display touch flex`. */
  name: string;
  shape: Shape;
  /** It runs beneath the bond itself, under its ledge, and counts from the bond's inner edge on. */
  crosses: boolean;
}

/** One sample of the seam. Lengths in mm. */
export interface Sample {
  /** Along the outline from where its path begins. */
  s: number;
  at: Point;
  inward: Point;
  edge: Edge;
  /** The bond begins and ends so far in; equal where there is none. */
  from: number;
  need: number;
  /** How far in is clear, margin taken off; what limits it, if anything does within reach. */
  clear: number;
  behind: string | null;
  /** How deep the tip of a pick may go here, over its whole width. */
  allowed: number;
}

export interface Seam {
  bond: Bond;
  /** The part that is opened. */
  part: Part;
  path: Path;
  samples: Sample[];
  obstacles: Obstacle[];
  margin: number;
}

/** The part that a bond lets go: the outermost movable one it joins, or the one it runs round. */
export function openedPart(model: Model, bond: Bond): Part {
  if ('perimeterOf' in bond.at) return model.parts.get(bond.at.perimeterOf)!;
  // Of an assembly and what is stuck to it, it is the smaller one that comes off.
  const carries = (p: Part) => bond.joins.some((id) => id !== p.id && model.familyOf(p.id).includes(id));
  const movable = bond.joins
    .map((id) => model.parts.get(id)!)
    .filter((p) => !p.fixed && !carries(p))
    .sort((a, b) => a.layer - b.layer);
  return movable[0] ?? model.parts.get(bond.joins[0]!)!;
}

/** What lies in the way of a pick under a part: fragile things beneath it or on its inside, connectors, and the flexes that run there. */
export function obstaclesOf(model: Model, bond: Bond): Omit<Obstacle, 'crosses'>[] {
  const part = openedPart(model, bond);
  const face = part.face;
  const found: Omit<Obstacle, 'crosses'>[] = [];
  const family = new Set(model.familyOf(part.id));
  const inside = (p: Part) => family.has(p.id) && p.id !== part.id && p.within !== null && p.face !== face;
  const beneath = (p: Part) =>
    !p.fixed &&
    p.within === part.within &&
    p.id !== part.id &&
    placementsOf(p).some((at) => at.face === face && at.layer > part.layer);
  // What the bond's other partner lies over is shielded by it, but for what looks out through it.
  const partners = bond.joins.map((id) => model.parts.get(id)!).filter((p) => !p.fixed && p.id !== part.id);
  const shielded = (p: Part) =>
    !['camera', 'lens', 'sensor'].includes(p.kind) &&
    partners.some((q) => q.layer < p.layer && outlineContains(q.outline, p.outline, 0.1));
  for (const p of model.anatomy.parts)
    if (!shielded(p) && FRAGILE.has(p.kind) && (inside(p) || beneath(p)) && !bond.joins.includes(p.id))
      found.push({ item: p.id, name: p.name, shape: { outline: p.outline } });
  const tethers = new Set(part.swing?.tether ?? []);
  for (const c of model.anatomy.connectors) {
    const joins = family.has(c.from) !== family.has(c.to);
    const under = c.face === face || joins;
    if (!under) continue;
    if (!CONNECTORS.of(c.kind).byItself)
      found.push({
        item: c.id,
        name: c.name,
        shape: { outline: { rect: [c.at[0] - c.size[0] / 2, c.at[1] - c.size[1] / 2, ...c.size] } },
      });
    if (c.route) found.push({ item: c.id, name: `${c.name}, where it runs`, shape: c.route });
    else if (tethers.has(c.id))
      found.push({
        item: c.id,
        name: `${c.name}, where it runs to the hinge`,
        shape: { line: [c.at, hingePoint(part, c.at)], width: Math.min(...c.size) },
      });
  }
  return found;
}

function hingePoint(part: Part, [x, y]: Point): Point {
  const [px, py, w, h] = boundsOf(part.outline);
  switch (part.swing!.hinge) {
    case 'left':
      return [Math.min(x, px + FOLD), y];
    case 'right':
      return [Math.max(x, px + w - FOLD), y];
    case 'top':
      return [x, Math.min(y, py + FOLD)];
    default:
      return [x, Math.max(y, py + h - FOLD)];
  }
}

/** Where along a ray from `at` a closed ring is crossed, mm, in order. */
function crossings(at: Point, [dx, dy]: Point, ring: readonly (readonly [number, number])[]): number[] {
  const found: number[] = [];
  for (let i = 0; i < ring.length; i++) {
    const [ax, ay] = ring[i]!;
    const [bx, by] = ring[(i + 1) % ring.length]!;
    const [ex, ey] = [bx - ax, by - ay];
    const cross = dx * ey - dy * ex;
    if (Math.abs(cross) < 1e-12) continue;
    const t = ((ax - at[0]) * ey - (ay - at[1]) * ex) / cross;
    const u = ((ax - at[0]) * dy - (ay - at[1]) * dx) / cross;
    if (t >= -1e-9 && u >= 0 && u < 1) found.push(Math.max(0, t));
  }
  return found.sort((a, b) => a - b);
}

/** How far in the bond lies at each place: `[from, need]`, or `null` where there is none. */
function bondBand(bond: Bond, path: Path): (s: number) => [number, number] | null {
  if ('perimeterOf' in bond.at) {
    const { inset, width, gaps } = bond.at;
    return (s) => {
      const { at, edge } = placeAt(path, s);
      const along = edge === 'top' || edge === 'bottom' ? at[0] : at[1];
      return gaps.some((g) => g.edge === edge && along >= Math.min(g.from, g.to) && along <= Math.max(g.from, g.to))
        ? null
        : [inset, inset + width];
    };
  }
  if ('area' in bond.at) {
    const ring = regionOf(bond.at.area)[0]! as unknown as Point[];
    return (s) => {
      const { at, inward } = placeAt(path, s);
      const hits = crossings(at, inward, ring).filter((d) => d > 1e-6 || hitsInside(at, inward, ring));
      if (hits.length < 2 || hits[0]! > REACH) return null;
      // From both sides it is cut to its middle.
      return [hits[0]!, Math.min(REACH, (hits[0]! + hits.at(-1)!) / 2)];
    };
  }
  const { line, width } = bond.at;
  const [, , w, h] = path.bounds;
  return (s) => {
    const { at, inward } = placeAt(path, s);
    let best: [number, number] | null = null;
    for (let i = 0; i + 1 < line.length; i++) {
      const [a, b] = [line[i]!, line[i + 1]!];
      const [ex, ey] = [b[0] - a[0], b[1] - a[1]];
      const length = Math.hypot(ex, ey);
      const cross = inward[0] * ey - inward[1] * ex;
      // Only a line that runs along this edge is cut from it.
      if (length === 0 || Math.abs(cross) / length < Math.SQRT1_2) continue;
      const t = ((a[0] - at[0]) * ey - (a[1] - at[1]) * ex) / cross;
      const u = ((a[0] - at[0]) * inward[1] - (a[1] - at[1]) * inward[0]) / cross;
      const across = width / 2 / (Math.abs(cross) / length);
      // From the far edge it would be cut through everything between.
      if (u < 0 || u > 1 || t < -across || t > Math.min(REACH, Math.min(w, h) / 2)) continue;
      if (!best || t - across < best[0]) best = [Math.max(0, t - across), t + across];
    }
    return best;
  };
}

function hitsInside(at: Point, inward: Point, ring: readonly Point[]): boolean {
  return crossings([at[0] + inward[0] * 1e-3, at[1] + inward[1] * 1e-3], inward, ring).length % 2 === 1;
}

/** Least value within `reach` samples on either side, round a closed path; `most` when `sign` is -1. */
export function windowed(values: readonly number[], reach: number, sign: 1 | -1 = 1): number[] {
  const n = values.length;
  return values.map((_, i) => {
    let best = Number.POSITIVE_INFINITY;
    for (let k = -reach; k <= reach; k++) best = Math.min(best, sign * values[(((i + k) % n) + n) % n]!);
    return sign * best;
  });
}

/**
 * How far in a pick may go at every half millimetre of a seam: the exact distance from the entry to the nearest thing
 * that must not be touched, less the margin; and over the whole width of the tip, which is the morphological opening of
 * that (Serra 1982, from memory). A pick pushed in by a depth touches nothing farther from its entry than that depth.
 * @throws NoCut when the bond is unknown, or nothing of it is reached from the outline
 */
export function seamOf(
  model: Model,
  bondId: string,
  { margin = MARGIN, tip = PICK_TIP }: { margin?: number; tip?: number } = {},
): Seam {
  const bond = model.bonds.get(bondId);
  if (!bond)
    throw new NoCut(
      'bond',
      `the anatomy ${model.anatomy.id} has no bond "${bondId}"; its bonds are ${[...model.bonds.keys()].join(', ') || 'none'}`,
    );
  const cell = underCell(model, bond);
  if (cell !== null) throw new NoCut(`bonds.${bondId}`, cell.code, cell);
  if (!(margin >= 0)) throw new NoCut('margin', `must be 0 mm or more, not ${margin}`);
  if (!(tip >= 0)) throw new NoCut('tip', `must be 0 mm or more, not ${tip}`);
  const part = openedPart(model, bond);
  const path = pathOf(part.outline);
  const count = Math.max(8, Math.round(path.length / SEAM_STEP));
  const band = bondBand(bond, path);
  const places = Array.from({ length: count }, (_, i) => {
    const s = (i * path.length) / count;
    return { s, ...placeAt(path, s), band: band(s) };
  });
  if (places.every((p) => p.band === null))
    throw new NoCut(`bonds.${bondId}.at`, `${model.nameOf(bondId)} is not reached from the edge of ${part.name}`);
  const ring = 'perimeterOf' in bond.at;
  const raw = obstaclesOf(model, bond);
  const distances = raw.map((o) => places.map((p) => distanceTo(p.at, o.shape)));
  // A flex of the opened part itself comes down from it and never runs beneath its ledge.
  const own = new Set(model.familyOf(part.id));
  const hangs = (id: string) => {
    const c = model.connectors.get(id);
    return c !== undefined && (own.has(c.from) || own.has(c.to));
  };
  const obstacles = raw.map((o, k) => ({
    ...o,
    crosses: ring && !hangs(o.item) && places.some((p, i) => p.band !== null && distances[k]![i]! < p.band[1]),
  }));
  const clear: number[] = [];
  const behind: (string | null)[] = [];
  places.forEach((p, i) => {
    let least = REACH + margin;
    let what: string | null = null;
    obstacles.forEach((o, k) => {
      const distance = o.crosses && p.band ? Math.max(distances[k]![i]!, p.band[1]) : distances[k]![i]!;
      if (distance < least) {
        least = distance;
        what = o.item;
      }
    });
    clear.push(Math.max(0, least - margin));
    behind.push(what);
  });
  const half = Math.round(tip / 2 / (path.length / count));
  const allowed = windowed(windowed(clear, half), half, -1);
  return {
    bond,
    part,
    path,
    obstacles,
    margin,
    samples: places.map((p, i) => ({
      s: p.s,
      at: p.at,
      inward: p.inward,
      edge: p.edge,
      from: p.band?.[0] ?? 0,
      need: p.band?.[1] ?? 0,
      clear: clear[i]!,
      behind: behind[i]!,
      allowed: Math.min(clear[i]!, allowed[i]!),
    })),
  };
}
