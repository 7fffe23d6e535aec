import { randomUUID } from 'node:crypto';
import { buffer } from 'node:stream/consumers';
import { createEvent } from 'ics';
import { Hono } from 'hono';
import Joi from 'joi';
import { ZipFile } from 'yazl';
import {
  CONTACTS,
  GRADES,
  identityFaults,
  NOT_ASKED,
  numbersOf,
  readIdentity,
  returnBy,
  TRIED,
  type DeviceIdentity,
  type Donor,
  type OwnSpare,
  type RegisterReport,
} from '../../core/counter/index.ts';
import { ratesOf } from '../../core/diagnosis/index.ts';
import type { IdentityAnswer } from '../../core/jobs/index.ts';
import { leadOnly, matched, nameOf, type Env } from '../guard.ts';
import { Problem } from '../problem.ts';
import type { Services } from '../services.ts';
import { bodyOf, decimal } from '../validate.ts';

const day = Joi.string().pattern(/^\d{4}-\d\d-\d\d$/);
const numbersSchema = Joi.object({
  imei: Joi.array().items(Joi.string().max(40)).max(4).required(),
  serial: Joi.string().max(60).allow(null).required(),
  how: Joi.string().valid('typed', 'scanned', 'unreadable').required(),
});
const donorSchema = Joi.object({
  anatomy: Joi.string().max(64).required(),
  part: Joi.string().max(64).required(),
  imei: Joi.string().max(40).allow(null).default(null),
  serial: Joi.string().max(40).allow(null).default(null),
  storage: Joi.number().positive().max(10_000).allow(null).default(null),
  region: Joi.string().trim().max(60).allow('').default(''),
  grade: Joi.string()
    .valid(...GRADES)
    .required(),
  contacts: Joi.string()
    .valid(...CONTACTS)
    .required(),
  tried: Joi.string()
    .valid(...TRIED)
    .required(),
  seller: Joi.string().trim().max(120).allow('').default(''),
  boughtOn: day.required(),
  returnDays: Joi.number().integer().min(0).max(400).required(),
  price: decimal.required(),
  charge: Joi.number().min(0).max(100).allow(null).default(null),
  reset: Joi.boolean().default(false),
});
const spareSchema = Joi.object({
  anatomy: Joi.string().max(64).required(),
  spare: Joi.string().max(64).required(),
  price: decimal.required(),
  count: Joi.number().integer().min(0).max(10_000).required(),
});

/** Largest document of an intake that is kept as a draft, characters. Origin: own choice; a form is a few hundred. */
const LARGEST_DRAFT = 60_000;

/** @throws Problem 422 */
function draftId(id: string): string {
  if (!/^[0-9a-f-]{36}$/.test(id)) throw new Problem(422, { error: 'id: must be a UUID' });
  return id;
}

