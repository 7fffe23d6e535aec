import { chmodSync, closeSync, existsSync, mkdirSync, openSync, readFileSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import Database from 'better-sqlite3';
import { drizzle } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import type { Db } from './db.ts';
import { DataFault } from './fault.ts';
import * as schema from './schema.ts';
import { DATA_VERSION, upgradeData } from './upgrade.ts';

const MIGRATIONS = fileURLToPath(new URL('../migrations', import.meta.url));

/**
 * Opens the shop's database, creating and migrating it as needed. What is committed survives a killed process and a
 * lost supply.
 * @throws DataFault when it is damaged, empty, newer than this version, or the folder cannot be written
 */
export function openDb(path: string): { db: Db; close: () => void } {
  prepareFolder(path);
  const sqlite = openSound(path);
  sqlite.pragma('journal_mode = WAL');
  sqlite.pragma('synchronous = FULL');
  sqlite.pragma('foreign_keys = ON');
  sqlite.pragma('busy_timeout = 5000');
  // What is deleted is overwritten, so that nothing of an erased customer is left in the file.
  sqlite.pragma('secure_delete = ON');
  const db = drizzle(sqlite, { schema }) as Db;
  const fresh = sqlite.prepare("SELECT count(*) FROM sqlite_master WHERE type = 'table'").pluck().get() === 0;
  refuseNewer(sqlite);
  migrate(db, { migrationsFolder: MIGRATIONS });
  if (fresh) sqlite.pragma(`user_version = ${DATA_VERSION}`);
  else upgradeData(db);
  return { db, close: () => sqlite.close() };
}

/** Data that a newer Nibrel has migrated are not touched by an older one. @throws DataFault */
function refuseNewer(sqlite: Database.Database): void {
  const there = sqlite.prepare("SELECT count(*) FROM sqlite_master WHERE name = '__drizzle_migrations'").pluck().get();
  if (there === 0) return;
  const last = sqlite.prepare('SELECT max(created_at) FROM __drizzle_migrations').pluck().get() as number | null;
  const journal = JSON.parse(readFileSync(join(MIGRATIONS, 'meta', '_journal.json'), 'utf8')) as {
    entries: { when: number; tag: string }[];
  };
  const known = Math.max(...journal.entries.map((e) => e.when));
  if (last !== null && last > known)
    throw new DataFault(
      `the shop's data was written by a newer Nibrel (its tables are of ${new Date(last).toISOString().slice(0, 10)}, this one knows ${journal.entries.at(-1)!.tag}); start that one`,
    );
}

function prepareFolder(path: string): void {
  const folder = dirname(path);
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
    // A folder of before is closed to others too; what lies in it is reached through it only.
    chmodSync(folder, 0o700);
    for (const file of [path, `${path}-wal`, `${path}-shm`]) if (existsSync(file)) chmodSync(file, 0o600);
    if (existsSync(path)) closeSync(openSync(path, 'r+'));
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw new DataFault(`the folder ${folder} cannot be written (${code}); give it to this user, or set NIBREL_DATA`);
  }
}

function openSound(path: string): Database.Database {
  if (existsSync(path) && statSync(path).size === 0 && !existsSync(`${path}-wal`)) {
    throw new DataFault(`the shop's data in ${path} is an empty file; restore the newest backup, or remove the file`);
  }
  let sqlite: Database.Database | null = null;
  try {
    sqlite = new Database(path);
    const version = sqlite.pragma('user_version', { simple: true }) as number;
    if (version > DATA_VERSION) {
      throw new DataFault(
        `the shop's data was written by a newer Nibrel (data version ${version}, this one knows ${DATA_VERSION}); start that one`,
      );
    }
    const check = sqlite.pragma('quick_check(1)', { simple: true });
    if (check !== 'ok') throw new Error(String(check));
    return sqlite;
  } catch (error) {
    sqlite?.close();
    if (error instanceof DataFault) throw error;
    const { code, message } = error as Error & { code?: string };
    if (code === 'SQLITE_CANTOPEN' || code === 'SQLITE_READONLY') {
      throw new DataFault(`${path} cannot be opened for writing; give it to this user, or set NIBREL_DATA`);
    }
    throw new DataFault(`the shop's data in ${path} is damaged (${message}); restore the newest backup`);
  }
}
