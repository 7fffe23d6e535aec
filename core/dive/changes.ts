import type { Quoted } from '../message/index.ts';
import type { PartingReason } from './hints.ts';
import type { CraftName } from './ruleNames.ts';

/** What good work asks for and no order of a dive keeps: it is given up, and said. */
export type Concession =
  | { code: 'isolates-later' | 'left-loose' | 'left-unproved' | 'left-hanging' | 'heated-beside' }
  | { code: 'rule-not-kept'; rule: CraftName; item: string };

/** What a plan does otherwise than the house, or good work, would have it. */
export type Change =
  | Quoted
  | Concession
  | { code: 'other-tool' | 'other-by-hand'; tool: string; what: 'heat' | 'firstGap' | 'pressing'; instead: string }
  | { code: 'no-heat-source' | 'no-solvent-dropper' | 'word-for-word' | 'nothing-opened' };

/** Why something is lost. */
export type LossReason =
  | Quoted
  | { code: 'paired'; part: string; item: string }
  | { code: 'seal-opened'; ingress: string }
  | { code: 'cut-cold'; item: string; why: PartingReason }
  | { code: 'new-cell-old-board'; part: string }
  | { code: 'storage-on-board' };

/** What can be done about a loss. */
export type Remedy = Quoted | { code: 'new-seal' | 'cold-cell' | 'cold-panel' | 'cell-not-makers' | 'copy-data' };

const CONCESSIONS: Readonly<Record<Concession['code'], true>> = {
  'isolates-later': true,
  'left-loose': true,
  'left-unproved': true,
  'left-hanging': true,
  'heated-beside': true,
  'rule-not-kept': true,
};

/** Is something of good work given up in a plan? Its laws hold all the same. */
export const givesUp = ({ changes }: { changes: readonly Change[] }): boolean =>
  changes.some(({ code }) => Object.hasOwn(CONCESSIONS, code));
