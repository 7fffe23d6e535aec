import { Hono } from 'hono';
import Joi from 'joi';
import { rulesSchema, type HouseRules } from '../../core/dive/index.ts';
import type { Services } from '../services.ts';
import { bodyOf } from '../validate.ts';

const setSchema = Joi.object({ name: Joi.string().trim().min(1).max(60).required(), rules: rulesSchema.required() });

/** The shop's named sets of house rules. */
export function ruleRoutes({ ruleSets }: Services): Hono {
  const app = new Hono();
  app.get('/', (c) => c.json(ruleSets.all()));
  app.post('/', async (c) =>
    c.json(ruleSets.save(await bodyOf<{ name: string; rules: HouseRules }>(c, setSchema)), 201),
  );
  app.put('/:id', async (c) =>
    c.json(
      ruleSets.save({ id: c.req.param('id'), ...(await bodyOf<{ name: string; rules: HouseRules }>(c, setSchema)) }),
    ),
  );
  app.post('/:id/choose', (c) => {
    ruleSets.choose(c.req.param('id'));
    return c.json(ruleSets.all());
  });
  app.delete('/:id', (c) => {
    ruleSets.remove(c.req.param('id'));
    return c.json(ruleSets.all());
  });
  return app;
}
