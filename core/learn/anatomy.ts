import {
  boundsOf,
  centreOf,
  findCycle,
  versionOf,
  type Anatomy,
  type Bond,
  type BondPlace,
  type Connector,
  type Edge,
  type Face,
  type Fastener,
  type Latch,
  type Order,
  type Outline,
  type Part,
  type Point,
  type Rect,
} from '../anatomy/index.ts';
import type { UnknownDevice } from '../explore/index.ts';
import { newEntry } from '../draft/index.ts';
import { BONDS, FASTENERS } from '../kinds/index.ts';
import type { Done, Thing, Told } from './dives.ts';
import { SURE, type Evidence } from './evidence.ts';
import { boundsOfJoint, keyOfDone, neighbours, type Orders } from './order.ts';
import { cornersOf, hullOf, including } from './outline.ts';
import { layered } from './layers.ts';
import type { Relations } from './relations.ts';
import { CAUGHT, DEEP_DOWN, FRAME, keptOn, REST, UNSEEN_BATTERY, UNSEEN_PLUG, unseenFlexOf } from './unseen.ts';

/** Things farther apart than this have nothing to do with one another unless they join, mm. Origin: own choice. */
const HAVE_TO_DO = 5;

/** Threads of screws that nobody has measured, mm. Origin: the usual screw of such devices, common practice. */
const USUAL = { thread: 1.2, head: 2, length: 2, holeMargin: 0.4 } as const;

/** Draws an anatomy of what was told and inferred. It has no faults but that some of it may never have been reached. */
export function draw(
  told: Told,
  device: UnknownDevice,
  relations: Relations,
  orders: Orders,
): { anatomy: Anatomy; evidence: Evidence[] } {
  return new Drawing(told, device, relations, orders).anatomy();
}

class Drawing {
  private readonly outlines = new Map<string, Outline>();
  private readonly evidence: Evidence[];

  constructor(
    private readonly told: Told,
    private readonly device: UnknownDevice,
    private readonly relations: Relations,
    private readonly orders: Orders,
  ) {
    this.evidence = [...relations.evidence];
  }

  anatomy(): { anatomy: Anatomy; evidence: Evidence[] } {
    this.layOutlines();
    const { body } = this.told;
    const flat: Anatomy = {
      schema: 'nibrel.anatomy/1',
      id: 'learnt',
      name: this.device.name,
      maker: 'Not known yet',
      kind: this.device.kind,
      body: { ...body },
      battery: this.device.battery ?? { volts: 3.8, milliampHours: 3000, cells: 1 },
      parts: this.parts(),
      fasteners: this.of('fastener').map((t) => this.fastener(t)),
      connectors: this.connectors(),
      bonds: this.of('bond').map((t) => this.bond(t)),
      latches: this.of('latch').map((t) => this.latch(t)),
      orders: this.orderList(),
      mateOrder: this.mateOrder(),
      functions: this.device.functions.map((f) => ({ ...f, unplaced: true })),
      spares: [],
    };
    this.fitCorners(flat);
    const { anatomy: drawn, evidence } = layered(flat, this.told, this.orders);
    const anatomy = { ...drawn, schema: versionOf(drawn) };
    return { anatomy, evidence: [...this.evidence, ...evidence] };
  }

  private of(type: Thing['type']): Thing[] {
    return [...this.told.things.values()].filter((t) => t.type === type);
  }

