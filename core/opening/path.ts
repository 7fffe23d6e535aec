import { boundsOf, type Edge, type Outline, type Point } from '../anatomy/index.ts';

/** A straight piece of an outline, or an arc of a circle from one angle to another (radians, y down). */
type Piece = { length: number } & (
  | { kind: 'line'; a: Point; b: Point }
  | { kind: 'arc'; centre: Point; radius: number; from: number; to: number }
);

/** A line on the device: an outline as it is run along with a pick, exact, closed and clockwise as seen from the front; or an open line. */
export interface Path {
  pieces: Piece[];
  /** mm from its beginning to its end, or all the way round. */
  length: number;
  bounds: readonly [number, number, number, number];
}

/** A point of the path: where, straight inwards from there, and the edge it belongs to. */
export interface Place {
  at: Point;
  inward: Point;
  edge: Edge;
}

const line = (a: Point, b: Point): Piece => ({ kind: 'line', a, b, length: Math.hypot(b[0] - a[0], b[1] - a[1]) });
const arc = (centre: Point, radius: number, from: number, to: number): Piece => ({
  kind: 'arc',
  centre,
  radius,
  from,
  to,
  length: radius * Math.abs(to - from),
});

/** @throws Error for an outline without length */
export function pathOf(outline: Outline): Path {
  const quarter = Math.PI / 2;
  let pieces: Piece[];
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    pieces = [arc([x, y], r, -quarter, 3 * quarter)];
  } else if ('polygon' in outline) {
    const points = outline.polygon;
    const twice = points.reduce((sum, [x, y], i) => {
      const [nx, ny] = points[(i + 1) % points.length]!;
      return sum + x * ny - nx * y;
    }, 0);
    // With y down a clockwise ring has a positive area.
    const ring = twice >= 0 ? points : [...points].reverse();
    pieces = ring.map((p, i) => line(p, ring[(i + 1) % ring.length]!));
  } else {
    const [x, y, w, h] = outline.rect;
    const r = Math.min(outline.radius ?? 0, w / 2, h / 2);
    pieces = [
      line([x + r, y], [x + w - r, y]),
      arc([x + w - r, y + r], r, -quarter, 0),
      line([x + w, y + r], [x + w, y + h - r]),
      arc([x + w - r, y + h - r], r, 0, quarter),
      line([x + w - r, y + h], [x + r, y + h]),
      arc([x + r, y + h - r], r, quarter, 2 * quarter),
      line([x, y + h - r], [x, y + r]),
      arc([x + r, y + r], r, 2 * quarter, 3 * quarter),
    ];
  }
  pieces = pieces.filter((p) => p.length > 1e-9);
  const length = pieces.reduce((sum, p) => sum + p.length, 0);
  if (pieces.length === 0) throw new Error('the outline has no length');
  return { pieces, length, bounds: boundsOf(outline) };
}

/** @throws Error for a line without length */
export function pathAlong(points: readonly Point[]): Path {
  const pieces = points
    .slice(1)
    .map((p, i) => line(points[i]!, p))
    .filter((p) => p.length > 1e-9);
  if (pieces.length === 0) throw new Error('the line has no length');
  return { pieces, length: pieces.reduce((sum, p) => sum + p.length, 0), bounds: boundsOf({ polygon: [...points] }) };
}

/** `count` places, each in the middle of an equal share of the path. */
export function placesAlong(path: Path, count: number): Place[] {
  return Array.from({ length: count }, (_, i) => placeAt(path, ((i + 0.5) * path.length) / count));
}

/** The place `s` mm along the path; `s` beyond the end goes round again. */
export function placeAt({ pieces, length, bounds }: Path, s: number): Place {
  let left = ((s % length) + length) % length;
  let piece = pieces[0]!;
  for (piece of pieces) {
    if (left <= piece.length) break;
    left -= piece.length;
  }
  const share = Math.min(1, left / piece.length);
  if (piece.kind === 'line') {
    const { a, b } = piece;
    const [dx, dy] = [(b[0] - a[0]) / piece.length, (b[1] - a[1]) / piece.length];
    const at: Point = [a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])];
    return { at, inward: [-dy, dx], edge: edgeOf(at, bounds) };
  }
  const angle = piece.from + share * (piece.to - piece.from);
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  const at: Point = [piece.centre[0] + piece.radius * cos, piece.centre[1] + piece.radius * sin];
  return { at, inward: [-cos, -sin], edge: edgeOf(at, bounds) };
}

function edgeOf([x, y]: Point, [x0, y0, w, h]: Path['bounds']): Edge {
  const far: [Edge, number][] = [
    ['top', y - y0],
    ['right', x0 + w - x],
    ['bottom', y0 + h - y],
    ['left', x - x0],
  ];
  return far.reduce((best, next) => (next[1] < best[1] - 1e-9 ? next : best))[0];
}
