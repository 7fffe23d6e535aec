import type { Condition, Plan, Step } from '../dive/index.ts';
import { closedDevice, copyDevice, type Device } from '../judge/index.ts';
import type { RunContext } from './context.ts';
import type { Act } from '../explore/index.ts';
import {
  isOverLimit,
  type AgreementTerms,
  type ConditionMark,
  type DeviceIdentity,
  type Quote,
  type RegisterReport,
} from '../counter/index.ts';
import type { CauseKind, CheckId, Symptom } from '../diagnosis/index.ts';
import { copyCare, noCare, type CareState } from './careState.ts';
import type { Circumstance, DeviationKind, EarlyEnd, ParkedWhy, TestOutcome, WaitKind, HeatedAt } from './events.ts';
import type { TorqueVerdict } from '../screws/index.ts';
import type { BlockerMessage, NoteMessage } from './messages.ts';

export interface Timer {
  id: string;
  step: string;
  seconds: number;
  startedAt: string;
  /** When it was ended before its time, else `null`: it ends by itself when its seconds have run. */
  endedAt: string | null;
  how: EarlyEnd | null;
  reason: string;
  /** A wait of one's own, of no step. */
  own?: { kind: WaitKind; what: string; item: string | null };
}

export interface Deviation {
  item: string | null;
  kind: DeviationKind;
  note: string;
  at: string;
  /** The length found (mm), or the peak reached (°C). */
  value: number | null;
}

export interface TestResult {
  function: string;
  outcome: TestOutcome;
  reason: string;
  circumstance: Circumstance;
  at: string;
  by: string;
}

/** What the customer agreed to lose, for one version of the plan. */
export interface Agreement {
  losses: string[];
  version: number;
  at: string;
  by: string;
  /** What was signed; `null` where a technician recorded that it was said. */
  signed: Signed | null;
  /** The price that stood beside it, where it was quoted; `null` once the plan does other work than was agreed to. */
  price: string | null;
  /** Whose word it was, and when it was said; `null` where it was signed, or recorded by an earlier version. */
  spoken: { word: string; said: string } | null;
}

/** What a customer signed, with the text as it was shown. */
export interface Signed {
  terms: AgreementTerms;
  text: string[];
  signature: string;
}

/** What the counter knows of a job. */
export interface CounterState {
  identity: DeviceIdentity | null;
  register: RegisterReport | null;
  /** What is seen on the outside, by the id of the mark. */
  marks: Map<string, ConditionMark>;
  symptoms: Symptom[];
  checks: Partial<Record<CheckId, string>>;
  /** Of the plan with that version. */
  quote: { quote: Quote; version: number; at: string; supplier: string; simulated: boolean } | null;
  /** Donor by the part that it stands in for. */
  donors: Map<string, string>;
  parked: { why: ParkedWhy; where: string; note: string; at: string; by: string } | null;
  /** Who has it, where it was handed on, and where everything lies. */
  holder: { name: string; where: string; note: string; at: string } | null;
  collected: { name: string; signature: string | null; at: string } | null;
  /** The customer was erased from it. */
  erased: boolean;
}

/** What was last done that can be taken back: a step, or one item of it. */
export interface Action {
  step: string;
  item: string | null;
}

