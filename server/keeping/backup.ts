import { createHash, randomBytes } from 'node:crypto';
import { createReadStream, existsSync, readFileSync } from 'node:fs';
import { mkdir, open, readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { basename, dirname, join, normalize } from 'node:path';
import { text } from 'node:stream/consumers';
import Database from 'better-sqlite3';
import yauzl from 'yauzl';
import yazl from 'yazl';
import { DataFault } from '../db/fault.ts';
import { photoPath } from '../photoPath.ts';
import { DATABASE, verifyDatabase } from './verify.ts';

/** What stands first in a backup: every file with its size and SHA-256. */
export interface Manifest {
  schema: 'nibrel.backup/1';
  madeAt: string;
  files: { name: string; bytes: number; sha256: string }[];
  /** What was damaged already in the data that were copied, in words; earlier backups do not say. */
  damaged?: string[];
}

export interface BackupReport {
  file: string;
  bytes: number;
  photos: number;
  /** Photographs that the data name and the folder lacks. */
  missing: number;
  /** What is damaged in the data that were copied, in words. */
  damaged: string[];
}

export const MANIFEST = 'manifest.json';
/** Pages of the database that are copied, and bytes that are written, before others have the disk again. Origin: own choice, 1 and 4 MB. */
const COPY_PAGES = 256;
const WRITE_BYTES = 4 * 1024 * 1024;
/** A folder that a stopped backup has left is removed at this age, ms, where it cannot be told whether it goes on. */
const OLD_WORK_MS = 24 * 3600_000;
const WORK = /^\.nibrel-backup-(\d+)-/;

async function hashOf(source: AsyncIterable<Buffer>): Promise<{ bytes: number; sha256: string }> {
  const hash = createHash('sha256');
  let bytes = 0;
  for await (const chunk of source) {
    hash.update(chunk);
    bytes += chunk.length;
  }
  return { bytes, sha256: hash.digest('hex') };
}
const hashOfFile = (path: string) => hashOf(createReadStream(path));

/**
 * Copies the shop's data into one file while it is in use: the database as it is at one moment, and every photograph
 * that it names. Sessions and keys stay out of it. It is done when the file is there and was read again.
 * @param data the shop's folder
 * @param file where the backup goes; it is there whole or not at all
 * @throws DataFault when what was written cannot be read again
 */
export async function makeBackup(data: string, file: string): Promise<BackupReport> {
  const folder = dirname(file);
  await mkdir(folder, { recursive: true });
  await sweepWork(folder);
  const work = join(folder, `.nibrel-backup-${process.pid}-${randomBytes(4).toString('hex')}`);
  await mkdir(work, { mode: 0o700 });
  try {
    const copy = join(work, DATABASE);
    await copyDatabase(join(data, DATABASE), copy);
    const { hashes, faults } = verifyDatabase(copy);
    const photos = await photosOf(data, hashes);
    const files = [{ name: DATABASE, ...(await hashOfFile(copy)) }, ...photos.files];
    const damaged = faults.map(({ where, fault }) => `${where}: ${fault}`);
    const manifest: Manifest = { schema: 'nibrel.backup/1', madeAt: new Date().toISOString(), files, damaged };
    const zip = new yazl.ZipFile();
    zip.addBuffer(Buffer.from(JSON.stringify(manifest, null, 1)), MANIFEST);
    zip.addFile(copy, DATABASE);
    for (const { name } of photos.files) zip.addFile(join(data, name), name, { compress: false });
    zip.end();
    const partial = join(work, 'backup.zip');
    await writeGently(zip.outputStream, partial);
    await proveBackup(partial);
    const { size } = await stat(partial);
    await rename(partial, file);
    await onDisk(folder);
    return { file, bytes: size, photos: hashes.length - photos.missing, missing: photos.missing, damaged };
  } finally {
    await rm(work, { recursive: true, force: true });
  }
}

/** The database as it is at one moment. A reader holds that moment, so that what is written meanwhile does not begin it anew. */
async function copyDatabase(from: string, to: string): Promise<void> {
  const live = new Database(from, { readonly: true, fileMustExist: true });
  try {
    live.exec('BEGIN');
    live.prepare('SELECT count(*) FROM sqlite_master').get();
    await live.backup(to, { progress: () => COPY_PAGES });
  } finally {
    live.close();
  }
  const taken = new Database(to);
  taken.pragma('journal_mode = DELETE');
  taken.close();
}

async function photosOf(
  data: string,
  hashes: readonly string[],
): Promise<{ files: Manifest['files']; missing: number }> {
  const files: Manifest['files'] = [];
  let missing = 0;
  for (const hash of hashes)
    for (const size of ['full', 'thumb'] as const) {
      const name = `photos/${photoPath(hash, size)}`;
      if (existsSync(join(data, name))) files.push({ name, ...(await hashOfFile(join(data, name))) });
      else if (size === 'full') missing++;
    }
  return { files, missing };
}

/** Writes a stream so that it is on the disk bit by bit: what others write meanwhile waits for little. */
export async function writeGently(stream: NodeJS.ReadableStream, path: string): Promise<void> {
  const file = await open(path, 'wx', 0o600);
  try {
    let since = 0;
    for await (const chunk of stream as AsyncIterable<Buffer>) {
      await file.writeFile(chunk);
      since += chunk.length;
      if (since < WRITE_BYTES) continue;
      await file.datasync();
      since = 0;
    }
    await file.sync();
  } finally {
    await file.close();
  }
}

/** Removes what backups have left that were stopped: their process is gone, or they are old. */
export async function sweepWork(folder: string): Promise<void> {
  for (const name of await readdir(folder)) {
    const by = WORK.exec(name)?.[1];
    if (by === undefined && !name.startsWith('.nibrel-backup-')) continue;
    const path = join(folder, name);
    const there = await stat(path).catch(() => null);
    if (there && (by === undefined || !runs(Number(by)) || Math.abs(Date.now() - there.mtimeMs) > OLD_WORK_MS))
      await rm(path, { recursive: true, force: true });
  }
}

function runs(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}

/** What is written is on the disk, and not only on its way there. */
export async function onDisk(path: string): Promise<void> {
  const handle = await open(path, 'r');
  try {
    await handle.sync();
  } finally {
    await handle.close();
  }
}

/**
 * Reads a backup from its first byte to its last: everything is there as its manifest says. Nothing is unpacked.
 * @throws DataFault that says what is wrong with it
 */
export async function proveBackup(file: string): Promise<Manifest> {
  if (!existsSync(file)) throw new DataFault(`there is no file ${file}`);
  const found = new Map<string, { bytes: number; sha256: string }>();
  let manifest: Manifest | null = null;
  try {
    await eachEntry(file, async (name, stream) => {
      if (name === MANIFEST) manifest = manifestOf(await text(stream));
      else found.set(name, await hashOf(stream as AsyncIterable<Buffer>));
    });
    if (!manifest) throw new Error('it has no manifest');
  } catch (error) {
    throw new DataFault(`${basename(file)} is no backup of Nibrel (${(error as Error).message})`);
  }
  const { files } = manifest as Manifest;
  for (const { name, bytes, sha256 } of files) {
    const there = found.get(name);
    if (!there) throw new DataFault(`${basename(file)} lacks ${name}; take another backup`);
    if (there.sha256 !== sha256 || there.bytes !== bytes)
      throw new DataFault(`${name} in ${basename(file)} is damaged; take another backup`);
  }
  if (!files.some(({ name }) => name === DATABASE))
    throw new DataFault(`${basename(file)} lacks ${DATABASE}; take another backup`);
  return manifest;
}

/** What a backup says of itself, without a look at the rest of it. @throws Error for what is none */
export async function manifestIn(file: string): Promise<Manifest> {
  const found: Manifest[] = [];
  await eachEntry(file, async (name, stream) => {
    if (name === MANIFEST) found.push(manifestOf(await text(stream)));
    return 'enough';
  });
  if (!found[0]) throw new Error('it has no manifest');
  return found[0];
}

function manifestOf(written: string): Manifest {
  const manifest = JSON.parse(written) as Manifest;
  if (manifest.schema !== 'nibrel.backup/1') throw new Error(`its manifest is ${String(manifest.schema)}`);
  return manifest;
}

/** Names that a backup may hold, and no others. */
const HELD = /^(manifest\.json|nibrel\.sqlite|photos\/[0-9a-f]{2}\/[0-9a-f]{64}(\.thumb)?\.jpg)$/;

/** Goes through what a file holds, one after another, until it is enough. */
export async function eachEntry(
  file: string,
  take: (name: string, stream: NodeJS.ReadableStream) => Promise<unknown>,
): Promise<void> {
  const zip = await new Promise<yauzl.ZipFile>((resolve, reject) =>
    yauzl.open(file, { lazyEntries: true, autoClose: true }, (error, opened) =>
      error ? reject(error) : resolve(opened!),
    ),
  );
  try {
    await new Promise<void>((resolve, reject) => {
      zip.on('error', reject);
      zip.on('end', () => resolve());
      zip.on('entry', (entry: yauzl.Entry) => {
        const name = normalize(entry.fileName);
        if (!HELD.test(name)) return reject(new Error(`it holds ${entry.fileName}`));
        zip.openReadStream(entry, (error, stream) => {
          if (error) return reject(error);
          take(name, stream!).then((said) => (said === 'enough' ? resolve() : zip.readEntry()), reject);
        });
      });
      zip.readEntry();
    });
  } finally {
    zip.close();
  }
}

/** The newest backup that can be restored, of those the shop's data name or that lie beside them; `null` for none. */
export async function newestGoodBackup(data: string): Promise<string | null> {
  const note = join(data, LAST_BACKUP);
  const named = existsSync(note) ? dirname(readFileSync(note, 'utf8').trim()) : null;
  for (const folder of [named, join(dirname(data), 'backups')]) {
    if (!folder) continue;
    for (const name of (await backupsIn(folder)).reverse()) {
      const file = join(folder, name);
      if (await proveBackup(file).then(Boolean, () => false)) return file;
    }
  }
  return null;
}

/** Where the newest backup went, outside the database, which may be what is lost. */
export const LAST_BACKUP = 'last-backup.txt';

const isBackup = (name: string): boolean => /^nibrel-\d{4}-\d{2}-\d{2}.*\.zip$/.test(name);

/** The how manieth of its folder a backup is; those of before bear no number. */
const countOf = (name: string): number => Number(/-n(\d+)\.zip$/.exec(name)?.[1] ?? 0);

/** Backups of a folder, oldest first: by their number, whatever the clock said when they were made. */
export async function backupsIn(folder: string): Promise<string[]> {
  const names = existsSync(folder) ? await readdir(folder) : [];
  return names.filter(isBackup).sort((a, b) => countOf(a) - countOf(b) || (a < b ? -1 : 1));
}

/** The name of the next backup of a folder. */
export async function nextBackupName(folder: string, at: Date): Promise<string> {
  const last = (await backupsIn(folder)).at(-1);
  return backupName(at, last === undefined ? 1 : countOf(last) + 1);
}

export const backupName = (at: Date, count: number): string =>
  `nibrel-${at.toISOString().slice(0, 16).replace(/[:T]/g, '-')}-n${String(count).padStart(5, '0')}.zip`;

/** Writes and removes a small file: may this folder be used? @throws Error of the file system */
export async function tryFolder(folder: string): Promise<void> {
  await mkdir(folder, { recursive: true });
  const probe = join(folder, `.nibrel-${randomBytes(4).toString('hex')}`);
  await writeFile(probe, 'x');
  await rm(probe);
}
