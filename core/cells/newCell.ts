import { boundsOf, type Model } from '../anatomy/index.ts';
import { inSeries, layoutOf, ratingOf, wattHoursOf, type Rating } from './cell.ts';
import type { NewCellMessage, WantedMessage } from './messages.ts';

/** A new cell as it came: its label, its size, and what else can be read. Sizes in mm; left out where not measured. */
export interface NewCell extends Rating {
  /** V that it is charged to, of one cell; the label's limit. */
  chargeVolts: number | null;
  size: { width: number; height: number; thickness: number } | null;
  /** Month in which it was made, `2026-03`. */
  made: string | null;
  /** V at rest as it came. */
  restVolts: number | null;
  /** Its plug and the way of its flex are as the old one's. */
  samePlug: boolean;
  sameFlex: boolean;
}

export type FitGrade = 'fits' | 'look' | 'no';
export interface CellFit {
  of: 'volts' | 'charge-limit' | 'capacity' | 'size' | 'growth' | 'age' | 'charge' | 'plug' | 'flex' | 'pairing';
  grade: FitGrade;
  says: NewCellMessage;
}

/**
 * Limits. Cells grow by 8 to 10 % of their thickness over their life (common practice); what is stored loses some percent a
 * year, and older than a year and a half is old stock (own choice); cells come charged to 30 to 50 % (common practice, and
 * asked for in air freight). A nominal or charge voltage apart by more than 0.05 V is another chemistry (own estimate).
 */
export const NEW_CELL = { growth: 0.1, volts: 0.05, oldMonths: 18, capacity: 0.03, low: 3.5 } as const;

/**
 * A new cell against the one that the device has: whether it may go in, and what to look at.
 * @param part the battery's id
 * @param chargeVolts V that the device charges one cell to; `null` where it is not known
 * @param now for its age
 */
export function compareCell(
  model: Model,
  part: string,
  cell: NewCell,
  chargeVolts: number | null,
  now: Date,
): CellFit[] {
  const old = ratingOf(model.anatomy, part);
  const bay = model.parts.get(part)!;
  const found: CellFit[] = [];
  const say = (of: CellFit['of'], grade: FitGrade, says: NewCellMessage) => found.push({ of, grade, says });
  const L = NEW_CELL;
  const [rows, oldRows] = [inSeries(cell), inSeries(old)];
  if (rows === null || oldRows === null)
    say('volts', 'no', { code: 'new-label-odd', volts: cell.volts, cells: cell.cells });
  else if (rows !== oldRows) say('volts', 'no', { code: 'new-layout', layout: layoutOf(cell), device: layoutOf(old) });
  else {
    const apart = Math.abs(cell.volts - old.volts) / oldRows;
    say('volts', apart <= L.volts ? 'fits' : 'no', { code: 'new-volts', volts: cell.volts, device: old.volts });
  }
  if (cell.chargeVolts !== null && chargeVolts !== null)
    say('charge-limit', cell.chargeVolts >= chargeVolts - 0.005 ? 'fits' : 'no', {
      code: cell.chargeVolts >= chargeVolts - 0.005 ? 'new-charge-fits' : 'new-charge-over',
      volts: cell.chargeVolts,
      device: chargeVolts,
    });
  else say('charge-limit', 'look', { code: 'new-compare-charge' });
  const ratio = cell.milliampHours / old.milliampHours;
  say(
    'capacity',
    ratio > 1.25 ? 'look' : ratio < 1 - L.capacity ? 'look' : 'fits',
    ratio > 1.25
      ? { code: 'new-capacity-odd', value: cell.milliampHours, device: old.milliampHours }
      : {
          code: 'new-capacity',
          value: cell.milliampHours,
          percent: Math.round(ratio * 100),
          device: old.milliampHours,
        },
  );
  if (cell.size) {
    const [, , w, h] = boundsOf(bay.outline);
    const turned =
      Math.min(cell.size.width, cell.size.height) <= Math.min(w, h) &&
      Math.max(cell.size.width, cell.size.height) <= Math.max(w, h);
    say('size', turned ? 'fits' : 'no', {
      code: 'new-size',
      width: cell.size.width,
      height: cell.size.height,
      bayWidth: w,
      bayHeight: h,
    });
    const room = bay.thickness;
    if (room === null) say('growth', 'look', { code: 'new-grows', by: cell.size.thickness * L.growth });
    else {
      const grown = cell.size.thickness * (1 + L.growth);
      say('growth', grown <= room * (1 + L.growth) + 0.05 ? 'fits' : 'no', {
        code: 'new-grown',
        thickness: cell.size.thickness,
        grown,
        room,
      });
    }
  } else say('size', 'look', { code: 'new-measure-it' });
  if (cell.made !== null) {
    const months = monthsSince(cell.made, now);
    say(
      'age',
      months > L.oldMonths ? 'look' : 'fits',
      months < 0 ? { code: 'new-not-made-yet', made: cell.made } : { code: 'new-made', months },
    );
  }
  if (cell.restVolts !== null) {
    const each = cell.restVolts / (rows ?? cell.cells);
    const low = each < L.low;
    say('charge', each < 3 ? 'no' : low ? 'look' : 'fits', {
      code: low ? 'new-empty' : 'new-as-it-came',
      volts: cell.restVolts,
    });
  }
  say('plug', cell.samePlug ? 'fits' : 'no', { code: cell.samePlug ? 'new-plug-same' : 'new-plug-other' });
  say('flex', cell.sameFlex ? 'fits' : 'look', { code: cell.sameFlex ? 'new-flex-same' : 'new-flex-other' });
  for (const pair of bay.pairing)
    say('pairing', 'look', { code: 'new-pairing', item: pair.with, functions: pair.loses, words: pair.remedy });
  return found;
}

/** Whole months from one as `2026-03` to a date. */
export function monthsSince(made: string, now: Date): number {
  const [year, month] = made.split('-').map(Number) as [number, number];
  return (now.getUTCFullYear() - year) * 12 + now.getUTCMonth() + 1 - month;
}

/** What the label of a new one should say, for a device, or for one of its cells. V, mAh, Wh. */
export const wantedCell = (model: Model, part?: string): WantedMessage => {
  const rating = ratingOf(model.anatomy, part);
  const { volts, milliampHours } = rating;
  const wattHours = wattHoursOf(rating).pack;
  const label = { volts, milliampHours, wattHours } as const;
  return rating.cells > 1
    ? { code: 'wanted-pack', ...label, layout: layoutOf(rating) }
    : { code: 'wanted-cell', ...label };
};
