import { checkProblem, HANDS, type Problem, type Task } from './problem.ts';

/** Sets of tasks as bits in 32-bit words. */
export type Bits = Uint32Array;
export const has = (bits: Bits, i: number): boolean => ((bits[i >>> 5]! >>> (i & 31)) & 1) === 1;
export const add = (bits: Bits, i: number): void => {
  bits[i >>> 5]! |= 1 << (i & 31);
};
export const within = (inner: Bits, outer: Bits): boolean => {
  for (let w = 0; w < inner.length; w++) if (inner[w]! & ~outer[w]!) return false;
  return true;
};

/** Are all of `after` done and none of `until`? */
export function guarding(guard: { after: Bits; until: Bits }, done: Bits): boolean {
  for (let w = 0; w < done.length; w++) if (guard.after[w]! & ~done[w]! || guard.until[w]! & done[w]!) return false;
  return true;
}

/** Is a turn-over, or with `hanging` a heating, forbidden while this is done? */
export function forbids(tables: Tables, done: Bits, hanging: boolean): boolean {
  return tables.guards.some((guard) => (!hanging || guard.hangs) && guarding(guard, done));
}

/** Work that is done however the device lies. */
export const ANY_FACE = 255;

/** A problem laid out for the search: plain arrays, and what can be known before it starts. */
export interface Tables {
  n: number;
  words: number;
  hands: Float64Array;
  first: Int16Array;
  last: Int16Array;
  /** How the device must lie, by number; `ANY_FACE` is however it lies. */
  face: Uint8Array;
  /** How many ways there are of lying. */
  faces: number;
  onDevice: Uint8Array;
  holds: Float64Array;
  /** The task that has to follow at once on the device, or -1. */
  then: Int16Array;
  shut: Uint8Array;
  guards: { after: Bits; until: Bits; hangs: boolean }[];
  /** Tasks that may begin a guard: done early, they may forbid a turn-over that is still to come. */
  begins: Bits;
  /** Tasks of which a guard, a successor or shutness makes more than a piece of work: never taken for another's twin. */
  marked: Bits;
  /** The tool that is bare hands, or -1. */
  barehanded: number;
  at: Task['at'][];
  rank: Float64Array;
  /** Direct predecessors, all ancestors, all descendants. */
  needs: Bits[];
  ancestors: Bits[];
  descendants: Bits[];
  next: number[][];
  /** Any topological order. */
  topo: number[];
  lags: Problem['lags'];
  lagsInto: number[][];
  lagsFrom: number[][];
  /** Lags with a limit. */
  limited: number[];
  /** Tasks that start a wait or are limited by one. */
  sources: Bits;
  tools: number;
  toolChange: number;
  turnOver: number;
  startTool: number;
  startFace: number;
  /** Forced runs of each tool along the longest chain from a task, `[tool][task * 2 + inHand]`. */
  runs: Int16Array[];
  /** Forced turn-overs along the longest chain from a task, `[task * faces + face up]`. */
  turns: Int16Array;
  /** Longest path of hands and least waits from the start of a task to the end of everything. */
  tail: Float64Array;
  /** Idle time of a lag that no allowed work can fill. */
  idle: Float64Array;
  /** Lags that never run at the same time, so that their idle times add up. */
  idleInTurn: number[];
  /** Tasks that end with a tool they did not begin with, by tool. */
  handsOver: number[][];
  /** Hands-on time and the most its setups and redoing can take, by task. */
  fills: Float64Array;
  /** Tasks that may fall between the two ends of a lag. */
  fill: Bits[];
}

