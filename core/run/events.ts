import type { Anatomy } from '../anatomy/index.ts';
import type { AgreementTerms, Money, Quote, RegisterReport } from '../counter/index.ts';
import type { LeakMeasured } from '../closing/index.ts';
import type { Plan } from '../dive/index.ts';
import type { SentBody } from './eventFormat.ts';
import type { ReplanReason } from './messages.ts';

/**
 * What happened on a job, append-only. `seq` counts from 1 within the job; `id` is a UUID made by the sender, so
 * that sending twice changes nothing. Steps are named by their ids, which mean the work and not its place.
 */
export type RunEvent = Stamp & EventBody;

/** An event as it is sent: the job is named by where it is sent to, and the server says who sent it and when. */
export type SentEvent = Pick<Stamp, 'id' | 'seq' | 'at'> & Partial<Pick<Stamp, 'job' | 'by' | 'version'>> & EventBody;

export interface Stamp {
  id: string;
  job: string;
  seq: number;
  /** UTC in ISO 8601, by the clock of the server; never before the event that stands before it. */
  at: string;
  by: string;
  /** Version of the plan that it was made against: 0 while there is none, then counted up by every change of plan. */
  version: number;
  /** Seconds that the sender's clock was ahead of the server's, where that is more than a moment. */
  skew?: number;
}

export * from './deviations.ts';
export * from './lists.ts';

/** Where the thermometer lies while a step is heated. */
export type HeatedAt = NonNullable<Extract<SentBody, { type: 'reading' }>['heated']>;
export type CellMeasured = Omit<Extract<SentBody, { type: 'cell-measured' }>, 'type'>;
export type LeakTold = Pick<LeakMeasured, 'leak' | 'half' | 'drift' | 'outcome'>;

export type EventBody = SentBody | ServerMade | CounterMade;

/** Events of the counter that only the server makes: they rest on what others say, or on what somebody signed. */
export type CounterMade = UnlockRead | RegisterTold | Quoted | Agreed | DonorFitted | Collected | Erased;
export const COUNTER_MADE = [
  'unlock-read',
  'register-told',
  'quoted',
  'agreed',
  'donor-fitted',
  'collected',
  'erased',
] as const;

/** What a register said of the device. */
export interface RegisterTold {
  type: 'register-told';
  report: RegisterReport;
}

/** Somebody read the code that unlocks the device. */
export interface UnlockRead {
  type: 'unlock-read';
}

/** What the plan as it is now comes to. */
export interface Quoted {
  type: 'quoted';
  quote: Quote;
  supplier: string;
  simulated: boolean;
}

/** What a customer signed, for one version of the plan, with the text as it was shown. */
export interface Agreed extends AgreementTerms {
  type: 'agreed';
  text: string[];
  /** Names the strokes, which are kept apart and can be erased. */
  signature: string;
}

/** A donor part stands in for a part of this device. */
export interface DonorFitted {
  type: 'donor-fitted';
  donor: string;
  part: string;
  price: Money;
}

/** Handed over and signed for. */
export interface Collected {
  type: 'collected';
  name: string;
  signature: string | null;
}

/** Everything of the customer was erased; what is left says nothing of a person. */
export interface Erased {
  type: 'erased';
  because: 'asked' | 'time';
}

/** Events that only the server makes. */
export type ServerMade = Planned | Replanned | Edited | Moved | TurnedRound;
export const SERVER_MADE = ['planned', 'replanned', 'anatomy-edited', 'moved', 'turned-round'] as const;

/** A plan before anything is done: the first, where there was none, or another in place of the one before. */
export interface Planned {
  type: 'planned';
  plan: Plan;
  /** In somebody's words; what the program says of it stands in `why`. */
  because: string;
  why?: ReplanReason[];
}

/** The dive is planned anew from where the device stands. */
export interface Replanned {
  type: 'replanned';
  /** The whole dive as it is now: first what was done, then what is left. */
  plan: Plan;
  /** Steps that were done, wholly or in part, and stay. */
  kept: string[];
  /** The anatomy as edited for this job, when it is not as drawn. */
  anatomy: Anatomy | null;
  /** Missing fasteners that are replaced by new ones after all. */
  restored: string[];
  because: string;
  why?: ReplanReason[];
}

/** The anatomy is corrected for this one device. */
export interface Edited {
  type: 'anatomy-edited';
  anatomy: Anatomy;
  item: string | null;
  because: string;
}

/** A job that has not begun is put on a newer revision of its device, and planned on it. */
export interface Moved {
  type: 'moved';
  revision: number;
  anatomy: Anatomy;
  plan: Plan;
  /** The new plan loses nothing that was not agreed already: what the customer agreed to stands. */
  holds: boolean;
  because: string;
}

/** A field dive goes back: what was done becomes the first steps of a dive on the anatomy that it told. */
export interface TurnedRound {
  type: 'turned-round';
  plan: Plan;
  anatomy: Anatomy;
  /** The steps that are the acts. */
  kept: string[];
  /** Well of every screw that lies in one. */
  wells: Record<string, string>;
  /** What each thing is called in the anatomy, by the name it was met under. */
  names: Record<string, string>;
  because: string;
  why?: ReplanReason[];
}

export type EventType = EventBody['type'];
export type ServerMadeType = (typeof SERVER_MADE)[number];

export const isCounterMade = <E extends EventBody>(event: E): event is E & CounterMade =>
  (COUNTER_MADE as readonly string[]).includes(event.type);

export const isServerMade = <E extends EventBody>(event: E): event is E & ServerMade =>
  (SERVER_MADE as readonly string[]).includes(event.type);

/** The step that an event is about, where it is about one. */
export function stepOf(event: EventBody): string | null {
  return 'step' in event ? event.step : null;
}

/**
 * Which event last changed the plan or the device of a job, by its number; 0 while neither was. Whoever changes
 * either names it, so that nothing is changed on what has changed meanwhile.
 */
export function lastChange(events: readonly RunEvent[]): number {
  const changes: readonly EventType[] = SERVER_MADE;
  return events.findLast((e) => changes.includes(e.type))?.seq ?? 0;
}
