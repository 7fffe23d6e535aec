import { IntlMessageFormat } from 'intl-messageformat';
import { once } from '../core/once/index.ts';

type Value = string | number | boolean;

const parsed = new Map<string, IntlMessageFormat>();

/**
 * An ICU message with its arguments filled in.
 * @throws Error naming an argument that the message asks for and is not given
 */
export function fill(tag: string, text: string, values: Readonly<Record<string, Value>>): string {
  const message = once(
    parsed,
    `${tag} ${text}`,
    () => new IntlMessageFormat(text, tag, undefined, { ignoreTag: true }),
  );
  return message.format(values as Record<string, Value>) as string;
}

const lists = new Map<string, Intl.ListFormat>();

/** `a, b and c` */
export const listOf = (tag: string, words: readonly string[]): string =>
  once(lists, tag, () => new Intl.ListFormat(tag, { type: 'conjunction' })).format(words);
