import type { Step } from '../core/dive/index.ts';
import { itemWise } from '../core/run/index.ts';

/** What a step is about, for its colour and its shape. */
export type Trade = 'screw' | 'connector' | 'bond' | 'part' | 'heat' | 'gate' | 'test' | 'hand';

export function tradeOf(step: Pick<Step, 'do'>): Trade {
  const one = itemWise(step);
  if (one !== null) return one;
  switch (step.do) {
    case 'bend-aside':
      return 'connector';
    case 'gap':
    case 'cut':
    case 'pull':
    case 'release':
    case 'bond':
    case 'remove-liner':
    case 'press':
    case 'cure':
    case 'solvent':
      return 'bond';
    case 'ease':
    case 'swing':
    case 'lift':
    case 'fit':
    case 'transfer':
    case 'eject':
    case 'renew':
      return 'part';
    case 'heat':
      return 'heat';
    case 'gate':
      return 'gate';
    case 'try':
    case 'confirm-loss':
    case 'power-on':
      return 'test';
    default:
      return 'hand';
  }
}

export const TRADE_COLOUR: Record<Trade, string> = {
  screw: 'var(--brass)',
  connector: 'var(--teal)',
  bond: 'var(--mauve)',
  part: 'var(--petrol)',
  heat: 'var(--ember)',
  gate: 'var(--ink)',
  test: 'var(--moss)',
  hand: 'var(--quiet)',
};
