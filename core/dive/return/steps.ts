import type { Bond, Latch, Model } from '../../anatomy/index.ts';
import { FASTENERS, CATCHES } from '../../kinds/index.ts';
import { fluxed } from '../entry/iron.ts';
import { draft, joinsCell, type Base as StepBase, type Draft } from '../entry/draft.ts';
import { relation, rule } from '../graph/reasons.ts';
import { BOND_KINDS } from '../house/bondKinds.ts';
import { CONNECTOR_KINDS, type IronWork } from '../house/connectorKinds.ts';
import type { Hint } from '../hints.ts';
import { FASTENER_KINDS } from '../house/fastenerKinds.ts';
import type { HouseRules } from '../house/rules.ts';
import { isTurned, SECONDS } from '../house/times.ts';
import { driverFor } from '../house/tools.ts';
import type { Bundle } from '../order/bundles.ts';
import { tighteningOrder } from '../order/driving.ts';
import type { Phase } from '../types.ts';

type Base = Pick<StepBase, 'because'>;

/** Screws driven in, as the maker numbers them or crosswise. */
export function fasten(model: Model, bundle: Bundle, phase: Phase, rules: HouseRules, base: Base): Draft {
  const items = tighteningOrder(bundle.items.map((id) => model.fasteners.get(id)!));
  const fasteners = items.map((id) => model.fasteners.get(id)!);
  const locked = fasteners.filter((f) => f.threadlock);
  const torques = [...new Set(fasteners.flatMap((f) => (f.torque === null ? [] : [f.torque])))];
  if (!isTurned(fasteners[0]!))
    return draft(phase, 'fasten', items, {
      ...base,
      tool: FASTENERS.of(fasteners[0]!.kind).tool,
      hint: [{ code: 'pressed-home' }],
      seconds: fasteners.length * FASTENER_KINDS.of(fasteners[0]!.kind).seconds,
    });
  const pressing = model.anatomy.bonds.some((b) => model.pressedBy(b.id).some((id) => items.includes(id)));
  const crosswise = fasteners.length > 2 && !fasteners.some((f) => f.order !== null);
  const hint: Hint[] = [{ code: 'thread-drops-in' }];
  if (crosswise) hint.push({ code: 'two-passes-crosswise' });
  else if (fasteners.length > 1) hint.push({ code: 'two-passes' });
  hint.push(torques.length > 0 ? { code: 'torque', torques } : { code: 'snug' });
  if (pressing) hint.push({ code: 'presses-gasket' });
  if (locked.length > 0) hint.push({ code: 'new-threadlock', duration: rules.closing.threadlock });
  return draft(phase, 'fasten', items, {
    ...base,
    tool: driverFor(fasteners[0]!.drive),
    hint,
    seconds:
      fasteners.length * FASTENER_KINDS.of(fasteners[0]!.kind).seconds +
      locked.length * SECONDS.screwExtraWithThreadlock,
  });
}

/** A connector mated again. */
export function seat(model: Model, id: string, phase: Phase, base: Base): Draft[] {
  const c = model.connectors.get(id)!;
  const kind = CONNECTOR_KINDS.of(c.kind);
  const mated = seatIt(model, id, phase, base);
  return kind.iron === null ? [mated] : soldered(mated, id, phase, kind.iron);
}

/** R24: pads are wetted and tinned before a joint is made, and it is looked at once it has cooled. */
function soldered(joint: Draft, id: string, phase: Phase, iron: IronWork): Draft[] {
  return [
    fluxed(id, phase, iron),
    draft(phase, 'tin', [id], {
      tool: joint.tool,
      seconds: iron.tin,
      because: [rule('R24')],
      cautions: ['solder', 'hot'],
      hint: [{ code: 'tin-pads' }],
    }),
    { ...joint, because: [...joint.because, rule('R24')] },
    draft(phase, 'inspect', [id], {
      seconds: iron.cool + iron.look,
      because: [rule('R24')],
      hint: [{ code: 'look-at-joint' }],
    }),
  ];
}

function seatIt(model: Model, id: string, phase: Phase, base: Base): Draft {
  const c = model.connectors.get(id)!;
  const kind = CONNECTOR_KINDS.of(c.kind);
  return draft(phase, kind.seat.verb, [id], {
    ...base,
    tool: kind.tool,
    seconds: kind.seat.seconds,
    hint: [
      c.isolatesPower
        ? {
            code:
              model.anatomy.connectors.filter((o) => o.isolatesPower).length > 1 ? 'power-before-cells' : 'power-last',
          }
        : { code: `seat-${kind.seat.way}` },
      ...(c.shape ? [{ code: 'shape-in', words: c.shape } as const] : []),
    ],
    because: c.isolatesPower ? [rule('A7'), rule('R1'), ...base.because] : base.because,
    cautions: c.isolatesPower ? ['lithium', ...kind.cautions] : [...kind.cautions],
  });
}

/**
 * A catch that is snapped in once its part lies; hooks that were entered first need nothing more.
 * @param moved whether what it holds was moved at all: else hooks that were let go are pressed home where they are
 */
export function snapIn(latch: Latch, phase: Phase, base: Base, moved: boolean): Draft[] {
  if (moved && (latch.mate === 'first' || !CATCHES.of(latch.letsGo).worked)) return [];
  return [
    draft(phase, 'press', [latch.id], {
      ...base,
      seconds: latch.count * SECONDS.snapLatchEach,
      hint: [{ code: 'snap-edges', edges: latch.alsoAt.length > 0 ? [latch.edge, ...latch.alsoAt] : [] }],
    }),
  ];
}

/** A foil laid again over what lies beneath it. */
export function layFoil(model: Model, bond: Bond, phase: Phase, rules: HouseRules, base: Base): Draft {
  const { seconds, hint } = BOND_KINDS.of(bond.kind).lay(rules, bond, model);
  return draft(phase, 'bond', [bond.id], {
    ...base,
    seconds,
    hint: bond.fate === 'keep' ? [{ code: 'smooth-foil-back' }] : hint,
  });
}

/** A new bond laid; its liner, where it has one, stays on until its part goes down. */
export function layBond(model: Model, bond: Bond, phase: Phase, rules: HouseRules, brought: boolean): Draft {
  const kind = BOND_KINDS.of(bond.kind);
  const { seconds, hint } = kind.lay(rules, bond, model);
  const cell = joinsCell(model, bond.joins);
  return draft(phase, 'bond', [bond.id], {
    seconds: brought ? SECONDS.checkBrought : seconds,
    because: [relation('renews', bond.id)],
    cautions: brought ? [] : kind.layCautions.length > 0 ? [...kind.layCautions] : cell ? ['lithium'] : [],
    hint: brought ? [{ code: 'spare-brings' }] : hint,
  });
}
