import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import sharp from 'sharp';
import { afterAll, describe, expect, it, vi } from 'vitest';
import { Jobs } from './jobs.ts';
import type { JobFile, JobSummary, RuleSet } from '../core/jobs/index.ts';
import { foundSince, type RunEvent } from '../core/run/index.ts';
import { judgeTorque, type StockItem, type TorqueSample } from '../core/screws/index.ts';
import { seededDraw } from '../demo/synthetic.ts';
import { deadlockedDevice, tinyDevice } from '../demo/tiny.ts';
import { createApp } from './app.ts';
import { servicesOf } from './services.ts';
import { configFrom } from './config.ts';
import { openDb } from './db/open.ts';
import { simulatedTorqueDriver } from './simulated/devices.ts';
import { STREAMS } from './streams.ts';
import { sentEvent as event, demoServer, type Answer } from './trial.ts';

const { folder, config, db, close, services, app } = demoServer('server');
afterAll(close);

const typeOf = (body: unknown): Record<string, string> =>
  body === undefined ? {} : { 'Content-Type': typeof body === 'string' ? 'application/json' : 'image/jpeg' };

/** Names the version that is changed. */
const on = (version: number) => ({ headers: { 'If-Match': `"${version}"` } });

async function ask<T = Record<string, unknown>>(
  path: string,
  json?: unknown,
  init: RequestInit = {},
): Promise<Answer<T>> {
  const response = await app.request(path, {
    ...(json !== undefined ? { method: 'POST', body: JSON.stringify(json) } : {}),
    ...init,
    headers: {
      host: '127.0.0.1:4310',
      ...(json !== undefined ? { 'Content-Type': 'application/json' } : typeOf(init.body ?? undefined)),
      ...(init.headers as Record<string, string> | undefined),
    },
  });
  const text = await response.text();
  return {
    status: response.status,
    body: (text.startsWith('{') || text.startsWith('[') ? JSON.parse(text) : text) as T,
    headers: response.headers,
  };
}
const intake = (rest: object = {}) => ({
  anatomy: 'tannbrook-field-3',
  customer: 'Wren Calloway',
  complaint: 'Dark pictures.',
  by: 'Tobin Hask',
  replace: ['main-camera'],
  ...rest,
});
const takeIn = async (rest: object = {}) => (await ask<JobFile>('/api/jobs', intake(rest))).body;
describe('jobs', () => {
  it('lists the jobs of the made-up shop with where each stands', async () => {
    const { body } = await ask<JobSummary[]>('/api/jobs');
    expect(new Set(body.map((j) => j.state))).toEqual(new Set(['signed', 'running', 'ready', 'stopped', 'exploring']));
  });
  it('takes a device in, plans its dive, and keeps the revision it was planned on', async () => {
    const file = await takeIn();
    expect(file.job).toMatchObject({
      anatomy: 'tannbrook-field-3',
      revision: 1,
      plan: { schema: 'nibrel.plan/2', replace: ['main-camera'] },
    });
    const next = structuredClone(file.anatomy);
    next.name = 'Field 3 b';
    const revise = (init: RequestInit = {}) =>
      ask('/api/anatomies', undefined, { method: 'POST', body: JSON.stringify(next), ...init });
    expect((await revise()).status).toBe(428);
    expect((await revise(on(1))).body).toMatchObject({ revision: 2 });
    expect((await revise(on(1))).status).toBe(412);
    expect((await ask<JobFile>(`/api/jobs/${file.job.id}`)).body.anatomy.name).toBe('Field 3');
    expect((await takeIn()).job.revision).toBe(2);
  });
  it('a swollen device gets no dive, and nothing can be recorded on it', async () => {
    const { job } = await takeIn({ triage: ['swollen'], replace: [] });
    expect(job.plan).toBeNull();
    expect(
      await ask(`/api/jobs/${job.id}/events`, { events: [event(1, { type: 'step-done', step: 'power-off' })] }),
    ).toMatchObject({ status: 409, body: { error: 'this device must not be opened' } });
    expect((await ask(`/api/jobs/${job.id}/plan`, { replace: ['battery'] }, on(0))).status).toBe(409);
  });
  it('plans anew until the dive has begun', async () => {
    const { job } = await takeIn();
    const planned = (await ask<JobFile>(`/api/jobs/${job.id}/plan`, { replace: ['battery'] }, on(0))).body.events.at(
      -1,
    )!;
    expect(planned).toMatchObject({ type: 'planned', version: 1, plan: { replace: ['battery'] } });
    const { plan } = planned as Extract<RunEvent, { type: 'planned' }>;
    await ask(`/api/jobs/${job.id}/events`, {
      events: [event(2, { type: 'step-done', step: plan.steps[0]!.id })],
    });
    expect(await ask(`/api/jobs/${job.id}/plan`, { replace: ['port'] }, on(1))).toMatchObject({
      status: 409,
      body: { error: expect.stringContaining('has begun') },
    });
  });
  it('planned anew, what was found to work since is on its list, and its own house rules stay', async () => {
    const own = { name: 'Only for this', rules: { ...services.ruleSets.chosen().rules, pickMarks: 3 } };
    const { body: set } = await ask<RuleSet>('/api/rules', own);
    const { job } = await takeIn({ rules: set.id });
    expect(job.plan!.rules.pickMarks).toBe(3);
    const { model } = services.jobs.stateOf(job.id).context;
    const found = model.anatomy.functions.find((f) => !job.plan!.touched.includes(f.id))!.id;
    const test = { type: 'test', function: found, outcome: 'pass', reason: '', circumstance: 'intake' } as const;
    await ask(`/api/jobs/${job.id}/events`, { events: [event(1, test)] });
    expect(foundSince(services.jobs.stateOf(job.id).state)).toEqual([found]);
    await ask(`/api/jobs/${job.id}/plan`, { replace: ['main-camera'] }, on(0));
    const { state } = services.jobs.stateOf(job.id);
    expect([foundSince(state), state.context.plan.touched]).toEqual([[], expect.arrayContaining([found])]);
    expect(state.context.plan.rules).toEqual(job.plan!.rules);
  });
});

