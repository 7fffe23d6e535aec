import { execFileSync } from 'node:child_process';
import type { Browser, Page } from 'playwright-core';
import { beforeAll, describe, expect, it } from 'vitest';
import type { JobFile, RuleSet } from '../core/jobs/index.ts';
import { bench } from './bench.ts';
import { openPage, pdfText, stored } from './harness.ts';

let page: Page;
let browser: Browser;
const { server, job: run } = bench((first, up) => {
  page = first;
  page.setDefaultTimeout(60_000);
  browser = up;
});

const ask = async <T>(
  path: string,
  json?: unknown,
  method = 'POST',
  headers: Record<string, string> = {},
): Promise<T> =>
  (await (
    await fetch(`${server.url}/api${path}`, {
      ...(json === undefined ? {} : { method, body: JSON.stringify(json) }),
      headers: { 'Content-Type': 'application/json', ...headers },
    })
  ).json()) as T;
const takeIn = async (anatomy: string, replace: string[]): Promise<string> =>
  (await ask<JobFile>('/jobs', { anatomy, customer: 'Linnet Voss', complaint: '', by: 'Tobin Hask', replace })).job.id;

/** A house that closes with strips and has a tester. */
let job = '';
beforeAll(async () => {
  const chosen = (await ask<RuleSet[]>('/rules')).find((s) => s.chosen)!;
  const rules = {
    ...chosen.rules,
    seal: 'strips',
    closing: { ...chosen.rules.closing, tester: { millilitres: 40, limit: 0.5 } },
  };
  await ask(`/rules/${chosen.id}`, { name: chosen.name, rules }, 'PUT', { 'If-Match': `"${chosen.revision}"` });
  job = await takeIn('pellworth-nacre-2', ['display']);
});

describe('a seal with its gap and its round corners', () => {
  it('is cut into strips that the plan asks for, and the template is printed', async () => {
    await page.goto(`${server.url}/jobs/${job}`);
    const ready = page.getByRole('region', { name: 'Have ready' });
    await ready.getByText(/strips of 1\.6 mm/).waitFor();
    await page.getByRole('link', { name: 'Closing' }).click();
    await page.getByTestId('bond').waitFor();
    await page.getByRole('button', { name: 'Adhesive tape of Display assembly', exact: true }).click();
    await page.getByText(/of 410 mm of its length/).waitFor();
    const strips = await page.locator('[data-strip]').count();
    expect(strips).toBeGreaterThanOrEqual(4);
    const link = page.getByRole('link', { name: 'Template, 1:1' });
    const pdf = await page.request.get(new URL((await link.getAttribute('href'))!, server.url).href);
    const path = `${server.data}/template.pdf`;
    (await import('node:fs')).writeFileSync(path, await pdf.body());
    expect(pdfText(path)).toMatch(/Strips at 1:1, \d+ pieces/);
    expect(execFileSync('pdfinfo', [path], { encoding: 'utf8' })).toMatch(/Page size:\s+595\.\d+ x 841\.\d+/);
  });
  it('is pressed with clips, each off what it must not press, and timed', async () => {
    await page.getByRole('button', { name: 'Pressing', exact: true }).click();
    expect(await page.locator('[data-clip]').count()).toBeGreaterThan(6);
    await page.getByRole('button', { name: /It is under load/ }).click();
    await page.getByRole('region', { name: 'Timers' }).getByText('adhesive tape of Display assembly').waitFor();
  });
  it('its timer runs on every screen, and through a server that is killed', async () => {
    await stored(page);
    const seconds = async () => {
      const text = await page.getByTestId('waits').locator('b').first().innerText();
      const [m, s] = text.split(':').map(Number) as [number, number];
      return 60 * m + s;
    };
    await page.goto(`${server.url}/stock`);
    await page.getByTestId('waits').waitFor();
    const before = await seconds();
    await server.kill();
    await expect.poll(seconds).toBeLessThan(before);
    await server.start();
    await page.goto(`${server.url}/cells`);
    await page.getByTestId('waits').waitFor();
    expect(await seconds()).toBeLessThan(before - 1);
    await page.getByTestId('waits').getByRole('link').first().click();
    await page.getByRole('region', { name: 'Timers' }).getByRole('button', { name: 'End it' }).first().click();
    await page.getByRole('textbox', { name: 'Why it ends now' }).fill('pressed by hand all round');
    await page.keyboard.press('Enter');
    await page.getByText('ended: pressed by hand all round').waitFor();
  });
  it('its fit is measured at eight points, with a decimal comma, and says what is wrong', async () => {
    for (const side of ['top-left', 'top-right', 'bottom-right', 'bottom-left', 'top', 'right', 'bottom', 'left']) {
      const up = !side.includes('-');
      await page.getByRole('textbox', { name: `${side}, gap, mm`, exact: true }).fill('0,15');
      await page.getByRole('textbox', { name: `${side}, step, mm`, exact: true }).fill(up ? '0,3' : '0,02');
    }
    await page.getByRole('button', { name: 'Record the fit' }).click();
    await page.getByText('✗ Not flush').waitFor();
    await page.getByText('Cell swollen:').waitFor();
  });
  it('is tested for leaks on the simulated tester, and no rating is certified', async () => {
    await page.getByRole('button', { name: 'Pressing', exact: true }).click();
    await page.getByRole('button', { name: 'Measure', exact: true }).click();
    await page.getByText('✓ Within the limit').waitFor();
    expect(await page.getByRole('region', { name: 'Seal test' }).innerText()).toMatch(/no rating follows from it/);
  });
});

