import type { Verb } from '../dive/index.ts';

/** What an act is done to. */
export const THING_TYPES = ['part', 'fastener', 'connector', 'bond', 'latch'] as const;
export type ThingType = (typeof THING_TYPES)[number];
/** Those that a head or a plug in a photograph is marked as. */
export const MARKED = ['fastener', 'connector'] as const satisfies readonly ThingType[];

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
