import type { BondKind, CatchKind, ConnectorKind, FastenerKind, GateId } from '../kinds/index.ts';

/**
 * What the judge reads of the two documents, from the description of the formats alone: `nibrel.anatomy/1` and `/2`, and
 * `nibrel.plan`. Nothing here is shared with whoever plans but what the formats say of a kind (`core/kinds`); a field that a document
 * may lack is told so.
 */
export type Side = 'front' | 'back' | 'edge';
export type Rim = 'top' | 'right' | 'bottom' | 'left';
export type Spot = readonly [x: number, y: number];

/** mm; `[x, y, width, height]`, corners, or `[x, y, radius]`. */
export type Shape =
  | { readonly rect: readonly [number, number, number, number]; readonly radius?: number }
  | { readonly polygon: readonly Spot[] }
  | { readonly circle: readonly [number, number, number] };

export interface Place {
  readonly face: Side;
  /** 0 is outermost. */
  readonly layer: number;
}

export interface PartRead extends Place {
  readonly id: string;
  readonly name: string;
  readonly kind: string;
  readonly fixed: boolean;
  readonly exits?: readonly Place[];
  readonly outline: Shape;
  readonly within: string | null;
  readonly swing: {
    readonly degrees: number;
    readonly tether: readonly string[];
    readonly gap?: { readonly reaches: readonly string[] } | null;
  } | null;
  readonly fate: string;
  readonly functions: readonly string[];
  readonly limits?: LimitsRead | null;
  readonly body?: string | null;
}

/** What a part does not bear. */
export interface LimitsRead {
  /** °C */
  readonly hottest: number | null;
  readonly solvent: boolean;
  readonly bend: boolean;
  readonly suction: boolean;
}

export interface FastenerRead {
  readonly id: string;
  readonly kind: FastenerKind;
  readonly drive: string;
  readonly head: number;
  readonly holds: readonly string[];
  readonly into: string;
  readonly at: Spot;
  readonly face: Side;
  readonly layer?: number | null;
}

export interface ConnectorRead {
  readonly id: string;
  readonly name: string;
  readonly kind: ConnectorKind;
  readonly from: string;
  readonly to: string;
  readonly at: Spot;
  readonly size: readonly [number, number];
  readonly face: Side;
  readonly layer: number | null;
  readonly isolatesPower: boolean;
  readonly isolates?: string | null;
  readonly beneath: readonly string[];
  readonly under: readonly string[];
  readonly reachedBy: { readonly swing: string } | null;
  readonly after: readonly string[];
  readonly carries: readonly string[];
  readonly liesOver?: readonly string[];
}

export type BondAt =
  | {
      readonly perimeterOf: string;
      readonly inset: number;
      readonly width: number;
      readonly gaps: readonly { readonly edge: Rim; readonly from: number; readonly to: number }[];
    }
  | { readonly area: Shape }
  | { readonly line: readonly Spot[]; readonly width: number };

export interface BondRead {
  readonly id: string;
  readonly kind: BondKind;
  readonly joins: readonly string[];
  readonly at: BondAt;
  readonly tabs: readonly Spot[];
  readonly softensAt: number | null;
  readonly solvent: boolean;
  readonly compressedBy?: readonly string[];
  readonly fate: string;
  readonly face?: Side | null;
  readonly layer?: number | null;
  readonly flex?: string | null;
}

export interface LatchRead {
  readonly id: string;
  readonly joins: readonly string[];
  readonly edge: Rim;
  readonly alsoAt?: readonly Rim[];
  readonly count: number;
  readonly release: string;
  readonly mate: string;
  readonly letsGo?: CatchKind;
}

/** `nibrel.anatomy/1` or `/2`, as far as the rules look at it. */
export interface Document {
  readonly body: { readonly width: number; readonly height: number; readonly ingress: string | null };
  readonly battery: { readonly volts: number; readonly milliampHours: number };
  readonly parts: readonly PartRead[];
  readonly fasteners: readonly FastenerRead[];
  readonly connectors: readonly ConnectorRead[];
  readonly bonds: readonly BondRead[];
  readonly latches: readonly LatchRead[];
  readonly orders: readonly { readonly first: string; readonly then: string; readonly because: string }[];
  readonly mateOrder: readonly (readonly string[])[];
  readonly functions: readonly { readonly id: string; readonly afterClosing: boolean; readonly unplaced?: boolean }[];
  readonly rails?: readonly { readonly id: string; readonly feeds: readonly string[] }[];
  readonly bodies?: readonly { readonly id: string; readonly outline: Shape }[];
  readonly hinge?: { readonly half: readonly string[]; readonly inner: string | null } | null;
}

/** What of a step the rules look at. */
export interface Act {
  readonly n: number;
  readonly do: string;
  readonly items: readonly string[];
  readonly tool: string | null;
  readonly gate: GateId | null;
  readonly face?: Side;
  /** How a fold lies meanwhile: `flat`, `half`, or `closed-` and the body whose back is up. */
  readonly pose?: string;
}

export interface StepRead extends Act {
  readonly phase: string;
  readonly face: Side;
  /** s */
  readonly waits: number;
  readonly heat?: {
    readonly source: string;
    readonly set: number;
    readonly softensAt: number | null;
    /** The face that heat is laid on, and of a fold the half. */
    readonly on?: 'front' | 'back';
    readonly half?: string;
  } | null;
}

/** `nibrel.plan/1` and `/2`, as far as the rules look at it. */
export interface Dive {
  readonly replace: readonly string[];
  readonly steps: readonly StepRead[];
  readonly transfers: readonly { readonly part: string }[];
  readonly losses: readonly { readonly function: string; readonly item?: string }[];
  readonly touched: readonly string[];
  readonly absent: readonly string[];
  readonly condition: { readonly charge: number | null; readonly dark: boolean };
  readonly rules: {
    readonly seal: string;
    readonly pressing: string;
    readonly assumedCharge: number;
    readonly trySpare: string;
    readonly lacks: readonly string[];
    /** °C by source. */
    readonly hottest: Readonly<Partial<Record<string, number>>>;
  };
}

export type Entry =
  | { readonly type: 'part'; readonly item: PartRead }
  | { readonly type: 'fastener'; readonly item: FastenerRead }
  | { readonly type: 'connector'; readonly item: ConnectorRead }
  | { readonly type: 'bond'; readonly item: BondRead }
  | { readonly type: 'latch'; readonly item: LatchRead };