  /** Outlines as they were drawn, grown so that each holds what it is known to hold. */
  private layOutlines(): void {
    const { body } = this.told;
    const whole: Outline = { rect: [0, 0, body.width, body.height] };
    this.outlines.set(FRAME, whole);
    this.outlines.set(REST, whole);
    const points = new Map<string, Point[]>();
    const ask = (part: string, list: readonly Point[]) => points.set(part, [...(points.get(part) ?? []), ...list]);
    for (const t of this.of('fastener')) {
      const { holds, into } = this.relations.fasteners.get(t.id)!;
      if (t.place) for (const p of [...holds, into]) ask(p, around(t.place, USUAL.thread / 2 + 0.1));
    }
    for (const t of this.of('connector'))
      if (t.place) ask(this.relations.connectors.get(t.id)!.to, around(t.place, 0.3));
    // What showed as soon as a part was away lay under it, however roughly that was drawn.
    for (const t of this.told.things.values())
      if (t.place && (t.type === 'fastener' || t.type === 'connector'))
        for (const part of this.orders.uncoveredBy(t.id)) ask(part, around(t.place, 0.5));
    for (const t of this.of('bond')) {
      const middle = middleOf(t);
      if (middle) for (const p of this.relations.joints.get(t.id)!.joins) ask(p, around(middle, 0.6));
    }
    const parts = this.of('part');
    const held = new Set([...this.relations.fasteners.values()].flatMap((f) => f.holds));
    // Children first: an assembly holds what is in it.
    const depth = (t: Thing): number => (t.on === null ? 0 : 1 + depth(this.told.things.get(t.on)!));
    for (const t of parts.toSorted((a, b) => depth(b) - depth(a))) {
      const asked = points.get(t.id) ?? [];
      const drawn = t.outline ?? this.unseen(asked);
      const outline = including(drawn, asked, body);
      this.outlines.set(t.id, outline);
      if (held.has(keptOn(t.id))) {
        const kept = points.get(keptOn(t.id)) ?? around(centreOf(outline), 0.5);
        this.outlines.set(keptOn(t.id), { polygon: hullOf(kept) });
      }
      if (t.on !== null) ask(t.on, cornersOf(outline));
    }
  }

  /** A part that was not drawn lies round what it held, or in the middle. */
  private unseen(asked: readonly Point[]): Outline {
    const { width, height } = this.told.body;
    const [first] = asked;
    if (!first) return { rect: [width * 0.4, height * 0.4, width * 0.2, height * 0.2] };
    return { rect: [Math.min(first[0], width - 2), Math.min(first[1], height - 2), 2, 2] };
  }

  /** Corners of the body are round; what would stick out of them makes them square. */
  private fitCorners(anatomy: Anatomy): void {
    const { width, height, cornerRadius: r } = anatomy.body;
    if (r === 0) return;
    const centres: Point[] = [
      [r, r],
      [width - r, r],
      [width - r, height - r],
      [r, height - r],
    ];
    const out = ([x, y]: Point) => {
      const [cx, cy] = centres[(x > width / 2 ? (y > height / 2 ? 2 : 1) : y > height / 2 ? 3 : 0) as 0 | 1 | 2 | 3]!;
      const beyond = (x < r || x > width - r) && (y < r || y > height - r);
      return beyond && Math.hypot(x - cx, y - cy) > r;
    };
    for (const part of anatomy.parts) {
      if (part.face === 'edge') continue;
      if (!cornersOf(part.outline).some(out)) continue;
      if ('rect' in part.outline) {
        const [, , w, h] = part.outline.rect;
        part.outline = { rect: part.outline.rect, radius: Math.min(r, w / 2, h / 2) };
        if (!cornersOf(part.outline).every((p) => inBody(p, part.outline, out))) anatomy.body.cornerRadius = 0;
      } else anatomy.body.cornerRadius = 0;
    }
    if (anatomy.body.cornerRadius === 0)
      for (const part of anatomy.parts)
        if ('rect' in part.outline && this.outlines.has(part.id)) part.outline = this.outlines.get(part.id)!;
  }

  /** Its number among its like, in the order in which they were met. */
  private placeOf(t: Thing): number {
    return this.of(t.type).indexOf(t) + 1;
  }

  private faceOf(t: Thing): Face {
    return t.seen.face ?? 'front';
  }

