import { BONDS, FASTENERS } from '../kinds/index.ts';
import type {
  BondRead,
  ConnectorRead,
  Document,
  FastenerRead,
  Entry,
  LatchRead,
  PartRead,
  Place,
  Shape,
  Side,
} from './document.ts';
import { groundOf, groundOfBond, groundOfLatch, overlap, shareUnder, type Ground } from './ground.ts';

/** What lies in one body by less lies over several. From the format's description. */
const MOST_OF_IT = 0.8;

/** Beneath everything: where nothing on that side says how deep. */
const BENEATH_ALL = Number.MAX_SAFE_INTEGER;

/**
 * The judge's own reading of a device: what travels with what, in whose frame an item lies, on which side and how deep, and
 * what ground it takes. Read off the document, and off nothing that a planner has made of it.
 */
export class Reading {
  readonly items = new Map<string, Entry>();
  readonly parts = new Map<string, PartRead>();
  readonly fasteners = new Map<string, FastenerRead>();
  readonly connectors = new Map<string, ConnectorRead>();
  readonly bonds = new Map<string, BondRead>();
  readonly latches = new Map<string, LatchRead>();
  private readonly grounds = new Map<string, Ground>();
  private readonly frames = new Map<string, string | null>();
  private readonly families = new Map<string, ReadonlySet<string>>();
  private readonly byItself = new Map<string, boolean>();

  constructor(readonly document: Document) {
    for (const item of document.parts) this.note(this.parts, item, { type: 'part', item });
    for (const item of document.fasteners) this.note(this.fasteners, item, { type: 'fastener', item });
    for (const item of document.connectors) this.note(this.connectors, item, { type: 'connector', item });
    for (const item of document.bonds) this.note(this.bonds, item, { type: 'bond', item });
    for (const item of document.latches) this.note(this.latches, item, { type: 'latch', item });
  }

  private note<T extends { id: string }>(list: Map<string, T>, item: T, found: Entry): void {
    list.set(item.id, item);
    this.items.set(item.id, found);
  }

  part(id: string): PartRead {
    const part = this.parts.get(id);
    if (!part) throw new Error(`the document has no part "${id}"`);
    return part;
  }

  /** A part and the assemblies around it, from itself outwards. */
  private outwards(part: string): string[] {
    const chain: string[] = [];
    for (let at: string | null = part; at !== null && !chain.includes(at); at = this.part(at).within) chain.push(at);
    return chain;
  }

  /** A part and all that travels with it, through every assembly in it. */
  family(part: string): ReadonlySet<string> {
    const known = this.families.get(part);
    if (known) return known;
    const family = new Set([...this.parts.keys()].filter((id) => this.outwards(id).includes(part)));
    this.families.set(part, family);
    return family;
  }

  /** The part that a screw ends in, through whatever standoffs it stands on. */
  seat(fastener: FastenerRead): string {
    let into = fastener.into;
    for (let next = this.fasteners.get(into); next; next = this.fasteners.get(into)) into = next.into;
    return into;
  }

  /** What an item holds or joins, which is never in its own way. */
  own({ type, item }: Entry): readonly string[] {
    switch (type) {
      case 'part':
        return [item.id];
      case 'fastener':
        return item.holds;
      case 'connector':
        return [];
      default:
        return item.joins;
    }
  }

  /** The parts that an item lies between: itself, what a screw holds and ends in, both ends of a plug, what is joined. */
  between({ type, item }: Entry): readonly string[] {
    switch (type) {
      case 'part':
        return [item.id];
      case 'fastener':
        return [...item.holds, this.seat(item)];
      case 'connector':
        return [item.from, item.to];
      default:
        return item.joins;
    }
  }

  entry(id: string): Entry {
    const found = this.items.get(id);
    if (!found) throw new Error(`the document has no item "${id}"`);
    return found;
  }

  /** The assembly in whose frame side and layer of an item are told: the innermost that all it lies between belong to. */
  frame(id: string): string | null {
    const known = this.frames.get(id);
    if (known !== undefined) return known;
    const found = this.entry(id);
    let frame: string | null = null;
    if (found.type === 'part') frame = found.item.within;
    else {
      const [first, ...others] = this.between(found).map((part) => this.outwards(part));
      frame = first?.find((assembly) => others.every((chain) => chain.includes(assembly))) ?? null;
    }
    this.frames.set(id, frame);
    return frame;
  }

