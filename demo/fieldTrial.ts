import type { Model } from '../core/anatomy/index.ts';
import { faultsOf } from '../core/anatomy/index.ts';
import { checkPlan, DEFAULT_RULES, NoDive, planDive, StepGraph, totalsOf, type Plan } from '../core/dive/index.ts';
import { actsOfPlan, countsOf, openDevice, type ActFile } from '../core/explore/index.ts';
import { learn, wayBackOf, type Evidence } from '../core/learn/index.ts';

/*
 * Simulated field dives: the way in of a plan in many valid orders, with the noise of a hand, as a technician's acts. The
 * way back is planned on what was learnt, and judged by the dive checker on the true anatomy, which learning has not seen.
 */
export const QUICK = { budget: 0, heat: 'usual' } as const;

/** The quickest plan for a part; `null` where there is no way to it. */
export function planOf(model: Model, part: string): Plan | null {
  try {
    return planDive(model, { replace: [part] }, DEFAULT_RULES, QUICK);
  } catch (error) {
    if (error instanceof NoDive) return null;
    throw error;
  }
}

/** Hands and turns of the way back, proof aside: what a device does is not known of one that nobody has drawn. */
export function workBack(plan: Plan): number {
  const steps = plan.steps.filter(
    (s) =>
      s.phase !== 'prepare' &&
      s.phase !== 'descent' &&
      !['test', 'confirm-loss', 'power-on', 'power-off'].includes(s.do) &&
      s.gate !== 'G4',
  );
  const { hands, toolChanges, turnOvers } = totalsOf(steps, plan.rules);
  return hands + toolChanges * DEFAULT_RULES.toolChange + turnOvers * DEFAULT_RULES.turnOver;
}

/** Is a relation true of the device? `null` for what the format does not say. */
function isTrue(model: Model, graph: StepGraph, { relation, of, to }: Evidence): boolean | null {
  const family = (part: string) => (model.parts.has(part) ? model.familyOf(part) : []);
  const screw = model.fasteners.get(of);
  const plug = model.connectors.get(of);
  const joint = model.bonds.get(of) ?? model.latches.get(of);
  switch (relation) {
    case 'holds':
      return screw ? screw.holds.includes(to) : null;
    case 'into':
      return screw ? screw.into === to : null;
    case 'joins':
      if (plug) return [plug.from, plug.to].some((p) => family(to).includes(p));
      return joint ? joint.joins.includes(to) : null;
    case 'from':
      return plug ? family(to).includes(plug.from) : null;
    case 'tilts':
      return plug?.reachedBy?.swing === to;
    case 'within':
      return model.parts.has(of) ? family(to).includes(of) : null;
    case 'tether':
      return model.parts.get(of)?.swing?.tether.includes(to) ?? null;
    case 'covers':
      if (model.connectors.has(of)) return model.connectors.get(to)!.beneath.includes(of);
      return model.parts.has(of) && model.items.has(to) ? graph.hides(of, to) : null;
    default:
      return null;
  }
}

/** How a field dive into a device that is known went. */
export interface FieldTrial {
  /** What went wrong, in words. */
  broken: string[];
  /** Work back as a share of the planner's on the true anatomy. */
  ratio: number;
  /** Every relation that was learnt and that the format can tell of. */
  known: { key: string; right: boolean }[];
}

/** Dives to a part as a technician who knows nothing of the device; `null` where there is no way to it. */
export function fieldTrial(model: Model, part: string, how: { shuffle?: number; seed: number }): FieldTrial | null {
  const plan = planOf(model, part);
  if (!plan) return null;
  const broken: string[] = [];
  const file = actsOfPlan(model, plan, how);
  const learnt = learn([file], { ids: 'labels' });
  const faults = faultsOf(learnt.anatomy);
  if (faults.length > 0) broken.push(`learnt with faults, ${faults[0]!.path} ${faults[0]!.message}`);
  const back = wayBackOf(learnt, {}, QUICK);
  const violation = checkPlan(model, back, { laws: true });
  if (violation) broken.push(`${violation.rule}, ${violation.message}`);
  const uneven = unevenCounts(model, file, back);
  if (uneven) broken.push(uneven);
  const graph = new StepGraph(model);
  const known = learnt.evidence.flatMap((e) => {
    const right = isTrue(model, graph, e);
    return right === null ? [] : [{ key: `${e.relation} ${e.grade}`, right }];
  });
  return { broken, ratio: workBack(back) / workBack(plan), known };
}

/** Every screw that came out goes back, once, and lay in a well until then; `null` where it is so. */
function unevenCounts(model: Model, file: ActFile, back: Plan): string | null {
  const open = openDevice(file.acts);
  const out = file.acts.filter((a) => a.act === 'screw-out').map((a) => a.label!);
  const fastened = back.steps.filter((s) => s.do === 'fasten').flatMap((s) => s.items);
  const even = out.toSorted().join() === fastened.toSorted().join();
  const captive = out.filter((id) => model.fasteners.get(id)!.kind === 'captive').length;
  const { screwsOut } = countsOf(open);
  if (even && screwsOut === out.length && open.wells.size === out.length - captive) return null;
  return `${out.length} out, ${fastened.length} back, ${open.wells.size} in wells`;
}
