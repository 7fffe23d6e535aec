import type { Point } from '../anatomy/index.ts';
import { homographyOf, mapped, NoSurvey, residuals, type Homography } from './homography.ts';
import { crossing, laidLine, normalOf, shifted, type EdgeLine } from './lines.ts';
import type { Picture } from './picture.ts';
import { chosenEdges } from './choose.ts';
import { edgesBeside } from './snap.ts';

/** The sides of a picture in the order in which its edges are named. */
export const SIDES = ['top', 'right', 'bottom', 'left'] as const;
export type Side = (typeof SIDES)[number];

/** Two points of an edge in the picture, px. */
export type Edge2 = readonly [Point, Point];
/** Top, right, bottom and left edge of the body as the picture shows it. */
export type Edges = readonly [Edge2, Edge2, Edge2, Edge2];

/** What the survey of a photograph is held to. Each is a choice of our own unless it says otherwise. */
export const SURVEY = {
  /** How far off a hand lays a line, mm, one deviation: half a finger's tremor under a magnifier. */
  handMm: 0.3,
  /** How far off a tapped point is, mm, one deviation. */
  tapMm: 0.2,
  /** Pixels a millimetre of a plate: a recess of 0.1 mm is two of them. */
  pxPerMm: 20,
  /** Camera over the measured plane, mm, where nobody measured it: the closest at which a whole phone is in the picture. */
  heightMm: 300,
  /** Above this a survey is called doubtful, mm, 95 % at the farthest corner. */
  doubtfulMm: 0.5,
} as const;

export interface Body2 {
  width: number;
  height: number;
}

/** A photograph whose scale and tilt are known. */
export interface Survey {
  /** From mm of the body, seen from the front, on the measured plane, to px of the photograph. */
  toPicture: Homography;
  /** From px to mm. */
  toBody: Homography;
  /** The corners of the body in the photograph, px: top left, top right, bottom right, bottom left of the picture. */
  corners: readonly [Point, Point, Point, Point];
  /** mm that are left where more was laid than four corners need; empty otherwise. */
  residuals: number[];
  /** Edges that were found in the picture itself; those that are not stand as the hand laid them. */
  snapped: Side[];
  /** Standard deviations of a place, mm, and the radius that holds it with 95 %. */
  errorAt: (mm: Point) => { sd: number; radius95: number; covariance: readonly [xx: number, xy: number, yy: number] };
}

/** Where the corners of the picture lie on the body: what is photographed from the back lies mirrored. */
export function cornersOfBody(body: Body2, face: 'front' | 'back'): [Point, Point, Point, Point] {
  const [left, right] = face === 'back' ? [body.width, 0] : [0, body.width];
  return [
    [left, 0],
    [right, 0],
    [right, body.height],
    [left, body.height],
  ];
}

/**
 * The radius of a circle that holds a plane error with 95 %: exact for round errors (√(−2 ln 0.05) = 2.448) and for thin
 * ones (1.960), and between them by the ratio of the axes.
 */
function radius95([xx, xy, yy]: readonly [number, number, number]): number {
  const mean = (xx + yy) / 2;
  const gap = Math.hypot((xx - yy) / 2, xy);
  const [large, small] = [Math.sqrt(Math.max(0, mean + gap)), Math.sqrt(Math.max(0, mean - gap))];
  const ratio = large > 0 ? small / large : 0;
  return large * (1.96 + (2.448 - 1.96) * ratio * ratio);
}

/** First-order propagation: how a place moves with what was laid. */
function propagated(
  parameters: number,
  covariance: (i: number, j: number) => number,
  place: (change: readonly number[]) => Point,
  step: number,
): readonly [number, number, number] {
  const columns = Array.from({ length: parameters }, (_, i) => {
    const change = new Array<number>(parameters).fill(0);
    change[i] = step;
    const up = place(change);
    change[i] = -step;
    const down = place(change);
    return [(up[0] - down[0]) / (2 * step), (up[1] - down[1]) / (2 * step)] as const;
  });
  let [xx, xy, yy] = [0, 0, 0];
  for (let i = 0; i < parameters; i++)
    for (let j = 0; j < parameters; j++) {
      const c = covariance(i, j);
      if (c === 0) continue;
      xx += c * columns[i]![0] * columns[j]![0];
      xy += c * columns[i]![0] * columns[j]![1];
      yy += c * columns[i]![1] * columns[j]![1];
    }
  return [xx, xy, yy];
}

