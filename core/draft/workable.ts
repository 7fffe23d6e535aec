import type { Anatomy, Part } from '../anatomy/index.ts';
import { FASTENERS } from '../kinds/index.ts';
import { GROUPS, mentionsOf } from './references.ts';

/**
 * What of a draft can be computed with while it is being drawn: entries that rest on something that is not there yet
 * are left out, and optional mentions of it dropped. A sound anatomy is given back as it is.
 */
export function workable(anatomy: Anatomy): Anatomy {
  let next = withoutDoubles(anatomy);
  next = withoutCircles(next);
  // What rests on something that is left out is left out as well, until nothing more is.
  for (let round = 0; round < 8; round++) {
    const made = withoutDangling(next);
    if (made === next) return next;
    next = made;
  }
  return next;
}

function withoutDoubles(anatomy: Anatomy): Anatomy {
  const seen = new Set<string>();
  let doubled = false;
  const first = <T extends { id: string }>(list: T[]): T[] =>
    list.filter(({ id }) => {
      if (seen.has(id)) doubled = true;
      else return seen.add(id);
      return false;
    });
  const { parts, fasteners, connectors, bonds, latches } = anatomy;
  const once = {
    parts: first(parts),
    fasteners: first(fasteners),
    connectors: first(connectors),
    bonds: first(bonds),
    latches: first(latches),
  };
  return doubled ? { ...anatomy, ...once } : anatomy;
}

/** Parts that travel within each other in a circle travel with nothing. */
function withoutCircles(anatomy: Anatomy): Anatomy {
  const within = new Map(anatomy.parts.map((p) => [p.id, p.within]));
  const circles = (id: string): boolean => {
    let at: string | null | undefined = within.get(id);
    for (let i = 0; at && i <= anatomy.parts.length; i++) {
      if (at === id) return true;
      at = within.get(at);
    }
    return false;
  };
  const standoffs = new Map(anatomy.fasteners.map((f) => [f.id, f.into]));
  const driven = (id: string): boolean => {
    let at = standoffs.get(id);
    for (let i = 0; at !== undefined && i <= standoffs.size; i++) {
      if (at === id) return true;
      at = standoffs.get(at);
    }
    return false;
  };
  const fasteners = anatomy.fasteners.filter((f) => !driven(f.id));
  const parts = anatomy.parts.some((p) => circles(p.id))
    ? anatomy.parts.map((p): Part => (circles(p.id) ? { ...p, within: null } : p))
    : anatomy.parts;
  if (parts === anatomy.parts && fasteners.length === anatomy.fasteners.length) return anatomy;
  return { ...anatomy, parts, fasteners };
}

function withoutDangling(anatomy: Anatomy): Anatomy {
  const items = new Set(
    [anatomy.parts, anatomy.fasteners, anatomy.connectors, anatomy.bonds, anatomy.latches].flatMap((list) =>
      list.map(({ id }) => id),
    ),
  );
  const functions = new Set(anatomy.functions.map((f) => f.id));
  const parts = new Set(anatomy.parts.map((p) => p.id));
  const connectors = new Set(anatomy.connectors.map((c) => c.id));
  const known = { item: items, function: functions, spare: new Set(anatomy.spares.map((s) => s.id)) };
  const seats = new Set([...parts, ...anatomy.fasteners.filter((f) => FASTENERS.of(f.kind).seat).map((f) => f.id)]);
  const sound =
    mentionsOf(anatomy).every((m) => known[m.names].has(m.id)) &&
    anatomy.fasteners.every((f) => f.holds.length > 0 && f.holds.every((id) => parts.has(id)) && seats.has(f.into)) &&
    anatomy.connectors.every((c) => parts.has(c.from) && parts.has(c.to)) &&
    [...anatomy.bonds, ...anatomy.latches].every((b) => b.joins.length > 1 && b.joins.every((id) => parts.has(id)));
  if (sound) return anatomy;
  const among =
    (set: ReadonlySet<string>) =>
    (ids: string[]): string[] =>
      ids.every((id) => set.has(id)) ? ids : ids.filter((id) => set.has(id));
  const [inItems, inParts, inFunctions, inConnectors] = [items, parts, functions, connectors].map(among) as [
    (ids: string[]) => string[],
    (ids: string[]) => string[],
    (ids: string[]) => string[],
    (ids: string[]) => string[],
  ];
  return {
    ...anatomy,
    parts: anatomy.parts.map((p) => ({
      ...p,
      within: p.within !== null && parts.has(p.within) ? p.within : null,
      swing: p.swing && {
        ...p.swing,
        tether: inConnectors(p.swing.tether),
        gap: p.swing.gap && { ...p.swing.gap, reaches: inConnectors(p.swing.gap.reaches) },
      },
      pairing: p.pairing.filter((q) => parts.has(q.with)).map((q) => ({ ...q, loses: inFunctions(q.loses) })),
      functions: inFunctions(p.functions),
    })),
    fasteners: anatomy.fasteners.flatMap((f) => {
      const holds = inParts(f.holds).filter((id) => id !== f.into);
      return holds.length > 0 && seats.has(f.into) ? [{ ...f, holds }] : [];
    }),
    connectors: anatomy.connectors.flatMap((c) =>
      parts.has(c.from) && parts.has(c.to) && c.from !== c.to
        ? [
            {
              ...c,
              beneath: inConnectors(c.beneath),
              under: inParts(c.under),
              after: inItems(c.after),
              carries: inFunctions(c.carries),
              liesOver: inItems(c.liesOver),
              reachedBy: c.reachedBy && parts.has(c.reachedBy.swing) ? c.reachedBy : null,
            },
          ]
        : [],
    ),
    bonds: anatomy.bonds.flatMap((b) => {
      const joins = inParts(b.joins);
      if (joins.length < 2 || ('perimeterOf' in b.at && !parts.has(b.at.perimeterOf))) return [];
      return [
        {
          ...b,
          joins,
          flex: b.flex !== null && connectors.has(b.flex) ? b.flex : null,
          staysOn: b.staysOn !== null && joins.includes(b.staysOn) ? b.staysOn : null,
        },
      ];
    }),
    latches: anatomy.latches.flatMap((l) => {
      const joins = inParts(l.joins);
      return joins.length < 2 ? [] : [{ ...l, joins }];
    }),
    orders: anatomy.orders.filter((o) => items.has(o.first) && items.has(o.then)),
    mateOrder: anatomy.mateOrder.map(inConnectors).filter((list) => list.length > 1),
    spares: anatomy.spares.flatMap((s) => {
      const includes = inParts(s.includes);
      const brings = s.brings.filter((id) => anatomy.bonds.some((b) => b.id === id));
      return parts.has(s.replaces) && includes.length > 0 ? [{ ...s, includes, brings }] : [];
    }),
  };
}

/** The group and the place in it that a path of a fault begins with: `fasteners[4].at` is `fasteners`, 4. */
export function placeIn(path: string): { group: (typeof GROUPS)[number]; index: number } | null {
  const found = /^(\w+)\[(\d+)\]/.exec(path);
  const group = GROUPS.find((g) => g === found?.[1]);
  return found && group ? { group, index: Number(found[2]) } : null;
}
