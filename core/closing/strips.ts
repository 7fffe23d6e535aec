import {
  areaCovered,
  areaOf,
  bondRegion,
  outlineHolds,
  type Bond,
  type Model,
  type Point,
  type Region,
} from '../anatomy/index.ts';
import { BONDS } from '../kinds/index.ts';
import { CLOSING_BENCH, type ClosingBench } from './bench.ts';
import { blockedBy, freeZones, type Blocked, type FreeZone } from './freeZones.ts';
import { fromStraight, jointsIn, notchesOf, type CornerStyle, type Joint } from './joints.ts';
import { direction, lineLength, offsetLine } from './offset.ts';
import { gapsOf, joined, leftOf, lengthOf, lineOf, pointAt, runFrom, runOf, type Run, type Stretch } from './run.ts';
import { cutStock, type CutStock } from './stock.ts';
import { areaLanes, rimOf, STRIP_LIMITS, tapeFor, type Strip } from './tape.ts';
import type { StripNote, StripStep } from './messages.ts';

/** How a bond is laid with strips. */
export interface StripPlan {
  bond: string;
  /** The run of the bond without its gaps, mm, and what of it is covered; they differ by what has to stay free. */
  length: number;
  covered: number;
  /** mm² of the bond, less its gaps, and of it under a strip: a strip along a wide area covers all its length and little of it. */
  area: number;
  coveredArea: number;
  /** mm of a ring round a sealed device that no strip closes, gaps that are drawn among them; 0 where nothing is sealed. */
  open: number;
  gaps: Stretch[];
  /** What stays free beyond the gaps that are drawn. */
  free: Blocked[];
  zones: FreeZone[];
  strips: Strip[];
  /** Where two strips meet, on the run. */
  joints: Point[];
  corners: CornerStyle;
  /** What the cutting leaves of the sheets that are begun, mm of lanes: what is minimised; and of it, what is long enough to keep. */
  waste: number;
  kept: number;
  cuts: CutStock[];
  laying: StripStep[];
  notes: StripNote[];
}

export interface StripOptions {
  bench?: Pick<ClosingBench, 'rolls' | 'sheets' | 'margin'>;
  corners?: CornerStyle;
  /** A run other than the bond's own: of an outline that was taken from the old part. */
  run?: Run;
}

