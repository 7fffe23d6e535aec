import { createHash, randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, open, readdir, readFile, rename, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Statement } from 'better-sqlite3';
import { eq } from 'drizzle-orm';
import type { Db } from './db/db.ts';
import { photos } from './db/schema.ts';
import { photoPath } from './photoPath.ts';
import type { Encoded } from './pictures/encode.ts';
import type { Pictures } from './pictures/pictures.ts';
import { notFound, Problem } from './problem.ts';

export interface Photo {
  hash: string;
  width: number;
  height: number;
  bytes: number;
}

/** Photographs by the hash of what is stored: re-encoded, upright, without location or any other metadata. */
export class Photos {
  constructor(
    private readonly db: Db,
    private readonly folder: string,
    private readonly pictures: Pick<Pictures, 'run'>,
    private readonly now: () => number = Date.now,
  ) {
    this.naming = db.$client.prepare(`
      SELECT 1 FROM photo_uses WHERE hash = ?
      UNION ALL SELECT 1 FROM plates WHERE photo = ? OR plate = ?
      UNION ALL SELECT 1 FROM intake_drafts WHERE instr(document, ?) > 0 LIMIT 1`);
  }

  private readonly naming: Statement;

  private turn: Promise<unknown> = Promise.resolve();

  /** After all that was asked for before. */
  private afterAll<T>(work: () => Promise<T>): Promise<T> {
    const mine = this.turn.then(work, work);
    this.turn = mine.catch(() => {});
    return mine;
  }

  /** @throws Problem 415 when the bytes are not a picture, whatever the sender called them */
  async add(bytes: Uint8Array): Promise<Photo> {
    return this.addMade(await this.pictures.run('upright', { bytes, whole: false }));
  }

  /**
   * A photograph at its full size, upright and without anything that its camera noted: what is measured and straightened.
   * @throws Problem 415
   */
  async addWhole(bytes: Uint8Array): Promise<Photo> {
    return this.addMade(await this.pictures.run('upright', { bytes, whole: true }));
  }

  /** A picture that was made here. One is stored at a time. */
  addMade(picture: Encoded): Promise<Photo> {
    return this.afterAll(() => this.keep(picture));
  }

  private async keep({ width, height, full: data, thumb }: Encoded): Promise<Photo> {
    const hash = hashOf(data);
    const photo = { hash, width, height, bytes: data.length };
    const seen = { createdAt: new Date(this.now()).toISOString(), thumb: hashOf(thumb) };
    // A file that is damaged is written anew when its picture is sent again, and its small one with it.
    const sound = await this.isSound(hash);
    await this.write(this.path(hash, 'full'), data, !sound);
    await this.write(this.path(hash, 'thumb'), thumb, !sound);
    // One that is sent again is as new: nothing that is about to name it finds it thrown away for its age.
    this.db
      .insert(photos)
      .values({ ...photo, ...seen })
      .onConflictDoUpdate({ target: photos.hash, set: sound ? { createdAt: seen.createdAt } : seen })
      .run();
    return photo;
  }

  /** Is what lies on the disk what its name says? */
  private async isSound(hash: string): Promise<boolean> {
    return readFile(this.path(hash, 'full')).then(
      (data) => hashOf(data) === hash,
      () => false,
    );
  }

  /** Removes what a stopped server had begun to write, or to remove: files that no row names. Before anybody sends any. */
  async sweep(): Promise<void> {
    if (!existsSync(this.folder)) return;
    const known = new Set(
      this.db
        .select({ hash: photos.hash })
        .from(photos)
        .all()
        .map((row) => row.hash),
    );
    for (const name of await readdir(this.folder, { recursive: true })) {
      const hash = /([0-9a-f]{64})(\.thumb)?\.jpg$/.exec(name)?.[1];
      if (name.endsWith('.part') || (hash !== undefined && !known.has(hash)))
        await rm(join(this.folder, name), { force: true });
    }
  }

  /** Is there anything that shows it: a job, a plate, an intake that was begun? */
  isNamed(hash: string): boolean {
    return this.naming.get(hash, hash, hash, hash) !== undefined;
  }

