import type { Bond, Model } from '../../anatomy/index.ts';
import { PRESS_SECONDS } from '../../closing/index.ts';
import { table } from '../../format/index.ts';
import { BONDS, laidAs, type BondKind } from '../../kinds/index.ts';
import type { Hint } from '../hints.ts';
import type { Caution } from './cautions.ts';
import type { HouseRules } from './rules.ts';
import { layingOf, pressUnder } from './sealing.ts';
import { SECONDS } from './times.ts';

/** How a bond is let go under the house rules. */
export type ReleaseMethod =
  | 'heat-and-cut'
  | 'heat-solvent-and-cut'
  | 'solvent-and-cut'
  | 'cut'
  | 'pull'
  | 'peel'
  | 'lift-off';

/** What a release by each method takes up first, where it is not a heat source, and whether the bond is warmed for it. */
export const RELEASES: Record<ReleaseMethod, { heats: boolean; first: string | null }> = {
  'heat-and-cut': { heats: true, first: null },
  'heat-solvent-and-cut': { heats: true, first: null },
  'solvent-and-cut': { heats: false, first: 'solvent-dropper' },
  cut: { heats: false, first: 'pick' },
  pull: { heats: false, first: null },
  'lift-off': { heats: false, first: 'tweezers' },
  peel: { heats: false, first: 'tweezers' },
};

/**
 * A bond that gives only above this, °C, is warmed and then soaked, or soaked alone where no source warms it enough. Origin:
 * common setting of mats and guns, 70 to 80 °C.
 */
const HARD_BOND = 80;

/** The press or the cure of a new bond: hands-on and waiting seconds. */
export interface Pressing {
  verb: 'press' | 'cure';
  hands: number;
  wait: number;
}

/** How the dive works one kind of bond; what holds for the kind itself stands in `core/kinds`. A new kind is one entry here. */
export interface BondWork {
  release: (bond: Bond, rules: HouseRules, holdsCell: boolean) => ReleaseMethod;
  /** How its tabs are pulled, where it has any. */
  pull: readonly Hint[];
  /** Seconds of laying a new one, and how. */
  lay: (rules: HouseRules, bond: Bond, model: Model) => { seconds: number; hint: Hint[] };
  layCautions: readonly Caution[];
  /** As the outer seal of a device. Common practice: tape at least 2 min under even load; liquid glue until cured. */
  pressSeal: (rules: HouseRules, bond: Bond, model: Model) => Pressing;
}

const byHand = (): Pressing => ({ verb: 'press', hands: SECONDS.pressByHand, wait: 0 });
const byFingertip = (): Pressing => ({ verb: 'press', hands: SECONDS.pressPad, wait: 0 });
/** Liquid glue stays clamped until it may be handled, by the sheet of the product and the air of the room. */
const cured = (rules: HouseRules, bond: Bond, model: Model): Pressing => ({
  verb: 'cure',
  hands: SECONDS.clamp,
  wait: pressUnder(model, bond, rules).seconds,
});

/** A new tape under load for as long as its pressure asks for; by hand where nothing at hand comes to the load. */
function pressTape(rules: HouseRules, bond: Bond, model: Model): Pressing {
  const plan = pressUnder(model, bond, rules);
  if (plan.way === 'hand') return byHand();
  const setting = plan.way === 'clips' ? plan.clips.length * SECONDS.setClip : 0;
  return { verb: 'press', hands: SECONDS.clamp + setting, wait: plan.seconds };
}

function releaseOfAdhesive(bond: Bond, rules: HouseRules, holdsCell: boolean): ReleaseMethod {
  // R7: what is kept is lifted off whole and laid back.
  if (bond.fate === 'keep') return 'lift-off';
  if (holdsCell && bond.solvent && rules.gluedBattery !== 'heat-and-pry') return 'solvent-and-cut';
  if (bond.softensAt !== null)
    return bond.solvent && bond.softensAt > HARD_BOND ? 'heat-solvent-and-cut' : 'heat-and-cut';
  return bond.solvent ? 'solvent-and-cut' : 'cut';
}

