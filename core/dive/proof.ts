import type { Model } from '../anatomy/index.ts';
import { CONNECTORS } from '../kinds/index.ts';
import type { Step } from './types.ts';

/**
 * The functions whose proof rests on an item: those that a connector carries, those of a part and of what
 * travels with it, with those that its spring contacts carry. Every function rests on a power cell, and what nobody has placed yet on
 * every item.
 */
export function functionsOn(model: Model, item: string): ReadonlySet<string> {
  const on = new Set<string>(model.connectors.get(item)?.carries);
  for (const f of model.anatomy.functions) if (f.unplaced) on.add(f.id);
  if (!model.parts.has(item)) return on;
  const family = model.familyOf(item);
  for (const id of family) {
    const part = model.parts.get(id)!;
    if (part.kind === 'battery') return new Set(model.anatomy.functions.map((f) => f.id));
    for (const f of part.functions) on.add(f);
  }
  for (const c of model.anatomy.connectors) {
    if (CONNECTORS.of(c.kind).byItself && family.includes(c.from) !== family.includes(c.to))
      for (const f of c.carries) on.add(f);
  }
  return on;
}

const UNDOES: ReadonlySet<Step['do']> = new Set(['disconnect', 'desolder', 'lift', 'eject', 'swing']);
const PUTS_BACK: ReadonlySet<Step['do']> = new Set(['connect', 'solder', 'fit', 'transfer']);

/** Does work of this kind undo what a test of its items rests on? A part that hangs open again is proved anew as well. */
export const undoesProof = (verb: Step['do']): boolean => UNDOES.has(verb);

/** Does taking back work of this kind undo what a test of its items rests on? */
export const proofRestsOn = (verb: Step['do']): boolean => PUTS_BACK.has(verb);
