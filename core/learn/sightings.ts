import type { Point } from '../anatomy/index.ts';
import type { Dive, Photograph, Thing, Told } from './dives.ts';
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
  const things = [...undoneAt.keys()].map((id) => told.things.get(id)!).filter((t) => sightOf.get(t.id)?.at);
  const placeOf = (t: Thing) => sightOf.get(t.id)!.at!;
  const sideOf = (t: Thing) => `${t.type} ${sightOf.get(t.id)!.face} ${sightOf.get(t.id)!.on ?? ''}`;
  const found = new Map<string, Sighting>();
  for (const x of things) {
    const at = placeOf(x);
    const side = sideOf(x);
    const until = undoneAt.get(x.id)!;
    const shots = dive.photographs.filter((p) => p.at < until);
    const others = (shot: Photograph, within: number) =>
      things.filter(
        (y) => y.id !== x.id && sideOf(y) === side && undoneAt.get(y.id)! > shot.at && far(placeOf(y), at) <= within,
      ).length;
    const count = (shot: Photograph, within: number) => shot.marks.filter((m) => near(m, within)).length;
    const sighting = { at: null, fresh: false, absent: shots.filter((p) => count(p, MISTAKEN) === 0).map((p) => p.at) };
    found.set(x.id, sighting);
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
      found.set(x.id, { ...sighting, at: seen.at, fresh });
    }

    function near(m: Photograph['marks'][number], within: number): boolean {
      return `${m.type} ${m.face} ${m.on ?? ''}` === side && far(m.at, at) <= within;
    }
  }
  return found;
}
