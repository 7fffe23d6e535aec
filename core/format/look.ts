import type { Bounds, Lettering, Shape, What } from './shape.ts';

/** A place in a format, found by its fields: `place(anatomy, 'bonds', 'softensAt')`. Lists and choices are looked into. */
export function place(shape: Shape, ...path: readonly string[]): Shape {
  const [field, ...rest] = path;
  if (field === undefined) return shape;
  const { what } = shape;
  if (what.is === 'list' || what.is === 'keyed') return place(what.each, ...path);
  if (what.is === 'record') {
    const found = what.fields[field];
    if (found) return place(found, ...rest);
  }
  if (what.is === 'row') return place(what.each[Number(field)] ?? unknown(field), ...rest);
  if (what.is === 'either')
    for (const way of what.ways)
      if (way.what.is === 'record' && way.what.fields[field]) return place(way.what.fields[field], ...rest);
  return unknown(field);
}

function unknown(field: string): never {
  throw new RangeError(`the format has no field ${field}`);
}

function as<I extends What['is']>(shape: Shape, is: I): Extract<What, { is: I }> {
  if (shape.what.is !== is) throw new TypeError(`this is ${shape.what.is}, not ${is}`);
  return shape.what as Extract<What, { is: I }>;
}

/** The bounds of a number, or of each in a list of them, for a form or an option of the command line. */
export const boundsOf = (shape: Shape): Bounds =>
  shape.what.is === 'list' ? boundsOf(shape.what.each) : as(shape, 'number').of;
export const letteringOf = (shape: Shape): Lettering => as(shape, 'text').of;
/** What may be chosen, as the tables stand now. */
export const choicesOf = (shape: Shape): readonly string[] => as(shape, 'choice').of();
/** Does a number stand within its bounds? */
export const isWithin = (
  { least = -Infinity, most = Infinity, above = -Infinity, whole }: Bounds,
  value: number,
): boolean => value >= least && value <= most && value > above && (!whole || Number.isInteger(value));
