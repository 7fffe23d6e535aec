import { type Context, Hono } from 'hono';
import Joi from 'joi';
import { newOhms, ratingOf, restVolts } from '../../core/cells/index.ts';
import { SURVEY } from '../../core/survey/index.ts';
import { USUAL_TESTER } from '../../core/closing/index.ts';
import { batteryFault, type Point } from '../../core/anatomy/index.ts';
import { CELL_STATES, type ShopCell } from '../../core/jobs/index.ts';
import { matched, nameOf, type Env } from '../guard.ts';
import { Problem } from '../problem.ts';
import type { CellChange } from '../cells.ts';
import type { Services } from '../services.ts';
import { simulatedBenchSupply } from '../simulated/benchSupply.ts';
import { LEAK_SHOWS, simulatedLeakTester, type LeakShows } from '../simulated/leakTester.ts';
import { bodyOf } from '../validate.ts';
import { paperOf } from './jobCounter.ts';

const said = { by: Joi.string().max(80), session: Joi.string().max(64) };
const percent = Joi.number().min(0).max(100).allow(null);
const addSchema = Joi.object({
  label: Joi.string().trim().min(1).max(160).required(),
  volts: Joi.number().min(1).max(60).required(),
  milliampHours: Joi.number().positive().max(100_000).required(),
  cells: Joi.number().integer().min(1).max(16).default(1),
  damaged: Joi.boolean().required(),
  charge: percent.default(null),
  box: Joi.string().trim().allow('').max(80).default(''),
  ...said,
}).custom((cell, helpers) => {
  const fault = batteryFault(cell);
  return fault === null ? cell : helpers.message({ custom: `volts: ${fault}` });
});
const changeSchema = Joi.object({
  state: Joi.string()
    .valid(...CELL_STATES)
    .required(),
  charge: percent.required(),
  box: Joi.string().trim().allow('').max(80).required(),
  gone: Joi.string().trim().allow('').max(160).required(),
  ...said,
});
const outlineSchema = Joi.object({
  points: Joi.array()
    .items(Joi.array().ordered(Joi.number().min(-50).max(600), Joi.number().min(-50).max(600)).length(2))
    .min(3)
    .max(400)
    .required(),
});
const oldPartSchema = Joi.object({
  photo: Joi.string().hex().length(64).required(),
  width: Joi.number().min(50).max(600).required(),
  height: Joi.number().min(50).max(600).required(),
});
type By = { by?: string; session?: string };

/** Steps of current that a cell is loaded with, A, and samples at each. Origin: own choice; gentle for any phone's cell. */
const LOAD_STEPS = [0, 0.5, 1, 0.5, 0] as const;
const SAMPLES_A_STEP = 6;
/** How worn the stand-in's cells are, as multiples of a new one's resistance. */
const SHOWN_OHMS = { good: 1.1, worn: 2.6, bad: 4.2 } as const;