describe('events', () => {
  it('are written once, however often they are sent', async () => {
    const { job } = await takeIn();
    const first = event(1, { type: 'step-done', step: job.plan!.steps[0]!.id });
    expect((await ask(`/api/jobs/${job.id}/events`, { events: [first] })).status).toBe(200);
    expect((await ask(`/api/jobs/${job.id}/events`, { events: [first] })).status).toBe(200);
    expect((await ask<JobFile>(`/api/jobs/${job.id}`)).body.events).toHaveLength(1);
  });
  it('a stale number is refused with what the sender missed', async () => {
    const { job } = await takeIn();
    await ask(`/api/jobs/${job.id}/events`, {
      events: [event(1, { type: 'note', step: job.plan!.steps[0]!.id, text: 'Mine first.' })],
    });
    const late = await ask(`/api/jobs/${job.id}/events`, {
      events: [event(1, { type: 'note', step: job.plan!.steps[0]!.id, text: 'Mine too.' })],
    });
    expect(late).toMatchObject({ status: 409, body: { missed: [{ seq: 1, text: 'Mine first.' }] } });
    expect(
      (
        await ask(`/api/jobs/${job.id}/events`, {
          events: [event(7, { type: 'note', step: job.plan!.steps[0]!.id, text: 'From the future.' })],
        })
      ).status,
    ).toBe(409);
  });
  it('a batch is written up to the event that is refused, which is named', async () => {
    const { job } = await takeIn();
    const answer = await ask(`/api/jobs/${job.id}/events`, {
      events: [
        event(1, { type: 'step-done', step: job.plan!.steps[0]!.id }),
        event(2, { type: 'step-done', step: 'gone' }),
      ],
    });
    expect(answer).toMatchObject({ status: 422, body: { refused: { error: expect.stringContaining('gone') } } });
    expect((await ask<JobFile>(`/api/jobs/${job.id}`)).body.events).toHaveLength(1);
  });
  it('the server itself stops an early seal', async () => {
    const { job } = await takeIn();
    const fit = job.plan!.steps.find((s) => s.do === 'fit' && s.items.includes('back-cover'))!;
    expect(
      await ask(`/api/jobs/${job.id}/events`, { events: [event(1, { type: 'step-done', step: fit.id })] }),
    ).toMatchObject({ status: 422, body: { refusal: { rule: expect.stringMatching(/^[AG]\d$/) } } });
  });
  it('every field is checked and named', async () => {
    const { job } = await takeIn();
    const send = (e: object) => ask(`/api/jobs/${job.id}/events`, { events: [e] });
    expect(
      await send({ ...event(1, { type: 'step-done', step: job.plan!.steps[0]!.id }), colour: 'red' }),
    ).toMatchObject({
      status: 422,
      body: { error: expect.stringContaining('colour') },
    });
    expect(
      await send({ ...event(1, { type: 'step-done', step: job.plan!.steps[0]!.id }), type: 'dance' }),
    ).toMatchObject({
      status: 422,
      body: { error: expect.stringContaining('type') },
    });
    expect(await send({ ...event(1, { type: 'step-done', step: job.plan!.steps[0]!.id }), id: 'one' })).toMatchObject({
      status: 422,
      body: { error: expect.stringContaining('id') },
    });
    expect(
      await send(event(1, { type: 'photo', photo: 'a'.repeat(64), step: job.plan!.steps[0]!.id, note: '' })),
    ).toMatchObject({
      status: 422,
      body: { error: expect.stringContaining('photo') },
    });
  });
  /** A browser's stream, read until something comes. */
  const listening = async (path: string) => {
    const stop = new AbortController();
    const response = await app.request(path, { headers: { host: 'localhost' }, signal: stop.signal });
    const reader = response.body!.getReader();
    const told = { heard: '' };
    const until = async (text: string) => {
      while (!told.heard.includes(text)) told.heard += new TextDecoder().decode((await reader.read()).value);
    };
    const end = async () => {
      stop.abort();
      await reader.cancel();
    };
    await until('event: stream');
    return { told, until, end, stream: /event: stream\ndata: (\S+)/.exec(told.heard)![1]! };
  };
  const note = (seq: number, text: string) => ({ events: [event(seq, { type: 'note', step: null, text })] });

  it('are told to whoever has the job on a screen, and what was missed is told first', async () => {
    services.live.flush();
    const before = services.live.last;
    const { job } = await takeIn();
    services.live.flush();
    await ask(`/api/jobs/${job.id}/events`, note(1, 'First.'));
    await ask(`/api/jobs/${job.id}/events`, note(2, 'Second.'));
    const { told, until, end } = await listening(`/api/live?after=${before}&jobs=${job.id}:1`);
    await until('Second.');
    expect(told.heard).not.toContain('First.');
    // A stream that breaks off before what was missed has come goes on from where it was.
    expect(told.heard).toMatch(new RegExp(`^event: hello\nid: ${before}\n`));
    await ask(`/api/jobs/${job.id}/events`, note(3, 'Live.'));
    await until('Live.');
    await end();
  });
  it('go to nobody else; of the list everybody hears each line once, however often it changed', async () => {
    const [one, other] = [(await takeIn()).job, (await takeIn()).job];
    services.live.flush();
    const mine = await listening(`/api/live?jobs=${one.id}:0`);
    const theirs = await listening('/api/live');
    for (let i = 1; i <= 5; i++) await ask(`/api/jobs/${one.id}/events`, note(i, `Note ${i}.`));
    await mine.until('Note 5.');
    await theirs.until(`"summary":{"id":"${one.id}"`);
    expect(theirs.told.heard).not.toContain('Note ');
    expect(theirs.told.heard.split(`"summary":{"id":"${one.id}"`)).toHaveLength(2);
    // Another job comes onto the screen: what is lacking of it comes, and the first is told no more.
    await ask(`/api/jobs/${other.id}/events`, note(1, 'Of the other.'));
    expect(await ask(`/api/live/${theirs.stream}`, { jobs: { [other.id]: 0, none: 0 } })).toMatchObject({
      status: 200,
    });
    await theirs.until('Of the other.');
    expect(await ask(`/api/live/${mine.stream}`, { jobs: {} })).toMatchObject({ status: 200 });
    await ask(`/api/jobs/${one.id}/events`, note(6, 'Unheard.'));
    await ask(`/api/jobs/${other.id}/events`, note(2, 'Heard.'));
    await theirs.until('Heard.');
    expect(mine.told.heard).not.toContain('Unheard.');
    for (const listener of [mine, theirs]) await listener.end();
    expect((await ask(`/api/live/${mine.stream}`, { jobs: {} })).status).toBe(404);
    expect((await ask('/api/live/none', { jobs: { x: -1 } })).status).toBe(422);
  });
  it('lines that were never read come by and by: the list stands at once, and each is told when it is read', async () => {
    const { job } = await takeIn();
    const { $client } = services.db;
    const columns = ($client.pragma('table_info(jobs)') as { name: string }[]).map((c) => c.name);
    const rest = columns.filter((c) => !['id', 'number', 'key', 'summary', 'summary_seq'].includes(c)).join(', ');
    const copy = $client.prepare(`INSERT INTO jobs (id, number, ${rest}) SELECT ?, ?, ${rest} FROM jobs WHERE id = ?`);
    $client.transaction(() => {
      for (let i = 0; i < 60; i++) copy.run(`copy-${i}`, 900_000 + i, job.id);
    })();
    const fresh = new Jobs(services.db, services.anatomies, services.live, Date.now, 0);
    const listener = services.live.listen([]);
    const first = fresh.summaries();
    expect(first.filter((j) => j.id.startsWith('copy-'))).toHaveLength(60);
    const unread = first.filter((j) => j.state === 'reading').map((j) => j.id);
    expect(unread.length).toBeGreaterThan(50);
    await vi.waitFor(() => expect(fresh.summaries().some((j) => j.state === 'reading')).toBe(false), 20_000);
    expect(new Set(fresh.summaries().map((j) => j.state)).has('ready')).toBe(true);
    services.live.flush();
    const told = listener.queue.join('');
    // Those that the second look renewed itself need not be told: whoever looked has them.
    expect(unread.some((id) => told.includes(`"id":"${id}"`))).toBe(true);
    services.live.leave(listener);
    fresh.close();
    $client.exec("DELETE FROM jobs WHERE id LIKE 'copy-%'");
  });
  it('a listener that takes nothing is let go, and holds up nobody', async () => {
    const { job } = await takeIn();
    const deaf = services.live.listen([job.id]);
    for (let seq = 1; seq <= 60; seq++) await ask(`/api/jobs/${job.id}/events`, note(seq, 'x'.repeat(1900)));
    expect(deaf.slow).toBe(false);
    for (let i = 0; i < 1500; i++) services.live.tellEvent(services.jobs.eventsOf(job.id)[0]!);
    expect(deaf.slow).toBe(true);
    expect(deaf.waiting).toBeLessThan(2_100_000);
    services.live.leave(deaf);
  });
  it('B1 streams are limited where nobody signs in, too, those of measuring devices with them, and make room again', async () => {
    const readers: ReadableStreamDefaultReader[] = [];
    const listen = async (path = '/api/live') => {
      const answer = await app.request(path, { headers: { host: '127.0.0.1' } });
      if (answer.status !== 200) return answer.status;
      const reader = answer.body!.getReader();
      readers.push(reader);
      await reader.read();
      return 200;
    };
    const plate = '/api/opening/plate?source=mat&plate=aluminium-4&room=20&speed=1';
    for (let i = 0; i < STREAMS.address; i++) expect(await listen()).toBe(200);
    expect([await listen(), await listen(plate)]).toEqual([429, 429]);
    await readers.pop()!.cancel();
    expect(await listen()).toBe(200);
    for (const reader of readers) await reader.cancel();
    expect((await ask('/api/jobs')).status).toBe(200);
  });
});

