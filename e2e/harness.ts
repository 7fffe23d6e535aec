import { type ChildProcess, execFileSync, spawn } from 'node:child_process';
import type { JobFile } from '../core/jobs/index.ts';
import { cpSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { type Browser, chromium, type Locator, type Page } from 'playwright-core';

const root = fileURLToPath(new URL('..', import.meta.url));

/** The real server with a database of its own, on a free port of loopback. */
export class Server {
  private child: ChildProcess | null = null;
  readonly data = mkdtempSync(join(tmpdir(), 'nibrel-e2e-'));
  url = '';
  private port = 0;

  /** @param env what is other than usual */
  constructor(private readonly env: Record<string, string> = {}) {}

  async start(): Promise<this> {
    const seeded = process.env.NIBREL_SEEDED;
    // The first start of a demo shop begins with the one that was made for all.
    if (seeded && this.port === 0 && this.env.NIBREL_DEMO === undefined) cpSync(seeded, this.data, { recursive: true });
    const child = spawn(process.execPath, ['--import', 'tsx', 'server/main.ts'], {
      cwd: root,
      stdio: ['ignore', 'pipe', 'inherit'],
      env: {
        ...process.env,
        NIBREL_DEMO: '1',
        NIBREL_DATA: this.data,
        NIBREL_PORT: String(this.port),
        NIBREL_HOST: '127.0.0.1',
        ...this.env,
      },
    });
    this.child = child;
    this.url = await new Promise<string>((resolve, reject) => {
      let said = '';
      child.stdout!.on('data', (chunk: Buffer) => {
        said += chunk.toString();
        const at = /https?:\/\/\S+/.exec(said);
        if (at) resolve(at[0]);
      });
      child.once('exit', (code) => reject(new Error(`the server ended with ${code}: ${said}`)));
    });
    this.port = Number(new URL(this.url).port);
    return this;
  }

  private async end(signal: NodeJS.Signals): Promise<void> {
    const child = this.child;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    child.kill(signal);
    await gone;
  }

  stop = () => this.end('SIGTERM');
  kill = () => this.end('SIGKILL');
}

/** @param args what the browser is told beside the usual */
export function launch(args: readonly string[] = []): Promise<Browser> {
  return chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
      ...args,
    ],
  });
}

export async function openPage(browser: Browser, url: string): Promise<Page> {
  const context = await browser.newContext({
    viewport: { width: 1280, height: 800 },
    reducedMotion: 'reduce',
    acceptDownloads: true,
  });
  const page = await context.newPage();
  // A wait that is met costs nothing; on a busy machine one may take long.
  page.setDefaultTimeout(90_000);
  await page.goto(url);
  return page;
}

/** Nothing came for a while, and nothing says that it is still on its way; the live stream, which never ends, does not count. */
export async function settled(page: Page): Promise<void> {
  let come = -1;
  for (let since = Date.now(); Date.now() - since < 400; await page.waitForTimeout(50)) {
    const [now, loading] = await page.evaluate(() => [
      performance.getEntriesByType('resource').length,
      [...document.querySelectorAll('[role=status]')].some((s) => /^Loading /.test(s.textContent)),
    ]);
    if (now !== come || loading) since = Date.now();
    come = now as number;
  }
}

