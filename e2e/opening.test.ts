import AxeBuilder from '@axe-core/playwright';
import type { Page } from 'playwright-core';
import { describe, expect, it } from 'vitest';
import { bench } from './bench.ts';
import { agreeByWord, at, pdfText, runTo, stepNumber } from './harness.ts';

let page: Page;
const { server, job } = bench((first) => {
  page = first;
});

const seconds = (clock: string): number => {
  const [m, s] = clock.split(':').map(Number);
  return m! * 60 + s!;
};
const edgeStates = (): Promise<string[]> =>
  page
    .getByTestId('heat-map')
    .locator('[data-edge]')
    .evaluateAll((all) => all.map((g) => g.getAttribute('data-state')!));

describe('how hot, how long', () => {
  it('shows the map, the curves and what they come to', async () => {
    await page.goto(`${server.url}/jobs/${job('ready', 'Battery')}/opening`);
    await page.getByTestId('heat-map').waitFor();
    // D10: it begins with what the plan of the job uses.
    expect(await page.getByLabel('Set, °C').inputValue()).toBe('80');
    expect(await page.getByRole('textbox', { name: 'Minutes' }).inputValue()).toMatch(/^\d+(\.\d)?$/);
    await page.getByLabel('Set, °C').fill('70');
    await page.getByRole('textbox', { name: 'Minutes' }).fill('5,0');
    expect(await page.getByTestId('heat-map').locator('[data-edge]').count()).toBe(4);
    await page.getByRole('img', { name: /Temperatures over 10:00/ }).waitFor();
    // At 70 °C the tape of this phone, soft from 60 °C, stays short of it.
    expect(await page.getByTestId('soft-at').innerText()).toBe('not soft');
    expect(new Set(await edgeStates())).toEqual(new Set(['not yet']));
  });
  it('a hotter mat softens it, and the limits that are passed are named', async () => {
    await page.getByLabel('Set, °C').fill('90');
    await page.getByTestId('soft-at').filter({ hasText: ':' }).waitFor();
    await page.getByText(/the cell passes 50 °C/).waitFor();
    expect(seconds(await page.getByTestId('soft-at').innerText())).toBeLessThan(200);
    await page.getByText(/✕ Stop: the cell passes 60 °C/).waitFor();
  });
  it('the slider goes through not yet, soft and cooling', async () => {
    expect(new Set(await edgeStates())).toEqual(new Set(['soft']));
    const thumb = page.getByRole('slider', { name: 'Moment' });
    await thumb.focus();
    await page.keyboard.press('Home');
    expect(new Set(await edgeStates())).toEqual(new Set(['not yet']));
    await page.keyboard.press('End');
    expect(new Set(await edgeStates())).toEqual(new Set(['cooling']));
    expect(await page.getByRole('region', { name: 'Temperature map' }).innerText()).toMatch(/10:00\s*cooling/);
  });
  it('finds the quickest recipe, and uses it', async () => {
    await page.getByRole('button', { name: 'Find it' }).click();
    await page
      .getByTestId('recipe')
      .getByText(/heat mat at \d+ °C/)
      .waitFor();
    await page.getByRole('button', { name: 'Use it' }).click();
    await page.getByText(/✓ The recipe: heat mat at/).waitFor();
    await page.waitForFunction(() => document.querySelector('[data-testid=soft-at]')?.textContent !== 'not soft');
    await page.getByText(/✕ Stop/).waitFor({ state: 'detached' });
  });
  it('where none is safe it says what stands against it and what else would do', async () => {
    await page.getByText('hot-air gun', { exact: true }).click();
    await page.getByRole('button', { name: 'Find it' }).click();
    await page.getByText(/None with the hot-air gun: the panel would pass 83 °C/).waitFor();
    expect(await page.getByTestId('recipe').innerText()).toMatch(/then solvent/);
    await page.getByRole('button', { name: 'Use it' }).first().click();
    await page.getByText(/✓ The recipe:/).waitFor();
  });
  it('a setting beyond the source is refused in words, and a bond that heat does not loosen has no map', async () => {
    await page.getByText('heat mat', { exact: true }).click();
    await page.getByLabel('Set, °C').fill('150');
    await page.getByText('set: the heat mat goes from 40 to 90 °C').waitFor();
    await page.getByLabel('Set, °C').fill('75,5');
    await page.getByTestId('heat-map').waitFor();
    await page.getByText('How well it gives its heat').click();
    await page.getByLabel('Contact, W/m²K').fill('a lot');
    await page.getByText('how well it gives its heat: a number there does not fit').waitFor();
    await page.getByTestId('heat-map').waitFor({ state: 'detached' });
    await page.goto(`${server.url}/anatomies/pellworth-nacre-2/opening?bond=coil-tape`);
    await page.getByRole('tab', { name: 'How deep', selected: true }).waitFor();
    expect(await page.getByRole('tab', { name: /How hot/ }).isDisabled()).toBe(true);
  });
  it('can be used without seeing, by the rules of axe', async () => {
    await page.goto(`${server.url}/jobs/${job('ready', 'Battery')}/opening`);
    await page.getByTestId('heat-map').waitFor();
    const { violations } = await new AxeBuilder({ page }).analyze();
    expect(violations.map((v) => `${v.id}: ${v.nodes[0]?.target.join(' ')}`)).toEqual([]);
  });
});

