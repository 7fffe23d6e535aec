import polygonClipping, { type MultiPolygon, type Polygon, type Ring } from 'polygon-clipping';
import type { Bond, Edge, Outline, Point, Rect } from './types.ts';

/** Vertices on a full turn when a circle or a rounded corner is made a polygon: sagitta below 1 % of the radius. */
const CIRCLE_VERTICES = 32;

/** Overlaps smaller than this are two outlines that merely touch, mm². Own choice: below any cut tolerance of a part. */
const TOUCH_AREA_MM2 = 0.01;

export type Region = Polygon | MultiPolygon;

function arc(cx: number, cy: number, r: number, from: number, to: number, count: number): Ring {
  const ring: Ring = [];
  for (let i = 0; i <= count; i++) {
    const angle = from + ((to - from) * i) / count;
    ring.push([cx + r * Math.cos(angle), cy + r * Math.sin(angle)]);
  }
  return ring;
}

/** The corners of an outline as one ring, in mm, curves made polygons. */
export function ringOf(outline: Outline): Ring {
  if ('polygon' in outline) return outline.polygon.map(([x, y]) => [x, y]);
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    return arc(x, y, r, 0, 2 * Math.PI, CIRCLE_VERTICES).slice(0, -1);
  }
  const [x, y, w, h] = outline.rect;
  const r = Math.min(outline.radius ?? 0, w / 2, h / 2);
  if (r === 0)
    return [
      [x, y],
      [x + w, y],
      [x + w, y + h],
      [x, y + h],
    ];
  const quarter = Math.PI / 2;
  const n = CIRCLE_VERTICES / 4;
  return [
    ...arc(x + w - r, y + r, r, -quarter, 0, n),
    ...arc(x + w - r, y + h - r, r, 0, quarter, n),
    ...arc(x + r, y + h - r, r, quarter, 2 * quarter, n),
    ...arc(x + r, y + r, r, 2 * quarter, 3 * quarter, n),
  ];
}

export function regionOf(outline: Outline): Polygon {
  return [ringOf(outline)];
}

/** The smallest upright rectangle around an outline, `[x, y, width, height]` in mm. */
export function boundsOf(outline: Outline): Rect {
  if ('rect' in outline) return outline.rect;
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    return [x - r, y - r, 2 * r, 2 * r];
  }
  return boundsOfPoints(outline.polygon);
}

function boundsOfPoints(points: readonly (readonly [number, number])[]): Rect {
  let x0 = Infinity,
    y0 = Infinity,
    x1 = -Infinity,
    y1 = -Infinity;
  for (const [x, y] of points) {
    x0 = Math.min(x0, x);
    y0 = Math.min(y0, y);
    x1 = Math.max(x1, x);
    y1 = Math.max(y1, y);
  }
  return [x0, y0, x1 - x0, y1 - y0];
}

export function centreOf(outline: Outline): Point {
  const [x, y, w, h] = boundsOf(outline);
  return [x + w / 2, y + h / 2];
}

export function rectAround([x, y]: Point, [w, h]: readonly [number, number]): Outline {
  return { rect: [x - w / 2, y - h / 2, w, h] };
}

function isMulti(region: Region): region is MultiPolygon {
  return Array.isArray(region[0]?.[0]?.[0]);
}

function ringArea(ring: Ring): number {
  let twice = 0;
  for (let i = 0; i < ring.length; i++) {
    const [x1, y1] = ring[i]!;
    const [x2, y2] = ring[(i + 1) % ring.length]!;
    twice += x1 * y2 - x2 * y1;
  }
  return Math.abs(twice) / 2;
}

/** The rings of a region, outer ones and holes alike. */
export const ringsOf = (region: Region): Ring[] => (isMulti(region) ? region.flat() : region);

/** Area of a region in mm², holes taken off. */
export function areaOf(region: Region): number {
  if (region.length === 0) return 0;
  const polygons = isMulti(region) ? region : [region];
  return polygons.reduce(
    (sum, [outer, ...holes]) => sum + ringArea(outer!) - holes.reduce((s, h) => s + ringArea(h), 0),
    0,
  );
}

export function boundsOfRegion(region: Region): Rect {
  const polygons = isMulti(region) ? region : [region];
  return boundsOfPoints(polygons.flatMap((polygon) => polygon[0] ?? []));
}

