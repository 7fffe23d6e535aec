import type { Anatomy } from '../anatomy/index.ts';
import {
  LOST_ADVICE,
  type DeviceIdentity,
  type IdentityReading,
  type Money,
  type RegisterReport,
} from '../counter/index.ts';
import type { HouseRules, Plan } from '../dive/index.ts';
import type { RunEvent } from '../run/index.ts';
import type { ShopSettings } from './shopFormat.ts';

export { DEFAULT_SHOP, shopFormat, type OpeningHours, type ShopSettings } from './shopFormat.ts';

/** What forbids opening a device at the counter, and what to do instead (common practice). */
export const TRIAGE = {
  swollen: {
    question: 'Swollen: is the back or display pushed out?',
    advice:
      'Do not open, press or charge it. Outdoors or in a metal box on dry sand, away ' +
      'from anything that burns; then to a licensed disposal point by your local rules.',
  },
  hot: {
    question: 'Is it hot, hissing or smoking?',
    advice:
      'Step back, air the room, keep people away. Cover it with dry sand ' +
      'if that is safe; call the fire service if it burns. Never hold it.',
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

/** What is asked at the counter before anything is opened. */
export type TriageQuestion = keyof typeof TRIAGE;
export type TriageFinding = TriageQuestion | 'reported-lost';

/** Why a device stays closed, and what to do: what the triage found, or what a register says of it. */
export const STOPS: Record<TriageFinding, { question: string; advice: string }> = {
  ...TRIAGE,
  'reported-lost': { question: 'Is it reported lost or stolen?', advice: LOST_ADVICE },
};

export interface Job {
  id: string;
  number: number;
  /** `null` for a device that stands in no list. */
  anatomy: string | null;
  /** The anatomy's revision that the job was planned on, and keeps. */
  revision: number | null;
  /** What it is, where it stands in no list. */
  device: UnlistedDevice | null;
  customer: string;
  complaint: string;
  outside: string;
  crackedGlass: boolean;
  /** What forbids opening; empty when it may be opened. */
  triage: TriageFinding[];
  /** The plan it was taken in with, or `null`; later ones are events. */
  plan: Plan | null;
  createdAt: string;
  /** Whose it is; the name stands beside it. */
  customerId: string | null;
  /** The job before it on the same device, where it came back. */
  earlier: string | null;
  /** What the device is worth repaired, where somebody has said so. */
  worth: Money | null;
}

/** A customer as the shop knows them; of one who was erased only the id is left. */
export interface Customer {
  id: string;
  name: string;
  contact: string;
  jobs: number;
  lastAt: string;
}

/** What a search finds: a job, with what it was found by. */
export interface Hit {
  job: string;
  number: number;
  customer: string;
  customerId: string | null;
  contact: string;
  device: string;
  complaint: string;
  /** Of the numbers by which it is known, those that match. */
  numbers: string[];
  createdAt: string;
}

/** An earlier job on a device that comes in again. */
export interface EarlierJob {
  job: string;
  number: number;
  customer: string;
  device: string;
  replaced: string[];
  signedAt: string | null;
  /** Until when what was done is under the shop's warranty, ISO date; `null` where it was never signed off. */
  warrantyUntil: string | null;
}

/** What the counter may know of a number that was typed or scanned. */
export interface IdentityAnswer {
  reading: IdentityReading;
  earlier: EarlierJob[];
}

/** An intake that was begun and not finished. */
export interface IntakeDraft<T = unknown> {
  id: string;
  by: string;
  document: T;
  changedAt: string;
}

/** What is asked of a register before a device is taken in. */
export interface RegisterAsked {
  identity: DeviceIdentity;
  report: RegisterReport;
}

/** A device that nobody has drawn: what it is called, and its body in mm as far as it was measured. */
export interface UnlistedDevice {
  name: string;
  kind: Anatomy['kind'];
  width: number | null;
  height: number | null;
  thickness: number | null;
  /** Id of a known device that it looks like, for what to test and for guesses. */
  like?: string | null;
  /** What is to be replaced, in words. */
  wanted?: string;
}

/** One line of the job list. */
export interface JobSummary {
  id: string;
  number: number;
  customer: string;
  complaint: string;
  device: string;
  replace: string[];
  /** `unreadable`: what is stored of it cannot be read; the rest of the list stands. `reading`: its line comes in a moment. */
  state:
    | 'stopped'
    | 'unplanned'
    | 'exploring'
    | 'ready'
    | 'running'
    | 'signed'
    | 'collected'
    | 'unreadable'
    | 'reading';
  /** The place of the step it stands at. */
  step: number | null;
  steps: number;
  /** Steps that are done; of a device that nobody has drawn, acts. */
  done: number;
  live: boolean;
  /** When the last running wait ends, UTC, else `null`. */
  waitsUntil: string | null;
  /** What it waits for, where that is a wait of its own and not one of its dive. */
  waitsFor?: string;
  /** Where it lies while nobody works on it; left out where somebody may. */
  parkedAt?: string | undefined;
  createdAt: string;
  lastAt: string | null;
  /** Depth of every step, for the small profile. */
  profile: number[];
}

/** A job with all that a screen needs to fold and draw it. */
export interface JobFile {
  job: Job;
  /** How the customer is reached, as it is known now; empty where nothing is, or it was erased. */
  contact: string;
  anatomy: Anatomy;
  events: RunEvent[];
  /** The newest revision of its anatomy, which the job may not have. */
  latest: number | null;
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
  archived: boolean;
  /** Whose bundle it came in; `null` for one that was drawn here. */
  origin: string | null;
  /** It came from elsewhere, and no dive on it has been signed off here yet. */
  untried: boolean;
}

/** A draft in the list of those that are being drawn. */
export interface DraftSummary {
  id: string;
  name: string;
  maker: string;
  device: string;
  /** The revision it goes on from; `null` for a new device. */
  base: { anatomy: string; revision: number } | null;
  version: number;
  by: string;
  changedAt: string;
}

/** A photograph straightened to millimetres. */
export interface PlateInfo {
  id: string;
  device: string;
  face: 'front' | 'back';
  /** Layers that are off in it. */
  layer: number;
  /** mm below the plane that was measured. */
  depth: number;
  /** Hashes of the photograph it was made from, and of itself. */
  photo: string;
  plate: string;
  pxPerMm: number;
  survey: PlateSurvey;
  /** Who has looked at it for personal things; only then may it leave the shop. */
  reviewed: string | null;
  by: string;
  createdAt: string;
}

export interface PlateSurvey {
  /** Lines along the body as they were laid, px of the photograph; or points with their places. */
  edges: [[number, number], [number, number]][] | null;
  points: { px: [number, number]; mm: [number, number] }[] | null;
  height: number;
  foot: [number, number];
  snapped: string[];
  residuals: number[];
  /** 95 % at the farthest corner, mm. */
  expectedError: number;
}

/** One of the shop's named sets of house rules. */
export interface RuleSet {
  id: string;
  name: string;
  rules: HouseRules;
  /** The set that new jobs are planned under. */
  chosen: boolean;
  /** Counted up by every change. */
  revision: number;
}

export const ROLES = ['lead', 'technician'] as const;
export type Role = (typeof ROLES)[number];

export interface Technician {
  id: string;
  name: string;
  role: Role;
  /** Has a PIN; the PIN itself is told to nobody. */
  pin: boolean;
  active: boolean;
}

/** What every screen may know of the shop, and of who asks. */
export interface Shop extends ShopSettings {
  /** Version of the settings, counted up by every change. */
  revision: number;
  /** Names of those who work here. */
  technicians: string[];
  demo: boolean;
  /** The first start has been led through. */
  setUp: boolean;
  passcodeNeeded: boolean;
  /** Some technician has a PIN, so that everybody signs in. */
  pinsNeeded: boolean;
  /** Who is signed in on this browser, where PINs are used. */
  signedIn: { id: string; name: string; role: Role } | null;
  /** May change the shop: a lead, or anybody while there are no PINs. */
  lead: boolean;
  /** Names the session in which events are made. */
  session: string | null;
  /** The key under which they are vouched for, in base64url; known to this session alone. */
  author: string | null;
  /** What is sent can be read on the network: beyond this machine and without TLS. */
  exposed: boolean;
  /** What the lead should know: no backup for days, backups on the same disk ... */
  warnings: string[];
}

/** What comes over the one stream of a browser. */
export type LiveMessage =
  | { kind: 'event'; event: RunEvent }
  | { kind: 'job'; summary: JobSummary }
  | { kind: 'job-gone'; job: string }
  /** A draft has grown to that version. */
  | { kind: 'draft'; draft: string; version: number }
  | { kind: 'shop' };

/** Largest files taken in, bytes. Origin: own choice; ten times the largest anatomy seen, a camera's largest JPEG. */
export const LIMITS = {
  json: 2 * 1024 * 1024,
  photo: 25 * 1024 * 1024,
  /** A picture of a label that is read and not kept. */
  scan: 12 * 1024 * 1024,
  bundle: 80 * 1024 * 1024,
  signIn: 4096,
} as const;

export const CELL_STATES = ['stored', 'boxed', 'collected', 'sent'] as const;
export type CellStateKind = (typeof CELL_STATES)[number];

/** A cell that lies in the shop, or lay there. */
export interface ShopCell {
  id: string;
  job: string | null;
  part: string | null;
  label: string;
  volts: number;
  milliampHours: number;
  cells: number;
  damaged: boolean;
  state: CellStateKind;
  charge: number | null;
  box: string;
  gone: string;
  by: string;
  createdAt: string;
  changedAt: string;
  revision: number;
}
