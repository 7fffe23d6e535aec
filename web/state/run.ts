import { create } from 'zustand';
import { modelOf, type Anatomy } from '../../core/anatomy/index.ts';
import type { Job, JobFile } from '../../core/jobs/index.ts';
import {
  admit,
  foldRun,
  moveAt,
  moveItem,
  runContext,
  type EventBody,
  type Refusal,
  type RunContext,
  type RunEvent,
  type RunState,
} from '../../core/run/index.ts';
import { api, ApiError, messageOf } from './api.ts';
import { keep, kept, retrying, send, sendKept } from './outbox.ts';
import { usePrefs } from './prefs.ts';

interface RunStore {
  job: Job | null;
  anatomy: Anatomy | null;
  /** The dive and the device as they are now. */
  context: RunContext | null;
  /** What the job began with; the fold starts from it. */
  origin: RunContext | null;
  /** Events the server has, in order. */
  events: RunEvent[];
  /** The fold of what the server has. */
  saved: RunState | null;
  /** Events made here and not yet acknowledged; kept across a reload. */
  pending: RunEvent[];
  state: RunState | null;
  connection: 'saved' | 'saving' | 'offline';
  /** Why the last move was refused. */
  refusal: Refusal | null;
  problem: string | null;
  load: (id: string) => Promise<void>;
  leave: () => void;
  /** Records events at once on screen and sends them; they are admitted one by one first. */
  record: (bodies: EventBody[]) => boolean;
  /** The one key. */
  press: (step: number, whole?: boolean) => 'moved' | 'waiting' | 'refused';
  /** One item of a step, out of turn. */
  tap: (step: number, item: string) => 'moved' | 'refused';
  dismiss: () => void;
  adopt: (file: JobFile) => void;
}

let stream: EventSource | null = null;
let sending = false;

/** The plan and the device of a run as they are now, for the screens. */
function now(state: RunState | null, job: Job | null): Partial<RunStore> {
  if (!state || !job) return {};
  return {
    context: state.context,
    anatomy: state.context.model.anatomy,
    job: job.plan === state.context.plan ? job : { ...job, plan: state.context.plan },
  };
}

