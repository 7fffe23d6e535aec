import { placementsOf, type Exit, type Model } from '../../anatomy/index.ts';

/** What lies over what never changes for a model. */
const knownCovers = new WeakMap<Model, Map<string, boolean>>();

/** What lies over what in a device (A1), as the checker sees it: geometry only, whatever is off. */
export class Covers {
  private readonly lies: Map<string, boolean>;
  private readonly places = new Map<string, Exit[]>();

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
        : type === 'bond' || type === 'latch'
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
      p.within === this.model.contextOf(item) &&
      at.face !== 'edge' &&
      placementsOf(p).some((own) => own.face === at.face && own.layer < at.layer) &&
      !this.model.ownPartsOf(item).includes(part) &&
      this.model.overlaps(part, item);
    this.lies.set(key, answer);
    return answer;
  }

  /** In its place, `part` lies over `item` or is what must be tilted to get at it. */
  hides(part: string, item: string): boolean {
    return this.covers(part, item) || this.model.connectors.get(item)?.reachedBy?.swing === part;
  }
}
