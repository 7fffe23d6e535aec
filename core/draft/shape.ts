import Joi from 'joi';
import { anatomyFormat, type Anatomy } from '../anatomy/index.ts';
import { faultsOfJoi, joiOf, place, type Fault } from '../format/index.ts';
import { touchedBy, type Edit } from './edits.ts';
import { GROUPS } from './references.ts';

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
