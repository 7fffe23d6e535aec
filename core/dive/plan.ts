import type { Model } from '../anatomy/index.ts';
import { ascentOrder, ascentSteps } from './ascent.ts';
import type { Caution } from './cautions.ts';
import { descentSteps, draft, type Draft } from './descent.ts';
import { StepGraph, type Closure, type Way } from './graph.ts';
import { bundlesOf, deviceFaceOf, drivingOrder, releaseMethod, type Bundle } from './nodes.ts';
import { cheapestOrder, type Ordering } from './order.ts';
import { DEFAULT_RULES, type HouseRules } from './rules.ts';
import { SECONDS } from './times.ts';
import { NoDive, type Condition, type DiveRequest, type Loss, type Plan, type Step, type Totals, type Transfer } from './types.ts';

interface Exchange {
  targets: string[];
  spares: string[];
  transfers: Transfer[];
}

/**
 * The dive that replaces the asked parts: the smallest set of steps, in the cheapest order found.
 * @throws NoDive naming the part or field that stands in the way
 */
export function planDive(model: Model, request: DiveRequest, rules: HouseRules = DEFAULT_RULES, graph = new StepGraph(model)): Plan {
  const exchange = exchangeOf(model, request);
  const condition: Condition = { crackedGlass: request.condition?.crackedGlass ?? false };
  const goals = new Map<string, string>();
  for (const part of exchange.targets) goals.set(`lift:${part}`, 'target');
  for (const { part, from } of exchange.transfers) goals.set(`lift:${part}`, `moves from ${from} to the spare`);

  const swinging = [...graph.closureOf(goals, new Map()).actions.values()].filter((a) => a.kind === 'swing').map((a) => a.item);
  let best: Plan | null = null;
  let circle: NoDive | null = null;
  for (const ways of waysOf(model, swinging, rules)) {
    try {
      const wanted = new Map(goals);
      for (const [part, way] of ways) if (way === 'lift') wanted.set(`lift:${part}`, wanted.get(`lift:${part}`) ?? 'house rules');
      const plan = assemble(graph, graph.closureOf(wanted, ways), exchange, rules, condition);
      if (plan && (best === null || costOf(plan, rules) < costOf(best, rules))) best = plan;
    } catch (error) {
      if (!(error instanceof NoDive)) throw error;
      circle = error;
    }
  }
  if (best) return best;
  throw circle ?? new NoDive('parts', 'the device would have to be turned over while a part is still swung open; let that part be taken off, or correct its face');
}

function costOf(plan: Plan, rules: HouseRules): number {
  return plan.totals.hands + plan.totals.waits + plan.totals.toolChanges * rules.toolChange + plan.totals.turnOvers * rules.turnOver;
}

/** All choices of swinging or taking off, as far as the house rules leave a choice. At most 2^6. */
function waysOf(model: Model, swinging: readonly string[], rules: HouseRules): Map<string, Way>[] {
  let all: Map<string, Way>[] = [new Map()];
  for (const part of swinging.slice(0, 6)) {
    const takeOff = rules.openedDisplay === 'take-off' && model.parts.get(part)!.kind === 'display';
    const choices: Way[] = takeOff ? ['lift'] : ['swing', 'lift'];
    all = choices.flatMap((way) => all.map((ways) => new Map([...ways, [part, way]])));
  }
  return all;
}

