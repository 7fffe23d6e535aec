import {
  boundsOf,
  outlineHolds,
  type Anatomy,
  type Edge,
  type Outline,
  type Part,
  type Point,
  type Rect,
} from '../../../core/anatomy/index.ts';
import {
  freeId,
  GROUPS,
  NAMESPACE,
  newEntry,
  type AnyEntry,
  type Change,
  type Group,
} from '../../../core/draft/index.ts';
import { setOf } from '../../state/draft.ts';
import type { Stamp } from './board.ts';
import { fine } from './snapping.ts';

/* What the hand does, as changes of the document. Nothing here knows of screens. */

export interface Made {
  label: string;
  changes: Change[];
  /** What is selected afterwards. */
  select: string[];
}

/** Where an entry is listed. */
export function whereIs(anatomy: Anatomy, id: string): { group: Group; index: number; entry: AnyEntry } | null {
  for (const group of GROUPS) {
    if (NAMESPACE[group] !== 'item') continue;
    const index = (anatomy[group] as AnyEntry[]).findIndex((e) => e.id === id);
    if (index >= 0) return { group, index, entry: anatomy[group][index]! };
  }
  return null;
}

const round = ([x, y]: Point): Point => [fine(x), fine(y)];

export function shiftedOutline(outline: Outline, dx: number, dy: number): Outline {
  if ('circle' in outline)
    return { circle: [fine(outline.circle[0] + dx), fine(outline.circle[1] + dy), outline.circle[2]] };
  if ('polygon' in outline) return { polygon: outline.polygon.map(([x, y]) => round([x + dx, y + dy])) };
  const [x, y, w, h] = outline.rect;
  return { ...outline, rect: [fine(x + dx), fine(y + dy), w, h] };
}

const shiftedPoint = ([x, y]: Point, dx: number, dy: number): Point => round([x + dx, y + dy]);

/** Moves items; what travels with a part goes along. */
export function move(anatomy: Anatomy, ids: readonly string[], dx: number, dy: number): Made {
  const all = new Set(ids);
  for (let grown = true; grown; ) {
    grown = false;
    for (const p of anatomy.parts)
      if (p.within && all.has(p.within) && !all.has(p.id)) {
        all.add(p.id);
        grown = true;
      }
  }
  const changes: Change[] = [];
  for (const id of all) {
    const found = whereIs(anatomy, id);
    if (!found) continue;
    const { group, entry } = found;
    const set = (field: string, to: unknown) => changes.push(setOf(anatomy, group, id, field, to));
    if ('outline' in entry) {
      set('outline', shiftedOutline(entry.outline, dx, dy));
      if (entry.pryAt) set('pryAt', shiftedPoint(entry.pryAt, dx, dy));
    } else if (group === 'bonds' && 'tabs' in entry) {
      if ('area' in entry.at) set('at', { area: shiftedOutline(entry.at.area, dx, dy) });
      else if ('line' in entry.at) set('at', { ...entry.at, line: entry.at.line.map((p) => shiftedPoint(p, dx, dy)) });
      if (entry.tabs.length > 0)
        set(
          'tabs',
          entry.tabs.map((p) => shiftedPoint(p, dx, dy)),
        );
    } else if ('head' in entry) set('at', shiftedPoint(entry.at, dx, dy));
    else if ('size' in entry) {
      set('at', shiftedPoint(entry.at, dx, dy));
      // The end of its way that lies at the plug goes along.
      if (entry.route) {
        const { line } = entry.route;
        const near = (p: Point) => Math.hypot(p[0] - entry.at[0], p[1] - entry.at[1]);
        const first = near(line[0]!) <= near(line.at(-1)!);
        const at = first ? 0 : line.length - 1;
        set('route', { ...entry.route, line: line.map((p, i) => (i === at ? shiftedPoint(p, dx, dy) : p)) });
      }
    } else if (group === 'latches' && 'notch' in entry && entry.notch) set('notch', shiftedPoint(entry.notch, dx, dy));
  }
  return { label: ids.length === 1 ? `Move ${ids[0]}` : `Move ${ids.length} items`, changes, select: [...ids] };
}

export function reshape(anatomy: Anatomy, id: string, outline: Outline): Made {
  return { label: `Shape ${id}`, changes: [setOf(anatomy, 'parts', id, 'outline', outline)], select: [id] };
}

