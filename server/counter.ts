import { createCipheriv, createDecipheriv, randomBytes, randomUUID } from 'node:crypto';
import { asc, desc, eq, inArray, lt, sql } from 'drizzle-orm';
import {
  type Donor,
  expectedWork,
  mishapsOf,
  numbersOf,
  type OwnSpare,
  partsToBuy,
  type PastJob,
  RETURN_WARNING,
  returnBy,
  spareFor,
  type Stroke,
} from '../core/counter/index.ts';
import type { Cases, CauseKind } from '../core/diagnosis/index.ts';
import type { Customer, EarlierJob, Hit, IntakeDraft } from '../core/jobs/index.ts';
import { casesOf } from '../core/proof/index.ts';
import type { RunEvent } from '../core/run/index.ts';
import type { SteadyClock } from './clock.ts';
import type { Db } from './db/db.ts';
import {
  customers,
  donors,
  identities,
  intakeDrafts,
  jobs,
  lessons,
  reservations,
  shelf,
  signatures,
} from './db/schema.ts';
import type { Jobs } from './jobs.ts';
import { keyFile } from './keyFile.ts';
import { notFound, Problem } from './problem.ts';
import type { ShopBook } from './shop.ts';

/** Hits of a search, and days that an intake which nobody goes on with is kept. Origin: own choice. */
const MOST_HITS = 20;
const DRAFT_DAYS = 30;

/** What the counter keeps beside the jobs: customers, numbers, drafts, donors, spares, signatures, lessons. */
export class Counter {
  constructor(
    private readonly db: Db,
    private readonly jobs: Jobs,
    private readonly shop: ShopBook,
    private readonly vault: Vault,
    private readonly clock: SteadyClock,
  ) {}

  /** Keeps what is looked up by number or counted, as the events of a job say it. */
  follow(job: string, added: readonly RunEvent[]): void {
    for (const event of added) {
      if (event.type === 'identified') {
        this.db.delete(identities).where(eq(identities.job, job)).run();
        for (const number of numbersOf(event)) this.db.insert(identities).values({ job, number }).run();
      }
      if (event.type === 'quoted') this.speakFor(job);
      if (event.type === 'signed-off') this.learn(job);
      if (event.type !== 'collected') continue;
      this.eraseUnlock(job);
      // What was spoken for and is not used lies free again.
      this.db.delete(reservations).where(eq(reservations.job, job)).run();
    }
  }

  private learn(job: string): void {
    const { state, context } = this.jobs.stateOf(job);
    const planned = expectedWork(context.plan.totals.hands, mishapsOf(context.model, context.plan));
    const waited = [...state.timers.values()].reduce((sum, t) => sum + t.seconds, 0);
    const taken = Math.max(1, state.elapsed - Math.min(waited, state.elapsed / 2));
    const { changes } = this.db
      .insert(lessons)
      .values({ job, planned: Math.max(1, planned), taken, cases: casesOf(state) })
      .onConflictDoNothing()
      .run();
    if (changes > 0) this.consume(job);
  }

  /** What the newest quote of a job takes from the shelf is spoken for; what it does not lies free again. */
  private speakFor(job: string): void {
    const { state } = this.jobs.stateOf(job);
    const { model, plan } = state.context;
    const { quote, donors } = state.counter;
    this.reserve(
      job,
      (quote?.quote.parts ?? [])
        .filter((line) => line.from === 'shelf' && !donors.has(line.item))
        .map((line) => ({ anatomy: model.anatomy.id, spare: spareFor(model, plan, line.item) })),
    );
  }

  /** What the shop's own jobs have taught. */
  lessons(): { past: PastJob[]; cases: Cases } {
    const cases: Cases = {};
    const rows = this.db.select().from(lessons).all();
    for (const row of rows)
      for (const [kind, told] of Object.entries(row.cases as Cases) as [
        CauseKind,
        { handled: number; guilty: number },
      ][]) {
        const known = cases[kind] ?? { handled: 0, guilty: 0 };
        cases[kind] = { handled: known.handled + told.handled, guilty: known.guilty + told.guilty };
      }
    return { past: rows.map(({ planned, taken }) => ({ planned, taken })), cases };
  }

