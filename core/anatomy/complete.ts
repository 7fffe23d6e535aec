import * as format from '../format/index.ts';
import { anatomyFormat, type Anatomy } from './format.ts';
import { functionsOfKind } from './functions.ts';

/** The anatomy with every field of the format; the same object where none is missing. A stored one means the same as before. */
export function completed(anatomy: Anatomy): Anatomy {
  const full = format.completed<Anatomy>(anatomyFormat, anatomy);
  // What nobody has listed is tested all the same.
  return full.functions.length > 0 ? full : { ...full, functions: functionsOfKind(full.kind) };
}
