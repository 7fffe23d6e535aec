import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import sharp from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { resistanceOf, type LoadSample, type Resistance } from '../core/cells/index.ts';
import { boundsOf } from '../core/anatomy/index.ts';
import { proposedOutlines } from '../core/survey/index.ts';
import { openCv } from '../cli/opencv.ts';
import { leakOf, type DayCut, type DecaySample } from '../core/closing/index.ts';
import type { JobFile, RuleSet, ShopCell } from '../core/jobs/index.ts';
import { seedAnatomies } from './seed.ts';
import { asking, trialServer } from './trial.ts';

const server = trialServer('closing');
const ask = asking(server.app);
const HOST = { host: '127.0.0.1:4310' };
const uuid = () => crypto.randomUUID();

async function takeIn(anatomy: string, replace: string[]): Promise<JobFile> {
  const { body } = await ask<JobFile>('/jobs', {
    by: 'Tobin Hask',
    anatomy,
    customer: 'Ida Moor',
    complaint: '',
    replace,
  });
  return body;
}
const record = (job: string, seq: number, body: object) =>
  ask<{ error?: string }>(`/jobs/${job}/events`, {
    events: [{ id: uuid(), seq, at: new Date().toISOString(), by: 'Tobin Hask', ...body }],
    now: null,
  });

/** What a stream tells until its end. */
async function told<T>(path: string): Promise<T[]> {
  const answer = await server.app.request(`/api${path}`, { headers: HOST });
  expect(answer.status).toBe(200);
  return [...(await answer.text()).matchAll(/event: sample\ndata: (.*)\n/g)].map(([, data]) => JSON.parse(data!) as T);
}

let job: JobFile;
beforeAll(async () => {
  seedAnatomies(server.services);
  job = await takeIn('velmora-quill-5', ['battery']);
}, 60_000);

describe('the template of a bond', () => {
  it('is a PDF at 1:1: the check bar and the strips measure what they should, to 0.2 mm', async () => {
    const answer = await server.app.request(
      `/api/closing/strips/${job.job.id}/template.pdf?bond=display-seal&paper=A4`,
      { headers: HOST },
    );
    expect(answer.headers.get('content-type')).toBe('application/pdf');
    const folder = mkdtempSync(join(tmpdir(), 'nibrel-strips-'));
    writeFileSync(join(folder, 'sheet.pdf'), Buffer.from(await answer.arrayBuffer()));
    const dpi = 508;
    execFileSync('pdftoppm', ['-r', String(dpi), '-gray', '-png', join(folder, 'sheet.pdf'), join(folder, 'page')]);
    const { data, info } = await sharp(readFileSync(join(folder, 'page-1.png')))
      .greyscale()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const px = dpi / 25.4;
    const dark = (x: number, y: number) => data[y * info.width * info.channels + x * info.channels]! < 140;
    // The bar by the middles of its two ticks, which stand 1.5 mm up from it.
    const ticks = runs(Math.round(28 * px), Math.round(63.5 * px), dark).map(([from, to]) => (from + to) / 2 / px);
    expect(Math.abs(ticks.at(-1)! - ticks[0]! - 50)).toBeLessThan(0.2);
    // The outer rims of the strips left and right, half-way down: 70.4 mm of body, 1 mm in, less inset and so on.
    const middle = Math.round((42 + 60) * px);
    const lines = runs(middle, info.width, dark).map(([a, b]) => (a + b) / 2 / px);
    const centre = 210 / 2;
    const rims = lines.filter((x) => Math.abs(x - centre) > 30);
    const display = (await ask<JobFile>(`/jobs/${job.job.id}`)).body.anatomy.parts.find((p) => p.id === 'display')!;
    const [x, , w] = (display.outline as { rect: number[] }).rect as [number, number, number, number];
    const left = centre - 70.4 / 2;
    for (const wanted of [left + x + 0.5, left + x + 0.5 + 1.4, left + x + w - 0.5, left + x + w - 0.5 - 1.4])
      expect(Math.min(...rims.map((r) => Math.abs(r - wanted))), `${wanted} in ${rims.join()}`).toBeLessThan(0.2);
  });
  it('is drawn from an outline that was taken from the old part', async () => {
    const points = [
      [0, 0],
      [60, 0],
      [60, 120],
      [0, 120],
    ];
    const answer = await server.app.request(`/api/closing/strips/${job.job.id}/template.pdf?bond=display-seal`, {
      method: 'POST',
      headers: { ...HOST, 'Content-Type': 'application/json' },
      body: JSON.stringify({ points }),
    });
    expect(answer.status).toBe(200);
    expect((await answer.arrayBuffer()).byteLength).toBeGreaterThan(2000);
  });
  it.each([
    [`?bond=none`, 404],
    [`?bond=display-seal&paper=A0`, 422],
  ])('%s is refused', async (query, status) => {
    const answer = await server.app.request(`/api/closing/strips/${job.job.id}/template.pdf${query}`, {
      headers: HOST,
    });
    expect(answer.status).toBe(status);
  });
});

