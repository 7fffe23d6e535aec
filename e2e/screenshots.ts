import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import type { JobFile, JobSummary, RuleSet } from '../core/jobs/index.ts';
import { demoModel } from '../demo/models.ts';
import { photograph } from '../demo/photograph.ts';
import { launch, openPage, runTo, Server, at, settled } from './harness.ts';

/** One picture of each main view, from the demo data, for docs/screenshots. Names given as arguments limit it to those. */
const folder = process.env.NIBREL_SHOTS ?? 'docs/screenshots';
mkdirSync(folder, { recursive: true });
const server = await new Server().start();
const browser = await launch();
const jobs = (await (await fetch(`${server.url}/api/jobs`)).json()) as JobSummary[];
const job = (state: JobSummary['state'], part?: string) =>
  jobs.find((j) => j.state === state && (part === undefined || j.replace.includes(part)))!.id;

const of = (customer: string) => jobs.find((j) => j.customer === customer)!.id;
const fieldJob = jobs.find((j) => j.device.includes('Skerry'))!.id;

/** A photograph of the opened back of a device, as a camera over the bench takes it. */
async function layPhotograph(page: Page, anew = false): Promise<void> {
  const model = demoModel('tannbrook-field-3');
  const asked = { face: 'back', opened: 1, seed: 3, side: 2000, tilt: 6, towards: 40, harshness: 0.3 } as const;
  const { jpeg } = await photograph({ model, ...asked });
  await page.goto(`${server.url}/workshop`);
  if (anew) {
    const { width, height, thickness, cornerRadius, ingress } = model.anatomy.body;
    const cell = { volts: 3.85, milliampHours: 3900, cells: 1 };
    const body = { width, height, thickness, cornerRadius, ingress };
    const blank = { id: 'tannbrook-meadow-3', name: 'Meadow 3', maker: 'Tannbrook', kind: 'phone', ...body, ...cell };
    const begun = await page.request.post(`${server.url}/api/workshop/drafts`, { data: { blank } });
    await page.goto(`${server.url}/workshop/${((await begun.json()) as { id: string }).id}`);
  }
  const device = page.getByRole('listitem').filter({ hasText: model.anatomy.name });
  if (!anew) await device.getByRole('button', { name: 'Go on drawing' }).click();
  await page.getByRole('link', { name: 'Lay a photograph' }).click();
  const photo = { name: 'back.jpg', mimeType: 'image/jpeg', buffer: jpeg };
  await page.locator('input[type=file]').first().setInputFiles(photo);
  await page.getByTestId('photo').waitFor();
  await page.getByRole('combobox', { name: 'Face' }).selectOption('back');
  await page.getByLabel('Layers off').fill('1');
  await page.keyboard.press('Tab');
}

async function straighten(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Straighten it' }).click();
  await page.getByTestId('survey').waitFor();
  await page.getByRole('button', { name: 'Draw on it' }).click();
  await page.getByTestId('board').waitFor();
}

