import type { Fastener } from '../../anatomy/index.ts';
import { FASTENERS } from '../../kinds/index.ts';
import type { HouseRules } from './rules.ts';

/**
 * Hands-on seconds and waits of every kind of work. Origin: our own bench estimates for a practised
 * technician, to be replaced by the shop's recorded times; the heating and pressing times marked so
 * are common practice. None of them is a promise that a seam is soft or a bond has set.
 */
export const SECONDS = {
  powerOff: 15,
  checkCharge: 20,
  ejectTray: 10,
  film: 20,
  tapeGlass: 60,
  photo: 8,
  perScrew: 9,
  perCaptive: 6,
  perStandoff: 12,
  perClip: 10,
  screwExtraWithThreadlock: 15,
  extractScrew: 240,
  openLatchEach: 3,
  swing: 10,
  lift: 8,
  bendAside: 5,
  turnOver: 0,
  setUpHeat: 20,
  movePack: 15,
  gap: 30,
  solvent: 20,
  solventWait: 180,
  pullPerTab: 25,
  peelFoil: 12,
  pryGluePerCentimetre: 6,
  inspect: 20,
  clean: 40,
  /** Isopropyl alcohol dries at least 30 s (common practice). */
  cleanDry: 30,
  newTape: 60,
  newTapeStrips: 150,
  /** Laying strips: getting the sheet ready, and each one cut, laid and smoothed. */
  layStrips: 40,
  perStrip: 18,
  liquidGlue: 90,
  newTabs: 45,
  newPaste: 30,
  newFoil: 25,
  liners: 15,
  fit: 12,
  fitBonded: 20,
  snapLatchEach: 2,
  renewPart: 30,
  transferLayOut: 10,
  gate: 10,
  powerOn: 45,
  perTest: 20,
  pressByHand: 30,
  /** An inner tape, foam, pad or foil, with a fingertip. */
  pressPad: 10,
  liftOffPad: 20,
  inspectGasket: 30,
  tapeDown: 25,
  leakTest: 90,
  easeOpen: 10,
  powerOffAfterTest: 10,
  confirmLoss: 10,
  checkBrought: 10,
  /** Setting clips, bands or a weight on a new bond; how long it then stands, its pressing says. */
  clamp: 20,
  setClip: 3,
} as const;

/** Common practice: 70 °C on a mat about 5 min; a gun about 2 min for one half, then the other; a pack 1 to 2 min an edge. */
export const HEAT: Record<HouseRules['heat'], { hands: number; wait: number; set: number }> = {
  mat: { hands: SECONDS.setUpHeat, wait: 300, set: 70 },
  pad: { hands: SECONDS.setUpHeat, wait: 360, set: 60 },
  gun: {
    hands: SECONDS.setUpHeat + 240,
    wait: 0,
    set: 80,
  },
  'gel-pack': { hands: SECONDS.setUpHeat + 60, wait: 360, set: 80 },
  dryer: { hands: SECONDS.setUpHeat + 420, wait: 0, set: 60 },
};

/** Is it turned with a driver? What is pulled or pressed never is. */
export const isTurned = ({ kind, drive }: Pick<Fastener, 'kind' | 'drive'>): boolean =>
  drive !== 'none' && FASTENERS.of(kind).turned;
