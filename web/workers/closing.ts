import { wrap } from 'comlink';
import type { Anatomy } from '../../core/anatomy/index.ts';
import type { CornerStyle } from '../../core/closing/index.ts';
import type { HouseRules } from '../../core/dive/index.ts';
import type { BondClosing, Closing } from './closing.worker.ts';
import type { Job } from './planner.ts';

/** Computes how a bond is closed beside the interface; `cancel` ends it at once. */
export function closingInWorker(
  anatomy: Anatomy,
  bond: string,
  rules: HouseRules,
  corners: CornerStyle,
): Job<BondClosing> {
  const worker = new Worker(new URL('./closing.worker.ts', import.meta.url), { type: 'module' });
  const stop = () => worker.terminate();
  const failed = new Promise<never>((_, reject) => {
    worker.onerror = () => reject(new Error('closing could not be computed; load the page again'));
  });
  const { closing, pressing, room, seal } = rules;
  const asked = wrap<Closing>(worker).of(anatomy, bond, { closing, pressing, room, seal }, corners);
  return { result: Promise.race([asked, failed]).finally(stop), cancel: stop };
}
