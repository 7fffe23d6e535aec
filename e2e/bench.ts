import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll } from 'vitest';
import type { JobSummary } from '../core/jobs/index.ts';
import { launch, openPage, Server } from './harness.ts';

const listed = async (url: string) => (await (await fetch(`${url}/api/jobs`)).json()) as JobSummary[];

/** @throws Error that says what did not happen within `ms` */
async function inTime<T>(what: string, ms: number, work: Promise<T>): Promise<T> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<never>((_, reject) => {
    timer = setTimeout(() => reject(new Error(`${what}: not within ${ms / 1000} s`)), ms);
  });
  try {
    return await Promise.race([work, late]);
  } finally {
    clearTimeout(timer);
  }
}

/**
 * A server of its own with the demo shop, and a browser with a first page, for the tests of a file or a block.
 * @param use is given the page and the browser when they are up
 * @returns the server, and `job`, the id of the shop's first job in a state, of those that replace `part`, or are that
 *   customer's, where it is given
 */
export function bench(use: (page: Page, browser: Browser) => void): {
  server: Server;
  job: (state: JobSummary['state'], part?: string) => string;
} {
  const server = new Server();
  let browser: Browser;
  let jobs: JobSummary[] = [];
  beforeAll(async () => {
    await inTime('the server comes up', 60_000, server.start());
    jobs = await inTime('the jobs are listed', 20_000, listed(server.url));
    const opened = async () => {
      browser = await launch();
      return openPage(browser, server.url);
    };
    // Beside much else a browser may start and never open a page; another one does.
    const page = await inTime('the first page opens', 40_000, opened()).catch(async () => {
      await browser?.close();
      return inTime('the first page opens at the second try', 60_000, opened());
    });
    use(page, browser);
  });
  afterAll(async () => {
    await browser?.close();
    await server.stop();
  });
  return {
    server,
    job: (state, part) => {
      const found = jobs.find(
        (j) => j.state === state && (part === undefined || j.replace.includes(part) || j.customer === part),
      );
      if (!found)
        throw new Error(
          `the demo shop has no job that is ${state}${part === undefined ? '' : ` and replaces "${part}"`}`,
        );
      return found.id;
    },
  };
}
