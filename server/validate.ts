import type { Context } from 'hono';
import type Joi from 'joi';
import { sumText } from '../core/counter/index.ts';
import { joiOf } from '../core/format/index.ts';
import { faultsOfJoi } from '../core/anatomy/index.ts';
import { Problem } from './problem.ts';

/** A sum or a rate: not below zero, with at most four digits after the point. */
export const decimal = joiOf(sumText);

/** Deepest nesting of lists and objects that is read. Origin: own choice; a plan has eight. */
export const DEEPEST_JSON = 64;

/** Is a text nested deeper than that? Counted along it, without reading it, so that no depth is too much to count. */
export function isTooDeep(text: string, deepest = DEEPEST_JSON): boolean {
  let depth = 0;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    if (c === 0x22) {
      // A string: what stands in it nests nothing.
      for (i++; i < text.length && text.charCodeAt(i) !== 0x22; i++) if (text.charCodeAt(i) === 0x5c) i++;
    } else if (c === 0x5b || c === 0x7b) {
      if (++depth > deepest) return true;
    } else if (c === 0x5d || c === 0x7d) depth--;
  }
  return false;
}

/** The JSON body of a request, validated. @throws Problem 400 or 422 with each fault and its path */
export async function bodyOf<T>(c: Context, schema: Joi.Schema): Promise<T> {
  let document: unknown;
  try {
    const text = await c.req.text();
    if (isTooDeep(text)) throw new Problem(400, { error: `the request is nested deeper than ${DEEPEST_JSON} levels` });
    document = JSON.parse(text);
  } catch (error) {
    if (error instanceof Problem) throw error;
    throw new Problem(400, { error: 'the request is not JSON' });
  }
  return checked(document, schema);
}

export function checked<T>(document: unknown, schema: Joi.Schema): T {
  const { error, value } = schema.validate(document, { abortEarly: false, convert: false });
  if (error) {
    const faults = faultsOfJoi(error);
    throw new Problem(422, { error: `${faults[0]!.path}: ${faults[0]!.message}`, faults });
  }
  return value as T;
}
