import type { Model } from '../anatomy/index.ts';
import type { Problem, SearchOptions } from '../schedule/index.ts';
import { Allowance, LATER_LOOK } from './allowance.ts';
import type { Change, Concession } from './changes.ts';
import type { HeatBasis } from './entry/heating.ts';
import { mended } from './mend.ts';
import { exchangeOf, exitsOf, goalsOf, waysOf, type Exchange } from './graph/choices.ts';
import { actionOf, keyOf, type ActionKey } from './graph/keys.ts';
import { poseOf } from './graph/pose.ts';
import { plain, rule, type Reason } from './graph/reasons.ts';
import type { Closure, StepGraph, Way } from './graph/stepGraph.ts';
import { DEFAULT_RULES, withToolsAtHand, type HouseRules } from './house/rules.ts';
import { bundlesOf, deviceFaceOf } from './order/bundles.ts';
import type { Demand } from './order/demands.ts';
import { addHabits } from './order/habits.ts';
import { numberSteps, totalsOf } from './order/number.ts';
import { LETS_LIE_LOOSE, RELAXATIONS, type Making, type Relaxation } from './order/making.ts';
import { matBundles } from './order/matWork.ts';
import { partingsOf } from './order/partings.ts';
import { worksOf } from './order/works.ts';
import { lossesOf, renewed, functionsAsked } from './report/outcome.ts';
import { NoDive, SOUND, type Condition, type DiveRequest, type Plan, type Pose } from './types.ts';

export interface PlanOptions extends SearchOptions {
  graph?: StepGraph;
  /** How heat steps get their times; computed unless told otherwise. */
  heat?: HeatBasis;
  /** Told of every plan that is put before the judge, from 0. */
  onRound?: (round: number) => void;
}

/**
 * The dive that replaces the asked parts: the smallest set of steps, in the quickest order found; `optimality`
 * says whether it is proved that none is quicker. The judge has passed it, but for what its `changes` tell.
 * @throws NoDive naming the part or field that stands in the way
 */
export function planDive(
  model: Model,
  request: Omit<DiveRequest, 'from'>,
  house: HouseRules = DEFAULT_RULES,
  options: PlanOptions = {},
): Plan {
  const allowance = new Allowance(options);
  return mended(model, (demands) => drawUp(model, request, house, options, demands, allowance), {}, options.onRound);
}

/** The quickest dive that heeds what is demanded, before anybody has judged it. */
export const drawUp = (
  model: Model,
  request: DiveRequest,
  house: HouseRules,
  options: PlanOptions,
  demands: readonly Demand[],
  allowance: Allowance,
): Plan => new Planner(model, request, house, options, demands, allowance).plan();

interface Made {
  plan: Plan;
  /** End of the last task, as the scheduler counts it. */
  makespan: number;
}

/** What one way in came to. */
interface Attempt {
  made: Made | null;
  /** No order of this way ends before. */
  lowerBound: number;
  /** Parts that lie loose when the device is turned over, and could be taken out. */
  looseIfLeft: readonly string[];
}

/** The sides of a device on which something is opened that cuts power off: each of them may be the first. `null` is the only one. */
function sidesToIsolate(graph: StepGraph, closure: Closure): (string | null)[] {
  const sides = new Set(
    graph.isolation
      .filter((key) => closure.actions.has(key))
      .map((key) => actionOf(key).item)
      .map((id) => poseOf(graph.model, id, graph.model.faceOf(id)) ?? graph.model.faceOf(id)),
  );
  return sides.size > 1 ? [...sides] : [null];
}

/** How often gates and tests are drawn up again for an order that they have moved. Origin: own choice; twice is rare. */
const REDRAWS = 3;

