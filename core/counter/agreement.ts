import { moneyOf, type Money } from './money.ts';

export const DATA_CHOICES = ['saved', 'may-be-lost', 'not-touched'] as const;
export type DataChoice = (typeof DATA_CHOICES)[number];
export const UNFINISHED_CHOICES = ['close-as-it-is', 'keep-and-call', 'recycle'] as const;
export type UnfinishedChoice = (typeof UNFINISHED_CHOICES)[number];

/** What a customer agrees to for one version of one plan. */
export interface AgreementTerms {
  /** Functions that the dive loses. */
  losses: string[];
  /** Most that it may cost, tax included; `null` for no limit. */
  limit: Money | null;
  currency: string;
  data: DataChoice;
  unfinished: UnfinishedChoice;
  /** Of the text, BCP 47. */
  language: 'en';
}

/** Is a price more than the limit that was agreed? */
export const isOverLimit = (price: Money | null, limit: Money | null): boolean =>
  price !== null && limit !== null && moneyOf(price).gt(limit);

/** A stroke of a pen: points in px of the pad, with the time of each in ms. */
export interface Stroke {
  points: { x: number; y: number; time: number }[];
}

/** Length of line that a signature must at least have, px of a pad 600 wide. Origin: own choice; a dot or a slip is none. */
const LEAST_INK = 60;
export const PAD = { width: 600, height: 160 } as const;

/** @returns why these strokes are no signature; `null` when they are one */
export function signatureFault(strokes: readonly Stroke[]): string | null {
  let ink = 0;
  for (const { points } of strokes)
    for (let i = 1; i < points.length; i++)
      ink += Math.hypot(points[i]!.x - points[i - 1]!.x, points[i]!.y - points[i - 1]!.y);
  if (strokes.length === 0 || ink === 0) return 'nobody has signed yet';
  return ink < LEAST_INK ? 'this is too little to be a signature; sign again' : null;
}