/**
 * A part gets another name, and with it whatever was named after it: its spares and plugs, and the words that speak of it.
 */
export function renamePart(anatomy: Anatomy, id: string, to: string): Made {
  const from = anatomy.parts.find((p) => p.id === id)!.name;
  const changes: Change[] = [setOf(anatomy, 'parts', id, 'name', to)];
  const follow = (group: Group, entry: { id: string }, field: string) => {
    const words = (entry as unknown as Record<string, unknown>)[field];
    if (typeof words !== 'string' || from === '' || !words.includes(from)) return;
    if (group === 'parts' && entry.id === id && field === 'name') return;
    changes.push(setOf(anatomy, group, entry.id, field, words.replaceAll(from, to)));
  };
  for (const s of anatomy.spares) if (s.replaces === id || s.includes.includes(id)) follow('spares', s, 'name');
  for (const c of anatomy.connectors) if (c.from === id || c.to === id) follow('connectors', c, 'name');
  for (const p of anatomy.parts) follow('parts', p, 'note');
  return { label: `Name of ${id}`, changes, select: [id] };
}

/** The frame, or whatever is fixed. */
const frameOf = (anatomy: Anatomy): Part | undefined => anatomy.parts.find((p) => p.fixed);

/** Parts at a place that come off through a face, outermost first, those above a layer left out. */
export function partsAt(anatomy: Anatomy, at: Point, face: string, layer: number): Part[] {
  return anatomy.parts
    .filter((p) => !p.fixed && p.face === face && p.within === null && p.layer >= layer && outlineHolds(p.outline, at))
    .sort((a, b) => a.layer - b.layer || size(a) - size(b));
}
const size = (p: Part): number => {
  const [, , w, h] = boundsOf(p.outline);
  return w * h;
};

export function addPart(
  anatomy: Anatomy,
  outline: Outline,
  face: 'front' | 'back',
  layer: number,
  rest: Partial<Part> = {},
): Made {
  const id = freeId(anatomy, 'parts', rest.name);
  const entry = newEntry.part(id, { name: rest.name ?? id, face, layer, ...rest, outline });
  return {
    label: `Draw ${id}`,
    changes: [{ do: 'add', group: 'parts', entry, index: anatomy.parts.length }],
    select: [id],
  };
}

/** Screws like the last one; what each holds and stands in is what lies there, the outermost and the next. */
export function addScrews(
  anatomy: Anatomy,
  places: readonly { at: Point; head?: number }[],
  stamp: Stamp,
  face: 'front' | 'back',
  layer: number,
): Made {
  const beside = new Set<string>();
  const changes = places.map(({ at, head }, i): Change => {
    const id = freeId(anatomy, 'fasteners', undefined, beside);
    beside.add(id);
    const [top, next] = partsAt(anatomy, at, face, layer);
    const frame = frameOf(anatomy);
    const holds = [top?.id ?? frame?.id ?? 'frame'];
    const into = (next && next.id !== holds[0] ? next.id : undefined) ?? frame?.id ?? 'frame';
    const entry = newEntry.fastener(id, {
      ...stamp,
      ...(head ? { head: Math.round(head * 10) / 10 } : {}),
      at: round(at),
      face,
      holds,
      into,
      // Room enough for what is meant, until somebody measures it.
      holeDepth: fine((stamp.length ?? 2) + 0.5),
    });
    return { do: 'add', group: 'fasteners', entry, index: anatomy.fasteners.length + i };
  });
  const ids = [...beside];
  return { label: ids.length === 1 ? `Stamp ${ids[0]}` : `Stamp ${ids.length} screws`, changes, select: ids };
}

/** A plug: pressed on its socket, drawn to the part whose flex it is. */
export function addPlug(
  anatomy: Anatomy,
  from: Point,
  to: Point,
  face: 'front' | 'back',
  layer: number,
  chosen: string | null,
): Made | null {
  const socket = partsAt(anatomy, from, face, layer);
  const board = socket.find((p) => p.kind === 'board') ?? socket.at(-1) ?? frameOf(anatomy);
  const others = partsAt(anatomy, to, face, layer).filter((p) => p.id !== board?.id);
  const chosenPart = anatomy.parts.find((p) => p.id === chosen && p.id !== board?.id && !p.fixed);
  const part = chosenPart ?? others[0];
  if (!board || !part) return null;
  const id = freeId(anatomy, 'connectors', `${part.id}-flex`);
  const far = Math.hypot(to[0] - from[0], to[1] - from[1]) > 2;
  const entry = newEntry.connector(id, {
    name: `${part.name} flex`,
    from: part.id,
    to: board.id,
    at: round(from),
    face,
    isolatesPower: part.kind === 'battery' && !anatomy.connectors.some((c) => c.isolatesPower),
    carries: [...part.functions],
    route: far ? { line: [round(from), round(to)], width: 3 } : null,
  });
  return {
    label: `Draw ${id}`,
    changes: [{ do: 'add', group: 'connectors', entry, index: anatomy.connectors.length }],
    select: [id],
  };
}

