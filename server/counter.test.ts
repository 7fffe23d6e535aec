import { execFileSync } from 'node:child_process';
import { copyFileSync, mkdtempSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import bwipjs from 'bwip-js/node';
import { unzipSync } from 'fflate';
import ICAL from 'ical.js';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import type { Donor, OwnSpare, Quote, Stroke } from '../core/counter/index.ts';
import { START_KINDS, startKindOf, type SupplySample } from '../core/diagnosis/index.ts';
import type { EarlierJob, Hit, JobFile } from '../core/jobs/index.ts';
import { makeBackup } from './keeping/backup.ts';
import { restoreBackup, unpackBackup } from './keeping/restore.ts';
import { Vault } from './counter.ts';
import { scrubber } from './keeping/scrub.ts';
import { openDb } from './db/open.ts';
import { servicesOf } from './services.ts';
import { simulatedBenchSupply } from './simulated/benchSupply.ts';
import { simulatedRegister } from './simulated/register.ts';
import { asking, demoServer } from './trial.ts';

const { folder, close, services, app } = demoServer('counter');
afterAll(close);

const ask = asking(app);

/** Numbers with a right check digit; the stand-in of the register knows the case in their last three. */
const GOOD = '490154203237518';
const LOST = '356938035666005';
const lostImei = (): string => {
  // 35693803566 and the case that is reported lost.
  const body = '35693803500666';
  let sum = 0;
  for (let i = 0; i < 14; i++) {
    const d = Number(body[13 - i]) * (i % 2 === 0 ? 2 : 1);
    sum += d > 9 ? d - 9 : d;
  }
  return body + ((10 - (sum % 10)) % 10);
};
const pen: Stroke[] = [{ points: [0, 40, 90, 160].map((x, i) => ({ x, y: 50 + 20 * (i % 2), time: i * 20 })) }];
const takeIn = async (rest: object = {}) =>
  (
    await ask<JobFile>('/jobs', {
      anatomy: 'velmora-quill-5',
      customer: 'Wilhelmina Ockermuehl',
      contact: '+44 7700 900123',
      complaint: 'Empty by noon, says Wilhelmina.',
      replace: ['battery'],
      spares: ['battery-new'],
      ...rest,
    })
  ).body;
const typed = (imei: string[]) => ({ imei, serial: null, how: 'typed' });

describe('who and what', () => {
  it('a job is found by customer, contact, number, device, complaint, and by digits however they stand', async () => {
    const { job } = await takeIn({ identity: typed([GOOD]) });
    for (const q of [
      'ockermuehl',
      '7700 900123',
      '7700900123',
      String(job.number),
      'quill noon',
      '490154203237518',
      '237518',
    ])
      expect(
        (await ask<Hit[]>(`/counter/search?q=${encodeURIComponent(q)}`)).body.map((h) => h.job),
        q,
      ).toContain(job.id);
    expect((await ask<Hit[]>('/counter/search?q=zzz')).body).toEqual([]);
  });

  it('a device that comes back is known, with its earlier jobs, and counted', async () => {
    const first = await takeIn({ identity: typed(['352099001761481']) });
    const known = await ask<{ earlier: EarlierJob[] }>('/counter/identity', { text: '35 209900 176148 1' });
    expect(known.body.earlier).toMatchObject([{ job: first.job.id, replaced: ['Battery'], warrantyUntil: null }]);
    const again = await takeIn({ identity: typed(['352099001761481']) });
    expect(again.job.earlier).toBe(first.job.id);
    expect((await ask<{ comebacks: number }>('/counter/comebacks')).body.comebacks).toBeGreaterThanOrEqual(1);
  });

  it('a wrong digit is refused by its field, and nothing is taken in', async () => {
    const before = (await ask<unknown[]>('/jobs')).body.length;
    const { status, body } = await ask('/jobs', {
      anatomy: 'velmora-quill-5',
      customer: 'X',
      complaint: '',
      replace: ['battery'],
      identity: typed(['490154203237517']),
    });
    expect(status).toBe(422);
    expect(body).toMatchObject({ error: expect.stringContaining('identity.imei[0]: the last digit should be 8') });
    expect((await ask<unknown[]>('/jobs')).body.length).toBe(before);
  });

  it('a draft of an intake is kept until it is dropped', async () => {
    const id = crypto.randomUUID();
    await ask(`/counter/drafts/${id}`, { customer: 'Half-typed' }, { method: 'PUT' });
    expect((await ask<{ id: string }[]>('/counter/drafts')).body.map((d) => d.id)).toContain(id);
    await ask(`/counter/drafts/${id}`, undefined, { method: 'DELETE', headers: { 'Content-Length': '0' } });
    expect((await ask<{ id: string }[]>('/counter/drafts')).body.map((d) => d.id)).not.toContain(id);
    // What was still on its way does not bring it back.
    expect((await ask(`/counter/drafts/${id}`, { customer: 'Late' }, { method: 'PUT' })).status).toBe(409);
    expect((await ask<{ id: string }[]>('/counter/drafts')).body.map((d) => d.id)).not.toContain(id);
  });

  it('a draft ends with the job that it becomes, whatever still arrives of it', async () => {
    const id = crypto.randomUUID();
    await ask(`/counter/drafts/${id}`, { customer: 'Draft Ended' }, { method: 'PUT' });
    const intake = {
      anatomy: 'velmora-quill-5',
      customer: 'Draft Ended',
      complaint: '',
      replace: ['battery'],
      draft: id,
    };
    expect((await ask('/jobs', intake)).status).toBe(201);
    expect((await ask(`/counter/drafts/${id}`, { customer: 'Draft Ended' }, { method: 'PUT' })).status).toBe(409);
    expect((await ask<{ id: string }[]>('/counter/drafts')).body.map((d) => d.id)).not.toContain(id);
    // One that was sent only after its job was made is an ended one too.
    const later = crypto.randomUUID();
    expect((await ask('/jobs', { ...intake, draft: later })).status).toBe(201);
    expect((await ask(`/counter/drafts/${later}`, { customer: 'Draft Ended' }, { method: 'PUT' })).status).toBe(409);
  });
});

describe('the register', () => {
  it('what a stand-in calls clear is told as simulated, and a device reported lost is not opened', async () => {
    expect(LOST).toHaveLength(15);
    const lost = await takeIn({ identity: typed([lostImei()]) });
    expect(lost.job.triage).toEqual(['reported-lost']);
    expect(lost.job.plan).toBeNull();
    expect(lost.events.find((e) => e.type === 'register-told')).toMatchObject({
      report: { simulated: true, answers: { 'reported-lost': 'set', blacklist: 'set' } },
    });
    const begin = {
      events: [{ id: crypto.randomUUID(), seq: 9, at: new Date().toISOString(), type: 'step-done', step: 'x' }],
    };
    expect((await ask(`/jobs/${lost.job.id}/events`, begin)).status).toBe(409);
  });

  it('one that does not answer clears nothing', async () => {
    const { register } = services;
    services.register = { ...simulatedRegister(), ask: () => Promise.reject(new Error('down')) };
    const { events } = await takeIn({ identity: typed([GOOD]) });
    services.register = register;
    expect(events.find((e) => e.type === 'register-told')).toMatchObject({
      report: { answers: { 'reported-lost': 'not-asked', blacklist: 'not-asked' } },
    });
  });
});

describe('codes in a picture', () => {
  it.each([
    ['code128', GOOD],
    ['qrcode', 'nibrel:3f1c'],
    ['datamatrix', 'VQ5-77A01'],
  ])('%s made by another program is read, turned and on a grey ground', async (bcid, text) => {
    const code = (await bwipjs.toBuffer({
      bcid,
      text,
      scale: 4,
      paddingwidth: 12,
      paddingheight: 12,
      backgroundcolor: 'e8e4da',
    })) as unknown as Buffer;
    const picture = await sharp(code).rotate(7, { background: '#e8e4da' }).jpeg({ quality: 80 }).toBuffer();
    const { body } = await ask<{ codes: { text: string }[] }>('/counter/scan', undefined, {
      method: 'POST',
      body: new Uint8Array(picture),
      headers: { 'Content-Type': 'image/jpeg' },
    });
    expect(body.codes.map((c) => c.text)).toContain(text);
  });

  it('no picture is refused with what to do', async () => {
    const { status, body } = await ask('/counter/scan', undefined, {
      method: 'POST',
      body: 'no picture',
      headers: { 'Content-Type': 'image/jpeg' },
    });
    expect(status).toBe(415);
    expect(body).toMatchObject({ error: expect.stringContaining('type the number') });
  });
});

describe('quote and agreement', () => {
  it('is quoted, takes from the shelf what is there, and speaks for it', async () => {
    await ask(
      '/counter/shelf',
      { anatomy: 'velmora-quill-5', spare: 'battery-new', price: '10.00', count: 1 },
      { method: 'PUT' },
    );
    const [a, b] = [await takeIn(), await takeIn()];
    const first = (await ask<Quote>(`/jobs/${a.job.id}/quote`, {})).body;
    const second = (await ask<Quote>(`/jobs/${b.job.id}/quote`, {})).body;
    expect(first.parts[0]).toMatchObject({ from: 'shelf' });
    expect(second.parts[0]).toMatchObject({ from: 'supplier' });
    const { body } = await ask<OwnSpare[]>('/counter/shelf');
    expect(body.find((s) => s.spare === 'battery-new')).toMatchObject({ count: 1, reserved: 1 });
    // Quoted again and again it is the same spare at the same price: what a job has spoken for is there for it.
    for (let k = 0; k < 2; k++) {
      const again = (await ask<Quote>(`/jobs/${a.job.id}/quote`, {})).body;
      expect(again.price.total).toBe(first.price.total);
      expect(again.parts[0]).toMatchObject({ from: 'shelf' });
      expect((await ask<Quote>(`/jobs/${b.job.id}/quote`, {})).body.price.total).toBe(second.price.total);
    }
    // Collected unopened, and it lies free again.
    await ask(`/jobs/${a.job.id}/collect`, { name: 'W. Ockermuehl', strokes: null });
    const { body: then } = await ask<OwnSpare[]>('/counter/shelf');
    expect(then.find((s) => s.spare === 'battery-new')).toMatchObject({ count: 1, reserved: 0 });
  });

  it('a signature of nothing is refused; a real one is kept with the text that was shown', async () => {
    const { job } = await takeIn();
    const terms = { limit: '150.00', data: 'saved', unfinished: 'close-as-it-is' };
    const on = { headers: { 'If-Match': '"0"' } };
    for (const strokes of [[], [{ points: [] }], [{ points: [{ x: 1, y: 1, time: 0 }] }]])
      expect((await ask(`/jobs/${job.id}/agreement`, { ...terms, strokes }, on)).status).toBe(422);
    expect((await ask(`/jobs/${job.id}/agreement`, { ...terms, limit: '-5', strokes: pen }, on)).status).toBe(422);
    const { status, body } = await ask<JobFile>(`/jobs/${job.id}/agreement`, { ...terms, strokes: pen }, on);
    expect(status).toBe(200);
    const agreed = body.events.find((e) => e.type === 'agreed');
    expect(agreed).toMatchObject({
      limit: '150.00',
      language: 'en',
      version: 1,
      losses: expect.arrayContaining(['moisture-rating']),
    });
    expect(agreed?.type === 'agreed' && agreed.text.join(' ')).toContain('Local law decides');
    const signature = agreed?.type === 'agreed' ? agreed.signature : '';
    expect((await ask<{ strokes: Stroke[] }>(`/counter/signatures/${signature}`)).body.strokes).toEqual(pen);
    // Another plan, and it does not hold any more.
    await ask(`/jobs/${job.id}/plan`, { replace: ['display'] }, on);
    expect(services.jobs.stateOf(job.id).state.agreed).toBeNull();
  });
});

describe('donor parts', () => {
  const board = {
    anatomy: 'velmora-quill-5',
    part: 'board',
    imei: lostImei(),
    grade: 'clean',
    contacts: 'whole',
    tried: 'works',
    seller: 'Breakers by the mill',
    boughtOn: '2026-11-20',
    returnDays: 30,
    price: '80.00',
  };
  it('one whose device is reported lost is not fitted', async () => {
    const donor = (await ask<Donor>('/counter/donors', board)).body;
    await ask(`/counter/donors/${donor.id}/register`, {});
    const { job } = await takeIn({ replace: ['board'], spares: [] });
    const { status, body } = await ask(`/jobs/${job.id}/donor`, { donor: donor.id, part: 'board' });
    expect(status).toBe(409);
    expect(body).toMatchObject({ error: expect.stringContaining('reported lost') });
  });

  it('a display stands in, its price is quoted, and it goes into no second device', async () => {
    const donor = (await ask<Donor>('/counter/donors', { ...board, part: 'display', imei: null, price: '40.00' })).body;
    const [a, b] = [
      await takeIn({ replace: ['display'], spares: [] }),
      await takeIn({ replace: ['display'], spares: [] }),
    ];
    expect((await ask(`/jobs/${a.job.id}/donor`, { donor: donor.id, part: 'display' })).status).toBe(200);
    const quote = (await ask<Quote>(`/jobs/${a.job.id}/quote`, {})).body;
    expect(quote.parts[0]).toMatchObject({ item: 'display', price: '46.00' });
    expect((await ask(`/jobs/${b.job.id}/donor`, { donor: donor.id, part: 'display' })).status).toBe(409);
    // With the job that it went into deleted, it is free again.
    await services.deletion.remove(a.job.id, 'taken in twice', 'Tobin Hask');
    expect(services.counter.donor(donor.id).job).toBeNull();
  });

  it('the lead is warned before the last day to return one, and not once it is over', async () => {
    const { id } = (await ask<Donor>('/counter/donors', { ...board, imei: null, part: 'dock' })).body;
    const about = (day: string) => services.counter.warnings(day).filter((w) => w.includes('dock'));
    expect([about('2026-12-10'), about('2026-12-21')]).toEqual([[], []]);
    expect(about('2026-12-16')).toEqual([expect.stringContaining('until 2026-12-20')]);
    await ask(`/counter/donors/${id}`, undefined, { method: 'DELETE', headers: { 'Content-Length': '0' } });
    expect(about('2026-12-16')).toEqual([]);
  });

  it('its last day to return is an entry that another library reads', async () => {
    const donor = (await ask<Donor>('/counter/donors', { ...board, part: 'camera', imei: null })).body;
    const body = (await ask<Buffer>(`/counter/donors/${donor.id}.ics`)).body.toString();
    const event = new ICAL.Event(new ICAL.Component(ICAL.parse(body)).getFirstSubcomponent('vevent')!);
    expect(event.startDate.toString()).toBe('2026-12-20');
    expect(event.summary).toContain('Last day to return');
    expect(body).toContain('BEGIN:VALARM');
  });

  it.each([
    [{ price: '-1' }, 'price'],
    [{ boughtOn: 'yesterday' }, 'boughtOn'],
    [{ part: 'frame' }, 'part'],
    [{ grade: 'shiny' }, 'grade'],
    [{ imei: '123456789012345' }, 'imei[0]'],
  ])('%j is refused by its field', async (wrong, field) => {
    const { status, body } = await ask<{ error: string }>('/counter/donors', { ...board, imei: null, ...wrong });
    expect(status).toBe(422);
    expect(body.error).toContain(field);
  });
});

describe('what is secret', () => {
  it('the code that unlocks a device stands sealed in the file, and is gone once it is collected', async () => {
    const { job } = await takeIn({ unlock: '902177' });
    expect((await ask<{ code: string }>(`/jobs/${job.id}/unlock`)).body.code).toBe('902177');
    const row = services.db.$client.prepare('SELECT "unlock" FROM jobs WHERE id = ?').pluck().get(job.id) as string;
    expect(row).not.toContain('902177');
    expect((await ask(`/jobs/${job.id}/collect`, { name: 'W. Ockermuehl', strokes: pen })).status).toBe(200);
    expect((await ask<{ code: null }>(`/jobs/${job.id}/unlock`)).body.code).toBeNull();
    expect((await ask(`/jobs/${job.id}/collect`, { name: 'Again', strokes: null })).status).toBe(409);
  });

  it('what another key has sealed is opened by nobody', () => {
    const [a, b] = ['a.key', 'b.key'].map((name) => new Vault(join(folder, name)));
    expect(a!.open(a!.seal('1234'))).toBe('1234');
    expect(b!.open(a!.seal('1234'))).toBeNull();
  });
});

describe('labels and the bench supply', () => {
  it('a label names the job and the device, and no customer', async () => {
    const { job } = await takeIn();
    const response = await app.request(`/api/jobs/${job.id}/label.pdf?kind=parts`, {
      headers: { host: '127.0.0.1:4310' },
    });
    const file = join(folder, 'label.pdf');
    writeFileSync(file, new Uint8Array(await response.arrayBuffer()));
    const text = execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' });
    expect(text).toContain(String(job.number));
    expect(text).toContain('Battery');
    expect(text).not.toContain('Ockermuehl');
  });

  it.each(START_KINDS)('a start that is %s is told as that', async (shows) => {
    const samples: SupplySample[] = [];
    for await (const sample of simulatedBenchSupply(() => 0.4, 0).start(shows)) samples.push(sample);
    expect(startKindOf(samples)).toBe(shows);
  });
});

describe('erasing a customer', () => {
  const NAME = 'Zbigniew Quastenhuber';
  const everyFile = (at: string): string[] =>
    readdirSync(at).flatMap((name) =>
      statSync(join(at, name)).isDirectory() ? everyFile(join(at, name)) : [join(at, name)],
    );
  const holds = (at: string, text: string) => everyFile(at).filter((path) => readFileSync(path).includes(text));

  it('leaves nothing of the name in database, log, files or a backup made later, and the record without it', async () => {
    const before = join(mkdtempSync(join(tmpdir(), 'nibrel-before-')), 'before.zip');
    const { job } = await takeIn({
      customer: NAME,
      contact: 'zq@example.test',
      complaint: `${NAME} dropped it`,
      unlock: '5511',
    });
    await ask(`/counter/drafts/${crypto.randomUUID()}`, { customer: NAME }, { method: 'PUT' });
    const say = {
      id: crypto.randomUUID(),
      seq: 1,
      at: new Date().toISOString(),
      type: 'note',
      step: null,
      text: `Zbigniew calls at five`,
    };
    await ask(`/jobs/${job.id}/events`, { events: [say] });
    await ask('/jobs');
    await makeBackup(folder, before);
    expect(holds(folder, NAME).length).toBeGreaterThan(0);

    const { status } = await ask(`/counter/customers/${job.customerId}`, undefined, {
      method: 'DELETE',
      headers: { 'Content-Length': '0' },
    });
    expect(status).toBe(200);
    for (const text of [NAME, 'Zbigniew', 'Quastenhuber', 'zq@example.test'])
      expect(holds(folder, text), text).toEqual([]);
    const { body } = await ask<JobFile>(`/jobs/${job.id}`);
    expect(body.job).toMatchObject({ customer: 'Erased customer', complaint: '… dropped it' });
    expect(body.job.plan!.steps.length).toBeGreaterThan(10);
    expect(body.events.some((e) => e.type === 'note' && e.text === '… calls at five')).toBe(true);

    const after = join(folder, 'after.zip');
    await makeBackup(folder, after);
    await unpackBackup(after, join(folder, 'unpacked'));
    expect(holds(join(folder, 'unpacked'), 'Quastenhuber')).toEqual([]);

    // A backup from before is put back in the place of the data: whoever was erased is erased again.
    const ledger = join(folder, 'private', 'erasures.jsonl');
    expect(readFileSync(ledger, 'utf8')).not.toContain('Quastenhuber');
    const other = `${folder}-restored`;
    // On a machine that has nothing but the backup and the list beside it.
    copyFileSync(ledger, join(before, '..', 'erasures.jsonl'));
    const { kept } = await restoreBackup(before, other);
    expect(kept).toBeNull();
    const restored = openDb(join(other, 'nibrel.sqlite'));
    const again = servicesOf(restored.db, other);
    expect(holds(other, 'Quastenhuber').length).toBeGreaterThan(0);
    await again.erasure.catchUp();
    await again.close();
    restored.close();
    expect(holds(other, 'Quastenhuber')).toEqual([]);
  });

  it('takes a person out of what was written, and no part of another word', () => {
    const scrub = scrubber(['Ray Ann-Lee', '']);
    expect(scrub('Ray says the tray of Ann-Lee is planned')).toBe('… says the tray of … is planned');
    expect(scrub('RAY')).toBe('…');
  });

  it('all that is kept of one customer is given out in one piece, photographs included', async () => {
    const picture = await sharp({ create: { width: 40, height: 30, channels: 3, background: '#456' } })
      .png()
      .toBuffer();
    const { hash } = await services.photos.add(picture);
    const { job } = await takeIn({ customer: 'Perpetua Vane', photos: [hash] });
    const response = await app.request(`/api/counter/customers/${job.customerId}/export`, {
      headers: { host: '127.0.0.1:4310' },
    });
    const files = unzipSync(new Uint8Array(await response.arrayBuffer()));
    expect(Object.keys(files).sort()).toEqual(['customer.json', `photographs/${hash}.jpg`]);
    const told = JSON.parse(Buffer.from(files['customer.json']!).toString()) as { customer: object; jobs: object[] };
    expect(told.customer).toMatchObject({ name: 'Perpetua Vane' });
    expect(told.jobs).toHaveLength(1);
    // And with the customer the photograph goes.
    await services.erasure.erase(job.customerId!, 'asked', 'Tobin Hask');
    expect(services.photos.has(hash)).toBe(false);
  });

  it('is done by itself once the time is over, and not before', async () => {
    const { job } = await takeIn({ customer: 'Late Collector' });
    await ask(`/jobs/${job.id}/collect`, { name: 'Late Collector', strokes: null });
    expect(await services.erasure.catchUp(Date.now() + 100 * 86_400_000)).toBe(0);
    const erased = await services.erasure.catchUp(Date.now() + 800 * 86_400_000);
    expect(erased).toBeGreaterThanOrEqual(1);
    expect((await ask<JobFile>(`/jobs/${job.id}`)).body.job.customer).toBe('Erased customer');
  });
});
