import { type Context, Hono } from 'hono';
import Joi from 'joi';
import type { Anatomy } from '../../core/anatomy/index.ts';
import { isOpened, openDevice } from '../../core/explore/index.ts';
import type { Job } from '../../core/jobs/index.ts';
import { SURVEY } from '../../core/survey/index.ts';
import { divesInto, idOfField } from '../fieldDives.ts';
import { nameOf, type Env } from '../guard.ts';
import { platesOf } from '../jobs.ts';
import { Problem } from '../problem.ts';
import type { Services } from '../services.ts';
import type { PlateAsked } from '../pictures/plate.ts';
import { bodyOf, checked } from '../validate.ts';
import type { ReplanReason } from '../../core/run/index.ts';

const by = { by: Joi.string().max(80), session: Joi.string().max(64) };
interface By {
  by?: string;
  session?: string;
}
const millimetres = Joi.number().positive().max(600).required();
const bodySchema = Joi.object({ width: millimetres, height: millimetres });
const pixel = Joi.array().ordered(Joi.number().required(), Joi.number().required());
const plateSchema = Joi.object({
  photo: Joi.string().hex().length(64).required(),
  face: Joi.valid('front', 'back').required(),
  layer: Joi.number().integer().min(0).max(40).required(),
  depth: Joi.number().min(-60).max(60).default(0),
  height: Joi.number().min(50).max(3000).default(SURVEY.heightMm),
  edges: Joi.array().items(Joi.array().items(pixel).length(2)).length(4).required(),
  snap: Joi.boolean().default(true),
  ...by,
});
interface PlateWanted extends Omit<PlateAsked, 'points'>, By {
  photo: string;
  face: 'front' | 'back';
  layer: number;
}
const turnSchema = Joi.object({
  renew: Joi.boolean().required(),
  because: Joi.string().allow('').max(400).default(''),
  ...by,
});
const keepSchema = Joi.object({
  name: Joi.string().trim().min(1).max(120),
  maker: Joi.string().trim().max(120),
  ...by,
});

