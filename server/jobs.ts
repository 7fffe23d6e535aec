import { randomUUID } from 'node:crypto';
import { asc, desc, eq, inArray, isNotNull, max } from 'drizzle-orm';
import { blankAnatomy, modelOf, type Anatomy, type Model } from '../core/anatomy/index.ts';
import { currentPlan, type Plan, type PlanOne } from '../core/dive/index.ts';
import type { Job, JobFile, JobSummary, TriageFinding, UnlistedDevice } from '../core/jobs/index.ts';
import {
  type ReplanReason,
  lastChange,
  runContext,
  withWells,
  type EventBody,
  type RunContext,
  type RunEvent,
  type RunState,
  type SentEvent,
  type CounterMade,
  type ServerMade,
} from '../core/run/index.ts';
import { type Anatomies, UNLISTED } from './anatomies.ts';
import type { SenderClock } from './clock.ts';
import type { Db } from './db/db.ts';
import { EventRows } from './db/events.ts';
import { customers, deletedJobs, events, jobs, photoUses, plates } from './db/schema.ts';
import { scrubbedLate } from './keeping/scrub.ts';
import type { Live } from './live.ts';
import { EventLog, type Appended } from './log.ts';
import { notFound, Problem } from './problem.ts';
import { bareLine, summaryOf, type BareJob } from './summary.ts';

type Ours = 'id' | 'number' | 'createdAt' | 'revision' | 'customerId' | 'earlier' | 'worth';
export type NewJob = Omit<Job, Ours> & {
  revision: number | null;
  /** A customer whom the shop knows; left out, a new one of that name. */
  customerId?: string | null;
  contact?: string;
  earlier?: string | null;
  worth?: string | null;
};

/** Jobs: taking in, reading, listing, deleting. What happens on them goes through the log. */
export class Jobs {
  private readonly log: EventLog;
  /** Lines of the list by job; those that are stale are made anew when somebody asks. */
  private readonly lines = new Map<string, JobSummary>();
  private readonly stale = new Set<string>();
  private listed: string | null = null;
  private loaded = false;

  private readonly rows: EventRows;

  /** @param now ms since the epoch by the clock that nobody sets */
  /** @param listMs ms that reading lines may hold up the list */
  constructor(
    private readonly db: Db,
    private readonly anatomies: Anatomies,
    private readonly live: Live,
    private readonly now: () => number = Date.now,
    private readonly listMs: number = LIST_MS,
  ) {
    this.rows = new EventRows(db.$client);
    this.log = new EventLog(db, (id) => this.begin(this.stored(id)), now);
    this.log.onStoring = (id, added) => this.onEvents(id, added);
    this.log.onOwed = (id, seqs) => this.onOwed(id, seqs);
    this.log.onAdded = (id, added) => {
      for (const event of added) this.live.tellEvent(event);
      this.changed(id);
      if (this.log.open(id).late) this.onLate(id, added);
    };
  }

  /** A job as it was taken in. @throws Problem 404 */
  get(id: string): Job {
    return this.log.open(id).job;
  }

  private stored(id: string): Job {
    const row = this.db.select().from(jobs).where(eq(jobs.id, id)).get();
    if (!row) throw notFound('the job');
    return asJob(row);
  }

  modelOf(job: Job): Model {
    if (job.anatomy !== null) return this.anatomies.modelOf(job.anatomy, job.revision!);
    return modelOf(blankAnatomy(job.device!));
  }

  private begin(job: Job): { job: Job; context: RunContext; late: ((event: RunEvent) => RunEvent) | null } {
    const whose = job.customerId && this.db.select().from(customers).where(eq(customers.id, job.customerId)).get();
    const late = whose && whose.erasedAt !== null ? this.lateFor(whose.id) : null;
    return { job, context: runContext(this.modelOf(job), job.plan), late };
  }