describe('bad input loses nothing and is told where', () => {
  it.each([
    ['no customer', intake({ customer: '' }), 'customer'],
    ['an unknown field', intake({ price: 3 }), 'price'],
    ['an unknown part', intake({ replace: ['engine'] }), 'engine'],
    ['a fixed part', intake({ replace: ['frame'] }), 'fixed'],
    ['a photograph that is not there', intake({ photos: ['b'.repeat(64)] }), 'photograph'],
    ['nothing to replace', intake({ replace: [] }), 'at least one part'],
  ])('%s', async (_, body, words) => {
    expect(await ask('/api/jobs', body)).toMatchObject({
      status: 422,
      body: { error: expect.stringContaining(words) },
    });
  });
  it('an anatomy with faults is not stored, and every fault has its path', async () => {
    const bad = tinyDevice((a) => {
      a.fasteners[2]!.at = [4, 70];
      a.fasteners[1]!.holeDepth = 1;
    });
    const answer = await ask('/api/anatomies', undefined, { method: 'POST', body: JSON.stringify(bad) });
    expect(answer).toMatchObject({
      status: 422,
      body: {
        faults: expect.arrayContaining([
          expect.objectContaining({ path: 'fasteners[1].holeDepth' }),
          expect.objectContaining({ path: 'fasteners[2].at' }),
        ]),
      },
    });
    expect((await ask('/api/anatomies/tiny')).status).toBe(404);
  });
  it('takes a sound device in whose dives cannot all be planned, and says which', async () => {
    const answer = await ask<{ warnings: { path: string }[] }>('/api/anatomies', undefined, {
      method: 'POST',
      body: JSON.stringify(deadlockedDevice()),
    });
    expect(answer.status).toBe(201);
    expect(answer.body.warnings.map((w) => w.path)).toEqual(['parts[1]', 'parts[5]', 'parts[6]']);
    const { body } = await ask<{ part: string; cannot?: string }[]>('/api/anatomies/deadlocked/depth');
    expect(body.flatMap((row) => (row.cannot ? [row.part] : []))).toEqual(['cover', 'board', 'back']);
  });
  it('an anatomy with a part out of reach is not stored', async () => {
    const bad = tinyDevice((a) => {
      a.connectors[1]!.after = ['board'];
    });
    expect(await ask('/api/anatomies', undefined, { method: 'POST', body: JSON.stringify(bad) })).toMatchObject({
      status: 422,
      body: { faults: expect.arrayContaining([expect.objectContaining({ path: 'parts[3]' })]) },
    });
  });
  it('what is not JSON, and a body that is too large', async () => {
    expect((await ask('/api/jobs', undefined, { method: 'POST', body: '{' })).status).toBe(400);
    expect(await ask('/api/anatomies', undefined, { method: 'POST', body: 'x'.repeat(3 << 20) })).toMatchObject({
      status: 413,
      body: { error: expect.stringContaining('2 MB') },
    });
    expect(await ask('/api/photos', undefined, { method: 'POST', body: new Uint8Array(50 << 20) })).toMatchObject({
      status: 413,
      body: { error: expect.stringContaining('25 MB') },
    });
  });
  it('an unknown job, an unknown address', async () => {
    expect((await ask('/api/jobs/none')).status).toBe(404);
    expect((await ask('/api/nothing')).body).toEqual({ error: 'there is nothing at this address' });
  });
});

