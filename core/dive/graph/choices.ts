import { placementsOf, throughExits, type Model } from '../../anatomy/index.ts';
import { CONNECTORS } from '../../kinds/index.ts';
import { once } from '../../once/index.ts';
import { partsByItself } from '../house/bondKinds.ts';
import { keyOf, type ActionKey } from './keys.ts';
import { plain, relation, type Reason } from './reasons.ts';
import { StepGraph, type Way } from './stepGraph.ts';
import type { HouseRules } from '../house/rules.ts';
import { NoDive, type DiveRequest, type Plan, type Standing, type Transfer } from '../types.ts';

export interface Exchange {
  /** Parts that are still to be renewed. */
  targets: string[];
  /** All that were asked for. */
  asked: string[];
  spares: string[];
  transfers: Transfer[];
  /** Parts that move to a spare or have moved to one before: they stay with the device. */
  stays: string[];
  /** What is opened to be looked at, and goes back. */
  look: string[];
  /** Batteries that keep their protection board. */
  transplant: string[];
}

/** What undoes an item, so that it can be seen to: a plug is opened, a part taken off, what parts by itself with its part. */
export function undoingOf(model: Model, id: string): ActionKey {
  const found = model.items.get(id)!;
  switch (found.type) {
    case 'part':
      return keyOf('lift', id);
    case 'fastener':
      return keyOf('loosen', id);
    case 'connector':
      return CONNECTORS.of(found.item.kind).byItself ? keyOf('lift', found.item.from) : keyOf('open', id);
    case 'latch':
      return keyOf('release', id);
    case 'bond': {
      if (!partsByItself(model, found.item)) return keyOf('release', id);
      return keyOf('lift', found.item.joins.find((part) => !model.parts.get(part)?.fixed) ?? found.item.joins[0]!);
    }
    default:
      return found satisfies never;
  }
}

/** What has to be laid bare for an exchange: action keys, each with the reason. */
export function goalsOf(
  model: Model,
  exchange: Pick<Exchange, 'targets' | 'transfers' | 'look'>,
): Map<ActionKey, Reason> {
  const goals = new Map<ActionKey, Reason>();
  for (const id of exchange.look) goals.set(undoingOf(model, id), plain('suspect'));
  for (const part of exchange.targets) goals.set(keyOf('lift', part), plain('target'));
  for (const { part, from } of exchange.transfers) goals.set(keyOf('lift', part), relation('movesFrom', from));
  return goals;
}

export function exchangeOf(model: Model, request: DiveRequest): Exchange {
  const { anatomy } = model;
  const look = [...new Set(request.look)];
  for (const id of look) {
    const found = model.items.get(id);
    if (!found) throw new NoDive('look', { code: 'no-such-item', anatomy: anatomy.id, thing: id });
    if (found.type === 'part' && found.item.fixed) throw new NoDive('look', { code: 'never-comes-off', item: id });
  }
  const asked = [...new Set(request.replace)];
  for (const id of asked) {
    const part = model.parts.get(id);
    if (!part)
      throw new NoDive('replace', {
        code: 'no-such-part',
        anatomy: anatomy.id,
        thing: id,
        things: anatomy.parts.filter((p) => !p.fixed).map((p) => p.id),
      });
    if (part.fixed) throw new NoDive('replace', { code: 'never-comes-off', item: id });
  }
  const transplant = [...new Set(request.transplant)];
  for (const id of transplant) {
    if (model.parts.get(id)?.kind !== 'battery' || !asked.includes(id))
      throw new NoDive('transplant', { code: 'no-battery-replaced', thing: id });
  }
  const renewed = request.from?.renewed;
  const targets = asked.filter((id) => !renewed?.has(id));
  const spares: string[] = [];
  const transfers: Transfer[] = [];
  const stays: string[] = [];
  for (const id of request.spares ?? []) {
    const spare = anatomy.spares.find((s) => s.id === id);
    if (!spare) throw new NoDive('spares', { code: 'no-such-spare', anatomy: anatomy.id, thing: id });
    if (!asked.includes(spare.replaces))
      throw new NoDive('spares', { code: 'spare-of-another', thing: id, item: spare.replaces });
  }
  for (const target of asked) {
    const offered = anatomy.spares.filter((s) => s.replaces === target);
    const spare = offered.find((s) => request.spares?.includes(s.id)) ?? offered[0] ?? null;
    if (!spare) continue;
    spares.push(spare.id);
    for (const child of model.familyOf(target)) {
      const parent = model.parts.get(child)!.within;
      const comes = spare.includes.includes(child);
      if (comes || parent === null || !spare.includes.includes(parent) || asked.includes(child)) continue;
      stays.push(child);
      if (targets.includes(target)) transfers.push({ part: child, from: target, spare: spare.id });
    }
  }
  return { targets, asked, spares, transfers, stays, look, transplant };
}

