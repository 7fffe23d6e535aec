import { Heap } from './heap.ts';
import type { Problem, Schedule } from './problem.ts';
import {
  afterItsTwin,
  better,
  candidates,
  extend,
  freeTask,
  keyOf,
  noWorse,
  pathOf,
  startState,
  type State,
} from './search.ts';
import { impossible, tablesOf, type Tables } from './tables.ts';
import { timing, type Times } from './timing.ts';

export interface SearchOptions {
  /** States the exact search may expand before it is given up; 0 takes the first good order without searching. */
  budget?: number;
  /** Only orders that end before this are of interest; `null` is returned when it is proved that there is none. */
  below?: number | undefined;
  /** Counts the states expanded, over all searches it is handed to. */
  tally?: { expanded: number };
  /** Told now and then: states expanded, the best end known, the bound so far. */
  onProgress?: (progress: { expanded: number; best: number | null; lowerBound: number }) => void;
}

/** Origin: measured here; a dive of 200 items stays within two seconds. */
const EXACT_BUDGET = 16_000;

/** States that a search of so many tasks may expand unless told otherwise: one of a large problem takes longer. */
export const budgetFor = (tasks: number): number =>
  Math.round(EXACT_BUDGET * Math.min(1, 100 / Math.max(1, tasks)) ** 2);

/** Expansions before a first complete order is looked for, to cut off what cannot beat it. Origin: measured. */
const FIRST_LOOK = 1500;
/**
 * Width of the beam for up to 60 tasks, and how many single steps its improvement may try. Origin: measured, so that
 * 200 items stay under two seconds.
 */
const BEAM_WIDTH = 24;
const IMPROVE_STEPS = 30_000;
/** Single steps that the tidying of the hand's way may follow. Origin: measured, a few tens of ms. */
const TIDY_STEPS = 40_000;
const PROGRESS_EVERY = 500;
const EPS = 1e-6;

/** What a search came to. */
export interface Outcome {
  /** The quickest order found; `null` where there is none, or none that ends before `options.below` was found. */
  found: Schedule | null;
  /** It is proved that no order ends before this; infinite where there is no order at all. */
  lowerBound: number;
}

/**
 * The quickest order of the tasks. Exact by A* over the downsets of the precedence graph, with the last
 * tool, the face that is up and the running waits as state; dominated states are dropped. Past its budget
 * the best order of a beam, improved by moving single tasks, stands, and the gap to the bound is told.
 * @returns `null` when no order exists because a turn-over would always fall while something is swung open,
 *   or none that ends before `options.below`
 * @throws Error for senseless numbers, or when the precedence holds a circle
 */
export function schedule(problem: Problem, options: SearchOptions = {}): Schedule | null {
  return search(problem, options).found;
}

/** As `schedule`, with what is proved of all orders where none is found. */
export function search(problem: Problem, options: SearchOptions = {}): Outcome {
  const tables = tablesOf(problem);
  const share = Math.min(1, 60 / Math.max(1, tables.n));
  const width = Math.max(2, Math.round(BEAM_WIDTH * share));
  const budget = options.budget ?? budgetFor(tables.n);
  const below = options.below ?? Number.POSITIVE_INFINITY;
  if (impossible(tables)) return { found: null, lowerBound: Number.POSITIVE_INFINITY };
  const start = startState(tables);
  const frontier = new Heap<State>(better);
  const known: Known = new Map();
  frontier.push(start);
  let lowerBound = start.bound;
  let expanded = 0;
  let best: State | null = null;
  const outcome = (state: State | null, bound: number): Outcome => ({
    found:
      state && state.t < below - EPS
        ? told(tables, tidied(tables, start, state), Math.min(bound, state.t), expanded)
        : null,
    lowerBound: bound,
  });

  while (frontier.size > 0 && expanded < budget) {
    const state = frontier.pop();
    if (state.dominated) continue;
    lowerBound = Math.max(lowerBound, state.bound);
    if (best && state.bound >= best.t - EPS) return outcome(best, best.t);
    if (state.bound >= below - EPS) return outcome(best, lowerBound);
    if (state.count === tables.n) return outcome(state, state.t);
    expanded++;
    if (options.tally) options.tally.expanded++;
    const free = freeTask(tables, state);
    for (const task of free === null
      ? candidates(tables, state).filter((i) => !afterItsTwin(tables, state, i))
      : [free])
      for (const child of extend(tables, state, task)) {
        if ((best === null || child.bound < best.t - EPS) && keep(tables, known, child)) frontier.push(child);
      }
    if (expanded === FIRST_LOOK) best = shorter(best, firstLook(tables, start, width));
    if (options.onProgress && expanded % PROGRESS_EVERY === 0)
      options.onProgress({ expanded, best: best?.t ?? null, lowerBound });
  }
  // Everything was seen: what is known is the best, or there is no order at all.
  if (frontier.size === 0) return outcome(best, best ? best.t : Number.POSITIVE_INFINITY);
  while (frontier.size > 0 && frontier.peek()!.dominated) frontier.pop();
  if (frontier.size > 0) lowerBound = Math.max(lowerBound, frontier.peek()!.bound);
  best = shorter(best, (budget === 0 ? beam(tables, start, 1) : null) ?? firstLook(tables, start, width));
  // What forbids a turn-over leads narrow beams into dead ends.
  for (const wider of [4, 16]) best ??= firstLook(tables, start, width * wider);
  return outcome(best, best ? Math.min(lowerBound, best.t) : lowerBound);
}

type Known = Map<string, { times: number[]; state: State }[]>;

