import type { Point } from '../anatomy/index.ts';
import { inverse, mapped, product, type Homography } from './homography.ts';

/** Where the camera stood over the measured plane, mm. */
export interface Camera {
  /** The point of the plane straight below it. */
  foot: Point;
  height: number;
}

/**
 * How far a thing that lies `depth` below the measured plane seems moved towards the foot of the camera, mm:
 * offset × depth ÷ height, by similar triangles; `offset` is how far from the foot it seems to lie on the plane.
 */
export const parallax = (offset: number, depth: number, height: number): number => (offset * depth) / height;

/**
 * The place of a thing below the measured plane.
 * @param seen where it seems to lie on that plane, mm
 * @param depth mm below the plane; negative above it
 */
export function below(seen: Point, depth: number, { foot, height }: Camera): Point {
  const grown = (height + depth) / height;
  return [foot[0] + (seen[0] - foot[0]) * grown, foot[1] + (seen[1] - foot[1]) * grown];
}

/** The other way: where a thing below the plane seems to lie on it. */
export function seenFrom(place: Point, depth: number, { foot, height }: Camera): Point {
  const grown = height / (height + depth);
  return [foot[0] + (place[0] - foot[0]) * grown, foot[1] + (place[1] - foot[1]) * grown];
}

/** From mm at a depth to px: the map of the plane, with its parallax. */
export function atDepth(toPicture: Homography, depth: number, camera: Camera): Homography {
  const k = camera.height / (camera.height + depth);
  const [x, y] = camera.foot;
  return product(toPicture, [k, 0, x * (1 - k), 0, k, y * (1 - k), 0, 0, 1]);
}

type Vector = [number, number, number];
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];
const dot = (a: Vector, b: Vector) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];

/** The camera for a focal length in px, with the middle of the picture as its principal point. */
function cameraWith(toPicture: Homography, centre: Point, focal: number): Camera {
  const column = (j: number): Vector => [
    (toPicture[j]! - centre[0] * toPicture[6 + j]!) / focal,
    (toPicture[3 + j]! - centre[1] * toPicture[6 + j]!) / focal,
    toPicture[6 + j]!,
  ];
  const [a, b, c] = [column(0), column(1), column(2)];
  const scale = 2 / (Math.hypot(...a) + Math.hypot(...b));
  const [r1, r2, t] = [a, b, c].map((v) => v.map((x) => x * scale) as Vector) as [Vector, Vector, Vector];
  const r3 = cross(r1, r2);
  const foot: Point = [-dot(r1, t), -dot(r2, t)];
  return { foot, height: Math.abs(dot(r3, t)) };
}

/**
 * Where the camera stood, from the map of the plane and how high it was held. One picture of a plane that is hardly
 * tilted does not tell its focal length; the height does (Hartley & Zisserman, ch. 8, from memory). The middle of the
 * picture is taken for the principal point: a picture that was cropped to one side tells a foot that is off.
 * @param size of the photograph, px
 * @param height mm over the measured plane
 */
export function cameraOver(toPicture: Homography, size: { width: number; height: number }, height: number): Camera {
  const centre: Point = [size.width / 2, size.height / 2];
  const [x, y] = mapped(inverse(toPicture), centre);
  const near = mapped(toPicture, [x + 1, y]);
  const across = mapped(toPicture, [x, y + 1]);
  const scale = Math.sqrt(
    Math.hypot(near[0] - centre[0], near[1] - centre[1]) * Math.hypot(across[0] - centre[0], across[1] - centre[1]),
  );
  // The height grows with the focal length.
  let [low, high] = [scale * height * 0.4, scale * height * 2.5];
  for (let i = 0; i < 60; i++) {
    const middle = Math.sqrt(low * high);
    if (cameraWith(toPicture, centre, middle).height < height) low = middle;
    else high = middle;
  }
  return { foot: cameraWith(toPicture, centre, Math.sqrt(low * high)).foot, height };
}
