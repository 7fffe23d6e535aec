import { existsSync, mkdirSync, readFileSync } from 'node:fs';
import { appendFile, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { and, eq, isNull } from 'drizzle-orm';
import type { Db } from './db/db.ts';
import { customers, deletedJobs, events, identities, intakeDrafts, jobs, photos, signatures } from './db/schema.ts';
import type { Jobs } from './jobs.ts';
import { photoPath } from './photos.ts';
import { notFound } from './problem.ts';
import type { ShopBook } from './shop.ts';

/** What stands where a name stood. */
export const ERASED = 'Erased customer';
/** Ids of those who were erased, outside the database: a backup that is older than an erasure has it done again. */
export const LEDGER = 'private/erasures.jsonl';
/** The same beside the backups, for a machine that has nothing but them. */
export const LEDGER_BESIDE = 'erasures.jsonl';
/** Words of a name that are too short to be looked for in what was written. Origin: own choice. */
const SHORTEST = 3;

/** Everything of one customer, and its erasure. */
export class Erasure {
  constructor(
    private readonly db: Db,
    private readonly jobs: Jobs,
    private readonly shop: ShopBook,
    private readonly data: string,
  ) {}

  /** All that is kept of a customer, as plain data; photographs by their hash. @throws Problem 404 */
  export(id: string): { customer: object; jobs: object[]; photos: string[]; signatures: object[] } {
    const customer = this.customer(id);
    const own = this.jobsOf(id);
    return {
      customer: { name: customer.name, contact: customer.contact, since: customer.createdAt },
      jobs: own.map((job) => ({
        ...this.jobs.fileOf(job).job,
        events: this.jobs.eventsOf(job),
      })),
      photos: [...this.photosOf(own)],
      signatures: this.db
        .select()
        .from(signatures)
        .all()
        .filter((s) => own.includes(s.job)),
    };
  }

  /**
   * Erases a customer with everything that says who they were. What was done to the device stays, without a name.
   * @throws Problem 404
   */
  async erase(id: string, because: 'asked' | 'time', by: string): Promise<void> {
    const customer = this.customer(id);
    const own = this.jobsOf(id);
    const shown = this.photosOf(own);
    const kept = this.photosOfOthers(own);
    const gone = [...shown].filter((hash) => !kept.has(hash));
    const scrub = scrubber([customer.name, customer.contact]);
    this.db.transaction(() => {
      for (const job of own) this.scrubJob(job, scrub, gone);
      for (const draft of this.db.select().from(intakeDrafts).all())
        if (scrub(JSON.stringify(draft.document)) !== JSON.stringify(draft.document))
          this.db.delete(intakeDrafts).where(eq(intakeDrafts.id, draft.id)).run();
      for (const row of this.db.select().from(deletedJobs).all())
        this.db
          .update(deletedJobs)
          .set({ reason: scrub(row.reason) })
          .where(eq(deletedJobs.id, row.id))
          .run();
      for (const hash of gone) this.db.delete(photos).where(eq(photos.hash, hash)).run();
      this.db
        .update(customers)
        .set({ name: '', contact: '', erasedAt: new Date().toISOString() })
        .where(eq(customers.id, id))
        .run();
    });
    for (const hash of gone)
      for (const size of ['full', 'thumb'] as const)
        await rm(join(this.data, 'photos', photoPath(hash, size)), { force: true });
    for (const job of own) {
      this.jobs.changedUnder(job);
      await this.jobs.make(job, { type: 'erased', because }, by, this.jobs.stateOf(job).state.seq);
    }
    // What lists kept in memory is written anew before the file is cleaned.
    this.jobs.list();
    this.db.$client.exec('VACUUM');
    this.db.$client.pragma('wal_checkpoint(TRUNCATE)');
    await this.note(id);
  }

  /** Erases again what was erased after the backup that was restored, and those whose time is over. */
  async catchUp(now = Date.now()): Promise<number> {
    let done = 0;
    for (const id of this.ledger()) {
      const there = this.db
        .select()
        .from(customers)
        .where(and(eq(customers.id, id), isNull(customers.erasedAt)))
        .get();
      if (!there) continue;
      await this.erase(id, 'asked', 'Nibrel');
      done++;
    }
    for (const id of this.overdue(now)) {
      await this.erase(id, 'time', 'Nibrel');
      done++;
    }
    return done;
  }

  /** Customers all of whose jobs were over longer ago than the shop keeps names. */
  private overdue(now: number): string[] {
    const before = now - this.shop.get().keptDays * 86_400_000;
    const all = this.db.select({ id: customers.id }).from(customers).where(isNull(customers.erasedAt)).all();
    return all
      .map(({ id }) => id)
      .filter((id) => {
        const own = this.jobsOf(id);
        return own.length > 0 && own.every((job) => this.isOver(job, before));
      });
  }

  private isOver(id: string, before: number): boolean {
    const row = this.db
      .select({ createdAt: jobs.createdAt, triage: jobs.triage })
      .from(jobs)
      .where(eq(jobs.id, id))
      .get()!;
    if (Date.parse(row.createdAt) >= before) return false;
    const { job, state } = this.jobs.stateOf(id);
    const end = state.counter.collected?.at ?? state.signedOff?.at ?? (job.triage.length > 0 ? row.createdAt : null);
    return end !== null && Date.parse(end) < before;
  }

  private customer(id: string) {
    const row = this.db
      .select()
      .from(customers)
      .where(and(eq(customers.id, id), isNull(customers.erasedAt)))
      .get();
    if (!row) throw notFound('the customer');
    return row;
  }

  private jobsOf(customer: string): string[] {
    return this.db
      .select({ id: jobs.id })
      .from(jobs)
      .where(eq(jobs.customerId, customer))
      .all()
      .map((row) => row.id);
  }

  private photosOf(own: readonly string[]): Set<string> {
    const found = new Set<string>();
    for (const id of own)
      for (const match of JSON.stringify(this.jobs.eventsOf(id)).matchAll(/"photo":"([0-9a-f]{64})"/g))
        found.add(match[1]!);
    return found;
  }

  /** Photographs that other jobs, plates or the acts of others rest on. */
  private photosOfOthers(own: readonly string[]): Set<string> {
    const found = new Set<string>();
    const bodies = this.db.$client.prepare('SELECT job, body FROM events WHERE body LIKE ?').all('%"photo":"%') as {
      job: string;
      body: string;
    }[];
    for (const { job, body } of bodies)
      if (!own.includes(job)) for (const match of body.matchAll(/"photo":"([0-9a-f]{64})"/g)) found.add(match[1]!);
    const plates = this.db.$client.prepare('SELECT photo, plate FROM plates').all() as {
      photo: string;
      plate: string;
    }[];
    for (const { photo, plate } of plates) for (const hash of [photo, plate]) found.add(hash);
    return found;
  }

  private scrubJob(id: string, scrub: (text: string) => string, gone: readonly string[]): void {
    const row = this.db.select().from(jobs).where(eq(jobs.id, id)).get()!;
    this.db
      .update(jobs)
      .set({
        customer: ERASED,
        complaint: scrub(row.complaint),
        outside: scrub(row.outside),
        device: row.device === null ? null : scrubbed(row.device, scrub, true),
        unlock: null,
        summary: null,
        summarySeq: null,
      })
      .where(eq(jobs.id, id))
      .run();
    this.db.delete(identities).where(eq(identities.job, id)).run();
    this.db.delete(signatures).where(eq(signatures.job, id)).run();
    for (const event of this.db.select().from(events).where(eq(events.job, id)).all()) {
      const before = event.body as Record<string, unknown>;
      const body = scrubbed(withoutPerson(event.type, before, gone), scrub) as Record<string, unknown>;
      if (JSON.stringify(body) !== JSON.stringify(before))
        this.db.update(events).set({ body }).where(eq(events.id, event.id)).run();
    }
  }

  private ledger(): string[] {
    const path = join(this.data, LEDGER);
    if (!existsSync(path)) return [];
    return readFileSync(path, 'utf8')
      .split('\n')
      .flatMap((line) => /"customer":"([^"]+)"/.exec(line)?.[1] ?? []);
  }

  private async note(customer: string): Promise<void> {
    if (this.ledger().includes(customer)) return;
    const line = `${JSON.stringify({ customer, at: new Date().toISOString() })}\n`;
    const { backupFolder } = this.shop.get();
    const places = [join(this.data, LEDGER), ...(backupFolder === '' ? [] : [join(backupFolder, LEDGER_BESIDE)])];
    for (const path of places) {
      mkdirSync(dirname(path), { recursive: true });
      await appendFile(path, line);
    }
  }
}

