import { GATE_RULES, LAW_RULES, WORK_RULES, type RuleName } from '../kinds/index.ts';

export type { CraftName, GateId, LawName, RuleName } from '../kinds/index.ts';

export const GATES = GATE_RULES.kinds;
/** Every rule that a step can stand for (docs/formats and README). */
export const RULES: readonly RuleName[] = [...LAW_RULES.kinds, ...WORK_RULES.kinds, ...GATES];
