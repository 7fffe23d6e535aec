import type { Context } from 'hono';
import Joi from 'joi';
import { faultsOfJoi } from '../core/anatomy/index.ts';
import { Problem } from './problem.ts';

/** A sum or a rate: not below zero, with at most four digits after the point. */
export const decimal = Joi.string().pattern(/^\d{1,9}(\.\d{1,4})?$/);

/** The JSON body of a request, validated. @throws Problem 400 or 422 with each fault and its path */
export async function bodyOf<T>(c: Context, schema: Joi.Schema): Promise<T> {
  let document: unknown;
  try {
    document = await c.req.json();
  } catch {
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
