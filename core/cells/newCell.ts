import { boundsOf, type Model } from '../anatomy/index.ts';
import { inSeries, layoutWords, ratingOf, wattHoursOf, type Rating } from './cell.ts';

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
  says: string;
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
  const say = (of: CellFit['of'], grade: FitGrade, says: string) => found.push({ of, grade, says });
  const L = NEW_CELL;
  const [rows, oldRows] = [inSeries(cell), inSeries(old)];
  if (rows === null || oldRows === null)
    say('volts', 'no', `${cell.volts} V do not go with ${cell.cells} cells: read its label again`);
  else if (rows !== oldRows) say('volts', 'no', `${layoutWords(cell)}, and the device has ${layoutWords(old)}`);
  else {
    const apart = Math.abs(cell.volts - old.volts) / oldRows;
    say('volts', apart <= L.volts ? 'fits' : 'no', `${cell.volts} V nominal, and the device has ${old.volts} V`);
  }
  if (cell.chargeVolts !== null && chargeVolts !== null)
    say(
      'charge-limit',
      cell.chargeVolts >= chargeVolts - 0.005 ? 'fits' : 'no',
      cell.chargeVolts >= chargeVolts - 0.005
        ? `it may be charged to ${cell.chargeVolts} V, and the device charges to ${chargeVolts} V`
        : `the device charges to ${chargeVolts} V, and this cell bears only ${cell.chargeVolts} V: it would be overcharged`,
    );
  else
    say('charge-limit', 'look', 'compare the charge limit printed on both labels: it must not be lower on the new one');
  const ratio = cell.milliampHours / old.milliampHours;
  say(
    'capacity',
    ratio > 1.25 ? 'look' : ratio < 1 - L.capacity ? 'look' : 'fits',
    ratio > 1.25
      ? `${cell.milliampHours} mAh in the same room are hard to believe; the device has ${old.milliampHours}`
      : `${cell.milliampHours} mAh, ${Math.round(ratio * 100)} % of the ${old.milliampHours} of the device`,
  );
  if (cell.size) {
    const [, , w, h] = boundsOf(bay.outline);
    const turned =
      Math.min(cell.size.width, cell.size.height) <= Math.min(w, h) &&
      Math.max(cell.size.width, cell.size.height) <= Math.max(w, h);
    say('size', turned ? 'fits' : 'no', `${cell.size.width} × ${cell.size.height} mm in a bay of ${w} × ${h} mm`);
    const room = bay.thickness;
    if (room === null)
      say(
        'growth',
        'look',
        `it grows by about ${(cell.size.thickness * L.growth).toFixed(1)} mm over its life: see that its bay leaves that`,
      );
    else {
      const grown = cell.size.thickness * (1 + L.growth);
      say(
        'growth',
        grown <= room * (1 + L.growth) + 0.05 ? 'fits' : 'no',
        `${cell.size.thickness} mm, ${grown.toFixed(2)} mm when grown; the old one is drawn with ${room} mm`,
      );
    }
  } else say('size', 'look', 'measure it: width, height and thickness, and lay it beside the old one');
  if (cell.made !== null) {
    const months = monthsSince(cell.made, now);
    say(
      'age',
      months > L.oldMonths ? 'look' : 'fits',
      months < 0 ? `made ${cell.made}, which is still to come: read it again` : `made ${months} months ago`,
    );
  }
  if (cell.restVolts !== null) {
    const each = cell.restVolts / (rows ?? cell.cells);
    const low = each < L.low;
    say(
      'charge',
      each < 3 ? 'no' : low ? 'look' : 'fits',
      low
        ? `${cell.restVolts} V: deeply empty. It shows nothing for minutes; charge it to some percent before it is judged`
        : `${cell.restVolts} V as it came`,
    );
  }
  say(
    'plug',
    cell.samePlug ? 'fits' : 'no',
    cell.samePlug ? 'its plug is the same' : 'another plug: it does not go in',
  );
  say(
    'flex',
    cell.sameFlex ? 'fits' : 'look',
    cell.sameFlex
      ? 'its flex lies the same way'
      : 'its flex leaves elsewhere: try it dry, with nothing pulled or folded over an edge',
  );
  for (const pair of bay.pairing)
    say(
      'pairing',
      'look',
      `paired with ${model.nameOf(pair.with)}: ${pair.loses.join(', ')} ${pair.loses.length === 1 ? 'is' : 'are'} lost. ${pair.remedy}`,
    );
  return found;
}

/** Whole months from one as `2026-03` to a date. */
export function monthsSince(made: string, now: Date): number {
  const [year, month] = made.split('-').map(Number) as [number, number];
  return (now.getUTCFullYear() - year) * 12 + now.getUTCMonth() + 1 - month;
}

/** What the label of a new one should say, for a device, or for one of its cells. */
export const wantedCell = (model: Model, part?: string): string => {
  const r = ratingOf(model.anatomy, part);
  return `${r.volts} V, ${r.milliampHours} mAh, ${wattHoursOf(r).pack.toFixed(1)} Wh${r.cells > 1 ? `, ${layoutWords(r)}` : ''}`;
};
