import { completed, filled, list, maybe, number, optional, record, row, text, yes, type Of } from '../format/index.ts';

const mm = (least: number, most: number) => number({ least, most, unit: 'mm' });
const newtons = (least: number, most: number) => number({ least, most, unit: 'N' });
const seconds = (least: number, most: number) => number({ least, most, unit: 's' });
const DAY = 86_400;
const WEEK = 7 * DAY;

/** Clips of one make: what each presses with, how wide its foot is (mm), and how many the shop has. */
const clipKind = record({
  newtons: number({ above: 0, most: 500, unit: 'N' }),
  foot: mm(1, 60),
  count: number({ whole: true, least: 0, most: 200 }),
});
export interface ClipKind extends Of<typeof clipKind> {}

/** A liquid glue as its maker's sheet gives it, at 23 °C and half humidity. */
const glueProduct = record({
  name: text({ trimmed: true, least: 1, most: 80 }),
  /** s until it has a skin, until it may be handled, and until it has cured. */
  skin: seconds(0, DAY),
  handle: seconds(1, WEEK),
  cure: seconds(1, WEEK),
  /** mm of the nozzle's bore. */
  bore: mm(0.05, 5),
  /** Water of the air cures it, so that dry air takes longer. */
  byMoisture: yes,
});
export interface GlueProduct extends Of<typeof glueProduct> {}

/**
 * What a shop has to bond and to press with, and what it has unless it says otherwise. Origin: rolls of 2, 3 and 5 mm, A5 sheets
 * and small spring clips are what a bench commonly has (common practice); forces, feet, weights and bands are own estimates of such
 * things. The glue is an own estimate of a contact glue, to be replaced by the sheet of the product in use. Anaerobic threadlocker
 * with activator is handled after about 10 min (common practice). A margin of 1 mm is what a hand keeps to with a template under
 * the sheet (own choice). The limit of the tester is an own estimate, of the order of what is let pass at a few kPa; no standard is
 * claimed, and no rating follows from it.
 */
export const closingBenchFormat = record({
  /** Widths of tape on rolls, mm. */
  rolls: filled(list(mm(0.5, 100), { once: true, most: 20 }), [2, 3, 5]),
  /** Sheets of tape that strips are cut from, width and height, mm. */
  sheets: filled(list(row(mm(0.5, 500), mm(0.5, 500)), { most: 10 }), [[148, 210]]),
  /** Die-cut parts at hand, as `anatomy/bond`. */
  dieCut: filled(list(text({ most: 140 }), { once: true, most: 200 }), []),
  /** Weights and shot bags, kg each. */
  weights: filled(list(number({ above: 0, most: 100, unit: 'kg' }), { most: 40 }), [10, 10, 5, 5, 2, 2, 1, 1]),
  /** Foam frames are cut to the bond, so that a weight rests on it alone. */
  foamFrame: filled(yes, true),
  clips: filled(list(clipKind, { most: 8 }), [{ newtons: 12, foot: 5, count: 24 }]),
  /** Bands: what one pulls with, and how many there are. */
  bands: filled(record({ newtons: newtons(0, 200), count: number({ whole: true, least: 0, most: 100 }) }), {
    newtons: 6,
    count: 6,
  }),
  glue: filled(glueProduct, { name: 'contact glue', skin: 180, handle: 1800, cure: DAY, bore: 0.5, byMoisture: true }),
  /** Relative humidity of the workshop. */
  humidity: filled(number({ least: 5, most: 95, unit: '%' }), 50),
  /** s until threadlocker with activator holds. */
  threadlock: filled(seconds(0, DAY), 600),
  /** mm kept between adhesive and what has to stay free. */
  margin: filled(mm(0, 10), 1),
  /**
   * A pressure-decay tester: the air within the device, the hose and itself, ml, by how much that may be wrong (a tenth where
   * it is not said), and the most that may leak, ml/min; `null`: none.
   */
  tester: maybe(
    record({
      millilitres: number({ above: 0, most: 10_000, unit: 'ml' }),
      millilitresHalf: optional(number({ least: 0, most: 10_000, unit: 'ml' })),
      limit: number({ above: 0, most: 1000, unit: 'ml/min' }),
    }),
  ),
});
export interface ClosingBench extends Of<typeof closingBenchFormat> {}

export const CLOSING_BENCH: ClosingBench = completed(closingBenchFormat, {});

/** A tester as the simulated one is. Origin: own choice. */
export const USUAL_TESTER = { millilitres: 40, limit: 0.5 } as const;