  /** What of a part lies directly in a frame: itself, or the assembly there that it belongs to. */
  private inFrame(part: string, frame: string | null): PartRead {
    const chain = this.outwards(part);
    return this.part(chain.find((id) => this.part(id).within === frame) ?? chain.at(-1)!);
  }

  private movers(joined: readonly string[], frame: string | null): PartRead[] {
    return joined
      .filter((part) => part !== frame)
      .map((part) => this.inFrame(part, frame))
      .filter((part) => !part.fixed);
  }

  /** Where a part can be come at: its usual place first, and through each further side. */
  places(part: PartRead): Place[] {
    return [{ face: part.face, layer: part.layer }, ...(part.exits ?? [])];
  }

  private uppermost(parts: readonly PartRead[]): PartRead | undefined {
    return parts.reduce<PartRead | undefined>((top, p) => (top && top.layer <= p.layer ? top : p), undefined);
  }

  side(id: string): Side {
    const { type, item } = this.entry(id);
    if (type === 'part' || type === 'fastener' || type === 'connector') return item.face;
    if (type === 'bond' && item.face) return item.face;
    return this.uppermost(this.movers(item.joins, this.frame(id)))?.face ?? 'front';
  }

  /** The part that a bond or a catch holds back, and that comes up once it lets go: the outermost that it joins; `null` where none moves. */
  freedBy(bond: BondRead | LatchRead): string | null {
    return this.uppermost(this.movers(bond.joins, this.frame(bond.id)))?.id ?? null;
  }

  private least(parts: readonly PartRead[], side: Side): number | null {
    const layers = parts.flatMap((p) => this.places(p).flatMap((at) => (at.face === side ? [at.layer] : [])));
    return layers.length > 0 ? Math.min(...layers) : null;
  }

  /** 0 is outermost, on its side and in its frame. */
  layer(id: string): number {
    const { type, item } = this.entry(id);
    const frame = this.frame(id);
    switch (type) {
      case 'part':
        return item.layer;
      case 'connector':
        if (item.layer !== null) return item.layer;
        return item.to === frame ? BENEATH_ALL : this.inFrame(item.to, frame).layer;
      case 'fastener': {
        if (item.layer !== null && item.layer !== undefined) return item.layer;
        const held = this.movers(item.holds, frame);
        if (held.length === 0) return 0;
        const stands = this.seat(item);
        return (
          this.least(held, item.face) ??
          this.least(stands === frame ? [] : this.movers([stands], frame), item.face) ??
          (item.face === 'edge' ? 0 : BENEATH_ALL)
        );
      }
      case 'bond': {
        if (item.layer !== null && item.layer !== undefined) return item.layer;
        const held = this.movers(item.joins, frame);
        if (held.length === 0) return 0;
        return this.least(held, this.side(id)) ?? (item.face ? BENEATH_ALL : 0);
      }
      case 'latch': {
        const held = this.movers(item.joins, frame);
        return held.length === 0 ? 0 : (this.least(held, this.side(id)) ?? 0);
      }
    }
  }

  /** What a tool needs to get at an item, mm. */
  ground(id: string): Ground {
    const known = this.grounds.get(id);
    if (known) return known;
    const ground = this.cut(this.entry(id));
    this.grounds.set(id, ground);
    return ground;
  }

  private cut({ type, item }: Entry): Ground {
    const outline = (part: string): Shape => this.part(part).outline;
    switch (type) {
      case 'part':
        return groundOf(item.outline);
      case 'fastener':
        return groundOf({ circle: [item.at[0], item.at[1], item.head / 2] });
      case 'connector':
        return groundOf({
          rect: [item.at[0] - item.size[0] / 2, item.at[1] - item.size[1] / 2, item.size[0], item.size[1]],
        });
      case 'bond':
        return groundOfBond(item, outline);
      case 'latch': {
        const top = this.uppermost(this.movers(item.joins, this.frame(item.id)));
        return groundOfLatch(item, (top ?? this.part(item.joins[0]!)).outline);
      }
    }
  }

  /** @param least mm² that the two have to share */
  overlaps(a: string, b: string, least?: number): boolean {
    return overlap(this.ground(a), this.ground(b), least);
  }

  /** The body of a fold that a part belongs to: as told, with what it is within, or where most of it lies; `null` is several, or none. */
  private body(part: string): string | null {
    const told = this.outwards(part)
      .map((id) => this.part(id).body)
      .find((body) => body);
    if (told) return told;
    const over = (this.document.bodies ?? []).find(
      ({ outline }) => shareUnder(this.ground(part), [groundOf(outline)]) >= MOST_OF_IT,
    );
    return over?.id ?? null;
  }

