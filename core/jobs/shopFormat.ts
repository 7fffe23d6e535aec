import { DEFAULT_TILL, tillFormat } from '../counter/index.ts';
import { choice, filled, list, number, orNone, record, text, type Of } from '../format/index.ts';

const time = text({ written: [/^([01]\d|2[0-3]):[0-5]\d$/, 'a time of day, as 09:00'] });
const lines = text({ trimmed: true, blank: true, most: 400 });

/** Hours of one day of the week, `HH:MM`; `null` is closed. */
const opening = orNone(record({ from: time, to: time }));

const usual = {
  warrantyMonths: 6,
  keptDays: 730,
  disposal: 'Take old cells to a licensed collection point; they never go into household waste.',
};

/** What a shop says of itself. */
export const shopFormat = record({
  name: text({ trimmed: true, least: 1, most: 80 }),
  address: lines,
  /** Monday first. */
  hours: list(opening, { least: 7, most: 7 }),
  paper: choice(['A4', 'Letter']),
  /** Folder for the daily backup; empty for none. */
  backupFolder: lines,
  /** How many daily backups are kept. */
  backupsKept: number({ whole: true, least: 1, most: 400 }),
  till: filled(tillFormat, DEFAULT_TILL),
  /** Months for which the shop answers for its work. */
  warrantyMonths: filled(number({ whole: true, least: 0, most: 120 }), usual.warrantyMonths),
  /** Days after the last job is over that a customer is erased; the record is kept without a name. */
  keptDays: filled(number({ whole: true, least: 30, most: 7300 }), usual.keptDays),
  /** Where old cells go, by the local rules, as it stands on the record. */
  disposal: filled(lines, usual.disposal),
});
export interface ShopSettings extends Of<typeof shopFormat> {}
export type OpeningHours = ShopSettings['hours'];

/** Origin: own choice; a shop of one bench on weekdays, a fortnight of backups, half a year of warranty, two years of names. */
export const DEFAULT_SHOP: ShopSettings = {
  name: 'My bench',
  address: '',
  hours: [1, 2, 3, 4, 5, 6, 7].map((day) => (day <= 5 ? { from: '09:00', to: '17:00' } : null)),
  paper: 'A4',
  backupFolder: '',
  backupsKept: 14,
  till: DEFAULT_TILL,
  ...usual,
};
