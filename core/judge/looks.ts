import { CONNECTORS } from '../kinds/index.ts';
import type { Act, ConnectorRead, Dive, Document, FastenerRead } from './document.ts';
import { Covers } from './covers.ts';
import { closedDevice, joinedTo, type Device } from './device.ts';
import { broken, type Found } from './found.ts';
import { PERHAPS, SURELY } from './ground.ts';
import { readingOf, type Reading } from './reading.ts';

/** What can be seen of a device in a state: what joins what, what is in reach, what is loose. It changes nothing. */
export class Looks {
  readonly reading: Reading;
  readonly layers: Covers;
  protected readonly lost: ReadonlySet<string>;
  protected readonly switchesOff: boolean;

  /** @param plan the dive that is judged or carried out; `null` asks for all that can be asked */
  constructor(
    readonly document: Document,
    plan: Pick<Dive, 'losses' | 'steps'> | null = null,
    /** Takes what may lie over something for what does; left out, only what surely does. */
    doubtful = false,
  ) {
    // What the exchange loses for good nothing asks to be proved.
    this.lost = new Set(plan?.losses.map((l) => l.function));
    // A plan of an older version has no step that switches off after the open test, and cannot be held to R2.
    const tests =
      plan?.steps.filter((s) => s.phase === 'ascent' && (s.do === 'power-on' || s.do === 'power-off')) ?? [];
    this.switchesOff = tests.length === 0 || tests.some((s) => s.do === 'power-off');
    this.reading = readingOf(document);
    this.layers = new Covers(this.reading, doubtful ? PERHAPS : SURELY);
  }

  /** Is all dead that feeds these items? Without any, all of the device. */
  isolated(d: Device, items: readonly string[] = []): boolean {
    const isolating = this.reading.isolators(items);
    return isolating.length > 0 && isolating.every((c) => d.open.has(c.id));
  }

  protected seat(f: FastenerRead): string {
    return this.reading.seat(f);
  }

  /** A part that is gone for good, with all that joined it. */
  joinedTo(part: string): string[] {
    return joinedTo(this.reading, part);
  }

  protected holding(d: Device, f: FastenerRead): boolean {
    return !d.out.has(f.id) && !d.absent.has(f.id);
  }

  splits(part: string, joined: readonly string[]): boolean {
    const family = this.reading.family(part);
    let inside = 0;
    for (const id of joined) if (family.has(id)) inside++;
    return inside > 0 && inside < joined.length;
  }

  protected contacts(part: string): ConnectorRead[] {
    return this.document.connectors.filter((c) => CONNECTORS.of(c.kind).byItself && this.splits(part, [c.from, c.to]));
  }

  protected isContact(id: string): boolean {
    const connector = this.reading.connectors.get(id);
    return connector !== undefined && CONNECTORS.of(connector.kind).byItself;
  }

  /** Fasteners, bonds and latches that still join a part to the rest. */
  joinery(d: Device, part: string): string[] {
    const { fasteners, bonds, latches } = this.document;
    return [
      ...fasteners.filter((f) => this.holding(d, f) && this.splits(part, [...f.holds, this.seat(f)])).map((f) => f.id),
      ...bonds
        .filter((b) => !this.reading.partsByItself(b) && !d.released.has(b.id) && this.splits(part, b.joins))
        .map((b) => b.id),
      ...latches.filter((l) => !d.released.has(l.id) && this.splits(part, l.joins)).map((l) => l.id),
    ];
  }

  /** All that a bond or latch joins lies in its place, `laid` taken as laid down; the assembly around it may be anywhere. */
  protected joined(
    d: Device,
    joint: { readonly id: string; readonly joins: readonly string[] },
    laid: string | null = null,
  ): boolean {
    const context = this.reading.frame(joint.id);
    return joint.joins.every(
      (p) => p === laid || p === context || (!d.removed.has(p) && !d.swung.has(p) && !d.eased.has(p)),
    );
  }

