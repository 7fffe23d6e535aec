export { readEvent, type EventReading } from './readEvent.ts';
export {
  BOND_WAITS,
  CELL_READINGS,
  CIRCUMSTANCES,
  COUNTER_MADE,
  DEVIATIONS,
  DEVIATION_FACTS,
  EARLY_ENDS,
  isCounterMade,
  isServerMade,
  lastChange,
  OUTCOMES,
  PARKED_WHYS,
  SERVER_MADE,
  stepOf,
  WAIT_KINDS,
  WHICH_CELLS,
  type Circumstance,
  type CounterMade,
  type DeviationKind,
  type EarlyEnd,
  type Edited,
  type EventBody,
  type ParkedWhy,
  type EventType,
  type Planned,
  type Replanned,
  type RunEvent,
  type SentEvent,
  type ServerMade,
  type CellMeasured,
  type CellReading,
  type Stamp,
  type TestOutcome,
  type WaitKind,
  type WhichCell,
  type TurnedRound,
} from './events.ts';
export { actFileOf } from './fieldDive.ts';
export { runContext, stepAt, withWells, type RunContext } from './context.ts';
export { Folding, foldOn, foldRun } from './fold.ts';
export { vouchedText } from './vouched.ts';
export {
  beyondAgreed,
  circumstanceNow,
  conditionNow,
  isClosed,
  itemWise,
  lossesToAgree,
  mayTakeBack,
  isOver,
  priceDue,
  sameWork,
  screwToMeasure,
  priceNow,
  type Action,
  type Agreement,
  type CounterState,
  type Deviation,
  type RunState,
  type TestResult,
  type Timer,
} from './state.ts';
export {
  coolingId,
  COOLING_SECONDS,
  isCooling,
  runsBeside,
  timerId,
  timerLeft,
  waitsBefore,
  type WaitBefore,
} from './timers.ts';
export {
  cellJudgement,
  readingFault,
  fitOf,
  ownWaits,
  transplantNow,
} from './care.ts';
export { cellKey, type CareState, type CellRecord, type LeakTest } from './careState.ts';
export { foundSince, gateBlockers, isProved, toProve, type Blocker } from './gates.ts';
export { admit, type Refusal } from './admit.ts';
export type { BlockerMessage, LackMessage, NoteMessage, RefusalMessage, ReplanReason } from './messages.ts';
export { itemsLeft, moveAt, moveItem, type Move } from './next.ts';
export { proposeReplan, replanFrom, type ReplanRequest, type Replan } from './replan.ts';
export { upgradeLog, type OldEvent } from './upgrade.ts';
export { tryNow, type Trial, type TrialMove } from './tryNow.ts';
