import { randomBytes, randomUUID } from 'node:crypto';
import { get } from 'node:http';
import { join } from 'node:path';
import type { JobSummary } from '../core/jobs/index.ts';
import { Server } from '../e2e/harness.ts';
import { openDb } from '../server/db/open.ts';
import { agent, post } from './http.ts';
import { ms, quantile, ratio, type Table } from './report.ts';

/** Size of the data that are copied, MB, and commits a second beside it. */
const MEGABYTES = 100;
const PER_SECOND = 64;
/** Seconds that are watched without a backup. */
const ALONE_S = 5;
/** Events before anything is measured. */
const WARM = 200;

const fetched = (url: string): Promise<number> =>
  new Promise((resolve, reject) => {
    get(url, { agent: false }, (answer) => {
      let bytes = 0;
      answer.on('data', (chunk: Buffer) => {
        bytes += chunk.length;
      });
      answer.on('end', () => (answer.statusCode === 200 ? resolve(bytes) : reject(new Error(`${answer.statusCode}`))));
    }).on('error', reject);
  });

/** How long events take while all of the data go into one file, and how long that takes. */
export async function backupBench(): Promise<Table> {
  const server = await new Server().start();
  try {
    await server.stop();
    const { db, close } = openDb(join(server.data, 'nibrel.sqlite'));
    const put = db.$client.prepare('INSERT INTO settings (key, value) VALUES (?, ?)');
    db.$client.transaction(() => {
      for (let i = 0; i < MEGABYTES; i++) put.run(`filler-${i}`, JSON.stringify(randomBytes(500_000).toString('hex')));
    })();
    close();
    await server.start();
    const { url } = server;
    const jobs = (await (await fetch(`${url}/api/jobs`)).json()) as JobSummary[];
    const job = jobs.find((j) => j.state === 'ready')!.id;
    let seq = ((await (await fetch(`${url}/api/jobs/${job}`)).json()) as { events: unknown[] }).events.length;
    const record = async (): Promise<number> => {
      seq++;
      const event = { id: randomUUID(), seq, at: new Date().toISOString(), type: 'note', step: null, text: 'x' };
      const from = performance.now();
      const status = await post(`${url}/api/jobs/${job}/events`, { events: [event] });
      if (status !== 200) throw new Error(`a bench was answered ${status}`);
      return performance.now() - from;
    };
    const beside = async (on: () => boolean): Promise<number[]> => {
      const took: number[] = [];
      while (on()) {
        const from = performance.now();
        took.push(await record());
        await new Promise((r) => setTimeout(r, Math.max(0, 1000 / PER_SECOND - (performance.now() - from))));
      }
      return took;
    };
    for (let i = 0; i < WARM; i++) await record();
    const until = performance.now() + ALONE_S * 1000;
    const alone = await beside(() => performance.now() < until);
    let done = false;
    const from = performance.now();
    const making = fetched(`${url}/api/shop/backup.zip`).finally(() => {
      done = true;
    });
    const busy = await beside(() => !done);
    const bytes = await making;
    const seconds = (performance.now() - from) / 1000;
    const row = (what: string, took: number[]) => [
      what,
      took.length,
      ...[0.5, 0.99, 1].map((q) => ms(quantile(took, q))),
      ratio(quantile(took, 0.99) / quantile(alone, 0.99)),
    ];
    return {
      title: 'A backup beside the work of the shop',
      note:
        `${MEGABYTES} MB of data into one file of ${(bytes / 1e6).toFixed(0)} MB in ${seconds.toFixed(1)} s, beside ` +
        `${PER_SECOND} commits a second over HTTP. Aim: 99 of a hundred under 100 ms.`,
      columns: ['', 'events', 'median', '99th', 'longest', '99th against alone'],
      rows: [row('alone', alone), row('beside the backup', busy)],
    };
  } finally {
    await server.stop();
    agent.destroy();
  }
}
