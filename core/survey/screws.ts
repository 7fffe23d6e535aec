import type { Point } from '../anatomy/index.ts';
import { withMats, type OpenCv } from './opencv.ts';
import { greyOf } from './picture.ts';
import type { Plate } from './straighten.ts';

/** Something round that was found on a plate; never taken by itself. */
export interface ProposedScrew {
  /** mm of the body, seen from the front. */
  at: Point;
  diameter: number;
  /** 0 to 1: how much it looks like a screw head, or like a hole. */
  score: number;
}

/**
 * Settings of the finder; every one is of the trade or of optics, none of one picture. `least`: what is proposed at all.
 */
export const SCREW_FINDING = {
  /** Head diameters, mm: from the smallest of a camera to the largest case screw. Origin: common practice. */
  smallest: 1.3,
  largest: 4.6,
  /** Nearest centres of two screws, mm. */
  apart: 1.2,
  /** Directions in which a rim is looked for. */
  spokes: 48,
  least: 0.5,
} as const;

interface Grey {
  width: number;
  height: number;
  data: Float32Array;
}

const sampler =
  ({ width, height, data }: Grey) =>
  (x: number, y: number) => {
    const fx = Math.min(width - 1.001, Math.max(0, x - 0.5));
    const fy = Math.min(height - 1.001, Math.max(0, y - 0.5));
    const [ix, iy] = [fx | 0, fy | 0];
    const [u, v] = [fx - ix, fy - iy];
    const at = iy * width + ix;
    return (
      (data[at]! * (1 - u) + data[at + 1]! * u) * (1 - v) +
      (data[at + width]! * (1 - u) + data[at + width + 1]! * u) * v
    );
  };

interface Circle {
  x: number;
  y: number;
  r: number;
}

/** Circles that the gradient votes for, in three ranges of size, so that a large one does not hide a small one. */
function candidates(cv: OpenCv, grey: Grey, pxPerMm: number): Circle[] {
  return withMats((keep) => {
    const plain = keep(cv.matFromArray(grey.height, grey.width, cv.CV_8UC1!, Uint8Array.from(grey.data)));
    const soft = keep(new cv.Mat());
    cv.GaussianBlur(plain, soft, new cv.Size(0, 0), Math.max(0.8, 0.06 * pxPerMm));
    const found: Circle[] = [];
    const { smallest, largest } = SCREW_FINDING;
    const ranges = [
      [smallest * 0.9, 2.1],
      [1.8, 3.2],
      [2.8, largest * 1.05],
    ] as const;
    for (const [low, high] of ranges)
      for (const edge of [45, 110]) {
        const circles = keep(new cv.Mat());
        const [from, to] = [(low / 2) * pxPerMm, (high / 2) * pxPerMm];
        const votes = Math.max(9, from * 0.85);
        cv.HoughCircles(
          soft,
          circles,
          cv.HOUGH_GRADIENT!,
          1.2,
          Math.max(3, 0.5 * pxPerMm),
          edge,
          votes,
          Math.floor(from),
          Math.ceil(to),
        );
        for (let i = 0; i < circles.cols; i++)
          found.push({
            x: circles.data32F[3 * i]! + 0.5,
            y: circles.data32F[3 * i + 1]! + 0.5,
            r: circles.data32F[3 * i + 2]!,
          });
      }
    return found;
  });
}

/** What is seen of a circle. */
export interface Look extends Circle {
  /** Share of the directions in which there is an edge on the rim. */
  coverage: number;
  /** How far those edges are off the circle, as a share of its radius. */
  ragged: number;
  /** Steps of lightness on the rim over those beside it. */
  contrast: number;
  /** Lightness of the middle, of the head around it and of what lies around the head. */
  core: number;
  head: number;
  around: number;
  /** How much the head changes along a ring between recess and rim: little on a turned face. */
  mottled: number;
  /** How much darker the middle is than the face around it: a recess, or a hole. */
  recess: number;
  /** Where that darkness ends, as a share of the radius, and how much that differs from spoke to spoke. */
  pit: number;
  lobed: number;
}

/** Steps of lightness across a rim beyond which a stronger one is no surer: the rim counts by how far it goes round. */
const SURE_STEP = 22;

/** Sines and cosines of the spokes. */
const SPOKES = Array.from({ length: SCREW_FINDING.spokes }, (_, s) => {
  const angle = (2 * Math.PI * s) / SCREW_FINDING.spokes;
  return [Math.cos(angle), Math.sin(angle)] as const;
});

