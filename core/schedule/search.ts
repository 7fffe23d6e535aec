import { add, ANY_FACE, forbids, has, within, type Bits, type Tables } from './tables.ts';
import { timing } from './timing.ts';

/** A partial order of the tasks, its earliest times, and what is known of its best completion. */
export interface State {
  parent: State | null;
  /** The task added last, and the lags (bits by index into its incoming lags) redone before it. */
  task: number;
  redone: number;
  count: number;
  done: Bits;
  tool: number;
  face: number;
  /** The task that has to come next on the device, or -1. */
  due: number;
  /** End of the last task, and the time from which the device may be worked on again. */
  t: number;
  free: number;
  /** End of the hands-on work of a lag's source, by lag; NaN while it is not running. */
  ends: Float64Array;
  /** Tasks that may be done next. */
  ready: number[];
  /** Hands-on time still to come. */
  left: number;
  /** No completion ends before this. */
  bound: number;
  untidy: number;
  dominated: boolean;
}

const EPS = 1e-6;

export function startState(tables: Tables): State {
  const state: State = {
    parent: null,
    task: -1,
    redone: 0,
    count: 0,
    done: new Uint32Array(tables.words),
    tool: tables.startTool,
    face: tables.startFace,
    due: -1,
    t: 0,
    free: 0,
    ends: new Float64Array(tables.lags.length).fill(Number.NaN),
    left: tables.hands.reduce((sum, h) => sum + h, 0),
    bound: 0,
    untidy: 0,
    dominated: false,
    ready: [],
  };
  for (let i = 0; i < tables.n; i++) if (tables.needs[i]!.every((word) => word === 0)) state.ready.push(i);
  state.bound = boundOf(tables, state);
  return state;
}

/** The ways to do `task` next: one, or more when a limit is passed and may be redone or kept by working later before it. */
export function extend(tables: Tables, state: State, task: number): State[] {
  const turns = tables.face[task] !== ANY_FACE && tables.face[task] !== state.face;
  if (tables.onDevice[task] && state.due >= 0 && task !== state.due) return [];
  if (turns && forbids(tables, state.done, false)) return [];
  if (tables.shut[task] && forbids(tables, state.done, true)) return [];
  let arrival = state.t + toolCost(tables, task, state.tool) + (turns ? tables.turnOver : 0);
  if (tables.onDevice[task]) arrival = Math.max(arrival, state.free);
  const into = tables.lagsInto[task]!;
  for (const l of into) arrival = Math.max(arrival, state.ends[l]! + tables.lags[l]!.least);
  let late = 0;
  for (let bit = 0; bit < into.length; bit++) {
    const { most } = tables.lags[into[bit]!]!;
    if (most !== null && arrival > state.ends[into[bit]!]! + most + EPS) late |= 1 << bit;
  }
  if (late === 0) {
    const child = childOf(tables, state, task, arrival, 0);
    child.bound = Math.max(state.bound, boundOf(tables, child));
    return [child];
  }
  const found: State[] = [];
  // Every late limit is either redone, or kept by doing what started it later.
  for (let redone = late; ; redone = (redone - 1) & late) {
    const child =
      redone === late
        ? childOf(tables, state, task, arrival + redoTime(tables, task, redone), redone)
        : later(tables, childOf(tables, state, task, arrival, redone));
    if (child) {
      child.bound = Math.max(state.bound, boundOf(tables, child));
      found.push(child);
    }
    if (redone === 0) break;
  }
  return found;
}

/** What taking up the tool of a task costs with another in hand. */
export function toolCost(tables: Tables, task: number, held: number): number {
  const tool = tables.first[task]!;
  return tool >= 0 && tool !== held && tool !== tables.barehanded ? tables.toolChange : 0;
}

/** The tasks that may be tried next. */
export function candidates(tables: Tables, state: State): number[] {
  if (state.due < 0) return state.ready;
  return state.ready.filter((i) => i === state.due || !tables.onDevice[i]);
}

function redoTime(tables: Tables, task: number, redone: number): number {
  return tables.lagsInto[task]!.reduce((sum, l, bit) => sum + ((redone >> bit) & 1 ? tables.lags[l]!.redo : 0), 0);
}

function childOf(tables: Tables, state: State, task: number, start: number, redone: number): State {
  const end = start + tables.hands[task]!;
  const done = state.done.slice();
  add(done, task);
  let { ends } = state;
  if (tables.lagsInto[task]!.length + tables.lagsFrom[task]!.length > 0) {
    ends = ends.slice();
    for (const l of tables.lagsInto[task]!) ends[l] = Number.NaN;
    for (const l of tables.lagsFrom[task]!) ends[l] = end;
  }
  const ready: number[] = [];
  for (const i of state.ready) if (i !== task) ready.push(i);
  for (const j of tables.next[task]!) if (within(tables.needs[j]!, done)) ready.push(j);
  return {
    parent: state,
    task,
    redone,
    count: state.count + 1,
    done,
    tool: tables.last[task]! >= 0 ? tables.last[task]! : state.tool,
    face: tables.face[task] === ANY_FACE ? state.face : tables.face[task]!,
    due: tables.onDevice[task] ? tables.then[task]! : state.due,
    t: end,
    free: tables.onDevice[task] ? Math.max(state.free, end + tables.holds[task]!) : state.free,
    ends,
    ready,
    left: state.left - tables.hands[task]!,
    bound: 0,
    untidy: state.untidy + tables.rank[task]! * (tables.n - state.count),
    dominated: false,
  };
}

