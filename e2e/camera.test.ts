import { describe, expect, it } from 'vitest';
import type { Browser, Page } from 'playwright-core';
import { bench } from './bench.ts';
import { at, handOver, intakeByKeyboard, openPage, runTo, stepNumber, tabTo, stored } from './harness.ts';

describe('a whole camera job on the clip-back phone, by keyboard alone', () => {
  let browser: Browser;
  let page: Page;
  const { server } = bench((first, up) => {
    page = first;
    browser = up;
  });
  let second: Page;
  const counts = (p: Page) => p.getByTestId('counts').innerText();

  it('is taken in and begun', async () => {
    await intakeByKeyboard(page, /Field 3/, 'Main camera module', 'Petra Vandaele');
    await tabTo(page, page.getByRole('button', { name: 'Begin the dive' }));
    await page.keyboard.press('Enter');
    await page.getByTestId('verb').waitFor();
  });

  it('a key that bounces is one press', async () => {
    const n = await stepNumber(page);
    await page.evaluate(() => {
      for (let i = 0; i < 2; i++)
        document.body.dispatchEvent(new KeyboardEvent('keydown', { key: ' ', bubbles: true }));
    });
    await page.waitForFunction(
      (step) => document.querySelector('[data-testid=step-number]')?.textContent === String(step),
      n + 1,
    );
    expect(await page.getByTestId('refusal').count()).toBe(0);
  });

  it('a second screen follows live', async () => {
    second = await openPage(browser, page.url());
    await second.getByTestId('verb').waitFor();
    await runTo(page, at('Lift off', 'Back cover'));
    const n = await stepNumber(page);
    await second.waitForFunction(
      (step) => document.querySelector('[data-testid=step-number]')?.textContent === String(step),
      n,
    );
    expect(await counts(second)).toBe(await counts(page));
  });

  it('the second screen may act too, and the first goes along', async () => {
    const n = await stepNumber(page);
    await second.bringToFront();
    await second.keyboard.press('Space');
    await page.waitForFunction(
      (step) => document.querySelector('[data-testid=step-number]')?.textContent === String(step),
      n + 1,
    );
  });

  it('a server killed between two events starts again at the same step with the same counts', async () => {
    await page.bringToFront();
    await runTo(page, at('Unscrew', 'T5'));
    await page.keyboard.press('Space');
    await page.keyboard.press('Space');
    const before = { step: await stepNumber(page), counts: await counts(page) };
    await stored(page);
    await server.kill();
    // What is done meanwhile is kept here and sent when the server is back.
    await page.keyboard.press('Space');
    await page.getByTestId('connection').filter({ hasText: 'not sent yet' }).waitFor();
    const offline = await counts(page);
    expect(offline).not.toBe(before.counts);
    await server.start();
    await page.getByTestId('connection').filter({ hasText: 'sent' }).waitFor();
    await page.reload();
    await page.getByTestId('verb').waitFor();
    expect({ step: await stepNumber(page), counts: await counts(page) }).toEqual({
      step: before.step,
      counts: offline,
    });
    const fresh = await openPage(browser, page.url());
    await fresh.getByTestId('verb').waitFor();
    expect(await counts(fresh)).toBe(offline);
    await fresh.close();
  });

  it('a photograph and a note belong to the step', async () => {
    await page.keyboard.press('p');
    const { default: sharp } = await import('sharp');
    const picture = await sharp({ create: { width: 320, height: 240, channels: 3, background: '#684' } })
      .png()
      .toBuffer();
    await page
      .locator('[data-panel=photo] input[type=file]')
      .setInputFiles({ name: 'layer.png', mimeType: 'image/png', buffer: picture });
    await page.locator('[data-panel=photo]').waitFor({ state: 'detached' });
    await page.keyboard.press('n');
    await page.keyboard.type('Grit under the cover.');
    await page.keyboard.press('Enter');
    await page.locator('[data-panel=note]').waitFor({ state: 'detached' });
  });

  it('a panel has the keyboard at once: the first letter typed into it is no key of the run', async () => {
    const focused = await page.evaluate(async () => {
      document.body.dispatchEvent(new KeyboardEvent('keydown', { key: 'n', bubbles: true }));
      // The screen follows before the browser takes the next key.
      for (let i = 0; i < 10; i++) await Promise.resolve();
      return document.activeElement!.tagName;
    });
    expect(focused).toBe('TEXTAREA');
    await page.keyboard.press('Escape');
    await page.locator('[data-panel=note]').waitFor({ state: 'detached' });
  });

  it('mirrors the drawing, shows one layer, and tells its keys', async () => {
    await page.keyboard.press('m');
    await page.locator('svg[data-face=front]').waitFor();
    await page.keyboard.press('m');
    await page.keyboard.press('l');
    await page.getByText(/, layer \d/).waitFor();
    await page.keyboard.press('l');
    await page.keyboard.press('?');
    await page.getByRole('region', { name: 'Keys' }).waitFor();
    // A pedal that sends F9 is given the meaning of done.
    await tabTo(page, page.getByRole('button', { name: /Done, or the next item/ }));
    await page.keyboard.press('Enter');
    await page.keyboard.press('F9');
    await page.keyboard.press('Escape');
    const before = await counts(page);
    await page.keyboard.press('F9');
    await page.waitForFunction(
      (old) => (document.querySelector('[data-testid=counts]') as HTMLElement).innerText !== old,
      before,
    );
    await page.evaluate(() => {
      localStorage.removeItem('nibrel.prefs');
    });
    await page.reload();
    await page.getByTestId('verb').waitFor();
  });

  it('runs to its end, and is proved on its own screen', async () => {
    await runTo(page, at('Test'));
    await page.goto(page.url().replace('/run', '/prove'));
    for (const name of ['Power', 'Main camera', 'Focus']) {
      await tabTo(
        page,
        page.locator('li').filter({ hasText: name }).getByRole('button', { name: 'Pass', exact: true }).first(),
      );
      await page.keyboard.press('Enter');
    }
    await page.getByText('3 of 3 functions are proved or waived').waitFor();
    await page.goto(page.url().replace('/prove', '/run'));
    await page.getByTestId('verb').waitFor();
    await runTo(page, async (p) => (await p.getByTestId('done').innerText()).startsWith('Prove and sign'));
  });

  it('is handed over with its PDF', async () => {
    await page.goto(page.url().replace('/run', '/record'));
    const text = await handOver(page);
    for (const words of [
      'Petra Vandaele',
      'Tannbrook Field 3',
      'Main camera module',
      'Grit under the cover.',
      'Photographs',
      'None: the device was as drawn.',
      'signed',
    ])
      expect(text).toContain(words);
    expect(text).toMatch(/Screws out\s+7\b/);
  });
});
