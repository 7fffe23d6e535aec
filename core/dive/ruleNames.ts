/** Laws of the dive (docs/formats). */
export const LAWS = ['A1', 'A2', 'A3', 'A4', 'A5', 'A6', 'A7'] as const;
export type LawName = (typeof LAWS)[number];

export const GATES = ['G1', 'G2', 'G3', 'G4', 'G5', 'G6', 'G7'] as const;
export type GateId = (typeof GATES)[number];

/** The rules of good work, in the order of docs/decisions/0013: what a technician who signs a plan never does. */
export const CRAFT = [
  'R1',
  'R2',
  'R3',
  'R4',
  'R5',
  'R6',
  'R7',
  'R8',
  'R9',
  'R10',
  'R11',
  'R12',
  'R13',
  'R14',
  'R15',
  'R16',
  'R17',
  'R18',
  'R19',
  'R20',
  'R21',
  'R22',
  'R23',
  'R24',
  'R25',
  'R26',
  'R27',
  'R28',
  'R29',
] as const;
export type CraftName = (typeof CRAFT)[number];

/** Every rule that a step can stand for (docs/formats and README). */
export type RuleName = LawName | CraftName | GateId;
export const RULES: readonly RuleName[] = [...LAWS, ...CRAFT, ...GATES];
