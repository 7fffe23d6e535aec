export * from './types.ts';
export { givesUp, type Change, type LossReason, type Remedy } from './changes.ts';
export type * from './hints.ts';
export type { PlainReason, Reason, Relation } from './graph/reasons.ts';
export { currentPlan, type PlanOne } from './planOne.ts';
export { CAUTIONS, type Caution } from './house/cautions.ts';
export { DEFAULT_RULES, readOldRules, readRules, rulesFormat, type HouseRules } from './house/rules.ts';
export { ALL_TOOLS, toolOf, type HandTool, type Tool } from './house/tools.ts';
export {
  beadUnder,
  pressHint,
  pressUnder,
  ringHint,
  stripHints,
  stripNotes,
  stripsUnder,
  tapeHint,
} from './house/sealing.ts';
export { BOND_KINDS, type BondWork } from './house/bondKinds.ts';
export { consumablesOf, newBonds, type Consumable } from './report/consumables.ts';
export { SECONDS, HEAT } from './house/times.ts';
export { StepGraph, coversOf } from './graph/stepGraph.ts';
export { measureDepth, pairLimbs, setTimes, totalsOf } from './order/number.ts';
export {
  ACTION_KINDS,
  keyOf,
  actionOf,
  type Action as DiveAction,
  type ActionKey,
  type ActionKind,
} from './graph/keys.ts';
export { planDive, type PlanOptions } from './plan.ts';
export { planOn } from './planOn.ts';
export { keepRecipesIn, recipeHint, type KeptRecipe, type RecipeStore } from './entry/heating.ts';
export { nameSteps, stepIds, type NamedWork } from './order/stepIds.ts';
export { functionsOn, proofRestsOn, undoesProof } from './proof.ts';
export { planFormat, planOneFormat } from './planFormat.ts';
export { checkerFor, checkPlan, needless } from './judged.ts';
export { stepItemName } from './report/stepItemName.ts';
export { depthTable, reachOf, type Depth, type Unplanned, type Unreached } from './report/reach.ts';
export { accessOf, isUndone, type Access } from './report/access.ts';
export { newPartsOf, undoingOf } from './graph/choices.ts';
export { chainOf, type Link } from './report/chain.ts';
export { comparePlans, extrasOf, type Comparison, type Extra } from './report/weigh.ts';
export { timesOf, type Times } from './report/times.ts';
