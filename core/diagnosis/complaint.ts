import type { Model } from '../anatomy/index.ts';

/** What a customer says, in kinds that point at something. */
export const SYMPTOMS = {
  dead: 'Dead: shows nothing',
  'no-charge': 'Does not charge',
  drains: 'Empty too soon',
  restarts: 'Restarts or hangs',
  hot: 'Gets hot',
  water: 'Was wet',
  fails: 'Some function fails',
} as const;
export type Symptom = keyof typeof SYMPTOMS;

/** Sorts of causes before a device was opened. */
export const SORTS = ['charger', 'port-dirt', 'software', 'cell', 'plug', 'part', 'board', 'water'] as const;
export type Sort = (typeof SORTS)[number];

/** One thing that may be behind a complaint. */
export interface Likely {
  id: string;
  sort: Sort;
  /** The item that it is in; `null` for what is outside the device or nowhere in it. */
  item: string | null;
  odds: number;
  /** Parts that would be replaced for it; empty where nothing is. */
  replace: string[];
  /** Items that would be looked at first. */
  look: string[];
}

export interface Complaint {
  symptoms: readonly Symptom[];
  /** Functions that failed when they were tried at the counter, and those that passed. */
  failed: readonly string[];
  passed: readonly string[];
  /** Checks that were made, with what came of them. */
  checks: Partial<Record<CheckId, string>>;
}

/** How much each sort of cause weighs behind a symptom. Origin: own estimate from facts of the trade; no odds are published. */
const BEHIND: Record<Symptom, Partial<Record<Sort, number>>> = {
  dead: { charger: 10, 'port-dirt': 8, software: 8, cell: 24, plug: 4, part: 14, board: 18, water: 8 },
  'no-charge': { charger: 22, 'port-dirt': 24, software: 4, cell: 10, plug: 4, part: 20, board: 8, water: 5 },
  drains: { charger: 3, software: 22, cell: 58, board: 8, water: 3 },
  restarts: { software: 30, cell: 34, plug: 4, board: 18, water: 6 },
  hot: { software: 28, cell: 22, part: 6, board: 26, water: 8 },
  water: { 'port-dirt': 6, cell: 8, plug: 10, part: 18, board: 24, water: 60 },
  fails: { 'port-dirt': 5, software: 9, plug: 16, part: 58, board: 8, water: 4 },
};

/** Odds that a part which a failed function rests on is still not what is wrong when another of its functions works. */
const WORKS_OTHERWISE = 0.3;

export const CHECKS = {
  restart: { name: 'Safe restart', minutes: 3, outcomes: { helps: 'It helps', not: 'No change' }, opens: false },
  'other-charger': {
    name: 'Another charger and cable',
    minutes: 2,
    outcomes: { helps: 'It charges', not: 'No change' },
    opens: false,
  },
  'clean-port': {
    name: 'Clean the port and meshes',
    minutes: 5,
    outcomes: { helps: 'It helps', not: 'No change' },
    opens: false,
  },
  'press-plug': {
    name: 'Press where the plugs lie',
    minutes: 1,
    outcomes: { changes: 'It comes and goes', not: 'No change' },
    opens: false,
  },
  'liquid-look': {
    name: 'Look at the liquid indicator',
    minutes: 1,
    outcomes: { wet: 'Changed colour', dry: 'Dry' },
    opens: false,
  },
  'start-current': {
    name: 'Current at the start, on the bench supply',
    minutes: 6,
    outcomes: { normal: 'Normal', none: 'Draws nothing', short: 'Short', loops: 'Loops' },
    opens: false,
  },
  'other-cell': {
    name: 'Another cell on the bench supply',
    minutes: 15,
    outcomes: { helps: 'It runs', not: 'No change' },
    opens: true,
  },
} as const;
export type CheckId = keyof typeof CHECKS;
export const CHECK_IDS = Object.keys(CHECKS) as CheckId[];

/** P(outcome | sort); what is not named goes by `else`. Origin: own estimate. */
const TELLS: Record<CheckId, { [sort in Sort | 'else']?: readonly number[] }> = {
  restart: { software: [0.7, 0.3], else: [0.04, 0.96] },
  'other-charger': { charger: [0.95, 0.05], 'port-dirt': [0.12, 0.88], else: [0.02, 0.98] },
  'clean-port': { 'port-dirt': [0.85, 0.15], charger: [0.02, 0.98], else: [0.03, 0.97] },
  'press-plug': { plug: [0.6, 0.4], part: [0.08, 0.92], board: [0.08, 0.92], else: [0.01, 0.99] },
  'liquid-look': { water: [0.85, 0.15], board: [0.12, 0.88], else: [0.04, 0.96] },
  'start-current': {
    board: [0.3, 0.2, 0.3, 0.2],
    water: [0.3, 0.15, 0.4, 0.15],
    cell: [0.8, 0.08, 0.02, 0.1],
    software: [0.5, 0.02, 0.01, 0.47],
    else: [0.93, 0.03, 0.02, 0.02],
  },
  'other-cell': { cell: [0.93, 0.07], plug: [0.1, 0.9], else: [0.03, 0.97] },
};

export const outcomesOf = (check: CheckId): string[] => Object.keys(CHECKS[check].outcomes);

