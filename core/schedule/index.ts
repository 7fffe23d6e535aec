export type { Lag, Problem, Schedule, Task } from './problem.ts';
export { EXACT_BUDGET, schedule, type SearchOptions } from './schedule.ts';
