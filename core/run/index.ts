export { readEvent } from './readEvent.ts';
export {
  DEVIATIONS,
  type DeviationKind,
  type EventBody,
  type EventType,
  type Replanned,
  type RunEvent,
  type SentEvent,
  type Stamp,
  type TestOutcome,
} from './events.ts';
export {
  foldRun,
  itemWise,
  runContext,
  runsBeside,
  timerId,
  timerLeft,
  waitsBefore,
  type Deviation,
  type RunContext,
  type RunState,
  type TestResult,
  type Timer,
} from './fold.ts';
export { gateBlockers, GATE_NAMES, type Blocker } from './gates.ts';
export { admit, type Refusal } from './admit.ts';
export { itemsLeft, moveAt, moveItem, type Move } from './next.ts';
export { proposeReplan, replanFrom, type ReplanRequest, type Replan } from './replan.ts';
