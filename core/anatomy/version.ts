import { laterThan } from '../format/index.ts';
import { anatomyFormat, type Anatomy } from './format.ts';
import type { AnatomySchema } from './lists.ts';

/** Fields and kinds that only `nibrel.anatomy/2` has, where a document uses them: paths into it. */
export const usesOfSecond = (anatomy: Anatomy): string[] =>
  laterThan(anatomyFormat, 1, anatomy).filter((path) => path !== 'schema');

/** The least version that holds what a document says: older readers take what they can read. */
export const versionOf = (anatomy: Anatomy): AnatomySchema =>
  usesOfSecond(anatomy).length > 0 ? 'nibrel.anatomy/2' : 'nibrel.anatomy/1';
