import type { Anatomy } from './types.ts';

/** How the cells of a pack are joined: so many in a row, whose volts add up, and so many rows side by side. */
export interface CellLayout {
  series: number;
  parallel: number;
}

/**
 * V that one lithium cell may have as its nominal voltage. Origin: common practice; iron phosphate 3.2 V, cobalt oxide 3.6 to
 * 3.9 V, silicon and high-voltage cells up to 3.95 V.
 */
export const NOMINAL_VOLTS: readonly [least: number, most: number] = [3.0, 4.0];

/**
 * How the cells of a pack are joined. Volts add in series and ampere-hours in parallel, so that the nominal volts tell it
 * where the document does not: 3.87 V in two cells are two side by side, 7.6 V in two are two in a row.
 * @returns `null` where no way of joining them gives each cell the volts of one
 */
export function cellLayout(battery: Anatomy['battery']): CellLayout | null {
  const { volts, cells } = battery;
  for (let series = 1; series <= cells; series++) {
    const parallel = cells / series;
    const each = volts / series;
    if (!Number.isInteger(parallel) || each < NOMINAL_VOLTS[0] || each > NOMINAL_VOLTS[1]) continue;
    if ((battery.series ?? series) === series && (battery.parallel ?? parallel) === parallel)
      return { series, parallel };
  }
  return null;
}

/** What is wrong with the volts and the number of cells of a battery, in words; `null` where they go together. */
export function batteryFault(battery: Anatomy['battery']): string | null {
  const { volts, cells, series, parallel } = battery;
  const joined = `${cells} ${cells === 1 ? 'cell' : 'cells'}`;
  if (series !== undefined && parallel !== undefined && series * parallel !== cells)
    return `${series} in a row times ${parallel} side by side are ${series * parallel} cells, not ${cells}`;
  if ((series !== undefined && cells % series !== 0) || (parallel !== undefined && cells % parallel !== 0))
    return `${joined} cannot be joined ${series ?? parallel} at a time`;
  if (cellLayout(battery)) return null;
  const [least, most] = NOMINAL_VOLTS;
  return `${volts} V do not go with ${joined}${series === undefined ? '' : `, ${series} in a row`}: one cell has ${least} to ${most} V nominal, cells in a row add up, cells side by side do not`;
}
