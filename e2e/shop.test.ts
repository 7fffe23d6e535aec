import { createServer, type Server as HttpServer } from 'node:http';
import type { Browser, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { JobSummary } from '../core/jobs/index.ts';
import { launch, openPage, Server } from './harness.ts';

describe('C4 a real shop is set up in the interface', () => {
  let server: Server;
  let browser: Browser;
  let page: Page;
  beforeAll(async () => {
    server = new Server({ NIBREL_DEMO: '0' });
    [browser] = await Promise.all([launch(), server.start()]);
    page = await openPage(browser, server.url);
  });
  afterAll(async () => {
    await browser.close();
    await server.stop();
  });

  it('the first start leads through it, and says what is still to do', async () => {
    await page.waitForURL(/\/set-up$/);
    await page.getByText(/Still to do: name the shop, name who works here/).waitFor();
    await page.getByLabel('Name of the shop').fill('Fern Lane Repairs');
    await page.getByLabel('Name 1', { exact: true }).fill('Oda Finch');
    await page.getByRole('button', { name: 'One more' }).click();
    await page.getByLabel('Name 2', { exact: true }).fill('Per Lund');
    await page.getByRole('radio', { name: /made-up ones/ }).check();
    const bench = page.getByRole('region', { name: 'What lies on the bench' });
    await bench.getByRole('listitem').filter({ hasText: 'hot-air gun' }).getByRole('radio').check();
    await bench.getByRole('checkbox', { name: 'heat mat' }).uncheck();
    await bench.getByLabel('hot-air gun, °C').fill('9,5');
    await page.getByText(/Still to do: mend the number/).waitFor();
    await bench.getByLabel('hot-air gun, °C').fill('95,5');
    await bench.getByLabel('Trays').fill('2');
    await bench.getByRole('checkbox', { name: 'soldering iron' }).uncheck();
    await page.getByRole('button', { name: 'Begin' }).click();
    await page.getByRole('heading', { name: 'On the bench', exact: true }).waitFor();
    await page.goto(`${server.url}/shop`);
    await page.getByRole('heading', { name: 'Fern Lane Repairs' }).waitFor();
    // All of it stands on the Shop screen, and can be changed there.
    expect(await bench.getByLabel('hot-air gun, °C').inputValue()).toBe('95.5');
    expect(await bench.getByRole('checkbox', { name: 'heat mat' }).isChecked()).toBe(false);
    expect(await bench.getByRole('checkbox', { name: 'soldering iron' }).isChecked()).toBe(false);
    await bench.getByLabel('Trays').fill('3');
    await bench.getByRole('button', { name: 'Save the bench' }).click();
    await bench.getByText('✓ Saved').waitFor();
    const sets = (await (await fetch(`${server.url}/api/rules`)).json()) as {
      rules: { trays: number; heat: string };
    }[];
    expect(sets.map((s) => [s.rules.trays, s.rules.heat])).toEqual([[3, 'gun']]);
    await page.goto(`${server.url}/anatomies`);
    await page.getByText('Quill 5').first().waitFor();
  });
  it('from the first PIN on everybody signs in, and a technician changes no shop', async () => {
    await page.goto(`${server.url}/shop`);
    const pin = async (name: string, digits: string) => {
      const line = page.locator(`[data-technician="${name}"]`);
      await line.getByRole('button', { name: 'Set a PIN' }).click();
      await line.getByLabel(`PIN of ${name}`).fill(digits);
      await line.getByRole('button', { name: 'Keep it' }).click();
    };
    await pin('Oda Finch', '135790');
    await page.waitForURL(/\/sign-in/);
    const signIn = async (name: string, digits: string) => {
      await page.getByLabel('Technician').selectOption({ label: name });
      await page.getByLabel('PIN').fill(digits);
      await page.getByRole('button', { name: 'Sign in' }).click();
    };
    await signIn('Oda Finch', '000000');
    await page.getByText('that is not the PIN').waitFor();
    await signIn('Oda Finch', '135790');
    await page.waitForURL(/\/shop$/);
    await pin('Per Lund', '2468');
    await page.locator('[data-technician="Per Lund"]').getByRole('button', { name: 'New PIN' }).waitFor();
    await page.getByRole('button', { name: 'Sign out' }).click();
    await page.waitForURL(/\/sign-in/);
    await signIn('Per Lund', '2468');
    await page.getByText('Per Lund').waitFor();
    await page.goto(`${server.url}/shop`);
    await page.getByRole('heading', { name: 'My PIN' }).waitFor();
    expect(await page.getByRole('heading', { name: 'Who works here' }).count()).toBe(0);
  });
  it('a device in no list is taken in, with a note and without a dive', async () => {
    await page.goto(`${server.url}/intake`);
    for (const finding of ['swollen', 'hot', 'punctured', 'burnt'])
      await page.locator(`input[name=${finding}]`).first().check({ force: true });
    await page.getByRole('textbox', { name: 'Customer' }).fill('Wren Calloway');
    await page.getByRole('radio', { name: /In no list/ }).check({ force: true });
    await page.getByRole('textbox', { name: 'What it is', exact: true }).fill('Unmarked tablet, grey');
    await page.getByLabel(/Width/).fill('171,5');
    await page.getByRole('button', { name: 'Take it in' }).click();
    await page.getByText(/Nobody has drawn this device yet/).waitFor();
    await page.getByRole('textbox', { name: 'Note' }).fill('Corroded at the port.');
    await page.getByRole('button', { name: 'Keep the note' }).click();
    await page.getByText('Corroded at the port.').waitFor();
    await page.getByText('Per Lund').last().waitFor();
  });
});

describe('A9 one stream for each browser', () => {
  it('nine tabs load, and all of them follow', async () => {
    const server = new Server();
    const [browser] = await Promise.all([launch(), server.start()]);
    const first = await openPage(browser, server.url);
    const tabs = [first];
    for (let i = 0; i < 8; i++) {
      const tab = await first.context().newPage();
      await tab.goto(server.url, { timeout: 60_000 });
      tabs.push(tab);
    }
    for (const tab of tabs) await tab.getByRole('heading', { name: 'On the bench', exact: true }).waitFor();
    const jobs = (await (await fetch(`${server.url}/api/jobs`)).json()) as JobSummary[];
    const intake = { anatomy: 'tannbrook-field-3', customer: 'Told to all', complaint: '', replace: ['main-camera'] };
    expect(jobs.length).toBeGreaterThan(5);
    await fetch(`${server.url}/api/jobs`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify(intake),
    });
    for (const tab of tabs) await tab.getByText(/Told to all/).waitFor({ timeout: 60_000 });
    // The tab that holds the stream is closed; another takes it over.
    await tabs[0]!.close();
    await fetch(`${server.url}/api/jobs`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ ...intake, customer: 'And again' }),
    });
    for (const tab of tabs.slice(1)) await tab.getByText(/And again/).waitFor({ timeout: 60_000 });
    await browser.close();
    await server.stop();
  });
});

