import { spawn } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import type { JobSummary } from '../core/jobs/index.ts';
import { zigzagDevice } from '../demo/tiny.ts';
import { Server } from '../e2e/harness.ts';
import { agent, ask, post } from './http.ts';
import { ms, quantile, type Table } from './report.ts';

/** Pause between two requests of the bystander, ms. */
const EVERY_MS = 10;
/** Least time for which a load is watched, ms. */
const WATCHED_MS = 1500;
/** Requests before anything is measured. */
const WARM = 100;
/** What keeps one core busy for somebody else meanwhile: a program that counts. */
const COUNTING = 'for (;;);';

/** How long a bystander waits, who records something while the server computes for somebody else. */
export async function bystanderBench(): Promise<Table> {
  const server = await new Server().start();
  const other = spawn(process.execPath, ['-e', COUNTING], { stdio: 'ignore' });
  try {
    const api = `${server.url}/api`;
    const jobs = (await (await fetch(`${api}/jobs`)).json()) as JobSummary[];
    const signed = jobs.find((j) => j.state === 'signed')!.id;
    const job = jobs.find((j) => j.state === 'ready')!.id;
    let seq = ((await (await fetch(`${api}/jobs/${job}`)).json()) as { events: unknown[] }).events.length;
    const intake = { anatomy: 'osterleigh-broadleaf-12', customer: 'X', complaint: '', replace: ['board'] };
    // A table is kept once it is computed: each load asks for one of a device of its own.
    const depth = (device: string) => ask(`${api}/anatomies/${device}/depth`);
    const loads: [string, () => Promise<unknown>][] = [
      ['nothing else', async () => {}],
      ['the depth table of a tablet', () => depth('osterleigh-broadleaf-12')],
      ["the plan of a tablet's board", () => ask(`${api}/jobs`, intake)],
      ['the check of a bond with 300 corners', () => ask(`${api}/anatomies`, zigzagDevice(300))],
      ['the check of a bond with 1,500 corners', () => ask(`${api}/anatomies`, zigzagDevice(1500))],
      ['a record as PDF', () => ask(`${api}/jobs/${signed}/record.pdf`)],
      [
        'all of these at once',
        () => Promise.all([depth('pellworth-nacre-2'), ...loads.slice(2, -1).map(([, load]) => load())]),
      ],
    ];
    const record = async (): Promise<number> => {
      seq++;
      const event = { id: randomUUID(), seq, at: new Date().toISOString(), type: 'note', step: null, text: 'x' };
      const asked = performance.now();
      const status = await post(`${api}/jobs/${job}/events`, { events: [event] });
      if (status !== 200) throw new Error(`the bystander was answered ${status}`);
      return performance.now() - asked;
    };
    // What a server does once as it starts is not what a bystander waits for.
    for (let i = 0; i < WARM; i++) await record();
    const rows: (string | number)[][] = [];
    for (const [what, load] of loads) {
      let on = true;
      const from = performance.now();
      const busy = load().finally(() => {
        on = false;
      });
      const took: number[] = [];
      while (on || performance.now() - from < WATCHED_MS) {
        took.push(await record());
        await new Promise((resolve) => setTimeout(resolve, EVERY_MS));
      }
      await busy;
      rows.push([what, took.length, ...[0.5, 0.95, 0.99, 1].map((q) => ms(quantile(took, q)))]);
    }
    return {
      title: 'A bystander beside computations',
      note:
        'One event a request, every 10 ms, over HTTP, while the server computes what stands on the left for somebody ' +
        'else, and another program keeps one core busy. Aim: 99 of a hundred under 50 ms.',
      columns: ['beside', 'requests', 'median', '95th', '99th', 'longest'],
      rows,
    };
  } finally {
    other.kill('SIGKILL');
    await server.stop();
    agent.destroy();
  }
}
