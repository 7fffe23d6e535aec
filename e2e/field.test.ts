import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Browser, Page } from 'playwright-core';
import { afterAll, describe, expect, test } from 'vitest';
import type { Point } from '../core/anatomy/index.ts';
import type { JobFile, JobSummary } from '../core/jobs/index.ts';
import { demoModel } from '../demo/models.ts';
import { photograph } from '../demo/photograph.ts';
import { bench } from './bench.ts';
import { at, handOver, openPage, runTo, stored, takeInUnlisted } from './harness.ts';

/*
 * A whole field dive on rendered photographs, by touch. The device is one of the demo's, of which the shop here knows
 * nothing: it is taken in under another name.
 */
let browser: Browser;
let page: Page;
const { server } = bench((_, opened) => {
  browser = opened;
});
afterAll(() => page?.context().close());

const truth = demoModel('tannbrook-field-3');
const place = (id: string): Point => (truth.fasteners.get(id) ?? truth.connectors.get(id))!.at;
const NAME = 'Mossgate Fen 2';

/** Where a place of the device lies on the screen. */
const onScreen = (on: Page, to: Point): Promise<Point> =>
  on.getByTestId('ground').evaluate((svg, [x, y]) => {
    const m = (svg.querySelector('g') as SVGGElement).getScreenCTM()!;
    return [m.a * x! + m.e, m.d * y! + m.f] as [number, number];
  }, to);

async function tap(to: Point): Promise<void> {
  await page.touchscreen.tap(...(await onScreen(page, to)));
}

/** A finger that draws from one place to another. */
async function draw(from: Point, to: Point): Promise<void> {
  const [a, b] = [await onScreen(page, from), await onScreen(page, to)];
  await page.mouse.move(...a);
  await page.mouse.down();
  await page.mouse.move(...b, { steps: 3 });
  await page.mouse.up();
}

async function drawPart(id: string): Promise<void> {
  const [x, y, w, h] = (truth.parts.get(id)!.outline as { rect: [number, number, number, number] }).rect;
  await draw([x, y], [x + w, y + h]);
}

const key = (name: string) => page.locator(`[data-way=${name}]`).tap();
const counted = (words: string) => page.getByTestId('counts').getByText(words, { exact: false });

async function shoot(opened: number, out = 0): Promise<void> {
  const picture = await photograph({ model: truth, face: 'back', opened, seed: 40 + opened, harshness: 0.2, out });
  const path = join(server.data, `layer-${opened}.jpg`);
  writeFileSync(path, picture.jpeg);
  await page.locator('input[type=file]').setInputFiles(path);
  await page.getByText('Photograph again').waitFor({ timeout: 60_000 });
}

const jobs = async () => (await (await fetch(`${server.url}/api/jobs`)).json()) as JobSummary[];
const fileOf = async (id: string) => (await (await fetch(`${server.url}/api/jobs/${id}`)).json()) as JobFile;
const jobId = () => /\/jobs\/([^/]+)/.exec(page.url())![1]!;

