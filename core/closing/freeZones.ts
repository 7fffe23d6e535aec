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

/** How far a point lies from an outline, mm; 0 within it. */
export function distanceTo(outline: Outline, at: Point): number {
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    return Math.max(0, Math.hypot(at[0] - x, at[1] - y) - r);
  }
  if (outlineHolds(outline, at)) return 0;
  const ring = ringOf(outline);
  let least = Infinity;
  ring.forEach(([ax, ay], i) => {
    const [bx, by] = ring[(i + 1) % ring.length]!;
    const l = (bx - ax) ** 2 + (by - ay) ** 2;
    const t = l === 0 ? 0 : Math.min(1, Math.max(0, ((at[0] - ax) * (bx - ax) + (at[1] - ay) * (by - ay)) / l));
    least = Math.min(least, Math.hypot(ax + t * (bx - ax) - at[0], ay + t * (by - ay) - at[1]));
  });
  return least;
}

/** Fineness in which a border of a stretch is looked for, mm, and what is added to be on the safe side. Own choice. */
const FINE = 0.02;

/** A stretch of a run that comes too near to a zone. */
export interface Blocked extends Stretch {
  part: string;
}

/**
 * Where a run with so much on either side of its line comes nearer to a zone than the margin.
 * @param half mm from the line to the rim of what is laid
 */
export function blockedBy(run: Run, zones: readonly FreeZone[], half: number, margin: number): Blocked[] {
  // A strip that turns a sharp corner reaches further out there.
  const sharpest = Math.max(0, ...run.corners.filter((c) => c.radius === 0).map((c) => Math.abs(c.turn)));
  const atCorner = half / Math.max(0.2, Math.cos((sharpest * Math.PI) / 360));
  const reach = half + margin + FINE;
  const found: Blocked[] = [];
  for (const { part, outline } of zones) {
    const [x, y, w, h] = boundsOf(outline);
    const far = atCorner + margin + FINE;
    const near = (p: Point) => p[0] > x - far && p[0] < x + w + far && p[1] > y - far && p[1] < y + h + far;
    const here: Stretch[] = [];
    const bar = (s: number, by: number) => here.push({ from: Math.max(0, s - by), to: Math.min(run.length, s + by) });
    for (let i = 0; i + 1 < run.stations.length; i++) {
      const [from, to] = [run.stations[i]!, run.stations[i + 1]!];
      let s = from;
      while (s <= to) {
        const p = pointAt(run, s);
        const d = distanceTo(outline, p);
        if (near(p) && d < reach) bar(s, FINE);
        // A point is never nearer than its neighbour by more than the way between them.
        s += Math.max(FINE, d - reach);
      }
    }
    for (const c of run.corners) {
      if (c.radius > 0) continue;
      const d = distanceTo(outline, pointAt(run, c.from));
      if (d < far) bar(c.from, far);
    }
    for (const s of joined(here)) found.push({ ...s, part });
  }
  return found.sort((a, b) => a.from - b.from);
}
