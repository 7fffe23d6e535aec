import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import type { JobFile, JobSummary } from '../core/jobs/index.ts';
import type { RunEvent } from '../core/run/index.ts';
import { openDb } from '../server/db/open.ts';
import { Server } from '../e2e/harness.ts';
import { agent, ask } from './http.ts';
import type { Table } from './report.ts';

const BENCHES = 50;
const BATCH = 100;
/** Events that are made durable, one or a batch in each request. */
const EVENTS = { single: 4000, batched: 40_000 } as const;
const eventsBy = (batch: number): number => (batch === 1 ? EVENTS.single : EVENTS.batched);
/** Events a second of each bench, and for how long, s. */
const PACE = { perSecond: 5, seconds: 8 } as const;
const MANY_JOBS = 5000;

async function post<T>(url: string, body: unknown): Promise<T> {
  const { status, text } = await ask(url, body);
  if (status !== 200 && status !== 201) throw new Error(`${status}: ${text}`);
  return JSON.parse(text) as T;
}

const reading = (seq: number) => ({
  id: randomUUID(),
  seq,
  at: new Date().toISOString(),
  type: 'reading' as const,
  sensor: 'bench',
  value: 20 + (seq % 100) / 10,
  unit: '°C',
});

async function takeIn(url: string, count: number): Promise<string[]> {
  const intake = { anatomy: 'tannbrook-field-3', customer: 'Bench', complaint: '', replace: ['main-camera'] };
  const jobs: string[] = [];
  for (let i = 0; i < count; i++) jobs.push((await post<JobFile>(`${url}/api/jobs`, intake)).job.id);
  return jobs;
}

/** How many events each job has. */
async function lengths(url: string, jobs: readonly string[]): Promise<number[]> {
  const files = jobs.map(async (job) => (await (await fetch(`${url}/api/jobs/${job}`)).json()) as JobFile);
  return (await Promise.all(files)).map((file) => file.events.length);
}

/** Events a second that all benches together make durable, `batch` in one request. */
async function throughput(url: string, jobs: readonly string[], batch: number): Promise<number> {
  const each = Math.ceil(eventsBy(batch) / jobs.length / batch) * batch;
  const had = await lengths(url, jobs);
  const from = performance.now();
  await Promise.all(
    jobs.map(async (job, k) => {
      for (let seq = had[k]! + 1, sent = 0; sent < each; sent += batch, seq += batch) {
        const events = Array.from({ length: batch }, (_, i) => reading(seq + i));
        await post(`${url}/api/jobs/${job}/events`, { events });
      }
    }),
  );
  return (each * jobs.length) / ((performance.now() - from) / 1000);
}

/** The same rows on the bare driver with the same pragmas, each committed by itself. */
function bareDriver(folder: string, batch: number): number {
  const bare = new Database(join(folder, `bare-${batch}.sqlite`));
  for (const pragma of ['journal_mode = WAL', 'synchronous = FULL', 'foreign_keys = ON']) bare.pragma(pragma);
  bare.exec(
    'create table events (job text not null, seq integer not null, id text not null unique, at text ' +
      'not null, by text not null, type text not null, body text not null, primary key (job, seq))',
  );
  const insert = bare.prepare('insert into events values (?, ?, ?, ?, ?, ?, ?)');
  const many = bare.transaction((from: number) => {
    for (let seq = from; seq < from + batch; seq++) {
      const { id, at, type, ...body } = reading(seq);
      insert.run('job', seq, id, at, 'Bench', type, JSON.stringify(body));
    }
  });
  const rows = eventsBy(batch);
  const from = performance.now();
  for (let seq = 1; seq <= rows; seq += batch) many(seq);
  const rate = rows / ((performance.now() - from) / 1000);
  bare.close();
  return rate;
}

