import { randomUUID } from 'node:crypto';
import { asc, desc, eq, gt, and, max } from 'drizzle-orm';
import type { Model } from '../core/anatomy/index.ts';
import type { Plan } from '../core/dive/index.ts';
import type { Job, JobSummary, TriageFinding } from '../core/jobs/index.ts';
import {
  admit,
  foldRun,
  proposeReplan,
  replanFrom,
  runContext,
  timerLeft,
  type EventBody,
  type Replan,
  type ReplanRequest,
  type RunContext,
  type RunEvent,
  type RunState,
  type SentEvent,
} from '../core/run/index.ts';
import type { Anatomies } from './anatomies.ts';
import type { Db } from './db/open.ts';
import { events, jobs } from './db/schema.ts';
import { notFound, Problem } from './problem.ts';

export type NewJob = Omit<Job, 'id' | 'number' | 'createdAt'>;

/** A job in memory: what it began with, its events, and their fold. */
interface Open {
  context: RunContext;
  events: RunEvent[];
  state: RunState;
}

type Listener = (added: RunEvent[]) => void;

/** Jobs and what happened on them. The only writer of the event log. */
export class Jobs {
  private readonly open = new Map<string, Open>();
  private readonly listeners = new Map<string, Set<Listener>>();

  constructor(
    private readonly db: Db,
    private readonly anatomies: Anatomies,
  ) {}

  all(): Job[] {
    return this.db.select().from(jobs).orderBy(desc(jobs.number)).all().map(asJob);
  }

  /** @throws Problem 404 */
  get(id: string): Job {
    const row = this.db.select().from(jobs).where(eq(jobs.id, id)).get();
    if (!row) throw notFound('the job');
    return asJob(row);
  }

  modelOf(job: Job): Model {
    return this.anatomies.modelOf(job.anatomy, job.revision);
  }

  /** Takes a job in, with the events of its intake. */
  create(job: NewJob, intake: { by: string; bodies: EventBody[] }): Job {
    const id = randomUUID();
    const createdAt = new Date().toISOString();
    return this.db.transaction((tx) => {
      const newest = tx
        .select({ number: max(jobs.number) })
        .from(jobs)
        .get();
      const number = (newest?.number ?? 1000) + 1;
      tx.insert(jobs)
        .values({ ...job, id, number, createdAt })
        .run();
      intake.bodies.forEach((body, i) =>
        tx
          .insert(events)
          .values(rowOf({ id: randomUUID(), job: id, seq: i + 1, at: createdAt, by: intake.by, ...body }))
          .run(),
      );
      return { ...job, id, number, createdAt };
    });
  }

  /** Plans anew. @throws Problem 409 once the dive has begun */
  replan(id: string, plan: Plan, crackedGlass: boolean): Job {
    const { state } = this.stateOf(id);
    if (state?.startedAt) throw new Problem(409, { error: 'the dive has begun; its plan stays as it is' });
    this.db.update(jobs).set({ plan, crackedGlass }).where(eq(jobs.id, id)).run();
    this.open.delete(id);
    return this.get(id);
  }

  eventsOf(id: string, after = 0): RunEvent[] {
    return this.db
      .select()
      .from(events)
      .where(and(eq(events.job, id), gt(events.seq, after)))
      .orderBy(asc(events.seq))
      .all()
      .map(asEvent);
  }

  /** The fold of a job with the plan and device as they are now; `state` is `null` for a job that has no plan. */
  stateOf(id: string): { job: Job; context: RunContext | null; state: RunState | null } {
    const job = this.get(id);
    const open = this.openOf(job);
    if (!open) return { job, context: null, state: null };
    const { state } = open;
    return { job: { ...job, plan: state.context.plan }, context: state.context, state };
  }

  private openOf(job: Job): Open | null {
    if (!job.plan) return null;
    const known = this.open.get(job.id);
    if (known) return known;
    const context = runContext(this.modelOf(job), job.plan);
    const stored = this.eventsOf(job.id);
    const made: Open = { context, events: stored, state: foldRun(context, stored) };
    this.open.set(job.id, made);
    return made;
  }

