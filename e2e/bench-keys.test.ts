import type { Page } from 'playwright-core';
import { describe, expect, it } from 'vitest';
import { bench } from './bench.ts';
import { at, press, runTo, stepNumber } from './harness.ts';

let page: Page;
const { server, job } = bench((opened) => {
  page = opened;
});

/** Widths and heights of screens in CSS px; the last is 1280 × 800 at 200 % zoom. */
const SIZES = [
  [360, 640],
  [390, 844],
  [820, 1180],
  [1024, 768],
  [1280, 800],
  [1600, 1000],
  [640, 400],
] as const;

describe('D1 the one key and take back', () => {
  it.each(SIZES)('never leave the screen and keep their place, at %i × %i', async (width, height) => {
    await page.setViewportSize({ width, height });
    await page.goto(`${server.url}/jobs/${job('ready', 'Port module')}/run`);
    await page.getByTestId('verb').waitFor();
    const places = new Set<string>();
    const last = Number((await page.getByTestId('step').innerText()).match(/of\s+(\d+)/)![1]);
    for (let n = 1; n <= last; n += width === 1280 ? 1 : 7) {
      for (const id of ['done', 'back']) {
        const box = (await page.getByTestId(id).boundingBox())!;
        expect(box.x).toBeGreaterThanOrEqual(0);
        expect(box.x + box.width).toBeLessThanOrEqual(width);
        expect(box.y + box.height).toBeLessThanOrEqual(height);
        places.add(
          `${id} ${Math.round(box.x)} ${Math.round(box.y)} ${Math.round(box.width)} ${Math.round(box.height)}`,
        );
        // Nothing lies over it.
        const on = await page.evaluate(
          ([x, y]) => document.elementFromPoint(x!, y!)?.closest('[data-testid]')?.getAttribute('data-testid'),
          [box.x + box.width / 2, box.y + box.height / 2],
        );
        expect(on).toBe(id);
      }
      for (let k = 0; k < (width === 1280 ? 1 : 7); k++) await page.keyboard.press('ArrowRight');
    }
    expect(places.size).toBe(2);
  });
  it('what does much at once never stands where done stood', async () => {
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(`${server.url}/jobs/${job('ready', 'Port module')}/run`);
    await runTo(page, at('Unscrew'));
    const done = (await page.getByTestId('done').boundingBox())!;
    const all = (await page.getByRole('button', { name: /^All \d/ }).boundingBox())!;
    expect(all.x + all.width).toBeLessThanOrEqual(done.x);
  });
});

describe('D4 tests', () => {
  it('one press passes one test, all of them is a deliberate act, and a failed one looks failed and is tried again there', async () => {
    await page.goto(`${server.url}/jobs/${job('ready', 'Port module')}/run`);
    await runTo(page, at('Test'));
    const list = page.getByTestId('step');
    await page.keyboard.press('f');
    await page.keyboard.type('No charge shown.');
    await page.keyboard.press('Enter');
    await page.locator('[data-panel=test]').waitFor({ state: 'detached' });
    await page.keyboard.press('Enter');
    const asked = page.locator('[data-panel=all-passed]');
    await asked.getByText(/Each of these was tried/).waitFor();
    await asked.getByRole('button', { name: 'One by one' }).click();
    const failed = list.getByText('failed: No charge shown.');
    expect(await list.getByText('✗').count()).toBeGreaterThan(0);
    await list.getByRole('button', { name: 'It passes now' }).click();
    await failed.waitFor({ state: 'detached' });
  });
});

describe('D5 from the list to the first step', () => {
  it('takes at most twelve presses, and a disabled key says why beside it', async () => {
    await page.goto(server.url);
    await page.getByRole('heading', { name: 'On the bench' }).waitFor();
    await page.waitForFunction(() => document.activeElement?.tagName === 'A');
    let presses = 0;
    const key = async (name: string) => {
      presses++;
      await page.keyboard.press(name);
    };
    // The first job that is ready, from where the focus is.
    for (let i = 0; i < 10; i++) {
      const text = await page.evaluate(() => document.activeElement?.textContent ?? '');
      if (/steps$/.test(text.trim())) break;
      await key('Tab');
    }
    await key('Enter');
    await page.getByRole('button', { name: 'Begin the dive' }).waitFor();
    await page.waitForFunction(() => document.activeElement?.tagName === 'BUTTON');
    for (let i = 0; i < 4 && !page.url().endsWith('/run'); i++) {
      await key('Enter');
      await page.waitForTimeout(150);
    }
    await page.getByTestId('verb').waitFor();
    expect(await stepNumber(page)).toBe(1);
    expect(presses).toBeLessThanOrEqual(12);
    await press(page);
    await page.keyboard.press('ArrowLeft');
    const why = page.getByTestId('why');
    if (await page.getByTestId('done').isDisabled()) expect((await why.innerText()).length).toBeGreaterThan(10);
  });
});
