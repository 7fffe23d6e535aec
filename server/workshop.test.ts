import { createServer, type Server } from 'node:http';
import { createHash, randomUUID } from 'node:crypto';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import yazl from 'yazl';
import { afterAll, beforeAll, describe, expect, it, test } from 'vitest';
import { nibrel } from '../cli/nibrel.ts';
import { demoModel } from '../demo/models.ts';
import { photograph } from '../demo/photograph.ts';
import type { Anatomy } from '../core/anatomy/index.ts';
import { applied, editBetween, type Change, type Edit } from '../core/draft/index.ts';
import type { JobFile, PlateInfo } from '../core/jobs/index.ts';
import type { RunEvent } from '../core/run/index.ts';
import { isPrivate } from './catalogue.ts';
import type { Draft } from './drafts.ts';
import type { Outlook } from './publish.ts';
import { asking, demoServer, trialServer } from './trial.ts';

const here = demoServer('workshop');
const elsewhere = trialServer('elsewhere');
beforeAll(() => {
  elsewhere.services.shop.save({ ...elsewhere.services.shop.get(), name: 'The other bench' });
});
afterAll(async () => {
  await here.close();
  await elsewhere.close();
});

const ask = asking(here.app);
const askElsewhere = asking(elsewhere.app);

const set = (anatomy: Anatomy, group: 'parts' | 'fasteners', id: string, field: string, to: unknown): Change => {
  const entry = (anatomy[group] as unknown as Record<string, unknown>[]).find((e) => e.id === id)!;
  return { do: 'set', group, id, field, from: entry[field], to };
};
const edit = (...changes: Change[]): Edit => ({ id: randomUUID(), label: 'Edit', changes });
const revise = async (device: string) => (await ask<Draft>('/workshop/drafts', { revise: device })).body;
const send = (draft: string, version: number, edits: Edit[]) =>
  ask<{
    version: number;
    error: string;
    draft: { missed: { edit: Edit }[]; version: number; known: string[] };
    edit: string;
  }>(`/workshop/drafts/${draft}/edits`, { edits }, { headers: { 'If-Match': `"${version}"` } });

