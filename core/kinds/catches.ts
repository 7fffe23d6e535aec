import { table, type KindOf } from '../format/index.ts';

/** How catches let go. */
export interface CatchFacts {
  /** A step releases them and snaps them; else they go with the turn of their part. */
  worked: boolean;
}

export const CATCHES = table<CatchFacts>('catch')({
  pried: { worked: true },
  /** Lets go by itself when its part is slid or turned out. */
  turned: { worked: false },
});
export type CatchKind = KindOf<typeof CATCHES>;
