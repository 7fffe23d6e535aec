import { quoted, type Quoted } from '../message/index.ts';
import { PLAIN_REASONS, plain, relation, rule, type PlainReason, type Reason, type Relation } from './graph/reasons.ts';
import { RULES } from './ruleNames.ts';
import type { Loss, Plan, Step } from './types.ts';

/*
 * `nibrel.plan/1`, as jobs of before keep it: its reasons, hints, losses and changes were sentences. They are shown as they stand.
 */

type StepOne = Omit<Step, 'because' | 'hint'> & { because: string[]; hint: string };
type LossOne = Omit<Loss, 'because' | 'remedy'> & { because: string; remedy: string };
export type PlanOne = Omit<Plan, 'schema' | 'steps' | 'losses' | 'changes'> & {
  schema: 'nibrel.plan/1';
  steps: StepOne[];
  losses: LossOne[];
  changes: string[];
};

/** How the text of a relation was built around the item it names. */
const RELATIONS: Record<Relation, readonly [before: string, after: string]> = {
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
};
const PLAIN: Record<PlainReason, string> = {
  target: 'target',
  suspect: 'looked at',
  houseRules: 'house rules',
  opensFirst: 'opens first',
  nextFace: 'next face',
  mayBeDamaged: 'renew if damaged',
  doneAlready: 'done already',
  doneBefore: 'done before it',
};
const ORDER = 'order: ';

/** The reason that such a plan gave in `text`; what is in no words of that format is quoted. */
function readReason(text: string): Reason {
  const named = RULES.find((name) => name === text);
  if (named) return rule(named);
  const bare = PLAIN_REASONS.find((why) => PLAIN[why] === text);
  if (bare) return plain(bare);
  if (text.startsWith(ORDER)) return { why: 'quoted', words: text.slice(ORDER.length).replace(/\.$/, '') };
  // The longest wording that fits is meant: "lies on the flex of c1" is not "lies on" something.
  const fitting = (Object.entries(RELATIONS) as [Relation, readonly [string, string]][])
    .filter(
      ([, [before, after]]) =>
        text.startsWith(before) && text.endsWith(after) && text.length > before.length + after.length,
    )
    .sort((a, b) => b[1][0].length - a[1][0].length);
  const best = fitting[0];
  if (!best) return { why: 'quoted', words: text };
  const [name, [before, after]] = best;
  return relation(name, text.slice(before.length, text.length - after.length));
}

const said = (words: string): Quoted => ({ code: 'quoted', words });

/** A plan as it is kept, brought up to `nibrel.plan/2`; one that is so already is handed back. */
export function currentPlan(plan: Plan | PlanOne): Plan {
  if (plan.schema === 'nibrel.plan/2') return plan;
  return {
    ...plan,
    schema: 'nibrel.plan/2',
    steps: plan.steps.map((s) => ({ ...s, because: s.because.map(readReason), hint: quoted(s.hint) })),
    losses: plan.losses.map((l) => ({ ...l, because: said(l.because), remedy: said(l.remedy) })),
    changes: plan.changes.map(said),
  };
}