/** Dark stretches of a row of pixels, up to some column. */
function runs(y: number, width: number, dark: (x: number, y: number) => boolean): [number, number][] {
  const found: [number, number][] = [];
  let from = -1;
  for (let x = 0; x <= width; x++) {
    const here = x < width && dark(x, y);
    if (here && from < 0) from = x;
    if (!here && from >= 0) {
      found.push([from, x]);
      from = -1;
    }
  }
  return found;
}

describe('the old part as template', () => {
  /** A part of 120 × 60 mm on a white A5 sheet on a dark bench, the camera not quite straight. */
  const scene = (sheet: boolean) =>
    sharp(
      Buffer.from(
        `<svg xmlns="http://www.w3.org/2000/svg" width="1800" height="1320"><rect width="1800" height="1320" fill="#3a3f3d"/>
         ${
           sheet
             ? `<g transform="translate(900 660) rotate(2.5) scale(7)"><rect x="-105" y="-74" width="210" height="148" fill="#f4f3ee"/>
                <rect x="-60" y="-30" width="120" height="60" rx="6" fill="#22262a"/></g>`
             : ''
         }</svg>`,
      ),
    )
      .jpeg({ quality: 92 })
      .toBuffer();
  const look = async (sheet: boolean) => {
    const sent = await server.app.request('/api/workshop/photographs', {
      method: 'POST',
      headers: HOST,
      body: new Uint8Array(await scene(sheet)),
    });
    const { hash } = (await sent.json()) as { hash: string };
    return ask<{ plate: string; pxPerMm: number; error?: string }>('/closing/old-part', {
      photo: hash,
      width: 210,
      height: 148,
    });
  };
  it('is found on its sheet, to scale', async () => {
    const { body } = await look(true);
    const bytes = await server.services.photos.read(body.plate, 'full');
    // Looked at in half its size, which is fine enough for an outline.
    const { width } = await sharp(bytes).metadata();
    const small = sharp(bytes)
      .resize(Math.round(width / 2))
      .removeAlpha()
      .raw();
    const { data, info } = await small.toBuffer({ resolveWithObject: true });
    expect(width / body.pxPerMm).toBeCloseTo(210, 0);
    const pxPerMm = body.pxPerMm / 2;
    const plate = { width: info.width, height: info.height, channels: 3 as const, data, pxPerMm };
    const [largest] = proposedOutlines(await openCv(), plate)
      .map((o) => boundsOf(o.outline))
      .sort((a, b) => b[2] * b[3] - a[2] * a[3]);
    expect(Math.abs(largest![2] - 120)).toBeLessThan(1);
    expect(Math.abs(largest![3] - 60)).toBeLessThan(1);
  }, 60_000);
  it('without a sheet in the picture it says what to do', async () => {
    const { status, body } = await look(false);
    expect(status).toBe(422);
    expect(body.error).toMatch(/all four edges in sight|sheet/);
  }, 60_000);
});

describe('a whole day', () => {
  it('is cut together, every strip once, from no more sheets than alone', async () => {
    await takeIn('pellworth-nacre-2', ['display']);
    const { body: day } = await ask<DayCut>('/closing/day');
    const pieces = [
      ...day.sheets.flatMap((s) => s.lanes.flatMap((l) => l.pieces)),
      ...day.rolls.flatMap((r) => r.pieces),
    ];
    const keys = pieces.map((p) => `${p.job} ${p.bond} ${p.strip}`);
    expect(new Set(keys).size).toBe(keys.length);
    expect(new Set(pieces.map((p) => p.job)).size).toBe(2);
    for (const { size, lanes } of day.sheets) {
      expect(lanes.reduce((s, l) => s + l.width, 0)).toBeLessThanOrEqual(Math.min(...size));
      for (const l of lanes) expect(l.pieces.reduce((s, p) => s + p.length, 0)).toBeLessThanOrEqual(Math.max(...size));
    }
  });
});

