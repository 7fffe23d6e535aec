import { randomBytes } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync } from 'node:fs';
import { mkdir, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { openDb } from '../db/open.ts';
import { eachEntry, MANIFEST, onDisk, proveBackup, writeGently, type Manifest } from './backup.ts';
import { customersIn, LEDGER, LEDGER_BESIDE, noteIn } from './erasure.ts';
import { Halted, Journal, type Procedure } from './journal.ts';
import { DATABASE } from './verify.ts';

/** The journal of a shop's folder. */
export const JOURNAL = 'private/journal.sqlite';

interface Facts {
  /** Where the backup lies unpacked, and where what was there goes, below the shop's folder. */
  stage: string;
  kept: string;
  /** Customers who were erased since, by the list beside the backup. */
  erased: string[];
}

/**
 * Proves a backup and unpacks it into a folder that is not there yet. Nothing of the shop is touched.
 * @throws DataFault that says what is wrong with it; the folder is gone again then
 */
export async function unpackBackup(file: string, folder: string): Promise<Manifest> {
  const manifest = await proveBackup(file);
  await mkdir(folder, { recursive: true, mode: 0o700 });
  try {
    await eachEntry(file, async (name, stream) => {
      if (name === MANIFEST) return void stream.resume();
      const path = join(folder, name);
      await mkdir(dirname(path), { recursive: true });
      await writeGently(stream, path);
    });
    openDb(join(folder, DATABASE)).close();
    await mkdir(join(folder, 'photos'), { recursive: true });
    return manifest;
  } catch (error) {
    await rm(folder, { recursive: true, force: true });
    throw error;
  }
}

/** What a restore puts back: the rest of the folder, its keys and its lists, stays as it is. */
const PARTS = [DATABASE, `${DATABASE}-wal`, `${DATABASE}-shm`, 'photos'] as const;

/**
 * Puts a backup in the place of the database and the photographs; keys, certificates and the list of erasures stay. What was
 * there is kept in a folder beside them. Once it is begun it is finished, at the next start if not now.
 * @param watch given the journal before anything is begun
 * @returns the folder that holds what was there before, or `null` when there was nothing
 * @throws DataFault when the backup is not sound; nothing was touched then
 */
export async function restoreBackup(
  file: string,
  data: string,
  watch: (journal: Journal) => void = () => {},
): Promise<{ kept: string | null; manifest: Manifest }> {
  mkdirSync(data, { recursive: true, mode: 0o700 });
  const journal = new Journal(join(data, JOURNAL));
  watch(journal);
  try {
    journal.add(restoring(data));
    // What an earlier one has begun comes first.
    const open = (await journal.resume('restore')).find((u) => u.kind === 'restore');
    if (open) throw new Halted('restore', new Error(open.error ?? 'an earlier restore is not finished'));
    const mark = `${new Date().toISOString().replace(/[:.]/g, '-')}-${randomBytes(2).toString('hex')}`;
    const stage = `restoring-${mark}`;
    const manifest = await unpackBackup(file, join(data, stage));
    const there = PARTS.some((part) => existsSync(join(data, part)));
    const kept = `before-${mark}`;
    const erased = customersIn(join(dirname(file), LEDGER_BESIDE));
    await journal.begin<Facts>('restore', 'restore', { stage, kept, erased });
    return { kept: there ? join(data, kept) : null, manifest };
  } finally {
    await journal.close();
  }
}

/** Finishes what a restore has begun, and removes what one has left that never came so far. */
export async function finishRestore(journal: Journal, data: string): Promise<void> {
  journal.add(restoring(data));
  const open = (await journal.resume('restore')).find((u) => u.kind === 'restore');
  if (open) throw new Error(`a restore was begun and cannot be finished: ${open.error}`);
  for (const name of existsSync(data) ? readdirSync(data) : [])
    if (name.startsWith('restoring-')) rmSync(join(data, name), { recursive: true, force: true });
}

function restoring(data: string): Procedure<Facts> {
  const move = (from: string, to: string, part: string) => {
    // What has been moved is not moved over.
    if (!existsSync(join(data, from, part)) || existsSync(join(data, to, part))) return;
    mkdirSync(join(data, to), { recursive: true, mode: 0o700 });
    renameSync(join(data, from, part), join(data, to, part));
  };
  const keep = PARTS.map((part) => ({
    name: `keep ${part}`,
    run: async ({ kept }: Facts) => {
      move('.', kept, part);
      await onDisk(data);
    },
  }));
  const place = PARTS.map((part) => ({
    name: `place ${part}`,
    run: async ({ stage }: Facts) => {
      move(stage, '.', part);
      await onDisk(data);
    },
  }));
  return {
    kind: 'restore',
    steps: [
      { name: 'erasures', run: ({ erased }) => noteIn(join(data, LEDGER), erased) },
      ...keep,
      ...place,
      { name: 'clean', run: ({ stage }) => rmSync(join(data, stage), { recursive: true, force: true }) },
    ],
    left: ({ stage }) => {
      if (!existsSync(join(data, DATABASE))) return 'the database is not in its place';
      if (existsSync(join(data, stage))) return 'what was unpacked is not in its place';
      openDb(join(data, DATABASE)).close();
      return null;
    },
  };
}