function exchangeOf(model: Model, request: DiveRequest): Exchange {
  const { anatomy } = model;
  if (request.replace.length === 0) throw new NoDive('replace', 'name at least one part to replace');
  const targets = [...new Set(request.replace)];
  for (const id of targets) {
    const part = model.parts.get(id);
    if (!part) throw new NoDive('replace', `the anatomy ${anatomy.id} has no part "${id}"; its parts are ${anatomy.parts.filter((p) => !p.fixed).map((p) => p.id).join(', ')}`);
    if (part.fixed) throw new NoDive('replace', `${part.name} is fixed and never comes off`);
  }
  const spares: string[] = [];
  const transfers: Transfer[] = [];
  for (const id of request.spares ?? []) {
    const spare = anatomy.spares.find((s) => s.id === id);
    if (!spare) throw new NoDive('spares', `the anatomy ${anatomy.id} has no spare "${id}"`);
    if (!targets.includes(spare.replaces)) throw new NoDive('spares', `the spare "${id}" replaces ${spare.replaces}, which is not among the parts to replace`);
  }
  for (const target of targets) {
    const offered = anatomy.spares.filter((s) => s.replaces === target);
    const spare = offered.find((s) => request.spares?.includes(s.id)) ?? offered[0] ?? null;
    if (!spare) continue;
    spares.push(spare.id);
    for (const child of model.familyOf(target)) {
      const parent = model.parts.get(child)!.within;
      const comes = spare.includes.includes(child);
      if (comes || parent === null || !spare.includes.includes(parent) || targets.includes(child)) continue;
      transfers.push({ part: child, from: target, spare: spare.id });
    }
  }
  return { targets, spares, transfers };
}

/** `null` when the device could not be turned over in time under these ways. */
function assemble(graph: StepGraph, closure: Closure, exchange: Exchange, rules: HouseRules, condition: Condition): Plan | null {
  const { model } = graph;
  const bundles = bundlesOf(graph, closure, rules);
  const onMat = matBundles(graph, bundles, exchange);
  const costs = { toolChange: rules.toolChange, turnOver: rules.turnOver };
  const limb = (indices: number[]): { order: number[]; found: Ordering } | null => {
    const place = new Map(indices.map((i, at) => [i, at]));
    const nodes = indices.map((i) => ({ ...bundles[i]!.order, before: [...bundles[i]!.needs.keys()].flatMap((j) => (place.has(j) ? [place.get(j)!] : [])) }));
    const found = cheapestOrder(nodes, costs, startFace(model, exchange));
    return found && { order: found.order.map((at) => indices[at]!), found };
  };
  const main = limb(bundles.map((_, i) => i).filter((i) => !onMat.has(i)));
  const mat = limb([...onMat]);
  if (!main || !mat) return null;

  const touched = touchedFunctions(graph, closure, bundles);
  const drafts = [
    ...prepare(model, bundles, rules, condition),
    ...main.order.flatMap((i) => withFace(bundles[i]!, descentSteps(model, bundles[i]!, bundles[i]!.order.face === 'edge' && model.parts.get(bundles[i]!.items[0]!)?.kind === 'tray' ? 'prepare' : 'descent', rules, condition))),
    ...turn(graph, bundles, mat.order, exchange, rules, condition, closure),
    ...ascent(graph, bundles, main.order, exchange, rules, touched),
  ];
  drafts.push(...prove(drafts, touched));
  const steps = number(model, drafts, startFace(model, exchange));
  if (turnsWhileOpen(steps)) return null;
  const totals = totalsOf(steps);
  return {
    schema: 'nibrel.plan/1',
    anatomy: model.anatomy.id,
    replace: exchange.targets,
    spares: exchange.spares,
    rules,
    condition,
    steps,
    transfers: exchange.transfers,
    renew: renewed(graph, bundles, exchange, rules),
    losses: lossesOf(model, bundles, exchange),
    touched,
    totals,
    optimality: {
      cost: totals.hands + totals.waits + main.found.cost + mat.found.cost,
      lowerBound: totals.hands + totals.waits + main.found.lowerBound + mat.found.lowerBound,
      proved: main.found.proved && mat.found.proved,
    },
  };
}

function startFace(model: Model, exchange: Exchange): 'front' | 'back' {
  const face = deviceFaceOf(model, exchange.targets[0]!);
  return face === 'edge' ? 'front' : face;
}

/** What is taken off an assembly that is itself out: done on the mat, at the turn. */
function matBundles(graph: StepGraph, bundles: readonly Bundle[], exchange: Exchange): Set<number> {
  const { model } = graph;
  const outside = (item: string): boolean => {
    for (let context = model.contextOf(item); context !== null; context = model.contextOf(context)) if (exchange.targets.includes(context)) return true;
    return false;
  };
  const mat = new Set(bundles.flatMap((b, i) => (b.items.every(outside) ? [i] : [])));
  for (let shrunk = true; shrunk; ) {
    shrunk = false;
    bundles.forEach((bundle, i) => {
      if (mat.has(i)) return;
      for (const j of bundle.needs.keys()) shrunk = mat.delete(j) || shrunk;
    });
  }
  return mat;
}

