import type { Edge, Model, Point } from '../anatomy/index.ts';
import { MARGIN, NoCut, seamOf, type Sample, type Seam } from './clearance.ts';
import { toSegment } from './distance.ts';
import { cupsOn, gapWays, type FirstGap, type GapWay } from './firstGap.ts';
import { bestMarks, cutBy, type Marks } from './marks.ts';
import type { EntryMessage, EntryReason } from './messages.ts';

export interface CutRequest {
  /** At most so many depth marks on a pick. */
  marks?: number;
  /** mm kept from whatever lies behind. */
  margin?: number;
  firstGap?: FirstGap;
  crackedGlass?: boolean;
}

/** A piece of the seam that is run along at one depth. Lengths in mm, times in s. */
export interface CutRun {
  /** The order in which it is taken; `null` when it is left for heat and a straight lift. */
  n: number | null;
  edge: Edge;
  from: Point;
  to: Point;
  /** Along the outline, from and to. */
  s: [number, number];
  length: number;
  /** Which mark, counted from 1, and how deep; 0 and 0 when no pick goes in. */
  mark: number;
  depth: number;
  /** What the bond would need, and what is clear at the tightest place. */
  need: number;
  clear: number;
  /** Width of the bond that stays uncut, at most. */
  left: number;
  /** What lies behind where the bond is not cut through. */
  behind: string[];
  /** At its end the second pick stays in the seam. */
  pick: boolean;
  seconds: number;
}

/** Where a cut is begun, and why there. */
export interface Entry {
  at: Point;
  inward: Point;
  edge: Edge;
  because: EntryReason;
  /** mm behind it within which nothing lies; `null` at a notch, and where nothing can be cut through. */
  clear: number | null;
}

export interface CutPlan {
  bond: string;
  part: string;
  margin: number;
  marks: number[];
  /** Share of the bond's area that is cut, 0 to 1. */
  share: number;
  entry: Entry;
  /** Edges in the order they are taken. */
  order: Edge[];
  runs: CutRun[];
  /** How the first gap is raised here, and what else would do. */
  gaps: GapWay[];
  seconds: number;
  /** Edges that are not cut but slid out of their hooks. */
  hooked: Edge[];
  tethered: Edge | null;
}

export const MOST_MARKS = 2;
/** Running a pick along a bond, s for each cm, and more where it goes in deep. Origin: own bench estimates. */
export const CUT_SECONDS = { perCentimetre: 3, deep: 1.5, deepFrom: 4 } as const;
/** A stretch must be this long to begin at, mm. Origin: own choice: a cup and a pick beside each other. */
const SHORTEST_ENTRY = 20;
/** Runs shorter than this are not worth a line of their own, mm: they take the shallower neighbour's depth. Origin: own choice. */
const SHORTEST = 3;

const OPPOSITE: Record<Edge, Edge> = { top: 'bottom', bottom: 'top', left: 'right', right: 'left' };
const EDGES: readonly Edge[] = ['bottom', 'left', 'right', 'top'];

/**
 * Where to enter, in what order to take the edges, how deep on each stretch with at most so many marks, what is left,
 * and where the second pick stays.
 * @throws NoCut when the bond is unknown or is not reached from the edge of its part
 */
export function cutPlan(model: Model, bond: string, request: CutRequest = {}): CutPlan {
  return cutAlong(model, seamOf(model, bond, { margin: request.margin ?? MARGIN }), request);
}