describe('photographs', () => {
  const picture = () => sharp({ create: { width: 600, height: 400, channels: 3, background: '#557' } });
  it('are stored by hash, without location, with a thumbnail', async () => {
    const withPlace = await picture()
      .withExif({ IFD0: { Artist: 'Someone' }, IFD3: { GPSLatitude: '51/1 30/1 0/1', GPSLatitudeRef: 'N' } })
      .jpeg()
      .toBuffer();
    expect((await sharp(withPlace).metadata()).exif).toBeDefined();
    const { status, body } = await ask<{ hash: string }>('/api/photos', undefined, {
      method: 'POST',
      body: new Uint8Array(withPlace),
    });
    expect(status).toBe(201);
    const full = Buffer.from(
      await (await app.request(`/api/photos/${body.hash}`, { headers: { host: 'localhost' } })).arrayBuffer(),
    );
    const kept = await sharp(full).metadata();
    expect([kept.format, kept.width, kept.exif]).toEqual(['jpeg', 600, undefined]);
    const thumb = Buffer.from(
      await (await app.request(`/api/photos/${body.hash}/thumb`, { headers: { host: 'localhost' } })).arrayBuffer(),
    );
    expect((await sharp(thumb).metadata()).width).toBe(320);
  });
  it('what only pretends to be a picture is refused by its content', async () => {
    const send = (bytes: Uint8Array<ArrayBuffer>) =>
      ask('/api/photos', undefined, { method: 'POST', body: bytes, headers: { 'Content-Type': 'image/jpeg' } });
    expect(await send(new Uint8Array(Buffer.from('<script>alert(1)</script>')))).toMatchObject({
      status: 415,
      body: { error: expect.stringContaining('not a picture') },
    });
    const cut = (await picture().jpeg().toBuffer()).subarray(0, 60);
    expect(await send(new Uint8Array(cut))).toMatchObject({ status: 415 });
  });
  it('are not read by any path but their hash', async () => {
    expect((await ask('/api/photos/..%2F..%2Fnibrel.sqlite')).status).toBe(404);
  });
});

