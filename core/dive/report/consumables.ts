import type { Bond, Model } from '../../anatomy/index.ts';
import { BONDS, laidAs } from '../../kinds/index.ts';
import type { ConsumableHint } from '../hints.ts';
import type { HouseRules } from '../house/rules.ts';
import { beadUnder, tapeHint, stripsUnder } from '../house/sealing.ts';
import type { Plan } from '../types.ts';

/** What has to be ready for one new bond. */
export interface Consumable {
  bond: string;
  what: ConsumableHint;
}

/** Bonds that a plan lays anew from the shop's own tape or glue: not those that a spare brings ready laid. */
export function newBonds(model: Model, plan: Plan): Bond[] {
  const brought = new Set(plan.spares.flatMap((id) => model.anatomy.spares.find((s) => s.id === id)?.brings ?? []));
  const laid = new Set(plan.steps.filter((s) => s.do === 'bond').flatMap((s) => s.items));
  return model.anatomy.bonds.filter((b) => laid.has(b.id) && b.fate !== 'keep' && !brought.has(b.id));
}

/** Lengths of tape and millilitres of glue that a plan needs, bond by bond. */
export function consumablesOf(model: Model, plan: Plan): Consumable[] {
  return newBonds(model, plan).map((bond) => ({ bond: bond.id, what: laidFrom(model, bond, plan.rules) }));
}

function laidFrom(model: Model, bond: Bond, rules: HouseRules): ConsumableHint {
  const kind = laidAs(bond.kind, rules.seal);
  if (BONDS.of(kind).takes === 'cure') {
    const { millilitres } = beadUnder(model, bond, rules);
    return { code: 'glue-of', millilitres, words: rules.closing.glue.name };
  }
  if (!BONDS.of(kind).byHouse) return { code: 'new-bond', fresh: kind };
  const stocked = rules.closing.dieCut.includes(`${model.anatomy.id}/${bond.id}`);
  if (rules.seal === 'die-cut' || stocked) return { code: stocked ? 'die-cut-in-stock' : 'die-cut' };
  const strips = stripsUnder(model, bond, rules);
  return strips ? tapeHint(strips) : { code: 'no-tape' };
}
