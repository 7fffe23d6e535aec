import type { Checker } from '../checker.ts';
import type { Dive, Document, StepRead } from '../document.ts';
import { broken, type Found } from '../found.ts';
import type { JudgeMessage } from '../messages.ts';
import type { Device, Violation } from '../device.ts';
import type { Reading } from '../reading.ts';

/** One step of a plan as the rules of good work see it: the device before and after it, and the plan around it. */
export interface Moment {
  reading: Reading;
  document: Document;
  checker: Checker;
  plan: Dive;
  step: StepRead;
  /** Its place in the plan, from 0. */
  index: number;
  before: Device;
  after: Device;
}

/** A rule of good work: what the step breaks, or `null`. */
export type CraftRule = (moment: Moment) => Found;

export const breaks = (rule: Violation['rule'], item: string, said: JudgeMessage): Found => broken(rule, item, said);

/** Steps on the device itself, in their order; work on the mat goes on beside them. */
export const isOnDevice = (step: StepRead): boolean => step.phase !== 'turn';

/** Is an item, or the part it belongs to, of the outside or the edge: a cover, its screws, its seal, a tray? */
export function isOutside({ reading, checker }: Pick<Moment, 'reading' | 'checker'>, id: string): boolean {
  const found = reading.items.get(id);
  if (!found) return false;
  const outer = (part: string) => checker.layers.outside(part) || reading.part(part).face === 'edge';
  if (reading.side(id) === 'edge') return true;
  switch (found.type) {
    case 'part':
      return outer(id);
    case 'fastener':
      return found.item.holds.some(outer);
    case 'connector':
      return false;
    default:
      return found.item.joins.some(outer);
  }
}

const GLUE_VERBS: ReadonlySet<string> = new Set(['cut', 'pull', 'solvent', 'heat']);

/** Does this step heat, soak, cut or pull a bond? */
export const worksBond = (step: StepRead): boolean => GLUE_VERBS.has(step.do);
