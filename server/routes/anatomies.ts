import { Hono } from 'hono';
import { LRUCache } from 'lru-cache';
import type { AnatomySummary } from '../../core/jobs/index.ts';
import { KEPT_REVISIONS, UNLISTED } from '../anatomies.ts';
import { leadOnly, matched, type Env } from '../guard.ts';
import { Problem } from '../problem.ts';
import type { Services } from '../services.ts';

export function anatomyRoutes({ anatomies, pool }: Services): Hono<Env> {
  const app = new Hono<Env>();
  /** Depths by revision, which never changes. */
  const depths = new LRUCache<string, Promise<unknown>>({ max: KEPT_REVISIONS });
  app.get('/', (c) =>
    c.json(
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
        }),
      ),
    ),
  );
  app.get('/:id', (c) => {
    const stored = anatomies.get(c.req.param('id'));
    c.header('ETag', `"${stored.revision}"`);
    return c.json(stored);
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
    const anatomy = await pool.run('checkAnatomy', { text: await c.req.text() });
    if (anatomy.id === UNLISTED) throw new Problem(422, { error: `id: "${UNLISTED}" is kept for devices in no list` });
    // What is there already is revised by whoever has seen its newest revision.
    if (anatomies.has(anatomy.id)) matched(c, anatomies.newest(anatomy.id));
    return c.json(anatomies.add(anatomy), 201);
  });
  return app;
}
