import type { Bond, Model } from '../../anatomy/index.ts';
import {
  beadOf,
  NoStrips,
  pressOf,
  STAYS_OPEN,
  stripsOf,
  type BeadPlan,
  type PressPlan,
  type StripNote,
  type StripPlan,
} from '../../closing/index.ts';
import { laidAs } from '../../kinds/index.ts';
import { once } from '../../once/index.ts';
import type { ConsumableHint, Hint, LayingHint, LoadHint, PressHint, StripsHint } from '../hints.ts';
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
  const kind = laidAs(bond.kind, rules.seal);
  const key = [bond.id, rules.pressing, rules.room, kind].join(' ');
  return once(of(model, rules).presses, key, () =>
    pressOf(model, kind === bond.kind ? bond : { ...bond, kind }, {
      bench: rules.closing,
      way: rules.pressing,
      room: rules.room,
    }),
  );
}

/** What is laid, and s of work. */
export function layingOf(model: Model, bond: Bond, rules: HouseRules): { seconds: number; hint: Hint[] } {
  switch (rules.seal) {
    case 'die-cut':
      return { seconds: SECONDS.newTape, hint: [{ code: 'lay-die-cut' }] };
    case 'strips': {
      const plan = stripsUnder(model, bond, rules);
      if (!plan) return { seconds: SECONDS.newTapeStrips, hint: [{ code: 'lay-no-tape' }] };
      return {
        seconds: SECONDS.layStrips + plan.strips.length * SECONDS.perStrip,
        hint: [...ringHint(model, plan), { code: 'lay-strips', strips: stripHints(plan) }],
      };
    }
    case 'liquid-glue': {
      const bead = beadUnder(model, bond, rules);
      return {
        seconds: SECONDS.liquidGlue,
        hint: [
          {
            code: 'lay-bead',
            width: bead.width,
            millilitres: bead.millilitres,
            keepOff: bead.keepOff,
            skin: Math.round(bead.setting.skin / 60),
          },
        ],
      };
    }
    default:
      return rules.seal satisfies never;
  }
}

/** That a ring which kept water out stays open; nothing where it does not. */
export const ringHint = ({ anatomy }: Model, { open }: StripPlan): LayingHint[] =>
  open > STAYS_OPEN && anatomy.body.ingress !== null
    ? [{ code: 'ring-stays-open', open, ingress: anatomy.body.ingress }]
    : [];

/** What is to be heeded of a plan of strips, the ring that stays open first. */
export const stripNotes = (model: Model, plan: StripPlan): (LayingHint | StripNote)[] => [
  ...ringHint(model, plan),
  ...plan.notes,
];

/** Strips by their width, mm. */
export const stripHints = ({ strips }: StripPlan): StripsHint[] =>
  [...new Set(strips.map((s) => s.width))].map((width) => {
    const own = strips.filter((s) => s.width === width);
    return { code: 'strips', count: own.length, width, length: Math.round(own.reduce((sum, p) => sum + p.length, 0)) };
  });

/** The tape that a plan of strips takes. */
export const tapeHint = (plan: StripPlan): ConsumableHint => ({ code: 'tape-of', strips: stripHints(plan) });

/** How a bond is pressed. A weight lies on the whole panel; clips stand along one bond each. */
export function pressHint(plan: PressPlan): PressHint {
  const { panel } = plan;
  const load: LoadHint =
    panel.bonds.length > 1 && plan.way === 'weight'
      ? { code: 'load-panel', kilograms: panel.kilograms, bonds: panel.bonds.length, share: plan.share }
      : { code: 'load-bond', kilograms: plan.kilograms, area: plan.area, share: plan.share };
  switch (plan.way) {
    case 'weight':
      return { code: 'press-weight', load, weights: plan.weights };
    case 'clips':
      return { code: 'press-clips', load, clips: plan.clips.length, newtons: plan.clip!.newtons, turns: plan.turns };
    case 'bands':
      return { code: 'press-bands', load, bands: plan.bands };
    case 'hand':
      return { code: 'press-hand', load };
    default:
      return plan.way satisfies never;
  }
}