describe('the record', () => {
  it('is a PDF that says what was done', async () => {
    const { body } = await ask<JobSummary[]>('/api/jobs');
    const signed = body.find((j) => j.state === 'signed')!;
    const response = await app.request(`/api/jobs/${signed.id}/record.pdf`, { headers: { host: 'localhost' } });
    const path = join(folder, 'record.pdf');
    writeFileSync(path, Buffer.from(await response.arrayBuffer()));
    const text = execFileSync('pdftotext', ['-layout', path, '-'], { encoding: 'utf8' });
    for (const words of [
      'Repair record',
      'Velmora Quill 5',
      'Battery with four strips',
      'Screws out',
      'G4 Proved before sealed',
      'Moisture rating',
      'Said by',
      'signed Ysolde Marrin',
      'made-up data',
    ])
      expect(text).toContain(words);
  });
});

describe('house rules', () => {
  it('are named sets, one of them in use; new jobs are planned by it', async () => {
    const {
      body: [first],
    } = await ask<RuleSet[]>('/api/rules');
    expect(first).toMatchObject({ chosen: true });
    const { body: made, status } = await ask<RuleSet>('/api/rules', {
      name: 'Van',
      rules: { ...first!.rules, heat: 'gun', lacks: ['clips'] },
    });
    expect(status).toBe(201);
    expect(await ask('/api/rules', { name: 'Van', rules: first!.rules })).toMatchObject({
      status: 422,
      body: { error: expect.stringContaining('already') },
    });
    expect(await ask('/api/rules', { name: 'Odd', rules: { heat: 'sun' } })).toMatchObject({
      status: 422,
      body: { error: expect.stringContaining('heat') },
    });
    await ask(`/api/rules/${made.id}/choose`, {});
    expect((await takeIn({ anatomy: 'velmora-quill-5', replace: ['battery'] })).job.plan!.rules.heat).toBe('gun');
    expect(
      (
        await ask(`/api/rules/${made.id}`, undefined, {
          method: 'DELETE',
          headers: { 'If-Match': '1' },
        })
      ).status,
    ).toBe(409);
    await ask(`/api/rules/${first!.id}/choose`, {});
    expect(
      (
        await ask(`/api/rules/${made.id}`, undefined, {
          method: 'DELETE',
          headers: { 'If-Match': '1' },
        })
      ).status,
    ).toBe(200);
  });
});

