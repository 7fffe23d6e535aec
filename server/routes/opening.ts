import { type Context, Hono } from 'hono';
import Joi from 'joi';
import { DEFAULT_RULES } from '../../core/dive/index.ts';
import { NoHeat, PLATES, SOURCE_KINDS, sourceOf, stackOf, type SourceKind } from '../../core/heat/index.ts';
import { MARGIN, MOST_MARKS, NoCut } from '../../core/opening/index.ts';
import { PAPERS, type Paper } from '../../core/paper/index.ts';
import { whyNoCut } from '../../words/index.ts';
import type { Env } from '../guard.ts';
import { Problem } from '../problem.ts';
import type { Services } from '../services.ts';
import { simulatedMat, simulatedPlate } from '../simulated/heat.ts';
import { checked } from '../validate.ts';

const number = (low: number, high: number, fallback?: number) => {
  const one = Joi.number().min(low).max(high);
  return fallback === undefined ? one : one.default(fallback);
};
const templateQuery = Joi.object({
  bond: Joi.string().max(64).required(),
  marks: number(1, 6, MOST_MARKS).integer(),
  margin: number(0, 10, MARGIN),
  paper: Joi.string()
    .valid(...Object.keys(PAPERS))
    .default('A4'),
});
const matQuery = Joi.object({
  speed: number(1, 240, 1),
  factor: number(0.5, 1.6),
  set: number(20, 130),
  room: number(-20, 45),
  from: number(0, 100_000, 0),
});
const plateQuery = Joi.object({
  source: Joi.string()
    .valid(...SOURCE_KINDS)
    .required(),
  plate: Joi.string()
    .valid(...PLATES.map((p) => p.id))
    .required(),
  set: number(20, 300),
  room: number(-20, 45, DEFAULT_RULES.room),
  speed: number(1, 240, 1),
  factor: number(0.5, 1.6),
});

/** Numbers of a query are text until they are read. */
function queryOf<T>(query: Record<string, string>, schema: Joi.ObjectSchema): T {
  return checked<T>(
    Object.fromEntries(
      Object.entries(query).map(([k, v]) => [k, v !== '' && Number.isFinite(Number(v)) ? Number(v) : v]),
    ),
    schema,
  );
}

/** What cannot be computed is said to the asker, with where. */
function told<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof NoHeat) throw new Problem(422, { error: `${error.path}: ${error.message}` });
    if (error instanceof NoCut) throw new Problem(422, { error: `${error.path}: ${whyNoCut(error)}` });
    throw error;
  }
}

/** Pick templates, and the stand-ins for the thermometers at the heat sources. */
export function openingRoutes({ anatomies, jobs, pool, shop, streams }: Services): Hono<Env> {
  const app = new Hono<Env>();
  const template = async (c: Context<Env>, as: 'pdf' | 'svg') => {
    const id = c.req.param('file')!.replace(/\.(pdf|svg)$/, '');
    const query = queryOf<{ bond: string; marks: number; margin: number; paper?: Paper }>(c.req.query(), templateQuery);
    const { anatomy } = anatomies.get(id);
    const sheet = await pool.run('template', { anatomy, ...query, paper: query.paper ?? shop.get().paper, as });
    if (typeof sheet === 'string') return c.body(sheet, 200, { 'Content-Type': 'image/svg+xml' });
    return c.body(new Uint8Array(sheet), 200, {
      'Content-Type': 'application/pdf',
      'Content-Disposition': `inline; filename="picks-${id}.pdf"`,
    });
  };
  app.get('/template/:file{.+\\.pdf}', (c) => template(c, 'pdf'));
  app.get('/template/:file{.+\\.svg}', (c) => template(c, 'svg'));

  /** The device of a heat step on the mat: readings as they come. */
  app.get('/mat/:job/:step', (c) => {
    const { context } = jobs.stateOf(c.req.param('job'));
    const step = context.steps.get(c.req.param('step'));
    const setting = step?.heat;
    if (!step || !setting) throw new Problem(404, { error: 'there is no such heat step on this job' });
    const { rules } = context.plan;
    const query = queryOf<{ speed: number; factor?: number; set?: number; room?: number; from: number }>(
      c.req.query(),
      matQuery,
    );
    const room = query.room ?? rules.room;
    const { stack, source } = told(() => ({
      stack: stackOf(context.model, step.items[0]!, {
        grid: context.model.anatomy.kind === 'tablet' ? 8 : 4,
        face: setting.on,
        off: setting.off,
      }),
      source: sourceOf(setting.source, { ...rules.sources[setting.source], set: query.set ?? setting.set }),
    }));
    return streams.tellAll(c, 'reading', simulatedMat(query).watch(stack, source, room, query.from));
  });
  /** A plate of known make on a source. */
  app.get('/plate', (c) => {
    const query = queryOf<{
      source: SourceKind;
      plate: string;
      set?: number;
      room: number;
      speed: number;
      factor?: number;
    }>(c.req.query(), plateQuery);
    const source = told(() => sourceOf(query.source, query.set === undefined ? {} : { set: query.set }));
    const plate = PLATES.find((p) => p.id === query.plate)!;
    return streams.tellAll(c, 'reading', simulatedPlate(query).watch(plate, source, query.room));
  });
  return app;
}
