import type { Bond, Corner, Edge, Motion } from '../anatomy/index.ts';
import type { DrawWay } from '../cells/index.ts';
import type { HeatReason, SourceKind, Where } from '../heat/index.ts';
import type { FastenerKind } from '../kinds/index.ts';
import type { Quoted } from '../message/index.ts';
import type { EntryReason, GapHint } from '../opening/index.ts';
import type { GateId } from './ruleNames.ts';

/*
 * How a step is done, where its verb and its items do not say it all: codes and what they are about, of which `words/` makes
 * sentences. Lengths in mm, temperatures in °C, times in s unless said otherwise.
 */

/** Ways of opening a plug; plugs that open alike are opened in one go. */
export type OpeningWay = 'lift-edge' | 'raise-bar' | 'draw-bar' | 'lift-cable' | 'shield-clip' | 'unsolder';
/** Ways of mating one. */
export type SeatingWay = 'press' | 'solder';

/** How a part comes away, and how it goes in; a place of `null` is some side of it. Degrees. */
export type MotionHint =
  | { code: `out-${Motion['how']}` | `in-${Motion['how']}`; place: Edge | Corner | null; degrees: number | null }
  | { code: 'pry-only-at'; at: readonly number[] }
  | { code: 'carried-flat' };

/** Strips of one width. */
export type StripsHint = { code: 'strips'; count: number; width: number; length: number };

/** A load: of one bond over its area in mm², or of all bonds of a panel. kg. */
export type LoadHint =
  | { code: 'load-bond'; kilograms: number; area: number; share: number }
  | { code: 'load-panel'; kilograms: number; bonds: number; share: number };

/** How a load is put on. kg, N. */
export type PressHint =
  | { code: 'press-weight'; load: LoadHint; weights: readonly number[] }
  | { code: 'press-clips'; load: LoadHint; clips: number; newtons: number; turns: number }
  | { code: 'press-bands'; load: LoadHint; bands: number }
  | { code: 'press-hand'; load: LoadHint };

/** How a new bond is laid. */
export type LayingHint =
  | { code: 'lay-die-cut' | 'lay-no-tape' | 'leave-gaps' | 'new-strips' | 'gasket-groove' | 'new-foil' }
  | { code: 'ring-stays-open'; open: number; ingress: string }
  | { code: 'lay-strips'; strips: readonly StripsHint[] }
  | { code: 'lay-bead'; width: number; millilitres: number; keepOff: number; skin: number };

/** Why a bond is cut cold, or not let go as the house does it. */
export type PartingReason =
  | HeatReason
  | { code: 'no-solvent-on'; part: string }
  | { code: 'part-bears-less'; bears: number; softensAt: number }
  | { code: 'nothing-warms-open' };

/** One turn of a source over a device: all of it at once, or one place after another with a rest before. */
export type TurnHint =
  | { code: 'heat-at-once'; heats: number }
  | { code: 'heat-turn'; where: Where; heats: number }
  | { code: 'heat-rest-turn'; where: Where; heats: number; rests: number };

/** What is known of the charge of a cell, %. */
export type ChargeHint = { code: 'charge-unknown' | 'charge-said'; charge: number };

/** By what a cell is drawn down. */
export type DrawHint = { code: 'load-on-port' } | { code: 'own-draws'; ways: readonly DrawWay[] };

/** A recipe, turn by turn. */
export type RecipeHint = {
  code: 'heat-recipe';
  source: SourceKind;
  set: number;
  turns: readonly TurnHint[];
  solvent: boolean;
};

/** What a bond is laid from. */
export type ConsumableHint =
  | { code: 'glue-of'; millilitres: number; words: string }
  | { code: 'tape-of'; strips: readonly StripsHint[] }
  | { code: 'die-cut' | 'die-cut-in-stock' | 'no-tape' }
  /** `fresh`: a kind of bond. */
  | { code: 'new-bond'; fresh: Bond['kind'] };

