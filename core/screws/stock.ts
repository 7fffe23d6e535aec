import type { Model } from '../anatomy/index.ts';
import type { ScrewShape } from './classes.ts';
import { fitOf, type Fit } from './fit.ts';

/** A kind of screw in the shop's small stock. */
export interface StockItem extends Omit<ScrewShape, 'colour'> {
  id: string;
  count: number;
  /** Counted up by every change. */
  revision: number;
}

export interface Equivalent {
  item: StockItem;
  fit: Fit;
  /** Why it stands where it stands. */
  note: string;
}

/** What can take the place of a stripped or missing screw, best first: same thread and kind, nothing harmful, there at all. */
export function equivalentsOf(model: Model, fastener: string, stock: readonly StockItem[]): Equivalent[] {
  const hole = model.fasteners.get(fastener);
  if (!hole) throw new Error(`there is no fastener "${fastener}"`);
  return stock
    .filter((item) => item.count > 0 && item.kind === hole.kind && Math.abs(item.thread - hole.thread) < 0.01)
    .map((item) => ({ item, fit: fitOf(model, item, hole) }))
    .filter(({ fit }) => !fit.harmful)
    .map(({ item, fit }) => {
      const notes = [fit.text];
      if (item.drive !== hole.drive) notes.push(`its drive is ${item.drive} instead of ${hole.drive}`);
      if (item.magnetic !== hole.magnetic)
        notes.push(item.magnetic ? 'it is magnetic, the original was not' : 'it is not magnetic');
      const worth =
        Math.abs((item.length ?? 0) - (hole.length ?? 0)) * 10 +
        Math.abs(item.head - hole.head) * 4 +
        (item.drive !== hole.drive ? 2.5 : 0) +
        (item.magnetic !== hole.magnetic ? 3 : 0);
      return { item, fit, note: notes.join('; '), worth };
    })
    .sort((a, b) => a.worth - b.worth)
    .map(({ worth: _, ...rest }) => rest);
}