describe('from the plan', () => {
  it('a heat step leads to its heat, a cut to its depth', async () => {
    for (const [step, link, shown] of [
      ['Heat adhesive tape', 'See how hot it gets', 'heat-map'],
      ['Cut adhesive tape', 'See how deep it goes', 'seam'],
    ] as const) {
      await page.goto(`${server.url}/jobs/${job('ready', 'Battery')}`);
      await page
        .getByRole('button', { name: new RegExp(step) })
        .first()
        .click();
      await page.getByRole('link', { name: link }).click();
      await page.getByTestId(shown).waitFor();
    }
  });
});

describe('how deep', () => {
  it('shows the depth of every stretch, the entry and what is left', async () => {
    await page.goto(`${server.url}/jobs/${job('ready', 'Battery')}/opening?view=depth`);
    await page.getByTestId('seam').waitFor();
    const order = page.getByRole('region', { name: 'Order of the cut' });
    expect(await order.innerText()).toMatch(/Enter at the bottom edge, opposite the hooks/);
    expect(await order.innerText()).toMatch(/0\.5 mm stays: behind it Side buttons/);
    expect(await page.getByRole('region', { name: 'Marks' }).innerText()).toMatch(/1\.4 and 1\.9\s*mm/);
    await order.locator('[data-run="3"]').click();
    expect(await order.locator('[data-run="3"]').getAttribute('aria-pressed')).toBe('true');
  });
  it('one mark cuts less than two, and weak glass changes the first gap', async () => {
    const share = async () => Number(/(\d+) %/.exec(await page.getByRole('region', { name: 'Marks' }).innerText())![1]);
    const two = await share();
    await page.getByLabel('Most marks').fill('1');
    await page.getByText('mark on the pick', { exact: true }).waitFor();
    expect(await share()).toBeLessThan(two);
    await page.getByLabel('glass cracked or weak').check();
    await page.getByText(/Clear tape over the whole glass first/).waitFor();
  });
  it('prints the template at 1:1', async () => {
    await page.getByLabel('Most marks').fill('2');
    const download = page.waitForEvent('download');
    const link = page.getByRole('link', { name: 'Template, PDF 1:1' });
    await link.evaluate((a) => {
      a.removeAttribute('target');
      a.setAttribute('download', 'picks.pdf');
    });
    await link.click();
    const text = pdfText(await (await download).path());
    expect(text).toContain('this bar measures 50 mm');
    expect(text).toMatch(/Mark 1: 1\.4 mm/);
    expect(text).toMatch(/behind it Side buttons/);
    // In the vector form the same sheet is in millimetres: the bar runs 50, and each mark lies so far above the tip.
    const svg = await (await fetch(`${server.url}/api/opening/template/velmora-quill-5.svg?bond=display-seal`)).text();
    expect(svg).toMatch(/width="210mm" height="297mm" viewBox="0 0 210 297"/);
    expect(svg).toContain('d="M0 0H50"');
    const marks = [...svg.matchAll(/d="M-14 0H14" transform="translate\(([\d.]+) ([\d.]+)\) scale\(1\)"/g)].map((m) =>
      Number(m[2]),
    );
    expect(marks.map((y) => Math.round((74 - y) * 10) / 10)).toEqual([1.4, 1.9]);
  });
  it('refuses a template that cannot be, with where', async () => {
    const answer = await fetch(`${server.url}/api/opening/template/velmora-quill-5.pdf?bond=nope`);
    expect(answer.status).toBe(422);
    expect(((await answer.json()) as { error: string }).error).toMatch(
      /bond: the anatomy velmora-quill-5 has no bond "nope"/,
    );
    expect(
      (await fetch(`${server.url}/api/opening/template/velmora-quill-5.pdf?bond=display-seal&marks=99`)).status,
    ).toBe(422);
  });
});