/** Tries every way in, and keeps the quickest dive. */
class Planner {
  private readonly rules: HouseRules;
  private readonly changes: Change[];
  private readonly exchange: Exchange;
  private readonly goals: Map<ActionKey, Reason>;
  private readonly condition: Condition;
  private best: Made | null = null;
  private lowerBound = Number.POSITIVE_INFINITY;
  /** Every way in was tried, so that the bound holds for all of them. */
  private complete = true;
  private circle: NoDive | null = null;
  private blocked = false;
  private relaxed: Relaxation = 'nothing';
  private isolationFirst = true;
  private readonly seen = new Set<string>();
  /** Parts that lay loose in what was tried last. */
  private readonly loose = new Set<string>();

  constructor(
    private readonly model: Model,
    private readonly request: DiveRequest,
    private readonly house: HouseRules,
    private readonly options: PlanOptions,
    private readonly demands: readonly Demand[],
    private readonly allowance: Allowance,
  ) {
    const { rules, changes } = withToolsAtHand(house);
    this.rules = rules;
    this.changes = changes;
    if (request.replace.length === 0 && !request.look?.length && !request.from)
      throw new NoDive('replace', { code: 'name-a-part' });
    this.exchange = exchangeOf(model, request);
    if (this.exchange.transplant.length > 0 && house.cells.transplant === null)
      throw new NoDive('transplant', { code: 'no-transplant-offered' });
    this.condition = { ...SOUND, ...request.condition };
    this.goals = goalsOf(model, this.exchange);
  }

  plan(): Plan {
    // What leads round in a circle does so however much is given up.
    for (const relaxed of RELAXATIONS) {
      // Of a device that nobody has drawn it is not known what lies beneath what hangs.
      if (relaxed === 'taped-down' && this.request.from?.kept) continue;
      if (this.found(relaxed) || !this.blocked) break;
    }
    if (this.best === null) throw this.noDive();
    return this.finished(this.best);
  }

  /** Is there an order that gives up no more than this? The house's choice to isolate first gives way before more does. */
  private found(relaxed: Relaxation): boolean {
    for (const isolationFirst of this.rules.isolation === 'at-once' ? [true, false] : [false]) {
      this.relaxed = relaxed;
      this.isolationFirst = isolationFirst;
      this.seen.clear();
      this.tryWays();
      // What hangs open from before may be taken off, so that the device can be turned over.
      if (this.best === null && this.blocked && this.request.from?.swung.size) this.tryWays(this.request.from.swung);
      if (this.best === null && this.circle) this.tryPeeling();
      if (this.best !== null || !this.blocked) break;
    }
    return this.best !== null;
  }

  /** @param hanging parts that hang open already, and may be taken off */
  private tryWays(hanging: ReadonlySet<string> = new Set()): void {
    this.loose.clear();
    this.tryExits(hanging, []);
    // What lies loose may have to go back through another side than it would fall out of.
    const loose = [...this.loose];
    if (this.best === null && loose.some((id) => this.model.parts.get(id)!.exits.length > 0))
      this.tryExits(hanging, loose);
  }

  /** @param taken parts that are taken out so that they do not lie loose */
  private tryExits(hanging: ReadonlySet<string>, taken: readonly string[]): void {
    const { from } = this.request;
    const goals = new Map(this.goals);
    for (const part of taken) goals.set(keyOf('lift', part), goals.get(keyOf('lift', part)) ?? rule('R8'));
    for (const { exits: through, graph, cut } of exitsOf(this.model, this.options.graph, goals, from)) {
      if (cut) this.complete = false;
      this.noting(() => {
        const swinging = [...graph.closureOf(goals, new Map(), { from }).actions.values()]
          .filter((a) => a.kind === 'swing' && !from?.swung.has(a.item) && !from?.removed.has(a.item))
          .map((a) => a.item);
        const { ways, all } = waysOf(this.model, [...hanging, ...swinging], this.rules);
        if (!all) this.complete = false;
        for (const way of ways) this.noting(() => this.attempt(graph, way, through, taken));
      });
    }
  }

