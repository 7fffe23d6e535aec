import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import type { Job, JobFile } from '../../core/jobs/index.ts';
import type { Anatomy } from '../../core/anatomy/index.ts';
import type { Edit, History } from '../../core/draft/index.ts';
import type { Refusal, RunEvent } from '../../core/run/index.ts';

/** When something was made, by clocks that need not be right: how long ago it was can be told from them. */
export interface Made {
  /** The page it was made on, whose own clock nobody can set. */
  page: string;
  /** `performance.now()` on that page. */
  ticks: number;
  /** `Date.now()`. */
  wall: number;
}

/** An event on its way to the server. */
export interface Entry {
  /** Its place in the order in which things were done on this browser. */
  key?: number;
  job: string;
  event: RunEvent;
  /** The session in which it was made; `null` where nobody signs in. */
  session: string | null;
  /** What proves that it was made in that session, whoever sends it. */
  proof?: string;
  made: Made;
  /** A photograph that was taken without the server and has to be sent before it. */
  blob?: string;
}

/** An event that was refused, or rests on one that was. It is kept until somebody has looked at it. */
export interface Aside extends Entry {
  why: string;
  refusal: Refusal | null;
  /** It was not refused itself, but rests on one that was. */
  restsOn: string | null;
  at: number;
}

/** An edit of a draft on its way to the server. */
export interface KeptEdit {
  /** Its place in the order in which things were done on this browser. */
  key?: number;
  draft: string;
  edit: Edit;
  /** Whether it was done, taken back or done again. */
  turn: 'do' | 'undo' | 'redo';
  /** The session it was made in, and what proves it to whoever asks after that session has ended. */
  session?: string;
  proof?: string;
}

/** A draft as the server last had it, to go on with without the server, and what can be taken back on this browser. */
export interface KeptDraft {
  document: Anatomy;
  version: number;
  /** Of the edits that wait here no more. */
  history: History;
  /** Only earlier versions wrote it: edits that waited then, and are in the history already. */
  seen?: string[];
}

interface Schema extends DBSchema {
  outbox: { key: number; value: Entry; indexes: { job: string } };
  aside: { key: number; value: Aside; indexes: { job: string } };
  blobs: { key: string; value: Blob };
  /** Jobs as they were last seen, to be shown without the server. */
  files: { key: string; value: JobFile & { job: Job } };
  edits: { key: number; value: KeptEdit; indexes: { draft: string } };
  drafts: { key: string; value: KeptDraft };
}

/** What this browser keeps over a reload. @throws DOMException `QuotaExceededError` when the disk is full */
export type Store = IDBPDatabase<Schema>;

/** The browser's store did not answer in time. What was asked of it may still come about. */
export class StoreSilent extends Error {
  constructor() {
    super('its store does not answer');
  }
}

/** How long the store may take, ms: a write that is flushed takes some 10 ms, a first opening some 100. Origin: own choice. */
export const STORE_LIMIT_MS = 4000;

let opened: Promise<Store> | null = null;

function open(): Promise<Store> {
  const opening = openDB<Schema>('nibrel', 2, {
    upgrade(db, from) {
      if (from < 1) {
        for (const name of ['outbox', 'aside'] as const) {
          db.createObjectStore(name, { keyPath: 'key', autoIncrement: true }).createIndex('job', 'job');
        }
        db.createObjectStore('blobs');
        db.createObjectStore('files');
      }
      db.createObjectStore('edits', { keyPath: 'key', autoIncrement: true }).createIndex('draft', 'draft');
      db.createObjectStore('drafts');
    },
    // A later version of this page opens the store anew: this one makes way.
    blocking: (_from, _to, event) => {
      (event.target as IDBDatabase).close();
      forget(opening);
    },
    terminated: () => forget(opening),
  });
  opening.catch(() => forget(opening));
  return opening;
}

function forget(opening: Promise<Store>): void {
  if (opened === opening) opened = null;
}

/**
 * Does something with what this browser keeps. Nothing else ever waits for the browser's store longer than that:
 * what is sent and shown comes first.
 * @throws StoreSilent after `STORE_LIMIT_MS`; the store is opened anew the next time if it was not open by then
 */
export async function withStore<T>(work: (db: Store) => Promise<T>): Promise<T> {
  opened ??= open();
  const opening = opened;
  let isOpen = false;
  let timer: ReturnType<typeof setTimeout> | undefined;
  const silence = new Promise<never>((_, reject) => {
    timer = setTimeout(() => {
      if (!isOpen) forget(opening);
      reject(new StoreSilent());
    }, STORE_LIMIT_MS);
  });
  const done = opening.then((db) => {
    isOpen = true;
    return work(db);
  });
  done.catch(() => {});
  try {
    return await Promise.race([done, silence]);
  } finally {
    clearTimeout(timer);
  }
}

/** For tests: as when the page was opened. */
export function forgetStore(): void {
  void opened?.then((db) => db.close());
  opened = null;
}

let heldFast = false;

/**
 * Asks the browser, once, not to clear what is kept here when its disk gets short: something waits for the server. Some
 * browsers ask whoever sits there, which is why it is not asked before.
 */
export function holdFast(): void {
  if (heldFast) return;
  heldFast = true;
  void globalThis.navigator?.storage?.persist?.().catch(() => false);
}

export const isFull = (error: unknown): boolean =>
  error instanceof DOMException && (error.name === 'QuotaExceededError' || error.name === 'UnknownError');
