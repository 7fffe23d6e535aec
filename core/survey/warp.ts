import { withMats, type OpenCv } from './opencv.ts';
import type { Warp } from './straighten.ts';

/** The warp of OpenCV; outside the photograph it is mid-grey, as everywhere. */
export const warpWith =
  (cv: OpenCv): Warp =>
  (picture, fromPlate, width, height) =>
    withMats((keep) => {
      const type = { 1: cv.CV_8UC1!, 3: cv.CV_8UC3!, 4: cv.CV_8UC4! }[picture.channels];
      const from = keep(new cv.Mat(picture.height, picture.width, type));
      from.data.set(picture.data);
      // Its pixels have their middle at whole numbers, ours at halves.
      const half = [1, 0, 0.5, 0, 1, 0.5, 0, 0, 1];
      const back = [1, 0, -0.5, 0, 1, -0.5, 0, 0, 1];
      const times = (a: readonly number[], b: readonly number[]) =>
        Array.from({ length: 9 }, (_, i) => {
          const [r, c] = [Math.floor(i / 3) * 3, i % 3];
          return a[r]! * b[c]! + a[r + 1]! * b[c + 3]! + a[r + 2]! * b[c + 6]!;
        });
      const map = keep(cv.matFromArray(3, 3, cv.CV_64FC1!, times(times(back, fromPlate), half)));
      const to = keep(new cv.Mat());
      cv.warpPerspective(
        from,
        to,
        map,
        new cv.Size(width, height),
        cv.INTER_LINEAR! | cv.WARP_INVERSE_MAP!,
        cv.BORDER_CONSTANT!,
        new cv.Scalar(128, 128, 128, 255),
      );
      return { width, height, channels: picture.channels, data: Uint8Array.from(to.data) };
    });
