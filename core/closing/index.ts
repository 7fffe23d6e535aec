export {
  CLOSING_BENCH,
  closingBenchSchema,
  USUAL_TESTER,
  type ClipKind,
  type ClosingBench,
  type GlueProduct,
} from './bench.ts';
export { lengthOf, lineOf, lineWithin, runFrom, runOf, type Corner, type Run, type Stretch } from './run.ts';
export { distanceTo, freeZones, type Blocked, type FreeZone } from './freeZones.ts';
export {
  areaOfStrips,
  NoStrips,
  STRIP_LIMITS,
  stripsOf,
  tapeFor,
  type CornerStyle,
  type Strip,
  type StripOptions,
  type StripPlan,
} from './strips.ts';
export { cutStock, NoStock, type Cut, type CutStock, type Piece, type Stock } from './stock.ts';
export { beadOf, FILM, settingOf, type BeadPlan, type Setting } from './bead.ts';
export {
  pressOf,
  PRESS_SECONDS,
  PRESSURE,
  weightsFor,
  type Clip,
  type PressCheck,
  type PressPlan,
  type PressWay,
} from './press.ts';
export { bendingStress, centreLoad, evenPressure, GLASS, inertiaOf, midwayShare, offsetMoment } from './plates.ts';
export {
  FIT_LIMITS,
  FIT_POINTS,
  judgeFit,
  type FitCause,
  type FitPoint,
  type FitReadings,
  type FitVerdict,
} from './fit.ts';
export { leakOf, STANDARD_AIR, type DecaySample, type DecayTest, type LeakResult } from './decay.ts';
export { cutDay, type DayCut, type DayLane, type DayPiece } from './day.ts';
export { cutSheet, rimOf } from './cutSheet.ts';
