export { HANDS, type Guard, type Lag, type Problem, type Schedule, type Task } from './problem.ts';
export { budgetFor, schedule, search, type Outcome, type SearchOptions } from './schedule.ts';
// The same problem for solvers outside, and problems made up to set both side by side.
export { lpOf } from './milp.ts';
export { randomProblem } from './randomProblem.ts';
