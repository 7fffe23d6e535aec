import type { Model } from '../anatomy/index.ts';
import type { Plan } from '../dive/index.ts';
import type { Money } from './money.ts';
import { NOT_ASKED, worthOf, type RegisterReport } from './register.ts';

export const GRADES = ['clean', 'worn', 'marked', 'cracked'] as const;
export type Grade = (typeof GRADES)[number];
export const CONTACTS = ['whole', 'bent', 'corroded', 'torn'] as const;
export type ContactState = (typeof CONTACTS)[number];
export const TRIED = ['not-tried', 'works', 'fails'] as const;
export type Tried = (typeof TRIED)[number];

/** A part out of another device, or bought as one. */
export interface Donor {
  id: string;
  anatomy: string;
  /** Part of the anatomy that it can stand in for. */
  part: string;
  /** Of the device that it came from. */
  imei: string | null;
  serial: string | null;
  register: RegisterReport | null;
  /** GB of storage and region or model variant, for boards. */
  storage: number | null;
  region: string;
  grade: Grade;
  /** Its flexes and plugs. */
  contacts: ContactState;
  /** Tried on a device before it goes in. */
  tried: Tried;
  seller: string;
  /** Day that it was bought, and how many it may be returned within. */
  boughtOn: string;
  returnDays: number;
  price: Money;
  /** Charge of a board's device when it is to be reset, percent; `null` is not known. */
  charge: number | null;
  reset: boolean;
  /** Job that it was fitted on. */
  job: string | null;
  revision: number;
}

/** Days that sellers usually take something back within (common practice). */
export const RETURN_DAYS = 30;
/** Days before the end of that time from which it is warned of. Origin: own choice; a parcel takes some of them. */
export const RETURN_WARNING = 5;
/** Charge that a factory reset wants, percent (common practice). */
export const RESET_CHARGE = 10;

export interface DonorCheck {
  /** `stop`: it is not fitted; `mind`: it may be, and this is said first. */
  weight: 'stop' | 'mind';
  because: string;
}

/** Last day on which it can be returned, ISO date. */
export function returnBy({ boughtOn, returnDays }: Pick<Donor, 'boughtOn' | 'returnDays'>): string {
  const day = new Date(`${boughtOn}T00:00:00Z`);
  day.setUTCDate(day.getUTCDate() + returnDays);
  return day.toISOString().slice(0, 10);
}

/** Whole days from one ISO date to another. */
const daysBetween = (from: string, to: string): number =>
  Math.round((Date.parse(`${to}T00:00:00Z`) - Date.parse(`${from}T00:00:00Z`)) / 86_400_000);

/** What the device asks of the donor: its storage and its region. */
export interface Wanted {
  storage: number | null;
  region: string;
}

/** What speaks against fitting a donor, or has to be done first. @param today ISO date */
export function donorChecks(model: Model, donor: Donor, wanted: Wanted, today: string): DonorCheck[] {
  const checks: DonorCheck[] = [];
  const stop = (because: string) => checks.push({ weight: 'stop', because });
  const mind = (because: string) => checks.push({ weight: 'mind', because });
  const part = model.parts.get(donor.part);
  if (!part || donor.anatomy !== model.anatomy.id) stop('It is of another device.');
  const board = part?.kind === 'board';
  if (donor.contacts === 'torn' || donor.contacts === 'corroded') stop(`Its plugs or flexes are ${donor.contacts}.`);
  if (donor.contacts === 'bent') mind('Contacts are bent: straighten them under the glass before it is mated.');
  if (donor.grade === 'cracked') stop('It is cracked.');
  if (donor.tried === 'fails') stop('It was tried and does not work: return it.');
  if (donor.tried === 'not-tried') mind('Nobody has tried it: try it on its plugs before it goes in.');
  if (part?.kind === 'battery') stop('A cell out of another device is not fitted again.');
  if (board) {
    const answers = worthOf(donor.register ?? { answers: NOT_ASKED, simulated: false });
    for (const [question, words] of Object.entries(BOARD_WORDS) as [
      keyof typeof BOARD_WORDS,
      (typeof BOARD_WORDS)[keyof typeof BOARD_WORDS],
    ][]) {
      if (answers[question] === 'set') stop(words.set);
      if (answers[question] === 'not-asked') mind(words.notAsked);
    }
    if (wanted.storage !== null && donor.storage !== null && donor.storage < wanted.storage)
      mind(`It has ${donor.storage} GB, less than the ${wanted.storage} GB of the old board.`);
    if (wanted.region !== '' && donor.region !== '' && donor.region !== wanted.region)
      mind(`It is of region ${donor.region}, the device of ${wanted.region}: bands and languages may differ.`);
    if (!donor.reset)
      mind(
        donor.charge !== null && donor.charge < RESET_CHARGE
          ? `It has to be reset, which wants about ${RESET_CHARGE} % of charge; it has ${donor.charge} %.`
          : `It has to be reset before hand-over, which wants about ${RESET_CHARGE} % of charge.`,
      );
  }
  const left = daysBetween(today, returnBy(donor));
  if (left < 0) mind(`It could be returned until ${returnBy(donor)}; that is over.`);
  else if (left <= RETURN_WARNING) mind(`It can be returned for ${left} more days, until ${returnBy(donor)}.`);
  return checks;
}

const BOARD_WORDS = {
  'reported-lost': {
    set: 'Its device is reported lost: do not fit it, and tell the seller.',
    notAsked: 'Nobody has asked whether its device is reported lost.',
  },
  blacklist: {
    set: 'It is blacklisted: no network will take it.',
    notAsked: 'Nobody has asked whether it is blacklisted.',
  },
  'network-lock': {
    set: 'It is locked to one network.',
    notAsked: 'Nobody has asked whether it is locked to a network.',
  },
  'account-lock': {
    set: 'It is bound to an account: it starts for nobody else.',
    notAsked: 'Nobody has asked whether it is bound to an account.',
  },
} as const;

/** What a donor brings about: what is lost with it, what moves over to it, and what is reset. */
export function donorBrings(
  model: Model,
  plan: Plan,
  part: string,
): { lost: string[]; moves: string[]; resets: string[] } {
  const family = new Set(model.familyOf(part));
  const pairs = model.anatomy.parts.flatMap((p) =>
    p.pairing.filter((pair) => family.has(p.id) || family.has(pair.with)).flatMap((pair) => pair.loses),
  );
  const lossy = new Set([...pairs, ...(model.parts.get(part)?.kind === 'board' ? ['data'] : [])]);
  const lost = plan.losses.filter((l) => lossy.has(l.function));
  return {
    lost: [...new Set(lost.map((l) => l.function))],
    moves: plan.transfers.filter((t) => family.has(t.part) || t.from === part).map((t) => t.part),
    resets: model.parts.get(part)?.kind === 'board' ? ['Everything that the old owner left on it'] : [],
  };
}
