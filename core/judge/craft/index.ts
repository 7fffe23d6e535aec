import { WORK_RULES, type CraftName } from '../../kinds/index.ts';
import { OF_BEARING } from './bearing.ts';
import { OF_BONDS } from './bonds.ts';
import { OF_HOLDING } from './holding.ts';
import { OF_PLACES } from './places.ts';
import { OF_POWER } from './power.ts';
import type { CraftRule } from './moment.ts';

/**
 * Rules of good work that are asked of every step of a plan. What is a law as well is kept by `Checker` in every step of the run
 * (R15), and that nothing is taken off that could stay (R11) is asked of a plan as a whole, by `needless`.
 */
export const CRAFT_RULES: Readonly<Partial<Record<CraftName, CraftRule>>> = {
  ...OF_BEARING,
  ...OF_BONDS,
  ...OF_HOLDING,
  ...OF_PLACES,
  ...OF_POWER,
};

/** In the order of their names, so that the first that is broken is told. */
export const CRAFT_OF_STEPS: readonly CraftRule[] = WORK_RULES.kinds.flatMap((name) => CRAFT_RULES[name] ?? []);
export type { Moment } from './moment.ts';
