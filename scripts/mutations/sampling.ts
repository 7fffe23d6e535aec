import { bondAccess, latchAccess } from '../../core/anatomy/geometry.ts';
import {
  areaCovered,
  areaOf,
  bondLength,
  bondRegion,
  boundsOf,
  centreOf,
  edgeStrip,
  insetOutline,
  outlineContains,
  outlineHolds,
  outlineLength,
  outlinesOverlap,
  regionOf,
  regionsOverlap,
  ringsOf,
  shareCovered,
  type Bond,
  type Edge,
  type Outline,
  type Point,
  type Region,
} from '../../core/anatomy/index.ts';
import { seededDraw } from '../../demo/synthetic.ts';
import { tinyBond } from '../../demo/tiny.ts';

/* The geometry beside a count of points on a fine grid: it knows what an outline holds, and how far a point is from a line. */

const EDGES: readonly Edge[] = ['top', 'right', 'bottom', 'left'];

type Holds = (x: number, y: number) => boolean;

/** mm from a point to a stretch. */
function away([x, y]: Point, [ax, ay]: Point, [bx, by]: Point): number {
  const [dx, dy] = [bx - ax, by - ay];
  const along = dx === 0 && dy === 0 ? 0 : ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy);
  const t = along < 0 ? 0 : Math.min(along, 1);
  return Math.hypot(x - ax - t * dx, y - ay - t * dy);
}

/** mm inside an outline, negative outside it. */
function depth(outline: Outline, p: Point): number {
  if ('circle' in outline) return outline.circle[2] - Math.hypot(p[0] - outline.circle[0], p[1] - outline.circle[1]);
  if ('rect' in outline) {
    const [x, y, w, h] = outline.rect;
    const r = outline.radius ?? 0;
    const [qx, qy] = [Math.abs(p[0] - x - w / 2) - w / 2 + r, Math.abs(p[1] - y - h / 2) - h / 2 + r];
    const outside = Math.hypot(Math.max(qx, 0), Math.max(qy, 0));
    return r - outside - (qx > 0 || qy > 0 ? 0 : Math.max(qx, qy));
  }
  const { polygon } = outline;
  let turns = 0;
  let near = 1e9;
  polygon.forEach((a, i) => {
    const b = polygon[(i + 1) % polygon.length]!;
    const d = away(p, a, b);
    if (d < near) near = d;
    turns += Math.atan2(
      (a[0] - p[0]) * (b[1] - p[1]) - (a[1] - p[1]) * (b[0] - p[0]),
      (a[0] - p[0]) * (b[0] - p[0]) + (a[1] - p[1]) * (b[1] - p[1]),
    );
  });
  return Math.abs(turns) > 3 ? near : -near;
}

/** Every ring counts: a point in an odd number of them lies in the region. */
const inRegion =
  (region: Region): Holds =>
  (x, y) =>
    ringsOf(region).filter((ring) => depth({ polygon: ring as Point[] }, [x, y]) > 0).length % 2 === 1;

function counted(holds: Holds, step = 0.25): number {
  let n = 0;
  for (let x = -6; x < 46; x += step) for (let y = -6; y < 46; y += step) if (holds(x + step / 2, y + step / 2)) n++;
  return n * step * step;
}

