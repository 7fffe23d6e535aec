import type { Model, Part } from '../anatomy/index.ts';
import type { Plan } from '../dive/index.ts';
import type { Money } from './money.ts';

/** What a supplier says of a spare. Prices before tax, in the shop's currency. */
export interface Offer {
  spare: string;
  price: Money;
  /** How many it has. */
  stock: number;
  /** Days until it is here; 0 is in the shop today. */
  days: number;
}

/** What a supplier of parts is to Nibrel. */
export interface PartsSupplier {
  name: string;
  simulated: boolean;
  /** @returns an offer for each spare that it has ever heard of */
  offers(anatomy: string, spares: readonly SpareAsked[]): Promise<Offer[]>;
}

export interface SpareAsked {
  /** Id of the spare, or of the part where the anatomy lists no spare for it. */
  id: string;
  kind: Part['kind'];
}

/** A spare on the shop's own shelf. */
export interface OwnSpare {
  id: string;
  anatomy: string;
  /** Id of the spare, or of the part. */
  spare: string;
  /** What it cost. */
  price: Money;
  count: number;
  /** How many of them jobs have spoken for. */
  reserved: number;
}

/** A screw, a single-use lid or lens, and what is used up on every dive: alcohol, wipes, film. Origin: own estimate. */
export const SMALL = { fastener: '0.30', part: '4.50', perDive: '1.20' } as const satisfies Record<string, Money>;

/** A thing that is bought or taken from the shelf for a dive. */
export interface Line {
  item: string;
  /** Name of what is paid for. */
  name: string;
  price: Money;
  /** Where the price is from: the shop's shelf, the supplier, or the table of small things. */
  from: 'shelf' | 'supplier' | 'table' | 'estimate';
  /** Days until it is here. */
  days: number;
}

/** Price of a part that nobody offers, by its kind. Origin: own estimate; said as such wherever it stands. */
export const ESTIMATED: Partial<Record<Part['kind'], Money>> = {
  display: '95.00',
  battery: '28.00',
  board: '160.00',
  camera: '34.00',
  cover: '22.00',
  port: '14.00',
  flex: '12.00',
  speaker: '9.00',
  motor: '7.00',
  sensor: '11.00',
  button: '10.00',
};
export const ESTIMATED_OTHER: Money = '8.00';

export const estimateOf = (model: Model, part: string): Money =>
  ESTIMATED[model.parts.get(part)?.kind ?? 'other'] ?? ESTIMATED_OTHER;

/** The spare that a plan takes for a part, or the part itself where no spare is listed. */
export const spareFor = (model: Model, plan: Plan, part: string): string =>
  model.anatomy.spares.find((s) => s.replaces === part && plan.spares.includes(s.id))?.id ?? part;

/** Parts of a plan that have to be bought: what is replaced, and cells that the house never refits. */
export const partsToBuy = (model: Model, plan: Plan): string[] => [
  ...new Set([...plan.replace, ...plan.renew.filter((id) => model.parts.get(id)?.kind === 'battery')]),
];
