import type { Fastener, Model } from '../../anatomy/index.ts';
import { FASTENERS } from '../../kinds/index.ts';
import { contextsOf, outermostOf } from '../graph/contexts.ts';
import { actionOf, keyOf, type Action, type ActionKind } from '../graph/keys.ts';
import { poseOf } from '../graph/pose.ts';
import { reasonKey, uniqueReasons, type Reason } from '../graph/reasons.ts';
import type { Closure, StepGraph } from '../graph/stepGraph.ts';
import { CONNECTOR_KINDS } from '../house/connectorKinds.ts';
import { isTurned } from '../house/times.ts';
import { driverFor } from '../house/tools.ts';
import type { Pose } from '../types.ts';
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
  /** How a fold must lie; `null` in a device of one body, or however it lies. */
  pose: Pose | null;
  /** The tool its first step on the way in is done with. */
  tool: string | null;
  /** Among equally quick orders the smaller rank goes first: outer layers before inner ones. */
  rank: number;
  /** Done before the plan begins: only the way back is left of it. */
  finished: boolean;
}

export function openingTool(model: Model, connector: string): string {
  return CONNECTOR_KINDS.of(model.connectors.get(connector)!.kind).tool;
}

/** The tool that an action is begun with. */
function toolOf(model: Model, action: Action): string | null {
  switch (action.kind) {
    case 'loosen':
      return driverFor(model.fasteners.get(action.item)!.drive);
    case 'open':
      return openingTool(model, action.item);
    case 'release':
      // How a bond is let go follows from what is out by then.
      return 'pick';
    case 'lift':
      return model.parts.get(action.item)!.kind === 'tray' ? 'eject-pin' : null;
    case 'ease':
    case 'swing':
      return null;
    default:
      return action.kind satisfies never;
  }
}

/** The face of the whole device that must be up while an item is worked on. */
export function deviceFaceOf(model: Model, item: string): 'front' | 'back' | 'edge' {
  return model.faceOf(outermostOf(model, item));
}

/** Is a bundle work on the outside of the device: a cover, its screws, its catches? */
export function isOutside(graph: StepGraph, { kind, items }: Pick<Bundle, 'kind' | 'items'>): boolean {
  return kind !== 'open' && graph.model.ownPartsOf(items[0]!).some((part) => graph.isOuter(part));
}

/** Is this the plug of a cell itself, and no other that cuts power? */
export const isCellPlug = ({ model }: StepGraph, { kind, items }: Pick<Bundle, 'kind' | 'items'>): boolean =>
  kind === 'open' && model.parts.get(model.connectors.get(items[0]!)!.from)?.kind === 'battery';

/** How the device lies while a bundle is worked. */
export const sideOf = ({ pose, face }: Bundle): string => pose ?? face;

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

/** What belongs in one bundle: `fine` keeps screws apart that are not asked for by the same things. */
function groupOf(model: Model, closure: Closure, action: Action, fine: boolean): string {
  if (action.kind !== 'loosen') return action.key;
  const f = model.fasteners.get(action.item)!;
  const turned = isTurned(f) ? (FASTENERS.of(f.kind).stays ? 'captive' : 'screw') : f.kind;
  const asked = fine
    ? [
        closure.needs
          .get(action.key)!
          .map((r) => r.key)
          .sort(),
        closure.because.get(action.key)!.map(reasonKey).sort(),
      ]
    : [];
  const pose = poseOf(model, f.id, deviceFaceOf(model, f.id));
  return [
    'loosen',
    [...f.holds].sort(),
    turned,
    f.drive,
    f.face,
    pose,
    closure.finished.has(action.key),
    ...asked,
  ].join('|');
}

/**
 * Bundles of a closure, in no particular order. The like screws of one part are one piece of work, unless one of them
 * has to be out before something that another of them waits for.
 * @param singly only those are one that wait for the same
 */
export function bundlesOf(graph: StepGraph, closure: Closure, singly = false): Bundle[] {
  const split = new Set<string>();
  if (singly) for (const action of closure.actions.values()) split.add(groupOf(graph.model, closure, action, false));
  for (;;) {
    const bundles = bundlesSplitBy(graph, closure, split);
    const circle = inCircle(bundles).filter((b) => b.kind === 'loosen' && b.items.length > 1);
    const apart = circle
      .map((b) => groupOf(graph.model, closure, closure.actions.get(keyOf('loosen', b.items[0]!))!, false))
      .filter((group) => !split.has(group));
    if (apart.length === 0) return bundles;
    for (const group of apart) split.add(group);
  }
}

function bundlesSplitBy(graph: StepGraph, closure: Closure, split: ReadonlySet<string>): Bundle[] {
  const { model } = graph;
  const groups = new Map<string, Action[]>();
  for (const action of closure.actions.values()) {
    const coarse = groupOf(model, closure, action, false);
    const group = split.has(coarse) ? groupOf(model, closure, action, true) : coarse;
    groups.set(group, [...(groups.get(group) ?? []), action]);
  }
  const indexOf = new Map<string, number>();
  [...groups.values()].forEach((actions, i) => {
    for (const a of actions) indexOf.set(a.key, i);
  });
  return [...groups.values()].map((actions, self): Bundle => {
    const first = actions[0]!;
    const face = onMat(model, closure, actions) ? 'edge' : deviceFaceOf(model, first.item);
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
      face,
      pose: poseOf(model, first.item, face),
      tool: toolOf(model, first),
      rank:
        Math.max(...actions.map((a) => model.depthOf(a.item))) * 4 +
        (first.kind === 'release' ? 1 : 0) +
        partRank(model, first.item),
      finished: closure.finished.has(first.key),
    };
  });
}

/** Is the assembly that these lie in out by then, in every order? Then it lies on the mat, however the device lies. */
function onMat(model: Model, closure: Closure, actions: readonly Action[]): boolean {
  return actions.every(({ key, item }) =>
    closure.needs.get(key)!.some((need) => {
      const { kind, item: on } = actionOf(need.key);
      return kind === 'lift' && contextsOf(model, item).includes(on);
    }),
  );
}

/** The bundles that wait for each other, directly or through others; none where an order exists. */
function inCircle(bundles: readonly Bundle[]): Bundle[] {
  const left = new Set(bundles.keys());
  for (let moved = true; moved; ) {
    moved = false;
    for (const i of left) {
      if ([...bundles[i]!.needs.keys()].some((j) => left.has(j))) continue;
      left.delete(i);
      moved = true;
    }
  }
  return [...left].map((i) => bundles[i]!);
}
