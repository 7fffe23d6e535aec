export {
  CLOSING_BENCH,
  closingBenchFormat,
  USUAL_TESTER,
  type ClipKind,
  type ClosingBench,
  type GlueProduct,
} from './bench.ts';
export { lengthOf, lineOf, lineWithin, runFrom, runOf, type Corner, type Run, type Stretch } from './run.ts';
export { freeZones, type Blocked, type FreeZone } from './freeZones.ts';
export { STAYS_OPEN, stripsOf, type StripOptions, type StripPlan } from './strips.ts';
export type { CornerStyle } from './joints.ts';
export { NoStrips, rimOf, STRIP_LIMITS, tapeFor, type Strip } from './tape.ts';
export { cutStock, NoStock, type Cut, type CutStock, type Piece, type Stock } from './stock.ts';
export { beadOf, FILM, settingOf, type BeadPlan, type Setting } from './bead.ts';
export { leastPressure } from './clips.ts';
export { pressOf, PRESS_SECONDS } from './press.ts';
export { checkWords, type Clip, type PressCheck, type PressPlan, type PressWay } from './pressPlan.ts';
export { weightsFor } from './weights.ts';
export { bendingStress, evenPressure, GLASS, inertiaOf, midwayShare, offsetLoad } from './plates.ts';
export {
  FIT_LIMITS,
  FIT_POINTS,
  judgeFit,
  type FitCause,
  type FitPoint,
  type FitReadings,
  type FitVerdict,
} from './fit.ts';
export {
  leakOf,
  leakOutcome,
  STANDARD_AIR,
  type DecaySample,
  type DecayTest,
  type LeakMeasured,
  type LeakResult,
} from './decay.ts';
export { cutDay, KERF, type DayCut, type DayLane, type DayPiece } from './day.ts';
export { cutSheet } from './cutSheet.ts';
export type * from './messages.ts';
