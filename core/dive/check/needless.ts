import type { Model } from '../../anatomy/index.ts';
import type { Plan, Step } from '../types.ts';
import { joinedTo } from './device.ts';
import { checkPlan, type Asked } from './replay.ts';

/** Steps without some items; what is left with nothing to do goes too. */
function without(plan: Plan, items: ReadonlySet<string>, verbs: ((step: Step) => boolean) | null = null): Plan {
  const steps = plan.steps.flatMap((step) => {
    if (verbs && !verbs(step)) return [step];
    const left = step.items.filter((id) => !items.has(id));
    return left.length === step.items.length ? [step] : left.length > 0 ? [{ ...step, items: left }] : [];
  });
  return { ...plan, steps };
}

const MOVES: readonly Step['do'][] = ['lift', 'swing', 'ease', 'fit'];

/**
 * R11: a part that the plan takes off or opens although it could stay, by brute force: the plan without it, or with it
 * left on its hinge, is sound as well. Asked of a plan as a whole, since it replays the plan for every part.
 * @returns the part, or `null` when nothing could stay
 */
export function needless(model: Model, plan: Plan, asked: Asked = {}): string | null {
  const wanted = new Set([...plan.replace, ...plan.transfers.map((t) => t.part)]);
  const moved = new Set(plan.steps.flatMap((s) => (s.phase === 'descent' && MOVES.includes(s.do) ? s.items : [])));
  for (const part of moved) {
    if (wanted.has(part)) continue;
    const all = new Set([part, ...joinedTo(model, part)]);
    const touched = plan.touched.filter((f) => !model.parts.get(part)!.functions.includes(f));
    if (checkPlan(model, { ...without(plan, all), touched }, asked) === null) return part;
  }
  return null;
}
