import type { Anatomy } from '../anatomy/index.ts';
import { restVolts, type Rating } from './cell.ts';

/** A way to use a cell up by the device itself. */
export type DrawWay = 'screen' | 'torch' | 'video';

/** What it draws, about, W. */
export interface Draw {
  way: DrawWay;
  watts: number;
}

/** How a device uses itself up, W. Origin: own estimates; a screen at full brightness draws with its area. */
export const OWN_DRAWS: Record<Anatomy['kind'], readonly Draw[]> = {
  phone: [
    { way: 'screen', watts: 1.5 },
    { way: 'torch', watts: 1 },
    { way: 'video', watts: 1.5 },
  ],
  tablet: [
    { way: 'screen', watts: 5 },
    { way: 'torch', watts: 1 },
    { way: 'video', watts: 2 },
  ],
  'keypad-phone': [
    { way: 'screen', watts: 0.5 },
    { way: 'torch', watts: 1 },
  ],
};

/** W that a device draws by itself, all ways at once. */
export const ownLoad = (kind: Anatomy['kind']): number => OWN_DRAWS[kind].reduce((s, d) => s + d.watts, 0);

/** A cell is drawn below this before it is heated or pried, %. Origin: common practice. */
export const CHARGE_LIMIT = 25;
/** °C at which drawing down is stopped. Origin: common practice for a cell under load; makers let 45 to 60 °C be reached. */
export const DRAW_WARMEST = 45;
/** A cell is not drawn faster than in so many hours. Origin: common practice, half of its capacity an hour. */
const HOURS_AT_LEAST = 2;

/** What a cell is known to be, beyond its label. */
export interface CellState {
  /** Capacity now, as a share of what is rated; left out, all of it. */
  health?: number;
  /** Ω, where it was measured; left out, nothing is lost within: the draw is then told longer rather than shorter. */
  ohms?: number;
}

/** The most that a cell should be drawn with, W. */
export const mostLoad = (rating: Rating): number => (rating.volts * rating.milliampHours) / 1000 / HOURS_AT_LEAST;

/** Own choice: sections of Simpson's rule over the charge; 64 agree with small steps to a second. */
const SECTIONS = 64;

/**
 * Seconds in which a pack is drawn from one charge to another by a constant power. At a charge s the terminals give
 * P = (E(s) − I R) I, so that I = (E − √(E² − 4 R P)) / 2R, and dt = −Q ds / I: summed over the charge by Simpson's
 * rule (Abramowitz & Stegun 25.4.6).
 * @param from charge at the begin, %
 * @param to charge at the end, %
 * @param watts drawn at the terminals, above 0
 * @returns 0 where it is below already; Infinity where it cannot give that power down to there
 * @throws RangeError for a charge outside 0 to 100, or a power of nothing
 */
export function drawSeconds(rating: Rating, from: number, to: number, watts: number, state: CellState = {}): number {
  if (!(from >= 0 && from <= 100 && to >= 0 && to <= 100)) throw new RangeError('a charge is from 0 to 100 %');
  if (!(watts > 0)) throw new RangeError('the load must be above 0 W');
  if (from <= to) return 0;
  const coulombs = (rating.milliampHours / 1000) * 3600 * (state.health ?? 1);
  const ohms = state.ohms ?? 0;
  const perCharge = (s: number) => {
    const e = restVolts(rating, s);
    const root = e * e - 4 * ohms * watts;
    if (root <= 0) return Infinity;
    const amps = (2 * watts) / (e + Math.sqrt(root));
    return coulombs / amps;
  };
  const [low, high] = [to / 100, from / 100];
  const h = (high - low) / SECTIONS;
  let sum = perCharge(low) + perCharge(high);
  for (let i = 1; i < SECTIONS; i++) sum += perCharge(low + i * h) * (i % 2 ? 4 : 2);
  return (sum * h) / 3;
}