  /** How an event is kept that comes late, once its customer was erased. */
  lateFor: (customer: string) => (event: RunEvent) => RunEvent = () => (event) => scrubbedLate(event, (text) => text);
  /** Told of what came late for an erased customer. */
  onLate: (job: string, added: readonly RunEvent[]) => void = () => {};
  /** Told of events whose consequences could not be stored. */
  onOwed: (job: string, seqs: number[]) => void = () => {};

  has(id: string): boolean {
    return this.db.select({ id: jobs.id }).from(jobs).where(eq(jobs.id, id)).get() !== undefined;
  }

  /** Photographs that some jobs show, as their events and the plates of their field dives name them. */
  photosOf(own: readonly string[]): string[] {
    if (own.length === 0) return [];
    const used = this.db
      .selectDistinct({ hash: photoUses.hash })
      .from(photoUses)
      .where(inArray(photoUses.job, [...own]))
      .all();
    const laid = this.db
      .select({ photo: plates.photo, plate: plates.plate })
      .from(plates)
      .where(inArray(plates.device, own.map(platesOf)))
      .all();
    return [...new Set([...used.map((row) => row.hash), ...laid.flatMap(({ photo, plate }) => [photo, plate])])];
  }

  /** Can what is recorded of it be read, or is it damaged? */
  isReadable(id: string): boolean {
    try {
      this.log.open(id);
      return true;
    } catch {
      return false;
    }
  }

  /** Takes a job in, with the events of its intake; the same `key` twice is the same job. */
  create(job: NewJob, intake: { by: string; bodies: EventBody[]; key?: string }): Job {
    const known = intake.key && this.db.select().from(jobs).where(eq(jobs.key, intake.key)).get();
    if (known) return asJob(known);
    const id = randomUUID();
    const createdAt = new Date(this.now()).toISOString();
    const { anatomy, revision, plan: drawn, customerId: named, contact = '', ...rest } = job;
    if (anatomy === null) this.keepUnlisted();
    const made = this.db.transaction((tx) => {
      const newest = tx
        .select({ number: max(jobs.number) })
        .from(jobs)
        .get();
      const gone = tx
        .select({ number: max(deletedJobs.number) })
        .from(deletedJobs)
        .get();
      const number = Math.max(newest?.number ?? 1000, gone?.number ?? 1000) + 1;
      const plan = drawn && anatomy !== null ? withWells(this.anatomies.modelOf(anatomy, revision!), drawn) : drawn;
      const customerId = this.customerFor(named ?? null, rest.customer, contact, createdAt);
      tx.insert(jobs)
        .values({
          ...rest,
          customerId,
          plan,
          id,
          number,
          createdAt,
          anatomy: anatomy ?? UNLISTED,
          revision: revision ?? 1,
          key: intake.key ?? null,
        })
        .run();
      intake.bodies.forEach((body, i) => {
        this.rows.insert({
          id: randomUUID(),
          job: id,
          seq: i + 1,
          at: createdAt,
          by: intake.by,
          version: 0,
          ...body,
        } as RunEvent);
      });
      const { earlier = null, worth = null } = rest;
      return { ...rest, anatomy, revision, plan, id, number, createdAt, customerId, earlier, worth };
    });
    this.changed(id);
    return made;
  }

  /** The customer of a new job: one who is known, with what was written down anew, or a new one. */
  private customerFor(known: string | null, name: string, contact: string, createdAt: string): string {
    const there = known && this.db.select().from(customers).where(eq(customers.id, known)).get();
    if (there && there.erasedAt === null) {
      const now = { name, contact: contact || there.contact };
      this.db.update(customers).set(now).where(eq(customers.id, there.id)).run();
      return there.id;
    }
    const id = randomUUID();
    this.db.insert(customers).values({ id, name, contact, createdAt }).run();
    return id;
  }

  private keepUnlisted(): void {
    const blank = blankAnatomy({ name: UNLISTED, kind: 'phone', width: null, height: null, thickness: null });
    if (!this.anatomies.has(UNLISTED)) this.anatomies.add(blank);
  }

