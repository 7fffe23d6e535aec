export type { Lag, Problem, Schedule, Task } from './problem.ts';
export { EXACT_BUDGET, schedule, type SearchOptions } from './schedule.ts';
// The same problem for solvers outside, and problems made up to set both side by side.
export { lpOf } from './milp.ts';
export { randomProblem } from './randomProblem.ts';
