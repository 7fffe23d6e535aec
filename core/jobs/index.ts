import type { Anatomy } from '../anatomy/index.ts';
import type { HouseRules, Plan } from '../dive/index.ts';
import type { RunEvent } from '../run/index.ts';

/** What forbids opening a device at the counter, and what to do instead (common practice). */
export const TRIAGE = {
  swollen: {
    question: 'Swollen: is the back or display pushed out?',
    advice:
      'Do not open, press or charge it. Outdoors or in a metal box on dry sand, away from anything that burns; then to a licensed disposal point by your local rules.',
  },
  hot: {
    question: 'Is it hot, hissing or smoking?',
    advice:
      'Step back, air the room, keep people away. Cover it with dry sand if that is safe; call the fire service if it burns. Never hold it.',
  },
  punctured: {
    question: 'Is the cell punctured, bent or crushed?',
    advice:
      'Do not flex it further or charge it. On dry sand in a metal box, watched for an hour; then to a licensed disposal point.',
  },
  burnt: {
    question: 'Are there burnt or melted parts, inside or out?',
    advice: 'Do not power or open it. Photograph it, set it on dry sand, and let a licensed specialist decide.',
  },
} as const;

export type TriageFinding = keyof typeof TRIAGE;

export interface Job {
  id: string;
  number: number;
  anatomy: string;
  /** The anatomy's revision that the job was planned on, and keeps. */
  revision: number;
  customer: string;
  complaint: string;
  outside: string;
  crackedGlass: boolean;
  /** What forbids opening; empty when it may be opened. */
  triage: TriageFinding[];
  plan: Plan | null;
  createdAt: string;
}

/** One line of the job list. */
export interface JobSummary {
  id: string;
  number: number;
  customer: string;
  complaint: string;
  device: string;
  replace: string[];
  state: 'stopped' | 'unplanned' | 'ready' | 'running' | 'signed';
  step: number | null;
  steps: number;
  done: number;
  live: boolean;
  /** When the last running wait ends, UTC, else `null`. */
  waitsUntil: string | null;
  createdAt: string;
  lastAt: string | null;
  /** Depth of every step, for the small profile. */
  profile: number[];
}

/** A job with all that a screen needs to fold and draw it. */
export interface JobFile {
  job: Job;
  anatomy: Anatomy;
  events: RunEvent[];
}

export interface AnatomySummary {
  id: string;
  name: string;
  maker: string;
  kind: Anatomy['kind'];
  revision: number;
  parts: number;
  fasteners: number;
  connectors: number;
}

/** One of the shop's named sets of house rules. */
export interface RuleSet {
  id: string;
  name: string;
  rules: HouseRules;
  /** The set that new jobs are planned under. */
  chosen: boolean;
}

export interface Shop {
  name: string;
  technicians: string[];
  demo: boolean;
  passcodeNeeded: boolean;
}

/** Largest files taken in, bytes. Origin: own choice; ten times the largest anatomy seen, a camera's largest JPEG. */
export const LIMITS = { json: 2 * 1024 * 1024, photo: 25 * 1024 * 1024 } as const;
