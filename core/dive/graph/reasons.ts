import { CRAFT, GATES, LAWS, type CraftName, type GateId, type LawName } from '../types.ts';

/** The rules that a step can stand for (docs/formats and README). */
export type RuleName = LawName | CraftName | GateId;

/** How the text of a relation is built around the item it names. */
const RELATIONS = {
  covers: ['covers ', ''],
  carries: ['carries ', ''],
  foldsOver: ['folds over ', ''],
  gap: ['lets in a tool to ', ''],
  holdsFlex: ['holds down the flex of ', ''],
  standsIn: ['stands in ', ''],
  tilts: ['tilts to reach ', ''],
  liesOn: ['lies on ', ''],
  goesBefore: ['goes before ', ''],
  holds: ['holds ', ''],
  holdsRim: ['holds the rim of ', ''],
  joins: ['joins ', ''],
  liesOnFlex: ['lies on the flex of ', ''],
  movesFrom: ['moves from ', ' to the spare'],
  returns: ['returns ', ''],
  fresh: ['new ', ''],
  renews: ['renew ', ''],
  singleUse: ['single use ', ''],
} as const;
export type Relation = keyof typeof RELATIONS;

const PLAIN = {
  target: 'target',
  suspect: 'looked at',
  houseRules: 'house rules',
  opensFirst: 'opens first',
  nextFace: 'next face',
  mayBeDamaged: 'renew if damaged',
  doneAlready: 'done already',
  doneBefore: 'done before it',
} as const;
export type PlainReason = keyof typeof PLAIN;

const RULES: ReadonlySet<string> = new Set<RuleName>([...LAWS, ...CRAFT, ...GATES]);

/** Why a step is there, as data. The plan format keeps it as the text that `writeReason` makes of it. */
export type Reason =
  | { why: 'rule'; rule: RuleName }
  | { why: 'relation'; relation: Relation; item: string }
  | { why: 'order'; words: string }
  | { why: PlainReason };

export const rule = (name: RuleName): Reason => ({ why: 'rule', rule: name });
export const relation = (name: Relation, item: string): Reason => ({ why: 'relation', relation: name, item });
export const plain = (why: PlainReason): Reason => ({ why });

const ORDER = 'order: ';

/** A reason in the words of the plan format: `covers battery-flex`, `A4`. */
export function writeReason(reason: Reason): string {
  switch (reason.why) {
    case 'rule':
      return reason.rule;
    case 'relation':
      return RELATIONS[reason.relation].join(reason.item);
    case 'order':
      return ORDER + reason.words;
    default:
      return PLAIN[reason.why];
  }
}

/** The reason that a plan gives in `text`, or `null` when it is in no words of the format. */
export function readReason(text: string): Reason | null {
  if (RULES.has(text)) return rule(text as RuleName);
  for (const [why, words] of Object.entries(PLAIN)) if (words === text) return plain(why as PlainReason);
  if (text.slice(0, ORDER.length) === ORDER) return { why: 'order', words: text.slice(ORDER.length) };
  // The longest wording that fits is meant: "lies on the flex of c1" is not "lies on" something.
  const fitting = Object.entries(RELATIONS).filter(
    ([, [before, after]]) =>
      text.slice(0, before.length) === before && text.endsWith(after) && text.length > before.length + after.length,
  );
  fitting.sort((a, b) => b[1][0].length - a[1][0].length);
  const best = fitting[0];
  if (!best) return null;
  const [name, [before, after]] = best;
  return relation(name as Relation, text.slice(before.length, text.length - after.length));
}

/** The same reasons, each once, in their order. */
export function uniqueReasons(reasons: readonly Reason[]): Reason[] {
  const seen = new Set<string>();
  return reasons.filter((reason) => {
    const text = writeReason(reason);
    if (seen.has(text)) return false;
    seen.add(text);
    return true;
  });
}
