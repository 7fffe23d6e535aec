import type { Model } from '../../anatomy/index.ts';
import type { Plan, Step } from '../types.ts';
import { Checker } from './checker.ts';
import { CRAFT_OF_STEPS } from './craft/index.ts';
import { closedDevice, type Device, type Violation } from './device.ts';

/** A closed device but for what the plan says is gone for good. */
function startOf(checker: Checker, model: Model, plan: Plan): Device {
  let device = closedDevice();
  for (const id of plan.absent) if (model.parts.has(id) && !device.absent.has(id)) device = checker.without(device, id);
  for (const id of plan.absent) device.absent.add(id);
  return device;
}

/** What is asked of a plan besides the rules themselves. */
export interface Asked {
  /** Index of the first step that is judged by the rules of good work; what was done before is done. */
  ahead?: number;
  /** Judge by the laws alone, as for a plan that says what it had to give up. */
  laws?: boolean;
  /** How many of its steps are taken as done, whatever rules they broke: acts on a device that nobody had drawn. */
  done?: number;
}

/**
 * Replays a plan against an anatomy.
 * @returns the first violated rule, or `null` when the plan is sound
 */
export function checkPlan(
  model: Model,
  plan: Plan,
  { ahead = 0, laws = false, done: acts = 0 }: Asked = {},
): Violation | null {
  const lost = new Set(plan.losses.map((l) => l.function));
  const checker = new Checker(model, { losses: plan.losses, steps: [] });
  let device = startOf(checker, model, plan);
  const done = new Set<string>();
  for (const [index, step] of plan.steps.entries()) {
    const violation = index < acts ? null : (madeReady(model, device, step, done) ?? checker.violation(device, step));
    if (violation) return violation;
    const after = checker.advance(device, step);
    if (index >= ahead && !laws)
      for (const rule of CRAFT_OF_STEPS) {
        const found = rule({ model, checker, plan, step, index, before: device, after });
        if (found) return { ...found, step: step.n };
      }
    device = after;
    done.add(step.do);
  }
  return atTheEnd(checker, device, plan, lost);
}

/** A6 and G4: what a step rests on that is no state of the device. */
function madeReady(model: Model, device: Device, step: Step, done: ReadonlySet<string>): Violation | null {
  const cells = step.items.some((id) => model.bonds.get(id)?.joins.some((p) => model.parts.get(p)?.kind === 'battery'));
  const broken = (rule: Violation['rule'], item: string, message: string): Violation => ({
    rule,
    item,
    message,
    step: step.n,
  });
  if (step.phase === 'descent' && !done.has('power-off'))
    return broken('A6', 'power-off', 'the device was not powered off');
  const cellIn = model.anatomy.parts.some((p) => p.kind === 'battery' && !device.removed.has(p.id));
  const warms = step.do === 'heat' && step.phase !== 'turn' && cellIn;
  if ((warms || (cells && ['cut', 'pull', 'solvent'].includes(step.do))) && !done.has('discharge'))
    return broken('A6', step.items[0]!, 'a cell is heated or pried without checking its charge');
  if (step.do === 'gate' && step.gate === 'G4') {
    const left = step.items.find((f) => !device.proved.has(f));
    if (left || !done.has('power-on')) return broken('G4', left ?? 'power-on', 'the gate stands before its tests');
  }
  return null;
}

function atTheEnd(checker: Checker, device: Device, plan: Plan, lost: ReadonlySet<string>): Violation | null {
  const untested = [...checker.functionsTouched(device)].find((f) => !device.proved.has(f) && !lost.has(f));
  if (untested)
    return { rule: 'G7', item: untested, message: `${untested} was touched and is not tested since`, step: null };
  const pressed = plan.steps.some((s) => (s.do === 'press' || s.do === 'cure') && s.waits > 0);
  if (pressed && !device.gated.has('G6'))
    return { rule: 'G6', item: 'G6', message: 'nothing waits for the press', step: null };
  return checker.lacking(device, plan);
}