describe('the opening in the run', () => {
  it('follows the thermometers: the time is corrected, a limit warned of before it is reached, and the alarm sounds at it', async () => {
    await page.goto(`${server.url}/jobs/${job('ready', 'Battery')}`);
    await agreeByWord(page);
    await page.getByRole('button', { name: 'Begin the dive' }).click();
    await page.getByTestId('verb').waitFor();
    await runTo(page, at('Heat'));
    expect(await page.getByTestId('step').innerText()).toMatch(/Heat mat at \d+ °C: [\d.]+ min/);
    await page.getByLabel('Thermometers (simulated)').check();
    // Each state as it comes: one of them may be over before a question from here is answered, and at the quickest
    // clock before a busy machine has drawn it.
    await page.getByLabel('their clock').selectOption('10');
    const states = page.evaluate(
      () =>
        new Promise<string[]>((resolve) => {
          const states: string[] = [];
          const look = () => {
            const state = document.querySelector('[data-testid=heat-follow]')?.getAttribute('data-state');
            if (state && state !== states.at(-1)) states.push(state);
            if (state !== 'alarm') return;
            watch.disconnect();
            resolve(states);
          };
          const watch = new MutationObserver(look);
          watch.observe(document, { subtree: true, childList: true, attributeFilter: ['data-state'] });
        }),
    );
    await page.keyboard.press('Space');
    await page.getByTestId('heat-remaining').waitFor();
    expect(await page.getByTestId('heat-follow').innerText()).toMatch(/of what was assumed/);
    const seen = await states;
    const order = seen.filter((s) => s === 'soft' || s === 'warning' || s === 'alarm');
    expect(order.slice(0, 3)).toEqual(['soft', 'warning', 'alarm']);
    await page.getByRole('alert').filter({ hasText: 'Take it off the heat' }).waitFor();
  });
  it('what was too hot cools first, and what a thermometer says need not wait for the clock', async () => {
    const n = await stepNumber(page);
    // Red beats green: it was soft, but too hot since. It cools first.
    expect(await page.getByTestId('done').innerText()).toMatch(/^Waiting/);
    expect(await page.getByTestId('why').innerText()).toMatch(/too hot/);
    // It is taken off: a peak that is heard of late would have it cool once more.
    await page.getByLabel('Thermometers (simulated)').uncheck();
    await page.keyboard.press('t');
    await page.getByRole('button', { name: 'A thermometer says below 40 °C' }).click();
    await page.getByRole('alert').filter({ hasText: 'Too hot' }).waitFor({ state: 'detached' });
    await page.keyboard.press('t');
    await page.getByRole('button', { name: 'A thermometer says it is soft' }).click();
    await page.getByTestId('done').filter({ hasText: 'Done' }).waitFor();
    await page.keyboard.press('Space');
    await page.waitForFunction(
      (before) => Number(document.querySelector('[data-testid=step-number]')?.textContent) > before,
      n,
    );
    const events = (
      (await (await fetch(`${server.url}/api/jobs/${job('ready', 'Battery')}`)).json()) as {
        events: {
          type: string;
          reason?: string;
          how?: string;
          kind?: string;
          value?: number;
          said?: { code: string } | null;
          heated?: { at: string } | null;
        }[];
      }
    ).events;
    expect(events.filter((e) => e.type === 'timer-ended' && e.how === 'thermometer')).toHaveLength(2);
    expect(events.some((e) => e.type === 'note' && e.said?.code === 'warned-of-heat')).toBe(true);
    expect(events.some((e) => e.type === 'deviation' && e.kind === 'overheated' && e.value! > 55)).toBe(true);
    expect(events.filter((e) => e.type === 'reading' && e.heated?.at === 'seam').length).toBeGreaterThan(3);
  });
  it('a heating begun anew is measured anew', async () => {
    const n = await stepNumber(page);
    await page.keyboard.press('Backspace');
    await page.getByTestId('verb').filter({ hasText: 'Heat' }).waitFor();
    await page.getByLabel('Thermometers (simulated)').check();
    await page.keyboard.press('Space');
    // What was soft before does not end this wait: its readings begin anew.
    await page.getByTestId('done').filter({ hasText: 'Waiting' }).waitFor();
    await page.getByTestId('heat-remaining').waitFor();
    expect(await page.getByTestId('heat-follow').getAttribute('data-state')).toBe('heating');
    await page.getByLabel('Thermometers (simulated)').uncheck();
    await page.keyboard.press('t');
    await page.getByRole('button', { name: 'A thermometer says it is soft' }).click();
    await page.getByTestId('done').filter({ hasText: 'Done' }).waitFor();
    await page.keyboard.press('Space');
    await page.waitForFunction(
      (at) => Number(document.querySelector('[data-testid=step-number]')?.textContent) === at,
      n,
    );
  });
  it('shows the cut with its depths where the device was drawn', async () => {
    await runTo(page, at('Cut'));
    await page.getByTestId('seam').waitFor();
    expect(await page.getByTestId('step').innerText()).toMatch(/Marks at 1\.4 and 1\.9 mm\. Enter at the bottom edge/);
    expect(await page.getByTestId('seam').locator('[data-run="1"]').count()).toBe(1);
  });
});

