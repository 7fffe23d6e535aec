import {
  CLEARING_DEGREES,
  OUTSIDE_SHARE,
  placementsOf,
  shareCovered,
  type Exit,
  type Face,
  type Model,
} from '../../anatomy/index.ts';

/** What lies over what never changes for a model. */
const knownCovers = new WeakMap<Model, Map<string, boolean>>();

/** One height at which an item can be covered: in its own assembly, or where an assembly around it lies. */
interface Height extends Exit {
  within: string | null;
}

/** What lies over what in a device (A1), as the checker sees it: geometry only, whatever is off. */
export class Covers {
  private readonly lies: Map<string, boolean>;
  private readonly places = new Map<string, Exit[]>();
  private readonly exposed = new Map<string, boolean>();

  constructor(private readonly model: Model) {
    this.lies = knownCovers.get(model) ?? new Map();
    knownCovers.set(model, this.lies);
  }

  /** A1, geometry only: would `part`, in its place, lie over `item` however that is come at? */
  covers(part: string, item: string): boolean {
    return this.placesOf(item).every((at) => this.coversAt(part, item, at));
  }

  /** Where an item can be come at: once, or once for every face that it or the part it joins can leave through. */
  placesOf(item: string): Exit[] {
    const known = this.places.get(item);
    if (known) return known;
    const { type, item: it } = this.model.items.get(item)!;
    const mover =
      type === 'part'
        ? it
        : type === 'latch' || (type === 'bond' && it.face === null)
          ? it.joins.map((id) => this.model.parts.get(id)!).find((p) => !p.fixed && p.exits.length > 0)
          : undefined;
    const places =
      mover && mover.exits.length > 0
        ? placementsOf(mover)
        : [{ face: this.model.faceOf(item), layer: this.model.layerOf(item) }];
    this.places.set(item, places);
    return places;
  }

  coversAt(part: string, item: string, at: Exit): boolean {
    const key = `${part} ${item} ${at.face} ${at.layer}`;
    const known = this.lies.get(key);
    if (known !== undefined) return known;
    const p = this.model.parts.get(part)!;
    const answer =
      !p.fixed &&
      p.id !== item &&
      !this.model.ownPartsOf(item).includes(part) &&
      this.heights(item, at).some(
        (height) =>
          p.within === height.within &&
          height.face !== 'edge' &&
          placementsOf(p).some((own) => own.face === height.face && own.layer < height.layer),
      ) &&
      this.model.overlaps(part, item);
    this.lies.set(key, answer);
    return answer;
  }

  /** An item in an assembly that shows the same face is covered by what lies over the assembly as well. */
  private heights(item: string, at: Exit): Height[] {
    let within = this.model.contextOf(item);
    const found: Height[] = [{ ...at, within }];
    while (within !== null) {
      const assembly = this.model.parts.get(within)!;
      if (assembly.face !== at.face) break;
      within = assembly.within;
      found.push({ face: assembly.face, layer: assembly.layer, within });
    }
    return found;
  }

  /** The assembly on whose inner side an item lies, or `null`. */
  behind(item: string): string | null {
    const face: Face = this.model.faceOf(item);
    for (let context = this.model.contextOf(item); context !== null; context = this.model.parts.get(context)!.within)
      if (face !== 'edge' && this.model.parts.get(context)!.face !== face) return context;
    return null;
  }

  /** In its place, `part` lies over `item`, is what must be tilted to get at it, or has it on its inner side. */
  hides(part: string, item: string): boolean {
    return (
      this.covers(part, item) ||
      this.behind(item) === part ||
      this.model.connectors.get(item)?.reachedBy?.swing === part
    );
  }

  /** Does swinging a part uncover what lies beneath it? */
  clears(part: string): boolean {
    return (this.model.parts.get(part)!.swing?.degrees ?? 0) >= CLEARING_DEGREES;
  }

  /** Is this a part of the outside of the device: no other lies over the better half of it? */
  outside(part: string): boolean {
    const p = this.model.parts.get(part)!;
    if (p.fixed || p.within !== null || p.face === 'edge') return false;
    const known = this.exposed.get(part);
    if (known !== undefined) return known;
    const over = this.model.anatomy.parts.filter((q) => this.covers(q.id, part)).map((q) => q.outline);
    const answer = shareCovered(p.outline, over) < OUTSIDE_SHARE;
    this.exposed.set(part, answer);
    return answer;
  }
}
