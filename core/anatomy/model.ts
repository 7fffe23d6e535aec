import { BONDS } from '../kinds/index.ts';
import {
  bondAccess,
  boundsMeet,
  boundsOfRegion,
  latchAccess,
  rectAround,
  regionOf,
  regionsOverlap,
  type Region,
} from './geometry.ts';
import { bodyOfGround, bodyOfPart, fedFrom } from './bodies.ts';
import { completed } from './complete.ts';
import { pressedBy } from './gaskets.ts';
import { isolatorsOf } from './rails.ts';
import type { Anatomy, Bond, Connector, Exit, Face, Fastener, Item, Latch, Outline, Part, Rect } from './types.ts';
import { listed, once, onceEach } from '../once/index.ts';
import { screwLength } from '../units/index.ts';

/**
 * An anatomy with its look-ups. Everything here is read off the document; which item stands in the
 * way of which is for the planner and, separately, for the dive checker to say.
 */
export interface Model {
  anatomy: Anatomy;
  items: ReadonlyMap<string, Item>;
  parts: ReadonlyMap<string, Part>;
  fasteners: ReadonlyMap<string, Fastener>;
  connectors: ReadonlyMap<string, Connector>;
  bonds: ReadonlyMap<string, Bond>;
  latches: ReadonlyMap<string, Latch>;
  /** The part and everything that travels with it, itself first. */
  familyOf(part: string): string[];
  /** The assembly in whose frame an item's face and layer are given; `null` is the device itself. */
  contextOf(item: string): string | null;
  /** The face an item is worked from, relative to its context. */
  faceOf(item: string): Face;
  /** 0 is outermost, relative to its context. */
  layerOf(item: string): number;
  /** The ground a tool needs to get at an item, mm. */
  accessOf(item: string): Region;
  /** True when the grounds of two items share more than a touching edge; cut once, then known. */
  overlaps(a: string, b: string): boolean;
  /** Parts that an item itself holds or joins, which therefore never stand in its own way. */
  ownPartsOf(item: string): string[];
  /** The part that a bond or a catch holds back: the outermost that it joins; `null` where none moves, and for what joins nothing. */
  freedBy(item: string): string | null;
  /** Layers from the surface of the device down to the item, assemblies added up: the depth of a dive. */
  depthOf(item: string): number;
  nameOf(item: string): string;
  /** Screws and catches that press a gasket tight; empty for every other bond. */
  pressedBy(bond: string): readonly string[];
  /** Connectors that have to be open before an item is dead: all that cut a rail which feeds where it lies. */
  isolatorsOf(item: string): readonly Connector[];
  /** The body of a fold in which an item is worked; `null` for several, and in a device of one body. */
  bodyOf(item: string): string | null;
}

/**
 * @throws Error when the document refers to ids that it does not hold; run `faultsOf` first.
 */
