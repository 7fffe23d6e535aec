import { boundsOf, ringOf, type Outline, type Point, type Rect } from '../anatomy/index.ts';
import { withMats, type Mat, type OpenCv } from './opencv.ts';
import { greyOf } from './picture.ts';
import type { Plate } from './straighten.ts';

/** A closed outline that was found on a plate; never taken by itself. */
export interface ProposedOutline {
  /** mm of the body, seen from the front. */
  outline: Outline;
  /** 0 to 1: how much of it lies on an edge of the picture, and how plain its shape is. */
  score: number;
}

/** Settings of the finder. Origin: own choice, from the sizes of parts; `least`: what is proposed at all. */
export const OUTLINE_FINDING = {
  pxPerMm: 10,
  /** mm² */
  smallest: 12,
  /** Share of the body. */
  largest: 0.85,
  /** Gaps in an edge that are closed, mm: a little for small parts, more for large ones whose edge is lost in gloss. */
  gaps: [0.5, 1.2],
  /** Slopes of lightness that are an edge, weak and strong (Canny's two thresholds), for dull and for bright pictures. */
  edges: [
    [14, 36],
    [36, 90],
  ],
  /** How far a corner may lie off what was found, mm. */
  simplify: 0.35,
  /** Share of its upright rectangle from which a shape may be one. */
  rectangular: 0.78,
  corners: 40,
  most: 60,
  least: 0.5,
} as const;

const areaOf = (ring: readonly Point[]): number => {
  let twice = 0;
  ring.forEach(([x, y], i) => {
    const [u, v] = ring[(i + 1) % ring.length]!;
    twice += x * v - u * y;
  });
  return Math.abs(twice) / 2;
};

const pointsOf = (contour: Mat): Point[] =>
  Array.from(
    { length: contour.data32S.length / 2 },
    (_, i): Point => [contour.data32S[2 * i]!, contour.data32S[2 * i + 1]!],
  );

const round = (v: number) => Math.round(v * 20) / 20;

/** A ring moved outwards by so many mm, each side along its own normal; sharp corners are not drawn out. */
function grown(ring: readonly Point[], by: number): Point[] {
  let twice = 0;
  ring.forEach(([x, y], i) => {
    const [u, v] = ring[(i + 1) % ring.length]!;
    twice += x * v - u * y;
  });
  const way = twice > 0 ? 1 : -1;
  const normals = ring.map(([x, y], i): Point => {
    const [u, v] = ring[(i + 1) % ring.length]!;
    const length = Math.hypot(u - x, v - y) || 1;
    return [(way * (v - y)) / length, (-way * (u - x)) / length];
  });
  return ring.map(([x, y], i) => {
    const [a, b] = [normals[(i + ring.length - 1) % ring.length]!, normals[i]!];
    const k = by / Math.max(0.5, 1 + a[0] * b[0] + a[1] * b[1]);
    return [x + (a[0] + b[0]) * k, y + (a[1] + b[1]) * k];
  });
}

/** What a ring of points can be drawn as, the plainest first. Coordinates to 0.05 mm. */
function drawings(ring: readonly Point[]): { outline: Outline; ring: Point[]; plain: number }[] {
  const [x, y, w, h] = boundsOf({ polygon: [...ring] });
  const area = areaOf(ring);
  const fill = area / (w * h);
  const out: { outline: Outline; ring: Point[]; plain: number }[] = [];
  if (Math.min(w, h) / Math.max(w, h) > 0.92 && Math.abs(fill - Math.PI / 4) < 0.045 && ring.length >= 6) {
    const r = (w + h) / 4;
    const circle = Array.from({ length: 24 }, (_, i): Point => {
      const angle = (i * Math.PI) / 12;
      return [x + w / 2 + r * Math.cos(angle), y + h / 2 + r * Math.sin(angle)];
    });
    out.push({ outline: { circle: [round(x + w / 2), round(y + h / 2), round(r)] }, ring: circle, plain: 1 });
  }
  if (fill >= OUTLINE_FINDING.rectangular) {
    // A screw beside an edge eats a corner of the region, not of the part: its sides say whether it is one, and of
    // its corners the picture says how round they are.
    const most = fill > 0.9 ? Math.min(w / 2, h / 2, Math.sqrt((w * h - area) / (4 - Math.PI))) : 0;
    for (const share of most > 0.5 ? [0, 0.3, 0.6, 1] : [0]) {
      const rect: Rect = [round(x), round(y), round(w), round(h)];
      const outline: Outline = share > 0 ? { rect, radius: round(most * share) } : { rect };
      out.push({ outline, ring: ringOf(outline) as Point[], plain: 1 });
    }
  }
  if (ring.length <= OUTLINE_FINDING.corners)
    out.push({
      outline: { polygon: ring.map(([px, py]): Point => [round(px), round(py)]) },
      ring: [...ring],
      plain: ring.length <= 8 ? 0.9 : ring.length <= 14 ? 0.75 : 0.6,
    });
  return out;
}

