import type { Model } from '../../core/anatomy/index.ts';
import { checkerFor, checkPlan, givesUp, type Plan, planOn, type Pose, type Standing } from '../../core/dive/index.ts';
import { closedDevice } from '../../core/judge/index.ts';
import { lawBroken } from '../../demo/lawsOnly.ts';
import { clock, told } from '../../demo/planOracle.ts';

/** What can be said against going on from the middle of a plan, as it stands or with more to do; `null` when nothing can. */
export function onwardsAmiss(model: Model, plan: Plan, at: number, more: readonly string[] = []): string | null {
  const checker = checkerFor(model, plan);
  let d = closedDevice();
  const kept = plan.steps.slice(0, at);
  for (const step of kept) d = checker.advance(d, step);
  const from: Standing = {
    out: d.out,
    open: d.open,
    released: d.released,
    swung: d.swung,
    eased: d.eased,
    removed: d.removed,
    on: d.on,
    absent: d.absent,
    renewed: d.renewed,
    touched: d.touched,
    up: d.up,
    pose: d.pose as Pose | null,
    prepared: new Set(kept.filter((s) => s.phase === 'prepare').map((s) => s.do)),
    stripped: new Set(),
    pressed: new Set(kept.filter((s) => (s.do === 'press' || s.do === 'cure') && s.waits > 0).flatMap((s) => s.items)),
    gated: d.gated,
  };
  if (d.taped.size > 0) return null;
  const replace = [...new Set([...plan.replace, ...more])];
  const { spares, condition, rules } = plan;
  const on = planOn(
    model,
    kept.map((s) => ({ ...s })),
    { replace, spares, condition, from },
    rules,
    { budget: 60, heat: 'usual' },
  );
  const law = lawBroken(model.anatomy, on);
  if (law) return `law: ${law}`;
  const found = checkPlan(model, on, { ahead: at, laws: givesUp(on) });
  if (found) return `judge: ${found.rule}, step ${found.step}: ${JSON.stringify(found.said)}`;
  if (kept.some((s, i) => on.steps[i]!.do !== s.do || on.steps[i]!.items.join() !== s.items.join()))
    return 'what was done is told otherwise';
  if (replace.some((id) => !on.replace.includes(id))) return 'what is still to be done is left out';
  const undone = on.steps
    .slice(at)
    .find((s) => s.phase === 'descent' && s.items.some((id) => d.removed.has(id) || d.out.has(id)));
  if (undone && kept.every((s) => s.phase !== 'ascent')) return `${undone.do} ${undone.items} is done already`;
  if (more.length === 0 && plan.optimality.proved && kept.every((s) => s.waits === 0)) {
    const [was, is] = [plan.totals.elapsed, on.totals.elapsed];
    if (is < was - 10) return `going on from step ${at} is done in ${is} s, and the whole was proved to take ${was}`;
    if (is > was * 1.3 + 90) return `going on from step ${at} takes ${is} s, and ${was} from the start`;
  }
  return clock(on) ?? told(model.anatomy, on);
}
