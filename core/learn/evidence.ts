/** How a relation is known. */
export type Grade = 'seen' | 'inferred' | 'guessed';

export const RELATION_KINDS = [
  'covers',
  'holds',
  'into',
  'joins',
  'from',
  'to',
  'within',
  'tether',
  'gap',
  'tilts',
  'before',
  'isolates',
] as const;
export type RelationKind = (typeof RELATION_KINDS)[number];

/** One thing that was learnt of two items: `of` holds, covers, joins ... `to`. */
export interface Evidence {
  relation: RelationKind;
  of: string;
  to: string;
  grade: Grade;
  /** Own estimate, 0 to 1; measured on simulated dives (docs/decisions/0017). */
  sure: number;
  why: string;
}

/** Own estimates, held against simulated dives by the tests. */
export const SURE: Record<Grade, number> = { seen: 0.995, inferred: 0.98, guessed: 0.6 };