/** How much of a circle is a rim, 0 to 1: steps across it along every spoke, the strong ones cut off. */
function rimOf(at: (x: number, y: number) => number, { x, y, r }: Circle, half: number, every: number): number {
  let sum = 0;
  for (let s = 0; s < SPOKES.length; s += every) {
    const [c, d] = SPOKES[s]!;
    const slope = Math.abs(at(x + c * (r + half), y + d * (r + half)) - at(x + c * (r - half), y + d * (r - half)));
    sum += Math.min(1, slope / SURE_STEP);
  }
  return (sum * every) / SPOKES.length;
}

/** Below this share of a rim nothing comes of looking closer. Origin: own measurement; screws have 0.6 and more. */
const HOPELESS = 0.45;

/** The circle near a first one that is most of a rim: an integro-differential search (Daugman 1993, from memory). */
function settled(at: (x: number, y: number) => number, first: Circle, half: number): Circle | null {
  let best = { ...first, rim: rimOf(at, first, half, 2) };
  let [reach, grow] = [0.24 * first.r, 0.36 * first.r];
  for (const [steps, every] of [
    [2, 3],
    [2, 2],
    [1, 1],
  ] as const) {
    const centre = best;
    for (let i = -steps; i <= steps; i++)
      for (let j = -steps; j <= steps; j++)
        for (let k = -steps - 1; k <= steps + 1; k++) {
          const r = centre.r + (grow * k) / (steps + 1);
          const circle = { x: centre.x + (reach * i) / steps, y: centre.y + (reach * j) / steps, r };
          const rim = rimOf(at, circle, half, every);
          if (rim > best.rim + 1e-6) best = { ...circle, rim };
        }
    if (best.rim < HOPELESS) return null;
    reach /= 2 * steps;
    grow /= 2 * steps;
  }
  return best;
}

/** Looks at a circle: its rim is settled, then found along every spoke; its inside is measured. */
function lookAt(at: (x: number, y: number) => number, first: Circle, pxPerMm: number): Look | null {
  const { spokes } = SCREW_FINDING;
  const half = Math.max(0.9, 0.07 * pxPerMm);
  const found = settled(at, first, half);
  if (!found) return null;
  let { x, y, r } = found;
  const rim = SPOKES.map(([c, d]) => {
    let best = { edge: 0, at: r };
    for (let q = 0.85 * r; q <= 1.15 * r; q += 0.5) {
      const slope = Math.abs(at(x + c * (q + half), y + d * (q + half)) - at(x + c * (q - half), y + d * (q - half)));
      if (slope > best.edge) best = { edge: slope, at: q };
    }
    return { px: x + c * best.at, py: y + d * best.at, edge: best.edge };
  });
  let kept = rim.filter((p) => p.edge > 5);
  for (let pass = 0; pass < 2; pass++) {
    const circle = fittedCircle(kept);
    if (!circle) return null;
    ({ x, y, r } = circle);
    kept = kept.filter((p) => Math.abs(Math.hypot(p.px - x, p.py - y) - r) < Math.max(1, 0.09 * r));
    if (kept.length < spokes * 0.4) return null;
  }
  const edges = rim.map((p) => ({ off: Math.abs(Math.hypot(p.px - x, p.py - y) - r), edge: p.edge }));
  const near = edges.filter((e) => e.off < Math.max(1, 0.08 * r) && e.edge > 6);
  const ragged = near.length > 0 ? near.reduce((s, e) => s + e.off, 0) / near.length / r : 1;
  const ring = (share: number) => SPOKES.map(([c, d]) => at(x + c * r * share, y + d * r * share));
  const mean = (list: number[]) => list.reduce((s, v) => s + v, 0) / list.length;
  const spread = (list: number[]) => {
    const m = mean(list);
    return Math.sqrt(list.reduce((s, v) => s + (v - m) ** 2, 0) / list.length);
  };
  const [face, outside] = [ring(0.8), ring(1.3)];
  const inside = [0, 0.12, 0.24, 0.36, 0.48].flatMap((q) => (q === 0 ? [at(x, y)] : ring(q)));
  const sorted = [...inside].sort((a, b) => a - b);
  const quantile = (q: number) => sorted[Math.floor(q * (sorted.length - 1))]!;
  const level = (mean(face) + quantile(0.1)) / 2;
  const ends = SPOKES.map(([c, d]) => {
    let q = 0;
    while (q < 1 && at(x + c * q * r, y + d * q * r) < level) q += 0.03;
    return q;
  });
  return {
    pit: mean(ends),
    lobed: spread(ends),
    x,
    y,
    r,
    coverage: near.length / spokes,
    ragged,
    contrast: near.length > 0 ? mean(near.map((e) => e.edge)) : 0,
    core: quantile(0.5),
    head: mean(face),
    around: mean(outside),
    mottled: spread(face),
    // Mostly dark; in a low light it may be what shines.
    recess: Math.max(mean(face) - quantile(0.15), 0.8 * (quantile(0.9) - mean(face))),
  };
}

