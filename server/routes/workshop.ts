import { type Context, Hono } from 'hono';
import Joi from 'joi';
import { anatomyFormat, blankAnatomy, DEVICE_KINDS, SIDES, type Anatomy } from '../../core/anatomy/index.ts';
import { joiOf } from '../../core/format/index.ts';
import { editFormat, newEntry, type Edit } from '../../core/draft/index.ts';
import type { PlateInfo } from '../../core/jobs/index.ts';
import { scaleCard, SURVEY } from '../../core/survey/index.ts';
import { BundleFault, makeBundle, readBundle, type BundleManifest } from '../bundles.ts';
import { fetchBundle, lookAt } from '../catalogue.ts';
import { vouchedText } from '../../core/run/index.ts';
import { authorOf, leadOnly, matched, nameOf, type Env } from '../guard.ts';
import type { PlateAsked } from '../pictures/plate.ts';
import { Problem } from '../problem.ts';
import { outlookOf, publish } from '../publish.ts';
import type { Services } from '../services.ts';
import { sheetPdf } from '../sheetPdf.ts';
import { fingerprintOf } from '../shopKey.ts';
import { simulatedCaliper } from '../simulated/devices.ts';
import { bodyOf, checked } from '../validate.ts';

const by = { by: Joi.string().max(80), session: Joi.string().max(64) };
interface By {
  by?: string;
  session?: string;
}
const id = Joi.string().pattern(/^[a-z0-9][a-z0-9.-]{0,63}$/, 'lower-case letters, digits, dots and hyphens');
const beginSchema = Joi.object({
  blank: Joi.object({
    id: id.required(),
    name: Joi.string().trim().min(1).max(120).required(),
    maker: Joi.string().trim().min(1).max(120).required(),
    kind: Joi.valid(...DEVICE_KINDS).required(),
    width: Joi.number().positive().max(600).required(),
    height: Joi.number().positive().max(600).required(),
    thickness: Joi.number().positive().max(60).required(),
    cornerRadius: Joi.number().min(0).max(300).required(),
    ingress: Joi.string().max(20).allow(null).required(),
    volts: Joi.number().positive().max(60).required(),
    milliampHours: Joi.number().positive().max(60_000).required(),
    cells: Joi.number().integer().min(1).max(12).required(),
  }),
  /** A device of the shop to go on with, or to copy under another id. */
  revise: id,
  revision: Joi.number().integer().min(1),
  copyAs: Joi.object({ id: id.required(), name: Joi.string().trim().min(1).max(120).required() }),
  /** A file that was brought in; it may have faults. */
  document: Joi.object().unknown(true),
  ...by,
}).xor('blank', 'revise', 'document');
interface Begin extends By {
  blank?: { id: string; name: string; maker: string; kind: Anatomy['kind'] } & Record<
    'width' | 'height' | 'thickness' | 'cornerRadius' | 'volts' | 'milliampHours' | 'cells',
    number
  > & { ingress: string | null };
  revise?: string;
  revision?: number;
  copyAs?: { id: string; name: string };
  document?: object;
}
const editsSchema = Joi.object({
  edits: Joi.array().items(joiOf(editFormat)).min(1).max(200).required(),
  proofs: Joi.object().pattern(Joi.string(), Joi.string().hex().length(64)).default({}),
  ...by,
});
const pixel = Joi.array().ordered(Joi.number().required(), Joi.number().required());
const plateSchema = Joi.object({
  device: id.required(),
  photo: Joi.string().hex().length(64).required(),
  face: Joi.valid(...SIDES).required(),
  layer: Joi.number().integer().min(0).max(40).required(),
  depth: Joi.number().min(-60).max(60).required(),
  height: Joi.number().min(50).max(3000).default(SURVEY.heightMm),
  body: Joi.object({
    width: Joi.number().positive().max(600).required(),
    height: Joi.number().positive().max(600).required(),
  }).required(),
  edges: Joi.array().items(Joi.array().items(pixel).length(2)).length(4).allow(null).default(null),
  points: Joi.array()
    .items(Joi.object({ px: pixel.required(), mm: pixel.required() }))
    .min(4)
    .max(60)
    .allow(null)
    .default(null),
  snap: Joi.boolean().default(true),
  ...by,
});
interface PlateWanted extends PlateAsked, By {
  device: string;
  photo: string;
  face: 'front' | 'back';
  layer: number;
  body: { width: number; height: number };
}
const trustSchema = Joi.object({
  name: Joi.string().trim().min(1).max(80).required(),
  key: Joi.string().base64().max(200).required(),
  ...by,
});
const catalogueSchema = Joi.object({ address: Joi.string().max(400).required(), own: Joi.boolean().default(false) });
const takeSchema = Joi.object({
  address: Joi.string().max(400).required(),
  own: Joi.boolean().default(false),
  file: Joi.string().max(130).required(),
  sha256: Joi.string().hex().length(64).required(),
  /** One that is older than what was taken before, as a draft. */
  older: Joi.boolean().default(false),
  ...by,
});

