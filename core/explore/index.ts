export {
  ACTS,
  ACT_SPECS,
  specOf,
  THING_TYPES,
  type Act,
  type ActFile,
  type ActKind,
  type ActSpec,
  type Doing,
  type Leads,
  type Mark,
  type Sight,
  type ThingType,
  type UnknownDevice,
} from './acts.ts';
export { readActs, sightSchema } from './readActs.ts';
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