function releaseOfTabs(bond: Bond, rules: HouseRules, holdsCell: boolean): ReleaseMethod {
  if (rules.gluedBattery === 'tabs-then-solvent' || !holdsCell) return 'pull';
  if (rules.gluedBattery === 'solvent') return bond.solvent ? 'solvent-and-cut' : 'pull';
  return bond.softensAt === null ? 'pull' : 'heat-and-cut';
}

const ADHESIVE: Pick<BondWork, 'release' | 'pull' | 'layCautions'> = {
  release: releaseOfAdhesive,
  pull: [],
  layCautions: [],
};

/** Parts with its part and joins with it, and no step releases it: paste, and a gasket that screws press. */
export const partsByItself = (model: Model, bond: Bond): boolean =>
  BONDS.of(bond.kind).byItself || model.pressedBy(bond.id).length > 0;

/** It has to be proved and free of liners before its part goes down. */
export function isGated(model: Model, bond: Bond): boolean {
  const { byItself, over } = BONDS.of(bond.kind);
  return !byItself && !over && model.pressedBy(bond.id).length === 0;
}

/** It sets as soon as it is laid, as the house lays it, so that it is laid only when its part goes down. */
export const setsAtOnce = (bond: Pick<Bond, 'kind'>, { seal }: Pick<HouseRules, 'seal'>): boolean =>
  BONDS.of(laidAs(bond.kind, seal)).setsAtOnce;

/** It comes with liners that are taken off last, as the house lays it. */
export const isLined = (bond: Pick<Bond, 'kind'>, { seal }: Pick<HouseRules, 'seal'>): boolean =>
  BONDS.of(laidAs(bond.kind, seal)).lined;

export const BOND_KINDS = table<BondWork>('bond')({
  tape: {
    ...ADHESIVE,
    lay: (rules, bond, model) => {
      const { seconds, hint } = layingOf(model, bond, rules);
      return { seconds, hint: [...hint, { code: 'leave-gaps' }] };
    },
    pressSeal: (rules, bond, model) =>
      (rules.seal === 'liquid-glue' ? cured : rules.pressing === 'by-hand' ? byHand : pressTape)(rules, bond, model),
  },
  'stretch-tab': {
    ...ADHESIVE,
    release: releaseOfTabs,
    pull: [{ code: 'pull-tabs' }],
    lay: () => ({ seconds: SECONDS.newTabs, hint: [{ code: 'new-strips' }] }),
    pressSeal: byHand,
  },
  'pull-pouch': {
    ...ADHESIVE,
    release: releaseOfTabs,
    pull: [{ code: 'pull-pouch' }],
    lay: () => ({ seconds: SECONDS.newTabs, hint: [] }),
    pressSeal: byHand,
  },
  glue: {
    ...ADHESIVE,
    lay: (rules, bond, model) => layingOf(model, bond, { ...rules, seal: 'liquid-glue' }),
    layCautions: ['solvent'],
    pressSeal: cured,
  },
  gasket: {
    ...ADHESIVE,
    lay: () => ({ seconds: SECONDS.newTape, hint: [{ code: 'gasket-groove' }] }),
    pressSeal: () => ({ verb: 'cure', hands: SECONDS.clamp, wait: PRESS_SECONDS.gasket }),
  },
  thermal: { ...ADHESIVE, lay: () => ({ seconds: SECONDS.newPaste, hint: [] }), pressSeal: byHand },
  foil: {
    ...ADHESIVE,
    release: () => 'peel',
    lay: () => ({ seconds: SECONDS.newFoil, hint: [{ code: 'new-foil' }] }),
    pressSeal: byHand,
  },
} satisfies Record<BondKind, BondWork>);

/**
 * R9: how a bond is pressed. Only a new seal round the outside of a device is clamped or cured, by the house rule; inner
 * tapes, foams, pads and foils, and what is laid back, are pressed by hand for seconds (common practice).
 */
export function pressingOf(model: Model, bond: Bond, rules: HouseRules, isSeal: boolean): Pressing {
  if (isSeal && bond.fate !== 'keep') return BOND_KINDS.of(bond.kind).pressSeal(rules, bond, model);
  return 'perimeterOf' in bond.at ? byHand() : byFingertip();
}
