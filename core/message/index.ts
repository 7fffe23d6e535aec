import { own, type Shape } from '../format/index.ts';
import { messageSchema } from './schema.ts';

/** What a message is about: ids, numbers, words that somebody wrote, or what else there is to say within it. */
export type Argument =
  | string
  | number
  | boolean
  | null
  | readonly string[]
  | readonly number[]
  | Message
  | readonly Message[];

/**
 * Something that the program has to say: a code, and what it is about. No branch reads a sentence; sentences are made of codes
 * in `words/`, at the edge, and in whatever language is read there.
 */
export type Message = { readonly code: string } & { readonly [argument: string]: Argument };

/** Words that somebody wrote, or that a program of before has kept: they are shown as they stand, and never read. */
export interface Quoted {
  readonly code: 'quoted';
  readonly words: string;
}

/** Is the same said twice? Arguments stand in the order in which a code is written down. */
export const sameMessage = (a: { code: string } | null, b: { code: string } | null): boolean =>
  JSON.stringify(a) === JSON.stringify(b);

/** @returns nothing for no words */
export const quoted = (words: string): Quoted[] => (words === '' ? [] : [{ code: 'quoted', words }]);

/** A message in a format: any code is read, and told by its code where it is none of ours. */
export const message = <M>(): Shape<M> => own(messageSchema);

export { messageSchema };