  private tryPeeling(): void {
    for (const { exits, graph } of exitsOf(this.model, this.options.graph, this.goals, this.request.from)) {
      this.noting(() => this.attempt(graph, null, exits));
      if (this.best) return;
    }
  }

  private noting(run: () => void): void {
    try {
      run();
    } catch (error) {
      if (!(error instanceof NoDive)) throw error;
      // That one way in leads round in a circle says less than what stands against a way that does not.
      if (this.circle === null || this.circle.said.code === 'waits-for-itself') this.circle = error;
    }
  }

  private attempt(graph: StepGraph, ways: Map<string, Way> | null, exits: string, taken: readonly string[] = []): void {
    const closure = this.closureOf(graph, ways, taken);
    // Two ways that come to the same work need not be ordered twice.
    const work =
      exits + JSON.stringify([...closure.needs].map(([k, list]) => [k, list.map((r) => r.key).sort()]).sort());
    if (this.seen.has(work)) return;
    this.seen.add(work);
    let looseIfLeft: readonly string[] = [];
    let any = false;
    for (const lead of sidesToIsolate(graph, closure)) {
      const { made, lowerBound, looseIfLeft: loose } = this.assemble(graph, closure, lead);
      // How much quicker another mixture of ways might be is not known.
      this.lowerBound = ways ? Math.min(this.lowerBound, lowerBound) : 0;
      looseIfLeft = loose;
      if (!made) continue;
      any = true;
      if (this.best === null || made.makespan < this.best.makespan) this.best = made;
    }
    if (any) return;
    this.blocked ||= this.best === null;
    // R8: what would lie loose when the device is turned over is taken out first.
    if (this.best !== null || LETS_LIE_LOOSE.has(this.relaxed)) return;
    for (const part of looseIfLeft) this.loose.add(part);
    if (looseIfLeft.length > 0 && taken.length === 0) this.attempt(graph, ways, exits, looseIfLeft);
  }

  private isolatesLater(): Change[] {
    if (this.isolationFirst || this.rules.isolation !== 'at-once') return [];
    return [{ code: 'isolates-later' }];
  }

  /**
   * Everything that has to be done on the way in. A swung part whose flexes all have to be opened is taken off (R5),
   * and by the house's choice the cell is taken out before a panel is pried.
   */
  private closureOf(graph: StepGraph, ways: Map<string, Way> | null, taken: readonly string[]): Closure {
    const { from } = this.request;
    const wanted = new Map(this.goals);
    const want = (part: string, because: Reason) => {
      const key = keyOf('lift', part);
      if (!wanted.has(key)) wanted.set(key, because);
    };
    for (const part of taken) want(part, rule('R8'));
    for (const [part, way] of ways ?? []) if (way === 'lift') want(part, plain('houseRules'));
    const chosen = ways && new Map(ways);
    const close = () => (chosen ? graph.closureOf(wanted, chosen, { from }) : graph.closureByPeeling(wanted, { from }));
    let closure = close();
    for (let ghosts = ghostHinges(graph, closure); ghosts.length > 0; ghosts = ghostHinges(graph, closure)) {
      for (const part of ghosts) {
        want(part, rule('R5'));
        // Whose flexes are open before it is swung is not swung at all.
        if (!tethersWait(graph, closure, part)) chosen?.set(part, 'lift');
      }
      const next = close();
      const same = next.actions.size === closure.actions.size && next.actions.has(keyOf('lift', ghosts[0]!));
      closure = next;
      if (same) break;
    }
    if (this.rules.cellWhilePried === 'taken-out') closure = this.withoutCell(graph, closure, want, close);
    return closure;
  }

