import { randomUUID } from 'node:crypto';
import { get } from 'node:http';
import type { JobSummary } from '../core/jobs/index.ts';
import { Server } from '../e2e/harness.ts';
import { agent, post } from './http.ts';
import { ms, quantile, ratio, type Table } from './report.ts';

/** Benches that work, events a second of each, and seconds that are watched. */
const BENCHES = 50;
const PER_SECOND = 4;
const SECONDS = 6;
/** How many listen, round by round; the first warms up. */
const LISTENERS = [0, 0, 50, 500] as const;

/** One browser that has one job on its screen. @returns how many of its events it has heard, and what ends it */
function listenTo(url: string, job: string, has: number): Promise<{ heard: () => number; end: () => void }> {
  return new Promise((resolve, reject) => {
    let heard = 0;
    const asking = get(`${url}/api/live?jobs=${job}:${has}`, { agent: false }, (answer) => {
      if (answer.statusCode !== 200) return reject(new Error(`a listener was answered ${answer.statusCode}`));
      answer.setEncoding('utf8');
      answer.on('data', (text: string) => {
        heard += text.split('"kind":"event"').length - 1;
      });
      answer.on('error', () => {});
      resolve({ heard: () => heard, end: () => void asking.destroy() });
    });
    asking.on('error', () => {});
  });
}

/** How long an event takes while fifty benches work and nobody, fifty or five hundred browsers listen. */
export async function listenersBench(): Promise<Table> {
  const server = await new Server().start();
  try {
    const { url } = server;
    const device = { anatomy: 'tannbrook-field-3', customer: 'X', complaint: '', replace: ['battery'] };
    for (let i = 0; i < BENCHES; i++) await post(`${url}/api/jobs`, device);
    const lines = (await (await fetch(`${url}/api/jobs`)).json()) as JobSummary[];
    const jobs = lines.filter((j) => j.customer === 'X').map((j) => j.id);
    const seqs = new Map<string, number>(jobs.map((job) => [job, 0]));
    const record = async (job: string): Promise<number> => {
      const seq = seqs.get(job)! + 1;
      seqs.set(job, seq);
      const event = { id: randomUUID(), seq, at: new Date().toISOString(), type: 'note', step: null, text: 'x' };
      const from = performance.now();
      const status = await post(`${url}/api/jobs/${job}/events`, { events: [event] });
      if (status !== 200) throw new Error(`a bench was answered ${status}`);
      return performance.now() - from;
    };
    for (const job of jobs) await record(job);
    const rows: (string | number)[][] = [];
    let alone = 0;
    for (const [round, count] of LISTENERS.entries()) {
      const listeners = await Promise.all(
        Array.from({ length: count }, (_, i) =>
          listenTo(url, jobs[i % jobs.length]!, seqs.get(jobs[i % jobs.length]!)!),
        ),
      );
      const took: number[] = [];
      await Promise.all(
        jobs.map(async (job, k) => {
          await new Promise((resolve) => setTimeout(resolve, (k * 1000) / PER_SECOND / jobs.length));
          for (let i = 0; i < PER_SECOND * SECONDS; i++) {
            const from = performance.now();
            took.push(await record(job));
            await new Promise((r) => setTimeout(r, Math.max(0, 1000 / PER_SECOND - (performance.now() - from))));
          }
        }),
      );
      await new Promise((resolve) => setTimeout(resolve, 500));
      const missed = listeners.filter((l) => l.heard() !== PER_SECOND * SECONDS).length;
      for (const { end } of listeners) end();
      // What a server does once as it starts is not what a bench waits for.
      if (round === 0) continue;
      const median = quantile(took, 0.5);
      if (count === 0) alone = median;
      rows.push([count, ms(median), ms(quantile(took, 0.99)), ratio(median / alone), missed]);
    }
    return {
      title: 'Events beside those who listen',
      note:
        `${BENCHES} benches with ${PER_SECOND} events a second each for ${SECONDS} s, over HTTP; each listener has one of ` +
        'their jobs on its screen and hears the lines of all.',
      columns: ['listeners', 'median', '99th', 'against nobody', 'who missed something'],
      rows,
    };
  } finally {
    await server.stop();
    agent.destroy();
  }
}
