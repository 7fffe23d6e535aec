import { cellLayout, type Anatomy } from '../anatomy/index.ts';
import { wattHours } from '../units/index.ts';
import type { LayoutMessage } from './messages.ts';

/** A cell or pack as its label says. */
export interface Rating {
  /** V, nominal. */
  volts: number;
  milliampHours: number;
  /** All its cells, in a row and side by side. */
  cells: number;
  /** How many are in a row and side by side, where the label tells it; the nominal volts tell it otherwise. */
  series?: number;
  parallel?: number;
}

/** Volts are of cells in a row: how many those are; `null` where volts and cells do not go together. */
export const inSeries = (rating: Rating): number | null => cellLayout(rating)?.series ?? null;

/** How a pack is built. */
export function layoutOf(rating: Rating): LayoutMessage {
  const layout = cellLayout(rating);
  if (!layout) return { code: 'layout-unknown', cells: rating.cells };
  const { series, parallel } = layout;
  if (rating.cells === 1) return { code: 'layout-one' };
  if (parallel === 1) return { code: 'layout-row', cells: series };
  if (series === 1) return { code: 'layout-beside', cells: parallel };
  return { code: 'layout-both', rows: series, beside: parallel };
}

/** Energy of a pack, Wh = V · Ah, and of one of its cells. */
export function wattHoursOf({ volts, milliampHours, cells }: Rating): { pack: number; cell: number } {
  const pack = wattHours(volts, milliampHours);
  return { pack, cell: pack / Math.max(1, cells) };
}

/**
 * V of one cell at rest by its charge, 0 to 1, for a nominal 3.846 V, its own mean. Origin: own estimate of a lithium cobalt
 * oxide and graphite cell as phones have; others differ by some hundredths of a volt.
 */
export const REST_CURVE: readonly (readonly [charge: number, volts: number])[] = [
  [0, 3.3],
  [0.05, 3.61],
  [0.1, 3.69],
  [0.2, 3.73],
  [0.3, 3.77],
  [0.4, 3.79],
  [0.5, 3.82],
  [0.6, 3.87],
  [0.7, 3.92],
  [0.8, 3.98],
  [0.9, 4.08],
  [1, 4.2],
];

/** Its mean over the charge, V: what is nominal. */
export const CURVE_MEAN = REST_CURVE.slice(1).reduce(
  (s, [c, v], i) => s + ((v + REST_CURVE[i]![1]) / 2) * (c - REST_CURVE[i]![0]),
  0,
);

/** V at rest of a pack at a charge from 0 to 1: the curve, so stretched that its mean is what the label says. */
export function restVolts({ volts }: Pick<Rating, 'volts'>, charge: number): number {
  const c = Math.min(1, Math.max(0, charge));
  const i = Math.max(
    1,
    REST_CURVE.findIndex(([at]) => at >= c),
  );
  const [[c0, v0], [c1, v1]] = [REST_CURVE[i - 1]!, REST_CURVE[i]!];
  return ((v0 + ((c - c0) / (c1 - c0)) * (v1 - v0)) * volts) / CURVE_MEAN;
}

/** The charge, 0 to 1, that a pack at rest has at so many volts. */
export function chargeAt(rating: Pick<Rating, 'volts'>, volts: number): number {
  const v = (volts * CURVE_MEAN) / rating.volts;
  if (v <= REST_CURVE[0]![1]) return 0;
  const i = REST_CURVE.findIndex(([, at]) => at >= v);
  if (i < 1) return 1;
  const [[c0, v0], [c1, v1]] = [REST_CURVE[i - 1]!, REST_CURVE[i]!];
  return c0 + ((v - v0) / (v1 - v0)) * (c1 - c0);
}

/** Ω · Ah of one new cell: its resistance goes down as it grows. Origin: own estimate, 60 mΩ for 4 Ah. */
const OHM_AMPERE_HOURS = 0.24;

/**
 * Ω of a new pack of that size; what wears out goes up from there. Cells side by side share the current, R/n, which the
 * ampere-hours of the pack say already; cells in a row add up.
 */
export const newOhms = (rating: Rating): number =>
  (OHM_AMPERE_HOURS / (rating.milliampHours / 1000)) * (inSeries(rating) ?? 1);

/** What the label says of the pack as a whole, or of the cells in one part where the document tells them apart. @param part id of a battery */
export function ratingOf({ battery, cells }: Pick<Anatomy, 'battery' | 'cells'>, part?: string): Rating {
  const told = cells?.find((c) => c.part === part);
  if (!told) return battery;
  const { volts, milliampHours, series, parallel } = told;
  return { volts, milliampHours, cells: series * parallel, series, parallel };
}
