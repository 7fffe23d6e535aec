import { BONDS, CONNECTORS, type GateId } from '../kinds/index.ts';
import type { Act, PartRead } from './document.ts';
import { copyDevice, type Device } from './device.ts';
import { broken, type Found } from './found.ts';
import { WayIn } from './wayIn.ts';

/** What may be put back on a device in a state (A7, the gates), and how far it can be put together. */
export class WayBack extends WayIn {
  fasten(d: Device, id: string): Found {
    if (d.absent.has(id)) return null;
    if (!d.out.has(id)) return broken('A7', id, { code: 'in-already', item: id });
    const f = this.reading.fasteners.get(id)!;
    const missing = [...f.holds, this.seat(f)].find(
      (p) => p !== this.reading.frame(id) && (d.removed.has(p) || d.swung.has(p) || d.eased.has(p)),
    );
    if (missing) return broken('A7', missing, { code: 'holds-what-is-off', item: id, other: missing });
    if (this.reading.fasteners.has(f.into) && d.out.has(f.into))
      return broken('A7', f.into, { code: 'stands-in-it', item: f.into, other: id });
    return this.unreachable(d, id) ?? this.returnsOutOfTurn(d, id);
  }

  connect(d: Device, id: string): Found {
    const c = this.reading.connectors.get(id)!;
    if (!d.open.has(id)) return broken('A7', id, { code: 'seated-already', item: id });
    const gone = [c.from, c.to].find((p) => this.away(d, p, this.reading.frame(id)));
    if (gone) return broken('A7', gone, { code: 'not-there', item: gone });
    const hung = [...d.swung, ...d.eased].find((p) => this.splits(p, [c.from, c.to]) && !this.staysMated(d, p, id));
    if (hung) return broken('A7', hung, { code: 'no-tether', item: hung, other: id });
    const above = this.unreachable(d, id);
    if (above) return above;
    const early = c.beneath.find((other) => !d.open.has(other) && d.touched.has(other));
    if (early) return broken('A7', early, { code: 'mated-already-on', item: early, other: id });
    const beneath = this.document.connectors.find(
      (other) =>
        other.beneath.includes(id) && d.open.has(other.id) && d.touched.has(other.id) && !d.absent.has(other.id),
    );
    if (beneath) return broken('A7', beneath.id, { code: 'mated-first-beneath', item: id, other: beneath.id });
    for (const list of this.document.mateOrder) {
      const at = list.indexOf(id);
      const before = list.slice(0, Math.max(0, at)).find((other) => d.open.has(other) && !d.absent.has(other));
      if (before) return broken('A7', before, { code: 'mated-before', item: before, other: id });
    }
    if (c.isolatesPower) {
      const left = [...d.open].find(
        (other) =>
          other !== id &&
          !d.absent.has(other) &&
          !this.reading.connectors.get(other)!.isolatesPower &&
          !d.openedLive.has(other) &&
          this.reading.isolators([other]).some((cut) => cut.id === id),
      );
      if (left) return broken('A7', left, { code: 'still-open-power-last', item: left });
    } else if (CONNECTORS.of(c.kind).joint && !this.isolated(d, [id]))
      return broken('A4', id, { code: 'soldered-live', item: id });
    return this.returnsOutOfTurn(d, id);
  }

  protected put(d: Device, id: string, how: 'ease' | 'swing' | 'close', up?: Act['face']): Found {
    const part = this.reading.parts.get(id)!;
    const hang = how !== 'close';
    if (!hang && d.taped.has(id)) return broken('A3', id, { code: 'only-taped', item: id });
    if (how === 'ease' && !part.swing?.gap) return broken('A3', id, { code: 'no-gap-back', item: id });
    if (!d.removed.has(id) && !d.swung.has(id) && !d.eased.has(id))
      return broken('A7', id, { code: 'in-place-already', item: id });
    if (hang && !part.swing) return broken('A3', id, { code: 'swings-not', item: id });
    const above = this.unreachable(d, id, up);
    if (above) return above;
    const flex = this.flexBeneath(d, id);
    if (flex) return flex;
    if (hang) return null;
    const over = this.leftBeneath(d, id);
    if (over) return over;
    const bond = this.document.bonds.find(
      (b) =>
        !BONDS.of(b.kind).over &&
        b.fate === 'renew' &&
        d.released.has(b.id) &&
        !d.renewed.has(b.id) &&
        this.splits(id, b.joins) &&
        this.joined(d, b, id),
    );
    if (bond) return broken('A7', bond.id, { code: 'renew-first', item: bond.id });
    const turn = this.returnsOutOfTurn(d, id);
    if (turn) return turn;
    return this.gatesBefore(d, part);
  }

