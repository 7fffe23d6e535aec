import type Joi from 'joi';
import type { Table } from './table.ts';

declare const typed: unique symbol;

/** What may stand at one place of a format. Its type, its reader, its JSON Schema, its limits and its choices follow from it. */
export interface Shape<T = unknown> {
  /** Only the compiler sees it: what the place holds once it is read. */
  readonly [typed]?: T;
  readonly what: What;
  /** `null` may stand here. */
  readonly none?: true;
  /** What stands here where a document leaves it out. */
  readonly filled?: { readonly by: unknown };
  /** The version of the format that brought it, where that is not the first. */
  readonly since?: number;
}

/** A place that a document may leave out, and that then is not there. */
export interface Optional<T> extends Shape<T> {
  readonly leftOut: true;
}

/** Bounds of a number: at least, at most, more than; whole; and what it is counted in, for whoever asks for it. */
export interface Bounds {
  readonly least?: number;
  readonly most?: number;
  readonly above?: number;
  readonly whole?: true;
  readonly unit?: string;
}

/** Bounds of a text: its length, and how it is written, with the words that say so. `blank`: nothing may be written. */
export interface Lettering {
  readonly least?: number;
  readonly most?: number;
  readonly written?: readonly [RegExp, string];
  readonly blank?: true;
  /** Blanks around it do not count. */
  readonly trimmed?: true;
  /** An instant by ISO 8601, or a UUID. */
  readonly as?: 'instant' | 'uuid';
}

/** How many there may be in a list; `once`: none twice. */
export interface Size {
  readonly least?: number;
  readonly most?: number;
  readonly once?: true;
}

export type What =
  | { readonly is: 'text'; readonly of: Lettering }
  | { readonly is: 'number'; readonly of: Bounds }
  | { readonly is: 'yes' }
  | { readonly is: 'any' }
  | { readonly is: 'choice'; readonly of: () => readonly string[]; readonly since?: (kind: string) => number }
  | { readonly is: 'list'; readonly each: Shape; readonly of: Size }
  | { readonly is: 'row'; readonly each: readonly Shape[] }
  | { readonly is: 'record'; readonly fields: Fields }
  | { readonly is: 'keyed'; readonly key: Shape<string>; readonly each: Shape }
  | { readonly is: 'own'; readonly schema: () => Joi.Schema }
  | { readonly is: 'either'; readonly ways: readonly Shape[]; readonly must?: string };

export type Fields = { readonly [field: string]: Shape };

/** The type of what stands at a place. */
export type Of<S> = S extends Shape<infer T> ? T : never;
type Whole<F> = { [K in keyof F as F[K] extends Optional<unknown> ? never : K]: Of<F[K]> };
type Left<F> = { [K in keyof F as F[K] extends Optional<unknown> ? K : never]?: Of<F[K]> };
/** The type of a record of such fields. */
export type RecordOf<F> = Whole<F> & Left<F>;

export const text = (of: Lettering = {}): Shape<string> => ({ what: { is: 'text', of } });
export const number = (of: Bounds = {}): Shape<number> => ({ what: { is: 'number', of } });
export const yes: Shape<boolean> = { what: { is: 'yes' } };
export const anything: Shape<unknown> = { what: { is: 'any' } };

/**
 * One of a list, or of the kinds of a table as it stands when a document is read.
 * @param brought the version of the format that brought a kind, where not all are in the first
 */
export function choice<const K extends string>(
  of: readonly K[] | Pick<Table<K, unknown>, 'kinds'>,
  brought?: (kind: K) => number,
): Shape<K> {
  const kinds = 'kinds' in of ? () => of.kinds : () => of;
  return { what: { is: 'choice', of: kinds, ...(brought ? { since: brought as (kind: string) => number } : {}) } };
}

export const list = <T>(each: Shape<T>, of: Size = {}): Shape<T[]> => ({ what: { is: 'list', each, of } });

/** So many values in this order. */
export const row = <T extends readonly unknown[]>(...each: { [I in keyof T]: Shape<T[I]> }): Shape<[...T]> => ({
  what: { is: 'row', each },
});

export const record = <F extends Fields>(fields: F): Shape<RecordOf<F>> => ({ what: { is: 'record', fields } });

/** As many fields as there are, each with a name of its own. */
export const keyed = <T>(key: Shape<string>, each: Shape<T>): Shape<Record<string, T>> => ({
  what: { is: 'keyed', key, each },
});

/** One of several shapes; `must` says which, with `{{#label}}` for the place. */
export function either<S extends readonly Shape[]>(ways: S, must?: string): Shape<Of<S[number]>> {
  return { what: { is: 'either', ways, ...(must === undefined ? {} : { must }) } };
}

export const orNone = <T>(shape: Shape<T>): Shape<T | null> => ({ ...shape, none: true }) as Shape<T | null>;
/** A document may leave it out, and means this by it; a function makes it of what stands around it. */
export const filled = <T>(shape: Shape<T>, by: NoInfer<T> | ((around: never) => NoInfer<T>)): Shape<T> => ({
  ...shape,
  filled: { by },
});
/** It or `null`, which a document means where it leaves this out. */
export const maybe = <T>(shape: Shape<T>): Shape<T | null> => filled(orNone(shape), null);
export const optional = <T>(shape: Shape<T>): Optional<T> => ({ ...shape, leftOut: true });
/** A sender may leave it out; whoever takes it in sees to it that it is there. */
export const seenTo = <T>(shape: Shape<T>): Shape<T> => optional(shape);
/** What no shape of these says: a schema of one's own. */
export const own = <T>(schema: () => Joi.Schema): Shape<T> => ({ what: { is: 'own', schema } });
/** It came with a later version of its format; documents of before lack it. */
export const since = <T>(version: number, shape: Shape<T>): Optional<T> => optional({ ...shape, since: version });