/** @throws Error for senseless numbers, and when the precedence holds a circle */
export function tablesOf(problem: Problem): Tables {
  checkProblem(problem);
  const { tasks, lags } = problem;
  const precedence = precedenceOf(problem);
  const work = workTables(problem);
  const chains = chainTables(problem, precedence, work);
  const idling = idleTables(problem, precedence, work);
  return {
    ...precedence,
    ...work,
    ...guardTables(problem, precedence.words),
    ...chains,
    ...idling,
    at: tasks.map((t) => t.at),
    rank: Float64Array.from(tasks, (t) => t.rank),
    lags,
    limited: lags.flatMap((lag, l) => (lag.most === null ? [] : [l])),
    toolChange: problem.toolChange,
    turnOver: problem.turnOver,
  };
}

type Precedence = Pick<Tables, 'n' | 'words' | 'needs' | 'ancestors' | 'descendants' | 'next' | 'topo'>;

/** What comes before what, directly and through others. @throws Error when it holds a circle */
function precedenceOf({ tasks, lags }: Problem): Precedence {
  const n = tasks.length;
  const words = Math.max(1, (n + 31) >>> 5);
  const bits = () => new Uint32Array(words);
  const needs = tasks.map((task) => {
    const set = bits();
    for (const i of task.before) add(set, i);
    return set;
  });
  for (const lag of lags) add(needs[lag.to]!, lag.from);
  // What has to follow at once is ready by then.
  tasks.forEach((task, i) => {
    if (task.then === null) return;
    add(needs[task.then]!, i);
    for (let j = 0; j < n; j++) if (j !== i && tasks[j]!.onDevice && has(needs[task.then]!, j)) add(needs[i]!, j);
  });
  const next: number[][] = tasks.map(() => []);
  const before = needs.map(indices);
  before.forEach((list, j) => {
    for (const i of list) next[i]!.push(j);
  });
  const topo: number[] = [];
  const left = before.map((list) => list.length);
  const ready = left.flatMap((count, i) => (count === 0 ? [i] : []));
  while (ready.length > 0) {
    const i = ready.pop()!;
    topo.push(i);
    for (const j of next[i]!) if (--left[j]! === 0) ready.push(j);
  }
  if (topo.length < n) throw new Error('the precedence holds a circle');
  const ancestors = tasks.map(bits);
  for (const i of topo)
    for (const j of next[i]!) {
      for (let w = 0; w < words; w++) ancestors[j]![w]! |= ancestors[i]![w]!;
      add(ancestors[j]!, i);
    }
  const descendants = tasks.map(bits);
  for (let j = 0; j < n; j++) for (let i = 0; i < n; i++) if (has(ancestors[j]!, i)) add(descendants[i]!, j);
  return { n, words, needs, ancestors, descendants, next, topo };
}

type Work = Pick<
  Tables,
  | 'hands'
  | 'first'
  | 'last'
  | 'startTool'
  | 'tools'
  | 'barehanded'
  | 'face'
  | 'faces'
  | 'startFace'
  | 'onDevice'
  | 'holds'
  | 'lagsInto'
  | 'lagsFrom'
  | 'sources'
  | 'handsOver'
>;

/** The tasks as plain arrays, their tools numbered. */
function workTables({ tasks, lags, startTool, startFace }: Problem): Work {
  const lying = [...new Set([startFace, ...tasks.map((t) => t.face)])].filter((face) => face !== 'edge');
  const toolIds = new Map<string, number>();
  const toolOf = (tool: string | null) => {
    if (tool === null) return -1;
    if (!toolIds.has(tool)) toolIds.set(tool, toolIds.size);
    return toolIds.get(tool)!;
  };
  const first = Int16Array.from(tasks, (t) => toolOf(t.firstTool));
  const last = Int16Array.from(tasks, (t) => toolOf(t.lastTool));
  const start = toolOf(startTool);
  const tools = toolIds.size;
  const lagsInto: number[][] = tasks.map(() => []);
  const lagsFrom: number[][] = tasks.map(() => []);
  lags.forEach((lag, l) => {
    lagsInto[lag.to]!.push(l);
    lagsFrom[lag.from]!.push(l);
  });
  const sources = new Uint32Array(Math.max(1, (tasks.length + 31) >>> 5));
  for (const lag of lags) if (lag.least > 0 || lag.most !== null) add(sources, lag.from);
  tasks.forEach((t, i) => {
    if (t.holds > 0) add(sources, i);
  });
  return {
    hands: Float64Array.from(tasks, (t) => t.hands),
    first,
    last,
    startTool: start,
    tools,
    barehanded: toolIds.get(HANDS) ?? -1,
    face: Uint8Array.from(tasks, (t) => (t.face === 'edge' ? ANY_FACE : lying.indexOf(t.face))),
    faces: lying.length,
    startFace: lying.indexOf(startFace),
    onDevice: Uint8Array.from(tasks, (t) => (t.onDevice ? 1 : 0)),
    holds: Float64Array.from(tasks, (t) => t.holds),
    lagsInto,
    lagsFrom,
    sources,
    handsOver: Array.from({ length: tools }, (_, tool) =>
      tasks.flatMap((_, i) => (last[i] === tool && first[i] !== tool ? [i] : [])),
    ),
  };
}

