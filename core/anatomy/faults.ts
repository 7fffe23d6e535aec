import { BONDS, CONNECTORS, FASTENERS } from '../kinds/index.ts';
import {
  boundsMeet,
  boundsOf,
  boundsOfRegion,
  bondRegion,
  outlineContains,
  outlinesOverlap,
  rectAround,
  regionOf,
  regionsOverlap,
} from './geometry.ts';
import { batteryFault } from './battery.ts';
import { completed } from './complete.ts';
import { sayShapes } from './shape.ts';
import type { Anatomy, Fault, Fastener, Outline } from './types.ts';
import { called } from './called.ts';
import { railsOf } from './rails.ts';
import { usesOfSecond } from './version.ts';

/** A cycle among `edges`, as the ids along it, or `null`. */
export function findCycle(edges: ReadonlyMap<string, readonly string[]>): string[] | null {
  const colour = new Map<string, 'open' | 'closed'>();
  const path: string[] = [];
  const visit = (node: string): string[] | null => {
    if (colour.get(node) === 'closed') return null;
    if (colour.get(node) === 'open') return path.slice(path.indexOf(node));
    colour.set(node, 'open');
    path.push(node);
    for (const next of edges.get(node) ?? []) {
      const cycle = visit(next);
      if (cycle) return cycle;
    }
    path.pop();
    colour.set(node, 'closed');
    return null;
  };
  for (const node of edges.keys()) {
    const cycle = visit(node);
    if (cycle) return cycle;
  }
  return null;
}

/**
 * What is wrong with a well-shaped anatomy: ids that name nothing, circles of order, and geometry
 * that cannot be. Whether every part can be reached and refitted is asked of the planner.
 */
