import { randomUUID } from 'node:crypto';
import { type Context, Hono } from 'hono';
import Joi from 'joi';
import { DEVICE_KINDS, modelOf, type Anatomy } from '../../core/anatomy/index.ts';
import type { Condition, DiveRequest, HouseRules, Plan } from '../../core/dive/index.ts';
import { identityFaults, numbersOf, type DeviceIdentity } from '../../core/counter/index.ts';
import { TRIAGE, type TriageFinding, type TriageQuestion, type UnlistedDevice } from '../../core/jobs/index.ts';
import {
  conditionNow,
  lastChange,
  readEvent,
  stepOf,
  vouchedText,
  type EventBody,
  type ReplanRequest,
  type SentEvent,
} from '../../core/run/index.ts';
import type { Config } from '../config.ts';
import { authorOf, leadOnly, matched, nameOf, type Env } from '../guard.ts';
import type { NewJob } from '../jobs.ts';
import type { Photos } from '../photos.ts';
import { askRegister } from './counter.ts';
import { paperOf } from './jobCounter.ts';
import { Problem } from '../problem.ts';
import { quoteWith } from '../quotes.ts';
import type { Services } from '../services.ts';
import { bodyOf, decimal } from '../validate.ts';
import { messageSchema } from '../../core/message/index.ts';

const id = Joi.string().max(64);
const words = (most: number) => Joi.string().allow('').max(most);
const by = { by: Joi.string().max(80), session: Joi.string().max(64) };
const millimetres = Joi.number().positive().max(1000).allow(null).default(null);
const diveSchema = {
  replace: Joi.array().items(id).max(50).required(),
  spares: Joi.array().items(id).max(50).default([]),
  /** Batteries that keep their protection board. */
  transplant: Joi.array().items(id).max(4).default([]),
  crackedGlass: Joi.boolean().default(false),
  /** Percent; `null` is not known and counts as full. Left out, as the plan before says. */
  charge: Joi.number().min(0).max(100).allow(null),
  /** Dark or dead, so that its cell cannot be drawn down. */
  dark: Joi.boolean(),
  /** A set of house rules; left out, as the plan before says, and without one the shop's chosen set. */
  rules: Joi.string().max(64),
};
const planOnSchema = Joi.object({
  /** None closes an open device again as it is. */
  replace: Joi.array().items(id).max(50),
  spares: Joi.array().items(id).max(50),
  restored: Joi.array().items(id).max(200),
  look: Joi.array().items(id).max(20),
  transplant: Joi.array().items(id).max(4),
  because: words(400).default(''),
  why: Joi.array().items(messageSchema()).max(50),
  anatomy: Joi.object().unknown(true).allow(null),
  keep: Joi.boolean().required(),
  ...by,
});
const intakeSchema = Joi.object({
  /** `null` for a device that is in no list; `device` then says what it is. */
  anatomy: id.allow(null).required(),
  device: Joi.alternatives(
    Joi.string().trim().min(1).max(120),
    Joi.object({
      name: Joi.string().trim().min(1).max(120).required(),
      kind: Joi.string()
        .valid(...DEVICE_KINDS)
        .default('phone'),
      width: millimetres,
      height: millimetres,
      thickness: millimetres,
      like: id.allow(null).default(null),
      wanted: words(120).default(''),
    }),
  ),
  customer: Joi.string().trim().min(1).max(200).required(),
  /** A customer whom the shop knows. */
  customerId: Joi.string().max(64).allow(null).default(null),
  contact: words(200).default(''),
  /** Who the device is; a register is asked about it before anything else. */
  identity: Joi.object({
    imei: Joi.array().items(Joi.string().max(40)).max(4).required(),
    serial: Joi.string().max(60).allow(null).required(),
    how: Joi.string().valid('typed', 'scanned', 'unreadable').required(),
  }),
  /** The code that unlocks it, only where a test needs it. */
  unlock: words(64).default(''),
  worth: decimal.allow(null).default(null),
  /** What else the counter found: marks, symptoms, checks, tests; read one by one. */
  found: Joi.array().max(200).default([]),
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
  /** The draft that it was typed as: it ends with the job. */
  draft: Joi.string().uuid().allow(null).default(null),
  ...by,
  ...diveSchema,
});
interface Dive {
  replace: string[];
  spares: string[];
  transplant: string[];
  crackedGlass: boolean;
  charge?: number | null;
  dark?: boolean;
  rules?: string;
}
interface By {
  by?: string;
  session?: string;
}
interface Intake extends Dive, By {
  anatomy: string | null;
  device?: string | UnlistedDevice;
  customer: string;
  complaint: string;
  outside: string;
  triage: TriageQuestion[];
  photos: string[];
  customerId: string | null;
  contact: string;
  identity?: DeviceIdentity;
  unlock: string;
  worth: string | null;
  draft: string | null;
  found: unknown[];
}
const replanSchema = Joi.object({ ...diveSchema, ...by });
const editSchema = Joi.object({
  anatomy: Joi.object().unknown(true).required(),
  item: id.allow(null).default(null),
  because: words(400).default(''),
  ...by,
});
/** Most events in one request. */
export const BATCH = 500;
const eventsSchema = Joi.object({
  // What each of them holds is read one by one.
  events: Joi.array().min(1).max(BATCH).required(),
  /** ms since the epoch by the sender's clock when it sends this. */
  now: Joi.number().min(-8.64e15).max(8.64e15).allow(null).default(null),
  session: Joi.string().max(64).allow(null),
  /** Codes under the key of that session, by the ids of the events: who made them, where somebody else sends them. */
  proofs: Joi.object().pattern(Joi.string().max(64), Joi.string().hex().length(64)).max(BATCH).default({}),
});
const removeSchema = Joi.object({ reason: Joi.string().trim().min(3).max(400).required(), ...by });