/** The same along a seam that is known already, with its margin. @throws NoCut for a number of marks that makes no sense */
export function cutAlong(model: Model, seam: Seam, request: Omit<CutRequest, 'margin'> = {}): CutPlan {
  const { marks: most = MOST_MARKS, firstGap = 'suction-cup', crackedGlass = false } = request;
  if (!Number.isInteger(most) || most < 1 || most > 10)
    throw new NoCut('marks', `must be a whole number from 1 to 10, not ${most}`);
  const { hooked, tethered, order: wanted, why } = edgeOrder(model, seam);
  // A hooked edge is slid out, not cut: no mark is spent on it.
  const marks = bestMarks(
    seam.samples.map((s) => (hooked.includes(s.edge) ? { ...s, need: s.from } : s)),
    most,
  );
  const entry = entryOf(model, seam, marks, wanted, why);
  const order = [entry.edge, ...wanted.filter((e) => e !== entry.edge)];
  const runs = runsOf(seam, marks, hooked);
  let n = 1;
  for (const edge of order) {
    const here = runs.filter((r) => r.edge === edge && r.depth > 0 && !hooked.includes(edge));
    // An edge is begun at the end where the seam is open already, and each run goes on from there.
    const open = n === 1 ? [entry.at] : runs.filter((r) => r.n !== null).flatMap((r) => [r.from, r.to]);
    const gap = (p: Point) =>
      open.reduce((least, q) => Math.min(least, Math.hypot(p[0] - q[0], p[1] - q[1])), Number.POSITIVE_INFINITY);
    const start = here
      .flatMap((r) => [r.from, r.to])
      .reduce<Point | null>((best, p) => (best === null || gap(p) < gap(best) - 1e-9 ? p : best), null);
    const far = (p: Point) => Math.hypot(p[0] - start![0], p[1] - start![1]);
    // Where it is entered the run goes both ways; its neighbours go on from there.
    const at = (r: CutRun) => (n === 1 ? toSegment(entry.at, r.from, r.to) : Math.min(far(r.from), far(r.to)));
    here.sort((a, b) => at(a) - at(b));
    for (const run of here) {
      if (n > 1 && far(run.to) < far(run.from)) [run.from, run.to] = [run.to, run.from];
      run.n = n++;
    }
    const end = here.at(-1);
    if (end && edge !== order.at(-1)) end.pick = true;
  }
  const inOrder = [...runs].sort((a, b) => (a.n ?? 999) - (b.n ?? 999));
  const whole = marks.whole;
  return {
    bond: seam.bond.id,
    part: seam.part.id,
    margin: seam.margin,
    marks: marks.marks,
    share: whole > 0 ? marks.cut / whole : 0,
    entry,
    order,
    runs: inOrder,
    gaps: gapWays(model, seam, entry, firstGap, crackedGlass),
    seconds: Math.round(runs.reduce((sum, r) => sum + r.seconds, 0)),
    hooked,
    tethered,
  };
}

/** Entry opposite to what must stay closed longest: hooks, else the hinge; the tether's edge late, hooks last. */
function edgeOrder(
  model: Model,
  { part, samples }: Seam,
): { hooked: Edge[]; tethered: Edge | null; order: Edge[]; why: EntryReason } {
  const present = EDGES.filter((e) => samples.some((s) => s.edge === e && s.need > s.from));
  const hooked = [
    ...new Set(
      model.anatomy.latches.filter((l) => l.release === 'last' && l.joins.includes(part.id)).map((l) => l.edge),
    ),
  ];
  const tethered = part.swing && part.swing.tether.length > 0 ? part.swing.hinge : null;
  const wanted = hooked[0] ? OPPOSITE[hooked[0]] : part.swing ? OPPOSITE[part.swing.hinge] : 'bottom';
  const first = present.includes(wanted)
    ? wanted
    : (present.find((e) => e !== tethered && !hooked.includes(e)) ?? present[0]!);
  const late = (e: Edge) => (hooked.includes(e) ? 2 : e === tethered ? 1 : 0);
  const order = [first, ...present.filter((e) => e !== first).sort((a, b) => late(a) - late(b))];
  const why: EntryReason = hooked[0]
    ? { code: 'entry-opposite-hooks', edge: hooked[0] }
    : { code: part.swing ? (tethered ? 'entry-opposite-flexes' : 'entry-opposite-hinge') : 'entry-usual' };
  return { hooked, tethered, order, why };
}

/**
 * The entry: on the first edge, in the longest stretch that is cut through and has nothing near behind it, as near its
 * middle as a cup stands; at a notch when there is one.
 */
/** Why a cut is begun there, and how much is clear behind it. */
export const entrySaid = ({ because, clear }: Entry): EntryMessage =>
  clear === null ? because : { code: 'entry-clear', why: because, clear };

function entryOf(model: Model, seam: Seam, { depths }: Marks, order: readonly Edge[], why: EntryReason): Entry {
  const { samples, part, path } = seam;
  const notch = model.anatomy.latches.find((l) => l.joins.includes(part.id) && l.notch)?.notch;
  if (notch) {
    const near = samples.reduce((best, s) =>
      Math.hypot(s.at[0] - notch[0], s.at[1] - notch[1]) < Math.hypot(best.at[0] - notch[0], best.at[1] - notch[1])
        ? s
        : best,
    );
    return { at: near.at, inward: near.inward, edge: near.edge, because: { code: 'entry-at-notch' }, clear: null };
  }
  const cupOn = cupsOn(model, seam);
  const step = path.length / samples.length;
  // An edge that has too little bond to begin at is passed over, unless there is nothing better.
  for (const [edge, least] of [
    ...order.map((e) => [e, SHORTEST_ENTRY] as const),
    ...order.map((e) => [e, 0] as const),
  ]) {
    const stretches = stretchesWhere(
      samples,
      (s, i) => s.edge === edge && s.need > s.from && cutBy(depths[i]!, s) >= s.need - s.from - 1e-6,
    ).filter((s) => s.length * step >= least);
    const places = stretches
      .map((stretch) => {
        const middle = (stretch.length - 1) / 2;
        const fromMiddle = stretch
          .map((s, i) => ({ s, off: Math.abs(i - middle) }))
          .sort((a, b) => a.off - b.off)
          .map(({ s }) => s);
        const cup = fromMiddle.find((s) => cupOn(s));
        return { at: cup ?? fromMiddle[0]!, cup: cup !== undefined, length: stretch.length };
      })
      .sort((a, b) => Number(b.cup) - Number(a.cup) || b.length - a.length);
    if (places.length > 0) {
      const { at } = places[0]!;
      return {
        at: at.at,
        inward: at.inward,
        edge,
        because: edge === order[0] ? why : { code: 'entry-bond-enough' },
        clear: at.clear,
      };
    }
  }
  const widest = samples.reduce((a, b) => (b.clear - b.need > a.clear - a.need ? b : a));
  return {
    at: widest.at,
    inward: widest.inward,
    edge: widest.edge,
    because: { code: 'entry-most-clear' },
    clear: null,
  };
}