  private parts(): Part[] {
    const fixed = (id: string, name: string, kind: Part['kind']) =>
      newEntry.part(id, { name, kind, fixed: true, outline: this.outlines.get(id)! });
    const learnt = this.of('part').map((t): Part => {
      const { within, hinge, degrees, tether, gap } = this.relations.parts.get(t.id)!;
      const kind = t.seen.part ?? 'other';
      return newEntry.part(t.id, {
        name: t.seen.name ?? `Part ${this.placeOf(t)}`,
        kind,
        face: this.faceOf(t),
        outline: this.outlines.get(t.id)!,
        within,
        swing: hinge === null ? null : { hinge, degrees, tether: [...tether, ...this.unseenTether(t)], gap },
        fate: t.seen.spent ? 'renew' : 'keep',
        glass: t.seen.glass ?? false,
      });
    });
    const known = [fixed(FRAME, 'Frame', 'frame'), fixed(REST, 'All that stayed in', 'other'), ...learnt];
    known.push(...learnt.flatMap((p) => this.keptOnPart(p)), ...this.heldByCatches());
    return learnt.some((p) => p.kind === 'battery') ? known : [...known, this.unseenBattery()];
  }

  /** What screws hold on a part from which nothing was taken off. */
  private keptOnPart({ id, name }: Part): Part[] {
    const screw = this.of('fastener').find((t) => this.relations.fasteners.get(t.id)!.holds.includes(keptOn(id)));
    if (!screw) return [];
    const seat = { name: `On ${name}, not taken off`, kind: 'other', face: this.faceOf(screw), within: id } as const;
    return [newEntry.part(keptOn(id), { ...seat, outline: this.outlines.get(keptOn(id))! })];
  }

  /** What catches held that nothing was taken off from yet: its side is theirs, how deep it lies nobody knows. */
  private heldByCatches(): Part[] {
    const latch = this.of('latch').find((t) => this.relations.joints.get(t.id)!.joins.includes(CAUGHT));
    if (!latch) return [];
    const { width, height } = this.told.body;
    const outline: Outline = { rect: [width * 0.45, height * 0.45, width * 0.1, height * 0.1] };
    const seat = { name: 'Held by catches, not taken off', kind: 'other', face: this.faceOf(latch) } as const;
    return [newEntry.part(CAUGHT, { ...seat, layer: DEEP_DOWN, outline })];
  }

  /** Every device has a cell, and what is done near it needs care; where it lies has not been seen. */
  private unseenBattery(): Part {
    const { width, height } = this.told.body;
    this.guess('covers', REST, UNSEEN_BATTERY, 'the battery was not reached; it lies somewhere deeper');
    return newEntry.part(UNSEEN_BATTERY, {
      name: 'Battery, not seen yet',
      kind: 'battery',
      layer: DEEP_DOWN,
      outline: { rect: [width * 0.3, height * 0.35, width * 0.4, height * 0.3] },
    });
  }

  private guess(relation: Evidence['relation'], of: string, to: string, why: string): void {
    this.evidence.push({ relation, of, to, grade: 'guessed', sure: SURE.guessed, why });
  }

  private unseenTether(t: Thing): string[] {
    const lifted = this.told.dives.some((d) => d.done.some((x) => x.thing === t.id && x.kind === 'lift'));
    return lifted ? [] : [unseenFlexOf(t.id)];
  }

  private fastener(t: Thing): Fastener {
    const { holds, into } = this.relations.fasteners.get(t.id)!;
    // What nobody has measured is not known; its hole is only drawn.
    const length = t.length === null ? null : Math.round(t.length * 100) / 100;
    const kind = t.seen.fastener ?? 'screw';
    return newEntry.fastener(t.id, {
      kind,
      drive: t.seen.drive ?? (FASTENERS.of(kind).turned ? 'PH000' : 'none'),
      length,
      thread: USUAL.thread,
      head: Math.max(t.seen.head ?? USUAL.head, USUAL.thread),
      holds,
      into,
      at: t.place ?? centreOf(this.outlines.get(holds[0]!)!),
      face: this.faceOf(t),
      holeDepth: Math.round(((length ?? USUAL.length) + USUAL.holeMargin) * 100) / 100,
      threadlock: false,
      fate: t.seen.spent ? 'renew' : 'keep',
    });
  }

