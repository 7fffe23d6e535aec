import type { Corner, Edge } from '../core/anatomy/index.ts';
import type {
  CellFit,
  CellMark,
  DrawWay,
  FindingMessage,
  LayoutMessage,
  MeasureOf,
  NewCellMessage,
  RefitMessage,
  Removal,
  WantedMessage,
} from '../core/cells/index.ts';
import type {
  AvoidedReason,
  CheckMessage,
  CheckReason,
  FitReason,
  LeakReason,
  PressNote,
  PressReason,
  StripNote,
  StripStep,
} from '../core/closing/index.ts';
import type { DataChoice, MishapKind, UnfinishedChoice } from '../core/counter/index.ts';
import type {
  ActionKind,
  Caution,
  Change,
  ChargeHint,
  ConsumableHint,
  DrawHint,
  GateId,
  HandTool,
  HouseRules,
  Hint,
  LoadHint,
  LossReason,
  NeededHint,
  NoDiveMessage,
  PartingReason,
  PlainReason,
  Relation,
  Remedy,
  RuleName,
  Step,
  StripsHint,
  TurnHint,
  Verb,
} from '../core/dive/index.ts';
import type { CauseKind, Sort, SuspectMessage } from '../core/diagnosis/index.ts';
import type { ActKind, WarningMessage } from '../core/explore/index.ts';
import type { BondKind, FastenerKind } from '../core/kinds/index.ts';
import type { RelationKind } from '../core/learn/index.ts';
import type { SourceKind, Where, Zone } from '../core/heat/index.ts';
import type { Quoted } from '../core/message/index.ts';
import type { JudgeMessage } from '../core/judge/index.ts';
import type {
  BlockerMessage,
  DeviationKind,
  LackMessage,
  NoteMessage,
  RefusalMessage,
  ReplanReason,
  CellReading,
  ParkedWhy,
  WaitKind,
} from '../core/run/index.ts';
import type { EntryMessage, GapHint, UnderCell } from '../core/opening/index.ts';

/** What a run says, and why something may not be done, recorded or planned. */
type Refused =
  | RefusalMessage
  | ReplanReason
  | NoteMessage
  | BlockerMessage
  | LackMessage
  | JudgeMessage
  | NoDiveMessage
  | NeededHint;
export type RefusalCode = Exclude<Refused, Quoted>['code'];

/** What is said of cells. */
type OfCells = FindingMessage | LayoutMessage | NewCellMessage | RefitMessage | WantedMessage;
export type CellCode = OfCells['code'];

/** What is said of closing a device. */
type OfClosing =
  | PressReason
  | PressNote
  | CheckMessage
  | CheckReason
  | AvoidedReason
  | StripNote
  | StripStep
  | FitReason
  | LeakReason;
export type ClosingCode = OfClosing['code'];

/** Everything that the program has to say of its own. */
export type Said =
  | Hint
  | GapHint
  | UnderCell
  | Change
  | LossReason
  | Remedy
  | PartingReason
  | EntryMessage
  | TurnHint
  | ChargeHint
  | DrawHint
  | LoadHint
  | StripsHint
  | ConsumableHint
  | WarningMessage
  | SuspectMessage
  | OfCells
  | OfClosing
  | { code: 'look-next'; again: boolean; item: string; undone: number; minutes: number }
  | Refused;

/** Families of drives, by the letters of their codes. */
export type DriveFamily = 'PH' | 'T' | 'IP' | 'P' | 'Y' | 'SL' | 'H';

/**
 * All that the program says, in one language. Sentences are ICU messages: what they are about stands in braces, by the name that
 * the code gives it (docs/decisions/0025). A language is one value of this type; nothing of it may be left out.
 */
export interface Language {
  /** BCP 47. */
  tag: string;
  messages: Record<Exclude<Said, Quoted>['code'], string>;
  /** Of each kind of bond: what a new one is called, and what is said where strips of tape are laid instead. */
  bonds: Record<BondKind, { fresh: string; strips: string }>;
  /** How fasteners come out that are never turned. */
  pulled: Partial<Record<FastenerKind, string>>;
  /** Why a step is there, around the `{item}` that asks for it. */
  relations: Record<Relation, string>;
  reasons: Record<PlainReason, string>;
  rules: Record<RuleName, string>;
  /** What a gate asks for, in a word or two. */
  gates: Record<GateId, string>;
  /** `{first}` cannot be before `{then}`. */
  needs: string;
  /** `{first}` comes before `{then}`. */
  before: string;
  deviations: Record<DeviationKind, string>;
  types: Record<'part' | 'fastener' | 'connector' | 'bond' | 'latch', string>;
  /** That a sound document cannot be planned yet: `{why}`, of a `{part}`. */
  unreached: { noDive: string; part: string };
  cautions: Record<Caution, string>;
  /** The same, in a word or two beside a step. */
  cautionNames: Record<Caution, string>;
  verbs: Record<Verb, string>;
  /** What may be wrong with an item. */
  causes: Record<CauseKind, string>;
  /** What may be behind a complaint. */
  sorts: Record<Sort, string>;
  phases: Record<Step['phase'], string>;
  acts: Record<ActKind, string>;
  /** What was learnt of two items, between their names. */
  learnt: Record<RelationKind, string>;
  parked: Record<ParkedWhy, string>;
  mishaps: Record<MishapKind, string>;
  /** How a cell came out, and what is seen of it. */
  removals: Record<Removal, string>;
  marks: Record<CellMark, string>;
  /** What is measured of a cell, and compared with the one of before. */
  measures: Record<MeasureOf | CellFit['of'], string>;
  /** What is read of a cell, and in what unit. */
  cellReadings: Record<CellReading, { name: string; unit: string }>;
  waits: Record<WaitKind, string>;
  /** Where practitioners disagree: the question, and the schools to choose from. */
  schools: { key: keyof HouseRules; question: string; choices: [value: string, word: string][] }[];
  /** The seconds that the order of a dive is weighed by. */
  weights: { key: 'toolChange' | 'turnOver' | 'workable' | 'reheat'; label: string; hint: string }[];
  /** What is done to reach an `{item}`. */
  actions: Record<ActionKind, string>;
  tools: Record<HandTool, string>;
  /** A driver, by its family and `{size}`. */
  drivers: Record<DriveFamily, string>;
  bareHands: string;
  sources: Record<SourceKind, string>;
  zones: Record<Zone, string>;
  wheres: Record<Where, string>;
  edges: Record<Edge, string>;
  corners: Record<Corner, string>;
  faces: Record<'front' | 'back', string>;
  /** Some side of a device, where the anatomy does not say which. */
  someSide: string;
  /** A place of a rim: `{edge}` or `{corner}`. */
  atEdge: string;
  atCorner: string;
  draws: Record<DrawWay, string>;
  agreement: {
    /** `{shop}`, `{device}`, `{parts}`. */
    repairs: string;
    nothingReplaced: string;
    /** `{loss}`. */
    lost: string;
    atRisk: string;
    nothingLost: string;
    /** `{ingress}`. */
    moisture: string;
    noLimit: string;
    /** `{price}`. */
    atMost: string;
    data: Record<DataChoice, string>;
    unfinished: Record<UnfinishedChoice, string>;
    /** That it is not for a program to say what a signature is worth. */
    law: string;
  };
  /** Losses that are no function of a device. */
  losses: Record<'moisture-rating' | 'data' | 'original-cell' | 'cold-seam', string>;
}
