import Joi from 'joi';

const code = Joi.string()
  .pattern(/^[A-Za-z0-9-]+$/)
  .max(40);

/** Messages lie within one another no deeper than this. Origin: why a bond is cut cold, how a load is put on. */
const DEEPEST = 1;

/** Words of an argument, and entries of a list. Origin: own choice, beyond what any note or device has. */
const LONGEST = 4000;
const MOST = 400;

/** A code and what it is about. */
export function messageSchema(deepest = DEEPEST): Joi.ObjectSchema {
  const words = Joi.string().allow('').max(LONGEST);
  const plain = [words, Joi.number(), Joi.boolean(), Joi.valid(null)];
  const lists = [Joi.array().items(words).max(MOST), Joi.array().items(Joi.number()).max(MOST)];
  const nested =
    deepest > 0
      ? [
          messageSchema(deepest - 1),
          Joi.array()
            .items(messageSchema(deepest - 1))
            .max(MOST),
        ]
      : [];
  return Joi.object({ code: code.required() }).pattern(
    /^[A-Za-z]+$/,
    Joi.alternatives().try(...plain, ...lists, ...nested),
  );
}
