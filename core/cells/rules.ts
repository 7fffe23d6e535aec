import { completed, filled, keyed, list, maybe, number, record, text, type Of } from '../format/index.ts';

const words = (most: number) => text({ trimmed: true, least: 1, most });

/** A weld that the shop's own machine has proved on coupons. */
const weldRecord = record({
  machine: words(80),
  /** What is set, in the machine's own words. */
  setting: words(200),
  /** The strip that is welded, in words: nickel, its width and thickness. */
  strip: words(80),
  /** N at which each coupon came off. */
  coupons: list(number({ least: 0, most: 1000, unit: 'N' }), { most: 50 }),
  date: text({ written: [/^\d{4}-\d\d-\d\d$/, 'a day, as 2026-01-31'] }),
  by: words(80),
});
export interface WeldRecord extends Of<typeof weldRecord> {}

/** What a shop that moves cells to their old protection boards has settled. No default stands for any of it. */
const transplantRules = record({
  /** Who the lead has marked as trained for it. */
  trained: list(words(80), { once: true, most: 50 }),
  /** N that a weld must bear when it is pulled. */
  pull: number({ above: 0, most: 500, unit: 'N' }),
  welds: list(weldRecord, { most: 50 }),
});
export interface TransplantRules extends Of<typeof transplantRules> {}

/** What a shop has settled about cells. */
export const cellRulesFormat = record({
  /** V that devices charge one cell to, by anatomy, where the shop has read it from a label. */
  chargeVolts: filled(keyed(text({ most: 64 }), number({ least: 2, most: 5, unit: 'V' })), {}),
  /** Where it may be done at all; `null`: it is not offered. */
  transplant: maybe(transplantRules),
});
export interface CellRules extends Of<typeof cellRulesFormat> {}

export const CELL_RULES: CellRules = completed(cellRulesFormat, {});

/** Coupons that prove a setting. Origin: own choice; one may hold by chance. */
export const FEWEST_COUPONS = 3;