describe('an unknown device draws itself as it is opened', () => {
  test('it is taken in with its measures, and opened with acts on the photograph, by touch', async () => {
    page = await openPage(browser, 'about:blank');
    await page.context().close();
    const context = await browser.newContext({
      viewport: { width: 1280, height: 800 },
      hasTouch: true,
      reducedMotion: 'reduce',
      acceptDownloads: true,
    });
    page = await context.newPage();
    page.setDefaultTimeout(90_000);
    await page.goto(`${server.url}/intake`);
    for (const finding of ['swollen', 'hot', 'punctured', 'burnt'])
      await page.locator(`input[name=${finding}]`).first().check({ force: true });
    await page.getByRole('textbox', { name: 'Customer' }).fill('Perrin Ash');
    await page.getByRole('textbox', { name: 'Complaint' }).fill('The camera shakes.');
    await page.getByRole('radio', { name: /In no list/ }).check({ force: true });
    await page.getByRole('textbox', { name: 'What it is', exact: true }).fill(NAME);
    const { width, height, thickness } = truth.anatomy.body;
    await page.getByRole('textbox', { name: /Width/ }).fill(String(width).replace('.', ','));
    await page.getByRole('textbox', { name: /Height/ }).fill(String(height));
    await page.getByRole('textbox', { name: /Thickness/ }).fill(String(thickness));
    await page.getByRole('textbox', { name: 'What is to be replaced' }).fill('Main camera');
    await page.getByRole('button', { name: 'Take it in' }).tap();
    await page.getByRole('link', { name: 'Open it' }).tap();
    await page.getByTestId('ground').waitFor();

    // Nothing says that it is off: a colleague says so.
    await page.getByRole('button', { name: 'Turned over' }).tap();
    await shoot(0);
    await key('catch');
    await tap([1, 80]);
    await page
      .getByTestId('warnings')
      .getByText(/switched off/)
      .waitFor();
    await page.getByTestId('back').tap();
    await page.getByRole('button', { name: 'Switched off' }).tap();
    for (const edge of [
      [1, 80],
      [37, 157],
      [73.5, 80],
      [37, 1],
    ] as Point[])
      await tap(edge);
    await key('off');
    await drawPart('back-cover');
    await counted('1 part off').waitFor();
    await shoot(1);
    expect(await page.getByTestId('mark').count()).toBeGreaterThan(5);
  }, 240_000);

  test('screws go into wells, a wrong order is told and not refused, and what was done is taken back', async () => {
    await key('plug');
    await tap(place('main-camera-flex'));
    await page
      .getByTestId('warnings')
      .getByText(/Still LIVE/)
      .waitFor();
    await counted('1 plug open').waitFor();
    await page.getByTestId('back').tap();
    await counted('0 plugs open').waitFor();

    await key('screw');
    await tap(place('t1'));
    await page.getByRole('combobox', { name: 'Drive' }).selectOption('T5');
    await page.getByRole('textbox', { name: /Length/ }).fill('3,6');
    await page.getByRole('button', { name: 'Keep' }).tap();
    for (const id of ['t2', 't3', 't4', 't5']) await tap(place(id));
    await counted('5 screws out').waitFor();
    await page.getByTestId('well').getByText('A').waitFor();
    expect((await page.getByTestId('tray').innerText()).match(/T5/g)!.length).toBeGreaterThan(0);
    await key('off');
    await drawPart('camera-cover');
    await drawPart('battery');
    await page.getByRole('button', { name: 'battery', exact: true }).tap();
    await page.getByRole('button', { name: 'it fed the board' }).tap();
    await page.getByTestId('power').getByText('ISOLATED').waitFor();
  });

  test('the server is killed in the middle, and nothing that was done is lost', async () => {
    await stored(page);
    await server.kill();
    await key('screw');
    for (const id of ['n1', 'n2', 'n3']) {
      await tap(place(id));
      await page.getByRole('button', { name: 'captive' }).tap();
    }
    await page
      .getByTestId('connection')
      .getByText(/not sent yet/)
      .waitFor();
    await server.start();
    await page.reload();
    await page.getByTestId('ground').waitFor();
    await counted('8 screws out').waitFor();
    await stored(page);
    const second = await openPage(browser, page.url());
    await second.getByTestId('counts').getByText('8 screws out', { exact: false }).waitFor();
    await second.context().close();
  });

  test('a flex tears; the dive turns round half-way, with a new part; it is proved and signed', async () => {
    await key('off');
    await drawPart('connector-lid');
    await key('plug');
    await tap(place('main-camera-flex'));
    await page.getByRole('button', { name: 'a place, tapped' }).tap();
    await tap([22, 24]);
    await key('screw');
    for (const id of ['g1', 'g2']) await tap(place(id));
    await key('off');
    await drawPart('main-camera');
    await page.getByRole('button', { name: 'camera', exact: true }).tap();
    await page.getByRole('button', { name: 'this is to be replaced' }).tap();
    await key('plug');
    await tap(place('wide-camera-flex'));
    await page.getByText('Something is different').tap();
    await page.getByRole('textbox', { name: 'In words' }).fill('Torn at its fold as it was lifted.');
    await page.getByRole('button', { name: /torn/i }).tap();
    await page
      .getByTestId('outlook')
      .getByText(/way back/)
      .waitFor();
    await stored(page);
    await page.getByRole('button', { name: /Turn round/ }).tap();
    await page.getByRole('button', { name: /New Camera/ }).tap();
    await page.getByTestId('verb').waitFor();
    const file = await fileOf(jobId());
    const turned = file.events.find((e) => e.type === 'turned-round')!;
    expect(turned.type === 'turned-round' && turned.plan.replace).toHaveLength(1);
    await runTo(page, async () => false);
    await page.goto(`${server.url}/jobs/${jobId()}/record`);
    const text = await handOver(page);
    expect(text).toContain(NAME);
    expect(text).toMatch(/torn/i);
    await stored(page);
    expect((await jobs()).find((j) => j.device.includes(NAME))!.state).toBe('signed');
  }, 240_000);

  test('what was learnt is shown with how it is known, kept in the workshop, published, and dived by its plan', async () => {
    await page.goto(`${server.url}/jobs/${jobId()}/learnt`);
    const evidence = page.getByTestId('evidence');
    await evidence.getByText('inferred').first().waitFor();
    await page.getByRole('button', { name: /guessed/ }).tap();
    await evidence.getByText('guessed').first().waitFor();
    await page.getByRole('button', { name: 'To the workshop, as a draft' }).tap();
    await page.getByTestId('board').waitFor();
    const draft = page.url().split('/').at(-1)!;
    const post = (path: string, json: object, headers: Record<string, string> = {}) =>
      fetch(`${server.url}/api${path}`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', ...headers },
        body: JSON.stringify({ by: 'Tobin Hask', ...json }),
      });
    const published = await post(`/workshop/drafts/${draft}/publish`, {}, { 'If-Match': '"0"' });
    expect(published.status, await published.clone().text()).toBeLessThan(300);
    const document = (
      (await (await fetch(`${server.url}/api/workshop/drafts/${draft}`)).json()) as {
        document: { id: string; parts: { id: string; kind: string }[] };
      }
    ).document;
    const camera = document.parts.find((p) => p.kind === 'camera')!;
    const made = await post('/jobs', {
      anatomy: document.id,
      customer: 'Ida Moor',
      complaint: 'The same again.',
      replace: [camera.id],
    });
    expect(made.status).toBe(201);
    const { job } = (await made.json()) as JobFile;
    expect(job.plan!.steps.filter((s) => s.do === 'unscrew').flatMap((s) => s.items).length).toBeGreaterThanOrEqual(7);
    await page.goto(`${server.url}/jobs/${job.id}`);
    await page.getByRole('button', { name: 'Begin the dive' }).tap();
    await page.getByTestId('verb').waitFor();
    await runTo(page, at('Unscrew'));
    expect(await page.getByTestId('verb').innerText()).toBe('Unscrew');
  });

  test('by keyboard alone: the crosshair goes with the arrows, Enter taps', async () => {
    const id = await takeInUnlisted(server);
    await page.goto(`${server.url}/jobs/${id}/explore`);
    await page.getByTestId('ground').waitFor();
    await page.keyboard.press('s');
    for (let i = 0; i < 4; i++) await page.keyboard.press('ArrowLeft');
    await page.keyboard.press('Enter');
    await counted('1 screw out').waitFor();
    await page.keyboard.press('o');
    await page.keyboard.press('Enter');
    for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowDown');
    for (let i = 0; i < 5; i++) await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Enter');
    await counted('1 part off').waitFor();
    await page.keyboard.press('Backspace');
    await counted('0 parts off').waitFor();
    await stored(page);
    const { events } = await fileOf(id);
    expect(events.map((e) => e.type)).toEqual(['act', 'act', 'act-undone']);
  });
});