/** The workshop: drafts, photographs, publishing, bundles and catalogues. Only a lead changes the shop's devices. */
export function workshopRoutes(services: Services): Hono<Env> {
  const { anatomies, drafts, photos, pictures, plates, pool, technicians, shop } = services;
  const app = new Hono<Env>();
  const who = (c: Context<Env>, said: By = {}) => nameOf(c.get('who'), technicians, said);
  const one = (c: Context<Env>) => c.req.param('id')!;
  app.use('*', async (c, next) => {
    if (c.req.method !== 'GET') leadOnly(c);
    await next();
  });

  app.get('/drafts', (c) => c.json(drafts.list()));
  app.post('/drafts', async (c) => {
    const asked = await bodyOf<Begin>(c, beginSchema);
    const { document, base } = begun(asked);
    return c.json(drafts.begin(document, base, who(c, asked)), 201);
  });
  const begun = (asked: Begin): { document: Anatomy; base: { anatomy: string; revision: number } | null } => {
    if (asked.blank) return { document: blankOf(asked.blank), base: null };
    if (asked.revise !== undefined) {
      const { anatomy } = anatomies.get(asked.revise, asked.revision);
      if (asked.copyAs) return { document: { ...anatomy, ...asked.copyAs }, base: null };
      // An older revision that is brought back goes on from the newest, and is published as the next.
      return { document: anatomy, base: { anatomy: anatomy.id, revision: anatomies.newest(anatomy.id) } };
    }
    const document = shapedAs(asked.document!);
    const known = anatomies.has(document.id);
    return { document, base: known ? { anatomy: document.id, revision: anatomies.newest(document.id) } : null };
  };
  app.get('/drafts/:id', (c) => {
    const draft = drafts.get(one(c));
    c.header('ETag', `"${draft.version}"`);
    return c.json(draft);
  });
  app.delete('/drafts/:id', (c) => {
    drafts.remove(one(c));
    return c.json({ ok: true });
  });
  /** The printed sheet that a device is laid on, its marks at known places beside it. */
  app.get('/card.pdf', async (c) => {
    const asked = checked<{ width: number; height: number; paper: 'A4' | 'Letter' }>(
      {
        width: Number(c.req.query('width')),
        height: Number(c.req.query('height')),
        paper: c.req.query('paper') ?? shop.get().paper,
      },
      Joi.object({
        width: Joi.number().positive().max(160).required(),
        height: Joi.number().positive().max(240).required(),
        paper: Joi.valid('A4', 'Letter').required(),
      }),
    );
    const pdf = await sheetPdf(scaleCard(asked, asked.paper));
    return c.body(new Uint8Array(pdf), 200, { 'Content-Type': 'application/pdf' });
  });
  app.get('/drafts/:id/edits', (c) => {
    const after = Number(c.req.query('after') ?? 0);
    return c.json({ version: drafts.get(one(c)).version, missed: drafts.since(one(c), after) });
  });
  app.post('/drafts/:id/edits', async (c) => {
    const { edits, proofs, ...said } = await bodyOf<{ edits: Edit[]; proofs: Record<string, string> } & By>(
      c,
      editsSchema,
    );
    const given = c.req.header('if-match')?.replace(/^(W\/)?"|"$/g, '');
    if (given === undefined || !/^\d+$/.test(given))
      throw new Problem(428, { error: 'say with If-Match which version of the draft you change' });
    const made = () =>
      edits.map((edit) => ({ text: vouchedText(said.session ?? '', one(c), edit), proof: proofs[edit.id] }));
    const name = authorOf(c.get('who'), technicians, services.sessions, said, made);
    return c.json(drafts.edit(one(c), edits, Number(given), name));
  });
  /** The screws of a draft under a caliper that is a stand-in, one after another in the order asked for. */
  /** How the relations of a device are known that was learnt from field dives; none for one that was drawn. */
  app.get('/drafts/:id/evidence', (c) => c.json(shop.value(`evidence-of:${drafts.get(one(c)).document.id}`) ?? []));
  app.get('/drafts/:id/caliper', (c) => {
    const { fasteners } = drafts.get(one(c)).document;
    const asked = (c.req.query('screws') ?? '').split(',').slice(0, 600);
    const pieces = asked.flatMap((screw) => fasteners.filter((f) => f.id === screw));
    async function* measured() {
      for (const piece of pieces)
        for await (const { length, head } of simulatedCaliper().measure([piece]))
          yield { screw: piece.id, length, head };
    }
    return services.streams.tellAll(c, 'piece', measured());
  });
  app.get('/drafts/:id/outlook', async (c) => {
    const { plans: _, ...outlook } = await outlookOf(services, drafts.get(one(c)).document);
    return c.json(outlook);
  });
  app.post('/drafts/:id/publish', async (c) => {
    const draft = drafts.get(one(c));
    matched(c, draft.version);
    const { document } = draft;
    if (draft.base === null && anatomies.has(document.id)) {
      throw new Problem(409, { error: `there is a device "${document.id}" already; give this one another id` });
    }
    const newest = draft.base ? anatomies.newest(draft.base.anatomy) : 0;
    if (draft.base && draft.base.anatomy === document.id && newest !== draft.base.revision) {
      throw new Problem(409, {
        error: `revision ${newest} was published meanwhile; bring it in as a file, or begin anew from it`,
      });
    }
    const done = await publish(services, document, who(c), (revision) =>
      drafts.rebase(draft.id, { anatomy: document.id, revision }),
    );
    return c.json(done, 201);
  });

  /** A photograph at its full size; it is not the record of a job. */
  app.post('/photographs', async (c) => c.json(await photos.addWhole(new Uint8Array(await c.req.arrayBuffer())), 201));
  app.get('/photographs/:hash/edges', async (c) => {
    const body = checked<{ width: number; height: number }>(
      { width: Number(c.req.query('width')), height: Number(c.req.query('height')) },
      Joi.object({
        width: Joi.number().positive().max(600).required(),
        height: Joi.number().positive().max(600).required(),
      }),
    );
    const bytes = await photos.read(c.req.param('hash'), 'full');
    return c.json({ edges: await pictures.run('guessEdges', { bytes, body }) });
  });
  app.post('/plates', async (c) => {
    const wanted = await bodyOf<PlateWanted>(c, plateSchema);
    const { device, photo, face, layer, body, depth, height, edges, points, snap } = wanted;
    if (!edges && !points) throw new Problem(422, { error: 'lay four edges along the body, or at least four points' });
    const bytes = await photos.read(photo, 'full');
    const made = await pictures.run('plate', { bytes, body, face, asked: { edges, points, snap, height, depth } });
    const { hash } = await photos.addMade(made.picture);
    const { survey, pxPerMm } = made;
    return c.json(
      plates.add({ device, face, layer, depth, photo, plate: hash, pxPerMm, survey, by: who(c, wanted) }),
      201,
    );
  });
  app.get('/plates', (c) => c.json(plates.of(c.req.query('device') ?? '')));
  app.post('/plates/:id/review', async (c) => {
    const { reviewed } = await bodyOf<{ reviewed: boolean }>(c, Joi.object({ reviewed: Joi.boolean().required() }));
    return c.json(plates.review(one(c), reviewed ? who(c) : null));
  });
  app.delete('/plates/:id', (c) => {
    plates.remove(one(c));
    return c.json({ ok: true });
  });

  app.get('/key', (c) => c.json({ fingerprint: services.shopKey().fingerprint, name: shop.get().name }));
  app.get('/bundles/:id', async (c) => {
    leadOnly(c);
    const { anatomy, revision } = anatomies.get(one(c));
    const shown = plates.of(anatomy.id).filter((p) => p.reviewed !== null);
    const key = services.shopKey();
    const files = await Promise.all(
      shown.map(async (p) => ({
        jpeg: await photos.read(p.plate, 'full'),
        info: {
          face: p.face,
          layer: p.layer,
          depth: p.depth,
          pxPerMm: p.pxPerMm,
          expectedError: p.survey.expectedError,
        },
      })),
    );
    const name = shop.get().name || 'A shop';
    const bundle = await makeBundle({ anatomy, revision, plates: files, shop: { name, key: key.key } }, (b) =>
      key.sign(b),
    );
    return c.body(new Uint8Array(bundle), 200, {
      'Content-Type': 'application/zip',
      'Content-Disposition': `attachment; filename="${anatomy.id}-${revision}.zip"`,
    });
  });
  app.post('/bundles', async (c) => {
    const bytes = Buffer.from(await c.req.arrayBuffer());
    const wish = { replace: c.req.query('replace') === '1', older: c.req.query('older') === '1' };
    return c.json(await take(bytes, wish, who(c)), 201);
  });

  app.get('/trusted', (c) => c.json(trusted()));
  app.post('/trusted', async (c) => {
    const asked = await bodyOf<{ name: string; key: string } & By>(c, trustSchema);
    const fingerprint = fingerprintOf(asked.key);
    services.shop.put('trusted-shops', [
      ...trusted().filter((t) => t.fingerprint !== fingerprint),
      { fingerprint, name: asked.name, key: asked.key, by: who(c, asked), at: new Date().toISOString() },
    ]);
    return c.json(trusted(), 201);
  });
  app.delete('/trusted/:id', (c) => {
    services.shop.put(
      'trusted-shops',
      trusted().filter((t) => t.fingerprint.replaceAll(' ', '') !== one(c)),
    );
    return c.json(trusted());
  });
  const trusted = () =>
    services.shop.value<{ fingerprint: string; name: string; key: string; by: string; at: string }[]>(
      'trusted-shops',
    ) ?? [];

  app.post('/catalogue', async (c) => {
    const { address, own } = await bodyOf<{ address: string; own: boolean }>(c, catalogueSchema);
    return c.json(await inWords(() => lookAt(address, own)));
  });
  app.post('/catalogue/take', async (c) => {
    const { address, own, file, sha256, older, ...said } = await bodyOf<
      { address: string; own: boolean; file: string; sha256: string; older: boolean } & By
    >(c, takeSchema);
    const bytes = await inWords(() => fetchBundle(address, { file, sha256 }, own));
    return c.json(await take(bytes, { replace: false, older }, who(c, said)), 201);
  });

  /**
   * Takes in a bundle with every check; a device that is here already is only revised when that is said, and one that is older
   * than what was taken of that shop before never takes its place: it becomes a draft, where that is said.
   */
  const take = async (bytes: Buffer, { replace, older }: { replace: boolean; older: boolean }, taker: string) => {
    const bundle = await inWords(() => readBundle(bytes));
    const { manifest, fingerprint } = bundle;
    const own = services.shopKey().fingerprint === fingerprint;
    if (!own && !trusted().some((t) => t.fingerprint === fingerprint)) {
      const { name, key } = manifest.shop;
      throw new Problem(403, {
        error: `this bundle is signed by "${name}" (${fingerprint}), whom this shop does not trust yet; nothing was stored`,
        stranger: { name, fingerprint, key },
      });
    }
    const { anatomy, warnings } = await pool.run('checkAnatomy', { text: bundle.anatomy });
    if (anatomy.id !== manifest.device.id)
      throw new Problem(422, { error: `the bundle says it holds ${manifest.device.id}, and holds ${anatomy.id}` });
    const origin = anatomies.marks().get(anatomy.id)?.origin ?? null;
    if (anatomies.has(anatomy.id) && !replace && !own && origin?.fingerprint !== fingerprint) {
      throw new Problem(409, {
        error: `there is a device "${anatomy.id}" here already, which is not of that shop; say that it is to be revised`,
      });
    }
    const newest = newestOf(fingerprint, anatomy.id);
    const { revision } = manifest.device;
    const { madeAt } = manifest;
    if (newest && isOlder({ revision, madeAt }, newest)) {
      const day = (iso: string) => iso.slice(0, 10);
      if (!older)
        throw new Problem(409, {
          error: `this bundle is older (revision ${revision}, signed ${day(madeAt)}) than what was taken of that shop before (revision ${newest.revision}, signed ${day(newest.madeAt)}); it never takes its place, but can be looked at as a draft`,
          older: { revision, madeAt, newest },
        });
      const base = { anatomy: anatomy.id, revision: anatomies.newest(anatomy.id) };
      const draft = drafts.begin(anatomy, base, taker);
      return { id: anatomy.id, revision, shop: manifest.shop.name, plates: 0, draft: draft.id, warnings };
    }
    const sent = manifest.plates.map((p) => ({ p, jpeg: bundle.plates.get(p.file)! }));
    for (const { p, jpeg } of sent) soundPlate(await pictures.run('header', { bytes: jpeg }), anatomy, p.pxPerMm);
    const fresh = !anatomies.has(anatomy.id);
    const changes = fresh
      ? [`taken from ${manifest.shop.name}`]
      : (await outlookOf(services, anatomy)).changes.map((d) => d.text);
    const kept: { p: BundleManifest['plates'][number]; hash: string }[] = [];
    for (const { p, jpeg } of sent) kept.push({ p, hash: (await photos.addWhole(jpeg)).hash });
    const stored = services.db.transaction(() => {
      const made = anatomies.add(anatomy, taker, changes);
      if (!own)
        anatomies.mark(anatomy.id, {
          origin: { name: manifest.shop.name, fingerprint, at: new Date().toISOString() },
          untried: true,
        });
      for (const { p, hash } of kept) addPlate(anatomy, p, hash, manifest.shop.name);
      services.shop.put(seenKey(fingerprint, anatomy.id), { revision, madeAt } satisfies Seen);
      return made;
    });
    return { id: anatomy.id, revision: stored.revision, shop: manifest.shop.name, plates: sent.length, warnings };
  };
  const newestOf = (fingerprint: string, device: string) =>
    services.shop.value<Seen>(seenKey(fingerprint, device)) ?? null;
  const addPlate = (anatomy: Anatomy, p: BundleManifest['plates'][number], hash: string, by: string) => {
    if (plates.of(anatomy.id).some((other) => other.plate === hash)) return;
    const survey: PlateInfo['survey'] = {
      edges: null,
      points: null,
      height: SURVEY.heightMm,
      foot: [anatomy.body.width / 2, anatomy.body.height / 2],
      snapped: [],
      residuals: [],
      expectedError: p.expectedError,
    };
    const { face, layer, depth, pxPerMm } = p;
    plates.add({
      device: anatomy.id,
      face,
      layer,
      depth,
      photo: hash,
      plate: hash,
      pxPerMm,
      survey,
      by,
    });
  };
  return app;
}

