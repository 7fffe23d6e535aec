import type { Browser, Locator, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { seededDraw } from '../demo/synthetic.ts';
import type { JobSummary } from '../core/jobs/index.ts';
import { intakeByKeyboard, launch, openPage, Server } from './harness.ts';

let server: Server;
let browser: Browser;
let page: Page;
beforeAll(async () => {
  server = await new Server().start();
  browser = await launch();
  page = await openPage(browser, server.url);
});
afterAll(async () => {
  await browser?.close();
  await server?.stop();
});

/** Every answer of the server comes late, each by its own time; the live stream, which never ends, is left alone. */
async function delayed(on: Page, most: number, seed: number): Promise<() => Promise<void>> {
  const draw = seededDraw(seed);
  let under = 0;
  await on.route('**/api/**', async (route) => {
    if (route.request().url().includes('/api/live')) return route.continue();
    under++;
    try {
      await new Promise((resolve) => setTimeout(resolve, draw(most)));
      await route.continue();
      await route.request().response();
    } catch {
      // Its page was left.
    } finally {
      under--;
    }
  });
  return async () => {
    while (under > 0) await on.waitForTimeout(50);
    await on.waitForTimeout(300);
  };
}
const pathOf = (on: Page) => new URL(on.url()).pathname;

describe('what comes late changes nothing that was left', () => {
  test('the answer of a draft after its intake has become a job', async () => {
    const settled = await delayed(page, 1200, 5);
    for (let k = 0; k < 2; k++) {
      await page.goto(`${server.url}/`);
      await intakeByKeyboard(page, /Quill 5/, 'Battery', `Quick hand ${k}`);
      const at = pathOf(page);
      expect(at).toMatch(/^\/jobs\/[0-9a-f-]{36}$/);
      await settled();
      expect(pathOf(page)).toBe(at);
    }
    await page.unroute('**/api/**');
    const drafts = await page.request.get(`${server.url}/api/counter/drafts`);
    expect(await drafts.json()).toEqual([]);
  });

  test('what was begun is typed over by nobody before it is read', async () => {
    const id = crypto.randomUUID();
    const form = { customer: 'Ida Marwick', complaint: 'Dark since a fall.' };
    await page.request.put(`${server.url}/api/counter/drafts/${id}`, { data: form });
    const complaint = page.getByRole('textbox', { name: 'Complaint' });
    await page.route('**/api/counter/drafts', (route) => route.abort());
    await page.goto(`${server.url}/intake?draft=${id}`);
    const again = page.getByRole('button', { name: 'Read it again' });
    await again.waitFor();
    expect(await complaint.count()).toBe(0);
    await page.unroute('**/api/counter/drafts');
    await again.press('Enter');
    await complaint.waitFor();
    expect(await complaint.inputValue()).toBe(form.complaint);
    // One that became a job, or was dropped, is no address for what is typed now.
    await page.request.delete(`${server.url}/api/counter/drafts/${id}`);
    await page.goto(`${server.url}/intake?draft=${id}`);
    await complaint.fill('Another.');
    await page.getByText('Kept: it can be left and gone on with.').waitFor();
    const drafts = (await (await page.request.get(`${server.url}/api/counter/drafts`)).json()) as { id: string }[];
    expect(drafts.map((d) => d.id === id)).toEqual([false]);
    await page.request.delete(`${server.url}/api/counter/drafts/${drafts[0]!.id}`);
  });

  test('screens that are left one after the other before they have come', async () => {
    const jobs = (await (await page.request.get(`${server.url}/api/jobs`)).json()) as JobSummary[];
    const job = jobs.find((j) => j.state === 'running')?.id ?? jobs[0]!.id;
    const screens = [
      '/',
      '/counter',
      '/intake',
      '/shop',
      '/stock',
      '/cells',
      '/sources',
      '/rules',
      '/workshop',
      '/anatomies',
      '/anatomies/velmora-quill-5',
      '/anatomies/velmora-quill-5/opening',
      ...['', '/quote', '/counter', '/closing', '/cell', '/prove', '/record', '/compare', '/opening', '/run'].map(
        (part) => `/jobs/${job}${part}`,
      ),
    ];
    const settled = await delayed(page, 1200, 9);
    const draw = seededDraw(21);
    await page.goto(`${server.url}/`);
    for (let k = 0; k < 36; k++) {
      const to = screens[draw(screens.length)]!;
      // As a link goes: the page stays, only the screen is another.
      await page.evaluate((path) => {
        window.history.pushState(null, '', path);
        window.dispatchEvent(new PopStateEvent('popstate', { state: null }));
      }, to);
      await page.waitForTimeout(draw(500));
      if (k % 12 !== 11) continue;
      await settled();
      expect(pathOf(page)).toBe(to);
      expect(await page.getByText('This screen stumbled').count()).toBe(0);
    }
    await page.unroute('**/api/**');
  });

  test('a second press on what already goes, before the next screen is there', async () => {
    const jobs = (await (await page.request.get(`${server.url}/api/jobs`)).json()) as JobSummary[];
    const plan = `/jobs/${jobs.find((j) => j.state === 'ready' && j.replace.includes('Port module'))!.id}`;
    const device = '/anatomies/velmora-quill-5';
    const draft = (await (
      await page.request.post(`${server.url}/api/workshop/drafts`, {
        data: { revise: 'velmora-quill-5', by: 'Tobin Hask' },
      })
    ).json()) as { id: string };
    const keys: [screen: string, key: Locator, to: string][] = [
      [plan, page.getByRole('button', { name: 'Begin the dive' }), `${plan}/run`],
      [device, page.getByRole('link', { name: 'Opening', exact: true }), `${device}/opening`],
      [device, page.getByRole('link', { name: 'Screws', exact: true }), `${device}/screws`],
      ['/anatomies', page.getByRole('link', { name: /Quill 5/ }).first(), device],
      ['/workshop', page.locator(`main a[href="/workshop/${draft.id}"]`), `/workshop/${draft.id}`],
      [
        `/workshop/${draft.id}`,
        page.getByRole('link', { name: 'Lay a photograph' }),
        `/workshop/${draft.id}/photograph`,
      ],
    ];
    for (const [screen, key, to] of keys) {
      await page.goto(`${server.url}${screen}`);
      await key.waitFor();
      await key.evaluate((el: HTMLElement) => {
        const go = history.pushState.bind(history);
        history.pushState = (...to) => {
          go(...to);
          history.pushState = go;
          // The address is new, and what was pressed is still shown.
          queueMicrotask(() => el.click());
        };
        el.click();
      });
      await key.waitFor({ state: 'detached' });
      expect(pathOf(page)).toBe(to);
    }
    await page.request.delete(`${server.url}/api/workshop/drafts/${draft.id}`);
  });
});