describe('drafts', () => {
  it('grow by edits, each with a version; sending twice changes nothing', async () => {
    const draft = await revise('velmora-quill-5');
    const f = draft.document.fasteners[0]!;
    const edits = [
      edit(set(draft.document, 'fasteners', f.id, 'length', 1.9)),
      edit(set(draft.document, 'parts', 'frame', 'name', 'Frame')),
    ];
    expect(await send(draft.id, 0, edits)).toMatchObject({ status: 200, body: { version: 2 } });
    expect(await send(draft.id, 0, edits)).toMatchObject({ status: 200, body: { version: 2 } });
    const now = (await ask<Draft>(`/workshop/drafts/${draft.id}`)).body;
    expect(now.document.fasteners[0]).toMatchObject({ length: 1.9 });
    expect(now.version).toBe(2);
  });

  it('a window that missed something gets a 409 with what, and overwrites nothing', async () => {
    const draft = await revise('velmora-quill-5');
    const [a, b] = draft.document.fasteners;
    const first = edit(set(draft.document, 'fasteners', a!.id, 'length', 1.7));
    await send(draft.id, 0, [first]);
    const late = edit(set(draft.document, 'fasteners', b!.id, 'length', 1.8));
    const answer = await send(draft.id, 0, [late]);
    expect(answer).toMatchObject({
      status: 409,
      body: { draft: { version: 1, missed: [{ edit: first }], known: [] } },
    });
    expect(await send(draft.id, 1, [late])).toMatchObject({ status: 200, body: { version: 2 } });
  });

  it('an edit that is sent again says what others did between, before it says that it is there', async () => {
    const draft = await revise('velmora-quill-5');
    const [a, b] = draft.document.fasteners;
    const mine = edit(set(draft.document, 'fasteners', a!.id, 'length', 1.7));
    await send(draft.id, 0, [mine]);
    const theirs = edit(set(draft.document, 'fasteners', b!.id, 'length', 1.8));
    await send(draft.id, 1, [theirs]);
    expect(await send(draft.id, 0, [mine])).toMatchObject({
      status: 409,
      body: { draft: { version: 2, missed: [{ edit: mine }, { edit: theirs }], known: [mine.id] } },
    });
    expect(await send(draft.id, 2, [mine])).toMatchObject({ status: 200, body: { version: 2 } });
  });

  it('a draft may be faulty, not misshapen: the edit that is so is named, and nothing of it is stored', async () => {
    const draft = await revise('velmora-quill-5');
    const f = draft.document.fasteners[0]!;
    const faulty = edit(set(draft.document, 'fasteners', f.id, 'holds', ['no-such-part']));
    expect((await send(draft.id, 0, [faulty])).status).toBe(200);
    const misshapen = edit(set(draft.document, 'fasteners', f.id, 'length', 'long'));
    expect(await send(draft.id, 1, [misshapen])).toMatchObject({
      status: 422,
      body: { edit: misshapen.id, error: expect.stringMatching(/fasteners\[0\]\.length must be a number/) },
    });
    expect((await ask<Draft>(`/workshop/drafts/${draft.id}`)).body.version).toBe(1);
    const refused = await ask<{ faults: { path: string }[] }>(
      `/workshop/drafts/${draft.id}/publish`,
      {},
      { headers: { 'If-Match': '"1"' } },
    );
    expect(refused).toMatchObject({ status: 422, body: { faults: [{ path: 'fasteners[0].holds[0]' }] } });
  });

  it('begins with a blank device, a copy, a file', async () => {
    const blank = {
      id: 'hollin-moth-3',
      name: 'Moth 3',
      maker: 'Hollin',
      kind: 'phone',
      width: 70,
      height: 148,
      thickness: 8,
      cornerRadius: 9,
      ingress: 'IP54',
      volts: 3.87,
      milliampHours: 4000,
      cells: 1,
    };
    const begun = (await ask<Draft>('/workshop/drafts', { blank })).body;
    expect(begun.document.parts).toMatchObject([
      { kind: 'frame', fixed: true, outline: { rect: [0, 0, 70, 148], radius: 9 } },
    ]);
    const copy = (
      await ask<Draft>('/workshop/drafts', { revise: 'dunvey-pip-61', copyAs: { id: 'pip-62', name: 'Pip 62' } })
    ).body;
    expect(copy).toMatchObject({ base: null, document: { id: 'pip-62', name: 'Pip 62', maker: 'Dunvey' } });
    const file = (await ask('/workshop/drafts', { document: { schema: 'nibrel.anatomy/1' } })).body;
    expect(file).toMatchObject({ faults: expect.arrayContaining([{ path: 'id', message: 'is required' }]) });
  });

  it('goes by itself when nobody went on with it for a year', () => {
    const before = here.services.drafts.list().length;
    expect(here.services.drafts.prune(Date.now() + 364 * 86_400_000)).toBe(0);
    expect(before).toBeGreaterThan(0);
  });
});