  /** A job with all that a screen needs to fold and draw it. */
  fileOf(id: string): JobFile {
    const { job, events } = this.log.open(id);
    const latest = job.anatomy === null ? null : this.anatomies.newest(job.anatomy);
    const reached = job.customerId && this.db.select().from(customers).where(eq(customers.id, job.customerId)).get();
    return { job, contact: reached ? reached.contact : '', anatomy: this.modelOf(job).anatomy, events, latest };
  }

  /** The fold of a job, with the plan and the device as they are now. */
  stateOf(id: string): { job: Job; context: RunContext; state: RunState } {
    const { job, state } = this.log.open(id);
    const plan = state.version > 0 ? state.context.plan : null;
    const revision = state.revision ?? job.revision;
    return { job: { ...job, plan, revision }, context: state.context, state };
  }

  eventsOf(id: string): readonly RunEvent[] {
    return this.log.open(id).events;
  }

  /** Adds what a sender made, one after another; see `EventLog.append`. */
  append(id: string, sent: readonly SentEvent[], by: string, clock: SenderClock): Promise<Appended> {
    return this.log.append(id, sent, by, clock);
  }

  /** Adds events that the server itself makes, with what stands beside them; see `EventLog.make`. */
  make(
    id: string,
    bodies: readonly (ServerMade | CounterMade)[],
    by: string,
    seen: number | null,
    alongside?: () => void,
  ): Promise<RunEvent[]> {
    return this.log.make(id, bodies, by, seen, alongside);
  }

  /**
   * A plan in place of the one there is, before anything is done.
   * @param seen the last change of device or plan that it was made on
   * @param after what follows from it, as a quote of what was quoted before
   * @throws Problem 409 once the dive has begun, and when the device or its plan was changed meanwhile
   */
  async plan(
    id: string,
    plan: Plan,
    why: ReplanReason[],
    by: string,
    seen: number,
    after: readonly CounterMade[] = [],
  ): Promise<void> {
    const { state, events } = this.log.open(id);
    unchangedSince(events, seen);
    if (state.startedAt) throw new Problem(409, { error: 'the dive has begun; its plan stays as it is' });
    const planned: ServerMade = { type: 'planned', plan: withWells(state.context.model, plan), because: '', why };
    await this.make(id, [planned, ...after], by, state.seq);
  }

  /**
   * The anatomy corrected for this one device.
   * @param seen the last change of device or plan that it was corrected on
   * @throws Problem 409 when the plan names an item that would be gone, which is a new plan, and when the device or its
   *   plan was changed meanwhile
   */
  async edit(
    id: string,
    anatomy: Anatomy,
    item: string | null,
    because: string,
    by: string,
    seen: number,
  ): Promise<void> {
    const { items } = modelOf(anatomy);
    const { state, events } = this.log.open(id);
    unchangedSince(events, seen);
    const { seq } = state;
    const { model, plan } = state.context;
    const lost = plan.steps.flatMap((s) => s.items).find((i) => model.items.has(i) && !items.has(i));
    if (lost)
      throw new Problem(409, { error: `the plan works on ${model.nameOf(lost)}; plan the rest anew without it` });
    await this.make(id, [{ type: 'anatomy-edited', anatomy, item, because }], by, seq);
  }

  /** Deletes the rows of a job, all of them or none; that it was deleted, by whom and why, stays. */
  removeRows(id: string, reason: string, by: string): void {
    const row = this.db.select().from(jobs).where(eq(jobs.id, id)).get();
    if (row)
      this.db.transaction((tx) => {
        const at = new Date(this.now()).toISOString();
        tx.insert(deletedJobs).values({ id, number: row.number, reason, by, at }).run();
        tx.delete(events).where(eq(events.job, id)).run();
        tx.delete(plates)
          .where(eq(plates.device, platesOf(id)))
          .run();
        tx.delete(jobs).where(eq(jobs.id, id)).run();
        const others = row.customerId && tx.select().from(jobs).where(eq(jobs.customerId, row.customerId)).get();
        if (row.customerId && !others) tx.delete(customers).where(eq(customers.id, row.customerId)).run();
      });
    this.log.forget(id);
    this.lines.delete(id);
    this.stale.delete(id);
    this.listed = null;
    this.live.tell({ kind: 'job-gone', job: id });
  }

