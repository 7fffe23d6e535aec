import type { Tables } from './tables.ts';

export interface Times {
  /** When a task is taken up, its redoing included; by task. */
  arrival: Float64Array;
  endOf: Float64Array;
  end: number;
  free: number;
}

/**
 * Earliest times of tasks done in the given order. Least lags and holds push forwards; a limit that
 * is not redone pushes what started it later (longest path by Bellman and Ford over the order).
 * @returns `null` when a limit cannot be kept, or the device would have to be turned over while something is swung open
 */
export function timing(tables: Tables, path: readonly { task: number; redone: number }[]): Times | null {
  const { n } = tables;
  const place = new Int32Array(n).fill(-1);
  path.forEach(({ task }, at) => { place[task] = at; });
  const setup = new Float64Array(path.length);
  const length = new Float64Array(path.length);
  let tool = tables.startTool;
  let face = tables.startFace;
  let open = tables.startOpen;
  for (const [at, { task, redone }] of path.entries()) {
    if (tables.first[task]! >= 0 && tables.first[task] !== tool) setup[at] = tables.toolChange;
    if (tables.face[task] !== 2 && tables.face[task] !== face) {
      if (open > 0) return null;
      setup[at] = setup[at]! + tables.turnOver;
      face = tables.face[task]!;
    }
    if (tables.last[task]! >= 0) tool = tables.last[task]!;
    open += tables.swing[task]!;
    const redo = tables.lagsInto[task]!.reduce((sum, l, bit) => sum + ((redone >> bit) & 1 ? tables.lags[l]!.redo : 0), 0);
    length[at] = tables.hands[task]! + redo;
  }
  const kept = tables.lags.flatMap((lag, l) => {
    if (lag.most === null || place[lag.from]! < 0 || place[lag.to]! < 0) return [];
    const { redone } = path[place[lag.to]!]!;
    return (redone >> tables.lagsInto[lag.to]!.indexOf(l)) & 1 ? [] : [lag];
  });
  const pushed = new Float64Array(path.length);
  const at = new Float64Array(path.length);
  for (let pass = 0; ; pass++) {
    let end = 0;
    let free = 0;
    for (let p = 0; p < path.length; p++) {
      const { task } = path[p]!;
      let a = Math.max(pushed[p]!, end + setup[p]!);
      if (tables.onDevice[task]) a = Math.max(a, free);
      for (const l of tables.lagsInto[task]!) {
        const q = place[tables.lags[l]!.from]!;
        a = Math.max(a, at[q]! + length[q]! + tables.lags[l]!.least);
      }
      at[p] = a;
      end = a + length[p]!;
      if (tables.onDevice[task]) free = Math.max(free, end + tables.holds[task]!);
    }
    let moved = false;
    for (const lag of kept) {
      const q = place[lag.from]!;
      const earliest = at[place[lag.to]!]! - lag.most! - length[q]!;
      if (earliest > at[q]! + 1e-6) {
        pushed[q] = earliest;
        moved = true;
      }
    }
    if (!moved) {
      const arrival = new Float64Array(n).fill(Number.NaN);
      const endOf = new Float64Array(n).fill(Number.NaN);
      for (const [p, { task }] of path.entries()) {
        arrival[task] = at[p]!;
        endOf[task] = at[p]! + length[p]!;
      }
      return { arrival, endOf, end, free };
    }
    if (pass > path.length + 1) return null;
  }
}