  protected away(d: Device, part: string, context: string | null): boolean {
    for (let at: string | null = part; at !== null && at !== context; at = this.reading.parts.get(at)!.within)
      if (d.removed.has(at)) return true;
    return false;
  }

  protected undone(d: Device, id: string): boolean {
    return d.out.has(id) || d.absent.has(id) || d.open.has(id) || d.released.has(id) || d.removed.has(id);
  }

  protected outOfTurn(d: Device, id: string): Found {
    const order = this.document.orders.find((o) => o.then === id && !this.undone(d, o.first));
    return order ? broken('A2', order.first, { code: 'ordered-first', item: order.first, words: order.because }) : null;
  }

  protected returnsOutOfTurn(d: Device, id: string): Found {
    // A part that stands open on its hinge is not back yet.
    const away = (other: string) => this.undone(d, other) || d.swung.has(other) || d.eased.has(other);
    const order = this.document.orders.find((o) => o.first === id && away(o.then) && !d.absent.has(o.then));
    return order ? broken('A7', order.then, { code: 'goes-back-before', item: order.then, other: id }) : null;
  }

  protected unreachable(d: Device, id: string, up?: Act['face']): Found {
    const all = this.layers.placesOf(id);
    const places = all.length > 1 ? all.filter((at) => up === undefined || at.face === up || at.face === 'edge') : null;
    const inPlace = [...this.reading.parts.keys()].filter((part) => !this.outOfTheWay(d, part, id));
    if (!places?.some((at) => inPlace.every((part) => !this.layers.coversAt(part, id, at))))
      for (const part of inPlace) {
        if (places ? places.some((at) => this.layers.coversAt(part, id, at)) : this.layers.covers(part, id))
          return broken('A1', part, { code: 'lies-over', item: part, other: id });
      }
    const reachedBy = this.reading.connectors.get(id)?.reachedBy;
    if (reachedBy && (!d.swung.has(reachedBy.swing) || d.taped.has(reachedBy.swing)))
      return broken('A1', reachedBy.swing, { code: 'reached-tilted', item: id, other: reachedBy.swing });
    const folded = this.foldedOver(d, id);
    if (folded) return folded;
    const behind = this.layers.behind(id);
    if (behind === null || this.outOfTheWay(d, behind, id)) return null;
    // An assembly that is out with the one around it lies open on the mat.
    for (let at = this.reading.frame(id); at !== null && at !== behind; at = this.reading.parts.get(at)!.within)
      if (d.removed.has(at)) return null;
    return broken('A1', behind, { code: 'on-inner-side', item: id, other: behind });
  }

  /** Parts that hang open: neither closed nor laid down and taped. */
  hanging(d: Device): string[] {
    return [...d.swung, ...d.eased].filter((id) => !d.taped.has(id));
  }

  /** Off, swung wide, swung at all for what says that it is reached that way, or open by the gap that lets a tool in. */
  protected outOfTheWay(d: Device, part: string, item: string): boolean {
    if (d.removed.has(part) || this.assemblyOff(d, part, item)) return true;
    if (d.taped.has(part)) return false;
    if (d.swung.has(part))
      return this.layers.clears(part) || this.reading.connectors.get(item)?.reachedBy?.swing === part;
    return d.eased.has(part) && this.reading.parts.get(part)!.swing!.gap!.reaches.includes(item);
  }

  /** The item was taken out with an assembly that `part` is no part of: nothing of the device lies over it any more. */
  protected assemblyOff(d: Device, part: string, item: string): boolean {
    for (let at = this.reading.frame(item); at !== null; at = this.reading.parts.get(at)!.within)
      if (d.removed.has(at) && !this.reading.family(at).has(part)) return true;
    return false;
  }

  /** A flex that lies over an item, or a bond that holds that flex down. */
  protected foldedOver(d: Device, id: string): Found {
    for (const c of this.document.connectors) {
      if (!c.liesOver?.includes(id) || d.absent.has(c.id)) continue;
      if (!d.open.has(c.id)) return broken('A1', c.id, { code: 'flex-lies-over', item: c.id, other: id });
      if (d.removed.has(c.from)) continue;
      const stuck = this.document.bonds.find((b) => b.flex === c.id && !d.released.has(b.id));
      if (stuck) return broken('A1', stuck.id, { code: 'holds-down-flex', item: stuck.id, other: c.id });
    }
    return null;
  }

