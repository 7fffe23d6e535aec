import { randomUUID } from 'node:crypto';
import type { LiveMessage } from '../core/jobs/index.ts';
import type { RunEvent } from '../core/run/index.ts';

/** What is told of the shop at large; events go only to those who have their job on a screen. */
export type ShopMessage = Exclude<LiveMessage, { kind: 'event' }>;

/** One who listens: what was written for it and not yet taken, and which jobs it has on its screens. */
export interface Listener {
  id: string;
  jobs: Set<string>;
  /** Frames of the stream, ready to be sent. */
  queue: string[];
  /** Characters that wait in the queue. */
  waiting: number;
  /** It does not take what is told: its stream ends, and it asks anew. */
  slow: boolean;
  wake: () => void;
}

interface Kept {
  number: number;
  frame: string;
}

/** Messages kept for those who come back. Origin: own choice; some minutes of fifty busy benches. */
const KEPT = 20_000;
/** Characters that may wait for one who does not listen. Origin: own choice; a thousand lines of the list. */
const MOST_WAITING = 2_000_000;
/**
 * How long what is told of the shop is gathered, ms: a line that changes three times meanwhile is told once. Origin: own choice; the
 * more listen, the longer, so that telling 500 takes no more of a second than telling 50.
 */
const GATHERED = { least: 50, each: 2, most: 1000 } as const;

/** What happens in the shop, told to every browser that listens: written once, whoever hears it. */
export class Live {
  private readonly listeners = new Map<string, Listener>();
  private readonly watchers = new Map<string, Set<Listener>>();
  private kept: Kept[] = [];
  private count = 0;
  /** Tells this run of the server from others: their numbers mean nothing here. */
  private readonly epoch = randomUUID().slice(0, 8);
  private gathered = new Map<string, ShopMessage>();
  private timer: ReturnType<typeof setTimeout> | undefined;

  tell(message: ShopMessage): void {
    const key = keyOf(message);
    // The newest of a kind stands last.
    this.gathered.delete(key);
    this.gathered.set(key, message);
    if (this.timer !== undefined) return;
    const wait = Math.min(GATHERED.most, GATHERED.least + GATHERED.each * this.listeners.size);
    this.timer = setTimeout(() => this.flush(), wait);
    this.timer.unref();
  }

  /** An event, to those who have its job on a screen, at once. */
  tellEvent(event: RunEvent): void {
    const concerned = this.watchers.get(event.job);
    if (!concerned) return;
    const frame = frameOf('told', JSON.stringify({ kind: 'event', event } satisfies LiveMessage));
    for (const listener of concerned) give(listener, frame);
  }

  /** Tells what was gathered. */
  flush(): void {
    clearTimeout(this.timer);
    this.timer = undefined;
    if (this.gathered.size === 0) return;
    const frames = [...this.gathered.values()].map((message) => {
      const number = ++this.count;
      const frame = frameOf('told', JSON.stringify(message), `${this.epoch}-${number}`);
      this.kept.push({ number, frame });
      return frame;
    });
    this.gathered = new Map();
    if (this.kept.length > KEPT * 1.1) this.kept.splice(0, this.kept.length - KEPT);
    const all = frames.join('');
    for (const listener of this.listeners.values()) give(listener, all);
  }

  /** @param jobs those on its screens */
  listen(jobs: readonly string[]): Listener {
    const listener: Listener = {
      id: randomUUID(),
      jobs: new Set(),
      queue: [],
      waiting: 0,
      slow: false,
      wake: () => {},
    };
    this.listeners.set(listener.id, listener);
    this.watch(listener, jobs);
    return listener;
  }

  find(id: string): Listener | null {
    return this.listeners.get(id) ?? null;
  }

  /** From now on these jobs are on its screens, and no others. @returns those that were not before */
  watch(listener: Listener, jobs: readonly string[]): string[] {
    const fresh = jobs.filter((job) => !listener.jobs.has(job));
    for (const job of listener.jobs) if (!jobs.includes(job)) this.forget(listener, job);
    for (const job of fresh) {
      listener.jobs.add(job);
      const known = this.watchers.get(job);
      if (known) known.add(listener);
      else this.watchers.set(job, new Set([listener]));
    }
    return fresh;
  }

  leave(listener: Listener): void {
    for (const job of [...listener.jobs]) this.forget(listener, job);
    this.listeners.delete(listener.id);
    listener.wake();
  }

  private forget(listener: Listener, job: string): void {
    listener.jobs.delete(job);
    const others = this.watchers.get(job);
    others?.delete(listener);
    if (others?.size === 0) this.watchers.delete(job);
  }

  /** The number of the newest message, to go on from. */
  get last(): string {
    return `${this.epoch}-${this.count}`;
  }

  /** What came after a message, or `null` when that is not known any more and all has to be asked for anew. */
  since(id: string): string[] | null {
    const [epoch, number] = id.split('-');
    const n = Number(number);
    if (epoch !== this.epoch || !Number.isInteger(n) || n > this.count) return null;
    const first = this.count - this.kept.length + 1;
    return n + 1 < first ? null : this.kept.slice(n + 1 - first).map(({ frame }) => frame);
  }

  close(): void {
    clearTimeout(this.timer);
  }
}

/** Puts something into the queue of one who listens. */
export function give(listener: Listener, frame: string): void {
  if (listener.slow) return;
  listener.queue.push(frame);
  listener.waiting += frame.length;
  listener.slow = listener.waiting > MOST_WAITING;
  listener.wake();
}

/** One message of a stream of server-sent events. */
export const frameOf = (event: string, data: string, id?: string): string =>
  `event: ${event}\n${id === undefined ? '' : `id: ${id}\n`}data: ${data}\n\n`;

function keyOf(message: ShopMessage): string {
  switch (message.kind) {
    case 'job':
      return `job ${message.summary.id}`;
    case 'job-gone':
      return `job ${message.job}`;
    case 'draft':
      return `draft ${message.draft}`;
    case 'shop':
      return 'shop';
  }
}