/** What chains of tasks force: runs of each tool, turn-overs, and the time to the end of everything. */
function chainTables(
  { lags }: Problem,
  { n, next, topo }: Precedence,
  work: Work,
): Pick<Tables, 'runs' | 'turns' | 'tail'> {
  const { hands, first, last, tools, barehanded, face, faces, onDevice, holds } = work;
  const backwards = topo.toReversed();
  const most = (j: number, of: (k: number) => number) => next[j]!.reduce((best, k) => Math.max(best, of(k)), 0);
  const runs = Array.from({ length: tools }, () => new Int16Array(n * 2));
  for (let tool = 0; tool < tools; tool++) {
    if (tool === barehanded) continue;
    const table = runs[tool]!;
    for (const j of backwards)
      for (const held of [0, 1]) {
        const takes = first[j] === tool && !held ? 1 : 0;
        const during = first[j]! >= 0 ? (first[j] === tool ? 1 : 0) : held;
        const after = last[j]! >= 0 ? (last[j] === tool ? 1 : 0) : during;
        table[j * 2 + held] = takes + most(j, (k) => table[k * 2 + after]!);
      }
  }
  const turns = new Int16Array(n * faces);
  for (const j of backwards)
    for (let up = 0; up < faces; up++) {
      const after = face[j] === ANY_FACE ? up : face[j]!;
      turns[j * faces + up] = (after === up ? 0 : 1) + most(j, (k) => turns[k * faces + after]!);
    }
  const leastBetween = new Map<number, number>();
  for (const lag of lags)
    leastBetween.set(lag.from * n + lag.to, Math.max(lag.least, leastBetween.get(lag.from * n + lag.to) ?? 0));
  const tail = new Float64Array(n);
  for (const j of backwards)
    tail[j] =
      hands[j]! +
      most(j, (k) => {
        const held = onDevice[j] && onDevice[k] ? holds[j]! : 0;
        return Math.max(held, leastBetween.get(j * n + k) ?? 0) + tail[k]!;
      });
  return { runs, turns, tail };
}

