/** What may be harmed by heat in a device. */
export const ZONES = ['cell', 'panel', 'lens', 'plastic', 'adhesive', 'marked'] as const;
export type Zone = (typeof ZONES)[number];

export interface Limit {
  /** °C: from here on it is said. */
  caution: number;
  /** °C: no recipe goes here, and in a run the alarm sounds. */
  stop: number;
  origin: string;
}

/** Defaults; a maker's own limits go before these. None of them says that a temperature below is harmless. */
export const LIMITS: Record<Zone, Limit> = {
  cell: {
    caution: 50,
    stop: 60,
    origin: 'usual upper limits for storing (50 °C) and discharging (60 °C) a lithium-ion cell: common practice',
  },
  panel: {
    caution: 75,
    stop: 85,
    origin: 'usual upper limits for running and storing a display panel: common practice',
  },
  lens: {
    caution: 80,
    stop: 95,
    origin: 'lens glue creeps near its glass transition: own estimate',
  },
  plastic: {
    caution: 80,
    stop: 95,
    origin: 'below the softening of polycarbonate blends: own estimate',
  },
  adhesive: {
    caution: 100,
    stop: 120,
    origin: 'foam and film tapes char, foam or smear beyond this: own estimate, typical of data sheets',
  },
  marked: {
    caution: 55,
    stop: 60,
    origin: 'the limit that the anatomy gives its part goes before this: the lowest that such parts commonly have',
  },
};

/** So much below the limit of its own a part is cautioned about, K. Origin: own choice, as for a panel. */
const CAUTION_BELOW = 5;

/** The limits of a device: the defaults, and that of the part whose own is the lowest, °C. */
export function limitsWith(hottest: number | null): Record<Zone, Limit> {
  if (hottest === null) return LIMITS;
  return { ...LIMITS, marked: { ...LIMITS.marked, caution: hottest - CAUTION_BELOW, stop: hottest } };
}

/** What a recipe keeps below each stop temperature, K. Origin: own choice, for what the model does not know. */
export const SAFETY_MARGIN = 2;
/**
 * Isopropyl alcohol that has crept into a bond lets it give this much sooner, K. Origin: own estimate; practice says
 * only that it helps.
 */
export const SOLVENT_DROP = 12;
/** Below its softening point by this much, a seam counts as cold again, K. Origin: own estimate. */
export const WORKABLE_DROP = 10;
/** Room temperature, °C, where none is given. Origin: common practice. */
export const ROOM = 22;