/** Kinds whose corners carry the load when the panel wants to lift: there a joint would be the first to let go. */
const CARRIES: readonly string[] = ['display', 'cover'];

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
  const gaps = gapsOf(model, bond, run);
  const zones = freeZones(model, bond);
  const area =
    run.breadth === null
      ? null
      : areaLanes(run.breadth, bench.rolls, bond.tabs.length || null, 'area' in at && !('rect' in at.area));
  const tight = run.corners.some((c) => c.radius > 0 && c.radius < run.width / 2);
  const tape = area ? null : tapeFor(run.width, bench, tight ? 1 : 3);
  const lanes = area ?? tape!.lanes;
  const half = Math.max(...lanes.map((l) => Math.abs(l.offset) + l.width / 2));
  const free = blockedBy(run, zones, area ? lanes[0]!.width / 2 : half, bench.margin);
  const stretches = leftOf(run, joined([...gaps, ...(area ? [] : free)]))
    .filter((s) => s.to - s.from > 1e-3)
    .map((s) => (run.closed && s.to - s.from > run.length - 1e-6 ? fromStraight(run) : s));
  const strips: Strip[] = [];
  const joints: Point[] = [];
  for (const [lane, { width, offset }] of lanes.entries()) {
    const line = offset === 0 ? run : runFrom(offsetLine(run.points, run.closed, offset), run.closed, width);
    const rolled = bench.rolls.includes(width);
    const from: Strip['from'] = rolled
      ? { roll: width }
      : (tape?.from ?? { sheet: bench.sheets[0] ?? [width, run.length] });
    // In an area every lane leaves free what it comes near itself.
    const own = area
      ? leftOf(line, joined([...blockedBy(line, zones, width / 2, bench.margin), ...beyond(line, width, bond)]))
      : stretches;
    for (const stretch of own) {
      const cuts = jointsIn(run, stretch, corners);
      for (const piece of piecesOf(run, stretch, cuts))
        strips.push({ ...stripOf(run, line, piece, cuts, corners, width), from, slit: tape?.slit ?? false, lane });
      if (lane === 0) for (const c of cuts) joints.push(pointAt(run, c.at));
    }
  }
  strips.forEach((s, i) => (s.n = i + 1));
  const covered = area ? coveredByLanes(strips, run) : lengthOf(stretches);
  const cuts = cutsOf(strips, bench);
  const waste = cuts.reduce((s, c) => s + c.waste, 0);
  const kept = cuts.reduce(
    (s, c) => s + c.cuts.reduce((t, { left }) => t + (left >= STRIP_LIMITS.kept ? left : 0), 0),
    0,
  );
  const ground = options.run ? null : bondRegion(bond, (id) => model.parts.get(id)!.outline);
  const rims = strips.map((s): Region => [rimOf(s)]);
  const open = sealsWater(model, bond) ? run.length - lengthOf(stretches) : 0;
  return {
    bond: bond.id,
    length: round(run.length - lengthOf(gaps)),
    covered: round(covered),
    area: round(ground ? areaOf(ground) : (run.length - lengthOf(gaps)) * run.width),
    coveredArea: round(ground ? areaCovered(ground, rims) : strips.reduce((s, p) => s + p.length * p.width, 0)),
    open: round(open),
    gaps: gaps.map((g) => ({ from: round(g.from), to: round(g.to) })),
    free: free.map((f) => ({ ...f, from: round(f.from), to: round(f.to) })),
    zones,
    strips,
    joints,
    corners,
    waste: round(waste, 10),
    kept: round(kept, 10),
    cuts,
    laying: layingOf(strips),
    notes: [...tooLong(strips, bench), ...notesOf(bond, strips, free, corners !== (options.corners ?? corners))],
  };
}

/** mm of a ring that count as open: less is a joint. Origin: own choice, below what a strip is cut to. */
export const STAYS_OPEN = 0.05;

/** True for the ring that keeps water out of a device with a rating. */
const sealsWater = (model: Model, { at, kind, joins }: Bond): boolean =>
  model.anatomy.body.ingress !== null &&
  'perimeterOf' in at &&
  BONDS.of(kind).seals &&
  joins.some((id) => model.parts.get(id)?.fixed === true);

/** Strips that no sheet of the shop is long enough for. */
function tooLong(strips: readonly Strip[], bench: Pick<ClosingBench, 'sheets'>): StripNote[] {
  const sheet = Math.max(0, ...(bench.sheets[0] ?? []));
  const over = strips.filter((s) => 'sheet' in s.from && s.length > sheet + 1e-9);
  if (over.length === 0) return [];
  const numbers = over.map((s) => s.n);
  return [{ code: 'strips-too-long', numbers, lengths: over.map((s) => Math.round(s.length)), sheet }];
}

/** The stretches between the joints of a stretch. */
function piecesOf(run: Run, stretch: Stretch, cuts: readonly Joint[]): Stretch[] {
  const marks = [stretch.from, ...cuts.map((c) => c.at).filter((s) => s > stretch.from + 1e-6), stretch.to];
  const pieces = marks.slice(0, -1).map((s, i) => ({ from: s, to: marks[i + 1]! }));
  // A ring of which no joint was asked for at its begin begins at its first joint.
  const ring = run.closed && stretch.to - stretch.from > run.length - 1e-6;
  if (ring && pieces.length > 1 && !cuts.some((c) => Math.abs(c.at - stretch.from) < 1e-6)) {
    const first = pieces.shift()!;
    pieces.at(-1)!.to += first.to - first.from;
  }
  return pieces;
}

