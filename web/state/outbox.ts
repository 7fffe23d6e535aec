import type { RunEvent } from '../../core/run/index.ts';
import { api, ApiError, storePhoto, type Problem } from './api.ts';
import { proofsOf } from './author.ts';
import { ageOf, madeNow, serverNow } from './clock.ts';
import { hold } from './hold.ts';
import { StoreSilent, withStore, type Aside, type Entry } from './store.ts';

/** First and longest pause between tries to reach the server, ms. Origin: own choice. */
export const RETRY_MS = { first: 400, longest: 5000 } as const;
/** Stands for the hash of a photograph that the server does not have yet. */
export const NOT_SENT_YET = '0'.repeat(64);
/** Most events in one request; the server takes no more. */
export const BATCH = 400;

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

/** What holds the page open: what was made on it and is neither on this browser's disk nor with the server. */
const holding = new Map<string, () => void>();
function letGo(ids: Iterable<string>): void {
  for (const id of ids) {
    holding.get(id)?.();
    holding.delete(id);
  }
}

/** What was made on this page and is not acknowledged; with its photograph only where the disk did not take it. */
const madeHere = new Map<string, { entry: Entry; data?: Blob | undefined }>();

/**
 * Keeps what was just made, one row an event, before anything else becomes of it.
 * @throws DOMException when the disk is full; StoreSilent. Either way it can still be sent from this page.
 */
export async function keep(entries: readonly Entry[], blob?: { key: string; data: Blob }): Promise<void> {
  for (const entry of entries) {
    madeHere.set(entry.event.id, { entry });
    holding.set(entry.event.id, hold(entry.event.type));
  }
  try {
    await withStore(async (db) => {
      const tx = db.transaction(['outbox', 'blobs'], 'readwrite', { durability: 'strict' });
      if (blob) void tx.objectStore('blobs').put(blob.data, blob.key);
      for (const { key: _, ...entry } of entries) void tx.objectStore('outbox').add(entry);
      await tx.done;
    });
    letGo(entries.map((e) => e.event.id));
  } catch (error) {
    for (const entry of entries) if (entry.blob) madeHere.set(entry.event.id, { entry, data: blob?.data });
    throw error;
  }
}

const onDisk = (job: string): Promise<Entry[]> => withStore((db) => db.getAllFromIndex('outbox', 'job', job));

/** What was made on this page of a job and waits to be sent, whether the disk took it or not. */
export const keptHere = (job: string): Entry[] =>
  [...madeHere.values()].map(({ entry }) => entry).filter((entry) => entry.job === job);

/** What waits to be sent of a job, in the order in which it was made. */
export async function kept(job: string): Promise<Entry[]> {
  const others = (await onDisk(job)).filter((entry) => !madeHere.has(entry.event.id));
  return [...others, ...keptHere(job)];
}

/** Jobs of which something waits to be sent. */
export async function waiting(): Promise<string[]> {
  const entries = await withStore((db) => db.getAll('outbox')).catch((): Entry[] => []);
  const here = [...madeHere.values()].map(({ entry }) => entry);
  return [...new Set([...entries, ...here].map((e) => e.job))];
}

/** Takes out what the server has acknowledged. */
export async function acknowledged(job: string, ids: ReadonlySet<string>): Promise<void> {
  for (const id of ids) madeHere.delete(id);
  letGo(ids);
  await withStore(async (db) => {
    const tx = db.transaction(['outbox', 'blobs'], 'readwrite');
    for (const entry of await tx.objectStore('outbox').index('job').getAll(job)) {
      if (!ids.has(entry.event.id)) continue;
      void tx.objectStore('outbox').delete(entry.key!);
      if (entry.blob) void tx.objectStore('blobs').delete(entry.blob);
    }
    await tx.done;
  });
}

/** Moves events out of the way, in their order; they stay until somebody has looked at them. */
export async function setAside(
  job: string,
  refused: readonly Omit<Aside, keyof Entry>[],
  events: readonly RunEvent[],
): Promise<void> {
  for (const { id } of events) madeHere.delete(id);
  await withStore(async (db) => {
    const tx = db.transaction(['outbox', 'aside'], 'readwrite', { durability: 'strict' });
    const rows = new Map((await tx.objectStore('outbox').index('job').getAll(job)).map((e) => [e.event.id, e]));
    for (const [i, event] of events.entries()) {
      const row = rows.get(event.id);
      const { key, ...entry } = row ?? { job, event, session: null, made: madeNow() };
      if (row) void tx.objectStore('outbox').delete(key!);
      void tx.objectStore('aside').add({ ...entry, event, ...refused[i]! });
    }
    await tx.done;
  });
}

