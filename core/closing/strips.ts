import { boundsOf, outlineHolds, type Bond, type Model, type Point } from '../anatomy/index.ts';
import { CLOSING_BENCH, type ClosingBench } from './bench.ts';
import { blockedBy, freeZones, type Blocked, type FreeZone } from './freeZones.ts';
import {
  gapStretches,
  joined,
  leftOf,
  lengthOf,
  lineOf,
  runFrom,
  runOf,
  type Corner,
  type Run,
  type Stretch,
} from './run.ts';
import { cutStock, type CutStock } from './stock.ts';

/** One piece of tape. */
export interface Strip {
  n: number;
  /** mm */
  width: number;
  /** Along its middle line, mm. */
  length: number;
  line: Point[];
  /** Degrees by which each end is cut off square: 0 is a butt, half the turn of a corner a mitre. */
  angles: [number, number];
  /** V-notches on the inside of a turn, so that the tape lies flat: mm from its begin, and degrees of each. */
  notches: { at: number; degrees: number }[];
  /** What it is cut from: a roll of that width, or a sheet. */
  from: { roll: number } | { sheet: [number, number] };
  /** The tape is wider than the strip, and is cut along. */
  slit: boolean;
  /** Several strips lie side by side where the bond is wider than any tape. */
  lane: number;
}

export type CornerStyle = 'turned' | 'mitred' | 'butted';

/** How a bond is laid with strips. */
export interface StripPlan {
  bond: string;
  /** The run of the bond without its gaps, mm, and what of it is covered; they differ by what has to stay free. */
  length: number;
  covered: number;
  gaps: Stretch[];
  /** What stays free beyond the gaps that are drawn. */
  free: Blocked[];
  zones: FreeZone[];
  strips: Strip[];
  /** Where two strips meet, on the run. */
  joints: Point[];
  corners: CornerStyle;
  /** Tape that is thrown away, mm of its length, and as a share of what is taken. */
  waste: number;
  wasteShare: number;
  cuts: CutStock[];
  laying: string[];
  notes: string[];
}

export interface StripOptions {
  bench?: Pick<ClosingBench, 'rolls' | 'sheets' | 'margin'>;
  corners?: CornerStyle;
  /** A run other than the bond's own: of an outline that was taken from the old part. */
  run?: Run;
}

/**
 * Own choices, mm: a joint keeps off corners and ends by so much, a strip longer than that is hard to lay straight, and one
 * shorter than that hard to hold. Several strips side by side keep apart by
 * `apart`; what is left of a lane of tape is kept from `kept` on.
 */
export const STRIP_LIMITS = { joint: 5, longest: 160, shortest: 4, apart: 0.3, kept: 30 } as const;
/** A bend wider than so many widths of the tape is laid without notches. Origin: own estimate for foam and film tapes. */
const SUPPLE = 12;
/** Degrees that one notch takes. Origin: own choice. */
const NOTCH = 15;
/** Kinds whose corners carry the load when the panel wants to lift: there a joint would be the first to let go. */
const CARRIES: readonly string[] = ['display', 'cover'];

/** Why a bond is not laid with strips. */
export class NoStrips extends Error {}

interface Lane {
  width: number;
  offset: number;
}
interface Choice {
  lanes: Lane[];
  from: Strip['from'];
  slit: boolean;
}

/**
 * The tape for a bond of such a width: as many rolls side by side as fill most of it, where one alone fills less; from a
 * sheet, or along a wider roll, where no roll is narrow enough.
 * @throws NoStrips when the shop has no tape
 */
export function tapeFor(width: number, { rolls, sheets }: Pick<ClosingBench, 'rolls' | 'sheets'>, most = 3): Choice {
  const fitting = rolls.filter((r) => r <= width + 1e-9).toSorted((a, b) => b - a);
  if (fitting.length === 0) {
    const [sheet] = sheets;
    const roll = rolls.toSorted((a, b) => a - b)[0];
    const one = [{ width, offset: 0 }];
    if (sheet) return { lanes: one, from: { sheet }, slit: false };
    if (roll !== undefined) return { lanes: one, from: { roll }, slit: true };
    throw new NoStrips('the shop has no tape; put its rolls and sheets into the house rules');
  }
  const widest = fitting[0]!;
  let best = [widest];
  const filled = (set: readonly number[]) => set.reduce((s, w) => s + w, 0) - STRIP_LIMITS.apart * (set.length - 1);
  const wide = (set: readonly number[]) => set.reduce((s, w) => s + w, 0) + STRIP_LIMITS.apart * (set.length - 1);
  const grow = (set: number[]) => {
    if (wide(set) > width + 1e-9) return;
    if (filled(set) > filled(best) + 1e-9) best = set;
    if (set.length < most) for (const r of fitting) if (r <= set.at(-1)!) grow([...set, r]);
  };
  for (const r of fitting) grow([r]);
  let at = -wide(best) / 2;
  const lanes = best.map((w) => {
    const lane = { width: w, offset: at + w / 2 };
    at += w + STRIP_LIMITS.apart;
    return lane;
  });
  return { lanes, from: { roll: widest }, slit: false };
}

