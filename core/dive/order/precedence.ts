import type { Bundle } from './bundles.ts';

/** Must `to` be done before `from`? */
export function reaches(bundles: readonly Bundle[], from: number, to: number): boolean {
  const seen = new Set<number>();
  const stack = [from];
  while (stack.length > 0) {
    const at = stack.pop()!;
    if (at === to) return true;
    if (seen.has(at)) continue;
    seen.add(at);
    stack.push(...bundles[at]!.needs.keys());
  }
  return false;
}
