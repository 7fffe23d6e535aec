export { chargeAt, inSeries, layoutOf, newOhms, ratingOf, restVolts, wattHoursOf, type Rating } from './cell.ts';
export {
  CHARGE_LIMIT,
  DRAW_WARMEST,
  drawSeconds,
  mostLoad,
  OWN_DRAWS,
  type DrawWay,
  ownLoad,
  type CellState,
  type Draw,
} from './discharge.ts';
export {
  HEALTH_LIMITS,
  healthOf,
  leastWaitHours,
  MEASURE_LIMITS,
  measureFault,
  METER,
  resistanceOf,
  worstOf,
  type MeasureOf,
  type CellMeasures,
  type Finding,
  type Grade,
  type LoadSample,
  type Resistance,
} from './health.ts';
export {
  CELL_MARKS,
  REMOVALS,
  refitOf,
  type CellMark,
  type CellSeen,
  type CellVerdict,
  type RefitDecision,
  type Removal,
} from './refit.ts';
export { compareCell, monthsSince, NEW_CELL, wantedCell, type CellFit, type NewCell } from './newCell.ts';
export { FLOWN_CHARGE, SMALL_BATTERY, SMALL_CELL, STORAGE_CHARGE, transportOf, type Transport } from './transport.ts';
export { EMERGENCIES, EMERGENCY_ACTS, EMERGENCY_RULE, type Emergency } from './emergency.ts';
export {
  CELL_RULES,
  cellRulesFormat,
  FEWEST_COUPONS,
  type CellRules,
  type TransplantRules,
  type WeldRecord,
} from './rules.ts';
export {
  provedWelds,
  TRANSPLANT_FIRST,
  transplantFault,
  transplantFaults,
  transplantRefusals,
  transplantState,
  transplantSteps,
  type BareCell,
  type OldPack,
  type TransplantCheck,
  type TransplantDone,
  type TransplantState,
  type TransplantStep,
} from './transplant.ts';
export type {
  FindingMessage,
  LayoutMessage,
  NewCellMessage,
  ReadingMessage,
  RefitMessage,
  WantedMessage,
} from './messages.ts';