/** The lines of an area, side by side: as many of the widest tape as fit, evenly spread. */
function areaLanes(breadth: number, rolls: readonly number[], count: number | null, middle: boolean): Lane[] {
  const fitting = rolls.filter((r) => r <= breadth).toSorted((a, b) => b - a);
  const width = fitting[0] ?? breadth;
  const most = Math.max(1, Math.floor((breadth + STRIP_LIMITS.apart) / (width + STRIP_LIMITS.apart)));
  const wanted = Math.min(most, count ?? most);
  // Of a round or odd shape one strip lies along its middle.
  const n = middle && wanted % 2 === 0 ? wanted - 1 : wanted;
  const pitch = breadth / n;
  return Array.from({ length: n }, (_, i) => ({ width, offset: -breadth / 2 + pitch * (i + 0.5) }));
}

/** A line beside a line, so many mm to its right as it runs; corners are mitred. */
function beside(run: Run, by: number): Point[] {
  if (by === 0) return run.points;
  const n = run.points.length;
  return run.points.map((p, i): Point => {
    const before = run.closed || i > 0 ? run.points[(i + n - 1) % n]! : null;
    const after = run.closed || i < n - 1 ? run.points[(i + 1) % n]! : null;
    const unit = (a: Point, b: Point): Point => {
      const l = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
      return [(b[0] - a[0]) / l, (b[1] - a[1]) / l];
    };
    const d1 = before ? unit(before, p) : unit(p, after!);
    const d2 = after ? unit(p, after) : d1;
    const normal: Point = [-(d1[1] + d2[1]) / 2, (d1[0] + d2[0]) / 2];
    const l2 = Math.max(0.1, normal[0] ** 2 + normal[1] ** 2);
    return [p[0] + (normal[0] / l2) * by, p[1] + (normal[1] / l2) * by];
  });
}

/** A whole ring, from the middle of its longest straight, where a joint may lie. */
function fromStraight(run: Run): Stretch {
  const straights = run.corners.map((c, i) => {
    const next = run.corners[i + 1]?.from ?? run.corners[0]!.from + run.length;
    return { middle: (c.to + next) / 2, length: next - c.to };
  });
  const longest = straights.reduce((a, b) => (b.length > a.length + 1e-9 ? b : a), { middle: 0, length: 0 });
  const from = longest.middle % run.length;
  return { from, to: from + run.length };
}

/** Where a stretch is cut into strips: between two corners, off both, and wherever a strip would be too long. */
function jointsIn(run: Run, stretch: Stretch, style: CornerStyle): { at: number; corner: Corner | null }[] {
  const laps = run.closed ? [-run.length, 0, run.length] : [0];
  const inside = run.corners
    .flatMap((c) => laps.map((lap) => ({ ...c, from: c.from + lap, to: c.to + lap })))
    .filter((c) => c.from > stretch.from + 1e-6 && c.to < stretch.to - 1e-6)
    .sort((a, b) => a.from - b.from);
  const { joint, longest } = STRIP_LIMITS;
  const closed = run.closed && stretch.to - stretch.from > run.length - 1e-6;
  const found: { at: number; corner: Corner | null }[] = [];
  const straights: Stretch[] = [];
  let at = stretch.from;
  for (const c of inside) {
    straights.push({ from: at, to: c.from });
    if (style !== 'turned' && c.radius === 0) found.push({ at: c.from, corner: c });
    at = c.to;
  }
  straights.push({ from: at, to: stretch.to });
  straights.forEach(({ from, to }, i) => {
    const between = i > 0 && i < straights.length - 1;
    if (style === 'turned' && between && to - from >= 2 * joint) found.push({ at: (from + to) / 2, corner: null });
  });
  // A ring without corners has one joint where it begins; one with corners begins on a straight.
  const ends = [stretch.from, ...found.map((f) => f.at).sort((a, b) => a - b), stretch.to];
  for (let i = 0; i + 1 < ends.length; i++) {
    const [from, to] = [ends[i]!, ends[i + 1]!];
    const more = Math.ceil((to - from) / longest) - 1;
    for (let k = 1; k <= more; k++) {
      const wanted = from + ((to - from) * k) / (more + 1);
      const nearest = straights
        .filter((s) => s.to - s.from >= 2 * joint)
        .map((s) => Math.min(s.to - joint, Math.max(s.from + joint, wanted)))
        .filter((s) => s > from + joint && s < to - joint)
        .sort((a, b) => Math.abs(a - wanted) - Math.abs(b - wanted))[0];
      if (nearest !== undefined && !found.some((f) => Math.abs(f.at - nearest) < joint))
        found.push({ at: nearest, corner: null });
    }
  }
  if (closed && (style === 'turned' || found.length === 0)) found.push({ at: stretch.from, corner: null });
  return found.sort((a, b) => a.at - b.at);
}