const cornersOf = (lines: readonly Pick<EdgeLine, 'a' | 'b'>[]): [Point, Point, Point, Point] => {
  const [top, right, bottom, left] = lines as [EdgeLine, EdgeLine, EdgeLine, EdgeLine];
  return [crossing(top, left), crossing(top, right), crossing(bottom, right), crossing(bottom, left)];
};

/** The corners run around the picture one way, none of them bent in. */
function checkCorners(corners: readonly Point[]): void {
  const turns = corners.map((p, i) => {
    const [q, r] = [corners[(i + 1) % 4]!, corners[(i + 2) % 4]!];
    return (q[0] - p[0]) * (r[1] - q[1]) - (q[1] - p[1]) * (r[0] - q[0]);
  });
  if (!(turns.every((t) => t > 0) || turns.every((t) => t < 0)))
    throw new NoSurvey(
      'the four edges do not run around the body; lay top, right, bottom and left each on its own side',
    );
  if (turns[0]! < 0)
    throw new NoSurvey(
      'the edges run the wrong way round; top, right, bottom and left are meant as the picture shows them',
    );
}

/** px a millimetre, from the lengths of the sides. */
function scaleOf(corners: readonly Point[], body: Body2): number {
  const side = (i: number) =>
    Math.hypot(corners[i]![0] - corners[(i + 1) % 4]![0], corners[i]![1] - corners[(i + 1) % 4]![1]);
  return (side(0) + side(1) + side(2) + side(3)) / (2 * (body.width + body.height));
}

/**
 * Laid edges moved onto the picture's own, within some millimetres.
 * @param sigmaMm how far off they may be, one deviation
 * @throws NoSurvey when they do not run around a body
 */
export function edgesFound(edges: Edges, body: Body2, picture: Picture, sigmaMm: number): Edges {
  const { chosen } = soughtEdges(edges, body, cornersOfBody(body, 'front'), picture, sigmaMm);
  return chosen.map(({ line: { a, b } }) => [a, b] as const) as unknown as Edges;
}

/** The lines as they were laid, and for each side the edge of the picture that is chosen for it. */
function soughtEdges(edges: Edges, body: Body2, places: readonly Point[], picture: Picture | null, sigmaMm: number) {
  const laid = edges.map(([a, b]) => ({ a, b }));
  const first = cornersOf(laid);
  checkCorners(first);
  const sigma = sigmaMm * scaleOf(first, body);
  const byHand = laid.map(({ a, b }) => laidLine(a, b, sigma));
  if (!picture) return { found: laid.map(() => false), chosen: byHand.map((line) => ({ line, doubt: [] })) };
  const beside = laid.map((line) => edgesBeside(picture, line, sigma));
  return { found: beside.map((list) => list.length > 0), chosen: chosenEdges(beside, byHand, places, picture) };
}

/** The chosen edge, as well known as it is fitted, and as the others that it might have been are far from it. */
function withDoubt({ line, doubt }: ReturnType<typeof chosenEdges>[number]): EdgeLine {
  let [aa, ab, bb] = line.covariance;
  const [nx, ny] = normalOf(line);
  for (const { line: other, weight } of doubt) {
    const [da, db] = [line.a, line.b].map((p) => {
      // How far the other line lies from this end, straight across.
      const [ox, oy] = normalOf(other);
      return ((other.a[0] - p[0]) * ox + (other.a[1] - p[1]) * oy) / (ox * nx + oy * ny || 1);
    }) as [number, number];
    aa += weight * da * da;
    ab += weight * da * db;
    bb += weight * db * db;
  }
  return { ...line, covariance: [aa, ab, bb] };
}