  private connectors(): Connector[] {
    const hasBattery = this.of('part').some((t) => t.seen.part === 'battery');
    const known = this.of('connector').map((t): Connector => {
      const { from: told, to, beneath, reachedBy } = this.relations.connectors.get(t.id)!;
      const from = t.seen.isolates && !hasBattery && !this.told.things.has(told) ? UNSEEN_BATTERY : told;
      return newEntry.connector(t.id, {
        name: t.seen.name ?? (t.seen.isolates ? 'Battery plug' : `Plug ${this.placeOf(t)}`),
        kind: t.seen.connector ?? 'press',
        from,
        to,
        at: t.place ?? centreOf(this.outlines.get(to)!),
        size: t.seen.size ?? [4, 2],
        face: this.faceOf(t),
        isolatesPower: t.seen.isolates ?? false,
        beneath,
        reachedBy: reachedBy === null ? null : { swing: reachedBy },
      });
    });
    known.push(...this.isolatingContacts(known), ...this.unseenFlexes());
    if (known.length === 0 || known.some((c) => c.isolatesPower)) return known;
    // Every device has a battery; where its plug is has not been seen.
    const { width, height } = this.told.body;
    this.guess('isolates', UNSEEN_PLUG, UNSEEN_PLUG, 'the battery’s plug was not reached; it lies somewhere deeper');
    const cell = this.of('part').find((t) => t.seen.part === 'battery')?.id ?? UNSEEN_BATTERY;
    const guess = newEntry.connector(UNSEEN_PLUG, {
      name: 'Battery plug, not seen yet',
      from: cell,
      to: REST,
      at: [width / 2, height / 2],
      size: [4, 2],
      layer: DEEP_DOWN,
      isolatesPower: true,
    });
    return [...known, guess];
  }

  /** A cell that fed the board by its contacts, which nobody looked at: they part as it is lifted. */
  private isolatingContacts(known: readonly Connector[]): Connector[] {
    if (known.some((c) => c.isolatesPower)) return [];
    return this.of('part')
      .filter((t) => t.seen.isolates)
      .slice(0, 1)
      .map((t) =>
        newEntry.connector(`${t.id}-contacts`, {
          name: 'Battery contacts',
          kind: 'contact',
          from: t.id,
          to: t.on ?? REST,
          at: centreOf(this.outlines.get(t.id)!),
          face: this.faceOf(t),
          isolatesPower: true,
        }),
      );
  }

  /** A part that only ever hung open hangs on something; nobody has seen what, so that it is not taken off lightly. */
  private unseenFlexes(): Connector[] {
    const { width, height } = this.told.body;
    return this.of('part').flatMap((t) => {
      const kinds = new Set(this.told.dives.flatMap((d) => d.done.filter((x) => x.thing === t.id).map((x) => x.kind)));
      if (!(kinds.has('swing') || kinds.has('ease')) || kinds.has('lift')) return [];
      const id = unseenFlexOf(t.id);
      const [x, y, w, h] = boundsOf(this.outlines.get(t.id)!);
      const edge = t.seen.edge ?? 'left';
      const at: Record<Edge, Point> = {
        top: [x + w / 2, y + 4],
        bottom: [x + w / 2, y + h - 4],
        left: [x + 4, y + h / 2],
        right: [x + w - 4, y + h / 2],
      };
      this.guess('tether', t.id, id, 'it hung open and was never taken off; what it hangs on was not seen');
      return [
        newEntry.connector(id, {
          name: 'Flex, not seen yet',
          from: t.id,
          to: t.on ?? REST,
          at: [Math.min(width, Math.max(0, at[edge][0])), Math.min(height, Math.max(0, at[edge][1]))],
          face: this.faceOf(t),
          layer: DEEP_DOWN,
        }),
      ];
    });
  }

  private bond(t: Thing): Bond {
    const { joins } = this.relations.joints.get(t.id)!;
    const kind = t.seen.bond ?? 'tape';
    const middle = middleOf(t) ?? centreOf(this.outlines.get(joins[0]!)!);
    const tabs = t.seen.tabs ?? (BONDS.of(kind).tabs !== null ? [middle] : []);
    return newEntry.bond(t.id, {
      kind,
      joins,
      at: this.placeOfBond(t, joins[0]!),
      tabs: tabs.map((p) => this.inBody(p)),
      softensAt: t.seen.set === undefined ? null : Math.max(40, t.seen.set - 10),
      // What came off with its part by itself was pressed, not glued.
      solvent: !(BONDS.of(kind).pressed && this.told.dives.some((d) => d.parted.some((p) => p.thing === t.id))),
      fate: t.seen.spent === false ? 'keep' : 'renew',
      face: t.on === null || t.seen.face !== undefined ? this.faceOf(t) : null,
    });
  }