type Plain =
  | 'all-joints'
  | 'all-seated'
  | 'bend-clear'
  | 'captive-stay'
  | 'carry-cell'
  | 'cell-flat'
  | 'clamp-lightly'
  | 'clean-bonded'
  | 'clean-contacts'
  | 'clean-dry'
  | 'clip-flies'
  | 'cold-strokes'
  | 'compare-parts'
  | 'computed-stop'
  | 'contacts-meet-later'
  | 'cup-on-tape'
  | 'dark-is-full'
  | 'draw-fast'
  | 'film-on-glass'
  | 'flush-all-round'
  | 'flux-pads'
  | 'fold-flex-aside'
  | 'fold-head-aside'
  | 'gap-at-frame'
  | 'gap-hairline'
  | 'glass-curves'
  | 'glass-taped'
  | 'heat-again'
  | 'kept-whole'
  | 'laid-back'
  | 'latch-along'
  | 'latch-last'
  | 'latch-notch'
  | 'latch-turned'
  | 'leak-test'
  | 'lengths-differ'
  | 'let-cure'
  | 'liners-in-order'
  | 'look-at-cell'
  | 'look-at-gasket'
  | 'look-at-joint'
  | 'look-inside'
  | 'no-force'
  | 'not-magnetic'
  | 'off-before-hands'
  | 'off-not-asleep'
  | 'old-never-back'
  | 'on-closed'
  | 'on-unsealed'
  | 'one-heating-rarely'
  | 'peel-slowly'
  | 'plastic-pick-here'
  | 'pose-flat'
  | 'pose-half'
  | 'power-before-cells'
  | 'power-last'
  | 'press-all-over'
  | 'press-flush'
  | 'pressed-home'
  | 'presses-gasket'
  | 'pull-pouch'
  | 'pull-tabs'
  | 'renew-torn'
  | 'rest-by-heat'
  | 'run-along-seam'
  | 'say-what-found'
  | 'screw-stripped'
  | 'second-pick'
  | 'see-what-is-lost'
  | 'slide-card-under'
  | 'smooth-foil-back'
  | 'snug'
  | 'solvent-drops'
  | 'spare-brings'
  | 'springs-stand'
  | 'taped-down'
  | 'then-pick'
  | 'thread-drops-in'
  | 'threadlocked'
  | 'tin-pads'
  | 'tray-pin'
  | 'turn-over'
  | 'two-passes'
  | 'two-passes-crosswise';

export type Hint =
  | Quoted
  | MotionHint
  | GapHint
  | LayingHint
  | PressHint
  | { code: Plain | `holds-${GateId}` }
  | { code: `open-${OpeningWay}` | `seat-${SeatingWay}` }
  /** How a fastener of a kind comes out that is never turned. */
  | { code: 'pulled-out'; pulled: FastenerKind }
  | { code: 'latch-all-edges' | 'hooks-first' | 'edges-not-cut' | 'snap-edges'; edges: readonly Edge[] }
  | { code: 'gap-first'; width: number; flexes: number }
  | { code: 'swing-open'; edge: Edge; degrees: number }
  | { code: 'at-a-pinch'; tool: string; caution: string }
  | { code: 'shape-out' | 'shape-in'; words: string }
  | { code: 'kept-stays-on'; part: string }
  | RecipeHint
  | { code: `heat-usual-${SourceKind}`; set: number }
  | { code: 'heat-computed' | 'gives-at'; softensAt: number }
  | { code: 'lies-on-mat'; face: 'front' | 'back' }
  | { code: 'half-alone' | 'pose-closed'; body: string }
  | { code: 'not-house-way' | 'solvent-alone' | 'cold-at-risk'; why: PartingReason }
  | { code: 'cut-marks'; marks: readonly number[]; edge: Edge; why: EntryReason; edges: readonly Edge[] }
  | { code: 'cut-depth'; depth: number; edge: Edge; items: readonly string[] }
  | { code: 'reheat'; times: number; seconds: number }
  | { code: 'bond-wide' | 'let-down-to'; width: number }
  | { code: 'slide-from'; part: string; edge: Edge; reach: number; across: number }
  | { code: 'torque'; torques: readonly number[] }
  | { code: 'new-threadlock'; duration: number }
  | { code: 'hang-at' | 'open-again'; edge: Edge }
  | { code: 'reach-later'; item: string }
  | { code: 'try-dry' | 'move-across'; items: readonly string[] }
  | { code: 'charge-below'; charged: ChargeHint; limit: number }
  | { code: 'draw-down'; charged: ChargeHint; watts: number; how: DrawHint; limit: number; warmest: number };
