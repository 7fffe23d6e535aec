import {
  boundsOf,
  centreOf,
  modelOf,
  type Anatomy,
  type Bond,
  type BondPlace,
  type Connector,
  type Face,
  type Fastener,
  type Latch,
  type Model,
  type Outline,
  type Part,
  type Point,
} from '../anatomy/index.ts';
import type { UnknownDevice } from '../explore/index.ts';
import { newEntry } from '../draft/index.ts';
import type { Thing, Told } from './dives.ts';
import { SURE, type Evidence } from './evidence.ts';
import type { Orders } from './order.ts';
import { cornersOf, including, inwards, shareUnder } from './outline.ts';
import { FRAME, REST, type Relations } from './relations.ts';

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
      maker: '',
      kind: this.device.kind,
      body: { ...body },
      battery: this.device.battery ?? { volts: 3.8, milliampHours: 3000, cells: 1 },
      parts: this.parts(),
      fasteners: this.of('fastener').map((t) => this.fastener(t)),
      connectors: this.connectors(),
      bonds: this.of('bond').map((t) => this.bond(t)),
      latches: this.of('latch').map((t) => this.latch(t)),
      orders: [],
      mateOrder: this.mateOrder(),
      functions: this.device.functions.map((f) => ({ ...f, unplaced: true })),
      spares: [],
    };
    this.fitCorners(flat);
    const anatomy = this.layered(flat);
    return { anatomy, evidence: this.evidence };
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
    for (const t of this.of('connector')) if (t.place) ask(this.relations.connectors.get(t.id)!.to, around(t.place, 0.3));
    for (const t of this.of('bond')) {
      const middle = middleOf(t);
      if (middle) for (const p of this.relations.joints.get(t.id)!.joins) ask(p, around(middle, 0.6));
    }
    const parts = this.of('part');
    // Children first: an assembly holds what is in it.
    const depth = (t: Thing): number => (t.on === null ? 0 : 1 + depth(this.told.things.get(t.on)!));
    for (const t of parts.toSorted((a, b) => depth(b) - depth(a))) {
      const asked = points.get(t.id) ?? [];
      const drawn = t.outline ?? this.unseen(asked);
      const outline = including(drawn, asked, body);
      this.outlines.set(t.id, outline);
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
        name: t.seen.name ?? `Part ${t.id.replace(/\D+/g, '')}`,
        kind,
        face: this.faceOf(t),
        outline: this.outlines.get(t.id)!,
        within,
        swing: hinge === null ? null : { hinge, degrees, tether, gap },
        fate: t.seen.spent ? 'renew' : 'keep',
        glass: t.seen.glass ?? false,
      });
    });
    return [fixed(FRAME, 'Frame', 'frame'), fixed(REST, 'All that stayed in', 'other'), ...learnt];
  }

  private fastener(t: Thing): Fastener {
    const { holds, into } = this.relations.fasteners.get(t.id)!;
    const length = Math.round((t.length ?? USUAL.length) * 100) / 100;
    const kind = t.seen.fastener ?? 'screw';
    return newEntry.fastener(t.id, {
      kind,
      drive: t.seen.drive ?? (kind === 'clip' ? 'none' : 'PH000'),
      length,
      thread: USUAL.thread,
      head: Math.max(t.seen.head ?? USUAL.head, USUAL.thread),
      holds,
      into,
      at: t.place ?? centreOf(this.outlines.get(holds[0]!)!),
      face: this.faceOf(t),
      holeDepth: Math.round((length + USUAL.holeMargin) * 100) / 100,
      threadlock: false,
      fate: t.seen.spent ? 'renew' : 'keep',
    });
  }

  private connectors(): Connector[] {
    const known = this.of('connector').map((t): Connector => {
      const { from, to, beneath, reachedBy } = this.relations.connectors.get(t.id)!;
      return newEntry.connector(t.id, {
        name: t.seen.name ?? (t.seen.isolates ? 'Battery plug' : `Plug ${t.id.replace(/\D+/g, '')}`),
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
    if (known.length === 0 || known.some((c) => c.isolatesPower)) return known;
    // Every device has a battery; where its plug is has not been seen.
    const { width, height } = this.told.body;
    this.evidence.push({
      relation: 'isolates',
      of: UNSEEN_BATTERY,
      to: UNSEEN_BATTERY,
      grade: 'guessed',
      sure: SURE.guessed,
      why: 'the battery’s plug was not reached; it lies somewhere deeper',
    });
    const guess = newEntry.connector(UNSEEN_BATTERY, {
      name: 'Battery plug, not seen yet',
      from: REST,
      to: FRAME,
      at: [width / 2, height / 2],
      size: [4, 2],
      layer: 90,
      isolatesPower: true,
    });
    return [...known, guess];
  }

  private bond(t: Thing): Bond {
    const { joins } = this.relations.joints.get(t.id)!;
    const kind = t.seen.bond ?? 'tape';
    const middle = middleOf(t) ?? centreOf(this.outlines.get(joins[0]!)!);
    const tabs = t.seen.tabs ?? (kind === 'stretch-tab' || kind === 'pull-pouch' ? [middle] : []);
    return newEntry.bond(t.id, {
      kind,
      joins,
      at: this.placeOfBond(t, joins[0]!),
      tabs: tabs.map((p) => this.inBody(p)),
      softensAt: t.seen.set === undefined ? null : Math.max(40, t.seen.set - 10),
      solvent: true,
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
      count: t.seen.count ?? 1,
      mate: t.seen.hooks ? 'first' : 'last',
    });
  }

  private mateOrder(): string[][] {
    const rows = new Map<number, { id: string; place: number }[]>();
    for (const t of this.of('connector'))
      for (const { row, place } of t.seen.printed ?? []) rows.set(row, [...(rows.get(row) ?? []), { id: t.id, place }]);
    return [...rows.values()]
      .filter((row) => row.length > 1)
      .map((row) => row.sort((a, b) => a.place - b.place).map(({ id }) => id));
  }

  /** Layers, the least that are consistent: what had to come off before something lies over it, what did not does not. */
  private layered(anatomy: Anatomy): Anatomy {
    const model = modelOf(anatomy);
    const over: [string, string, boolean][] = [];
    const notOver: [string, string][] = [];
    for (const part of anatomy.parts) {
      if (part.fixed) continue;
      for (const [id, { type }] of model.items) {
        if (!this.mayCover(model, part, id)) continue;
        const sure = this.orders.uncoveredBy(id).includes(part.id);
        if (this.orders.notCovered(part.id, id)) notOver.push([part.id, layerBearer(model, id)]);
        else if (sure || (type !== 'latch' && this.orders.alwaysAfter(part.id, id))) over.push([part.id, id, sure]);
      }
    }
    const layers = settle([...model.items.keys()], over, notOver);
    for (const [part, id, sure] of over) {
      if (layers.get(part)! >= layers.get(id)!) continue;
      const deep = sure || this.lieDeep(part, id);
      this.evidence.push({
        relation: 'covers',
        of: part,
        to: id,
        grade: sure ? 'seen' : deep ? 'inferred' : 'guessed',
        sure: SURE[sure ? 'seen' : deep ? 'inferred' : 'guessed'],
        why: sure ? 'it showed as soon as that part was away' : 'it was reached only after that part, whose outline lies over it',
      });
    }
    const layerOf = (id: string) => layers.get(id) ?? 0;
    return {
      ...anatomy,
      parts: anatomy.parts.map((p) => (p.fixed ? p : { ...p, layer: layerOf(p.id) })),
      fasteners: anatomy.fasteners.map((f) => ({ ...f, layer: layerOf(f.id) })),
      connectors: anatomy.connectors.map((c) => (c.id === UNSEEN_BATTERY ? c : { ...c, layer: layerOf(c.id) })),
      bonds: anatomy.bonds.map((b) => (b.face === null ? b : { ...b, layer: layerOf(b.id) })),
    };
  }

  /** Could a part lie over an item at all: on the same side of the same assembly, and over its ground? */
  private mayCover(model: Model, part: Part, id: string): boolean {
    if (id === part.id || id === UNSEEN_BATTERY || model.parts.get(id)?.fixed) return false;
    if (part.within !== model.contextOf(id) || model.ownPartsOf(id).includes(part.id)) return false;
    const face = model.faceOf(id);
    return face === part.face && face !== 'edge' && model.overlaps(part.id, id);
  }

  /** Do they overlap by more than two rough hands could be wrong? Of a part the better half must lie under the other. */
  private lieDeep(part: string, id: string): boolean {
    const over = this.told.things.get(part)?.bounds;
    const thing = this.told.things.get(id);
    if (!over || !thing || thing.type === 'bond' || thing.type === 'latch') return false;
    if (thing.type === 'part') return thing.bounds !== null && shareUnder(thing.bounds, over) > MOSTLY;
    return thing.place !== null && inwards(over, thing.place) > SURELY && this.orders.hidBehind(part, id);
  }
}

/** A place is under a rough outline for certain when it lies this deep in it, mm. */
const SURELY = 2;
/** A part that lies so far under another is covered by it. */
const MOSTLY = 0.9;

/** Stands in for the battery's plug until it is seen. */
export const UNSEEN_BATTERY = 'battery-plug-unseen';

/** A catch lies as deep as its part. */
function layerBearer(model: Model, id: string): string {
  const latch = model.latches.get(id);
  return latch ? (latch.joins.find((p) => !model.parts.get(p)!.fixed) ?? id) : id;
}

/**
 * The least layers that keep every pair: what lies over something is above it, what does not is no higher. Where they
 * cannot all be kept, what was only inferred gives way; the order of the work keeps it all the same.
 */
function settle(
  ids: readonly string[],
  over: readonly [string, string, boolean][],
  notOver: readonly [string, string][],
): Map<string, number> {
  for (const kept of [over, over.filter(([, , sure]) => sure), []]) {
    const layers = new Map(ids.map((id) => [id, 0]));
    let changed = true;
    for (let round = 0; changed && round <= ids.length + 2; round++) {
      changed = false;
      const raise = (id: string, to: number) => {
        if ((layers.get(id) ?? 0) >= to) return;
        layers.set(id, to);
        changed = true;
      };
      for (const [part, id] of kept) raise(id, layers.get(part)! + 1);
      for (const [part, id] of notOver) raise(part, layers.get(id) ?? 0);
    }
    if (!changed) return layers;
  }
  return new Map(ids.map((id) => [id, 0]));
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
