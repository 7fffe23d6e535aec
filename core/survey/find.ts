import type { Point } from '../anatomy/index.ts';
import { solved } from './homography.ts';
import { fittedLine } from './lines.ts';
import { shrunk, type Picture } from './picture.ts';
import { edgesFound, type Body2, type Edges } from './survey.ts';

/** How the body is looked for. Origin: own choice. */
const FINDING = {
  /** Longest side that is looked at, px. */
  side: 480,
  /** Share of the picture that the body must fill at least, and at most. */
  least: 0.04,
  most: 0.98,
  /** Share of the shorter side that counts as border. */
  band: 0.035,
  /** How far a guess may be off before it is sharpened, mm, one deviation: a soft shadow. */
  sharpenMm: 0.8,
  /** Thresholds that are tried, from the grain of the ground to what parts bright from dark. */
  tries: 7,
  /** Share of a side, at either end, that is left to the round corners. */
  corner: 0.16,
  /** How far a tilted side may leave the smallest rectangle, as a share of the body's other side. */
  slack: 0.15,
} as const;

/** A threshold that parts two kinds of pixels best (Otsu 1979, from memory). */
function otsu(values: Float32Array): number {
  const bins = new Float64Array(256);
  let most = 1e-6;
  for (const v of values) most = Math.max(most, v);
  for (const v of values) bins[Math.min(255, Math.floor((v / most) * 255))]! += 1;
  let sum = 0;
  bins.forEach((n, i) => (sum += n * i));
  let [below, belowSum, best, at] = [0, 0, -1, 0];
  for (let i = 0; i < 256; i++) {
    below += bins[i]!;
    if (below === 0 || below === values.length) continue;
    belowSum += bins[i]! * i;
    const gap = belowSum / below - (sum - belowSum) / (values.length - below);
    const between = below * (values.length - below) * gap * gap;
    if (between > best) [best, at] = [between, i];
  }
  return ((at + 0.5) / 255) * most;
}

/** The largest connected run of pixels that are set, with its holes as they are. */
function largest(mask: Uint8Array, width: number, height: number): { pixels: number[]; area: number } {
  const seen = new Uint8Array(mask.length);
  let best: number[] = [];
  for (let i = 0; i < mask.length; i++) {
    if (!mask[i] || seen[i]) continue;
    const stack = [i];
    const found: number[] = [];
    seen[i] = 1;
    while (stack.length > 0) {
      const at = stack.pop()!;
      found.push(at);
      const [x, y] = [at % width, Math.floor(at / width)];
      for (const [nx, ny] of [
        [x + 1, y],
        [x - 1, y],
        [x, y + 1],
        [x, y - 1],
      ] as const) {
        if (nx < 0 || ny < 0 || nx >= width || ny >= height) continue;
        const next = ny * width + nx;
        if (mask[next] && !seen[next]) {
          seen[next] = 1;
          stack.push(next);
        }
      }
    }
    if (found.length > best.length) best = found;
  }
  return { pixels: best, area: best.length };
}

/** The convex hull of points, anticlockwise in a picture whose y runs down (Andrew's chain). */
function hullOf(points: Point[]): Point[] {
  points.sort((a, b) => a[0] - b[0] || a[1] - b[1]);
  const turn = (o: Point, a: Point, b: Point) => (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);
  const half = (list: Point[]) => {
    const out: Point[] = [];
    for (const p of list) {
      while (out.length >= 2 && turn(out.at(-2)!, out.at(-1)!, p) <= 0) out.pop();
      out.push(p);
    }
    out.pop();
    return out;
  };
  return [...half(points), ...half([...points].reverse())];
}

/** The smallest rectangle around a hull, as its four corners one after another. */
function smallestRect(hull: readonly Point[]): [Point, Point, Point, Point] {
  let best: { area: number; corners: [Point, Point, Point, Point] } | null = null;
  hull.forEach((a, i) => {
    const b = hull[(i + 1) % hull.length]!;
    const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
    if (length === 0) return;
    const [ux, uy] = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
    let [u0, u1, v0, v1] = [Infinity, -Infinity, Infinity, -Infinity];
    for (const [x, y] of hull) {
      const [u, v] = [x * ux + y * uy, -x * uy + y * ux];
      [u0, u1, v0, v1] = [Math.min(u0, u), Math.max(u1, u), Math.min(v0, v), Math.max(v1, v)];
    }
    const area = (u1 - u0) * (v1 - v0);
    if (best && best.area <= area) return;
    const at = (u: number, v: number): Point => [u * ux - v * uy, u * uy + v * ux];
    best = { area, corners: [at(u0, v0), at(u1, v0), at(u1, v1), at(u0, v1)] };
  });
  return best!.corners;
}

