import Joi from 'joi';
import { anything, choice, either, list, number, own, record, seenTo, text, type Of } from '../format/index.ts';
import { DEVICE_FIELDS } from './deviceFields.ts';
import { GROUPS, type AnyEntry } from './references.ts';

const id = text({ least: 1, most: 64 });
const group = choice(GROUPS);
const place = number({ whole: true, least: 0, most: 1000 });
/** Whether it fits is looked at where it is put (`shapeFaults`). */
const entry = own<AnyEntry>(() => Joi.object({ id: Joi.string().min(1).max(64).required() }).unknown(true));
/** What stood there, or stands there then; what the document does not have is left out. */
const value = seenTo(anything);

/** One change, with what was there before: read backwards it is its own inverse. */
const change = either([
  record({ do: choice(['set']), group, id, field: text({ most: 40 }), from: value, to: value }),
  record({ do: choice(['add']), group, entry, index: place }),
  record({ do: choice(['remove']), group, entry, index: place }),
  record({ do: choice(['rename']), group, from: id, to: id }),
  record({ do: choice(['device']), field: choice(DEVICE_FIELDS), from: value, to: value }),
]);
export type Change = Of<typeof change>;

/** What one act of a hand changes, all of it or none. Most changes in one: what a drawing or a table changes at once. */
export const editFormat = record({
  id: text({ least: 8, most: 64 }),
  /** What was done, for the list of what can be undone: `Move u3`. */
  label: text({ blank: true, most: 200 }),
  changes: list(change, { most: 2000 }),
});
export interface Edit extends Omit<Of<typeof editFormat>, 'changes'> {
  changes: readonly Change[];
}
