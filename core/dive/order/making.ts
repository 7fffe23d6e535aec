import type { Exchange } from '../graph/choices.ts';
import type { Closure, StepGraph } from '../graph/stepGraph.ts';
import type { HouseRules } from '../house/rules.ts';
import type { Condition, Standing } from '../types.ts';
import type { Demand } from './demands.ts';
import type { Partings } from './partings.ts';

/**
 * What of good order is given up, one thing more each time, where no order keeps it all: nothing; nothing, but that what hangs is
 * laid down and taped for a turn-over; that what is touched
 * is proved before it is sealed; that nothing lies loose in a device that is turned over; that what hangs on its hinge
 * is gone on with at once; that nothing is heated beside what hangs, the others kept; all of it.
 */
export const RELAXATIONS = [
  'nothing',
  'taped-down',
  'proof-before-seal',
  'loose-parts',
  'at-once',
  'heat-beside',
  'all',
] as const;
export type Relaxation = (typeof RELAXATIONS)[number];

/** With these a part may lie loose in a device that is turned over; with all others it is taken out first. */
export const LETS_LIE_LOOSE: ReadonlySet<Relaxation> = new Set(['loose-parts', 'at-once', 'all']);

/** All that one dive is made from. */
export interface Making {
  graph: StepGraph;
  closure: Closure;
  exchange: Exchange;
  rules: HouseRules;
  condition: Condition;
  from: Standing | undefined;
  /** Functions that the exchange loses for good. */
  lost: readonly string[];
  /** Bundles that are worked on an assembly that is out, by index. */
  mat: ReadonlySet<number>;
  partings: Partings;
  relaxed: Relaxation;
  /** What the judge asked for of the plans before. */
  demands: readonly Demand[];
  /** The house isolates first, and an order that does is looked for. */
  isolationFirst: boolean;
}
