import { fileTypeFromBuffer } from 'file-type';
import sharp, { type Sharp } from 'sharp';
import { PictureFault } from './fault.ts';

/** Origin: own choice; enough to read a screw head on a whole phone, small enough for years of jobs. */
const LONGEST_EDGE_PX = 2400;
const THUMB_PX = 320;
const KINDS = new Set(['image/jpeg', 'image/png', 'image/webp', 'image/avif', 'image/gif']);
/** Pictures of phones that only a decoder of their own reads. */
const HEIC = new Set(['image/heic', 'image/heic-sequence', 'image/heif', 'image/heif-sequence']);
/** Most pixels of a picture that is decoded. Origin: own choice; twice what the largest phone takes. */
export const LIMIT = { limitInputPixels: 100_000_000 } as const;

/** Pixels row by row, so many bytes each. */
export interface RawPicture {
  width: number;
  height: number;
  channels: 1 | 3 | 4;
  data: Uint8Array;
}

/** A picture as it is kept, JPEG, with its small one. Sizes in px. */
export interface Encoded {
  width: number;
  height: number;
  full: Uint8Array;
  thumb: Uint8Array;
}

/**
 * A picture upright and without anything that its camera noted.
 * @param whole at its full size, for what is measured and straightened
 * @throws PictureFault when the bytes are no picture, whatever the sender called them
 */
export async function upright(bytes: Uint8Array, whole: boolean): Promise<Encoded> {
  const kind = await fileTypeFromBuffer(bytes);
  if (!kind || !(KINDS.has(kind.mime) || HEIC.has(kind.mime)))
    throw new PictureFault(
      `this file is not a picture (${kind ? kind.mime : 'unknown content'}); send JPEG, PNG, WebP, AVIF or HEIC`,
    );
  try {
    const picture = HEIC.has(kind.mime) ? await fromHeic(bytes) : sharp(bytes, LIMIT).rotate();
    const fit = { width: LONGEST_EDGE_PX, height: LONGEST_EDGE_PX, fit: 'inside', withoutEnlargement: true } as const;
    return await encoded(
      whole ? picture.jpeg({ quality: 94, chromaSubsampling: '4:4:4' }) : picture.resize(fit).jpeg({ quality: 85 }),
    );
  } catch {
    throw new PictureFault('the picture is damaged or too large to read; take it again');
  }
}

/** Pixels that were computed here. */
export const ofPixels = ({ width, height, channels, data }: RawPicture): Promise<Encoded> =>
  encoded(sharp(data, { ...LIMIT, raw: { width, height, channels } }).jpeg({ quality: 90 }));

/** @param jpeg the picture as it is kept; its small one is made of that, so that no picture is decoded twice */
async function encoded(jpeg: Sharp): Promise<Encoded> {
  const { data, info } = await jpeg.toBuffer({ resolveWithObject: true });
  return { width: info.width, height: info.height, full: data, thumb: await smallOf(data) };
}

/** The small one of a picture that is kept. */
export const smallOf = (full: Uint8Array): Promise<Uint8Array> =>
  sharp(full, LIMIT).resize({ width: THUMB_PX, height: THUMB_PX, fit: 'inside' }).jpeg({ quality: 75 }).toBuffer();

/** What a file says of itself; nothing of it is decoded. Sizes in px, 0 where it is no picture. */
export async function headerOf(bytes: Uint8Array): Promise<{ width: number; height: number; format: string }> {
  const { width, height, format } = await sharp(bytes, LIMIT)
    .metadata()
    .catch(() => ({ width: 0, height: 0, format: 'none' }));
  return { width, height, format };
}

/** The first picture of the file; its decoder turns it upright itself. */
async function fromHeic(bytes: Uint8Array): Promise<Sharp> {
  const { default: heic } = await import('heic-decode');
  const pictures = await heic.all({ buffer: bytes });
  try {
    const first = pictures[0]!;
    if (first.width * first.height > LIMIT.limitInputPixels) throw new Error('too many pixels');
    const { width, height, data } = await first.decode();
    return sharp(data, { ...LIMIT, raw: { width, height, channels: 4 } });
  } finally {
    pictures.dispose();
  }
}