export function faultsOf(document: Anatomy): Fault[] {
  const anatomy = completed(document);
  const faults: Fault[] = [];
  const say = (path: string, message: string) => faults.push({ path, message });
  const battery = batteryFault(anatomy.battery);
  if (battery) say('battery.volts', battery);
  const partIds = new Set(anatomy.parts.map((p) => p.id));
  const fastenerIds = new Set(anatomy.fasteners.map((f) => f.id));
  const connectorIds = new Set(anatomy.connectors.map((c) => c.id));
  const functionIds = new Set(anatomy.functions.map((f) => f.id));
  const itemIds = new Set([
    ...partIds,
    ...fastenerIds,
    ...connectorIds,
    ...anatomy.bonds.map((b) => b.id),
    ...anatomy.latches.map((l) => l.id),
  ]);

  const known = (set: ReadonlySet<string>, what: string) => (id: string, path: string) => {
    if (!set.has(id)) say(path, `there is no ${what} "${id}"; add it or correct the id`);
    return set.has(id);
  };
  const part = known(partIds, 'part');
  const connector = known(connectorIds, 'connector');
  const bond = known(new Set(anatomy.bonds.map((b) => b.id)), 'bond');
  const fn = known(functionIds, 'function');
  const item = known(itemIds, 'item');

  const groups: [string, readonly { id: string }[]][] = [
    ['parts', anatomy.parts],
    ['fasteners', anatomy.fasteners],
    ['connectors', anatomy.connectors],
    ['bonds', anatomy.bonds],
    ['latches', anatomy.latches],
  ];
  const firstAt = new Map<string, string>();
  for (const [group, list] of groups) {
    list.forEach(({ id }, i) => {
      const path = `${group}[${i}].id`;
      if (firstAt.has(id))
        say(path, `"${id}" is used already at ${firstAt.get(id)}; every item needs an id of its own`);
      else firstAt.set(id, path);
    });
  }
  for (const [group, list] of [
    ['functions', anatomy.functions],
    ['spares', anatomy.spares],
  ] as const) {
    const seen = new Set<string>();
    list.forEach(({ id }, i) => {
      if (seen.has(id)) say(`${group}[${i}].id`, `"${id}" is used twice; every one needs an id of its own`);
      seen.add(id);
    });
  }

  anatomy.parts.forEach((p, i) => {
    const at = `parts[${i}]`;
    if (p.within !== null) part(p.within, `${at}.within`);
    p.swing?.tether.forEach((id, j) => connector(id, `${at}.swing.tether[${j}]`));
    p.swing?.gap?.reaches.forEach((id, j) => connector(id, `${at}.swing.gap.reaches[${j}]`));
    p.pairing.forEach((pair, j) => {
      part(pair.with, `${at}.pairing[${j}].with`);
      pair.loses.forEach((id, k) => fn(id, `${at}.pairing[${j}].loses[${k}]`));
    });
    p.functions.forEach((id, j) => fn(id, `${at}.functions[${j}]`));
  });
  anatomy.fasteners.forEach((f, i) => {
    f.holds.forEach((id, j) => part(id, `fasteners[${i}].holds[${j}]`));
    const standoff = anatomy.fasteners.find((other) => other.id === f.into && FASTENERS.of(other.kind).seat);
    if (!standoff) part(f.into, `fasteners[${i}].into`);
    if (f.holds.includes(f.into))
      say(
        `fasteners[${i}].into`,
        `"${f.into}" is also held by this fastener; a screw joins what it holds to something else`,
      );
  });
  anatomy.connectors.forEach((c, i) => {
    const at = `connectors[${i}]`;
    part(c.from, `${at}.from`);
    part(c.to, `${at}.to`);
    if (c.from === c.to) say(`${at}.to`, `the connector joins "${c.from}" to itself`);
    c.beneath.forEach((id, j) => connector(id, `${at}.beneath[${j}]`));
    c.under.forEach((id, j) => part(id, `${at}.under[${j}]`));
    if (c.reachedBy) part(c.reachedBy.swing, `${at}.reachedBy.swing`);
    c.after.forEach((id, j) => item(id, `${at}.after[${j}]`));
    c.carries.forEach((id, j) => fn(id, `${at}.carries[${j}]`));
    c.liesOver.forEach((id, j) => {
      if (item(id, `${at}.liesOver[${j}]`) && (id === c.id || id === c.from))
        say(
          `${at}.liesOver[${j}]`,
          `"${id}" cannot be reached before ${called(c)} if it is the connector or its own part`,
        );
    });
  });
  anatomy.bonds.forEach((b, i) => {
    b.joins.forEach((id, j) => part(id, `bonds[${i}].joins[${j}]`));
    if (b.flex !== null) connector(b.flex, `bonds[${i}].flex`);
    if (b.staysOn !== null && part(b.staysOn, `bonds[${i}].staysOn`) && !b.joins.includes(b.staysOn))
      say(`bonds[${i}].staysOn`, `${b.id} does not join "${b.staysOn}"; name one of ${b.joins.join(', ')}`);
    if ('perimeterOf' in b.at) part(b.at.perimeterOf, `bonds[${i}].at.perimeterOf`);
    if (BONDS.of(b.kind).tabs !== null && b.tabs.length === 0) {
      say(`bonds[${i}].tabs`, `a ${b.kind} needs at least one point where it is gripped`);
    }
  });
  anatomy.latches.forEach((l, i) => l.joins.forEach((id, j) => part(id, `latches[${i}].joins[${j}]`)));
  anatomy.orders.forEach((o, i) => {
    item(o.first, `orders[${i}].first`);
    item(o.then, `orders[${i}].then`);
  });
  anatomy.mateOrder.forEach((list, i) => list.forEach((id, j) => connector(id, `mateOrder[${i}][${j}]`)));
  anatomy.spares.forEach((s, i) => {
    part(s.replaces, `spares[${i}].replaces`);
    s.includes.forEach((id, j) => part(id, `spares[${i}].includes[${j}]`));
    s.brings.forEach((id, j) => bond(id, `spares[${i}].brings[${j}]`));
    if (!s.includes.includes(s.replaces))
      say(`spares[${i}].includes`, `must include the part it replaces, "${s.replaces}"`);
  });
  saySecond(anatomy, say);
  if (!anatomy.parts.some((p) => p.fixed))
    say('parts', 'one part must be fixed: the frame that everything is fastened to');
  if (anatomy.connectors.length > 0 && !anatomy.connectors.some((c) => c.isolatesPower)) {
    say('connectors', 'no connector isolates the power; set isolatesPower on the one that cuts the battery off');
  }
  if (faults.length > 0) return faults;

  sayCycles(anatomy, say);
  if (faults.length > 0) return faults;
  sayShapes(anatomy, say);
  if (faults.length > 0) return faults;
  sayStructure(anatomy, say);
  sayGeometry(anatomy, say);
  return faults;
}

