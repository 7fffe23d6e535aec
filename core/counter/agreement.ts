import { functionIn, type Model } from '../anatomy/index.ts';
import type { Plan } from '../dive/index.ts';
import { moneyOf, tellMoney, type Money } from './money.ts';

export const DATA_CHOICES = ['saved', 'may-be-lost', 'not-touched'] as const;
export type DataChoice = (typeof DATA_CHOICES)[number];
export const UNFINISHED_CHOICES = ['close-as-it-is', 'keep-and-call', 'recycle'] as const;
export type UnfinishedChoice = (typeof UNFINISHED_CHOICES)[number];

export const DATA_WORDS: Record<DataChoice, string> = {
  saved: 'The customer has copied what must not be lost.',
  'may-be-lost': 'Data on the device may be lost.',
  'not-touched': 'The repair is to leave the data alone; it may be lost all the same.',
};
export const UNFINISHED_WORDS: Record<UnfinishedChoice, string> = {
  'close-as-it-is': 'If it cannot be finished, it is closed as it is and handed back.',
  'keep-and-call': 'If it cannot be finished, the shop keeps it open and calls.',
  recycle: 'If it cannot be finished, the shop may recycle it.',
};

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

/** That it is not for a program to say what a signature is worth. */
export const LAW = 'Local law decides what a signature on a screen is worth.';

/** What the customer sees and signs, line by line. It is kept with the signature as it was shown. */
export function agreementText(model: Model, plan: Plan, terms: AgreementTerms, shop: string): string[] {
  const { losses, limit, currency, data, unfinished } = terms;
  const parts = plan.replace.map((id) => model.nameOf(id)).join(', ') || 'nothing; it is looked at and closed again';
  const lossLines = losses.flatMap((id) => {
    const head = `${id === 'cold-seam' ? 'At risk' : 'Lost'}: ${nameOfLoss(model, id)}.`;
    const told = plan.losses.filter((l) => l.function === id);
    return told.length === 0 ? [head] : told.map((l) => `${head} ${sentence(l.because)} ${l.remedy}`.trim());
  });
  return [
    `${shop} repairs: ${model.anatomy.maker} ${model.anatomy.name}. To be replaced: ${parts}.`,
    ...(lossLines.length > 0 ? lossLines : ['Nothing that works now is lost by it.']),
    ...(model.anatomy.body.ingress
      ? [
          `Moisture: the device was sold as ${model.anatomy.body.ingress}. Whatever is done to its seals, that is not certified again.`,
        ]
      : []),
    limit === null ? 'No limit of price was set.' : `It costs at most ${tellMoney(limit, currency)}, tax included.`,
    DATA_WORDS[data],
    UNFINISHED_WORDS[unfinished],
    LAW,
  ];
}

const sentence = (words: string): string => `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;

/** A loss by the name of its function. */
export function nameOfLoss(model: Model, id: string): string {
  const known: Record<string, string> = {
    'moisture-rating': 'Moisture rating',
    data: 'Data',
    'original-cell': "The maker's own cell",
    'cold-seam': 'A seam cut cold',
  };
  return known[id] ?? functionIn(model.anatomy, id).name;
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
