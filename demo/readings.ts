import type { Model } from '../core/anatomy/index.ts';
import { PERHAPS, Reading, SURELY } from '../core/judge/index.ts';

/** Where the model of the planner and the judge's reading of the same document differ, in words. */
export function differences(model: Model): string[] {
  const reading = new Reading(model.anatomy);
  // A hair's breadth about the least area that counts is nobody's fault.
  const perhaps = (a: string, b: string) => reading.overlaps(a, b, PERHAPS);
  const surely = (a: string, b: string) => reading.overlaps(a, b, SURELY);
  const told: string[] = [];
  for (const id of model.items.keys()) {
    const planner = [model.contextOf(id), model.faceOf(id), model.layerOf(id)].join();
    const judge = [reading.frame(id), reading.side(id), reading.layer(id)].join();
    if (planner !== judge) told.push(`${id}: ${planner} and ${judge}`);
    const feeding = [model.isolatorsOf(id), reading.isolators([id])].map((list) =>
      list
        .map((c) => c.id)
        .sort()
        .join(),
    );
    if (feeding[0] !== feeding[1]) told.push(`what feeds ${id}: ${feeding.join(' and ')}`);
    const halves = [model.bodyOf(id), [...reading.halves(id)][0] ?? null];
    if (halves[0] !== halves[1]) told.push(`the body of ${id}: ${halves.join(' and ')}`);
    for (const part of model.parts.keys())
      if (part !== id && !(model.overlaps(part, id) ? perhaps(part, id) : !surely(part, id)))
        told.push(`${part} over ${id}`);
  }
  for (const bond of model.anatomy.bonds) {
    const pressing = [model.pressedBy(bond.id), reading.pressedBy(bond)].map((list) => [...list].sort().join());
    if (pressing[0] !== pressing[1]) told.push(`what presses ${bond.id}: ${pressing.join(' and ')}`);
  }
  for (const part of model.parts.keys())
    if (model.familyOf(part).sort().join() !== [...reading.family(part)].sort().join()) told.push(`family of ${part}`);
  return told;
}
