import { create } from 'zustand';
import { messageOf } from './api.ts';

interface FailedStore {
  /** What failed last and was caught by nobody else, in words; `null` once somebody has seen it. */
  message: string | null;
  dismiss: () => void;
}

/** What failed and no screen has said: a failing call never vanishes. */
export const useFailed = create<FailedStore>()((set) => ({
  message: null,
  dismiss: () => set({ message: null }),
}));

/** Says it of every promise that fails and that nobody waits for. @returns what ends it */
export function followFailures(from: EventTarget = window): () => void {
  const hear = (event: Event) => {
    const { reason } = event as PromiseRejectionEvent;
    // Who turned away from something has not failed at it.
    if ((reason as { name?: string } | null)?.name === 'AbortError') return;
    useFailed.setState({ message: messageOf(reason) });
  };
  from.addEventListener('unhandledrejection', hear);
  return () => from.removeEventListener('unhandledrejection', hear);
}
