/** What of OpenCV is used here. The library is loaded by whoever calls, and handed in. */
export interface Mat {
  rows: number;
  cols: number;
  data: Uint8Array;
  data32F: Float32Array;
  data32S: Int32Array;
  delete(): void;
}
interface MatVector {
  size(): number;
  get(i: number): Mat;
  delete(): void;
}
export interface OpenCv {
  Mat: { new (): Mat; new (rows: number, cols: number, type: number): Mat };
  MatVector: new () => MatVector;
  Size: new (width: number, height: number) => object;
  Scalar: new (...values: number[]) => object;
  matFromArray(rows: number, cols: number, type: number, values: ArrayLike<number>): Mat;
  GaussianBlur(from: Mat, to: Mat, size: object, sigma: number): void;
  bilateralFilter(from: Mat, to: Mat, diameter: number, colour: number, space: number): void;
  cvtColor(from: Mat, to: Mat, code: number): void;
  HoughCircles(
    from: Mat,
    to: Mat,
    method: number,
    dp: number,
    minDist: number,
    param1: number,
    param2: number,
    minRadius: number,
    maxRadius: number,
  ): void;
  Canny(from: Mat, to: Mat, low: number, high: number): void;
  morphologyEx(from: Mat, to: Mat, operation: number, kernel: Mat): void;
  bitwise_not(from: Mat, to: Mat): void;
  getStructuringElement(shape: number, size: object): Mat;
  findContours(from: Mat, contours: MatVector, hierarchy: Mat, mode: number, method: number): void;
  contourArea(contour: Mat): number;
  arcLength(contour: Mat, closed: boolean): number;
  approxPolyDP(contour: Mat, to: Mat, epsilon: number, closed: boolean): void;
  warpPerspective(from: Mat, to: Mat, map: Mat, size: object, flags: number, border: number, value: object): void;
  [
    constant: `${'CV' | 'HOUGH' | 'MORPH' | 'RETR' | 'CHAIN' | 'COLOR' | 'INTER' | 'WARP' | 'BORDER'}_${string}`
  ]: number;
}

/** Runs work on matrices and frees them, also when it fails: they lie outside what is collected by itself. */
export function withMats<T>(work: (keep: <M extends { delete(): void }>(mat: M) => M) => T): T {
  const kept: { delete(): void }[] = [];
  try {
    return work((mat) => {
      kept.push(mat);
      return mat;
    });
  } finally {
    for (const mat of kept) mat.delete();
  }
}
