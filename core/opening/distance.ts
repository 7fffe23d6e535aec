import type { Outline, Point } from '../anatomy/index.ts';

/** Anything a pick must not touch: an outline, or a flex of some width along a line. */
export type Shape = { outline: Outline } | { line: readonly Point[]; width: number };

/** From a point to a stretch of straight line, mm. */
export function toSegment([x, y]: Point, [ax, ay]: Point, [bx, by]: Point): number {
  const [dx, dy] = [bx - ax, by - ay];
  const square = dx * dx + dy * dy;
  const share = square === 0 ? 0 : Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / square));
  return Math.hypot(x - ax - share * dx, y - ay - share * dy);
}

function insidePolygon([x, y]: Point, ring: readonly Point[]): boolean {
  let inside = false;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
    const [xi, yi] = ring[i]!;
    const [xj, yj] = ring[j]!;
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) inside = !inside;
  }
  return inside;
}

/** The exact distance from a point to the nearest of a shape, mm; 0 inside it. Rounded corners and circles are not made polygons. */
export function distanceTo(point: Point, shape: Shape): number {
  const [x, y] = point;
  if ('line' in shape) {
    let least = Number.POSITIVE_INFINITY;
    for (let i = 0; i + 1 < shape.line.length; i++)
      least = Math.min(least, toSegment(point, shape.line[i]!, shape.line[i + 1]!));
    return Math.max(0, least - shape.width / 2);
  }
  const { outline } = shape;
  if ('circle' in outline)
    return Math.max(0, Math.hypot(x - outline.circle[0], y - outline.circle[1]) - outline.circle[2]);
  if ('polygon' in outline) {
    const ring = outline.polygon;
    if (insidePolygon(point, ring)) return 0;
    return ring.reduce(
      (least, p, i) => Math.min(least, toSegment(point, p, ring[(i + 1) % ring.length]!)),
      Number.POSITIVE_INFINITY,
    );
  }
  const [rx, ry, w, h] = outline.rect;
  const r = Math.min(outline.radius ?? 0, w / 2, h / 2);
  // To the rectangle of the corners' centres, less their radius.
  const dx = Math.max(rx + r - x, 0, x - (rx + w - r));
  const dy = Math.max(ry + r - y, 0, y - (ry + h - r));
  return Math.max(0, Math.hypot(dx, dy) - r);
}
