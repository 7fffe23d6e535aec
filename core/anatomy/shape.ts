import { areaOf, regionOf } from './geometry.ts';
import type { Anatomy, Outline, Point } from './types.ts';

/**
 * What an outline or a line may be, so that every computation on it ends in a bounded time. Origin: own choice; the
 * finest part of the demo devices has 14 corners, and what is drawn over a photograph is simplified to some dozens.
 */
export const SHAPE_LIMITS = {
  /** Corners of one polygon, and points of one line. */
  corners: 400,
  linePoints: 200,
  /** Corners and points of a whole anatomy. */
  all: 12_000,
  /** Two points nearer than this are one, mm. */
  nearest: 1e-6,
  /** mm² */
  smallest: 0.0001,
} as const;

type Say = (path: string, message: string) => void;

/** The first two neighbours that lie on one another, by the place of the second; -1 when there are none. */
function doubled(points: readonly Point[], closed: boolean): number {
  for (let i = closed ? 0 : 1; i < points.length; i++) {
    const [x1, y1] = points[(i + points.length - 1) % points.length]!;
    const [x2, y2] = points[i]!;
    if (Math.hypot(x2 - x1, y2 - y1) < SHAPE_LIMITS.nearest) return i;
  }
  return -1;
}

const side = ([ax, ay]: Point, [bx, by]: Point, [cx, cy]: Point): number =>
  Math.sign((bx - ax) * (cy - ay) - (by - ay) * (cx - ax));

/** Do two segments cross, or lie on one another? Segments that only share an end are not asked. */
function cross(a: Point, b: Point, c: Point, d: Point): boolean {
  const [s1, s2, s3, s4] = [side(a, b, c), side(a, b, d), side(c, d, a), side(c, d, b)];
  if (s1 !== s2 && s3 !== s4 && s1 * s2 <= 0 && s3 * s4 <= 0) return true;
  if (s1 !== 0 || s2 !== 0) return false;
  const within = (p: Point, q: Point, r: Point) =>
    Math.min(p[0], q[0]) <= r[0] &&
    r[0] <= Math.max(p[0], q[0]) &&
    Math.min(p[1], q[1]) <= r[1] &&
    r[1] <= Math.max(p[1], q[1]);
  return within(a, b, c) || within(a, b, d) || within(c, d, a);
}

/** The first corner whose side runs into another side of the same polygon; -1 when there is none. */
function crossing(ring: readonly Point[]): number {
  const n = ring.length;
  for (let i = 0; i < n; i++) {
    for (let j = i + 2; j < n; j++) {
      if (i === 0 && j === n - 1) continue;
      if (cross(ring[i]!, ring[i + 1]!, ring[j]!, ring[(j + 1) % n]!)) return j;
    }
  }
  return -1;
}

/** What makes an outline unfit to be computed with. */
function sayOutline(outline: Outline, path: string, say: Say): void {
  if ('polygon' in outline) {
    const { polygon } = outline;
    const at = `${path}.polygon`;
    if (polygon.length > SHAPE_LIMITS.corners) {
      say(at, `${polygon.length} corners; at most ${SHAPE_LIMITS.corners} are taken. Simplify the outline`);
      return;
    }
    const twice = doubled(polygon, true);
    if (twice >= 0) {
      say(`${at}[${twice}]`, 'lies on the corner before it; remove one of the two');
      return;
    }
    const over = crossing(polygon);
    if (over >= 0) {
      say(`${at}[${over}]`, 'the side from here crosses another side; put the corners in order around the part');
      return;
    }
  }
  if (areaOf(regionOf(outline)) < SHAPE_LIMITS.smallest)
    say(path, 'has no area; draw the part with its width and height');
}

function sayLine(line: readonly Point[], path: string, say: Say): void {
  if (line.length > SHAPE_LIMITS.linePoints) {
    say(path, `${line.length} points; at most ${SHAPE_LIMITS.linePoints} are taken. Simplify the line`);
    return;
  }
  const twice = doubled(line, false);
  if (twice >= 0) say(`${path}[${twice}]`, 'lies on the point before it; remove one of the two');
}

const pointsOf = (outline: Outline): number => ('polygon' in outline ? outline.polygon.length : 4);

/** Everything of an anatomy's shapes that no computation should meet: each a fault with its path. */
export function sayShapes(anatomy: Anatomy, say: Say): void {
  let all = 0;
  anatomy.parts.forEach((p, i) => {
    all += pointsOf(p.outline);
    sayOutline(p.outline, `parts[${i}].outline`, say);
  });
  anatomy.connectors.forEach((c, i) => {
    if (!c.route) return;
    all += c.route.line.length;
    sayLine(c.route.line, `connectors[${i}].route.line`, say);
  });
  anatomy.bonds.forEach((b, i) => {
    const at = `bonds[${i}].at`;
    if ('area' in b.at) {
      all += pointsOf(b.at.area);
      sayOutline(b.at.area, `${at}.area`, say);
    } else if ('line' in b.at) {
      all += b.at.line.length;
      sayLine(b.at.line, `${at}.line`, say);
    }
  });
  if (all > SHAPE_LIMITS.all) {
    say('parts', `${all} corners and points in all; at most ${SHAPE_LIMITS.all} are taken. Simplify the outlines`);
  }
}