export function asideOf(job: string): Promise<Aside[]> {
  return withStore((db) => db.getAllFromIndex('aside', 'job', job));
}

export function dropAside(key: number): Promise<void> {
  return withStore((db) => db.delete('aside', key));
}

/** What came of sending: stored as far as it could be. */
export interface Sent {
  events: RunEvent[];
  refused: NonNullable<Problem['refused']> | null;
}

/**
 * Sends events of a job, photographs first; the server numbers nothing anew and stores none twice.
 * @returns what is stored by now, and the first event that the server refused by name
 * @throws ApiError for everything that says nothing of a single event: it is sent again later
 */
export async function send(job: string, events: readonly RunEvent[]): Promise<Sent> {
  const all = await kept(job).catch(() => null);
  const rows = new Map((all ?? keptHere(job)).map((entry) => [entry.event.id, entry]));
  const stored: RunEvent[] = [];
  for (let from = 0; from < events.length; ) {
    const session = rows.get(events[from]!.id)?.session ?? null;
    const batch: RunEvent[] = [];
    for (const event of events.slice(from, from + BATCH)) {
      if ((rows.get(event.id)?.session ?? null) !== session) break;
      const row = rows.get(event.id);
      if (!row && !all && isUnsentPhoto(event)) throw new StoreSilent();
      const sent = await withPhoto(event, row);
      batch.push(row ? { ...sent, at: new Date(serverNow() - ageOf(row.made)).toISOString() } : sent);
    }
    from += batch.length;
    try {
      const sent = batch.map(({ job: _, ...event }) => event);
      const proofs = proofsOf(batch, (id) => rows.get(id)?.proof);
      const answer = await api<{ events: RunEvent[] }>(`/jobs/${job}/events`, {
        json: { events: sent, now: Math.ceil(serverNow()), session, proofs },
      });
      stored.push(...answer.events);
    } catch (error) {
      const problem = error instanceof ApiError ? error.problem : null;
      if (!problem?.refused) throw stored.length > 0 ? new PartlySent(stored, error) : error;
      return { events: [...stored, ...(problem.events ?? [])], refused: problem.refused };
    }
  }
  return { events: stored, refused: null };
}

/** Some batches went through before the server could not be reached any more. */
export class PartlySent extends Error {
  constructor(
    readonly events: RunEvent[],
    override readonly cause: unknown,
  ) {
    super('sent in part');
  }
}

const isUnsentPhoto = (event: RunEvent): boolean => event.type === 'photo' && event.photo === NOT_SENT_YET;

/** A photograph that was taken without the server is stored there first, and the event then names it. */
async function withPhoto(event: RunEvent, entry: Entry | undefined): Promise<RunEvent> {
  if (!isUnsentPhoto(event) || !entry?.blob) return event;
  const { blob } = entry;
  const data = madeHere.get(event.id)?.data ?? (await withStore((db) => db.get('blobs', blob)));
  return data ? ({ ...event, photo: await storePhoto(data) } as RunEvent) : event;
}

let openNow: () => string | null = () => null;
let told: () => void = () => {};
const again = retrying(() => void sendLeft());

/**
 * Sends what was made on jobs that were left before the server had it all, and tries again until it answers.
 * @param open the job that is open now; it sends its own
 * @param onChange called when something left the outbox
 */
export function sendKept(open: () => string | null, onChange: () => void = told): Promise<void> {
  openNow = open;
  told = onChange;
  again.stop();
  return sendLeft();
}

async function sendLeft(): Promise<void> {
  for (const job of await waiting()) {
    if (job === openNow()) continue;
    const entries = await kept(job).catch(() => keptHere(job));
    const events = entries.map((e) => e.event);
    try {
      const { events: stored, refused } = await send(job, events);
      await acknowledged(job, new Set(stored.map((e) => e.id)));
      // What stands behind a refused one waits: only the open job knows what rests on it.
      if (refused) continue;
    } catch (error) {
      if (error instanceof PartlySent) await acknowledged(job, new Set(error.events.map((e) => e.id)));
      // A stale number, or a job that is gone, is put in order when that job is opened.
      const cause = error instanceof PartlySent ? error.cause : error;
      if (cause instanceof ApiError && [404, 409].includes(cause.status)) continue;
      again.later();
      return;
    } finally {
      told();
    }
  }
}
