import { CLEARING_DEGREES, type Point, type Rect } from '../anatomy/index.ts';
import { actionOf, keyOf, type ActionKey, type KeptOrder } from '../dive/index.ts';
import type { Dive, Done, Thing, Told } from './dives.ts';
import { beside, gapBetween } from './outline.ts';
import { firstSeen, type FirstSeen } from './sightings.ts';

/**
 * How far apart things must lie to have nothing to do with one another, mm. Origin: a rough hand's error three times
 * over, and for a plug the reach of a clip over it.
 */
export const APART = { screws: 2.5, screwAndPlug: 6, parts: 3, screwAndBond: 3, plugs: 4 } as const;

/** Why one thing is known not to wait for another. */
export type Freedom =
  /** They lie apart, and a screw holds only what it goes through. */
  | 'apart'
  /** It was seen while the other was still in its place, so that nothing of that lay over it. */
  | 'seen'
  /** A part that stood open lay over nothing; that it was then taken off changed nothing for the other. */
  | 'hung'
  /** Another dive did them the other way round, or left the other alone. */
  | 'other-dive'
  /** Their order of mating is printed beside them. */
  | 'printed'
  /** It was said so. */
  | 'told';

/** Two things done, the first before the second, and whether they have to be in that order. */
export interface Pair {
  first: ActionKey;
  then: ActionKey;
  free: Freedom | null;
}

/** What was done in which order, and which of it is known to be free. Everything else is kept as it was. */
export interface Sequence extends Omit<KeptOrder, 'mayBeBonded' | 'singly'> {
  keys: readonly ActionKey[];
  /** Must `first` come before `then`, as far as is known? */
  keeps(first: ActionKey, then: ActionKey): boolean;
  freedomOf(first: ActionKey, then: ActionKey): Freedom | null;
  /** What is kept, each pair that follows from others left out. */
  needs: ReadonlyMap<ActionKey, readonly ActionKey[]>;
}

export const keyOfDone = ({ kind, thing }: Done): ActionKey => keyOf(kind, thing);

/** All that is known of order: the sequence of each dive, judged by all of them. */
export class Orders {
  private readonly seen: FirstSeen[];
  private readonly place: Map<ActionKey, number>[];
  private readonly moved: Map<string, number>[];
  private readonly sequences = new Map<number, Sequence>();
  private readonly uncovered = new Map<string, readonly string[]>();

  constructor(
    private readonly told: Told,
    /** Pairs that were answered to be free: `first then`. */
    private readonly freed: ReadonlySet<string> = new Set(),
  ) {
    this.seen = told.dives.map((d) => firstSeen(told, d));
    this.place = told.dives.map((d) => new Map(d.done.map((done) => [keyOfDone(done), done.at])));
    this.moved = told.dives.map((d) => {
      const first = new Map<string, number>();
      for (const { thing, at } of d.done) if (!first.has(thing)) first.set(thing, at);
      return first;
    });
  }

  /** When a part was first moved in a dive, or a thing undone; `undefined` where it was left alone. */
  movedAt(dive: number, thing: string): number | undefined {
    return this.moved[dive]!.get(thing);
  }

  /** Was a thing certainly in sight before that moment of a dive? */
  seenBefore(dive: number, thing: string, at: number): boolean {
    const first = this.seen[dive]!.get(thing);
    return first != null && first.at !== null && first.at < at;
  }

  /** Did nothing that could be `thing` show in the last photograph before `over` was moved? What never shows says nothing. */
  hidBehind(over: string, thing: string): boolean {
    return this.told.dives.some((dive, n) => {
      const off = this.movedAt(n, over);
      const shot = off === undefined ? undefined : dive.photographs.findLast((p) => p.at < off);
      return shot !== undefined && (this.seen[n]!.get(thing)?.absent.includes(shot.at) ?? false);
    });
  }

  /** In some dive `thing` was undone although `over` was still in its place, or it showed while that was. */
  notCovered(over: string, thing: string): boolean {
    return this.told.dives.some((_, n) => {
      const at = this.movedAt(n, thing);
      if (at === undefined) return false;
      const off = this.movedAt(n, over);
      return off === undefined || off > at || this.seenBefore(n, thing, off);
    });
  }