function withFace(bundle: Bundle, drafts: Draft[]): Draft[] {
  return drafts.map((d) => ({ ...d, face: bundle.order.face }));
}

function prepare(model: Model, bundles: readonly Bundle[], rules: HouseRules, condition: Condition): Draft[] {
  const steps = [draft('prepare', 'power-off', [], { seconds: SECONDS.powerOff, because: ['A6'], hint: 'Power off fully, not asleep.' })];
  const released = bundles.filter((b) => b.kind === 'release').map((b) => model.bonds.get(b.items[0]!)).filter((b) => b !== undefined);
  const lifted = bundles.filter((b) => b.kind === 'lift').map((b) => model.parts.get(b.items[0]!)!);
  const heated = released.some((b) => releaseMethod(model, b, rules) === 'heat-and-cut');
  const pried = released.some((b) => b.joins.some((id) => model.parts.get(id)!.kind === 'battery'));
  if (heated || pried || lifted.some((p) => p.kind === 'battery' && released.some((b) => b.joins.includes(p.id)))) {
    steps.push(draft('prepare', 'discharge', [], {
      seconds: SECONDS.checkCharge, waits: SECONDS.dischargeWait, because: ['A6'], cautions: ['lithium'],
      hint: 'Charge below 25 % before a cell is heated or pried. Below it already: end the wait.',
    }));
  }
  const opened = bundles.filter((b) => b.kind === 'lift' || b.kind === 'swing').map((b) => model.parts.get(b.items[0]!)!);
  const glass = [...new Set(opened.filter((p) => p.glass).map((p) => p.id))];
  if (glass.length > 0) {
    if (condition.crackedGlass) {
      steps.push(draft('prepare', 'tape-glass', glass, { tool: 'cover-tape', seconds: SECONDS.tapeGlass, because: ['A6'], cautions: ['glass'], hint: 'Overlapping clear tape over the whole face.' }));
    } else steps.push(draft('prepare', 'film', glass, { tool: 'film', seconds: SECONDS.film, because: ['A6'], hint: 'Protective film on glass and lenses.' }));
  }
  return steps;
}

function turn(graph: StepGraph, bundles: readonly Bundle[], mat: number[], exchange: Exchange, rules: HouseRules, condition: Condition, closure: Closure): Draft[] {
  const { model } = graph;
  const at = (drafts: Draft[]): Draft[] => drafts.map((d) => ({ ...d, face: 'edge' as const }));
  const steps: Draft[] = mat.flatMap((i) => descentSteps(model, bundles[i]!, 'turn', rules, condition));
  const transferred = new Set(exchange.transfers.map((t) => t.part));
  for (const id of exchange.targets) {
    const part = model.parts.get(id)!;
    const cell = part.kind === 'battery';
    const moved = exchange.transfers.filter((t) => t.from === id).map((t) => model.parts.get(t.part)!.name);
    const cautions: Caution[] = cell ? ['lithium', 'recycling'] : part.kind === 'sensor' ? ['emitter'] : [];
    steps.push(draft('turn', 'renew', [id], {
      seconds: SECONDS.renewPart + moved.length * SECONDS.transferLayOut, because: ['target'], cautions,
      hint: `Lay old and new side by side${moved.length > 0 ? `; ${moved.join(', ')} ${moved.length === 1 ? 'moves' : 'move'} across` : '; compare shape, holes and flexes'}.`,
    }));
  }
  const discarded = bundles.filter((b) => b.kind === 'lift').map((b) => model.parts.get(b.items[0]!)!)
    .filter((p) => !exchange.targets.includes(p.id) && (p.fate === 'renew' || (p.kind === 'battery' && rules.removedBattery === 'never-refit')));
  for (const part of discarded) {
    steps.push(draft('turn', 'renew', [part.id], { seconds: SECONDS.renewPart, because: [part.kind === 'battery' ? 'house rules' : `single use ${part.id}`], cautions: part.kind === 'battery' ? ['lithium', 'recycling'] : [], hint: 'The old one never goes back.' }));
  }
  const doubtful = [...closure.actions.values()].map((a) => model.items.get(a.item)!.item)
    .filter((item) => 'fate' in item && item.fate === 'renew-if-damaged').map((item) => item.id);
  if (doubtful.length > 0) {
    steps.push(draft('turn', 'inspect', [...new Set(doubtful)], { seconds: SECONDS.inspect, because: ['renew if damaged'], hint: 'Renew what is torn, bent or deformed.' }));
  }
  if (mat.length > 0) {
    const order = ascentOrder(graph, bundles, mat);
    steps.push(...ascentSteps({ graph, bundles, order, rules, phase: 'turn', replaced: new Set(exchange.targets), transferred, openTests: [] }));
  }
  return at(steps);
}

