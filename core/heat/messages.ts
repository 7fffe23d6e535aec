import type { Zone } from './limits.ts';
import type { SourceKind } from './sources.ts';

/** Why no recipe warms a seam with a source. °C. */
export type HeatReason =
  | { code: 'source-too-weak'; source: SourceKind; most: number; softensAt: number }
  | { code: 'zone-too-hot-first'; zone: Zone; limit: number; softensAt: number }
  | { code: 'zone-may-pass'; zone: Zone; limit: number; peak: number; softensAt: number };
