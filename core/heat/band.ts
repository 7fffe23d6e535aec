import { ROOM, ZONES, type Zone } from './limits.ts';
import type { Turn } from './applicator.ts';
import { simulate, type HeatOptions, type HeatRun } from './simulate.ts';
import type { Stack } from './stack.ts';

/**
 * By how much what nobody measures may be otherwise, as factors: the contact of a source, and what the air takes away. Origin:
 * own estimates; mat and pad give 100 to 150 W/m²K where 120 is reckoned with, still air on a bench is worse by a draught.
 */
export const ASSUMED = { contact: [0.83, 1.25], air: [0.7, 1.3] } as const;

/** The same heating where all that is assumed stands against it, and where all of it favours it. */
export interface HeatBand {
  /** Least contact, most air: later soft, cooler. */
  weak: HeatRun;
  /** Most contact, least air: sooner soft, hotter. */
  strong: HeatRun;
}

/** What a heating comes to at both ends of what is assumed. Temperatures in °C, times in s. */
export interface BandAnswers {
  /** When the whole seam is soft, at the earliest and at the latest; `null` where it never is. */
  softAt: [earliest: number | null, latest: number | null];
  peaks: Partial<Record<Zone, [least: number, most: number]>>;
}

const underContact = (turns: readonly Turn[], contact: number): Turn[] =>
  turns.map((t) => ({ ...t, source: t.source && { ...t.source, conductance: t.source.conductance * contact } }));

type BandOptions = Omit<HeatOptions, 'frames' | 'until'>;

/** One end of what is assumed for a heating; as long as the heating itself. @throws Error as `simulate` */
export function endOf(end: keyof HeatBand, stack: Stack, turns: readonly Turn[], options: BandOptions = {}): HeatRun {
  const { contact, air } = ASSUMED;
  const [c, a] = end === 'weak' ? [contact[0], air[1]] : [contact[1], air[0]];
  return simulate(stack, underContact(turns, c), { room: ROOM, ...options, air: a });
}

/** Both ends. @throws Error as `simulate` */
export const bandOf = (stack: Stack, turns: readonly Turn[], options: BandOptions = {}): HeatBand => ({
  weak: endOf('weak', stack, turns, options),
  strong: endOf('strong', stack, turns, options),
});

/** When each end is soft, and how hot each zone gets. @param softensAt °C */
export function bandAnswers({ weak, strong }: HeatBand, softensAt: number): BandAnswers {
  const softAt = ({ coldest, times }: HeatRun): number | null => {
    const i = coldest.findIndex((t) => t >= softensAt);
    return i < 0 ? null : times[i]!;
  };
  const peaks: BandAnswers['peaks'] = {};
  for (const zone of ZONES) {
    const [low, high] = [weak.zones[zone], strong.zones[zone]];
    if (low && high) peaks[zone] = [Math.max(...low), Math.max(...high)];
  }
  return { softAt: [softAt(strong), softAt(weak)], peaks };
}