describe('the cell of a job', () => {
  it('is measured on the bench supply, found unfit, boxed, and stands in the log', async () => {
    const cellJob = await takeIn('velmora-quill-5', ['battery']);
    await page.goto(`${server.url}/jobs/${cellJob}/cell`);
    await page.getByRole('combobox', { name: 'The stand-in shows' }).selectOption('bad');
    await page.getByRole('button', { name: 'Resistance by load step' }).click();
    await page.getByText(/✗ resistance/).waitFor();
    await page.getByRole('combobox', { name: 'How it came out' }).selectOption('tabs');
    await page.getByText('swollen', { exact: true }).click();
    await page.getByRole('button', { name: 'Record what is seen' }).click();
    await page.getByText('✗ It is waste: into the sand box').waitFor();
    await page.getByRole('textbox', { name: 'Put into sand box' }).fill('Sand box 1');
    await page.keyboard.press('Enter');
    await page.getByText('It lies in Sand box 1.').waitFor();
    await stored(page);
    await page.goto(`${server.url}/cells`);
    await page.locator('[data-cell=boxed]').first().click();
    await page.getByText(/never in a parcel, never by air/i).waitFor();
    await page.getByRole('combobox', { name: 'It is now' }).selectOption('collected');
    await page.getByRole('textbox', { name: 'Who took it, and its paper' }).fill('Ostwick recycling, slip 14');
    await page.getByRole('button', { name: 'Record', exact: true }).click();
    await page.getByText(/Gone/).click();
    await page.getByText(/with the licensed collection, Ostwick recycling, slip 14/).waitFor();
  });
  it('the moving of a cell to its old board is not offered where the house does not', async () => {
    const cellJob = await takeIn('velmora-quill-5', ['battery']);
    await page.goto(`${server.url}/jobs/${cellJob}/cell`);
    await page.getByRole('region', { name: 'Health' }).waitFor();
    expect(await page.getByRole('region', { name: 'On the old protection board' }).count()).toBe(0);
  });
});

