import type { Fault, Model } from '../../anatomy/index.ts';
import { checkPlan } from '../judged.ts';
import { StepGraph } from '../graph/stepGraph.ts';
import type { HeatBasis } from '../entry/heating.ts';
import { planDive } from '../plan.ts';
import { DEFAULT_RULES, type HouseRules } from '../house/rules.ts';
import { NoDive, type Plan } from '../types.ts';

/** How deep one part lies: what must be done before it is laid bare. Times in s. */
export interface Depth {
  part: string;
  steps: number;
  screws: number;
  connectors: number;
  bonds: number;
  seconds: number;
  /** Hands-on and waiting time of the whole dive, there and back. */
  dive: number;
}

/** A table of many dives: each is looked for briefly. Origin: measured, a few tens of ms each. */
const TABLE_BUDGET = 200;

function plansOf(
  model: Model,
  rules: HouseRules,
  budget: number,
  heat: HeatBasis,
): { part: string; plan: Plan | null; error: NoDive | null }[] {
  let graph: StepGraph;
  try {
    graph = new StepGraph(model);
  } catch (error) {
    if (error instanceof NoDive) return [{ part: '', plan: null, error }];
    throw error;
  }
  return model.anatomy.parts
    .filter((p) => !p.fixed)
    .map((p) => {
      try {
        return { part: p.id, plan: planDive(model, { replace: [p.id] }, rules, { graph, budget, heat }), error: null };
      } catch (error) {
        if (error instanceof NoDive) return { part: p.id, plan: null, error };
        throw error;
      }
    });
}

/** @throws NoDive for the first part that cannot be reached */
export function depthTable(model: Model, rules: HouseRules = DEFAULT_RULES): Depth[] {
  return plansOf(model, rules, TABLE_BUDGET, 'computed').map(({ part, plan, error }) => {
    if (!plan) throw error;
    const down = plan.steps.filter((s) => s.phase === 'prepare' || s.phase === 'descent');
    const items = (verbs: string[]) => new Set(down.filter((s) => verbs.includes(s.do)).flatMap((s) => s.items));
    return {
      part,
      steps: down.length,
      screws: items(['unscrew']).size,
      connectors: items(['disconnect', 'desolder']).size,
      bonds: items(['cut', 'pull', 'release']).size,
      seconds: down.reduce((sum, s) => sum + s.seconds + s.waits, 0),
      dive: plan.totals.elapsed,
    };
  });
}

/** Faults of reach: every part must have a dive that the checker finds sound. */
export function reachFaults(model: Model, rules: HouseRules = DEFAULT_RULES): Fault[] {
  const told = new Set<string>();
  return plansOf(model, rules, 0, 'usual').flatMap(({ part, plan, error }): Fault[] => {
    // A mating order that no dive keeps is the fault of its list, told once.
    if (error?.kind === 'mating') {
      if (told.has(error.path)) return [];
      told.add(error.path);
      return [{ path: error.path, message: error.message }];
    }
    const at = model.anatomy.parts.findIndex((p) => p.id === part);
    const path = at < 0 ? (error?.path ?? 'parts') : `parts[${at}]`;
    if (!plan) return [{ path, message: at < 0 ? error!.message : `${part} ${error!.message}` }];
    const violation = checkPlan(model, plan);
    return violation ? [{ path, message: `${part} cannot be refitted: ${violation.rule}, ${violation.message}` }] : [];
  });
}