  private inBody([x, y]: Point): Point {
    const { width, height } = this.told.body;
    return [Math.min(width, Math.max(0, x)), Math.min(height, Math.max(0, y))];
  }

  private placeOfBond(t: Thing, part: string): BondPlace {
    const round: BondPlace = { perimeterOf: part, inset: 0.3, width: 1.2, gaps: [] };
    if (t.seen.around) return round;
    if (t.outline) return { area: t.outline };
    const line = (t.seen.line ?? []).map((p) => this.inBody(p));
    const apart = line.filter((p, i) => i === 0 || Math.hypot(p[0] - line[i - 1]![0], p[1] - line[i - 1]![1]) > 0.2);
    if (apart.length >= 2) return { line: apart, width: 1.6 };
    if (t.place) {
      const [x, y] = this.inBody(t.place);
      return { area: { rect: [x - 0.8, y - 0.8, 1.6, 1.6] } };
    }
    return round;
  }

  private latch(t: Thing): Latch {
    const { joins } = this.relations.joints.get(t.id)!;
    return newEntry.latch(t.id, {
      joins,
      edge: t.seen.edge ?? 'top',
      release: this.letGoLast(t.id) ? 'last' : 'any',
      count: t.seen.count ?? 1,
      // What was not taken off does not go back onto its hooks: they are pressed home.
      mate: t.seen.hooks && !joins.includes(CAUGHT) ? 'first' : 'last',
    });
  }

  /**
   * What was always done before something else, where neither layers nor joints say why and nothing shows that it need
   * not be: kept between things that may have to do with one another.
   */
  private orderList(): Order[] {
    const kept = new Map<string, Order>();
    const because = 'It was done in this order; nobody knows yet whether it must be.';
    for (const n of this.told.dives.keys()) {
      const { done } = this.told.dives[n]!;
      const sequence = this.orders.sequence(n);
      for (const [j, then] of done.entries())
        for (const first of done.slice(0, j)) {
          if (!this.isWhole(first) || !this.isFirst(then)) continue;
          if (sequence.freedomOf(keyOfDone(first), keyOfDone(then)) !== null) continue;
          if (!this.haveToDo(first.thing, then.thing)) continue;
          kept.set(`${first.thing} ${then.thing}`, { first: first.thing, then: then.thing, because });
        }
    }
    const orders = withoutShortcuts([...kept.values()]);
    for (;;) {
      const edges = new Map<string, string[]>();
      for (const o of orders) edges.set(o.first, [...(edges.get(o.first) ?? []), o.then]);
      const circle = findCycle(edges);
      if (!circle) break;
      // Dives that were done differently: one of these orders is not needed, and none is known to be.
      const at = orders.findIndex((o) => circle.includes(o.first) && circle.includes(o.then));
      orders.splice(at, 1);
    }
    for (const o of orders) this.guess('before', o.first, o.then, 'it was always done before it, and lies near it');
    return orders;
  }

  /** Was a latch always released when everything else that held its part was? Then it is taken to let go last. */
  private letGoLast(latch: string): boolean {
    const part = this.relations.joints.get(latch)!.joins[0]!;
    if (!this.told.things.has(part)) return false;
    const others = [
      ...[...this.relations.fasteners].filter(([, f]) => f.holds.includes(part)).map(([id]) => id),
      ...[...this.relations.joints]
        .filter(([id, j]) => j.joins.includes(part) && this.told.things.get(id)!.type === 'bond')
        .map(([id]) => id),
    ];
    return others.length > 0 && others.every((id) => this.orders.alwaysAfter(id, latch));
  }

