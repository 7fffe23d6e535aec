import type { Fastener, Point } from '../../core/anatomy/index.ts';
import { looseningOrder } from '../../core/dive/order/bundles.ts';
import { shortestPath, tighteningOrder } from '../../core/dive/order/driving.ts';
import { seededDraw } from '../../demo/synthetic.ts';
import { tinyScrew } from '../../demo/tiny.ts';

/* The way of the hand over screws, against every order there is, and against every two turned round where there are many. */

export const far = (a: Point, b: Point): number => Math.hypot(a[0] - b[0], a[1] - b[1]);
export const length = (points: readonly Point[]): number =>
  points.slice(1).reduce((sum, p, k) => sum + far(p, points[k]!), 0);

function* orders<T>(left: readonly T[], done: readonly T[] = []): Generator<readonly T[]> {
  if (left.length === 0) yield done;
  for (const [k, x] of left.entries()) yield* orders(left.toSpliced(k, 1), [...done, x]);
}

function pathAmiss(points: readonly Point[]): string | null {
  const path = shortestPath(points).map((i) => points[i]!);
  if (new Set(path).size !== points.length || path.some((p) => !p)) return 'a screw is left out';
  const [first, last] = [path[0]!, path.at(-1)!];
  if (last[0] + last[1] < first[0] + first[1] - 1e-9) return 'it begins at the far end';
  if (points.length <= 7) {
    const best = Math.min(...[...orders(points)].map(length));
    return length(path) > best + 1e-6 ? 'there is a shorter way' : null;
  }
  for (let i = 0; i < path.length - 1; i++)
    for (let j = i + 1; j < path.length; j++) {
      const turned = [...path.slice(0, i), ...path.slice(i, j + 1).reverse(), ...path.slice(j + 1)];
      if (length(turned) < length(path) - 1e-6) return 'it crosses itself';
    }
  return null;
}

function tighteningAmiss(screws: readonly Fastener[]): string | null {
  const order = tighteningOrder(screws).map((id) => screws.find((f) => f.id === id)!);
  if (new Set(order).size !== screws.length) return 'a screw is left out';
  if (screws.some((f) => f.order !== null))
    return order.some((f, i) => i > 0 && (f.order ?? Infinity) < (order[i - 1]!.order ?? Infinity))
      ? 'not as it is numbered'
      : null;
  // The first is one of a corner: nearest the top left.
  if (screws.some((f) => f.at[0] + f.at[1] < order[0]!.at[0] + order[0]!.at[1] - 1e-9))
    return 'it begins in the middle';
  for (let k = 1; k < order.length; k++) {
    const [last, next] = [order[k - 1]!, order[k]!];
    const most = Math.max(...order.slice(k).map((f) => far(f.at, last.at)));
    // Of about equals the one that is farther from the one before is taken: by a quarter of that at most.
    const before = order[k - 2];
    const leeway = before ? 0.25 * Math.max(...order.slice(k).map((f) => far(f.at, before.at))) : 0;
    if (far(next.at, last.at) < most - leeway - 1e-9) return 'the next is not across';
  }
  return null;
}

/** What is wrong with the order in which screws are driven, or `null`. */
export function handsAmiss(): string | null {
  const draw = seededDraw(3);
  for (let k = 0; k < 70; k++) {
    const amount = k < 40 ? 1 + draw(7) : 8 + draw(14);
    const points = Array.from({ length: amount }, (): Point => [draw(700) / 10, draw(1400) / 10]);
    const said = pathAmiss(points);
    if (said) return `path over ${amount}: ${said}`;
    const numbered = k % 5 === 0;
    const screws = points.map((at, i) =>
      tinyScrew(`s${i}`, 'cover', at, numbered && i % 3 > 0 ? { order: (i * 7) % 23 } : {}),
    );
    const amiss = tighteningAmiss(screws);
    if (amiss) return `tightening ${amount}: ${amiss}`;
    const loosened = looseningOrder(screws).map((id) => screws.find((f) => f.id === id)!);
    if (numbered && tighteningOrder(screws).reverse().join() !== loosened.map((f) => f.id).join())
      return 'numbered screws are loosened as they are tightened';
    if (!numbered && amount > 7 && length(loosened.map((f) => f.at)) > length(points) + 1e-6)
      return 'they are loosened by a longer way than they were drawn';
  }
  return null;
}
