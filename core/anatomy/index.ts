export * from './types.ts';
export { completed } from './complete.ts';
export { batteryFault, cellLayout, NOMINAL_VOLTS, type CellLayout } from './battery.ts';
export { bodyOfPart } from './bodies.ts';
export { pressedBy } from './gaskets.ts';
export { railsLive } from './rails.ts';
export { versionOf } from './version.ts';
export { functionIn, functionsOfKind, USUAL_FUNCTIONS } from './functions.ts';
export { blankAnatomy } from './blank.ts';
export { SHAPE_LIMITS } from './shape.ts';
export { warningsOf, worthFilling } from './warnings.ts';
export { faultsOf, findCycle } from './faults.ts';
export { readAnatomy, readAnatomyText, parseJson } from './read.ts';
export { faultsOfJoi, type Reading } from '../format/index.ts';
export { BONDS, CATCHES, CONNECTORS, FASTENERS } from '../kinds/index.ts';
export { modelOf, placementsOf, throughExits, type Model } from './model.ts';
export {
  areaCovered,
  areaOf,
  bondLength,
  bondRegion,
  boundsOf,
  boundsOfRegion,
  centreOf,
  edgeStrip,
  insetOutline,
  outlineContains,
  outlineHolds,
  outlineLength,
  outlinesOverlap,
  rectAround,
  regionOf,
  regionsOverlap,
  ringOf,
  OUTSIDE_SHARE,
  shareCovered,
  ringsOf,
  type Region,
} from './geometry.ts';