export function boundsMeet(a: Rect, b: Rect): boolean {
  return a[0] < b[0] + b[2] && b[0] < a[0] + a[2] && a[1] < b[1] + b[3] && b[1] < a[1] + a[3];
}

type Operation = 'intersection' | 'union' | 'difference';

/** Grids that coordinates are put on when the polygon library trips over them, mm. Far below what a cut can hold. */
const GRIDS = [1e-5, 1e-4, 1e-3];

/**
 * The polygon library throws on some shapes whose corners all but meet; on a fine grid they meet, or do not.
 * @throws Error when it trips on every grid, naming what to do
 */
function clip(operation: Operation, first: Region, ...rest: Region[]): MultiPolygon {
  const run = (regions: Region[]) => {
    const [a, ...others] = regions as [Polygon, ...Polygon[]];
    return polygonClipping[operation](a, ...others);
  };
  try {
    return run([first, ...rest]);
  } catch {
    for (const grid of GRIDS) {
      try {
        return run([first, ...rest].map((region) => onGrid(region, grid)));
      } catch {
        // The next grid is coarser.
      }
    }
  }
  throw new Error('two outlines all but meet, and cannot be told apart; move one of them by 0.01 mm');
}

function onGrid(region: Region, grid: number): Region {
  const put = (value: unknown): unknown =>
    typeof value === 'number' ? Math.round(value / grid) * grid : (value as unknown[]).map(put);
  return put(region) as Region;
}

/** mm² of a region that some others cover together, what they cover twice counted once. */
export function areaCovered(region: Region, covers: readonly Region[]): number {
  if (covers.length === 0) return 0;
  return areaOf(clip('intersection', region, clip('union', ...(covers as [Region, ...Region[]]))));
}

/** True when the two regions share more than a touching edge. */
export function regionsOverlap(a: Region, b: Region): boolean {
  if (!boundsMeet(boundsOfRegion(a), boundsOfRegion(b))) return false;
  return areaOf(clip('intersection', a, b)) > TOUCH_AREA_MM2;
}

export function outlinesOverlap(a: Outline, b: Outline): boolean {
  if (!boundsMeet(boundsOf(a), boundsOf(b))) return false;
  return areaOf(clip('intersection', regionOf(a), regionOf(b))) > TOUCH_AREA_MM2;
}

