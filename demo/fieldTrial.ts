import { faultsOf, modelOf, type Model } from '../core/anatomy/index.ts';
import { checkPlan, DEFAULT_RULES, NoDive, planDive, StepGraph, totalsOf, type Plan } from '../core/dive/index.ts';
import { actsOfPlan, countsOf, openDevice, type ActFile } from '../core/explore/index.ts';
import { isUnseen, learn, wayBackOf, type Evidence } from '../core/learn/index.ts';
import { seededDraw } from './synthetic.ts';

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

/**
 * Hands and turns of the way back, but for proof and for what a seal is loaded with: what a device does is not known of one that
 * nobody has drawn, nor how wide its seal is.
 */
export function workBack(plan: Plan): number {
  const steps = plan.steps.filter(
    (s) =>
      s.phase !== 'prepare' &&
      s.phase !== 'descent' &&
      !['test', 'confirm-loss', 'power-on', 'power-off'].includes(s.do) &&
      !(s.do === 'press' && s.waits > 0) &&
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
  if (violation) broken.push(`${violation.rule}, ${JSON.stringify(violation.said)}`);
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

/** A plan for a part that was opened before, from what so many dives told. */
export interface PlanTrial {
  part: string;
  /** It keeps every law on the true device. */
  sound: boolean;
  /** It rests on something that nobody has seen, and says so. */
  marked: boolean;
  /** Screws and plugs, and the fewest that the planner needs on the true device. */
  work: number;
  least: number;
}

/** Dives one after another to parts that are drawn by lot; for each so many the plans for all that was opened by then. */
export function plansOfDives(model: Model, seed: number, dives: number): PlanTrial[][] {
  const parts = model.anatomy.parts.filter((p) => !p.fixed).map((p) => p.id);
  const draw = seededDraw(seed);
  const files: ActFile[] = [];
  const opened = new Set<string>();
  return Array.from({ length: dives }, (_, n) => {
    const plan = planOf(model, parts[draw(parts.length)]!)!;
    const file = actsOfPlan(model, plan, { shuffle: seed * 10 + n, seed: seed * 7 + n });
    files.push(file);
    for (const a of file.acts) if (a.act === 'part-off') opened.add(a.label!);
    const learnt = modelOf(learn(files, { ids: 'labels' }).anatomy);
    return [...opened].map((part) => planTrial(model, learnt, part));
  });
}

function planTrial(model: Model, learnt: Model, part: string): PlanTrial {
  const plan = planOf(learnt, part);
  const marked = plan === null || plan.steps.some((s) => s.items.some(isUnseen));
  // A thing that was taken for another bears a name that the true device lacks.
  const known = (id: string) => model.items.has(id) || model.anatomy.functions.some((f) => f.id === id);
  const own = plan?.steps.every((s) => s.items.every(known)) ?? false;
  const sound = plan !== null && !marked && own && checkPlan(model, plan, { laws: true }) === null;
  const work = (of: Plan) => of.totals.screws + of.totals.connectors;
  return { part, sound, marked, work: plan ? work(plan) : 0, least: work(planOf(model, part)!) };
}

/** How many plans were sound, and how much work those were against the least. */
export interface PlanTally {
  plans: number;
  sound: number;
  marked: number;
  work: number;
  least: number;
}

export function tallyOf(plans: readonly PlanTrial[]): PlanTally {
  const sound = plans.filter((p) => p.sound);
  const sum = (of: (p: PlanTrial) => number) => sound.reduce((s, p) => s + of(p), 0);
  const marked = plans.filter((p) => p.marked).length;
  return { plans: plans.length, sound: sound.length, marked, work: sum((p) => p.work), least: sum((p) => p.least) };
}
