import type { Edge } from '../anatomy/index.ts';

/** Why a cut is begun where it is. */
export type EntryReason =
  | { code: 'entry-opposite-hooks'; edge: Edge }
  | { code: 'entry-opposite-flexes' | 'entry-opposite-hinge' | 'entry-usual' }
  | { code: 'entry-at-notch' | 'entry-bond-enough' | 'entry-most-clear' };

/** The same, with what is clear behind it. */
export type EntryMessage = EntryReason | { code: 'entry-clear'; why: EntryReason; clear: number };

/** How the first gap is raised. mm. */
export type GapHint =
  | { code: 'gap-cup'; edge: Edge; from: number; beside: number; taped: boolean }
  | { code: 'gap-clamp'; edge: Edge; beside: number; taped: boolean }
  | { code: 'gap-blade'; edge: Edge; clear: number; weak: boolean }
  | { code: 'gap-no-room-cup' | 'gap-no-room-clamp'; edge: Edge; diameter: number };

/** How a bond is released that no pick goes into. */
export type UnderCell = { code: 'no-pick-strips' | 'no-pick-pouch' | 'no-pick-cell' };