function eachOfBand(
  width: number,
  height: number,
  band: number,
  work: (i: number, x: number, y: number) => void,
): void {
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      if (x < band || y < band || x >= width - band || y >= height - band) work(y * width + x, x / width, y / height);
}

/**
 * How far each pixel is from the ground, as a colour. The ground is what lies along the border; light falls on it
 * unevenly, so that it is laid through as a surface of the second order, twice, the second time without what is far off.
 */
function distanceFromGround({ width, height, channels, data }: Picture): Float32Array {
  const away = new Float32Array(width * height);
  const band = Math.max(2, Math.round(Math.min(width, height) * FINDING.band));
  const terms = (x: number, y: number) => [1, x, y, x * x, x * y, y * y];
  const colours = channels === 1 ? 1 : 3;
  let kept: ((i: number) => boolean) | null = null;
  for (let round = 0; round < 2; round++) {
    const surfaces = Array.from({ length: colours }, (_, c) => {
      const normal = Array.from({ length: 6 }, () => new Array<number>(6).fill(0));
      const right = new Array<number>(6).fill(0);
      eachOfBand(width, height, band, (i, x, y) => {
        if (kept && !kept(i)) return;
        const t = terms(x, y);
        for (let p = 0; p < 6; p++) {
          right[p]! += t[p]! * data[i * channels + c]!;
          for (let q = 0; q < 6; q++) normal[p]![q]! += t[p]! * t[q]!;
        }
      });
      return solved(normal, right, 1e-12);
    });
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const [i, t] = [y * width + x, terms(x / width, y / height)];
        let sum = 0;
        for (let c = 0; c < colours; c++) {
          const s = surfaces[c]!;
          let ground = 0;
          for (let k = 0; k < 6; k++) ground += s[k]! * t[k]!;
          sum += (data[i * channels + c]! - ground) ** 2;
        }
        away[i] = Math.sqrt(sum);
      }
    const rim: number[] = [];
    eachOfBand(width, height, band, (i) => rim.push(away[i]!));
    rim.sort((p, q) => p - q);
    const far = 3 * rim[rim.length >> 1]!;
    kept = (i) => away[i]! <= far;
  }
  return away;
}

/** Each guessed side moved onto the picture's own edge within some millimetres of it, all four together. */
function sharpened(picture: Picture, edges: Edges, body: Body2): Edges {
  try {
    return edgesFound(edges, body, picture, FINDING.sharpenMm);
  } catch {
    return edges;
  }
}

/** What stands out by so much, and how far it is from a body of that shape; `null` for what cannot be one. */
function standingOut(
  away: Float32Array,
  width: number,
  height: number,
  threshold: number,
  body: Body2,
): { off: number; outline: Point[]; corners: [Point, Point, Point, Point] } | null {
  const raw = Uint8Array.from(away, (v) => (v > threshold ? 1 : 0));
  // Lines of a mat are thin: what is set on all sides only is kept.
  const mask = new Uint8Array(raw.length);
  for (let y = 2; y < height - 2; y++)
    for (let x = 2; x < width - 2; x++) {
      const at = y * width + x;
      mask[at] = raw[at]! & raw[at - 2]! & raw[at + 2]! & raw[at - 2 * width]! & raw[at + 2 * width]!;
    }
  const { pixels, area } = largest(mask, width, height);
  if (area < FINDING.least * mask.length) return null;
  const outline: Point[] = [];
  for (const at of pixels) {
    const [x, y] = [at % width, Math.floor(at / width)];
    if (mask[at - 1] && mask[at + 1] && mask[at - width] && mask[at + width]) continue;
    // What was taken off all round is put back.
    const [dx, dy] = [
      Number(!mask[at + 1]) - Number(!mask[at - 1]),
      Number(!mask[at + width]) - Number(!mask[at - width]),
    ];
    outline.push([x + 0.5 + 2.5 * dx, y + 0.5 + 2.5 * dy]);
  }
  if (outline.length < 8) return null;
  const hull = hullOf([...outline]);
  if (hull.length < 4) return null;
  const corners = smallestRect(hull);
  const [a, b] = [0, 1].map((i) =>
    Math.hypot(corners[i + 1]![0] - corners[i]![0], corners[i + 1]![1] - corners[i]![1]),
  ) as [number, number];
  if (a * b < FINDING.least * mask.length || a * b > FINDING.most * mask.length) return null;
  const shape = Math.abs(
    Math.log(Math.max(a, b) / Math.min(a, b) / (Math.max(body.width, body.height) / Math.min(body.width, body.height))),
  );
  // A body fills its rectangle, but for its corners and what in it looks like the ground.
  return { off: shape + 0.25 * Math.max(0, 0.95 - area / (a * b)), outline, corners };
}