describe('publishing', () => {
  const intake = (rest: object = {}) =>
    ask<JobFile>('/jobs', {
      anatomy: 'tannbrook-field-3',
      customer: 'Wren Calloway',
      complaint: 'Dark.',
      replace: ['main-camera'],
      ...rest,
    });

  it('says what changed, moves the jobs that wait, and leaves those that have begun', async () => {
    const [waiting, begun] = [(await intake()).body.job, (await intake()).body.job];
    const first = begun.plan!.steps[0]!;
    await ask(`/jobs/${begun.id}/events`, {
      events: [{ id: randomUUID(), seq: 1, at: new Date().toISOString(), type: 'step-done', step: first.id }],
      now: Date.now(),
    });
    const draft = await revise('tannbrook-field-3');
    const f = draft.document.fasteners.find((g) => g.holds.includes('main-camera')) ?? draft.document.fasteners[0]!;
    await send(draft.id, 0, [
      edit(
        set(draft.document, 'fasteners', f.id, 'length', f.length! + 0.1),
        set(draft.document, 'fasteners', f.id, 'holeDepth', f.holeDepth + 0.1),
      ),
    ]);
    const outlook = (await ask<Outlook>(`/workshop/drafts/${draft.id}/outlook`)).body;
    expect(outlook.changes[0]!.text).toBe(`${f.id}: length ${f.length} → ${f.length! + 0.1} mm`);
    const published = await ask<Outlook>(
      `/workshop/drafts/${draft.id}/publish`,
      {},
      { headers: { 'If-Match': '"1"' } },
    );
    expect(published).toMatchObject({ status: 201, body: { revision: 2 } });
    const of = (id: string) => published.body.jobs.find((j) => j.id === id);
    expect(of(waiting.id)).toMatchObject({ becomes: 'moves', holds: true });
    expect(of(begun.id)).toMatchObject({ becomes: 'keeps', because: 'its dive has begun' });
    const moved = (await ask<JobFile>(`/jobs/${waiting.id}`)).body;
    expect(moved.events.at(-1)).toMatchObject({
      type: 'moved',
      revision: 2,
      because: expect.stringContaining('length'),
    });
    expect(here.services.jobs.stateOf(waiting.id).job.revision).toBe(2);
    expect(here.services.jobs.stateOf(waiting.id).context.model.fasteners.get(f.id)!.length).toBeCloseTo(
      f.length! + 0.1,
    );
    expect(here.services.jobs.stateOf(begun.id).job.revision).toBe(1);
    const revisions = (await ask<{ revision: number; changes: string[] }[]>('/anatomies/tannbrook-field-3/revisions'))
      .body;
    expect(revisions.map((r) => r.revision)).toEqual([2, 1]);
    expect(revisions[0]!.changes).toHaveLength(2);
    // An older revision can be looked at and brought back.
    const old = (await ask<Draft>('/workshop/drafts', { revise: 'tannbrook-field-3', revision: 1 })).body;
    expect(old.document.fasteners.find((g) => g.id === f.id)!.length).toBe(f.length);
    const late = await revise('tannbrook-field-3');
    const back = await ask<Outlook>(`/workshop/drafts/${old.id}/publish`, {}, { headers: { 'If-Match': '"0"' } });
    expect(back).toMatchObject({ status: 201, body: { revision: 3 } });
    expect(here.services.anatomies.get('tannbrook-field-3').anatomy).toEqual(draft.document);
    // Who began before that is told, and overwrites nothing.
    const refused = await ask(`/workshop/drafts/${late.id}/publish`, {}, { headers: { 'If-Match': '"0"' } });
    expect(refused.body).toMatchObject({ error: expect.stringMatching(/revision 3 was published meanwhile/) });
  });

  it('an agreement stands while no loss is added, and falls when one is', async () => {
    const device = 'karnhold-mule-4';
    const paired = demoModel(device).anatomy.parts.find((p) => p.pairing.length > 0)!;
    const taken = (await intake({ anatomy: device, replace: [paired.id] })).body.job;
    const losses = [...new Set(taken.plan!.losses.map((l) => l.function))];
    await ask(`/jobs/${taken.id}/events`, {
      events: [
        {
          id: randomUUID(),
          seq: 1,
          at: new Date().toISOString(),
          type: 'losses-agreed',
          losses,
          word: 'Oda Finch',
          said: new Date().toISOString(),
        } satisfies Partial<RunEvent>,
      ],
      now: Date.now(),
    });
    const draft = await revise(device);
    await send(draft.id, 0, [edit(set(draft.document, 'parts', paired.id, 'note', 'Paired.'))]);
    await ask(`/workshop/drafts/${draft.id}/publish`, {}, { headers: { 'If-Match': '"1"' } });
    expect(here.services.jobs.stateOf(taken.id).state.agreed).toMatchObject({ losses, version: 2 });
    const more = [...paired.pairing, { with: paired.pairing[0]!.with, loses: ['power'], remedy: 'Programmed.' }];
    await send(draft.id, 1, [
      edit(set({ ...draft.document, parts: draft.document.parts }, 'parts', paired.id, 'pairing', more)),
    ]);
    const done = await ask<Outlook>(`/workshop/drafts/${draft.id}/publish`, {}, { headers: { 'If-Match': '"2"' } });
    expect(done.body.jobs.find((j) => j.id === taken.id)).toMatchObject({ becomes: 'moves', holds: false });
    expect(here.services.jobs.stateOf(taken.id).state.agreed).toBeNull();
  });

  it('archived devices stay, out of the way', async () => {
    await ask('/anatomies/dunvey-pip-61/archive', { archived: true });
    const list = (await ask<{ id: string; archived: boolean }[]>('/anatomies')).body;
    expect(list.find((a) => a.id === 'dunvey-pip-61')).toMatchObject({ archived: true });
    await ask('/anatomies/dunvey-pip-61/archive', { archived: false });
  });
});

