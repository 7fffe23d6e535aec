import type { Model, Part } from '../../anatomy/index.ts';
import type { Hint } from '../hints.ts';
import type { Pose } from '../types.ts';
import { outermostOf } from './contexts.ts';

/**
 * How a fold has to lie while an item is worked from a face: opened flat from the inside, half open where its document says so,
 * closed with its own back up from outside, so that nothing rests on the inner display. `null` in a device of one body, and for
 * what is worked however it lies.
 */
export function poseOf(model: Model, item: string, face: 'front' | 'back' | 'edge'): Pose | null {
  const { bodies, hinge } = model.anatomy;
  if (!bodies || face === 'edge') return null;
  if (hinge?.half.includes(item)) return 'half';
  if (face === 'front') return 'flat';
  return `closed-${model.bodyOf(outermostOf(model, item)) ?? bodies[0]!.id}`;
}

/** Does a part run through the hinge from one body to another? A flex that does is held by the hinge itself. */
export const isThreaded = (model: Model, part: Part): boolean =>
  model.anatomy.bodies !== undefined && part.kind === 'flex' && model.bodyOf(part.id) === null;

/** What is done to bring a fold to lie so. */
export function poseHint(pose: Pose): Hint {
  if (pose === 'flat') return { code: 'pose-flat' };
  if (pose === 'half') return { code: 'pose-half' };
  return { code: 'pose-closed', body: pose.slice('closed-'.length) };
}