  /** The closure with the cell taken out before a panel is pried, where it can be had without opening that panel. */
  private withoutCell(
    graph: StepGraph,
    closure: Closure,
    want: (part: string, because: Reason) => void,
    close: () => Closure,
  ): Closure {
    const { from } = this.request;
    const cell = this.model.anatomy.parts.find((p) => p.kind === 'battery' && !from?.removed.has(p.id));
    const seams = [...closure.actions.values()].filter((a) => {
      const bond = a.kind === 'release' ? this.model.bonds.get(a.item) : undefined;
      return bond && 'perimeterOf' in bond.at && bond.fate !== 'keep' && !closure.finished.has(a.key);
    });
    if (!cell || seams.length === 0) return closure;
    const out = keyOf('lift', cell.id);
    const alone = graph.closureOf(new Map([[out, plain('houseRules')]]), new Map(), { from });
    const free = seams.filter((seam) => !alone.actions.has(seam.key));
    if (free.length === 0) return closure;
    want(cell.id, plain('houseRules'));
    const next = close();
    for (const seam of free) next.needs.get(seam.key)?.push({ key: out, because: plain('houseRules') });
    return next;
  }

  /** @param lead the side of the device that is isolated first, where several are */
  private assemble(graph: StepGraph, closure: Closure, lead: string | null): Attempt {
    const { exchange, rules, condition } = this;
    const { model } = graph;
    const { from } = this.request;
    const basis = this.options.heat ?? 'computed';
    const bundles = bundlesOf(graph, closure, from?.kept?.singly);
    addHabits(graph, bundles, lead);
    const mat = matBundles(graph, bundles, exchange);
    const partings = partingsOf(graph, bundles, mat, { rules, basis, from });
    const touched = functionsAsked(graph, closure, bundles, { from, worked: condition.worked ?? [] });
    const losses = lossesOf(graph, bundles, exchange, from, (bond) => partings.get(bond)?.cold ?? null);
    const functions = new Set(model.anatomy.functions.map((f) => f.id));
    const lost = [...new Set(losses.map((l) => l.function))].filter((id) => functions.has(id));
    const { relaxed, isolationFirst, demands } = this;
    const making: Making = {
      graph,
      closure,
      exchange,
      rules,
      condition,
      from,
      lost,
      mat,
      partings,
      relaxed,
      isolationFirst,
      demands,
    };
    const { list, redraw, looseIfLeft } = worksOf(making, bundles, touched);
    const start = from?.up ?? startFace(model, exchange);
    const pose = from?.pose ?? startPose(model, exchange, start);

    let problem = list.problem(pose ?? start);
    const first = this.allowance.search(problem, { below: this.best?.makespan });
    if (!first.found) return { made: null, lowerBound: first.lowerBound, looseIfLeft };
    let { found } = first;
    // The proof is of the steps as they are printed: an order that moves gates or tests is looked for again with them.
    let settled = false;
    for (let round = 0; round < REDRAWS && !settled; round++) {
      redraw(found.order);
      const drawn = list.problem(pose ?? start);
      settled = sameTasks(problem, drawn);
      if (settled) break;
      problem = drawn;
      // Where nothing was proved, nothing is to be gained by looking as long again.
      const again = this.allowance.search(problem, found.proved ? {} : { most: LATER_LOOK });
      if (!again.found) break;
      found = again.found;
    }
    if (!settled) redraw(found.order);
    const steps = numberSteps(model, list, found, rules, { face: start, pose, from });
    const totals = totalsOf(steps, rules);
    const lowerBound = settled ? totals.elapsed - (found.makespan - found.lowerBound) : 0;
    const plan: Plan = {
      schema: 'nibrel.plan/2',
      anatomy: model.anatomy.id,
      replace: exchange.asked,
      spares: exchange.spares,
      ...(exchange.look.length > 0 ? { look: exchange.look } : {}),
      ...(exchange.transplant.length > 0 ? { transplant: exchange.transplant } : {}),
      rules,
      condition,
      steps,
      transfers: exchange.transfers,
      renew: renewed(graph, bundles, exchange, rules, from),
      losses,
      touched: touched.filter((f) => !lost.includes(f)),
      totals,
      missingTools: [],
      changes: [],
      absent: [...(from?.absent ?? [])],
      optimality: { cost: totals.elapsed, lowerBound, proved: found.proved },
    };
    return { made: { plan, makespan: found.makespan }, lowerBound, looseIfLeft };
  }