/** A side of the rectangle, laid through what of the outline lies beside it: a tilted body is no rectangle. */
function fittedSide(outline: readonly Point[], a: Point, b: Point, slack: number): readonly [Point, Point] {
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
  const [ux, uy] = [(b[0] - a[0]) / length, (b[1] - a[1]) / length];
  // The outermost of the outline, in every stretch of the side: what lies within is a part's own edge.
  const outermost = new Map<number, { along: number; across: number; weight: number }>();
  for (const [x, y] of outline) {
    const along = (x - a[0]) * ux + (y - a[1]) * uy;
    const across = (x - a[0]) * uy - (y - a[1]) * ux;
    if (along < 0 || along > length || Math.abs(across) > slack) continue;
    const stretch = Math.floor(along / 2);
    const known = outermost.get(stretch);
    if (!known || across > known.across) outermost.set(stretch, { along, across, weight: 1 });
  }
  const fit = fittedLine({ a, b }, [...outermost.values()], 0.5);
  return fit ? [fit.line.a, fit.line.b] : [a, b];
}

/**
 * A first guess of where the body's edges lie in a photograph: what differs from the border of the picture. A guess for
 * a hand to correct, and `null` where nothing that fills a fair share of the picture stands out.
 * @param body upright in the picture or lying; its longer side is taken for the longer one found
 */
export function guessedEdges(picture: Picture, body: Body2): Edges | null {
  const factor = Math.max(1, Math.ceil(Math.max(picture.width, picture.height) / FINDING.side));
  const small = shrunk(picture, factor);
  const { width, height } = small;
  const away = distanceFromGround(small);
  const rim: number[] = [];
  const band = Math.max(2, Math.round(Math.min(width, height) * FINDING.band));
  eachOfBand(width, height, band, (i) => rim.push(away[i]!));
  rim.sort((p, q) => p - q);
  // The ground's own grain is below the first threshold; what is bright in the body must not stand for all of it.
  const low = Math.max(7, 1.5 * rim[Math.floor(rim.length * 0.85)]!);
  const high = Math.max(low * 1.5, otsu(away));
  let best: { off: number; outline: Point[]; corners: [Point, Point, Point, Point] } | null = null;
  for (let i = 0; i <= FINDING.tries; i++) {
    const found = standingOut(away, width, height, low * (high / low) ** (i / FINDING.tries), body);
    // Of those that are alike the largest: within the rim of a body there is often another edge.
    if (found && (!best || found.off < best.off - 0.04)) best = found;
  }
  if (!best) return null;
  let { corners } = best;
  const { outline } = best;
  // The picture's own order: the side whose middle lies highest is the top, unless the body lies on its side.
  const across = (i: number) =>
    Math.hypot(corners[(i + 1) % 4]![0] - corners[i]![0], corners[(i + 1) % 4]![1] - corners[i]![1]);
  const centre: Point = [(corners[0][0] + corners[2][0]) / 2, (corners[0][1] + corners[2][1]) / 2];
  const clockwise =
    (corners[1][0] - corners[0][0]) * (corners[2][1] - corners[1][1]) -
    (corners[1][1] - corners[0][1]) * (corners[2][0] - corners[1][0]);
  if (clockwise < 0) corners = [corners[0], corners[3], corners[2], corners[1]];
  let top = 0;
  for (let i = 1; i < 4; i++) {
    const lift = (k: number) => (corners[k]![1] + corners[(k + 1) % 4]![1]) / 2 - centre[1];
    if (lift(i) < lift(top)) top = i;
  }
  const upright = body.height >= body.width === across((top + 1) % 4) >= across(top);
  if (!upright) top = (top + 3) % 4;
  const order = [0, 1, 2, 3].map((i) => corners[(top + i) % 4]!);
  const side = (i: number): readonly [Point, Point] => {
    const [a, b] = [order[i]!, order[(i + 1) % 4]!];
    const depth = Math.hypot(order[(i + 2) % 4]![0] - b[0], order[(i + 2) % 4]![1] - b[1]);
    const at = (t: number): Point => [a[0] + (b[0] - a[0]) * t, a[1] + (b[1] - a[1]) * t];
    const laid = fittedSide(outline, at(FINDING.corner), at(1 - FINDING.corner), depth * FINDING.slack);
    return laid.map(([x, y]): Point => [x * factor, y * factor]) as [Point, Point];
  };
  const turned = ([a, b]: readonly [Point, Point]) => [b, a] as const;
  // Each runs from left to right or from top to bottom, as it is read.
  return sharpened(picture, [side(0), side(1), turned(side(2)), turned(side(3))], body);
}
