import { mkdirSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { modelOf } from '../core/anatomy/index.ts';
import { DEFAULT_RULES, planDive } from '../core/dive/index.ts';
import { actsOfPlan } from '../core/explore/index.ts';
import { learn, wayBackOf } from '../core/learn/index.ts';
import { plansOfDives, QUICK, tallyOf, type PlanTally, type PlanTrial } from '../demo/fieldTrial.ts';
import { demoModel, DEVICES } from '../demo/models.ts';
import { modularAnatomy } from '../demo/synthetic.ts';
import { launch, openPage, Server, takeInUnlisted } from '../e2e/harness.ts';
import { ms, quantile, timed, type Table } from './report.ts';

/** Learning and the way back, by the acts of a dive; and what an act costs until it is painted. */
export async function fieldBench(): Promise<Table> {
  const rows: (string | number)[][] = [];
  for (const modules of [8, 16, 32, 48]) {
    const model = modelOf(modularAnatomy(modules));
    const replace = model.anatomy.parts.filter((p) => !p.fixed).map((p) => p.id);
    const plan = planDive(model, { replace }, DEFAULT_RULES, QUICK);
    const file = actsOfPlan(model, plan, { seed: modules });
    const learning = timed(() => learn([file]), 5);
    const learnt = learn([file]);
    const back = timed(() => wayBackOf(learnt, {}, QUICK), 2);
    rows.push([
      `${file.acts.length} acts`,
      ms(quantile(learning, 0.5)),
      ms(quantile(learning, 0.95)),
      ms(quantile(back, 0.5)),
    ]);
  }
  const painted = await actsPainted();
  rows.push(['an act to painted', ms(quantile(painted, 0.5)), ms(quantile(painted, 0.95)), '']);
  return {
    title: 'Field dives',
    note: 'Learning (median, 95th) and the way back. Aims: 150 acts learnt in 100 ms; an act painted within 50 ms, 95th.',
    columns: ['what', 'median', '95th', 'way back'],
    rows,
  };
}

/** ms from the pointer to the frame in which the count stands, over 150 screws. */
async function actsPainted(): Promise<number[]> {
  const server = await new Server().start();
  const browser = await launch();
  try {
    const id = await takeInUnlisted(server);
    const page = await openPage(browser, `${server.url}/jobs/${id}/explore`);
    await page.getByTestId('ground').waitFor();
    await page.keyboard.press('s');
    await page.keyboard.press('ArrowLeft');
    return await page.evaluate(async () => {
      const ground = document.querySelector<SVGSVGElement>('[data-testid=ground]')!;
      const found: number[] = [];
      for (let i = 0; i < 150; i++) {
        const from = performance.now();
        ground.dispatchEvent(new KeyboardEvent('keydown', { key: 'Enter', bubbles: true }));
        await new Promise((resolve) => requestAnimationFrame(() => setTimeout(resolve, 0)));
        found.push(performance.now() - from);
        await new Promise((resolve) => setTimeout(resolve, 60));
      }
      return found;
    });
  } finally {
    await browser.close();
    await server.stop();
  }
}

/** Plans for other parts from what one, two and three dives told, held against the true devices; drawn as a chart. */
export function divesBench(): Table {
  const curve = new Map<number, PlanTrial[]>();
  for (const name of DEVICES) {
    const model = demoModel(name);
    for (let seed = 1; seed <= 6; seed++)
      for (const [n, plans] of plansOfDives(model, seed * 31 + name.length, 4).entries())
        curve.set(n + 1, [...(curve.get(n + 1) ?? []), ...plans]);
  }
  const told = new Map([...curve].map(([n, plans]) => [n, tallyOf(plans)]));
  draw(told);
  return {
    title: 'What several dives tell',
    note: 'Plans for every part that was opened so far, on the true devices. Chart in docs/charts/field-dives.svg.',
    columns: ['dives', 'plans', 'sound', 'resting on the unseen', 'screws and plugs against the least'],
    rows: [...told].map(([n, c]) => [
      n,
      c.plans,
      `${((100 * c.sound) / c.plans).toFixed(1)} %`,
      `${((100 * c.marked) / c.plans).toFixed(1)} %`,
      (c.work / c.least).toFixed(2),
    ]),
  };
}

function draw(curve: ReadonlyMap<number, PlanTally>): void {
  const [width, height, left, top] = [520, 300, 60, 40];
  const ns = [...curve.keys()];
  const x = (n: number) => left + ((n - ns[0]!) / Math.max(1, ns.length - 1)) * (width - left - 30);
  const share = (v: number) => top + (1 - (v - 0.9) / 0.1) * (height - top - 50);
  const extra = (v: number) => top + (1 - (v - 1) / 0.4) * (height - top - 50);
  const line = (of: (c: PlanTally) => number, y: (v: number) => number) =>
    [...curve].map(([n, c], i) => `${i === 0 ? 'M' : 'L'}${x(n).toFixed(1)} ${y(of(c)).toFixed(1)}`).join('');
  const dots = (of: (c: PlanTally) => number, y: (v: number) => number, words: (v: number) => string, fill: string) =>
    [...curve]
      .map(
        ([n, c]) =>
          `<circle cx="${x(n).toFixed(1)}" cy="${y(of(c)).toFixed(1)}" r="4" fill="${fill}"/>` +
          `<text x="${x(n).toFixed(1)}" y="${(y(of(c)) - 9).toFixed(1)}" text-anchor="middle" fill="${fill}">${words(of(c))}</text>`,
      )
      .join('');
  const sound = (c: PlanTally) => c.sound / c.plans;
  const work = (c: PlanTally) => c.work / c.least;
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${width} ${height}" font-family="sans-serif" font-size="12">` +
    `<rect width="${width}" height="${height}" fill="#f7f5ef"/>` +
    `<text x="${left}" y="20" font-size="14">Plans from so many field dives into one model</text>` +
    `<path d="${line(sound, share)}" fill="none" stroke="#0e3f4d" stroke-width="2"/>` +
    dots(sound, share, (v) => `${(100 * v).toFixed(1)} % sound`, '#0e3f4d') +
    `<path d="${line(work, extra)}" fill="none" stroke="#a83f0d" stroke-width="2" stroke-dasharray="6 4"/>` +
    dots(work, extra, (v) => `${v.toFixed(2)} × the least work`, '#a83f0d') +
    ns.map((n) => `<text x="${x(n).toFixed(1)}" y="${height - 16}" text-anchor="middle">${n}</text>`).join('') +
    `</svg>\n`;
  mkdirSync(fileURLToPath(new URL('../docs/charts', import.meta.url)), { recursive: true });
  writeFileSync(fileURLToPath(new URL('../docs/charts/field-dives.svg', import.meta.url)), svg);
}
