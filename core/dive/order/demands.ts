import type { Draft } from '../entry/draft.ts';
import type { Phase, Verb } from '../types.ts';
import type { WorkList } from './workList.ts';

/** One thing done to one item, in one limb of a dive. */
export interface Deed {
  phase: Phase;
  do: Verb;
  item: string;
}

/** One deed that has to come before another: the judge found fault with a plan that had it otherwise. */
export interface Demand {
  first: Deed;
  then: Deed;
}

const does = (draft: Draft, deed: Deed): boolean =>
  draft.phase === deed.phase && draft.do === deed.do && draft.items.includes(deed.item);

/** Puts works in the order that is demanded, as far as nothing that has to be so stands against it. */
export function heed(list: WorkList, demands: readonly Demand[]): void {
  const workOf = (deed: Deed) => list.works.findIndex((w) => w.drafts.some((d) => does(d, deed)));
  for (const { first, then } of demands) {
    const [a, b] = [workOf(first), workOf(then)];
    if (a >= 0 && b >= 0) list.prefer(a, b);
  }
}
