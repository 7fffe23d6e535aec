import type { Page } from 'playwright-core';
import { describe, expect, it } from 'vitest';
import { bench } from './bench.ts';
import { agreeByWord, at, runTo, stepNumber } from './harness.ts';

let page: Page;
const { server, job } = bench((first) => {
  page = first;
});

describe('house rules', () => {
  it('a new set is made, changed, saved and used, and changes the next plan', async () => {
    await page.goto(`${server.url}/rules`);
    await page.getByRole('button', { name: 'Copy as a new set' }).click();
    await page.getByRole('button', { name: 'House rules 2' }).waitFor();
    await page.getByRole('textbox', { name: 'Name of the set' }).fill('Van');
    await page.getByText('Hot-air gun', { exact: true }).first().click();
    await page.getByRole('checkbox', { name: 'clips or bands' }).uncheck();
    await page.getByRole('checkbox', { name: 'Y000 tri-point driver' }).uncheck();
    await page.getByRole('button', { name: 'Save' }).click();
    await page.getByRole('button', { name: 'Use this set' }).click();
    await page.getByRole('button', { name: /Van.*in use/ }).waitFor();
    expect(await page.getByRole('button', { name: 'Delete this set' }).isDisabled()).toBe(true);
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
    ).json()) as { job: { id: string } };
    await page.goto(`${server.url}/jobs/${made.job.id}`);
    await page.getByText('Needed and not at hand: Y000 tri-point driver.').waitFor();
    await page.getByText(/No clips or bands at hand: pressing with the flat weight/).waitFor();
    expect(await page.getByRole('region', { name: 'Steps' }).innerText()).toContain('Heat');
    expect(await page.getByRole('region', { name: 'Have ready' }).innerText()).toContain('hot-air gun');
    await page.goto(`${server.url}/rules`);
    await page.getByRole('button', { name: 'House rules', exact: true }).click();
    await page.getByRole('button', { name: 'Use this set' }).click();
    await page.getByRole('button', { name: /^House rules.*in use/ }).waitFor();
  });
  it('a name that is taken is refused, and nothing typed is lost', async () => {
    await page.getByRole('textbox', { name: 'Name of the set' }).fill('Van');
    await page.getByRole('button', { name: 'Save' }).click();
    await page.getByText(/there is a set "Van" already/).waitFor();
    expect(await page.getByRole('textbox', { name: 'Name of the set' }).inputValue()).toBe('Van');
  });
  it('numbers are typed with a point or a comma, and one out of range is said and not saved', async () => {
    await page.goto(`${server.url}/rules`);
    const clear = page.getByLabel('Kept clear, mm');
    const save = page.getByRole('button', { name: 'Save', exact: true });
    await clear.fill('11');
    await page.getByText('0 to 10', { exact: true }).waitFor();
    expect(await save.isDisabled()).toBe(true);
    await clear.fill('1,25');
    await save.click();
    await page.getByText(/✓ Saved/).waitFor();
    const sets = (await (await fetch(`${server.url}/api/rules`)).json()) as { chosen: boolean; rules: object }[];
    expect(sets.find((s) => s.chosen)?.rules).toHaveProperty('pickMargin', 1.25);
    expect(await clear.inputValue()).toBe('1,25');
  });
});

