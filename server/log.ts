import { randomUUID } from 'node:crypto';
import { statSync } from 'node:fs';
import type { Database, Statement } from 'better-sqlite3';
import {
  admit,
  circumstanceNow,
  foldOn,
  foldRun,
  type Refusal,
  type RunContext,
  type RunEvent,
  type RunState,
  type SentEvent,
  type CounterMade,
  type ServerMade,
} from '../core/run/index.ts';
import { judgedAt, timeOf, type SenderClock } from './clock.ts';
import type { Job } from '../core/jobs/index.ts';
import type { Db } from './db/db.ts';
import { EventRows } from './db/events.ts';
import { Problem } from './problem.ts';
import { tell } from '../words/index.ts';

/** A job in memory: what it began with, its events, and their fold. */
export interface Open {
  job: Job;
  context: RunContext;
  events: RunEvent[];
  /** What is kept of an event that comes late, once the customer was erased; `null` as long as nobody was. */
  late: ((event: RunEvent) => RunEvent) | null;
  /** Places in `events` by id. */
  places: Map<string, number>;
  state: RunState;
}

/** What came of a batch: stored as far as it could be. */
export interface Appended {
  /** The events as stored, those already known as well, up to the one that was refused. */
  events: RunEvent[];
  /** The first that could not be taken in, by its id; what stands behind it was not looked at. */
  refused: { id: string; error: string; refusal: Refusal | null } | null;
  /** What the sender has not seen, when its numbers were stale. */
  missed: RunEvent[] | null;
}

/** Events held in memory over all jobs. Origin: own choice; about 1 kB each. */
export const MOST_HELD = 200_000;
/** How often it is looked whether the data are where they were, ms. Origin: own choice. */
const LOOK_EVERY_MS = 1000;

interface Waiting {
  work: () => Appended;
  job: string;
  resolve: (value: Appended) => void;
  reject: (error: unknown) => void;
}

/**
 * The event log, and its only writer. What comes in at the same time is committed together: one wait for the disk
 * serves all of it. An answer is given after the commit; a commit that fails leaves nothing behind, in memory either.
 */
export class EventLog {
  private readonly opened = new Map<string, Open>();
  private queue: Waiting[] = [];
  private readonly sqlite: Database;
  private readonly rows: EventRows;
  private readonly owner: Statement;
  /** What the batch under way has taken in and not yet stored. */
  private batch: RunEvent[] = [];
  /** What is on the disk and not yet told of. */
  private stored: RunEvent[] = [];
  private working = false;
  /** Every id is looked up before it is taken in. */
  private careful = false;
  /** What follows from events in other tables; told within the transaction that stores them. */
  onStoring: (job: string, added: readonly RunEvent[]) => void = () => {};
  /** Told of what was added to a job, after it is on the disk. */
  onAdded: (job: string, added: RunEvent[]) => void = () => {};
  /** Told of events whose consequences could not be stored, so that they are made up for. */
  onOwed: (job: string, seqs: number[]) => void = () => {};

  /**
   * @param begin a job and what it begins with
   * @param now ms since the epoch by the clock that nobody sets
   */
  constructor(
    db: Db,
    private readonly begin: (job: string) => Pick<Open, 'job' | 'context' | 'late'>,
    private readonly now: () => number,
  ) {
    this.sqlite = db.$client;
    this.file = this.sqlite.memory ? '' : this.sqlite.name;
    this.inode = this.file === '' ? 0 : statSync(this.file).ino;
    this.rows = new EventRows(this.sqlite);
    this.owner = this.sqlite.prepare('SELECT job FROM events WHERE id = ?').pluck();
  }

  /** A job with its fold, from memory or from the disk. */
  open(job: string): Open {
    const known = this.opened.get(job);
    if (known) {
      // The least recently used stands first.
      this.opened.delete(job);
      this.opened.set(job, known);
      return known;
    }
    const begun = this.begin(job);
    const { context } = begun;
    const events = this.rows.of(job);
    const made: Open = {
      ...begun,
      events,
      places: new Map(events.map((e, i) => [e.id, i])),
      state: foldRun(context, events),
    };
    this.opened.set(job, made);
    // What a batch has taken in is in memory only until it is stored.
    if (!this.working) this.evict();
    return made;
  }

  forget(job: string): void {
    this.opened.delete(job);
  }

  /** Events held in memory. */
  get held(): number {
    let held = 0;
    for (const { events } of this.opened.values()) held += events.length + 1;
    return held;
  }

  private evict(): void {
    let held = this.held;
    for (const [id, { events }] of this.opened) {
      if (held <= MOST_HELD || this.opened.size === 1) return;
      this.opened.delete(id);
      held -= events.length + 1;
    }
  }

