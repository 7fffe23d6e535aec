import { BONDS, CONNECTORS, type CraftName, laidAs } from '../../kinds/index.ts';
import type { Device } from '../device.ts';
import { conducts } from '../tools.ts';
import { breaks, isOutside, type CraftRule, type Moment } from './moment.ts';

const undone = (d: Device): string[] => [...d.out, ...d.open, ...d.removed, ...d.swung, ...d.eased];

/** Bonds that set as soon as they are laid, and so are laid when their part goes down. */
function setsAtOnce({ reading, plan }: Moment, bond: string): boolean {
  const { setsAtOnce, over } = BONDS.of(laidAs(reading.bonds.get(bond)!.kind, plan.rules.seal));
  return setsAtOnce || over;
}

/** R1: what could be done before the battery is mated is done before. */
const matedLast: CraftRule = (moment) => {
  const { document, checker, step, before, after, plan, index } = moment;
  if (step.phase !== 'ascent' || !checker.isolated(before) || checker.isolated(after)) return null;
  const isolating = new Set(document.connectors.filter((c) => c.isolatesPower).flatMap((c) => [c.id, c.from]));
  // Where there are several cells, the plugs of all of them are the last.
  const mates = (id: string) => isolating.has(id);
  const could = checker.restore(before, (id) => mates(id) || isOutside(moment, id));
  const left = undone(before).find((id) => !mates(id) && !undone(could).includes(id) && !before.absent.has(id));
  if (left) return breaks('R1', left, { code: 'back-before-power', item: left });
  for (const later of plan.steps.slice(index + 1)) {
    if (later.phase !== 'ascent') continue;
    if (later.do === 'clean') {
      const early = later.items.find((id) => laidBare(moment, id));
      if (early) return breaks('R1', early, { code: 'solvent-beside-power', item: early });
    }
    const bond =
      later.do === 'bond' ? later.items.find((id) => !setsAtOnce(moment, id) && !isLate(moment, id)) : undefined;
    if (bond) return breaks('R1', bond, { code: 'laid-before-power', item: bond });
  }
  return null;
};

/** Is all that a part is bonded to in its place already, so that its surfaces can be cleaned before the battery is mated? */
function laidBare(moment: Moment, part: string): boolean {
  const { reading, document, before } = moment;
  const family = new Set(reading.family(part));
  return document.bonds
    .filter((b) => b.joins.some((id) => family.has(id)) && before.released.has(b.id))
    .every((b) => b.joins.every((id) => family.has(id) || !before.removed.has(id)));
}

/** A bond to a part that itself goes in only after the battery is mated. */
function isLate({ reading, before }: Moment, bond: string): boolean {
  const away = reading.bonds.get(bond)!.joins.filter((id) => before.removed.has(id) || before.swung.has(id));
  return away.length > 1;
}

/** R16: every plug that was mated is seen to be seated before a battery is: a plug half home must not meet power. */
const seatsBeforePower: CraftRule = ({ reading, step, before }) => {
  if (step.phase !== 'ascent' || step.do !== 'connect') return null;
  if (!step.items.some((id) => reading.connectors.get(id)?.isolatesPower)) return null;
  const unseen = [...before.touched].find((id) => {
    const c = reading.connectors.get(id);
    const mated = c && !before.open.has(id) && !before.absent.has(id);
    return mated && !CONNECTORS.of(c.kind).byItself && !c.isolatesPower && !before.gated.get('G1')?.has(id);
  });
  return unseen ? breaks('R16', unseen, { code: 'seat-unseen', item: unseen }) : null;
};

/** R17: old and new are laid side by side before anything of the new part is peeled, laid or tried. */
const comparedFirst: CraftRule = ({ reading, step, plan, before }) => {
  if (!['try', 'bond', 'remove-liner', 'clean', 'transfer', 'fit'].includes(step.do)) return null;
  const early = plan.replace.find((part) => {
    if (before.renewed.has(part) || !before.removed.has(part)) return false;
    const family = new Set(reading.family(part));
    return step.items.some((id) => family.has(id) || reading.bonds.get(id)?.joins.some((p) => family.has(p)));
  });
  return early ? breaks('R17', early, { code: 'not-compared', item: early }) : null;
};

const WET: ReadonlySet<string> = new Set(['heat', 'solvent', 'clean']);

