import { Hono } from 'hono';
import { streamSSE } from 'hono/streaming';
import Joi from 'joi';
import { readAnatomy } from '../../core/anatomy/index.ts';
import { NoDive, planDive, type DiveRequest, type HouseRules, type Plan } from '../../core/dive/index.ts';
import { TRIAGE, type Job, type JobFile, type TriageFinding } from '../../core/jobs/index.ts';
import { readEvent, type EventBody, type ReplanRequest, type SentEvent } from '../../core/run/index.ts';
import { shopOf, type Services } from '../services.ts';
import type { Config } from '../config.ts';
import { Problem } from '../problem.ts';
import { recordPdf } from '../record/pdf.ts';
import { bodyOf } from '../validate.ts';

const id = Joi.string().max(64);
const words = (most: number) => Joi.string().allow('').max(most);
const diveSchema = {
  replace: Joi.array().items(id).max(50).required(),
  spares: Joi.array().items(id).max(50).default([]),
  crackedGlass: Joi.boolean().default(false),
  /** A set of house rules; left out, the shop's chosen one. */
  rules: Joi.string().max(64),
};
const planOnSchema = Joi.object({
  replace: Joi.array().items(id).min(1).max(50),
  spares: Joi.array().items(id).max(50),
  restored: Joi.array().items(id).max(200),
  because: words(400),
  anatomy: Joi.object().unknown(true).allow(null),
  by: Joi.string().min(1).max(80).required(),
  keep: Joi.boolean().required(),
});
const intakeSchema = Joi.object({
  anatomy: id.required(),
  customer: Joi.string().min(1).max(120).required(),
  complaint: words(2000).required(),
  outside: words(2000).default(''),
  triage: Joi.array()
    .items(Joi.string().valid(...Object.keys(TRIAGE)))
    .unique()
    .default([]),
  photos: Joi.array()
    .items(Joi.string().pattern(/^[0-9a-f]{64}$/))
    .max(40)
    .default([]),
  by: Joi.string().min(1).max(80).required(),
  ...diveSchema,
});
interface Intake {
  anatomy: string;
  customer: string;
  complaint: string;
  outside: string;
  triage: TriageFinding[];
  photos: string[];
  by: string;
  replace: string[];
  spares: string[];
  crackedGlass: boolean;
  rules?: string;
}
const replanSchema = Joi.object(diveSchema);
const eventsSchema = Joi.object({ events: Joi.array().items(Joi.object().unknown(true)).min(1).max(500).required() });

/** How often an idle stream says that it is alive, ms. Origin: own choice, below the idle limit of common proxies. */
const HEARTBEAT_MS = 15_000;

