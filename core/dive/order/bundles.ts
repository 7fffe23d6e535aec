import type { Bond, Fastener, Model } from '../../anatomy/index.ts';
import { keyOf, type Action, type ActionKind } from '../graph/keys.ts';
import { uniqueReasons, writeReason, type Reason } from '../graph/reasons.ts';
import type { Closure, StepGraph } from '../graph/stepGraph.ts';
import { BOND_KINDS, RELEASES, type ReleaseMethod } from '../house/bondKinds.ts';
import { CONNECTOR_KINDS } from '../house/connectorKinds.ts';
import type { HouseRules } from '../house/rules.ts';
import { driverFor } from '../house/tools.ts';
import { tighteningOrder, shortestPath } from './driving.ts';

/** Actions that are one step at the bench: the like screws of one part, or a single other action. */
export interface Bundle {
  kind: ActionKind;
  items: string[];
  because: Reason[];
  /** Bundles that must come before, by index, and whether the way back must keep the reverse (A7). */
  needs: Map<number, { physical: boolean }>;
  /** The face of the whole device that must be up. */
  face: 'front' | 'back' | 'edge';
  /** The tool its first step on the way in is done with. */
  tool: string | null;
  /** Among equally quick orders the smaller rank goes first: outer layers before inner ones. */
  rank: number;
  /** Done before the plan begins: only the way back is left of it. */
  finished: boolean;
}

export function releaseMethod(model: Model, bond: Bond, rules: HouseRules): ReleaseMethod {
  const holdsCell = bond.joins.some((id) => model.parts.get(id)?.kind === 'battery');
  return BOND_KINDS[bond.kind].release(bond, rules, holdsCell);
}

export function openingTool(model: Model, connector: string): string {
  return CONNECTOR_KINDS[model.connectors.get(connector)!.kind].tool;
}

/** The tool that an action is begun with. */
function toolOf(model: Model, action: Action, rules: HouseRules): string | null {
  switch (action.kind) {
    case 'loosen':
      return driverFor(model.fasteners.get(action.item)!.drive);
    case 'open':
      return openingTool(model, action.item);
    case 'release': {
      const bond = model.bonds.get(action.item);
      return bond ? RELEASES[releaseMethod(model, bond, rules)].first(rules) : 'pick';
    }
    case 'lift':
      return model.parts.get(action.item)!.kind === 'tray' ? 'eject-pin' : null;
    case 'swing':
      return null;
    default:
      return action.kind satisfies never;
  }
}

/** The face of the whole device that must be up while an item is worked on. */
export function deviceFaceOf(model: Model, item: string): 'front' | 'back' | 'edge' {
  let at = item;
  for (let context = model.contextOf(at); context !== null; context = model.contextOf(at)) at = context;
  return model.faceOf(at);
}

/** A small share by the part an item belongs to, so that among equals what belongs together stays together. */
function partRank(model: Model, item: string): number {
  const own = model.ownPartsOf(item)[0] ?? model.connectors.get(item)?.to;
  const at = model.anatomy.parts.findIndex((p) => p.id === own);
  return (at + 1) / (2 * model.anatomy.parts.length + 2);
}

/** Screws in the order they come out: the printed order reversed, else the shortest way of the hand. */
export function looseningOrder(fasteners: readonly Fastener[]): string[] {
  if (fasteners.some((f) => f.order !== null)) return tighteningOrder(fasteners).reverse();
  return shortestPath(fasteners.map((f) => f.at)).map((i) => fasteners[i]!.id);
}

/** A4, A6 and the house's own habits order the way in only; everything else is geometry and holds both ways. */
const isOneWay = (because: Reason): boolean => because.why === 'rule' && because.rule === 'A4';

