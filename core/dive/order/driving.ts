import type { Fastener, Point } from '../../anatomy/index.ts';

const distance = (a: Point, b: Point): number => Math.hypot(a[0] - b[0], a[1] - b[1]);

/** Most points for which the shortest path is found exactly. Origin: 2^9 · 9² steps take less than a ms. */
const EXACT_POINTS = 9;

/**
 * The order in which `points` are visited on the shortest open path, beginning anywhere; among equally
 * short ones the one that begins nearer the top left. Exact by dynamic programming over subsets (Held and
 * Karp 1962, from memory) up to 9 points, else nearest neighbour improved by 2-opt.
 */
export function shortestPath(points: readonly Point[]): number[] {
  const n = points.length;
  if (n <= 2)
    return points.map((_, i) => i).sort((a, b) => points[a]![0] + points[a]![1] - points[b]![0] - points[b]![1]);
  const path = n <= EXACT_POINTS ? heldKarp(points) : twoOpt(points, nearestFirst(points));
  const [first, last] = [points[path[0]!]!, points[path[n - 1]!]!];
  return last[0] + last[1] < first[0] + first[1] ? path.reverse() : path;
}

function heldKarp(points: readonly Point[]): number[] {
  const n = points.length;
  const cost = new Float64Array((1 << n) * n).fill(Number.POSITIVE_INFINITY);
  const from = new Int8Array((1 << n) * n).fill(-1);
  for (let i = 0; i < n; i++) cost[(1 << i) * n + i] = 0;
  for (let set = 1; set < 1 << n; set++)
    for (let i = 0; i < n; i++) {
      const here = cost[set * n + i]!;
      if (here === Number.POSITIVE_INFINITY) continue;
      for (let j = 0; j < n; j++) {
        if ((set >> j) & 1) continue;
        const at = (set | (1 << j)) * n + j;
        const there = here + distance(points[i]!, points[j]!);
        if (there < cost[at]! - 1e-9) {
          cost[at] = there;
          from[at] = i;
        }
      }
    }
  const full = (1 << n) - 1;
  let end = 0;
  for (let i = 1; i < n; i++) if (cost[full * n + i]! < cost[full * n + end]! - 1e-9) end = i;
  const path: number[] = [];
  for (let set = full, i = end; i >= 0; ) {
    path.push(i);
    const before = from[set * n + i]!;
    set &= ~(1 << i);
    i = before;
  }
  return path.reverse();
}

function nearestFirst(points: readonly Point[]): number[] {
  const left = points.map((_, i) => i).sort((a, b) => points[a]![0] + points[a]![1] - points[b]![0] - points[b]![1]);
  const path = [left.shift()!];
  while (left.length > 0) {
    const at = points[path.at(-1)!]!;
    let best = 0;
    for (let k = 1; k < left.length; k++)
      if (distance(points[left[k]!]!, at) < distance(points[left[best]!]!, at)) best = k;
    path.push(...left.splice(best, 1));
  }
  return path;
}

function twoOpt(points: readonly Point[], start: number[]): number[] {
  const path = [...start];
  const gap = (a: number | undefined, b: number | undefined) =>
    a === undefined || b === undefined ? 0 : distance(points[a]!, points[b]!);
  for (let moved = true; moved; ) {
    moved = false;
    for (let i = 0; i < path.length - 1; i++)
      for (let j = i + 1; j < path.length; j++) {
        const now = gap(path[i - 1], path[i]) + gap(path[j], path[j + 1]);
        if (gap(path[i - 1], path[j]) + gap(path[i], path[j + 1]) < now - 1e-9) {
          path.splice(i, j - i + 1, ...path.slice(i, j + 1).reverse());
          moved = true;
        }
      }
  }
  return path;
}

/**
 * The order in which screws are tightened: as the maker numbers them, else crosswise, each next one
 * as far as can be from the last so that the part is drawn down evenly (common practice).
 */
export function tighteningOrder(fasteners: readonly Fastener[]): string[] {
  if (fasteners.some((f) => f.order !== null))
    return [...fasteners].sort((a, b) => (a.order ?? 999) - (b.order ?? 999)).map((f) => f.id);
  const left = [...fasteners].sort((a, b) => a.at[0] + a.at[1] - b.at[0] - b.at[1]);
  const path: Fastener[] = left.splice(0, 1);
  while (left.length > 0) {
    const [last, before] = [path.at(-1)!, path.at(-2)];
    // Opposite the last one; among about equals the farther from the one before.
    const worth = (f: Fastener) => distance(f.at, last.at) + (before ? 0.25 * distance(f.at, before.at) : 0);
    let best = 0;
    for (let k = 1; k < left.length; k++) if (worth(left[k]!) > worth(left[best]!) + 1e-9) best = k;
    path.push(...left.splice(best, 1));
  }
  return path.map((f) => f.id);
}
