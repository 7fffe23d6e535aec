import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { DataFault } from './db/fault.ts';

/**
 * Holds a folder of data for this process alone, until it ends in whatever way: the lock is the operating system's.
 * @returns what lets it go
 * @throws DataFault when another Nibrel holds it
 */
export function holdFolder(data: string): () => void {
  const folder = join(data, 'private');
  try {
    mkdirSync(folder, { recursive: true, mode: 0o700 });
  } catch (error) {
    const { code } = error as NodeJS.ErrnoException;
    throw new DataFault(`the folder ${data} cannot be written (${code}); give it to this user, or set NIBREL_DATA`);
  }
  let lock: Database.Database;
  try {
    lock = new Database(join(folder, 'lock.sqlite'), { timeout: 0 });
  } catch (error) {
    throw new DataFault(
      `the folder ${data} cannot be written (${(error as Error).message}); set NIBREL_DATA to another`,
    );
  }
  try {
    lock.pragma('journal_mode = DELETE');
    lock.exec('BEGIN EXCLUSIVE');
  } catch {
    lock.close();
    throw new DataFault(`another Nibrel already works on ${data}; stop that one, or set NIBREL_DATA to another folder`);
  }
  return () => lock.close();
}
