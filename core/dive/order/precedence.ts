import type { Bundle } from './bundles.ts';

/**
 * All that is done before a bundle in every order.
 * @param until a bundle with which the search may end, once it is found
 */
export function neededBy(bundles: readonly Bundle[], bundle: number, until?: number): Set<number> {
  const found = new Set<number>();
  const next = [bundle];
  for (let at = next.pop(); at !== undefined; at = next.pop())
    for (const sooner of bundles[at]!.needs.keys())
      if (!found.has(sooner)) {
        found.add(sooner);
        if (sooner === until) return found;
        next.push(sooner);
      }
  return found;
}

/** Must `to` be done before `from`? */
export const reaches = (bundles: readonly Bundle[], from: number, to: number): boolean =>
  from === to || neededBy(bundles, from, to).has(to);
