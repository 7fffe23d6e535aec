import { rulesFormat } from '../../core/dive/index.ts';
import { shopFormat } from '../../core/jobs/index.ts';
import { boundsOf, place, type Bounds } from '../../core/format/index.ts';

/** What a number has to be, in words. */
export function boundsSaid({ least, most, above, whole }: Bounds): string {
  if (least !== undefined && most !== undefined) return `${whole ? 'whole, ' : ''}${least} to ${most}`;
  const from = above !== undefined ? `more than ${above}` : least !== undefined ? `at least ${least}` : '';
  const to = most !== undefined ? `at most ${most}` : '';
  return [whole ? 'whole' : '', from, to].filter(Boolean).join(', ');
}

/** The limits of a house rule: `ruleLimits('closing', 'glue', 'bore')`. */
export const ruleLimits = (...path: string[]): Bounds => boundsOf(place(rulesFormat, ...path));

/** The limits of a setting of the shop. */
export const shopLimits = (...path: string[]): Bounds => boundsOf(place(shopFormat, ...path));
