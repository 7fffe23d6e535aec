import type { Model } from '../../anatomy/index.ts';
import type { Reason } from '../graph/reasons.ts';
import type { Phase, Step } from '../types.ts';

/** A step before it is numbered and placed. */
export type Draft = Omit<
  Step,
  'id' | 'n' | 'mirrors' | 'live' | 'face' | 'depth' | 'waitsFor' | 'starts' | 'because'
> & {
  face?: Step['face'];
  because: Reason[];
};

export function draft(phase: Phase, verb: Step['do'], items: string[], rest: Partial<Draft> = {}): Draft {
  return {
    phase,
    do: verb,
    items,
    tool: null,
    seconds: 0,
    waits: 0,
    because: [],
    cautions: [],
    gate: null,
    hint: [],
    heat: null,
    ...rest,
  };
}

export function joinsCell(model: Model, joins: readonly string[]): boolean {
  return joins.some((id) => model.parts.get(id)?.kind === 'battery');
}

/** What every step of one bundle has in common. */
export type Base = Pick<Draft, 'because' | 'tool'>;
