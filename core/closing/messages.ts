import type { Bond, PartKind } from '../anatomy/index.ts';

/*
 * What is said of closing a device. mm, N, kg, MPa, Pa, ml/min; shares and `percent` in %.
 */

/** Why a bond is pressed as it is. */
export type PressReason = {
  code:
    | 'by-fingertips'
    | 'by-hand-of-house'
    | 'way-of-house'
    | 'clips-uneven'
    | 'weights-unfit'
    | 'clips-in-turns'
    | 'neither-clips-nor-weights'
    | 'nothing-comes-to-load';
};

/** What else is to be heeded while it is pressed. */
export type PressNote =
  | { code: 'press-between-foam' | 'pad-by-fingertips' }
  | { code: 'pressed-at-once'; bonds: number; load: number }
  | { code: 'load-is-less'; percent: number }
  | { code: 'load-at-most'; most: number }
  | { code: 'weight-too-much'; weight: number }
  | { code: 'more-clips'; lacking: number; newtons: number };

/** What of a load is checked, and by what. */
export type CheckMessage =
  | { code: 'check-clips'; clips: number; newtons: number }
  | { code: 'check-weakest' | 'check-glass-gives' | 'check-on-frame' | 'check-flat' | 'check-bears' }
  | { code: 'check-foot'; foot: number; width: number };
export type CheckReason =
  | {
      code:
        | 'springs-come-to-load'
        | 'elastic-bed'
        | 'foot-over-bead'
        | 'foot-over-bond'
        | 'stands-close'
        | 'bent-at-middle'
        | 'bent-until-rests';
    }
  | { code: 'foot-unsupported'; overhang: number }
  | { code: 'frame-leads-touching'; percent: number }
  | { code: 'frame-leads-stress'; stress: number }
  | { code: 'rests-beyond'; given: number };

/** Kinds of parts that no clip presses on. */
export type NotUnder = Extract<PartKind, 'camera' | 'lens' | 'battery' | 'button' | 'sensor' | 'mesh'>;
export type AvoidedReason = { code: `no-clip-on-${NotUnder}` };

/** What strips are laid with, and what of them is odd. */
export type StripNote =
  /** A bond of that kind is no tape. */
  | { code: 'strips-for'; stripsFor: Bond['kind'] }
  | { code: 'strips-slit' | 'corners-turned' }
  | { code: 'stays-free'; length: number; part: string }
  | { code: 'strips-too-long'; numbers: readonly number[]; lengths: readonly number[]; sheet: number }
  | { code: 'strips-short'; numbers: readonly number[]; shortest: number };
export type StripStep =
  | { code: 'clean-both-sides' | 'press-each-strip' | 'liners-last' }
  | { code: 'lay-in-order'; numbers: readonly number[] };

/** What the eight points of a panel say. */
export type FitReason =
  | { code: 'one-point-up'; point: string; height: number }
  | { code: 'sides-bow' | 'frame-twisted' | 'high-all-round' | 'gap-differs'; height: number }
  | { code: 'leans-across' | 'leans-along'; height: number };

/** What a decay of pressure says, and why it is no test. */
export type LeakReason =
  | { code: 'leak-within' | 'leak-more' | 'leak-too-near'; leak: number; half: number; allowed: number }
  | { code: 'no-decay' | 'pressure-rises' | 'reading-odd' | 'gauge-stuck' | 'below-air' }
  | { code: 'never-filled'; pascal: number }
  | { code: 'test-too-short'; steps: number; needed: number };