export const useRun = create<RunStore>()((set, get) => {
  /** Puts the log in order again: what the server has, then ours behind it as far as it is still admitted. */
  const settle = (events: RunEvent[], mine: readonly RunEvent[]) => {
    const { origin: context, job } = get();
    const known = new Set(events.map((e) => e.id));
    const pending: RunEvent[] = [];
    let refusal: Refusal | null = null;
    const saved = context && foldRun(context, events, get().saved);
    let state = saved;
    if (context && state) {
      for (const event of mine) {
        if (known.has(event.id)) continue;
        const no = admit(state.context, state, event, Date.now());
        if (no) refusal ??= no;
        else {
          pending.push({ ...event, seq: events.length + pending.length + 1 });
          state = foldRun(context, [...events, ...pending], state);
        }
      }
    }
    if (job) keep(job.id, pending);
    set({ events, saved, pending, state, ...(refusal ? { refusal } : {}), ...now(state, job) });
  };

  const again = retrying(() => void flush());
  const tryLater = () => {
    set({ connection: 'offline' });
    again.later();
  };

  const flush = async (): Promise<void> => {
    const { job, pending } = get();
    if (!job || sending || pending.length === 0) return;
    sending = true;
    set({ connection: 'saving' });
    try {
      const stored = await send(job.id, pending);
      if (get().job?.id !== job.id) return;
      const known = new Set(get().events.map((e) => e.id));
      const events = [...get().events, ...stored.filter((e) => !known.has(e.id))].sort((a, b) => a.seq - b.seq);
      settle(events, get().pending);
      again.stop();
      set({ connection: 'saved', problem: null });
    } catch (error) {
      if (get().job?.id !== job.id) return;
      if (error instanceof ApiError && error.status === 409 && error.problem.missed) {
        const known = new Set(get().events.map((e) => e.id));
        const missed = error.problem.missed.filter((e) => !known.has(e.id));
        if (missed.length > 0) {
          settle(
            [...get().events, ...missed].sort((a, b) => a.seq - b.seq),
            get().pending,
          );
          set({ connection: 'saved' });
        } else {
          // The server has less than it once acknowledged, as after a copy was put back: what it lacks is sent again.
          const file = await api<JobFile>(`/jobs/${job.id}`).catch(() => null);
          if (get().job?.id !== job.id) return;
          if (file) adopt(file);
          tryLater();
        }
      } else if (error instanceof ApiError && error.status >= 400 && error.status < 500) {
        settle(get().events, []);
        set({
          connection: 'saved',
          refusal: error.problem.refusal ?? null,
          problem: error.problem.refusal ? null : error.message,
        });
      } else {
        tryLater();
      }
    } finally {
      sending = false;
    }
    if (get().pending.length > 0 && get().connection !== 'offline') void flush();
  };

  const follow = (id: string) => {
    stream?.close();
    stream = new EventSource(`/api/jobs/${id}/live?after=${get().events.length}`);
    stream.addEventListener('run', (message) => {
      const event = JSON.parse((message as MessageEvent<string>).data) as RunEvent;
      const { events, pending, job } = get();
      if (job?.id !== id || events.some((e) => e.id === event.id) || event.seq !== events.length + 1) return;
      settle([...events, event], pending);
    });
    stream.addEventListener('hello', () => {
      if (get().connection === 'offline') void flush();
    });
    // A stream that ends is opened again by the browser; what was missed is asked for by number.
    stream.onerror = () => {
      if (stream?.readyState === EventSource.CLOSED)
        setTimeout(() => {
          if (get().job?.id === id) follow(id);
        }, 1000);
    };
  };

  const adopt = (file: JobFile) => {
    const { job, events } = get();
    // The answer may be older than what was acknowledged while it was under way: what it lacks goes behind it, and is sent again.
    const had = job?.id === file.job.id ? events : [];
    const context = file.job.plan ? runContext(modelOf(file.anatomy), file.job.plan) : null;
    set({
      job: file.job,
      anatomy: file.anatomy,
      context,
      origin: context,
      saved: null,
      connection: 'saved',
      refusal: null,
      problem: null,
    });
    settle(file.events, [...had, ...kept(file.job.id)]);
  };

  return {
    job: null,
    anatomy: null,
    context: null,
    origin: null,
    events: [],
    saved: null,
    pending: [],
    state: null,
    connection: 'saved',
    refusal: null,
    problem: null,
    adopt,
    load: async (id) => {
      if (get().job?.id !== id)
        set({
          job: null,
          anatomy: null,
          context: null,
          origin: null,
          events: [],
          saved: null,
          pending: [],
          state: null,
          problem: null,
        });
      try {
        adopt(await api<JobFile>(`/jobs/${id}`));
        follow(id);
        void flush();
        void sendKept(() => get().job?.id ?? null);
      } catch (error) {
        set({ problem: messageOf(error) });
      }
    },
    leave: () => {
      stream?.close();
      stream = null;
    },
    record: (bodies) => {
      const { job, origin, events, pending, state } = get();
      if (!job || !origin || !state) return false;
      const added: RunEvent[] = [];
      let then = state;
      for (const body of bodies) {
        const refusal = admit(then.context, then, body, Date.now());
        if (refusal) {
          set({ refusal });
          return false;
        }
        added.push({
          id: crypto.randomUUID(),
          job: job.id,
          seq: events.length + pending.length + added.length + 1,
          at: new Date().toISOString(),
          by: usePrefs.getState().technician ?? 'Technician',
          ...body,
        });
        then = foldRun(origin, [...events, ...pending, ...added], then);
      }
      const all = [...pending, ...added];
      keep(job.id, all);
      set({ pending: all, state: then, refusal: null, ...now(then, job) });
      void flush();
      return true;
    },
    press: (n, whole = false) => {
      const { context, state, record } = get();
      if (!context || !state) return 'refused';
      const move = moveAt(context, state, context.steps.get(n)!, Date.now(), whole);
      if (move.kind === 'events') return record(move.events) ? 'moved' : 'refused';
      if (move.kind === 'wait') return 'waiting';
      if (move.record.length > 0) record(move.record);
      set({ refusal: move.refusal });
      return 'refused';
    },
    tap: (n, item) => {
      const { context, state, record } = get();
      if (!context || !state) return 'refused';
      const move = moveItem(context, state, context.steps.get(n)!, item, Date.now());
      if (move.kind === 'events') return record(move.events) ? 'moved' : 'refused';
      if (move.kind === 'refused') set({ refusal: move.refusal });
      return 'refused';
    },
    dismiss: () => set({ refusal: null, problem: null }),
  };
});
