import { describe, expect, it } from 'vitest';
import type { Page } from 'playwright-core';
import { bench } from './bench.ts';
import {
  agreeByWord,
  at,
  endWait,
  handOver,
  intakeByKeyboard,
  press,
  runTo,
  stepNumber,
  tabTo,
  stored,
} from './harness.ts';

describe('a whole battery job on the sealed phone, by keyboard alone', () => {
  let page: Page;
  bench((first) => {
    page = first;
  });

  it('is taken in, planned and agreed', async () => {
    await intakeByKeyboard(page, /Quill 5/, 'Battery', 'Imre Falkenrath');
    expect(await page.getByRole('img', { name: /Dive profile: \d+ steps/ }).count()).toBe(1);
    expect(await page.getByRole('button', { name: 'Begin the dive' }).isDisabled()).toBe(true);
    // Nothing agrees by itself: two presses of the one key, with nothing looked at, leave all as it is.
    await page.keyboard.press('Space');
    await page.keyboard.press('Space');
    expect(await page.getByRole('button', { name: 'Begin the dive' }).isDisabled()).toBe(true);
    expect(await page.getByText(/✓/).count()).toBe(0);
    await tabTo(page, page.getByRole('button', { name: 'The customer said so' }));
    await page.keyboard.press('Enter');
    await tabTo(page, page.getByRole('textbox', { name: 'Whose word was it?' }));
    await page.keyboard.type('Imre Falkenrath');
    await page.keyboard.press('Enter');
    await page.getByText(/Said by Imre Falkenrath/).waitFor();
    // Until work begins it can be taken back, and then it is asked for again.
    await tabTo(page, page.getByRole('button', { name: 'The customer takes it back' }));
    await page.keyboard.press('Enter');
    await tabTo(page, page.getByRole('textbox', { name: 'Who says so, and why' }));
    await page.keyboard.type('He wants to think about it');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'The customer said so' }).waitFor();
    expect(await page.getByRole('button', { name: 'Begin the dive' }).isDisabled()).toBe(true);
    await agreeByWord(page);
    await tabTo(page, page.getByRole('button', { name: 'Begin the dive' }));
    await page.keyboard.press('Enter');
    await page.getByTestId('verb').waitFor();
    expect(await page.getByTestId('power').innerText()).toContain('LIVE');
  });

  it('counts screws into wells, and takes one back', async () => {
    await runTo(page, at('Unscrew', 'P2'));
    const n = await stepNumber(page);
    await page.keyboard.press('Space');
    expect(await page.getByTestId('counts').innerText()).toMatch(/1\s*screw out/);
    expect(await page.locator('[data-well=A1]').innerText()).toMatch(/A1\s*1/);
    await page.keyboard.press('Backspace');
    expect(await page.getByTestId('counts').innerText()).toMatch(/0\s*screws out/);
    expect(await stepNumber(page)).toBe(n);
  });

  it('keeps the wait running through a reload in mid-step', async () => {
    await runTo(page, at('Heat'));
    const n = await stepNumber(page);
    await page.keyboard.press('Space');
    await page.getByTestId('done').filter({ hasText: 'Waiting' }).waitFor();
    await stored(page);
    await page.reload();
    await page.getByTestId('wait').waitFor();
    expect(await stepNumber(page)).toBe(n);
    await page
      .getByTestId('wait')
      .filter({ hasText: /[1-4]:\d\d to run/ })
      .waitFor();
    await endWait(page);
    await page.keyboard.press('Space');
  });

  it('records a stripped screw with a note', async () => {
    await runTo(page, at('Unscrew', 'Y000'));
    await page.keyboard.press('d');
    const panel = page.getByRole('region', { name: 'What is different?' });
    expect(await panel.getByRole('radio', { name: 'Screw stripped' }).isChecked()).toBe(true);
    await page.keyboard.type('Head rounded; taken out with a band, renewed.');
    await page.keyboard.press('Enter');
    await panel.waitFor({ state: 'detached' });
  });

  it('is isolated once the battery flex is open', async () => {
    await runTo(page, at('Bend aside'));
    expect(await page.getByTestId('power').innerText()).toContain('ISOLATED');
  });

  it('is stopped when sealed too early, with the reason and the way to make it good', async () => {
    await runTo(page, at('Fasten', 'H1.3'));
    const standing = await stepNumber(page);
    await page.keyboard.press('s');
    const gate = async () => (await page.getByTestId('verb').innerText()).startsWith('Gate G2');
    await runTo(page, gate);
    await page.keyboard.press('Space');
    const refusal = page.getByTestId('refusal');
    await refusal.waitFor();
    const text = await refusal.innerText();
    expect(text).toMatch(/Not yet: counted\s+Gate G2/);
    expect(text).toMatch(/m1 H1.3 2.2 mm is still in well/);
    // Straight to the seal is refused as well.
    await page.keyboard.press('v');
    await tabTo(page, page.getByRole('button', { name: /Fit Display assembly/ }));
    await page.keyboard.press('Enter');
    await page.keyboard.press('Space');
    await refusal.waitFor();
    expect(await refusal.innerText()).toMatch(/Not yet|Not now/);
    await page.keyboard.press('Escape');
    for (let i = 0; (await stepNumber(page)) !== standing && i < 60; i++) await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('Enter');
    await gate();
  });

  it('goes through the tests, one waived with a reason, to its end', async () => {
    await runTo(page, at('Test'));
    await page.keyboard.press('w');
    await page.getByRole('textbox').waitFor();
    await page.keyboard.type('No second charger at hand; customer informed.');
    await page.keyboard.press('Enter');
    await page.locator('[data-panel=test]').waitFor({ state: 'detached' });
    await runTo(page, async (p) => (await p.getByTestId('done').innerText()).startsWith('Prove and sign'));
    expect(await page.getByTestId('verb').innerText()).toBe('All steps done');
    expect(await press(page)).toBe(false);
  });

  it('is signed and handed over with a PDF that tells it all', async () => {
    // The last step leads on.
    await page.keyboard.press('Space');
    await page.waitForURL(/\/record$/);
    const text = await handOver(page);
    for (const words of [
      'Imre Falkenrath',
      'Velmora Quill 5',
      'Battery with four strips',
      'adhesive tape of Display assembly',
      'stripped',
      'Head rounded',
      'waived',
      'No second charger',
      'Moisture rating',
      'G4 Proved before sealed',
      'ended by hand: judged by hand, good already',
      'signed Ysolde Marrin',
    ]) {
      expect(text).toContain(words);
    }
    expect(text).toMatch(/Screws out\s+9\b/);
    expect(text).toMatch(/Screws in\s+9\b/);
  });
});