/** What is asked and kept at the counter, beside the jobs themselves. */
export function counterRoutes(services: Services): Hono<Env> {
  const { counter, erasure, anatomies, shop, photos, pictures, technicians } = services;
  const app = new Hono<Env>();

  app.get('/search', (c) => c.json(counter.search((c.req.query('q') ?? '').slice(0, 120))));
  app.get('/customers', (c) => c.json(counter.customers()));
  app.get('/comebacks', (c) => c.json({ comebacks: counter.comebacks() }));
  app.get('/lessons', (c) => {
    const { past, cases } = counter.lessons();
    return c.json({ jobs: past.length, rates: ratesOf(cases) });
  });

  app.get('/drafts', (c) => c.json(counter.drafts()));
  app.put('/drafts/:id', async (c) => {
    const id = draftId(c.req.param('id'));
    const document = await bodyOf<Record<string, unknown>>(c, Joi.object().unknown(true).required());
    if (JSON.stringify(document).length > LARGEST_DRAFT)
      throw new Problem(413, { error: 'this intake is too long to be kept as a draft' });
    counter.keepDraft(id, document, nameOf(c.get('who'), technicians, {}));
    return c.json({ ok: true });
  });
  app.delete('/drafts/:id', (c) => {
    counter.endDraft(draftId(c.req.param('id')), nameOf(c.get('who'), technicians, {}));
    return c.json({ ok: true });
  });

  /** Reads a number, and tells the jobs that were done on the device. */
  app.post('/identity', async (c) => {
    const { text } = await bodyOf<{ text: string }>(
      c,
      Joi.object({ text: Joi.string().allow('').max(200).required() }),
    );
    const reading = readIdentity(text);
    const answer: IdentityAnswer = { reading, earlier: reading.ok ? counter.earlier([reading.number]) : [] };
    return c.json(answer);
  });
  /** Barcodes and QR codes in a picture of a label; the picture is not kept. */
  app.post('/scan', async (c) =>
    c.json({ codes: await pictures.run('codes', { bytes: new Uint8Array(await c.req.arrayBuffer()) }) }),
  );
  app.post('/register', async (c) => {
    const identity = await bodyOf<DeviceIdentity>(c, numbersSchema);
    const faults = identityFaults(identity);
    if (faults.length > 0) throw new Problem(422, { error: `${faults[0]!.path}: ${faults[0]!.message}`, faults });
    return c.json(await ask(identity));
  });
  const ask = (identity: Pick<DeviceIdentity, 'imei' | 'serial'>): Promise<RegisterReport> =>
    askRegister(services.register, identity);

  app.get('/donors', (c) => c.json(counter.donors()));
  const sound = (given: Omit<Donor, 'id' | 'register' | 'job' | 'revision'>) => {
    const { anatomy } = anatomies.get(given.anatomy);
    if (!anatomy.parts.some((p) => p.id === given.part && !p.fixed))
      throw new Problem(422, { error: `part: ${anatomy.name} has no part "${given.part}" that comes off` });
    const faults = identityFaults({
      imei: given.imei === null ? [] : [given.imei],
      serial: given.serial,
      how: given.imei === null && given.serial === null ? 'unreadable' : 'typed',
    });
    if (faults.length > 0) throw new Problem(422, { error: `${faults[0]!.path}: ${faults[0]!.message}`, faults });
    if (Number.isNaN(Date.parse(given.boughtOn))) throw new Problem(422, { error: 'boughtOn: there is no such day' });
  };
  app.post('/donors', async (c) => {
    const given = await bodyOf<Omit<Donor, 'id' | 'register' | 'job' | 'revision'>>(c, donorSchema);
    sound(given);
    return c.json(counter.keepDonor({ ...given, id: randomUUID(), register: null, job: null, revision: 0 }), 201);
  });
  app.put('/donors/:id', async (c) => {
    const before = counter.donor(c.req.param('id'));
    matched(c, before.revision);
    const given = await bodyOf<Omit<Donor, 'id' | 'register' | 'job' | 'revision'>>(c, donorSchema);
    sound(given);
    // What a register said was of the numbers before.
    const same = given.imei === before.imei && given.serial === before.serial;
    return c.json(counter.keepDonor({ ...before, ...given, register: same ? before.register : null }));
  });
  app.post('/donors/:id/register', async (c) => {
    const donor = counter.donor(c.req.param('id'));
    if (donor.imei === null && donor.serial === null)
      throw new Problem(422, { error: 'imei: it has no number that a register could be asked about' });
    const report = await ask({ imei: donor.imei === null ? [] : [donor.imei], serial: donor.serial });
    return c.json(counter.keepDonor({ ...counter.donor(donor.id), register: report }));
  });
  app.delete('/donors/:id', (c) => {
    counter.dropDonor(c.req.param('id'));
    return c.json({ ok: true });
  });
  /** The last day of the seller's terms, as an entry of a calendar. */
  app.get('/donors/:file{.+\\.ics}', (c) => {
    const donor = counter.donor(c.req.param('file').replace(/\.ics$/, ''));
    const model = anatomies.modelOf(donor.anatomy, anatomies.get(donor.anatomy).revision);
    const [year, month, date] = returnBy(donor).split('-').map(Number) as [number, number, number];
    const part = model.parts.has(donor.part) ? model.nameOf(donor.part) : donor.part;
    const { error, value } = createEvent({
      uid: `${donor.id}@nibrel`,
      productId: 'nibrel/counter',
      start: [year, month, date],
      duration: { days: 1 },
      title: `Last day to return: ${part} of ${model.anatomy.name}`,
      description: `Bought from ${donor.seller || 'a seller'} on ${donor.boughtOn} for ${donor.price} ${shop.get().till.currency}.`,
      alarms: [{ action: 'display', description: 'Return it, or keep it', trigger: { days: 3, before: true } }],
    });
    if (error || !value) throw error ?? new Error('the entry could not be written');
    return c.body(value, 200, {
      'Content-Type': 'text/calendar; charset=utf-8',
      'Content-Disposition': `attachment; filename="return-${donor.part}.ics"`,
    });
  });

  app.get('/shelf', (c) => c.json(counter.shelf()));
  app.put('/shelf', async (c) => {
    const spare = await bodyOf<Pick<OwnSpare, 'anatomy' | 'spare' | 'price' | 'count'>>(c, spareSchema);
    const { anatomy } = anatomies.get(spare.anatomy);
    if (!anatomy.spares.some((s) => s.id === spare.spare) && !anatomy.parts.some((p) => p.id === spare.spare))
      throw new Problem(422, { error: `spare: ${anatomy.name} knows no spare or part "${spare.spare}"` });
    counter.keepSpare(spare);
    return c.json(counter.shelf());
  });

  app.get('/signatures/:id', (c) => c.json({ strokes: counter.signature(c.req.param('id')) }));

  /** Everything that is kept of a customer, in one file: what is written as JSON, and every photograph. */
  app.get('/customers/:id/export', async (c) => {
    leadOnly(c);
    const { customer, jobs: own, photos: shown, signatures } = erasure.export(c.req.param('id'));
    const zip = new ZipFile();
    const document = { schema: 'nibrel.customer/1', customer, jobs: own, signatures };
    zip.addBuffer(Buffer.from(JSON.stringify(document, null, 2)), 'customer.json');
    for (const hash of shown) {
      const bytes = await photos.read(hash, 'full').catch(() => null);
      if (bytes) zip.addBuffer(bytes, `photographs/${hash}.jpg`, { compress: false });
    }
    zip.end();
    const bytes = await buffer(zip.outputStream);
    return c.body(new Uint8Array(bytes), 200, {
      'Content-Type': 'application/zip',
      'Content-Disposition': 'attachment; filename="customer.zip"',
    });
  });
  app.delete('/customers/:id', async (c) => {
    leadOnly(c);
    await erasure.erase(c.req.param('id'), 'asked', nameOf(c.get('who'), technicians, {}));
    return c.json({ ok: true });
  });
  return app;
}

/** Asks a register. One that does not answer leaves everything as not asked. */
export async function askRegister(
  register: Services['register'],
  identity: Pick<DeviceIdentity, 'imei' | 'serial'>,
): Promise<RegisterReport> {
  const numbers = numbersOf(identity);
  const { name, simulated } = register;
  const at = new Date().toISOString();
  if (numbers.length === 0) return { answers: NOT_ASKED, register: name, simulated, at };
  const answers = await register.ask(numbers).catch(() => NOT_ASKED);
  return { answers, register: name, simulated, at };
}
