import { BONDS, FASTENERS } from '../kinds/index.ts';
import type { Anatomy, Bond } from './types.ts';

/**
 * What presses a gasket tight: the screws that are told, or else, of one that neither softens nor gives to solvent, whatever
 * screws and catches hold its part. Such a gasket is lifted with its part and laid with it. Empty for every adhesive.
 */
export function pressedBy({ parts, fasteners, latches }: Anatomy, bond: Bond): string[] {
  if (bond.compressedBy !== undefined) return bond.compressedBy;
  if (!BONDS.of(bond.kind).pressed || bond.softensAt !== null || bond.solvent) return [];
  const fixed = new Set(parts.filter((p) => p.fixed).map((p) => p.id));
  const held = (id: string) => bond.joins.includes(id) && !fixed.has(id);
  return [
    ...fasteners.filter((f) => !FASTENERS.of(f.kind).seat && f.holds.some(held)),
    ...latches.filter((l) => l.joins.some(held)),
  ].map(({ id }) => id);
}
