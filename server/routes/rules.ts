import { Hono } from 'hono';
import Joi from 'joi';
import { rulesFormat, type HouseRules } from '../../core/dive/index.ts';
import { joiOf } from '../../core/format/index.ts';
import { leadOnly, matched, type Env } from '../guard.ts';
import type { Services } from '../services.ts';
import { bodyOf } from '../validate.ts';

const setSchema = Joi.object({
  name: Joi.string().trim().min(1).max(60).required(),
  rules: joiOf(rulesFormat).required(),
});

/** The shop's named sets of house rules, kept by the leads. */
export function ruleRoutes({ ruleSets }: Services): Hono<Env> {
  const app = new Hono<Env>();
  app.get('/', (c) => c.json(ruleSets.all()));
  app.post('/', async (c) => {
    leadOnly(c);
    return c.json(ruleSets.save(await bodyOf<{ name: string; rules: HouseRules }>(c, setSchema)), 201);
  });
  app.put('/:id', async (c) => {
    leadOnly(c);
    const id = c.req.param('id');
    const given = await bodyOf<{ name: string; rules: HouseRules }>(c, setSchema);
    matched(c, ruleSets.get(id).revision);
    return c.json(ruleSets.save({ id, ...given }));
  });
  app.post('/:id/choose', (c) => {
    leadOnly(c);
    ruleSets.choose(c.req.param('id'));
    return c.json(ruleSets.all());
  });
  app.delete('/:id', (c) => {
    leadOnly(c);
    const id = c.req.param('id');
    matched(c, ruleSets.get(id).revision);
    ruleSets.remove(id);
    return c.json(ruleSets.all());
  });
  return app;
}
