import { randomUUID } from 'node:crypto';
import { type Context, Hono } from 'hono';
import Joi from 'joi';
import {
  DATA_CHOICES,
  donorChecks,
  PAD,
  signatureFault,
  UNFINISHED_CHOICES,
  type AgreementTerms,
  type DataChoice,
  type Stroke,
  type UnfinishedChoice,
} from '../../core/counter/index.ts';
import { PAPERS, type Paper } from '../../core/paper/index.ts';
import { lastChange } from '../../core/run/index.ts';
import { matched, nameOf, type Env } from '../guard.ts';
import { Problem } from '../problem.ts';
import { quoteFor, quoteJob, quoteWith } from '../quotes.ts';
import type { Services } from '../services.ts';
import { simulatedBenchSupply } from '../simulated/benchSupply.ts';
import { bodyOf, decimal } from '../validate.ts';
import { askRegister } from './counter.ts';
import { agreementText } from '../../words/index.ts';

/** Most points of a signature. Origin: own choice; a long name takes a thousand. */
const MOST_POINTS = 6000;
const by = { by: Joi.string().max(80), session: Joi.string().max(64) };
const strokesSchema = Joi.array()
  .items(
    Joi.object({
      points: Joi.array()
        .items(
          Joi.object({
            x: Joi.number()
              .min(-PAD.width)
              .max(2 * PAD.width)
              .required(),
            y: Joi.number()
              .min(-PAD.height)
              .max(2 * PAD.height)
              .required(),
            time: Joi.number().required(),
          }),
        )
        .required(),
    }),
  )
  .max(400);
const agreementSchema = Joi.object({
  limit: decimal.allow(null).required(),
  data: Joi.string()
    .valid(...DATA_CHOICES)
    .required(),
  unfinished: Joi.string()
    .valid(...UNFINISHED_CHOICES)
    .required(),
  strokes: strokesSchema.required(),
  ...by,
});
const collectSchema = Joi.object({
  name: Joi.string().trim().min(1).max(200).required(),
  strokes: strokesSchema.allow(null).required(),
  ...by,
});