/** Parts that are new after a dive: what is replaced with what travels in it, but for what moves or has moved to the spare. */
export function newParts(model: Model, { asked, stays }: Pick<Exchange, 'asked' | 'stays'>): Set<string> {
  const parts = new Set(asked.flatMap((id) => model.familyOf(id)));
  for (const part of stays) for (const id of model.familyOf(part)) parts.delete(id);
  return parts;
}

/** The same of a plan, also of one that goes on after the exchange. */
export const newPartsOf = (model: Model, { replace, spares }: Pick<Plan, 'replace' | 'spares'>): Set<string> =>
  newParts(model, exchangeOf(model, { replace, spares }));

/** Parts whose choice of swinging or taking off is tried. Origin: own choice; 2^6 dives take a few seconds. */
const MOST_SWINGS = 6;
/** Parts whose choice of a face to leave through is tried. */
const MOST_EXITS = 4;

/** Choices of swinging or taking off, as far as the house rules leave a choice; `all` says whether there are no others. */
export function waysOf(
  model: Model,
  swinging: readonly string[],
  rules: HouseRules,
): { ways: Map<string, Way>[]; all: boolean } {
  let all: Map<string, Way>[] = [new Map()];
  for (const part of swinging.slice(0, MOST_SWINGS)) {
    const takeOff = rules.openedDisplay === 'take-off' && model.parts.get(part)!.kind === 'display';
    const choices: Way[] = takeOff ? ['lift'] : ['swing', 'lift'];
    all = choices.flatMap((way) => all.map((ways) => new Map([...ways, [part, way]])));
  }
  return { ways: all, all: swinging.length <= MOST_SWINGS };
}

/** Step graphs of a device with its parts taken out through other faces; made once for each model. */
const graphsThroughExits = new WeakMap<Model, Map<string, StepGraph | null>>();

/** Every choice of the faces that the parts on the way leave through; a single one for most devices. */
export function* exitsOf(
  model: Model,
  base: StepGraph | undefined,
  goals: ReadonlyMap<string, Reason>,
  from: Standing | undefined,
): Generator<{ exits: string; graph: StepGraph; cut: boolean }> {
  const graph = base ?? new StepGraph(model);
  const out = (part: string) => from?.removed.has(part) ?? false;
  // What is out goes back through a face that stands open; that choice is made before any other.
  const movable = model.anatomy.parts
    .filter((p) => p.exits.length > 0)
    .sort((a, b) => Number(out(b.id)) - Number(out(a.id)));
  const cut = movable.length > MOST_EXITS;
  const known = once(graphsThroughExits, model, () => new Map<string, StepGraph | null>());
  let choices: Map<string, number>[] = [new Map()];
  for (const part of movable.slice(0, MOST_EXITS))
    choices = placementsOf(part).flatMap((_, at) => choices.map((c) => new Map([...c, [part.id, at]])));
  let any = false;
  for (const choice of choices) {
    const exits = [...choice]
      .filter(([, at]) => at > 0)
      .map(([id, at]) => `${id}=${at}`)
      .join();
    const there = exits === '' ? graph : once(known, exits, () => graphThrough(model, choice));
    // So taken, something of the device cannot come apart at all.
    if (there === null) continue;
    if (![...choice.keys()].every((id) => !out(id) || liesOpen(there, id, from!))) continue;
    if (exits !== '') {
      // A choice matters only for parts that leave.
      let leaving: ReadonlyMap<string, unknown>;
      try {
        leaving = there.closureOf(goals, new Map(), { from }).actions;
      } catch (error) {
        if (error instanceof NoDive) continue;
        throw error;
      }
      if (![...choice].every(([id, at]) => at === 0 || out(id) || leaving.has(keyOf('lift', id)))) continue;
    }
    any = true;
    yield { exits, graph: there, cut };
  }
  // Nothing stands open for what is out: it is planned as it is drawn.
  if (!any) yield { exits: '', graph, cut };
}

/** The graph with parts taken through other faces; `null` where its power can be reached in no order. */
function graphThrough(model: Model, choice: ReadonlyMap<string, number>): StepGraph | null {
  try {
    return new StepGraph(throughExits(model, choice));
  } catch (error) {
    if (error instanceof NoDive) return null;
    throw error;
  }
}

/** Would a part that is out meet nothing on its way back? */
const liesOpen = (graph: StepGraph, part: string, { removed, swung }: Standing): boolean =>
  graph.covers
    .get(part)!
    .every((over) => removed.has(over) || (swung.has(over) && graph.clears(graph.model.parts.get(over)!)));
