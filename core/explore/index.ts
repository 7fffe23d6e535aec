export {
  ACTS,
  ACT_SPECS,
  specOf,
  THING_TYPES,
  type ActKind,
  type ActSpec,
  type Doing,
  type ThingType,
} from './acts.ts';
export {
  sightFormat,
  type Act,
  type ActFile,
  type Leads,
  type Mark,
  type Sight,
  type UnknownDevice,
} from './format.ts';
export { readActs } from './readActs.ts';
export {
  countsOf,
  isOpened,
  openDevice,
  SAME_LENGTH,
  type Counts,
  type Oddity,
  type OpenDevice,
  type Thing,
} from './state.ts';
export { isBeside, placeBeside, warningsFor, type Bench, type Warning, type WarningMessage } from './warn.ts';
export { actsOfPlan, chanceOf, USUAL_HAND, type ActsOptions, type Chance, type Hand } from './fromPlan.ts';