describe('planning on', () => {
  it('tells what would change, and keeps it only when asked', async () => {
    const { job } = await takeIn();
    expect(await ask(`/api/jobs/${job.id}/plan-on`, { by: 'Tobin Hask', keep: false })).toMatchObject({
      status: 409,
      body: { error: expect.stringContaining('not begun') },
    });
    await ask(`/api/jobs/${job.id}/events`, {
      events: [event(1, { type: 'step-done', step: job.plan!.steps[0]!.id })],
    });
    const told = await ask<{ added: unknown[] }>(`/api/jobs/${job.id}/plan-on`, {
      by: 'Tobin Hask',
      keep: false,
      replace: ['main-camera', 'flash'],
    });
    expect(told.body.added.length).toBeGreaterThan(0);
    expect((await ask<JobFile>(`/api/jobs/${job.id}`)).body.events).toHaveLength(1);
    const kept = { by: 'Tobin Hask', keep: true, replace: ['main-camera', 'flash'] };
    expect((await ask(`/api/jobs/${job.id}/plan-on`, kept)).status).toBe(428);
    expect((await ask(`/api/jobs/${job.id}/plan-on`, kept, on(7))).status).toBe(412);
    await ask(`/api/jobs/${job.id}/plan-on`, kept, on(0));
    const { events } = (await ask<JobFile>(`/api/jobs/${job.id}`)).body;
    expect(events.at(-1)).toMatchObject({ type: 'replanned', seq: 2, kept: [job.plan!.steps[0]!.id] });
    expect((await ask<JobSummary[]>('/api/jobs')).body.find((j) => j.id === job.id)).toMatchObject({
      done: 1,
      replace: expect.arrayContaining(['Flash module']),
    });
  });
  it('a sender cannot make a plan of its own', async () => {
    const { job } = await takeIn();
    expect(
      await ask(`/api/jobs/${job.id}/events`, {
        events: [{ ...event(1, { type: 'step-done', step: job.plan!.steps[0]!.id }), type: 'replanned' }],
      }),
    ).toMatchObject({ status: 422, body: { error: expect.stringContaining('type') } });
  });
  it('an edited anatomy with faults is refused with its paths', async () => {
    const { job, anatomy } = await takeIn();
    await ask(`/api/jobs/${job.id}/events`, {
      events: [event(1, { type: 'step-done', step: job.plan!.steps[0]!.id })],
    });
    const bad = structuredClone(anatomy);
    bad.fasteners[0]!.holeDepth = 0.2;
    expect(await ask(`/api/jobs/${job.id}/plan-on`, { by: 'T', keep: false, anatomy: bad })).toMatchObject({
      status: 422,
      body: { faults: [expect.objectContaining({ path: 'fasteners[0].holeDepth' })] },
    });
  });
});