  /** In every dive in which `thing` was undone `over` had been moved before. */
  alwaysAfter(over: string, thing: string): boolean {
    let met = false;
    for (const n of this.told.dives.keys()) {
      const at = this.movedAt(n, thing);
      if (at === undefined) continue;
      const off = this.movedAt(n, over);
      if (off === undefined || off > at) return false;
      met = true;
    }
    return met;
  }

  /** The last part to be moved before a thing showed for the first time: it lay over it. */
  uncoveredBy(thing: string): readonly string[] {
    const known = this.uncovered.get(thing);
    if (known) return known;
    const made = this.uncoveredByOf(thing);
    this.uncovered.set(thing, made);
    return made;
  }

  private uncoveredByOf(thing: string): string[] {
    const found = new Set<string>();
    for (const [n, dive] of this.told.dives.entries()) {
      const sighting = this.seen[n]!.get(thing);
      if (!sighting?.fresh || sighting.at === null) continue;
      const { at } = sighting;
      const shot = dive.photographs.findIndex((p) => p.at === at);
      const before = dive.photographs[shot - 1]?.at ?? -1;
      if (shot <= 0) continue;
      const turned = dive.acts.slice(before + 1, at).some((a) => a.act === 'turned-over');
      const moved = dive.done.filter(
        (d) => d.at > before && d.at < at && (d.kind === 'lift' || d.kind === 'swing' || d.kind === 'ease'),
      );
      if (moved.length === 1 && !turned) found.add(moved[0]!.thing);
    }
    return [...found];
  }

  /** What is known of two things done in one dive, `first` before `then`. */
  freedom(n: number, first: Done, then: Done): Freedom | null {
    if (first.thing === then.thing) return null;
    const [a, b] = [keyOfDone(first), keyOfDone(then)];
    if (this.freed.has(`${a} ${b}`)) return 'told';
    for (const other of this.told.dives.keys()) {
      if (other === n) continue;
      const [one, two] = [this.place[other]!.get(a), this.place[other]!.get(b)];
      if (two !== undefined && (one === undefined ? this.leftIn(other, first, two) : one > two)) return 'other-dive';
    }
    const [x, y] = [this.told.things.get(first.thing)!, this.told.things.get(then.thing)!];
    if (x.seen.isolates || y.seen.isolates) {
      // The battery's plug is the first to open and the last to close: only screws may go in after it.
      if (first.kind !== 'loosen' && then.kind !== 'loosen') return null;
    }
    const hung = this.stoodOpen(n, first, then);
    if (hung) return 'hung';
    const seen = () => this.seenBefore(n, then.thing, first.at);
    const kinds = `${sort(first)} ${sort(then)}`;
    switch (kinds) {
      case 'screw screw':
        return apartBy(x, y) > APART.screws ? 'apart' : null;
      case 'screw plug':
        return apartBy(x, y) > APART.screwAndPlug ? 'apart' : null;
      case 'plug screw':
        return seen() ? 'seen' : null;
      case 'screw part':
        return y.bounds && x.place && beside(y.bounds, x.place) > y.reach ? 'apart' : null;
      case 'part screw':
        return seen() ? 'seen' : null;
      case 'screw joint':
        return x.place && boundsOfJoint(y) && beside(boundsOfJoint(y)!, x.place) > APART.screwAndBond ? 'apart' : null;
      case 'joint screw':
        return seen() ? 'seen' : null;
      case 'plug plug':
        if (printedTogether(x, y)) return 'printed';
        return seen() && apartBy(x, y) > APART.plugs ? 'seen' : null;
      case 'part plug':
        return seen() && leadsElsewhere(y, first.thing) ? 'seen' : null;
      default:
        return null;
    }
  }

