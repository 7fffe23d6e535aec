import { randomUUID } from 'node:crypto';
import { afterAll, describe, expect, it } from 'vitest';
import { zigzagDevice } from '../demo/tiny.ts';
import { Pool } from './pool.ts';
import { demoServer } from './trial.ts';

const { services, app, close } = demoServer('pool');
afterAll(close);
const ask = (path: string, init: RequestInit = {}) =>
  app.request(path, { ...init, headers: { host: '127.0.0.1', 'Content-Type': 'application/json' } });

describe('A10 nothing computed blocks the server', () => {
  it('a bystander is answered at once beside depth tables, plans, checks and PDFs', async () => {
    const jobs = services.jobs.summaries();
    const signed = jobs.find((j) => j.state === 'signed')!.id;
    const post = (path: string, json: unknown) => ask(path, { method: 'POST', body: JSON.stringify(json) });
    const intake = { anatomy: 'tannbrook-field-3', customer: 'X', complaint: '', replace: ['board'] };
    let on = true;
    const busy = Promise.all([
      ask('/api/anatomies/velmora-quill-5/depth'),
      post('/api/jobs', intake),
      post('/api/anatomies', zigzagDevice(120)),
      ask(`/api/jobs/${signed}/record.pdf`),
    ]).finally(() => {
      on = false;
    });
    const job = jobs.find((j) => j.state === 'ready')!.id;
    let answered = 0;
    for (let seq = 1; on && seq < 400; seq++) {
      const event = { id: randomUUID(), seq, at: new Date().toISOString(), type: 'note', step: null, text: 'x' };
      expect((await post(`/api/jobs/${job}/events`, { events: [event] })).status).toBe(200);
      if (on) answered++;
      await new Promise((resolve) => setTimeout(resolve, 10));
    }
    const done = await busy;
    expect(done.map((r) => r.status)).toEqual([200, 201, expect.any(Number), 200]);
    // Answered while all that was still computed; how soon is told by the benchmarks.
    expect(answered).toBeGreaterThan(10);
  }, 120_000);
  it('what takes too long is stopped and said', async () => {
    const pool = new Pool(null, { computingMs: 1, inAllMs: 60_000 });
    const { anatomy } = services.anatomies.get('osterleigh-broadleaf-12');
    await expect(pool.run('depth', { anatomy })).rejects.toMatchObject({
      status: 503,
      body: { error: expect.stringContaining('longer than') },
    });
    await pool.close();
  });
  it('what nobody waits for any more is ended, before it begins and while it runs', async () => {
    const pool = new Pool();
    const { anatomy } = services.anatomies.get('osterleigh-broadleaf-12');
    const told = { status: 503, body: { error: expect.stringContaining('nobody waits') } };
    const gone = new AbortController();
    const running = expect(pool.run('depth', { anatomy }, gone.signal)).rejects.toMatchObject(told);
    setTimeout(() => gone.abort(), 20);
    await running;
    await expect(pool.run('depth', { anatomy }, gone.signal)).rejects.toMatchObject(told);
    await pool.close();
  });
  it('what is under way when the server stops, and what is asked after, is told so', async () => {
    const pool = new Pool();
    const { anatomy } = services.anatomies.get('osterleigh-broadleaf-12');
    const told = { status: 503, body: { error: expect.stringContaining('stopping') } };
    const underWay = expect(pool.run('depth', { anatomy })).rejects.toMatchObject(told);
    await pool.close();
    await underWay;
    await expect(pool.run('depth', { anatomy })).rejects.toMatchObject(told);
  });
  it('what would wait too long is refused at once', async () => {
    const pool = new Pool();
    const { anatomy } = services.anatomies.get('osterleigh-broadleaf-12');
    const asked = await Promise.allSettled(
      Array.from({ length: 60 }, () =>
        pool.run('depth', { anatomy }).catch((e) => {
          throw e;
        }),
      ).map((p) => Promise.race([p, new Promise((_, no) => setTimeout(() => no(new Error('waits')), 1500))])),
    );
    const refused = asked.filter((a) => a.status === 'rejected' && (a.reason as { status?: number }).status === 503);
    expect(refused.length).toBeGreaterThan(10);
    await pool.close();
  });
});