  /**
   * Appends events that were made one after another by one sender. They are taken in one by one; the first that is
   * refused ends it, and what stood before it is stored.
   */
  append(job: string, sent: readonly SentEvent[], by: string, clock: SenderClock): Promise<Appended> {
    return this.enqueue(job, () => this.takeIn(job, sent, by, clock));
  }

  /**
   * Adds events that the server itself makes, all of them or none.
   * @param seen the event up to which what they rest on was read; `null` for what is so whatever happened meanwhile
   * @param alongside what is stored with them in other tables, in the same transaction; what it throws stops them too
   * @throws Problem 409 when something has happened after `seen`
   */
  async make(
    job: string,
    bodies: readonly (ServerMade | CounterMade)[],
    by: string,
    seen: number | null,
    alongside?: () => void,
  ): Promise<RunEvent[]> {
    const { events } = await this.enqueue(job, () => {
      // What waits before it is stored by itself: what this one trips over is not theirs.
      if (alongside) this.store();
      const open = this.open(job);
      if (seen !== null && open.state.seq !== seen)
        throw new Problem(409, { error: 'something was recorded meanwhile; ask again' });
      const made = bodies.map((body) => {
        // It is collected, and its customer may be erased, after it was signed off.
        if (open.state.signedOff && body.type !== 'collected' && body.type !== 'erased')
          throw new Problem(409, { error: 'the job is signed off' });
        const { version, seq } = open.state;
        const at = new Date(Math.max(this.now(), this.lastTime(open))).toISOString();
        return this.add(open, { id: randomUUID(), job, seq: seq + 1, at, by, version, ...body });
      });
      if (alongside) this.storeWith(alongside, job);
      return { events: made, refused: null, missed: null };
    });
    return events;
  }

  private storeWith(alongside: () => void, job: string): void {
    try {
      this.store(alongside);
    } catch (error) {
      this.batch = [];
      this.opened.delete(job);
      throw error;
    }
  }

  private enqueue(job: string, work: () => Appended): Promise<Appended> {
    return new Promise((resolve, reject) => {
      this.queue.push({ work, job, resolve, reject });
      if (this.queue.length === 1) setImmediate(() => this.flush());
    });
  }

  private flush(): void {
    const waiting = this.queue;
    this.queue = [];
    try {
      this.workOff(waiting);
    } catch (error) {
      if ((error as { code?: string }).code !== 'SQLITE_CONSTRAINT_UNIQUE') {
        refuseAll(waiting, error);
        return;
      }
      // Some id stands on another job. That is rare, so that it is looked for only now: all of it once more, with a
      // look at every id.
      this.careful = true;
      try {
        this.workOff(waiting);
      } catch (again) {
        refuseAll(waiting, again);
      } finally {
        this.careful = false;
      }
    }
  }

  /**
   * Works off what waits and answers.
   * @throws what the database says; nobody has been answered then, and what was stored before is known by its id
   */
  private workOff(waiting: readonly Waiting[]): void {
    const answers: { to: Waiting; answer?: Appended; error?: unknown }[] = [];
    this.working = true;
    this.batch = [];
    try {
      for (const to of waiting) {
        const from = this.batch.length;
        try {
          answers.push({ to, answer: to.work() });
        } catch (error) {
          answers.push({ to, error });
          if (this.batch.length <= from) continue;
          // What it had added before it failed stands in memory; the job is read anew, with what was added before it.
          this.batch.length = from;
          this.store();
          this.opened.delete(to.job);
        }
      }
      this.store();
    } catch (error) {
      for (const { job } of waiting) this.opened.delete(job);
      this.tell();
      throw error;
    } finally {
      this.working = false;
    }
    for (const { to, answer, error } of answers) {
      if (answer) to.resolve(answer);
      else to.reject(error);
    }
    this.tell();
    this.evict();
  }

  /** Stores what was taken in, in one transaction, with what stands in other tables. */
  private store(alongside?: () => void): void {
    const { batch } = this;
    if (batch.length === 0) return;
    this.inPlace();
    this.sqlite.transaction(() => {
      alongside?.();
      for (const event of batch) this.rows.insert(event, this.opened.get(event.job)?.late === null);
      for (const [job, events] of byJob(batch)) this.consequences(job, events);
    })();
    this.stored.push(...batch);
    this.batch = [];
  }

  private tell(): void {
    const added = byJob(this.stored);
    this.stored = [];
    for (const [job, events] of added) this.onAdded(job, events);
  }

