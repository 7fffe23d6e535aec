import { BONDS, CONNECTORS, laidAs, type BondKind, type CraftName } from '../../kinds/index.ts';
import type { BondRead, StepRead } from '../document.ts';
import { groundOf, shareUnder } from '../ground.ts';
import { breaks, isOnDevice, type CraftRule, type Moment } from './moment.ts';

/** The panel of the outside along whose rim a bond runs. */
function panelOf({ checker }: Moment, bond: BondRead): string | undefined {
  if ('perimeterOf' in bond.at) return checker.layers.outside(bond.at.perimeterOf) ? bond.at.perimeterOf : undefined;
  return 'line' in bond.at ? bond.joins.find((id) => checker.layers.outside(id)) : undefined;
}

/** R6: nothing is heated beside what hangs open, no source above the house's limit, and a softened seam is cut at once. */
const heatByItself: CraftRule = (moment) => {
  const { checker, step, before, plan, index } = moment;
  if (step.do !== 'heat' || !isOnDevice(step)) return null;
  const [hangs] = checker.hanging(before);
  if (hangs !== undefined) return breaks('R6', hangs, { code: 'hangs-in-heat', item: hangs });
  const most = step.heat ? plan.rules.hottest[step.heat.source] : undefined;
  if (step.heat && most !== undefined && step.heat.set > most)
    return breaks('R6', step.items[0]!, { code: 'above-house-limit', celsius: step.heat.set, bears: most });
  const next = plan.steps.slice(index + 1).find(isOnDevice);
  const goesOn = next && ['heat', 'gap', 'cut', 'solvent'].includes(next.do) && next.items.includes(step.items[0]!);
  return goesOn ? null : breaks('R6', step.items[0]!, { code: 'not-cut-at-once' });
};

/** R20: heat that is put on a bond softens it, and one that nothing softened is cut only at a risk that was told. */
const softenedFirst: CraftRule = ({ reading, step, plan, index }) => {
  if (step.do === 'heat' && step.heat) {
    const { set, softensAt } = step.heat;
    return softensAt !== null && set < softensAt
      ? breaks('R20', step.items[0]!, { code: 'too-cool', celsius: set, softensAt })
      : null;
  }
  if (step.do !== 'cut') return null;
  const agreed = (id: string) => plan.losses.some((l) => l.function === 'cold-seam' && l.item === id);
  const softened = (id: string) =>
    agreed(id) ||
    plan.steps.slice(0, index).some((s) => (s.do === 'heat' || s.do === 'solvent') && s.items.includes(id));
  const hard = step.items.find((id) => (reading.bonds.get(id)?.softensAt ?? null) !== null && !softened(id));
  return hard ? breaks('R20', hard, { code: 'cut-unsoftened', item: hard }) : null;
};

/** A face that lacks more than this share of its skin is open; a camera ring is less. From the rules of good work. */
const OPEN_SHARE = 0.25;

/** R21: no open face is laid on a mat. */
const nothingOpenOnMat: CraftRule = ({ reading, document, checker, step, before }) => {
  if (step.do !== 'heat' || step.tool !== 'mat' || !step.heat?.on || !isOnDevice(step)) return null;
  const { on } = step.heat;
  // An assembly that is out lies on the mat by itself.
  if (step.items.some((id) => reading.frame(id) !== null)) return null;
  const skins = [...before.removed, ...checker.hanging(before)].filter(
    (id) => reading.part(id).face === on && checker.layers.outside(id) && !before.absent.has(id),
  );
  const { width, height } = document.body;
  // Of a fold only the half that is warmed lies there.
  const half = document.bodies?.find((b) => b.id === step.heat!.half);
  const whole = groundOf(half?.outline ?? { rect: [0, 0, width, height] });
  const bare = shareUnder(
    whole,
    skins.map((id) => reading.ground(id)),
  );
  return bare > OPEN_SHARE ? breaks('R21', skins[0]!, { code: 'open-face-on-mat', item: skins[0]!, face: on }) : null;
};

/** R7: what is kept is neither heated, soaked nor cut, and not cured. */
const keptWhole: CraftRule = ({ reading, step }) => {
  if (!['heat', 'solvent', 'cut', 'cure'].includes(step.do)) return null;
  const kept = step.items.find((id) => reading.bonds.get(id)?.fate === 'keep');
  return kept ? breaks('R7', kept, { code: 'kept-is-cut', item: kept }) : null;
};