  /** Photographs that came before a moment and that nothing shows. @param before ISO date */
  unnamed(before: string): string[] {
    const old = this.db.$client
      .prepare(
        `SELECT hash FROM photos WHERE created_at < ? AND hash NOT IN (SELECT hash FROM photo_uses)
         AND hash NOT IN (SELECT photo FROM plates UNION SELECT plate FROM plates)`,
      )
      .pluck()
      .all(before) as string[];
    return old.filter((hash) => !this.isNamed(hash));
  }

  /** Those of some photographs that lie here and that nothing shows. */
  leftOver(hashes: readonly string[]): string[] {
    return hashes.filter((hash) => !this.isNamed(hash) && (this.has(hash) || this.lies(hash)));
  }

  private lies(hash: string): boolean {
    return existsSync(this.path(hash, 'full')) || existsSync(this.path(hash, 'thumb'));
  }

  /** Removes those of some photographs that nothing shows any more: the row first, so that no row is without its file. */
  forget(hashes: readonly string[]): Promise<void> {
    // In turn with what is being added: a picture that comes again meanwhile is written after this.
    return this.afterAll(async () => {
      for (const hash of hashes) {
        if (this.isNamed(hash)) continue;
        this.db.delete(photos).where(eq(photos.hash, hash)).run();
        for (const size of ['full', 'thumb'] as const) await rm(this.path(hash, size), { force: true });
      }
    });
  }

  has(hash: string): boolean {
    return this.db.select({ hash: photos.hash }).from(photos).where(eq(photos.hash, hash)).get() !== undefined;
  }

  /** JPEG bytes. @throws Problem 404, also for one whose file is gone */
  async read(hash: string, size: 'full' | 'thumb'): Promise<Buffer> {
    if (!/^[0-9a-f]{64}$/.test(hash) || !this.has(hash)) throw notFound('the photograph');
    try {
      const data = await readFile(this.path(hash, size));
      if (size === 'full' && hashOf(data) !== hash)
        throw new Problem(404, { error: 'the file of the photograph is damaged; send it again, or restore a backup' });
      if (size === 'thumb' && !this.isThumb(hash, data)) return await this.thumbAnew(hash);
      return data;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOENT') throw error;
      if (size === 'full') throw notFound('the file of the photograph');
      return this.thumbAnew(hash);
    }
  }

  private isThumb(hash: string, data: Buffer): boolean {
    const row = this.db.select({ thumb: photos.thumb }).from(photos).where(eq(photos.hash, hash)).get();
    return !row?.thumb || row.thumb === hashOf(data);
  }

  /** A small picture that is gone or damaged is made anew of the large one. @throws Problem 404 where that is not sound either */
  private async thumbAnew(hash: string): Promise<Buffer> {
    const full = await this.read(hash, 'full');
    const thumb = await this.pictures.run('small', { full });
    await this.write(this.path(hash, 'thumb'), thumb, true);
    this.db
      .update(photos)
      .set({ thumb: hashOf(thumb) })
      .where(eq(photos.hash, hash))
      .run();
    return Buffer.from(thumb);
  }

  private path(hash: string, size: 'full' | 'thumb'): string {
    return join(this.folder, photoPath(hash, size));
  }

  /** Whole or not at all, and on the disk before the row that names it. */
  private async write(path: string, data: Uint8Array, anew = false): Promise<void> {
    if (existsSync(path) && !anew) return;
    const folder = dirname(path);
    await mkdir(folder, { recursive: true });
    const partial = `${path}.${randomBytes(8).toString('hex')}.part`;
    try {
      const file = await open(partial, 'wx');
      try {
        await file.writeFile(data);
        await file.sync();
      } finally {
        await file.close();
      }
      await rename(partial, path);
    } catch (error) {
      await rm(partial, { force: true });
      throw error;
    }
    const entry = await open(folder, 'r');
    try {
      await entry.sync();
    } finally {
      await entry.close();
    }
  }
}

const hashOf = (data: Uint8Array): string => createHash('sha256').update(data).digest('hex');
