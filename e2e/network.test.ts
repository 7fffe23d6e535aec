import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { JobFile, JobSummary } from '../core/jobs/index.ts';
import { agreeByWord, at, handOver, launch, openPage, press, runTo, Server, stepNumber, stored } from './harness.ts';

/** A name as a tablet in the shop's network would use it; the browser is told that it leads to this machine. */
const NAME = 'bench.nibrel.test';
const MAPPED = [`--host-resolver-rules=MAP ${NAME} 127.0.0.1`, '--ignore-certificate-errors'];

async function jobWith(page: Page, part: string): Promise<string> {
  return page.evaluate(async (wanted) => {
    const jobs = (await (await fetch('/api/jobs')).json()) as JobSummary[];
    return jobs.find((j) => j.replace[0] === wanted && (j.state === 'running' || j.state === 'ready'))!.id;
  }, part);
}

describe.each([
  ['plain HTTP', {}, 'http'],
  ['HTTPS with a certificate of its own', { NIBREL_TLS: 'self' }, 'https'],
] as const)('0 a tablet under another name, over %s', (_, env, scheme) => {
  let server: Server;
  let browser: Browser;
  let page: Page;
  let origin: string;
  beforeAll(async () => {
    server = new Server({ NIBREL_NAMES: NAME, ...env });
    [browser] = await Promise.all([launch(MAPPED), server.start()]);
    origin = `${scheme}://${NAME}:${new URL(server.url).port}`;
    page = await openPage(browser, origin);
  });
  afterAll(async () => {
    await browser.close();
    await server.stop();
  });

  it('is what it is taken for: a context that is secure only over TLS', async () => {
    expect(await page.evaluate(() => [window.isSecureContext, typeof crypto.randomUUID])).toEqual(
      scheme === 'https' ? [true, 'function'] : [false, 'undefined'],
    );
  });
  it('a whole short dive is run, proved, signed and handed over', async () => {
    await page.goto(`${origin}/jobs/${await jobWith(page, 'Main camera module')}/run`);
    await page.getByTestId('verb').waitFor();
    await runTo(page, async (p) => (await p.getByTestId('done').innerText()).startsWith('Prove and sign'));
    await page.keyboard.press('Space');
    await page.waitForURL(/\/record$/);
    expect(await handOver(page)).toContain('Main camera module');
  });
  it('a device is taken in and its plan agreed', async () => {
    await page.goto(`${origin}/intake`);
    for (const finding of ['swollen', 'hot', 'punctured', 'burnt']) {
      await page.locator(`input[name=${finding}]`).first().check({ force: true });
    }
    await page.getByRole('textbox', { name: 'Customer' }).fill('Oda Finch');
    await page.getByRole('radio', { name: /Quill 5/ }).check({ force: true });
    await page.getByRole('checkbox', { name: 'Battery', exact: true }).check();
    await page.getByRole('button', { name: 'Take in and plan the dive' }).click();
    await agreeByWord(page);
    await page.getByRole('button', { name: 'Begin the dive' }).click();
    await page.getByTestId('verb').waitFor();
    await press(page);
    await stored(page);
  });
  if (scheme === 'https') {
    it('D11 starts without the server, goes on, and sends it afterwards', async () => {
      const id = await jobWith(page, 'Fan');
      await page.goto(`${origin}/jobs/${id}/run`);
      await page.getByTestId('verb').waitFor();
      await page.evaluate(() => navigator.serviceWorker.ready.then(() => true));
      await page.reload();
      await runTo(page, at('Unscrew'));
      const n = await stepNumber(page);
      await stored(page);
      const before = await countOf(page, id);
      // What was last seen is written down a moment later.
      await expect.poll(() => keptEvents(page, id)).toBe(before);
      await server.kill();
      await page.reload();
      await page.getByTestId('verb').waitFor();
      expect(await stepNumber(page)).toBe(n);
      await page.getByText(/as it was last seen here/).waitFor();
      await page.keyboard.press('Space');
      await page.getByTestId('connection').filter({ hasText: 'not sent yet' }).waitFor();
      await server.start();
      await page.getByTestId('connection').filter({ hasText: /^sent/ }).waitFor();
      await stored(page);
      expect(await countOf(page, id)).toBeGreaterThan(before);
    });
    it('the page that leads through trusting it is there, with the root', async () => {
      await page.goto(`${origin}/trust`);
      await page.getByRole('link', { name: 'Take the root certificate' }).waitFor();
      const root = await page.evaluate(async () => (await fetch('/trust/root.crt')).text());
      expect(root).toContain('BEGIN CERTIFICATE');
    });
  }
  it('a name that is not its own is refused', async () => {
    const other = origin.replace(NAME, 'evil.nibrel.test');
    const browser2 = await launch([
      `--host-resolver-rules=MAP evil.nibrel.test 127.0.0.1`,
      '--ignore-certificate-errors',
    ]);
    const stranger = await openPage(browser2, `${other}/`);
    expect(await stranger.evaluate(async () => (await fetch('/api/jobs')).status)).toBe(403);
    await browser2.close();
  });
});

const countOf = (page: Page, id: string) =>
  page.evaluate(async (job) => ((await (await fetch(`/api/jobs/${job}`)).json()) as JobFile).events.length, id);

/** Events of a job as the browser keeps it for a start without the server. */
const keptEvents = (page: Page, id: string) =>
  page.evaluate(async (job) => {
    const asked = <T>(request: IDBRequest<T>) =>
      new Promise<T>((resolve, reject) => {
        request.onsuccess = () => resolve(request.result);
        request.onerror = () => reject(request.error);
      });
    const db = await asked(indexedDB.open('nibrel'));
    const file = (await asked(db.transaction('files').objectStore('files').get(job))) as JobFile | undefined;
    db.close();
    return file?.events.length ?? 0;
  }, id);