export function jobRoutes(services: Services, config: Config): Hono<Env> {
  const { jobs, anatomies, counter, photos, pool, ruleSets, sessions, technicians } = services;
  const app = new Hono<Env>();

  const rulesOf = (set: string | undefined): HouseRules =>
    (set === undefined ? ruleSets.chosen() : ruleSets.get(set)).rules;
  const dive = (
    anatomy: Anatomy,
    r: Dive,
    before: Partial<Condition> = {},
    rules: HouseRules = rulesOf(r.rules),
  ): Promise<Plan> => {
    const { crackedGlass, charge = before.charge ?? null, dark = before.dark ?? false } = r;
    const request: DiveRequest = {
      replace: r.replace,
      spares: r.spares,
      transplant: r.transplant,
      condition: { crackedGlass, charge, dark, ...(before.worked ? { worked: before.worked } : {}) },
    };
    return pool.run('plan', { anatomy, request, rules });
  };
  const who = (c: Context<Env>, said: By) => nameOf(c.get('who'), technicians, said);
  const one = (c: Context<Env>) => c.req.param('id')!;
  /** The last change of plan or device, which the sender has to have seen. */
  const changeSeen = (c: Context<Env>): number => {
    const last = lastChange(jobs.eventsOf(one(c)));
    matched(c, last);
    return last;
  };

  app.get('/', (c) => c.body(jobs.list(), 200, { 'Content-Type': 'application/json' }));

  app.post('/', async (c) => {
    const intake = await bodyOf<Intake>(c, intakeSchema);
    const { customer, complaint, outside, crackedGlass } = intake;
    const found = foundAtIntake(intake.found, photos);
    const { identity } = intake;
    const faults = identity ? identityFaults(identity) : [];
    if (faults.length > 0)
      throw new Problem(422, {
        error: `identity.${faults[0]!.path}: ${faults[0]!.message}`,
        faults: faults.map((f) => ({ ...f, path: `identity.${f.path}` })),
      });
    const numbers = identity ? numbersOf(identity) : [];
    const report = identity && numbers.length > 0 ? await askRegister(services.register, identity) : null;
    const lost = report?.answers['reported-lost'] === 'set';
    const triage: TriageFinding[] = [...intake.triage, ...(lost ? (['reported-lost'] as const) : [])];
    if (intake.photos.some((hash) => !photos.has(hash)))
      throw new Problem(422, { error: 'a photograph was not stored; add it again' });
    const key = c.req.header('idempotency-key')?.slice(0, 80);
    const bodies = intake.photos.map((photo): EventBody => ({ type: 'photo', photo, step: null, note: 'at intake' }));
    if (identity) bodies.push({ type: 'identified', ...identity });
    if (report) bodies.push({ type: 'register-told', report });
    bodies.push(...found);
    const received = { by: who(c, intake), bodies, ...(key ? { key } : {}) };
    const { customerId, contact, worth } = intake;
    const earlier = counter.earlier(numbers)[0]?.job ?? null;
    const common = { customer, customerId, contact, worth, earlier, complaint, outside, crackedGlass, triage };
    // All that an intake leaves is there, or none of it.
    const take = (made: NewJob) => {
      const job = services.db.transaction(() => {
        const created = jobs.create(made, received);
        if (intake.unlock !== '') counter.keepUnlock(created.id, intake.unlock);
        counter.follow(created.id, jobs.eventsOf(created.id));
        if (intake.draft) counter.endDraft(intake.draft, received.by);
        return created;
      });
      return c.json(jobs.fileOf(job.id), 201);
    };
    if (intake.anatomy === null) {
      const device = unlisted(intake.device);
      return take({ ...common, anatomy: null, revision: null, device, plan: null });
    }
    const { anatomy, revision } = anatomies.get(intake.anatomy);
    const stopped = triage.length > 0;
    if (!stopped && intake.replace.length === 0) {
      const message = 'choose at least one part to replace';
      throw new Problem(422, { error: message, faults: [{ path: 'replace', message }] });
    }
    const plan = stopped ? null : await dive(anatomy, intake, workedOf(found));
    return take({ ...common, anatomy: anatomy.id, revision, device: null, plan });
  });

  app.get('/:id', (c) => {
    const file = jobs.fileOf(one(c));
    c.header('ETag', `"${lastChange(file.events)}"`);
    return c.json(file);
  });

  app.delete('/:id', async (c) => {
    leadOnly(c);
    const { reason, ...said } = await bodyOf<{ reason: string } & By>(c, removeSchema);
    await services.deletion.remove(one(c), reason, who(c, said));
    return c.json({ ok: true });
  });

  app.post('/:id/plan', async (c) => {
    const request = await bodyOf<Dive & By>(c, replanSchema);
    const { job, context, state } = jobs.stateOf(one(c));
    if (job.triage.length > 0) throw new Problem(409, { error: 'this device must not be opened' });
    if (job.anatomy === null)
      throw new Problem(409, { error: 'this device is in no list; it has no anatomy to plan on' });
    if (state.startedAt) throw new Problem(409, { error: 'the dive has begun; its plan stays as it is' });
    const seen = changeSeen(c);
    const rules = request.rules === undefined && job.plan ? context.plan.rules : rulesOf(request.rules);
    const plan = await dive(context.model.anatomy, request, conditionNow(state), rules);
    const quoted = await quoteWith(services, job.id, { plan });
    await jobs.plan(job.id, plan, [{ code: 'planned-for', items: plan.replace }], who(c, request), seen, quoted);
    return c.json(jobs.fileOf(job.id));
  });

  /** Plans the rest of a begun run anew; without `keep` it only tells what would change. */
  app.post('/:id/plan-on', async (c) => {
    const { by, session, keep, anatomy, ...request } = await bodyOf<
      Partial<ReplanRequest> & By & { keep: boolean; anatomy?: object | null }
    >(c, planOnSchema);
    const { job, state } = jobs.stateOf(one(c));
    if (state.version === 0) throw new Problem(409, { error: 'this job has no dive yet' });
    if (state.signedOff) throw new Problem(409, { error: 'the job is signed off' });
    if (!state.startedAt)
      throw new Problem(409, { error: 'the dive has not begun; choose its parts and rules on the plan' });
    if (keep) changeSeen(c);
    const edited = anatomy ? await pool.run('readEdited', { document: anatomy }) : null;
    // A preview that nobody looks at any more is not worked out to its end; what is to be kept is.
    const gone = keep ? undefined : c.req.raw.signal;
    const asked = { run: runOf(job.id), request: { ...request, anatomy: edited } };
    const replan = await pool.run('planOn', asked, gone);
    if (keep) {
      const model = edited ? modelOf(edited) : undefined;
      const quoted = await quoteWith(services, job.id, { ...(model ? { model } : {}), plan: replan.event.plan });
      await jobs.make(job.id, [replan.event, ...quoted], who(c, { by, session } as By), state.seq);
    }
    return c.json(replan);
  });

  /** The anatomy corrected for this one device. */
  app.post('/:id/anatomy', async (c) => {
    const { anatomy, item, because, ...said } = await bodyOf<
      { anatomy: object; item: string | null; because: string } & By
    >(c, editSchema);
    const seen = changeSeen(c);
    const edited = await pool.run('readEdited', { document: anatomy });
    await jobs.edit(one(c), edited, item, because, who(c, said), seen);
    return c.json(jobs.fileOf(one(c)));
  });

  app.post('/:id/events', async (c) => {
    const received = services.clock.now();
    const { events, now, session, proofs } = await bodyOf<{
      events: unknown[];
      now: number | null;
      session?: string | null;
      proofs: Record<string, string>;
    }>(c, eventsSchema);
    const sent: SentEvent[] = [];
    let unread: { id: string; error: string; refusal: null } | null = null;
    for (const [i, document] of events.entries()) {
      const reading = readEvent(document);
      const lost = reading.ok && reading.value.type === 'photo' && !photos.has(reading.value.photo);
      if (reading.ok && !lost) sent.push(reading.value);
      else {
        const said = reading.ok ? 'photo: the photograph was not stored; add it again' : reading.message;
        const named = reading.ok ? reading.value.id : reading.id;
        unread = { id: named ?? '', error: `events[${i}].${said}`, refusal: null };
        break;
      }
    }
    const claimed = (events[0] as { by?: unknown } | null)?.by;
    const said = { by: typeof claimed === 'string' ? claimed : undefined, session: session ?? undefined };
    const made = () =>
      (events.filter((e) => typeof e === 'object' && e !== null) as { id?: unknown }[]).map((event) => ({
        text: vouchedText(session ?? '', one(c), event),
        proof: proofs[String(event.id)],
      }));
    const name = authorOf(c.get('who'), technicians, sessions, said, made);
    if (jobs.get(one(c)).triage.length > 0 && sent.some((e) => stepOf(e) !== null)) {
      throw new Problem(409, { error: 'this device must not be opened' });
    }
    const done = await jobs.append(one(c), sent, name, { now, received });
    if (done.missed) {
      const error = 'another screen was quicker; here is what happened';
      throw new Problem(409, { error, missed: done.missed, events: done.events });
    }
    const refused = done.refused ?? unread;
    if (!refused) return c.json({ events: done.events });
    const { error, refusal } = refused;
    throw new Problem(422, { error, ...(refusal ? { refusal } : {}), refused, events: done.events });
  });

  app.get('/:id/record.pdf', async (c) => {
    const { job, state } = jobs.stateOf(one(c));
    if (state.version === 0)
      throw new Problem(409, { error: 'this job has no dive, so there is nothing to hand over' });
    const shown: [string, Uint8Array][] = [];
    for (const { photo } of state.photos.slice(0, PHOTOS_IN_RECORD)) {
      const bytes = await photos.read(photo, 'full').catch(() => null);
      if (bytes) shown.push([photo, bytes]);
    }
    const { name, address, paper, warrantyMonths, disposal } = services.shop.get();
    const chosen = paperOf(c.req.query('paper'), paper);
    const shop = { name, address, paper: chosen, warrantyMonths, disposal, demo: config.demo };
    const pdf = await pool.run('recordPdf', { job, run: runOf(job.id), shop, photos: shown });
    return c.body(new Uint8Array(pdf), 200, {
      'Content-Type': 'application/pdf',
      'Content-Disposition': `inline; filename="nibrel-job-${job.number}.pdf"`,
    });
  });

  const runOf = (job: string) => {
    const { anatomy, events, job: row } = jobs.fileOf(job);
    return { anatomy, plan: row.plan, events };
  };
  return app;
}

