import { expose } from 'comlink';
import { modelOf, type Anatomy } from '../../core/anatomy/index.ts';
import {
  beadOf,
  NoStrips,
  pressOf,
  stripsOf,
  type BeadPlan,
  type CornerStyle,
  type PressPlan,
  type StripPlan,
} from '../../core/closing/index.ts';
import type { HouseRules } from '../../core/dive/index.ts';
import { laidAs } from '../../core/kinds/index.ts';

/** All that is computed of one bond. */
export interface BondClosing {
  strips: StripPlan | null;
  /** Why there are no strips. */
  noStrips: string | null;
  bead: BeadPlan;
  press: PressPlan;
}

const closing = {
  /** How a bond is laid and pressed under some rules. */
  of(
    anatomy: Anatomy,
    bond: string,
    rules: Pick<HouseRules, 'closing' | 'pressing' | 'room' | 'seal'>,
    corners: CornerStyle,
  ): BondClosing {
    const model = modelOf(anatomy);
    const found = model.bonds.get(bond);
    if (!found) throw new Error(`this device has no bond "${bond}"`);
    const { closing: bench, pressing: way, room, seal } = rules;
    const pressed = { ...found, kind: laidAs(found.kind, seal) };
    let strips: StripPlan | null = null;
    let noStrips: string | null = null;
    try {
      strips = stripsOf(model, found, { bench, corners });
    } catch (error) {
      if (!(error instanceof NoStrips)) throw error;
      noStrips = error.message;
    }
    return {
      strips,
      noStrips,
      bead: beadOf(model, found, room, bench),
      press: pressOf(model, pressed, { bench, way, room }),
    };
  },
};

export type Closing = typeof closing;
expose(closing);
