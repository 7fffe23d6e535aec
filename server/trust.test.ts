import { randomUUID } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import type { JobFile, JobSummary } from '../core/jobs/index.ts';
import { createApp } from './app.ts';
import { servicesOf } from './services.ts';
import { demoServer } from './trial.ts';

/**
 * What a shop must be able to trust, point by point, against the interface that programs see.
 * The letter and number name the point: A the log, B who may do what, C the shop's data.
 */
const { close, app, config, db, folder } = demoServer('trust');

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
const planAnew = (job: string, part: string, seen = 0) =>
  ask(`/api/jobs/${job}/plan`, { replace: [part] }, { 'If-Match': `"${seen}"` });
const send = (job: string, ...events: object[]) => ask(`/api/jobs/${job}/events`, { events });

describe('A the log', () => {
  it('A1 every step has an id that names its work and outlives a change of plan', async () => {
    const { job } = await takeIn();
    const ids = job.plan!.steps.map((s) => s.id);
    expect(ids.every((id) => typeof id === 'string' && id !== '')).toBe(true);
    expect(new Set(ids).size).toBe(ids.length);
  });
  it('A1 a plan that is replaced before the run is an event that other screens hear of', async () => {
    const { job } = await takeIn();
    await planAnew(job.id, 'battery');
    expect((await fileOf(job.id)).events.map((e) => e.type as string)).toContain('planned');
  });
  it('A1 of two plans made at once on the same device one is kept, and a note between them hinders neither', async () => {
    const { job } = await takeIn();
    const plans = ['battery', 'main-camera'].map((part) => planAnew(job.id, part));
    await send(job.id, event(1, { type: 'note', step: null, text: 'Scratched.' }));
    expect((await Promise.all(plans)).map((p) => p.status).sort()).toEqual([200, 409]);
    expect((await fileOf(job.id)).events.map((e) => e.type)).toEqual(['note', 'planned']);
  });
  it('B3 a plan, and the device as it is, are changed only by who has seen how they are now', async () => {
    const { job, anatomy } = await takeIn();
    const edit = (name: string, seen?: number) => {
      const next = structuredClone(anatomy);
      next.parts.find((p) => p.id === 'battery')!.name = name;
      const json = { anatomy: next, item: 'battery', because: 'as it is' };
      return ask(`/api/jobs/${job.id}/anatomy`, json, seen === undefined ? {} : { 'If-Match': `"${seen}"` });
    };
    expect((await ask(`/api/jobs/${job.id}/plan`, { replace: ['battery'] })).status).toBe(428);
    expect((await edit('Cell')).status).toBe(428);
    await planAnew(job.id, 'battery');
    expect((await planAnew(job.id, 'main-camera')).status).toBe(412);
    await send(job.id, event(2, { type: 'note', step: null, text: 'Nothing of the plan.' }));
    expect((await edit('Cell', 1)).status).toBe(200);
    expect((await edit('Another cell', 1)).status).toBe(412);
    expect((await planAnew(job.id, 'main-camera', 1)).status).toBe(412);
    expect((await planAnew(job.id, 'main-camera', 3)).status).toBe(200);
    const { events } = await fileOf(job.id);
    expect(events.map((e) => e.type)).toEqual(['planned', 'note', 'anatomy-edited', 'planned']);
  });
  it('A1 an event made against the older plan is refused with what was missed', async () => {
    const { job } = await takeIn();
    await planAnew(job.id, 'battery');
    const step = job.plan!.steps[0]!;
    const late = await send(job.id, event(1, { type: 'step-done', step: step.id, version: 1 }));
    expect(late).toMatchObject({ status: 409, body: { missed: [{ type: 'planned' }] } });
  });
  it('A2 an event that is refused is named, and what stood before it is stored', async () => {
    const { job } = await takeIn();
    const good = event(1, { type: 'note', step: null, text: 'First.' });
    const bad = event(2, { type: 'note', step: 'no-such-step', text: 'Second.' });
    const answer = await send(job.id, good, bad);
    expect(answer.body).toMatchObject({ refused: { id: bad.id } });
    expect((await fileOf(job.id)).events.map((e) => e.id)).toEqual([good.id]);
  });
  it('A3 a time beyond the calendar is not taken in', async () => {
    const { job } = await takeIn();
    await send(job.id, event(1, { type: 'note', step: null, text: 'Far off.' }, '+275760-09-13T00:00:00Z'));
    const [stored] = (await fileOf(job.id)).events;
    expect(Math.abs(Date.parse(stored!.at) - Date.now())).toBeLessThan(60_000);
  });
  it('A3 a note from a tablet that is an hour fast or slow bears the time of the server', async () => {
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
  it('A4 a wait is that of its step: forged ones are refused', async () => {
    const { job } = await takeIn();
    const first = job.plan!.steps.find((s) => s.waits > 0)!;
    const start = (rest: object) => send(job.id, event(1, { type: 'timer-started', step: first.id, ...rest }));
    expect((await start({ seconds: 0 })).status).toBe(422);
    expect((await start({ seconds: first.waits, timer: 'another' })).status).toBe(422);
    const other = job.plan!.steps.find((s) => s.waits === 0)!;
    expect((await start({ step: other.id, seconds: 60 })).status).toBe(422);
    expect((await start({ seconds: first.waits })).status).toBe(200);
  });
  it('A4 a test carries its circumstance', async () => {
    const { job, anatomy } = await takeIn();
    await send(job.id, event(1, { type: 'test', function: anatomy.functions[0]!.id, outcome: 'pass', reason: '' }));
    expect((await fileOf(job.id)).events[0]).toHaveProperty('circumstance');
  });
  it('A6 work does not begin before what is lost was agreed', async () => {
    const { job } = await takeIn({ anatomy: 'velmora-quill-5', replace: ['display'], spares: ['display-bare'] });
    expect(job.plan!.losses.length).toBeGreaterThan(0);
    const first = job.plan!.steps[0]!;
    const step = first.id;
    const begin = { type: 'timer-started', step, seconds: first.waits };
    const answer = await send(job.id, event(1, first.waits > 0 ? begin : { type: 'step-done', step }));
    expect(answer.status).toBe(422);
  });
  it('A7 a device that may not be opened can be noted and photographed', async () => {
    const { job } = await takeIn({ triage: ['swollen'], replace: [] });
    const answer = await send(job.id, event(1, { type: 'note', step: null, text: 'In the sand box.' }));
    expect(answer.status).toBe(200);
  });
  it('A7 a device that is in no list is taken in', async () => {
    const file = await takeIn({ anatomy: null, device: 'Unmarked tablet, about 200 by 130', replace: [] });
    expect(file.job?.id).toBeTypeOf('string');
  });
  it('A8 names of the language itself are no event types', async () => {
    const { job } = await takeIn();
    for (const type of ['toString', 'constructor', '__proto__']) {
      expect((await send(job.id, event(1, { type }))).status).toBe(422);
    }
  });
  it('A8 the same id twice, or of another job, is answered', async () => {
    const [a, b] = [await takeIn(), await takeIn()];
    const one = event(1, { type: 'note', step: null, text: 'Once.' });
    const twice = await send(a.job.id, one, { ...one, seq: 2 });
    expect(twice.status).toBe(200);
    const other = await send(b.job.id, one);
    expect(other.status).toBe(422);
  });
  it('A8 a job that cannot be read is shown as such, and the rest of the list with it', async () => {
    const { job } = await takeIn();
    db.$client.prepare('UPDATE jobs SET plan = ?, summary = NULL WHERE id = ?').run('{"schema":"broken"}', job.id);
    // Another server over the same data, as after a restart.
    const again = servicesOf(db, folder);
    const list = await createApp(again, config).request('/api/jobs', { headers: { host: 'localhost' } });
    const lines = (await list.json()) as JobSummary[];
    await again.close();
    expect(list.status).toBe(200);
    expect(lines.length).toBeGreaterThan(5);
    expect(lines.find((j) => j.id === job.id)).toMatchObject({ state: 'unreadable' });
  });
});

describe('B who may do what', () => {
  it('B1 a request that changes something is refused from another origin', async () => {
    const { job } = await takeIn();
    const note = { events: [event(1, { type: 'note', step: null, text: 'Not mine.' })] };
    const from = { origin: 'http://elsewhere.example', 'sec-fetch-site': 'cross-site' };
    expect((await ask(`/api/jobs/${job.id}/events`, note, from)).status).toBe(403);
    const plain = await ask(`/api/jobs/${job.id}/events`, note, { 'Content-Type': 'text/plain' });
    expect([403, 415]).toContain(plain.status);
  });
  it('B5 an asset that is missing is not found', async () => {
    mkdirSync(config.web, { recursive: true });
    writeFileSync(join(config.web, 'index.html'), '<!doctype html>');
    const page = await app.request('/assets/gone-123.js', { headers: { host: '127.0.0.1' } });
    expect(page.status).toBe(404);
    expect(page.headers.get('cache-control') ?? '').not.toContain('immutable');
    expect((await app.request('/mark.svg', { headers: { host: '127.0.0.1' } })).status).toBe(404);
    expect((await app.request('/jobs/any', { headers: { host: '127.0.0.1' } })).status).toBe(200);
  });
});

describe('C the shop’s data', () => {
  it('C3 a double press takes in one job', async () => {
    const key = randomUUID();
    const body = { anatomy: 'tannbrook-field-3', customer: 'Twice Told', complaint: '', by: 'Tobin Hask' };
    const both = await Promise.all(
      [1, 2].map(() => ask<JobFile>('/api/jobs', { ...body, replace: ['main-camera'] }, { 'Idempotency-Key': key })),
    );
    expect(both[0]!.body.job.id).toBe(both[1]!.body.job.id);
  });
});
