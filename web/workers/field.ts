import { wrap, type Remote } from 'comlink';
import type { Field } from './field.worker.ts';

const workers = new Map<string, Remote<Field>>();

/**
 * Learning, the way back and the change between photographs, beside the interface. Weighing questions takes seconds, so
 * that it has a worker of its own: the way back does not wait for it.
 */
export function fieldWorker(at: 'bench' | 'questions' = 'bench'): Remote<Field> {
  const known = workers.get(at);
  if (known) return known;
  const made = wrap<Field>(new Worker(new URL('./field.worker.ts', import.meta.url), { type: 'module' }));
  workers.set(at, made);
  return made;
}