describe('screws', () => {
  it('the map is served as PDF and SVG, and an unknown paper refused', async () => {
    const get = (path: string) => app.request(path, { headers: { host: 'localhost' } });
    expect((await get('/api/screws/map/velmora-quill-5.pdf?paper=Letter')).headers.get('content-type')).toBe(
      'application/pdf',
    );
    expect(await (await get('/api/screws/map/velmora-quill-5.svg?page=2')).text()).toContain('mirrored');
    expect(await ask('/api/screws/map/velmora-quill-5.pdf?paper=A9')).toMatchObject({
      status: 422,
      body: { error: expect.stringContaining('paper') },
    });
    expect((await ask('/api/screws/map/nothing.pdf')).status).toBe(404);
  });
  it('the stock counts down to nothing, and no further', async () => {
    const kind = { kind: 'screw', drive: 'T6', length: 4, thread: 2, head: 3.4, magnetic: true };
    await ask('/api/screws/stock', { ...kind, count: 1 });
    const { body } = await ask<StockItem[]>('/api/screws/stock', { ...kind, count: 1 });
    const item = body.find((s) => s.drive === 'T6')!;
    expect(item.count).toBe(2);
    for (const left of [1, 0])
      expect((await ask<StockItem>(`/api/screws/stock/${item.id}/use`, {})).body.count).toBe(left);
    expect(await ask(`/api/screws/stock/${item.id}/use`, {})).toMatchObject({
      status: 409,
      body: { error: expect.stringContaining('none') },
    });
    expect(await ask('/api/screws/stock', { ...kind, length: -1, count: 1 })).toMatchObject({
      status: 422,
      body: { error: expect.stringContaining('length') },
    });
  });
  it('the stand-in for a torque driver behaves as a driver would', async () => {
    const screw = { length: 3, thread: 1.4, torque: 9 };
    const verdicts = new Set<string>();
    const draw = seededDraw(5);
    for (let k = 0; k < 80; k++) {
      const samples: TorqueSample[] = [];
      for await (const sample of simulatedTorqueDriver(() => draw(1_000_000) / 1_000_000, 0).drive(screw))
        samples.push(sample);
      verdicts.add(judgeTorque(screw, samples).verdict);
    }
    expect([...verdicts].sort()).toEqual(['cross-threaded', 'good', 'over']);
  });
});