  /** Jobs on an older revision of a device that are still to be done, with what is known of them. */
  onOlder(anatomy: string, revision: number): { job: Job; state: RunState }[] {
    const rows = this.db.select({ id: jobs.id }).from(jobs).where(eq(jobs.anatomy, anatomy)).all();
    return rows
      .map(({ id }) => this.stateOf(id))
      .filter(({ job, state }) => job.revision! < revision && job.triage.length === 0 && !state.signedOff);
  }

  /** Jobs whose device nobody had drawn, oldest first. */
  fieldJobs(): Job[] {
    const rows = this.db.select().from(jobs).where(isNotNull(jobs.device)).orderBy(asc(jobs.number)).all();
    return rows.map(asJob).filter((job) => job.device !== null && job.triage.length === 0);
  }

  private closed = false;
  private telling: ReturnType<typeof setTimeout> | undefined;

  /** Stores what is not stored yet, and does no more on its own. */
  close(): void {
    this.closed = true;
    clearTimeout(this.telling);
    this.keepLines();
  }

  private changed(id: string): void {
    this.listed = null;
    this.stale.add(id);
    this.tellLater(TELL_AFTER_MS);
  }

  /** Renews lines that are stale, as many as a moment allows, and goes on when others have had theirs. */
  private tellStale(): void {
    this.telling = undefined;
    const until = performance.now() + SLICE_MS;
    for (const id of this.staleNow()) {
      const summary = this.renew(id);
      if (summary) this.live.tell({ kind: 'job', summary });
      if (performance.now() > until) break;
    }
    if (this.stale.size > 0) this.tellLater(REST_MS);
    if (this.stale.size === 0 || this.unkept.size >= KEEP_AT) this.keepLines();
  }

  private tellLater(ms: number): void {
    if (this.telling !== undefined || this.closed) return;
    this.telling = setTimeout(() => this.tellStale(), ms);
    this.telling.unref();
  }

  /** What is stale: what was changed since it was last told before what was never read. */
  private *staleNow(): Generator<string> {
    yield* [...this.stale].filter((id) => this.lines.get(id)?.state !== 'reading');
    yield* [...this.stale];
  }

  private renew(id: string): JobSummary | null {
    this.stale.delete(id);
    this.listed = null;
    const row = this.db.$client.prepare(`SELECT ${BARE} FROM jobs WHERE id = ?`).get(id) as BareJob | undefined;
    if (!row) return null;
    let line: JobSummary;
    try {
      const { job, state } = this.stateOf(id);
      line = summaryOf(job, state);
      this.unkept.set(id, state.seq);
    } catch (error) {
      console.error(`job ${row.number} cannot be read: ${(error as Error).message}`);
      line = bareLine(row, 'unreadable');
    }
    this.lines.set(id, line);
    return line;
  }

  /** Lines that are newer than what is stored of them, with their event. */
  private readonly unkept = new Map<string, number>();

  /** Stores the lines of the list, so that they need not be computed anew after a restart. */
  keepLines(): void {
    if (this.unkept.size === 0) return;
    const keep = this.db.$client.prepare('UPDATE jobs SET summary = ?, summary_seq = ? WHERE id = ?');
    this.db.$client.transaction(() => {
      for (const [id, seq] of this.unkept) keep.run(JSON.stringify(this.lines.get(id)), seq, id);
    })();
    this.unkept.clear();
  }

