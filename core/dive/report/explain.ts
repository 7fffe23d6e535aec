import type { Model } from '../../anatomy/index.ts';
import type { Step } from '../types.ts';

const RULES: Record<string, string> = {
  A1: 'what is covered cannot be reached',
  A2: 'nothing may still hold it when it is lifted',
  A3: 'nothing swung open may be strained',
  A4: 'power is isolated before other connectors are opened',
  A5: 'only non-conductive tools inside a live device',
  A6: 'made ready before opening',
  A7: 'the way back reverses the way in',
  G1: 'connectors are recorded seated before they are covered',
  G2: 'screws are counted before the next layer goes on',
  G3: 'clean and dry, nothing loose',
  G4: 'proved before it is sealed',
  G5: 'liners off before a bonded part goes down',
  G6: 'pressed for its full time',
  G7: 'everything accounted for before hand-over',
  target: 'this is the part to replace',
  'house rules': 'by the house rules',
  'opens first': 'it is opened before it is taken off',
  'next face': 'the next step is on the other face',
  'renew if damaged': 'may have suffered',
};

/** One `because` of a plan in plain words, names instead of ids. */
export function explain(model: Model, because: string): string {
  const rule = RULES[because];
  if (rule) return /^[AG]\d$/.test(because) ? `${rule} (${because})` : rule;
  if (because.startsWith('order: ')) return because.slice(7).replace(/\.$/, '');
  const name = (id: string) => (model.items.has(id) ? model.nameOf(id) : id);
  return because.replace(/[a-z0-9][a-z0-9.-]*/g, (word) => (model.items.has(word) ? name(word) : word));
}

export function ruleText(rule: string): string {
  return RULES[rule] ?? rule;
}

/** What the items of a step are called: functions for tests and the gates that ask for them, else items of the anatomy. */
export function stepItemName(model: Model, step: Pick<Step, 'do' | 'gate'>, id: string): string {
  const functions = step.do === 'test' || step.gate === 'G4' || step.gate === 'G7';
  if (functions) return model.anatomy.functions.find((f) => f.id === id)?.name ?? id;
  return model.items.has(id) ? model.nameOf(id) : id;
}
