import Joi from 'joi';

const code = Joi.string()
  .pattern(/^[A-Za-z0-9-]+$/)
  .max(40);

/** Messages lie within one another no deeper than this. Origin: why a bond is cut cold, how a load is put on. */
const DEEPEST = 1;

/** A code and what it is about. */
export function messageSchema(deepest = DEEPEST): Joi.ObjectSchema {
  const words = Joi.string().allow('');
  const plain = [words, Joi.number(), Joi.boolean(), Joi.valid(null)];
  const lists = [Joi.array().items(words), Joi.array().items(Joi.number())];
  const nested = deepest > 0 ? [messageSchema(deepest - 1), Joi.array().items(messageSchema(deepest - 1))] : [];
  return Joi.object({ code: code.required() }).pattern(
    /^[A-Za-z]+$/,
    Joi.alternatives().try(...plain, ...lists, ...nested),
  );
}