  /**
   * Is one of the two only the taking off of a part that stood wide open already, and has the other nothing to do with
   * that part: no flex of it, nothing on it, no part that might lie on its flexes?
   */
  private stoodOpen(n: number, first: Done, then: Done): boolean {
    const open = ({ thing, kind, at }: Done, other: Done) => {
      if (kind !== 'lift') return false;
      const swung = this.place[n]!.get(keyOf('swing', thing));
      const part = this.told.things.get(thing)!;
      if (swung === undefined || swung > Math.min(at, other.at) || (part.seen.degrees ?? 0) < CLEARING_DEGREES)
        return false;
      const { on, seen } = this.told.things.get(other.thing)!;
      if (on === thing || part.on !== on || seen.face !== part.seen.face) return false;
      const follows = other.at > at;
      if (sort(other) === 'plug') return leadsElsewhere(this.told.things.get(other.thing)!, thing) || follows;
      return sort(other) === 'screw' || (follows && sort(other) !== 'joint');
    };
    return open(first, then) || open(then, first);
  }

  /**
   * What is kept beside the orders of mating that are printed: where the two would run in a circle, something that was
   * kept cannot be so. What nothing but the doing speaks for gives way first.
   */
  private asPrinted({ done, parted }: Dive, free: Frees): { kept: Uint8Array[]; needs: number[][] } {
    const rows = new Map<number, { at: number; place: number }[]>();
    const read = (thing: string, at: number) => {
      for (const { row, place } of this.told.things.get(thing)!.seen.printed ?? [])
        rows.set(row, [...(rows.get(row) ?? []), { at, place }]);
    };
    done.forEach(({ kind, thing }, at) => {
      if (kind === 'open') read(thing, at);
      // Spring contacts meet when their part is laid in.
      if (kind === 'lift') for (const p of parted) if (p.with === thing) read(p.thing, at);
    });
    const printed = [...rows.values()].flatMap((row) => {
      const sorted = row.toSorted((a, b) => a.place - b.place);
      return sorted.slice(1).map((next, i): [number, number] => [sorted[i]!.at, next.at]);
    });
    for (const [sooner, later] of printed) {
      for (;;) {
        const circle = pathBack(later, sooner, free, printed)?.filter(([i, j]) => free[j]![i] === null);
        if (!circle || circle.length === 0) break;
        const strengths = circle.map(([i, j]) => this.strength(done[i]!, done[j]!));
        const least = Math.min(...strengths);
        circle.forEach(([i, j], k) => {
          if (strengths[k] === least) free[j]![i] = 'printed';
        });
      }
    }
    return closureOf(free);
  }

  /** How much speaks for an order that is kept, from nothing but that it was done so to that it was seen. */
  private strength(first: Done, then: Done): number {
    const [x, y] = [this.told.things.get(first.thing)!, this.told.things.get(then.thing)!];
    // Power is connected last, whatever else is believed.
    if (x.seen.isolates || y.seen.isolates) return 9;
    if (sort(first) === 'plug' && sort(then) === 'plug') return 0;
    const ground = (t: Thing): Rect | null => t.bounds ?? boundsOfJoint(t) ?? (t.place && [...t.place, 0, 0]);
    const leads = (t: Thing, part: string) =>
      t.seen.leads != null && 'part' in t.seen.leads && t.seen.leads.part === part;
    if (leads(x, y.id) || leads(y, x.id) || this.uncoveredBy(y.id).includes(x.id)) return 4;
    if (!neighbours(ground(x), ground(y), APART.parts)) return 1;
    return sort(first) === 'plug' ? 2 : 3;
  }

  /** Was a thing certainly still in its place when something else was done in that dive? */
  private leftIn(dive: number, { thing, kind }: Done, at: number): boolean {
    const moved = this.movedAt(dive, thing);
    // What was swung there and lifted here says nothing of the lift.
    return moved === undefined || (kind !== 'lift' && moved > at);
  }

  sequence(n: number): Sequence {
    const known = this.sequences.get(n);
    if (known) return known;
    const made = this.sequenceOf(n);
    this.sequences.set(n, made);
    return made;
  }