/** A rectangle or a circle holds what it holds every corner of; a polygon a circle that none of its sides comes near. */
function surelyContains(outer: Outline, inner: Outline): boolean {
  if (!('polygon' in outer)) return ringOf(inner).every((p) => outlineHolds(outer, p as Point));
  if (!('circle' in inner)) return false;
  const [x, y, r] = inner.circle;
  const { polygon } = outer;
  const near = polygon.some(([ax, ay], i) => {
    const [bx, by] = polygon[(i + 1) % polygon.length]!;
    const length = (bx - ax) ** 2 + (by - ay) ** 2;
    const t = length === 0 ? 0 : Math.min(1, Math.max(0, ((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length));
    return Math.hypot(ax + t * (bx - ax) - x, ay + t * (by - ay) - y) < r;
  });
  return !near && outlineHolds(outer, [x, y]);
}

/** True when `inner` lies in `outer` but for at most `slack` of its own area (0 to 1). */
export function outlineContains(outer: Outline, inner: Outline, slack = 0.02): boolean {
  if (surelyContains(outer, inner)) return true;
  const whole = areaOf(regionOf(inner));
  if (!boundsMeet(boundsOf(outer), boundsOf(inner))) return false;
  return areaOf(clip('intersection', regionOf(outer), regionOf(inner))) >= whole * (1 - slack);
}

/** The outline drawn inwards by `inset` mm: exact for rectangles and circles, mitred at the corners of polygons. */
export function insetOutline(outline: Outline, inset: number): Outline {
  if ('rect' in outline) {
    const [x, y, w, h] = outline.rect;
    const by = Math.min(inset, w / 2 - 0.01, h / 2 - 0.01);
    return { rect: [x + by, y + by, w - 2 * by, h - 2 * by], radius: Math.max(0, (outline.radius ?? 0) - by) };
  }
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    return { circle: [x, y, Math.max(0.01, r - inset)] };
  }
  return { polygon: movedIn(outline.polygon, inset) ?? drawnIn(outline, inset) };
}

/** A polygon with each side moved inwards and the corners mitred; `null` where a side vanishes, so that it would fold over. */
function movedIn(polygon: readonly Point[], by: number): Point[] | null {
  const n = polygon.length;
  const twice = polygon.reduce((sum, [x, y], i) => {
    const [u, v] = polygon[(i + 1) % n]!;
    return sum + x * v - u * y;
  }, 0);
  const inwards = Math.sign(twice) * by;
  const sides = polygon.map(([x, y], i) => {
    const [u, v] = polygon[(i + 1) % n]!;
    const length = Math.hypot(u - x, v - y) || 1;
    const [dx, dy] = [(u - x) / length, (v - y) / length];
    return { x: x - inwards * dy, y: y + inwards * dx, dx, dy };
  });
  const moved = sides.map((s, i): Point => {
    const p = sides[(i + n - 1) % n]!;
    const cross = p.dx * s.dy - p.dy * s.dx;
    if (Math.abs(cross) < 1e-9) return [s.x, s.y];
    const t = ((s.x - p.x) * s.dy - (s.y - p.y) * s.dx) / cross;
    return [p.x + t * p.dx, p.y + t * p.dy];
  });
  const stands = moved.every((p, i) => {
    const q = moved[(i + 1) % n]!;
    const s = sides[i]!;
    return (q[0] - p[0]) * s.dx + (q[1] - p[1]) * s.dy > 0;
  });
  return stands ? moved : null;
}

/** A polygon drawn towards its middle, which never folds over. */
function drawnIn(outline: { polygon: Point[] }, by: number): Point[] {
  const [cx, cy] = centreOf(outline);
  return outline.polygon.map(([x, y]): Point => {
    const d = Math.hypot(x - cx, y - cy) || 1;
    const k = Math.max(0, d - by) / d;
    return [cx + (x - cx) * k, cy + (y - cy) * k];
  });
}

function segmentRegions(line: readonly Point[], width: number): Polygon[] {
  const regions: Polygon[] = [];
  for (let i = 0; i + 1 < line.length; i++) {
    const [x1, y1] = line[i]!;
    const [x2, y2] = line[i + 1]!;
    const length = Math.hypot(x2 - x1, y2 - y1);
    if (length === 0) continue;
    const nx = ((y2 - y1) / length) * (width / 2);
    const ny = ((x1 - x2) / length) * (width / 2);
    regions.push([
      [
        [x1 + nx, y1 + ny],
        [x2 + nx, y2 + ny],
        [x2 - nx, y2 - ny],
        [x1 - nx, y1 - ny],
      ],
    ]);
  }
  return regions;
}

const ASIDE = 1000;

/** Everything beside `edge` of `outline` between two coordinates along it, reaching `depth` mm inwards. */
export function edgeStrip(outline: Outline, edge: Edge, depth: number, from = -ASIDE, to = ASIDE): Outline {
  const [x, y, w, h] = boundsOf(outline);
  const horizontal = edge === 'top' || edge === 'bottom';
  const start = Math.max(from, horizontal ? x : y);
  const length = Math.max(0.01, Math.min(to, horizontal ? x + w : y + h) - start);
  if (edge === 'top') return { rect: [start, y, length, depth] };
  if (edge === 'bottom') return { rect: [start, y + h - depth, length, depth] };
  if (edge === 'left') return { rect: [x, start, depth, length] };
  return { rect: [x + w - depth, start, depth, length] };
}

/**
 * The ground a bond covers, in mm.
 * @param outlineOfPart looks up the outline of a part by id
 */
export function bondRegion(bond: Bond, outlineOfPart: (id: string) => Outline): Region {
  if ('area' in bond.at) return regionOf(bond.at.area);
  if ('line' in bond.at) {
    const [first, ...rest] = segmentRegions(bond.at.line, bond.at.width);
    return first ? clip('union', first, ...rest) : [];
  }
  const { inset, width, gaps } = bond.at;
  const around = outlineOfPart(bond.at.perimeterOf);
  const band = clip('difference', regionOf(insetOutline(around, inset)), regionOf(insetOutline(around, inset + width)));
  if (gaps.length === 0) return band;
  const cuts = gaps.map((gap) => regionOf(edgeStrip(around, gap.edge, inset + width + 0.01, gap.from, gap.to)));
  return clip('difference', band, ...cuts);
}

/** Half the width of the spot a tool needs to grip a tab, mm. Own choice: the tip of blunt tweezers. */
const TAB_GRIP_MM = 1.5;
/** How far in from the edge a latch is worked, mm. Own choice: the depth of a pick that frees a catch. */
const LATCH_DEPTH_MM = 1.5;

/** Where a tool must get at a bond: its tabs when it has them, else the bond itself. */
export function bondAccess(bond: Bond, outlineOfPart: (id: string) => Outline): Region {
  if (bond.tabs.length === 0) return bondRegion(bond, outlineOfPart);
  return bond.tabs.map((tab) => regionOf({ circle: [tab[0], tab[1], TAB_GRIP_MM] }));
}

export function latchAccess(edge: Edge, outline: Outline): Region {
  return regionOf(edgeStrip(outline, edge, LATCH_DEPTH_MM));
}

/** Length of a bond along its run, mm: the perimeter, the line, or the longer side of the area. */
export function bondLength(bond: Bond, outlineOfPart: (id: string) => Outline): number {
  if ('line' in bond.at) return polylineLength(bond.at.line, false);
  if ('perimeterOf' in bond.at) {
    const around = ringOf(outlineOfPart(bond.at.perimeterOf)) as Point[];
    return polylineLength(around, true) - bond.at.gaps.reduce((sum, gap) => sum + Math.abs(gap.to - gap.from), 0);
  }
  const [, , w, h] = boundsOf(bond.at.area);
  return Math.max(w, h);
}

/** Length round an outline, mm. */
export const outlineLength = (outline: Outline): number => polylineLength(ringOf(outline) as Point[], true);

function polylineLength(points: readonly Point[], closed: boolean): number {
  let length = 0;
  for (let i = closed ? 0 : 1; i < points.length; i++) {
    const [x1, y1] = points[(i + points.length - 1) % points.length]!;
    const [x2, y2] = points[i]!;
    length += Math.hypot(x2 - x1, y2 - y1);
  }
  return length;
}

/** Points a side at which `shareCovered` looks. Origin: own choice; 144 looks tell halves from thirds. */
const LOOKS = 12;

/** Does a point lie within an outline? Rounded corners count. */
export function outlineHolds(outline: Outline, [x, y]: Point): boolean {
  if ('circle' in outline) {
    const [cx, cy, r] = outline.circle;
    return Math.hypot(x - cx, y - cy) <= r;
  }
  if ('rect' in outline) {
    const [rx, ry, w, h] = outline.rect;
    if (x < rx || x > rx + w || y < ry || y > ry + h) return false;
    const r = Math.min(outline.radius ?? 0, w / 2, h / 2);
    const dx = Math.max(rx + r - x, x - (rx + w - r), 0);
    const dy = Math.max(ry + r - y, y - (ry + h - r), 0);
    return Math.hypot(dx, dy) <= r || dx === 0 || dy === 0;
  }
  // A ray to the left crosses the border an odd number of times.
  const { polygon } = outline;
  let inside = false;
  polygon.forEach(([ax, ay], i) => {
    const [bx, by] = polygon[(i + 1) % polygon.length]!;
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) inside = !inside;
  });
  return inside;
}

/** The share of an outline, 0 to 1, that others lie over: looked at point by point over its bounds. */
export function shareCovered(outline: Outline, covers: readonly Outline[]): number {
  if (covers.length === 0) return 0;
  const [x, y, w, h] = boundsOf(outline);
  let inside = 0;
  let covered = 0;
  for (let i = 0; i < LOOKS; i++)
    for (let j = 0; j < LOOKS; j++) {
      const at: Point = [x + ((i + 0.5) * w) / LOOKS, y + ((j + 0.5) * h) / LOOKS];
      if (!outlineHolds(outline, at)) continue;
      inside++;
      if (covers.some((cover) => outlineHolds(cover, at))) covered++;
    }
  return inside === 0 ? 1 : covered / inside;
}

/** Of the outside is what is covered by less than this. Origin: own choice; a bezel or a lens covers far less of a back. */
export const OUTSIDE_SHARE = 0.5;