/** Notes a state; false when one that is never worse is known already. Those it is never worse than are marked. */
function keep(tables: Tables, known: Known, state: State): boolean {
  const { key, times } = keyOf(tables, state);
  const list = known.get(key);
  if (!list) {
    known.set(key, [{ times, state }]);
    return true;
  }
  for (const other of list) if (noWorse(other.times, times)) return false;
  for (let i = list.length - 1; i >= 0; i--)
    if (noWorse(times, list[i]!.times)) {
      list[i]!.state.dominated = true;
      list.splice(i, 1);
    }
  list.push({ times, state });
  return true;
}

function shorter(a: State | null, b: State | null): State | null {
  if (!a || !b) return a ?? b;
  return b.t < a.t - 1e-6 ? b : a;
}

function told(tables: Tables, state: State, lowerBound: number, expanded: number): Schedule {
  const path = pathOf(state);
  // A state keeps the times of its own moment; limits kept later may have moved what came before.
  const times = timing(tables, path)!;
  const redone = path.flatMap(({ task, redone: bits }) => tables.lagsInto[task]!.filter((_, bit) => (bits >> bit) & 1));
  return {
    order: path.map((p) => p.task),
    starts: startsOf(tables, path, times),
    redone,
    makespan: times.end,
    lowerBound,
    proved: times.end <= lowerBound + 1e-6,
    expanded,
  };
}

function startsOf(tables: Tables, path: readonly { task: number; redone: number }[], times: Times): number[] {
  const starts = new Array<number>(tables.n).fill(0);
  for (const { task } of path) starts[task] = times.endOf[task]! - tables.hands[task]!;
  return starts;
}

/** A beam over the same states, then single tasks moved to where they fit better. */
function firstLook(tables: Tables, start: State, width: number): State | null {
  const found = beam(tables, start, width);
  return found && improve(tables, start, found);
}

function beam(tables: Tables, start: State, width: number): State | null {
  let front = [start];
  for (let depth = 0; depth < tables.n; depth++) {
    const best = new Map<string, State>();
    for (const state of front) {
      const free = freeTask(tables, state);
      for (const task of free === null ? candidates(tables, state) : [free]) {
        for (const child of extend(tables, state, task)) {
          const { key } = keyOf(tables, child);
          const other = best.get(key);
          if (!other || better(child, other)) best.set(key, child);
        }
      }
    }
    front = [...best.values()].sort((a, b) => (better(a, b) ? -1 : better(b, a) ? 1 : 0)).slice(0, width);
    if (front.length === 0) return null;
  }
  return front[0]!;
}

/** Follows an order, keeping every limit where it can be kept and redoing it where that is quicker. `null` when it breaks a rule. */
function follow(tables: Tables, start: State, order: readonly number[]): State | null {
  let state = start;
  for (const task of order) {
    for (let w = 0; w < tables.words; w++) if (tables.needs[task]![w]! & ~state.done[w]!) return null;
    const children = extend(tables, state, task);
    if (children.length === 0) return null;
    state = children.reduce((a, b) => (b.t < a.t - 1e-6 ? b : a));
  }
  return state;
}

/** How far a single task is moved in one try, places. */
const MOVES = [-8, -6, -5, -4, -3, -2, -1, 1, 2, 3, 4, 5, 6, 8];

function improve(tables: Tables, start: State, first: State): State {
  let best = first;
  let steps = 0;
  for (let rounds = 0; rounds < 4; rounds++) {
    const order = pathOf(best).map((p) => p.task);
    let moved = false;
    for (let from = 0; from < order.length && !moved; from++) {
      for (const by of [-6, -4, -3, -2, 2, 3, 4, 6]) {
        const to = from + by;
        if (to < 0 || to >= order.length) continue;
        steps += order.length;
        if (steps > IMPROVE_STEPS) return best;
        const trial = order.toSpliced(from, 1).toSpliced(to, 0, order[from]!);
        const state = follow(tables, start, trial);
        if (state && state.t < best.t - 1e-6) {
          best = state;
          moved = true;
          break;
        }
      }
    }
    if (!moved) break;
  }
  return best;
}

/** The way of the hand over the device, mm. */
function wayOfHand(tables: Tables, order: readonly number[]): number {
  let way = 0;
  let last: readonly [number, number] | null = null;
  for (const task of order) {
    const at = tables.at[task]!;
    if (at === null) continue;
    if (last) way += Math.hypot(at[0] - last[0], at[1] - last[1]);
    last = at;
  }
  return way;
}

/** Of equally quick orders one with a shorter way of the hand: single tasks moved as long as that helps. */
function tidied(tables: Tables, start: State, first: State): State {
  if (tables.at.every((at) => at === null)) return first;
  let best = first;
  let order = pathOf(first).map((p) => p.task);
  let way = wayOfHand(tables, order);
  let steps = 0;
  for (let moved = true; moved; ) {
    moved = false;
    for (let from = 0; from < order.length; from++) {
      for (const by of MOVES) {
        const to = from + by;
        if (to < 0 || to >= order.length) continue;
        const trial = order.toSpliced(from, 1).toSpliced(to, 0, order[from]!);
        const shorterWay = wayOfHand(tables, trial);
        if (shorterWay >= way - 0.5) continue;
        steps += order.length;
        if (steps > TIDY_STEPS) return best;
        const state = follow(tables, start, trial);
        if (!state || state.t > best.t + EPS) continue;
        best = state;
        order = trial;
        way = shorterWay;
        moved = true;
      }
    }
  }
  return best;
}
