import { modelOf, placementsOf, type Anatomy, type Face, type Model, type Part } from '../anatomy/index.ts';
import { workable } from './workable.ts';

/** What an item has to do with others, by their ids. */
export interface Relations {
  /** Parts that lie over it: it cannot be reached before they are off or swung clear (A1). */
  coveredBy: string[];
  /** What it lies over, where it is a part. */
  covers: string[];
  /** Screws, connectors, bonds and catches that hold it, where it is a part; what it holds otherwise. */
  heldBy: string[];
  holds: string[];
}

/** Where an item is reached, worked out once. */
interface Place {
  id: string;
  context: string | null;
  face: Face;
  layer: number;
  own: readonly string[];
  swung: string | null;
}

const placeOf = (model: Model, id: string): Place => ({
  id,
  context: model.contextOf(id),
  face: model.faceOf(id),
  layer: model.layerOf(id),
  own: model.ownPartsOf(id),
  swung: model.connectors.get(id)?.reachedBy?.swing ?? null,
});

/** Does a part lie over an item, in the place where it comes off? (A1) */
function liesOver(model: Model, part: Part, item: Place): boolean {
  if (part.fixed || item.face === 'edge' || item.context !== part.within) return false;
  if (part.id === item.id || item.own.includes(part.id) || item.swung === part.id) return false;
  const at = placementsOf(part).find((place) => place.face === item.face);
  return at !== undefined && at.layer < item.layer && model.overlaps(part.id, item.id);
}

/**
 * The relations of every item of a draft. What is cut of an item is kept with it, so that after an edit only what the
 * edit touched is cut anew (see `modelOf`).
 */
export function relationsOf(anatomy: Anatomy): Map<string, Relations> {
  const model = modelOf(workable(anatomy));
  const out = new Map<string, Relations>();
  for (const id of model.items.keys()) out.set(id, { coveredBy: [], covers: [], heldBy: [], holds: [] });
  for (const id of model.items.keys()) {
    const item = placeOf(model, id);
    for (const part of model.anatomy.parts)
      if (liesOver(model, part, item)) {
        out.get(id)!.coveredBy.push(part.id);
        out.get(part.id)!.covers.push(id);
      }
  }
  const hold = (holder: string, held: readonly string[]) => {
    for (const id of held) {
      if (model.parts.get(id)?.fixed) continue;
      out.get(holder)!.holds.push(id);
      out.get(id)!.heldBy.push(holder);
    }
  };
  for (const f of model.anatomy.fasteners) hold(f.id, f.holds);
  for (const c of model.anatomy.connectors) hold(c.id, [c.from]);
  for (const b of model.anatomy.bonds) hold(b.id, b.joins);
  for (const l of model.anatomy.latches) hold(l.id, l.joins);
  return out;
}
