import { create } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { modelOf, type Anatomy } from '../../core/anatomy/index.ts';
import type { Job, JobFile } from '../../core/jobs/index.ts';
import {
  admit,
  Folding,
  foldRun,
  moveAt,
  moveItem,
  runContext,
  stepOf,
  type EventBody,
  type Refusal,
  type RunContext,
  type RunEvent,
  type RunState,
} from '../../core/run/index.ts';
import { api, ApiError, messageOf } from './api.ts';
import { madeNow, serverNow } from './clock.ts';
import { newId } from './ids.ts';
import { listen } from './live.ts';
import {
  acknowledged,
  asideOf,
  dropAside,
  keep,
  kept,
  keptHere,
  PartlySent,
  retrying,
  send,
  sendKept,
  setAside,
} from './outbox.ts';
import { proofNow, sessionNow, technicianNow } from './shop.ts';
import { holdFast, isFull, StoreSilent, STORE_LIMIT_MS, withStore, type Aside, type Entry } from './store.ts';
import { tell } from '../../words/index.ts';

/** Where what was done here stands: all of it with the server, on its way, waiting for the server, or for a sign-in. */
export type Connection = 'saved' | 'saving' | 'offline' | 'signed-out';

interface RunStore {
  job: Job | null;
  /** How the customer is reached; only while the server answers, for a browser keeps no telephone numbers. */
  contact: string;
  anatomy: Anatomy | null;
  /** The newest revision of its anatomy. */
  latest: number | null;
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
  connection: Connection;
  /** The job is shown as it was last seen here, since the server could not be asked. */
  remembered: boolean;
  /** Events that were refused, with those that rest on them, until somebody has looked at them. */
  aside: Aside[];
  /** Why the last move was refused. */
  refusal: Refusal | null;
  problem: string | null;
  load: (id: string) => Promise<void>;
  leave: () => void;
  /** Records events at once on screen and sends them; they are admitted one by one first. */
  record: (bodies: EventBody[], blob?: Blob) => boolean;
  /** The one key, at a step by its id. */
  press: (step: string, whole?: boolean) => 'moved' | 'waiting' | 'refused';
  /** One item of a step, out of turn. */
  tap: (step: string, item: string) => 'moved' | 'refused';
  dismiss: () => void;
  adopt: (file: JobFile) => void;
  /** Tries an event that was set aside once more, as of now. */
  retryAside: (entry: Aside) => void;
  /** Lets go of one that was looked at. */
  forgetAside: (entry: Aside) => void;
}

const EMPTY = {
  job: null,
  contact: '',
  anatomy: null,
  latest: null,
  context: null,
  origin: null,
  events: [] as RunEvent[],
  saved: null,
  pending: [] as RunEvent[],
  state: null,
  aside: [] as Aside[],
  remembered: false,
  problem: null,
};

/** How long changes are gathered before the job is kept for a start without the server, ms. Origin: own choice. */
const REMEMBER_AFTER_MS = 400;

let sending = false;
let stopListening: (() => void) | null = null;

const PLAN_CHANGED: Refusal = {
  rule: 'run',
  said: { code: 'changed-elsewhere' },
  item: null,
  blockers: [],
};

/** The plan and the device of a run as they are now, for the screens. */
function now(state: RunState | null, job: Job | null): Partial<RunStore> {
  if (!state || !job) return {};
  const plan = state.version > 0 ? state.context.plan : null;
  return {
    context: state.context,
    anatomy: state.context.model.anatomy,
    job: job.plan === plan ? job : { ...job, plan },
  };
}