/**
 * A photograph measured by the four straight edges of the body; its round corners are never asked for.
 * @param edges as the hand laid them
 * @param picture moves each onto the picture's own edge beside it; `null` leaves them as they were laid
 * @throws NoSurvey when the edges do not run around a body
 */
export function surveyByEdges(
  edges: Edges,
  body: Body2,
  { face = 'front', picture = null }: { face?: 'front' | 'back'; picture?: Picture | null } = {},
): Survey {
  const places = cornersOfBody(body, face);
  const { chosen, found } = soughtEdges(edges, body, places, picture, SURVEY.handMm);
  const lines = chosen.map(withDoubt);
  const corners = cornersOf(lines);
  checkCorners(corners);
  const toBody = homographyOf(corners, places);
  const toPicture = homographyOf(places, corners);
  const covariance = (i: number, j: number): number => {
    if (i >> 1 !== j >> 1) return 0;
    const [aa, ab, bb] = lines[i >> 1]!.covariance;
    return i !== j ? ab : i % 2 === 0 ? aa : bb;
  };
  return {
    toPicture,
    toBody,
    corners,
    residuals: [],
    snapped: SIDES.filter((_, i) => found[i]),
    errorAt: (mm) => {
      const pixel = mapped(toPicture, mm);
      const moved = (change: readonly number[]) =>
        mapped(
          homographyOf(cornersOf(lines.map((line, i) => shifted(line, change[2 * i]!, change[2 * i + 1]!))), places),
          pixel,
        );
      return errorOf(propagated(8, covariance, moved, 0.01));
    },
  };
}

function errorOf(covariance: readonly [number, number, number]) {
  return { sd: Math.sqrt((covariance[0] + covariance[2]) / 2), radius95: radius95(covariance), covariance };
}

/** What is known of taps beforehand counts as so many spare coordinates. Origin: own choice. */
const TAP_WEIGHT = 6;

/**
 * A photograph measured by known points: corners of the printed card, or places of the body that somebody measured.
 * @param pairs at least four, each with its place in px and in mm of the body seen from the front
 * @throws NoSurvey with fewer, or when they lie on one line
 */
export function surveyByPoints(pairs: readonly { px: Point; mm: Point }[], body: Body2): Survey {
  const [px, mm] = [pairs.map((p) => p.px), pairs.map((p) => p.mm)];
  const toBody = homographyOf(px, mm);
  const toPicture = homographyOf(mm, px);
  const left = residuals(toBody, px, mm);
  const scale = Math.sqrt(Math.hypot(toPicture[0], toPicture[3]) * Math.hypot(toPicture[1], toPicture[4]));
  // With more than four pairs what is left over says how well they were tapped; with few of them it says little.
  const spare = 2 * pairs.length - 8;
  const squares = left.reduce((sum, r) => sum + r * r, 0);
  const sigma = Math.sqrt((squares + TAP_WEIGHT * SURVEY.tapMm ** 2) / (spare + TAP_WEIGHT)) * scale;
  const [w, h] = [body.width, body.height];
  const corner = (x: number, y: number) => mapped(toPicture, [x, y]);
  return {
    toPicture,
    toBody,
    corners: [corner(0, 0), corner(w, 0), corner(w, h), corner(0, h)],
    residuals: left,
    snapped: [],
    errorAt: (place) => {
      const pixel = mapped(toPicture, place);
      const moved = (change: readonly number[]) =>
        mapped(
          homographyOf(
            px.map(([x, y], i): Point => [x + change[2 * i]!, y + change[2 * i + 1]!]),
            mm,
          ),
          pixel,
        );
      return errorOf(propagated(2 * px.length, (i, j) => (i === j ? sigma * sigma : 0), moved, 0.05));
    },
  };
}

/** The corner of the body that is known worst, and how well. */
export function worstCorner(survey: Survey, body: Body2): { at: Point; sd: number; radius95: number } {
  const all = cornersOfBody(body, 'front').map((at) => ({ at, ...survey.errorAt(at) }));
  const { at, sd, radius95 } = all.reduce((a, b) => (b.radius95 > a.radius95 ? b : a));
  return { at, sd, radius95 };
}
