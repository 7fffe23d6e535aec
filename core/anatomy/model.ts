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
  const children = new Map<string, string[]>();
  for (const part of anatomy.parts) {
    if (part.within) children.set(part.within, [...(children.get(part.within) ?? []), part.id]);
  }
  const families = new Map<string, string[]>();
  const familyOf = (part: string): string[] => {
    const known = families.get(part);
    if (known) return known;
    const family = [part, ...(children.get(part) ?? []).flatMap(familyOf)];
    families.set(part, family);
    return family;
  };

  /** What an item is called, where no other is called the same. */
  const called = (found: Item): string => {
    if (found.type !== 'bond') return nameOfItem(found);
    const held = found.item.joins.map((id) => parts.get(id)!).find((part) => !part.fixed);
    return `${nameOfItem(found)} of ${held?.name ?? found.item.joins.join(', ')}`;
  };
  let alike: Map<string, number> | null = null;

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

  const contexts = new Map<string, string | null>();
  const contextOf = (id: string): string | null => {
    if (contexts.has(id)) return contexts.get(id)!;
    const found = get(id);
    let context: string | null;
    if (found.type === 'part') context = found.item.within;
    else if (found.type === 'fastener') context = contextOfJoined([...found.item.holds, seatOf(found.item)]);
    else if (found.type === 'connector') context = contextOfJoined([found.item.from, found.item.to]);
    else context = contextOfJoined(found.item.joins);
    contexts.set(id, context);
    return context;
  };
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
  const regions = new Map<string, Region>();
  const accessOf = (id: string): Region => {
    const known = regions.get(id);
    if (known) return known;
    const { type, item } = get(id);
    let region: Region;
    if (type === 'part') region = cut(item, null, () => regionOf(item.outline));
    else if (type === 'fastener')
      region = cut(item, null, () => regionOf({ circle: [item.at[0], item.at[1], item.head / 2] }));
    else if (type === 'connector') region = cut(item, null, () => regionOf(rectAround(item.at, item.size)));
    else if (type === 'bond') {
      const around = 'perimeterOf' in item.at ? outlineOfPart(item.at.perimeterOf) : null;
      region = cut(item, around, () => bondAccess(item, outlineOfPart));
    } else {
      const context = contextOf(id);
      const outermost = movable(item.joins, context).sort((a, b) => a.layer - b.layer)[0];
      const { outline } = outermost ?? partOf(item.joins[0]!);
      const edges = [item.edge, ...item.alsoAt];
      region = cut(item, outline, () => edges.flatMap((edge) => latchAccess(edge, outline)));
    }
    regions.set(id, region);
    return region;
  };
  const overlapping = new Map<string, boolean>();
  const overlaps = (a: string, b: string): boolean => {
    const [one, other] = [accessOf(a), accessOf(b)];
    if (!boundsMeet(boundsOfCut(one), boundsOfCut(other))) return false;
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    const known = overlapping.get(key);
    if (known !== undefined) return known;
    const found = cutsOverlap(one, other);
    overlapping.set(key, found);
    return found;
  };
  const between = ({ type, item }: Item): string[] => {
    if (type === 'part') return [item.id];
    if (type === 'fastener') return [...item.holds, seatOf(item)];
    if (type === 'connector') return [item.from, item.to];
    return item.joins;
  };
  const supplies = new Map<string, (string | null)[]>();
  const suppliedIn = (id: string): (string | null)[] => {
    const known = supplies.get(id) ?? fedFrom(anatomy, parts, between(get(id)));
    supplies.set(id, known);
    return known;
  };
  const pressing = new Map<string, readonly string[]>();
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
    pressedBy: (id) => {
      const found = get(id);
      const screws = pressing.get(id) ?? (found.type === 'bond' ? pressedBy(anatomy, found.item) : []);
      pressing.set(id, screws);
      return screws;
    },
    isolatorsOf: (id) => {
      const cutting = new Set(suppliedIn(id).flatMap((body) => isolatorsOf(anatomy, body)));
      return anatomy.connectors.filter((c) => cutting.has(c));
    },
    bodyOf: (id) =>
      parts.has(id) ? bodyOfPart(anatomy, parts, id) : anatomy.bodies ? bodyOfGround(anatomy, accessOf(id)) : null,
    nameOf: (id) => {
      const found = get(id);
      const name = called(found);
      alike ??= countBy([...items.values()].filter(isNameless).map(called));
      return isNameless(found) && alike.get(name)! > 1 ? `${name} (${id})` : name;
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
function boundsOfCut(region: Region): Rect {
  let bounds = cutBounds.get(region);
  if (bounds === undefined) {
    bounds = boundsOfRegion(region);
    cutBounds.set(region, bounds);
  }
  return bounds;
}

const cutOverlaps = new WeakMap<Region, WeakMap<Region, boolean>>();
function cutsOverlap(a: Region, b: Region): boolean {
  const known = cutOverlaps.get(a)?.get(b) ?? cutOverlaps.get(b)?.get(a);
  if (known !== undefined) return known;
  const found = regionsOverlap(a, b);
  const of = cutOverlaps.get(a) ?? new WeakMap<Region, boolean>();
  cutOverlaps.set(a, of.set(b, found));
  return found;
}

/** Bonds and catches have no name of their own. */
const isNameless = ({ type }: Item): boolean => type === 'bond' || type === 'latch';

function countBy(names: readonly string[]): Map<string, number> {
  const counts = new Map<string, number>();
  for (const name of names) counts.set(name, (counts.get(name) ?? 0) + 1);
  return counts;
}

/** What an item is called on screen: its name, or for nameless items what they are and where. */
function nameOfItem({ type, item }: Item): string {
  if (type === 'part' || type === 'connector') return item.name;
  if (type === 'fastener')
    return `${item.id} ${item.drive === 'none' ? item.kind : item.drive} ${screwLength(item.length)}`;
  if (type === 'latch') return `${item.count} ${item.count === 1 ? 'catch' : 'catches'}, ${item.edge} edge`;
  const kinds: Record<Bond['kind'], string> = {
    tape: 'adhesive tape',
    'stretch-tab': 'stretch-release strips',
    'pull-pouch': 'pull pouch',
    glue: 'glue',
    gasket: 'gasket',
    thermal: 'thermal paste',
    foil: 'foil',
  };
  return kinds[item.kind];
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