export function modelOf(document: Anatomy): Model {
  const anatomy = completed(document);
  const items = new Map<string, Item>();
  for (const item of anatomy.parts) items.set(item.id, { type: 'part', item });
  for (const item of anatomy.fasteners) items.set(item.id, { type: 'fastener', item });
  for (const item of anatomy.connectors) items.set(item.id, { type: 'connector', item });
  for (const item of anatomy.bonds) items.set(item.id, { type: 'bond', item });
  for (const item of anatomy.latches) items.set(item.id, { type: 'latch', item });

  const parts = new Map(anatomy.parts.map((p) => [p.id, p]));
  const fasteners = new Map(anatomy.fasteners.map((f) => [f.id, f]));
  const children = listed(anatomy.parts.flatMap((p) => (p.within === null ? [] : [[p.within, p.id] as const])));
  const familyOf = onceEach((part: string): string[] => [part, ...(children.get(part) ?? []).flatMap(familyOf)]);

  /** What an item is called, where no other is called the same. */
  const called = (found: Item): string => {
    if (found.type !== 'bond') return nameOfItem(found);
    const held = found.item.joins.map((id) => parts.get(id)!).find((part) => !part.fixed);
    return `${nameOfItem(found)} of ${held?.name ?? found.item.joins.join(', ')}`;
  };
  let alike: Map<string, Item[]> | null = null;

  const get = (id: string): Item => {
    const found = items.get(id);
    if (!found) throw new Error(`the anatomy ${anatomy.id} has no item "${id}"`);
    return found;
  };
  const partOf = (id: string): Part => {
    const found = parts.get(id);
    if (!found) throw new Error(`the anatomy ${anatomy.id} has no part "${id}"`);
    return found;
  };
  /** The part that takes a screw, standoffs followed down to what they stand in. */
  const seatOf = (fastener: Fastener): string => {
    const standoff = fasteners.get(fastener.into);
    return standoff ? seatOf(standoff) : fastener.into;
  };
  const assembliesAround = (part: string): (string | null)[] => {
    const around: (string | null)[] = [];
    for (let at = partOf(part).within; at; at = partOf(at).within) around.push(at);
    return [...around, null];
  };
  /** The innermost assembly whose family holds every joined part; the assembly itself may be the seat. */
  const contextOfJoined = (joined: string[]): string | null => {
    const candidates = joined.flatMap((part) => [
      part,
      ...assembliesAround(part).filter((a) => a !== null),
    ]) as string[];
    const around = candidates.filter((assembly) => joined.every((part) => familyOf(assembly).includes(part)));
    // The smallest family that holds them all is the innermost one.
    around.sort((a, b) => familyOf(a).length - familyOf(b).length);
    return around[0] ?? null;
  };
  const ownParts = ({ type, item }: Item): string[] => {
    if (type === 'part') return [item.id];
    if (type === 'fastener') return item.holds;
    if (type === 'connector') return [];
    return item.joins;
  };

  const between = ({ type, item }: Item): string[] => {
    if (type === 'part') return [item.id];
    if (type === 'fastener') return [...item.holds, seatOf(item)];
    if (type === 'connector') return [item.from, item.to];
    return item.joins;
  };
  const contextOf = onceEach((id: string): string | null => {
    const found = get(id);
    return found.type === 'part' ? found.item.within : contextOfJoined(between(found));
  });
  /** The part itself, or the assembly around it, that lies directly in the context. */
  const standInFor = (part: string, context: string | null): Part => {
    let at = partOf(part);
    while (at.within !== context && at.within !== null) at = partOf(at.within);
    return at;
  };
  const movable = (joined: string[], context: string | null): Part[] =>
    joined
      .filter((part) => part !== context)
      .map((part) => standInFor(part, context))
      .filter((part) => !part.fixed);

  /** Deeper than every part: what nothing on that face says where it lies. */
  const DEEPEST = Number.MAX_SAFE_INTEGER;
  /** The outermost of the parts that lie on a face, or `null` where none of them does. */
  const outermostOn = (face: Face, joined: readonly Part[]): number | null => {
    const layers = joined.flatMap((part) => placementsOf(part).filter((at) => at.face === face)).map((at) => at.layer);
    return layers.length > 0 ? Math.min(...layers) : null;
  };
  const freedBy = (id: string): Part | undefined => {
    const { type, item } = get(id);
    if (type !== 'bond' && type !== 'latch') return undefined;
    return movable(item.joins, contextOf(id)).sort((a, b) => a.layer - b.layer)[0];
  };
  const faceOf = (id: string): Face => {
    const { type, item } = get(id);
    if (type === 'part' || type === 'fastener' || type === 'connector') return item.face;
    if (type === 'bond' && item.face !== null) return item.face;
    return freedBy(id)?.face ?? 'front';
  };
  const layerOf = (id: string): number => {
    const { type, item } = get(id);
    if (type === 'part') return item.layer;
    const context = contextOf(id);
    if (type === 'connector') {
      if (item.layer !== null) return item.layer;
      return item.to === context ? DEEPEST : standInFor(item.to, context).layer;
    }
    if (type !== 'latch' && item.layer !== null) return item.layer;
    const held = movable(type === 'fastener' ? item.holds : item.joins, context);
    if (held.length === 0) return 0;
    // What is worked from another side than its part leaves by lies as deep there as what it stands in on that side.
    const face = faceOf(id);
    const own = outermostOn(face, held);
    if (own !== null) return own;
    if (type !== 'fastener') return type === 'bond' && item.face !== null ? DEEPEST : 0;
    const stands = seatOf(item);
    const seat = stands === context ? [] : movable([stands], context);
    return outermostOn(face, seat) ?? (face === 'edge' ? 0 : DEEPEST);
  };
  const outlineOfPart = (id: string): Outline => partOf(id).outline;
  const accessOf = onceEach((id: string): Region => {
    const { type, item } = get(id);
    switch (type) {
      case 'part':
        return cut(item, null, () => regionOf(item.outline));
      case 'fastener':
        return cut(item, null, () => regionOf({ circle: [item.at[0], item.at[1], item.head / 2] }));
      case 'connector':
        return cut(item, null, () => regionOf(rectAround(item.at, item.size)));
      case 'bond': {
        const around = 'perimeterOf' in item.at ? outlineOfPart(item.at.perimeterOf) : null;
        return cut(item, around, () => bondAccess(item, outlineOfPart));
      }
      case 'latch': {
        const { outline } = freedBy(id) ?? partOf(item.joins[0]!);
        return cut(item, outline, () => [item.edge, ...item.alsoAt].flatMap((edge) => latchAccess(edge, outline)));
      }
    }
  });
  const overlaps = (a: string, b: string): boolean => {
    const [one, other] = [accessOf(a), accessOf(b)];
    return boundsMeet(boundsOfCut(one), boundsOfCut(other)) && cutsOverlap(one, other);
  };
  const suppliedIn = onceEach((id: string) => fedFrom(anatomy, parts, between(get(id))));
  const pressing = onceEach((id: string): readonly string[] => {
    const { type, item } = get(id);
    return type === 'bond' ? pressedBy(anatomy, item) : [];
  });
  const depthOf = (id: string): number => {
    const context = contextOf(id);
    const layer = Math.min(layerOf(id), 40);
    return context === null ? layer : depthOf(context) + 1 + layer;
  };

  return {
    anatomy,
    items,
    parts,
    fasteners,
    connectors: new Map(anatomy.connectors.map((c) => [c.id, c])),
    bonds: new Map(anatomy.bonds.map((b) => [b.id, b])),
    latches: new Map(anatomy.latches.map((l) => [l.id, l])),
    familyOf,
    contextOf,
    faceOf,
    layerOf,
    accessOf,
    overlaps,
    depthOf,
    ownPartsOf: (id) => ownParts(get(id)),
    freedBy: (id) => freedBy(id)?.id ?? null,
    pressedBy: pressing,
    isolatorsOf: (id) => {
      const cutting = new Set(suppliedIn(id).flatMap((body) => isolatorsOf(anatomy, body)));
      return anatomy.connectors.filter((c) => cutting.has(c));
    },
    bodyOf: (id) =>
      parts.has(id) ? bodyOfPart(anatomy, parts, id) : anatomy.bodies ? bodyOfGround(anatomy, accessOf(id)) : null,
    nameOf: (id) => {
      const found = get(id);
      const name = called(found);
      alike ??= listed([...items.values()].filter(isNameless).map((other) => [called(other), other] as const));
      return isNameless(found) && alike.get(name)!.length > 1 ? `${name} (${id})` : name;
    },
  };
}

