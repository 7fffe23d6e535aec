import {
  boundsOf,
  centreOf,
  outlineHolds,
  ringOf,
  type Bond,
  type Model,
  type Outline,
  type Point,
} from '../anatomy/index.ts';
import { checkerFor, type Plan, type Step } from '../dive/index.ts';
import { closedDevice, type Checker, type Device } from '../judge/index.ts';
import { BONDS, CONNECTORS, CATCHES } from '../kinds/index.ts';
import type { ActKind } from './acts.ts';
import type { Act, ActFile, Leads, Mark, Sight } from './format.ts';

/** Steps by which a part is moved out of its place. */
const OPENS: ReadonlySet<string> = new Set(['ease', 'swing', 'lift', 'eject']);

/** How roughly a hand tells a place or a length. */
export interface Hand {
  /** Standard deviation of a place, mm. */
  place: number;
  /** Standard deviation of a length, mm. */
  length: number;
  /** By how much a corner of a rough outline is off, in any direction, mm. */
  corner: number;
  /** Share of the corners that are left out. */
  missing: number;
  /** Share of the screws that are not measured. */
  unmeasured: number;
}

/** Origin: hands over a straightened photograph; a caliper's jaw on a small thread. */
export const USUAL_HAND: Hand = { place: 0.5, length: 0.05, corner: 1.5, missing: 1 / 3, unmeasured: 0.2 };

/** Uniform in 0 to 1. */
export type Chance = () => number;