/** The same order with what started a late limit done later, or `null` when that cannot be. */
function later(tables: Tables, child: State): State | null {
  const times = timing(tables, pathOf(child));
  if (!times) return null;
  const ends = child.ends.slice();
  for (let l = 0; l < ends.length; l++) if (!Number.isNaN(ends[l]!)) ends[l] = times.endOf[tables.lags[l]!.from]!;
  return { ...child, t: times.end, free: times.free, ends };
}

export function pathOf(state: State): { task: number; redone: number }[] {
  const path: { task: number; redone: number }[] = [];
  for (let at: State | null = state; at && at.task >= 0; at = at.parent)
    path.push({ task: at.task, redone: at.redone });
  return path.reverse();
}

/**
 * The end of any completion lies at or after this: all hands-on time and the setups that chains of
 * tasks force, with the idle time nothing can fill; and the longest path of waits.
 */
export function boundOf(tables: Tables, state: State): number {
  if (state.count === tables.n) return state.t;
  let path = state.t;
  let turns = 0;
  for (const i of state.ready) {
    const from = tables.onDevice[i] ? Math.max(state.t, state.free) : state.t;
    path = Math.max(path, from + tables.tail[i]!);
    turns = Math.max(turns, tables.turns[i * tables.faces + state.face]!);
  }
  let setups = turns * tables.turnOver;
  for (let tool = 0; tool < tables.tools; tool++) {
    const table = tables.runs[tool]!;
    const held = state.tool === tool ? 1 : 0;
    let runs = 0;
    for (const i of state.ready) runs = Math.max(runs, table[i * 2 + held]!);
    if (runs > 0) {
      // A tool that some task ends with comes for nothing to the next.
      for (const i of tables.handsOver[tool]!) if (!has(state.done, i)) runs--;
      setups += Math.max(0, runs) * tables.toolChange;
    }
  }
  let idle = 0;
  for (const l of tables.idleInTurn) {
    const lag = tables.lags[l]!;
    if (!has(state.done, lag.from)) idle += tables.idle[l]!;
    else if (!has(state.done, lag.to)) idle += unfilled(tables, state, l, state.ends[l]! + lag.least);
  }
  for (let l = 0; l < tables.lags.length; l++) {
    const { from, to, least } = tables.lags[l]!;
    if (has(state.done, from) && !has(state.done, to)) path = Math.max(path, state.ends[l]! + least + tables.tail[to]!);
  }
  return Math.max(path, state.t + state.left + setups + idle);
}

/** Seconds of a running wait that what is left to do before its end cannot fill. */
function unfilled(tables: Tables, state: State, l: number, ready: number): number {
  const lag = tables.lags[l]!;
  let gap = ready - state.t;
  gap -= toolCost(tables, lag.to, -1) + (tables.face[lag.to] === ANY_FACE ? 0 : tables.turnOver);
  const held = state.free >= ready - EPS;
  for (let i = 0; i < tables.n && gap > 0; i++) {
    if (has(state.done, i) || i === lag.to || has(tables.descendants[lag.to]!, i)) continue;
    if (held && tables.onDevice[i] && !has(tables.ancestors[lag.to]!, i)) continue;
    gap -= tables.fills[i]!;
  }
  return Math.max(0, gap);
}

/**
 * A task that may as well be done at once: it needs no other tool and no turn-over, and every
 * task left that starts a wait comes after it anyway. Moving it forward in any order then costs nothing.
 */
export function freeTask(tables: Tables, state: State): number | null {
  if (state.due >= 0) return null;
  for (let l = 0; l < tables.lags.length; l++)
    if (tables.lags[l]!.most !== null && has(state.done, tables.lags[l]!.from) && !has(state.done, tables.lags[l]!.to))
      return null;
  let best: number | null = null;
  for (const i of state.ready) {
    if (tables.first[i]! >= 0 && tables.first[i] !== state.tool) continue;
    if (tables.last[i]! >= 0 && tables.last[i] !== state.tool) continue;
    if (tables.face[i] !== ANY_FACE && tables.face[i] !== state.face) continue;
    if (
      has(tables.sources, i) ||
      tables.lagsInto[i]!.some((l) => state.ends[l]! + tables.lags[l]!.least > state.t + EPS)
    )
      continue;
    if (tables.onDevice[i] && state.free > state.t + EPS) continue;
    if (tables.then[i]! >= 0 || tables.shut[i]) continue;
    if (has(tables.begins, i) && (otherFaceLeft(tables, state) || shutLeft(tables, state))) continue;
    let safe = true;
    for (let w = 0; w < tables.words && safe; w++)
      if (tables.sources[w]! & ~state.done[w]! & ~tables.descendants[i]![w]!) safe = false;
    if (!safe) continue;
    if (best === null || tables.rank[i]! < tables.rank[best]!) best = i;
  }
  return best;
}

