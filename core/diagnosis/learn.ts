import { CAUSES, CHANCES, type CauseKind } from './chances.ts';
import type { Rates } from './afterDive.ts';

/** Cases of the shop: how often an item was handled that can have a cause, and how often it had it. */
export type Cases = Partial<Record<CauseKind, { handled: number; guilty: number }>>;

/** A Beta distribution of a rate. */
export interface Beta {
  a: number;
  b: number;
}

/** What is believed of a rate before any case: the table's rate, worth its weight in cases. */
export const priorOf = (kind: CauseKind): Beta => {
  const { rate, weight } = CHANCES[kind];
  return { a: rate * weight, b: (1 - rate) * weight };
};

/**
 * What is believed after the cases: Beta with Bernoulli trials is Beta again (Gelman et al., Bayesian Data Analysis,
 * ch. 2, from memory).
 * @throws Error when more were guilty than were handled, or a count is below 0
 */
export function learntOf(prior: Beta, { handled, guilty }: { handled: number; guilty: number }): Beta {
  if (!(guilty >= 0 && handled >= guilty)) throw new Error(`${guilty} guilty of ${handled} handled cannot be`);
  return { a: prior.a + guilty, b: prior.b + handled - guilty };
}

export const meanOf = ({ a, b }: Beta): number => a / (a + b);

/** Rates as the shop's own cases have moved them. */
export function ratesOf(cases: Cases): Rates {
  const rates: Rates = {};
  for (const kind of CAUSES) {
    const own = cases[kind];
    if (own) rates[kind] = meanOf(learntOf(priorOf(kind), own));
  }
  return rates;
}