  /** May a part be laid in its place, its bonds and gates aside? */
  protected laid(d: Device, id: string): Found {
    return (
      this.unreachable(d, id) ?? this.flexBeneath(d, id) ?? this.leftBeneath(d, id) ?? this.returnsOutOfTurn(d, id)
    );
  }

  protected flexBeneath(d: Device, id: string): Found {
    const flex = this.document.connectors.find(
      (c) => c.under.includes(id) && !d.absent.has(c.id) && d.open.has(c.id) && d.removed.has(c.from),
    );
    return flex ? broken('A7', flex.id, { code: 'flex-beneath', item: flex.id, other: id }) : null;
  }

  /** Anything beneath a part that was undone and not made good. */
  protected leftBeneath(d: Device, id: string): Found {
    for (const [x, { type }] of this.reading.items) {
      // A contact closes by itself with its part, wherever its springs lie.
      if (x === id || d.absent.has(x) || this.isContact(x) || !this.layers.hides(id, x)) continue;
      const undone =
        type === 'fastener'
          ? d.out.has(x)
          : type === 'connector'
            ? d.open.has(x)
            : type === 'part'
              ? d.removed.has(x) || d.swung.has(x) || d.eased.has(x)
              : d.released.has(x);
      if (undone) return broken('A7', x, { code: 'would-close-over', item: id, other: x });
    }
    return null;
  }

  /** What has to be proved before a part goes down over it: R15, and the gates of what it hides and joins. */
  protected gatesBefore(d: Device, part: PartRead): Found {
    const under = [...d.touched].filter((x) => x !== part.id && !d.absent.has(x) && this.layers.hides(part.id, x));
    const lacks = (gate: GateId, ids: readonly string[]) => ids.find((x) => !d.gated.get(gate)?.has(x));
    const connectors = under.filter((x) => this.reading.connectors.has(x) && !this.isContact(x));
    const g1 = lacks('G1', connectors);
    if (g1) return broken('G1', g1, { code: 'covered-unseated', item: g1, other: part.id });
    const g2 = lacks(
      'G2',
      under.filter((x) => this.reading.fasteners.has(x)),
    );
    if (g2) return broken('G2', g2, { code: 'over-uncounted', item: g2, other: part.id });
    if (part.kind === 'battery' && lacks('G3', [part.id]))
      return broken('G3', part.id, { code: 'in-unclean', item: part.id });
    const bonds = this.document.bonds.filter(
      (b) =>
        d.touched.has(b.id) &&
        !BONDS.of(b.kind).over &&
        !this.reading.partsByItself(b) &&
        this.splits(part.id, b.joins) &&
        this.joined(d, b, part.id),
    );
    const g5 = lacks(
      'G5',
      bonds.map((b) => b.id),
    );
    if (g5) return broken('G5', g5, { code: 'down-with-liners', item: part.id });
    const powered = !this.document.connectors.some((c) => c.isolatesPower && d.open.has(c.id));
    const seals = this.layers.outside(part.id) || under.some((x) => this.reading.connectors.has(x));
    if (
      bonds.length > 0 &&
      powered &&
      seals &&
      !d.gated.has('G4') &&
      this.openTests(d).some((f) => this.cannotPass(d, f) === null)
    ) {
      return broken('G4', part.id, { code: 'sealed-untested', item: part.id });
    }
    return null;
  }

  /**
   * Puts back everything that goes back, gates and new bonds aside, but for what is `spared`; with something hanging
   * open only on the face that is up. What goes back never hinders what could go back before, so this search is complete.
   */
  restore(start: Device, spared: (id: string) => boolean): Device {
    const d = copyDevice(start);
    const hangs = this.hanging(d).length > 0;
    const faceUp = (id: string) => {
      const face = this.deviceFace(id);
      return !hangs || d.up === null || face === 'edge' || face === d.up;
    };
    const back = (verb: string, id: string, found: () => Found): boolean => {
      if (d.absent.has(id) || spared(id) || !faceUp(id) || found()) return false;
      this.apply(d, { do: verb, items: [id], tool: null, gate: null, n: 0 }, id);
      return true;
    };
    for (let moved = true; moved; ) {
      moved = false;
      for (const id of [...d.removed, ...d.swung, ...d.eased]) moved = back('fit', id, () => this.laid(d, id)) || moved;
      for (const id of [...d.out]) moved = back('fasten', id, () => this.fasten(d, id)) || moved;
      for (const id of [...d.open])
        moved = (!this.isContact(id) && back('connect', id, () => this.connect(d, id))) || moved;
    }
    return d;
  }
}
