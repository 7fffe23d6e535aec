import type { Model } from '../../anatomy/index.ts';

/** The assemblies that an item lies in, from the inside out. */
export function contextsOf(model: Model, item: string): string[] {
  const found: string[] = [];
  for (let context = model.contextOf(item); context !== null; context = model.contextOf(context)) found.push(context);
  return found;
}

/** The item itself, or the outermost assembly that it lies in. */
export const outermostOf = (model: Model, item: string): string => contextsOf(model, item).at(-1) ?? item;