/** Moves the focus by Tab alone until it is on `target`. */
export async function tabTo(page: Page, target: Locator): Promise<void> {
  await target.waitFor({ state: 'attached' });
  for (let i = 0; i < 250; i++) {
    if (await target.evaluate((el) => el === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error('Tab does not get there');
}

/** A whole intake by keyboard, to the plan of the new job. */
export async function intakeByKeyboard(page: Page, device: RegExp, part: string, customer: string): Promise<void> {
  await tabTo(page, page.getByRole('link', { name: 'Take in a device' }));
  await page.keyboard.press('Enter');
  for (const finding of ['swollen', 'hot', 'punctured', 'burnt']) {
    await tabTo(page, page.locator(`input[name=${finding}]`).first());
    await page.keyboard.press('Space');
  }
  await tabTo(page, page.getByRole('textbox', { name: 'Customer' }));
  await page.keyboard.type(customer);
  await tabTo(page, page.getByRole('textbox', { name: 'Complaint' }));
  await page.keyboard.type('As told at the counter.');
  const radios = page.locator('input[name=anatomy]');
  await tabTo(page, radios.first());
  await page.keyboard.press('Space');
  for (let i = 0; i < 12 && !(await page.getByRole('radio', { name: device }).isChecked()); i++)
    await page.keyboard.press('ArrowDown');
  await tabTo(page, page.getByRole('checkbox', { name: part, exact: true }));
  await page.keyboard.press('Space');
  await tabTo(page, page.getByRole('button', { name: 'Take in and plan the dive' }));
  await page.keyboard.press('Enter');
  await page.getByRole('heading', { name: part, level: 1 }).waitFor();
}

/** The customer's consent by word, where it is asked for. */
export async function agreeByWord(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'The customer said so' }).click();
  await page.getByRole('textbox', { name: 'Whose word was it?' }).fill('the customer');
  await page.getByRole('button', { name: 'Record what was said' }).click();
  await page.getByRole('form', { name: 'Consent by word' }).waitFor({ state: 'detached' });
}

export const stepNumber = async (page: Page): Promise<number> =>
  Number(await page.getByTestId('step-number').innerText());

/** The one key, once. A wait that runs is ended by its key with a reason. Returns whether the run goes on. */
export async function press(page: Page): Promise<boolean> {
  const done = page.getByTestId('done');
  const word = (await done.innerText()).split('\n')[0]!;
  if (word.startsWith('Done already') || word.startsWith('Prove and sign')) return false;
  if (word.startsWith('Waiting')) await endWait(page);
  await page.keyboard.press('Space');
  return true;
}

export async function endWait(page: Page): Promise<void> {
  await page.keyboard.press('t');
  await page.locator('[data-panel=timer]').getByRole('textbox').waitFor();
  await page.keyboard.type('judged by hand, good already');
  await page.keyboard.press('Enter');
  await page.locator('[data-panel=timer]').waitFor({ state: 'detached' });
}

/** The server has all that was done on the job of this page. A predicate of the page's own that is a promise would count at once. */
export async function stored(page: Page): Promise<void> {
  const until = Date.now() + 60_000;
  while (!(await isStored(page))) {
    if (Date.now() > until) throw new Error(`not stored yet: ${await page.getByTestId('connection').allInnerTexts()}`);
    await page.waitForTimeout(20);
  }
}

const isStored = (page: Page): Promise<boolean> =>
  page.evaluate(async () => {
    const job = /\/jobs\/([^/]+)/.exec(location.pathname)![1]!;
    // What was just done is not in its store yet, and not unsent for all that.
    if (document.querySelector('[data-testid=connection]:not([data-waiting="0"])')) return false;
    // Opened by nobody but the page, which makes its stores.
    if (!(await indexedDB.databases()).some((d) => d.name === 'nibrel')) return true;
    const db = await new Promise<IDBDatabase>((resolve, reject) => {
      const opening = indexedDB.open('nibrel');
      opening.onsuccess = () => resolve(opening.result);
      opening.onerror = () => reject(opening.error);
    });
    const left = await new Promise<number>((resolve) => {
      const counting = db.transaction('outbox').objectStore('outbox').index('job').count(job);
      counting.onsuccess = () => resolve(counting.result);
    });
    db.close();
    return left === 0;
  });

/** Presses the one key until the run stands at `until`, or at its end. */
export async function runTo(page: Page, until: (page: Page) => Promise<boolean>): Promise<void> {
  for (let i = 0; i < 400; i++) {
    if (await until(page)) return;
    if (!(await press(page))) return;
    const refusal = page.getByTestId('refusal');
    if (await refusal.isVisible()) {
      const text = await refusal.innerText();
      if (!/G6/.test(text))
        throw new Error(
          `refused, now at step ${await stepNumber(page)}, ` +
            `${await page.getByTestId('connection').innerText()}: ${text.replaceAll('\n', ' ')}`,
        );
      await endWait(page);
    }
  }
  throw new Error('the run does not get there');
}

export const at =
  (verb: string, item?: string) =>
  async (page: Page): Promise<boolean> =>
    (await page.getByTestId('verb').innerText()) === verb &&
    (item === undefined || (await page.getByTestId('step').innerText()).includes(item));

export function pdfText(path: string): string {
  return execFileSync('pdftotext', ['-layout', path, '-'], { encoding: 'utf8' });
}

/** Signs off on the record screen by keyboard and takes the PDF; gives its text. */
export async function handOver(page: Page): Promise<string> {
  await tabTo(page, page.getByRole('textbox', { name: 'Signed by' }));
  await page.keyboard.press('End');
  await tabTo(page, page.getByRole('button', { name: 'Sign off' }));
  await page.keyboard.press('Enter');
  await page
    .getByText(/Signed by/)
    .first()
    .waitFor();
  await page.getByText('✓ Signed by').waitFor();
  await stored(page);
  const pdf = page.getByRole('link', { name: 'Record as PDF' });
  await tabTo(page, pdf);
  const download = page.waitForEvent('download');
  await page.keyboard.press('Enter');
  return pdfText(await (await download).path());
}

/** Takes in a device that is in no list. */
export async function takeInUnlisted(server: Server): Promise<string> {
  const made = await fetch(`${server.url}/api/jobs`, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify({
      by: 'Tobin Hask',
      anatomy: null,
      device: { name: 'Harrow Tarn 1', kind: 'phone', width: 70, height: 140, thickness: 8 },
      customer: 'Ida Moor',
      complaint: '',
      replace: [],
    }),
  });
  return ((await made.json()) as JobFile).job.id;
}