/** What a part is stuck to: what lies beneath it, else the frame. */
function beneath(anatomy: Anatomy, part: Part): string {
  const [x, y, w, h] = boundsOf(part.outline);
  const under = partsAt(anatomy, [x + w / 2, y + h / 2], part.face, part.layer + 1)[0];
  return part.within ?? (part.kind === 'battery' ? frameOf(anatomy)?.id : under?.id) ?? frameOf(anatomy)?.id ?? 'frame';
}

export function addBond(anatomy: Anatomy, part: Part, place: 'round' | { area: Outline } | { line: Point[] }): Made {
  const id = freeId(anatomy, 'bonds', `${part.id}-${place === 'round' ? 'seal' : 'tape'}`);
  const joins = [
    part.id,
    place === 'round' ? (part.within ?? frameOf(anatomy)?.id ?? 'frame') : beneath(anatomy, part),
  ];
  const at =
    place === 'round'
      ? { perimeterOf: part.id, inset: 0.5, width: 1.4, gaps: [] }
      : 'area' in place
        ? place
        : { line: place.line.map(round), width: 2 };
  const entry = newEntry.bond(id, { joins, at, ...(place === 'round' ? { softensAt: 60, solvent: true } : {}) });
  return {
    label: `Draw ${id}`,
    changes: [{ do: 'add', group: 'bonds', entry, index: anatomy.bonds.length }],
    select: [id],
  };
}

export function addLatch(anatomy: Anatomy, part: Part, at: Point): Made {
  const id = freeId(anatomy, 'latches', `${part.id}-catches`);
  const [x, y, w, h] = boundsOf(part.outline);
  const away: [Edge, number][] = [
    ['top', Math.abs(at[1] - y)],
    ['right', Math.abs(x + w - at[0])],
    ['bottom', Math.abs(y + h - at[1])],
    ['left', Math.abs(at[0] - x)],
  ];
  const [edge] = away.reduce((a, b) => (b[1] < a[1] ? b : a));
  const entry = newEntry.latch(id, { joins: [part.id, part.within ?? frameOf(anatomy)?.id ?? 'frame'], edge });
  return {
    label: `Draw ${id}`,
    changes: [{ do: 'add', group: 'latches', entry, index: anatomy.latches.length }],
    select: [id],
  };
}

export function addTab(anatomy: Anatomy, bond: string, at: Point): Made | null {
  const found = anatomy.bonds.find((b) => b.id === bond);
  if (!found) return null;
  return {
    label: `Tab of ${bond}`,
    changes: [setOf(anatomy, 'bonds', bond, 'tabs', [...found.tabs, round(at)])],
    select: [bond],
  };
}

export function addMating(anatomy: Anatomy, plugs: readonly string[]): Made {
  return {
    label: 'Mating order',
    changes: [{ do: 'device', field: 'mateOrder', from: anatomy.mateOrder, to: [...anatomy.mateOrder, [...plugs]] }],
    select: [],
  };
}

/** Takes items out. What mentions them stays, and is told as a fault: nothing else is taken out unasked. */
export function remove(anatomy: Anatomy, ids: readonly string[]): Made {
  const gone = ids
    .map((id) => whereIs(anatomy, id))
    .filter((f) => f !== null && !('fixed' in f.entry && f.entry.fixed));
  gone.sort((a, b) => b!.index - a!.index);
  const changes = gone.map((f): Change => ({ do: 'remove', group: f!.group, entry: f!.entry, index: f!.index }));
  return {
    label: changes.length === 1 ? `Take out ${ids[0]}` : `Take out ${changes.length} items`,
    changes,
    select: [],
  };
}