/** One strip: its line on its lane, with its ends as they meet at corners. */
function stripOf(
  run: Run,
  lane: Run,
  piece: Stretch,
  cuts: readonly Joint[],
  style: CornerStyle,
  width: number,
): Omit<Strip, 'from' | 'slit' | 'lane'> {
  const corner = (s: number) =>
    cuts.find((c) => c.corner && [0, -run.length, run.length].some((lap) => Math.abs(c.at - s - lap) < 1e-6))?.corner;
  const ends = [corner(piece.from), corner(piece.to)] as const;
  const [later, further] = ends.map((c) => (style === 'butted' && c ? width / 2 : 0)) as [number, number];
  const points = butted(lineOf(lane, along(run, lane, piece)), later, further);
  return {
    n: 0,
    width: round(width),
    length: round(lineLength(points)),
    line: points.map(([x, y]): Point => [round(x, 10_000), round(y, 10_000)]),
    angles: ends.map((c) => (style === 'mitred' && c ? Math.abs(c.turn) / 2 : 0)) as [number, number],
    notches:
      style === 'turned'
        ? notchesOf(run, piece, width).map((m) => ({ at: round(m.at, 100), degrees: round(m.degrees, 10) }))
        : [],
  };
}

/** A line that begins so much later, and runs on so much further: at a butted corner one strip runs through. */
function butted(line: readonly Point[], later: number, further: number): Point[] {
  const moved = (from: Point, to: Point, by: number): Point => {
    const [dx, dy] = direction(from, to);
    return [from[0] + dx * by, from[1] + dy * by];
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

/** Places across a strip at which it is looked whether they lie in the area of a bond. Own choice. */
const ACROSS = 9;

/** The stretches of a straight line on which a strip of such a width leaves the area of a bond, by any of its breadth. */
function beyond(line: Run, width: number, bond: Bond): Stretch[] {
  if (!('area' in bond.at)) return [];
  const { area } = bond.at;
  if ('rect' in area && !area.radius) return [];
  const steps = Math.max(20, Math.ceil(line.length / 0.05));
  const [a, b] = [line.points[0]!, line.points.at(-1)!];
  const [dx, dy] = direction(a, b);
  // A hair less than the width: the rim of a strip may lie on the rim of the area.
  const offsets = Array.from({ length: ACROSS }, (_, k) => (k / (ACROSS - 1) - 0.5) * (width - 1e-6));
  const whole = (t: number) =>
    offsets.every((off) =>
      outlineHolds(area, [a[0] + t * (b[0] - a[0]) - off * dy, a[1] + t * (b[1] - a[1]) + off * dx]),
    );
  const held = Array.from({ length: steps + 1 }, (_, i) => whole(Math.min(1 - 1e-9, Math.max(1e-9, i / steps))));
  const out: Stretch[] = [];
  for (let i = 0; i < steps; i++)
    if (!held[i] || !held[i + 1]) out.push({ from: (i / steps) * line.length, to: ((i + 1) / steps) * line.length });
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
    // What is longer than the sheet is cut from none; that is said.
    const pieces = same.filter((s) => s.length <= long).map((s) => ({ id: String(s.n), length: s.length }));
    return long > 0 && pieces.length > 0 ? [cutStock(pieces, [{ id: 'sheet', length: long }])] : [];
  });
}

/** In which order strips are laid, and which liner comes off when. */
function layingOf(strips: readonly Strip[]): StripStep[] {
  const numbers = strips.toSorted((a, b) => b.notches.length - a.notches.length || a.n - b.n).map((s) => s.n);
  if (numbers.length === 0) return [];
  return [
    { code: 'clean-both-sides' },
    { code: 'lay-in-order', numbers },
    { code: 'press-each-strip' },
    { code: 'liners-last' },
  ];
}

function notesOf(bond: Bond, strips: readonly Strip[], free: readonly Blocked[], forced: boolean): StripNote[] {
  const notes: StripNote[] = [];
  if (!BONDS.of(bond.kind).byHouse) notes.push({ code: 'strips-for', stripsFor: bond.kind });
  for (const f of free) notes.push({ code: 'stays-free', length: f.to - f.from, part: f.part });
  if (strips.some((s) => s.slit)) notes.push({ code: 'strips-slit' });
  if (forced) notes.push({ code: 'corners-turned' });
  const short = strips.filter((s) => s.length < STRIP_LIMITS.shortest);
  if (short.length > 0)
    notes.push({ code: 'strips-short', numbers: short.map((s) => s.n), shortest: STRIP_LIMITS.shortest });
  return notes;
}
