import { wrap, type Remote } from 'comlink';
import type { Anatomy } from '../../core/anatomy/index.ts';
import type { Diagnosis, Rates } from '../../core/diagnosis/index.ts';
import type { Plan } from '../../core/dive/index.ts';
import type { RunEvent } from '../../core/run/index.ts';
import type { Diagnosing } from './diagnosis.worker.ts';

/** Ranks suspects beside the interface; `cancel` ends it at once. */
export function diagnoseInWorker(
  anatomy: Anatomy,
  plan: Plan | null,
  events: readonly RunEvent[],
  rates: Rates,
): { result: Promise<Diagnosis>; cancel: () => void } {
  const worker = new Worker(new URL('./diagnosis.worker.ts', import.meta.url), { type: 'module' });
  const stop = () => worker.terminate();
  const failed = new Promise<never>((_, reject) => {
    worker.onerror = () => reject(new Error('the diagnosis stumbled; load the page again'));
  });
  const remote: Remote<Diagnosing> = wrap<Diagnosing>(worker);
  const asked = remote.diagnose(anatomy, plan, [...events], rates);
  return { result: Promise.race([asked, failed]).finally(stop), cancel: stop };
}
