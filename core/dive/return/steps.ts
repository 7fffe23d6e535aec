import type { Bond, Model } from '../../anatomy/index.ts';
import { draft, joinsCell, type Draft } from '../entry/descent.ts';
import { relation, rule } from '../graph/reasons.ts';
import { BOND_KINDS } from '../house/bondKinds.ts';
import { CONNECTOR_KINDS } from '../house/connectorKinds.ts';
import { pressTool, type HouseRules } from '../house/rules.ts';
import { FASTENER_SECONDS, SECONDS } from '../house/times.ts';
import { driverFor } from '../house/tools.ts';
import type { Bundle } from '../order/bundles.ts';
import { tighteningOrder } from '../order/driving.ts';
import type { Phase } from '../types.ts';

export type Base = Pick<Draft, 'because'>;

/** Screws driven in, as the maker numbers them or crosswise. */
export function fasten(model: Model, bundle: Bundle, phase: Phase, base: Base): Draft {
  const items = tighteningOrder(bundle.items.map((id) => model.fasteners.get(id)!));
  const fasteners = items.map((id) => model.fasteners.get(id)!);
  const locked = fasteners.filter((f) => f.threadlock);
  const torques = [...new Set(fasteners.flatMap((f) => (f.torque === null ? [] : [f.torque])))];
  const crosswise = fasteners.length > 2 && !fasteners.some((f) => f.order !== null);
  const hints = [
    `Turn backwards until the thread drops in, then forwards. ${fasteners.length === 1 ? '' : crosswise ? 'Two passes crosswise: all loosely, then tight in the same order.' : 'Two passes: all loosely, then tight in order.'}`.trim(),
  ];
  if (torques.length > 0) hints.push(`Torque ${torques.join(' and ')} N·cm.`);
  else hints.push('Snug, no more.');
  if (locked.length > 0) hints.push('New screws with activator and one drop of threadlocker.');
  return draft(phase, 'fasten', items, {
    ...base,
    tool: driverFor(fasteners[0]!.drive),
    hint: hints.join(' '),
    seconds: fasteners.length * FASTENER_SECONDS[fasteners[0]!.kind] + locked.length * SECONDS.screwExtraWithThreadlock,
  });
}

/** A connector mated again. */
export function seat(model: Model, id: string, phase: Phase, base: Base): Draft {
  const c = model.connectors.get(id)!;
  const kind = CONNECTOR_KINDS[c.kind];
  return draft(phase, kind.seat.verb, [id], {
    ...base,
    tool: kind.tool,
    seconds: kind.seat.seconds,
    hint: c.isolatesPower
      ? 'Last of all: align, press evenly, hear the snap. From here the device is live.'
      : kind.seat.hint,
    because: c.isolatesPower ? [rule('A7'), ...base.because] : base.because,
    cautions: c.isolatesPower ? ['lithium', ...kind.cautions] : [...kind.cautions],
  });
}

/** What is left of a bond or a latch once the part lies in its place: snapping in, pressing, curing. */
export function settle(model: Model, id: string, phase: Phase, rules: HouseRules, base: Base): Draft[] {
  const latch = model.latches.get(id);
  if (latch) {
    if (latch.mate === 'first') return [];
    return [
      draft(phase, 'press', [id], {
        ...base,
        seconds: latch.count * SECONDS.snapLatchEach,
        hint: 'Press along the edge until every catch has snapped.',
      }),
    ];
  }
  const bond = model.bonds.get(id)!;
  const kind = BOND_KINDS[bond.kind];
  if (!kind.joinsByItself) {
    return [
      draft(phase, 'bond', [id], {
        ...base,
        seconds: kind.lay(rules).seconds,
        hint: bond.fate === 'keep' ? 'Smooth the foil back.' : kind.lay(rules).hint,
      }),
    ];
  }
  const press = kind.press(rules);
  return [
    draft(phase, press.verb, [id], {
      ...base,
      tool: press.wait > 0 ? (pressTool(rules) ?? 'clips') : null,
      seconds: press.hands,
      waits: press.wait,
      cautions: joinsCell(model, bond.joins) ? ['lithium'] : press.verb === 'cure' ? ['solvent'] : [],
      hint:
        press.verb === 'cure' ? 'Clamp lightly and let it cure.' : 'Even pressure all along the bond; flush, no gap.',
    }),
  ];
}

/** A new bond laid; its liner, where it has one, stays on until its part goes down. */
export function layBond(model: Model, bond: Bond, phase: Phase, rules: HouseRules): Draft {
  const kind = BOND_KINDS[bond.kind];
  const { seconds, hint } = kind.lay(rules);
  const cell = joinsCell(model, bond.joins);
  return draft(phase, 'bond', [bond.id], {
    seconds,
    because: [relation('renews', bond.id)],
    cautions: kind.layCautions.length > 0 ? [...kind.layCautions] : cell ? ['lithium'] : [],
    hint,
  });
}
