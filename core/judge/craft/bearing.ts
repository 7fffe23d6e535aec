import type { CraftName } from '../../kinds/index.ts';
import type { BondRead, StepRead } from '../document.ts';
import { breaks, isOnDevice, type CraftRule, type Moment } from './moment.ts';

const isPressed = ({ reading }: Moment, bond: BondRead | undefined): bond is BondRead =>
  bond !== undefined && reading.pressedBy(bond).length > 0;

const CLOSES: ReadonlySet<string> = new Set(['fit', 'transfer']);

/**
 * R22: a gasket that screws press is no adhesive. It is looked at, or a new one laid, before its part goes on, and where the
 * device is rated and the shop can, it is tested for leaks before it is handed out.
 */
const gasketsPressed: CraftRule = (moment) => {
  const { reading, document, checker, step, before, plan, index } = moment;
  if (['heat', 'solvent', 'cut', 'pull', 'press', 'cure'].includes(step.do)) {
    const glued = step.items.find((id) => isPressed(moment, reading.bonds.get(id)));
    return glued ? breaks('R22', glued, { code: 'pressed-by-screws', item: glued }) : null;
  }
  if (CLOSES.has(step.do)) {
    const there = (id: string) => step.items.includes(id) || reading.within(id).every((p) => !before.removed.has(p));
    const free = document.bonds.filter(
      (b) =>
        isPressed(moment, b) &&
        before.released.has(b.id) &&
        step.items.some((part) => checker.splits(part, b.joins)) &&
        b.joins.every(there),
    );
    const seen = (id: string) =>
      plan.steps.slice(0, index).some((s) => (s.do === 'inspect' || s.do === 'bond') && s.items.includes(id));
    const unseen = free.find((b) => !seen(b.id));
    return unseen ? breaks('R22', unseen.id, { code: 'gasket-unseen', item: unseen.id }) : null;
  }
  if (step.gate !== 'G7' || !document.body.ingress || plan.rules.lacks.includes('leak-tester')) return null;
  const rim = document.bonds.find(
    (b) => isPressed(moment, b) && before.touched.has(b.id) && b.joins.some((part) => checker.layers.outside(part)),
  );
  const tested = plan.steps.some((s) => s.do === 'leak-test');
  return rim && !tested ? breaks('R22', rim.id, { code: 'leaks-untested', item: rim.id }) : null;
};

/** Sources that lie on what they warm. */
const LIES_ON: ReadonlySet<string> = new Set(['mat', 'pad', 'gel-pack']);
const CUPS: ReadonlySet<string> = new Set(['suction-cup', 'cup-clamp']);

/** R23: heat, solvent and cups as far as the parts beside them bear it. */
const limitsKept: CraftRule = (moment) => {
  const { reading, document, checker, step, before } = moment;
  const joined = step.items.flatMap((id) => reading.bonds.get(id)?.joins ?? []).map((id) => reading.part(id));
  if (step.do === 'heat' && step.heat) {
    const { set, softensAt, source, on } = step.heat;
    const tooHot = joined.find((p) => p.limits?.hottest != null && softensAt !== null && softensAt > p.limits.hottest);
    if (tooHot)
      return breaks('R23', tooHot.id, {
        code: 'asked-too-hot',
        item: tooHot.id,
        bears: tooHot.limits!.hottest!,
        celsius: softensAt!,
      });
    if (!LIES_ON.has(source)) return null;
    const half = halfOf(moment, step);
    const under = document.parts.find(
      (p) =>
        p.limits?.hottest != null &&
        set > p.limits.hottest &&
        p.face === on &&
        checker.layers.outside(p.id) &&
        !before.removed.has(p.id) &&
        (half === null || [...reading.halves(p.id)].some((b) => b === null || b === half)),
    );
    return under
      ? breaks('R23', under.id, {
          code: 'lies-too-hot',
          item: under.id,
          bears: under.limits!.hottest!,
          source,
          celsius: set,
        })
      : null;
  }
  const bears = (what: 'solvent' | 'suction' | 'bend') => (p: { limits?: { [k in typeof what]: boolean } | null }) =>
    p.limits != null && !p.limits[what];
  if (step.do === 'solvent') {
    const wet = joined.find(bears('solvent'));
    return wet ? breaks('R23', wet.id, { code: 'bears-no-solvent', item: wet.id }) : null;
  }
  if (step.do === 'clean' && step.tool === 'wipes') {
    const wet = step.items.flatMap((id) => reading.parts.get(id) ?? []).find(bears('solvent'));
    return wet ? breaks('R23', wet.id, { code: 'bears-no-solvent', item: wet.id }) : null;
  }
  if (step.do === 'gap' && step.tool !== null && CUPS.has(step.tool)) {
    const pulled = joined.find((p) => bears('suction')(p) || bears('bend')(p));
    return pulled ? breaks('R23', pulled.id, { code: 'bears-no-cup', item: pulled.id }) : null;
  }
  return null;
};

