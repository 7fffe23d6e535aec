import type { Anatomy } from '../anatomy/index.ts';
import type { GateId, Plan } from '../dive/index.ts';

/**
 * What happened on a job, append-only. `seq` counts from 1 within the job; `at` is UTC in ISO 8601;
 * `id` is a UUID made by the sender, so that sending twice changes nothing.
 */
export type RunEvent = Stamp & EventBody;

/** An event as it is sent: the job is named by where it is sent to. */
export type SentEvent = Omit<Stamp, 'job'> & EventBody;

export interface Stamp {
  id: string;
  job: string;
  seq: number;
  at: string;
  by: string;
}

export const DEVIATIONS = [
  'stripped',
  'missing',
  'extra',
  'torn',
  'broken',
  'not-as-drawn',
  'already-replaced',
] as const;
export type DeviationKind = (typeof DEVIATIONS)[number];

export type TestOutcome = 'pass' | 'fail' | 'waived';

export type EventBody =
  | { type: 'losses-agreed'; losses: string[] }
  | { type: 'step-done'; step: number }
  /** The step is passed over for now; a gate will ask for it again. */
  | { type: 'step-left'; step: number }
  /** Takes back a step, or only what was last done to `item` in it. */
  | { type: 'step-undone'; step: number; item: string | null }
  | { type: 'screw-out' | 'screw-in'; step: number; fastener: string; well: string | null }
  | { type: 'connector-opened' | 'connector-seated'; step: number; connector: string }
  | { type: 'deviation'; item: string | null; kind: DeviationKind; note: string }
  | { type: 'reading'; sensor: string; value: number; unit: string }
  | { type: 'timer-started'; timer: string; step: number; seconds: number }
  | { type: 'timer-ended'; timer: string; reason: string }
  | { type: 'photo'; photo: string; step: number | null; note: string }
  | { type: 'note'; step: number | null; text: string }
  | { type: 'gate'; step: number; gate: GateId; outcome: 'passed' | 'refused'; reason: string }
  | { type: 'test'; function: string; outcome: TestOutcome; reason: string }
  /** The dive is planned anew from where the device stands. Only the server makes this event. */
  | Replanned
  | { type: 'signed-off'; name: string };

export interface Replanned {
  type: 'replanned';
  /** The whole dive as it is now: first what was done, then what is left. */
  plan: Plan;
  /** Old step number → new one, for the steps that were done, wholly or in part. */
  kept: [old: number, now: number][];
  /** The anatomy as edited for this job, when it is not as drawn. */
  anatomy: Anatomy | null;
  /** Missing fasteners that are replaced by new ones after all. */
  restored: string[];
  because: string;
}

export type EventType = EventBody['type'];
