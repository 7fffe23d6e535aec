import type { Point } from '../anatomy/index.ts';
import type { ClipKind } from './bench.ts';
import type { AvoidedReason, CheckMessage, CheckReason, PressNote, PressReason } from './messages.ts';

/** A clip, where its foot stands, and what it has to press with. */
export interface Clip {
  at: Point;
  newtons: number;
}

/** One thing that was looked at before a load is put on a device. */
export interface PressCheck {
  what: CheckMessage;
  value: number;
  limit: number;
  unit: 'MPa' | 'mm' | 'N' | '%';
  /** True where the limit is the least that is asked for, not the most. */
  least?: boolean;
  holds: boolean;
  because: CheckReason;
}

/** What was found of what is let be: `4.2 of 16.6 MPa`; lengths to 0.001 mm, for they are small. */
export const checkWords = ({ value, limit, unit, least }: PressCheck): string =>
  `${value.toFixed(unit === 'mm' ? 3 : 1)} ${least ? 'where at least' : 'of'} ${Number(limit.toFixed(1))} ${unit}`;

export type PressWay = 'weight' | 'clips' | 'bands' | 'hand';

/** How a bond is pressed. */
export interface PressPlan {
  bond: string;
  /** mm² of the bond itself, without its gaps. */
  area: number;
  /** N/mm² wanted over it, the load that makes it, N and kg. */
  pressure: number;
  newtons: number;
  kilograms: number;
  /** All that is pressed with the panel at once: its bonds, and the one load on it, N and kg. */
  panel: { bonds: string[]; newtons: number; kilograms: number };
  /** The way of the house where it serves, else the one that does, and why. */
  way: PressWay;
  because: PressReason;
  weights: number[];
  clips: Clip[];
  /** The clips that serve, and how many of them the shop lacks. */
  clip: (ClipKind & { lacking: number }) | null;
  bands: number;
  /** How often clips are set one after another, where the shop has fewer than stand along it. */
  turns: number;
  /** The load that is put on as a share of what is wanted, at most 1: what is gentler stands longer. */
  share: number;
  /** The least pressure anywhere along it, as a share of what is wanted: 1 is even. */
  evenness: number;
  /** s under load. */
  seconds: number;
  checks: PressCheck[];
  /** Where no clip stands, and why. */
  avoided: { part: string; because: AvoidedReason }[];
  notes: PressNote[];
}

/** mm that glass may give under a load: less than a panel stands off what lies beneath it. Origin: own estimate. */
export const MOST_GIVEN = 0.2;
