import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import { AxeBuilder } from '@axe-core/playwright';
import type { Browser, Page } from 'playwright-core';
import { beforeAll, describe, expect, it, onTestFinished } from 'vitest';
import { isTried } from '../demo/thorough.ts';
import { tinyDevice } from '../demo/tiny.ts';
import { bench } from './bench.ts';
import { openPage, settled } from './harness.ts';

let browser: Browser;
let page: Page;
const { server, job } = bench((first, up) => {
  page = first;
  browser = up;
});

let draft = '';
beforeAll(async () => {
  const begun = await fetch(`${server.url}/api/workshop/drafts`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ revise: 'tannbrook-field-3' }),
  });
  draft = ((await begun.json()) as { id: string }).id;
});

const SCREENS: [name: string, path: () => string, ready: string][] = [
  ['jobs', () => '/', 'h1'],
  ['intake', () => '/intake', 'h1'],
  ['plan', () => `/jobs/${job('ready')}`, '[data-step]'],
  ['what if', () => `/jobs/${job('ready')}/compare`, '[data-side="1"] dl'],
  ['house rules', () => '/rules', 'fieldset'],
  ['screws', () => '/anatomies/tannbrook-field-3/screws', 'table'],
  ['stock', () => '/stock', '[data-stock]'],
  ['spilt tray', () => `/jobs/${job('running')}/spill`, 'nav[aria-label=Job]'],
  ['run', () => `/jobs/${job('running')}/run`, '[data-testid=verb]'],
  ['prove', () => `/jobs/${job('running')}/prove`, '[data-function]'],
  ['suspects', () => `/jobs/${job('running', 'Cosima Aldergate')}/prove`, '[data-suspect]'],
  ['record', () => `/jobs/${job('signed')}/record`, '#handover'],
  ['counter', () => '/counter', '#shelf'],
  ['cells', () => '/cells', '#add-cell'],
  ['closing', () => `/jobs/${job('ready', 'Battery')}/closing`, '[data-testid=bond]'],
  ['the cell of a job', () => `/jobs/${job('ready', 'Battery')}/cell`, '#health'],
  ['the counter of a job', () => `/jobs/${job('ready')}/counter`, '#labels'],
  ['what a customer signs', () => `/jobs/${job('ready')}/customer`, 'canvas'],
  ['a stopped job', () => `/jobs/${job('stopped')}`, 'h1'],
  ['anatomies', () => '/anatomies', 'h1'],
  ['workshop', () => '/workshop', 'section li'],
  ['drawing board', () => `/workshop/${draft}`, '[data-testid=canvas] [data-item]'],
  ['laying a photograph', () => `/workshop/${draft}/photograph`, 'h1'],
  ['anatomy', () => '/anatomies/tannbrook-field-3', 'table'],
];

/** The rules of axe that the colour scheme can break; all others see the same page in both. */
const OF_COLOUR = ['color-contrast', 'link-in-text-block'];

