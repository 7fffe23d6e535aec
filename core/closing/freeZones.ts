import {
  boundsOf,
  centreOf,
  outlineHolds,
  outlinesOverlap,
  ringOf,
  type Bond,
  type Model,
  type Outline,
  type Part,
  type Point,
} from '../anatomy/index.ts';
import { toSegment } from '../opening/index.ts';
import { joined, pointAt, type Run, type Stretch } from './run.ts';

/** What adhesive has to leave free. */
export interface FreeZone {
  part: string;
  outline: Outline;
}

/** Kinds that see, sense or sound through what lies over them. */
const FREE_KINDS: readonly Part['kind'][] = ['camera', 'sensor', 'mesh', 'speaker'];
/**
 * A module looks or sounds through the middle of its outline; of one that lies deeper than what is bonded so much of it,
 * in each direction, is kept free. Origin: own estimate; a lens or a grille is about half as wide as its module.
 */
const OPENING = 0.5;

/**
 * What a bond has to leave free: sensors, cameras, meshes and speakers that are no part of what it joins. What travels
 * with a bonded part, and every mesh, is kept free as a whole; of what lies beneath, the middle. What belongs to the other
 * face counts only where nothing lies between it and the bond.
 */
export function freeZones(model: Model, bond: Bond): FreeZone[] {
  const { parts } = model.anatomy;
  const held = bond.joins.map((id) => model.parts.get(id)!).filter((p) => !p.fixed);
  const panel = held.find((p) => p.within === null) ?? held[0];
  const face = bond.face ?? panel?.face ?? 'front';
  const between = (p: Part, window: Outline) =>
    parts.some(
      (q) =>
        q !== p &&
        !q.fixed &&
        q.within === null &&
        !bond.joins.includes(q.id) &&
        q.face !== 'edge' &&
        (q.face !== p.face || q.layer > p.layer) &&
        outlinesOverlap(q.outline, window),
    );
  return parts.flatMap((p): FreeZone[] => {
    if (!FREE_KINDS.includes(p.kind) || p.fixed || bond.joins.includes(p.id)) return [];
    const travels = p.within !== null && bond.joins.includes(p.within);
    if (p.within !== null && !travels) return [];
    const outline = p.kind === 'mesh' || travels ? p.outline : opening(p.outline);
    if (!travels && p.face !== face && between(p, outline)) return [];
    return [{ part: p.id, outline }];
  });
}

/** The middle of an outline. */
function opening(outline: Outline): Outline {
  const [cx, cy] = centreOf(outline);
  if ('circle' in outline) return { circle: [cx, cy, outline.circle[2] * OPENING] };
  const [, , w, h] = boundsOf(outline);
  const [hw, hh] = [(w * OPENING) / 2, (h * OPENING) / 2];
  return {
    rect: [cx - hw, cy - hh, 2 * hw, 2 * hh],
    radius: Math.min(hw, hh, ('rect' in outline && outline.radius) || 0),
  };
}

/** The distance of two segments in the plane, mm; 0 where they cross. */
function between(a: Point, b: Point, c: Point, d: Point): number {
  const side = (p: Point, q: Point, r: Point) => (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
  const crosses = side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0;
  return crosses ? 0 : Math.min(toSegment(a, c, d), toSegment(b, c, d), toSegment(c, a, b), toSegment(d, a, b));
}

/** How far a segment lies from an outline, mm; 0 where it enters it. */
function segmentTo(outline: Outline, ring: readonly Point[], a: Point, b: Point): number {
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    return Math.max(0, toSegment([x, y], a, b) - r);
  }
  if (outlineHolds(outline, a) || outlineHolds(outline, b)) return 0;
  let least = Infinity;
  ring.forEach((c, i) => {
    least = Math.min(least, between(a, b, c, ring[(i + 1) % ring.length]!));
  });
  return least;
}

/** Fineness in which a border of a stretch is looked for, mm, and what is added to be on the safe side. Own choice. */
const FINE = 0.02;
/** Where a run bends, its rim moves faster than its middle; so much of the distance is passed at a stride. Own choice. */
const STRIDE = 0.5;

/** A stretch of a run that comes too near to a zone. */
export interface Blocked extends Stretch {
  part: string;
}

/**
 * Where a run with so much on either side of its line comes nearer to a zone than the margin: its cross-section is looked at,
 * station by station, and what it covers where it turns a sharp corner.
 * @param half mm from the line to the rim of what is laid; 0 looks at the line alone
 */
export function blockedBy(run: Run, zones: readonly FreeZone[], half: number, margin: number): Blocked[] {
  const reach = margin + FINE;
  const found: Blocked[] = [];
  const far = half * Math.SQRT2 + reach;
  for (const { part, outline } of zones) {
    const [x, y, w, h] = boundsOf(outline);
    const ring = ringOf(outline) as Point[];
    /** Not nearer than that to the zone, by its upright rectangle. */
    const roughly = (p: Point) => Math.hypot(Math.max(x - p[0], p[0] - x - w, 0), Math.max(y - p[1], p[1] - y - h, 0));
    const here: Stretch[] = [];
    const bar = (s: number, by: number) => here.push({ from: Math.max(0, s - by), to: Math.min(run.length, s + by) });
    for (let i = 0; i + 1 < run.stations.length; i++) {
      const [from, to] = [run.stations[i]!, run.stations[i + 1]!];
      const [a, b] = [run.points[i]!, run.points[(i + 1) % run.points.length]!];
      if (to - from < 1e-12) continue;
      const [nx, ny] = [(-(b[1] - a[1]) / (to - from)) * half, ((b[0] - a[0]) / (to - from)) * half];
      let s = from;
      while (s <= to) {
        const p = pointAt(run, s);
        const rough = roughly(p) - half;
        if (rough > reach) {
          s += Math.max(FINE, rough - reach);
          continue;
        }
        const d = segmentTo(outline, ring, [p[0] - nx, p[1] - ny], [p[0] + nx, p[1] + ny]);
        if (d < reach) bar(s, FINE);
        s += Math.max(FINE, STRIDE * (d - reach));
      }
    }
    for (const c of run.corners) {
      if (c.radius > 0) continue;
      const at = pointAt(run, c.from);
      if (roughly(at) > far) continue;
      if (cornerTo(run, c.from, half, outline, ring) < reach) bar(c.from, half + reach);
    }
    for (const s of joined(here)) found.push({ ...s, part });
  }
  return found.sort((a, b) => a.from - b.from);
}

/** How far the ground of a sharp corner lies from an outline: the square, or rhomb, that both sides cover. */
function cornerTo(run: Run, station: number, half: number, outline: Outline, ring: readonly Point[]): number {
  const at = pointAt(run, station);
  const unit = (p: Point): Point => {
    const l = Math.hypot(p[0] - at[0], p[1] - at[1]) || 1;
    return [((p[0] - at[0]) / l) * half, ((p[1] - at[1]) / l) * half];
  };
  const step = Math.min(1, run.length / 10);
  const [u, v] = [unit(pointAt(run, station - step)), unit(pointAt(run, station + step))];
  const corner = (a: number, b: number): Point => [at[0] + a * u[0] + b * v[0], at[1] + a * u[1] + b * v[1]];
  const ground = [corner(1, 1), corner(1, -1), corner(-1, -1), corner(-1, 1)];
  return Math.min(...ground.map((p, i) => segmentTo(outline, ring, p, ground[(i + 1) % 4]!)));
}
