import { openDevice } from '../core/explore/index.ts';
import type { Job, JobSummary } from '../core/jobs/index.ts';
import type { RunState } from '../core/run/index.ts';

/** The line of a job in the list. */
export function summaryOf(job: Job, state: RunState): JobSummary {
  const { model, plan, steps } = state.context;
  const planned = state.version > 0;
  const ends = [...state.timers.values()]
    .filter((t) => t.endedAt === null)
    .map((t) => ({ at: Date.parse(t.startedAt) + t.seconds * 1000, what: t.own?.what ?? null }))
    // A time from beyond the calendar, as an older version took it in, is no end that could be shown.
    .filter(({ at }) => Math.abs(at) < 8.64e15);
  const last = ends.reduce<(typeof ends)[number] | null>((a, b) => (a && a.at >= b.at ? a : b), null);
  return {
    id: job.id,
    number: job.number,
    customer: job.customer,
    complaint: job.complaint,
    device: `${model.anatomy.maker} ${model.anatomy.name}`.trim(),
    replace: planned ? plan.replace.map((p) => model.nameOf(p)) : job.device?.wanted ? [job.device.wanted] : [],
    state: standing(job, state),
    step: state.cursor === null ? null : (steps.get(state.cursor)?.n ?? null),
    steps: plan.steps.length,
    done: planned ? state.done.size : state.acts.length,
    live: planned ? !state.isolated : state.acts.length > 0 && !openDevice(state.acts).isolated,
    waitsUntil: last ? new Date(last.at).toISOString() : null,
    ...(last?.what ? { waitsFor: last.what } : {}),
    ...(state.counter.parked ? { parkedAt: state.counter.parked.where } : {}),
    createdAt: job.createdAt,
    lastAt: state.lastAt,
    profile: plan.steps.map((s) => s.depth),
  };
}

function standing(job: Job, state: RunState): JobSummary['state'] {
  // Signed is not handed over: that is when somebody has taken it home.
  if (state.counter.collected) return 'collected';
  if (job.triage.length > 0) return 'stopped';
  if (state.version === 0) return state.acts.length > 0 ? 'exploring' : 'unplanned';
  if (state.signedOff) return 'signed';
  return state.startedAt ? 'running' : 'ready';
}

/** What a row says of a job without anything of it having to be read. */
export type BareJob = Pick<JobSummary, 'id' | 'number' | 'customer' | 'complaint' | 'createdAt'> & { anatomy: string };

/** What the row of a job says, and nothing that would have to be computed: it cannot be read, or not yet. */
export function bareLine(row: BareJob, state: 'unreadable' | 'reading'): JobSummary {
  return {
    id: row.id,
    number: row.number,
    customer: row.customer,
    complaint: row.complaint,
    device: row.anatomy,
    replace: [],
    state,
    step: null,
    steps: 0,
    done: 0,
    live: false,
    waitsUntil: null,
    createdAt: row.createdAt,
    lastAt: null,
    profile: [],
  };
}