function ascent(graph: StepGraph, bundles: readonly Bundle[], descent: number[], exchange: Exchange, rules: HouseRules, touched: string[]): Draft[] {
  const { model } = graph;
  const order = ascentOrder(graph, bundles, descent);
  const openTests = touched.filter((id) => !model.anatomy.functions.find((f) => f.id === id)!.afterClosing);
  const steps = ascentSteps({ graph, bundles, order, rules, phase: 'ascent', replaced: new Set(exchange.targets), transferred: new Set(), openTests });
  // Gates, cleaning and tests happen on whichever face the part they stand before is worked from.
  const faceOfItem = (id: string) => (model.items.has(id) ? deviceFaceOf(model, id) : 'edge');
  const faced = steps.map((d) => ({ ...d, face: d.face ?? (d.do === 'gate' || d.items.length === 0 ? undefined : faceOfItem(d.items[0]!)) }));
  for (let i = faced.length - 1; i >= 0; i--) faced[i]!.face ??= faced[i + 1]?.face ?? 'edge';
  return faced as Draft[];
}

function prove(before: readonly Draft[], touched: readonly string[]): Draft[] {
  const steps: Draft[] = [];
  const pressed = before.filter((d) => (d.do === 'press' || d.do === 'cure') && d.waits > 0).flatMap((d) => d.items);
  const doneOpen = new Set(before.filter((d) => d.do === 'test').flatMap((d) => d.items));
  const left = touched.filter((id) => !doneOpen.has(id));
  if (pressed.length > 0) steps.push(draft('prove', 'gate', pressed, { gate: 'G6', because: ['G6'], seconds: SECONDS.gate, hint: 'The press or cure of every new bond has run its time.' }));
  if (left.length > 0) {
    steps.push(draft('prove', 'power-on', [], { seconds: SECONDS.powerOn, because: ['G7'], hint: 'Closed and complete.' }));
    steps.push(draft('prove', 'test', left, { seconds: left.length * SECONDS.perTest, because: ['G7'] }));
  }
  steps.push(draft('prove', 'gate', [...touched], { gate: 'G7', because: ['G7'], seconds: SECONDS.gate, hint: 'Screws even, functions tested, deviations explained: sign.' }));
  return steps;
}

const COUNTERPART: Partial<Record<Step['do'], readonly Step['do'][]>> = {
  unscrew: ['fasten'], disconnect: ['connect'], desolder: ['solder'], release: ['press', 'bond', 'fasten'], cut: ['press', 'cure'], pull: ['press'],
  swing: ['fit'], lift: ['swing', 'fit', 'transfer'], eject: ['fit'],
};

/** How deep each step is: the parts that are off or open by then. What comes off at one depth goes back at the same. */
function measureDepth(model: Model, steps: readonly Step[]): void {
  const off = new Set<string>();
  const counts = (id: string) => model.parts.get(id)?.within === null && model.parts.get(id)!.face !== 'edge';
  for (const s of steps) {
    if (s.do === 'fit') for (const id of s.items) off.delete(id);
    s.depth = off.size;
    if (s.do === 'swing' || s.do === 'lift') for (const id of s.items) if (counts(id)) off.add(id);
  }
}

