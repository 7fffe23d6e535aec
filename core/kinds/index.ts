export { BONDS, laidAs, type BondFacts, type BondKind } from './bonds.ts';
export { CATCHES, type CatchFacts, type CatchKind } from './catches.ts';
export { CONNECTORS, type ConnectorFacts, type ConnectorKind } from './connectors.ts';
export { FASTENERS, type FastenerFacts, type FastenerKind } from './fasteners.ts';
export {
  GATE_RULES,
  LAW_RULES,
  RULE_TABLES,
  WORK_RULES,
  type CraftName,
  type GateId,
  type LawName,
  type RuleFacts,
  type RuleName,
} from './rules.ts';
export { TOOLS, type HandTool, type ToolFacts } from './tools.ts';
