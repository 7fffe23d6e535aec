import type { GateId } from './ruleNames.ts';
import type { Condition } from './planFormat.ts';
import type { Pose, Verb } from './verbs.ts';

export * from './noDive.ts';
export * from './ruleNames.ts';
export * from './verbs.ts';
export type { Condition, HeatSetting, Loss, Plan, Step, Totals, Transfer } from './planFormat.ts';

/** A device of which intake found nothing that matters. */
export const SOUND: Condition = { crackedGlass: false, charge: null, dark: false };

export interface DiveRequest {
  /** Parts to replace; none only where something is looked at, or from an open device, to close it again as it is. */
  replace: string[];
  /** Items to be laid bare, undone, looked at and put back: a plug that may not be seated, a flex that may be torn. */
  look?: string[];
  /** Batteries of which only the cell is new, on the old protection board: only where the house rules offer it. */
  transplant?: string[];
  spares?: string[];
  condition?: Partial<Condition>;
  /** Plan on from a device that is already open; left out, it is closed. */
  from?: Standing;
}

/** Where a device stands when it is planned on from: what is off and open, and what the way in has seen to. */
export interface Standing {
  out: ReadonlySet<string>;
  open: ReadonlySet<string>;
  released: ReadonlySet<string>;
  swung: ReadonlySet<string>;
  /** Parts that stand open by a gap. */
  eased: ReadonlySet<string>;
  removed: ReadonlySet<string>;
  /** Switched on, by a test of the open device. */
  on: boolean;
  absent: ReadonlySet<string>;
  renewed: ReadonlySet<string>;
  touched: ReadonlySet<string>;
  up: 'front' | 'back' | null;
  /** How a fold lies; left out where that is not known, and in a device of one body. */
  pose?: Pose | null;
  /** Verbs of the preparation that are done: power-off, discharge, film ... */
  prepared: ReadonlySet<Verb>;
  /** Screws that have to be drawn with an extractor, and are renewed. */
  stripped: ReadonlySet<string>;
  /** Bonds that were pressed or cure already. */
  pressed: ReadonlySet<string>;
  /** What each gate has passed so far. */
  gated: ReadonlyMap<GateId, ReadonlySet<string>>;
  /** The order in which it was opened, where that is kept because nothing shows that another would do. */
  kept?: KeptOrder;
}

/** Work that was done, and what of its order is kept on the way back (see `ActionKey`). */
export interface KeptOrder {
  /** For each action those before it that it is kept behind, without what follows from others. */
  needs: ReadonlyMap<string, readonly string[]>;
  /** Is `then` kept behind `first`, directly or through others? */
  keeps: (first: string, then: string) => boolean;
  /** Parts that a bond may have held of which that is not certain. */
  mayBeBonded: ReadonlySet<string>;
  /** Screws go back one by one where they were kept apart by what was done between them. */
  singly: boolean;
}
