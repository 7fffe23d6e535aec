import type { Dive } from './document.ts';
import { conducts, isDriver } from './tools.ts';
import { copyDevice, type Device, type Violation } from './device.ts';
import { broken, type Found, type StepLike } from './found.ts';
import type { JudgeMessage } from './messages.ts';
import { WayBack } from './wayBack.ts';

/** Verbs that put hands, a tool or the device's own weight to work inside it. */
const HANDS_INSIDE: ReadonlySet<string> = new Set([
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
export class Checker extends WayBack {
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
    if (step.pose) next.pose = step.pose;
    if (step.do === 'gate' && step.gate)
      next.gated.set(step.gate, new Set([...(next.gated.get(step.gate) ?? []), ...step.items]));
    for (const id of step.items) this.apply(next, step, id);
    return next;
  }

  /** The device once a part is found to be gone, with all that joined it. */
  without(d: Device, part: string): Device {
    const next = copyDevice(d);
    for (const id of this.joinedTo(part)) {
      next.absent.add(id);
      const type = this.reading.items.get(id)!.type;
      if (type === 'part') next.removed.add(id);
      else if (type === 'fastener') next.out.add(id);
      else if (type === 'connector') next.open.add(id);
      else next.released.add(id);
    }
    next.swung.delete(part);
    next.eased.delete(part);
    next.taped.delete(part);
    return next;
  }

  private whole(d: Device, step: StepLike): Found {
    const opened = [...d.removed, ...d.swung, ...d.eased].some(
      (id) => !d.absent.has(id) && this.reading.parts.get(id)!.face !== 'edge',
    );
    if (step.tool !== null && opened && !this.isolated(d, step.items)) {
      if (conducts(step.tool) && !isDriver(step.tool))
        return broken('A5', step.items[0] ?? step.tool, { code: 'tool-conducts-live', tool: step.tool });
    }
    if (d.on && HANDS_INSIDE.has(step.do)) return broken('R2', step.items[0] ?? step.do, { code: 'switched-on' });
    const [hanging] = this.hanging(d);
    if (step.do === 'turn-over' && hanging !== undefined)
      return broken('A3', hanging, { code: 'turned-while-open', item: hanging });
    if (
      step.face &&
      step.face !== 'edge' &&
      d.up !== null &&
      step.face !== d.up &&
      step.do !== 'turn-over' &&
      step.items.some((id) => this.reading.items.has(id))
    ) {
      return broken('A3', step.items[0]!, { code: 'other-face-up', face: step.face });
    }
    return this.misfolded(d, step);
  }

  /** A3: a fold lies as its items need it, and is folded by a step of its own. */
  private misfolded(d: Device, step: StepLike): Found {
    const { pose, face } = step;
    if (pose === undefined || !HANDS_INSIDE.has(step.do) || step.items.length === 0) return null;
    if (d.pose !== null && d.pose !== pose)
      return broken('A3', step.items[0]!, { code: 'lies-otherwise', lies: d.pose, wanted: pose });
    const amiss = step.items.find((id) => {
      const need =
        face && this.reading.items.has(id) && this.reading.side(id) !== 'edge' ? this.reading.pose(id, face) : null;
      // What lies on the mat lies there by itself.
      if (need === null || this.out(d, id)) return false;
      return need.says === 'closed'
        ? !pose.startsWith('closed-') || (need.half !== null && pose !== `closed-${need.half}`)
        : pose !== need.says;
    });
    return amiss ? broken('A3', amiss, { code: 'not-worked-so', item: amiss, wanted: pose }) : null;
  }

  /** Is the assembly that an item lies in out of the device? */
  private out(d: Device, id: string): boolean {
    for (let at = this.reading.frame(id); at !== null; at = this.reading.parts.get(at)!.within)
      if (d.removed.has(at)) return true;
    return false;
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
        return this.reading.fasteners.has(id) ? this.loosen(d, id) : this.release(d, id, step.face);
      case 'solvent':
      case 'gap':
        return this.reachesBond(d, id, step.face);
      case 'disconnect':
      case 'desolder':
        return this.open(d, id, true);
      case 'tape-down':
        return this.hanging(d).includes(id) ? null : broken('A3', id, { code: 'stands-not-open', item: id });
      case 'ease':
        return d.removed.has(id) || d.swung.has(id)
          ? this.put(d, id, 'ease', step.face)
          : this.take(d, id, 'ease', true, step.face);
      case 'swing':
        if (d.taped.has(id)) return null;
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

  /** What is still lacking on a device that is said to be finished. */
  lacking(d: Device, plan: Pick<Dive, 'replace'>): Violation | null {
    const end = (rule: Violation['rule'], item: string, said: JudgeMessage): Violation => ({
      rule,
      item,
      said,
      step: null,
    });
    for (const id of d.removed) if (!d.absent.has(id)) return end('A7', id, { code: 'left-on-mat', item: id });
    for (const id of [...d.swung, ...d.eased]) return end('A7', id, { code: 'left-open', item: id });
    for (const id of d.out) if (!d.absent.has(id)) return end('G7', id, { code: 'left-in-well', item: id });
    for (const id of d.open) if (!d.absent.has(id)) return end('A7', id, { code: 'left-open', item: id });
    for (const id of d.released) if (!d.absent.has(id)) return end('A7', id, { code: 'not-closed-again', item: id });
    for (const id of plan.replace) if (!d.renewed.has(id)) return end('A7', id, { code: 'not-replaced', item: id });
    for (const b of this.document.bonds)
      if (d.touched.has(b.id) && !d.absent.has(b.id) && b.fate === 'renew' && !d.renewed.has(b.id))
        return end('A7', b.id, { code: 'not-renewed', item: b.id });
    for (const p of this.document.parts)
      if (p.fate === 'renew' && d.lifted.has(p.id) && !d.absent.has(p.id) && !d.renewed.has(p.id))
        return end('A7', p.id, { code: 'never-back-not-renewed', item: p.id });
    if (d.lastLaid !== null && !d.gated.get('G3')?.has(d.lastLaid))
      return end('G3', d.lastLaid, { code: 'closed-unclean', item: d.lastLaid });
    if (!d.gated.has('G7')) return end('G7', 'G7', { code: 'not-signed' });
    return null;
  }
}
