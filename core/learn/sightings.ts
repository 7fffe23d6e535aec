import type { Dive, Thing, Told } from './dives.ts';

/** Marks within this of a thing may be of it, mm: 3.5 standard deviations of the difference of two hands. */
const NEAR = 2.5;
/** Another head within this might be taken for it, mm. */
export const MISTAKEN = 4.5;

/** When each head and plug was first seen: the place of that photograph among the acts of its dive. */
export type FirstSeen = ReadonlyMap<string, number>;

const far = (a: readonly [number, number], b: readonly [number, number]) => Math.hypot(a[0] - b[0], a[1] - b[1]);

/**
 * In which photograph of a dive each thing that was undone later can be told for certain. A mark near its place counts
 * only where it cannot be of another thing that was still in, or of one that was never touched: what is beneath a part
 * may lie right beneath a head that shows.
 */
export function firstSeen(told: Told, dive: Dive): FirstSeen {
  const undoneAt = new Map(dive.done.filter((d) => d.kind === 'loosen' || d.kind === 'open').map((d) => [d.thing, d.at]));
  const sightOf = new Map(dive.done.map((d) => [d.thing, d.act.seen]));
  const things = [...undoneAt.keys()].map((id) => told.things.get(id)!).filter((t) => sightOf.get(t.id)?.at);
  const placeOf = (t: Thing) => sightOf.get(t.id)!.at!;
  const sideOf = (t: Thing) => `${t.type} ${sightOf.get(t.id)!.face} ${sightOf.get(t.id)!.on ?? ''}`;
  const found = new Map<string, number>();
  for (const x of things) {
    const at = placeOf(x);
    const side = sideOf(x);
    const until = undoneAt.get(x.id)!;
    const shots = dive.photographs.filter((p) => p.at < until);
    const last = shots.findLast((p) => p.marks.some((m) => near(m, NEAR)));
    if (!last) continue;
    const others = (shot: { at: number }, within: number) =>
      things.filter(
        (y) => y.id !== x.id && sideOf(y) === side && undoneAt.get(y.id)! > shot.at && far(placeOf(y), at) <= within,
      ).length;
    const count = (shot: { marks: Dive['photographs'][number]['marks'] }, within: number) =>
      shot.marks.filter((m) => near(m, within)).length;
    const untouched = Math.max(0, count(last, MISTAKEN) - others(last, NEAR) - 1);
    if (count(last, NEAR) - others(last, MISTAKEN) < 1 && untouched === 0) continue;
    const seen = shots.find((p) => count(p, NEAR) - others(p, MISTAKEN) - untouched >= 1);
    if (seen) found.set(x.id, seen.at);

    function near(m: (typeof shots)[number]['marks'][number], within: number): boolean {
      return `${m.type} ${m.face} ${m.on ?? ''}` === side && far(m.at, at) <= within;
    }
  }
  return found;
}
