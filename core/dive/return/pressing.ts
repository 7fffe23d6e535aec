import type { Bond } from '../../anatomy/index.ts';
import type { PressPlan } from '../../closing/index.ts';
import { draft, joinsCell, type Draft } from '../entry/draft.ts';
import { relation, rule, uniqueReasons } from '../graph/reasons.ts';
import type { StepGraph } from '../graph/stepGraph.ts';
import type { Hint } from '../hints.ts';
import { pressingOf, type Pressing } from '../house/bondKinds.ts';
import { pressTool, type HouseRules } from '../house/rules.ts';
import { pressHint, pressUnder } from '../house/sealing.ts';
import type { Phase } from '../types.ts';

/** The panel of the outside that a bond runs along the rim of, or `null`. */
export function panelOf(graph: StepGraph, bond: Bond): string | null {
  if ('perimeterOf' in bond.at) return graph.isOuter(bond.at.perimeterOf) ? bond.at.perimeterOf : null;
  return 'line' in bond.at ? (bond.joins.find((id) => graph.isOuter(id)) ?? null) : null;
}

/** R9: a seal runs round a panel of the outside; it is clamped or cured by the house rule, and nothing else is. */
export function isSeal(graph: StepGraph, bond: Bond): boolean {
  return panelOf(graph, bond) !== null;
}

/** What a load is put on with: what serves, where the shop has it, else what the house presses with. */
function pressedWith(seal: PressPlan | null, rules: HouseRules): string {
  const serves = seal?.way === 'weight' ? 'weight' : 'clips';
  return seal && !rules.lacks.includes(serves) ? serves : (pressTool(rules) ?? 'clips');
}

/** A bond pressed once its part lies (R9). */
export function press(graph: StepGraph, bond: Bond, phase: Phase, rules: HouseRules): Draft {
  const { model } = graph;
  const outside = isSeal(graph, bond);
  const { verb, hands, wait } = pressingOf(model, bond, rules, outside);
  const seal = outside && bond.fate !== 'keep' && wait > 0 ? pressUnder(model, bond, rules) : null;
  return draft(phase, verb, [bond.id], {
    because: [relation('returns', bond.id), rule('R9')],
    tool: wait > 0 ? pressedWith(seal, rules) : null,
    seconds: hands,
    waits: wait,
    cautions: joinsCell(model, bond.joins) ? ['lithium'] : verb === 'cure' ? ['solvent'] : [],
    hint: hintOf(bond, verb, wait, outside, seal),
  });
}

function hintOf(bond: Bond, verb: Pressing['verb'], wait: number, outside: boolean, seal: PressPlan | null): Hint[] {
  if (bond.fate === 'keep') return [{ code: 'laid-back' }];
  if (verb === 'cure') return [seal ? pressHint(seal) : { code: 'clamp-lightly' }, { code: 'let-cure' }];
  if (wait > 0) return seal ? [pressHint(seal), { code: 'flush-all-round' }] : [];
  return [{ code: outside ? 'press-flush' : 'press-all-over' }];
}

/** Is a new bond pressed by the weight that presses others of its panel as well? */
function sharesWeight(graph: StepGraph, bond: Bond, rules: HouseRules): boolean {
  const { model } = graph;
  if (bond.fate === 'keep' || !isSeal(graph, bond) || pressingOf(model, bond, rules, true).wait === 0) return false;
  const { way, panel } = pressUnder(model, bond, rules);
  return way === 'weight' && panel.bonds.length > 1;
}

/** The bonds of a part pressed, each for itself, but for those that one weight presses at once. */
export function pressAll(graph: StepGraph, bonds: readonly Bond[], phase: Phase, rules: HouseRules): Draft[] {
  const each = (list: readonly Bond[]) => list.map((b) => press(graph, b, phase, rules));
  const atOnce = bonds.filter((b) => sharesWeight(graph, b, rules));
  const alone = each(bonds.filter((b) => !atOnce.includes(b)));
  const [first, ...others] = each(atOnce);
  if (!first) return alone;
  const together: Draft = {
    ...first,
    items: atOnce.map((b) => b.id),
    waits: Math.max(first.waits, ...others.map((d) => d.waits)),
    because: uniqueReasons([first, ...others].flatMap((d) => d.because)),
  };
  return [together, ...alone];
}