/** What the counter may find before a device is opened. */
const AT_INTAKE: ReadonlySet<string> = new Set(['condition-marked', 'complained', 'checked', 'test']);

/** Reads what the counter found, one by one. @throws Problem 422 naming the one that is wrong */
function foundAtIntake(given: readonly unknown[], photos: Photos): EventBody[] {
  return given.map((document, i) => {
    const stamp = { id: randomUUID(), seq: 1, at: new Date().toISOString() };
    const reading = readEvent({ ...stamp, ...(document as object) });
    const wrong = (message: string) => new Problem(422, { error: `found[${i}].${message}` });
    if (!reading.ok) throw wrong(reading.message);
    const { id: _, seq: __, at: ___, job: ____, by: _____, version: ______, ...body } = reading.value;
    if (!AT_INTAKE.has(body.type)) throw wrong('type: is nothing that is found at the counter');
    if (body.type === 'test' && body.circumstance !== 'intake') throw wrong('circumstance: must be "intake"');
    if (body.type === 'test' && body.outcome === 'waived') throw wrong('outcome: cannot be waived at the counter');
    if (body.type === 'condition-marked' && body.mark.photo !== null && !photos.has(body.mark.photo))
      throw wrong('mark.photo: was not stored; add it again');
    return body;
  });
}

/** What the counter saw to work: it has to work again when the device is handed over. */
function workedOf(found: readonly EventBody[]): Partial<Condition> {
  const worked = found.flatMap((body) => (body.type === 'test' && body.outcome === 'pass' ? [body.function] : []));
  return worked.length > 0 ? { worked } : {};
}

/** Photographs that the record shows at most. Origin: own choice; two pages of them. */
const PHOTOS_IN_RECORD = 12;

function unlisted(said: string | UnlistedDevice | undefined): UnlistedDevice {
  if (said === undefined) throw new Problem(422, { error: 'device: say what it is, since it is in no list' });
  if (typeof said === 'object') return said;
  return { name: said, kind: 'phone', width: null, height: null, thickness: null };
}