/** Neighbouring samples that all hold, as stretches round the closed seam. */
function stretchesWhere(samples: readonly Sample[], holds: (s: Sample, i: number) => boolean): Sample[][] {
  const n = samples.length;
  const good = samples.map(holds);
  const start = good.indexOf(false);
  const stretches: Sample[][] = [];
  for (let k = 1; k <= n; k++) {
    const i = (start + k) % n;
    if (!good[i]) continue;
    if (k > 1 && good[(i + n - 1) % n]) stretches.at(-1)!.push(samples[i]!);
    else stretches.push([samples[i]!]);
  }
  return stretches;
}

/** Neighbouring samples of one edge and depth, as runs. */
function runsOf({ samples, path }: Seam, { marks, depths }: Marks, hooked: readonly Edge[]): CutRun[] {
  const n = samples.length;
  const step = path.length / n;
  const depth = [...depths];
  const same = (i: number, j: number) =>
    depth[i] === depth[j] && samples[i]!.edge === samples[j]!.edge && samples[i]!.need > 0 === samples[j]!.need > 0;
  const groups = () => {
    const first = samples.findIndex((_, i) => !same(i, (i + n - 1) % n));
    const found: number[][] = [];
    for (let k = 0; k < n; k++) {
      const i = (Math.max(0, first) + k) % n;
      if (k > 0 && same(i, (i + n - 1) % n)) found.at(-1)!.push(i);
      else found.push([i]);
    }
    return found;
  };
  // A short deeper piece between shallower ones is run through at their depth: never deeper, only simpler.
  for (const group of groups()) {
    if (group.length * step >= SHORTEST) continue;
    const [before, after] = [(group[0]! + n - 1) % n, (group.at(-1)! + 1) % n];
    const sides = [before, after]
      .filter((i) => samples[i]!.edge === samples[group[0]!]!.edge && samples[i]!.need > 0)
      .map((i) => depth[i]!);
    const shallower = Math.max(-1, ...sides.filter((d) => d > 0 && d < depth[group[0]!]!));
    if (shallower > 0) for (const i of group) depth[i] = shallower;
  }
  // A scrap at a corner belongs to the run of the same depth beside it, whatever edge it is nearer to.
  const runs: number[][] = [];
  for (const group of groups()) {
    const last = runs.at(-1);
    const joins = (a: number[], b: number[]) =>
      depth[a.at(-1)!] === depth[b[0]!] &&
      samples[a.at(-1)!]!.need > 0 === samples[b[0]!]!.need > 0 &&
      (a.length * step < SHORTEST || b.length * step < SHORTEST);
    if (last && joins(last, group)) last.push(...group);
    else runs.push([...group]);
  }
  return runs
    .filter((g) => samples[g[0]!]!.need > 0)
    .map((group): CutRun => {
      const here = group.map((i) => samples[i]!);
      const [a, b] = [here[0]!, here.at(-1)!];
      const { edge } = here[Math.floor(here.length / 2)]!;
      const d = depth[group[0]!]!;
      const left = here.reduce((worst, s) => Math.max(worst, s.need - Math.max(s.from, Math.min(s.need, d))), 0);
      const short = here.filter((s) => s.need - Math.max(s.from, Math.min(s.need, d)) > 0.05);
      const length = group.length * step;
      const hook = hooked.includes(edge);
      return {
        n: null,
        edge,
        from: a.at,
        to: b.at,
        s: [a.s, b.s],
        length,
        mark: d > 0 && !hook ? marks.indexOf(d) + 1 : 0,
        depth: hook ? 0 : d,
        need: Math.max(...here.map((s) => s.need)),
        clear: Math.min(...here.map((s) => s.clear)),
        left: hook ? 0 : left,
        behind: hook ? [] : [...new Set(short.flatMap((s: Sample) => (s.behind ? [s.behind] : [])))],
        pick: false,
        seconds:
          d > 0 && !hook
            ? (length / 10) * CUT_SECONDS.perCentimetre * (d >= CUT_SECONDS.deepFrom ? CUT_SECONDS.deep : 1)
            : 0,
      };
    });
}