/** Notches that a strip needs to turn what it turns. */
function notchesOf(run: Run, stretch: Stretch, width: number): Strip['notches'] {
  const laps = run.closed ? [0, run.length] : [0];
  return run.corners
    .flatMap((c) => laps.map((lap) => ({ ...c, from: c.from + lap, to: c.to + lap })))
    .filter((c) => c.to > stretch.from + 1e-6 && c.from < stretch.to - 1e-6)
    .flatMap((c) => {
      const turn = Math.abs(c.turn);
      if (c.radius === 0) return [{ at: c.from - stretch.from, degrees: turn }];
      if (c.radius > SUPPLE * width) return [];
      const count = Math.max(1, Math.round(turn / NOTCH));
      return Array.from({ length: count }, (_, i) => ({
        at: c.from + ((c.to - c.from) * (i + 0.5)) / count - stretch.from,
        degrees: turn / count,
      }));
    })
    .filter((n) => n.at > 0.5 && n.at < stretch.to - stretch.from - 0.5);
}

const round = (v: number, by = 1000): number => Math.round(v * by) / by;

/**
 * How a bond is laid with strips: they follow its middle line, leave its gaps and what has to stay free, meet on straights
 * and never at a corner that takes the load or across a gap.
 * @throws NoStrips when the shop has no tape
 */
