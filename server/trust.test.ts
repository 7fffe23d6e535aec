import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { JobFile, JobSummary } from '../core/jobs/index.ts';
import { seedDemo } from './seed.ts';
import { trialServer } from './trial.ts';

/**
 * What a shop must be able to trust, point by point, against the interface that programs see.
 * The letter and number name the point: A the log, B who may do what, C the shop's data.
 */
const { close, services, app, db } = trialServer('trust');
const sqlite = (db as unknown as { $client: { prepare: (sql: string) => { run: (...values: unknown[]) => unknown } } })
  .$client;
beforeAll(() => seedDemo(services));
afterAll(close);

async function ask<T = Record<string, unknown>>(path: string, json?: unknown, headers: Record<string, string> = {}) {
  const response = await app.request(path, {
    ...(json !== undefined ? { method: 'POST', body: JSON.stringify(json) } : {}),
    headers: {
      host: '127.0.0.1:4310',
      ...(json !== undefined ? { 'Content-Type': 'application/json' } : {}),
      ...headers,
    },
  });
  const text = await response.text();
  return { status: response.status, body: (/^[[{]/.test(text) ? JSON.parse(text) : text) as T };
}

const takeIn = async (rest: object = {}): Promise<JobFile> =>
  (
    await ask<JobFile>('/api/jobs', {
      anatomy: 'tannbrook-field-3',
      customer: 'Wren Calloway',
      complaint: 'Dark pictures.',
      by: 'Tobin Hask',
      replace: ['main-camera'],
      ...rest,
    })
  ).body;
const fileOf = async (id: string) => (await ask<JobFile>(`/api/jobs/${id}`)).body;
const event = (seq: number, body: object, at = new Date().toISOString()) => ({
  id: randomUUID(),
  seq,
  at,
  by: 'Tobin Hask',
  ...body,
});
const send = (job: string, ...events: object[]) => ask(`/api/jobs/${job}/events`, { events });

describe('A the log', () => {
  it.fails('A1 every step has an id that names its work and outlives a change of plan', async () => {
    const { job } = await takeIn();
    const ids = job.plan!.steps.map((s) => (s as unknown as { id?: string }).id);
    expect(ids.every((id) => typeof id === 'string' && id !== '')).toBe(true);
    expect(new Set(ids).size).toBe(ids.length);
  });
  it.fails('A1 a plan that is replaced before the run is an event that other screens hear of', async () => {
    const { job } = await takeIn();
    await ask(`/api/jobs/${job.id}/plan`, { replace: ['battery'] });
    expect((await fileOf(job.id)).events.map((e) => e.type as string)).toContain('planned');
  });
  it.fails('A1 an event made against the older plan is refused with what was missed', async () => {
    const { job } = await takeIn();
    await ask(`/api/jobs/${job.id}/plan`, { replace: ['battery'] });
    const late = await send(job.id, event(1, { type: 'step-done', step: 1 }));
    expect(late).toMatchObject({ status: 409, body: { missed: [{ type: 'planned' }] } });
  });
  it.fails('A2 an event that is refused is named, and what stood before it is stored', async () => {
    const { job } = await takeIn();
    const good = event(1, { type: 'note', step: null, text: 'First.' });
    const bad = event(2, { type: 'note', step: 'no-such-step', text: 'Second.' });
    const answer = await send(job.id, good, bad);
    expect(answer.body).toMatchObject({ refused: { id: bad.id } });
    expect((await fileOf(job.id)).events.map((e) => e.id)).toEqual([good.id]);
  });
  it.fails('A3 a time beyond the calendar is not taken in', async () => {
    const { job } = await takeIn();
    await send(job.id, event(1, { type: 'note', step: null, text: 'Far off.' }, '+275760-09-13T00:00:00Z'));
    const [stored] = (await fileOf(job.id)).events;
    expect(Math.abs(Date.parse(stored!.at) - Date.now())).toBeLessThan(60_000);
  });
  it.fails('A3 a note from a tablet that is an hour fast or slow bears the time of the server', async () => {
    const { job } = await takeIn();
    for (const [i, off] of [3600_000, -3600_000].entries()) {
      await send(
        job.id,
        event(i + 1, { type: 'note', step: null, text: 'x' }, new Date(Date.now() + off).toISOString()),
      );
    }
    const times = (await fileOf(job.id)).events.map((e) => Date.parse(e.at));
    expect(times).toHaveLength(2);
    for (const at of times) expect(Math.abs(at - Date.now())).toBeLessThan(10_000);
  });
  it.fails('A4 a wait is that of its step: forged ones are refused', async () => {
    const { job } = await takeIn();
    const first = job.plan!.steps.find((s) => s.waits > 0)!;
    const at = (first as unknown as { id?: string }).id ?? first.n;
    const answer = await send(
      job.id,
      event(1, { type: 'timer-started', timer: `step-${first.n}`, step: at, seconds: 0 }),
    );
    expect(answer.status).toBe(422);
  });
  it.fails('A4 a test carries its circumstance', async () => {
    const { job, anatomy } = await takeIn();
    await send(job.id, event(1, { type: 'test', function: anatomy.functions[0]!.id, outcome: 'pass', reason: '' }));
    expect((await fileOf(job.id)).events[0]).toHaveProperty('circumstance');
  });
  it.fails('A6 work does not begin before what is lost was agreed', async () => {
    const { job } = await takeIn({ anatomy: 'velmora-quill-5', replace: ['display'], spares: ['display-bare'] });
    expect(job.plan!.losses.length).toBeGreaterThan(0);
    const first = job.plan!.steps[0]!;
    const step = (first as unknown as { id?: string }).id ?? first.n;
    const begin = { type: 'timer-started', timer: `step-${first.n}`, step, seconds: first.waits };
    const answer = await send(job.id, event(1, first.waits > 0 ? begin : { type: 'step-done', step }));
    expect(answer.status).toBe(422);
  });
  it.fails('A7 a device that may not be opened can be noted and photographed', async () => {
    const { job } = await takeIn({ triage: ['swollen'], replace: [] });
    const answer = await send(job.id, event(1, { type: 'note', step: null, text: 'In the sand box.' }));
    expect(answer.status).toBe(200);
  });
  it.fails('A7 a device that is in no list is taken in', async () => {
    const file = await takeIn({ anatomy: null, device: 'Unmarked tablet, about 200 by 130', replace: [] });
    expect(file.job?.id).toBeTypeOf('string');
  });
  it.fails('A8 names of the language itself are no event types', async () => {
    const { job } = await takeIn();
    for (const type of ['toString', 'constructor', '__proto__']) {
      expect((await send(job.id, event(1, { type }))).status).toBe(422);
    }
  });
  it.fails('A8 the same id twice, or of another job, is answered', async () => {
    const [a, b] = [await takeIn(), await takeIn()];
    const one = event(1, { type: 'note', step: null, text: 'Once.' });
    const twice = await send(a.job.id, one, { ...one, seq: 2 });
    expect(twice.status).toBe(200);
    const other = await send(b.job.id, one);
    expect(other.status).toBe(422);
  });
  it.fails('A8 a job that cannot be read is shown as such, and the rest of the list with it', async () => {
    const { job } = await takeIn();
    sqlite.prepare('UPDATE jobs SET plan = ? WHERE id = ?').run('{"schema":"broken"}', job.id);
    sqlite.prepare("UPDATE jobs SET summary = NULL WHERE id = ? AND 'x' = 'x'").run(job.id);
    const list = await ask<JobSummary[]>('/api/jobs');
    expect(list.status).toBe(200);
    expect(list.body.find((j) => j.id === job.id)).toMatchObject({ state: 'unreadable' });
  });
});

describe('B who may do what', () => {
  it.fails('B1 a request that changes something is refused from another origin', async () => {
    const { job } = await takeIn();
    const note = { events: [event(1, { type: 'note', step: null, text: 'Not mine.' })] };
    const from = { origin: 'http://elsewhere.example', 'sec-fetch-site': 'cross-site' };
    expect((await ask(`/api/jobs/${job.id}/events`, note, from)).status).toBe(403);
    const plain = await ask(`/api/jobs/${job.id}/events`, note, { 'Content-Type': 'text/plain' });
    expect([403, 415]).toContain(plain.status);
  });
  it.fails('B5 an asset that is missing is not found', async () => {
    expect((await app.request('/assets/gone-123.js', { headers: { host: '127.0.0.1' } })).status).toBe(404);
    const page = await app.request('/assets/gone-123.js', { headers: { host: '127.0.0.1' } });
    expect(page.headers.get('cache-control') ?? '').not.toContain('immutable');
    expect(await (await app.request('/jobs', { headers: { host: '127.0.0.1' } })).status).toBe(200);
  });
});

describe('C the shop’s data', () => {
  it.fails('C3 a double press takes in one job', async () => {
    const key = randomUUID();
    const body = { anatomy: 'tannbrook-field-3', customer: 'Twice Told', complaint: '', by: 'Tobin Hask' };
    const both = await Promise.all(
      [1, 2].map(() => ask<JobFile>('/api/jobs', { ...body, replace: ['main-camera'] }, { 'Idempotency-Key': key })),
    );
    expect(both[0]!.body.job.id).toBe(both[1]!.body.job.id);
  });
});
