import { CONNECTORS } from '../kinds/index.ts';
import type { Act } from './document.ts';
import { Changes } from './changes.ts';
import { closedDevice, copyDevice, type Device } from './device.ts';
import { broken, type Found } from './found.ts';

/** What may be undone on a device in a state (A1 to A4, A6), and how far it can be taken apart. */
export class WayIn extends Changes {
  loosen(d: Device, id: string): Found {
    if (d.absent.has(id)) return null;
    if (d.out.has(id)) return broken('A2', id, { code: 'out-already', item: id });
    const rider = this.document.fasteners.find((f) => f.into === id && this.holding(d, f));
    if (rider) return broken('A1', rider.id, { code: 'rider-stands-in', item: rider.id, other: id });
    return this.unreachable(d, id) ?? this.outOfTurn(d, id) ?? this.traysLeft(d, id);
  }

  protected open(d: Device, id: string, power: boolean): Found {
    const c = this.reading.connectors.get(id)!;
    if (d.open.has(id)) return broken('A2', id, { code: 'open-already', item: id });
    const above = this.unreachable(d, id) ?? this.outOfTurn(d, id) ?? this.traysLeft(d, id);
    if (above) return above;
    const top = c.beneath.find((other) => !d.open.has(other));
    if (top) return broken('A1', top, { code: 'lies-on-mated', item: top, other: id });
    const before = c.after.find((other) => !this.undone(d, other));
    if (before) return broken('A1', before, { code: 'goes-first', item: before, other: id });
    if (!power || c.isolatesPower || this.isolated(d, [id])) return null;
    if (CONNECTORS.of(c.kind).joint) return broken('A4', id, { code: 'soldered-live', item: id });
    const sooner = this.isolatedSooner(d, id);
    if (sooner) return broken('A4', id, { code: 'opened-live', item: id, other: sooner });
    return null;
  }

  protected release(d: Device, id: string, up?: Act['face']): Found {
    if (d.released.has(id)) return broken('A2', id, { code: 'released-already', item: id });
    const latch = this.reading.latches.get(id);
    const freed = latch?.release === 'last' ? this.reading.freedBy(latch) : null;
    const left = freed && this.joinery(d, freed).find((other) => this.reading.latches.get(other)?.release !== 'last');
    if (left) return broken('A2', left, { code: 'goes-first', item: left, other: id });
    return this.unreachable(d, id, up) ?? this.underPanel(d, id) ?? this.outOfTurn(d, id) ?? this.traysLeft(d, id);
  }

  /** Solvent and the first gap go where the cut will go: a bond that is covered takes neither. */
  protected reachesBond(d: Device, id: string, up?: Act['face']): Found {
    if (!this.reading.bonds.has(id)) return null;
    return this.unreachable(d, id, up) ?? this.underPanel(d, id);
  }

  /** A1: what lies in the middle under a panel is out of reach while the rim of that panel holds. */
  private underPanel(d: Device, id: string): Found {
    const panel = this.layers.panelOver(id);
    if (panel === null || d.removed.has(panel) || (d.swung.has(panel) && !d.taped.has(panel))) return null;
    const rim = this.layers
      .rimOf(panel)
      .find((other) => !d.released.has(other) && !d.out.has(other) && !d.absent.has(other));
    return rim ? broken('A1', rim, { code: 'under-held-rim', item: id, other: panel }) : null;
  }

  take(d: Device, id: string, how: 'ease' | 'swing' | 'lift', power: boolean, up?: Act['face']): Found {
    const part = this.reading.parts.get(id)!;
    const swing = how !== 'lift';
    const rule = swing ? 'A3' : 'A2';
    if (part.fixed) return broken(rule, id, { code: 'is-fixed', item: id });
    if (d.removed.has(id)) return broken(rule, id, { code: 'off-already', item: id });
    if (swing && (!part.swing || d.swung.has(id) || (how === 'ease' && d.eased.has(id))))
      return broken('A3', id, { code: part.swing ? 'open-already' : 'swings-not', item: id });
    if (how === 'ease' && !part.swing!.gap) return broken('A3', id, { code: 'no-gap', item: id });
    const left = this.joinery(d, id)[0];
    if (left) return broken(rule, left, { code: 'still-joins', item: left, other: id });
    const tether = new Set(swing ? part.swing!.tether : []);
    if (how === 'ease') for (const c of part.swing!.gap!.reaches) tether.add(c);
    for (const c of this.document.connectors) {
      if (tether.has(c.id) || !this.splits(id, [c.from, c.to])) continue;
      if (!CONNECTORS.of(c.kind).byItself) {
        if (!d.open.has(c.id)) return broken(rule, c.id, { code: 'still-joins', item: c.id, other: id });
      } else if (c.isolatesPower && !d.open.has(c.id) && !this.reading.family(id).has(c.from)) {
        return broken('A4', c.from, { code: 'comes-out-first', item: c.from, other: id });
      } else if (
        power &&
        !swing &&
        !c.isolatesPower &&
        !d.open.has(c.id) &&
        !this.isolated(d, [c.id]) &&
        this.isolatedSooner(d, id, [c.id]) !== null
      ) {
        return broken('A4', c.id, { code: 'lifting-parts-live', item: c.id, other: id });
      }
      if (this.reading.family(id).has(c.from)) {
        const on = c.under.find((q) => !d.removed.has(q));
        if (on) return broken(rule, on, { code: 'lies-on-flex', item: on, other: c.id });
      }
    }
    return this.unreachable(d, id, up) ?? this.outOfTurn(d, id) ?? this.traysLeft(d, id);
  }

