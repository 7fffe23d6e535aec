import { existsSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import type { JobSummary } from '../core/jobs/index.ts';
import { Server } from './harness.ts';

/**
 * Makes the demo shop once for all files of browser tests, where the tests before them have not: every server begins with a copy of its own, which takes a moment
 * where planning its jobs takes many seconds.
 */
export default async function seedOnce(): Promise<() => void> {
  const shared = join(process.env.NIBREL_TRIALS ?? '', 'demo');
  if (process.env.NIBREL_TRIALS && existsSync(shared)) {
    process.env.NIBREL_SEEDED = shared;
    return () => {};
  }
  const server = await new Server().start();
  // Every line of its list is read, and kept when it stops: what takes a copy finds its jobs at once.
  for (let list = ['reading']; list.includes('reading'); ) {
    const jobs = (await (await fetch(`${server.url}/api/jobs`)).json()) as JobSummary[];
    list = jobs.map((job) => job.state);
  }
  await server.stop();
  process.env.NIBREL_SEEDED = server.data;
  return () => rmSync(server.data, { recursive: true, force: true });
}
