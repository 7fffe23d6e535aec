import type { Anatomy } from '../anatomy/index.ts';
import type { AgreementTerms, ConditionMark, DeviceIdentity, Money, Quote, RegisterReport } from '../counter/index.ts';
import type { CauseKind, CheckId, Symptom } from '../diagnosis/index.ts';
import type { CellMark, Emergency, Removal } from '../cells/index.ts';
import type { FitReadings, LeakMeasured } from '../closing/index.ts';
import type { GateId, Plan } from '../dive/index.ts';
import type { ActKind, Sight } from '../explore/index.ts';
import type { TorqueVerdict } from '../screws/index.ts';
import type { BlockerMessage, NoteMessage, ReplanReason } from './messages.ts';

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

export const DEVIATIONS = [
  'stripped',
  'cross-threaded',
  'corroded',
  'missing',
  'other-length',
  'other-screw',
  'snapped',
  'torn',
  'broken',
  'not-as-drawn',
  'already-replaced',
  'extra',
  'overheated',
] as const;
export type DeviationKind = (typeof DEVIATIONS)[number];

export const OUTCOMES = ['pass', 'fail', 'waived'] as const;
export type TestOutcome = (typeof OUTCOMES)[number];

/** Where the device stood when it was tested: before the dive, at some moment of it, open with power, or closed. */
export const CIRCUMSTANCES = ['intake', 'tried', 'open', 'closed'] as const;
export type Circumstance = (typeof CIRCUMSTANCES)[number];

/** Who says that a wait is over before its time: a thermometer, or the technician, in words. */
export const EARLY_ENDS = ['thermometer', 'judged'] as const;
export type EarlyEnd = (typeof EARLY_ENDS)[number];

/** Where the thermometer lies while a step is heated. */
export interface HeatedAt {
  step: string;
  at: 'back' | 'seam';
}