/** Templates, cutting for a whole day, the log of cells, and the stand-ins for the tester and the bench supply. */
export function closingRoutes(services: Services): Hono<Env> {
  const { jobs, cells, photos, pictures, pool, shop, streams, technicians } = services;
  const app = new Hono<Env>();
  const who = (c: Context<Env>, given: By) => nameOf(c.get('who'), technicians, given);

  /** The template of a bond on a job, or as an outline that was taken from the old part says. */
  const sheet = async (c: Context<Env>, as: 'pdf' | 'svg', outline: Point[] | null) => {
    const { anatomy, events, job } = jobs.fileOf(c.req.param('job')!);
    const run = { anatomy, plan: job.plan, events };
    const paper = paperOf(c.req.query('paper'), shop.get().paper);
    const made = await pool.run('stripSheet', { run, bond: c.req.query('bond') ?? '', paper, as, outline });
    if (typeof made === 'string') return c.body(made, 200, { 'Content-Type': 'image/svg+xml' });
    return c.body(new Uint8Array(made), 200, {
      'Content-Type': 'application/pdf',
      'Content-Disposition': `inline; filename="nibrel-strips-${job.number}.pdf"`,
    });
  };
  app.get('/strips/:job/template.pdf', (c) => sheet(c, 'pdf', null));
  app.get('/strips/:job/template.svg', (c) => sheet(c, 'svg', null));
  app.post('/strips/:job/template.pdf', async (c) =>
    sheet(c, 'pdf', (await bodyOf<{ points: Point[] }>(c, outlineSchema)).points),
  );

  /** A photograph of an old part on a sheet of known size, straightened to millimetres. */
  app.post('/old-part', async (c) => {
    const { photo, width, height } = await bodyOf<{ photo: string; width: number; height: number }>(c, oldPartSchema);
    const bytes = await photos.read(photo, 'full');
    const body = { width, height };
    const edges = await pictures.run('guessEdges', { bytes, body });
    if (!edges)
      throw new Problem(422, {
        error: 'the sheet does not stand out in the picture: lay it on a dark ground with all four edges in sight',
      });
    const asked = { edges, points: null, snap: true, height: SURVEY.heightMm, depth: 0 };
    const { picture, pxPerMm } = await pictures.run('plate', { bytes, body, face: 'front', asked });
    const { hash } = await photos.addMade(picture);
    return c.json({ plate: hash, pxPerMm });
  });

  /** What is to be cut for every job that lies open or ready, from as few sheets as can be. */
  app.get('/day', async (c) => {
    const lines = jobs.summaries();
    if (lines.some((j) => j.state === 'reading'))
      throw new Problem(503, { error: 'the jobs are still being read after the start; ask again in a moment' });
    const open = lines.filter((j) => j.state === 'ready' || j.state === 'running');
    const runs = open.map(({ id }) => {
      const { anatomy, events, job } = jobs.fileOf(id);
      return { id, number: job.number, run: { anatomy, plan: job.plan, events } };
    });
    return c.json(await pool.run('cutDay', { runs, bench: services.ruleSets.chosen().rules.closing }));
  });

  /** The decay of pressure in the closed device, as it is measured. */
  app.get('/decay/:job', (c) => {
    const { state } = jobs.stateOf(c.req.param('job'));
    if (state.version === 0) throw new Problem(409, { error: 'this job has no dive' });
    const tester = state.context.plan.rules.closing.tester ?? services.ruleSets.chosen().rules.closing.tester;
    if (!tester) throw new Problem(409, { error: 'the house rules say that the shop has no leak tester' });
    const shows = (c.req.query('shows') ?? 'tight') as LeakShows;
    if (!LEAK_SHOWS.includes(shows))
      throw new Problem(422, { error: `shows: must be one of ${LEAK_SHOWS.join(', ')}` });
    return streams.tellAll(
      c,
      'sample',
      simulatedLeakTester().decay(tester.millilitres ?? USUAL_TESTER.millilitres, shows),
    );
  });

  /** A cell under steps of current, on the bench supply. */
  app.get('/load-step/:job', (c) => {
    const { state, job } = jobs.stateOf(c.req.param('job'));
    if (job.triage.length > 0) throw new Problem(409, { error: 'a cell of this device must not be loaded' });
    const rating = ratingOf(state.context.model.anatomy);
    const shows = c.req.query('shows') ?? 'good';
    if (!Object.hasOwn(SHOWN_OHMS, shows))
      throw new Problem(422, { error: `shows: must be one of ${Object.keys(SHOWN_OHMS).join(', ')}` });
    const ohms = newOhms(rating) * SHOWN_OHMS[shows as keyof typeof SHOWN_OHMS];
    const steps = LOAD_STEPS.flatMap((amps) => new Array<number>(SAMPLES_A_STEP).fill(amps));
    return streams.tellAll(
      c,
      'sample',
      simulatedBenchSupply().loadStep(steps, { volts: restVolts(rating, 0.4), ohms }),
    );
  });

  app.get('/cells', (c) => c.json(cells.all()));
  app.post('/cells', async (c) => {
    const { by, session, ...given } = await bodyOf<Omit<ShopCell, 'id' | 'job' | 'part' | 'state' | 'gone'> & By>(
      c,
      addSchema,
    );
    const state = given.damaged ? 'boxed' : 'stored';
    cells.add({ ...given, job: null, part: null, state, gone: '', by: who(c, { by, session } as By) });
    return c.json(cells.all(), 201);
  });
  app.put('/cells/:id', async (c) => {
    const { by, session, ...change } = await bodyOf<CellChange & By>(c, changeSchema);
    matched(c, cells.get(c.req.param('id')).revision);
    cells.change(c.req.param('id'), change, who(c, { by, session } as By));
    return c.json(cells.all());
  });
  return app;
}
