import { createHash, randomBytes } from 'node:crypto';
import { createReadStream, createWriteStream, existsSync, readFileSync } from 'node:fs';
import { mkdir, mkdtemp, open, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { basename, dirname, join, normalize } from 'node:path';
import { pipeline } from 'node:stream/promises';
import Database from 'better-sqlite3';
import yauzl from 'yauzl';
import yazl from 'yazl';
import { DataFault, openDb } from './db/open.ts';
import { photoPath } from './photos.ts';
import { LEDGER, LEDGER_BESIDE } from './erasure.ts';

/** What stands first in a backup: every file with its size and SHA-256. */
export interface Manifest {
  schema: 'nibrel.backup/1';
  madeAt: string;
  files: { name: string; bytes: number; sha256: string }[];
}

export interface BackupReport {
  file: string;
  bytes: number;
  photos: number;
  /** Photographs that the data name and the folder lacks. */
  missing: number;
}

const DATABASE = 'nibrel.sqlite';
const MANIFEST = 'manifest.json';

async function hashOf(path: string): Promise<{ bytes: number; sha256: string }> {
  const hash = createHash('sha256');
  let bytes = 0;
  for await (const chunk of createReadStream(path) as AsyncIterable<Buffer>) {
    hash.update(chunk);
    bytes += chunk.length;
  }
  return { bytes, sha256: hash.digest('hex') };
}

/**
 * Copies the shop's data into one file while it is in use: the database as it is at one moment, and every photograph
 * that it names. Sessions and keys stay out of it.
 * @param data the shop's folder
 * @param file where the backup goes; it is there whole or not at all
 */
export async function makeBackup(data: string, file: string): Promise<BackupReport> {
  await mkdir(dirname(file), { recursive: true });
  const work = await mkdtemp(join(dirname(file), '.nibrel-backup-'));
  try {
    const copy = join(work, DATABASE);
    const live = new Database(join(data, DATABASE), { readonly: true, fileMustExist: true });
    try {
      await live.backup(copy);
    } finally {
      live.close();
    }
    const taken = new Database(copy);
    taken.pragma('journal_mode = DELETE');
    const hashes = taken.prepare('SELECT hash FROM photos ORDER BY hash').pluck().all() as string[];
    taken.close();

    const zip = new yazl.ZipFile();
    const files: Manifest['files'] = [{ name: DATABASE, ...(await hashOf(copy)) }];
    const photos: [path: string, name: string][] = [];
    let missing = 0;
    for (const hash of hashes) {
      for (const size of ['full', 'thumb'] as const) {
        const name = `photos/${photoPath(hash, size)}`;
        const path = join(data, name);
        if (!existsSync(path)) {
          if (size === 'full') missing++;
          continue;
        }
        files.push({ name, ...(await hashOf(path)) });
        photos.push([path, name]);
      }
    }
    const manifest: Manifest = { schema: 'nibrel.backup/1', madeAt: new Date().toISOString(), files };
    zip.addBuffer(Buffer.from(JSON.stringify(manifest, null, 1)), MANIFEST);
    zip.addFile(copy, DATABASE);
    for (const [path, name] of photos) zip.addFile(path, name, { compress: false });
    zip.end();
    const partial = join(work, 'backup.zip');
    await pipeline(zip.outputStream, createWriteStream(partial));
    await onDisk(partial);
    const { size } = await stat(partial);
    await rename(partial, file);
    await onDisk(dirname(file));
    return { file, bytes: size, photos: hashes.length - missing, missing };
  } finally {
    await rm(work, { recursive: true, force: true });
  }
}

/** What is written is on the disk, and not only on its way there. */
async function onDisk(path: string): Promise<void> {
  const handle = await open(path, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/**
 * Unpacks a backup beside the shop's folder and proves it: every file is there as the manifest says, and the database
 * opens. Nothing of the shop is touched.
 * @returns the folder that it was unpacked into
 * @throws DataFault that says what is wrong with it
 */
export async function unpackBackup(file: string, beside: string): Promise<{ folder: string; manifest: Manifest }> {
  if (!existsSync(file)) throw new DataFault(`there is no file ${file}`);
  await mkdir(dirname(beside), { recursive: true });
  const folder = `${beside}.restoring-${randomBytes(4).toString('hex')}`;
  await mkdir(folder);
  try {
    await extract(file, folder);
    const manifest = await readManifest(join(folder, MANIFEST));
    for (const { name, bytes, sha256 } of manifest.files) {
      const path = join(folder, name);
      const found = existsSync(path) ? await hashOf(path) : null;
      if (!found) throw new DataFault(`${basename(file)} lacks ${name}; take another backup`);
      if (found.sha256 !== sha256 || found.bytes !== bytes) {
        throw new DataFault(`${name} in ${basename(file)} is damaged; take another backup`);
      }
    }
    if (!existsSync(join(folder, DATABASE)))
      throw new DataFault(`${basename(file)} lacks ${DATABASE}; take another backup`);
    openDb(join(folder, DATABASE)).close();
    await rm(join(folder, MANIFEST));
    return { folder, manifest };
  } catch (error) {
    await rm(folder, { recursive: true, force: true });
    if (error instanceof DataFault) throw error;
    throw new DataFault(`${basename(file)} is no backup of Nibrel (${(error as Error).message})`);
  }
}

async function readManifest(path: string): Promise<Manifest> {
  const manifest = JSON.parse(await readFile(path, 'utf8')) as Manifest;
  if (manifest.schema !== 'nibrel.backup/1') throw new Error(`its manifest is ${String(manifest.schema)}`);
  return manifest;
}

async function extract(file: string, folder: string): Promise<void> {
  const zip = await new Promise<yauzl.ZipFile>((resolve, reject) =>
    yauzl.open(file, { lazyEntries: true, autoClose: true }, (error, opened) =>
      error ? reject(error) : resolve(opened!),
    ),
  );
  await new Promise<void>((resolve, reject) => {
    zip.on('error', reject);
    zip.on('end', () => resolve());
    zip.on('entry', (entry: yauzl.Entry) => {
      const name = normalize(entry.fileName);
      if (
        name.startsWith('..') ||
        !/^(manifest\.json|nibrel\.sqlite|photos\/[0-9a-f]{2}\/[0-9a-f]{64}(\.thumb)?\.jpg)$/.test(name)
      ) {
        reject(new Error(`it holds ${entry.fileName}`));
        return;
      }
      zip.openReadStream(entry, (error, stream) => {
        if (error) return reject(error);
        const path = join(folder, name);
        mkdir(dirname(path), { recursive: true })
          .then(() => pipeline(stream!, createWriteStream(path)))
          .then(() => zip.readEntry(), reject);
      });
    });
    zip.readEntry();
  });
}

/**
 * Puts a backup in the place of the shop's data. What was there is kept beside it under another name.
 * @returns the folder that holds what was there before, or `null` when there was nothing
 */
export async function restoreBackup(file: string, data: string): Promise<{ kept: string | null; manifest: Manifest }> {
  const { folder, manifest } = await unpackBackup(file, data);
  const there = existsSync(data) && (await readdir(data)).length > 0;
  const kept = there ? `${data}.before-${new Date().toISOString().replace(/[:.]/g, '-')}` : null;
  if (kept) await rename(data, kept);
  else await rm(data, { recursive: true, force: true });
  await rename(folder, data);
  await keepErasures([kept && join(kept, LEDGER), join(dirname(file), LEDGER_BESIDE)], join(data, LEDGER));
  await onDisk(dirname(data));
  return { kept, manifest };
}

/**
 * Whoever was erased since a backup was made stays erased, as the data before it or a list beside the backup say: the
 * server does it again when it starts.
 */
async function keepErasures(places: readonly (string | null)[], ledger: string): Promise<void> {
  const lines = new Set<string>();
  for (const place of places)
    if (place && existsSync(place))
      for (const line of readFileSync(place, 'utf8').split('\n')) if (line.trim() !== '') lines.add(line);
  if (lines.size === 0) return;
  await mkdir(dirname(ledger), { recursive: true });
  await writeFile(ledger, `${[...lines].join('\n')}\n`);
}

/** The newest backup that can be restored, of those the shop's data name or that lie beside them; `null` for none. */
export async function newestGoodBackup(data: string): Promise<string | null> {
  const note = join(data, LAST_BACKUP);
  const named = existsSync(note) ? dirname(readFileSync(note, 'utf8').trim()) : null;
  for (const folder of [named, join(dirname(data), 'backups')]) {
    if (!folder) continue;
    for (const name of (await backupsIn(folder)).reverse()) {
      const file = join(folder, name);
      const tried = await unpackBackup(file, data).catch(() => null);
      if (!tried) continue;
      await rm(tried.folder, { recursive: true, force: true });
      return file;
    }
  }
  return null;
}

/** Where the newest backup went, outside the database, which may be what is lost. */
export const LAST_BACKUP = 'last-backup.txt';

const isBackup = (name: string): boolean => /^nibrel-\d{4}-\d{2}-\d{2}.*\.zip$/.test(name);

/** Backups of a folder, oldest first. */
export async function backupsIn(folder: string): Promise<string[]> {
  const names = existsSync(folder) ? await readdir(folder) : [];
  return names.filter(isBackup).sort();
}

export const backupName = (at: Date): string => `nibrel-${at.toISOString().slice(0, 16).replace(/[:T]/g, '-')}.zip`;

/** Writes and removes a small file: may this folder be used? @throws Error of the file system */
export async function tryFolder(folder: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  const probe = join(folder, `.nibrel-${randomBytes(4).toString('hex')}`);
  await writeFile(probe, 'x');
  await rm(probe);
}
