import { NoDive } from '../types.ts';
import type { Bundle } from './bundles.ts';

/**
 * Bundles so that what each needs comes before it, outer layers first.
 * @throws NoDive when these ways in wait for each other; other ways may not
 */
export function naturalOrder(bundles: readonly Bundle[]): number[] {
  const done = new Set<number>();
  const order: number[] = [];
  const left = bundles.map((_, i) => i).sort((a, b) => bundles[a]!.rank - bundles[b]!.rank || a - b);
  while (left.length > 0) {
    const at = left.findIndex((i) => [...bundles[i]!.needs.keys()].every((j) => done.has(j)));
    if (at < 0)
      throw new NoDive('order', {
        code: 'wait-for-each-other',
        needed: left.map((i) => ({ code: `doing-${bundles[i]!.kind}`, item: bundles[i]!.items[0]! })),
      });
    const [next] = left.splice(at, 1);
    done.add(next!);
    order.push(next!);
  }
  return order;
}
