import { Hono } from 'hono';
import Joi from 'joi';
import type { Env } from '../guard.ts';
import { frameOf, give, type Listener } from '../live.ts';
import { notFound } from '../problem.ts';
import type { Services } from '../services.ts';
import { bodyOf } from '../validate.ts';

/** How often an idle stream says that it is alive, ms. Origin: own choice, below the idle limit of common proxies. */
const HEARTBEAT_MS = 15_000;
/** Most jobs that the tabs of one browser have on their screens. Origin: own choice. */
const MOST_JOBS = 100;

const watchSchema = Joi.object({
  /** How many events of each job the browser has. */
  jobs: Joi.object().pattern(Joi.string().max(64), Joi.number().integer().min(0)).max(MOST_JOBS).required(),
});

/** One stream for each browser: what happens in the shop, and the events of the jobs on its screens. */
export function liveRoutes({ clock, jobs, live, streams }: Services): Hono<Env> {
  const app = new Hono<Env>();

  /** Events of a job that a browser lacks. */
  const catchUp = (listener: Listener, job: string, has: number) => {
    if (!jobs.has(job) || !jobs.isReadable(job)) return;
    for (const event of jobs.eventsOf(job).slice(has))
      give(listener, frameOf('told', JSON.stringify({ kind: 'event', event })));
  };

  app.get('/', (c) => {
    const after = c.req.header('last-event-id') ?? c.req.query('after') ?? '';
    const watched = watchedIn(c.req.query('jobs') ?? '');
    return streams.open(c, async (stream, left) => {
      const missed = after === '' ? [] : live.since(after);
      const listener = live.listen([...watched.keys()]);
      left.addEventListener('abort', () => live.leave(listener));
      // Who cannot be told what was missed asks for everything anew; who can has it only once it was told.
      const from = missed !== null && missed.length > 0 ? after : live.last;
      const now = () => String(clock.now());
      const head = [
        frameOf(missed === null ? 'lost' : 'hello', now(), from),
        frameOf('stream', listener.id),
        ...(missed ?? []),
      ];
      await stream.write(head.join(''));
      for (const [job, has] of watched) catchUp(listener, job, has);
      while (!left.aborted && !listener.slow) {
        if (listener.queue.length > 0) {
          const text = listener.queue.join('');
          listener.queue = [];
          await stream.write(text);
          listener.waiting -= text.length;
          continue;
        }
        const quiet = await new Promise<boolean>((resolve) => {
          const timer = setTimeout(() => resolve(true), HEARTBEAT_MS);
          timer.unref();
          listener.wake = () => {
            clearTimeout(timer);
            resolve(false);
          };
        });
        if (quiet && !left.aborted) await stream.write(frameOf('alive', now()));
      }
    });
  });
  /** Which jobs are on the screens of a browser now; what it lacks of them comes by its stream. */
  app.post('/:stream', async (c) => {
    const { jobs: watched } = await bodyOf<{ jobs: Record<string, number> }>(c, watchSchema);
    const listener = live.find(c.req.param('stream'));
    if (!listener) throw notFound('the stream');
    for (const job of live.watch(listener, Object.keys(watched))) catchUp(listener, job, watched[job]!);
    return c.json({ ok: true });
  });
  return app;
}

/** `job:events,job:events`, as a stream is asked for. */
function watchedIn(asked: string): Map<string, number> {
  const entries = asked.split(',').flatMap((one): [string, number][] => {
    const [job, has] = one.split(':');
    return job && /^\d{1,9}$/.test(has ?? '') ? [[job, Number(has)]] : [];
  });
  return new Map(entries.slice(0, MOST_JOBS));
}
