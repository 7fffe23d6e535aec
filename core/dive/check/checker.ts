import type { Fastener, Model, Part } from '../../anatomy/index.ts';
import { Covers } from './covers.ts';
import { closedDevice, copyDevice, joinedTo, type Device, type Violation } from './device.ts';
import { toolOf } from '../house/tools.ts';
import type { GateId, Plan, Step } from '../types.ts';

export type Found = Omit<Violation, 'step'> | null;
type StepLike = Pick<Step, 'do' | 'items' | 'tool' | 'gate' | 'n'> & { face?: Step['face'] };

export const broken = (rule: Violation['rule'], item: string, message: string): Found => ({ rule, item, message });

/** Verbs that put hands, a tool or the device's own weight to work inside it. */
const HANDS_INSIDE: ReadonlySet<Step['do']> = new Set([
  'heat',
  'gap',
  'cut',
  'solvent',
  'unscrew',
  'disconnect',
  'release',
  'ease',
  'swing',
  'lift',
  'pull',
  'desolder',
  'bend-aside',
  'clean',
  'transfer',
  'fit',
  'connect',
  'fasten',
  'bond',
  'solder',
  'try',
]);

/**
 * The dive checker: replays steps on a device and names the first rule they break. It is written
 * from the rules alone and shares no code with the planner.
 */
export class Checker {
  readonly layers: Covers;

  private readonly lost: ReadonlySet<string>;
  private readonly switchesOff: boolean;

  /** @param plan the dive that is judged or carried out; `null` asks for all that can be asked */
  constructor(
    readonly model: Model,
    plan: Pick<Plan, 'losses' | 'steps'> | null = null,
  ) {
    // What the exchange loses for good nothing asks to be proved.
    this.lost = new Set(plan?.losses.map((l) => l.function));
    // A plan of an older version has no step that switches off after the open test, and cannot be held to R2.
    const tests =
      plan?.steps.filter((s) => s.phase === 'ascent' && (s.do === 'power-on' || s.do === 'power-off')) ?? [];
    this.switchesOff = tests.length === 0 || tests.some((s) => s.do === 'power-off');
    this.layers = new Covers(model);
  }

  isolated(d: Device): boolean {
    const isolating = this.model.anatomy.connectors.filter((c) => c.isolatesPower);
    return isolating.length > 0 && isolating.every((c) => d.open.has(c.id));
  }

  /** What `step` breaks on a device in this state, or `null`. */
  violation(d: Device, step: StepLike): Violation | null {
    const trial = copyDevice(d);
    const found = this.whole(trial, step) ?? this.eachItem(trial, step);
    return found && { ...found, step: step.n };
  }

  /** The device after `step`; the step must have no violation. */
  advance(d: Device, step: StepLike): Device {
    const next = copyDevice(d);
    if (step.do === 'power-on') next.on = this.switchesOff;
    if (step.do === 'power-off') next.on = false;
    if (step.do === 'turn-over') next.up = next.up === 'back' ? 'front' : 'back';
    if (step.face && step.face !== 'edge') next.up = step.face;
    if (step.do === 'gate' && step.gate)
      next.gated.set(step.gate, new Set([...(next.gated.get(step.gate) ?? []), ...step.items]));
    for (const id of step.items) this.apply(next, step, id);
    return next;
  }

  /** The device once a part is found to be gone, with all that joined it. */
  without(d: Device, part: string): Device {
    const next = copyDevice(d);
    for (const id of joinedTo(this.model, part)) {
      next.absent.add(id);
      const type = this.model.items.get(id)!.type;
      if (type === 'part') next.removed.add(id);
      else if (type === 'fastener') next.out.add(id);
      else if (type === 'connector') next.open.add(id);
      else next.released.add(id);
    }
    next.swung.delete(part);
    next.eased.delete(part);
    return next;
  }

  private whole(d: Device, step: StepLike): Found {
    const opened = [...d.removed, ...d.swung, ...d.eased].some(
      (id) => !d.absent.has(id) && this.model.parts.get(id)!.face !== 'edge',
    );
    if (step.tool !== null && opened && !this.isolated(d)) {
      const tool = toolOf(step.tool);
      if (tool.conductive && !tool.driver)
        return broken('A5', step.items[0] ?? step.tool, `${tool.name} conducts, and the device is open and live`);
    }
    if (d.on && HANDS_INSIDE.has(step.do))
      return broken(
        'R2',
        step.items[0] ?? step.do,
        'the device is switched on; switch it off before hands go in again',
      );
    const [hanging] = [...d.swung, ...d.eased];
    if (step.do === 'turn-over' && hanging !== undefined)
      return broken('A3', hanging, `the device may not be turned over while ${this.name(hanging)} is swung open`);
    if (
      step.face &&
      step.face !== 'edge' &&
      d.up !== null &&
      step.face !== d.up &&
      step.do !== 'turn-over' &&
      step.items.some((id) => this.model.items.has(id))
    ) {
      return broken('A3', step.items[0]!, `the ${step.face} must be up; turn the device over first`);
    }
    return null;
  }