export type EventBody =
  /** A consent that was only said: whose word it was, and when. Earlier versions kept neither. */
  | { type: 'losses-agreed'; losses: string[]; word: string; said: string }
  /** A consent is taken back, before work has begun. */
  | { type: 'consent-withdrawn'; because: string }
  | { type: 'step-done'; step: string }
  /** The step is passed over for now; a gate will ask for it again. */
  | { type: 'step-left'; step: string }
  /** Takes back a step, or only what was last done to `item` in it. */
  | { type: 'step-undone'; step: string; item: string | null }
  | { type: 'screw-out' | 'screw-in'; step: string; fastener: string; well: string | null }
  | { type: 'connector-opened' | 'connector-seated'; step: string; connector: string }
  /** What the device turned out to be. `value`: the length found (mm), or the peak reached (°C). */
  | { type: 'deviation'; item: string | null; kind: DeviationKind; note: string; value?: number | null }
  /** `sensor` names the instrument; `heated` says where, of a step that is heated. */
  | { type: 'reading'; sensor: string; value: number; unit: string; heated?: HeatedAt | null }
  /** How long a screw was that nobody had measured, mm under its head. */
  | { type: 'screw-measured'; fastener: string; length: number }
  /** What the torque driver said of a screw, N·cm, and whether it was let pass. */
  | { type: 'torque'; step: string; fastener: string; peak: number; verdict: TorqueVerdict; accepted: boolean }
  | { type: 'timer-started'; step: string; seconds: number }
  /** A wait ended before its time, by what and why. */
  | { type: 'timer-ended'; timer: string; how: EarlyEnd; reason: string }
  | { type: 'photo'; photo: string; step: string | null; note: string }
  /** Somebody's words, or what the program notes by itself. */
  | { type: 'note'; step: string | null; text: string; said?: NoteMessage | null }
  /** What was done to a device that no plan speaks of, and what was seen of it. */
  | { type: 'act'; act: ActKind; item: string | null; note: string; seen?: Sight }
  /** Takes back the last act, by the id of its event. */
  | { type: 'act-undone'; act: string }
  /** What a technician answered to a question on what was done; `skipped` is an answer too. */
  | { type: 'answered'; question: string; answer: string }
  /** A trial in the middle of the work: what was mated for it, what came of it, and that the battery is off again. */
  | { type: 'tried'; standing: string | null; mated: string[]; worked: boolean; isolated: boolean; note: string }
  | {
      type: 'gate';
      step: string;
      gate: GateId;
      outcome: 'passed' | 'refused';
      reason: string;
      blocked?: BlockerMessage | null;
    }
  | { type: 'test'; function: string; outcome: TestOutcome; reason: string; circumstance: Circumstance }
  /** An item was looked at because a test failed; `found` is what was wrong with it, `null` where it was sound. */
  | { type: 'looked'; item: string; found: CauseKind | null; note: string }
  | ({ type: 'identified' } & DeviceIdentity)
  | { type: 'condition-marked'; mark: ConditionMark }
  | { type: 'condition-unmarked'; mark: string }
  /** What the customer says, in kinds. */
  | { type: 'complained'; symptoms: Symptom[] }
  /** A check at the counter, and what came of it; `null` takes it back. */
  | { type: 'checked'; check: CheckId; outcome: string | null }
  /** The device lies open, or waits, and nobody works on it: why, and where everything lies. */
  | { type: 'parked'; why: ParkedWhy; where: string; note: string }
  | { type: 'resumed' }
  /** Another technician goes on with it. */
  | { type: 'handed-on'; to: string; where: string; note: string }
  /** A wait of one's own, beside those of the plan: something dries, skins, is pressed, cures or sets. */
  | { type: 'wait-started'; wait: string; kind: WaitKind; what: string; item: string | null; seconds: number }
  | ({ type: 'cell-measured' } & CellMeasured)
  | { type: 'cell-seen'; cell: string; of: WhichCell; removal: Removal; marks: CellMark[] }
  /** A cell lies in the sand box, or waits for the licensed collection. */
  | { type: 'cell-boxed'; cell: string; of: WhichCell; box: string; why: string }
  /** Gap and step of a panel at eight points, mm. */
  | { type: 'fit-measured'; panel: string; readings: FitReadings }
  | ({ type: 'leak-tested'; limit: number; seconds: number; simulated: boolean } & LeakTold)
  /** One step of moving a cell to its old protection board; what is off ends it. */
  | { type: 'transplant-step'; cell: string; stage: string; value: number | null; good: boolean; note: string }
  /** Something went wrong with a cell. */
  | { type: 'incident'; kind: Emergency; note: string }
  | ServerMade
  | CounterMade
  | { type: 'signed-off'; name: string };

export const WAIT_KINDS = ['drying', 'skinning', 'pressing', 'curing', 'threadlocker', 'drawing-down'] as const;
export type WaitKind = (typeof WAIT_KINDS)[number];
/** Waits of one's own that stand before hand-over as those of the plan do (G6). */
export const BOND_WAITS: readonly WaitKind[] = ['pressing', 'curing'];

/** The cell that came with the device, or the one that goes in. */
export const WHICH_CELLS = ['old', 'new'] as const;
export type WhichCell = (typeof WHICH_CELLS)[number];

/** charge %, capacity mAh, cycles, ohms Ω, rest and later V at rest (later: so many hours after). */
export const CELL_READINGS = ['charge', 'capacity', 'cycles', 'ohms', 'rest', 'later'] as const;
export type CellReading = (typeof CELL_READINGS)[number];
export interface CellMeasured {
  cell: string;
  of: WhichCell;
  measure: CellReading;
  value: number;
  /** Half the width of the 95 % interval, where it was fitted. */
  half: number | null;
  hours: number | null;
}
export type LeakTold = Pick<LeakMeasured, 'leak' | 'half' | 'drift' | 'outcome'>;

export const PARKED_WHYS = ['part-ordered', 'customer', 'other-work', 'dries'] as const;
export type ParkedWhy = (typeof PARKED_WHYS)[number];

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
