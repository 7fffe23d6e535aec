import { wrap } from 'comlink';
import type { Job } from './planner.ts';
import type { Proposals, Vision } from './vision.worker.ts';

/** Looks at a plate beside the interface; OpenCV is loaded with it, and goes with it. */
export function proposeInWorker(address: string, pxPerMm: number): Job<Proposals> {
  const worker = new Worker(new URL('./vision.worker.ts', import.meta.url), { type: 'module' });
  const stop = () => worker.terminate();
  const failed = new Promise<never>((_, reject) => {
    worker.onerror = () => reject(new Error('the photograph cannot be looked at in this browser'));
  });
  return {
    result: Promise.race([wrap<Vision>(worker).propose(address, pxPerMm), failed]).finally(stop),
    cancel: stop,
  };
}