  /** May this connector be mated while a part hangs open as it does? */
  protected staysMated(d: Device, part: string, id: string): boolean {
    const swing = this.reading.parts.get(part)!.swing!;
    return swing.tether.includes(id) || (d.eased.has(part) && (swing.gap?.reaches.includes(id) ?? false));
  }

  /** The face of the device that is up while an item is worked on. */
  deviceFace(id: string): Act['face'] {
    let at = id;
    for (let context = this.reading.frame(at); context !== null; context = this.reading.frame(at)) at = context;
    return this.reading.side(at);
  }

  /** How the device lies while an item is worked: the side that is up, of a fold how it is folded. */
  lyingFor(id: string): string {
    const face = this.deviceFace(id) ?? 'front';
    const pose = this.reading.pose(id, face);
    return pose === null ? face : `${pose.says} ${pose.half}`;
  }

  functionsTouched(d: Device): Set<string> {
    const touched = new Set<string>();
    for (const id of d.touched) {
      for (const f of this.reading.connectors.get(id)?.carries ?? []) touched.add(f);
      if (this.reading.parts.has(id))
        for (const p of this.reading.family(id)) for (const f of this.reading.parts.get(p)!.functions) touched.add(f);
    }
    if (d.touched.size > 0) for (const f of this.document.functions) if (f.unplaced) touched.add(f.id);
    return touched;
  }

  /** Functions touched so far that can be tested on an open device. */
  protected openTests(d: Device): string[] {
    const after = new Set(this.document.functions.filter((f) => f.afterClosing).map((f) => f.id));
    return [...this.functionsTouched(d)].filter((f) => !after.has(f) && !this.lost.has(f));
  }

  /** R3: what is missing for a function to work: a plug that is open, a part that is off; `null` when nothing is. */
  cannotPass(d: Device, f: string): string | null {
    const { connectors, parts } = this.document;
    const open = connectors.find((c) => c.carries.includes(f) && d.open.has(c.id) && !d.absent.has(c.id));
    if (open) return open.id;
    const off = parts.find((p) => p.functions.includes(f) && !d.absent.has(p.id) && this.away(d, p.id, null));
    return off?.id ?? null;
  }

  protected isLoose(d: Device, part: string): boolean {
    const { fixed, within, face } = this.reading.parts.get(part)!;
    if (fixed || within !== null || face === 'edge' || d.absent.has(part)) return false;
    if (d.removed.has(part) || d.swung.has(part) || d.eased.has(part) || this.reading.runsThroughHinge(part))
      return false;
    const { bonds, parts } = this.document;
    const sticks = bonds.some(
      (b) =>
        b.joins.includes(part) &&
        !d.released.has(b.id) &&
        !d.absent.has(b.id) &&
        this.reading.pressedBy(b).length === 0,
    );
    if (sticks || this.joinery(d, part).length > 0) return false;
    const sides = this.layers.placesOf(part).map((at) => parts.filter((p) => this.layers.coversAt(p.id, part, at)));
    // It falls out of any side that stands open; what nothing ever held or covered sits by its own fit.
    return sides.some(
      (over) =>
        over.every((p) => d.removed.has(p.id) || d.swung.has(p.id)) &&
        (over.length > 0 || this.joinery(closedDevice(), part).length > 0),
    );
  }

  /** Parts that lie in their places with nothing left that holds them, and nothing over them (R8). */
  looseParts(d: Device): string[] {
    return this.document.parts.map((p) => p.id).filter((id) => this.isLoose(d, id));
  }

  /** Could a tool get at this item on a device in this state? */
  reaches(d: Device, id: string): boolean {
    return this.unreachable(d, id) === null;
  }
}