  /** The bodies that an item gets power from: where what it lies between lies, or is plugged in; `null` among them is any. */
  private suppliedIn(id: string): (string | null)[] {
    return this.between(this.entry(id)).flatMap((part) => {
      const body = this.body(part);
      if (body !== null || !this.document.bodies) return [body];
      const plugged = this.document.connectors.filter((c) => c.from === part || c.to === part);
      return plugged.length === 0 ? [null] : plugged.map((c) => this.body(c.from === part ? c.to : c.from));
    });
  }

  /** A part and the assemblies around it. */
  within = (part: string): readonly string[] => this.outwards(part);

  /** A flex that lies over several bodies: the hinge holds it. */
  runsThroughHinge(part: string): boolean {
    return this.document.bodies !== undefined && this.part(part).kind === 'flex' && this.body(part) === null;
  }

  /** The bodies in which an item is worked: a part's own, else where most of its ground lies; `null` is several, or none. */
  halves(id: string): ReadonlySet<string | null> {
    if (this.parts.has(id)) return new Set([this.body(id)]);
    const over = (this.document.bodies ?? []).find(
      ({ outline }) => shareUnder(this.ground(id), [groundOf(outline)]) >= MOST_OF_IT,
    );
    return new Set([over?.id ?? null]);
  }

  /**
   * How a fold has to lie while an item is worked: opened flat for what is worked from the inside, half open where the document
   * says so, closed with a back up for what is worked from there; `null` is however it lies.
   */
  pose(id: string, side: Side): { readonly says: string; readonly half: string | null } | null {
    if (!this.document.bodies || side === 'edge' || !this.items.has(id)) return null;
    if (this.document.hinge?.half.includes(id)) return { says: 'half', half: null };
    if (side === 'front') return { says: 'flat', half: null };
    const outer = this.outermost(id);
    return { says: 'closed', half: [...this.halves(outer)][0] ?? null };
  }

  /** The item itself, or the outermost assembly that it lies in. */
  private outermost(id: string): string {
    let at = id;
    for (let frame = this.frame(at); frame !== null; frame = this.frame(at)) at = frame;
    return at;
  }

  /** The plugs that cut what feeds any of these items; without any, all that cut something. */
  isolators(items: readonly string[]): readonly ConnectorRead[] {
    const { rails, connectors } = this.document;
    const cutting = connectors.filter((c) => c.isolatesPower);
    if (!rails || rails.length < 2 || items.length === 0) return cutting;
    const bodies = items.flatMap((id) => (this.items.has(id) ? this.suppliedIn(id) : [null]));
    const live = rails.filter((r) => r.feeds.length === 0 || bodies.some((b) => b === null || r.feeds.includes(b)));
    return cutting.filter((c) => live.some((r) => r.id === (c.isolates ?? rails[0]!.id)));
  }

  /**
   * The screws or catches that press a gasket tight: it is lifted with its part and laid with it. What softens by nothing and
   * gives to no solvent is no adhesive where something else holds its part.
   */
  pressedBy(bond: BondRead): readonly string[] {
    if (bond.compressedBy?.length) return bond.compressedBy;
    if (!BONDS.of(bond.kind).pressed || bond.softensAt !== null || bond.solvent) return [];
    const movers = bond.joins.filter((id) => !this.part(id).fixed);
    const { fasteners, latches } = this.document;
    return [
      ...fasteners.filter((f) => !FASTENERS.of(f.kind).seat && f.holds.some((id) => movers.includes(id))),
      ...latches.filter((l) => l.joins.some((id) => movers.includes(id))),
    ].map((x) => x.id);
  }

  /** Parts with its part and joins with it: paste, and a gasket that is pressed. */
  partsByItself(bond: BondRead): boolean {
    const known = this.byItself.get(bond.id);
    if (known !== undefined) return known;
    const answer = BONDS.of(bond.kind).byItself || this.pressedBy(bond).length > 0;
    this.byItself.set(bond.id, answer);
    return answer;
  }
}

const readings = new WeakMap<Document, Reading>();

/** The reading of a document, made once; a document is not changed after it was read. */
export function readingOf(document: Document): Reading {
  const known = readings.get(document) ?? new Reading(document);
  readings.set(document, known);
  return known;
}
