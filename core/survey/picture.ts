/** Pixels row by row, `channels` bytes each (1 grey, 3 RGB, 4 RGBA). The middle of the first pixel lies at (0.5, 0.5). */
export interface Picture {
  width: number;
  height: number;
  channels: 1 | 3 | 4;
  data: Uint8Array | Uint8ClampedArray;
}

/** @throws Error when the pixels are not as many as the size says */
export function checkedPicture(picture: Picture): Picture {
  const { width, height, channels, data } = picture;
  if (!Number.isInteger(width) || !Number.isInteger(height) || width < 1 || height < 1)
    throw new Error(`a picture of ${width} × ${height} px is none`);
  if (data.length !== width * height * channels)
    throw new Error(`the picture has ${data.length} bytes; ${width} × ${height} × ${channels} were expected`);
  return picture;
}

/** Lightness of a picture, 0 to 255, by the weights of Rec. 601 (ITU-R BT.601). */
export function greyOf(picture: Picture): { width: number; height: number; data: Float32Array } {
  const { width, height, channels, data } = checkedPicture(picture);
  const out = new Float32Array(width * height);
  if (channels === 1) out.set(data);
  else
    for (let i = 0, at = 0; i < out.length; i++, at += channels)
      out[i] = 0.299 * data[at]! + 0.587 * data[at + 1]! + 0.114 * data[at + 2]!;
  return { width, height, data: out };
}

/** A picture made smaller by a whole factor, each pixel the mean of those it stands for. */
export function shrunk(picture: Picture, factor: number): Picture {
  if (factor <= 1) return picture;
  const { channels } = picture;
  const [width, height] = [Math.floor(picture.width / factor), Math.floor(picture.height / factor)];
  const data = new Uint8Array(width * height * channels);
  const count = factor * factor;
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      for (let c = 0; c < channels; c++) {
        let sum = 0;
        for (let dy = 0; dy < factor; dy++) {
          let at = ((y * factor + dy) * picture.width + x * factor) * channels + c;
          for (let dx = 0; dx < factor; dx++, at += channels) sum += picture.data[at]!;
        }
        data[(y * width + x) * channels + c] = sum / count;
      }
  return { width, height, channels, data };
}