describe('the stand-ins', () => {
  it('the bench supply loads a cell, and its resistance is what was hidden in it', async () => {
    const [good, bad] = (
      await Promise.all(['good', 'bad'].map((s) => told<LoadSample>(`/closing/load-step/${job.job.id}?shows=${s}`)))
    ).map(resistanceOf) as [Resistance, Resistance];
    const fresh = 0.24 / 3.98;
    expect(good.ohms / fresh).toBeCloseTo(1.1, 1);
    expect(bad.ohms / fresh).toBeCloseTo(4.2, 1);
  }, 30_000);
  it('the leak tester is only there where the house has one, and tells a decay', async () => {
    expect((await ask(`/closing/decay/${job.job.id}`)).status).toBe(409);
    const { body: sets } = await ask<RuleSet[]>('/rules');
    const chosen = sets.find((s) => s.chosen)!;
    const rules = { ...chosen.rules, closing: { ...chosen.rules.closing, tester: { millilitres: 40, limit: 0.5 } } };
    await ask(
      `/rules/${chosen.id}`,
      { name: chosen.name, rules },
      { method: 'PUT', headers: { 'If-Match': `"${chosen.revision}"`, 'Content-Type': 'application/json' } },
    );
    const test = { millilitres: 40, limit: 0.5 };
    const decays = await Promise.all(
      ['tight', 'leaks'].map((s) => told<DecaySample>(`/closing/decay/${job.job.id}?shows=${s}`)),
    );
    expect(decays.map((d) => leakOf(d, test).outcome)).toEqual(['pass', 'fail']);
  }, 30_000);
});

describe('the log of cells', () => {
  it('a boxed cell enters it with its job, and only goes to the collection', async () => {
    await record(job.job.id, 1, { type: 'cell-boxed', cell: 'battery', of: 'old', box: 'Sand box 1', why: 'dented' });
    const { body: all } = await ask<ShopCell[]>('/closing/cells');
    const [cell] = all;
    expect(cell).toMatchObject({ state: 'boxed', damaged: true, box: 'Sand box 1', milliampHours: 3980 });
    const change = (state: string, gone = '', revision = cell!.revision) =>
      ask<{ error: string }>(
        `/closing/cells/${cell!.id}`,
        { state, charge: null, box: 'Sand box 1', gone },
        { method: 'PUT', headers: { 'If-Match': `"${revision}"` } },
      );
    expect((await change('sent', 'by mail')).body.error).toMatch(/only goes to the licensed collection/);
    expect((await change('stored')).status).toBe(409);
    expect((await change('collected')).body.error).toMatch(/who took it/);
    expect((await change('collected', 'Ostwick recycling')).status).toBe(200);
    expect((await change('boxed', '', cell!.revision + 1)).body.error).toMatch(/left the shop/);
  });
  it('one that was entered by hand is stored, and sent only where it may be', async () => {
    const large = {
      label: 'Pack of a tablet',
      volts: 7.58,
      milliampHours: 14_000,
      cells: 2,
      damaged: false,
      charge: 40,
    };
    const { body } = await ask<ShopCell[]>('/closing/cells', { ...large, by: 'Tobin Hask' });
    const pack = body.find((c) => c.label === large.label)!;
    expect(pack.state).toBe('stored');
    const sent = await ask<{ error: string }>(
      `/closing/cells/${pack.id}`,
      { state: 'sent', charge: 30, box: '', gone: 'parcel' },
      { method: 'PUT', headers: { 'If-Match': `"${pack.revision}"`, 'Content-Type': 'application/json' } },
    );
    expect(sent.body.error).toMatch(/no ordinary parcel/);
    expect((await ask('/closing/cells', { ...large, volts: -1 })).status).toBe(422);
    // Volts and cells have to go together: one cell has 3 to 4 V, and only cells in a row add up.
    expect((await ask('/closing/cells', { ...large, volts: 5 })).status).toBe(422);
  });
});