type Say = (path: string, message: string) => void;

/** What only `/2` has: whether the document says that it is one, and what its fields name. */
function saySecond(anatomy: Anatomy, say: Say): void {
  if (anatomy.schema === 'nibrel.anatomy/1')
    for (const path of usesOfSecond(anatomy)) say(path, 'only nibrel.anatomy/2 has this; say so in "schema"');
  const named = <T extends { id: string }>(list: readonly T[], group: string, what: string) => {
    const ids = new Set(list.map((x) => x.id));
    if (ids.size < list.length) say(group, `two of these have one id; every ${what} needs an id of its own`);
    return (id: string, path: string) => {
      if (!ids.has(id)) say(path, `there is no ${what} "${id}"; add it to "${group}" or correct the id`);
    };
  };
  const rail = named(railsOf(anatomy), 'rails', 'rail');
  const body = named(anatomy.bodies ?? [], 'bodies', 'body');
  const part = new Map(anatomy.parts.map((p) => [p.id, p]));
  const items = new Set(
    [anatomy.parts, anatomy.fasteners, anatomy.connectors, anatomy.bonds, anatomy.latches].flat().map((x) => x.id),
  );
  anatomy.rails?.forEach((r, i) => r.feeds.forEach((id, j) => body(id, `rails[${i}].feeds[${j}]`)));
  anatomy.cells?.forEach((c, i) => {
    rail(c.rail, `cells[${i}].rail`);
    if (part.get(c.part)?.kind !== 'battery')
      say(`cells[${i}].part`, `there is no battery "${c.part}" among the parts; name the part that holds this cell`);
    const fault = batteryFault({ ...c, cells: c.series * c.parallel });
    if (fault) say(`cells[${i}].volts`, fault);
  });
  anatomy.parts.forEach((p, i) => {
    if (p.body) body(p.body, `parts[${i}].body`);
  });
  anatomy.connectors.forEach((c, i) => {
    if (!c.isolates) return;
    rail(c.isolates, `connectors[${i}].isolates`);
    if (!c.isolatesPower)
      say(`connectors[${i}].isolatesPower`, `${called(c)} cuts the rail "${c.isolates}"; set isolatesPower as well`);
  });
  const screws = new Map(anatomy.fasteners.map((f) => [f.id, f]));
  anatomy.bonds.forEach((b, i) =>
    b.compressedBy?.forEach((id, j) => {
      const path = `bonds[${i}].compressedBy[${j}]`;
      const screw = screws.get(id);
      if (!screw) say(path, `there is no fastener "${id}"; add it or correct the id`);
      else if (!screw.holds.some((held) => b.joins.includes(held)))
        say(path, `${id} holds nothing that ${b.id} joins, so it does not press it`);
    }),
  );
  const { hinge } = anatomy;
  if (!hinge) return;
  if (!anatomy.bodies) say('bodies', 'a hinge joins bodies; tell their outlines');
  hinge.crosses.forEach((id, j) => {
    if (!anatomy.connectors.some((c) => c.id === id))
      say(`hinge.crosses[${j}]`, `there is no connector "${id}"; add it or correct the id`);
  });
  if (hinge.inner !== null && part.get(hinge.inner)?.kind !== 'display')
    say('hinge.inner', `there is no display "${hinge.inner}" among the parts`);
  hinge.half.forEach((id, j) => {
    if (!items.has(id)) say(`hinge.half[${j}]`, `there is no item "${id}"; add it or correct the id`);
  });
}

