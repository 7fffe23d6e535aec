import type { Bond, Model } from '../../anatomy/index.ts';
import {
  beadOf,
  NoStrips,
  pressOf,
  stripsOf,
  type BeadPlan,
  type PressPlan,
  type StripPlan,
} from '../../closing/index.ts';
import { once } from '../../once/index.ts';
import type { HouseRules } from './rules.ts';
import { SECONDS } from './times.ts';

/** How the bonds of a device are laid and pressed under some rules: computed once each, since plans ask again and again. */
interface Sealing {
  strips: Map<string, StripPlan | null>;
  beads: Map<string, BeadPlan>;
  presses: Map<string, PressPlan>;
}
const known = new WeakMap<Model, WeakMap<HouseRules['closing'], Sealing>>();

const of = (model: Model, rules: HouseRules): Sealing =>
  once(
    once(known, model, () => new WeakMap<HouseRules['closing'], Sealing>()),
    rules.closing,
    () => ({ strips: new Map(), beads: new Map(), presses: new Map() }),
  );

/** The strips of a bond; `null` where the shop has no tape. */
export const stripsUnder = (model: Model, bond: Bond, rules: HouseRules): StripPlan | null =>
  once(of(model, rules).strips, bond.id, () => {
    try {
      return stripsOf(model, bond, { bench: rules.closing });
    } catch (error) {
      if (error instanceof NoStrips) return null;
      throw error;
    }
  });

export const beadUnder = (model: Model, bond: Bond, rules: HouseRules): BeadPlan =>
  once(of(model, rules).beads, `${bond.id} ${rules.room}`, () => beadOf(model, bond, rules.room, rules.closing));

/** How a bond is pressed; a tape whose place liquid glue takes is pressed as glue is. */
export function pressUnder(model: Model, bond: Bond, rules: HouseRules): PressPlan {
  const glued = bond.kind === 'tape' && rules.seal === 'liquid-glue';
  const key = [bond.id, rules.pressing, rules.room, glued].join(' ');
  return once(of(model, rules).presses, key, () =>
    pressOf(model, glued ? { ...bond, kind: 'glue' } : bond, {
      bench: rules.closing,
      way: rules.pressing,
      room: rules.room,
    }),
  );
}

const millimetres = (v: number) => `${Math.round(v)} mm`;

/** What is laid, in words and s of work. */
export function layingOf(model: Model, bond: Bond, rules: HouseRules): { seconds: number; hint: string } {
  switch (rules.seal) {
    case 'die-cut':
      return { seconds: SECONDS.newTape, hint: 'Lay the die-cut seal from one corner.' };
    case 'strips': {
      const plan = stripsUnder(model, bond, rules);
      if (!plan)
        return {
          seconds: SECONDS.newTapeStrips,
          hint: 'No tape is at hand: put its rolls and sheets into the house rules.',
        };
      return {
        seconds: SECONDS.layStrips + plan.strips.length * SECONDS.perStrip,
        hint: `${plan.open > 0.05 ? `${plan.notes[0]} ` : ''}${stripWords(plan)}: cut by the template, joints off the corners.`,
      };
    }
    case 'liquid-glue': {
      const bead = beadUnder(model, bond, rules);
      return {
        seconds: SECONDS.liquidGlue,
        hint:
          `A bead of ${bead.width.toFixed(1)} mm, ${bead.millilitres.toFixed(2)} ml in all; keep its middle ` +
          `${bead.keepOff.toFixed(1)} mm off mesh, lens and button. ` +
          `It skins in about ${Math.round(bead.setting.skin / 60)} min.`,
      };
    }
    default:
      return rules.seal satisfies never;
  }
}

export function stripWords({ strips }: StripPlan): string {
  const widths = [...new Set(strips.map((s) => s.width))].map((w) => {
    const own = strips.filter((s) => s.width === w);
    const all = own.reduce((sum, p) => sum + p.length, 0);
    return `${own.length} ${own.length === 1 ? 'strip' : 'strips'} of ${w} mm, ${millimetres(all)} in all`;
  });
  return widths.join('; ') || 'no strip';
}

/** How it is pressed, in words. */
export function pressWords(plan: PressPlan): string {
  const { panel } = plan;
  const kg = (v: number) => `${v < 10 ? v.toFixed(1) : Math.round(v)} kg`;
  // A weight lies on the whole panel; clips stand along one bond each.
  const part = plan.share < 1 ? `${Math.round(plan.share * 100)} % of ` : '';
  const turns = plan.turns > 1 ? `, in ${plan.turns} turns` : '';
  const load =
    panel.bonds.length > 1 && plan.way === 'weight'
      ? `${part}${kg(panel.kilograms)} over the ${panel.bonds.length} bonds of the panel, at once`
      : `${part}${kg(plan.kilograms)} over ${Math.round(plan.area)} mm²`;
  switch (plan.way) {
    case 'weight':
      return `${load}: ${plan.weights.join(' + ')} kg on foam over the bond.`;
    case 'clips':
      return `${load}: ${plan.clips.length} clips of ${plan.clip!.newtons} N as drawn${turns}, off camera, cell and buttons.`;
    case 'bands':
      return `${load}: ${plan.bands} bands, over foam.`;
    case 'hand':
      return `${load}: by hand, stretch by stretch all round.`;
    default:
      return plan.way satisfies never;
  }
}
