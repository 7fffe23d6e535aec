import type { Bond, Model } from '../../anatomy/index.ts';
import { beadUnder, stripsUnder, stripWords } from '../house/sealing.ts';
import type { Plan } from '../types.ts';

/** What has to be ready for one new bond. */
export interface Consumable {
  bond: string;
  words: string;
}

/** Bonds that a plan lays anew from the shop's own tape or glue: not those that a spare brings ready laid. */
export function newBonds(model: Model, plan: Plan): Bond[] {
  const brought = new Set(plan.spares.flatMap((id) => model.anatomy.spares.find((s) => s.id === id)?.brings ?? []));
  const laid = new Set(plan.steps.filter((s) => s.do === 'bond').flatMap((s) => s.items));
  return model.anatomy.bonds.filter((b) => laid.has(b.id) && b.fate !== 'keep' && !brought.has(b.id));
}

/** Lengths of tape and millilitres of glue that a plan needs, bond by bond. */
export function consumablesOf(model: Model, plan: Plan): Consumable[] {
  const { rules } = plan;
  return newBonds(model, plan).map((bond) => {
    const name = bond.id;
    if (bond.kind === 'glue' || (bond.kind === 'tape' && rules.seal === 'liquid-glue')) {
      const bead = beadUnder(model, bond, rules);
      return { bond: name, words: `${bead.millilitres.toFixed(2)} ml of ${rules.closing.glue.name}` };
    }
    if (bond.kind !== 'tape') return { bond: name, words: WORDS[bond.kind] };
    const stocked = rules.closing.dieCut.includes(`${model.anatomy.id}/${bond.id}`);
    if (rules.seal === 'die-cut' || stocked) return { bond: name, words: `die-cut part${stocked ? ', in stock' : ''}` };
    const strips = stripsUnder(model, bond, rules);
    return { bond: name, words: strips ? stripWords(strips) : 'tape, of which the shop has none' };
  });
}

const WORDS: Record<Exclude<Bond['kind'], 'tape' | 'glue'>, string> = {
  'stretch-tab': 'new stretch strips',
  'pull-pouch': 'a new pull pouch',
  gasket: 'a new gasket',
  thermal: 'paste or pad',
  foil: 'a new foil',
};