describe('a shop that moves cells to their old protection boards', () => {
  it('settles who may, and with which proved weld, in its house rules', async () => {
    await page.goto(`${server.url}/rules`);
    await page.getByLabel('Rolls of tape, mm wide').fill('1,6  2  3');
    await page.getByRole('checkbox', { name: /New cells are moved to the old protection board here/ }).check();
    await page.getByRole('checkbox', { name: 'Ysolde Marrin' }).check();
    for (const [label, words] of [
      ['Machine', 'Bench welder'],
      ['Setting, in its words', 'program 3'],
      ['Strip', 'nickel 4 × 0.1 mm'],
      ['Coupons, N (at least 3)', '31 28'],
    ] as const)
      await page.getByLabel(label, { exact: true }).fill(words);
    await page.getByRole('button', { name: 'Keep this weld' }).click();
    await page.getByText('✗ not proved').waitFor();
    await page.getByRole('button', { name: 'Without Bench welder, program 3' }).click();
    for (const [label, words] of [
      ['Machine', 'Bench welder'],
      ['Setting, in its words', 'program 3'],
      ['Strip', 'nickel 4 × 0.1 mm'],
      ['Coupons, N (at least 3)', '31 28 33,5'],
    ] as const)
      await page.getByLabel(label, { exact: true }).fill(words);
    await page.getByRole('button', { name: 'Keep this weld' }).click();
    await page.getByText('✓ proved').waitFor();
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByText(/✓ Saved/).waitFor();
    const chosen = (await ask<RuleSet[]>('/rules')).find((r) => r.chosen)!.rules;
    expect(chosen.closing.rolls).toEqual([1.6, 2, 3]);
    expect(chosen.cells.transplant).toMatchObject({ trained: ['Ysolde Marrin'], welds: [{ coupons: [31, 28, 33.5] }] });
  });
  it('shows its first page, computes whether the two belong together, and goes step by step; what is off ends it', async () => {
    const cellJob = await takeIn('velmora-quill-5', ['battery']);
    await page.goto(`${server.url}/jobs/${cellJob}/cell`);
    const board = page.getByRole('region', { name: 'On the old protection board' });
    await board.getByText('Local rules decide whether it may be done at all').waitFor();
    const plan = board.getByRole('button', { name: 'Plan it this way' });
    await board.getByRole('checkbox', { name: /I have read this page/ }).check();
    expect(await plan.isDisabled()).toBe(true);
    for (const which of ['Bare cell', 'Old pack'])
      for (const [label, value] of [
        ['charged to, V', '4,4'],
        ['wide, mm', '26'],
        ['high, mm', '72'],
        ['thick, mm', '4'],
      ])
        await board.getByRole('textbox', { name: `${which}, ${label}` }).fill(value!);
    await board.getByRole('textbox', { name: 'Bare cell, charged to, V' }).fill('4,35');
    await board.getByLabel('Room for board and fold, mm').fill('5');
    await board.getByText(/they must be the same/).waitFor();
    await board.getByRole('textbox', { name: 'Bare cell, charged to, V' }).fill('4,4');
    await board.getByText('✓ They belong together.').waitFor();
    await plan.click();
    await board.getByText(/Step 1 of/).waitFor();
    const losses = (await ask<JobFile>(`/jobs/${cellJob}`)).job.plan!.losses;
    expect((await ask<JobFile>(`/jobs/${cellJob}`)).events.at(-1)).toMatchObject({ type: 'planned' });
    expect(losses.length).toBeGreaterThan(0);
    for (let n = 2; n <= 3; n++) {
      await board.getByRole('button', { name: 'As it must be' }).click();
      await board.getByText(new RegExp(`Step ${n} of`)).waitFor();
    }
    await board.getByLabel(/^Volts, V/).fill('3,1');
    await board.getByRole('button', { name: 'As it must be' }).click();
    await page.getByText('3.1 V is less than 3.5 V.').waitFor();
    await board.getByRole('button', { name: 'Something is off' }).click();
    await board.getByRole('textbox', { name: 'What is off' }).fill('deeply empty');
    await page.keyboard.press('Enter');
    await board.getByText('Ended: deeply empty').waitFor();
    await page.goto(`${server.url}/jobs/${cellJob}`);
    const lost = page.getByRole('region', { name: 'What will be lost' });
    await lost.getByText("The maker's own cell").waitFor();
    // A whole new battery is planned in its place, and nothing of it is left.
    await page.getByRole('link', { name: 'Cell', exact: true }).click();
    await board.getByRole('button', { name: 'Plan a whole new battery' }).click();
    await board.getByText('I have read this page').waitFor();
    await page.goto(`${server.url}/jobs/${cellJob}`);
    await lost.waitFor();
    expect(await lost.innerText()).not.toContain("The maker's own cell");
  });
});

describe('when a cell goes wrong', () => {
  it('one key opens what to do, from every screen, without the server', async () => {
    await page.goto(`${server.url}/cells`);
    await page.getByRole('textbox', { name: 'What it is' }).waitFor();
    const other = await openPage(browser, `${server.url}/jobs/${run('running')}/run`);
    await other.getByTestId('verb').waitFor();
    const step = await other.getByTestId('step-number').innerText();
    await server.kill();
    await other.keyboard.press('F8');
    const dialog = other.getByTestId('emergency');
    await dialog.getByText('Call the fire service. Say: lithium cell.').waitFor();
    // The one key of the run, pressed in a hurry, does nothing beneath.
    for (const key of [' ', 'Tab', 'Tab', 'Tab', 'Tab', 'Tab', 'd', 'Backspace']) await other.keyboard.press(key);
    await other.keyboard.press('3');
    await dialog.getByRole('heading', { name: 'Swelling, bent or pierced' }).waitFor();
    // No key of the run is heard beneath.
    await other.keyboard.press('Escape');
    await dialog.waitFor({ state: 'detached' });
    expect(await other.getByTestId('step-number').innerText()).toBe(step);
    await other.close();
    // From a form too, whose words stay.
    await page.getByRole('textbox', { name: 'What it is' }).fill('A loose cell');
    await page.keyboard.press('F8');
    await page.getByTestId('emergency').waitFor();
    await page.keyboard.press('x');
    await page.keyboard.press('Escape');
    expect(await page.getByRole('textbox', { name: 'What it is' }).inputValue()).toBe('A loose cell');
    await server.start();
  });
});
