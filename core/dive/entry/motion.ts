import type { Part } from '../../anatomy/index.ts';
import type { MotionHint } from '../hints.ts';

/** How a part comes away once nothing holds it; nothing where it is lifted straight up. */
export function wayOut({ leaves, pryAt, limits }: Part): MotionHint[] {
  return [
    ...(pryAt ? [{ code: 'pry-only-at', at: pryAt } as const] : []),
    ...(leaves ? [{ code: `out-${leaves.how}`, place: leaves.from, degrees: leaves.degrees } as const] : []),
    ...flat(limits),
  ];
}

/** R23: what bears no bending is carried flat. */
const flat = (limits: Part['limits']): MotionHint[] => (limits?.bend === false ? [{ code: 'carried-flat' }] : []);

/** How a part goes in; nothing where it is set down straight. The way out reversed where the anatomy says no other. */
export function wayIn({ enters, leaves, limits }: Part): MotionHint[] {
  const motion = enters ?? leaves;
  return [
    ...(motion ? [{ code: `in-${motion.how}`, place: motion.from, degrees: motion.degrees } as const] : []),
    ...flat(limits),
  ];
}