/** The newest bundle of a shop's key and a device that was taken: its revision there, and when it was signed. */
interface Seen {
  revision: number;
  madeAt: string;
}

const seenKey = (fingerprint: string, device: string): string =>
  `bundle-seen:${fingerprint.replaceAll(' ', '')}:${device}`;

const isOlder = (a: Seen, b: Seen): boolean =>
  a.revision < b.revision || (a.revision === b.revision && Date.parse(a.madeAt) < Date.parse(b.madeAt));

/** A plate of a bundle has the size that its scale says. */
function soundPlate(
  { width, height, format }: { width: number; height: number; format: string },
  { body }: Anatomy,
  pxPerMm: number,
): void {
  const fits = Math.abs(width - body.width * pxPerMm) < 2 && Math.abs(height - body.height * pxPerMm) < 2;
  if (format !== 'jpeg' || !fits)
    throw new Problem(422, {
      error: `a photograph of the bundle is ${width} × ${height} px, not the body at ${pxPerMm} px a mm; nothing was stored`,
    });
}

async function inWords<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof BundleFault)) throw error;
    throw new Problem(422, { error: error.message, ...(error.faults.length > 0 ? { faults: error.faults } : {}) });
  }
}

/** A file that need not be sound, but has the shape of an anatomy. @throws Problem 422 */
function shapedAs(document: object): Anatomy {
  return checked<Anatomy>(document, joiOf(anatomyFormat));
}

/** The device with its frame, which everything else is fastened to. */
function blankOf({
  volts,
  milliampHours,
  cells,
  cornerRadius,
  ingress,
  ...rest
}: NonNullable<Begin['blank']>): Anatomy {
  const blank = blankAnatomy(rest);
  const { width, height } = blank.body;
  return {
    ...blank,
    id: rest.id,
    maker: rest.maker,
    body: { ...blank.body, cornerRadius, ingress },
    battery: { volts, milliampHours, cells },
    parts: [
      newEntry.part('frame', {
        name: 'Mid-frame',
        kind: 'frame',
        fixed: true,
        outline: { rect: [0, 0, width, height], radius: cornerRadius },
      }),
    ],
  };
}