describe('heat sources', () => {
  it('a source is measured on a plate, and new dives reckon with it', async () => {
    await page.goto(`${server.url}/sources`);
    await page.getByLabel('Clock').selectOption('60');
    await page.getByRole('button', { name: 'Watch the thermometer (simulated)' }).click();
    await page.getByRole('button', { name: 'Fit 40 readings' }).click();
    const fit = page.getByTestId('fit');
    await fit.waitFor();
    const [, value, low, high] = /(\d+) W\/m²K\s+(\d+) to (\d+)/.exec(await fit.innerText())!.map(Number);
    expect(value).toBeGreaterThanOrEqual(low!);
    expect(value).toBeLessThanOrEqual(high!);
    await page.getByRole('button', { name: 'Keep it as ours' }).click();
    await page.getByText(/✓ Kept: new dives reckon with/).waitFor();
    await page.getByRole('button', { name: /heat mat.*own value/s }).waitFor();
    const made = (await (
      await fetch(`${server.url}/api/jobs`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({
          anatomy: 'velmora-quill-5',
          customer: 'Linnet Voss',
          complaint: '',
          by: 'Tobin Hask',
          replace: ['battery'],
        }),
      })
    ).json()) as { job: { plan: { rules: { sources: { mat?: { conductance: number } } } } } };
    expect(Math.round(made.job.plan.rules.sources.mat!.conductance)).toBeCloseTo(value!, -1);
    await page.getByRole('button', { name: 'Back to the default' }).click();
    await page.getByText('✓ The default is used again.').waitFor();
  });
  it('readings that cannot be fitted are refused, with where', async () => {
    const box = page.getByLabel('Readings: s, °C');
    await box.fill('10 24\nhot');
    await page.getByText('line 2: give seconds and °C').waitFor();
    await box.fill('10 22\n20 22\n30 22\n40 22\n50 22');
    await page.getByRole('button', { name: 'Fit 5 readings' }).click();
    await page.getByText(/the plate warms by only 0\.0 K/).waitFor();
    expect(await box.inputValue()).toContain('40 22');
  });
});
