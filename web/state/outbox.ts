import type { RunEvent } from '../../core/run/index.ts';
import { api, ApiError } from './api.ts';

/** First and longest pause between tries to reach the server, ms. Origin: own choice. */
export const RETRY_MS = { first: 400, longest: 5000 } as const;

/** Work that is tried again while it fails, after longer and longer pauses. */
export function retrying(work: () => void): { later: () => void; stop: () => void } {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let pause: number = RETRY_MS.first;
  return {
    later: () => {
      clearTimeout(timer);
      timer = setTimeout(work, pause);
      pause = Math.min(RETRY_MS.longest, pause * 2);
    },
    stop: () => {
      clearTimeout(timer);
      pause = RETRY_MS.first;
    },
  };
}

const PREFIX = 'nibrel.outbox.';

/** Keeps what the server has not acknowledged of a job, over a reload and a change of screen. */
export function keep(job: string, pending: readonly RunEvent[]): void {
  if (pending.length > 0) localStorage.setItem(PREFIX + job, JSON.stringify(pending));
  else localStorage.removeItem(PREFIX + job);
}

export function kept(job: string): RunEvent[] {
  try {
    return JSON.parse(localStorage.getItem(PREFIX + job) ?? '[]') as RunEvent[];
  } catch {
    return [];
  }
}

/** Sends events of a job; the server numbers nothing anew and stores none twice. @throws ApiError */
export async function send(job: string, pending: readonly RunEvent[]): Promise<RunEvent[]> {
  return (
    await api<{ events: RunEvent[] }>(`/jobs/${job}/events`, {
      json: { events: pending.map(({ job: _, ...event }) => event) },
    })
  ).events;
}

let openNow: () => string | null = () => null;
const again = retrying(() => void sendLeft());

/**
 * Sends what was made on jobs that were left before the server had it all, and tries again until it answers.
 * What it refuses stays kept: it is put in order, or given up with its reason, when that job is opened.
 * @param open the job that is open now; it sends its own
 */
export function sendKept(open: () => string | null): Promise<void> {
  openNow = open;
  again.stop();
  return sendLeft();
}

async function sendLeft(): Promise<void> {
  const jobs = Array.from({ length: localStorage.length }, (_, i) => localStorage.key(i)!)
    .filter((key) => key.startsWith(PREFIX))
    .map((key) => key.slice(PREFIX.length));
  for (const job of jobs) {
    const pending = kept(job);
    if (job === openNow() || pending.length === 0) continue;
    try {
      const stored = new Set((await send(job, pending)).map((e) => e.id));
      keep(
        job,
        kept(job).filter((e) => !stored.has(e.id)),
      );
    } catch (error) {
      if (error instanceof ApiError && error.status >= 400 && error.status < 500) continue;
      return again.later();
    }
  }
}
