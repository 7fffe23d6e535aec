import type { Point } from '../anatomy/index.ts';
import { leastSquares } from '../statistics/index.ts';
import type { FitReason } from './messages.ts';

/** Where the fit of a panel is measured: its four corners and the middles of its sides, as seen from its face. */
export const FIT_POINTS = [
  'top-left',
  'top',
  'top-right',
  'right',
  'bottom-right',
  'bottom',
  'bottom-left',
  'left',
] as const;
export type FitPoint = (typeof FIT_POINTS)[number];

/** What a feeler and a caliper say at one point, mm: how wide the gap is, and how far the panel stands above its frame. */
export interface FitReading {
  gap: number;
  step: number;
}
export type FitReadings = Record<FitPoint, FitReading>;

const PLACES: Record<FitPoint, Point> = {
  'top-left': [-1, -1],
  top: [0, -1],
  'top-right': [1, -1],
  right: [1, 0],
  'bottom-right': [1, 1],
  bottom: [0, 1],
  'bottom-left': [-1, 1],
  left: [-1, 0],
};

export type FitCause = 'bent-frame' | 'swollen-cell' | 'liner-left' | 'flex-pinched' | 'pressed-unevenly';

export interface FitVerdict {
  /** Flush within the limits: worst step, and gap against gap. */
  flush: boolean;
  worst: { at: FitPoint; step: number };
  /** Steps as a plane: mm at the middle, mm from left to right and from top to bottom, and degrees of the whole tilt. */
  plane: { middle: number; across: number; down: number; degrees: number };
  /** mm of a twist of the frame, and of a bow: the middles of the sides above the corners. */
  twist: number;
  bow: number;
  /** The largest gap less the smallest, mm. */
  gapSpread: number;
  /** What that says, the likeliest first. */
  says: { cause: FitCause; because: FitReason }[];
}

/** mm. A fingertip feels 0.1 (common practice); a gap that differs by more is seen. `noise`: a caliper on an edge, own estimate. */
export const FIT_LIMITS = { step: 0.1, gap: 0.2, noise: 0.03 } as const;

/**
 * What gap and step at eight points say. The steps are read as a plane, a twist (x · y) and a bow (the middles of the sides
 * against the corners) by least squares, and what is left over shows a single point that stands up. In ±1 over the panel
 * the four patterns stand at right angles to one another, so each is told apart from the others.
 * @param size mm of the panel, width and height
 * @throws RangeError for a reading that is no number
 */
export function judgeFit(readings: FitReadings, size: readonly [number, number]): FitVerdict {
  for (const at of FIT_POINTS) {
    const { gap, step } = readings[at];
    if (!Number.isFinite(gap) || !Number.isFinite(step) || gap < 0)
      throw new RangeError(`${at}: gap and step are asked for in mm, the gap at least 0`);
  }
  const steps = FIT_POINTS.map((at) => readings[at].step);
  const gaps = FIT_POINTS.map((at) => readings[at].gap);
  const bowAt = ([x, y]: Point) => (x === 0 || y === 0 ? 0.5 : -0.5);
  const rows = FIT_POINTS.map((at) => {
    const [x, y] = PLACES[at];
    return [1, x, y, x * y, bowAt(PLACES[at])];
  });
  const { coefficients } = leastSquares(rows, steps);
  const [middle, across, down, twist, bow] = coefficients as [number, number, number, number, number];
  const degrees = (Math.atan(Math.hypot((2 * across) / size[0], (2 * down) / size[1])) * 180) / Math.PI;
  const worst = FIT_POINTS.reduce((a, b) => (Math.abs(readings[b].step) > Math.abs(readings[a].step) ? b : a));
  const gapSpread = Math.max(...gaps) - Math.min(...gaps);
  const says = causesOf({ steps, middle, across, down, twist, bow, gapSpread });
  return {
    flush: Math.abs(readings[worst].step) <= FIT_LIMITS.step + 1e-9 && gapSpread <= FIT_LIMITS.gap + 1e-9,
    worst: { at: worst, step: readings[worst].step },
    plane: { middle, across: 2 * across, down: 2 * down, degrees },
    twist: 2 * twist,
    bow,
    gapSpread,
    says,
  };
}

interface Pattern {
  steps: readonly number[];
  middle: number;
  across: number;
  down: number;
  twist: number;
  bow: number;
  gapSpread: number;
}

function causesOf(p: Pattern): FitVerdict['says'] {
  const { step, gap, noise } = FIT_LIMITS;
  const found: { cause: FitCause; because: FitReason; weight: number }[] = [];
  // One point alone: the others, read without it, lie in a plane.
  const alone = onePoint(p.steps);
  if (alone && alone.height > step)
    found.push({
      cause: 'flex-pinched',
      because: { code: 'one-point-up', point: alone.at, height: Math.abs(alone.height) },
      weight: alone.height,
    });
  else {
    if (p.bow > step - noise)
      found.push({
        cause: 'swollen-cell',
        because: { code: 'sides-bow', height: Math.abs(p.bow) },
        weight: p.bow,
      });
    if (Math.abs(p.twist) > 2 * noise)
      found.push({
        cause: 'bent-frame',
        because: { code: 'frame-twisted', height: Math.abs(p.twist) },
        weight: Math.abs(p.twist),
      });
    const tilt = Math.max(Math.abs(p.across), Math.abs(p.down));
    if (2 * tilt > step)
      found.push({
        cause: 'pressed-unevenly',
        because: {
          code: Math.abs(p.across) > Math.abs(p.down) ? 'leans-across' : 'leans-along',
          height: Math.abs(2 * tilt),
        },
        weight: 2 * tilt,
      });
    if (p.middle > step - noise && Math.abs(p.twist) < 2 * noise && p.bow < step - noise)
      found.push({
        cause: 'liner-left',
        because: { code: 'high-all-round', height: Math.abs(p.middle) },
        weight: p.middle,
      });
  }
  if (p.gapSpread > gap && !found.some((f) => f.cause === 'bent-frame'))
    found.push({
      cause: 'bent-frame',
      because: { code: 'gap-differs', height: Math.abs(p.gapSpread) },
      weight: p.gapSpread / 2,
    });
  return found.sort((a, b) => b.weight - a.weight).map(({ cause, because }) => ({ cause, because }));
}

/** A single point that stands up: without it the others lie in a plane. */
function onePoint(steps: readonly number[]): { at: FitPoint; height: number } | null {
  let best: { at: FitPoint; height: number; spread: number } | null = null;
  for (const [i, at] of FIT_POINTS.entries()) {
    const others = FIT_POINTS.filter((_, k) => k !== i);
    const { coefficients, spread } = leastSquares(
      others.map((o) => [1, ...PLACES[o]]),
      steps.filter((_, k) => k !== i),
    );
    const [x, y] = PLACES[at];
    const height = steps[i]! - (coefficients[0]! + coefficients[1]! * x + coefficients[2]! * y);
    if (!best || spread < best.spread) best = { at, height, spread };
  }
  return best && best.spread <= FIT_LIMITS.noise && best.height > 3 * FIT_LIMITS.noise ? best : null;
}
