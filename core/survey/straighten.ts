import type { Homography } from './homography.ts';
import { checkedPicture, type Picture } from './picture.ts';
import { SURVEY, type Body2 } from './survey.ts';

/** A photograph in millimetres: exactly the body, seen from the front, so many px a millimetre. */
export interface Plate extends Picture {
  pxPerMm: number;
}

/** Warps a picture: the work of OpenCV's `warpPerspective` where that is at hand. */
export type Warp = (picture: Picture, fromPlate: Homography, width: number, height: number) => Picture;

/**
 * Straightens a photograph to the body.
 * @param toPicture from mm at the depth of the plate to px; see `atDepth`
 * @param warp how pixels are moved; without one, by bilinear sampling here
 */
export function straightened(
  picture: Picture,
  toPicture: Homography,
  body: Body2,
  { pxPerMm = SURVEY.pxPerMm, warp = bilinear }: { pxPerMm?: number; warp?: Warp } = {},
): Plate {
  checkedPicture(picture);
  if (!(pxPerMm > 0) || !(pxPerMm <= 100)) throw new Error(`${pxPerMm} px a millimetre; 1 to 100 can be made`);
  const [width, height] = [Math.round(body.width * pxPerMm), Math.round(body.height * pxPerMm)];
  const k = 1 / pxPerMm;
  const fromPlate = toPicture.map((v, i) => (i % 3 === 2 ? v : v * k)) as unknown as Homography;
  return { ...warp(picture, fromPlate, width, height), pxPerMm };
}

/** Bilinear sampling, row by row; outside the photograph it is mid-grey. The columns of a map are walked by addition. */
export function bilinear(picture: Picture, fromPlate: Homography, width: number, height: number): Picture {
  const { channels, data, width: w, height: h } = picture;
  const out = new Uint8Array(width * height * channels);
  const [dx, dy, dw] = [fromPlate[0], fromPlate[3], fromPlate[6]];
  for (let y = 0; y < height; y++) {
    let x3 = fromPlate[0] * 0.5 + fromPlate[1] * (y + 0.5) + fromPlate[2];
    let y3 = fromPlate[3] * 0.5 + fromPlate[4] * (y + 0.5) + fromPlate[5];
    let w3 = fromPlate[6] * 0.5 + fromPlate[7] * (y + 0.5) + fromPlate[8];
    let to = y * width * channels;
    for (let x = 0; x < width; x++, to += channels, x3 += dx, y3 += dy, w3 += dw) {
      const fx = x3 / w3 - 0.5;
      const fy = y3 / w3 - 0.5;
      if (fx < -0.5 || fy < -0.5 || fx > w - 0.5 || fy > h - 0.5) {
        for (let c = 0; c < channels; c++) out[to + c] = 128;
        continue;
      }
      const ix = fx < 0 ? 0 : fx > w - 2 ? Math.max(0, w - 2) : fx | 0;
      const iy = fy < 0 ? 0 : fy > h - 2 ? Math.max(0, h - 2) : fy | 0;
      const u = Math.min(1, Math.max(0, fx - ix)) * 256;
      const v = Math.min(1, Math.max(0, fy - iy)) * 256;
      const at = (iy * w + ix) * channels;
      const right = w > 1 ? channels : 0;
      const below = h > 1 ? w * channels : 0;
      for (let c = 0; c < channels; c++) {
        const top = data[at + c]! * (256 - u) + data[at + right + c]! * u;
        const bottom = data[at + below + c]! * (256 - u) + data[at + below + right + c]! * u;
        out[to + c] = (top * (256 - v) + bottom * v + 32768) / 65536;
      }
    }
  }
  return { width, height, channels, data: out };
}
