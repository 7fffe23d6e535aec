import type { RuleName } from '../ruleNames.ts';

/** How a step stands to the item it is asked for by. */
export const RELATIONS = [
  'covers',
  'carries',
  'foldsOver',
  'gap',
  'holdsFlex',
  'standsIn',
  'tilts',
  'liesOn',
  'goesBefore',
  'holds',
  'holdsRim',
  'joins',
  'liesOnFlex',
  'movesFrom',
  'returns',
  'fresh',
  'renews',
  'singleUse',
] as const;
export type Relation = (typeof RELATIONS)[number];

/** Reasons that name neither rule nor item. */
export const PLAIN_REASONS = [
  'target',
  'suspect',
  'houseRules',
  'opensFirst',
  'nextFace',
  'mayBeDamaged',
  'doneAlready',
  'doneBefore',
] as const;
export type PlainReason = (typeof PLAIN_REASONS)[number];

/** Why a step is there. `words` are those of the anatomy, or of a plan of before; nothing reads them. */
export type Reason =
  | { why: 'rule'; rule: RuleName }
  | { why: 'relation'; relation: Relation; item: string }
  | { why: 'order'; first: string; then: string; words: string }
  | { why: 'quoted'; words: string }
  | { why: PlainReason };

export const rule = (name: RuleName): Reason => ({ why: 'rule', rule: name });
export const relation = (name: Relation, item: string): Reason => ({ why: 'relation', relation: name, item });
export const plain = (why: PlainReason): Reason => ({ why });

/** Reasons with the same key are the same. */
export function reasonKey(reason: Reason): string {
  switch (reason.why) {
    case 'rule':
      return reason.rule;
    case 'relation':
      return `${reason.relation}:${reason.item}`;
    case 'order':
      return `order:${reason.first}:${reason.then}`;
    case 'quoted':
      return `quoted:${reason.words}`;
    default:
      return reason.why;
  }
}

/** The same reasons, each once, in their order. */
export function uniqueReasons(reasons: readonly Reason[]): Reason[] {
  const seen = new Set<string>();
  return reasons.filter((reason) => {
    const key = reasonKey(reason);
    if (seen.has(key)) return false;
    seen.add(key);
    return true;
  });
}