/** What of each wait nothing can fill, and which waits are idle one after another. */
function idleTables(
  { tasks, lags, toolChange, turnOver }: Problem,
  { n, words, ancestors, descendants }: Precedence,
  { first, barehanded, face, onDevice, holds, lagsInto }: Work,
): Pick<Tables, 'idle' | 'idleInTurn' | 'fill' | 'fills'> {
  const setupAt = (i: number): number =>
    (first[i]! >= 0 && first[i] !== barehanded ? toolChange : 0) + (face[i] === ANY_FACE ? 0 : turnOver);
  const redoing = (i: number): number =>
    lagsInto[i]!.reduce((sum, k) => sum + (lags[k]!.most === null ? 0 : lags[k]!.redo), 0);
  const fills = Float64Array.from(tasks, (t, i) => t.hands + setupAt(i) + redoing(i));
  const fill = lags.map(({ from, to }) => {
    const set = new Uint32Array(words);
    for (let i = 0; i < n; i++)
      if (i !== from && i !== to && !has(ancestors[from]!, i) && !has(descendants[to]!, i)) add(set, i);
    return set;
  });
  const idle = Float64Array.from(lags, (lag, l) => {
    // What is redone for the target itself comes after the lag.
    let filled = setupAt(lag.to);
    for (const i of indices(fill[l]!)) {
      if (holds[lag.from]! >= lag.least && onDevice[i] && onDevice[lag.from]) continue;
      filled += fills[i]!;
    }
    return Math.max(0, lag.least - filled);
  });
  // Lags that can never run at the same time are idle one after the other, and whatever fills one of them was
  // counted out of each: those in series, and those that hold the device.
  const heldLag = (l: number) =>
    onDevice[lags[l]!.from] === 1 && onDevice[lags[l]!.to] === 1 && holds[lags[l]!.from]! >= lags[l]!.least;
  const follows = (l: number, m: number) =>
    lags[m]!.from === lags[l]!.to || has(descendants[lags[l]!.to]!, lags[m]!.from);
  const apart = (l: number, m: number) =>
    follows(l, m) || follows(m, l) || (heldLag(l) && heldLag(m) && lags[l]!.from !== lags[m]!.from);
  const longestFirst = lags
    .map((_, l) => l)
    .filter((l) => idle[l]! > 0)
    .sort((x, y) => idle[y]! - idle[x]!);
  const idleInTurn: number[] = [];
  for (const l of longestFirst) if (idleInTurn.every((m) => apart(l, m))) idleInTurn.push(l);
  return { idle, idleInTurn, fill, fills };
}

/** What must follow at once, what must be shut, and what forbids a turn-over, laid out for the search. */
function guardTables(
  { tasks, guards }: Problem,
  words: number,
): Pick<Tables, 'then' | 'shut' | 'guards' | 'begins' | 'marked'> {
  const bits = () => new Uint32Array(words);
  const begins = bits();
  const marked = bits();
  tasks.forEach((task, i) => {
    if (task.shut) add(marked, i);
    if (task.then === null) return;
    add(marked, i);
    add(marked, task.then);
  });
  const laid = guards.map(({ after, until, hangs }) => {
    const guard = { after: bits(), until: bits(), hangs };
    for (const i of after) {
      add(guard.after, i);
      add(begins, i);
      add(marked, i);
    }
    for (const i of until) {
      add(guard.until, i);
      add(marked, i);
    }
    return guard;
  });
  return {
    then: Int16Array.from(tasks, (t) => t.then ?? -1),
    shut: Uint8Array.from(tasks, (t) => (t.shut ? 1 : 0)),
    guards: laid,
    begins,
    marked,
  };
}

/**
 * Whether it can be told at once that no order exists: something has to be done on the other face, or heated, after
 * a guard begins and before it can end.
 */
export function impossible(tables: Tables): boolean {
  return tables.guards.some((guard) => {
    const after = indices(guard.after);
    const until = indices(guard.until);
    const inside = (i: number) =>
      !has(guard.after, i) &&
      !has(guard.until, i) &&
      after.every((a) => has(tables.ancestors[i]!, a)) &&
      until.every((u) => has(tables.descendants[i]!, u));
    const faces = new Set(after.map((a) => tables.face[a]!).filter((face) => face !== ANY_FACE));
    if (after.length === 0) faces.add(tables.startFace);
    const [up] = faces;
    for (let i = 0; i < tables.n; i++) {
      if (tables.shut[i] && guard.hangs && inside(i)) return true;
      // With begun work on both faces it is not known which of them is up.
      if (faces.size === 1 && tables.face[i] !== ANY_FACE && tables.face[i] !== up && inside(i)) return true;
    }
    return false;
  });
}

function indices(bits: Bits): number[] {
  const found: number[] = [];
  for (let i = 0; i < bits.length * 32; i++) if (has(bits, i)) found.push(i);
  return found;
}