/** Fifty benches at work: how long each event takes, and whether a listener hears all of them in order. */
async function atWork(url: string, jobs: readonly string[]): Promise<{ p50: number; p99: number; lost: number }> {
  const heard = new Map<string, number[]>();
  const stop = new AbortController();
  const watched = jobs.map((job) => `${job}:9999999`).join();
  const stream = await fetch(`${url}/api/live?jobs=${watched}`, { signal: stop.signal });
  const listening = (async () => {
    let text = '';
    for await (const chunk of stream.body!) {
      text += new TextDecoder().decode(chunk);
      for (let end = text.indexOf('\n\n'); end >= 0; end = text.indexOf('\n\n')) {
        const data = /^data: (.*)$/m.exec(text.slice(0, end))?.[1];
        text = text.slice(end + 2);
        if (!data?.startsWith('{')) continue;
        const message = JSON.parse(data) as { kind: string; event?: RunEvent };
        if (message.event) heard.set(message.event.job, [...(heard.get(message.event.job) ?? []), message.event.seq]);
      }
    }
  })().catch(() => {});
  const took: number[] = [];
  const starts = await lengths(url, jobs);
  await Promise.all(
    jobs.map(async (job, k) => {
      await new Promise((resolve) => setTimeout(resolve, (k * 1000) / PACE.perSecond / jobs.length));
      for (let i = 1; i <= PACE.perSecond * PACE.seconds; i++) {
        const from = performance.now();
        await post(`${url}/api/jobs/${job}/events`, { events: [reading(starts[k]! + i)] });
        took.push(performance.now() - from);
        await new Promise((resolve) =>
          setTimeout(resolve, Math.max(0, 1000 / PACE.perSecond - (performance.now() - from))),
        );
      }
    }),
  );
  await new Promise((resolve) => setTimeout(resolve, 500));
  stop.abort();
  await listening;
  let lost = 0;
  for (const [k, job] of jobs.entries()) {
    const expected = Array.from({ length: PACE.perSecond * PACE.seconds }, (_, i) => starts[k]! + i + 1);
    if (JSON.stringify(heard.get(job)) !== JSON.stringify(expected)) lost++;
  }
  took.sort((a, b) => a - b);
  return { p50: took[Math.floor(took.length * 0.5)]!, p99: took[Math.floor(took.length * 0.99)]!, lost };
}

/** Times that the server is killed while all benches send. */
const KILLS = 8;

/**
 * Kills the server while all benches send as fast as they can, and starts it again: what it had acknowledged has to be
 * there, each event once, in order.
 */
async function killed(server: Server, jobs: readonly string[]): Promise<{ acknowledged: number; lost: number }> {
  const acknowledged = new Map<string, Set<string>>(jobs.map((job) => [job, new Set()]));
  let lost = 0;
  for (let round = 0; round < KILLS; round++) {
    const had = await lengths(server.url, jobs);
    const sent = jobs.map(async (job, k) => {
      for (let seq = had[k]! + 1; ; seq++) {
        const event = reading(seq);
        await post(`${server.url}/api/jobs/${job}/events`, { events: [event] });
        acknowledged.get(job)!.add(event.id);
      }
    });
    const over = Promise.allSettled(sent);
    // Somewhere within a second, at another moment each time.
    await new Promise((resolve) => setTimeout(resolve, 200 + Math.random() * 800));
    await server.kill();
    await over;
    await server.start();
  }
  for (const job of jobs) {
    const { events } = (await (await fetch(`${server.url}/api/jobs/${job}`)).json()) as JobFile;
    const there = new Set(events.map((e) => e.id));
    for (const id of acknowledged.get(job)!) if (!there.has(id)) lost++;
    if (there.size !== events.length || events.some((e, i) => e.seq !== i + 1)) lost++;
  }
  return { acknowledged: [...acknowledged.values()].reduce((sum, ids) => sum + ids.size, 0), lost };
}