/** Least squares circle through points (Kåsa 1976, from memory), weighted by nothing. */
function fittedCircle(points: readonly { px: number; py: number }[]): Circle | null {
  const n = points.length;
  if (n < 8) return null;
  const mx = points.reduce((s, p) => s + p.px, 0) / n;
  const my = points.reduce((s, p) => s + p.py, 0) / n;
  let [uu, uv, vv, uz, vz] = [0, 0, 0, 0, 0];
  for (const { px, py } of points) {
    const [u, v] = [px - mx, py - my];
    const z = u * u + v * v;
    uu += u * u;
    uv += u * v;
    vv += v * v;
    uz += u * z;
    vz += v * z;
  }
  const det = uu * vv - uv * uv;
  if (!(det > 1e-9)) return null;
  const a = (uz * vv - vz * uv) / (2 * det);
  const b = (vz * uu - uz * uv) / (2 * det);
  return { x: mx + a, y: my + b, r: Math.sqrt(a * a + b * b + (uu + vv) / n) };
}

const logistic = (z: number): number => 1 / (1 + Math.exp(-z));

/** How much a look is like a screw head. */
export function headScore(look: Look): number {
  const { coverage, ragged, contrast, mottled, recess, head, pit } = look;
  const round = logistic((coverage - 0.72) * 14) * logistic((0.045 - ragged) * 80);
  const rim = logistic((contrast - 10) * 0.3);
  // A recess is dark against the face around it, whatever the light, and ends well within the rim; a hole does not.
  const driven =
    logistic((recess / Math.max(45, head) - 0.18) * 18) * logistic((0.6 - pit) * 30) * logistic((pit - 0.1) * 30);
  const turned = logistic((0.42 - mottled / Math.max(20, head)) * 12);
  return round * rim * driven * turned;
}

/** How much it is like an empty hole: dark to its middle, with an edge all round. */
export function holeScore(look: Look): number {
  const { coverage, ragged, contrast, core, around } = look;
  return (
    logistic((coverage - 0.72) * 14) *
    logistic((0.06 - ragged) * 60) *
    logistic((contrast - 14) * 0.3) *
    logistic((around - core - 25) * 0.12) *
    logistic((42 - core) * 0.2)
  );
}

/** Every look at what is round on a plate, before it is judged. */
export function roundThings(cv: OpenCv, plate: Plate): Look[] {
  const grey = greyOf(plate);
  const at = sampler(grey);
  const looks: Look[] = [];
  const seen: Circle[] = [];
  for (const circle of candidates(cv, grey, plate.pxPerMm)) {
    const near = 0.12 * circle.r;
    if (seen.some((s) => Math.hypot(s.x - circle.x, s.y - circle.y) < near && Math.abs(s.r - circle.r) < near))
      continue;
    seen.push(circle);
    const look = lookAt(at, circle, plate.pxPerMm);
    if (!look) continue;
    const diameter = (2 * look.r) / plate.pxPerMm;
    if (diameter < SCREW_FINDING.smallest * 0.85 || diameter > SCREW_FINDING.largest * 1.1) continue;
    looks.push(look);
  }
  return looks;
}

/** The best of each group that lies nearer together than two screws can. */
function best(found: (ProposedScrew & { look: Look })[]): ProposedScrew[] {
  found.sort((a, b) => b.score - a.score);
  const kept: ProposedScrew[] = [];
  for (const { look: _, ...one } of found) {
    const clash = kept.some(
      (k) =>
        Math.hypot(k.at[0] - one.at[0], k.at[1] - one.at[1]) <
        Math.max(SCREW_FINDING.apart, (k.diameter + one.diameter) * 0.4),
    );
    if (!clash) kept.push(one);
  }
  return kept;
}

/** Screw heads and empty holes on a plate, the surest first. */
export function proposedScrews(cv: OpenCv, plate: Plate): { screws: ProposedScrew[]; holes: ProposedScrew[] } {
  const looks = roundThings(cv, plate);
  const as = (score: (look: Look) => number) =>
    best(
      looks
        .map((look) => ({
          look,
          score: score(look),
          diameter: (2 * look.r) / plate.pxPerMm,
          at: [look.x / plate.pxPerMm, look.y / plate.pxPerMm] as Point,
        }))
        .filter((p) => p.score >= SCREW_FINDING.least),
    );
  const screws = as(headScore);
  const holes = as(holeScore).filter(
    (h) => !screws.some((s) => Math.hypot(s.at[0] - h.at[0], s.at[1] - h.at[1]) < SCREW_FINDING.apart),
  );
  return { screws, holes };
}