export function jobRoutes(services: Services, config: Config): Hono {
  const { jobs, anatomies, photos, db, ruleSets } = services;
  const app = new Hono();

  const refusing = <T>(make: () => T): T => {
    try {
      return make();
    } catch (error) {
      if (error instanceof NoDive)
        throw new Problem(422, { error: error.message, faults: [{ path: error.path, message: error.message }] });
      throw error;
    }
  };
  const rulesOf = (set: string | undefined): HouseRules =>
    (set === undefined ? ruleSets.chosen() : ruleSets.get(set)).rules;
  const dive = (anatomy: string, revision: number, request: DiveRequest, set: string | undefined): Plan =>
    refusing(() => planDive(anatomies.modelOf(anatomy, revision), request, rulesOf(set)));
  const requestOf = (r: Pick<Intake, 'replace' | 'spares' | 'crackedGlass'>): DiveRequest => ({
    replace: r.replace,
    spares: r.spares,
    condition: { crackedGlass: r.crackedGlass },
  });
  const fileOf = (job: Job): JobFile => ({
    job,
    anatomy: anatomies.get(job.anatomy, job.revision).anatomy,
    events: jobs.eventsOf(job.id),
  });

  app.get('/', (c) => c.json(jobs.summaries()));

  app.post('/', async (c) => {
    const intake = await bodyOf<Intake>(c, intakeSchema);
    const { anatomy, revision } = anatomies.get(intake.anatomy);
    const unknown = intake.photos.find((hash) => !photos.has(hash));
    if (unknown) throw new Problem(422, { error: 'a photograph was not stored; add it again' });
    const stopped = intake.triage.length > 0;
    if (!stopped && intake.replace.length === 0)
      throw new Problem(422, {
        error: 'choose at least one part to replace',
        faults: [{ path: 'replace', message: 'choose at least one part to replace' }],
      });
    const plan = stopped ? null : dive(anatomy.id, revision, requestOf(intake), intake.rules);
    const { customer, complaint, outside, crackedGlass, triage } = intake;
    const bodies = intake.photos.map((photo): EventBody => ({ type: 'photo', photo, step: null, note: 'at intake' }));
    const job = jobs.create(
      { anatomy: anatomy.id, revision, customer, complaint, outside, crackedGlass, triage, plan },
      { by: intake.by, bodies },
    );
    return c.json(fileOf(job), 201);
  });

  app.get('/:id', (c) => c.json(fileOf(jobs.get(c.req.param('id')))));

  app.post('/:id/plan', async (c) => {
    const request = await bodyOf<Pick<Intake, 'replace' | 'spares' | 'crackedGlass' | 'rules'>>(c, replanSchema);
    const job = jobs.get(c.req.param('id'));
    if (job.triage.length > 0) throw new Problem(409, { error: 'this device must not be opened' });
    return c.json(
      fileOf(
        jobs.replan(job.id, dive(job.anatomy, job.revision, requestOf(request), request.rules), request.crackedGlass),
      ),
    );
  });

  /** Plans the rest of a begun run anew; without `keep` it only tells what would change. */
  app.post('/:id/plan-on', async (c) => {
    const { by, keep, anatomy, ...request } = await bodyOf<Partial<ReplanRequest> & { by: string; keep: boolean }>(
      c,
      planOnSchema,
    );
    if (anatomy) {
      const reading = readAnatomy(anatomy);
      if (!reading.ok)
        throw new Problem(422, {
          error: `the edited anatomy has ${reading.faults.length} ${reading.faults.length === 1 ? 'fault' : 'faults'}; nothing was changed`,
          faults: reading.faults,
        });
      return c.json(refusing(() => jobs.planOn(c.req.param('id'), { ...request, anatomy: reading.value }, by, keep)));
    }
    return c.json(refusing(() => jobs.planOn(c.req.param('id'), request, by, keep)));
  });

  app.post('/:id/events', async (c) => {
    const { events } = await bodyOf<{ events: unknown[] }>(c, eventsSchema);
    const sent = events.map((document, i): SentEvent => {
      const reading = readEvent(document);
      if (!reading.ok) throw new Problem(422, { error: `events[${i}].${reading.message}` });
      if (reading.value.type === 'photo' && !photos.has(reading.value.photo))
        throw new Problem(422, { error: `events[${i}].photo: the photograph was not stored; add it again` });
      return reading.value;
    });
    return c.json({ events: jobs.append(c.req.param('id'), sent) });
  });

  app.get('/:id/live', (c) => {
    const job = jobs.get(c.req.param('id'));
    const after = Number(c.req.header('Last-Event-ID') ?? c.req.query('after') ?? 0);
    return streamSSE(c, async (stream) => {
      let ended = false;
      let wake = () => {};
      const queue = jobs.eventsOf(job.id, Number.isInteger(after) && after > 0 ? after : 0);
      const stop = jobs.listen(job.id, (added) => {
        queue.push(...added);
        wake();
      });
      stream.onAbort(() => {
        ended = true;
        stop();
        wake();
      });
      await stream.writeSSE({ event: 'hello', data: '' });
      while (!ended) {
        while (queue.length > 0) {
          const event = queue.shift()!;
          await stream.writeSSE({ event: 'run', id: String(event.seq), data: JSON.stringify(event) });
        }
        await new Promise<void>((resolve) => {
          wake = resolve;
          if (queue.length > 0 || ended) resolve();
          setTimeout(resolve, HEARTBEAT_MS).unref();
        });
        if (queue.length === 0 && !ended) await stream.writeSSE({ event: 'alive', data: '' });
      }
    });
  });

  app.get('/:id/record.pdf', async (c) => {
    const { job, context, state } = jobs.stateOf(c.req.param('id'));
    if (!context || !state) throw new Problem(409, { error: 'this job has no dive, so there is nothing to hand over' });
    const pdf = await recordPdf({
      job,
      context,
      state,
      shop: shopOf(db, config),
      photo: (hash) => photos.read(hash, 'full'),
    });
    return c.body(new Uint8Array(pdf), 200, {
      'Content-Type': 'application/pdf',
      'Content-Disposition': `inline; filename="nibrel-job-${job.number}.pdf"`,
    });
  });
  return app;
}
