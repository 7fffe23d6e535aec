import type { Dive, Document, StepRead } from './document.ts';
import { Checker } from './checker.ts';
import { CRAFT_OF_STEPS } from './craft/index.ts';
import { closedDevice, type Device, type Violation } from './device.ts';
import type { JudgeMessage } from './messages.ts';
import { readingOf } from './reading.ts';

/** A closed device but for what the plan says is gone for good. */
function startOf(checker: Checker, plan: Dive): Device {
  let device = closedDevice();
  for (const id of plan.absent)
    if (checker.reading.parts.has(id) && !device.absent.has(id)) device = checker.without(device, id);
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
  /** Takes what may lie over something for what does, so that nothing passes that hangs on a hair. */
  doubtful?: boolean;
}

/**
 * Replays a plan against the document of its device.
 * @returns the first violated rule, or `null` when the plan is sound
 */
export function checkPlan(
  document: Document,
  plan: Dive,
  { ahead = 0, laws = false, done: acts = 0, doubtful = false }: Asked = {},
): Violation | null {
  const lost = new Set(plan.losses.map((l) => l.function));
  const checker = new Checker(document, { losses: plan.losses, steps: [] }, doubtful);
  const reading = readingOf(document);
  let device = startOf(checker, plan);
  const done = new Set<string>();
  for (const [index, step] of plan.steps.entries()) {
    const violation =
      index < acts ? null : (madeReady(document, device, step, done) ?? checker.violation(device, step));
    if (violation) return violation;
    const after = checker.advance(device, step);
    if (index >= ahead && !laws)
      for (const rule of CRAFT_OF_STEPS) {
        const found = rule({ reading, document, checker, plan, step, index, before: device, after });
        if (found) return { ...found, step: step.n };
      }
    device = after;
    done.add(step.do);
  }
  return atTheEnd(checker, device, plan, lost);
}

/** A6 and G4: what a step rests on that is no state of the device. */
function madeReady(document: Document, device: Device, step: StepRead, done: ReadonlySet<string>): Violation | null {
  const { parts, bonds } = readingOf(document);
  const cells = step.items.some((id) => bonds.get(id)?.joins.some((p) => parts.get(p)?.kind === 'battery'));
  const broken = (rule: Violation['rule'], item: string, said: JudgeMessage): Violation => ({
    rule,
    item,
    said,
    step: step.n,
  });
  if (step.phase === 'descent' && !done.has('power-off')) return broken('A6', 'power-off', { code: 'not-powered-off' });
  const cellIn = document.parts.some((p) => p.kind === 'battery' && !device.removed.has(p.id));
  const warms = step.do === 'heat' && step.phase !== 'turn' && cellIn;
  if ((warms || (cells && ['cut', 'pull', 'solvent'].includes(step.do))) && !done.has('discharge'))
    return broken('A6', step.items[0]!, { code: 'charge-unchecked' });
  if (step.do === 'gate' && step.gate === 'G4') {
    const left = step.items.find((f) => !device.proved.has(f));
    if (left || !done.has('power-on')) return broken('G4', left ?? 'power-on', { code: 'gate-before-tests' });
  }
  return null;
}

function atTheEnd(checker: Checker, device: Device, plan: Dive, lost: ReadonlySet<string>): Violation | null {
  const untested = [...checker.functionsTouched(device)].find((f) => !device.proved.has(f) && !lost.has(f));
  if (untested)
    return { rule: 'G7', item: untested, said: { code: 'touched-untested', function: untested }, step: null };
  const pressed = plan.steps.some((s) => (s.do === 'press' || s.do === 'cure') && s.waits > 0);
  if (pressed && !device.gated.has('G6'))
    return { rule: 'G6', item: 'G6', said: { code: 'no-press-waited' }, step: null };
  return checker.lacking(device, plan);
}
