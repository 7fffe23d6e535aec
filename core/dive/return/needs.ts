import type { Connector } from '../../anatomy/index.ts';
import { keyOf } from '../graph/keys.ts';
import type { StepGraph } from '../graph/stepGraph.ts';
import { isCellPlug, sideOf, type Bundle } from '../order/bundles.ts';
import { NoDive } from '../types.ts';

/**
 * A7: for every bundle of the way back the bundles that come before it there. Geometry reversed,
 * `mateOrder` kept, isolation undone last among the connectors.
 * @param included bundle indices of this limb
 */
export function ascentNeeds(
  graph: StepGraph,
  bundles: readonly Bundle[],
  included: readonly number[],
): Map<number, Set<number>> {
  const { model } = graph;
  const after = new Map<number, Set<number>>(included.map((i) => [i, new Set<number>()]));
  const within = (i: number) => after.has(i);
  for (const then of included) {
    for (const [first, { physical }] of bundles[then]!.needs)
      if (physical && within(first)) after.get(first)!.add(then);
  }
  const openingIndex = (connector: string): number => {
    const key = graph.openingOf(connector);
    return bundles.findIndex((b) => keyOf(b.kind, b.items[0]!) === key);
  };
  const isolation = new Set(
    graph.isolation.map((key) => bundles.findIndex((b) => keyOf(b.kind, b.items[0]!) === key)).filter(within),
  );
  const closes = (from: number, to: number): boolean => {
    const stack = [from];
    const seen = new Set<number>();
    while (stack.length > 0) {
      const at = stack.pop()!;
      if (at === to) return true;
      if (seen.has(at)) continue;
      seen.add(at);
      stack.push(...after.get(at)!);
    }
    return false;
  };
  for (const i of [...included].reverse()) {
    const opened =
      bundles[i]!.kind === 'open' ||
      (bundles[i]!.kind === 'lift' && graph.contactsBroken(bundles[i]!.items[0]!).length > 0);
    if (!opened || isolation.has(i)) continue;
    // A live connector lies over the isolation itself: it can only be closed after it.
    for (const iso of isolation) if (!closes(i, iso)) after.get(iso)!.add(i);
  }
  // Of several that cut the power off, the cells' own are mated last.
  for (const cell of isolation) {
    if (!isCellPlug(graph, bundles[cell]!)) continue;
    for (const other of isolation)
      if (
        bundles[other]!.kind === 'open' &&
        !isCellPlug(graph, bundles[other]!) &&
        sideOf(bundles[other]!) === sideOf(bundles[cell]!) &&
        !closes(other, cell)
      )
        after.get(cell)!.add(other);
  }
  // What an order kept waiting on the way in is laid again once the part beneath is held.
  for (const { first, then } of model.anatomy.orders) {
    const laid = included.find((i) => bundles[i]!.kind === 'lift' && bundles[i]!.items[0] === first);
    if (laid === undefined || !model.parts.has(then)) continue;
    const holds = new Set(graph.holdsOf(then));
    for (const i of included)
      if (bundles[i]!.kind === 'loosen' && bundles[i]!.items.every((id) => holds.has(id)) && !closes(i, laid))
        after.get(laid)!.add(i);
  }
  for (const list of model.anatomy.mateOrder) {
    const present = list.map(openingIndex).filter((i) => i >= 0 && within(i));
    for (let k = 0; k + 1 < present.length; k++) after.get(present[k + 1]!)!.add(present[k]!);
  }
  const joins = (c: Connector, part: string) => c.to === part || c.from === part;
  /** A tether is mated while its part hangs open, before it can be screwed down. */
  const tethers = (part: string, connector: string) =>
    model.parts.get(part)!.swing?.tether.includes(connector) === true &&
    included.some((i) => bundles[i]!.kind === 'swing' && bundles[i]!.items[0] === part);
  // A part is screwed down before flexes are pressed onto it, wherever its screws can be reached by then.
  for (const then of included) {
    if (bundles[then]!.kind !== 'open') continue;
    const c = model.connectors.get(bundles[then]!.items[0]!)!;
    for (const first of included) {
      if (bundles[first]!.kind !== 'loosen' || bundles[first]!.face === 'edge') continue;
      const held = bundles[first]!.items.flatMap((id) => model.fasteners.get(id)!.holds);
      if (held.some((id) => joins(c, id) && !tethers(id, c.id)) && !closes(first, then)) after.get(then)!.add(first);
    }
  }
  return after;
}

/**
 * The bundles in the order of the way back that mirrors the way in wherever that is allowed.
 * @param descent bundle indices in the order of the way in
 * @throws NoDive when `mateOrder` contradicts the geometry
 */
export function mirrorOrder(
  graph: StepGraph,
  bundles: readonly Bundle[],
  descent: readonly number[],
  after: ReadonlyMap<number, ReadonlySet<number>>,
): number[] {
  const mirror = [...descent].reverse();
  const done = new Set<number>();
  const order: number[] = [];
  while (order.length < mirror.length) {
    const free = (i: number) => !done.has(i) && [...after.get(i)!].every((j) => done.has(j));
    // A bond is pressed and a catch snapped as soon as its part lies.
    const next = mirror.find((i) => bundles[i]!.kind === 'release' && free(i)) ?? mirror.find(free);
    if (next === undefined)
      throw matingCircle(
        graph,
        bundles,
        mirror.filter((i) => !done.has(i)),
      );
    done.add(next);
    order.push(next);
  }
  return order;
}

/** Which mating order cannot be kept, and the connectors of it that wait for each other. */
function matingCircle({ model }: StepGraph, bundles: readonly Bundle[], waiting: readonly number[]): NoDive {
  const stuck = new Set(waiting.flatMap((i) => (bundles[i]!.kind === 'open' ? bundles[i]!.items : [])));
  const at = model.anatomy.mateOrder.findIndex((list) => list.filter((id) => stuck.has(id)).length > 1);
  const path = at < 0 ? 'mateOrder' : `mateOrder[${at}]`;
  const plugs = at < 0 ? [...stuck] : model.anatomy.mateOrder[at]!.filter((id) => stuck.has(id));
  return new NoDive(path, { code: 'no-mating-order', plugs });
}
