import type { StepGraph } from '../graph/stepGraph.ts';
import type { HouseRules } from '../house/rules.ts';
import type { Bundle } from '../order/bundles.ts';
import type { Phase, Standing } from '../types.ts';

/** What the way back, or the part of it on the mat, is drawn up from. */
export interface Ascent {
  graph: StepGraph;
  bundles: readonly Bundle[];
  /** Bundles of this limb in the order of the way back. */
  order: readonly number[];
  rules: HouseRules;
  phase: Phase;
  /** Old parts that are exchanged; they come back as new ones. */
  replaced: ReadonlySet<string>;
  transferred: ReadonlySet<string>;
  /** Functions touched that can be tested before the device is closed. */
  openTests: readonly string[];
  /** Bonds that a spare brings ready laid. */
  brought: ReadonlySet<string>;
  /** Connectors and screws that were undone on the mat before this limb, and have to pass their gates in it. */
  matWork: readonly string[];
  /** Parts that were laid down and taped for a turn-over, and are opened once more before they are closed. */
  taped: ReadonlySet<string>;
  /** Where the device stood when this plan began; `undefined` is closed. */
  from: Standing | undefined;
}
