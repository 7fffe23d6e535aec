import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { COLUMNS, damageOf, type EventRow } from '../db/events.ts';
import { photoPath } from '../photoPath.ts';

/** What was looked at, and what is wrong: each fault says where. */
export interface Verified {
  jobs: number;
  events: number;
  photos: number;
  faults: { where: string; fault: string }[];
}

export const DATABASE = 'nibrel.sqlite';

/**
 * Looks at a shop's data: the database by its own check, every event and every photograph by its hash. Nothing is changed, and
 * a server may be at work on it.
 * @param data folder that holds `nibrel.sqlite` and `photos/`
 */
export async function verifyData(data: string): Promise<Verified> {
  const found = verifyDatabase(join(data, DATABASE));
  for (const hash of found.hashes) {
    const path = join(data, 'photos', photoPath(hash, 'full'));
    const where = `photograph ${hash.slice(0, 12)}`;
    if (!existsSync(path)) found.faults.push({ where, fault: 'its file is missing' });
    else if (sha256(await readFile(path)) !== hash)
      found.faults.push({ where, fault: 'its file is not what was written; send it again, or restore a backup' });
  }
  const { hashes, ...told } = found;
  return { ...told, photos: hashes.length };
}

/** The same for the database alone, with the photographs that it knows. */
export function verifyDatabase(path: string): Omit<Verified, 'photos'> & { hashes: string[] } {
  const sqlite = new Database(path, { readonly: true, fileMustExist: true });
  const faults: Verified['faults'] = [];
  try {
    // One moment of it, whatever is written meanwhile.
    sqlite.exec('BEGIN');
    const said = sqlite.pragma('integrity_check', { simple: true }) as string;
    if (said !== 'ok') faults.push({ where: DATABASE, fault: said });
    for (const { table } of sqlite.pragma('foreign_key_check') as { table: string }[])
      faults.push({ where: DATABASE, fault: `a row of ${table} names one that is not there` });
    const jobs = sqlite.prepare('SELECT id, number FROM jobs ORDER BY number').all() as {
      id: string;
      number: number;
    }[];
    const ofJob = sqlite.prepare(`SELECT ${COLUMNS} FROM events WHERE job = ? ORDER BY seq`);
    let events = 0;
    for (const { id, number } of jobs) {
      const rows = ofJob.all(id) as EventRow[];
      events += rows.length;
      const fault = damageOf(rows);
      if (fault !== null) faults.push({ where: `job ${number}`, fault });
    }
    const hashes = sqlite.prepare('SELECT hash FROM photos ORDER BY hash').pluck().all() as string[];
    return { jobs: jobs.length, events, hashes, faults };
  } finally {
    sqlite.close();
  }
}

const sha256 = (data: Uint8Array): string => createHash('sha256').update(data).digest('hex');
