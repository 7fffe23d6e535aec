import type { Model } from '../../anatomy/index.ts';
import { Checker } from './checker.ts';
import { closedDevice, type Device, type Violation } from './device.ts';
import type { Plan } from '../types.ts';

/** A closed device but for what the plan says is gone for good. */
function startOf(checker: Checker, model: Model, plan: Plan): Device {
  let device = closedDevice();
  for (const id of plan.absent) if (model.parts.has(id) && !device.absent.has(id)) device = checker.without(device, id);
  for (const id of plan.absent) device.absent.add(id);
  return device;
}

/**
 * Replays a plan against an anatomy.
 * @returns the first violated rule, or `null` when the plan is sound
 */
export function checkPlan(model: Model, plan: Plan): Violation | null {
  const checker = new Checker(model);
  let device = startOf(checker, model, plan);
  const done = new Set<string>();
  const afresh = (rule: Violation['rule'], item: string, message: string, step: number): Violation => ({
    rule,
    item,
    message,
    step,
  });
  for (const step of plan.steps) {
    const cells = step.items.some((id) =>
      model.bonds.get(id)?.joins.some((p) => model.parts.get(p)?.kind === 'battery'),
    );
    if (step.phase === 'descent' && !done.has('power-off'))
      return afresh('A6', 'power-off', 'the device was not powered off', step.n);
    if ((step.do === 'heat' || (cells && ['cut', 'pull', 'solvent'].includes(step.do))) && !done.has('discharge')) {
      return afresh('A6', step.items[0]!, 'a cell is heated or pried without checking its charge', step.n);
    }
    if (step.do === 'gate' && step.gate === 'G4') {
      const left = step.items.find((f) => !device.proved.has(f));
      if (left || !done.has('power-on'))
        return afresh('G4', left ?? 'power-on', 'the gate stands before its tests', step.n);
    }
    const violation = checker.violation(device, step);
    if (violation) return violation;
    device = checker.advance(device, step);
    done.add(step.do);
  }
  const untested = [...checker.functionsTouched(device)].find((f) => !device.proved.has(f));
  if (untested)
    return { rule: 'G7', item: untested, message: `${untested} was touched and is not tested since`, step: null };
  const pressed = plan.steps.some((s) => (s.do === 'press' || s.do === 'cure') && s.waits > 0);
  if (pressed && !device.gated.has('G6'))
    return { rule: 'G6', item: 'G6', message: 'nothing waits for the press', step: null };
  return checker.lacking(device, plan);
}
