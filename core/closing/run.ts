import {
  boundsOf,
  insetOutline,
  type Bond,
  type EdgeGap,
  type Model,
  type Outline,
  type Point,
} from '../anatomy/index.ts';

/** A stretch of a run by its stations, mm from the run's begin. */
export interface Stretch {
  from: number;
  to: number;
}

/** A turn of a run: a sharp corner, or a bend with its ends. */
export interface Corner {
  from: number;
  to: number;
  /** Degrees that the run turns by. */
  turn: number;
  /** mm; 0 is a sharp corner. */
  radius: number;
}

/** The middle line of a bond. */
export interface Run {
  points: Point[];
  closed: boolean;
  /** Station of each point, and of the end. */
  stations: number[];
  length: number;
  /** mm across the bond. */
  width: number;
  corners: Corner[];
  /** An area is laid with parallel strips: its middle line runs along its longer side, and this is its breadth. */
  breadth: number | null;
}

/** Degrees of a bend that one side of its polygon stands for: its length is then 1 in 10,000 too short. Own choice. */
const BEND_STEP = 3;
/** A longer side than that between two small turns is no part of a bend, mm. Origin: own choice. */
const BEND_SIDE = 5;
/** From here on a turn between two sides is a corner, degrees. Origin: own choice. */
const SHARP = 12;

/** A run from its points. */
export function runFrom(points: readonly Point[], closed: boolean, width: number, breadth: number | null = null): Run {
  const stations = [0];
  for (let i = 1; i < points.length + (closed ? 1 : 0); i++) {
    const [a, b] = [points[i - 1]!, points[i % points.length]!];
    stations.push(stations.at(-1)! + Math.hypot(b[0] - a[0], b[1] - a[1]));
  }
  const run = { points: [...points], closed, stations, length: stations.at(-1)!, width, corners: [], breadth };
  return { ...run, corners: cornersOf(run) };
}

