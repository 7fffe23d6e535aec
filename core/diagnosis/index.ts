export { checkNetwork, type Cause, type Finding, type Network } from './network.ts';
export { infer, type Posterior } from './infer.ts';
export { CAUSES, CHANCES, ERRORS, FOUND_ON, LOOK, SLOW, TELLTALE, type CauseKind, type Chance } from './chances.ts';
export { effectsOf, effectsOfSpare, type Effect } from './effects.ts';
export {
  networkOf,
  type DiveNetwork,
  type DiveRecord,
  type Rates,
  type Stage,
  type Telltale,
  type TestMade,
} from './afterDive.ts';
export {
  CHECK_IDS,
  CHECKS,
  likelyCauses,
  outcomesOf,
  SYMPTOMS,
  WATER_ADVICE,
  worthChecking,
  type CheckId,
  type CheckValue,
  type Complaint,
  type Likely,
  type Sort,
  type Symptom,
} from './complaint.ts';
export type { SuspectMessage, TelltaleMessage } from './messages.ts';
export { learntOf, meanOf, priorOf, ratesOf, type Beta, type Cases } from './learn.ts';
export { expectedSeconds, needsOn, priceOf, searchOrder, type Candidate, type Price } from './search.ts';
export {
  diagnose,
  failedNow,
  wayBackOrder,
  type Diagnosis,
  type NextLook,
  type Suspect,
} from './suspects.ts';
export { START_KINDS, START_LIMITS, startKindOf, type StartKind, type SupplySample } from './startCurrent.ts';