/** A3: the device may not be turned over while a part is swung open. */
function turnsWhileOpen(steps: readonly Step[]): boolean {
  const open = new Set<string>();
  for (const s of steps) {
    if (s.do === 'turn-over' && open.size > 0) return true;
    for (const id of s.items) {
      if (s.do === 'swing') open.add(id);
      if (s.do === 'lift' || s.do === 'fit') open.delete(id);
    }
  }
  return false;
}

/** Neighbouring steps that are one at the bench: connectors of one kind opened or seated, screws of one part and driver. */
function oneGo(model: Model, a: Step, b: Draft): boolean {
  if (a.do !== b.do || a.tool !== b.tool || a.phase !== b.phase) return false;
  if (a.do === 'disconnect' || a.do === 'connect') {
    return a.hint === b.hint && ![...a.items, ...b.items].some((id) => model.connectors.get(id)!.isolatesPower);
  }
  if (a.do !== 'unscrew' && a.do !== 'fasten') return false;
  const like = (id: string) => {
    const f = model.fasteners.get(id)!;
    return `${f.kind} ${[...f.holds].sort().join(' ')}`;
  };
  return like(a.items[0]!) === like(b.items[0]!);
}

/** Places turn-overs, joins connectors that are opened or seated in one go, numbers the steps and pairs the limbs. */
function number(model: Model, drafts: readonly Draft[], start: 'front' | 'back'): Step[] {
  const steps: Step[] = [];
  let face = start;
  let isolated = false;
  const isolating = new Set(model.anatomy.connectors.filter((c) => c.isolatesPower).map((c) => c.id));
  const isolatingParts = new Set(model.anatomy.connectors.filter((c) => c.isolatesPower && c.kind === 'contact').map((c) => c.from));
  for (const d of drafts) {
    const at = d.face ?? 'edge';
    if (at !== 'edge' && at !== face) {
      face = at;
      steps.push({ ...draft(d.phase, 'turn-over', [], { seconds: SECONDS.turnOver, because: ['next face'], hint: 'Nothing swung open, nothing loose.' }), n: 0, face, live: !isolated, mirrors: null, depth: 0 });
    }
    const opensPower = (d.do === 'disconnect' && d.items.some((id) => isolating.has(id))) || (d.do === 'lift' && d.items.some((id) => isolatingParts.has(id)));
    const closesPower = ((d.do === 'connect') && d.items.some((id) => isolating.has(id))) || (d.do === 'fit' && d.items.some((id) => isolatingParts.has(id)));
    const live = d.phase !== 'prepare' && !isolated;
    if (opensPower) isolated = true;
    if (closesPower) isolated = false;
    const last = steps.at(-1);
    if (last && !opensPower && !closesPower && last.live === live && last.face === (at === 'edge' ? face : at) && oneGo(model, last, d)) {
      last.items.push(...d.items);
      if (d.do === 'unscrew' || d.do === 'fasten') {
        last.items = drivingOrder(last.items.map((id) => model.fasteners.get(id)!));
        if (d.do === 'unscrew') last.items.reverse();
      }
      last.seconds += d.seconds;
      last.because = [...new Set([...last.because, ...d.because])];
    } else steps.push({ ...d, face: at === 'edge' ? face : at, items: [...d.items], because: [...d.because], n: 0, live, mirrors: null, depth: 0 });
  }
  steps.forEach((s, i) => { s.n = i + 1; });
  measureDepth(model, steps);
  for (const s of steps) {
    if (s.phase !== 'descent' && s.phase !== 'prepare') continue;
    const back = COUNTERPART[s.do];
    const partner = back && steps.find((o) => o.phase === 'ascent' && o.mirrors === null && back.includes(o.do) && o.items.some((id) => s.items.includes(id)));
    if (partner) {
      s.mirrors = partner.n;
      partner.mirrors = s.n;
    }
  }
  return steps;
}

