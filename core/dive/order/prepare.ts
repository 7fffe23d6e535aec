import type { Model } from '../../anatomy/index.ts';
import { CHARGE_LIMIT, DRAW_WARMEST, drawSeconds, mostLoad, OWN_DRAWS, ownLoad } from '../../cells/index.ts';
import { draft, type Draft } from '../entry/draft.ts';
import { rule } from '../graph/reasons.ts';
import { RELEASES } from '../house/bondKinds.ts';
import type { Caution } from '../house/cautions.ts';
import type { HouseRules } from '../house/rules.ts';
import { SECONDS } from '../house/times.ts';
import type { ChargeHint, DrawHint, Hint } from '../hints.ts';
import type { Condition, Standing } from '../types.ts';
import type { Bundle } from './bundles.ts';
import type { Partings } from './partings.ts';

/** What is made ready before the device is opened (A6). `bundles` are those worked on the device itself. */
export function prepare(
  model: Model,
  every: readonly Bundle[],
  rules: HouseRules,
  partings: Partings,
  condition: Condition,
  from: Standing | undefined,
): Draft[] {
  const bundles = every.filter((b) => !b.finished);
  const steps = [
    ...(asksOfCell(model, bundles, partings, from) ? [discharge(model, rules, condition)] : []),
    powerOff(),
    ...shieldGlass(model, bundles, condition),
  ];
  return steps.filter((d) =>
    d.do === 'power-off' ? from?.on || !from?.prepared.has(d.do) : !from?.prepared.has(d.do),
  );
}

/** R13: the cell is drawn down where it is heated, pried or lifted from glue, and not otherwise. */
function asksOfCell(model: Model, bundles: readonly Bundle[], partings: Partings, from: Standing | undefined): boolean {
  const cells = model.anatomy.parts.filter((p) => p.kind === 'battery' && !from?.removed.has(p.id));
  if (cells.length === 0) return false;
  const released = bundles.flatMap((b) => (b.kind === 'release' ? (model.bonds.get(b.items[0]!) ?? []) : []));
  return released.some(
    (bond) =>
      RELEASES[partings.get(bond.id)!.method].heats ||
      (bond.fate !== 'keep' && bond.joins.some((id) => cells.some((cell) => cell.id === id))),
  );
}

/** W that a cell is drawn down with: the shop's load, or the device's own. */
const drawWatts = ({ anatomy }: Model, rules: HouseRules): number => rules.dischargeWatts ?? ownLoad(anatomy.kind);

/** Seconds until a cell of this charge is drawn below the limit; one that is not known counts as the house assumes. */
export function dischargeSeconds(model: Model, rules: HouseRules, charge: number | null): number {
  const seconds = drawSeconds(
    model.anatomy.battery,
    charge ?? rules.assumedCharge,
    CHARGE_LIMIT,
    drawWatts(model, rules),
  );
  // A pack that cannot give such a load is drawn down by the hour, and read.
  return Number.isFinite(seconds) ? Math.round(seconds / 60) * 60 : 3600;
}

function discharge(model: Model, rules: HouseRules, { charge, dark }: Condition): Draft {
  const cautions: Caution[] = dark ? ['charged-lithium', 'lithium'] : ['lithium'];
  const common = { seconds: SECONDS.checkCharge, because: [rule('A6'), rule('R13')], cautions };
  if (dark)
    return draft('prepare', 'discharge', [], {
      ...common,
      hint: [{ code: 'dark-is-full' }],
    });
  const waits = dischargeSeconds(model, rules, charge);
  const watts = drawWatts(model, rules);
  const how: DrawHint =
    rules.dischargeWatts === null
      ? { code: 'own-draws', ways: OWN_DRAWS[model.anatomy.kind].map((d) => d.way) }
      : { code: 'load-on-port' };
  const charged: ChargeHint =
    charge === null ? { code: 'charge-unknown', charge: rules.assumedCharge } : { code: 'charge-said', charge };
  const limit = CHARGE_LIMIT;
  const hint: Hint[] = [
    waits === 0
      ? { code: 'charge-below', charged, limit }
      : { code: 'draw-down', charged, watts, how, limit, warmest: DRAW_WARMEST },
  ];
  if (waits > 0 && watts > mostLoad(model.anatomy.battery)) hint.push({ code: 'draw-fast' });
  return draft('prepare', 'discharge', [], { ...common, waits, hint });
}

function powerOff(): Draft {
  return draft('prepare', 'power-off', [], {
    seconds: SECONDS.powerOff,
    because: [rule('A6')],
    hint: [{ code: 'off-not-asleep' }],
  });
}

function shieldGlass(model: Model, bundles: readonly Bundle[], condition: Condition): Draft[] {
  const opened = bundles
    .filter((b) => b.kind === 'lift' || b.kind === 'swing')
    .map((b) => model.parts.get(b.items[0]!)!);
  const glass = [...new Set(opened.filter((p) => p.glass).map((p) => p.id))];
  if (glass.length === 0) return [];
  if (condition.crackedGlass)
    return [
      draft('prepare', 'tape-glass', glass, {
        tool: 'cover-tape',
        seconds: SECONDS.tapeGlass,
        because: [rule('A6')],
        cautions: ['glass'],
        hint: [{ code: 'glass-taped' }],
      }),
    ];
  return [
    draft('prepare', 'film', glass, {
      tool: 'film',
      seconds: SECONDS.film,
      because: [rule('A6')],
      hint: [{ code: 'film-on-glass' }],
    }),
  ];
}
