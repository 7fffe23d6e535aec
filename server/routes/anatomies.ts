import { Hono } from 'hono';
import Joi from 'joi';
import { LRUCache } from 'lru-cache';
import type { AnatomySummary } from '../../core/jobs/index.ts';
import { KEPT_REVISIONS, UNLISTED } from '../anatomies.ts';
import { leadOnly, matched, type Env } from '../guard.ts';
import { Problem } from '../problem.ts';
import { DEEPEST_JSON, isTooDeep, bodyOf } from '../validate.ts';
import type { Services } from '../services.ts';

const archiveSchema = Joi.object({ archived: Joi.boolean().required() });

export function anatomyRoutes({ anatomies, plates, pool }: Services): Hono<Env> {
  const app = new Hono<Env>();
  /** Depths by revision, which never changes. */
  const depths = new LRUCache<string, Promise<unknown>>({ max: KEPT_REVISIONS });
  app.get('/', (c) => {
    const marks = anatomies.marks();
    return c.json(
      anatomies.latest().map(
        ({ anatomy: a, revision }): AnatomySummary => ({
          id: a.id,
          name: a.name,
          maker: a.maker,
          kind: a.kind,
          revision,
          parts: a.parts.length,
          fasteners: a.fasteners.length,
          connectors: a.connectors.length,
          archived: marks.get(a.id)?.archived ?? false,
          origin: marks.get(a.id)?.origin?.name ?? null,
          untried: marks.get(a.id)?.untried ?? false,
        }),
      ),
    );
  });
  app.get('/:id', (c) => {
    const stored = anatomies.get(c.req.param('id'));
    c.header('ETag', `"${stored.revision}"`);
    return c.json(stored);
  });
  app.get('/:id/revisions', (c) => c.json(anatomies.revisions(c.req.param('id'))));
  app.get('/:id/revisions/:revision', (c) => c.json(anatomies.get(c.req.param('id'), Number(c.req.param('revision')))));
  app.get('/:id/plates', (c) => c.json(plates.of(c.req.param('id'))));
  /** Takes a device out of what can be taken in, or back into it; its jobs and revisions stay. */
  app.post('/:id/archive', async (c) => {
    leadOnly(c);
    const { archived } = await bodyOf<{ archived: boolean }>(c, archiveSchema);
    anatomies.newest(c.req.param('id'));
    anatomies.mark(c.req.param('id'), { archived });
    return c.json({ ok: true });
  });
  app.get('/:id/depth', async (c) => {
    const { anatomy, revision } = anatomies.get(c.req.param('id'));
    const key = `${anatomy.id}@${revision}`;
    const table = depths.get(key) ?? pool.run('depth', { anatomy });
    depths.set(key, table);
    table.catch(() => depths.delete(key));
    return c.json(await table);
  });
  /** Takes in an anatomy as a new revision, or tells every fault and stores nothing. */
  app.post('/', async (c) => {
    leadOnly(c);
    const text = await c.req.text();
    if (isTooDeep(text)) throw new Problem(400, { error: `the file is nested deeper than ${DEEPEST_JSON} levels` });
    const { anatomy, warnings } = await pool.run('checkAnatomy', { text });
    if (anatomy.id === UNLISTED) throw new Problem(422, { error: `id: "${UNLISTED}" is kept for devices in no list` });
    // What is there already is revised by whoever has seen its newest revision.
    if (anatomies.has(anatomy.id)) matched(c, anatomies.newest(anatomy.id));
    return c.json({ ...anatomies.add(anatomy), warnings }, 201);
  });
  return app;
}
