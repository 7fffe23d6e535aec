export { calledOut, classesOf, screwClass, type ScrewClass, type ScrewShape } from './classes.ts';
export {
  alike,
  dangerTable,
  EYE,
  FIT,
  fitOf,
  lookAlikes,
  underHole,
  type Danger,
  type Fit,
  type FitKind,
  type LookAlike,
} from './fit.ts';
export {
  lotsOf,
  planLots,
  TRAY_COST,
  trayCost,
  trayPlan,
  wellLabel,
  type Lot,
  type Pairs,
  type TrayPlan,
  type TraySize,
} from './tray.ts';
export { wellsOf, type Wells } from './wells.ts';
export { assign, costIfRestricted, type Assignment } from './assign.ts';
export {
  HOLD_BACK,
  misfit,
  readAgain,
  READING,
  sortSpill,
  type Measure,
  type Piece,
  type Sorted,
  type Sorting,
} from './sort.ts';
export { fastenersCsv, parseCsv, readFasteners, readPieces } from './csv.ts';
export { recessPath } from './glyph.ts';
export { screwMap } from './sheet.ts';
export {
  DEFAULT_TORQUE,
  judgeTorque,
  pitchOf,
  torqueTarget,
  TORQUE_TOLERANCE,
  TORQUE_VERDICTS,
  type TorqueSample,
  type TorqueTarget,
  type TorqueVerdict,
} from './torque.ts';
export { equivalentsOf, type Equivalent, type StockItem } from './stock.ts';
