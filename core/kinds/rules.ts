import { table, type KindOf } from '../format/index.ts';

/** Where a rule is kept: by whoever plans, by the judge, and the test of its name. What it says stands in `words/`. */
export interface RuleFacts {
  planned: string;
  judged: string;
  tested: string;
}

/** Laws of the dive (docs/formats/meaning.md): what breaks one is refused, in plans and in the run. */
export const LAW_RULES = table<RuleFacts>('law')({
  A1: { planned: 'core/dive/graph/stepGraph.ts', judged: 'core/judge/wayIn.ts', tested: 'core/dive/rules.test.ts' },
  A2: { planned: 'core/dive/graph/stepGraph.ts', judged: 'core/judge/wayIn.ts', tested: 'core/dive/rules.test.ts' },
  A3: { planned: 'core/dive/return/returns.ts', judged: 'core/judge/wayIn.ts', tested: 'core/dive/rules.test.ts' },
  A4: { planned: 'core/dive/graph/stepGraph.ts', judged: 'core/judge/wayIn.ts', tested: 'core/dive/rules.test.ts' },
  A5: { planned: 'core/dive/order/blades.ts', judged: 'core/judge/checker.ts', tested: 'core/dive/rules.test.ts' },
  A6: { planned: 'core/dive/order/prepare.ts', judged: 'core/judge/wayIn.ts', tested: 'core/dive/rules.test.ts' },
  A7: { planned: 'core/dive/return/returns.ts', judged: 'core/judge/wayBack.ts', tested: 'core/dive/rules.test.ts' },
});
export type LawName = KindOf<typeof LAW_RULES>;

/** What has to be proved before what lies over it goes back, or before the device is closed or handed over. */
export const GATE_RULES = table<RuleFacts>('gate')({
  G1: { planned: 'core/dive/return/ledger.ts', judged: 'core/judge/wayBack.ts', tested: 'core/dive/rules.test.ts' },
  G2: { planned: 'core/dive/return/ledger.ts', judged: 'core/judge/wayBack.ts', tested: 'core/dive/rules.test.ts' },
  G3: { planned: 'core/dive/return/returns.ts', judged: 'core/judge/wayBack.ts', tested: 'core/dive/rules.test.ts' },
  G4: { planned: 'core/dive/return/returns.ts', judged: 'core/judge/wayBack.ts', tested: 'core/dive/rules.test.ts' },
  G5: { planned: 'core/dive/return/returns.ts', judged: 'core/judge/wayBack.ts', tested: 'core/dive/rules.test.ts' },
  G6: { planned: 'core/dive/order/works.ts', judged: 'core/judge/replay.ts', tested: 'core/dive/rules.test.ts' },
  G7: { planned: 'core/dive/order/works.ts', judged: 'core/judge/checker.ts', tested: 'core/dive/rules.test.ts' },
});
export type GateId = KindOf<typeof GATE_RULES>;

/** The rules of good work, in the order of docs/decisions/0013: what a technician who signs a plan never does. */
export const WORK_RULES = table<RuleFacts>('rule of good work')({
  R1: { planned: 'core/dive/order/wayBack.ts', judged: 'core/judge/craft/power.ts', tested: 'core/dive/craft.test.ts' },
  R2: {
    planned: 'core/dive/return/returns.ts',
    judged: 'core/judge/checker.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R3: {
    planned: 'core/dive/return/returns.ts',
    judged: 'core/judge/craft/power.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R4: {
    planned: 'core/dive/order/habits.ts',
    judged: 'core/judge/craft/holding.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R5: { planned: 'core/dive/plan.ts', judged: 'core/judge/craft/holding.ts', tested: 'core/dive/craft.test.ts' },
  R6: { planned: 'core/dive/order/guards.ts', judged: 'core/judge/craft/bonds.ts', tested: 'core/dive/craft.test.ts' },
  R7: {
    planned: 'core/dive/house/bondKinds.ts',
    judged: 'core/judge/craft/bonds.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R8: {
    planned: 'core/dive/order/guards.ts',
    judged: 'core/judge/craft/holding.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R9: {
    planned: 'core/dive/house/bondKinds.ts',
    judged: 'core/judge/craft/bonds.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R10: {
    planned: 'core/dive/return/returns.ts',
    judged: 'core/judge/craft/bonds.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R11: { planned: 'core/dive/graph/stepGraph.ts', judged: 'core/judge/needless.ts', tested: 'core/dive/craft.test.ts' },
  R12: {
    planned: 'core/dive/order/bundles.ts',
    judged: 'core/judge/craft/places.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R13: {
    planned: 'core/dive/order/prepare.ts',
    judged: 'core/judge/craft/power.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R14: { planned: 'core/dive/entry/seam.ts', judged: 'core/judge/craft/bonds.ts', tested: 'core/dive/craft.test.ts' },
  R15: {
    planned: 'core/dive/return/returns.ts',
    judged: 'core/judge/wayBack.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R16: {
    planned: 'core/dive/return/returns.ts',
    judged: 'core/judge/craft/power.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R17: {
    planned: 'core/dive/order/wayBack.ts',
    judged: 'core/judge/craft/power.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R18: { planned: 'core/closing/press.ts', judged: 'core/judge/craft/bonds.ts', tested: 'core/dive/craft.test.ts' },
  R19: {
    planned: 'core/dive/report/outcome.ts',
    judged: 'core/judge/craft/places.ts',
    tested: 'core/dive/craft.test.ts',
  },
  R20: {
    planned: 'core/dive/entry/parting.ts',
    judged: 'core/judge/craft/bonds.ts',
    tested: 'core/dive/entry/heating.test.ts',
  },
  R21: {
    planned: 'core/dive/entry/parting.ts',
    judged: 'core/judge/craft/bonds.ts',
    tested: 'core/dive/entry/heating.test.ts',
  },
  R22: {
    planned: 'core/dive/house/bondKinds.ts',
    judged: 'core/judge/craft/bearing.ts',
    tested: 'core/dive/second.test.ts',
  },
  R23: {
    planned: 'core/dive/entry/parting.ts',
    judged: 'core/judge/craft/bearing.ts',
    tested: 'core/dive/second.test.ts',
  },
  R24: {
    planned: 'core/dive/graph/stepGraph.ts',
    judged: 'core/judge/craft/bearing.ts',
    tested: 'core/dive/second.test.ts',
  },
  R25: { planned: 'core/heat/half.ts', judged: 'core/judge/craft/bearing.ts', tested: 'core/dive/second.test.ts' },
  R26: {
    planned: 'core/dive/order/habits.ts',
    judged: 'core/judge/craft/holding.ts',
    tested: 'core/dive/rulesOfWork.test.ts',
  },
  R27: {
    planned: 'core/dive/order/habits.ts',
    judged: 'core/judge/craft/power.ts',
    tested: 'core/dive/rulesOfWork.test.ts',
  },
  R28: {
    planned: 'core/dive/graph/stepGraph.ts',
    judged: 'core/judge/craft/power.ts',
    tested: 'core/dive/rulesOfWork.test.ts',
  },
  R29: {
    planned: 'core/dive/order/habits.ts',
    judged: 'core/judge/craft/holding.ts',
    tested: 'core/dive/rulesOfWork.test.ts',
  },
});
export type CraftName = KindOf<typeof WORK_RULES>;

/** Every rule that a step can stand for. */
export type RuleName = LawName | CraftName | GateId;
export const RULE_TABLES = [LAW_RULES, WORK_RULES, GATE_RULES] as const;