/** P(outcome of a check | a cause of this sort). @throws Error for an outcome that the check does not have */
export function likelihoodOf(check: CheckId, outcome: string, sort: Sort): number {
  const at = outcomesOf(check).indexOf(outcome);
  if (at < 0)
    throw new Error(`"${outcome}" is no outcome of "${CHECKS[check].name}"; it has ${outcomesOf(check).join(', ')}`);
  return (TELLS[check][sort] ?? TELLS[check].else!)[at]!;
}

/** What may be behind a complaint, before any check: one cause is taken to be behind it, whichever it is. */
function candidatesOf(model: Model, { symptoms, failed, passed }: Complaint): (Likely & { weight: number })[] {
  const { anatomy } = model;
  const told = symptoms.length > 0 ? symptoms : (['fails'] as const);
  const weightOf = (sort: Sort) =>
    told.reduce((product, s) => product * ((BEHIND[s][sort] ?? 1) / 100), 1) ** (1 / told.length);
  const cell = anatomy.parts.find((p) => p.kind === 'battery');
  const board = anatomy.parts.find((p) => p.kind === 'board');
  const bears = (functions: readonly string[]) => functions.some((f) => failed.includes(f));
  const charging = (f: string) => /charg/.test(f);
  const concerned = (functions: readonly string[]) =>
    failed.length > 0
      ? bears(functions)
      : told.includes('no-charge')
        ? functions.some(charging)
        : told.includes('dead')
          ? functions.some((f) => f === 'picture' || f === 'power')
          : functions.length > 0;
  const works = (functions: readonly string[]) => (functions.some((f) => passed.includes(f)) ? WORKS_OTHERWISE : 1);
  const parts = anatomy.parts.filter(
    (p) => !p.fixed && p.kind !== 'battery' && p.kind !== 'board' && concerned(p.functions),
  );
  const plugs = anatomy.connectors.filter((c) => concerned(c.carries));
  const list: (Likely & { weight: number })[] = [];
  const add = (id: string, sort: Sort, item: string | null, weight: number, rest: Partial<Likely> = {}) =>
    list.push({ id, sort, item, odds: 0, replace: [], look: [], ...rest, weight });
  for (const sort of ['charger', 'port-dirt', 'software', 'water'] as const) add(sort, sort, null, weightOf(sort));
  if (cell) add('cell', 'cell', cell.id, weightOf('cell'), { replace: [cell.id] });
  if (board) add('board', 'board', board.id, weightOf('board') * works(board.functions), { replace: [board.id] });
  const shared = (
    sort: Sort,
    of: readonly { id: string; functions: readonly string[] }[],
    rest: (id: string) => Partial<Likely>,
  ) => {
    const weights = of.map(
      (p) => works(p.functions) * Math.max(1, p.functions.filter((f) => failed.includes(f)).length),
    );
    const sum = weights.reduce((a, b) => a + b, 0);
    of.forEach((p, i) =>
      add(`${sort}:${p.id}`, sort, p.id, (weightOf(sort) * weights[i]!) / Math.max(1, sum), rest(p.id)),
    );
  };
  shared('part', parts, (id) => ({ replace: [id] }));
  shared(
    'plug',
    plugs.map((c) => ({ id: c.id, functions: c.carries })),
    (id) => ({ look: [id] }),
  );
  return list;
}

/** The likeliest causes of a complaint with their odds, likeliest first; the odds add up to one. */
export function likelyCauses(model: Model, complaint: Complaint): Likely[] {
  const list = candidatesOf(model, complaint).map(({ weight, ...cause }) => {
    const checked = (Object.entries(complaint.checks) as [CheckId, string][]).reduce(
      (product, [check, outcome]) => product * likelihoodOf(check, outcome, cause.sort),
      1,
    );
    return { ...cause, odds: weight * checked };
  });
  const sum = list.reduce((total, c) => total + c.odds, 0);
  return list.map((c) => ({ ...c, odds: c.odds / sum })).sort((a, b) => b.odds - a.odds);
}

/** What one more check would tell. */
export interface CheckValue {
  check: CheckId;
  minutes: number;
  /** Bits that it is expected to tell of which cause it is. */
  bits: number;
  /** Probability of each of its outcomes. */
  outcomes: Record<string, number>;
}

const entropy = (odds: readonly number[]): number => odds.reduce((sum, p) => (p > 0 ? sum - p * Math.log2(p) : sum), 0);

/**
 * The checks that are left, the one that tells most for its minutes first: expected information (Lindley 1956, from
 * memory) by the minute.
 */
export function worthChecking(model: Model, complaint: Complaint): CheckValue[] {
  const causes = likelyCauses(model, complaint);
  const now = entropy(causes.map((c) => c.odds));
  return CHECK_IDS.filter((check) => complaint.checks[check] === undefined)
    .map((check): CheckValue => {
      const outcomes: Record<string, number> = {};
      let after = 0;
      for (const outcome of outcomesOf(check)) {
        const joint = causes.map((c) => c.odds * likelihoodOf(check, outcome, c.sort));
        const p = joint.reduce((a, b) => a + b, 0);
        outcomes[outcome] = p;
        if (p > 0) after += p * entropy(joint.map((j) => j / p));
      }
      return { check, minutes: CHECKS[check].minutes, bits: now - after, outcomes };
    })
    .sort((a, b) => b.bits / b.minutes - a.bits / a.minutes);
}

/** What cleaning is worth after liquid, and when to say no (common practice). */
export const WATER_ADVICE =
  'Do not charge it and do not switch it on. Corrosion all over the board is rarely worth cleaning: try it once with ' +
  'contact cleaner, and try it for power before anything else is spent. A wet or corroded cell is never used again.';