/** Many jobs of one kind, written straight into the data of a server that is down. */
function fill(data: string, job: string): void {
  const { db, close } = openDb(join(data, 'nibrel.sqlite'));
  const sqlite = db.$client;
  const number = sqlite.prepare('SELECT max(number) FROM jobs').pluck().get() as number;
  const columns = (sqlite.prepare('PRAGMA table_info(jobs)').all() as { name: string }[]).map((c) => c.name);
  const kept = columns.filter((c) => !['id', 'number', 'key'].includes(c));
  const copy = sqlite.prepare(
    `INSERT INTO jobs (id, number, ${kept.join(', ')}) SELECT ?, ?, ${kept.join(', ')} FROM jobs WHERE id = ?`,
  );
  sqlite.transaction(() => {
    for (let i = 1; i <= MANY_JOBS; i++) copy.run(randomUUID(), number + i, job);
  })();
  close();
}

async function firstList(url: string): Promise<{ ms: number; jobs: number }> {
  const from = performance.now();
  const jobs = (await (await fetch(`${url}/api/jobs`)).json()) as JobSummary[];
  return { ms: performance.now() - from, jobs: jobs.length };
}

/** Events made durable over HTTP beside the same rows on the bare driver, fifty benches at work, and a long list of jobs. */
export async function durabilityBench(): Promise<Table> {
  const folder = mkdtempSync(join(tmpdir(), 'nibrel-bench-'));
  const server = await new Server().start();
  try {
    const jobs = await takeIn(server.url, BENCHES);
    await throughput(server.url, jobs, 1);
    const [single, bare] = [await throughput(server.url, jobs, 1), bareDriver(folder, 1)];
    const [batches, bareBatches] = [await throughput(server.url, jobs, BATCH), bareDriver(folder, BATCH)];
    const busy = await atWork(server.url, jobs);
    const kills = await killed(server, jobs);
    await server.stop();
    const [fresh] = await startAgain(server);
    const untouched = (await takeIn(fresh!, 1))[0]!;
    await firstList(fresh!);
    await server.stop();
    fill(server.data, untouched);
    // The lines are computed once; what is measured is the first list after a restart.
    await startAgain(server);
    const cold = await firstList(server.url);
    await server.stop();
    await startAgain(server);
    const list = await firstList(server.url);
    const row = (name: string, rate: number, driver: number): string[] => [
      name,
      `${rate.toFixed(0)} events/s`,
      (rate / driver).toFixed(2),
    ];
    return {
      title: 'Durable events over HTTP',
      note:
        `${EVENTS.single} events, ${EVENTS.batched} in batches, ${BENCHES} connections, synchronous=FULL: ` +
        `checked, admitted, folded and told on our side, bare inserts on the other, in one run. Then ${BENCHES} ` +
        `benches with ${PACE.perSecond} events a second each, and the first list of ${list.jobs} jobs after a restart.`,
      columns: ['what', 'measured', 'share of the bare driver'],
      rows: [
        row('one event a request', single, bare),
        row(`${BATCH} events a request`, batches, bareBatches),
        ['bare driver, one a commit', `${bare.toFixed(0)} events/s`, '1.00'],
        [`bare driver, ${BATCH} a commit`, `${bareBatches.toFixed(0)} events/s`, '1.00'],
        [`${BENCHES} benches at work, median`, `${busy.p50.toFixed(1)} ms`, ''],
        [`${BENCHES} benches at work, 99th percentile`, `${busy.p99.toFixed(1)} ms`, ''],
        ['benches whose listener missed something', String(busy.lost), ''],
        [`acknowledged while killed ${KILLS} times (SIGKILL)`, `${kills.acknowledged} events`, ''],
        ['of them lost, doubled or out of order', String(kills.lost), ''],
        [`first list of ${list.jobs} jobs, lines computed`, `${cold.ms.toFixed(0)} ms`, ''],
        [`first list of ${list.jobs} jobs, lines stored`, `${list.ms.toFixed(0)} ms`, ''],
      ],
    };
  } finally {
    await server.stop();
    agent.destroy();
    rmSync(folder, { recursive: true, force: true });
  }
}

async function startAgain(server: Server): Promise<string[]> {
  await server.start();
  return [server.url];
}
