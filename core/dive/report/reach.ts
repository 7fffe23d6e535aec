import type { Model } from '../../anatomy/index.ts';
import { checkerFor } from '../judged.ts';
import { StepGraph } from '../graph/stepGraph.ts';
import type { HeatBasis } from '../entry/heating.ts';
import { planDive } from '../plan.ts';
import { DEFAULT_RULES, type HouseRules } from '../house/rules.ts';
import { NoDive, type NoDiveMessage, type Plan } from '../types.ts';

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

/** A part that no dive was found for, with why. */
export interface Unplanned {
  part: string;
  cannot: NoDiveMessage;
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

export function depthTable(model: Model, rules: HouseRules = DEFAULT_RULES): (Depth | Unplanned)[] {
  return plansOf(model, rules, TABLE_BUDGET, 'computed').flatMap(({ part, plan, error }): (Depth | Unplanned)[] => {
    if (!plan) {
      const ids = part === '' ? model.anatomy.parts.filter((p) => !p.fixed).map((p) => p.id) : [part];
      return ids.map((id) => ({ part: id, cannot: error!.said }));
    }
    const down = plan.steps.filter((s) => s.phase === 'prepare' || s.phase === 'descent');
    const items = (verbs: string[]) => new Set(down.filter((s) => verbs.includes(s.do)).flatMap((s) => s.items));
    return [
      {
        part,
        steps: down.length,
        screws: items(['unscrew']).size,
        connectors: items(['disconnect', 'desolder']).size,
        bonds: items(['cut', 'pull', 'release']).size,
        seconds: down.reduce((sum, s) => sum + s.seconds + s.waits, 0),
        dive: plan.totals.elapsed,
      },
    ];
  });
}

/** A part, or the whole of a document, of which no dive can be made: where, and why. */
export interface Unreached {
  path: string;
  /** `null` for what stands against every dive. */
  part: string | null;
  said: NoDiveMessage;
}

/** What of a document cannot be so, and what of a sound one cannot be planned yet. */
export interface Reach {
  faults: Unreached[];
  warnings: Unreached[];
}

/**
 * Can every part be reached and refitted? It is a fault of the document where the judge, who knows nothing of planning, does
 * not get the part off either, or finds a mating order against the device itself; all else is what cannot be planned yet.
 */
export function reachOf(model: Model, rules: HouseRules = DEFAULT_RULES): Reach {
  const judge = checkerFor(model);
  const reach: Reach = { faults: [], warnings: [] };
  const told = new Set<string>();
  for (const { part, plan, error } of plansOf(model, rules, 0, 'usual')) {
    if (plan) continue;
    const { path, said } = error!;
    const mating = said.code === 'no-mating-order';
    const at = model.anatomy.parts.findIndex((p) => p.id === part);
    if (mating || at < 0) {
      // What stands against every dive is told once.
      if (told.has(path)) continue;
      told.add(path);
      const sound = mating
        ? judge.keepsMateOrders()
        : model.anatomy.parts.every((p) => p.fixed || judge.comesOff(p.id));
      (sound ? reach.warnings : reach.faults).push({ path, part: null, said });
    } else {
      (judge.comesOff(part) ? reach.warnings : reach.faults).push({ path: `parts[${at}]`, part, said });
    }
  }
  return reach;
}