/** The state of a job: a pure fold over its events, the same on the server and in the browser. Steps are named by id. */
export interface RunState {
  /** The dive and the device as they are now: the ones the job began with, unless it was planned anew. */
  context: RunContext;
  /** Number of the last event; 0 before the first. */
  seq: number;
  /** Version of the plan now; 0 while there is none. */
  version: number;
  startedAt: string | null;
  lastAt: string | null;
  /** Seconds on the bench, from the first action to the last; a clock that went backwards adds nothing. */
  elapsed: number;
  /** How often a time stood before the one before it, in records of older versions. */
  backwards: number;
  done: Map<string, string>;
  left: Set<string>;
  /** Items dealt with, by step, in the order in which the steps were begun. */
  items: Map<string, Set<string>>;
  /** Screws in wells now: fastener → well. Captive ones are loose but in no well. */
  out: Map<string, string | null>;
  /** Every screw that ever came out and every one that went back. */
  screwsOut: Set<string>;
  /** mm that screws were found to be long, of which nobody knew it. */
  measured: Map<string, number>;
  screwsIn: Set<string>;
  timers: Map<string, Timer>;
  deviations: Deviation[];
  /** What every function's newest test says, unless what it rests on was undone since. Tests at intake stand apart. */
  tests: Map<string, TestResult>;
  /** What worked before the dive. */
  before: Map<string, TestResult>;
  /** Every test that was made, in order. */
  tested: TestResult[];
  gates: Map<string, { outcome: 'passed' | 'refused'; reason: string; blocked: BlockerMessage | null; at: string }>;
  photos: { photo: string; step: string | null; note: string; at: string }[];
  notes: { step: string | null; text: string; said: NoteMessage | null; at: string; by: string }[];
  readings: { sensor: string; value: number; unit: string; at: string; heated: HeatedAt | null }[];
  torques: { step: string; fastener: string; peak: number; verdict: TorqueVerdict; accepted: boolean; at: string }[];
  /** Acts that stand, in order, on a device without a dive. */
  acts: (Act & { by: string })[];
  /** A field dive that goes back: closing waits for nobody's agreement. */
  goesBack: boolean;
  /** What was answered of what was done, by question. */
  answers: Map<string, string>;
  /** Items that were looked at because a test failed, in order, with what was found. */
  looks: { item: string; found: CauseKind | null; note: string; at: string; seq: number }[];
  counter: CounterState;
  /** Its cells, and how well it is closed. */
  care: CareState;
  /** Trials in the middle of the work, in order; nothing of the run rests on them. */
  trials: { standing: string | null; worked: boolean; note: string; at: string; by: string }[];
  agreed: Agreement | null;
  /** The revision of the device that the job was moved to; `null` while it has the one it was taken in with. */
  revision: number | null;
  signedOff: { name: string; at: string } | null;
  device: Device;
  isolated: boolean;
  /** The step the technician stands at: the first that is neither done nor left; `null` when all are done. */
  cursor: string | null;
  /** The latest action that can be taken back. */
  undoable: Action | null;
}

/** The state of a job before anything happened on it. */
export function atTheStart(context: RunContext): RunState {
  return {
    context,
    seq: 0,
    version: context.version,
    startedAt: null,
    lastAt: null,
    elapsed: 0,
    backwards: 0,
    done: new Map(),
    left: new Set(),
    items: new Map(),
    out: new Map(),
    screwsOut: new Set(),
    measured: new Map(),
    screwsIn: new Set(),
    timers: new Map(),
    deviations: [],
    tests: new Map(),
    before: new Map(),
    tested: [],
    gates: new Map(),
    photos: [],
    notes: [],
    readings: [],
    torques: [],
    acts: [],
    goesBack: false,
    answers: new Map(),
    trials: [],
    looks: [],
    counter: {
      identity: null,
      register: null,
      marks: new Map(),
      symptoms: [],
      checks: {},
      quote: null,
      donors: new Map(),
      parked: null,
      holder: null,
      collected: null,
      erased: false,
    },
    care: noCare(),
    agreed: null,
    revision: null,
    signedOff: null,
    device: closedDevice(),
    isolated: false,
    cursor: null,
    undoable: null,
  };
}

/** A state that may be changed without changing `s`. What its lists hold is never changed, only replaced. */
export function copyState(s: RunState): RunState {
  return {
    ...s,
    done: new Map(s.done),
    left: new Set(s.left),
    items: new Map([...s.items].map(([id, items]) => [id, new Set(items)])),
    out: new Map(s.out),
    screwsOut: new Set(s.screwsOut),
    measured: new Map(s.measured),
    screwsIn: new Set(s.screwsIn),
    timers: new Map(s.timers),
    deviations: [...s.deviations],
    tests: new Map(s.tests),
    before: new Map(s.before),
    tested: [...s.tested],
    gates: new Map(s.gates),
    photos: [...s.photos],
    notes: [...s.notes],
    readings: [...s.readings],
    torques: [...s.torques],
    acts: [...s.acts],
    answers: new Map(s.answers),
    trials: [...s.trials],
    looks: [...s.looks],
    counter: {
      ...s.counter,
      marks: new Map(s.counter.marks),
      donors: new Map(s.counter.donors),
      checks: { ...s.counter.checks },
    },
    care: copyCare(s.care),
    device: copyDevice(s.device),
  };
}

