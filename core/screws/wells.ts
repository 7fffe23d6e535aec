import type { Model } from '../anatomy/index.ts';
import type { Plan } from '../dive/index.ts';
import { lotsOf, trayPlan } from './tray.ts';

/** Well of every screw that comes out on a dive: `A1` in a tray, its own id on a map or a magnetic sheet. */
export type Wells = ReadonlyMap<string, string>;

/** Where each screw of a dive goes, by the house rules. Captive screws stay in their part. */
export function wellsOf(model: Model, plan: Plan): Wells {
  if (plan.rules.screws !== 'wells')
    return new Map(lotsOf(model, plan).flatMap((lot) => lot.fasteners.map((id) => [id, id] as const)));
  const { lots, labels } = trayPlan(model, plan, {
    rows: plan.rules.trayRows,
    columns: plan.rules.trayColumns,
    trays: plan.rules.trays,
  });
  return new Map(lots.flatMap((lot, i) => lot.fasteners.map((id) => [id, labels[i]!] as const)));
}
