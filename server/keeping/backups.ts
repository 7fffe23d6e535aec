import { fork, type ChildProcess } from 'node:child_process';
import { existsSync, readdirSync, statSync } from 'node:fs';
import { rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { SteadyClock } from '../clock.ts';
import type { Db } from '../db/db.ts';
import type { ShopBook } from '../shop.ts';
import {
  backupName,
  backupsIn,
  LAST_BACKUP,
  nextBackupName,
  manifestIn,
  proveBackup,
  sweepWork,
  type BackupReport,
} from './backup.ts';
import type { Journal, Procedure } from './journal.ts';

/** Origin: own choice; a day between backups, looked at every quarter of an hour, and three days until it is said. */
export const BACKUP = {
  everyMs: 24 * 3600_000,
  firstMs: 30_000,
  lookEveryMs: 900_000,
  saidAfterMs: 3 * 24 * 3600_000,
} as const;
/** Where a backup lies that is fetched by a browser, below the shop's folder. */
const FETCHED = 'private/fetched';

interface Last {
  at: string;
  file: string;
  bytes: number;
}

interface Facts {
  folder: string;
  file: string;
  /** ISO date. */
  at: string;
}

/** The daily backup, and what the lead should know of it. */
export class Backups {
  private timer: ReturnType<typeof setInterval> | null = null;
  private first: ReturnType<typeof setTimeout> | undefined;
  private child: ChildProcess | null = null;
  private turn: Promise<unknown> = Promise.resolve();
  private fetches = 0;

  constructor(
    private readonly db: Db,
    private readonly data: string,
    private readonly shop: ShopBook,
    private readonly journal: Journal,
    private readonly clock: SteadyClock,
    private readonly besides: () => void = () => {},
  ) {
    journal.add(this.procedure());
  }

  start(): void {
    const look = () => void this.daily().catch((error: Error) => console.error(`backup: ${error.message}`));
    this.timer = setInterval(look, BACKUP.lookEveryMs);
    this.timer.unref();
    this.first = setTimeout(look, BACKUP.firstMs);
    this.first.unref();
  }

  stop(): void {
    clearTimeout(this.first);
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    this.child?.kill('SIGKILL');
  }

  /** Removes what a stopped server has left: what it had made for a browser, and what it had begun. */
  async sweep(): Promise<void> {
    await rm(join(this.data, FETCHED), { recursive: true, force: true });
    const { backupFolder } = this.shop.get();
    if (backupFolder !== '' && existsSync(backupFolder)) await sweepWork(backupFolder);
  }

  get last(): Last | null {
    return this.shop.value<Last | null>('backup-last') ?? null;
  }

  /** Makes a backup beside the work of the shop, one at a time, each into its own file. */
  make(file: string): Promise<BackupReport> {
    const mine = this.turn.then(() => this.inProcess(file));
    this.turn = mine.catch(() => {});
    return mine;
  }

  /** A backup for one browser. @returns its file, and what removes it */
  async fetch(): Promise<{ report: BackupReport; name: string; done: () => Promise<void> }> {
    const name = backupName(new Date(this.clock.now()), ++this.fetches);
    const file = join(this.data, FETCHED, name);
    const done = () => rm(file, { force: true });
    try {
      return { report: await this.make(file), name, done };
    } catch (error) {
      await done();
      throw error;
    }
  }

  private inProcess(file: string): Promise<BackupReport> {
    return new Promise((resolve, reject) => {
      const module = fileURLToPath(new URL('./backupProcess.mjs', import.meta.url));
      const child = fork(module, [this.data, file], { stdio: ['ignore', 'ignore', 'inherit', 'ipc'] });
      this.child = child;
      let told: { report?: BackupReport; error?: { message: string; code?: string } } | null = null;
      child.once('message', (message) => {
        told = message as typeof told;
      });
      child.once('error', reject);
      child.once('exit', () => {
        this.child = null;
        if (told?.report) resolve(told.report);
        else
          reject(
            Object.assign(new Error(told?.error?.message ?? 'the backup was stopped'), { code: told?.error?.code }),
          );
      });
    });
  }

  private procedure(): Procedure<Facts> {
    return {
      kind: 'backup',
      lane: 'backup',
      steps: [
        {
          name: 'file',
          run: async ({ file }) => {
            // One that is there already and can be read was made before the server stopped.
            if (existsSync(file) && (await proveBackup(file).then(Boolean, () => false))) return;
            await this.make(file);
          },
        },
        { name: 'note', run: (facts) => this.note(facts) },
        { name: 'older', run: ({ folder }) => this.removeOlder(folder) },
        { name: 'erasures', run: () => this.besides() },
      ],
      left: async ({ file }) => {
        if (!existsSync(file)) return 'the file of the backup is not there';
        return this.last?.file === file ? null : 'the backup is not noted';
      },
      // The next one is made anew; of this one only a whole file is left, or none.
      undo: () => {},
    };
  }

  /** The day's backup, when it is due. @returns its file, or `null` */
  async daily(now = this.clock.now()): Promise<string | null> {
    await this.journal.resume('backup');
    const { backupFolder: folder } = this.shop.get();
    if (folder === '' || !this.isDue(now)) return null;
    try {
      const at = new Date(now);
      const file = join(folder, await nextBackupName(folder, at));
      await this.journal.begin<Facts>('backup', 'backup', { folder, file, at: at.toISOString() });
      return file;
    } catch (error) {
      this.shop.put('backup-problem', (error as Error).message);
      throw error;
    }
  }

  /** A last one that lies in the future was made while the clock was wrong: it holds up none. */
  private isDue(now: number): boolean {
    const { last } = this;
    const since = last ? now - Date.parse(last.at) : Number.POSITIVE_INFINITY;
    return since >= BACKUP.everyMs || since < 0;
  }

  private async note({ file, at }: Facts): Promise<void> {
    const bytes = statSync(file).size;
    const { damaged = [] } = await manifestIn(file);
    this.db.transaction(() => {
      this.shop.put('backup-last', { at, file, bytes } satisfies Last);
      this.shop.put('backup-problem', '');
      this.shop.put('backup-damage', damaged);
    });
    await writeFile(join(this.data, LAST_BACKUP), `${file}\n`);
  }

  /** Those beyond as many as the shop keeps. While what was copied is damaged, the sound ones of before are not thrown away. */
  private async removeOlder(folder: string): Promise<void> {
    if (this.damage.length > 0) return;
    const names = await backupsIn(folder);
    const { backupsKept } = this.shop.get();
    for (const name of names.slice(0, Math.max(0, names.length - backupsKept)))
      await rm(join(folder, name), { force: true });
  }

  private get damage(): string[] {
    return this.shop.value<string[]>('backup-damage') ?? [];
  }

  /** What is wrong with the backups, in words; empty when nothing is. */
  warnings(now = this.clock.now()): string[] {
    const { backupFolder: folder } = this.shop.get();
    const said: string[] = [];
    const problem = this.shop.value<string>('backup-problem');
    if (folder !== '' && problem) said.push(`The last backup failed: ${problem}.`);
    const [first, ...more] = this.damage;
    if (first !== undefined)
      said.push(
        `The data are damaged (${first}${more.length > 0 ? `, and ${more.length} more` : ''}); older backups are kept. ` +
          '“npm run nibrel -- verify” tells all of it.',
      );
    const since = this.last?.at ?? this.firstJob();
    if (since !== null && now - Date.parse(since) > BACKUP.saidAfterMs) {
      said.push(
        this.last
          ? 'There was no backup for three days.'
          : 'There is no backup yet; choose a folder for it on the Shop screen.',
      );
    }
    if (folder !== '' && this.sameDisk(folder)) {
      said.push('The backups lie on the same disk as the data; if it fails, both are gone.');
    }
    const before = this.beforeRestore();
    if (before !== null)
      said.push(
        `What was here before a backup was restored is kept in ${before}. Whoever is erased still stands in it: ` +
          'remove it once it is not needed.',
      );
    return said;
  }

  private beforeRestore(): string | null {
    const name = existsSync(this.data) ? readdirSync(this.data).find((n) => n.startsWith('before-')) : undefined;
    return name === undefined ? null : join(this.data, name);
  }

  private firstJob(): string | null {
    return (this.db.$client.prepare('SELECT min(created_at) FROM jobs').pluck().get() as string | null) ?? null;
  }

  private sameDisk(folder: string): boolean {
    try {
      return statSync(folder).dev === statSync(this.data).dev;
    } catch {
      return false;
    }
  }
}
