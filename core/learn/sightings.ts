import type { Point } from '../anatomy/index.ts';
import type { Dive, Thing, Told } from './dives.ts';
import { beside } from './outline.ts';

/** Marks within this of a thing may be of it, mm: 3.5 standard deviations of the difference of two hands. */
const NEAR = 2.5;
/** Another head within this might be taken for it, mm. */
export const MISTAKEN = 4.5;

const MOVES: ReadonlySet<string> = new Set(['ease', 'swing', 'lift']);

/** A part may be over a place when its rough outline is, or nearly. */
const isOver = ({ bounds, reach }: Thing, at: Point): boolean => bounds === null || beside(bounds, at) <= reach;

/** When each head and plug that was undone was first seen for certain. */
export type FirstSeen = ReadonlyMap<string, Sighting>;

export interface Sighting {
  /** The place of that photograph among the acts of its dive; `null` where it can be told in none. */
  at: number | null;
  /** Photographs in which nothing that might have been it shows. */
  absent: readonly number[];
  /** Nothing that might have been it showed in the photograph before. */
  fresh: boolean;
}

const far = (a: readonly [number, number], b: readonly [number, number]) => Math.hypot(a[0] - b[0], a[1] - b[1]);

/** A thing that was undone: where it was, on which ground, and when it left. */
interface Seen {
  id: string;
  at: Point;
  side: string;
  until: number;
}

/**
 * In which photograph of a dive each thing that was undone later can be told for certain. A mark near its place counts
 * only where it cannot be of another thing that was still in, or of one that was never touched: what is beneath a part
 * may lie right beneath a head that shows.
 */
export function firstSeen(told: Told, dive: Dive): FirstSeen {
  const undoneAt = new Map(
    dive.done.filter((d) => d.kind === 'loosen' || d.kind === 'open').map((d) => [d.thing, d.at]),
  );
  const sightOf = new Map(dive.done.map((d) => [d.thing, d.act.seen]));
  // What can be taken for one another: the same sort of thing on the same side of the same ground.
  const things = [...undoneAt].flatMap(([id, until]): Seen[] => {
    const { at, face, on } = sightOf.get(id)!;
    return at ? [{ id, at, until, side: `${told.things.get(id)!.type} ${face} ${on ?? ''}` }] : [];
  });
  const bySide = new Map<string, Seen[]>();
  for (const t of things) bySide.set(t.side, [...(bySide.get(t.side) ?? []), t]);
  const marks = dive.photographs.map(({ marks }) => {
    const sides = new Map<string, Point[]>();
    for (const m of marks) {
      const side = `${m.type} ${m.face} ${m.on ?? ''}`;
      sides.set(side, [...(sides.get(side) ?? []), m.at]);
    }
    return sides;
  });
  const found = new Map<string, Sighting>();
  for (const { id, at, until, side } of things) {
    const shots = dive.photographs.flatMap((p, i) =>
      p.at < until ? [{ at: p.at, marks: marks[i]!.get(side) ?? [] }] : [],
    );
    // Of few that are near anyway it is then asked how near.
    const beside = bySide.get(side)!.filter((y) => y.id !== id && far(y.at, at) <= MISTAKEN);
    const others = (shot: { at: number }, within: number) =>
      beside.reduce((n, y) => n + (y.until > shot.at && far(y.at, at) <= within ? 1 : 0), 0);
    const count = (shot: { marks: readonly Point[] }, within: number) =>
      shot.marks.reduce((n, m) => n + (far(m, at) <= within ? 1 : 0), 0);
    const sighting = { at: null, fresh: false, absent: shots.filter((p) => count(p, MISTAKEN) === 0).map((p) => p.at) };
    found.set(id, sighting);
    const last = shots.findLast((p) => count(p, NEAR) > 0);
    if (!last) continue;
    const untouched = Math.max(0, count(last, MISTAKEN) - others(last, NEAR) - 1);
    if (count(last, NEAR) - others(last, MISTAKEN) < 1 && untouched === 0) continue;
    // A head on a part that left since might have been taken for it.
    const left = dive.done.findLast((d) => MOVES.has(d.kind) && d.at < until && isOver(told.things.get(d.thing)!, at));
    const seen = shots.find((p) => p.at > (left?.at ?? -1) && count(p, NEAR) - others(p, MISTAKEN) - untouched >= 1);
    if (seen) {
      const before = shots[shots.indexOf(seen) - 1];
      const fresh = before !== undefined && sighting.absent.includes(before.at);
      found.set(id, { ...sighting, at: seen.at, fresh });
    }
  }
  return found;
}
