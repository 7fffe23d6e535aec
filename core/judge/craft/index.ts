import type { CraftName } from '../device.ts';
import {
  heatByItself,
  keptWhole,
  nothingOpenOnMat,
  pressedAsNeeded,
  priedWherePossible,
  sealedUnderLoad,
  softenedFirst,
  triedDry,
} from './bonds.ts';
import { gasketsPressed, ironAlone, limitsKept, oneHalfWarmed } from './bearing.ts';
import { bareFirst, heldBeforeNext, lastHold, noGhostHinge, nothingLoose } from './holding.ts';
import type { CraftRule } from './moment.ts';
import { oneGo, ratingTold } from './places.ts';
import {
  cellOutDead,
  cellsMatedLast,
  comparedFirst,
  drawnDownWhereNeeded,
  matedLast,
  offBeforeHands,
  seatsBeforePower,
  testsThatPass,
} from './power.ts';

/**
 * Where each rule of good work is kept by the checker. `craft` is asked of plans only; `law` is asked of every step in
 * the run as well, by `Checker`; `whole` is asked of a plan as a whole, by `needless`.
 */
export const CRAFT_RULES: Record<CraftName, CraftRule | 'law' | 'whole'> = {
  R1: matedLast,
  R2: offBeforeHands,
  R3: testsThatPass,
  R4: lastHold,
  R5: noGhostHinge,
  R6: heatByItself,
  R7: keptWhole,
  R8: nothingLoose,
  R9: pressedAsNeeded,
  R10: triedDry,
  R11: 'whole',
  R12: oneGo,
  R13: drawnDownWhereNeeded,
  R14: priedWherePossible,
  R15: 'law',
  R16: seatsBeforePower,
  R17: comparedFirst,
  R18: sealedUnderLoad,
  R19: ratingTold,
  R20: softenedFirst,
  R21: nothingOpenOnMat,
  R22: gasketsPressed,
  R23: limitsKept,
  R24: ironAlone,
  R25: oneHalfWarmed,
  R26: bareFirst,
  R27: cellsMatedLast,
  R28: cellOutDead,
  R29: heldBeforeNext,
};

export const CRAFT_OF_STEPS: readonly CraftRule[] = Object.values(CRAFT_RULES).filter(
  (rule) => typeof rule === 'function',
);
export type { Moment } from './moment.ts';