/** The direction of the side that begins at a point, degrees. */
function heading(run: Pick<Run, 'points'>, i: number): number {
  const [a, b] = [run.points[i]!, run.points[(i + 1) % run.points.length]!];
  return (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI;
}

const turned = (from: number, to: number): number => ((to - from + 540) % 360) - 180;

/** Corners: single sharp turns, and bends whose small turns follow one another. */
function cornersOf(run: Omit<Run, 'corners'>): Corner[] {
  const n = run.points.length;
  const at: { i: number; turn: number }[] = [];
  for (let i = run.closed ? 0 : 1; i < n - (run.closed ? 0 : 1); i++) {
    const turn = turned(heading(run, (i + n - 1) % n), heading(run, i));
    if (Math.abs(turn) > 0.05) at.push({ i, turn });
  }
  const corners: Corner[] = [];
  let open: { from: number; to: number; turn: number } | null = null;
  const close = () => {
    if (open && Math.abs(open.turn) >= SHARP) {
      const radius = (open.to - open.from) / ((Math.abs(open.turn) * Math.PI) / 180);
      corners.push({ from: open.from, to: open.to, turn: open.turn, radius });
    }
    open = null;
  };
  for (const { i, turn } of at) {
    const here = run.stations[i]!;
    if (Math.abs(turn) >= SHARP) {
      close();
      corners.push({ from: here, to: here, turn, radius: 0 });
    } else if (open !== null && here - open.to <= BEND_SIDE && Math.sign(turn) === Math.sign(open.turn)) {
      open = { from: open.from, to: here, turn: open.turn + turn };
    } else {
      close();
      open = { from: here, to: here, turn };
    }
  }
  close();
  return corners;
}

/** The points of a rounded rectangle, clockwise from the middle of its top side, where a joint may lie. */
function rectRun([x, y, w, h]: readonly [number, number, number, number], radius: number): Point[] {
  const r = Math.min(radius, w / 2, h / 2);
  const points: Point[] = [[x + w / 2, y]];
  const steps = r > 0 ? Math.ceil(90 / BEND_STEP) : 0;
  const corner = (cx: number, cy: number, from: number) => {
    for (let i = 0; i <= steps; i++) {
      const angle = ((from + (90 * i) / Math.max(1, steps)) * Math.PI) / 180;
      points.push([cx + r * Math.cos(angle), cy + r * Math.sin(angle)]);
    }
  };
  corner(x + w - r, y + r, -90);
  corner(x + w - r, y + h - r, 0);
  corner(x + r, y + h - r, 90);
  corner(x + r, y + r, 180);
  return points.filter((p, i) => {
    const q = points[(i + points.length - 1) % points.length]!;
    return Math.hypot(p[0] - q[0], p[1] - q[1]) > 1e-9;
  });
}

/** A ring that begins in the middle of its longest side, where a joint may lie. */
function fromLongest(ring: readonly Point[]): Point[] {
  const long = (i: number) => {
    const [a, b] = [ring[i]!, ring[(i + 1) % ring.length]!];
    return Math.hypot(b[0] - a[0], b[1] - a[1]);
  };
  const i = ring.reduce((best, _, k) => (long(k) > long(best) ? k : best), 0);
  const [a, b] = [ring[i]!, ring[(i + 1) % ring.length]!];
  return [[(a[0] + b[0]) / 2, (a[1] + b[1]) / 2], ...ring.slice(i + 1), ...ring.slice(0, i + 1)];
}

/** The closed line that lies so many mm within an outline. */
export function lineWithin(outline: Outline, by: number): Point[] {
  if ('polygon' in outline) return fromLongest((insetOutline(outline, by) as { polygon: Point[] }).polygon);
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    const steps = 360 / BEND_STEP;
    return Array.from({ length: steps }, (_, i): Point => {
      const angle = (2 * Math.PI * i) / steps - Math.PI / 2;
      return [x + Math.max(0.01, r - by) * Math.cos(angle), y + Math.max(0.01, r - by) * Math.sin(angle)];
    });
  }
  const { rect, radius = 0 } = insetOutline(outline, by) as { rect: [number, number, number, number]; radius?: number };
  return rectRun(rect, radius);
}

/** The middle line of a bond: all round within its part, along its line, or along the longer side of its area. */
export function runOf(model: Model, bond: Bond): Run {
  const { at } = bond;
  if ('perimeterOf' in at) {
    const outline = model.parts.get(at.perimeterOf)!.outline;
    return runFrom(lineWithin(outline, at.inset + at.width / 2), true, at.width);
  }
  if ('line' in at) return runFrom(at.line, false, at.width);
  const [x, y, w, h] = boundsOf(at.area);
  const line: Point[] =
    w >= h
      ? [
          [x, y + h / 2],
          [x + w, y + h / 2],
        ]
      : [
          [x + w / 2, y],
          [x + w / 2, y + h],
        ];
  return runFrom(line, false, Math.min(w, h), Math.min(w, h));
}

