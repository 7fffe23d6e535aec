import { ANY_FACE, add, forbids, type Bits, type Tables } from './tables.ts';

export interface Times {
  /** When a task is taken up, its redoing included; by task. */
  arrival: Float64Array;
  endOf: Float64Array;
  end: number;
  free: number;
}

interface Scratch {
  place: Int32Array;
  setup: Float64Array;
  length: Float64Array;
  pushed: Float64Array;
  at: Float64Array;
}

const scratches = new WeakMap<Tables, Scratch>();

/** Room to reckon in, made once for each problem: the search asks for times a hundred thousand times. */
function scratchOf(tables: Tables): Scratch {
  const known = scratches.get(tables);
  if (known) return known;
  const { n } = tables;
  const made: Scratch = {
    place: new Int32Array(n),
    setup: new Float64Array(n),
    length: new Float64Array(n),
    pushed: new Float64Array(n),
    at: new Float64Array(n),
  };
  scratches.set(tables, made);
  return made;
}

/**
 * Earliest times of tasks done in the given order. Least lags and holds push forwards; a limit that
 * is not redone pushes what started it later (longest path by Bellman and Ford over the order).
 * @returns `null` when a limit cannot be kept, or the device would have to be turned over while something is swung open
 */
export function timing(tables: Tables, path: readonly { task: number; redone: number }[]): Times | null {
  const { n } = tables;
  const { place, setup, length, pushed, at } = scratchOf(tables);
  const count = path.length;
  place.fill(-1);
  pushed.fill(0, 0, count);
  let held = tables.startTool;
  let face = tables.startFace;
  let due = -1;
  const done: Bits = new Uint32Array(tables.words);
  const kept: Tables['lags'][number][] = [];
  for (let p = 0; p < count; p++) place[path[p]!.task] = p;
  for (let p = 0; p < count; p++) {
    const { task, redone } = path[p]!;
    const tool = tables.first[task]!;
    setup[p] = tool >= 0 && tool !== held && tool !== tables.barehanded ? tables.toolChange : 0;
    if (tables.onDevice[task]) {
      if (due >= 0 && task !== due) return null;
      due = tables.then[task]!;
    }
    if (tables.shut[task] && forbids(tables, done, true)) return null;
    if (tables.face[task] !== ANY_FACE && tables.face[task] !== face) {
      if (forbids(tables, done, false)) return null;
      setup[p] = setup[p]! + tables.turnOver;
      face = tables.face[task]!;
    }
    if (tables.last[task]! >= 0) held = tables.last[task]!;
    add(done, task);
    let needed = tables.hands[task]!;
    const into = tables.lagsInto[task]!;
    for (let bit = 0; bit < into.length; bit++) {
      const lag = tables.lags[into[bit]!]!;
      if ((redone >> bit) & 1) needed += lag.redo;
      else if (lag.most !== null && place[lag.from]! >= 0) kept.push(lag);
    }
    length[p] = needed;
  }
  let lastLimit: Tables['lags'][number] | null = null;
  let lastBy = 0;
  for (let pass = 0; ; pass++) {
    let end = 0;
    let free = 0;
    for (let p = 0; p < count; p++) {
      const { task } = path[p]!;
      let a = Math.max(pushed[p]!, end + setup[p]!);
      if (tables.onDevice[task] && free > a) a = free;
      for (const l of tables.lagsInto[task]!) {
        const lag = tables.lags[l]!;
        const q = place[lag.from]!;
        const ready = at[q]! + length[q]! + lag.least;
        if (ready > a) a = ready;
      }
      at[p] = a;
      end = a + length[p]!;
      if (tables.onDevice[task]) free = Math.max(free, end + tables.holds[task]!);
    }
    let moved = 0;
    let by = 0;
    let limit: Tables['lags'][number] | null = null;
    for (const lag of kept) {
      const q = place[lag.from]!;
      const earliest = at[place[lag.to]!]! - lag.most! - length[q]!;
      if (earliest > at[q]! + 1e-6) {
        pushed[q] = earliest;
        moved++;
        by = earliest - at[q]!;
        limit = lag;
      }
    }
    // Pushed alone by as much as last time, it drags along what it should come nearer to: that limit cannot be kept.
    if (moved === 1 && limit === lastLimit && Math.abs(by - lastBy) < 1e-6) return null;
    lastLimit = moved === 1 ? limit : null;
    lastBy = by;
    if (moved === 0) {
      const arrival = new Float64Array(n).fill(Number.NaN);
      const endOf = new Float64Array(n).fill(Number.NaN);
      for (let p = 0; p < count; p++) {
        arrival[path[p]!.task] = at[p]!;
        endOf[path[p]!.task] = at[p]! + length[p]!;
      }
      return { arrival, endOf, end, free };
    }
    if (pass > count + 1) return null;
  }
}