/** A repeatable chance (mulberry32, from memory). */
export function chanceOf(seed: number): Chance {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Normal by Box and Muller (1958). */
const normal = (chance: Chance): number => Math.sqrt(-2 * Math.log(1 - chance())) * Math.cos(2 * Math.PI * chance());

/** One piece of a plan's way in: one step on one item. */
interface Piece {
  step: Step;
  item: string | null;
  /** Pieces that come before it whatever the order: the work of the same item, and the preparation. */
  after: number[];
}

export interface ActsOptions {
  /** Draws another valid order of the same work; left out, the order of the plan. */
  shuffle?: number | undefined;
  seed?: number | undefined;
  hand?: Hand | undefined;
}

/**
 * The acts of a technician who carries out the way in of a plan: what was done, and of each thing what a person sees.
 * Every act bears the source's id as its label.
 * @throws Error when no order of the plan's own steps can be carried out on its device
 */
export function actsOfPlan(model: Model, plan: Plan, options: ActsOptions = {}): ActFile {
  return new Technician(model, plan, options).work();
}

/** Orders that are tried before the order of the plan is taken. Origin: own choice; most need one. */
const TRIES = 40;

class Technician {
  private readonly chance: Chance;
  private readonly hand: Hand;
  private readonly checker: Checker;
  private readonly handles = new Map<string, string>();
  private readonly acts: Act[] = [];
  private device: Device = closedDevice();
  private up: 'front' | 'back' = 'front';

  constructor(
    private readonly model: Model,
    private readonly plan: Plan,
    private readonly options: ActsOptions,
  ) {
    this.chance = chanceOf((options.seed ?? options.shuffle ?? 1) * 2654435761);
    this.hand = options.hand ?? USUAL_HAND;
    this.checker = checkerFor(model, plan);
  }

  work(): ActFile {
    const pieces = this.pieces();
    const order = this.orderOf(pieces);
    this.device = closedDevice();
    const side = order.map((i) => pieces[i]!.step.face).find((face) => face !== 'edge');
    this.up = side === 'back' ? 'back' : 'front';
    this.photograph();
    for (const i of order) this.perform(pieces[i]!);
    const { anatomy } = this.model;
    const { width, height, thickness, cornerRadius, ingress } = anatomy.body;
    return {
      schema: 'nibrel.acts/1',
      device: {
        name: 'Unknown device',
        kind: anatomy.kind,
        width,
        height,
        thickness,
        cornerRadius,
        ingress,
        like: null,
        functions: anatomy.functions,
        battery: anatomy.battery,
      },
      acts: this.acts,
      answers: {},
    };
  }

  /** The way in up to the moment when the last part that is asked for is out. */
  private pieces(): Piece[] {
    const { steps, replace } = this.plan;
    const out = (s: Step) => (s.do === 'lift' || s.do === 'eject') && s.items.some((id) => replace.includes(id));
    const last = steps.findLastIndex((s) => s.phase !== 'ascent' && s.phase !== 'prove' && out(s));
    const way = steps
      .slice(0, last + 1)
      .filter((s) => s.do !== 'turn-over' && s.do !== 'photo' && s.do !== 'renew' && s.do !== 'gate');
    const pieces: Piece[] = [];
    for (const step of way)
      for (const item of step.items.length > 0 ? step.items : [null]) pieces.push({ step, item, after: [] });
    pieces.forEach((piece, i) => {
      for (let j = 0; j < i; j++) {
        const before = pieces[j]!;
        const same = before.item !== null && before.item === piece.item;
        if (same || before.step.phase === 'prepare') piece.after.push(j);
      }
    });
    return pieces;
  }

  private orderOf(pieces: readonly Piece[]): number[] {
    if (this.options.shuffle === undefined) return pieces.map((_, i) => i);
    const chance = chanceOf(this.options.shuffle * 40503 + 7);
    for (let n = 0; n < TRIES; n++) {
      const order = this.draw(pieces, chance);
      if (order) return order;
    }
    return pieces.map((_, i) => i);
  }

  /** One valid order: any piece may come next that the device allows as it stands. Half the time the tool in hand is kept. */
  private draw(pieces: readonly Piece[], chance: Chance): number[] | null {
    let device = closedDevice();
    const done = new Set<number>();
    const order: number[] = [];
    let held: string | null = null;
    while (order.length < pieces.length) {
      const free = pieces.flatMap((piece, i) => {
        if (done.has(i) || !piece.after.every((j) => done.has(j))) return [];
        return this.after(device, piece) ? [i] : [];
      });
      if (free.length === 0) return null;
      // A seam that was heated is cut at once.
      const begun = order.at(-1);
      const goesOn =
        begun === undefined
          ? undefined
          : free.find((i) => isBegun(pieces[begun]!) && pieces[i]!.item === pieces[begun]!.item);
      const alike = free.filter((i) => pieces[i]!.step.tool === held);
      const from = alike.length > 0 && chance() < 0.5 ? alike : free;
      const next = goesOn ?? from[Math.floor(chance() * from.length)]!;
      device = this.after(device, pieces[next]!)!;
      held = pieces[next]!.step.tool;
      done.add(next);
      order.push(next);
    }
    return order;
  }

  /** The device after a piece, turned over where it must be; `null` when the rules forbid it as it stands. */
  private after(device: Device, { step, item }: Piece): Device | null {
    let at = device;
    const up = step.face === 'edge' || item === null ? at.up : step.face;
    if (up !== null && at.up !== null && up !== at.up) {
      const turn: Step = { ...step, do: 'turn-over', items: [], tool: null, face: up, gate: null };
      if (this.checker.violation(at, turn)) return null;
      at = this.checker.advance(at, turn);
    }
    const one = { ...step, items: item === null ? [] : [item] };
    return this.checker.violation(at, one) ? null : this.checker.advance(at, one);
  }

  private handle(item: string): string {
    const known = this.handles.get(item);
    if (known) return known;
    const made = `t${this.handles.size + 1}`;
    this.handles.set(item, made);
    return made;
  }

  private record(act: ActKind, item: string | null, seen: Sight): void {
    const n = this.acts.length;
    this.acts.push({
      id: `a${n + 1}`,
      act,
      item: item === null ? null : this.handle(item),
      note: '',
      ...(item === null ? {} : { label: item }),
      seen,
      at: new Date(Date.UTC(2026, 0, 5, 9, 0, 0) + n * 20_000).toISOString(),
    });
  }

  private perform(piece: Piece): void {
    const { step, item } = piece;
    const { face } = step;
    if (item !== null && face !== 'edge' && face !== this.up) {
      this.record('turned-over', null, {});
      this.up = face;
      this.photograph();
    }
    const kind = this.kindOf(step, item);
    const contacts = step.do === 'lift' || step.do === 'eject' ? this.contactsOf(item!) : [];
    // Paste parts as its part is lifted, a gasket that is pressed as soon as that moves.
    const pressed = (b: Bond) => this.model.pressedBy(b.id).length > 0 && !this.device.released.has(b.id);
    const moves = item !== null && OPENS.has(step.do) && !this.device.removed.has(item);
    const free = moves ? this.model.anatomy.bonds.filter(pressed) : [];
    const parts = (b: Bond) => free.includes(b) || (step.do === 'lift' && BONDS.of(b.kind).byItself);
    if (kind) this.record(kind, item, { ...this.sightOf(step, item), tool: step.tool });
    this.device =
      this.after(this.device, piece) ?? this.checker.advance(this.device, { ...step, items: item ? [item] : [] });
    if (item === null) return;
    for (const c of contacts) this.record('contact-parted', c, this.sightOf(step, c));
    for (const b of this.model.anatomy.bonds)
      if (parts(b) && this.checker.splits(item, b.joins)) this.record('bond-parted', b.id, this.sightOf(step, b.id));
    if (step.do === 'lift' || step.do === 'swing' || step.do === 'eject' || step.do === 'ease') this.photograph();
  }

  private contactsOf(part: string): string[] {
    return this.model.anatomy.connectors
      .filter(
        (c) =>
          CONNECTORS.of(c.kind).byItself && !this.device.open.has(c.id) && this.checker.splits(part, [c.from, c.to]),
      )
      .map((c) => c.id);
  }

  private kindOf(step: Step, item: string | null): ActKind | null {
    // Opening once more what was only laid down tells nothing new.
    if (step.do === 'swing' && item !== null && this.device.taped.has(item)) return null;
    switch (step.do) {
      case 'power-off':
        return 'powered-off';
      case 'discharge':
        return 'charge-checked';
      case 'film':
        return 'filmed';
      case 'tape-glass':
        return 'taped';
      case 'heat':
        return 'heated';
      case 'gap':
        return this.model.bonds.has(item ?? '') ? 'gap-raised' : null;
      case 'solvent':
        return 'wetted';
      case 'cut':
        return this.model.bonds.has(item!) ? 'bond-cut' : 'latch-released';
      case 'pull':
        return 'pulled';
      case 'release':
        return this.model.fasteners.has(item!)
          ? 'screw-out'
          : this.model.latches.has(item!)
            ? 'latch-released'
            : 'peeled';
      case 'unscrew':
        return 'screw-out';
      case 'disconnect':
      case 'desolder':
        return 'connector-opened';
      case 'bend-aside':
        return this.model.connectors.has(item ?? '') ? 'bent-aside' : null;
      case 'ease':
        return 'part-eased';
      case 'swing':
        return 'part-swung';
      case 'lift':
      case 'eject':
        return 'part-off';
      case 'clean':
        return 'cleaned';
      default:
        return null;
    }
  }

  private place([x, y]: Point, by = this.hand.place): Point {
    return [round(x + by * normal(this.chance)), round(y + by * normal(this.chance))];
  }

  private rough(outline: Outline): Point[] {
    const corners = cornersOf(outline);
    const kept = corners.map((p, i) => ({ p, i, r: this.chance() }));
    const drop = new Set(
      kept
        .toSorted((a, b) => a.r - b.r)
        .slice(0, Math.floor(corners.length * this.hand.missing))
        .map(({ i }) => i),
    );
    return kept
      .filter(({ i }) => !drop.has(i))
      .map(({ p: [x, y] }) => {
        const turn = 2 * Math.PI * this.chance();
        return [round(x + this.hand.corner * Math.cos(turn)), round(y + this.hand.corner * Math.sin(turn))];
      });
  }

  /** The open or lifted part that an item is seen on, or `null` where it is seen in the device. */
  private carrier(item: string): string | null {
    const away = (id: string) => this.device.removed.has(id) || this.device.swung.has(id) || this.device.eased.has(id);
    const tilted = this.model.connectors.get(item)?.reachedBy?.swing;
    if (tilted !== undefined && this.device.swung.has(tilted)) return tilted;
    for (let at = this.model.contextOf(item); at !== null; at = this.model.parts.get(at)!.within)
      if (away(at)) return at;
    return null;
  }

  private seenOn(item: string, worked?: Step['face']): Pick<Sight, 'on' | 'face'> {
    const on = this.carrier(item);
    const own = this.checker.deviceFace(item);
    // What can be reached from either side is seen from the one that is up.
    const face =
      on !== null ? this.model.faceOf(item) : own === 'edge' ? own : worked === 'edge' ? own : (worked ?? own);
    return { on: on === null ? null : this.handle(on), face };
  }

  private sightOf(step: Step, item: string | null): Sight {
    if (item === null || !this.model.items.has(item)) return {};
    const found = this.model.items.get(item)!;
    const where = this.seenOn(item, step.face);
    switch (found.type) {
      case 'fastener': {
        const f = found.item;
        const measured = this.chance() >= this.hand.unmeasured && f.length !== null;
        return {
          ...where,
          at: this.place(f.at),
          fastener: f.kind,
          drive: f.drive,
          head: f.head,
          length: measured ? round(f.length! + this.hand.length * normal(this.chance)) : null,
          ...(f.fate === 'renew' || f.threadlock ? { spent: true } : {}),
        };
      }
      case 'connector': {
        const c = found.item;
        const printed = this.model.anatomy.mateOrder.flatMap((list, row) =>
          list.includes(c.id) ? [{ row: row + 1, place: list.indexOf(c.id) + 1 }] : [],
        );
        return {
          ...where,
          at: this.place(c.at),
          connector: c.kind,
          size: c.size,
          leads: this.leadsOf(c.id),
          ...(c.isolatesPower ? { isolates: true } : {}),
          ...(printed.length > 0 ? { printed } : {}),
        };
      }
      case 'bond': {
        const b = found.item;
        const spent = b.fate === 'renew';
        const common = { ...where, bond: b.kind, spent, ...(step.heat ? { set: step.heat.set } : {}) };
        const tabs = b.tabs.length > 0 ? { tabs: b.tabs.map((t) => this.place(t)) } : {};
        if ('perimeterOf' in b.at) {
          const outline = this.rough(this.model.parts.get(b.at.perimeterOf)!.outline);
          return { ...common, ...tabs, around: true, outline };
        }
        if ('line' in b.at) return { ...common, ...tabs, line: b.at.line.map((p) => this.place(p)) };
        return { ...common, ...tabs, outline: this.rough(b.at.area) };
      }
      case 'latch': {
        const l = found.item;
        const own = l.joins.map((id) => this.model.parts.get(id)!).find((p) => !p.fixed);
        const [x, y, w, h] = boundsOf(own?.outline ?? { rect: [0, 0, 1, 1] });
        const middle: Record<typeof l.edge, Point> = {
          top: [x + w / 2, y],
          bottom: [x + w / 2, y + h],
          left: [x, y + h / 2],
          right: [x + w, y + h / 2],
        };
        return {
          ...where,
          at: this.place(middle[l.edge]),
          edge: l.edge,
          count: l.count,
          ...(l.mate === 'first' || !CATCHES.of(l.letsGo).worked ? { hooks: true } : {}),
        };
      }
      case 'part': {
        const p = found.item;
        const contact = this.model.anatomy.connectors.find(
          (c) => c.isolatesPower && CONNECTORS.of(c.kind).byItself && this.model.familyOf(p.id).includes(c.from),
        );
        return {
          ...where,
          outline: this.rough(p.outline),
          part: UNMISTAKABLE.has(p.kind) ? p.kind : null,
          ...(p.glass ? { glass: true } : {}),
          ...(p.fate === 'renew' ? { spent: true } : {}),
          ...(this.plan.replace.includes(p.id) ? { target: true } : {}),
          ...(contact && step.do === 'lift' ? { isolates: true } : {}),
          ...(step.do === 'swing' && p.swing ? { edge: p.swing.hinge, degrees: p.swing.degrees } : {}),
          ...(step.do === 'ease' && p.swing ? { edge: p.swing.hinge, gap: p.swing.gap?.width ?? 3 } : {}),
        };
      }
    }
  }

  /** Where a flex is seen to go: to a part that is open or off, to one that shows, or out of sight. */
  private leadsOf(connector: string): Leads | null {
    const { from, at } = this.model.connectors.get(connector)!;
    for (let p: string | null = from; p !== null; p = this.model.parts.get(p)!.within)
      if (this.device.swung.has(p) || this.device.eased.has(p) || this.device.removed.has(p))
        return { part: this.handle(p) };
    const part = this.model.parts.get(from)!;
    if (part.fixed || !this.checker.reaches(this.device, from)) return null;
    if (outlineHolds(part.outline, at)) return null;
    return { at: this.place(nearestOf(part.outline, at)) };
  }

  /** The photograph of what lies bare now: every head and plug that shows on the side that is up, and on parts that hang open. */
  private photograph(): void {
    const { up } = this;
    const marks: Mark[] = [];
    const shows = (id: string): boolean => {
      const on = this.carrier(id);
      const { face } = this.seenOn(id);
      if (on === null && face !== up) return false;
      return this.checker.reaches(this.device, id);
    };
    const add = (type: Mark['type'], id: string, at: Point) => {
      const { on, face } = this.seenOn(id);
      marks.push({ type, at: this.place(at), face: face!, on: on ?? null });
    };
    for (const f of this.model.anatomy.fasteners) {
      const ridden = this.model.anatomy.fasteners.some((o) => o.into === f.id && !this.device.out.has(o.id));
      if (f.face !== 'edge' && !ridden && !this.device.out.has(f.id) && shows(f.id)) add('fastener', f.id, f.at);
    }
    for (const c of this.model.anatomy.connectors) {
      const buried = c.beneath.some((id) => !this.device.open.has(id));
      if (!CONNECTORS.of(c.kind).byItself && !buried && !this.device.open.has(c.id) && shows(c.id))
        add('connector', c.id, c.at);
    }
    this.record('photographed', null, { marks, face: up });
  }
}

const UNMISTAKABLE: ReadonlySet<string> = new Set(['battery', 'display', 'tray']);

const isBegun = ({ step }: Piece): boolean => ['heat', 'gap', 'solvent'].includes(step.do);

const round = (x: number): number => Math.round(x * 100) / 100;

/** Corners as a hand would click them: of a circle eight points of its rim. */
function cornersOf(outline: Outline): Point[] {
  if ('rect' in outline) {
    const [x, y, w, h] = outline.rect;
    return [
      [x, y],
      [x + w, y],
      [x + w, y + h],
      [x, y + h],
    ];
  }
  if ('polygon' in outline) return outline.polygon;
  const [x, y, r] = outline.circle;
  return Array.from({ length: 8 }, (_, i) => [
    x + r * Math.cos((i * Math.PI) / 4),
    y + r * Math.sin((i * Math.PI) / 4),
  ]);
}

/** The corner of an outline nearest to a place, a little inside. */
function nearestOf(outline: Outline, [x, y]: Point): Point {
  const [cx, cy] = centreOf(outline);
  let best: Point = [cx, cy];
  let least = Number.POSITIVE_INFINITY;
  for (const [px, py] of ringOf(outline)) {
    const at: Point = [px + (cx - px) * 0.1, py + (cy - py) * 0.1];
    const far = Math.hypot(at[0] - x, at[1] - y);
    if (far < least) {
      least = far;
      best = at;
    }
  }
  return best;
}