  /** Jobs, customers, numbers and devices by what is typed, newest first. */
  search(text: string): Hit[] {
    const words = text.trim().toLowerCase().split(/\s+/).filter(Boolean).slice(0, 6);
    if (words.length === 0) return [];
    const lines = new Map(this.jobs.summaries().map((s) => [s.id, s]));
    const numbers = new Map<string, string[]>();
    for (const { job, number } of this.db.select().from(identities).all())
      numbers.set(job, [...(numbers.get(job) ?? []), number]);
    const rows = this.db
      .select({ id: jobs.id, customerId: jobs.customerId, contact: customers.contact })
      .from(jobs)
      .leftJoin(customers, eq(customers.id, jobs.customerId))
      .orderBy(desc(jobs.number))
      .all();
    const hits: Hit[] = [];
    for (const { id, customerId, contact } of rows) {
      const line = lines.get(id);
      if (!line) continue;
      const own = numbers.get(id) ?? [];
      const all = [line.number, line.customer, contact, line.device, line.complaint, ...line.replace, ...own]
        .join(' ')
        .toLowerCase();
      // Digits are found whatever stands between them.
      const digits = all.replace(/[\s-]/g, '');
      if (!words.every((w) => all.includes(w) || (/^\d{3,}$/.test(w) && digits.includes(w)))) continue;
      hits.push({
        job: id,
        number: line.number,
        customer: line.customer,
        customerId,
        contact: contact ?? '',
        device: line.device,
        complaint: line.complaint,
        numbers: own.filter((n) => words.some((w) => n.toLowerCase().includes(w))),
        createdAt: line.createdAt,
      });
      if (hits.length === MOST_HITS) break;
    }
    return hits;
  }

  customers(): Customer[] {
    return this.db
      .select({
        id: customers.id,
        name: customers.name,
        contact: customers.contact,
        jobs: sql<number>`count(${jobs.id})`,
        lastAt: sql<string>`max(${jobs.createdAt})`,
      })
      .from(customers)
      .innerJoin(jobs, eq(jobs.customerId, customers.id))
      .where(sql`${customers.erasedAt} is null`)
      .groupBy(customers.id)
      .orderBy(asc(customers.name))
      .all();
  }

  /** Jobs that were done on a device with one of these numbers, newest first. */
  earlier(numbers: readonly string[], except: string | null = null): EarlierJob[] {
    if (numbers.length === 0) return [];
    const rows = this.db
      .selectDistinct({ job: identities.job })
      .from(identities)
      .where(inArray(identities.number, [...numbers]))
      .all();
    return rows
      .filter(({ job }) => job !== except)
      .map(({ job: id }): EarlierJob => {
        const { job, state } = this.jobs.stateOf(id);
        const { model, plan } = state.context;
        const signedAt = state.signedOff?.at ?? null;
        return {
          job: id,
          number: job.number,
          customer: job.customer,
          device: `${model.anatomy.maker} ${model.anatomy.name}`.trim(),
          replaced: plan.replace.map((part) => model.nameOf(part)),
          signedAt,
          warrantyUntil: signedAt && warrantyEnd(signedAt, this.shop.get().warrantyMonths),
        };
      })
      .sort((a, b) => b.number - a.number);
  }

  /** How many jobs came back on a device that was here before. */
  comebacks(): number {
    return this.db.select({ id: jobs.id }).from(jobs).where(sql`${jobs.earlier} is not null`).all().length;
  }

  drafts(): IntakeDraft[] {
    const since = new Date(this.clock.now() - DRAFT_DAYS * 86_400_000).toISOString();
    // By a clock that is in doubt nothing is thrown away for its age.
    if (this.clock.doubt === null) this.db.delete(intakeDrafts).where(lt(intakeDrafts.changedAt, since)).run();
    return this.db
      .select({
        id: intakeDrafts.id,
        by: intakeDrafts.by,
        document: intakeDrafts.document,
        changedAt: intakeDrafts.changedAt,
      })
      .from(intakeDrafts)
      .where(eq(intakeDrafts.ended, false))
      .orderBy(desc(intakeDrafts.changedAt))
      .all();
  }