export function stripsOf(model: Model, bond: Bond, options: StripOptions = {}): StripPlan {
  const bench = options.bench ?? CLOSING_BENCH;
  const run = options.run ?? runOf(model, bond);
  const { at } = bond;
  const carries = 'perimeterOf' in at && CARRIES.includes(model.parts.get(at.perimeterOf)!.kind);
  const corners = carries ? 'turned' : (options.corners ?? 'turned');
  const gaps =
    'perimeterOf' in at
      ? gapStretches(run, model.parts.get(at.perimeterOf)!.outline, at.gaps, at.inset + at.width)
      : [];
  const zones = freeZones(model, bond);
  const area =
    run.breadth === null
      ? null
      : areaLanes(run.breadth, bench.rolls, bond.tabs.length || null, 'area' in at && !('rect' in at.area));
  const tight = run.corners.some((c) => c.radius > 0 && c.radius < run.width / 2);
  const tape = area ? null : tapeFor(run.width, bench, tight ? 1 : 3);
  const lanes = area ?? tape!.lanes;
  const half = Math.max(...lanes.map((l) => Math.abs(l.offset) + l.width / 2));
  const blocked = blockedBy(run, zones, area ? lanes[0]!.width / 2 : half, bench.margin);
  const free = blocked;
  const stretches = leftOf(run, joined([...gaps, ...(area ? [] : free)]))
    .filter((s) => s.to - s.from > 1e-3)
    .map((s) => (run.closed && s.to - s.from > run.length - 1e-6 ? fromStraight(run) : s));
  const strips: Strip[] = [];
  const joints: Point[] = [];
  for (const [lane, { width, offset }] of lanes.entries()) {
    const line = runFrom(beside(run, offset), run.closed, width);
    const from: Strip['from'] = area
      ? bench.rolls.includes(width)
        ? { roll: width }
        : { sheet: bench.sheets[0] ?? [width, run.length] }
      : bench.rolls.includes(width)
        ? { roll: width }
        : tape!.from;
    // In an area every lane leaves free what it comes near itself.
    const own = area
      ? leftOf(line, joined([...blockedBy(line, zones, width / 2, bench.margin), ...beyond(line, bond)]))
      : stretches;
    for (const stretch of own) {
      const cuts = jointsIn(run, stretch, corners);
      const marks = [stretch.from, ...cuts.map((c) => c.at).filter((s) => s > stretch.from + 1e-6), stretch.to];
      const atCorner = (s: number) => cuts.find((c) => Math.abs(c.at - s) < 1e-6)?.corner ?? null;
      const pieces = marks.slice(0, -1).map((s, i) => ({ from: s, to: marks[i + 1]! }));
      // A ring of which no joint was asked for at its begin begins at its first joint.
      const ring = run.closed && stretch.to - stretch.from > run.length - 1e-6;
      if (ring && pieces.length > 1 && !cuts.some((c) => Math.abs(c.at - stretch.from) < 1e-6)) {
        const first = pieces.shift()!;
        pieces.at(-1)!.to += first.to - first.from;
      }
      for (const piece of pieces) {
        const mitre = (s: number) => {
          const c = atCorner(s) ?? atCorner(s - run.length) ?? null;
          return corners === 'mitred' && c ? Math.abs(c.turn) / 2 : 0;
        };
        const points = butted(
          lineOf(line, along(run, line, piece)),
          corners === 'butted' && (atCorner(piece.from) ?? atCorner(piece.from + run.length)) !== null ? width / 2 : 0,
          corners === 'butted' && (atCorner(piece.to) ?? atCorner(piece.to - run.length)) !== null ? width / 2 : 0,
        );
        strips.push({
          n: 0,
          width: round(width),
          length: round(
            points.reduce(
              (s, p, i) => (i === 0 ? 0 : s + Math.hypot(p[0] - points[i - 1]![0], p[1] - points[i - 1]![1])),
              0,
            ),
          ),
          line: points.map(([x, y]): Point => [round(x, 10_000), round(y, 10_000)]),
          angles: [mitre(piece.from), mitre(piece.to)],
          notches:
            corners === 'turned'
              ? notchesOf(run, piece, width).map((m) => ({ at: round(m.at, 100), degrees: round(m.degrees, 10) }))
              : [],
          from,
          slit: tape?.slit ?? false,
          lane,
        });
      }
      if (lane === 0) for (const c of cuts) joints.push(lineOf(run, { from: c.at, to: c.at + 1e-3 })[0]!);
    }
  }
  strips.forEach((s, i) => (s.n = i + 1));
  const covered = area ? coveredByLanes(strips, run) : lengthOf(stretches);
  const cuts = cutsOf(strips, bench);
  const taken = cuts.reduce((s, c) => s + c.used, 0);
  const waste = cuts.reduce(
    (s, c) => s + c.cuts.reduce((t, { left }) => t + (left < STRIP_LIMITS.kept ? left : 0), 0),
    0,
  );
  return {
    bond: bond.id,
    length: round(run.length - lengthOf(gaps)),
    covered: round(covered),
    gaps: gaps.map((g) => ({ from: round(g.from), to: round(g.to) })),
    free: free.map((f) => ({ ...f, from: round(f.from), to: round(f.to) })),
    zones,
    strips,
    joints,
    corners,
    waste: round(waste, 10),
    wasteShare: taken === 0 ? 0 : round(waste / taken),
    cuts,
    laying: layingOf(strips),
    notes: notesOf(model, bond, strips, free, corners !== (options.corners ?? corners)),
  };
}

/** A line that begins so much later, and runs on so much further: at a butted corner one strip runs through. */
function butted(line: Point[], later: number, further: number): Point[] {
  const moved = (from: Point, to: Point, by: number): Point => {
    const l = Math.hypot(to[0] - from[0], to[1] - from[1]) || 1;
    return [from[0] + ((to[0] - from[0]) / l) * by, from[1] + ((to[1] - from[1]) / l) * by];
  };
  const n = line.length;
  return line.map((p, i) => {
    if (i === 0 && later > 0) return moved(p, line[1]!, later);
    return i === n - 1 && further > 0 ? moved(p, line[n - 2]!, -further) : p;
  });
}

/** The stretch of a lane that lies beside a stretch of the run: side by side, point by point. */
function along(run: Run, lane: Run, { from, to }: Stretch): Stretch {
  const of = (s: number) => {
    const lap = run.closed && s >= run.length ? 1 : 0;
    const at = s - lap * run.length;
    let i = 0;
    while (i + 2 < run.stations.length && run.stations[i + 1]! <= at) i++;
    const length = run.stations[i + 1]! - run.stations[i]!;
    const t = length === 0 ? 0 : (at - run.stations[i]!) / length;
    return lane.stations[i]! + t * (lane.stations[i + 1]! - lane.stations[i]!) + lap * lane.length;
  };
  return run === lane ? { from, to } : { from: of(from), to: of(to) };
}

