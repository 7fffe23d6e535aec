import type { Finding, Grade } from './health.ts';

/** How a cell came off its glue. */
export const REMOVALS = ['loose', 'tabs', 'solvent', 'pried-plastic', 'pried-metal', 'heat'] as const;
export type Removal = (typeof REMOVALS)[number];

/** What is seen of a cell. */
export const CELL_MARKS = [
  'swollen',
  'punctured',
  'leaking',
  'bent',
  'dented',
  'hot',
  'wrap-torn',
  'tab-torn',
] as const;
export type CellMark = (typeof CELL_MARKS)[number];

export const REMOVAL_WORDS: Record<Removal, string> = {
  loose: 'it lay loose, held by its edges',
  tabs: 'its tabs were pulled, and none snapped',
  solvent: 'lifted by hand after solvent',
  'pried-plastic': 'levered with plastic',
  'pried-metal': 'levered with metal',
  heat: 'heated, then levered',
};
export const MARK_WORDS: Record<CellMark, string> = {
  swollen: 'swollen',
  punctured: 'punctured',
  leaking: 'leaking, or smelling sweet',
  bent: 'bent or creased',
  dented: 'dented',
  hot: 'hot',
  'wrap-torn': 'its wrap is torn',
  'tab-torn': 'a connection is torn',
};

export interface CellSeen {
  removal: Removal;
  marks: readonly CellMark[];
}

/** refit: it may go back; renew: a new one goes in, and this one is kept or recycled; unfit: it is no cell any more, but waste. */
export type CellVerdict = 'refit' | 'renew' | 'unfit';

export interface RefitDecision {
  verdict: CellVerdict;
  reasons: string[];
}

/** What makes a cell waste at once: a hurt one may fail hours later (common practice). */
const UNFIT: readonly CellMark[] = ['swollen', 'punctured', 'leaking', 'bent', 'dented', 'hot'];

/** What was measured of a cell, and its worst grade. */
export interface Measured {
  grade: Grade | null;
  findings: readonly Pick<Finding, 'of' | 'grade' | 'says'>[];
}

/**
 * May a cell that was taken out go back? Only one that nothing speaks against, and of which every measure that was taken is
 * good to its worse end: a doubtful cell is never offered back, so that
 * every doubt leads to a new one, and every hurt to the sand box.
 * @param house what the house does with a removed cell that has no fault
 * @param health what was measured of it, and its worst grade; `null` where nothing was
 */
export function refitOf(seen: CellSeen, health: Measured, house: 'never-refit' | 'refit-if-flawless'): RefitDecision {
  const told = (grade: Grade) =>
    health.findings.filter((f) => f.grade === grade).map((f) => `Measured, ${f.of}: ${f.says}.`);
  const hurt = seen.marks.filter((m) => UNFIT.includes(m));
  if (hurt.length > 0)
    return {
      verdict: 'unfit',
      reasons: [
        ...hurt.map((m) => `It is ${MARK_WORDS[m]}: that cannot be made good, and it may fail hours later.`),
        'Into the sand box with it; never charged, never shipped ordinarily.',
      ],
    };
  if (seen.removal === 'pried-metal')
    return {
      verdict: 'unfit',
      reasons: [
        'It was levered with metal: a layer within may be pierced where nobody sees it. Into the sand box with it.',
      ],
    };
  if (health.grade === 'bad') return { verdict: 'unfit', reasons: told('bad') };
  const doubts: string[] = [];
  if (house === 'never-refit') doubts.push('The house never refits a cell that was taken out.');
  if (seen.removal === 'pried-plastic' || seen.removal === 'heat')
    doubts.push(`It was ${REMOVAL_WORDS[seen.removal]}: nobody can see that it was not bent on the way.`);
  for (const m of seen.marks)
    doubts.push(
      `${MARK_WORDS[m].charAt(0).toUpperCase()}${MARK_WORDS[m].slice(1)}: what insulates or connects it is hurt.`,
    );
  doubts.push(...told('worn'), ...told('cannot-tell'));
  if (doubts.length > 0) return { verdict: 'renew', reasons: doubts };
  return {
    verdict: 'refit',
    reasons: [
      `Flawless to the eye, and ${REMOVAL_WORDS[seen.removal]}.`,
      health.grade === 'good' ? 'What was measured is good.' : 'Nothing was measured of it: its age is not known.',
    ],
  };
}
