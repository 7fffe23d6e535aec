import { functionIn, type Model } from '../../anatomy/index.ts';
import type { Step } from '../types.ts';

/** What the items of a step are called: functions for tests and the gates that ask for them, else items of the anatomy. */
export function stepItemName(model: Model, step: Pick<Step, 'do' | 'gate'>, id: string): string {
  const functions = step.do === 'test' || step.do === 'confirm-loss' || step.gate === 'G4' || step.gate === 'G7';
  if (functions) return functionIn(model.anatomy, id).name;
  return model.items.has(id) ? model.nameOf(id) : id;
}
