import type { Page } from 'playwright-core';
import { describe, expect, it } from 'vitest';
import { bench } from './bench.ts';
import { agreeByWord, at, runTo, stepNumber, stored } from './harness.ts';

let page: Page;
const { server } = bench((first) => {
  page = first;
});

const post = async (path: string, json: object): Promise<Response> =>
  fetch(`${server.url}/api${path}`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({ by: 'Tobin Hask', ...json }),
  });
const taken = { anatomy: 'velmora-quill-5', customer: 'Perrin Ash', complaint: '', replace: ['battery'] };
interface Made {
  job: { id: string; plan: { condition: object; steps: { do: string; waits: number }[] } };
}

describe('the charge that the cell has', () => {
  it('is asked at intake, and the plan draws it down from there', async () => {
    await page.goto(`${server.url}/intake`);
    const charge = page.getByLabel(/Charge of the cell/);
    await charge.fill('140');
    await page.getByText('A number from 0 to 100, or nothing.').waitFor();
    await charge.fill('45');
    await page.getByText('A number from 0 to 100, or nothing.').waitFor({ state: 'detached' });
    await page.getByLabel(/Dark or dead/).check();
    expect(await charge.isDisabled()).toBe(true);
    const waits = async (condition: object) => {
      const { job } = (await (await post('/jobs', { ...taken, ...condition })).json()) as Made;
      return job.plan.steps.find((s) => s.do === 'discharge')!.waits;
    };
    const [full, half, empty, dark] = [
      await waits({}),
      await waits({ charge: 62.5 }),
      await waits({ charge: 20 }),
      await waits({ dark: true }),
    ];
    // The upper half of a charge gives a little more than the lower.
    expect(Math.abs(half / (full / 2) - 1)).toBeLessThan(0.03);
    expect([empty, dark]).toEqual([0, 0]);
    expect((await post('/jobs', { ...taken, charge: 140 })).status).toBe(422);
  });
});

describe('try it now', () => {
  it('leads there and back, one key each, and leaves the run at the same step', async () => {
    const { job } = (await (await post('/jobs', { ...taken, charge: 20 })).json()) as Made;
    await page.goto(`${server.url}/jobs/${job.id}`);
    await agreeByWord(page);
    await page.getByRole('button', { name: 'Begin the dive' }).click();
    await page.getByTestId('verb').waitFor();
    await runTo(page, at('Unscrew', 'PH000'));
    const standing = await stepNumber(page);
    await page.keyboard.press('y');
    const panel = page.locator('[data-panel=try]');
    await panel.getByText(/^Mate Battery/).waitFor();
    for (const word of ['Done', 'Done', 'It works', 'Done', 'Done']) {
      await panel.getByRole('button', { name: word, exact: true }).waitFor();
      await page.keyboard.press('Enter');
    }
    await panel.getByRole('button', { name: /Isolated again/ }).waitFor();
    await page.keyboard.press('Enter');
    await panel.waitFor({ state: 'detached' });
    await stored(page);
    expect(await stepNumber(page)).toBe(standing);
    await page.goto(`${server.url}/jobs/${job.id}/record`);
    await page.getByText('Tried in between: it works; isolated again: yes').waitFor();
  });
  it('is refused by the server where the battery was left mated', async () => {
    const list = (await (await fetch(`${server.url}/api/jobs`)).json()) as { id: string; customer: string }[];
    const { id } = list.find((j) => j.customer === 'Perrin Ash')!;
    const file = (await (await fetch(`${server.url}/api/jobs/${id}`)).json()) as { events: { seq: number }[] };
    const event = { type: 'tried', standing: null, mated: [], worked: true, isolated: false, note: '' };
    const sent = { id: crypto.randomUUID(), seq: (file.events.at(-1)?.seq ?? 0) + 1, at: new Date().toISOString() };
    const answer = await post(`/jobs/${id}/events`, { by: undefined, events: [{ ...sent, ...event }], session: null });
    expect(await answer.text()).toMatch(/bend it aside/);
  });
});
