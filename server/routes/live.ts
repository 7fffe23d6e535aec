import { Hono } from 'hono';
import type { Env } from '../guard.ts';
import type { Numbered } from '../live.ts';
import type { Services } from '../services.ts';

/** How often an idle stream says that it is alive, ms. Origin: own choice, below the idle limit of common proxies. */
const HEARTBEAT_MS = 15_000;
/** Messages that may wait for one who does not listen; beyond it the stream ends. Origin: own choice. */
const MOST_WAITING = 5000;

/** One stream for each browser, with everything that happens in the shop. */
export function liveRoutes({ clock, live, streams }: Services): Hono<Env> {
  const app = new Hono<Env>();
  app.get('/', (c) => {
    const after = c.req.header('last-event-id') ?? c.req.query('after') ?? '';
    return streams.open(c, async (stream, left) => {
      let wake = () => {};
      const missed = after === '' ? [] : live.since(after);
      const queue: Numbered[] = [...(missed ?? [])];
      const most = MOST_WAITING + queue.length;
      let slow = false;
      const stop = live.listen((numbered) => {
        // Who does not take what is told asks for it anew, or for everything, when it comes back.
        slow ||= queue.length >= most;
        if (!slow) queue.push(numbered);
        wake();
      });
      left.addEventListener('abort', () => {
        stop();
        wake();
      });
      // Who cannot be told what was missed asks for everything anew; who can has it only once it was told.
      const from = queue.length > 0 ? after : live.last;
      await stream.writeSSE({ event: missed === null ? 'lost' : 'hello', id: from, data: String(clock.now()) });
      while (!left.aborted && !slow) {
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
        if (quiet && !left.aborted) await stream.writeSSE({ event: 'alive', data: String(clock.now()) });
      }
    });
  });
  return app;
}
