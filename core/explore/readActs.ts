import { faultsOfJoi, joiOf, type Reading } from '../format/index.ts';
import { actsFormat, type ActFile } from './format.ts';

/** Reads a field dive from a file. The faults name the act and the field: `acts[4].seen.at`. */
export function readActs(document: unknown): Reading<ActFile> {
  const { error, value } = joiOf(actsFormat).validate(document, {
    abortEarly: false,
    errors: { wrap: { label: false } },
  });
  return error ? { ok: false, faults: faultsOfJoi(error) } : { ok: true, value: value as ActFile };
}
