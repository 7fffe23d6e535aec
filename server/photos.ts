import { createHash, randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, open, readdir, readFile, rename, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { eq } from 'drizzle-orm';
import { fileTypeFromBuffer } from 'file-type';
import sharp, { type Sharp } from 'sharp';
import type { Db } from './db/db.ts';
import { photos } from './db/schema.ts';
import { notFound, Problem } from './problem.ts';

/** Origin: own choice; enough to read a screw head on a whole phone, small enough for years of jobs. */
const LONGEST_EDGE_PX = 2400;
const THUMB_PX = 320;
const KINDS = new Set(['image/jpeg', 'image/png', 'image/webp', 'image/avif', 'image/gif']);
/** Pictures of phones that only a decoder of their own reads. */
const HEIC = new Set(['image/heic', 'image/heic-sequence', 'image/heif', 'image/heif-sequence']);
const MOST_PIXELS = 100_000_000;
/** Pictures that may wait to be decoded. Origin: own choice; each holds its file in memory meanwhile. */
const MOST_WAITING = 40;
// What was decoded is not kept: the next picture is another.
sharp.cache(false);

/** Pixels as they come out of a decoder: RGBA, 8 bits each. */
export interface Pixels {
  width: number;
  height: number;
  data: Uint8Array;
}

/** Pixels row by row, so many bytes each. */
export interface RawPicture {
  width: number;
  height: number;
  channels: 1 | 3 | 4;
  data: Uint8Array;
}

/** Where a photograph lies below the folder of photographs. */
export const photoPath = (hash: string, size: 'full' | 'thumb'): string =>
  `${hash.slice(0, 2)}/${hash}${size === 'thumb' ? '.thumb' : ''}.jpg`;

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
    private readonly decodeHeic: (bytes: Uint8Array) => Promise<Pixels>,
  ) {}

  private turn: Promise<unknown> = Promise.resolve();
  private waiting = 0;

  /**
   * One picture is decoded at a time, whoever sends how many: a small file may hold a hundred million pixels.
   * @throws Problem 503 when too many wait
   */
  private async inTurn<T>(work: () => Promise<T>): Promise<T> {
    if (this.waiting >= MOST_WAITING)
      throw new Problem(503, { error: 'too many pictures at once; send it again in a moment' });
    this.waiting++;
    const mine = this.turn.then(work, work);
    this.turn = mine.catch(() => {});
    try {
      return await mine;
    } finally {
      this.waiting--;
    }
  }

  /** @throws Problem 415 when the bytes are not a picture, whatever the sender called them */
  add(bytes: Uint8Array): Promise<Photo> {
    return this.inTurn(() => this.addNow(bytes));
  }

  private async addNow(bytes: Uint8Array): Promise<Photo> {
    const kind = await fileTypeFromBuffer(bytes);
    if (!kind || !(KINDS.has(kind.mime) || HEIC.has(kind.mime)))
      throw new Problem(415, {
        error: `this file is not a picture (${kind ? kind.mime : 'unknown content'}); send JPEG, PNG, WebP, AVIF or HEIC`,
      });
    try {
      const upright = HEIC.has(kind.mime) ? await this.fromHeic(bytes) : sharp(bytes, LIMIT).rotate();
      const fit = { width: LONGEST_EDGE_PX, height: LONGEST_EDGE_PX, fit: 'inside', withoutEnlargement: true } as const;
      return await this.keep(upright.resize(fit).jpeg({ quality: 85 }));
    } catch (error) {
      // What the disk says is not the picture's fault.
      if (error instanceof Problem || 'code' in (error as object)) throw error;
      throw new Problem(415, { error: 'the picture is damaged or too large to read; take it again' });
    }
  }

  /**
   * A photograph at its full size, upright and without anything that its camera noted: what is measured and straightened.
   * @throws Problem 415
   */
  addWhole(bytes: Uint8Array): Promise<Photo> {
    return this.inTurn(() => this.addWholeNow(bytes));
  }

  private async addWholeNow(bytes: Uint8Array): Promise<Photo> {
    const kind = await fileTypeFromBuffer(bytes);
    if (!kind || !(KINDS.has(kind.mime) || HEIC.has(kind.mime)))
      throw new Problem(415, { error: 'this file is not a picture; send JPEG, PNG, WebP, AVIF or HEIC' });
    try {
      const upright = HEIC.has(kind.mime) ? await this.fromHeic(bytes) : sharp(bytes, LIMIT).rotate();
      return await this.keep(upright.jpeg({ quality: 94, chromaSubsampling: '4:4:4' }));
    } catch (error) {
      if (error instanceof Problem || 'code' in (error as object)) throw error;
      throw new Problem(415, { error: 'the picture is damaged or too large to read; take it again' });
    }
  }

  /** Pixels that were computed here. */
  addPixels({ width, height, channels, data }: RawPicture): Promise<Photo> {
    const picture = sharp(data, { ...LIMIT, raw: { width, height, channels } });
    return this.inTurn(() => this.keep(picture.jpeg({ quality: 90 })));
  }

  /** @param full the picture as it is kept; its small one is made of that, so that no picture is decoded twice */
  private async keep(full: Sharp): Promise<Photo> {
    const { data, info } = await full.toBuffer({ resolveWithObject: true });
    const size = { width: THUMB_PX, height: THUMB_PX, fit: 'inside' } as const;
    const thumb = await sharp(data, LIMIT).resize(size).jpeg({ quality: 75 }).toBuffer();
    const hash = hashOf(data);
    const photo = { hash, width: info.width, height: info.height, bytes: data.length };
    // A file that is damaged is written anew when its picture is sent again, and its small one with it.
    const sound = await this.isSound(hash);
    await this.write(this.path(hash, 'full'), data, !sound);
    await this.write(this.path(hash, 'thumb'), thumb, !sound);
    this.db
      .insert(photos)
      .values({ ...photo, createdAt: new Date().toISOString() })
      .onConflictDoNothing()
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

  /** A decoder turns the picture upright itself. */
  private async fromHeic(bytes: Uint8Array): Promise<Sharp> {
    const { width, height, data } = await this.decodeHeic(bytes);
    return sharp(data, { ...LIMIT, raw: { width, height, channels: 4 } });
  }

  /** Removes what a stopped server had begun to write. */
  async sweep(): Promise<void> {
    if (!existsSync(this.folder)) return;
    for (const name of await readdir(this.folder, { recursive: true })) {
      if (name.endsWith('.part')) await rm(join(this.folder, name), { force: true });
    }
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
      return data;
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') throw notFound('the file of the photograph');
      throw error;
    }
  }

  private path(hash: string, size: 'full' | 'thumb'): string {
    return join(this.folder, photoPath(hash, size));
  }

  /** Whole or not at all, and on the disk before the row that names it. */
  private async write(path: string, data: Buffer, anew = false): Promise<void> {
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

const LIMIT = { limitInputPixels: MOST_PIXELS } as const;

const hashOf = (data: Uint8Array): string => createHash('sha256').update(data).digest('hex');