function totalsOf(steps: readonly Step[]): Totals {
  let toolChanges = 0;
  let tool: string | null = null;
  for (const s of steps) {
    if (s.tool !== null && s.tool !== tool) {
      toolChanges++;
      tool = s.tool;
    }
  }
  const hands = steps.reduce((sum, s) => sum + s.seconds, 0);
  const waits = steps.reduce((sum, s) => sum + s.waits, 0);
  const screws = new Set(steps.filter((s) => s.do === 'unscrew').flatMap((s) => s.items));
  const connectors = new Set(steps.filter((s) => s.do === 'disconnect' || s.do === 'desolder').flatMap((s) => s.items));
  return { hands, waits, elapsed: hands + waits, toolChanges, turnOvers: steps.filter((s) => s.do === 'turn-over').length, screws: screws.size, connectors: connectors.size };
}

function touchedFunctions(graph: StepGraph, closure: Closure, bundles: readonly Bundle[]): string[] {
  const { model } = graph;
  const touched = new Set<string>();
  const connector = (id: string) => { for (const f of model.connectors.get(id)!.carries) touched.add(f); };
  for (const action of closure.actions.values()) if (action.kind === 'open') connector(action.item);
  for (const bundle of bundles) {
    if (bundle.kind !== 'lift' && bundle.kind !== 'swing') continue;
    const part = bundle.items[0]!;
    for (const id of model.familyOf(part)) for (const f of model.parts.get(id)!.functions) touched.add(f);
    if (bundle.kind === 'lift') graph.contactsBroken(part).forEach(connector);
  }
  return model.anatomy.functions.map((f) => f.id).filter((id) => touched.has(id));
}

function renewed(graph: StepGraph, bundles: readonly Bundle[], exchange: Exchange, rules: HouseRules): string[] {
  const { model } = graph;
  const renew = new Set<string>(exchange.targets);
  for (const bundle of bundles) {
    for (const id of bundle.items) {
      const { type, item } = model.items.get(id)!;
      if (type === 'part' && bundle.kind === 'lift') {
        if (item.fate === 'renew' || (item.kind === 'battery' && rules.removedBattery === 'never-refit')) renew.add(id);
        for (const bond of model.anatomy.bonds) if (bond.kind === 'thermal' && bond.fate === 'renew' && bond.joins.includes(id)) renew.add(bond.id);
      }
      if ((type === 'bond' || type === 'fastener') && (item.fate === 'renew' || (type === 'fastener' && item.threadlock))) renew.add(id);
    }
  }
  return [...renew];
}

function lossesOf(model: Model, bundles: readonly Bundle[], exchange: Exchange): Loss[] {
  const losses: Loss[] = [];
  const family = new Set(exchange.targets.flatMap((t) => model.familyOf(t)));
  for (const t of exchange.transfers) for (const id of model.familyOf(t.part)) family.delete(id);
  for (const part of model.anatomy.parts) {
    for (const pair of part.pairing) {
      // The pair parts company when exactly one of the two is exchanged; a new pair must be matched as well.
      if (!family.has(part.id) && !family.has(pair.with)) continue;
      const renewed = family.has(part.id) ? part.id : pair.with;
      const other = renewed === part.id ? pair.with : part.id;
      for (const f of pair.loses) {
        losses.push({ function: f, because: `${model.nameOf(renewed)} is paired with ${model.nameOf(other)}`, remedy: pair.remedy });
      }
    }
  }
  const seal = bundles.some((b) => b.kind === 'release' && (() => {
    const bond = model.bonds.get(b.items[0]!);
    return bond && 'perimeterOf' in bond.at && model.depthOf(bond.id) === 0;
  })());
  if (seal && model.anatomy.body.ingress) {
    losses.push({ function: 'moisture-rating', because: `the seal of ${model.anatomy.body.ingress} is opened`, remedy: 'A new seal keeps out dust and splashes; the rating is not certified again.' });
  }
  if (exchange.targets.some((t) => model.parts.get(t)!.kind === 'board')) {
    losses.push({ function: 'data', because: 'the storage is on the board', remedy: 'Have the customer copy the data first; a donor board must be free of locks and reset.' });
  }
  return losses;
}