  /**
   * What follows from events in other tables is stored with them, or they are not there either. What it trips over loses no
   * event: it is owed, and made up for.
   */
  private consequences(job: string, events: readonly RunEvent[]): void {
    try {
      this.sqlite.transaction(() => this.onStoring(job, events))();
    } catch (error) {
      console.error(`what follows from the events of job ${job} was not stored:`, error);
      this.onOwed(
        job,
        events.map((e) => e.seq),
      );
    }
  }

  private readonly file: string;
  private readonly inode: number;
  private looked = 0;

  /** A folder that was moved away while the server runs would take all that is written with it. */
  private inPlace(): void {
    if (this.file === '' || Date.now() - this.looked < LOOK_EVERY_MS) return;
    const found = statSync(this.file, { throwIfNoEntry: false })?.ino;
    if (found !== this.inode) throw Object.assign(new Error('moved away'), { code: 'SQLITE_READONLY_DBMOVED' });
    this.looked = Date.now();
  }

  private takeIn(job: string, sent: readonly SentEvent[], by: string, clock: SenderClock): Appended {
    const open = this.open(job);
    const answer: Appended = { events: [], refused: null, missed: null };
    const refused = (id: string, error: string, refusal: Refusal | null = null): Appended => ({
      ...answer,
      refused: { id, error, refusal },
    });
    let fresh = false;
    for (const [i, event] of sent.entries()) {
      const place = open.places.get(event.id);
      if (place !== undefined) {
        answer.events.push(open.events[place]!);
        continue;
      }
      if (event.job !== undefined && event.job !== job) return refused(event.id, 'this event is of another job');
      if (this.careful && this.owner.get(event.id) !== undefined) {
        return refused(event.id, 'this id was used on another job');
      }
      if (event.seq !== open.events.length + 1) {
        if (fresh)
          return refused(event.id, `events[${i}].seq: must be ${open.events.length + 1}, one more than the last`);
        const from = Math.min(event.seq, open.events.length + 1);
        return { ...answer, missed: open.events.slice(from - 1) };
      }
      const { state } = open;
      if (event.version !== undefined && event.version !== state.version && isBound(event)) {
        return refused(event.id, 'it was made against another plan', {
          rule: 'run',
          said: { code: 'plan-changed-since' },
          item: null,
          blockers: [],
        });
      }
      const { at, skew } = timeOf(event.at, clock, this.lastTime(open));
      const made = { ...event, job, by, version: state.version, at: this.isoOf(at) } as RunEvent;
      if (made.type === 'test') made.circumstance ??= circumstanceNow(state);
      if (skew !== undefined) made.skew = skew;
      const refusal = admit(state.context, state, made, judgedAt(at, clock.received), by);
      if (refusal) return refused(event.id, tell(state.context.model, refusal.said), refusal);
      answer.events.push(this.add(open, made));
      fresh = true;
    }
    return answer;
  }

  private written = { at: Number.NaN, iso: '' };

  /** What comes in together mostly bears one time: it is written once. */
  private isoOf(at: number): string {
    if (this.written.at !== at) this.written = { at, iso: new Date(at).toISOString() };
    return this.written.iso;
  }

  private add(open: Open, made: RunEvent): RunEvent {
    const event = open.late && made.type !== 'erased' ? open.late(made) : made;
    this.batch.push(event);
    open.places.set(event.id, open.events.length);
    open.events.push(event);
    if (!foldOn(open.state, event)) open.state = foldRun(open.context, open.events);
    return event;
  }

  /** ms since the epoch of the newest event of a job. */
  private lastTime({ events }: Open): number {
    const last = events.at(-1);
    const at = last ? Date.parse(last.at) : Number.NEGATIVE_INFINITY;
    // What a clock that was wrong once took in holds nobody up; a little ahead, time stands until it is reached.
    return at > this.now() + AHEAD_MS ? Number.NEGATIVE_INFINITY : at;
  }
}

/** How far the newest event may lie ahead of the clock and still be held to, ms. Origin: own choice, a clock set back by a day. */
const AHEAD_MS = 24 * 3600_000;

/** Events by the job that they are of, in their order. */
function byJob(events: readonly RunEvent[]): Map<string, RunEvent[]> {
  const found = new Map<string, RunEvent[]>();
  for (const event of events) {
    const known = found.get(event.job);
    if (known) known.push(event);
    else found.set(event.job, [event]);
  }
  return found;
}

const refuseAll = (waiting: readonly Waiting[], error: unknown): void => {
  for (const { reject } of waiting) reject(error);
};

/** Rests on a plan: it names a step of it. */
const isBound = (event: SentEvent): boolean => 'step' in event && event.step !== null;
