import Joi from 'joi';
import { faultsOfJoi, type Reading } from './faults.ts';
import type { Fields, Lettering, Bounds, Shape, Size } from './shape.ts';
import { tablesNow } from './table.ts';

const made = new WeakMap<Shape, { turn: number; schema: Joi.Schema }>();

/** The Joi schema of a shape, made once for as long as no table of kinds changes. */
export function joiOf(shape: Shape): Joi.Schema {
  const known = made.get(shape);
  if (known?.turn === tablesNow()) return known.schema;
  let schema = bare(shape);
  if (shape.none) schema = schema.allow(null);
  if (shape.filled) schema = schema.default(shape.filled.by as Joi.BasicType);
  made.set(shape, { turn: tablesNow(), schema });
  return schema;
}

/** As `joiOf`, for a place that a document may not leave out unless its shape says so. */
const placed = (shape: Shape): Joi.Schema =>
  shape.filled || 'leftOut' in shape ? joiOf(shape) : joiOf(shape).required();

function bare({ what }: Shape): Joi.Schema {
  switch (what.is) {
    case 'text':
      return lettered(what.of);
    case 'number':
      return bounded(what.of);
    case 'yes':
      return Joi.boolean();
    case 'any':
      return Joi.any();
    case 'choice':
      return Joi.string().valid(...what.of());
    case 'list':
      return sized(Joi.array().items(joiOf(what.each)), what.of);
    case 'row':
      return Joi.array()
        .ordered(...what.each.map(placed))
        .length(what.each.length);
    case 'record':
      return Joi.object(fieldsOf(what.fields));
    case 'keyed':
      return Joi.object().pattern(joiOf(what.key), joiOf(what.each));
    case 'own':
      return what.schema();
    case 'either': {
      const schema = Joi.alternatives().try(...what.ways.map(joiOf));
      return what.must === undefined ? schema : schema.messages({ 'alternatives.match': `{{#label}} ${what.must}` });
    }
    default:
      return what satisfies never;
  }
}

const fieldsOf = (fields: Fields): Record<string, Joi.Schema> =>
  Object.fromEntries(Object.entries(fields).map(([field, shape]) => [field, placed(shape)]));

function lettered({ least, most, written, blank, trimmed, as }: Lettering): Joi.Schema {
  let schema = Joi.string();
  if (as === 'instant') schema = schema.isoDate();
  if (as === 'uuid') schema = schema.guid();
  if (trimmed) schema = schema.trim();
  if (written) schema = schema.pattern(...written);
  if (least !== undefined) schema = schema.min(least);
  if (most !== undefined) schema = schema.max(most);
  return blank ? schema.allow('') : schema;
}

function bounded({ least, most, above, whole }: Bounds): Joi.Schema {
  let schema = Joi.number();
  if (whole) schema = schema.integer();
  if (above !== undefined) schema = above === 0 ? schema.positive() : schema.greater(above);
  if (least !== undefined) schema = schema.min(least);
  if (most !== undefined) schema = schema.max(most);
  return schema;
}

function sized(array: Joi.ArraySchema, { least, most, once }: Size): Joi.Schema {
  let schema = once ? array.unique() : array;
  if (least !== undefined) schema = schema.min(least);
  if (most !== undefined) schema = schema.max(most);
  return schema;
}

/**
 * Reads a document by its shape. Nothing is turned into something else: a number in quotes is a fault.
 * @returns the value with what was left out filled in, or every fault found, each with its path
 */
export function readAs<T>(shape: Shape<T>, document: unknown): Reading<T> {
  const { error, value } = joiOf(shape).validate(document, { abortEarly: false, convert: false });
  return error ? { ok: false, faults: faultsOfJoi(error) } : { ok: true, value: value as T };
}