  private sequenceOf(n: number): Sequence {
    const { done } = this.told.dives[n]!;
    const keys = done.map(keyOfDone);
    const at = new Map(keys.map((key, i) => [key, i]));
    const free: Frees = done.map((then, j) => done.slice(0, j).map((first) => this.freedom(n, first, then)));
    const { kept, needs } = this.asPrinted(this.told.dives[n]!, free);
    return {
      keys,
      keeps: (first, then) => {
        const [i, j] = [at.get(first), at.get(then)];
        return i !== undefined && j !== undefined && i < j && kept[j]![i] === 1;
      },
      freedomOf: (first, then) => {
        const [i, j] = [at.get(first), at.get(then)];
        return i !== undefined && j !== undefined && i < j ? free[j]![i]! : null;
      },
      needs: new Map(keys.map((key, j) => [key, needs[j]!.map((i) => keys[i]!)])),
    };
  }
}

type Frees = (Freedom | null)[][];

/**
 * How one thing comes before another on the way back: the pairs kept (first, then) along it, or `null` where it does not.
 * @param printed pairs of which the first is mated before the second
 */
function pathBack(
  from: number,
  to: number,
  free: Frees,
  printed: readonly [number, number][],
): [number, number][] | null {
  const came = new Map<number, number>([[from, from]]);
  const queue = [from];
  for (let at = queue.shift(); at !== undefined; at = queue.shift()) {
    if (at === to) break;
    const next = [
      ...free[at]!.flatMap((f, i) => (f === null ? [i] : [])),
      ...printed.flatMap(([a, b]) => (a === at ? [b] : [])),
    ];
    for (const n of next) {
      if (came.has(n)) continue;
      came.set(n, at);
      queue.push(n);
    }
  }
  if (!came.has(to)) return null;
  const path: [number, number][] = [];
  for (let at = to; at !== from; at = came.get(at)!) if (came.get(at)! > at) path.push([at, came.get(at)!]);
  return path;
}

/** What is kept through others is kept: the closure of what is not free, and of it what does not follow from the rest. */
function closureOf(free: Frees): { kept: Uint8Array[]; needs: number[][] } {
  const size = free.length;
  const kept = free.map(() => new Uint8Array(size));
  const needs = free.map((row, j) => {
    const direct: number[] = [];
    for (let i = j - 1; i >= 0; i--) {
      if (row[i] !== null || kept[j]![i]) continue;
      direct.push(i);
      kept[j]![i] = 1;
      for (let h = 0; h < i; h++) if (kept[i]![h]) kept[j]![h] = 1;
    }
    return direct;
  });
  return { kept, needs };
}

type Sort = 'screw' | 'plug' | 'joint' | 'part';

function sort({ kind }: Done): Sort {
  switch (kind) {
    case 'loosen':
      return 'screw';
    case 'open':
      return 'plug';
    case 'release':
      return 'joint';
    default:
      return 'part';
  }
}

function apartBy(a: Thing, b: Thing): number {
  if (!a.place || !b.place) return 0;
  const reach = (t: Thing) => (t.type === 'connector' ? Math.hypot(...(t.seen.size ?? [4, 2])) / 2 : 0);
  return Math.hypot(a.place[0] - b.place[0], a.place[1] - b.place[1]) - reach(a) - reach(b);
}

/** The ground of a bond or a catch; `null` where it was not drawn. */
export function boundsOfJoint(t: Thing): Rect | null {
  if (t.bounds) return t.bounds;
  const points: Point[] = [...(t.seen.line ?? []), ...(t.seen.tabs ?? [])];
  if (points.length === 0) return null;
  const xs = points.map(([x]) => x);
  const ys = points.map(([, y]) => y);
  return [Math.min(...xs), Math.min(...ys), Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)];
}

const printedTogether = (a: Thing, b: Thing): boolean =>
  (a.seen.printed ?? []).some(({ row }) => (b.seen.printed ?? []).some((p) => p.row === row));

/** Does a plug's flex certainly not lead to this part? */
function leadsElsewhere(plug: Thing, part: string): boolean {
  const { leads } = plug.seen;
  return leads != null && 'part' in leads && leads.part !== part;
}

/** Do two grounds lie near enough to have to do with one another? */
export const neighbours = (a: Rect | null, b: Rect | null, within: number): boolean =>
  a === null || b === null || gapBetween(a, b) <= within;

export const partOfKey = (key: ActionKey): string => actionOf(key).item;