  /** A6: a card tray that nothing holds comes out before the device is opened. */
  protected traysLeft(d: Device, id: string): Found {
    const tray = this.document.parts.find(
      (p) =>
        p.kind === 'tray' &&
        p.within === null &&
        p.id !== id &&
        !d.removed.has(p.id) &&
        this.joinery(d, p.id).length === 0 &&
        !this.unreachable(d, p.id) &&
        !this.outOfTurn(d, p.id) &&
        !this.document.connectors.some(
          (c) => !CONNECTORS.of(c.kind).byItself && !d.open.has(c.id) && this.splits(p.id, [c.from, c.to]),
        ),
    );
    if (!tray) return null;
    const alone = this.joineryOfItem(tray.id, id);
    return alone ? null : broken('A6', tray.id, { code: 'tray-first', item: tray.id });
  }

  protected joineryOfItem(tray: string, id: string): boolean {
    return this.splits(tray, [
      ...this.reading.own(this.reading.items.get(id)!),
      ...(this.reading.connectors.has(id)
        ? [this.reading.connectors.get(id)!.from, this.reading.connectors.get(id)!.to]
        : []),
    ]);
  }

  /** Can this part come off at all, power and turn-overs aside? */
  comesOff(part: string): boolean {
    return this.strip(
      closedDevice(),
      () => false,
      (d) => d.removed.has(part),
    ).removed.has(part);
  }

  /** Is there an order of mating that keeps every list of the maker: none asks for a plug that another has buried by then? */
  keepsMateOrders(): boolean {
    const { mateOrder } = this.document;
    const listed = [...new Set(mateOrder.flat())];
    const before = new Map(listed.map((id) => [id, new Set<string>()]));
    for (const list of mateOrder) list.forEach((id, i) => before.get(id)!.add(list[i - 1] ?? id));
    for (const mated of listed) {
      // With this one mated and all else taken off: what still cannot be opened cannot be mated after it.
      const bare = this.strip(
        closedDevice(),
        (id) => id === mated,
        () => false,
      );
      for (const id of listed) if (id !== mated && !this.parted(bare, id)) before.get(mated)!.add(id);
    }
    const done = new Set<string>();
    const free = (id: string) => [...before.get(id)!].every((other) => other === id || done.has(other));
    for (let next = listed.find(free); next !== undefined; next = listed.find((id) => !done.has(id) && free(id)))
      done.add(next);
    return done.size === listed.length;
  }

  private parted(d: Device, connector: string): boolean {
    const { from } = this.reading.connectors.get(connector)!;
    return d.open.has(connector) || (this.isContact(connector) && d.removed.has(from));
  }

  /**
   * A plug that cuts what feeds an item and has to be opened before it: one that can be reached without opening anything live, or
   * any, where the item lies on the way to none of them. `null` where it may be opened live.
   */
  isolatedSooner(start: Device, id: string, fed: readonly string[] = [id]): string | null {
    const cutting = this.reading.isolators(fed).filter((c) => !start.open.has(c.id));
    const opened = (d: Device) => cutting.filter((c) => d.open.has(c.id));
    const at = this.strip(
      start,
      (other) => other === id || this.partsLive(other),
      (d) => opened(d).length > 0,
    );
    const atOnce = opened(at)[0];
    if (atOnce) return atOnce.id;
    const without = this.strip(
      start,
      (other) => other === id,
      (d) => opened(d).length === cutting.length,
    );
    return opened(without).length === cutting.length ? (cutting[0]?.id ?? null) : null;
  }

  /** Does undoing this open a plug that cuts no power? */
  private partsLive(id: string): boolean {
    const c = this.reading.connectors.get(id);
    if (c) return !c.isolatesPower;
    return this.reading.parts.has(id) && this.contacts(id).some((contact) => !contact.isolatesPower);
  }

  /**
   * Takes off everything that comes off, power ignored, until `enough` or nothing moves. The rules
   * only ever ask for more to be off, so this greedy search is complete.
   */
  strip(start: Device, spared: (id: string) => boolean, enough: (d: Device) => boolean): Device {
    const d = copyDevice(start);
    const { fasteners, connectors, bonds, latches, parts } = this.document;
    const attempt = (verb: string, id: string, found: () => Found): boolean => {
      if (spared(id) || found()) return false;
      this.apply(d, { do: verb, items: [id], tool: null, gate: null, n: 0 }, id);
      return true;
    };
    for (let moved = true; moved && !enough(d); ) {
      moved = false;
      for (const f of fasteners)
        moved = (!d.out.has(f.id) && attempt('unscrew', f.id, () => this.loosen(d, f.id))) || moved;
      for (const b of bonds)
        moved =
          (!this.reading.partsByItself(b) &&
            !d.released.has(b.id) &&
            attempt('cut', b.id, () => this.release(d, b.id))) ||
          moved;
      for (const l of latches)
        moved = (!d.released.has(l.id) && attempt('release', l.id, () => this.release(d, l.id))) || moved;
      for (const c of connectors)
        moved =
          (!CONNECTORS.of(c.kind).byItself &&
            !d.open.has(c.id) &&
            attempt('disconnect', c.id, () => this.open(d, c.id, false))) ||
          moved;
      for (const p of parts) {
        if (p.fixed || d.removed.has(p.id)) continue;
        if (p.swing?.gap && !d.eased.has(p.id) && !d.swung.has(p.id))
          moved = attempt('ease', p.id, () => this.take(d, p.id, 'ease', false)) || moved;
        if (p.swing && !d.swung.has(p.id))
          moved = attempt('swing', p.id, () => this.take(d, p.id, 'swing', false)) || moved;
        moved = attempt('lift', p.id, () => this.take(d, p.id, 'lift', false)) || moved;
      }
    }
    return d;
  }
}