/** Bundles of a closure, in no particular order. */
export function bundlesOf(graph: StepGraph, closure: Closure, rules: HouseRules): Bundle[] {
  const { model } = graph;
  const groups = new Map<string, Action[]>();
  for (const action of closure.actions.values()) {
    let group = action.key;
    if (action.kind === 'loosen') {
      const f = model.fasteners.get(action.item)!;
      const needs = closure.needs
        .get(action.key)!
        .map((r) => r.key)
        .sort();
      const wantedBy = closure.because.get(action.key)!.map(writeReason).sort();
      group = [
        'loosen',
        [...f.holds].sort(),
        f.kind === 'clip' ? 'clip' : f.kind === 'captive' ? 'captive' : 'screw',
        f.drive,
        f.face,
        needs,
        wantedBy,
        closure.finished.has(action.key),
      ].join('|');
    }
    groups.set(group, [...(groups.get(group) ?? []), action]);
  }

  const indexOf = new Map<string, number>();
  [...groups.values()].forEach((actions, i) => {
    for (const a of actions) indexOf.set(a.key, i);
  });
  const bundles = [...groups.values()].map((actions, self): Bundle => {
    const first = actions[0]!;
    const needs = new Map<number, { physical: boolean }>();
    for (const action of actions) {
      for (const { key, because } of closure.needs.get(action.key)!) {
        const i = indexOf.get(key)!;
        if (i === self) continue;
        needs.set(i, { physical: (needs.get(i)?.physical ?? false) || !isOneWay(because) });
      }
    }
    const fasteners = first.kind === 'loosen' ? actions.map((a) => model.fasteners.get(a.item)!) : null;
    return {
      kind: first.kind,
      items: fasteners ? looseningOrder(fasteners) : [first.item],
      because: uniqueReasons(actions.flatMap((a) => closure.because.get(a.key)!)),
      needs,
      face: deviceFaceOf(model, first.item),
      tool: toolOf(model, first, rules),
      rank:
        Math.max(...actions.map((a) => model.depthOf(a.item))) * 4 +
        (first.kind === 'release' ? 1 : 0) +
        partRank(model, first.item),
      finished: closure.finished.has(first.key),
    };
  });
  addHabits(graph, bundles);
  return bundles;
}

function reaches(bundles: readonly Bundle[], from: number, to: number): boolean {
  const seen = new Set<number>();
  const stack = [from];
  while (stack.length > 0) {
    const at = stack.pop()!;
    if (at === to) return true;
    if (seen.has(at)) continue;
    seen.add(at);
    stack.push(...bundles[at]!.needs.keys());
  }
  return false;
}

/**
 * Good order that no rule demands: power is isolated as soon as it can be reached; a seam is cut
 * when the screws of its part are out; a part's flexes are opened before its screws, so that nothing
 * hangs on them; flexes are opened in the reverse of their mating order.
 */
function addHabits(graph: StepGraph, bundles: Bundle[]): void {
  const { model } = graph;
  const habit = (first: number, then: number) => {
    if (first !== then && !bundles[then]!.needs.has(first) && !reaches(bundles, first, then))
      bundles[then]!.needs.set(first, { physical: false });
  };
  bundles.forEach((bundle, then) => {
    const bond = bundle.kind === 'release' ? model.bonds.get(bundle.items[0]!) : undefined;
    if (!bond) return;
    bundles.forEach((other, first) => {
      if (other.kind === 'loosen' && model.fasteners.get(other.items[0]!)!.holds.some((id) => bond.joins.includes(id)))
        habit(first, then);
    });
  });
  for (const key of graph.isolation) {
    const isolation = bundles.findIndex((b) => keyOf(b.kind, b.items[0]!) === key);
    if (isolation < 0) continue;
    bundles.forEach((bundle, then) => {
      if (bundle.face !== 'edge') habit(isolation, then);
    });
  }
  bundles.forEach((bundle, then) => {
    if (bundle.kind !== 'loosen' || bundle.face === 'edge') return;
    const held = new Set(
      bundle.items.flatMap((id) => model.fasteners.get(id)!.holds).flatMap((id) => model.familyOf(id)),
    );
    bundles.forEach((other, first) => {
      if (other.kind !== 'open') return;
      const c = model.connectors.get(other.items[0]!)!;
      if (held.has(c.from) !== held.has(c.to)) habit(first, then);
    });
  });
  for (const list of model.anatomy.mateOrder) {
    const present = list
      .map((id) => bundles.findIndex((b) => b.kind === 'open' && b.items[0] === id))
      .filter((i) => i >= 0);
    for (let i = 0; i + 1 < present.length; i++) habit(present[i + 1]!, present[i]!);
  }
}
