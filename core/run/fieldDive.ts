import type { ActFile, UnknownDevice } from '../explore/index.ts';
import type { RunState } from './state.ts';

/** A job's field dive as it is learnt from: its device, the acts that stand, and what was answered. */
export function actFileOf(device: UnknownDevice, { acts, answers }: Pick<RunState, 'acts' | 'answers'>): ActFile {
  return {
    schema: 'nibrel.acts/1',
    device,
    acts: acts.map(({ by: _, ...act }) => act),
    answers: Object.fromEntries(answers),
  };
}
