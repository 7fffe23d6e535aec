import type { Context } from 'hono';
import { type SSEStreamingApi, streamSSE } from 'hono/streaming';
import { addressOf, type Env } from './guard.ts';
import { Problem } from './problem.ts';

/**
 * Streams that one session, one address without sessions, and all together may hold open. Origin: own choice; a browser
 * needs one for the shop and one for a measuring device, and each holds one for a moment that is closed already. Behind
 * one address a whole shop may stand.
 */
export const STREAMS = { session: 12, address: 600, all: 1200 } as const;

/** The live streams that are open, counted by who holds them. */
export class Streams {
  private readonly held = new Map<string, number>();
  private all = 0;

  /**
   * Answers with a stream.
   * @param work writes to it, and ends soon after it is aborted: nobody listens any more
   * @throws Problem 429 when too many are open
   */
  open(c: Context<Env>, work: (stream: SSEStreamingApi, left: AbortSignal) => Promise<void>): Response {
    const { session } = c.get('who');
    const key = session ?? `address ${addressOf(c)}`;
    const mine = this.held.get(key) ?? 0;
    if (mine >= (session ? STREAMS.session : STREAMS.address) || this.all >= STREAMS.all) {
      throw new Problem(429, { error: 'too many live streams are open; close some tabs' });
    }
    this.held.set(key, mine + 1);
    this.all++;
    const left = new AbortController();
    left.signal.addEventListener('abort', () => {
      this.all--;
      const others = this.held.get(key)! - 1;
      if (others > 0) this.held.set(key, others);
      else this.held.delete(key);
    });
    return streamSSE(c, async (stream) => {
      stream.onAbort(() => left.abort());
      try {
        await work(stream, left.signal);
      } finally {
        left.abort();
      }
    });
  }

  /** Tells one thing after another as it comes, and that it was the last. */
  tellAll(c: Context<Env>, event: string, things: AsyncIterable<unknown>): Response {
    return this.open(c, async (stream, left) => {
      for await (const thing of things) {
        if (left.aborted) return;
        await stream.writeSSE({ event, data: JSON.stringify(thing) });
      }
      await stream.writeSSE({ event: 'end', data: '' });
    });
  }
}
