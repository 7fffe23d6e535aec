import { wrap, type Remote } from 'comlink';
import type { Reader } from './draft.worker.ts';

/** Reads what a draft means, for as long as it is open. */
export function startReader(): { reader: Remote<Reader>; stop: () => void } {
  const worker = new Worker(new URL('./draft.worker.ts', import.meta.url), { type: 'module' });
  return { reader: wrap<Reader>(worker), stop: () => worker.terminate() };
}
