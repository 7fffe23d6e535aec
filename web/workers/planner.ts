import { proxy, wrap, type Remote } from 'comlink';
import type { Anatomy } from '../../core/anatomy/index.ts';
import type { DiveRequest, Extra, HouseRules, NoDiveMessage, Plan } from '../../core/dive/index.ts';
import type { Planner, SearchProgress } from './planner.worker.ts';

/** Work that goes on beside the interface, and can be stopped at any moment. */
export interface Job<T> {
  result: Promise<T>;
  /** Ends the work at once; `result` then never settles. */
  cancel: () => void;
}

function start<T>(work: (planner: Remote<Planner>) => Promise<T>): Job<T> {
  const worker = new Worker(new URL('./planner.worker.ts', import.meta.url), { type: 'module' });
  const stop = () => worker.terminate();
  const failed = new Promise<never>((_, reject) => {
    worker.onerror = () => reject(new Error('the planner stumbled; load the page again'));
  });
  return { result: Promise.race([work(wrap<Planner>(worker)), failed]).finally(stop), cancel: stop };
}

export function planInWorker(
  anatomy: Anatomy,
  request: DiveRequest,
  rules: HouseRules,
  onProgress: (p: SearchProgress) => void = () => {},
): Job<{ plan: Plan } | { refused: NoDiveMessage }> {
  return start<{ plan: Plan } | { refused: NoDiveMessage }>(async (planner) =>
    planner.plan(anatomy, request, rules, proxy(onProgress)),
  );
}

export function extrasInWorker(anatomy: Anatomy, plan: Plan, onProgress: (share: number) => void): Job<Extra[]> {
  return start((planner) => planner.extras(anatomy, plan, proxy(onProgress)));
}
