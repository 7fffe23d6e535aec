import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import sharp, { type OutputInfo } from 'sharp';
import { PictureFault } from './fault.ts';
import { LIMIT } from './encode.ts';
import { prepareZXingModule, readBarcodes } from 'zxing-wasm/reader';

/** Longest edge that a picture is read at, px. Origin: measured; the bars of a label stay apart, and it takes half a second. */
const LONGEST_EDGE_PX = 2000;

let ready = false;

/** The reader is told where its own file is, so that it fetches nothing. */
function prepare(): void {
  if (ready) return;
  const file = createRequire(import.meta.url).resolve('zxing-wasm/reader/zxing_reader.wasm');
  const bytes = readFileSync(file);
  prepareZXingModule({
    overrides: { wasmBinary: bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length) },
  });
  ready = true;
}

/**
 * Texts of the barcodes and QR codes in a picture, as they lie.
 * @throws PictureFault where the bytes are no picture
 */
export async function codesIn(bytes: Uint8Array): Promise<{ text: string; format: string }[]> {
  prepare();
  let picture: { data: Buffer; info: OutputInfo };
  try {
    picture = await sharp(bytes, LIMIT)
      .rotate()
      .resize({ width: LONGEST_EDGE_PX, height: LONGEST_EDGE_PX, fit: 'inside', withoutEnlargement: true })
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
  } catch {
    throw new PictureFault('this is no picture that can be read; take it again, or type the number');
  }
  const { width, height } = picture.info;
  const image = {
    data: new Uint8ClampedArray(picture.data),
    width,
    height,
    colorSpace: 'srgb',
  } as unknown as ImageData;
  const found = await readBarcodes(image, { tryHarder: true, maxNumberOfSymbols: 12 });
  return found.filter((code) => code.isValid).map(({ text, format }) => ({ text, format }));
}