const IRON: ReadonlySet<string> = new Set(['desolder', 'solder']);

/** R24: a joint is worked with its assembly out, or with the cells away; wetted before, and looked at after. */
const ironAlone: CraftRule = (moment) => {
  const { reading, document, checker, step, before, plan, index } = moment;
  if (!IRON.has(step.do)) return null;
  for (const id of step.items) {
    const joint = reading.connectors.get(id)!;
    const frame = reading.frame(id);
    const assembly = frame !== null && !reading.part(frame).fixed ? frame : null;
    const away = (part: string) => reading.within(part).some((around) => before.removed.has(around));
    const near =
      assembly !== null
        ? [assembly].filter((part) => !away(part))
        : document.parts
            .filter((p) => p.kind === 'battery' && p.id !== joint.from && p.id !== joint.to && !away(p.id))
            .map((p) => p.id);
    const could = (part: string) =>
      step.phase === 'ascent'
        ? before.lifted.has(part)
        : checker
            .strip(
              before,
              (other) => other === id,
              (d) => d.removed.has(part),
            )
            .removed.has(part);
    const close = near.find(could);
    if (close)
      return breaks('R24', close, {
        code: assembly === null ? 'beside-iron' : 'not-on-own-mat',
        item: id,
        other: close,
      });
    const does = (steps: readonly StepRead[], verb: string) => steps.some((s) => s.do === verb && s.items.includes(id));
    if (!does(plan.steps.slice(0, index), 'flux')) return breaks('R24', id, { code: 'not-fluxed', item: id });
    if (step.do === 'solder' && !does(plan.steps.slice(index), 'inspect'))
      return breaks('R24', id, { code: 'joint-unseen', item: id });
  }
  return null;
};

/** The body of a fold that a heat step works on; `null` for several, and in a device of one body. */
function halfOf({ reading }: Moment, step: StepRead): string | null {
  const bodies = new Set(step.items.flatMap((id) => [...reading.halves(id)]));
  return bodies.size === 1 ? [...bodies][0]! : null;
}

/** R25: of a fold only the half is warmed that is softened, and nothing rests on its inner display. */
const oneHalfWarmed: CraftRule = (moment) => {
  const { document, step, before } = moment;
  if (!document.bodies || step.do !== 'heat' || !step.heat || !isOnDevice(step)) return null;
  const half = halfOf(moment, step);
  if (half !== null && step.heat.half !== half) return breaks('R25', step.items[0]!, { code: 'heats-other-half' });
  const inner = document.hinge?.inner ?? null;
  const rests = step.tool === 'mat' && step.heat.on === 'front' && inner !== null && !before.removed.has(inner);
  return rests ? breaks('R25', inner, { code: 'rests-on-inner' }) : null;
};

/** By their names. */
export const OF_BEARING = {
  R22: gasketsPressed,
  R23: limitsKept,
  R24: ironAlone,
  R25: oneHalfWarmed,
} satisfies Partial<Record<CraftName, CraftRule>>;
