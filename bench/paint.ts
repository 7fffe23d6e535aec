import { launch, openPage, Server } from '../e2e/harness.ts';
import type { JobSummary } from '../core/jobs/index.ts';
import { ms, quantile, type Table } from './report.ts';

/**
 * What the one key costs until the next step is painted, over a whole dive in the real interface against the real
 * server: the time that the browser's main thread works for it (script, style, layout, paint), and the time until two
 * frames later, which also counts waiting for the frames.
 */
export async function paintBench(): Promise<Table> {
  const server = await new Server().start();
  const browser = await launch();
  try {
    const jobs = (await (await fetch(`${server.url}/api/jobs`)).json()) as JobSummary[];
    const ready = jobs.filter((j) => j.state === 'ready').sort((a, b) => b.steps - a.steps)[0]!;
    const page = await openPage(browser, `${server.url}/jobs/${ready.id}`);
    const agree = page.getByRole('button', { name: 'The customer agrees' });
    await page.getByRole('button', { name: 'Begin the dive' }).waitFor();
    if (await agree.isVisible()) await agree.click();
    await page.goto(`${server.url}/jobs/${ready.id}/run`);
    await page.getByTestId('verb').waitFor();
    const devtools = await page.context().newCDPSession(page);
    await devtools.send('Performance.enable');
    const worked = async () => {
      const { metrics } = await devtools.send('Performance.getMetrics');
      return metrics.find((m) => m.name === 'TaskDuration')!.value * 1000;
    };
    const work: number[] = [];
    const frames: number[] = [];
    for (let presses = 0; presses < 400; presses++) {
      const word = (await page.getByTestId('done').innerText()).split('\n')[0]!;
      if (word.startsWith('Prove and sign')) break;
      if (word.startsWith('Waiting') || (await page.getByTestId('refusal').isVisible())) {
        await page.keyboard.press('t');
        await page.getByRole('textbox').fill('judged by hand, for the measurement');
        await page.keyboard.press('Enter');
        await page.locator('[data-panel=timer]').waitFor({ state: 'detached' });
      }
      // What the step before had still to do is done by now.
      await page.waitForTimeout(120);
      const before = await worked();
      frames.push(
        await page.evaluate(
          () =>
            new Promise<number>((resolve) => {
              const from = performance.now();
              document.body.dispatchEvent(new KeyboardEvent('keydown', { key: ' ', bubbles: true }));
              requestAnimationFrame(() => requestAnimationFrame(() => resolve(performance.now() - from)));
            }),
        ),
      );
      work.push((await worked()) - before);
    }
    const row = (what: string, values: number[]) => [
      what,
      values.length,
      ms(quantile(values, 0.5)),
      ms(quantile(values, 0.95)),
      ms(quantile(values, 1)),
    ];
    return {
      title: 'From done to the next step painted',
      note: `The longest demo dive, ${ready.steps} steps, headless Chromium, server with its database on the same machine. Aim: 16 ms of work at the 95th percentile.`,
      columns: ['what', 'presses', 'median', '95th', 'longest'],
      rows: [row('work of the main thread', work), row('until two frames later', frames)],
    };
  } finally {
    await browser.close();
    await server.stop();
  }
}
