import type { Model } from '../anatomy/index.ts';
import { schedule, type SearchOptions } from '../schedule/index.ts';
import { exchangeOf, exitsOf, goalsOf, waysOf, type Exchange } from './graph/choices.ts';
import { keyOf } from './graph/keys.ts';
import { plain } from './graph/reasons.ts';
import type { StepGraph, Way } from './graph/stepGraph.ts';
import type { HeatBasis } from './entry/heating.ts';
import { bundlesOf, deviceFaceOf } from './order/bundles.ts';
import { numberSteps, totalsOf } from './order/number.ts';
import { lossesOf, renewed, touchedFunctions } from './report/outcome.ts';
import { DEFAULT_RULES, withToolsAtHand, type HouseRules } from './house/rules.ts';
import { NoDive, type Condition, type DiveRequest, type Plan } from './types.ts';
import { worksOf, type Making } from './order/works.ts';

export interface PlanOptions extends SearchOptions {
  graph?: StepGraph;
  /** How heat steps get their times; computed unless told otherwise. */
  heat?: HeatBasis;
}

/**
 * The dive that replaces the asked parts: the smallest set of steps, in the quickest order found; `optimality`
 * says whether it is proved that none is quicker. With `request.from` it goes on from an open device.
 * @throws NoDive naming the part or field that stands in the way
 */
export function planDive(
  model: Model,
  request: DiveRequest,
  house: HouseRules = DEFAULT_RULES,
  options: PlanOptions = {},
): Plan {
  const { rules, changes } = withToolsAtHand(house);
  const exchange = exchangeOf(model, request);
  const condition: Condition = { crackedGlass: request.condition?.crackedGlass ?? false };
  const goals = goalsOf(exchange);
  const { from } = request;

  let best: Made | null = null;
  let lowerBound = Number.POSITIVE_INFINITY;
  let circle = null as NoDive | null;
  let blocked = false;
  const seen = new Set<string>();
  // That one way in leads round in a circle says less than what stands against a way that does not.
  const note = (error: NoDive) => {
    if (circle === null || circle.kind === 'circle') circle = error;
  };
  const attempt = (graph: StepGraph, ways: Map<string, Way> | null, exits: string): void => {
    const wanted = new Map(goals);
    for (const [part, way] of ways ?? [])
      if (way === 'lift') wanted.set(keyOf('lift', part), wanted.get(keyOf('lift', part)) ?? plain('houseRules'));
    const closure = ways ? graph.closureOf(wanted, ways, { from }) : graph.closureByPeeling(wanted, { from });
    // Two ways that come to the same work need not be ordered twice.
    const work =
      exits + JSON.stringify([...closure.needs].map(([k, list]) => [k, list.map((r) => r.key).sort()]).sort());
    if (seen.has(work)) return;
    seen.add(work);
    const made = assemble({
      graph,
      closure,
      exchange,
      rules,
      condition,
      from,
      basis: options.heat ?? 'computed',
      options: best ? { ...options, below: best.makespan } : options,
    });
    if (!made) {
      blocked ||= best === null;
      return;
    }
    // How much quicker another mixture of ways might be is not known.
    lowerBound = ways ? Math.min(lowerBound, made.plan.optimality.lowerBound) : 0;
    if (best === null || made.makespan < best.makespan) best = made;
  };
  for (const { exits, graph } of exitsOf(model, options.graph, goals, from)) {
    try {
      const swinging = [...graph.closureOf(goals, new Map(), { from }).actions.values()]
        .filter((a) => a.kind === 'swing' && !from?.swung.has(a.item) && !from?.removed.has(a.item))
        .map((a) => a.item);
      for (const ways of waysOf(model, swinging, rules)) {
        try {
          attempt(graph, ways, exits);
        } catch (error) {
          if (!(error instanceof NoDive)) throw error;
          note(error);
        }
      }
    } catch (error) {
      if (!(error instanceof NoDive)) throw error;
      note(error);
    }
  }
  if (!best && circle)
    for (const { exits, graph } of exitsOf(model, options.graph, goals, from)) {
      try {
        attempt(graph, null, exits);
        if (best) break;
      } catch (error) {
        if (!(error instanceof NoDive)) throw error;
        note(error);
      }
    }
  if (!best)
    throw (
      (blocked ? null : circle) ??
      new NoDive(
        'parts',
        'the device would have to be turned over while a part is still swung open; let that part be taken off, or correct its face',
      )
    );
  const { plan } = best as Made;
  const { cost } = plan.optimality;
  const missingTools = [
    ...new Set(plan.steps.flatMap((s) => (s.tool !== null && rules.lacks.includes(s.tool) ? [s.tool] : []))),
  ];
  return {
    ...plan,
    rules: house,
    missingTools,
    changes,
    optimality: { cost, lowerBound: Math.min(cost, lowerBound), proved: cost <= lowerBound + 1e-6 },
  };
}

interface Made {
  plan: Plan;
  /** End of the last task, as the scheduler counts it. */
  makespan: number;
}

/** `null` when the device could not be turned over in time under these ways, or no order is quicker than the one known. */
function assemble(making: Making): Made | null {
  const { graph, closure, exchange, rules, condition, from, options } = making;
  const { model } = graph;
  const bundles = bundlesOf(graph, closure, rules);
  const touched = touchedFunctions(graph, closure, bundles, from);
  const { list, redraw } = worksOf(making, bundles, touched);
  const start = from?.up ?? startFace(model, exchange);
  const found = schedule(list.problem({ face: start, open: from?.swung.size ?? 0 }), options);
  if (!found) return null;
  redraw(found.order);
  const steps = numberSteps(model, list, found, rules, { face: start, from });
  const totals = totalsOf(steps, rules);
  const plan: Plan = {
    schema: 'nibrel.plan/1',
    anatomy: model.anatomy.id,
    replace: exchange.asked,
    spares: exchange.spares,
    rules,
    condition,
    steps,
    transfers: exchange.transfers,
    renew: renewed(graph, bundles, exchange, rules, from),
    losses: lossesOf(model, bundles, exchange),
    touched,
    totals,
    missingTools: [],
    changes: [],
    absent: [...(from?.absent ?? [])],
    optimality: {
      cost: totals.elapsed,
      lowerBound: totals.elapsed - (found.makespan - found.lowerBound),
      proved: found.proved,
    },
  };
  return { plan, makespan: found.makespan };
}

function startFace(model: Model, exchange: Exchange): 'front' | 'back' {
  const face = deviceFaceOf(model, exchange.targets[0] ?? exchange.asked[0]!);
  return face === 'edge' ? 'front' : face;
}