export const useRun = create<RunStore>()((set, get) => {
  /** Puts the log in order again: what the server has, then ours behind it as far as it is still admitted. */
  const settle = (events: RunEvent[], mine: readonly RunEvent[], restsOn: string | null = null) => {
    const { origin: context, job } = get();
    if (!context || !job) return;
    const known = new Set(events.map((e) => e.id));
    const pending: RunEvent[] = [];
    const refused: { event: RunEvent; refusal: Refusal }[] = [];
    const saved = foldRun(context, events, get().saved);
    const folding = new Folding(context, events, saved);
    for (const event of mine) {
      if (known.has(event.id)) continue;
      const then = folding.state;
      const stale = event.version !== then.version && stepOf(event) !== null;
      const no = stale ? PLAN_CHANGED : admit(then.context, then, event, serverNow(), event.by);
      if (no) refused.push({ event, refusal: no });
      else {
        const ours = { ...event, version: then.version, seq: events.length + pending.length + 1 };
        pending.push(ours);
        folding.add(ours);
      }
    }
    const { state } = folding;
    const first = refused[0];
    set({ events, saved, pending, state, ...(first ? { refusal: first.refusal } : {}), ...now(state, job) });
    if (first) {
      void put(
        job.id,
        refused.map(({ event, refusal }) => ({ event, why: tell(context.model, refusal.said), refusal, restsOn })),
      );
    }
    remember();
  };

  /** Sets events aside, in their order, and shows them. */
  const put = async (
    job: string,
    list: { event: RunEvent; why: string; refusal: Refusal | null; restsOn: string | null }[],
  ) => {
    const at = Date.now();
    const refused = list.map(({ why, refusal, restsOn }) => ({ why, refusal, restsOn, at }));
    try {
      await setAside(
        job,
        refused,
        list.map((l) => l.event),
      );
      const aside = await asideOf(job);
      if (get().job?.id === job) set({ aside });
    } catch (error) {
      // What the disk does not take is shown from here.
      const here = list.map(({ event }, i): Aside => ({ job, event, session: null, made: madeNow(), ...refused[i]! }));
      if (get().job?.id === job) set({ aside: [...get().aside, ...here], problem: full(error) });
    }
  };

  const again = retrying(() => void flush());
  const tryLater = (connection: Connection = 'offline') => {
    if (get().pending.length > 0) holdFast();
    set({ connection });
    again.later();
  };

  /** What the server has acknowledged goes behind what is known, and out of the outbox. */
  const take = (job: string, stored: readonly RunEvent[], mine: readonly RunEvent[], restsOn: string | null = null) => {
    const known = new Set(get().events.map((e) => e.id));
    const events = [...get().events, ...stored.filter((e) => !known.has(e.id))].sort((a, b) => a.seq - b.seq);
    settle(whole(events), mine, restsOn);
    void acknowledged(job, new Set(stored.map((e) => e.id))).catch(() => {});
  };

  const flush = async (): Promise<void> => {
    const { job, pending } = get();
    if (!job || sending || pending.length === 0) return;
    sending = true;
    set({ connection: get().connection === 'signed-out' ? 'signed-out' : 'saving' });
    try {
      const { events: stored, refused } = await send(job.id, pending);
      if (get().job?.id !== job.id) return;
      again.stop();
      set({ connection: 'saved', problem: null });
      if (!refused) take(job.id, stored, get().pending);
      else setRefusedAside(job.id, stored, refused);
    } catch (error) {
      if (get().job?.id === job.id) await fail(job.id, error);
    } finally {
      sending = false;
    }
    if (get().pending.length > 0 && get().connection === 'saved') void flush();
  };

  /** The server refused one event by name: it goes aside, and with it, in their order, those that rest on it. */
  const setRefusedAside = (
    job: string,
    stored: readonly RunEvent[],
    refused: { id: string; error: string; refusal: Refusal | null },
  ) => {
    const { pending } = get();
    const event = pending.find((e) => e.id === refused.id);
    if (event) void put(job, [{ event, why: refused.error, refusal: refused.refusal, restsOn: null }]);
    const others = pending.filter((e) => e !== event);
    take(job, stored, others, refused.id);
    set({ refusal: refused.refusal, problem: refused.refusal ? null : refused.error });
  };

  const fail = async (job: string, error: unknown): Promise<void> => {
    if (error instanceof PartlySent) {
      take(job, error.events, get().pending);
      return fail(job, error.cause);
    }
    const problem = error instanceof ApiError ? error : null;
    if (problem?.status === 409 && problem.problem.missed) {
      const known = new Set(get().events.map((e) => e.id));
      const missed = [...problem.problem.missed, ...(problem.problem.events ?? [])].filter((e) => !known.has(e.id));
      if (missed.length > 0) {
        set({ connection: 'saved' });
        return settle(whole([...get().events, ...missed].sort((a, b) => a.seq - b.seq)), get().pending);
      }
      // The server has less than it once acknowledged, as after a copy was put back: what it lacks is sent again.
      const file = await api<JobFile>(`/jobs/${job}`).catch(() => null);
      if (get().job?.id !== job) return;
      if (file) adopt(file);
      return tryLater();
    }
    if (problem?.status === 401) {
      set({ problem: 'You are not signed in any more. Sign in again; what you did is kept and sent then.' });
      return tryLater('signed-out');
    }
    // Whatever else it is, it says nothing of a single event: nothing is let go of.
    if (problem && problem.status !== 0) set({ problem: problem.message });
    else if (!(error instanceof ApiError)) set({ problem: full(error) });
    tryLater();
  };

  const follow = (id: string) => {
    stopListening?.();
    const watched = { job: id, has: () => (get().job?.id === id ? get().events.length : 0) };
    stopListening = listen((heard) => {
      const { job, events, pending } = get();
      if (job?.id !== id) return;
      if (heard.kind === 'up') void reconnect(id);
      if (heard.kind === 'lost') void reload(id);
      if (heard.kind === 'down' && get().connection === 'saved') set({ connection: 'offline' });
      if (heard.kind !== 'event' || heard.event.job !== id) return;
      const { event } = heard;
      if (events.some((e) => e.id === event.id)) return;
      if (event.seq === events.length + 1) settle([...events, event], pending);
      else if (event.seq > events.length + 1) void reload(id);
    }, watched);
  };

  /** Takes over what waits in the outbox of the job that is open; what the server has by now leaves it. */
  const takeWaiting = (id: string, entries: readonly Entry[]) => {
    const { events, pending } = get();
    const there = new Set(events.map((e) => e.id));
    const here = new Set(pending.map((e) => e.id));
    const mine = entries.map((e) => e.event).filter((e) => !there.has(e.id) && !here.has(e.id));
    if (mine.length > 0) settle(events, [...pending, ...mine]);
    const arrived = entries.map((e) => e.event.id).filter((e) => there.has(e));
    if (arrived.length > 0) void acknowledged(id, new Set(arrived)).catch(() => {});
  };

  /** What other tabs of this browser left in the outbox, and what waits here, is sent. */
  const reconnect = async (id: string) => {
    const entries = await kept(id).catch((): Entry[] => []);
    if (get().job?.id !== id) return;
    takeWaiting(id, entries);
    if (get().pending.length > 0) void flush();
    else if (get().connection === 'offline') set({ connection: 'saved', problem: null });
  };

  /** Reads what a store held that did not answer when the job was opened, as soon as it does. */
  const recover = async (id: string): Promise<void> => {
    const aside = await asideOf(id).catch((error: unknown) => {
      if (error instanceof StoreSilent) setTimeout(() => void (get().job?.id === id && recover(id)), STORE_LIMIT_MS);
      return null;
    });
    if (!aside || get().job?.id !== id) return;
    set({ aside });
    await reconnect(id);
  };

  const reload = async (id: string) => {
    const file = await api<JobFile>(`/jobs/${id}`).catch(() => null);
    if (file && get().job?.id === id) adopt(file);
  };

  const adopt = (file: JobFile) => {
    const { job, events, pending } = get();
    // The answer may be older than what was acknowledged while it was under way: what it lacks goes behind it, and is
    // sent again.
    const same = job?.id === file.job.id;
    const origin = runContext(modelOf(file.anatomy), file.job.plan);
    set({
      job: file.job,
      contact: file.contact ?? '',
      anatomy: file.anatomy,
      latest: file.latest,
      context: origin,
      origin,
      saved: null,
      refusal: null,
      remembered: false,
    });
    settle(file.events, same ? [...events, ...pending] : []);
  };

  let remembering: ReturnType<typeof setTimeout> | undefined;
  /** Keeps the job as it is, for a start without the server. */
  const remember = () => {
    clearTimeout(remembering);
    remembering = setTimeout(() => {
      const { job, origin, events, latest } = get();
      if (!job || !origin) return;
      const first = origin.version > 0 ? origin.plan : null;
      const file: JobFile = {
        job: { ...job, plan: first },
        contact: '',
        anatomy: origin.model.anatomy,
        events,
        latest,
      };
      void withStore((db) => db.put('files', file, job.id)).catch(() => {});
    }, REMEMBER_AFTER_MS);
  };

  return {
    ...EMPTY,
    connection: 'saved',
    refusal: null,
    // An answer for a job that was left changes nothing on the one that is open now.
    adopt: (file) => {
      if (get().job?.id === file.job.id) adopt(file);
    },
    load: async (id) => {
      if (get().job?.id !== id)
        set({ ...EMPTY, events: [], pending: [], aside: [], connection: 'saved', refusal: null });
      const left = Promise.all([kept(id), asideOf(id)]).catch(() => null);
      const file = await api<JobFile>(`/jobs/${id}`).catch(async (error: unknown) => {
        const remembered =
          error instanceof ApiError && error.status === 0
            ? await withStore((db) => db.get('files', id)).catch(() => undefined)
            : undefined;
        if (!remembered) {
          set({ problem: messageOf(error) });
          return null;
        }
        return { ...remembered, remembered: true };
      });
      if (!file) return;
      const rows = await left;
      const [waits, aside] = rows ?? [keptHere(id), []];
      adopt(file);
      const remembered = 'remembered' in file;
      set({ aside, remembered, connection: remembered ? 'offline' : 'saved' });
      if (remembered) set({ problem: null });
      takeWaiting(id, waits);
      follow(id);
      if (!rows) void recover(id);
      if (remembered) again.later();
      void flush();
      void sendKept(() => get().job?.id ?? null);
    },
    leave: () => {
      stopListening?.();
      stopListening = null;
    },
    record: (bodies, blob) => {
      const { job, origin, events, pending, state } = get();
      if (!job || !origin || !state) return false;
      const added: RunEvent[] = [];
      const at = serverNow();
      const folding = new Folding(origin, [...events, ...pending], state);
      for (const body of bodies) {
        const then = folding.state;
        const refusal = admit(then.context, then, body, at);
        if (refusal) {
          set({ refusal });
          return false;
        }
        const event: RunEvent = {
          id: newId(),
          job: job.id,
          seq: events.length + pending.length + added.length + 1,
          at: new Date(at).toISOString(),
          by: technicianNow() ?? 'Technician',
          version: then.version,
          ...body,
        };
        added.push(event);
        folding.add(event);
      }
      const then = folding.state;
      set({ pending: [...pending, ...added], state: then, refusal: null, ...now(then, job) });
      const session = sessionNow();
      const made = madeNow();
      const key = blob ? newId() : null;
      const entries = added.map((event): Entry => {
        const proof = proofNow(job.id, event);
        return {
          job: job.id,
          event,
          session,
          ...(proof ? { proof } : {}),
          made,
          ...(key && event.type === 'photo' ? { blob: key } : {}),
        };
      });
      // On the disk first, then on the way; a disk that takes nothing any more is said, and holds up nothing.
      void keep(entries, blob && key ? { key, data: blob } : undefined)
        .catch((error) => set({ problem: full(error) }))
        .then(flush);
      return true;
    },
    press: (id, all = false) => {
      const { context, state, record } = get();
      const step = context?.steps.get(id);
      if (!context || !state || !step) return 'refused';
      const move = moveAt(context, state, step, serverNow(), all);
      if (move.kind === 'events') return record(move.events) ? 'moved' : 'refused';
      if (move.kind === 'wait') return 'waiting';
      if (move.record.length > 0) record(move.record);
      set({ refusal: move.refusal });
      return 'refused';
    },
    tap: (id, item) => {
      const { context, state, record } = get();
      const step = context?.steps.get(id);
      if (!context || !state || !step) return 'refused';
      const move = moveItem(context, state, step, item, serverNow());
      if (move.kind === 'events') return record(move.events) ? 'moved' : 'refused';
      if (move.kind === 'refused') set({ refusal: move.refusal });
      return 'refused';
    },
    dismiss: () => set({ refusal: null, problem: null }),
    retryAside: (entry) => {
      const { id, job, seq, at, by, version, skew, ...body } = entry.event;
      if (get().record([body as EventBody])) get().forgetAside(entry);
    },
    forgetAside: (entry) => {
      set({ aside: get().aside.filter((a) => a.event.id !== entry.event.id) });
      if (entry.key !== undefined) void dropAside(entry.key).catch(() => {});
    },
  };
});

/** Some of the run, for what is drawn anew only when one of these changed: what was sent changes twice with a press. */
export function useRunOf<K extends keyof RunStore>(...keys: K[]): Pick<RunStore, K> {
  return useRun(useShallow((all) => Object.fromEntries(keys.map((key) => [key, all[key]])) as Pick<RunStore, K>));
}

/** Events as far as they follow one another without a gap. */
function whole(events: RunEvent[]): RunEvent[] {
  const gap = events.findIndex((e, i) => e.seq !== i + 1);
  return gap < 0 ? events : events.slice(0, gap);
}

const full = (error: unknown): string =>
  isFull(error)
    ? 'The disk of this device is full: what you do is kept only as long as this page is open. Make room now.'
    : `This browser keeps nothing on its disk (${messageOf(error)}); what you do is kept only as long as this page is open.`;