/** Field dives: photographs of an open device, what was learnt of it, and the way back. Every technician may. */
export function fieldRoutes(services: Services): Hono<Env> {
  const { anatomies, drafts, jobs, photos, pictures, plates, pool, ruleSets, technicians, shop } = services;
  const app = new Hono<Env>();
  const who = (c: Context<Env>, said: By) => nameOf(c.get('who'), technicians, said);
  const one = (c: Context<Env>) => c.req.param('job')!;

  /** @throws Problem 409 for a device that has an anatomy, or that must not be opened */
  const fieldJob = (id: string): Job => {
    const job = jobs.get(id);
    if (job.device === null) throw new Problem(409, { error: 'this device has an anatomy; it is dived by its plan' });
    if (job.triage.length > 0) throw new Problem(409, { error: 'this device must not be opened' });
    return job;
  };
  /** What is known of the model by now: a device that was published under its name. */
  const knownOf = (job: Job): Anatomy | null => {
    const id = idOfField(job.device!);
    return anatomies.has(id) ? anatomies.get(id).anatomy : null;
  };
  const named = (job: Job, anatomy: Anatomy): Anatomy => ({
    ...anatomy,
    id: idOfField(job.device!),
    name: job.device!.name,
  });

  app.post('/photographs', async (c) => c.json(await photos.addWhole(new Uint8Array(await c.req.arrayBuffer())), 201));
  app.get('/photographs/:hash/edges', async (c) => {
    const sides = { width: Number(c.req.query('width')), height: Number(c.req.query('height')) };
    const body = checked<{ width: number; height: number }>(sides, bodySchema);
    const bytes = await photos.read(c.req.param('hash'), 'full');
    return c.json({ edges: await pictures.run('guessEdges', { bytes, body }) });
  });

  app.get('/:job/plates', (c) => c.json(plates.of(platesOf(fieldJob(one(c)).id))));
  app.post('/:job/plates', async (c) => {
    const job = fieldJob(one(c));
    const wanted = await bodyOf<PlateWanted>(c, plateSchema);
    const { photo, face, layer, depth, height, edges, snap } = wanted;
    const { width, height: tall } = jobs.modelOf(job).anatomy.body;
    const bytes = await photos.read(photo, 'full');
    const asked: PlateAsked = { edges, points: null, snap, height, depth };
    const made = await pictures.run('plate', { bytes, body: { width, height: tall }, face, asked });
    const { hash } = await photos.addMade(made.picture);
    const { survey, pxPerMm } = made;
    const kept = {
      device: platesOf(job.id),
      face,
      layer,
      depth,
      photo,
      plate: hash,
      pxPerMm,
      survey,
      by: who(c, wanted),
    };
    return c.json(plates.add(kept), 201);
  });

  app.get('/:job/learnt', async (c) => {
    const job = fieldJob(one(c));
    const learnt = await pool.run('learn', { files: divesInto(services, job), known: knownOf(job) });
    const kept = shop.value<string>(`draft-of:${idOfField(job.device!)}`);
    const draft = kept !== undefined && drafts.list().some((d) => d.id === kept) ? kept : null;
    return c.json({ ...learnt, anatomy: named(job, learnt.anatomy), draft });
  });

  /** The dives that the newest is learnt with, for computing beside the interface. */
  app.get('/:job/dives', (c) => {
    const dives = divesInto(services, fieldJob(one(c)));
    return c.json({ device: dives.at(-1)!.device, earlier: dives.slice(0, -1) });
  });

  app.post('/:job/turn', async (c) => {
    const job = fieldJob(one(c));
    const { renew, because, ...said } = await bodyOf<{ renew: boolean; because: string } & By>(c, turnSchema);
    const { state } = jobs.stateOf(job.id);
    if (state.version > 0) throw new Problem(409, { error: 'the way back has been planned already' });
    const files = divesInto(services, job);
    const open = openDevice(state.acts);
    if (!isOpened(open)) throw new Problem(409, { error: 'nothing is open, so that there is no way back to plan' });
    const asked = { files, renew, rules: ruleSets.chosen().rules, wells: Object.fromEntries(open.wells) };
    const turned = await pool.run('turnRound', asked);
    const anatomy = named(job, turned.anatomy);
    const why: ReplanReason[] = [{ code: renew ? 'with-new-part' : 'with-old-part' }];
    const plan = { ...turned.plan, anatomy: anatomy.id };
    await jobs.make(job.id, [{ ...turned, anatomy, plan, because, why }], who(c, said), state.seq);
    return c.json(jobs.fileOf(job.id));
  });

  /** What was learnt goes to the workshop: a draft to go on with. */
  app.post('/:job/keep', async (c) => {
    const job = fieldJob(one(c));
    const { name, maker, ...said } = await bodyOf<{ name?: string; maker?: string } & By>(c, keepSchema);
    const known = knownOf(job);
    const learnt = await pool.run('learn', { files: divesInto(services, job), known });
    const document = {
      ...named(job, learnt.anatomy),
      ...(name === undefined ? {} : { name }),
      ...(maker ? { maker } : {}),
    };
    const base = known ? { anatomy: known.id, revision: anatomies.newest(known.id) } : null;
    const draft = services.db.transaction(() => {
      const begun = drafts.begin(document, base, who(c, said));
      shop.put(`draft-of:${idOfField(job.device!)}`, begun.id);
      shop.put(`evidence-of:${document.id}`, learnt.evidence);
      // The photographs of the dive lie beneath the drawing from then on.
      for (const { id: _, createdAt: __, reviewed, ...plate } of plates.of(platesOf(job.id)))
        plates.add({ ...plate, device: document.id }, reviewed);
      return begun;
    });
    return c.json({ draft: draft.id }, 201);
  });

  return app;
}