  /** @throws Problem 409 where it has become a job or was let go of: what comes late begins nothing again */
  keepDraft(id: string, document: unknown, by: string): void {
    const changedAt = new Date(this.clock.now()).toISOString();
    const { changes } = this.db
      .insert(intakeDrafts)
      .values({ id, by, document, changedAt })
      .onConflictDoUpdate({
        target: intakeDrafts.id,
        set: { document, by, changedAt },
        setWhere: eq(intakeDrafts.ended, false),
      })
      .run();
    if (changes === 0) throw new Problem(409, { error: 'this intake has ended; begin a new one' });
  }

  /** It has become a job, or is let go of: nothing of it is kept but that it ended. */
  endDraft(id: string, by: string): void {
    const ended = { by, document: {}, changedAt: new Date(this.clock.now()).toISOString(), ended: true };
    this.db
      .insert(intakeDrafts)
      .values({ id, ...ended })
      .onConflictDoUpdate({ target: intakeDrafts.id, set: ended })
      .run();
  }

  /** The code that unlocks the device of a job; `null` where none is kept. */
  unlockOf(job: string): string | null {
    const row = this.db.select({ unlock: jobs.unlock }).from(jobs).where(eq(jobs.id, job)).get();
    return row?.unlock ? this.vault.open(row.unlock) : null;
  }

  keepUnlock(job: string, code: string): void {
    this.db
      .update(jobs)
      .set({ unlock: this.vault.seal(code) })
      .where(eq(jobs.id, job))
      .run();
  }

  eraseUnlock(job: string): void {
    this.db.update(jobs).set({ unlock: null }).where(eq(jobs.id, job)).run();
  }

  /** @param id as what is signed names it; stored in the transaction of that event */
  keepSignature(id: string, job: string, strokes: readonly Stroke[]): void {
    const whose = this.db
      .select({ erasedAt: customers.erasedAt })
      .from(jobs)
      .innerJoin(customers, eq(customers.id, jobs.customerId))
      .where(eq(jobs.id, job))
      .get();
    // Of whoever was erased no signature is kept any more.
    if (whose && whose.erasedAt !== null) return;
    this.db.insert(signatures).values({ id, job, strokes, at: new Date().toISOString() }).run();
  }

  /** @throws Problem 404 */
  signature(id: string): Stroke[] {
    const row = this.db.select().from(signatures).where(eq(signatures.id, id)).get();
    if (!row) throw notFound('the signature');
    return row.strokes as Stroke[];
  }

  donors(): Donor[] {
    return this.db
      .select()
      .from(donors)
      .all()
      .map((row) => this.asDonor(row))
      .sort((a, b) => b.boughtOn.localeCompare(a.boughtOn));
  }

  /** Donor parts that nobody has fitted and that can soon be returned no more, in words. @param today ISO date */
  warnings(today = new Date().toISOString().slice(0, 10)): string[] {
    const last = new Date(`${today}T00:00:00Z`);
    last.setUTCDate(last.getUTCDate() + RETURN_WARNING);
    const until = last.toISOString().slice(0, 10);
    return this.donors()
      .filter((d) => d.job === null && returnBy(d) >= today && returnBy(d) <= until)
      .map((d) => `A donor part (${d.part}, ${d.seller || 'unknown seller'}) can be returned until ${returnBy(d)}.`);
  }

  /** @throws Problem 404 */
  donor(id: string): Donor {
    const row = this.db.select().from(donors).where(eq(donors.id, id)).get();
    if (!row) throw notFound('the donor part');
    return this.asDonor(row);
  }

  /** A donor as it is kept; one whose job was deleted is free again. */
  private asDonor({ document, revision }: typeof donors.$inferSelect): Donor {
    const donor = document as Donor;
    const there = donor.job && this.db.select({ id: jobs.id }).from(jobs).where(eq(jobs.id, donor.job)).get();
    return { ...donor, revision, job: there ? donor.job : null };
  }

  keepDonor(donor: Donor): Donor {
    const revision = donor.revision + 1;
    const document = { ...donor, revision };
    this.db
      .insert(donors)
      .values({ id: donor.id, document, revision })
      .onConflictDoUpdate({ target: donors.id, set: { document, revision } })
      .run();
    return document;
  }

