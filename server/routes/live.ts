import { Hono } from 'hono';
import { streamSSE } from 'hono/streaming';
import type { Env } from '../guard.ts';
import type { Numbered } from '../live.ts';
import { Problem } from '../problem.ts';
import type { Services } from '../services.ts';

/** How often an idle stream says that it is alive, ms. Origin: own choice, below the idle limit of common proxies. */
const HEARTBEAT_MS = 15_000;
/** Streams that one session may hold open, and that the server serves at all. Origin: own choice; a browser needs one. */
const STREAMS = { each: 12, all: 400 } as const;

/** One stream for each browser, with everything that happens in the shop. */
export function liveRoutes({ live }: Services): Hono<Env> {
  const app = new Hono<Env>();
  const held = new Map<string, number>();
  let all = 0;
  app.get('/', (c) => {
    const key = c.get('who').session ?? 'open';
    const mine = held.get(key) ?? 0;
    if ((key !== 'open' && mine >= STREAMS.each) || all >= STREAMS.all) {
      throw new Problem(429, { error: 'too many live streams are open' });
    }
    held.set(key, mine + 1);
    all++;
    const after = c.req.header('last-event-id') ?? c.req.query('after') ?? '';
    return streamSSE(c, async (stream) => {
      let wake = () => {};
      let ended = false;
      const missed = after === '' ? [] : live.since(after);
      const queue: Numbered[] = [...(missed ?? [])];
      const stop = live.listen((numbered) => {
        queue.push(numbered);
        wake();
      });
      const end = () => {
        if (ended) return;
        ended = true;
        stop();
        all--;
        const left = (held.get(key) ?? 1) - 1;
        if (left > 0) held.set(key, left);
        else held.delete(key);
        wake();
      };
      stream.onAbort(end);
      try {
        // Who cannot be told what was missed asks for everything anew; who can has it only once it was told.
        const from = queue.length > 0 ? after : live.last;
        await stream.writeSSE({ event: missed === null ? 'lost' : 'hello', id: from, data: String(Date.now()) });
        while (!ended) {
          if (queue.length > 0) {
            const { id, message } = queue.shift()!;
            await stream.writeSSE({ event: 'told', id, data: JSON.stringify(message) });
            continue;
          }
          const quiet = await new Promise<boolean>((resolve) => {
            const timer = setTimeout(() => resolve(true), HEARTBEAT_MS);
            timer.unref();
            wake = () => {
              clearTimeout(timer);
              resolve(false);
            };
          });
          if (quiet && !ended) await stream.writeSSE({ event: 'alive', data: String(Date.now()) });
        }
      } finally {
        end();
      }
    });
  });
  return app;
}