  /**
   * Appends events that were made one after another by one sender.
   * @returns the events as stored; those already known are left as they are
   * @throws Problem 409 with what the sender missed, 422 with the rule that refuses an event
   */
  append(id: string, sent: readonly SentEvent[], now = Date.now()): RunEvent[] {
    const job = this.get(id);
    const open = this.openOf(job);
    if (!open)
      throw new Problem(409, {
        error: job.triage.length > 0 ? 'this device must not be opened' : 'this job has no dive yet',
      });
    const known = new Map(open.events.map((e) => [e.id, e]));
    const fresh = sent.filter((e) => !known.has(e.id));
    if (fresh.length === 0) return sent.map((e) => known.get(e.id)!);

    const first = fresh[0]!.seq;
    if (first !== open.events.length + 1) {
      throw new Problem(409, {
        error: 'another screen was quicker; here is what happened',
        missed: open.events.filter((e) => e.seq >= Math.min(first, open.events.length + 1)),
      });
    }
    const added: RunEvent[] = [];
    let { state } = open;
    for (const [i, event] of fresh.entries()) {
      if (event.seq !== first + i)
        throw new Problem(422, { error: `events[${i}].seq: must be ${first + i}, one more than the last` });
      const refusal = admit(state.context, state, event, now);
      if (refusal) throw new Problem(422, { error: refusal.message, refusal });
      added.push({ ...event, job: id });
      state = foldRun(open.context, [...open.events, ...added], state);
    }
    this.write(id, open, added);
    return sent.map((e) => known.get(e.id) ?? added.find((a) => a.id === e.id)!);
  }

  private write(id: string, open: Open, added: RunEvent[]): void {
    this.db.transaction((tx) => {
      for (const event of added) tx.insert(events).values(rowOf(event)).run();
    });
    open.events.push(...added);
    open.state = foldRun(open.context, open.events, open.state);
    for (const listener of this.listeners.get(id) ?? []) listener(added);
  }

  /**
   * Plans the rest of a run anew from where it stands.
   * @param keep writes the new plan into the record; without it only what would change is told
   * @throws Problem 409 when there is no run to go on from, NoDive when no sound dive goes on
   */
  planOn(id: string, request: Partial<ReplanRequest>, by: string, keep: boolean): Replan {
    const { job, state } = this.stateOf(id);
    const open = this.openOf(job);
    if (!open || !state) throw new Problem(409, { error: 'this job has no dive yet' });
    if (state.signedOff) throw new Problem(409, { error: 'the job is signed off' });
    if (!state.startedAt)
      throw new Problem(409, { error: 'the dive has not begun; choose its parts and rules on the plan' });
    const replan = replanFrom(state, { ...proposeReplan(state), ...request });
    if (keep)
      this.write(id, open, [
        { id: randomUUID(), job: id, seq: open.events.length + 1, at: new Date().toISOString(), by, ...replan.event },
      ]);
    return replan;
  }

  /** @returns what ends the listening */
  listen(id: string, listener: Listener): () => void {
    const set = this.listeners.get(id) ?? new Set();
    set.add(listener);
    this.listeners.set(id, set);
    return () => set.delete(listener);
  }

  summaries(now = Date.now()): JobSummary[] {
    return this.all().map(({ id }) => {
      const { job, state, context } = this.stateOf(id);
      const model = context?.model ?? this.modelOf(job);
      const running = [...(state?.timers.values() ?? [])]
        .filter((t) => timerLeft(t, now) > 0)
        .map((t) => Date.parse(t.startedAt) + t.seconds * 1000);
      return {
        id: job.id,
        number: job.number,
        customer: job.customer,
        complaint: job.complaint,
        device: `${model.anatomy.maker} ${model.anatomy.name}`,
        replace: job.plan?.replace.map((p) => model.nameOf(p)) ?? [],
        state:
          job.triage.length > 0
            ? 'stopped'
            : !job.plan
              ? 'unplanned'
              : state!.signedOff
                ? 'signed'
                : state!.startedAt
                  ? 'running'
                  : 'ready',
        step: state?.cursor ?? null,
        steps: job.plan?.steps.length ?? 0,
        done: state?.done.size ?? 0,
        live: !(state?.isolated ?? false),
        waitsUntil: running.length > 0 ? new Date(Math.max(...running)).toISOString() : null,
        createdAt: job.createdAt,
        lastAt: state?.lastAt ?? null,
        profile: job.plan?.steps.map((s) => s.depth) ?? [],
      };
    });
  }
}

function asJob(row: typeof jobs.$inferSelect): Job {
  return { ...row, triage: row.triage as TriageFinding[], plan: row.plan as Plan | null };
}

function rowOf({ id, job, seq, at, by, type, ...body }: RunEvent): typeof events.$inferInsert {
  return { id, job, seq, at, by, type, body };
}

function asEvent({ body, ...stamp }: typeof events.$inferSelect): RunEvent {
  return { ...stamp, ...(body as object) } as RunEvent;
}
