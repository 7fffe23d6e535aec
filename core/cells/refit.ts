import type { Finding, Grade } from './health.ts';
import type { RefitMessage } from './messages.ts';

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

export interface CellSeen {
  removal: Removal;
  marks: readonly CellMark[];
}

/** refit: it may go back; renew: a new one goes in, and this one is kept or recycled; unfit: it is no cell any more, but waste. */
export type CellVerdict = 'refit' | 'renew' | 'unfit';

export interface RefitDecision {
  verdict: CellVerdict;
  reasons: RefitMessage[];
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
    health.findings
      .filter((f) => f.grade === grade)
      .map((f): RefitMessage => ({ code: 'measured-of', measure: f.of, finding: f.says }));
  const hurt = seen.marks.filter((m) => UNFIT.includes(m));
  if (hurt.length > 0)
    return {
      verdict: 'unfit',
      reasons: [...hurt.map((mark): RefitMessage => ({ code: 'cell-is-hurt', mark })), { code: 'sand-box-with-it' }],
    };
  if (seen.removal === 'pried-metal')
    return {
      verdict: 'unfit',
      reasons: [{ code: 'levered-with-metal' }],
    };
  if (health.grade === 'bad') return { verdict: 'unfit', reasons: told('bad') };
  const doubts: RefitMessage[] = [];
  if (house === 'never-refit') doubts.push({ code: 'house-never-refits' });
  if (seen.removal === 'pried-plastic' || seen.removal === 'heat')
    doubts.push({ code: 'cell-levered', removal: seen.removal });
  for (const mark of seen.marks) doubts.push({ code: 'insulation-hurt', mark });
  doubts.push(...told('worn'), ...told('cannot-tell'));
  if (doubts.length > 0) return { verdict: 'renew', reasons: doubts };
  return {
    verdict: 'refit',
    reasons: [
      { code: 'cell-flawless', removal: seen.removal },
      { code: health.grade === 'good' ? 'measured-good' : 'nothing-measured' },
    ],
  };
}
