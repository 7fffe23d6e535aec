import type { Part } from '../anatomy/index.ts';

/** What may be wrong with something that a dive has touched, or that was wrong before it. */
export const CAUSES = [
  'not-seated',
  'dirty',
  'torn',
  'pinched',
  'wrong-screw',
  'loose',
  'left-out',
  'broken',
  'spare-bad',
  'was-bad-before',
] as const;
export type CauseKind = (typeof CAUSES)[number];

/** What may be found wrong with an item of a type when it is looked at, the commonest first. Origin: the rates below. */
export const FOUND_ON: Record<'connector' | 'part' | 'fastener' | 'bond' | 'latch', readonly CauseKind[]> = {
  connector: ['not-seated', 'dirty', 'torn', 'pinched', 'was-bad-before'],
  part: ['spare-bad', 'broken', 'was-bad-before'],
  fastener: ['loose', 'wrong-screw'],
  bond: ['left-out'],
  latch: ['loose'],
};

export interface Chance {
  /** How often, for one item that was handled once. */
  rate: number;
  /** How likely it brings down a function that rests on the item. */
  strength: number;
  /** How many cases the rate is worth against those of the shop. */
  weight: number;
  /** Where the numbers come from. */
  origin: string;
}

/**
 * How often each thing goes wrong when an item is handled once, and what it does. Origin of all: own estimate from
 * facts of the trade (a plug not fully seated is the usual reason for lines and dead cameras; a spare may be bad),
 * since no published rates are known; each is worth `weight` cases, and the shop's own cases count beside them.
 */
export const CHANCES: Record<CauseKind, Chance> = {
  'not-seated': {
    rate: 0.03,
    strength: 0.9,
    weight: 60,
    origin: 'own estimate; the commonest fault (common practice)',
  },
  dirty: { rate: 0.008, strength: 0.55, weight: 60, origin: 'own estimate' },
  torn: { rate: 0.01, strength: 0.9, weight: 60, origin: 'own estimate' },
  pinched: { rate: 0.01, strength: 0.7, weight: 60, origin: 'own estimate' },
  'wrong-screw': { rate: 0.003, strength: 0.6, weight: 120, origin: 'own estimate; rare where screws lie in wells' },
  loose: { rate: 0.004, strength: 0.5, weight: 120, origin: 'own estimate' },
  'left-out': { rate: 0.006, strength: 0.3, weight: 60, origin: 'own estimate' },
  broken: { rate: 0.008, strength: 0.8, weight: 60, origin: 'own estimate' },
  'spare-bad': { rate: 0.05, strength: 0.85, weight: 40, origin: 'own estimate; spares of mixed sources' },
  'was-bad-before': { rate: 0.01, strength: 0.85, weight: 60, origin: 'own estimate' },
};

/** How much oftener or rarer a part of a kind suffers from being handled. Origin: own estimate; glass and film break. */
export const FRAILTY: Partial<Record<Part['kind'], number>> = {
  display: 2,
  lens: 1.5,
  flex: 1.5,
  sensor: 1.2,
  cover: 0.8,
  bracket: 0.3,
  shield: 0.3,
  frame: 0.1,
  tray: 0.3,
};

/** Share of an effect that a fault of a board has on what only passes over it. Origin: own estimate. */
export const ACROSS_BOARD = 0.3;
/** Share of an effect on what passes through a part by its plugs, but is none of its own functions. Origin: own estimate. */
export const PASSING = 0.8;

/** A test that is judged by a person: how often it is judged wrongly. Origin: own estimate. */
export const ERRORS = { falseFail: 0.02, falsePass: 0.05 } as const;

/** Chance that a function fails for no cause of the network: software, a wrong judgement twice. Origin: own estimate. */
export const LEAK = 0.004;

/** Factors on the odds of a cause by what the run has recorded of its item. Origin: own estimate. */
export const TELLTALE = {
  /** The cause itself was recorded, and nothing says that it was put right. */
  recorded: 60,
  /** Something near to it was recorded. */
  hinted: 6,
  /** The torque driver did not end as it should. */
  torque: 8,
  /** The step took more than twice as long as planned. */
  slow: 2,
} as const;

/** How much longer than planned counts as slow, and from how many s on. Origin: own choice. */
export const SLOW = { times: 2.5, least: 60 } as const;

/** s to look at an item that is laid bare and to try it once more. Origin: own estimates of the bench. */
export const LOOK = { connector: 25, part: 90, fastener: 15, bond: 20, latch: 15, retest: 30 } as const;

/** Share of the rate of old faults for a plug, and for a part that does nothing by itself. Origin: own estimate. */
export const OLD_SHARE = { plug: 0.25, idle: 0.1 } as const;

/** Share of the rate of breaking for a part that was worked beside, but neither taken off nor pried. Origin: own estimate. */
export const BESIDE = 0.3;

/** How likely the part that is replaced was what was wrong. Origin: own estimate; shops are mostly right. */
export const OLD_PART = 0.8;

/** What is left of the odds of a cause once somebody has looked and found the item sound. Origin: own estimate. */
export const OVERLOOKED = 0.03;