function sayCycles(anatomy: Anatomy, say: Say): void {
  const group = (pairs: readonly (readonly [string, string])[]) => {
    const map = new Map<string, string[]>();
    for (const [from, to] of pairs) map.set(from, [...(map.get(from) ?? []), to]);
    return map;
  };
  const checks: [string, ReadonlyMap<string, readonly string[]>, string][] = [
    [
      'parts',
      group(anatomy.parts.flatMap((p) => (p.within ? [[p.id, p.within] as const] : []))),
      'parts lie within each other in a circle',
    ],
    [
      'connectors',
      group(anatomy.connectors.flatMap((c) => c.beneath.map((id) => [c.id, id] as const))),
      'connectors lie beneath each other in a circle',
    ],
    ['orders', group(anatomy.orders.map((o) => [o.first, o.then] as const)), 'the orders run in a circle'],
    [
      'mateOrder',
      group(anatomy.mateOrder.flatMap((list) => list.slice(1).map((id, i) => [list[i]!, id] as const))),
      'the mating orders run in a circle',
    ],
    [
      'fasteners',
      group(anatomy.fasteners.map((f) => [f.id, f.into] as const)),
      'standoffs are driven into each other in a circle',
    ],
  ];
  for (const [path, edges, message] of checks) {
    const cycle = findCycle(edges);
    if (cycle) say(path, `${message}: ${[...cycle, cycle[0]].join(' → ')}; remove one of these links`);
  }
}

function familyIds(anatomy: Anatomy, root: string): Set<string> {
  const family = new Set([root]);
  for (let grown = true; grown; ) {
    grown = false;
    for (const p of anatomy.parts) {
      if (p.within && family.has(p.within) && !family.has(p.id)) {
        family.add(p.id);
        grown = true;
      }
    }
  }
  return family;
}

function sayStructure(anatomy: Anatomy, say: Say): void {
  anatomy.parts.forEach((p, i) => {
    if (p.fixed && (p.within !== null || p.swing))
      say(`parts[${i}].fixed`, 'a fixed part neither travels within another nor swings');
    const family = familyIds(anatomy, p.id);
    p.swing?.tether.forEach((id, j) => {
      const c = anatomy.connectors.find((other) => other.id === id)!;
      if (family.has(c.from) === family.has(c.to)) {
        say(
          `parts[${i}].swing.tether[${j}]`,
          `"${id}" does not join ${called(p)} to the rest of the device, so it cannot be its tether`,
        );
      }
    });
  });
  anatomy.connectors.forEach((c, i) => {
    if (!c.reachedBy) return;
    const swung = anatomy.parts.find((p) => p.id === c.reachedBy!.swing)!;
    if (!swung.swing)
      say(`connectors[${i}].reachedBy.swing`, `"${swung.id}" has no swing; give it one or drop reachedBy`);
  });
  anatomy.spares.forEach((s, i) => {
    const family = familyIds(anatomy, s.replaces);
    s.includes.forEach((id, j) => {
      if (!family.has(id)) say(`spares[${i}].includes[${j}]`, `"${id}" does not travel within "${s.replaces}"`);
    });
  });
}

