import { Hono } from 'hono';
import { modelOf, readAnatomyText } from '../../core/anatomy/index.ts';
import { depthTable, reachFaults } from '../../core/dive/index.ts';
import type { AnatomySummary } from '../../core/jobs/index.ts';
import type { Services } from '../services.ts';
import { Problem } from '../problem.ts';

export function anatomyRoutes({ anatomies }: Services): Hono {
  const app = new Hono();
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
  app.get('/:id', (c) => c.json(anatomies.get(c.req.param('id'))));
  app.get('/:id/depth', (c) => {
    const { anatomy, revision } = anatomies.get(c.req.param('id'));
    return c.json(depthTable(anatomies.modelOf(anatomy.id, revision)));
  });
  /** Takes in an anatomy as a new revision, or tells every fault and stores nothing. */
  app.post('/', async (c) => {
    const reading = readAnatomyText(await c.req.text());
    if (!reading.ok)
      throw new Problem(422, {
        error: `the anatomy has ${reading.faults.length} ${reading.faults.length === 1 ? 'fault' : 'faults'}; nothing was stored`,
        faults: reading.faults,
      });
    const faults = reachFaults(modelOf(reading.value));
    if (faults.length > 0)
      throw new Problem(422, { error: 'not every part can be reached and refitted; nothing was stored', faults });
    return c.json(anatomies.add(reading.value), 201);
  });
  return app;
}
