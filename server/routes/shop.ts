import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import { Hono } from 'hono';
import Joi from 'joi';
import { DEFAULT_RULES, rulesFormat, type HouseRules } from '../../core/dive/index.ts';
import { joiOf } from '../../core/format/index.ts';
import { ROLES, shopFormat, type Role, type ShopSettings } from '../../core/jobs/index.ts';
import { tryFolder } from '../keeping/backup.ts';
import type { Config } from '../config.ts';
import { countTry, leadOnly, matched, type Env } from '../guard.ts';
import { Tries } from '../tries.ts';
import { Problem } from '../problem.ts';
import { seedAnatomies } from '../seed.ts';
import { shopOf, type Services } from '../services.ts';
import { bodyOf } from '../validate.ts';

const name = Joi.string().trim().min(1).max(80);
const role = Joi.string().valid(...ROLES);
const pin = Joi.string()
  .pattern(/^\d{4,12}$/)
  .messages({ 'string.pattern.base': 'a PIN has 4 to 12 digits' });
const addSchema = Joi.object({ name: name.required(), role: role.default('technician'), pin: pin.allow(null) });
const changeSchema = Joi.object({ name, role, active: Joi.boolean(), pin: pin.allow(null) }).min(1);
const setUpSchema = Joi.object({
  shop: joiOf(shopFormat).required(),
  technicians: Joi.array()
    .items(Joi.object({ name: name.required(), role: role.required() }))
    .min(1)
    .max(40)
    .unique('name')
    .required(),
  /** Tools, trays and heat sources at hand; what is left out is as usual. */
  rules: joiOf(rulesFormat).default(DEFAULT_RULES),
  examples: Joi.boolean().required(),
});

/** The shop itself: settings, those who work there, sessions, backups. */
export function shopRoutes(services: Services, config: Config): Hono<Env> {
  const { shop, technicians, sessions, backups, live, ruleSets } = services;
  const app = new Hono<Env>();
  const pinTries = new Tries();
  const told = () => live.tell({ kind: 'shop' });

  app.get('/', (c) => {
    c.header('ETag', `"${shop.get().revision}"`);
    return c.json(shopOf(services, config, c.get('who')));
  });
  app.put('/', async (c) => {
    leadOnly(c);
    const next = await bodyOf<ShopSettings>(c, joiOf(shopFormat));
    matched(c, shop.get().revision);
    await usable(next.backupFolder);
    shop.save(next);
    told();
    c.header('ETag', `"${shop.get().revision}"`);
    return c.json(shopOf(services, config, c.get('who')));
  });
  /** The first start: what the shop is, who works there, what lies on the bench, and the devices to begin with. */
  app.post('/set-up', async (c) => {
    leadOnly(c);
    if (shop.get().setUp)
      throw new Problem(409, { error: 'this shop is set up already; change it on the Shop screen' });
    const given = await bodyOf<{
      shop: ShopSettings;
      technicians: { name: string; role: Role }[];
      rules: HouseRules;
      examples: boolean;
    }>(c, setUpSchema);
    if (!given.technicians.some((t) => t.role === 'lead')) {
      throw new Problem(422, { error: 'technicians: at least one must be a lead' });
    }
    await usable(given.shop.backupFolder);
    services.db.transaction(() => {
      for (const t of given.technicians) technicians.add(t.name, t.role);
      if (given.examples) seedAnatomies(services);
      ruleSets.save({ ...ruleSets.chosen(), rules: given.rules });
      shop.save(given.shop);
    });
    told();
    return c.json(shopOf(services, config, c.get('who')), 201);
  });

  app.get('/technicians', (c) => {
    leadOnly(c);
    return c.json(technicians.all());
  });
  app.post('/technicians', async (c) => {
    leadOnly(c);
    const given = await bodyOf<{ name: string; role: Role; pin?: string | null }>(c, addSchema);
    const made = technicians.add(given.name, given.role);
    if (given.pin) await technicians.change(made.id, { pin: given.pin });
    told();
    return c.json(technicians.all(), 201);
  });
  app.put('/technicians/:id', async (c) => {
    leadOnly(c);
    const change = await bodyOf<{ name?: string; role?: Role; active?: boolean; pin?: string | null }>(c, changeSchema);
    const id = c.req.param('id');
    await technicians.change(id, change);
    const mine = c.get('who').technician?.id === id;
    // A new PIN, or none any more, is a reason to sign in again; the lead who changes their own stays.
    if (!mine && (change.pin !== undefined || change.active === false)) sessions.endAll(id);
    told();
    return c.json(technicians.all());
  });
  /** One's own PIN. */
  app.put('/pin', async (c) => {
    const { technician } = c.get('who');
    if (!technician) throw new Problem(409, { error: 'nobody signs in here; a lead sets the first PIN' });
    const { old, pin: next } = await bodyOf<{ old: string; pin: string }>(
      c,
      Joi.object({ old: Joi.string().max(32).required(), pin: pin.required() }),
    );
    countTry(c, pinTries, [technician.id]);
    if (!(await technicians.proves(technician.id, old))) throw new Problem(401, { error: 'that is not your PIN' });
    await technicians.change(technician.id, { pin: next });
    pinTries.clear(technician.id);
    // Whoever knew the old one is out; this screen stays.
    sessions.endAll(technician.id, c.get('who').session);
    return c.json({ ok: true });
  });

  app.get('/sessions', (c) => {
    leadOnly(c);
    const mine = c.get('who').session;
    return c.json(
      sessions.running().map(({ id, technician, beganAt, seenAt, agent }) => ({
        id,
        technician: technician ? (technicians.find(technician)?.name ?? null) : null,
        beganAt,
        seenAt,
        agent,
        mine: id === mine,
      })),
    );
  });
  app.delete('/sessions/:id', (c) => {
    leadOnly(c);
    sessions.end(c.req.param('id'));
    return c.json({ ok: true });
  });

  app.get('/backup', (c) => {
    leadOnly(c);
    const { doubt, setBy } = services.clock;
    return c.json({ last: backups.last, warnings: backups.warnings(), clock: { doubt, setBy } });
  });
  /** A lead has looked: the clock of the server is right. */
  app.post('/clock', (c) => {
    leadOnly(c);
    services.clock.confirm();
    services.journal.remember('clock', services.clock.sighting());
    told();
    return c.json({ ok: true });
  });
  /** All of the shop's data in one file. */
  app.get('/backup.zip', async (c) => {
    leadOnly(c);
    const { report, name: called, done } = await backups.fetch();
    const stream = createReadStream(report.file);
    // Opened, it can be read to its end although its name is gone: nothing is left of it, however this ends.
    stream.once('open', () => void done().catch((error: Error) => console.error(error.message)));
    return c.body(Readable.toWeb(stream) as ReadableStream, 200, {
      'Content-Type': 'application/zip',
      'Content-Length': String(report.bytes),
      'Content-Disposition': `attachment; filename="${called}"`,
    });
  });
  return app;
}

async function usable(folder: string): Promise<void> {
  if (folder === '') return;
  try {
    await tryFolder(folder);
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    const message = `the folder ${folder} cannot be written (${code}); choose another`;
    throw new Problem(422, { error: message, faults: [{ path: 'backupFolder', message }] });
  }
}
