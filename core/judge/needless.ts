import type { Dive, Document, StepRead } from './document.ts';
import { joinedTo } from './device.ts';
import { readingOf } from './reading.ts';
import { checkPlan, type Asked } from './replay.ts';

/** Steps without some items; what is left with nothing to do goes too. */
function without(plan: Dive, items: ReadonlySet<string>): Dive {
  const steps = plan.steps.flatMap((step): StepRead[] => {
    const left = step.items.filter((id) => !items.has(id));
    return left.length === step.items.length ? [step] : left.length > 0 ? [{ ...step, items: left }] : [];
  });
  return { ...plan, steps };
}

const MOVES: readonly string[] = ['lift', 'swing', 'ease', 'fit'];

/**
 * R11: a part that the plan takes off or opens although it could stay, by brute force: the plan without it, or with it
 * left on its hinge, is sound as well. Asked of a plan as a whole, since it replays the plan for every part.
 * @returns the part, or `null` when nothing could stay
 */
export function needless(document: Document, plan: Dive, asked: Asked = {}): string | null {
  const reading = readingOf(document);
  const wanted = new Set([...plan.replace, ...plan.transfers.map((t) => t.part)]);
  const moved = new Set(plan.steps.flatMap((s) => (s.phase === 'descent' && MOVES.includes(s.do) ? s.items : [])));
  for (const part of moved) {
    if (wanted.has(part)) continue;
    const all = new Set([part, ...joinedTo(reading, part)]);
    const touched = plan.touched.filter((f) => !reading.part(part).functions.includes(f));
    if (checkPlan(document, { ...without(plan, all), touched }, { ...asked, doubtful: true }) === null) return part;
  }
  return null;
}
