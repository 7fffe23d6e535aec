import type { CDPSession, Page } from 'playwright-core';
import { modelOf } from '../core/anatomy/index.ts';
import { modularAnatomy } from '../demo/synthetic.ts';
import { agreeByWord, launch, openPage, Server } from '../e2e/harness.ts';
import type { JobFile, JobSummary } from '../core/jobs/index.ts';
import { ms, quantile, type Table } from './report.ts';

/** Modules of the made-up device with some 400 items. */
const MODULES = 57;
/** Most presses measured on one dive. */
const PRESSES = 400;

/** What one press cost, ms. */
interface Press {
  /** The main thread's work until the words and the keys of the next step stand on the screen. */
  words: number;
  /** Its work until the drawings beside them do, too. */
  drawn: number;
  /** The time until the words stand there, waiting for the frame and for other processes included. */
  passed: number;
}

interface TraceEvent {
  name: string;
  pid: number;
  tid: number;
  ph: string;
  /** µs. */
  ts: number;
  dur: number;
  /** Time of the thread's own, µs. */
  tdur?: number;
  args?: { data?: { type?: string } };
}

/** Records what the browser does during `work`. */
async function traced(devtools: CDPSession, work: () => Promise<void>): Promise<TraceEvent[]> {
  const events: TraceEvent[] = [];
  const collect = ({ value }: { value: object[] }) => void events.push(...(value as TraceEvent[]));
  devtools.on('Tracing.dataCollected', collect);
  await devtools.send('Tracing.start', {
    transferMode: 'ReportEvents',
    traceConfig: { includedCategories: ['devtools.timeline', 'disabled-by-default-devtools.timeline', 'toplevel'] },
  });
  await work();
  const complete = new Promise<void>((resolve) => devtools.once('Tracing.tracingComplete', () => resolve()));
  await devtools.send('Tracing.end');
  await complete;
  devtools.off('Tracing.dataCollected', collect);
  return events;
}

/**
 * Reads a press out of a trace: the task of the key (script), then the tasks that ended in a frame (script, style,
 * layout, paint). What else the thread did between them, the answer of the server for instance, is no part of it.
 */
function pressOf(events: readonly TraceEvent[]): Press | null {
  const key = events.find((e) => e.name === 'EventDispatch' && e.args?.data?.type === 'keydown');
  if (!key) return null;
  const main = events.filter((e) => e.pid === key.pid && e.tid === key.tid && e.ph === 'X');
  const tasks = main.filter((e) => e.name === 'RunTask').sort((a, b) => a.ts - b.ts);
  const around = (e: TraceEvent) => tasks.find((t) => t.ts <= e.ts && e.ts <= t.ts + t.dur);
  const frames = main.filter((e) => e.name === 'Commit' && e.ts > key.ts).sort((a, b) => a.ts - b.ts);
  const [words, drawn] = frames;
  if (!words) return null;
  const until = (frame: TraceEvent) => {
    const of = new Set([around(key), ...frames.filter((f) => f.ts <= frame.ts).map(around)]);
    // The drawings are put together in a task of their own, between the two frames.
    if (frame !== words) for (const t of tasks) if (t.ts > words.ts && t.ts < frame.ts && t.dur > 1000) of.add(t);
    return [...of].reduce((sum, t) => sum + (t ? (t.tdur ?? t.dur) : 0), 0) / 1000;
  };
  return {
    words: until(words),
    drawn: until(drawn ?? words),
    passed: (words.ts + words.dur - key.ts) / 1000,
  };
}

/** Runs a dive by the one key, each press measured. */
async function presses(page: Page): Promise<Press[]> {
  const devtools = await page.context().newCDPSession(page);
  const measured: Press[] = [];
  for (let i = 0; i < PRESSES; i++) {
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
    const press = pressOf(
      await traced(devtools, async () => {
        await page.keyboard.press('Space');
        await page.waitForTimeout(120);
      }),
    );
    if (press) measured.push(press);
  }
  return measured;
}

/** Opens the run of a job whose dive has not begun. */
async function begin(page: Page, url: string, job: string): Promise<void> {
  await page.goto(`${url}/jobs/${job}`);
  const agree = page.getByRole('button', { name: 'The customer said so' });
  await page.getByRole('button', { name: 'Begin the dive' }).waitFor();
  if (await agree.isVisible()) await agreeByWord(page);
  await page.goto(`${url}/jobs/${job}/run`);
  await page.getByTestId('verb').waitFor();
  // The geometry is looked up beforehand, in idle time.
  await page.waitForTimeout(3000);
}

/** A job on a made-up device of many items, everything taken out, and how many they are. */
async function largeJob(url: string): Promise<{ id: string; steps: number; items: number }> {
  const post = async (path: string, json: object) => {
    const answer = await fetch(`${url}/api${path}`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json', Origin: url },
      body: JSON.stringify(json),
    });
    if (!answer.ok) throw new Error(`${path}: ${answer.status} ${await answer.text()}`);
    return answer.json();
  };
  const anatomy = modularAnatomy(MODULES);
  await post('/anatomies', anatomy);
  const { job } = (await post('/jobs', {
    anatomy: anatomy.id,
    replace: ['board'],
    customer: 'Bench',
    complaint: 'none',
    outside: '',
    crackedGlass: false,
    triage: [],
    photos: [],
  })) as JobFile;
  return { id: job.id, steps: job.plan!.steps.length, items: modelOf(anatomy).items.size };
}

/**
 * What the one key costs until the next step stands on the screen, over whole dives in the real interface against the
 * real server: read from a trace of the browser.
 */
export async function paintBench(): Promise<Table> {
  const server = await new Server().start();
  const browser = await launch();
  try {
    const jobs = (await (await fetch(`${server.url}/api/jobs`)).json()) as JobSummary[];
    const longest = jobs.filter((j) => j.state === 'ready').sort((a, b) => b.steps - a.steps)[0]!;
    const large = await largeJob(server.url);
    const rows: (string | number)[][] = [];
    for (const [name, id] of [
      [`longest demo dive, ${longest.steps} steps`, longest.id],
      [`${large.items} items, ${large.steps} steps`, large.id],
    ] as const) {
      const page = await openPage(browser, server.url);
      await begin(page, server.url, id);
      const measured = await presses(page);
      for (const [what, of] of [
        ['work until the words stand', (p: Press) => p.words],
        ['work until the drawings stand', (p: Press) => p.drawn],
        ['time until the words stand', (p: Press) => p.passed],
      ] as const) {
        const values = measured.map(of);
        rows.push([name, what, values.length, ...[0.5, 0.95, 1].map((q) => ms(quantile(values, q)))]);
      }
      await page.context().close();
    }
    return {
      title: 'From done to the next step painted',
      note:
        'Headless Chromium, server with its database on the same machine; work is the time of the main ' +
        'thread by the trace: script, style, layout, paint. Aim: 16 ms of work at the 95th percentile.',
      columns: ['dive', 'what', 'presses', 'median', '95th', 'longest'],
      rows,
    };
  } finally {
    await browser.close();
    await server.stop();
  }
}
