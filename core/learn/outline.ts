import { boundsOf, type Body, type Outline, type Point, type Rect } from '../anatomy/index.ts';

/** Two sides that meet within this of a right angle are taken for the sides of a rectangle, degrees. */
const SQUARE = 22;
/** Smallest side of an outline, mm: less is a slip of the hand. */
const LEAST = 1;

const clampTo = (body: Pick<Body, 'width' | 'height'>, [x, y]: Point): Point => [
  Math.min(body.width, Math.max(0, x)),
  Math.min(body.height, Math.max(0, y)),
];

/** The convex hull of some points, counter-clockwise on the page (Andrew's monotone chain, from memory). */
export function hullOf(points: readonly Point[]): Point[] {
  const sorted = [...points].sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const cross = (o: Point, a: Point, b: Point) => (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);
  const half = (list: readonly Point[]) => {
    const chain: Point[] = [];
    for (const p of list) {
      while (chain.length >= 2 && cross(chain.at(-2)!, chain.at(-1)!, p) <= 1e-9) chain.pop();
      chain.push(p);
    }
    return chain.slice(0, -1);
  };
  return [...half(sorted), ...half(sorted.toReversed())];
}

const rectOfPoints = (points: readonly Point[]): Rect => boundsOf({ polygon: [...points] });

function turnedBy(a: Point, at: Point, b: Point): number {
  const one = Math.atan2(a[1] - at[1], a[0] - at[0]);
  const other = Math.atan2(b[1] - at[1], b[0] - at[0]);
  const degrees = Math.abs(((one - other) * 180) / Math.PI) % 360;
  return Math.min(degrees, 360 - degrees);
}

const upright = (a: Point, b: Point): boolean => {
  const lean = Math.abs((Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI) % 90;
  return Math.min(lean, 90 - lean) <= SQUARE || Math.hypot(a[0] - b[0], a[1] - b[1]) < 5;
};

/**
 * What a rough outline says: a rectangle where three or four corners make one, else the polygon of its corners, or
 * their hull where the sides cross. A corner that was left out of a rectangle is known from the others.
 */
export function outlineFrom(corners: readonly Point[], body: Pick<Body, 'width' | 'height'>): Outline | null {
  const points = corners.map((p) => clampTo(body, p));
  if (points.length < 2) return null;
  const [x, y, w, h] = rectOfPoints(points);
  const bounds: Outline = { rect: widened([x, y, w, h], body) };
  if (points.length <= 3) return bounds;
  if (points.length === 4) {
    const square = points.every((p, i) => {
      const before = points[(i + 3) % 4]!;
      const after = points[(i + 1) % 4]!;
      return Math.abs(turnedBy(before, p, after) - 90) <= SQUARE && upright(p, after);
    });
    if (square) return bounds;
  }
  const hull = hullOf(points);
  return hull.length < 3 ? bounds : { polygon: hull };
}

function widened([x, y, w, h]: Rect, body: Pick<Body, 'width' | 'height'>): Rect {
  const wide = Math.max(w, LEAST);
  const high = Math.max(h, LEAST);
  return [Math.max(0, Math.min(x, body.width - wide)), Math.max(0, Math.min(y, body.height - high)), wide, high];
}

/** The outline, grown so that it holds these points. */
export function including(outline: Outline, points: readonly Point[], body: Pick<Body, 'width' | 'height'>): Outline {
  if (points.length === 0) return outline;
  const inside = points.map((p) => clampTo(body, p));
  if ('rect' in outline) {
    const [x, y, w, h] = outline.rect;
    return {
      rect: rectOfPoints([[x, y], [x + w, y + h], ...inside]),
      ...(outline.radius ? { radius: outline.radius } : {}),
    };
  }
  const corners: Point[] = 'polygon' in outline ? outline.polygon : cornersOf(outline);
  return { polygon: hullOf([...corners, ...inside]) };
}

/** The corners of an outline, by which another is grown around it. */
export function cornersOf(outline: Outline): Point[] {
  if ('polygon' in outline) return outline.polygon;
  const [x, y, w, h] = boundsOf(outline);
  return [
    [x, y],
    [x + w, y],
    [x + w, y + h],
    [x, y + h],
  ];
}

/** The mean of several outlines of one part: of rectangles side by side, else the hull of what most of them hold. */
export function meanOutline(outlines: readonly Outline[]): Outline {
  const [first] = outlines;
  if (outlines.length === 1 || !first) return first!;
  const rects = outlines.map(boundsOf);
  if (outlines.every((o) => 'rect' in o)) {
    const middle = (of: (r: Rect) => number) => median(rects.map(of));
    const [x0, y0] = [middle((r) => r[0]), middle((r) => r[1])];
    const [x1, y1] = [middle((r) => r[0] + r[2]), middle((r) => r[1] + r[3])];
    return { rect: [x0, y0, Math.max(LEAST, x1 - x0), Math.max(LEAST, y1 - y0)] };
  }
  return { polygon: hullOf(outlines.flatMap(cornersOf)) };
}

export function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const at = sorted.length / 2;
  return sorted.length % 2 === 1 ? sorted[Math.floor(at)]! : (sorted[at - 1]! + sorted[at]!) / 2;
}

/** How far a point lies outside a rectangle, mm; 0 within. */
export function beside([x, y, w, h]: Rect, [px, py]: Point): number {
  return Math.hypot(Math.max(x - px, 0, px - x - w), Math.max(y - py, 0, py - y - h));
}

/** How far a point lies within a rectangle from its nearest side, mm; negative outside. */
export function inwards([x, y, w, h]: Rect, [px, py]: Point): number {
  return Math.min(px - x, x + w - px, py - y, y + h - py);
}

export function gapBetween(a: Rect, b: Rect): number {
  const dx = Math.max(a[0] - b[0] - b[2], b[0] - a[0] - a[2], 0);
  const dy = Math.max(a[1] - b[1] - b[3], b[1] - a[1] - a[3], 0);
  return Math.hypot(dx, dy);
}

/** Share of their union that two rectangles have in common. */
export function likeness(a: Rect, b: Rect): number {
  const w = Math.min(a[0] + a[2], b[0] + b[2]) - Math.max(a[0], b[0]);
  const h = Math.min(a[1] + a[3], b[1] + b[3]) - Math.max(a[1], b[1]);
  if (w <= 0 || h <= 0) return 0;
  return (w * h) / (a[2] * a[3] + b[2] * b[3] - w * h);
}

/** The share of a rectangle that lies under another. */
export function shareUnder(of: Rect, over: Rect): number {
  const w = Math.min(of[0] + of[2], over[0] + over[2]) - Math.max(of[0], over[0]);
  const h = Math.min(of[1] + of[3], over[1] + over[3]) - Math.max(of[1], over[1]);
  return w <= 0 || h <= 0 ? 0 : (w * h) / (of[2] * of[3]);
}
