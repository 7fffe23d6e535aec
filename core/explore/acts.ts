import type {
  Anatomy,
  Bond,
  Connector,
  DeviceFunction,
  Drive,
  Edge,
  Face,
  Fastener,
  PartKind,
  Point,
} from '../anatomy/index.ts';
import type { Verb } from '../dive/index.ts';

/** What an act is done to. */
export const THING_TYPES = ['part', 'fastener', 'connector', 'bond', 'latch'] as const;
export type ThingType = (typeof THING_TYPES)[number];

/** What an act makes of its thing; those of the way in are named as the actions of a dive. */
export type Doing =
  | 'loosen'
  | 'open'
  | 'release'
  | 'ease'
  | 'swing'
  | 'lift'
  | 'back'
  | 'parted'
  | 'prepares'
  | 'tells'
  | 'none';

export interface ActSpec {
  /** What it is done to; `null` is the device as a whole. */
  of: ThingType | null;
  does: Doing;
  /** The step that a plan would call it. */
  verb: Verb;
  /** Hands or a tool are inside the device while it is done. */
  inside: boolean;
}

const spec = (of: ThingType | null, does: Doing, verb: Verb, inside = of !== null): ActSpec => ({
  of,
  does,
  verb,
  inside,
});

/** Every act on a device that no plan speaks of. A new one is one entry here. */
export const ACT_SPECS = {
  /** More is said of a thing that was met: its length, its name, whose plug it is. */
  told: spec(null, 'tells', 'inspect'),
  'powered-off': spec(null, 'prepares', 'power-off'),
  'charge-checked': spec(null, 'prepares', 'discharge'),
  filmed: spec(null, 'prepares', 'film'),
  taped: spec(null, 'prepares', 'tape-glass'),
  'turned-over': spec(null, 'none', 'turn-over'),
  photographed: spec(null, 'none', 'photo'),
  cleaned: spec(null, 'none', 'clean'),
  heated: spec('bond', 'none', 'heat'),
  'gap-raised': spec('bond', 'none', 'gap'),
  wetted: spec('bond', 'none', 'solvent'),
  'bond-cut': spec('bond', 'release', 'cut'),
  pulled: spec('bond', 'release', 'pull'),
  peeled: spec('bond', 'release', 'release'),
  /** Paste, a pad or a spring contact that parted by itself as its part came off. */
  'bond-parted': spec('bond', 'parted', 'lift'),
  'contact-parted': spec('connector', 'parted', 'lift'),
  'bond-closed': spec('bond', 'back', 'bond'),
  'screw-out': spec('fastener', 'loosen', 'unscrew'),
  'screw-in': spec('fastener', 'back', 'fasten'),
  'connector-opened': spec('connector', 'open', 'disconnect'),
  'connector-seated': spec('connector', 'back', 'connect'),
  'bent-aside': spec('connector', 'none', 'bend-aside'),
  'latch-released': spec('latch', 'release', 'release'),
  'part-eased': spec('part', 'ease', 'ease'),
  'part-swung': spec('part', 'swing', 'swing'),
  'part-off': spec('part', 'lift', 'lift'),
  'part-on': spec('part', 'back', 'fit'),
} as const satisfies Record<string, ActSpec>;

export type ActKind = keyof typeof ACT_SPECS;
export const ACTS = Object.keys(ACT_SPECS) as ActKind[];

export const specOf = (act: ActKind): ActSpec => ACT_SPECS[act];

/** A head or a plug that was seen in the photograph of a layer, whether anything was done to it or not. */
export interface Mark {
  type: 'fastener' | 'connector';
  at: Point;
  face: Face;
  /** The open or lifted part that it was seen on; `null` is the device itself. */
  on: string | null;
}

/** Where a flex was seen to lead: to a part that is open or off, or to a place in the device. */
export type Leads = { part: string } | { at: Point };

/**
 * What a person saw of the thing that was dealt with; places in mm, seen from the front. What was not looked at is
 * left out. None of it says what holds what, or how deep anything lies.
 */
export interface Sight {
  at?: Point;
  /** The side it was worked from: of the device, or of the part that it is on. */
  face?: Face;
  /** The part it was worked on, where that part stands open, lies on the mat, or was tilted to get beneath it. */
  on?: string | null;
  /** Tool in the words of the plan, `null` for hands. */
  tool?: string | null;
  fastener?: Fastener['kind'];
  drive?: Drive;
  /** mm under the head, by caliper. */
  length?: number | null;
  /** mm across the head. */
  head?: number;
  connector?: Connector['kind'];
  size?: [number, number];
  /** It is the battery's plug, or the cell that feeds the board by its contacts. */
  isolates?: boolean;
  leads?: Leads | null;
  bond?: Bond['kind'];
  /** Corners of a part, or of the ground that a bond holds, as roughly as they were drawn. */
  outline?: Point[];
  /** The line along which a bond was cut. */
  line?: Point[];
  /** It ran all round the part that then came off. */
  around?: boolean;
  tabs?: Point[];
  part?: PartKind | null;
  glass?: boolean;
  /** The edge of a latch, or the one that a part hangs from. */
  edge?: Edge;
  degrees?: number;
  /** mm of a first opening. */
  gap?: number;
  /** Catches or hooks at that edge. */
  count?: number;
  /** Hooks, which go in first, and not catches. */
  hooks?: boolean;
  /** It cannot go back: cut, torn, bent, locked by thread glue. */
  spent?: boolean;
  /** It is what the customer came for. */
  target?: boolean;
  /** Its places in orders of mating that are printed beside it, each with the number of its row. */
  printed?: { row: number; place: number }[];
  /** What the technician calls it. */
  name?: string;
  /** °C that the source was set to. */
  set?: number;
  /** Seconds by the clock. */
  seconds?: number;
  photo?: string | null;
  marks?: Mark[];
}

/** One act as it was recorded. */
export interface Act {
  /** Id of its event. */
  id: string;
  act: ActKind;
  /** The thing it was done to, by the name it was given when it was first met; `null` is the device. */
  item: string | null;
  note: string;
  /** Id of the source's item; nothing is learnt from it. */
  label?: string;
  seen: Sight;
  at: string;
}

/** The device that comes in: what can be seen and measured of it before it is opened. */
export interface UnknownDevice {
  name: string;
  kind: Anatomy['kind'];
  width: number;
  height: number;
  thickness: number;
  cornerRadius: number;
  /** As printed on it. */
  ingress: string | null;
  /** Id of a known device that it looks like, for guesses. */
  like: string | null;
  /** What it does, which is what can be tested of it. */
  functions: DeviceFunction[];
  /** The cell, as far as its print was read. */
  battery: Anatomy['battery'] | null;
}

/** `nibrel.acts/1`: a field dive as a file. */
export interface ActFile {
  schema: 'nibrel.acts/1';
  device: UnknownDevice;
  acts: Act[];
  /** What was answered, by the question's id. */
  answers: Record<string, string>;
}
