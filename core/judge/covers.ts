import { BONDS, CATCHES } from '../kinds/index.ts';
import type { BondRead, PartRead, Place, Side } from './document.ts';
import { shareUnder } from './ground.ts';
import type { Reading } from './reading.ts';

/** A part that is swung by less uncovers nothing, degrees; and what is covered by less than this share is of the outside. From the format's description. */
const CLEARING = 60;
const OUTSIDE = 0.5;

/** What lies over what never changes for a device. */
const knownCovers = new WeakMap<Reading, Map<number, Map<string, boolean>>>();

/** One height at which an item can be covered: in its own assembly, or where an assembly around it lies. */
interface Height extends Place {
  within: string | null;
}

/** What lies over what in a device (A1), as the checker sees it: geometry only, whatever is off. */
export class Covers {
  private readonly lies: Map<string, boolean>;
  private readonly places = new Map<string, Place[]>();
  private readonly exposed = new Map<string, boolean>();

  /** @param least mm² that a part has to share with what it lies over */
  constructor(
    private readonly reading: Reading,
    private readonly least: number,
  ) {
    const known = knownCovers.get(reading) ?? new Map<number, Map<string, boolean>>();
    knownCovers.set(reading, known);
    this.lies = known.get(least) ?? new Map();
    known.set(least, this.lies);
  }

  /** A1, geometry only: would `part`, in its place, lie over `item` however that is come at? */
  covers(part: string, item: string): boolean {
    return this.placesOf(item).every((at) => this.coversAt(part, item, at));
  }

  /** Where an item can be come at: once, or once for every face that it or the part it joins can leave through. */
  placesOf(item: string): Place[] {
    const known = this.places.get(item);
    if (known) return known;
    const { type, item: it } = this.reading.items.get(item)!;
    const several = (p: PartRead) => this.reading.places(p).length > 1;
    const mover =
      type === 'part'
        ? it
        : type === 'latch' || (type === 'bond' && !it.face)
          ? it.joins.map((id) => this.reading.part(id)).find((p) => !p.fixed && several(p))
          : undefined;
    const places =
      mover && several(mover)
        ? this.reading.places(mover)
        : [{ face: this.reading.side(item), layer: this.reading.layer(item) }];
    this.places.set(item, places);
    return places;
  }

  coversAt(part: string, item: string, at: Place): boolean {
    const key = `${part} ${item} ${at.face} ${at.layer}`;
    const known = this.lies.get(key);
    if (known !== undefined) return known;
    const p = this.reading.parts.get(part)!;
    const answer =
      !p.fixed &&
      p.id !== item &&
      !this.reading.own(this.reading.items.get(item)!).includes(part) &&
      !(p.swing === null && this.reading.connectors.get(item)?.from === part) &&
      this.heights(item, at).some(
        (height) =>
          p.within === height.within &&
          height.face !== 'edge' &&
          this.reading.places(p).some((own) => own.face === height.face && own.layer < height.layer),
      ) &&
      this.reading.overlaps(part, item, this.least);
    this.lies.set(key, answer);
    return answer;
  }

  /** An item in an assembly that shows the same face is covered by what lies over the assembly as well. */
  private heights(item: string, at: Place): Height[] {
    let within = this.reading.frame(item);
    const found: Height[] = [{ ...at, within }];
    while (within !== null) {
      const assembly = this.reading.parts.get(within)!;
      if (assembly.face !== at.face) break;
      within = assembly.within;
      found.push({ face: assembly.face, layer: assembly.layer, within });
    }
    return found;
  }

  /** The assembly on whose inner side an item lies, or `null`. */
  behind(item: string): string | null {
    const face: Side = this.reading.side(item);
    for (let context = this.reading.frame(item); context !== null; context = this.reading.parts.get(context)!.within)
      if (face !== 'edge' && this.reading.parts.get(context)!.face !== face) return context;
    return null;
  }

  /** In its place, `part` lies over `item`, is what must be tilted to get at it, or has it on its inner side. */
  hides(part: string, item: string): boolean {
    return (
      this.covers(part, item) ||
      this.behind(item) === part ||
      this.reading.connectors.get(item)?.reachedBy?.swing === part
    );
  }

  /** Does swinging a part uncover what lies beneath it? */
  clears(part: string): boolean {
    return (this.reading.parts.get(part)!.swing?.degrees ?? 0) >= CLEARING;
  }

  /**
   * The panel of the outside that a bond lies in the middle of, under it: the outermost of what it joins, where it is bonded over
   * an area and not at tabs; `null` for the rim itself and all else.
   */
  panelOver(id: string): string | null {
    const bond = this.reading.bonds.get(id);
    if (!bond || !('area' in bond.at) || bond.tabs.length > 0 || BONDS.of(bond.kind).over) return null;
    if (this.reading.partsByItself(bond)) return null;
    const [top, next] = bond.joins
      .map((part) => this.reading.part(part))
      .filter((p) => !p.fixed && p.within === null && p.face === this.reading.side(id))
      .sort((a, b) => a.layer - b.layer);
    if (!top || top.layer === next?.layer || !this.outside(top.id)) return null;
    return top.id;
  }

  /** Does a bond run along the rim of a panel, or round what holds it, and to something that is no part of it? */
  private alongRim({ at, joins }: BondRead, panel: string): boolean {
    if ('area' in at || joins.every((id) => this.reading.family(panel).has(id))) return false;
    return 'line' in at || at.perimeterOf === panel || this.reading.part(at.perimeterOf).fixed;
  }

  /** What holds the rim of a panel: the bonds along it, its screws, and the catches that are pried. */
  rimOf(panel: string): string[] {
    const { bonds, fasteners, latches } = this.reading.document;
    return [
      ...bonds
        .filter((b) => b.joins.includes(panel) && this.alongRim(b, panel) && !this.reading.partsByItself(b))
        .map((b) => b.id),
      ...fasteners
        .filter((f) => f.holds.includes(panel) && !this.reading.family(panel).has(this.reading.seat(f)))
        .map((f) => f.id),
      ...latches
        .filter((l) => l.joins.includes(panel) && l.release === 'any' && CATCHES.of(l.letsGo ?? 'pried').worked)
        .map((l) => l.id),
    ];
  }

  /** Is this a part of the outside of the device: no other lies over the better half of it? */
  outside(part: string): boolean {
    const p = this.reading.parts.get(part)!;
    if (p.fixed || p.within !== null || p.face === 'edge') return false;
    const known = this.exposed.get(part);
    if (known !== undefined) return known;
    const over = this.reading.document.parts
      .filter((q) => this.covers(q.id, part))
      .map((q) => this.reading.ground(q.id));
    const answer = shareUnder(this.reading.ground(part), over) < OUTSIDE;
    this.exposed.set(part, answer);
    return answer;
  }
}