const VIEWS: Record<string, (page: Page) => Promise<void>> = {
  jobs: async (page) => {
    await page.goto(server.url);
    await page.getByRole('heading', { level: 1 }).waitFor();
  },
  intake: async (page) => {
    await page.goto(`${server.url}/intake`);
    for (const name of ['swollen', 'hot', 'punctured', 'burnt'])
      await page.locator(`input[name=${name}]`).first().check({ force: true });
    await page.getByRole('textbox', { name: 'Customer' }).fill('Edda Morrow');
    await page.getByRole('textbox', { name: 'Complaint' }).fill('Dropped; the picture has lines.');
    await page.getByText('Velmora Quill 5').click();
    await page.locator('[data-function]').first().waitFor();
    await page.getByRole('button', { name: 'Some function fails' }).click();
    await page.locator('[data-function=power]').focus();
    for (const key of ['1', '2', '1', '2']) await page.keyboard.press(key);
    await page.getByRole('heading', { level: 1 }).scrollIntoViewIfNeeded();
  },
  plan: async (page) => {
    await page.goto(`${server.url}/jobs/${job('ready', 'Battery')}`);
    await page.locator('ol button[aria-current], ol button').nth(11).hover();
  },
  run: async (page) => {
    await page.goto(`${server.url}/jobs/${job('running', 'Display assembly')}/run`);
    await page.getByTestId('verb').waitFor();
    await runTo(page, at('Unscrew'));
    await page.keyboard.press('Space');
  },
  gate: async (page) => {
    await page.goto(`${server.url}/jobs/${job('running', 'Main camera module')}/run`);
    await page.getByTestId('verb').waitFor();
    await page.keyboard.press('v');
    await page.getByRole('button', { name: /Gate G4/ }).click();
    await page.keyboard.press('Space');
    await page.getByTestId('refusal').waitFor();
  },
  replan: async (page) => {
    await page.goto(`${server.url}/jobs/${job('running', 'Display assembly')}/run`);
    await page.getByTestId('verb').waitFor();
    await runTo(page, at('Unscrew'));
    await page.keyboard.press('d');
    await page.getByRole('radio', { name: 'Screw stripped' }).waitFor();
    await page.keyboard.type('Rounded by whoever was here before.');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Go on with the new plan' }).waitFor();
  },
  quote: async (page) => {
    await page.goto(`${server.url}/jobs/${of('Dario Penhallow')}/quote`);
    await page.getByRole('button', { name: 'Quote it' }).click();
    await page.getByText('What it is made of').waitFor();
  },
  customer: async (page) => {
    const id = of('Marit Lindqvane');
    await page.request.post(`${server.url}/api/jobs/${id}/quote`, { data: {} });
    await page.goto(`${server.url}/jobs/${id}/customer`);
    const pad = page.getByLabel('Sign here');
    await pad.waitFor();
    await page.waitForTimeout(400);
    const box = (await pad.boundingBox())!;
    await page.mouse.move(box.x + 70, box.y + 110);
    await page.mouse.down();
    for (let i = 0; i < 60; i++)
      await page.mouse.move(box.x + 70 + i * 5, box.y + 100 + 34 * Math.sin(i / 2.2) * Math.cos(i / 9) - i / 3);
    await page.mouse.up();
  },
  spill: async (page) => {
    await page.goto(`${server.url}/jobs/${job('running', 'Display assembly')}/spill`);
    await page.getByRole('button', { name: /Measure all/ }).click();
    await page.getByRole('button', { name: /^Measure all/ }).waitFor();
    await page.locator('[data-piece]').nth(5).waitFor();
    await page.waitForTimeout(400);
  },
  heat: async (page) => {
    await page.goto(`${server.url}/jobs/${job('ready', 'Battery')}/opening`);
    await page.getByTestId('heat-map').waitFor();
    await page.getByLabel('Set, °C').fill('80');
    await page.getByRole('textbox', { name: 'Minutes' }).fill('5');
    await page.getByText(/the cell passes 50 °C/).waitFor();
    // What is shown is of the last that was asked.
    await page.waitForTimeout(400);
    await page.getByRole('button', { name: 'Stop', exact: true }).waitFor({ state: 'detached' });
    await page.getByRole('slider', { name: 'Moment' }).focus();
    for (let i = 0; i < 20; i++) await page.keyboard.press('ArrowLeft');
  },
  prove: async (page) => {
    await page.goto(`${server.url}/jobs/${of('Cosima Aldergate')}/prove`);
    await page.getByRole('list', { name: 'Suspects' }).waitFor();
  },
  record: async (page) => {
    await page.goto(`${server.url}/jobs/${job('signed')}/record`);
    await page.locator('#handover').waitFor();
  },
  laying: async (page) => {
    await layPhotograph(page);
    await page.locator('[data-handle="1a"]').focus();
  },
  drawing: async (page) => {
    await layPhotograph(page);
    await straighten(page);
    await page.keyboard.press(']');
    await page.getByRole('button', { name: 'Camera cover', exact: true }).click();
    await page.getByTestId('small-dive').getByText('steps').waitFor();
  },
  explore: async (page) => {
    await page.goto(`${server.url}/jobs/${fieldJob}/explore`);
    await page.getByTestId('outlook').waitFor();
    const model = demoModel('tannbrook-field-3');
    const { jpeg } = await photograph({ model, face: 'back', opened: 2, seed: 6, harshness: 0.2, out: 0.4 });
    await page.locator('input[type=file]').setInputFiles({ name: 'layer.jpg', mimeType: 'image/jpeg', buffer: jpeg });
    await page.locator('image[href^="/api/photos"]').waitFor();
    await page.getByText('Looking for heads').waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Screw out' }).click();
  },
  learnt: async (page) => {
    await page.goto(`${server.url}/jobs/${fieldJob}/learnt`);
    await page.getByTestId('evidence').waitFor();
  },
  closing: async (page) => {
    const rules = (await (await fetch(`${server.url}/api/rules`)).json()) as RuleSet[];
    const chosen = rules.find((r) => r.chosen)!;
    await page.request.put(`${server.url}/api/rules/${chosen.id}`, {
      data: { name: chosen.name, rules: { ...chosen.rules, seal: 'strips' } },
      headers: { 'If-Match': `"${chosen.revision}"` },
    });
    const intake = { anatomy: 'pellworth-nacre-2', customer: 'Linnet Voss', complaint: '', replace: ['display'] };
    const made = await page.request.post(`${server.url}/api/jobs`, { data: { ...intake, by: 'Tobin Hask' } });
    await page.goto(`${server.url}/jobs/${((await made.json()) as JobFile).job.id}/closing`);
    await page.getByTestId('bond').waitFor();
    await page.getByRole('button', { name: 'Adhesive tape of Display assembly', exact: true }).click();
    await page.locator('[data-strip]').first().waitFor();
  },
  cell: async (page) => {
    await page.goto(`${server.url}/jobs/${of('Dario Penhallow')}/cell`);
    await page.getByRole('combobox', { name: 'The stand-in shows' }).selectOption('worn');
    await page.getByRole('button', { name: 'Resistance by load step' }).click();
    await page.getByText(/○ resistance/).waitFor();
    await page.getByRole('combobox', { name: 'How it came out' }).selectOption('tabs');
    await page.getByRole('button', { name: 'Flawless: record it' }).click();
    await page.getByText('It does not go back: a new one goes in').waitFor();
    await page.evaluate(() => window.scrollTo(0, 0));
  },
  emergency: async (page) => {
    await page.goto(`${server.url}/jobs/${of('Fenn Okarro')}/run`);
    await page.getByTestId('verb').waitFor();
    await page.keyboard.press('F8');
    await page.getByTestId('emergency').waitFor();
  },
};

try {
  const asked = process.argv.slice(2);
  for (const [name, show] of Object.entries(VIEWS)) {
    if (asked.length > 0 && !asked.includes(name)) continue;
    const page = await openPage(browser, server.url);
    await show(page);
    await settled(page);
    await page.waitForTimeout(250);
    await page.screenshot({ path: join(folder, `${name}.png`) });
    await page.context().close();
    process.stdout.write(`${name}\n`);
  }
} finally {
  await browser.close();
  await server.stop();
}