  /** Is the thing wholly undone by this, and by this alone? An order says of a part only that it is off. */
  private isWhole({ thing, kind }: Done): boolean {
    const opened = this.told.dives.some((d) =>
      d.done.some((x) => x.thing === thing && (x.kind === 'swing' || x.kind === 'ease')),
    );
    return !opened && kind !== 'swing' && kind !== 'ease';
  }

  /** Is it the first that is done to the thing? An order stands before all of it. */
  private isFirst({ thing, at }: Done): boolean {
    return this.told.dives.some((_, n) => this.orders.movedAt(n, thing) === at);
  }

  /** Might two things have to do with one another: near each other, joints of one part, or worked at the edge? */
  private haveToDo(a: string, b: string): boolean {
    const [one, other] = [a, b].map((id) => this.told.things.get(id)!) as [Thing, Thing];
    // Whose flex was not followed may be of any part that came off later.
    const unknown = (t: Thing, part: Thing) => t.type === 'connector' && part.type === 'part' && !leadsTo(t);
    if (unknown(one, other) || unknown(other, one)) return true;
    // How a flex runs from plug to plug is not seen either.
    if (one.type === 'connector' && other.type === 'connector') return true;
    if (one.type === 'part' && other.type === 'part') return true;
    const ground = (id: string): Rect | null => {
      const t = this.told.things.get(id)!;
      const held = t.type === 'latch' ? this.told.things.get(this.relations.joints.get(id)!.joins[0]!) : undefined;
      return held?.bounds ?? t.bounds ?? boundsOfJoint(t) ?? (t.place ? [...t.place, 0, 0] : null);
    };
    const joins = (id: string) => this.relations.joints.get(id)?.joins.filter((p) => this.told.things.has(p)) ?? [];
    if (joins(a).some((p) => joins(b).includes(p))) return true;
    if ([a, b].some((id) => this.told.things.get(id)!.seen.face === 'edge')) return true;
    return neighbours(ground(a), ground(b), Math.max(HAVE_TO_DO, one.reach, other.reach));
  }

  private mateOrder(): string[][] {
    const rows = new Map<number, { id: string; place: number }[]>();
    for (const t of this.of('connector'))
      for (const { row, place } of t.seen.printed ?? []) rows.set(row, [...(rows.get(row) ?? []), { id: t.id, place }]);
    return [...rows.values()]
      .filter((row) => row.length > 1)
      .map((row) => row.sort((a, b) => a.place - b.place).map(({ id }) => id));
  }
}

const leadsTo = (t: Thing): boolean => t.seen.leads != null && 'part' in t.seen.leads;

/** Orders that do not follow from two others. */
function withoutShortcuts(orders: readonly Order[]): Order[] {
  const next = new Map<string, Set<string>>();
  for (const o of orders) next.set(o.first, (next.get(o.first) ?? new Set()).add(o.then));
  return orders.filter((o) => ![...next.get(o.first)!].some((via) => via !== o.then && next.get(via)?.has(o.then)));
}

const around = ([x, y]: Point, by: number): Point[] => [
  [x - by, y - by],
  [x + by, y - by],
  [x + by, y + by],
  [x - by, y + by],
];

function middleOf(t: Thing): Point | null {
  if (t.bounds) return centreOf({ rect: t.bounds });
  const [first] = t.seen.line ?? [];
  return first ?? t.seen.tabs?.[0] ?? t.place;
}

/** The corner of a rounded rectangle stays inside the body when the rounding takes it off. */
function inBody(corner: Point, outline: Outline, out: (p: Point) => boolean): boolean {
  if (!('rect' in outline)) return !out(corner);
  const [x, y, w, h] = boundsOf(outline);
  const r = outline.radius ?? 0;
  const cx = corner[0] < x + w / 2 ? x + r : x + w - r;
  const cy = corner[1] < y + h / 2 ? y + r : y + h - r;
  const far = Math.hypot(corner[0] - cx, corner[1] - cy);
  if (far === 0) return !out(corner);
  return !out([cx + ((corner[0] - cx) / far) * r, cy + ((corner[1] - cy) / far) * r]);
}
