import { throughExits, type Model } from '../../anatomy/index.ts';
import { ACTION_KINDS, type Action, actionOf, keyOf } from '../graph/keys.ts';
import type { Reason } from '../graph/reasons.ts';
import type { RuleName } from '../ruleNames.ts';
import { StepGraph, type Way } from '../graph/stepGraph.ts';
import { exchangeOf, goalsOf } from '../graph/choices.ts';
import type { Plan, Step } from '../types.ts';

/** One link of a chain of reasons: what is done, and why it is asked for by the link before. */
export interface Link {
  action: Action;
  /** `null` for the target itself. */
  because: Reason | null;
}

/** Rules for whose sake a part is taken off that need not be. */
const ASKS: ReadonlySet<RuleName> = new Set(['R5', 'R8']);

const graphs = new WeakMap<Model, Map<string, StepGraph>>();

/** The step graph under the faces that this plan takes its parts out through. */
export function graphOf(model: Model, plan: Plan): StepGraph {
  const exits = new Map<string, number>();
  for (const part of model.anatomy.parts) {
    const lift =
      part.exits.length > 0 ? plan.steps.find((s) => s.do === 'lift' && s.items.includes(part.id)) : undefined;
    const at = lift ? part.exits.findIndex((exit) => exit.face === lift.face) : -1;
    if (lift && lift.face !== part.face && at >= 0) exits.set(part.id, at + 1);
  }
  const key = [...exits].join();
  const known = graphs.get(model) ?? new Map<string, StepGraph>();
  graphs.set(model, known);
  if (!known.has(key)) known.set(key, new StepGraph(exits.size > 0 ? throughExits(model, exits) : model));
  return known.get(key)!;
}

/**
 * Why a step is there: the shortest chain from a part that is replaced to what the step does. A step of the
 * way back is explained by what it returns; preparation, gates and tests stand by their own rule.
 */
export function chainOf(model: Model, plan: Plan, step: Step): Link[] {
  const graph = graphOf(model, plan);
  const exchange = exchangeOf(model, { replace: plan.replace, spares: plan.spares, look: plan.look ?? [] });
  const goals = goalsOf(model, exchange);
  const ways = new Map<string, Way>();
  for (const part of model.anatomy.parts)
    if (part.swing)
      ways.set(part.id, plan.steps.some((s) => s.do === 'lift' && s.items.includes(part.id)) ? 'lift' : 'swing');
  // What is taken off for the sake of good work is asked for by its rule.
  for (const s of plan.steps)
    for (const id of s.do === 'lift' ? s.items : []) {
      const asked = s.because.find((r) => r.why === 'houseRules' || (r.why === 'rule' && ASKS.has(r.rule)));
      if (asked && !goals.has(keyOf('lift', id))) goals.set(keyOf('lift', id), asked);
    }
  const own = new Set(step.items.flatMap((id) => ACTION_KINDS.map((kind) => keyOf(kind, id))));
  const { needs } = graph.closureOf(goals, ways);
  const cameBy = new Map<string, { from: string; because: Reason }>();
  const queue = [...goals.keys()];
  const seen = new Set(queue);
  while (queue.length > 0) {
    const at = queue.shift()!;
    if (own.has(at)) {
      const chain: Link[] = [];
      for (let k: string | undefined = at; k; k = cameBy.get(k)?.from) {
        const reason = cameBy.get(k)?.because ?? goals.get(k)!;
        chain.push({ action: actionOf(k), because: reason.why === 'target' ? null : reason });
      }
      return chain.reverse();
    }
    for (const { key, because } of needs.get(at) ?? []) {
      if (seen.has(key)) continue;
      seen.add(key);
      cameBy.set(key, { from: at, because });
      queue.push(key);
    }
  }
  return [];
}
