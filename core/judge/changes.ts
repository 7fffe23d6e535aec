import { BONDS, CATCHES } from '../kinds/index.ts';
import type { Device } from './device.ts';
import type { StepLike } from './found.ts';
import { Looks } from './looks.ts';

/** What each step makes of a device, item by item. */
export class Changes extends Looks {
  protected apply(d: Device, step: StepLike, id: string): void {
    switch (step.do) {
      case 'unscrew':
        d.out.add(id);
        d.touched.add(id);
        break;
      case 'release':
      case 'cut':
      case 'pull':
        if (this.reading.fasteners.has(id)) d.out.add(id);
        else d.released.add(id);
        d.touched.add(id);
        break;
      case 'disconnect':
      case 'desolder':
        if (!this.isolated(d, [id]) && !this.reading.connectors.get(id)!.isolatesPower) d.openedLive.add(id);
        d.open.add(id);
        d.touched.add(id);
        for (const f of this.reading.connectors.get(id)!.carries) d.proved.delete(f);
        this.ungate(d, id);
        break;
      case 'ease':
      case 'swing':
        // What was only laid down for a turn-over moves on its mated flex: it proves what it proved.
        if (d.taped.delete(id)) break;
        if (d.removed.delete(id)) this.join(d, id, false);
        this.unprove(d, id);
        d.swung.delete(id);
        d.eased.delete(id);
        (step.do === 'ease' ? d.eased : d.swung).add(id);
        d.touched.add(id);
        this.unpress(d, id);
        break;
      case 'lift':
      case 'eject': {
        for (const c of this.contacts(id)) {
          if (!this.isolated(d, [c.id]) && !c.isolatesPower) d.openedLive.add(c.id);
          d.open.add(c.id);
          d.touched.add(c.id);
        }
        this.unprove(d, id);
        d.swung.delete(id);
        d.eased.delete(id);
        d.taped.delete(id);
        d.removed.add(id);
        d.lifted.add(id);
        d.touched.add(id);
        for (const b of this.document.bonds)
          if (BONDS.of(b.kind).byItself && this.splits(id, b.joins)) {
            d.released.add(b.id);
            d.touched.add(b.id);
          }
        this.unpress(d, id);
        break;
      }
      case 'fasten':
        d.out.delete(id);
        break;
      case 'connect':
      case 'solder':
        d.open.delete(id);
        break;
      case 'fit':
      case 'transfer':
        d.removed.delete(id);
        d.swung.delete(id);
        d.eased.delete(id);
        d.taped.delete(id);
        if (this.reading.parts.get(id)!.within === null && this.reading.parts.get(id)!.face !== 'edge') d.lastLaid = id;
        this.join(d, id, true);
        break;
      case 'bond':
        d.renewed.add(id);
        if (this.isOver(id)) d.released.delete(id);
        break;
      case 'press':
      case 'cure': {
        const bond = this.reading.bonds.get(id);
        if (this.reading.latches.has(id) || (bond && this.joined(d, bond))) d.released.delete(id);
        break;
      }
      case 'tape-down':
        d.taped.add(id);
        break;
      case 'test':
        d.proved.add(id);
        break;
      case 'renew':
        d.renewed.add(id);
        break;
    }
  }

  /** Is it stuck over what it joins, so that laying it is all? */
  private isOver(id: string): boolean {
    const bond = this.reading.bonds.get(id);
    return bond !== undefined && BONDS.of(bond.kind).over;
  }

  /** What closes by itself when a part is laid down: its contacts, and, if it lies for good, its bonds and hooks. */
  protected join(d: Device, id: string, forGood: boolean): void {
    for (const c of this.contacts(id)) {
      // An assembly that lies on the mat is there for what is put into it.
      const context = this.reading.frame(c.id);
      if (!this.away(d, c.from, context) && !this.away(d, c.to, context)) d.open.delete(c.id);
    }
    if (!forGood) return;
    for (const b of this.document.bonds)
      if (!BONDS.of(b.kind).over && this.splits(id, b.joins) && this.joined(d, b)) d.released.delete(b.id);
    // Hooks entered first, and what snaps by itself as its part is turned in.
    for (const l of this.document.latches)
      if (
        (l.mate === 'first' || !CATCHES.of(l.letsGo ?? 'pried').worked) &&
        this.splits(id, l.joins) &&
        this.joined(d, l)
      )
        d.released.delete(l.id);
  }

  /** A gasket that screws press is free as soon as its part moves. */
  private unpress(d: Device, id: string): void {
    for (const b of this.document.bonds)
      if (this.reading.pressedBy(b).length > 0 && this.splits(id, b.joins)) {
        d.released.add(b.id);
        d.touched.add(b.id);
      }
  }

  /** A part that moves takes with it the proof of what it does, and of what its contacts carry; a power cell, of everything. */
  protected unprove(d: Device, id: string): void {
    const family = [...this.reading.family(id)].map((p) => this.reading.part(p));
    if (family.some((p) => p.kind === 'battery')) d.proved.clear();
    for (const f of family.flatMap((p) => p.functions)) d.proved.delete(f);
    for (const f of this.contacts(id).flatMap((c) => c.carries)) d.proved.delete(f);
  }

  protected ungate(d: Device, id: string): void {
    for (const set of d.gated.values()) set.delete(id);
  }
}