  private eachItem(d: Device, step: StepLike): Found {
    for (const id of step.items) {
      const found = this.item(d, step, id);
      if (found) return found;
      this.apply(d, step, id);
    }
    return null;
  }

  private item(d: Device, step: StepLike, id: string): Found {
    switch (step.do) {
      case 'unscrew':
        return this.loosen(d, id);
      case 'release':
      case 'cut':
      case 'pull':
        return this.model.fasteners.has(id) ? this.loosen(d, id) : this.release(d, id, step.face);
      case 'disconnect':
      case 'desolder':
        return this.open(d, id, true);
      case 'ease':
        return d.removed.has(id) || d.swung.has(id)
          ? this.put(d, id, 'ease', step.face)
          : this.take(d, id, 'ease', true, step.face);
      case 'swing':
        return d.removed.has(id) ? this.put(d, id, 'swing', step.face) : this.take(d, id, 'swing', true, step.face);
      case 'lift':
      case 'eject':
        return this.take(d, id, 'lift', true, step.face);
      case 'fasten':
        return this.fasten(d, id);
      case 'connect':
      case 'solder':
        return this.connect(d, id);
      case 'fit':
      case 'transfer':
        return this.put(d, id, 'close', step.face);
      default:
        return null;
    }
  }

  private apply(d: Device, step: StepLike, id: string): void {
    switch (step.do) {
      case 'unscrew':
        d.out.add(id);
        d.touched.add(id);
        break;
      case 'release':
      case 'cut':
      case 'pull':
        if (this.model.fasteners.has(id)) d.out.add(id);
        else d.released.add(id);
        d.touched.add(id);
        break;
      case 'disconnect':
      case 'desolder':
        if (!this.isolated(d) && !this.model.connectors.get(id)!.isolatesPower) d.openedLive.add(id);
        d.open.add(id);
        d.touched.add(id);
        for (const f of this.model.connectors.get(id)!.carries) d.proved.delete(f);
        this.ungate(d, id);
        break;
      case 'ease':
      case 'swing':
        if (d.removed.delete(id)) this.join(d, id, false);
        this.unprove(d, id);
        d.swung.delete(id);
        d.eased.delete(id);
        (step.do === 'ease' ? d.eased : d.swung).add(id);
        d.touched.add(id);
        break;
      case 'lift':
      case 'eject': {
        for (const c of this.contacts(id)) {
          if (!this.isolated(d) && !c.isolatesPower) d.openedLive.add(c.id);
          d.open.add(c.id);
          d.touched.add(c.id);
        }
        this.unprove(d, id);
        d.swung.delete(id);
        d.eased.delete(id);
        d.removed.add(id);
        d.lifted.add(id);
        d.touched.add(id);
        for (const b of this.model.anatomy.bonds)
          if (b.kind === 'thermal' && this.splits(id, b.joins)) {
            d.released.add(b.id);
            d.touched.add(b.id);
          }
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
        if (this.model.parts.get(id)!.within === null && this.model.parts.get(id)!.face !== 'edge') d.lastLaid = id;
        this.join(d, id, true);
        break;
      case 'bond':
        d.renewed.add(id);
        if (this.model.bonds.get(id)?.kind === 'foil') d.released.delete(id);
        break;
      case 'press':
      case 'cure': {
        const bond = this.model.bonds.get(id);
        if (this.model.latches.has(id) || (bond && this.joined(d, bond))) d.released.delete(id);
        break;
      }
      case 'test':
        d.proved.add(id);
        break;
      case 'renew':
        d.renewed.add(id);
        break;
    }
  }

  /** What closes by itself when a part is laid down: its contacts, and, if it lies for good, its bonds and hooks. */
  private join(d: Device, id: string, forGood: boolean): void {
    for (const c of this.contacts(id)) if (!d.removed.has(c.from) && !d.removed.has(c.to)) d.open.delete(c.id);
    if (!forGood) return;
    for (const b of this.model.anatomy.bonds)
      if (b.kind !== 'foil' && this.splits(id, b.joins) && this.joined(d, b)) d.released.delete(b.id);
    // Hooks entered first, and what snaps by itself as its part is turned in.
    for (const l of this.model.anatomy.latches)
      if ((l.mate === 'first' || l.letsGo === 'turned') && this.joined(d, l)) d.released.delete(l.id);
  }

  /** All that a bond or latch joins lies in its place, `laid` taken as laid down; the assembly around it may be anywhere. */
  private joined(d: Device, joint: { id: string; joins: string[] }, laid: string | null = null): boolean {
    const context = this.model.contextOf(joint.id);
    return joint.joins.every(
      (p) => p === laid || p === context || (!d.removed.has(p) && !d.swung.has(p) && !d.eased.has(p)),
    );
  }

  /** A part that moves takes with it the proof of what it does, and of what its contacts carry; a power cell, of everything. */
  private unprove(d: Device, id: string): void {
    const family = this.model.familyOf(id).map((p) => this.model.parts.get(p)!);
    if (family.some((p) => p.kind === 'battery')) d.proved.clear();
    for (const f of family.flatMap((p) => p.functions)) d.proved.delete(f);
    for (const f of this.contacts(id).flatMap((c) => c.carries)) d.proved.delete(f);
  }

  private ungate(d: Device, id: string): void {
    for (const set of d.gated.values()) set.delete(id);
  }

  // ---- the way in

  loosen(d: Device, id: string): Found {
    if (d.absent.has(id)) return null;
    if (d.out.has(id)) return broken('A2', id, `${id} is out already`);
    const rider = this.model.anatomy.fasteners.find((f) => f.into === id && this.holding(d, f));
    if (rider) return broken('A1', rider.id, `${rider.id} still stands in ${id}`);
    return this.unreachable(d, id) ?? this.outOfTurn(d, id) ?? this.traysLeft(d, id);
  }

  private open(d: Device, id: string, power: boolean): Found {
    const c = this.model.connectors.get(id)!;
    if (d.open.has(id)) return broken('A2', id, `${c.name} is open already`);
    const above = this.unreachable(d, id) ?? this.outOfTurn(d, id) ?? this.traysLeft(d, id);
    if (above) return above;
    const top = c.beneath.find((other) => !d.open.has(other));
    if (top) return broken('A1', top, `${this.name(top)} lies on ${c.name} and is still mated`);
    const before = c.after.find((other) => !this.undone(d, other));
    if (before) return broken('A1', before, `${this.name(before)} goes before ${c.name}`);
    if (!power || c.isolatesPower || this.isolated(d)) return null;
    if (c.kind === 'solder') return broken('A4', id, `${c.name} is soldered and the device is live`);
    if (this.isolationWithin(d, (other) => other === id))
      return broken('A4', id, `${c.name} would be opened live although isolation can be reached without it`);
    return null;
  }

  private release(d: Device, id: string, up?: Step['face']): Found {
    if (d.released.has(id)) return broken('A2', id, `${this.name(id)} is released already`);
    const latch = this.model.latches.get(id);
    if (latch?.release === 'last') {
      for (const part of latch.joins.filter((p) => !this.model.parts.get(p)!.fixed)) {
        const left = this.joinery(d, part).find((other) => this.model.latches.get(other)?.release !== 'last');
        if (left) return broken('A2', left, `${this.name(left)} goes before ${this.name(id)}`);
      }
    }
    return this.unreachable(d, id, up) ?? this.outOfTurn(d, id) ?? this.traysLeft(d, id);
  }

  take(d: Device, id: string, how: 'ease' | 'swing' | 'lift', power: boolean, up?: Step['face']): Found {
    const part = this.model.parts.get(id)!;
    const swing = how !== 'lift';
    const rule = swing ? 'A3' : 'A2';
    if (part.fixed) return broken(rule, id, `${part.name} is fixed`);
    if (d.removed.has(id)) return broken(rule, id, `${part.name} is off already`);
    if (swing && (!part.swing || d.swung.has(id) || (how === 'ease' && d.eased.has(id))))
      return broken('A3', id, part.swing ? `${part.name} is open already` : `${part.name} does not swing`);
    if (how === 'ease' && !part.swing!.gap)
      return broken('A3', id, `${part.name} is not said to open by a gap; give its swing a gap`);
    const left = this.joinery(d, id)[0];
    if (left) return broken(rule, left, `${this.name(left)} still joins ${part.name}`);
    const tether = new Set(swing ? part.swing!.tether : []);
    if (how === 'ease') for (const c of part.swing!.gap!.reaches) tether.add(c);
    for (const c of this.model.anatomy.connectors) {
      if (tether.has(c.id) || !this.splits(id, [c.from, c.to])) continue;
      if (c.kind !== 'contact') {
        if (!d.open.has(c.id)) return broken(rule, c.id, `${c.name} still joins ${part.name}`);
      } else if (c.isolatesPower && !d.open.has(c.id) && !this.model.familyOf(id).includes(c.from)) {
        return broken('A4', c.from, `${this.name(c.from)} comes out before ${part.name}`);
      } else if (
        power &&
        !swing &&
        !c.isolatesPower &&
        !d.open.has(c.id) &&
        !this.isolated(d) &&
        this.isolationWithin(d, (other) => other === id)
      ) {
        return broken('A4', c.id, `lifting ${part.name} parts ${c.name} while the device is live`);
      }
      if (this.model.familyOf(id).includes(c.from)) {
        const on = c.under.find((q) => !d.removed.has(q));
        if (on) return broken(rule, on, `${this.name(on)} lies on the flex of ${c.name}`);
      }
    }
    return this.unreachable(d, id, up) ?? this.outOfTurn(d, id) ?? this.traysLeft(d, id);
  }

  // ---- the way back

  fasten(d: Device, id: string): Found {
    if (d.absent.has(id)) return null;
    if (!d.out.has(id)) return broken('A7', id, `${id} is in already`);
    const f = this.model.fasteners.get(id)!;
    const missing = [...f.holds, this.seat(f)].find(
      (p) => p !== this.model.contextOf(id) && (d.removed.has(p) || d.swung.has(p) || d.eased.has(p)),
    );
    if (missing) return broken('A7', missing, `${id} holds ${this.name(missing)}, which is not in its place`);
    if (this.model.fasteners.has(f.into) && d.out.has(f.into))
      return broken('A7', f.into, `${f.into} must stand before ${id} is driven into it`);
    return this.unreachable(d, id) ?? this.returnsOutOfTurn(d, id);
  }

  connect(d: Device, id: string): Found {
    const c = this.model.connectors.get(id)!;
    if (!d.open.has(id)) return broken('A7', id, `${c.name} is seated already`);
    const gone = [c.from, c.to].find((p) => this.away(d, p, this.model.contextOf(id)));
    if (gone) return broken('A7', gone, `${this.name(gone)} is not there to be connected`);
    const hung = [...d.swung, ...d.eased].find((p) => this.splits(p, [c.from, c.to]) && !this.staysMated(d, p, id));
    if (hung)
      return broken('A7', hung, `${this.name(hung)} is closed before ${c.name} is mated: it is no tether of it`);
    const above = this.unreachable(d, id);
    if (above) return above;
    const early = c.beneath.find((other) => !d.open.has(other) && d.touched.has(other));
    if (early) return broken('A7', early, `${this.name(early)} lies on ${c.name} and is mated already`);
    const beneath = this.model.anatomy.connectors.find(
      (other) =>
        other.beneath.includes(id) && d.open.has(other.id) && d.touched.has(other.id) && !d.absent.has(other.id),
    );
    if (beneath) return broken('A7', beneath.id, `${c.name} lies on ${beneath.name}, which is mated first`);
    for (const list of this.model.anatomy.mateOrder) {
      const at = list.indexOf(id);
      const before = list.slice(0, Math.max(0, at)).find((other) => d.open.has(other) && !d.absent.has(other));
      if (before) return broken('A7', before, `${this.name(before)} is mated before ${c.name}`);
    }
    if (c.isolatesPower) {
      const left = [...d.open].find(
        (other) =>
          other !== id &&
          !d.absent.has(other) &&
          !this.model.connectors.get(other)!.isolatesPower &&
          !d.openedLive.has(other),
      );
      if (left) return broken('A7', left, `${this.name(left)} is still open; power is connected last`);
    } else if (c.kind === 'solder' && !this.isolated(d))
      return broken('A4', id, `${c.name} is soldered and the device is live`);
    return this.returnsOutOfTurn(d, id);
  }

  /** May this connector be mated while a part hangs open as it does? */
  private staysMated(d: Device, part: string, id: string): boolean {
    const swing = this.model.parts.get(part)!.swing!;
    return swing.tether.includes(id) || (d.eased.has(part) && (swing.gap?.reaches.includes(id) ?? false));
  }

  private put(d: Device, id: string, how: 'ease' | 'swing' | 'close', up?: Step['face']): Found {
    const part = this.model.parts.get(id)!;
    const hang = how !== 'close';
    if (how === 'ease' && !part.swing?.gap) return broken('A3', id, `${part.name} is not said to open by a gap`);
    if (!d.removed.has(id) && !d.swung.has(id) && !d.eased.has(id))
      return broken('A7', id, `${part.name} is in its place already`);
    if (hang && !part.swing) return broken('A3', id, `${part.name} does not swing`);
    const above = this.unreachable(d, id, up);
    if (above) return above;
    const flex = this.flexBeneath(d, id);
    if (flex) return flex;
    if (hang) return null;
    const over = this.leftBeneath(d, id);
    if (over) return over;
    const bond = this.model.anatomy.bonds.find(
      (b) =>
        b.kind !== 'foil' &&
        b.fate === 'renew' &&
        d.released.has(b.id) &&
        !d.renewed.has(b.id) &&
        this.splits(id, b.joins) &&
        this.joined(d, b, id),
    );
    if (bond) return broken('A7', bond.id, `${this.name(bond.id)} never goes back; renew it first`);
    const turn = this.returnsOutOfTurn(d, id);
    if (turn) return turn;
    return this.gatesBefore(d, part);
  }

  private flexBeneath(d: Device, id: string): Found {
    const flex = this.model.anatomy.connectors.find(
      (c) => c.under.includes(id) && !d.absent.has(c.id) && d.open.has(c.id) && d.removed.has(c.from),
    );
    if (!flex) return null;
    const { name } = this.model.parts.get(id)!;
    return broken('A7', flex.id, `the flex of ${flex.name} lies beneath ${name} and is not in its place`);
  }

  /** Anything beneath a part that was undone and not made good. */
  private leftBeneath(d: Device, id: string): Found {
    for (const [x, { type }] of this.model.items) {
      // A contact closes by itself with its part, wherever its springs lie.
      if (x === id || d.absent.has(x) || this.model.connectors.get(x)?.kind === 'contact' || !this.layers.hides(id, x))
        continue;
      const undone =
        type === 'fastener'
          ? d.out.has(x)
          : type === 'connector'
            ? d.open.has(x)
            : type === 'part'
              ? d.removed.has(x) || d.swung.has(x) || d.eased.has(x)
              : d.released.has(x);
      if (undone)
        return broken('A7', x, `${this.name(id)} would close over ${this.name(x)}, which is not back in its place`);
    }
    return null;
  }

  private gatesBefore(d: Device, part: Part): Found {
    const under = [...d.touched].filter((x) => x !== part.id && !d.absent.has(x) && this.layers.hides(part.id, x));
    const lacks = (gate: GateId, ids: readonly string[]) => ids.find((x) => !d.gated.get(gate)?.has(x));
    const connectors = under.filter(
      (x) => this.model.connectors.has(x) && this.model.connectors.get(x)!.kind !== 'contact',
    );
    const g1 = lacks('G1', connectors);
    if (g1) return broken('G1', g1, `${this.name(g1)} is covered by ${part.name} without being recorded seated`);
    const g2 = lacks(
      'G2',
      under.filter((x) => this.model.fasteners.has(x)),
    );
    if (g2) return broken('G2', g2, `${part.name} goes over ${g2} without a count`);
    if (part.kind === 'battery' && lacks('G3', [part.id]))
      return broken('G3', part.id, `${part.name} goes in without being found clean`);
    const bonds = this.model.anatomy.bonds.filter(
      (b) =>
        d.touched.has(b.id) &&
        b.kind !== 'foil' &&
        b.kind !== 'thermal' &&
        this.splits(part.id, b.joins) &&
        this.joined(d, b, part.id),
    );
    const g5 = lacks(
      'G5',
      bonds.map((b) => b.id),
    );
    if (g5) return broken('G5', g5, `${part.name} goes down before the liners are recorded off`);
    const powered = !this.model.anatomy.connectors.some((c) => c.isolatesPower && d.open.has(c.id));
    const seals = this.layers.outside(part.id) || under.some((x) => this.model.connectors.has(x));
    if (
      bonds.length > 0 &&
      powered &&
      seals &&
      !d.gated.has('G4') &&
      this.openTests(d).some((f) => this.cannotPass(d, f) === null)
    ) {
      return broken('G4', part.id, `${part.name} is sealed before it was tested`);
    }
    return null;
  }

  /** Functions touched so far that can be tested on an open device. */
  private openTests(d: Device): string[] {
    const after = new Set(this.model.anatomy.functions.filter((f) => f.afterClosing).map((f) => f.id));
    return [...this.functionsTouched(d)].filter((f) => !after.has(f) && !this.lost.has(f));
  }

  /** R3: what is missing for a function to work: a plug that is open, a part that is off; `null` when nothing is. */
  cannotPass(d: Device, f: string): string | null {
    const { connectors, parts } = this.model.anatomy;
    const open = connectors.find((c) => c.carries.includes(f) && d.open.has(c.id) && !d.absent.has(c.id));
    if (open) return open.id;
    const off = parts.find((p) => p.functions.includes(f) && !d.absent.has(p.id) && this.away(d, p.id, null));
    return off?.id ?? null;
  }

  functionsTouched(d: Device): Set<string> {
    const touched = new Set<string>();
    for (const id of d.touched) {
      for (const f of this.model.connectors.get(id)?.carries ?? []) touched.add(f);
      if (this.model.parts.has(id))
        for (const p of this.model.familyOf(id)) for (const f of this.model.parts.get(p)!.functions) touched.add(f);
    }
    return touched;
  }

  // ---- shared looks at the device

  name(id: string): string {
    return this.model.items.has(id) ? this.model.nameOf(id) : id;
  }

  private seat(f: Fastener): string {
    const standoff = this.model.fasteners.get(f.into);
    return standoff ? this.seat(standoff) : f.into;
  }

  private holding(d: Device, f: Fastener): boolean {
    return !d.out.has(f.id) && !d.absent.has(f.id);
  }

  splits(part: string, joined: readonly string[]): boolean {
    const family = this.model.familyOf(part);
    let inside = 0;
    for (const id of joined) if (family.includes(id)) inside++;
    return inside > 0 && inside < joined.length;
  }

  private contacts(part: string) {
    return this.model.anatomy.connectors.filter((c) => c.kind === 'contact' && this.splits(part, [c.from, c.to]));
  }

  /** Fasteners, bonds and latches that still join a part to the rest. */
  joinery(d: Device, part: string): string[] {
    const { fasteners, bonds, latches } = this.model.anatomy;
    return [
      ...fasteners.filter((f) => this.holding(d, f) && this.splits(part, [...f.holds, this.seat(f)])).map((f) => f.id),
      ...bonds
        .filter((b) => b.kind !== 'thermal' && !d.released.has(b.id) && this.splits(part, b.joins))
        .map((b) => b.id),
      ...latches.filter((l) => !d.released.has(l.id) && this.splits(part, l.joins)).map((l) => l.id),
    ];
  }

  private unreachable(d: Device, id: string, up?: Step['face']): Found {
    const all = this.layers.placesOf(id);
    const places = all.length > 1 ? all.filter((at) => up === undefined || at.face === up || at.face === 'edge') : null;
    const inPlace = [...this.model.parts.keys()].filter((part) => !this.outOfTheWay(d, part, id));
    if (!places?.some((at) => inPlace.every((part) => !this.layers.coversAt(part, id, at))))
      for (const part of inPlace) {
        if (places ? places.some((at) => this.layers.coversAt(part, id, at)) : this.layers.covers(part, id))
          return broken('A1', part, `${this.name(part)} lies over ${this.name(id)}`);
      }
    const reachedBy = this.model.connectors.get(id)?.reachedBy;
    if (reachedBy && !d.swung.has(reachedBy.swing))
      return broken(
        'A1',
        reachedBy.swing,
        `${this.name(id)} is reached only while ${this.name(reachedBy.swing)} is tilted`,
      );
    const folded = this.foldedOver(d, id);
    if (folded) return folded;
    const behind = this.layers.behind(id);
    if (behind === null || this.outOfTheWay(d, behind, id)) return null;
    // An assembly that is out with the one around it lies open on the mat.
    for (let at = this.model.contextOf(id); at !== null && at !== behind; at = this.model.parts.get(at)!.within)
      if (d.removed.has(at)) return null;
    return broken('A1', behind, `${this.name(id)} is on the inner side of ${this.name(behind)}`);
  }

  /** Off, swung wide, swung at all for what says that it is reached that way, or open by the gap that lets a tool in. */
  private outOfTheWay(d: Device, part: string, item: string): boolean {
    if (d.removed.has(part) || this.assemblyOff(d, part, item)) return true;
    if (d.swung.has(part))
      return this.layers.clears(part) || this.model.connectors.get(item)?.reachedBy?.swing === part;
    return d.eased.has(part) && this.model.parts.get(part)!.swing!.gap!.reaches.includes(item);
  }

  /** The item was taken out with an assembly that `part` is no part of: nothing of the device lies over it any more. */
  private assemblyOff(d: Device, part: string, item: string): boolean {
    for (let at = this.model.contextOf(item); at !== null; at = this.model.parts.get(at)!.within)
      if (d.removed.has(at) && !this.model.familyOf(at).includes(part)) return true;
    return false;
  }

  /** A flex that lies over an item, or a bond that holds that flex down. */
  private foldedOver(d: Device, id: string): Found {
    for (const c of this.model.anatomy.connectors) {
      if (!c.liesOver.includes(id) || d.absent.has(c.id)) continue;
      if (!d.open.has(c.id)) return broken('A1', c.id, `the flex of ${c.name} lies over ${this.name(id)}`);
      if (d.removed.has(c.from)) continue;
      const stuck = this.model.anatomy.bonds.find((b) => b.flex === c.id && !d.released.has(b.id));
      if (stuck) return broken('A1', stuck.id, `${this.name(stuck.id)} holds down the flex of ${c.name}`);
    }
    return null;
  }

  private undone(d: Device, id: string): boolean {
    return d.out.has(id) || d.absent.has(id) || d.open.has(id) || d.released.has(id) || d.removed.has(id);
  }

  private outOfTurn(d: Device, id: string): Found {
    const order = this.model.anatomy.orders.find((o) => o.then === id && !this.undone(d, o.first));
    return order ? broken('A2', order.first, order.because) : null;
  }

  private returnsOutOfTurn(d: Device, id: string): Found {
    const order = this.model.anatomy.orders.find(
      (o) => o.first === id && this.undone(d, o.then) && !d.absent.has(o.then),
    );
    return order ? broken('A7', order.then, `${this.name(order.then)} goes back before ${this.name(id)}`) : null;
  }

  /** A6: a card tray that nothing holds comes out before the device is opened. */
  private traysLeft(d: Device, id: string): Found {
    const tray = this.model.anatomy.parts.find(
      (p) =>
        p.kind === 'tray' &&
        p.within === null &&
        p.id !== id &&
        !d.removed.has(p.id) &&
        this.joinery(d, p.id).length === 0 &&
        !this.unreachable(d, p.id) &&
        !this.outOfTurn(d, p.id) &&
        !this.model.anatomy.connectors.some(
          (c) => c.kind !== 'contact' && !d.open.has(c.id) && this.splits(p.id, [c.from, c.to]),
        ),
    );
    if (!tray) return null;
    const alone = this.joineryOfItem(tray.id, id);
    return alone ? null : broken('A6', tray.id, `${tray.name} comes out first`);
  }

  private joineryOfItem(tray: string, id: string): boolean {
    return this.splits(tray, [
      ...this.model.ownPartsOf(id),
      ...(this.model.connectors.has(id)
        ? [this.model.connectors.get(id)!.from, this.model.connectors.get(id)!.to]
        : []),
    ]);
  }

  private away(d: Device, part: string, context: string | null): boolean {
    for (let at: string | null = part; at !== null && at !== context; at = this.model.parts.get(at)!.within)
      if (d.removed.has(at)) return true;
    return false;
  }

  /** Can this part come off at all, power and turn-overs aside? */
  comesOff(part: string): boolean {
    return this.strip(
      closedDevice(),
      () => false,
      (d) => d.removed.has(part),
    ).removed.has(part);
  }

  /** Can isolation be reached from here without touching what `spared` names? */
  private isolationWithin(start: Device, spared: (id: string) => boolean): boolean {
    return this.isolated(this.strip(start, spared, (d) => this.isolated(d)));
  }

  /**
   * Takes off everything that comes off, power ignored, until `enough` or nothing moves. The rules
   * only ever ask for more to be off, so this greedy search is complete.
   */
  strip(start: Device, spared: (id: string) => boolean, enough: (d: Device) => boolean): Device {
    const d = copyDevice(start);
    const { fasteners, connectors, bonds, latches, parts } = this.model.anatomy;
    const attempt = (verb: Step['do'], id: string, found: () => Found): boolean => {
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
          (b.kind !== 'thermal' && !d.released.has(b.id) && attempt('cut', b.id, () => this.release(d, b.id))) || moved;
      for (const l of latches)
        moved = (!d.released.has(l.id) && attempt('release', l.id, () => this.release(d, l.id))) || moved;
      for (const c of connectors)
        moved =
          (c.kind !== 'contact' && !d.open.has(c.id) && attempt('disconnect', c.id, () => this.open(d, c.id, false))) ||
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

  /**
   * Puts back everything that goes back, gates and new bonds aside, but for what is `spared`; with something hanging
   * open only on the face that is up. What goes back never hinders what could go back before, so this search is complete.
   */
  restore(start: Device, spared: (id: string) => boolean): Device {
    const d = copyDevice(start);
    const hangs = d.swung.size + d.eased.size > 0;
    const faceUp = (id: string) => {
      const face = this.deviceFace(id);
      return !hangs || d.up === null || face === 'edge' || face === d.up;
    };
    const back = (verb: Step['do'], id: string, found: () => Found): boolean => {
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

  /** Could a tool get at this item on a device in this state? */
  reaches(d: Device, id: string): boolean {
    return this.unreachable(d, id) === null;
  }

  /** Parts that lie in their places with nothing left that holds them, and nothing over them (R8). */
  looseParts(d: Device): string[] {
    return this.model.anatomy.parts.map((p) => p.id).filter((id) => this.isLoose(d, id));
  }

  private isLoose(d: Device, part: string): boolean {
    const { fixed, within, face } = this.model.parts.get(part)!;
    if (fixed || within !== null || face === 'edge' || d.absent.has(part)) return false;
    if (d.removed.has(part) || d.swung.has(part) || d.eased.has(part)) return false;
    const { bonds, parts } = this.model.anatomy;
    const sticks = bonds.some((b) => b.joins.includes(part) && !d.released.has(b.id) && !d.absent.has(b.id));
    if (sticks || this.joinery(d, part).length > 0) return false;
    const over = parts.filter((p) => this.layers.covers(p.id, part));
    if (over.some((p) => !d.removed.has(p.id) && !d.swung.has(p.id))) return false;
    // What nothing ever held or covered sits by its own fit.
    return over.length > 0 || this.joinery(closedDevice(), part).length > 0;
  }

  private isContact(id: string): boolean {
    return this.model.connectors.get(id)?.kind === 'contact';
  }

  /** May a part be laid in its place, its bonds and gates aside? */
  private laid(d: Device, id: string): Found {
    return (
      this.unreachable(d, id) ?? this.flexBeneath(d, id) ?? this.leftBeneath(d, id) ?? this.returnsOutOfTurn(d, id)
    );
  }

  /** The face of the device that is up while an item is worked on. */
  deviceFace(id: string): Step['face'] {
    let at = id;
    for (let context = this.model.contextOf(at); context !== null; context = this.model.contextOf(at)) at = context;
    return this.model.faceOf(at);
  }

  /** What is still lacking on a device that is said to be finished. */
  lacking(d: Device, plan: Pick<Plan, 'replace'>): Violation | null {
    const end = (rule: Violation['rule'], item: string, message: string): Violation => ({
      rule,
      item,
      message,
      step: null,
    });
    for (const id of d.removed) if (!d.absent.has(id)) return end('A7', id, `${this.name(id)} is left on the mat`);
    for (const id of [...d.swung, ...d.eased]) return end('A7', id, `${this.name(id)} is left open`);
    for (const id of d.out) if (!d.absent.has(id)) return end('G7', id, `${id} is left in its well`);
    for (const id of d.open) if (!d.absent.has(id)) return end('A7', id, `${this.name(id)} is left open`);
    for (const id of d.released) if (!d.absent.has(id)) return end('A7', id, `${this.name(id)} is not closed again`);
    for (const id of plan.replace)
      if (!d.renewed.has(id)) return end('A7', id, `${this.name(id)} was to be replaced and was not`);
    for (const b of this.model.anatomy.bonds)
      if (d.touched.has(b.id) && !d.absent.has(b.id) && b.fate === 'renew' && !d.renewed.has(b.id))
        return end('A7', b.id, `${this.name(b.id)} was not renewed`);
    for (const p of this.model.anatomy.parts)
      if (p.fate === 'renew' && d.lifted.has(p.id) && !d.absent.has(p.id) && !d.renewed.has(p.id))
        return end('A7', p.id, `${p.name} never goes back; it was not renewed`);
    if (d.lastLaid !== null && !d.gated.get('G3')?.has(d.lastLaid))
      return end('G3', d.lastLaid, `${this.name(d.lastLaid)} closed the device without being found clean`);
    if (!d.gated.has('G7')) return end('G7', 'G7', 'the job was not signed off');
    return null;
  }
}
