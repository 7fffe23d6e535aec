import type { Anatomy, AnatomySchema } from './types.ts';

/** Fields and kinds that only `nibrel.anatomy/2` has, where a document uses them: paths into it. */
export function usesOfSecond(anatomy: Anatomy): string[] {
  const uses: string[] = [];
  for (const field of ['cells', 'rails', 'bodies', 'hinge'] as const) if (anatomy[field]) uses.push(field);
  anatomy.parts.forEach((p, i) => {
    if (p.limits) uses.push(`parts[${i}].limits`);
    if (p.body) uses.push(`parts[${i}].body`);
  });
  anatomy.fasteners.forEach((f, i) => {
    if (f.kind === 'cap' || f.kind === 'plug' || f.kind === 'press-fit') uses.push(`fasteners[${i}].kind`);
  });
  anatomy.connectors.forEach((c, i) => {
    if (c.isolates) uses.push(`connectors[${i}].isolates`);
  });
  anatomy.bonds.forEach((b, i) => {
    if (b.compressedBy) uses.push(`bonds[${i}].compressedBy`);
  });
  return uses;
}

/** The least version that holds what a document says: older readers take what they can read. */
export const versionOf = (anatomy: Anatomy): AnatomySchema =>
  usesOfSecond(anatomy).length > 0 ? 'nibrel.anatomy/2' : 'nibrel.anatomy/1';