  dropDonor(id: string): void {
    if (this.donor(id).job !== null) throw new Problem(409, { error: 'it was fitted on a job; the record needs it' });
    this.db.delete(donors).where(eq(donors.id, id)).run();
  }

  /** What lies on the shelf. @param job whose own words for a spare do not count: what it has spoken for is there for it */
  shelf(job: string | null = null): OwnSpare[] {
    const taken = this.db
      .select()
      .from(reservations)
      .all()
      .filter((r) => r.job !== job);
    return this.db
      .select()
      .from(shelf)
      .orderBy(asc(shelf.anatomy), asc(shelf.spare))
      .all()
      .map(({ revision: _, ...row }) => ({ ...row, reserved: taken.filter((r) => r.spare === row.id).length }));
  }

  keepSpare(spare: Pick<OwnSpare, 'anatomy' | 'spare' | 'price' | 'count'>): void {
    this.db
      .insert(shelf)
      .values({ id: randomUUID(), ...spare })
      .onConflictDoUpdate({
        target: [shelf.anatomy, shelf.spare],
        set: { price: spare.price, count: spare.count, revision: sql`${shelf.revision} + 1` },
      })
      .run();
  }

  /** Speaks for what a quote takes from the shelf, and gives back what it does not. */
  private reserve(job: string, spares: readonly { anatomy: string; spare: string }[]): void {
    this.db.transaction(() => {
      this.db.delete(reservations).where(eq(reservations.job, job)).run();
      for (const own of this.shelf())
        if (own.count > own.reserved && spares.some((s) => s.anatomy === own.anatomy && s.spare === own.spare))
          this.db.insert(reservations).values({ job, spare: own.id }).run();
    });
  }

  /**
   * What was fitted leaves the shelf when a job is signed off: what it had spoken for, and where nobody quoted it, what lies
   * there free. A donor's part never lay on it.
   */
  private consume(job: string): void {
    const { state } = this.jobs.stateOf(job);
    const { model, plan } = state.context;
    const spoken = new Set(
      this.db
        .select()
        .from(reservations)
        .where(eq(reservations.job, job))
        .all()
        .map((r) => r.spare),
    );
    const fitted = partsToBuy(model, plan)
      .filter((part) => state.device.renewed.has(part) && !state.counter.donors.has(part))
      .map((part) => spareFor(model, plan, part));
    const quoted = state.counter.quote !== null;
    for (const own of this.shelf(job)) {
      if (own.anatomy !== model.anatomy.id || !fitted.includes(own.spare)) continue;
      if (!spoken.has(own.id) && (quoted || own.count <= own.reserved)) continue;
      this.db
        .update(shelf)
        .set({ count: sql`max(0, ${shelf.count} - 1)`, revision: sql`${shelf.revision} + 1` })
        .where(eq(shelf.id, own.id))
        .run();
    }
    this.db.delete(reservations).where(eq(reservations.job, job)).run();
  }
}

/** The last day of a warranty of so many months, ISO date. */
export function warrantyEnd(signedAt: string, months: number): string {
  const day = new Date(signedAt);
  day.setUTCMonth(day.getUTCMonth() + months);
  return day.toISOString().slice(0, 10);
}

/** Seals what nobody may read in the file: AES-256-GCM under a key of the private folder, which no backup holds. */
export class Vault {
  private readonly keyNow: () => Buffer;

  constructor(path: string) {
    this.keyNow = keyFile(path);
  }

  seal(text: string): string {
    const nonce = randomBytes(12);
    const cipher = createCipheriv('aes-256-gcm', this.keyNow(), nonce);
    const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()]);
    return Buffer.concat([nonce, cipher.getAuthTag(), sealed]).toString('base64');
  }

  /** @returns `null` for what another key has sealed, as after a restored backup */
  open(sealed: string): string | null {
    try {
      const bytes = Buffer.from(sealed, 'base64');
      const decipher = createDecipheriv('aes-256-gcm', this.keyNow(), bytes.subarray(0, 12));
      decipher.setAuthTag(bytes.subarray(12, 28));
      return Buffer.concat([decipher.update(bytes.subarray(28)), decipher.final()]).toString('utf8');
    } catch {
      return null;
    }
  }
}
