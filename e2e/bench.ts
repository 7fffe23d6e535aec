import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll } from 'vitest';
import type { JobSummary } from '../core/jobs/index.ts';
import { launch, openPage, Server } from './harness.ts';

/**
 * A server of its own with the demo shop, and a browser with a first page, for the tests of a file or a block.
 * @param use is given the page and the browser when they are up
 * @returns the server, and `job`, the id of the shop's first job in a state, of those that replace `part` where it is given
 */
export function bench(use: (page: Page, browser: Browser) => void): {
  server: Server;
  job: (state: JobSummary['state'], part?: string) => string;
} {
  const server = new Server();
  let browser: Browser;
  let jobs: JobSummary[] = [];
  beforeAll(async () => {
    [browser] = await Promise.all([launch(), server.start()]);
    jobs = (await (await fetch(`${server.url}/api/jobs`)).json()) as JobSummary[];
    use(await openPage(browser, server.url), browser);
  });
  afterAll(async () => {
    await browser.close();
    await server.stop();
  });
  return {
    server,
    job: (state, part) => {
      const found = jobs.find((j) => j.state === state && (part === undefined || j.replace.includes(part)));
      if (!found)
        throw new Error(
          `the demo shop has no job that is ${state}${part === undefined ? '' : ` and replaces "${part}"`}`,
        );
      return found.id;
    },
  };
}
