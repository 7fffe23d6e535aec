import { type Context, Hono } from 'hono';
import Joi from 'joi';
import { DRIVES } from '../../core/anatomy/index.ts';
import { FASTENERS } from '../../core/kinds/index.ts';
import { PAPERS, type Paper } from '../../core/paper/index.ts';
import type { ScrewShape } from '../../core/screws/index.ts';
import { matched, type Env } from '../guard.ts';
import { Problem } from '../problem.ts';
import type { Services } from '../services.ts';
import { simulatedCaliper, simulatedTorqueDriver } from '../simulated/devices.ts';
import { bodyOf } from '../validate.ts';

const shape = {
  kind: Joi.string()
    .valid(...FASTENERS.where((facts) => facts.stocked))
    .required(),
  drive: Joi.string()
    .valid(...DRIVES)
    .required(),
  length: Joi.number().positive().max(60).required(),
  thread: Joi.number().positive().max(10).required(),
  head: Joi.number().positive().max(20).required(),
  magnetic: Joi.boolean().required(),
};
const addSchema = Joi.object({ ...shape, count: Joi.number().integer().min(1).max(10_000).required() });
const countSchema = Joi.object({ count: Joi.number().integer().min(0).max(10_000).required() });

/** Screw maps, the stock, and the stand-ins for the driver and the caliper. */
export function screwRoutes({ anatomies, jobs, pool, shop, stock, streams }: Services): Hono<Env> {
  const app = new Hono<Env>();
  /** The map of an anatomy, or of the device of a job as it is on the bench. */
  const map = async (c: Context<Env>, as: 'pdf' | 'svg') => {
    const id = c.req.param('file')!.replace(/\.(pdf|svg)$/, '');
    const paper = c.req.query('paper') ?? shop.get().paper;
    if (!Object.hasOwn(PAPERS, paper))
      throw new Problem(422, { error: `paper: must be one of ${Object.keys(PAPERS).join(', ')}` });
    const job = c.req.query('job');
    const file = job ? jobs.fileOf(job) : null;
    const { anatomy } = file ?? anatomies.get(id);
    const run = file && { anatomy, plan: file.job.plan, events: file.events };
    const page = Number(c.req.query('page') ?? 1);
    const sheet = await pool.run('screwMap', { anatomy, run, paper: paper as Paper, as, page });
    if (typeof sheet === 'string') return c.body(sheet, 200, { 'Content-Type': 'image/svg+xml' });
    return c.body(new Uint8Array(sheet), 200, {
      'Content-Type': 'application/pdf',
      'Content-Disposition': `inline; filename="screws-${id}.pdf"`,
    });
  };
  app.get('/map/:file{.+\\.pdf}', (c) => map(c, 'pdf'));
  app.get('/map/:file{.+\\.svg}', (c) => map(c, 'svg'));

  app.get('/stock', (c) => c.json(stock.all()));
  app.post('/stock', async (c) => {
    const { count, ...kind } = await bodyOf<ScrewShape & { length: number; count: number }>(c, addSchema);
    stock.add(kind, count);
    return c.json(stock.all(), 201);
  });
  app.post('/stock/kit/:anatomy', (c) => {
    const { anatomy, revision } = anatomies.get(c.req.param('anatomy'));
    stock.addKit(anatomies.modelOf(anatomy.id, revision));
    return c.json(stock.all(), 201);
  });
  app.put('/stock/:id', async (c) => {
    const id = c.req.param('id');
    const { count } = await bodyOf<{ count: number }>(c, countSchema);
    matched(c, stock.get(id).revision);
    stock.setCount(id, count);
    return c.json(stock.all());
  });
  app.post('/stock/:id/use', (c) => c.json(stock.use(c.req.param('id'))));

  /** One screw driven with the torque driver: samples as they come. */
  app.get('/driver/:job/:fastener', (c) => {
    const { context } = jobs.stateOf(c.req.param('job'));
    const screw = context.model.fasteners.get(c.req.param('fastener'));
    if (!screw) throw new Problem(404, { error: 'there is no such screw on this job' });
    return streams.tellAll(c, 'sample', simulatedTorqueDriver().drive(screw));
  });
  /** The screws that are out on a job, measured one after another. */
  app.get('/caliper/:job', (c) => {
    const { context, state } = jobs.stateOf(c.req.param('job'));
    if (state.version === 0) throw new Problem(409, { error: 'this job has no dive' });
    const pieces = [...state.out.keys()]
      .map((id) => context.model.fasteners.get(id)!)
      .filter((f) => f && !FASTENERS.of(f.kind).stays);
    return streams.tellAll(c, 'piece', simulatedCaliper().measure(pieces));
  });
  return app;
}
