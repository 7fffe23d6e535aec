import type { LiveMessage } from '../../core/jobs/index.ts';
import { hearTime } from './clock.ts';
import { newId } from './ids.ts';

/**
 * The one stream of this browser. One of its tabs holds it and passes on what comes to the others: a browser opens
 * only a handful of connections to one server, and a stream keeps one for itself.
 */
export type Heard = LiveMessage | { kind: 'up' } | { kind: 'down' } | { kind: 'lost' };

const LEASE = 'nibrel.live';
/** How long a tab that says nothing keeps the stream, and how often it says so, ms. Origin: own choice. */
const LEASE_MS = { lasts: 4000, renewed: 1000, settles: 60 } as const;

const tab = newId();
const listeners = new Set<(heard: Heard) => void>();
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

function connect(): void {
  if (source) return;
  const stream = new EventSource(`/api/live${last ? `?after=${last}` : ''}`);
  source = stream;
  const note = (message: MessageEvent<string>) => {
    if (message.lastEventId) last = message.lastEventId;
  };
  const time = (message: MessageEvent<string>) => {
    note(message);
    hearTime(Number(message.data));
  };
  stream.addEventListener('hello', (message) => {
    time(message as MessageEvent<string>);
    pass({ kind: 'up' });
  });
  stream.addEventListener('lost', (message) => {
    time(message as MessageEvent<string>);
    pass({ kind: 'lost' });
    pass({ kind: 'up' });
  });
  stream.addEventListener('alive', (message) => time(message as MessageEvent<string>));
  stream.addEventListener('told', (message) => {
    note(message as MessageEvent<string>);
    pass(JSON.parse((message as MessageEvent<string>).data) as LiveMessage);
  });
  stream.onerror = () => {
    pass({ kind: 'down' });
    // The browser opens it again by itself, unless the server turned it away.
    if (stream.readyState !== EventSource.CLOSED) return;
    source = null;
  };
}

function disconnect(): void {
  source?.close();
  source = null;
}

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
    channel.onmessage = ({ data }: MessageEvent<{ heard: Heard; last: string }>) => {
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

/** @returns what ends the listening */
export function listen(listener: (heard: Heard) => void): () => void {
  if (!started && typeof EventSource !== 'undefined') start();
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** The stream is open, here or in another tab. */
export const isUp = (): boolean => up;
