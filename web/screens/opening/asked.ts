import type { HeatSetting, HouseRules } from '../../../core/dive/index.ts';
import { isLocal, sourceOf, type Recipe, type SourceKind, type SourceSettings } from '../../../core/heat/index.ts';

/** What is asked of the solver, as it stands on the screen. */
export interface Asked {
  source: SourceKind;
  set: number;
  /** Minutes of each turn. */
  turnMinutes: number;
  room: number;
  start: number;
  solvent: boolean;
  /** `null` is the face that the bond lies on. */
  face: 'front' | 'back' | null;
  /** What is set of the source besides its temperature. */
  own: SourceSettings;
  /** A recipe taken over as it is. */
  recipe: Recipe | null;
}

/** What is usual for a source under the rules of the house. */
export function usual(
  source: SourceKind,
  rules: HouseRules,
): Pick<Asked, 'source' | 'set' | 'turnMinutes' | 'recipe' | 'own'> {
  return {
    source,
    own: rules.sources[source] ?? {},
    set: sourceOf(source, rules.sources[source]).set,
    turnMinutes: isLocal({ kind: source }) ? (source === 'dryer' ? 4 : 2) : source === 'pad' ? 6 : 5,
    recipe: null,
  };
}

/** Whether every number about the source itself is one. */
export const reckonable = (asked: Asked): boolean =>
  Object.values(asked.own).every((v) => typeof v !== 'number' || Number.isFinite(v));

/** The setting that the plan uses, as far as it is one turn on the whole seam. */
export function planned(setting: HeatSetting | null): Partial<Asked> {
  const [turn, ...others] = setting?.turns ?? [];
  if (!setting || !turn || others.length > 0) return setting ? { source: setting.source, set: setting.set } : {};
  return { source: setting.source, set: setting.set, turnMinutes: Math.round(turn.seconds / 6) / 10 };
}
