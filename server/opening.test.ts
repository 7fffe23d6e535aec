import { afterAll, describe, expect, it } from 'vitest';
import { calibrate, PLATES, simulate, sourceOf, stackOf, type HeatReading, type Reading } from '../core/heat/index.ts';
import type { JobFile } from '../core/jobs/index.ts';
import { seededDraw } from '../demo/synthetic.ts';
import { simulatedMat, simulatedPlate } from './simulated/heat.ts';
import { demoServer } from './trial.ts';

const { services, app, close } = demoServer('opening');
afterAll(close);

const get = (path: string) => app.request(path, { headers: { host: '127.0.0.1:4310' } });
const takeIn = async (): Promise<JobFile> =>
  (await (
    await app.request('/api/jobs', {
      method: 'POST',
      headers: { host: '127.0.0.1:4310', 'Content-Type': 'application/json' },
      body: JSON.stringify({
        anatomy: 'velmora-quill-5',
        customer: 'Wren Calloway',
        complaint: '',
        by: 'Tobin Hask',
        replace: ['battery'],
      }),
    })
  ).json()) as JobFile;
/** The first events of a stream; it is let go of afterwards. */
async function eventsOf<T>(path: string, count: number): Promise<T[]> {
  const response = await get(path);
  expect(response.status).toBe(200);
  const reader = response.body!.getReader();
  let text = '';
  while ((text.match(/^data: \{/gm)?.length ?? 0) < count) {
    const { value, done } = await reader.read();
    if (done) break;
    text += new TextDecoder().decode(value);
  }
  await reader.cancel();
  return [...text.matchAll(/^data: (\{.*\})$/gm)].slice(0, count).map((m) => JSON.parse(m[1]!) as T);
}
const draws = (seed: number) => {
  const draw = seededDraw(seed);
  return () => (draw(1_000_000) + 0.5) / 1_000_000;
};
async function take<T>(stream: AsyncIterable<T>, count: number): Promise<T[]> {
  const list: T[] = [];
  for await (const item of stream) if (list.push(item) >= count) break;
  return list;
}

describe('the thermometers at a heat source', () => {
  it('tell second after second what a device of this make would', async () => {
    const { job } = await takeIn();
    const step = job.plan!.steps.find((s) => s.do === 'heat')!;
    const readings = await eventsOf<HeatReading>(`/api/opening/mat/${job.id}/${step.id}?speed=240&factor=1`, 20);
    expect(readings.map((r) => r.time)).toEqual(Array.from({ length: 20 }, (_, i) => i * 2));
    expect(readings.at(-1)!.seam).toBeGreaterThan(readings[0]!.seam + 10);
    expect(readings.at(-1)!.seam).toBeGreaterThan(readings.at(-1)!.back);
  });
  it('go on from where they were, after a reload', async () => {
    const { job } = await takeIn();
    const step = job.plan!.steps.find((s) => s.do === 'heat')!;
    // Ten minutes of readings that have been: waiting for them anew would outlast any test.
    const path = `/api/opening/mat/${job.id}/${step.id}?speed=1&factor=1&from=600`;
    const readings = await eventsOf<HeatReading>(path, 300);
    expect(readings.at(-1)!.time).toBe(598);
  });
  it('are only there for a heat step, and say what is wrong with a question', async () => {
    const { job } = await takeIn();
    expect((await get(`/api/opening/mat/${job.id}/1`)).status).toBe(404);
    const { id } = job.plan!.steps.find((s) => s.do === 'heat')!;
    const refused = await get(`/api/opening/mat/${job.id}/${id}?speed=9000`);
    expect(refused.status).toBe(422);
    expect(((await refused.json()) as { error: string }).error).toMatch(/^speed: /);
    expect((await get(`/api/opening/plate?source=toaster&plate=aluminium-4`)).status).toBe(422);
  });
  it('the stand-in scatters about the truth, with the lag of its thermometers', async () => {
    const { job, anatomy } = await takeIn();
    const model = services.anatomies.modelOf(anatomy.id, job.revision!);
    const stack = stackOf(model, 'display-seal', { grid: 4 });
    const source = sourceOf('mat', { set: 80 });
    const readings = await take(
      simulatedMat({ random: draws(5), speed: 1e6, factor: 1 }).watch(stack, source, 22),
      150,
    );
    const run = simulate(stack, [{ source, where: 'whole', seconds: 300 }], { step: 2, evenSweep: true });
    const off = readings.map((r, i) => r.back - run.backMiddle[i]!);
    const mean = off.reduce((a, b) => a + b, 0) / off.length;
    // It lags behind while it rises: somewhat below, never far.
    expect(mean).toBeLessThan(0);
    expect(mean).toBeGreaterThan(-1.5);
    expect(new Set(off.map((v) => v.toFixed(2))).size).toBeGreaterThan(30);
  });
});

describe('a stand-in that is asked for little', () => {
  it('computes no more than it tells, and leaves the server its hands free in between', async () => {
    const stack = stackOf(services.anatomies.modelOf('velmora-quill-5', 1), 'display-seal', { grid: 2 });
    let turns = 0;
    let on = true;
    const spin = () => {
      turns++;
      if (on) setImmediate(spin);
    };
    setImmediate(spin);
    const readings = await take(
      simulatedMat({ random: draws(3), speed: 1e6, factor: 1 }).watch(stack, sourceOf('mat'), 22),
      30,
    );
    on = false;
    expect(readings.map((r) => r.time)).toEqual(Array.from({ length: 30 }, (_, i) => i * 2));
    // The loop of the server turned between one reading and the next.
    expect(turns).toBeGreaterThanOrEqual(29);
  });
  it('is let go of in the middle, and begun anew where it was', async () => {
    const stack = stackOf(services.anatomies.modelOf('velmora-quill-5', 1), 'display-seal', { grid: 6 });
    const watch = (from: number) =>
      simulatedMat({ random: draws(3), speed: 1e6, factor: 1.1 }).watch(stack, sourceOf('mat'), 22, from);
    const [once, again] = [await take(watch(0), 12), await take(watch(20), 12)];
    expect(again).toEqual(once);
  });
});

describe('a plate on a source', () => {
  it('tells readings from which the source is found again', async () => {
    const { lag, watch } = simulatedPlate({ random: draws(11), speed: 1e6, factor: 0.8 });
    const readings = await take(watch(PLATES[0]!, sourceOf('mat'), 22), 40);
    const fit = calibrate(readings, PLATES[0]!, sourceOf('mat'), { lag });
    expect(Math.abs(fit.conductance / (0.8 * sourceOf('mat').conductance) - 1)).toBeLessThan(0.05);
  });
  it('comes as a stream', async () => {
    const readings = await eventsOf<Reading>('/api/opening/plate?source=pad&plate=glass-4&speed=240&factor=1', 5);
    expect(readings.map((r) => r.time)).toEqual([10, 20, 30, 40, 50]);
  });
});

describe('pick templates', () => {
  it('come as PDF and SVG, on either paper', async () => {
    const pdf = await get('/api/opening/template/velmora-quill-5.pdf?bond=display-seal&paper=Letter');
    expect(pdf.headers.get('content-type')).toBe('application/pdf');
    const text = Buffer.from(await pdf.arrayBuffer()).toString('latin1');
    // Letter is 612 by 792 points.
    expect(text).toMatch(/\/MediaBox \[0 0 612(\.0+\d*)? 792(\.0+\d*)?\]/);
    expect(await (await get('/api/opening/template/velmora-quill-5.svg?bond=display-seal')).text()).toMatch(
      /^<svg xmlns/,
    );
  });
  it('say where a question is wrong', async () => {
    for (const query of ['bond=display-seal&marks=0', 'bond=display-seal&paper=A0', 'margin=1'])
      expect((await get(`/api/opening/template/velmora-quill-5.pdf?${query}`)).status).toBe(422);
    expect((await get('/api/opening/template/nothing.pdf?bond=x')).status).toBe(404);
  });
});