  private load(): void {
    this.loaded = true;
    const rows = this.db.$client
      .prepare(
        `SELECT ${BARE}, summary, summary_seq AS told, (SELECT count(*) FROM events WHERE job = jobs.id) AS seq FROM jobs
         ORDER BY number DESC`,
      )
      .all() as (BareJob & { summary: string | null; told: number | null; seq: number })[];
    for (const { summary, told, seq, ...row } of rows) {
      if (this.lines.has(row.id)) continue;
      const line = summary !== null && told === seq ? readLine(summary) : null;
      this.lines.set(row.id, line ?? bareLine(row, 'reading'));
      if (!line) this.stale.add(row.id);
    }
  }

  /**
   * The list as JSON, newest first; made anew only when something changed. Lines that were never read, as after an upgrade, come
   * by and by: until then they say what their row says.
   */
  list(): string {
    if (!this.loaded) this.load();
    const until = performance.now() + this.listMs;
    for (const id of this.staleNow()) {
      if (performance.now() > until) break;
      this.renew(id);
    }
    if (this.stale.size > 0) this.tellLater(REST_MS);
    else this.keepLines();
    this.listed ??= JSON.stringify([...this.lines.values()].sort((a, b) => b.number - a.number));
    return this.listed;
  }

  summaries(): JobSummary[] {
    return JSON.parse(this.list()) as JobSummary[];
  }

  /** Ids of all jobs, newest first. */
  ids(): string[] {
    return this.db
      .select({ id: jobs.id })
      .from(jobs)
      .orderBy(desc(jobs.number))
      .all()
      .map((row) => row.id);
  }

  /** Everything that is known of a job was changed under it: it is read anew. */
  changedUnder(id: string): void {
    this.log.forget(id);
    this.lines.delete(id);
    this.changed(id);
  }

  /** What follows from some events of a job in other tables, made up for; all of it or nothing. */
  followAgain(job: string, seqs: readonly number[]): void {
    const { events } = this.log.open(job);
    this.db.transaction(() =>
      this.onEvents(
        job,
        events.filter((e) => seqs.includes(e.seq)),
      ),
    );
  }

  /** What follows in other tables from what was added to a job; called within the transaction that stores it. */
  onEvents: (job: string, added: readonly RunEvent[]) => void = () => {};

  /** How much is held in memory, for tests of its bound. */
  get held(): number {
    return this.log.held;
  }
}

/** @throws Problem 409 when the device or its plan was changed after `seen` */
function unchangedSince(events: readonly RunEvent[], seen: number): void {
  if (lastChange(events) !== seen)
    throw new Problem(409, { error: 'the device or its plan was changed meanwhile; look at it again' });
}

/** Under what the plates of a job's field dive are kept. */
export const platesOf = (job: string): string => `job-${job}`;

/** What a row says of a job. */
const BARE = 'id, number, anatomy, customer, complaint, created_at AS createdAt';
/** How long changes of the list are gathered before they are told, ms. Origin: own choice, quicker than the eye. */
const TELL_AFTER_MS = 150;
/**
 * How long lines are renewed at a stretch, how long others have their turn between, and how long a list waits for lines, ms; and
 * how many new lines are stored together. Origin: own choice; whoever presses a key waits for no more than one stretch.
 */
const SLICE_MS = 8;
const REST_MS = 4;
const LIST_MS = 200;
const KEEP_AT = 200;

function readLine(text: string): JobSummary | null {
  try {
    return JSON.parse(text) as JobSummary;
  } catch {
    return null;
  }
}

function asJob(row: typeof jobs.$inferSelect): Job {
  const { summary: _, summarySeq: __, key: ___, unlock: ____, ...kept } = row;
  const device = row.device as UnlistedDevice | null;
  return {
    ...kept,
    device,
    anatomy: device ? null : row.anatomy,
    revision: device ? null : row.revision,
    triage: row.triage as TriageFinding[],
    plan: row.plan === null ? null : currentPlan(row.plan as Plan | PlanOne),
  };
}