describe('who may ask', () => {
  it('answers to loopback names only, so that no other page can read the shop', async () => {
    expect((await ask('/api/jobs', undefined, { headers: { host: 'shop.example:4310' } })).status).toBe(403);
  });
  it('sends secure headers and no inline scripts', async () => {
    const { headers } = await ask('/api/shop');
    expect(headers.get('content-security-policy')).toMatch(/script-src 'self';/);
    expect(headers.get('x-content-type-options')).toBe('nosniff');
  });
  it('never listens beyond loopback without a passcode', () => {
    expect(() => configFrom({ NIBREL_HOST: '0.0.0.0' }, folder)).toThrow(/NIBREL_PASSCODE/);
    expect(() => configFrom({ NIBREL_HOST: '0.0.0.0', NIBREL_PASSCODE: 'abc' }, folder)).toThrow(/at least 6/);
    expect(() => configFrom({ NIBREL_PORT: 'x' }, folder)).toThrow(/port number/);
    expect(configFrom({}, folder)).toMatchObject({ host: '127.0.0.1', passcode: null });
  });
  it('asks for the passcode when one is set, and counts the tries', async () => {
    const guarded = createApp(services, { ...config, host: '0.0.0.0', passcode: 'quayside' });
    const sign = (passcode: string) =>
      guarded.request('/api/sign-in', {
        method: 'POST',
        body: JSON.stringify({ passcode }),
        headers: { 'Content-Type': 'application/json' },
      });
    expect((await guarded.request('/api/jobs')).status).toBe(401);
    expect((await sign('guess')).status).toBe(401);
    const cookie = (await sign('quayside')).headers.get('set-cookie')!;
    expect(cookie).toMatch(/HttpOnly/i);
    expect((await guarded.request('/api/jobs', { headers: { cookie: cookie.split(';')[0]! } })).status).toBe(200);
    for (let i = 0; i < 12; i++) await sign('guess');
    expect((await sign('quayside')).status).toBe(429);
  });
  it('a fault of its own shows no stack', async () => {
    const broken = createApp(
      {
        ...services,
        jobs: {
          list: () => {
            throw new Error('secret detail');
          },
        } as never,
      },
      config,
    );
    const response = await broken.request('/api/jobs', { headers: { host: 'localhost' } });
    expect(response.status).toBe(500);
    expect(await response.text()).not.toContain('secret');
  });
});

describe('the database', () => {
  it('is durable: write-ahead log, full sync, foreign keys', () => {
    const sqlite = db.$client;
    expect(sqlite.pragma('journal_mode', { simple: true })).toBe('wal');
    expect(sqlite.pragma('synchronous', { simple: true })).toBe(2);
    expect(sqlite.pragma('foreign_keys', { simple: true })).toBe(1);
  });
  it('opens again with everything in it', () => {
    const again = openDb(join(folder, 'nibrel.sqlite'));
    expect(servicesOf(again.db, folder).jobs.ids().length).toBeGreaterThan(5);
    again.close();
    expect(readFileSync(join(folder, 'nibrel.sqlite')).subarray(0, 15).toString()).toBe('SQLite format 3');
  });
});