/** The same again, a little aside. */
export function copy(anatomy: Anatomy, ids: readonly string[], by: Point = [3, 3]): Made {
  const beside = new Set<string>();
  const changes: Change[] = [];
  for (const id of ids) {
    const found = whereIs(anatomy, id);
    if (!found || ('fixed' in found.entry && found.entry.fixed)) continue;
    const base = id.replace(/-?\d+$/, '') || id;
    const named = freeId(anatomy, found.group, found.group === 'fasteners' ? undefined : base, beside);
    beside.add(named);
    changes.push({
      do: 'add',
      group: found.group,
      entry: { ...found.entry, id: named } as AnyEntry,
      index: (anatomy[found.group] as AnyEntry[]).length,
    });
  }
  const added = { ...anatomy };
  for (const c of changes)
    if (c.do === 'add') (added as Record<string, unknown>)[c.group] = [...(added[c.group] as AnyEntry[]), c.entry];
  const shift = move(added, [...beside], ...by).changes.filter((c) => c.do === 'set' && beside.has(c.id));
  return {
    label: `Copy ${ids.length === 1 ? ids[0] : `${ids.length} items`}`,
    changes: [...changes, ...shift],
    select: [...beside],
  };
}

/** Mirrored about the middle line of the body. */
export function mirror(anatomy: Anatomy, ids: readonly string[]): Made {
  const { width } = anatomy.body;
  const flip = ([x, y]: Point): Point => round([width - x, y]);
  const flipped = (o: Outline): Outline => {
    if ('circle' in o) return { circle: [fine(width - o.circle[0]), o.circle[1], o.circle[2]] };
    if ('polygon' in o) return { polygon: o.polygon.map(flip).reverse() };
    const [x, y, w, h] = o.rect;
    return { ...o, rect: [fine(width - x - w), y, w, h] };
  };
  const changes: Change[] = [];
  for (const id of ids) {
    const found = whereIs(anatomy, id);
    if (!found) continue;
    const { group, entry } = found;
    const set = (field: string, to: unknown) => changes.push(setOf(anatomy, group, id, field, to));
    if ('outline' in entry) set('outline', flipped(entry.outline));
    else if ('head' in entry) set('at', flip(entry.at));
    else if ('size' in entry) {
      set('at', flip(entry.at));
      if (entry.route) set('route', { ...entry.route, line: entry.route.line.map(flip) });
    } else if ('tabs' in entry) {
      if ('area' in entry.at) set('at', { area: flipped(entry.at.area) });
      else if ('line' in entry.at) set('at', { ...entry.at, line: entry.at.line.map(flip) });
      set('tabs', entry.tabs.map(flip));
    }
  }
  return { label: 'Mirror', changes, select: [...ids] };
}

export const ALIGN = ['left', 'middle', 'right', 'top', 'centre', 'bottom'] as const;
export type Align = (typeof ALIGN)[number];

/** Bounds of an item on the board. */
export function boundsOfItem(entry: AnyEntry): Rect | null {
  if ('outline' in entry) return boundsOf(entry.outline);
  if ('head' in entry) return [entry.at[0] - entry.head / 2, entry.at[1] - entry.head / 2, entry.head, entry.head];
  if ('size' in entry) return [entry.at[0] - entry.size[0] / 2, entry.at[1] - entry.size[1] / 2, ...entry.size];
  if ('tabs' in entry && 'area' in entry.at) return boundsOf(entry.at.area);
  return null;
}

/** Items in line with the first of them. */
export function align(anatomy: Anatomy, ids: readonly string[], how: Align): Made {
  const [first, ...rest] = ids.flatMap((id) => {
    const found = whereIs(anatomy, id);
    const bounds = found && boundsOfItem(found.entry);
    return bounds ? [{ id, bounds }] : [];
  });
  if (!first) return { label: 'Align', changes: [], select: [...ids] };
  const place = ([x, y, w, h]: Rect): number =>
    ({ left: x, middle: x + w / 2, right: x + w, top: y, centre: y + h / 2, bottom: y + h })[how];
  const across = how === 'left' || how === 'middle' || how === 'right';
  const changes = rest.flatMap(({ id, bounds }) => {
    const off = fine(place(first.bounds) - place(bounds));
    return move(anatomy, [id], across ? off : 0, across ? 0 : off).changes;
  });
  return { label: `Align ${how}`, changes, select: [...ids] };
}
