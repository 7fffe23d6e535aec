import { setTimeout as pause } from 'node:timers/promises';
import { createHash } from 'node:crypto';
import {
  ESTIMATED,
  ESTIMATED_OTHER,
  moneyOf,
  type Offer,
  type PartsSupplier,
  type SpareAsked,
} from '../../core/counter/index.ts';

/** How long a stand-in takes to answer, ms. Origin: own choice, enough to see that it is waited for. */
const ANSWERS_AFTER = 60;

/** Whole numbers from a name: the same one always gives the same, as a supplier's list would. */
const numbersOf = (name: string): Buffer => createHash('sha256').update(name).digest();

/** What the stand-in would say of a spare: a price around the usual one, a stock, and days on the road. All made up. */
export function madeUpOffer(anatomy: string, { id, kind }: SpareAsked): Offer {
  const bytes = numbersOf(`${anatomy}/${id}`);
  const usual = moneyOf(ESTIMATED[kind] ?? ESTIMATED_OTHER);
  const price = usual.times(70 + (bytes[0]! % 61)).div(100);
  return { spare: id, price: price.toFixed(2), stock: bytes[1]! % 9, days: 1 + (bytes[2]! % 4) };
}

/** A supplier of parts that stands in for one: it has everything that is asked for, and says that it is simulated. */
export function simulatedSupplier(answersAfter = ANSWERS_AFTER): PartsSupplier {
  return {
    name: 'Parts by the quay',
    simulated: true,
    async offers(anatomy, spares) {
      await pause(answersAfter);
      return spares.map((spare) => madeUpOffer(anatomy, spare));
    },
  };
}
