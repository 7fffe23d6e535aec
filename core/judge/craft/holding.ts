import { CONNECTORS, type CraftName } from '../../kinds/index.ts';
import { breaks, type CraftRule, type Moment } from './moment.ts';

/** R4: what lets a part go last does not do so while a flex still joins it that could be opened before. */
const lastHold: CraftRule = (moment) => {
  const { document, checker, step, before, after } = moment;
  if (step.phase !== 'descent' || !['unscrew', 'release', 'cut', 'pull'].includes(step.do)) return null;
  for (const part of document.parts) {
    if (part.fixed || before.removed.has(part.id) || before.swung.has(part.id)) continue;
    if (checker.joinery(before, part.id).length === 0 || checker.joinery(after, part.id).length > 0) continue;
    const stays = new Set([...(part.swing?.tether ?? []), ...(part.swing?.gap?.reaches ?? [])]);
    const joins = document.connectors.filter(
      (c) =>
        !CONNECTORS.of(c.kind).byItself &&
        !after.open.has(c.id) &&
        !stays.has(c.id) &&
        checker.splits(part.id, [c.from, c.to]),
    );
    if (joins.length === 0 || !isTakenOff(moment, part.id)) continue;
    const holds = new Set(step.items);
    const could = checker.strip(
      before,
      (id) => holds.has(id) || id === part.id,
      (d) => joins.every((c) => d.open.has(c.id)),
    );
    const flex = joins.find((c) => could.open.has(c.id));
    if (flex) return breaks('R4', flex.id, { code: 'would-hang-on', item: part.id, other: flex.id });
  }
  return null;
};

/** Does the plan move this part at all from here on? */
function isTakenOff({ plan, index }: Moment, part: string): boolean {
  return plan.steps.slice(index).some((s) => (s.do === 'lift' || s.do === 'swing') && s.items.includes(part));
}

/** R5: a part whose flexes are all open does not stay on its hinge, and one that is hung up is joined at once. */
const noGhostHinge: CraftRule = ({ reading, checker, step, before, after }) => {
  if (step.do === 'gate' || step.do === 'bend-aside' || step.phase === 'turn') return null;
  for (const id of before.swung) {
    if (before.taped.has(id)) continue;
    const { tether } = reading.parts.get(id)!.swing!;
    const flexes = tether.filter((c) => !before.absent.has(c));
    if (flexes.length === 0 || !flexes.every((c) => before.open.has(c))) continue;
    if (step.phase === 'ascent') {
      if (!flexes.every((c) => after.open.has(c))) continue;
      if (flexes.some((c) => checker.connect(before, c) === null))
        return breaks('R5', id, { code: 'hangs-unmated', item: id });
    } else if (!step.items.includes(id) && checker.take(before, id, 'lift', true) === null)
      return breaks('R5', id, { code: 'left-on-hinge', item: id });
  }
  return null;
};

/** R8: nothing lies loose when the device is turned over. */
const nothingLoose: CraftRule = (moment) => {
  if (moment.step.do !== 'turn-over') return null;
  const [loose] = moment.checker.looseParts(moment.before);
  return loose ? breaks('R8', loose, { code: 'lies-loose', item: loose }) : null;
};

const FREES: ReadonlySet<string> = new Set(['cut', 'pull', 'ease', 'release']);

/**
 * R26: what lies on a part is off, or stands open, before the adhesive that holds the part is let go: it would come up with it, and
 * no pick goes under an edge that something else lies on.
 */
const bareFirst: CraftRule = ({ reading, document, checker, plan, step, index, before }) => {
  if (step.phase !== 'descent' || !FREES.has(step.do)) return null;
  for (const id of step.items) {
    const bond = reading.bonds.get(id);
    const freed = bond && reading.freedBy(bond);
    if (!freed) continue;
    const on = document.parts.find(
      (p) =>
        checker.layers.covers(p.id, freed) &&
        !before.removed.has(p.id) &&
        !before.swung.has(p.id) &&
        !bond.joins.includes(p.id) &&
        plan.steps.slice(index).some((s) => s.phase === 'descent' && s.do === 'lift' && s.items.includes(p.id)),
    );
    if (on) return breaks('R26', on.id, { code: 'freed-beneath', item: id, other: on.id });
  }
  return null;
};

/** R29: what an order keeps waiting is held by its screws before what waits for it is laid again. */
const heldBeforeNext: CraftRule = ({ document, checker, step, before }) => {
  if (step.phase !== 'ascent' || step.do !== 'fit') return null;
  for (const { first, then } of document.orders) {
    if (!step.items.includes(first)) continue;
    const left = document.fasteners.find(
      (f) => before.out.has(f.id) && f.holds.every((id) => id === then) && checker.fasten(before, f.id) === null,
    );
    if (left) return breaks('R29', left.id, { code: 'driven-too-late', item: left.id, other: first });
  }
  return null;
};

/** By their names. */
export const OF_HOLDING = {
  R4: lastHold,
  R5: noGhostHinge,
  R8: nothingLoose,
  R26: bareFirst,
  R29: heldBeforeNext,
} satisfies Partial<Record<CraftName, CraftRule>>;