/** Regions of a plate that edges close in, as outlines, the surest first. */
export function proposedOutlines(cv: OpenCv, plate: Plate): ProposedOutline[] {
  const grey = greyOf(plate);
  return withMats((keep) => {
    const full = keep(cv.matFromArray(grey.height, grey.width, cv.CV_8UC1!, Uint8Array.from(grey.data)));
    const k = plate.pxPerMm / OUTLINE_FINDING.pxPerMm;
    const [width, height] = [Math.round(grey.width / k), Math.round(grey.height / k)];
    const soft = keep(new cv.Mat());
    cv.GaussianBlur(full, soft, new cv.Size(0, 0), Math.max(0.8, 0.07 * plate.pxPerMm));
    const small = keep(new cv.Mat());
    const scale = keep(cv.matFromArray(3, 3, cv.CV_64FC1!, [1 / k, 0, 0, 0, 1 / k, 0, 0, 0, 1]));
    cv.warpPerspective(
      soft,
      small,
      scale,
      new cv.Size(width, height),
      cv.INTER_LINEAR!,
      cv.BORDER_REPLICATE!,
      new cv.Scalar(),
    );
    const found: ProposedOutline[] = [];
    for (const [low, high] of OUTLINE_FINDING.edges) {
      const edges = keep(new cv.Mat());
      cv.Canny(small, edges, low, high);
      for (const gap of OUTLINE_FINDING.gaps) {
        const half = Math.max(1, Math.round((gap / 2) * OUTLINE_FINDING.pxPerMm));
        const kernel = keep(cv.getStructuringElement(cv.MORPH_ELLIPSE!, new cv.Size(2 * half + 1, 2 * half + 1)));
        const wide = keep(new cv.Mat());
        cv.morphologyEx(edges, wide, cv.MORPH_DILATE!, kernel);
        const regions = keep(new cv.Mat());
        cv.bitwise_not(wide, regions);
        const [contours, tree] = [keep(new cv.MatVector()), keep(new cv.Mat())];
        cv.findContours(regions, contours, tree, cv.RETR_CCOMP!, cv.CHAIN_APPROX_NONE!);
        for (let i = 0; i < contours.size(); i++) {
          // What lies in a region does not make it another one.
          if (tree.data32S[4 * i + 3] !== -1) continue;
          const contour = keep(contours.get(i));
          const one = regionOf(cv, contour, keep(new cv.Mat()), half, edges, [width, height]);
          if (one) found.push(one);
        }
      }
    }
    return kept(found);
  });
}

/** A region as the drawing that most of the picture's edges bear out; `null` for one that is no part. */
function regionOf(
  cv: OpenCv,
  contour: Mat,
  plain: Mat,
  half: number,
  edges: Mat,
  [width, height]: readonly [number, number],
): ProposedOutline | null {
  const { pxPerMm, simplify, smallest, largest } = OUTLINE_FINDING;
  if (cv.contourArea(contour) < 0.4 * smallest * pxPerMm ** 2) return null;
  cv.approxPolyDP(contour, plain, simplify * pxPerMm, true);
  const corners = pointsOf(plain).map(([x, y]): Point => [(x + 0.5) / pxPerMm, (y + 0.5) / pxPerMm]);
  if (corners.length < 3) return null;
  // A region ends where the widened edge begins.
  const ring = grown(corners, (half + 1) / pxPerMm);
  const area = areaOf(ring);
  if (area < smallest || area > (largest * width * height) / pxPerMm ** 2) return null;
  let best: ProposedOutline | null = null;
  for (const { outline, ring: drawn, plain: plainness } of drawings(ring)) {
    const score = Math.round(100 * onEdges(drawn, edges, width, height) * plainness) / 100;
    if (!best || score > best.score) best = { outline, score };
  }
  return best;
}

/** The share of a ring that lies on an edge, looked at every quarter of a millimetre. */
function onEdges(ring: readonly Point[], edges: Mat, width: number, height: number): number {
  const { pxPerMm } = OUTLINE_FINDING;
  let [on, all] = [0, 0];
  ring.forEach(([x, y], i) => {
    const [u, v] = ring[(i + 1) % ring.length]!;
    const count = Math.max(1, Math.ceil(Math.hypot(u - x, v - y) / 0.25));
    for (let s = 0; s < count; s++) {
      const px = Math.round((x + ((u - x) * s) / count) * pxPerMm);
      const py = Math.round((y + ((v - y) * s) / count) * pxPerMm);
      all++;
      search: for (let dy = -3; dy <= 3; dy++)
        for (let dx = -3; dx <= 3; dx++) {
          const [nx, ny] = [px + dx, py + dy];
          if (nx < 0 || ny < 0 || nx >= width || ny >= height || edges.data[ny * width + nx] === 0) continue;
          on++;
          break search;
        }
    }
  });
  return on / all;
}

/** Of outlines that are all but the same, the surest. */
function kept(found: ProposedOutline[]): ProposedOutline[] {
  found.sort((a, b) => b.score - a.score);
  const out: ProposedOutline[] = [];
  for (const one of found) {
    if (one.score < OUTLINE_FINDING.least || out.length >= OUTLINE_FINDING.most) break;
    const [x, y, w, h] = boundsOf(one.outline);
    const same = out.some((other) => {
      const [u, v, s, t] = boundsOf(other.outline);
      const both =
        Math.max(0, Math.min(x + w, u + s) - Math.max(x, u)) * Math.max(0, Math.min(y + h, v + t) - Math.max(y, v));
      return both > 0.8 * (w * h + s * t - both);
    });
    if (!same) out.push(one);
  }
  return out;
}
