import { closeSync, existsSync, fsyncSync, mkdirSync, openSync, readFileSync, writeSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { and, eq, inArray, isNull } from 'drizzle-orm';
import type { SteadyClock } from '../clock.ts';
import type { Db } from '../db/db.ts';
import { EventRows } from '../db/events.ts';
import { customers, deletedJobs, identities, intakeDrafts, jobs, photoUses, plates, signatures } from '../db/schema.ts';
import { type Jobs, platesOf } from '../jobs.ts';
import type { Photos } from '../photos.ts';
import { notFound } from '../problem.ts';
import type { ShopBook } from '../shop.ts';
import type { Journal, Procedure, Step } from './journal.ts';
import { ERASED, marksFor, scrubbed, scrubber, withoutPerson } from './scrub.ts';

/** Ids of those who were erased, outside the database: a backup that is older than an erasure has it done again. */
export const LEDGER = 'private/erasures.jsonl';
/** The same beside the backups, for a machine that has nothing but them. */
export const LEDGER_BESIDE = 'erasures.jsonl';
/** How long what comes late is looked through for the words of a name. Origin: own choice; a tablet that was away for a season. */
const LATE_DAYS = 120;
/** How often the file is tried to be cleaned while something reads it, and how long between, ms. Origin: own choice. */
const CLEANING = { tries: 20, between: 250 } as const;

interface Facts {
  customer: string;
  because: 'asked' | 'time';
  by: string;
  /** What is known of them. It is struck out with the intent. */
  known: string[];
  jobs: string[];
  photos: string[];
}

/** Everything of one customer, and its erasure. */
export class Erasure {
  private readonly rows: EventRows;

  constructor(
    private readonly db: Db,
    private readonly jobs: Jobs,
    private readonly photos: Photos,
    private readonly shop: ShopBook,
    private readonly data: string,
    private readonly journal: Journal,
    private readonly clock: SteadyClock,
    private readonly lateKey: () => Buffer,
  ) {
    this.rows = new EventRows(db.$client);
    journal.add(this.procedure());
  }

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
      photos: this.jobs.photosOf(own),
      signatures: this.db
        .select()
        .from(signatures)
        .all()
        .filter((s) => own.includes(s.job)),
    };
  }

  /**
   * Erases a customer with everything that says who they were. What was done to the device stays, without a name.
   * @throws Problem 404, Halted when something stops it: it was begun, and goes on by itself
   */
  async erase(id: string, because: 'asked' | 'time', by: string): Promise<void> {
    const key = `erasure ${id}`;
    if (this.journal.has(key)) return this.journal.begin('erasure', key, null);
    const { name, contact } = this.customer(id);
    const own = this.jobsOf(id);
    const facts: Facts = {
      customer: id,
      because,
      by,
      known: [name, contact],
      jobs: own,
      photos: this.jobs.photosOf(own),
    };
    return this.journal.begin('erasure', key, facts);
  }

  private procedure(): Procedure<Facts> {
    const steps: Step<Facts>[] = [
      { name: 'ledger', run: ({ customer }) => this.note(customer) },
      { name: 'marks', run: (facts) => this.keepMarks(facts) },
      { name: 'rows', run: (facts) => this.scrubRows(facts) },
      { name: 'photographs', run: ({ photos }) => this.photos.forget(photos) },
      { name: 'events', run: (facts) => this.tell(facts) },
      { name: 'lines', run: () => void this.jobs.list() },
      { name: 'file', run: () => this.clean() },
    ];
    return { kind: 'erasure', steps, left: (facts) => this.left(facts) };
  }

  /** Looks whether anything of them is left. */
  private left({ customer, jobs: own, photos }: Facts): string | null {
    const row = this.db.select().from(customers).where(eq(customers.id, customer)).get();
    if (row && (row.name !== '' || row.contact !== '' || row.erasedAt === null)) return 'the customer is still named';
    if (!this.ledger().includes(customer)) return 'the list of those who were erased lacks them';
    if (this.photos.leftOver(photos).length > 0) return 'photographs of them are left';
    for (const id of own) {
      const job = this.db.select().from(jobs).where(eq(jobs.id, id)).get();
      if (job && (job.customer !== ERASED || job.unlock !== null)) return `job ${job.number} still names them`;
      const kept = [identities, signatures].some((table) =>
        this.db.select({ job: table.job }).from(table).where(eq(table.job, id)).get(),
      );
      if (kept) return 'numbers or signatures of them are left';
    }
    return null;
  }

  private keepMarks({ customer, known }: Facts): void {
    const until = this.clock.now() + LATE_DAYS * 86_400_000;
    this.journal.keepMarks(customer, marksFor(this.lateKey(), known), until);
  }

  private scrubRows({ customer, jobs: own, known, photos }: Facts): void {
    const scrub = scrubber(known);
    this.db.transaction(() => {
      for (const job of own) this.scrubJob(job, scrub, photos);
      // What of it is still on its way finds that it has ended.
      for (const draft of this.db.select().from(intakeDrafts).all())
        if (scrub(JSON.stringify(draft.document)) !== JSON.stringify(draft.document))
          this.db.update(intakeDrafts).set({ document: {}, ended: true }).where(eq(intakeDrafts.id, draft.id)).run();
      for (const row of this.db.select().from(deletedJobs).all())
        this.db
          .update(deletedJobs)
          .set({ reason: scrub(row.reason) })
          .where(eq(deletedJobs.id, row.id))
          .run();
      if (own.length > 0) {
        this.db.delete(photoUses).where(inArray(photoUses.job, own)).run();
        this.db
          .delete(plates)
          .where(inArray(plates.device, own.map(platesOf)))
          .run();
      }
      this.db
        .update(customers)
        .set({ name: '', contact: '', erasedAt: new Date(this.clock.now()).toISOString() })
        .where(eq(customers.id, customer))
        .run();
    });
    for (const job of own) this.jobs.changedUnder(job);
  }

  /** That they were erased, and why, stands in each job, once. */
  private async tell({ jobs: own, because, by }: Facts): Promise<void> {
    for (const job of own) {
      const told = this.rows.rowsOf(job);
      if (told.some((row) => row.type === 'erased')) continue;
      // A record that cannot be read is told nothing more; it was scrubbed like the others.
      if (!this.jobs.isReadable(job)) continue;
      await this.jobs.make(job, [{ type: 'erased', because }], by, null);
    }
  }

  /** The file is written anew without what was deleted, and what waited beside it is in it. */
  private async clean(): Promise<void> {
    const { $client } = this.db;
    $client.exec('VACUUM');
    for (let i = 0; i < CLEANING.tries; i++) {
      const [{ busy }] = $client.pragma('wal_checkpoint(TRUNCATE)') as [{ busy: number }];
      if (busy === 0) return;
      await sleep(CLEANING.between);
    }
    throw new Error('the data are being read, so that the file cannot be cleaned yet');
  }

  /**
   * Goes on with what was begun, erases again what was erased after the backup that was restored, and those whose time is
   * over, unless the clock is in doubt. @returns how many were begun now
   */
  async catchUp(now = this.clock.now()): Promise<number> {
    await this.journal.resume('erasure');
    this.journal.forgetMarks(now);
    let done = 0;
    const begin = async (id: string, because: 'asked' | 'time') => {
      done++;
      // What stops one is said to the lead, and holds up no other.
      await this.erase(id, because, 'Nibrel').catch((error: Error) =>
        console.error(`an erasure waits: ${error.message}`),
      );
    };
    for (const id of this.ledger()) {
      const there = this.db
        .select()
        .from(customers)
        .where(and(eq(customers.id, id), isNull(customers.erasedAt)))
        .get();
      if (there) await begin(id, 'asked');
    }
    if (this.clock.doubt === null) for (const id of this.overdue(now)) await begin(id, 'time');
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
    if (Date.parse(row.createdAt) >= before || !this.jobs.isReadable(id)) return false;
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

  private scrubJob(id: string, scrub: (text: string) => string, photos: readonly string[]): void {
    const row = this.db.select().from(jobs).where(eq(jobs.id, id)).get();
    if (!row) return;
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
    for (const event of this.rows.rowsOf(id)) {
      const before = JSON.parse(event.body) as Record<string, unknown>;
      const body = scrubbed(withoutPerson(event.type, before, photos), scrub) as Record<string, unknown>;
      if (JSON.stringify(body) !== event.body) this.rows.rewrite(event, body);
    }
  }

  private ledger(): string[] {
    return customersIn(join(this.data, LEDGER));
  }

  private note(customer: string): void {
    noteIn(join(this.data, LEDGER), [customer]);
    this.noteBeside();
  }

  /** The list beside the backups is as long as ours. A folder that is not there now gets it with the next backup. */
  noteBeside(): void {
    const { backupFolder } = this.shop.get();
    if (backupFolder === '' || !existsSync(backupFolder)) return;
    try {
      noteIn(join(backupFolder, LEDGER_BESIDE), this.ledger());
    } catch (error) {
      console.error(`the list of erasures beside the backups was not written: ${(error as Error).message}`);
    }
  }
}

/** Ids of the customers in a list of erasures. */
export function customersIn(path: string): string[] {
  if (!existsSync(path)) return [];
  return readFileSync(path, 'utf8')
    .split('\n')
    .flatMap((line) => /"customer":"([^"]+)"/.exec(line)?.[1] ?? []);
}

/** Adds those to a list of erasures whom it lacks; they are on the disk when it returns. */
export function noteIn(path: string, gone: readonly string[]): void {
  const known = customersIn(path);
  const missing = gone.filter((customer) => !known.includes(customer));
  if (missing.length === 0) return;
  mkdirSync(dirname(path), { recursive: true, mode: 0o700 });
  const cut = existsSync(path) && !/(^|\n)$/.test(readFileSync(path, 'utf8'));
  const file = openSync(path, 'a', 0o600);
  try {
    const at = new Date().toISOString();
    // A line that was cut short when the machine stopped is left as it is, and is no line.
    writeSync(file, `${cut ? '\n' : ''}${missing.map((customer) => JSON.stringify({ customer, at })).join('\n')}\n`);
    fsyncSync(file);
  } finally {
    closeSync(file);
  }
}
