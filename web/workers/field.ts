import { wrap, type Remote } from 'comlink';
import type { Field } from './field.worker.ts';

let worker: Remote<Field> | null = null;

/** Learning, the way back and the change between photographs, beside the interface. One worker for the whole dive. */
export function fieldWorker(): Remote<Field> {
  worker ??= wrap<Field>(new Worker(new URL('./field.worker.ts', import.meta.url), { type: 'module' }));
  return worker;
}
