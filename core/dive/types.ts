import type { Face } from '../anatomy/index.ts';
import type { Change, LossReason, Remedy } from './changes.ts';
import type { Reason } from './graph/reasons.ts';
import type { Hint } from './hints.ts';
import type { GateId } from './ruleNames.ts';
import type { Caution } from './house/cautions.ts';
import type { RecipeTurn, SourceKind } from '../heat/index.ts';
import type { HouseRules } from './house/rules.ts';

export * from './noDive.ts';
export * from './ruleNames.ts';

export const PHASES = ['prepare', 'descent', 'turn', 'ascent', 'prove'] as const;
export type Phase = (typeof PHASES)[number];

export const VERBS = [
  'power-off',
  'discharge',
  'eject',
  'film',
  'tape-glass',
  'photo',
  'heat',
  'gap',
  'cut',
  'solvent',
  'unscrew',
  'disconnect',
  'release',
  'ease',
  'swing',
  'lift',
  'pull',
  'desolder',
  'bend-aside',
  'turn-over',
  'inspect',
  'clean',
  'transfer',
  'fit',
  'connect',
  'fasten',
  'bond',
  'remove-liner',
  'press',
  'cure',
  'solder',
  'gate',
  'test',
  'try',
  'confirm-loss',
  'power-on',
  'renew',
  'flux',
  'tin',
  'leak-test',
  'tape-down',
] as const;
export type Verb = (typeof VERBS)[number];

/** How a fold lies: opened flat with its inside up, half open, or closed with the back of one of its bodies up. */
export type Pose = 'flat' | 'half' | `closed-${string}`;

export interface Step {
  /** Names the work, within this plan and in those that follow it on the same job: `unscrew.b1`. */
  id: string;
  /** Its place in the plan, from 1. */
  n: number;
  phase: Phase;
  do: Verb;
  /** Anatomy items; function ids for `test` and for the gates G4 and G7. Screws stand in driving order. */
  items: string[];
  /** `null` is bare or gloved hands. */
  tool: string | null;
  face: Face;
  /** How a fold lies meanwhile; left out in a device of one body. */
  pose?: Pose;
  /** Hands-on seconds. */
  seconds: number;
  /** Seconds that must pass after it before the steps that name it in `waitsFor` may begin. */
  waits: number;
  /** Numbers of earlier steps whose waits must have run before this one begins. */
  waitsFor: number[];
  /** Planned start of the hands-on work, seconds from the beginning of the dive. */
  starts: number;
  /** Done while the battery can still feed the board. */
  live: boolean;
  /** What makes the step necessary: an item with its relation, or a rule. */
  because: Reason[];
  cautions: Caution[];
  /** Parts that are off or open when it is done: the height of the step on the dive profile. */
  depth: number;
  /** The step on the other limb that this one mirrors. */
  mirrors: number | null;
  gate: GateId | null;
  /** How to do it, where the verb and the items do not say it all. */
  hint: Hint[];
  /** For `heat`: setting and turns, computed from the anatomy where a safe recipe was found. Never a promise. */
  heat?: HeatSetting | null;
}

export interface HeatSetting {
  source: SourceKind;
  /** °C */
  set: number;
  /** The face that heat is laid on: on a mat, the one that lies down. */
  on?: 'front' | 'back';
  /** The body of a fold that alone is warmed. */
  half?: string;
  /** What is out or open by then, as far as it was computed with; left out, nothing. */
  off?: string[];
  turns: RecipeTurn[];
  /** °C at which the bond counts as soft; `null` when its anatomy does not say. */
  softensAt: number | null;
  /** Solvent goes into the seam once it is off the heat. */
  solvent: boolean;
  /** False where heat goes by the usual times: thousands of plans are made, or the anatomy says too little. */
  computed: boolean;
  /** Seconds that it stays workable, and of heating it again after that. */
  staysSoft: number;
  reheat: number;
}

export interface Loss {
  /** A function id, or `moisture-rating`, `data`, `original-cell`, `cold-seam`. */
  function: string;
  /** The bond that it is about, of a `cold-seam`. */
  item?: string;
  because: LossReason;
  remedy: Remedy;
}

export interface Transfer {
  part: string;
  from: string;
  spare: string | null;
}

export interface Totals {
  /** Hands-on time. */
  hands: number;
  /** All waits, whether something is done meanwhile or not. */
  waits: number;
  /** Waiting that nothing fills. */
  idle: number;
  /** From the first step to the last, tool changes and turn-overs counted. */
  elapsed: number;
  toolChanges: number;
  turnOvers: number;
  screws: number;
  connectors: number;
}

/** `nibrel.plan/2`: one dive. Times in s. */
export interface Plan {
  schema: 'nibrel.plan/2';
  anatomy: string;
  replace: string[];
  spares: string[];
  /** Items that are opened to be looked at, and go back; left out where there are none. */
  look?: string[];
  /** Batteries whose new cell is joined to the old protection board, so that their pairing stays; left out where none is. */
  transplant?: string[];
  rules: HouseRules;
  condition: Condition;
  steps: Step[];
  transfers: Transfer[];
  /** Items that never go back and need a new one at hand. */
  renew: string[];
  losses: Loss[];
  /** Functions whose tests must pass, be it before sealing or after. */
  touched: string[];
  totals: Totals;
  /** Tools a step asks for that the shop lacks, and what the lack of others has changed. */
  missingTools: string[];
  changes: Change[];
  /** Items that a run found gone for good and accounted for: they neither hold nor go back. */
  absent: string[];
  /** Well of every screw that comes out, where it was laid out already; else it follows from the house rules. */
  wells?: Record<string, string>;
  optimality: { cost: number; lowerBound: number; proved: boolean };
}

/** What intake found that changes how the device is opened. */
export interface Condition {
  crackedGlass: boolean;
  /** Charge of the cell in percent; `null` is not known and counts as full. */
  charge: number | null;
  /** The device is dark or dead, so that its cell cannot be drawn down. */
  dark: boolean;
  /** Functions that worked when it came in: they are proved again on the way back, whether the dive touches them or not. */
  worked?: string[];
}

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
