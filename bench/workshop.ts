import { mkdtempSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { openCv } from '../cli/opencv.ts';
import { faultsOf } from '../core/anatomy/index.ts';
import { relationsOf } from '../core/draft/index.ts';
import {
  atDepth,
  cameraOver,
  cornersOfBody,
  mapped,
  proposedOutlines,
  proposedScrews,
  straightened,
  surveyByEdges,
  warpWith,
  type Edges,
  type Picture,
} from '../core/survey/index.ts';
import { demoModel, DEVICES } from '../demo/models.ts';
import { photograph, type Photograph } from '../demo/photograph.ts';
import { modularAnatomy, seededDraw } from '../demo/synthetic.ts';
import { launch, openPage, Server } from '../e2e/harness.ts';
import { ms, quantile, ratio, timed, type Table } from './report.ts';

async function pictureOf(photo: Photograph): Promise<Picture> {
  const { data, info } = await sharp(photo.jpeg).raw().toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, channels: 3, data };
}

/** Straightening at twelve megapixels, and what an edit of 313 items costs to read. */
export async function surveyBench(): Promise<Table> {
  const model = demoModel('velmora-quill-5');
  const photo = await photograph({ model, face: 'front', opened: 1, seed: 5, side: 4000, tilt: 6, harshness: 0.2 });
  const picture = await pictureOf(photo);
  const { body } = model.anatomy;
  const survey = surveyByEdges(photo.edges as Edges, body);
  const cv = await openCv();
  const own = timed(() => straightened(picture, survey.toPicture, body, { pxPerMm: 20 }), 3);
  const theirs = timed(() => straightened(picture, survey.toPicture, body, { pxPerMm: 20, warp: warpWith(cv) }), 3);
  const snap = timed(() => surveyByEdges(photo.edges as Edges, body, { picture }), 3);
  const plate = straightened(picture, survey.toPicture, body, { pxPerMm: 14 });
  const screws = timed(() => proposedScrews(cv, plate), 3);
  const outlines = timed(() => proposedOutlines(cv, plate), 3);
  let device = modularAnatomy(44);
  const edits: number[] = [];
  const whole: number[] = [];
  relationsOf(device);
  for (let i = 0; i < 12; i++) {
    const f = device.fasteners[i * 5]!;
    device = { ...device, fasteners: device.fasteners.with(i * 5, { ...f, at: [f.at[0] + 0.1, f.at[1]] }) };
    edits.push(...timed(() => [faultsOf(device), relationsOf(device)], 1, 0));
    const copy = structuredClone(device);
    whole.push(...timed(() => [faultsOf(copy), relationsOf(copy)], 1, 0));
  }
  const row = (what: string, list: number[], aim: string) => [
    what,
    ms(quantile(list, 0.5)),
    ms(quantile(list, 0.95)),
    aim,
  ];
  return {
    title: 'Straightening, finding, and reading an edit',
    note: `12 megapixels; ${device.parts.length + device.fasteners.length + device.connectors.length} items`,
    columns: ['what', 'median', '95th', 'aim'],
    rows: [
      row('straightened by bilinear sampling', own, '1.5 s'),
      row('straightened by OpenCV', theirs, ''),
      ['bilinear over OpenCV', ratio(quantile(own, 0.5) / quantile(theirs, 0.5)), '', ''],
      row('four edges snapped', snap, ''),
      row('screws found', screws, '2 s, with outlines'),
      row('outlines found', outlines, ''),
      row('faults and relations after an edit', edits, '50 ms'),
      row('the same, of a copy that shares nothing', whole, ''),
    ],
  };
}

