import { functionIn, type Model } from '../anatomy/index.ts';
import type { CauseKind } from './chances.ts';
import type { Because, NextLook } from './suspects.ts';

export const CAUSE_WORDS: Record<CauseKind, string> = {
  'not-seated': 'not fully seated',
  dirty: 'contacts dirty',
  torn: 'flex torn',
  pinched: 'flex pinched',
  'wrong-screw': 'wrong screw in the hole',
  loose: 'not tight',
  'left-out': 'left out or not in its place',
  broken: 'broken',
  'spare-bad': 'the new part is bad',
  'was-bad-before': 'was bad before',
};

const list = (words: readonly string[]): string =>
  words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${words.at(-1)}` : (words[0] ?? '');

/** A reason for or against a suspect, in words. */
export function tellBecause(model: Model, because: Because): string {
  const names = (ids: readonly string[]) => list(ids.map((id) => functionIn(model.anatomy, id).name));
  switch (because.why) {
    case 'rests-on':
      return `${names(because.functions)} ${because.functions.length === 1 ? 'rests' : 'rest'} on it`;
    case 'works':
      return `but ${names(because.functions)} ${because.functions.length === 1 ? 'works' : 'work'}`;
    case 'handled':
      return `this dive put it back at step ${because.step}`;
    case 'spare':
      return 'it is new on this dive';
    case 'untouched':
      return 'this dive did not touch it';
    case 'told':
      return because.words;
    case 'sound':
      return 'it was looked at and found sound';
    default:
      return because satisfies never;
  }
}

/** What to look at next, in a sentence. */
export function tellNext(model: Model, next: NextLook): string {
  const minutes = Math.max(1, Math.round(next.seconds / 60));
  const again = next.retest.length > 0 ? 'Test again what failed before anything is opened. Then look' : 'Look';
  const opens = next.opens.filter((id) => id !== next.item);
  const way = opens.length === 0 ? 'it lies bare' : `${opens.length} to undo on the way`;
  return `${again} at ${model.nameOf(next.item)}: ${way}, about ${minutes} min there and back`;
}