describe('B1 a page of another site', () => {
  let other: HttpServer;
  afterAll(() => void other.close());
  it('reads nothing and changes nothing, whatever it tries', async () => {
    other = createServer((_, answer) => {
      answer.setHeader('Content-Type', 'text/html');
      answer.end('<!doctype html><title>elsewhere</title><form method="post" enctype="text/plain"></form>');
    });
    await new Promise<void>((resolve) => other.listen(0, '127.0.0.1', resolve));
    const server = new Server();
    const [browser] = await Promise.all([launch(), server.start()]);
    const jobs = (await (await fetch(`${server.url}/api/jobs`)).json()) as JobSummary[];
    const before = JSON.stringify(jobs);
    const page = await openPage(browser, `http://localhost:${(other.address() as { port: number }).port}`);
    const read = await page.evaluate(
      async ([to, job]) => {
        const got: string[] = [];
        const routes = [
          'jobs',
          `jobs/${job}/events`,
          `jobs/${job}/plan`,
          `jobs/${job}/plan-on`,
          'rules',
          'anatomies',
          'photos',
          'shop',
          'shop/technicians',
          'screws/stock',
          'sign-out',
        ];
        for (const path of routes) {
          for (const init of [
            { method: 'GET' },
            { method: 'POST', mode: 'no-cors' as const, body: '{"customer":"x"}' },
            { method: 'POST', mode: 'no-cors' as const, body: new URLSearchParams({ customer: 'x' }) },
            { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: '{"customer":"x"}' },
            { method: 'PUT', headers: { 'Content-Type': 'application/json' }, body: '{}' },
          ]) {
            const answer = await fetch(`${to}/api/${path}`, { ...init, credentials: 'include' }).catch(() => null);
            const text = (await answer?.text().catch(() => '')) ?? '';
            if (text !== '') got.push(`${init.method} ${path}`);
          }
        }
        return got;
      },
      [server.url, jobs[0]!.id] as const,
    );
    expect(read).toEqual([]);
    await page.evaluate((to) => {
      const form = document.querySelector('form')!;
      form.action = `${to}/api/jobs`;
      form.submit();
    }, server.url);
    await page.waitForTimeout(800);
    expect(JSON.stringify(await (await fetch(`${server.url}/api/jobs`)).json())).toBe(before);
    await browser.close();
    await server.stop();
  });
});
