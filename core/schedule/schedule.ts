import { Heap } from './heap.ts';
import type { Problem, Schedule } from './problem.ts';
import { afterItsTwin, better, extend, freeTask, keyOf, noWorse, pathOf, startState, type State } from './search.ts';
import { tablesOf, type Tables } from './tables.ts';
import { timing, type Times } from './timing.ts';

export interface SearchOptions {
  /** States the exact search may expand before it is given up; 0 takes the first good order without searching. */
  budget?: number;
  /** Only orders that end before this are of interest; `null` is returned when it is proved that there is none. */
  below?: number;
  /** Counts the states expanded, over all searches it is handed to. */
  tally?: { expanded: number };
  /** Told now and then: states expanded, the best end known, the bound so far. */
  onProgress?: (progress: { expanded: number; best: number | null; lowerBound: number }) => void;
}

/** Origin: measured here; a dive of 200 items stays within two seconds. */
export const EXACT_BUDGET = 16_000;
/** Expansions before a first complete order is looked for, to cut off what cannot beat it. Origin: measured. */
const FIRST_LOOK = 1500;
/** Width of the beam for up to 60 tasks, and how many single steps its improvement may try. Origin: measured, so that 200 items stay under two seconds. */
const BEAM_WIDTH = 24;
const IMPROVE_STEPS = 30_000;
const PROGRESS_EVERY = 500;

/**
 * The quickest order of the tasks. Exact by A* over the downsets of the precedence graph, with the last
 * tool, the face that is up and the running waits as state; dominated states are dropped. Past its budget
 * the best order of a beam, improved by moving single tasks, stands, and the gap to the bound is told.
 * @returns `null` when no order exists because a turn-over would always fall while something is swung open,
 *   or none that ends before `options.below`
 * @throws Error for senseless numbers, or when the precedence holds a circle
 */
export function schedule(problem: Problem, options: SearchOptions = {}): Schedule | null {
  const tables = tablesOf(problem);
  const share = Math.min(1, 60 / Math.max(1, tables.n));
  const width = Math.max(2, Math.round(BEAM_WIDTH * share));
  // A state of a large problem takes longer to expand.
  const budget = options.budget ?? Math.round(EXACT_BUDGET * Math.min(1, 100 / Math.max(1, tables.n)) ** 2);
  const heap = new Heap<State>(better);
  const known: Known = new Map();
  const start = startState(tables);
  heap.push(start);
  let lowerBound = start.bound;
  let expanded = 0;
  let best: State | null = null;
  const below = options.below ?? Number.POSITIVE_INFINITY;

  while (heap.size > 0 && expanded < budget) {
    const state = heap.pop();
    if (state.dominated) continue;
    if (state.bound >= below - 1e-6) return null;
    if (best && state.bound >= best.t - 1e-6) {
      lowerBound = best.t;
      return told(tables, best, lowerBound, expanded);
    }
    lowerBound = Math.max(lowerBound, state.bound);
    if (state.count === tables.n) return told(tables, state, state.t, expanded);
    expanded++;
    if (options.tally) options.tally.expanded++;
    const free = freeTask(tables, state);
    for (const task of free === null ? state.ready.filter((i) => !afterItsTwin(tables, state, i)) : [free])
      for (const child of extend(tables, state, task)) {
        if ((best === null || child.bound < best.t - 1e-6) && keep(tables, known, child)) heap.push(child);
      }
    if (expanded === FIRST_LOOK) best = shorter(best, firstLook(tables, start, width));
    if (options.onProgress && expanded % PROGRESS_EVERY === 0)
      options.onProgress({ expanded, best: best?.t ?? null, lowerBound });
  }
  if (heap.size === 0) return best ? told(tables, best, best.t, expanded) : null;
  while (heap.size > 0 && heap.peek()!.dominated) heap.pop();
  if (heap.size > 0) lowerBound = Math.max(lowerBound, heap.peek()!.bound);
  best = shorter(best, (budget === 0 ? beam(tables, start, 1) : null) ?? firstLook(tables, start, width));
  return best && told(tables, best, Math.min(lowerBound, best.t), expanded);
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
      for (const task of free === null ? state.ready : [free]) {
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

function improve(tables: Tables, start: State, first: State): State {
  let best = first;
  let steps = 0;
  for (let rounds = 0; rounds < 4; rounds++) {
    const order = pathOf(best).map((p) => p.task);
    let moved = false;
    for (let from = 0; from < order.length && !moved; from++) {
      for (const to of [from - 6, from - 4, from - 3, from - 2, from + 2, from + 3, from + 4, from + 6]) {
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