/** What of the geometry is not as the points tell it, or `null`. */
export function geometryAmiss(): string | null {
  const draw = seededDraw(31);
  const between = (from: number, to: number) => from + (draw(1000) / 1000) * (to - from);
  const outline = (kind: number): Outline => {
    const [x, y, w, h] = [between(0, 12), between(0, 12), between(8, 24), between(8, 24)];
    if (kind === 0) return { rect: [x, y, w, h], radius: between(0.5, 3.5) };
    if (kind === 1) return { rect: [x, y, w, h] };
    if (kind === 2) return { circle: [x + 8, y + 8, between(4, 9)] };
    const [a, b] = [w * between(0.35, 0.6), h * between(0.35, 0.6)];
    return {
      polygon: [
        [x, y],
        [x + w, y],
        [x + w, y + b],
        [x + a, y + b],
        [x + a, y + h],
        [x, y + h],
      ],
    };
  };
  const near = (told: number, is: number, slack: number) => Math.abs(told - is) <= slack;
  for (let k = 0; k < 16; k++) {
    const [a, b, c] = [outline(k % 4), outline((k >> 2) % 4), outline(draw(4))] as const;
    const inA: Holds = (x, y) => depth(a, [x, y]) > 0;
    const areaA = counted(inA);
    const at = JSON.stringify(a);
    if (!near(areaOf(regionOf(a)), areaA, 0.03 * areaA)) return `area of ${at}`;
    const [x, y, w, h] = boundsOf(a);
    const wide = [0, 1].map((axis) => {
      const held: number[] = [];
      for (let u = -6; u < 46; u += 0.1)
        for (let v = -6; v < 46; v += 0.5) if (depth(a, axis === 0 ? [u, v] : [v, u]) > 0) held.push(u);
      return [held[0]!, held.at(-1)!];
    });
    if (!near(x, wide[0]![0]!, 0.4) || !near(x + w, wide[0]![1]!, 0.4)) return `bounds of ${at}`;
    if (!near(y, wide[1]![0]!, 0.4) || !near(y + h, wide[1]![1]!, 0.4)) return `bounds of ${at}`;
    if (!near(centreOf(a)[0], x + w / 2, 1e-6) || !near(centreOf(a)[1], y + h / 2, 1e-6)) return `centre of ${at}`;
    for (let i = 0; i < 300; i++) {
      const p: Point = [between(-2, 42), between(-2, 42)];
      if (Math.abs(depth(a, p)) > 0.1 && outlineHolds(a, p) !== depth(a, p) > 0) return `${at} and ${p}`;
    }
    const shared = counted((u, v) => depth(a, [u, v]) > 0 && depth(b, [u, v]) > 0);
    if (shared > 0.5 !== outlinesOverlap(a, b) && !near(shared, 0.25, 0.25))
      return `overlap of ${at} and ${JSON.stringify(b)}`;
    if (regionsOverlap(regionOf(a), regionOf(b)) !== outlinesOverlap(a, b)) return `regions of ${at}`;
    const small: Outline = k % 2 ? { circle: [centreOf(a)[0] - w / 5, centreOf(a)[1] - h / 5, 1.5] } : b;
    const within =
      counted((u, v) => depth(small, [u, v]) > 0 && depth(a, [u, v]) > 0) / counted((u, v) => depth(small, [u, v]) > 0);
    if ((within > 0.995 && !outlineContains(a, small)) || (within < 0.95 && outlineContains(a, small)))
      return `${at} holds ${JSON.stringify(small)}`;
    // A circle on the middle of a side lies half outside.
    if ('polygon' in a)
      for (const [i, p] of a.polygon.entries()) {
        const q = a.polygon[(i + 1) % a.polygon.length]!;
        const across: Outline = { circle: [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2, 1] };
        const pulled: Outline = { circle: [...centreOf(across), 0.5] as [number, number, number] };
        if (outlineContains(a, across) || outlineContains(a, pulled)) return `${at} holds what lies on its side ${i}`;
      }
    const covered = counted((u, v) => inA(u, v) && (depth(b, [u, v]) > 0 || depth(c, [u, v]) > 0));
    if (!near(areaCovered(regionOf(a), [regionOf(b), regionOf(c)]), covered, 0.03 * areaA)) return `cover of ${at}`;
    if (!near(shareCovered(a, [b, c]), covered / areaA, 0.12) || shareCovered(a, []) !== 0) return `share of ${at}`;
    const around = bondAmiss(a, areaA, between, EDGES[k % 4]!);
    if (around) return `${around} of ${at}`;
    const edge = EDGES[k % 4]!;
    const side = { top: [0, -1], right: [1, 0], bottom: [0, 1], left: [-1, 0] }[edge] as Point;
    const [cx, cy, , ch] = boundsOfStrip(edgeStrip(a, edge, 2));
    const horizontal = side[0] === 0;
    const reach: Point = [x + w / 2 + (side[0] * (w - 2)) / 2, y + h / 2 + (side[1] * (h - 2)) / 2];
    if (!near(cx, reach[0], 0.01) || !near(cy, reach[1], 0.01)) return `strip of ${at}`;
    if (!near(ch, horizontal ? 2 : h, 0.01)) return `strip of ${at}`;
    const lock = counted(inRegion(latchAccess(edge, a)));
    const long = horizontal ? w : h;
    if (lock < 0.8 * long || lock > 3 * long) return `catch of ${at}`;
  }
  return linesAmiss(between);
}

function boundsOfStrip(strip: Outline): [number, number, number, number] {
  const [x, y, w, h] = (strip as { rect: [number, number, number, number] }).rect;
  return [x + w / 2, y + h / 2, w, h];
}

