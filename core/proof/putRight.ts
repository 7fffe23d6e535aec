import { effectsOf, effectsOfSpare, type CauseKind } from '../diagnosis/index.ts';
import type { RunState } from '../run/index.ts';

/** Something was found and put right, and what had failed for it has not been tested since. */
export interface PutRight {
  item: string;
  kind: CauseKind;
  /** What is to be tested before anything else is weighed. */
  functions: string[];
}

/**
 * What was found and put right last, while its tests are still owed: no odds are worth a word before those are made. `null`
 * where nothing was found, or all that failed for it was tested again.
 */
export function putRight(state: RunState): PutRight | null {
  const look = state.looks.findLast((l) => l.found !== null);
  if (!look || look.found === null) return null;
  const before = new Map(
    state.tested.filter((t) => t.at <= look.at && t.circumstance !== 'intake').map((t) => [t.function, t.outcome]),
  );
  const failed = [...before].filter(([, outcome]) => outcome === 'fail').map(([id]) => id);
  const since = new Set(state.tested.filter((t) => t.at > look.at).map((t) => t.function));
  const { model } = state.context;
  const of = model.parts.has(look.item) ? effectsOfSpare : effectsOf;
  const ways = model.items.has(look.item) ? of(model, look.item) : [];
  const bears = new Set(ways.flatMap((way) => [...way.on.keys()]));
  // What rests on it; where the drawing says that nothing does, all that had failed.
  const resting = failed.some((id) => bears.has(id)) ? failed.filter((id) => bears.has(id)) : failed;
  const functions = resting.filter((id) => !since.has(id));
  return functions.length > 0 ? { item: look.item, kind: look.found, functions } : null;
}