function sayGeometry(anatomy: Anatomy, say: Say): void {
  /** What cannot be computed of an item is a fault of that item, not of the program. */
  const each = <T>(list: readonly T[], group: string, look: (item: T, i: number) => void) => {
    list.forEach((item, i) => {
      try {
        look(item, i);
      } catch (cause) {
        say(`${group}[${i}]`, cause instanceof Error ? cause.message : String(cause));
      }
    });
  };
  const body: Outline = { rect: [0, 0, anatomy.body.width, anatomy.body.height], radius: anatomy.body.cornerRadius };
  const outline = (id: string): Outline => anatomy.parts.find((p) => p.id === id)!.outline;
  const seat = (f: Fastener): string => {
    const standoff = anatomy.fasteners.find((other) => other.id === f.into);
    return standoff ? seat(standoff) : f.into;
  };

  each(anatomy.parts, 'parts', (p, i) => {
    if (p.face !== 'edge' && !outlineContains(body, p.outline, 0.05)) {
      say(
        `parts[${i}].outline`,
        `${called(p)} reaches outside the body of ${anatomy.body.width} × ${anatomy.body.height} mm`,
      );
    }
    if (p.within !== null && !outlineContains(outline(p.within), p.outline, 0.1)) {
      say(`parts[${i}].outline`, `${called(p)} reaches outside the assembly it travels with, ${p.within}`);
    }
  });
  each(anatomy.fasteners, 'fasteners', (f, i) => {
    const path = `fasteners[${i}]`;
    if (f.length !== null && f.holeDepth < f.length) {
      say(
        `${path}.holeDepth`,
        `the hole is ${f.holeDepth} mm deep but ${f.id} is ${f.length} mm long; it would come through what lies below`,
      );
    }
    if (f.head < f.thread && FASTENERS.of(f.kind).turned)
      say(`${path}.head`, `the head (${f.head} mm) is smaller than the thread (${f.thread} mm)`);
    if (f.face === 'edge') return;
    const core: Outline = { circle: [f.at[0], f.at[1], f.thread / 2] };
    for (const id of [...f.holds, seat(f)]) {
      if (!outlineContains(outline(id), core, 0.05))
        say(`${path}.at`, `${f.id} at ${f.at.join(', ')} lies outside ${id}; move the screw or correct the outline`);
    }
  });
  each(anatomy.connectors, 'connectors', (c, i) => {
    const area = rectAround(c.at, c.size);
    if (!CONNECTORS.of(c.kind).byItself && !outlinesOverlap(area, outline(c.to)))
      say(`connectors[${i}].at`, `${called(c)} does not lie on ${c.to}`);
    if (!boundsMeet(boundsOf(area), boundsOf(body))) say(`connectors[${i}].at`, `${called(c)} lies outside the body`);
    if (!c.route) return;
    // What a pick must not touch is only as good as the line that is drawn for it.
    c.route.line.forEach(([x, y], j) => {
      if (x < 0 || y < 0 || x > anatomy.body.width || y > anatomy.body.height)
        say(
          `connectors[${i}].route.line[${j}]`,
          `${x}, ${y} lies outside the body of ${anatomy.body.width} × ${anatomy.body.height} mm`,
        );
    });
    const [first, last] = [c.route.line[0]!, c.route.line.at(-1)!];
    const off = Math.min(...[first, last].map(([x, y]) => Math.hypot(x - c.at[0], y - c.at[1])));
    if (off > Math.max(...c.size))
      say(
        `connectors[${i}].route.line`,
        `the route ends ${off.toFixed(1)} mm from ${called(c)}; let it begin or end at the connector`,
      );
  });
  each(anatomy.bonds, 'bonds', (b, i) => {
    const region = bondRegion(b, outline);
    if (region.length === 0) {
      say(`bonds[${i}].at`, `${b.id} covers nothing; its gaps, inset or width leave no adhesive`);
      return;
    }
    for (const id of b.joins) {
      if (
        !boundsMeet(boundsOfRegion(region), boundsOf(outline(id))) ||
        !regionsOverlap(region, regionOf(outline(id)))
      ) {
        say(`bonds[${i}].at`, `${b.id} does not touch ${id}, which it is said to join`);
      }
    }
  });
}