/*
 * What was cut of an item is kept with the item, beyond the model: of a device that is being drawn, where an edit makes
 * one new item and leaves the others as they are, only that one is cut anew.
 */
const cuts = new WeakMap<object, { on: Outline | null; region: Region }>();

/** @param on the outline of another item that the cut rests on as well */
function cut(item: object, on: Outline | null, make: () => Region): Region {
  const known = cuts.get(item);
  if (known && known.on === on) return known.region;
  const region = make();
  cuts.set(item, { on, region });
  return region;
}

const cutBounds = new WeakMap<Region, Rect>();
const boundsOfCut = (region: Region): Rect => once(cutBounds, region, () => boundsOfRegion(region));

const cutOverlaps = new WeakMap<Region, WeakMap<Region, boolean>>();
const cutsOverlap = (a: Region, b: Region): boolean =>
  cutOverlaps.get(b)?.get(a) ??
  once(
    once(cutOverlaps, a, () => new WeakMap<Region, boolean>()),
    b,
    () => regionsOverlap(a, b),
  );

/** Bonds and catches have no name of their own. */
const isNameless = ({ type }: Item): boolean => type === 'bond' || type === 'latch';

/** What an item is called on screen: its name, or for nameless items what they are and where. */
function nameOfItem({ type, item }: Item): string {
  if (type === 'part' || type === 'connector') return item.name;
  if (type === 'fastener')
    return `${item.id} ${item.drive === 'none' ? item.kind : item.drive} ${screwLength(item.length)}`;
  if (type === 'latch') return `${item.count} ${item.count === 1 ? 'catch' : 'catches'}, ${item.edge} edge`;
  return BONDS.of(item.kind).called;
}

/** Where a part lies, seen from every face it can come off through; the first is its usual one. */
export function placementsOf(part: Part): Exit[] {
  return [{ face: part.face, layer: part.layer }, ...part.exits];
}

/**
 * The same device with some parts taken out through another of their faces.
 * @param choice part id → index into its placements
 */
export function throughExits(model: Model, choice: ReadonlyMap<string, number>): Model {
  const parts = model.anatomy.parts.map((part): Part => {
    const places = placementsOf(part);
    const at = choice.get(part.id) ?? 0;
    return at === 0 ? part : { ...part, ...places[at]!, exits: places.toSpliced(at, 1) };
  });
  return modelOf({ ...model.anatomy, parts });
}