/** Fields of events that name a person by themselves. */
function withoutPerson(type: string, body: Record<string, unknown>, gone: readonly string[]): Record<string, unknown> {
  switch (type) {
    case 'identified':
      return { ...body, imei: [], serial: null, how: 'unreadable' };
    case 'collected':
      return { ...body, name: ERASED, signature: null };
    case 'agreed':
      return { ...body, signature: '' };
    case 'photo':
      return gone.includes(body.photo as string) ? { ...body, note: '' } : body;
    default:
      return body;
  }
}

/** Fields in which somebody writes what they like; everything else is made by Nibrel, and names nobody. */
const WRITTEN: ReadonlySet<string> = new Set([
  'note',
  'reason',
  'text',
  'because',
  'where',
  'to',
  'answer',
  'what',
  'why',
  'box',
]);

/** Documents that Nibrel makes: nobody writes in them, and their ids must stay as they are. */
const MADE: ReadonlySet<string> = new Set(['plan', 'anatomy', 'quote']);

/** What was written freely, with a person taken out of it, however deep it stands. */
function scrubbed(value: unknown, scrub: (text: string) => string, written = false): unknown {
  if (typeof value === 'string') return written ? scrub(value) : value;
  if (Array.isArray(value)) return value.map((entry) => scrubbed(entry, scrub, written));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([field, entry]) => [
      field,
      MADE.has(field) ? entry : scrubbed(entry, scrub, written || WRITTEN.has(field)),
    ]),
  );
}

/**
 * Takes a person out of a text: the whole of each thing that is known of them, and each longer word of it that stands by
 * itself, whatever its letter case.
 */
export function scrubber(known: readonly string[]): (text: string) => string {
  const words = known
    .flatMap((text) => [text.trim(), ...text.split(/[\s,;]+/)])
    .filter((word) => word.length >= SHORTEST)
    .sort((a, b) => b.length - a.length);
  if (words.length === 0) return (text) => text;
  const escaped = [...new Set(words)].map((w) => w.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
  const pattern = new RegExp(`(?<![\\p{L}\\p{N}])(?:${escaped.join('|')})(?![\\p{L}\\p{N}])`, 'giu');
  return (text) => text.replace(pattern, '…');
}
