import { statSync } from 'node:fs';
import { rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Db } from './db/db.ts';
import { backupName, backupsIn, LAST_BACKUP, makeBackup, type BackupReport } from './backup.ts';
import type { ShopBook } from './shop.ts';

/** Origin: own choice; a day between backups, looked at every quarter of an hour, and three days until it is said. */
export const BACKUP = { everyMs: 24 * 3600_000, lookEveryMs: 900_000, saidAfterMs: 3 * 24 * 3600_000 } as const;

interface Last {
  at: string;
  file: string;
  bytes: number;
}

/** The daily backup, and what the lead should know of it. */
export class Backups {
  private timer: ReturnType<typeof setInterval> | null = null;
  private running: Promise<BackupReport> | null = null;

  constructor(
    private readonly db: Db,
    private readonly data: string,
    private readonly shop: ShopBook,
  ) {}

  start(): void {
    const look = () => void this.daily().catch(() => {});
    this.timer = setInterval(look, BACKUP.lookEveryMs);
    this.timer.unref();
    setTimeout(look, 30_000).unref();
  }

  stop(): void {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
  }

  get last(): Last | null {
    return this.shop.value<Last | null>('backup-last') ?? null;
  }

  /** One backup at a time; who asks meanwhile gets the same. */
  make(file: string): Promise<BackupReport> {
    this.running ??= makeBackup(this.data, file).finally(() => {
      this.running = null;
    });
    return this.running;
  }

  /** The day's backup, when it is due. @returns what was made, or `null` */
  async daily(now = Date.now()): Promise<BackupReport | null> {
    const { backupFolder: folder, backupsKept } = this.shop.get();
    const { last } = this;
    if (folder === '' || (last && now - Date.parse(last.at) < BACKUP.everyMs)) return null;
    try {
      const report = await this.make(join(folder, backupName(new Date(now))));
      this.shop.put('backup-last', { at: new Date(now).toISOString(), file: report.file, bytes: report.bytes });
      this.shop.put('backup-problem', '');
      await writeFile(join(this.data, LAST_BACKUP), `${report.file}\n`);
      const names = await backupsIn(folder);
      for (const name of names.slice(0, Math.max(0, names.length - backupsKept))) await rm(join(folder, name));
      return report;
    } catch (error) {
      this.shop.put('backup-problem', (error as Error).message);
      throw error;
    }
  }

  /** What is wrong with the backups, in words; empty when nothing is. */
  warnings(now = Date.now()): string[] {
    const { backupFolder: folder } = this.shop.get();
    const said: string[] = [];
    const problem = this.shop.value<string>('backup-problem');
    if (folder !== '' && problem) said.push(`The last backup failed: ${problem}.`);
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
    return said;
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