/** R2: after the open test nothing inside is worked with steel, heat or solvent unless the battery is off again. */
const offBeforeHands: CraftRule = (moment) => {
  const { reading, checker, step, before, plan, index } = moment;
  if (step.phase !== 'ascent' || checker.isolated(before, step.items)) return null;
  const test = plan.steps.slice(0, index).findIndex((s) => s.phase === 'ascent' && s.do === 'test');
  if (test < 0) return null;
  const steel = step.tool !== null && conducts(step.tool);
  if (!steel && !WET.has(step.do)) return null;
  // What lies on a part that itself goes in only now could not be done before.
  const fresh = new Set(plan.steps.slice(test, index).flatMap((s) => (s.do === 'fit' ? s.items : [])));
  const waits = (id: string) => reading.own(reading.items.get(id)!).some((part) => fresh.has(part));
  const inner = step.items.find((id) => !isOutside(moment, id) && !waits(id));
  return inner ? breaks('R2', inner, { code: 'worked-live-inside', item: inner }) : null;
};

/** R3: a function is tested when everything that carries it is mated and in; what is lost is never asked for. */
const testsThatPass: CraftRule = ({ checker, step, before, plan }) => {
  if (step.do !== 'test') return null;
  for (const f of step.items) {
    if (plan.losses.some((l) => l.function === f)) return breaks('R3', f, { code: 'asked-though-lost', function: f });
    const missing = checker.cannotPass(before, f);
    if (missing) return breaks('R3', f, { code: 'cannot-pass', function: f, item: missing });
  }
  return null;
};

/** R13: the cell is drawn down where it is heated, pried or lifted from glue, and not otherwise. */
const drawnDownWhereNeeded: CraftRule = ({ reading, document, step, plan }) => {
  if (step.do !== 'discharge') return null;
  const cell = (id: string) => reading.parts.get(id)?.kind === 'battery';
  const asks = plan.steps.some(
    (s) =>
      s.phase !== 'turn' &&
      (s.do === 'heat' || s.items.some((id) => s.phase === 'descent' && reading.bonds.get(id)?.joins.some(cell))),
  );
  if (!asks) return breaks('R13', 'discharge', { code: 'drawn-for-nothing' });
  const { charge, dark } = plan.condition;
  const { volts, milliampHours } = document.battery;
  // From the charge down to 25 %, unknown counting as the house assumes: as full, unless it says otherwise (common practice).
  const wattHours = dark
    ? 0
    : (volts * milliampHours * Math.max(0, (charge ?? plan.rules.assumedCharge) - 25)) / 100_000;
  const fastest = wattHours > 0 && step.waits === 0;
  return fastest ? breaks('R13', 'discharge', { code: 'draw-not-waited' }) : null;
};

/** R27: of several plugs that cut the power off, those of the cells are mated last. */
const cellsMatedLast: CraftRule = ({ reading, document, checker, step, before }) => {
  if (step.phase !== 'ascent' || step.do !== 'connect') return null;
  const ofCell = (c: { from: string }) => reading.part(c.from).kind === 'battery';
  const cell = step.items.find((id) => {
    const c = reading.connectors.get(id);
    return c?.isolatesPower && ofCell(c);
  });
  if (cell === undefined) return null;
  const lies = (id: string) => JSON.stringify([reading.side(id), reading.pose(id, reading.side(id))]);
  const left = document.connectors.find(
    (c) =>
      c.isolatesPower &&
      lies(c.id) === lies(cell) &&
      !CONNECTORS.of(c.kind).byItself &&
      !ofCell(c) &&
      before.open.has(c.id) &&
      checker.connect(before, c.id) === null,
  );
  return left ? breaks('R27', left.id, { code: 'mated-before-cell', item: left.id, other: cell }) : null;
};

/** R28: a cell comes out of a dead device: another that is mated, or a flex from another half, would still feed where hands are. */
const cellOutDead: CraftRule = ({ reading, checker, step, before }) => {
  if (step.phase !== 'descent' || step.do !== 'lift') return null;
  for (const id of step.items) {
    if (reading.parts.get(id)?.kind !== 'battery' || checker.isolated(before, [id])) continue;
    const sooner = checker.isolatedSooner(before, id);
    if (sooner) return breaks('R28', id, { code: 'out-live', item: id, other: sooner });
  }
  return null;
};

/** By their names. */
export const OF_POWER = {
  R1: matedLast,
  R2: offBeforeHands,
  R3: testsThatPass,
  R13: drawnDownWhereNeeded,
  R16: seatsBeforePower,
  R17: comparedFirst,
  R27: cellsMatedLast,
  R28: cellOutDead,
} satisfies Partial<Record<CraftName, CraftRule>>;