describe('choices on the plan', () => {
  it('a bare spare shows old and new side by side, and its sub-dive on the mat', async () => {
    await page.goto(`${server.url}/jobs/${job('running', 'Display assembly')}`);
    const sides = page.getByRole('region', { name: 'Old and new, side by side' });
    await sides.waitFor();
    const text = await sides.innerText();
    expect(text).toMatch(/Front sensor assembly comes off/);
    expect(text).toMatch(/Ear speaker goes on/);
    expect(await page.getByRole('region', { name: 'Steps' }).innerText()).toMatch(/Move across Front sensor assembly/);
  });
  it('two spares are weighed side by side', async () => {
    await page.goto(`${server.url}/jobs/${job('running', 'Display assembly')}/compare`);
    await page.getByText('Only here').nth(1).waitFor();
    expect(await page.getByRole('region', { name: 'Only the one way' }).innerText()).toContain('Move across');
    expect(await page.getByRole('region', { name: 'Only the other way' }).innerText()).toContain('lost: Face unlock');
    // A begun job keeps its plan.
    expect(await page.getByRole('button', { name: 'Plan the job this way' }).count()).toBe(0);
  });
  it('two sets of rules are weighed, and one is taken for the job', async () => {
    await page.goto(`${server.url}/jobs/${job('ready', 'Battery')}/compare`);
    const other = page.locator('[data-side="1"]');
    await other.getByRole('combobox', { name: 'House rules' }).selectOption({ label: 'Van' });
    await page
      .getByText(/hot-air gun/)
      .first()
      .waitFor();
    await other.getByRole('button', { name: 'Plan the job this way' }).click();
    await page.getByText('Needed and not at hand: Y000 tri-point driver.').waitFor();
  });
  it('why a step is there is told as a chain from the target', async () => {
    await page
      .getByRole('button', { name: /Lift off Power connector cover/ })
      .first()
      .hover();
    await page.getByRole('list', { name: 'Why this step' }).waitFor();
    expect(await page.getByRole('list', { name: 'Why this step' }).innerText()).toMatch(
      /to lift off Battery[\s\S]*open Battery flex[\s\S]*covers Battery flex/,
    );
  });
  it('another part is added where it costs least', async () => {
    await page.getByRole('button', { name: 'Work it out' }).click();
    await page.getByTestId('extras').waitFor({ timeout: 60_000 });
    await page.getByRole('button', { name: 'Add Vibration motor to this dive' }).click();
    await page.getByRole('heading', { name: 'Battery, Vibration motor', level: 1 }).waitFor();
  });
});

describe('planning on in the run', () => {
  it('a torn flex brings its part and its function into the dive, and the run goes on where it stood', async () => {
    await page.goto(`${server.url}/jobs/${job('running', 'Display assembly')}/run`);
    await page.getByTestId('verb').waitFor();
    await runTo(page, at('Disconnect', 'Front sensor flex'));
    const before = await stepNumber(page);
    await page.keyboard.press('d');
    const panel = page.getByRole('region', { name: 'What is different?' });
    await panel.getByText('Front sensor flex').click();
    await panel.getByText('Flex torn').click();
    await panel.getByRole('textbox').fill('Caught under the pick.');
    await page.keyboard.press('Enter');
    const anew = page.getByTestId('replan');
    await anew.getByRole('checkbox', { name: 'Front sensor assembly' }).waitFor();
    expect(await anew.getByRole('checkbox', { name: 'Front sensor assembly' }).isChecked()).toBe(true);
    await anew.getByText('Comes in').waitFor();
    expect(await anew.innerText()).toMatch(/Renew Front sensor assembly/);
    await anew.getByRole('button', { name: 'Go on with the new plan' }).click();
    await anew.waitFor({ state: 'detached' });
    // The new part costs something more: that is agreed before the work goes on.
    await page.getByTestId('agree-first').waitFor();
    await agreeByWord(page);
    expect(await stepNumber(page)).toBe(before);
    await page.reload();
    await page.getByTestId('verb').waitFor();
    expect(await stepNumber(page)).toBe(before);
    await runTo(page, at('Renew', 'Front sensor assembly'));
  });
  it('a screw that is not there on this device leaves the anatomy of this job only', async () => {
    await page.goto(`${server.url}/jobs/${job('running', 'Fan')}/run`);
    await page.getByTestId('verb').waitFor();
    await runTo(page, at('Unscrew', 'T5'));
    await page.keyboard.press('d');
    const panel = page.getByRole('region', { name: 'What is different?' });
    await panel.getByText('Not as drawn').click();
    await panel.getByRole('textbox').fill('This one has only two screws.');
    await page.keyboard.press('Enter');
    const edit = page.locator('[data-panel=edit]');
    await edit.getByRole('textbox', { name: 'Length, mm' }).fill('2,x');
    await edit.getByText('More than 0, up to 60.').waitFor();
    expect(await edit.getByRole('button', { name: 'Keep it for this device' }).isDisabled()).toBe(true);
    await edit.getByRole('textbox', { name: 'Length, mm' }).fill('2,4');
    await edit.getByRole('checkbox', { name: 'It is not there at all' }).check();
    await edit.getByRole('button', { name: 'Keep it for this device' }).click();
    const anew = page.getByTestId('replan');
    await anew.getByRole('button', { name: 'Go on with the new plan' }).click();
    await anew.waitFor({ state: 'detached' });
    await page.waitForFunction(
      () => (document.querySelector('[data-testid=step]') as HTMLElement).innerText.match(/f\d T5/g)?.length === 2,
    );
    await page.goto(`${server.url}/anatomies/osterleigh-broadleaf-12`);
    await page.getByText(/revision 1/).waitFor();
  });
});