/** R9: only seals of the outside are clamped or cured; adhesive is laid before its part hangs on a mated flex. */
const pressedAsNeeded: CraftRule = (moment) => {
  const { reading, step, before, plan, index } = moment;
  for (const id of step.items) {
    const bond = reading.bonds.get(id);
    if (!bond) continue;
    if ((step.do === 'cure' || (step.do === 'press' && step.waits > 0)) && !panelOf(moment, bond))
      return breaks('R9', id, { code: 'clamped-inside', item: id });
    const { setsAtOnce, over } = BONDS.of(laidAs(bond.kind, plan.rules.seal));
    if (step.do !== 'bond' || setsAtOnce || over) continue;
    const hung = bond.joins.find((part) => before.swung.has(part) && wasOff(plan.steps.slice(0, index), part));
    if (hung) return breaks('R9', id, { code: 'laid-too-late', item: id, other: hung });
  }
  return null;
};

/** R18: a new seal of the outside stands under its load, or cures, for its time; by hand only where the house presses so. */
const sealedUnderLoad: CraftRule = (moment) => {
  const { reading, step, plan } = moment;
  if ((step.do !== 'press' && step.do !== 'cure') || step.waits > 0 || plan.rules.pressing === 'by-hand') return null;
  const seal = step.items.find((id) => {
    const bond = reading.bonds.get(id);
    return bond && bond.fate !== 'keep' && BONDS.of(bond.kind).seals && panelOf(moment, bond);
  });
  return seal ? breaks('R18', seal, { code: 'seal-unpressed', item: seal }) : null;
};

const wasOff = (steps: readonly StepRead[], part: string): boolean =>
  steps.some((s) => s.do === 'lift' && s.items.includes(part));

const TRIED: ReadonlySet<string> = new Set(['display', 'battery', 'camera', 'board']);

/** R10: a new display, cell, camera or board is tried before it is bonded, where its plugs can be reached. */
const triedDry: CraftRule = (moment) => {
  const { reading, step, plan, index } = moment;
  if (step.do !== 'fit' || step.phase !== 'ascent' || plan.rules.trySpare !== 'dry') return null;
  for (const id of step.items) {
    const part = reading.parts.get(id)!;
    if (!plan.replace.includes(id) || !TRIED.has(part.kind)) continue;
    const laid = plan.steps.slice(0, index).findIndex((s) => s.do === 'bond' && bonds(moment, id, s.items));
    if (laid < 0) continue;
    const sooner = plan.steps.slice(0, index);
    if (sooner.some((s) => s.do === 'try' && s.items.includes(id))) continue;
    if (sooner.some((s) => s.phase === 'ascent' && s.do === 'test')) continue;
    const plugs = plugsToTry(moment, id);
    if (plugs) return breaks('R10', id, { code: 'bonded-untried', item: id });
  }
  return null;
};

/** It holds its part for good once it lies: neither paste nor what is stuck over it. */
const holds = (kind: BondKind): boolean => !BONDS.of(kind).byItself && !BONDS.of(kind).over;

function bonds({ reading }: Moment, part: string, items: readonly string[]): boolean {
  return items.some((id) => {
    const bond = reading.bonds.get(id);
    return bond && holds(bond.kind) && bond.joins.includes(part);
  });
}

/** Can the plugs of a part, and the battery's, be mated before it is bonded? Judged when it is about to go down. */
function plugsToTry({ document, checker, before }: Moment, part: string): boolean {
  const own = document.connectors.filter((c) => c.isolatesPower || checker.splits(part, [c.from, c.to]));
  if (own.some((c) => CONNECTORS.of(c.kind).byItself)) return false;
  return own
    .filter((c) => before.open.has(c.id))
    .every(
      (c) =>
        c.reachedBy === null &&
        checker.lyingFor(c.id) === checker.lyingFor(part) &&
        [c.from, c.to].every((id) => id === part || !before.removed.has(id)) &&
        document.parts.every(
          (p) =>
            p.id === part || before.removed.has(p.id) || before.swung.has(p.id) || !checker.layers.covers(p.id, c.id),
        ),
    );
}

/** R14: a cup or a blade raises panels of the outside only. */
const priedWherePossible: CraftRule = (moment) => {
  const { reading, step } = moment;
  if (step.do !== 'gap') return null;
  const inner = step.items.find((id) => !panelOf(moment, reading.bonds.get(id)!));
  return inner ? breaks('R14', inner, { code: 'raised-inside', item: inner }) : null;
};

/** By their names. */
export const OF_BONDS = {
  R6: heatByItself,
  R7: keptWhole,
  R9: pressedAsNeeded,
  R10: triedDry,
  R14: priedWherePossible,
  R18: sealedUnderLoad,
  R20: softenedFirst,
  R21: nothingOpenOnMat,
} satisfies Partial<Record<CraftName, CraftRule>>;