/** What the counter does with one job. */
export function jobCounterRoutes(services: Services): Hono<Env> {
  const { jobs, counter, shop, pool, streams, technicians } = services;
  const app = new Hono<Env>();
  const one = (c: Context<Env>) => c.req.param('id')!;
  const who = (c: Context<Env>, said: { by?: string; session?: string } = {}) =>
    nameOf(c.get('who'), technicians, said);
  const seq = (id: string) => jobs.stateOf(id).state.seq;
  const inked = (strokes: readonly Stroke[]) => {
    const fault = signatureFault(strokes);
    if (fault) throw new Problem(422, { error: fault, faults: [{ path: 'strokes', message: fault }] });
    if (strokes.reduce((sum, s) => sum + s.points.length, 0) > MOST_POINTS)
      throw new Problem(422, { error: 'this signature is too long to be kept; sign again' });
  };

  app.post('/:id/register', async (c) => {
    const { state } = jobs.stateOf(one(c));
    const { identity } = state.counter;
    if (!identity || identity.how === 'unreadable')
      throw new Problem(409, { error: 'nobody has read a number of this device yet; enter it first' });
    const report = await askRegister(services.register, identity);
    await jobs.make(one(c), [{ type: 'register-told', report }], who(c), seq(one(c)));
    return c.json(report);
  });

  /** What the plan of the job comes to; it is kept, and what it takes from the shelf is spoken for. */
  app.post('/:id/quote', async (c) => {
    const { state } = jobs.stateOf(one(c));
    if (state.version === 0)
      throw new Problem(409, { error: 'this job has no dive yet, so there is nothing to quote' });
    return c.json(await quoteJob(services, one(c), who(c)));
  });
  /** The same for other parts, side by side; nothing is kept. */
  app.post('/:id/quote-for', async (c) => {
    const { replace } = await bodyOf<{ replace: string[] }>(
      c,
      Joi.object({ replace: Joi.array().items(Joi.string().max(64)).min(1).max(20).required() }),
    );
    const { job, context } = jobs.stateOf(one(c));
    const { rules, condition } = context.plan;
    const plan = await pool.run('plan', { anatomy: context.model.anatomy, request: { replace, condition }, rules });
    return c.json({ plan, quote: await quoteFor(services, context.model, plan, { job: job.id, worth: job.worth }) });
  });

  /** Signed on the screen, for the plan as it is now. */
  app.post('/:id/agreement', async (c) => {
    const { strokes, ...given } = await bodyOf<{
      limit: string | null;
      data: DataChoice;
      unfinished: UnfinishedChoice;
      strokes: Stroke[];
      by?: string;
      session?: string;
    }>(c, agreementSchema);
    const { state, context } = jobs.stateOf(one(c));
    if (state.version === 0)
      throw new Problem(409, { error: 'this job has no dive yet, so there is nothing to agree to' });
    matched(c, lastChange(jobs.eventsOf(one(c))));
    inked(strokes);
    const { limit, data, unfinished } = given;
    const losses = [...new Set(context.plan.losses.map((l) => l.function))];
    const { till, name } = shop.get();
    const terms: AgreementTerms = { losses, limit, currency: till.currency, data, unfinished, language: 'en' };
    const text = agreementText(context.model, context.plan, terms, name);
    const signature = randomUUID();
    // What is signed and the signature are there together, or neither is.
    await jobs.make(one(c), [{ type: 'agreed', ...terms, text, signature }], who(c, given), state.seq, () =>
      counter.keepSignature(signature, one(c), strokes),
    );
    return c.json(jobs.fileOf(one(c)));
  });

  /** A donor stands in for a part. What stops it is not overruled. */
  app.post('/:id/donor', async (c) => {
    const { donor: id, part } = await bodyOf<{ donor: string; part: string }>(
      c,
      Joi.object({ donor: Joi.string().max(64).required(), part: Joi.string().max(64).required() }),
    );
    const donor = counter.donor(id);
    const { state, context } = jobs.stateOf(one(c));
    if (!context.plan.replace.includes(part)) throw new Problem(409, { error: 'this dive does not replace that part' });
    if (donor.job !== null && donor.job !== one(c)) throw new Problem(409, { error: 'it went into another device' });
    if (donor.part !== part) throw new Problem(409, { error: 'it is another part' });
    const stop = donorChecks(
      context.model,
      donor,
      { storage: null, region: '' },
      new Date().toISOString().slice(0, 10),
    ).find((check) => check.weight === 'stop');
    if (stop) throw new Problem(409, { error: stop.because });
    const donors = new Map([...state.counter.donors, [part, id]]);
    const quoted = await quoteWith(services, one(c), { donors });
    const fitted = { type: 'donor-fitted', donor: id, part, price: donor.price } as const;
    await jobs.make(one(c), [fitted, ...quoted], who(c), state.seq, () => {
      const now = counter.donor(id);
      if (now.job !== null && now.job !== one(c)) throw new Problem(409, { error: 'it went into another device' });
      counter.keepDonor({ ...now, job: one(c) });
    });
    return c.json(jobs.fileOf(one(c)));
  });

  /** Handed over. The code that unlocks the device is erased with it. */
  app.post('/:id/collect', async (c) => {
    const { name, strokes, ...said } = await bodyOf<{
      name: string;
      strokes: Stroke[] | null;
      by?: string;
      session?: string;
    }>(c, collectSchema);
    const { job, state } = jobs.stateOf(one(c));
    if (state.counter.collected) throw new Problem(409, { error: 'it was collected already' });
    if (!state.signedOff && job.triage.length === 0 && state.startedAt)
      throw new Problem(409, { error: 'the work on it is not signed off yet' });
    if (strokes) inked(strokes);
    const signature = strokes ? randomUUID() : null;
    await jobs.make(one(c), [{ type: 'collected', name, signature }], who(c, said), state.seq, () => {
      if (signature && strokes) counter.keepSignature(signature, one(c), strokes);
    });
    return c.json(jobs.fileOf(one(c)));
  });

  /** Only who works on the job reads the code that unlocks its device, and that it was read is recorded. */
  app.get('/:id/unlock', async (c) => {
    const { state } = jobs.stateOf(one(c));
    const asks = c.get('who');
    const name = asks.technician?.name ?? null;
    const works = jobs.eventsOf(one(c)).some((e) => e.by === name || (e.type === 'handed-on' && e.to === name));
    if (name !== null && !asks.lead && !works)
      throw new Problem(403, { error: 'only who works on this job reads its code; have it handed on to you first' });
    const code = counter.unlockOf(one(c));
    if (code !== null) await jobs.make(one(c), [{ type: 'unlock-read' }], who(c), state.seq);
    return c.json({ code });
  });
  app.put('/:id/unlock', async (c) => {
    const { code } = await bodyOf<{ code: string }>(c, Joi.object({ code: Joi.string().min(1).max(64).required() }));
    const { state } = jobs.stateOf(one(c));
    if (state.counter.collected) throw new Problem(409, { error: 'it was collected; no code is kept of it any more' });
    counter.keepUnlock(one(c), code);
    return c.json({ ok: true });
  });
  app.delete('/:id/unlock', (c) => {
    jobs.get(one(c));
    counter.eraseUnlock(one(c));
    return c.json({ ok: true });
  });

  /** The current that the device draws while it starts, on the bench supply. */
  app.get('/:id/supply', (c) => {
    const { job, state } = jobs.stateOf(one(c));
    if (job.triage.length > 0) throw new Problem(409, { error: 'this device must not be fed' });
    const wet = state.counter.symptoms.includes('water');
    const dead = state.counter.symptoms.includes('dead');
    const shows = wet ? 'short' : dead ? 'none' : state.counter.symptoms.includes('restarts') ? 'loops' : 'normal';
    return streams.tellAll(c, 'sample', simulatedBenchSupply().start(shows));
  });

  /** A label for the bag on the shelf, or for the box of old parts. */
  app.get('/:id/label.pdf', async (c) => {
    const { job, context, state } = jobs.stateOf(one(c));
    const kind = c.req.query('kind') === 'parts' ? 'parts' : 'bag';
    const old = state.version > 0 ? context.plan.replace.map((id) => context.model.nameOf(id)) : [];
    const { anatomy } = context.model;
    const parked = state.counter.parked;
    const pdf = await pool.run('label', {
      kind,
      number: job.number,
      link: `nibrel:${job.id}`,
      device: `${anatomy.maker} ${anatomy.name}`.trim(),
      lines: kind === 'parts' ? old : [job.complaint, ...(parked ? [`parked at ${parked.where}`] : [])].filter(Boolean),
      shop: shop.get().name,
    });
    return c.body(new Uint8Array(pdf), 200, {
      'Content-Type': 'application/pdf',
      'Content-Disposition': `inline; filename="nibrel-label-${job.number}.pdf"`,
    });
  });
  return app;
}

/** The paper that is asked for, else the shop's. @throws Problem 422 */
export function paperOf(asked: string | undefined, usual: Paper): Paper {
  if (asked === undefined) return usual;
  if (!Object.hasOwn(PAPERS, asked))
    throw new Problem(422, { error: `paper: must be one of ${Object.keys(PAPERS).join(', ')}` });
  return asked as Paper;
}