  private finished({ plan }: Made): Plan {
    const { cost } = plan.optimality;
    const { rules } = this;
    const missingTools = [
      ...new Set(plan.steps.flatMap((s) => (s.tool !== null && rules.lacks.includes(s.tool) ? [s.tool] : []))),
    ];
    const lowerBound = this.complete ? Math.min(cost, this.lowerBound) : 0;
    return {
      ...plan,
      rules: this.house,
      missingTools,
      changes: [...this.changes, ...this.isolatesLater(), ...GIVEN_UP[this.relaxed]],
      optimality: { cost, lowerBound, proved: cost <= lowerBound + 1e-6 },
    };
  }

  private noDive(): NoDive {
    return (this.blocked ? null : this.circle) ?? new NoDive('parts', { code: 'turn-while-open' });
  }
}

/** What a plan says of the good order that no order of its steps can keep. */
const GIVEN_UP: Record<Relaxation, Concession[]> = {
  nothing: [],
  'taped-down': [],
  'proof-before-seal': [{ code: 'left-unproved' }],
  'loose-parts': [{ code: 'left-loose' }],
  'at-once': [{ code: 'left-hanging' }],
  'heat-beside': [{ code: 'heated-beside' }],
  all: [{ code: 'left-unproved' }, { code: 'left-loose' }, { code: 'left-hanging' }, { code: 'heated-beside' }],
};

/** R5: parts that are swung and of which every tether is opened, but that are not taken off. */
function ghostHinges(graph: StepGraph, { actions }: Closure): string[] {
  return [...actions.values()].flatMap((action) => {
    if (action.kind !== 'swing' || actions.has(keyOf('lift', action.item))) return [];
    const { tether } = graph.model.parts.get(action.item)!.swing!;
    const open = tether.every((id) => actions.has(graph.openingOf(id)));
    return tether.length > 0 && open ? [action.item] : [];
  });
}

/** Does a flex of a part, or anything that it waits for, wait for the part to be swung? */
function tethersWait(graph: StepGraph, { needs }: Closure, part: string): boolean {
  const swing = keyOf('swing', part);
  const seen = new Set<ActionKey>();
  const stack = graph.model.parts.get(part)!.swing!.tether.map((id) => graph.openingOf(id));
  for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
    if (at === swing) return true;
    if (seen.has(at)) continue;
    seen.add(at);
    for (const { key } of needs.get(at) ?? []) stack.push(key);
  }
  return false;
}

/** Is the work the same, task by task, as far as its times and tools go? */
function sameTasks(a: Problem, b: Problem): boolean {
  return a.tasks.every((task, i) => {
    const other = b.tasks[i]!;
    return task.hands === other.hands && task.firstTool === other.firstTool && task.lastTool === other.lastTool;
  });
}

/** How a fold lies at first: as its first target needs it. */
function startPose(model: Model, exchange: Exchange, face: 'front' | 'back'): Pose | null {
  const part = exchange.targets[0] ?? exchange.asked[0] ?? exchange.look[0];
  const { bodies } = model.anatomy;
  if (!bodies) return null;
  return (
    (part === undefined ? null : poseOf(model, part, face)) ?? (face === 'front' ? 'flat' : `closed-${bodies[0]!.id}`)
  );
}

function startFace(model: Model, exchange: Exchange): 'front' | 'back' {
  const part = exchange.targets[0] ?? exchange.asked[0] ?? exchange.look[0];
  const face = part === undefined ? 'front' : deviceFaceOf(model, part);
  return face === 'edge' ? 'front' : face;
}