/** Verbs whose items are recorded one by one. */
export function itemWise(step: Pick<Step, 'do'>): 'screw' | 'connector' | 'test' | null {
  switch (step.do) {
    case 'unscrew':
    case 'fasten':
      return 'screw';
    case 'disconnect':
    case 'desolder':
    case 'connect':
    case 'solder':
      return 'connector';
    case 'test':
      return 'test';
    default:
      return null;
  }
}

/** Nothing is off, open or hanging: the device is as the customer holds it, but for screws or a card tray perhaps. */
export function isClosed({ device, context: { model } }: RunState): boolean {
  const inside = (id: string) => !device.absent.has(id) && model.faceOf(id) !== 'edge';
  return device.swung.size === 0 && ![...device.removed, ...device.open].some(inside);
}

/** The circumstance of a test that is made now. */
export function circumstanceNow(state: RunState): Circumstance {
  if (state.startedAt === null) return 'intake';
  if (isClosed(state)) return 'closed';
  return state.isolated ? 'tried' : 'open';
}

/** Losses of the plan as it is now that nobody agreed to; empty when work may begin. */
export function lossesToAgree(state: RunState): string[] {
  if (state.goesBack) return [];
  const { losses } = state.context.plan;
  const agreed = new Set(state.agreed?.losses);
  return [...new Set(losses.map((l) => l.function))].filter((f) => !agreed.has(f));
}

/** A consent can be taken back until work has begun; from then on the device has to be closed again anyway. */
export const mayTakeBack = (state: RunState): boolean =>
  state.agreed !== null && state.startedAt === null && !isOver(state);

/** The device as it came in, for planning on: what worked then is on the list of what is proved. */
export function conditionNow({ context, before }: RunState): Condition {
  const worked = context.model.anatomy.functions.map((f) => f.id).filter((id) => before.get(id)?.outcome === 'pass');
  return { ...context.plan.condition, ...(worked.length > 0 ? { worked } : {}) };
}

/** The price of the plan as it is now; `null` while nobody has quoted it. */
export function priceNow({ counter: { quote }, version }: RunState): string | null {
  return quote && quote.version === version ? quote.quote.price.total : null;
}

/**
 * What the customer pays: what was agreed, and where nothing was, or other work is done since, what was quoted last. Quoting
 * again changes nothing that was agreed. `null` while nobody has quoted it.
 */
export function priceDue(state: RunState): { sum: string; agreed: boolean } | null {
  const agreed = state.agreed?.price ?? null;
  if (agreed !== null) return { sum: agreed, agreed: true };
  const sum = priceNow(state);
  return sum === null ? null : { sum, agreed: false };
}

/** Do two plans come to the same work for the customer: the same parts, by the same spares? A look on the way changes nothing. */
export function sameWork(a: Plan, b: Plan): boolean {
  const told = ({ replace, spares, transplant = [] }: Plan) =>
    [replace, spares, transplant].map((ids) => [...ids].sort().join(' ')).join('|');
  return told(a) === told(b);
}

/** A screw that is out and that nobody has ever measured, the last first; `null` where there is none. */
export function screwToMeasure(state: RunState): string | null {
  const unknown = (id: string) =>
    !state.measured.has(id) && state.context.model.fasteners.get(id)?.length === null && !state.device.absent.has(id);
  return [...state.screwsOut].findLast((id) => state.device.out.has(id) && unknown(id)) ?? null;
}

/** Nothing is offered on a job any more: it is signed off, or somebody has taken the device home. */
export const isOver = (state: RunState): boolean => state.signedOff !== null || state.counter.collected !== null;

/** Why what was agreed does not hold for the plan as it is now: what it loses more, and whether it costs more. */
export function beyondAgreed(state: RunState): { losses: string[]; price: boolean } {
  const limit = state.goesBack ? null : (state.agreed?.signed?.terms.limit ?? null);
  return { losses: lossesToAgree(state), price: isOverLimit(priceDue(state)?.sum ?? null, limit) };
}

/** The first step that is neither done nor left, else the first that was left. */
export function cursorOf({ context: { plan }, done, left }: RunState): string | null {
  const open = plan.steps.filter((s) => !done.has(s.id));
  return (open.find((s) => !left.has(s.id)) ?? open[0])?.id ?? null;
}