/** A bond round a part, its length and ground, with a gap in it. */
function bondAmiss(a: Outline, area: number, between: (from: number, to: number) => number, edge: Edge): string | null {
  const [inset, width] = [between(0.3, 1), between(1, 2)];
  const bond = (gaps: { edge: Edge; from: number; to: number }[]): Bond =>
    tinyBond('seal', 'tape', ['part', 'frame'], { at: { perimeterOf: 'part', inset, width, gaps } });
  const within = counted((u, v) => depth(a, [u, v]) > inset && depth(a, [u, v]) < inset + width, 0.08);
  const ring = bondRegion(bond([]), () => a);
  if (Math.abs(areaOf(ring) - within) > 0.06 * within) return 'ring';
  const inner = counted((u, v) => depth(insetOutline(a, inset), [u, v]) > 0);
  if (Math.abs(inner - counted((u, v) => depth(a, [u, v]) > inset)) > 0.02 * area) return 'inset';
  const length = outlineLength(a);
  const thinly = counted((u, v) => Math.abs(depth(a, [u, v])) < 0.5, 0.08);
  if (Math.abs(length - thinly) > 0.06 * length) return 'length';
  // The middle of a side of its bounds is on the border of no bay.
  if ('polygon' in a) return null;
  const [x, y, w, h] = boundsOf(a);
  const middle = edge === 'top' || edge === 'bottom' ? x + w / 2 : y + h / 2;
  const open = bond([{ edge, from: middle - 1, to: middle + 1 }]);
  const holds = inRegion(bondRegion(open, () => a));
  const deep = inset + width / 2;
  const onEdge: Record<Edge, Point> = {
    top: [middle, y + deep],
    bottom: [middle, y + h - deep],
    left: [x + deep, middle],
    right: [x + w - deep, middle],
  };
  for (const other of EDGES) {
    const p: Point =
      other === edge
        ? onEdge[edge]
        : other === 'top' || other === 'bottom'
          ? [x + w / 2, onEdge[other][1]]
          : [onEdge[other][0], y + h / 2];
    const q: Point =
      other === 'top'
        ? [x + w / 2, y + deep]
        : other === 'bottom'
          ? [x + w / 2, y + h - deep]
          : other === 'left'
            ? [x + deep, y + h / 2]
            : [x + w - deep, y + h / 2];
    if (holds(...(other === edge ? p : q)) !== (other !== edge)) return `gap at the ${edge}`;
  }
  if (Math.abs(bondLength(bond([]), () => a) - length) > 1e-6) return 'length of the bond';
  return Math.abs(bondLength(open, () => a) - (length - 2)) > 1e-6 ? 'length beside the gap' : null;
}

function linesAmiss(between: (from: number, to: number) => number): string | null {
  for (let k = 0; k < 4; k++) {
    const line: Point[] = [
      [between(0, 8), between(0, 8)],
      [between(24, 30), between(0, 8)],
      [between(24, 30), between(24, 30)],
    ];
    const width = between(1, 3);
    const bond = tinyBond('run', 'tape', ['part', 'frame'], { at: { line, width } });
    const holds = inRegion(bondRegion(bond, () => ({ rect: [0, 0, 1, 1] })));
    const close = (p: Point) => Math.min(away(p, line[0]!, line[1]!), away(p, line[1]!, line[2]!));
    for (let i = 0; i < 400; i++) {
      const p: Point = [between(0, 34), between(0, 34)];
      // Only the ends are blunt: beside them a point may be near and yet beyond.
      const beyond = Math.min(...line.map((end) => Math.hypot(p[0] - end[0], p[1] - end[1]))) < width;
      if (!beyond && Math.abs(close(p) - width / 2) > 0.05 && holds(...p) !== close(p) < width / 2)
        return `line at ${p}`;
    }
    const long = line.slice(1).reduce((sum, p, i) => sum + Math.hypot(p[0] - line[i]![0], p[1] - line[i]![1]), 0);
    if (Math.abs(bondLength(bond, () => ({ rect: [0, 0, 1, 1] })) - long) > 1e-6) return 'length of a line';
    const pad = tinyBond('pad', 'glue', ['part', 'frame'], { at: { area: { rect: [3, 4, 9, 5] } } });
    if (bondLength(pad, () => ({ rect: [0, 0, 1, 1] })) !== 9) return 'length of a pad';
    const tabbed = tinyBond('tab', 'stretch-tab', ['part', 'frame'], {
      tabs: [
        [10, 10],
        [20, 12],
      ],
      at: { area: { rect: [3, 4, 30, 30] } },
    });
    const grip = inRegion(bondAccess(tabbed, () => ({ rect: [0, 0, 1, 1] })));
    if (!grip(10, 10) || !grip(20, 12) || !grip(10.8, 10) || grip(15, 11) || grip(13.5, 10)) return 'grip of a tab';
    const bare = { ...tabbed, tabs: [] };
    if (!inRegion(bondAccess(bare, () => ({ rect: [0, 0, 1, 1] })))(15, 11)) return 'reach of a pad';
  }
  return null;
}