/** The point of a run at a station, mm; past the end of a closed one it goes on from its begin. */
export function pointAt(run: Run, station: number): Point {
  const s = run.closed
    ? ((station % run.length) + run.length) % run.length
    : Math.min(run.length, Math.max(0, station));
  let i = 0;
  let high = run.stations.length - 1;
  while (i + 1 < high) {
    const middle = (i + high) >> 1;
    if (run.stations[middle]! <= s) i = middle;
    else high = middle;
  }
  const [a, b] = [run.points[i]!, run.points[(i + 1) % run.points.length]!];
  const length = run.stations[i + 1]! - run.stations[i]!;
  const t = length === 0 ? 0 : (s - run.stations[i]!) / length;
  return [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
}

/** The points of a stretch, its ends and every point of the run between them. `to` may lie past the end of a closed run. */
export function lineOf(run: Run, { from, to }: Stretch): Point[] {
  const line = [pointAt(run, from)];
  for (const lap of run.closed ? [0, run.length] : [0])
    run.points.forEach((p, i) => {
      const s = run.stations[i]! + lap;
      if (s > from + 1e-6 && s < to - 1e-6) line.push(p);
    });
  line.push(pointAt(run, to));
  return line;
}

/** The stretches of a run that lie in an upright rectangle (Liang and Barsky 1984, from memory). */
function within(run: Run, [x0, y0, w, h]: readonly [number, number, number, number]): Stretch[] {
  const found: Stretch[] = [];
  for (let i = 0; i + 1 < run.stations.length; i++) {
    const [a, b] = [run.points[i]!, run.points[(i + 1) % run.points.length]!];
    let [t0, t1] = [0, 1];
    for (const [d, at, low, high] of [
      [b[0] - a[0], a[0], x0, x0 + w],
      [b[1] - a[1], a[1], y0, y0 + h],
    ] as const) {
      if (Math.abs(d) < 1e-12) {
        if (at < low || at > high) t1 = -1;
        continue;
      }
      const [p, q] = [(low - at) / d, (high - at) / d];
      t0 = Math.max(t0, Math.min(p, q));
      t1 = Math.min(t1, Math.max(p, q));
    }
    if (t1 <= t0) continue;
    const [s, l] = [run.stations[i]!, run.stations[i + 1]! - run.stations[i]!];
    found.push({ from: s + t0 * l, to: s + t1 * l });
  }
  return joined(found);
}

/** The gaps of a bond as stretches of its run; only a perimeter has any. */
export function gapsOf(model: Model, { at }: Bond, run: Run): Stretch[] {
  if (!('perimeterOf' in at)) return [];
  return gapStretches(run, model.parts.get(at.perimeterOf)!.outline, at.gaps, at.inset + at.width);
}

/** The stretches that the gaps of a perimeter take out of it. */
export function gapStretches(run: Run, outline: Outline, gaps: readonly EdgeGap[], depth: number): Stretch[] {
  const [x, y, w, h] = boundsOf(outline);
  const reach = depth + 0.01;
  return joined(
    gaps.flatMap(({ edge, from, to }) => {
      const [low, high] = [Math.min(from, to), Math.max(from, to)];
      if (edge === 'top') return within(run, [low, y, high - low, reach]);
      if (edge === 'bottom') return within(run, [low, y + h - reach, high - low, reach]);
      if (edge === 'left') return within(run, [x, low, reach, high - low]);
      return within(run, [x + w - reach, low, reach, high - low]);
    }),
  );
}

/** Stretches in order, those that touch made one. */
export function joined(stretches: readonly Stretch[]): Stretch[] {
  const sorted = stretches.filter((s) => s.to > s.from).toSorted((a, b) => a.from - b.from);
  const out: Stretch[] = [];
  for (const s of sorted) {
    const last = out.at(-1);
    if (last && s.from <= last.to + 1e-6) last.to = Math.max(last.to, s.to);
    else out.push({ ...s });
  }
  return out;
}

/** What is left of a run without those stretches; the first of a closed run may go on past its end. */
export function leftOf(run: Run, out: readonly Stretch[]): Stretch[] {
  if (out.length === 0) return [{ from: 0, to: run.length }];
  const left: Stretch[] = [];
  let at = 0;
  for (const { from, to } of joined(out)) {
    if (from > at + 1e-6) left.push({ from: at, to: from });
    at = Math.max(at, to);
  }
  if (at < run.length - 1e-6) left.push({ from: at, to: run.length });
  const [first, last] = [left[0], left.at(-1)];
  // A stretch over the begin of a closed run is one.
  if (run.closed && first && last && first !== last && first.from === 0 && Math.abs(last.to - run.length) < 1e-6)
    return [...left.slice(1, -1), { from: last.from, to: run.length + first.to }];
  return left;
}

export const lengthOf = (stretches: readonly Stretch[]): number =>
  stretches.reduce((s, { from, to }) => s + to - from, 0);