/** Sixty rendered photographs by difficulty: corners by hand and snapped, coverage of what is stated, screws. */
export async function proposalsBench(): Promise<Table> {
  const cv = await openCv();
  const draw = seededDraw(3);
  const normal = () =>
    Math.sqrt(-2 * Math.log((draw(9999) + 1) / 10_000)) * Math.cos((2 * Math.PI * draw(10_000)) / 10_000);
  const groups = new Map<
    string,
    { there: number; found: number; wrong: number; corners: number; hand: number; snapped: number; covered: number }
  >();
  const asked = DEVICES.flatMap((id) =>
    (['front', 'back'] as const).flatMap((face) => [1, 2, 3, 4].map((opened) => ({ id, face, opened }))),
  ).filter(({ id, face, opened }) => {
    const model = demoModel(id);
    return model.anatomy.parts.some((p) => !p.fixed && p.face === face && p.layer >= opened);
  });
  for (let n = 0; n < 60; n++) {
    const one = asked[n % asked.length]!;
    const model = demoModel(one.id);
    const harshness = [0.1, 0.4, 0.8][n % 3]!;
    const height = [220, 300, 400][n % 3]!;
    const photo = await photograph({
      model,
      face: one.face,
      opened: one.opened,
      seed: 500 + n,
      side: 1700,
      tilt: draw(16),
      towards: draw(360),
      height,
      harshness,
      out: n % 4 === 0 ? 0.2 : 0,
    });
    const picture = await pictureOf(photo);
    const { body } = model.anatomy;
    const truth = surveyByEdges(photo.edges as Edges, body, { face: one.face });
    const scale = photo.width / body.width / 1.3;
    const laid = photo.edges.map(([a, b]) => {
      const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
      const off = (p: readonly [number, number]) => {
        const d = normal() * 0.3 * scale;
        return [p[0] + ((b[1] - a[1]) / length) * d, p[1] - ((b[0] - a[0]) / length) * d] as const;
      };
      return [off(a), off(b)];
    }) as unknown as Edges;
    const group = groups.get(`harshness ${harshness}`) ?? {
      there: 0,
      found: 0,
      wrong: 0,
      corners: 0,
      hand: 0,
      snapped: 0,
      covered: 0,
    };
    groups.set(`harshness ${harshness}`, group);
    const hand = surveyByEdges(laid, body, { face: one.face });
    const snapped = surveyByEdges(laid, body, { face: one.face, picture });
    for (const corner of cornersOfBody(body, 'front')) {
      const px = mapped(truth.toPicture, corner);
      const away = (p: readonly [number, number]) => Math.hypot(p[0] - corner[0], p[1] - corner[1]);
      group.corners++;
      if (away(mapped(hand.toBody, px)) < 0.3) group.hand++;
      const off = away(mapped(snapped.toBody, px));
      if (off < 0.3) group.snapped++;
      if (off < snapped.errorAt(corner).radius95) group.covered++;
    }
    const camera = cameraOver(snapped.toPicture, picture, height);
    const plate = straightened(picture, atDepth(snapped.toPicture, 0.4, camera), body, { pxPerMm: 14 });
    const left = [...proposedScrews(cv, plate).screws];
    for (const { at, diameter } of photo.screws) {
      group.there++;
      const hit = left.findIndex((s) => Math.hypot(s.at[0] - at[0], s.at[1] - at[1]) < Math.max(0.8, 0.4 * diameter));
      if (hit < 0) continue;
      group.found++;
      left.splice(hit, 1);
    }
    group.wrong += left.length;
  }
  const share = (a: number, b: number) => `${((100 * a) / Math.max(1, b)).toFixed(1)} %`;
  return {
    title: 'Sixty rendered photographs',
    note: 'corners within 0.3 mm on the measured plane, hands 0.3 mm off; screws found, and wrong ones per true one',
    columns: ['difficulty', 'corners by hand', 'snapped', 'stated 95 % holds', 'screws', 'found', 'wrong per true'],
    rows: [...groups].map(([name, g]) => [
      name,
      share(g.hand, g.corners),
      share(g.snapped, g.corners),
      share(g.covered, g.corners),
      g.there,
      share(g.found, g.there),
      (g.wrong / Math.max(1, g.there)).toFixed(3),
    ]),
  };
}

/** Work of a pointer move on a board of 313 items, from a trace of the browser; and the bytes of the first load. */
export async function boardBench(): Promise<Table> {
  const server = await new Server().start();
  const browser = await launch();
  try {
    const device = { ...modularAnatomy(44), id: 'modular', name: 'Modular', maker: 'Bench' };
    const begun = await fetch(`${server.url}/api/workshop/drafts`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ document: device }),
    });
    const { id } = (await begun.json()) as { id: string };
    const page = await openPage(browser, `${server.url}/workshop/${id}`);
    await page.getByTestId('canvas').waitFor();
    await page.waitForTimeout(3000);
    const f = device.parts.find((p) => p.id === 'm5')!;
    const [x, y] = (f.outline as { rect: number[] }).rect as [number, number];
    await page.keyboard.press(']');
    const at = await page.getByTestId('canvas').evaluate(
      (svg, [px, py]) => {
        const m = (svg.querySelector('g') as SVGGElement).getScreenCTM()!;
        return [m.a * px! + m.e, m.d * py! + m.f] as [number, number];
      },
      [x + 5, y + 4],
    );
    await page.mouse.click(...at);
    const client = await page.context().newCDPSession(page);
    const folder = mkdtempSync(join(tmpdir(), 'nibrel-trace-'));
    const events: { name: string; ph: string; dur?: number; ts: number; args?: { data?: { type?: string } } }[] = [];
    client.on('Tracing.dataCollected', ({ value }) => events.push(...(value as unknown as typeof events)));
    await client.send('Tracing.start', { categories: 'devtools.timeline', transferMode: 'ReportEvents' });
    await page.mouse.move(...at);
    await page.mouse.down();
    for (let i = 0; i < 120; i++) await page.mouse.move(at[0] + (i % 40), at[1] + (i % 25));
    await page.mouse.up();
    const ended = new Promise<void>((resolve) => client.once('Tracing.tracingComplete', () => resolve()));
    await client.send('Tracing.end');
    await ended;
    writeFileSync(join(folder, 'trace.json'), JSON.stringify(events));
    const moves = events
      .filter(
        (e) =>
          e.name === 'EventDispatch' &&
          (e.args?.data?.type === 'pointermove' || e.args?.data?.type === 'mousemove') &&
          e.dur,
      )
      .map((e) => e.dur! / 1000);
    const assets = join(import.meta.dirname, '../dist/web/assets');
    const first = readdirSync(assets).find((name) => /^index-.*\.js$/.test(name))!;
    return {
      title: 'A pointer move on the drawing board',
      note: `${device.parts.length + device.fasteners.length + device.connectors.length} items, a part dragged`,
      columns: ['what', 'median', '95th', 'aim'],
      rows: [
        ['work of a move', ms(quantile(moves, 0.5)), ms(quantile(moves, 0.95)), 'under 16 ms'],
        [
          'first script of the page',
          `${(statSync(join(assets, first)).size / 1000).toFixed(1)} kB`,
          '',
          'grows by 5 kB at most',
        ],
      ],
    };
  } finally {
    await browser.close();
    await server.stop();
  }
}
