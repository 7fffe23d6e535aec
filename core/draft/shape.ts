import Joi from 'joi';
import { anatomyFormat, type Anatomy } from '../anatomy/index.ts';
import { faultsOfJoi, joiOf, place, type Fault } from '../format/index.ts';
import { DEVICE_FIELDS, touchedBy, type Edit } from './edits.ts';
import { GROUPS } from './references.ts';

const value = Joi.any();
const id = Joi.string().min(1).max(64);
const group = Joi.string().valid(...GROUPS);
const change = Joi.alternatives().try(
  Joi.object({
    do: Joi.valid('set').required(),
    group: group.required(),
    id: id.required(),
    field: Joi.string().max(40).required(),
    from: value,
    to: value,
  }),
  Joi.object({
    do: Joi.valid('add', 'remove').required(),
    group: group.required(),
    entry: Joi.object({ id: id.required() }).unknown(true).required(),
    index: Joi.number().integer().min(0).max(1000).required(),
  }),
  Joi.object({ do: Joi.valid('rename').required(), group: group.required(), from: id.required(), to: id.required() }),
  Joi.object({
    do: Joi.valid('device').required(),
    field: Joi.string()
      .valid(...DEVICE_FIELDS)
      .required(),
    from: value,
    to: value,
  }),
);

/** An edit as it is sent. Most changes in one: what a drawing or a table changes at once. */
export const editSchema = Joi.object({
  id: Joi.string().min(8).max(64).required(),
  label: Joi.string().max(200).allow('').required(),
  changes: Joi.array().items(change).max(2000).required(),
});

/**
 * What is not of the format in what an edit has touched. A draft may say what cannot be; it may not be shaped like
 * something else.
 */
export function shapeFaults(anatomy: Anatomy, edit: Pick<Edit, 'changes'>): Fault[] {
  const touched = new Set(touchedBy(edit));
  const faults: Fault[] = [];
  for (const g of GROUPS) {
    const schema = joiOf(place(anatomyFormat, g));
    anatomy[g].forEach((entry, i) => {
      if (!touched.has(entry.id)) return;
      const { error } = schema.validate([entry], { abortEarly: false, convert: false });
      if (error)
        faults.push(...faultsOfJoi(error).map((f) => ({ ...f, path: `${g}${f.path.replace(/^\[0\]/, `[${i}]`)}` })));
    });
    const { error } = Joi.array().max(600).validate(anatomy[g]);
    if (error) faults.push({ path: g, message: 'has more than 600 entries' });
  }
  for (const c of edit.changes) {
    if (c.do !== 'device') continue;
    const { error } = joiOf(place(anatomyFormat, c.field)).validate(anatomy[c.field], {
      abortEarly: false,
      convert: false,
    });
    if (error)
      faults.push(
        ...faultsOfJoi(error).map((f) => ({ ...f, path: f.path === '(document)' ? c.field : `${c.field}.${f.path}` })),
      );
  }
  return faults;
}