/**
 * Whether `task` need not be tried here because an equal one that is open too goes first without loss: same
 * work, no waits, and whatever waits for `task` waits for the other as well, so that the two may change places.
 */
export function afterItsTwin(tables: Tables, state: State, task: number): boolean {
  if (
    tables.lagsInto[task]!.length + tables.lagsFrom[task]!.length > 0 ||
    tables.holds[task]! > 0 ||
    has(tables.marked, task)
  )
    return false;
  for (const other of state.ready) {
    if (
      other === task ||
      tables.hands[other] !== tables.hands[task] ||
      tables.first[other] !== tables.first[task] ||
      tables.last[other] !== tables.last[task]
    )
      continue;
    if (
      tables.face[other] !== tables.face[task] ||
      tables.onDevice[other] !== tables.onDevice[task] ||
      has(tables.marked, other) ||
      tables.holds[other]! > 0
    )
      continue;
    if (
      tables.lagsInto[other]!.length + tables.lagsFrom[other]!.length > 0 ||
      !within(tables.descendants[task]!, tables.descendants[other]!)
    )
      continue;
    if (other < task || !within(tables.descendants[other]!, tables.descendants[task]!)) return true;
  }
  return false;
}

function shutLeft(tables: Tables, state: State): boolean {
  for (let i = 0; i < tables.n; i++) if (tables.shut[i] && !has(state.done, i)) return true;
  return false;
}

function otherFaceLeft(tables: Tables, state: State): boolean {
  for (let i = 0; i < tables.n; i++)
    if (!has(state.done, i) && tables.face[i] !== ANY_FACE && tables.face[i] !== state.face) return true;
  return false;
}

/** From where on in the order a running limit can still move what was done; `null` when none runs. */
function tailStart(tables: Tables, state: State): State | null {
  const waiting = new Set<number>();
  for (const l of tables.limited) {
    const lag = tables.lags[l]!;
    if (has(state.done, lag.from) && !has(state.done, lag.to)) waiting.add(lag.from);
  }
  if (waiting.size === 0) return null;
  const inTail = new Set<number>();
  let at: State = state;
  while (waiting.size > 0 && at.parent) {
    inTail.add(at.task);
    waiting.delete(at.task);
    // A limit whose end lies in the tail and whose start does not reaches further back.
    for (const l of tables.lagsInto[at.task]!)
      if (tables.lags[l]!.most !== null && !inTail.has(tables.lags[l]!.from)) waiting.add(tables.lags[l]!.from);
    at = at.parent;
  }
  return at;
}

/**
 * States with the same key do the same work from here on; the times say which of them is never worse.
 * Times: end of the last task, then, unless all of it is past, when the device is free and each wait has run.
 */
export function keyOf(tables: Tables, state: State): { key: string; times: number[] } {
  const base = tables.limited.length > 0 ? tailStart(tables, state) : null;
  const at = base ?? state;
  const times = [at.t];
  if (at.free > at.t + EPS) times.push(at.free);
  for (let l = 0; l < at.ends.length; l++) {
    const ready = at.ends[l]! + tables.lags[l]!.least;
    if (!(ready > at.t + EPS)) continue;
    while (times.length < 2 + l) times.push(at.t);
    times[2 + l] = ready;
  }
  let key = '';
  for (let w = 0; w < tables.words; w++) key += String.fromCharCode(state.done[w]! & 0xffff, state.done[w]! >>> 16);
  key += String.fromCharCode(state.tool + 1, state.face, state.due + 1);
  if (base) for (let s: State = state; s !== base && s.parent; s = s.parent) key += `.${s.task}:${s.redone}`;
  return { key, times };
}

/** Whatever can follow on `b` can follow on `a`, and ends no later. */
export function noWorse(a: readonly number[], b: readonly number[]): boolean {
  const n = Math.max(a.length, b.length);
  for (let i = 0; i < n; i++) if ((a[i] ?? a[0]!) > (b[i] ?? b[0]!) + EPS) return false;
  return true;
}

export function better(a: State, b: State): boolean {
  if (Math.abs(a.bound - b.bound) > EPS) return a.bound < b.bound;
  if (a.count !== b.count) return a.count > b.count;
  return a.untidy < b.untidy;
}
