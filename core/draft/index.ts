export {
  GROUPS,
  mentionsOf,
  NAMESPACE,
  REFERENCES,
  renamedMentions,
  type AnyEntry,
  type Entry,
  type Group,
  type Mention,
  type Namespace,
} from './references.ts';
export {
  applied,
  Clash,
  DEVICE_FIELDS,
  editBetween,
  inverseEdit,
  merged,
  takenIds,
  touchedBy,
  type Change,
  type DeviceField,
  type Edit,
} from './edits.ts';
export { asksOf, cellsApart, foldedAt, type Ask } from './asks.ts';
export { NO_HISTORY, redone, undone, withDone, type History } from './history.ts';
export { differences, inWords, type Difference } from './words.ts';
export { same } from './same.ts';
export { placeIn, workable } from './workable.ts';
export { relationsOf, type Relations } from './relations.ts';
export { editFormat } from './format.ts';
export { shapeFaults } from './shape.ts';
export { freeId, newEntry } from './entries.ts';
export { USUAL_FUNCTIONS } from '../anatomy/index.ts';
