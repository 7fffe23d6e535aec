import { functionsOfKind } from './functions.ts';
import type { Anatomy, Bond, Connector, Fastener, Latch, Part, Spare } from './types.ts';

/**
 * Fields that the format gained after its first documents, with their defaults. A stored anatomy without them means
 * the same as before; `anatomySchema` gives a document that is read the same values.
 */
const PART: Pick<Part, 'curved' | 'leaves' | 'enters' | 'pryAt'> = {
  curved: false,
  leaves: null,
  enters: null,
  pryAt: null,
};
const FASTENER: Pick<Fastener, 'layer' | 'alternatives'> = { layer: null, alternatives: [] };
const CONNECTOR: Pick<Connector, 'flex' | 'liesOver' | 'shape'> = { flex: null, liesOver: [], shape: '' };
const BOND: Pick<Bond, 'face' | 'layer' | 'flex' | 'staysOn'> = {
  face: null,
  layer: null,
  flex: null,
  staysOn: null,
};
const LATCH: Pick<Latch, 'alsoAt' | 'letsGo'> = { alsoAt: [], letsGo: 'pried' };
const SPARE: Pick<Spare, 'brings'> = { brings: [] };

/** The list with missing fields filled in, and the very same list where none is missing. */
function filled<T extends object>(list: T[], fields: Partial<T>): T[] {
  const names = Object.keys(fields) as (keyof T)[];
  const lacks = (item: T) => names.some((name) => item[name] === undefined);
  return list.some(lacks) ? list.map((item) => (lacks(item) ? { ...fields, ...item } : item)) : list;
}

function withGaps(parts: Part[]): Part[] {
  const lacks = (p: Part) => p.swing !== null && p.swing.gap === undefined;
  return parts.some(lacks) ? parts.map((p) => (lacks(p) ? { ...p, swing: { ...p.swing!, gap: null } } : p)) : parts;
}

/** The anatomy with every field of the format; the same object where none is missing. */
export function completed(anatomy: Anatomy): Anatomy {
  const next = {
    parts: withGaps(filled(anatomy.parts, PART)),
    fasteners: filled(anatomy.fasteners, FASTENER),
    connectors: filled(anatomy.connectors, CONNECTOR),
    bonds: filled(anatomy.bonds, BOND),
    latches: filled(anatomy.latches, LATCH),
    spares: filled(anatomy.spares, SPARE),
    // What nobody has listed is tested all the same.
    functions: anatomy.functions.length > 0 ? anatomy.functions : functionsOfKind(anatomy.kind),
  };
  const changed = (Object.keys(next) as (keyof typeof next)[]).some((group) => next[group] !== anatomy[group]);
  return changed ? { ...anatomy, ...next } : anatomy;
}