describe('photographs, bundles and catalogues', () => {
  let plate: PlateInfo;
  beforeAll(async () => {
    const model = demoModel('velmora-quill-5');
    const photo = await photograph({ model, face: 'front', opened: 1, seed: 4, side: 1000, tilt: 5, harshness: 0.1 });
    const kept = await ask<{ hash: string; width: number }>('/workshop/photographs', undefined, {
      method: 'POST',
      body: new Uint8Array(photo.jpeg),
      headers: { 'Content-Type': 'image/jpeg' },
    });
    expect(kept).toMatchObject({ status: 201, body: { width: photo.width } });
    const { width, height } = model.anatomy.body;
    const guess = await ask<{ edges: number[][][] }>(
      `/workshop/photographs/${kept.body.hash}/edges?width=${width}&height=${height}`,
    );
    expect(guess.body.edges).toHaveLength(4);
    const made = await ask<PlateInfo>('/workshop/plates', {
      device: 'velmora-quill-5',
      photo: kept.body.hash,
      face: 'front',
      layer: 1,
      depth: 0.4,
      body: { width, height },
      edges: guess.body.edges,
    });
    expect(made.status).toBe(201);
    plate = made.body;
    expect(plate.survey.expectedError).toBeLessThan(1);
  }, 60_000);

  const bundle = async () => (await ask<Buffer>('/workshop/bundles/velmora-quill-5')).body;
  const bring = (bytes: Buffer, query = '') =>
    askElsewhere<{
      error: string;
      stranger?: { name: string; key: string; fingerprint: string };
      id: string;
      plates: number;
    }>(`/workshop/bundles${query}`, undefined, {
      method: 'POST',
      body: new Uint8Array(bytes),
      headers: { 'Content-Type': 'application/zip' },
    });

  it('a photograph leaves the shop only when somebody has looked at it', async () => {
    expect((await bundle()).includes('plates/')).toBe(false);
    await ask(`/workshop/plates/${plate.id}/review`, { reviewed: true });
    expect((await bundle()).includes('plates/')).toBe(true);
  });

  it('another shop takes it once it trusts this one; the device is untried there', async () => {
    const bytes = await bundle();
    const refused = await bring(bytes);
    expect(refused).toMatchObject({ status: 403, body: { error: expect.stringMatching(/does not trust yet/) } });
    const { name, key } = refused.body.stranger!;
    await askElsewhere('/workshop/trusted', { name, key });
    expect(await bring(bytes)).toMatchObject({ status: 201, body: { id: 'velmora-quill-5', plates: 1 } });
    const list = (await askElsewhere<object[]>('/anatomies')).body;
    expect(list).toMatchObject([{ id: 'velmora-quill-5', untried: true, origin: name }]);
    const plates = (await askElsewhere<PlateInfo[]>('/anatomies/velmora-quill-5/plates')).body;
    expect(plates).toMatchObject([{ face: 'front', layer: 1, pxPerMm: plate.pxPerMm }]);
    const taken = (await askElsewhere<{ anatomy: Anatomy }>('/anatomies/velmora-quill-5')).body.anatomy;
    const ours = (await ask<{ anatomy: Anatomy }>('/anatomies/velmora-quill-5')).body.anatomy;
    expect(taken).toEqual(ours);
  });

  it('an older one of the same shop is a question, and never takes the place of the newest', async () => {
    const old = await bundle();
    const again = await bundle();
    const newestThere = async () =>
      (await askElsewhere<{ revision: number }>('/anatomies/velmora-quill-5')).body.revision;
    expect(await bring(again)).toMatchObject({ status: 201 });
    const before = await newestThere();
    const refused = await bring(old);
    expect(refused).toMatchObject({
      status: 409,
      body: { error: expect.stringMatching(/older .* never takes its place/), older: { newest: { revision: 1 } } },
    });
    expect((await bring(old, '?replace=1')).status).toBe(409);
    const drafted = await bring(old, '?older=1');
    expect(drafted).toMatchObject({ status: 201, body: { id: 'velmora-quill-5', draft: expect.any(String) } });
    expect(await newestThere()).toBe(before);
    // The same one again is not older than itself.
    expect((await bring(again)).status).toBe(201);
  });

  const zipOf = (files: Record<string, Buffer | string>): Promise<Buffer> => {
    const zip = new yazl.ZipFile();
    for (const [name, content] of Object.entries(files)) zip.addBuffer(Buffer.from(content as string), name);
    zip.end();
    return (async () => {
      const parts: Buffer[] = [];
      for await (const part of zip.outputStream) parts.push(part as Buffer);
      return Buffer.concat(parts);
    })();
  };
  test.each<[string, () => Promise<Buffer>, RegExp]>([
    ['no zip', async () => Buffer.from('a photograph'), /no bundle/],
    ['a bomb', () => zipOf({ 'anatomy.json': Buffer.alloc(30_000_000) }), /would unpack to 30 MB/],
    ['a stranger in it', () => zipOf({ 'run.sh': 'x' }), /no business in a bundle/],
    ['nothing in it', () => zipOf({}), /has no bundle.json/],
    ['no JSON', () => zipOf({ 'bundle.json': '{', signature: 'x', 'anatomy.json': '{}' }), /cannot be read/],
    [
      'a manifest of another kind',
      () => zipOf({ 'bundle.json': '{}', signature: 'x', 'anatomy.json': '{}' }),
      /not as it must be/,
    ],
  ])('%s is refused with what is wrong', async (_, make, message) => {
    const answer = await bring(await make());
    expect(answer.status).toBe(422);
    expect(answer.body.error).toMatch(message);
  });
  it('a path that leads out is refused by its name', async () => {
    // yazl writes no such name itself: it is put in afterwards, of the same length.
    const bytes = await zipOf({ 'aaaaaaaaaaaa.json': '{}' });
    const evil = Buffer.from(bytes.toString('latin1').replaceAll('aaaaaaaaaaaa.json', '../../../evil.sh\0'), 'latin1');
    expect((await bring(evil)).status).toBe(422);
  });
  it('what was changed after it was signed is refused', async () => {
    const bytes = await bundle();
    const text = bytes.toString('latin1');
    const at = text.indexOf('"revision"');
    expect(at).toBeGreaterThan(-1);
    bytes[at + 2] = 'x'.charCodeAt(0);
    expect((await bring(bytes)).status).toBe(422);
  });

  describe('a catalogue', () => {
    const folder = mkdtempSync(join(tmpdir(), 'nibrel-catalogue-'));
    let server: Server;
    let address = '';
    beforeAll(async () => {
      writeFileSync(join(folder, 'velmora-quill-5-1.zip'), await bundle());
      writeFileSync(join(folder, 'broken.zip'), 'x');
      server = createServer((request, response) => {
        try {
          response.end(readFileSync(join(folder, request.url!.slice(1).replaceAll('/', ''))));
        } catch {
          response.writeHead(404).end();
        }
      });
      await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
      address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/`;
    });
    afterAll(() => void server.close());

    it('is built from a folder; what is not sound is told and left out', async () => {
      const told = await nibrel(['catalogue', folder]);
      expect(told.code).toBe(1);
      expect(told.err).toMatch(/broken.zip: this is no bundle/);
      const index = JSON.parse(readFileSync(join(folder, 'catalogue.json'), 'utf8')) as { bundles: object[] };
      const sha256 = createHash('sha256')
        .update(readFileSync(join(folder, 'velmora-quill-5-1.zip')))
        .digest('hex');
      expect(index.bundles).toMatchObject([
        { file: 'velmora-quill-5-1.zip', sha256, device: { id: 'velmora-quill-5' } },
      ]);
    });
    it('is looked at and taken from by its address; addresses of this network only when a lead allows it', async () => {
      const asked = { address, own: true };
      const refused = await askElsewhere('/workshop/catalogue', { address });
      expect(refused).toMatchObject({ status: 422, body: { error: expect.stringMatching(/a lead may allow that/) } });
      const seen = await askElsewhere<{ bundles: { file: string; sha256: string }[] }>('/workshop/catalogue', asked);
      const { file, sha256 } = seen.body.bundles[0]!;
      expect(await askElsewhere('/workshop/catalogue/take', { ...asked, file, sha256 })).toMatchObject({
        status: 201,
      });
      const other = { ...asked, file, sha256: '0'.repeat(64) };
      expect(await askElsewhere('/workshop/catalogue/take', other)).toMatchObject({
        status: 422,
        body: { error: expect.stringMatching(/not the file that the catalogue names/) },
      });
    });
    test.each(['file:///etc/passwd', 'ftp://x/', 'nonsense'])('%s is no address of one', async (bad) => {
      expect((await ask('/workshop/catalogue', { address: bad, own: true })).status).toBe(422);
    });
    test.each([
      ['127.0.0.1', true],
      ['10.1.2.3', true],
      ['172.31.0.1', true],
      ['192.168.1.1', true],
      ['169.254.169.254', true],
      ['::1', true],
      ['::ffff:10.0.0.1', true],
      ['fd00::1', true],
      ['203.0.113.7', false],
      ['2001:db8::1', false],
    ])('%s is of this network: %s', (ip, own) => expect(isPrivate(ip)).toBe(own));
  });
});

describe('edits through the server are those of the page', () => {
  it('a hundred edits one after another give the document that the page has', async () => {
    const before = demoModel('velmora-quill-5').anatomy;
    const after = demoModel('pellworth-nacre-2').anatomy;
    const draft = await revise('velmora-quill-5');
    let anatomy = draft.document;
    const changes = editBetween(anatomy, { ...after, id: before.id }, 'x', '')
      .changes.filter((c) => c.do !== 'remove')
      .slice(0, 100);
    const edits = changes
      .map((c) => edit(c))
      .filter((e) => {
        try {
          anatomy = applied(anatomy, e);
          return true;
        } catch {
          return false;
        }
      });
    for (const [i, one] of edits.entries()) expect((await send(draft.id, i, [one])).status).toBe(200);
    expect((await ask<Draft>(`/workshop/drafts/${draft.id}`)).body.document).toEqual(anatomy);
  });
});
