import type { LiveMessage } from '../../core/jobs/index.ts';
import { hearTime } from './clock.ts';
import { newId } from './ids.ts';

/**
 * The one stream of this browser. One of its tabs holds it and passes on what comes to the others: a browser opens
 * only a handful of connections to one server, and a stream keeps one for itself.
 */
export type Heard = LiveMessage | { kind: 'up' } | { kind: 'down' } | { kind: 'lost' };

/** A job that is on a screen: the server tells its events, from those on that are here. */
export interface Watched {
  job: string;
  /** How many of its events are here. */
  has: () => number;
}

const LEASE = 'nibrel.live';
/** How long a tab that says nothing keeps the stream, and how often it says so, ms. Origin: own choice. */
const LEASE_MS = { lasts: 4000, renewed: 1000, settles: 60 } as const;

const tab = newId();
const listeners = new Set<(heard: Heard) => void>();
const watched = new Set<Watched>();
/** What the other tabs have on their screens, and until when they have said so. */
const elsewhere = new Map<string, { jobs: Record<string, number>; until: number }>();
/** The stream as the server names it, and the jobs that it was told of. */
let stream: string | null = null;
let told = '';
let channel: BroadcastChannel | null = null;
let source: EventSource | null = null;
let last = '';
let up = false;
let started = false;

function hear(heard: Heard): void {
  if (heard.kind === 'up') up = true;
  if (heard.kind === 'down') up = false;
  for (const listener of [...listeners]) listener(heard);
}

function pass(heard: Heard): void {
  hear(heard);
  channel?.postMessage({ heard, last });
}

/** The jobs on the screens of this tab, with how many of their events are here. */
const here = (): Record<string, number> => Object.fromEntries([...watched].map(({ job, has }) => [job, has()]));

/** The jobs on the screens of this browser. */
function everywhere(): Record<string, number> {
  const all = here();
  for (const [other, { jobs, until }] of elsewhere) {
    if (until < performance.now()) elsewhere.delete(other);
    else for (const [job, has] of Object.entries(jobs)) all[job] = Math.min(all[job] ?? has, has);
  }
  return all;
}

/** Tells the server which jobs are on a screen, when that has changed; through the tab that holds the stream. */
function tellWatched(): void {
  channel?.postMessage({ tab, jobs: here() });
  if (!source || stream === null) return;
  const jobs = everywhere();
  const names = Object.keys(jobs).sort().join();
  if (names === told) return;
  told = names;
  const asked = stream;
  // Not as other calls are made: what is refused here leads nobody away from work. It is said again with the next look, or
  // by the stream that comes after this one.
  const again = () => {
    if (stream === asked) told = '?';
  };
  fetch(`/api/live/${asked}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ jobs }),
  }).then((answer) => {
    if (!answer.ok) again();
  }, again);
}

function connect(): void {
  if (source) return;
  const asked = new URLSearchParams();
  if (last) asked.set('after', last);
  const jobs = Object.entries(everywhere()).map(([job, has]) => `${job}:${has}`);
  if (jobs.length > 0) asked.set('jobs', jobs.join());
  const opened = new EventSource(`/api/live${asked.size > 0 ? `?${asked}` : ''}`);
  source = opened;
  const note = (message: MessageEvent<string>) => {
    if (message.lastEventId) last = message.lastEventId;
  };
  const time = (message: MessageEvent<string>) => {
    note(message);
    hearTime(Number(message.data));
  };
  opened.addEventListener('stream', (message) => {
    stream = (message as MessageEvent<string>).data;
    told = '?';
    tellWatched();
  });
  opened.addEventListener('hello', (message) => {
    time(message as MessageEvent<string>);
    pass({ kind: 'up' });
  });
  opened.addEventListener('lost', (message) => {
    time(message as MessageEvent<string>);
    pass({ kind: 'lost' });
    pass({ kind: 'up' });
  });
  opened.addEventListener('alive', (message) => time(message as MessageEvent<string>));
  opened.addEventListener('told', (message) => {
    note(message as MessageEvent<string>);
    pass(JSON.parse((message as MessageEvent<string>).data) as LiveMessage);
  });
  opened.onerror = () => {
    pass({ kind: 'down' });
    stream = null;
    // The browser opens it again by itself, unless the server turned it away.
    if (opened.readyState !== EventSource.CLOSED) return;
    source = null;
  };
}

function disconnect(): void {
  source?.close();
  source = null;
  stream = null;
}

/** What one tab says to the others: what it heard for all, or what it has on its screens. */
type FromTab = { heard: Heard; last: string } | { tab: string; jobs: Record<string, number> };

interface Lease {
  tab: string;
  until: number;
}

function leaseNow(): Lease | null {
  try {
    const lease = JSON.parse(localStorage.getItem(LEASE) ?? 'null') as Lease | null;
    // A lease far ahead is of a clock that was set back since.
    return lease && lease.until > Date.now() && lease.until < Date.now() + 2 * LEASE_MS.lasts ? lease : null;
  } catch {
    return null;
  }
}

/** Keeps the stream, takes it when nobody has it, and leaves it to the one who has. */
function renew(): void {
  tellWatched();
  if (!channel) {
    connect();
    return;
  }
  const lease = leaseNow();
  if (lease && lease.tab !== tab) {
    disconnect();
    return;
  }
  const mine = lease !== null;
  localStorage.setItem(LEASE, JSON.stringify({ tab, until: Date.now() + LEASE_MS.lasts }));
  if (mine) {
    connect();
    return;
  }
  // Two tabs may have taken it at once; whoever stands there a moment later has it.
  setTimeout(() => {
    if (leaseNow()?.tab === tab) connect();
  }, LEASE_MS.settles);
}

function start(): void {
  started = true;
  try {
    channel = new BroadcastChannel('nibrel-live');
    channel.onmessage = ({ data }: MessageEvent<FromTab>) => {
      if ('jobs' in data) {
        elsewhere.set(data.tab, { jobs: data.jobs, until: performance.now() + LEASE_MS.lasts });
        if (source) tellWatched();
        return;
      }
      last = data.last;
      hear(data.heard);
    };
    localStorage.setItem(`${LEASE}.tried`, '1');
  } catch {
    channel = null;
  }
  renew();
  setInterval(renew, LEASE_MS.renewed);
  window.addEventListener('pagehide', () => {
    disconnect();
    if (leaseNow()?.tab === tab) localStorage.removeItem(LEASE);
  });
  window.addEventListener('pageshow', renew);
}

/**
 * @param job whose events are to be heard; without it only what is told of the shop at large
 * @returns what ends the listening
 */
export function listen(listener: (heard: Heard) => void, job?: Watched): () => void {
  listeners.add(listener);
  if (job) watched.add(job);
  if (!started && typeof EventSource !== 'undefined') start();
  else if (job) tellWatched();
  return () => {
    listeners.delete(listener);
    if (!job) return;
    watched.delete(job);
    tellWatched();
  };
}

/** The stream is open, here or in another tab. */
export const isUp = (): boolean => up;