/** The stretches of a straight line that leave the area of a bond. */
function beyond(line: Run, bond: Bond): Stretch[] {
  if (!('area' in bond.at)) return [];
  const { area } = bond.at;
  if ('rect' in area) return [];
  const steps = Math.max(20, Math.ceil(line.length / 0.05));
  const [a, b] = [line.points[0]!, line.points.at(-1)!];
  const out: Stretch[] = [];
  for (let i = 0; i < steps; i++) {
    const t = (i + 0.5) / steps;
    if (!outlineHolds(area, [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])]))
      out.push({ from: (i / steps) * line.length, to: ((i + 1) / steps) * line.length });
  }
  return joined(out);
}

/** What of an area's longer side some strip lies beside, mm. */
function coveredByLanes(strips: readonly Strip[], run: Run): number {
  const [x, y] = run.points[0]!;
  const level = Math.abs(run.points[1]![0] - x) > Math.abs(run.points[1]![1] - y);
  const station = (p: Point) => (level ? p[0] - x : p[1] - y);
  return lengthOf(joined(strips.map(({ line }) => ({ from: station(line[0]!), to: station(line.at(-1)!) }))));
}

/** What is cut from what: pieces of one width from sheets with the least waste; a roll has none. */
function cutsOf(strips: readonly Strip[], bench: Pick<ClosingBench, 'sheets'>): CutStock[] {
  const byWidth = new Map<number, Strip[]>();
  for (const s of strips) if ('sheet' in s.from) byWidth.set(s.width, [...(byWidth.get(s.width) ?? []), s]);
  return [...byWidth.values()].flatMap((same) => {
    const [width, height] = bench.sheets[0] ?? [0, 0];
    const long = Math.max(width, height);
    const pieces = same.map((s) => ({ id: String(s.n), length: Math.min(s.length, long) }));
    return long > 0 ? [cutStock(pieces, [{ id: 'sheet', length: long }])] : [];
  });
}

/** In which order strips are laid, and which liner comes off when. */
function layingOf(strips: readonly Strip[]): string[] {
  const first = strips.toSorted((a, b) => b.notches.length - a.notches.length || a.n - b.n).map((s) => s.n);
  if (first.length === 0) return [];
  return [
    'Clean both sides with isopropyl alcohol and let them dry at least 30 s.',
    `Lay ${first.map((n) => `strip ${n}`).join(', ')}: clear liner off just before each, one end first, laid and not pulled.`,
    'Press each strip along with a fingertip; the coloured liners stay on until everything is proved.',
    `Take the coloured liners off last, in the same order, just before the panel goes down.`,
  ];
}

const KIND_NOTES: Partial<Record<Bond['kind'], string>> = {
  glue: 'The maker glued this bond; strips stand in for it only where both sides are flat and clean.',
  gasket: 'The maker has a gasket here; strips do not take its place where it seals against water.',
  'stretch-tab': 'Stretch-release strips only: one for each tab, its tab left where it can be gripped.',
  'pull-pouch': 'The maker has a pull pouch here; with strips the cell is lifted with solvent the next time.',
  thermal: 'Paste or a pad conducts heat here; tape does not take its place.',
  foil: 'A foil lies here; strips fix only its rim.',
};

function notesOf(
  model: Model,
  bond: Bond,
  strips: readonly Strip[],
  free: readonly Blocked[],
  forced: boolean,
): string[] {
  const notes: string[] = [];
  const kind = KIND_NOTES[bond.kind];
  if (kind) notes.push(kind);
  for (const f of free) notes.push(`${(f.to - f.from).toFixed(1)} mm stay free for ${model.nameOf(f.part)}.`);
  if (strips.some((s) => s.slit))
    notes.push('No tape is as narrow as this bond: the strips are cut along a wider roll; cut them by the template.');
  if (forced) notes.push('Corners of an outer panel take the load: strips turn them in one piece.');
  const short = strips.filter((s) => s.length < STRIP_LIMITS.shortest);
  if (short.length > 0)
    notes.push(
      `Strips ${short.map((s) => s.n).join(', ')} are shorter than ${STRIP_LIMITS.shortest} mm: lay them with tweezers.`,
    );
  return notes;
}

/** mm² that strips cover. */
export const areaOfStrips = (strips: readonly Strip[]): number => strips.reduce((s, p) => s + p.length * p.width, 0);

/** The rectangle that strips lie in. */
export function boundsOfStrips(strips: readonly Strip[]): readonly [number, number, number, number] {
  return boundsOf({ polygon: strips.flatMap((s) => s.line) });
}