describe('every screen', () => {
  const serious = async (axe: AxeBuilder): Promise<string[]> =>
    (await axe.analyze()).violations
      .filter((v) => v.impact === 'serious' || v.impact === 'critical')
      .map(
        (v) =>
          `${v.id}: ${v.nodes
            .map((n) => n.target.join(' '))
            .slice(0, 3)
            .join(' | ')}`,
      );

  it.each(SCREENS.filter((_, i) => isTried(i, 2)))(
    '%s has no serious finding by axe, in the light setting and in the dark',
    async (_, path, ready) => {
      await page.goto(server.url + path());
      await page.locator(ready).first().waitFor();
      await settled(page);
      expect(await serious(new AxeBuilder({ page }))).toEqual([]);
      await page.evaluate(() => {
        document.documentElement.dataset.theme = 'dark';
      });
      // Drawings take their colours from the same few names, which the light setting has shown to be apart.
      expect(await serious(new AxeBuilder({ page }).withRules(OF_COLOUR).exclude('svg'))).toEqual([]);
    },
  );

  it('the first load is at most 200 kB of compressed JavaScript', async () => {
    const fresh = await openPage(browser, 'about:blank');
    const scripts: Promise<Buffer>[] = [];
    fresh.on('response', (r) => {
      if (r.url().endsWith('.js')) scripts.push(r.body());
    });
    await fresh.goto(server.url);
    await fresh.getByRole('heading', { name: 'On the bench' }).waitFor();
    await settled(fresh);
    const bytes = (await Promise.all(scripts)).reduce((sum, body) => sum + gzipSync(body).length, 0);
    expect(bytes).toBeGreaterThan(10_000);
    expect(bytes).toBeLessThan(200_000);
    await fresh.close();
  });

  it('nothing on the run screen is smaller than a gloved finger', async () => {
    await page.goto(`${server.url}/jobs/${job('running')}/run`);
    await page.getByTestId('verb').waitFor();
    const small = await page.locator('button:visible').evaluateAll((all) =>
      all
        .map((b) => ({ text: b.textContent, r: b.getBoundingClientRect() }))
        .filter(({ r }) => r.width < 48 || r.height < 48)
        .map(({ text }) => text),
    );
    expect(small).toEqual([]);
  });

  it('a tablet whose clock is off says so, and goes by the clock of the server', async () => {
    const own = await page.context().browser()!.newContext();
    onTestFinished(() => own.close());
    const ahead = await own.newPage();
    await ahead.clock.install({ time: Date.now() + 9 * 60_000 });
    await ahead.goto(`${server.url}/jobs/${job('running', 'Display assembly')}/run`);
    await ahead.getByText(/this clock is 9 min ahead; the server's counts/).waitFor();
  });
  it('fits a phone at the counter without scrolling sideways', async () => {
    await page.setViewportSize({ width: 390, height: 844 });
    for (const [, path, ready] of SCREENS) {
      await page.goto(server.url + path());
      await page.locator(ready).first().waitFor();
      expect(await page.evaluate(() => document.documentElement.scrollWidth), path()).toBeLessThanOrEqual(391);
    }
    await page.setViewportSize({ width: 1280, height: 800 });
  });
});

describe('bad input in the real interface', () => {
  it('an anatomy with faults is refused with each path', async () => {
    await page.goto(`${server.url}/anatomies`);
    const bad = tinyDevice((a) => {
      a.fasteners[0]!.holds = ['lid'];
      a.connectors[1]!.carries = ['video'];
    });
    await page
      .locator('input[type=file]')
      .setInputFiles({ name: 'tiny.json', mimeType: 'application/json', buffer: Buffer.from(JSON.stringify(bad)) });
    const alert = page.getByRole('alert');
    await alert.waitFor();
    expect(await alert.innerText()).toContain('fasteners[0].holds[0]');
    expect(await alert.innerText()).toContain('connectors[1].carries[0]');
  });

  it('a good one is taken in and shown with its depths', async () => {
    await page.locator('input[type=file]').setInputFiles({
      name: 'tiny.json',
      mimeType: 'application/json',
      buffer: Buffer.from(JSON.stringify(tinyDevice())),
    });
    await page.getByRole('heading', { name: 'Bench Tiny' }).waitFor();
    await page.getByRole('button', { name: 'camera' }).first().click();
    await page.locator('[data-part=camera][data-state=lit]').waitFor();
  });

  it('a picture that is not one, and one that is too large, are refused while the intake stays as it is', async () => {
    await page.goto(`${server.url}/intake`);
    await page.getByRole('textbox', { name: 'Customer' }).fill('Edda Morrow');
    const input = page.getByLabel('Add photographs');
    await input.setInputFiles({ name: 'photo.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('not a picture') });
    await page.getByText(/photo\.jpg: this file is not a picture/).waitFor();
    const folder = mkdtempSync(join(tmpdir(), 'nibrel-picture-'));
    onTestFinished(() => rmSync(folder, { recursive: true }));
    const huge = join(folder, 'huge.jpg');
    writeFileSync(huge, Buffer.alloc(30 << 20));
    await input.setInputFiles(huge);
    await page.getByText(/huge\.jpg: the file has 30 MB; at most 25 MB are taken/).waitFor();
    expect(await page.getByRole('textbox', { name: 'Customer' }).inputValue()).toBe('Edda Morrow');
  });

  it('a swollen device is stopped at intake, and told what to do with', async () => {
    await page.goto(`${server.url}/intake`);
    await page.locator('input[name=swollen]').nth(1).check({ force: true });
    await page.getByText('Do not open it.').waitFor();
    for (const name of ['hot', 'punctured', 'burnt'])
      await page.locator(`input[name=${name}]`).first().check({ force: true });
    await page.getByText('Tannbrook Field 3').click();
    await page.getByRole('textbox', { name: 'Customer' }).fill('Edda Morrow');
    await page.getByRole('button', { name: 'Record that it stays closed' }).click();
    await page.getByRole('heading', { name: /Do not open this device/ }).waitFor();
  });
});
