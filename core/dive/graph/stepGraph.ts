import {
  type Anatomy,
  CLEARING_DEGREES,
  OUTSIDE_SHARE,
  placementsOf,
  shareCovered,
  type Connector,
  type Exit,
  type Face,
  type Model,
  type Part,
} from '../../anatomy/index.ts';
import { CONNECTORS } from '../../kinds/index.ts';
import { listed, once } from '../../once/index.ts';
import { partsByItself } from '../house/bondKinds.ts';
import { NoDive, type NeededHint, type Standing } from '../types.ts';
import { wantedOutOf } from './iron.ts';
import { Isolation } from './isolation.ts';
import { actionOf, keyOf as key, type Action } from './keys.ts';
import { plain, reasonKey, relation, rule, type Reason } from './reasons.ts';
import { rimOver, type Rim } from './rims.ts';

/** `key` must be done first, for this reason. */
export interface Requirement {
  key: string;
  because: Reason;
}

/** Which of two ways a part that can swing is taken out of the way. */
export type Way = 'swing' | 'lift';
export type Ways = ReadonlyMap<string, Way>;

export interface Closure {
  actions: Map<string, Action>;
  /** For every action the actions it needs first. */
  needs: Map<string, Requirement[]>;
  /** For every action what makes it necessary. */
  because: Map<string, Reason[]>;
  /** Actions that are done already; they belong to the way back only. */
  finished: Set<string>;
}

interface Level {
  within: string | null;
  face: Face;
  layer: number;
}

/**
 * Where an item can be covered: in its own assembly, and in every one around it that shows the same face. `behind` is
 * the assembly on whose inner side it lies, so that nothing but moving that assembly lays it bare.
 */
function levelsOf(model: Model, id: string): { levels: Level[]; behind: string | null } {
  let at: Level = { within: model.contextOf(id), face: model.faceOf(id), layer: model.layerOf(id) };
  const levels = [at];
  while (at.within !== null && at.face !== 'edge') {
    const assembly = model.parts.get(at.within)!;
    if (assembly.face !== at.face) return { levels, behind: assembly.id };
    at = { within: assembly.within, face: assembly.face, layer: assembly.layer };
    levels.push(at);
  }
  return { levels, behind: null };
}

/**
 * A1: which parts lie over each item on the face it is worked from: parts in a smaller layer, in its own assembly or
 * beside one that it travels in, that overlap the item itself. What lies over the rest of its assembly does not matter.
 */
export function coversOf(model: Model): Map<string, string[]> {
  const covers = new Map<string, string[]>();
  for (const id of model.items.keys()) {
    const own = new Set(model.ownPartsOf(id));
    // What a plug comes from is in its way only where it can be swung open: else neither could come before the other.
    const from = model.connectors.get(id)?.from;
    if (from !== undefined && model.parts.get(from)!.swing === null) own.add(from);
    const over = (part: Part, { within, face, layer }: Level) =>
      face !== 'edge' &&
      part.within === within &&
      // A part that can leave through several faces lies over what is beneath it on each of them.
      placementsOf(part).some((at) => at.face === face && at.layer < layer);
    const { levels } = levelsOf(model, id);
    covers.set(
      id,
      model.anatomy.parts
        .filter((p) => !p.fixed && !own.has(p.id) && levels.some((level) => over(p, level)) && model.overlaps(p.id, id))
        .map((p) => p.id),
    );
  }
  return covers;
}

function isDone(from: Standing, { kind, item }: Action): boolean {
  switch (kind) {
    case 'loosen':
      return from.out.has(item);
    case 'open':
      return from.open.has(item);
    case 'release':
      return from.released.has(item);
    case 'ease':
      return from.eased.has(item) || from.swung.has(item) || from.removed.has(item);
    case 'swing':
      return from.swung.has(item) || from.removed.has(item);
    case 'lift':
      return from.removed.has(item);
    default:
      return kind satisfies never;
  }
}

/** Was something done while a part stood open in that way, before it was opened further? Then it is stood so again. */
function workedWhile({ kept, eased }: Standing, stage: 'ease' | 'swing', part: string): boolean {
  const opened = key(stage, part);
  if (!kept?.needs.has(opened) || eased.has(part)) return false;
  const further = (['swing', 'lift'] as const)
    .map((kind) => key(kind, part))
    .filter((k) => k !== opened && kept.needs.has(k));
  return [...kept.needs.keys()].some(
    (k) => !further.includes(k) && kept.keeps(opened, k) && further.some((then) => kept.keeps(k, then)),
  );
}

/** The step graph of an anatomy: what each action needs before it, by the rules A1 to A6. */
export class StepGraph {
  readonly covers: ReadonlyMap<string, string[]>;
  private readonly power: Isolation;
  private readonly trays: readonly string[];
  /** Connectors whose flex lies over an item, and the bonds that hold such a flex down. */
  private readonly foldedOver: ReadonlyMap<string, string[]>;
  private readonly heldFlexes: ReadonlyMap<string, string[]>;
  private readonly outer = new Map<string, boolean>();
  private readonly rims = new Map<string, Rim | null>();
  private readonly clearsOfIron = new Map<string, readonly string[]>();
  private readonly ordersBefore: ReadonlyMap<string, Anatomy['orders']>;
  private readonly joints = new Map<
    string,
    { fasteners: string[]; connectors: string[]; bonds: string[]; latches: string[] }
  >();

  /** @throws NoDive when a soldered joint would have to be worked live */
  constructor(readonly model: Model) {
    this.covers = coversOf(model);
    const { connectors, bonds, orders } = model.anatomy;
    this.foldedOver = listed(connectors.flatMap((c) => c.liesOver.map((id) => [id, c.id] as const)));
    this.heldFlexes = listed(bonds.flatMap((b) => (b.flex === null ? [] : [[b.flex, b.id] as const])));
    this.ordersBefore = listed(orders.map((order) => [order.then, order] as const));
    // A tray that needs nothing else first is taken out before anything (A6).
    this.trays = [];
    this.trays = model.anatomy.parts
      .filter(
        (p) =>
          p.kind === 'tray' &&
          p.within === null &&
          this.needsOf(actionOf(key('lift', p.id)), () => 'swing', false).length === 0,
      )
      .map((p) => key('lift', p.id));
    this.power = new Isolation(model, {
      before: (k) => this.before(k),
      openingOf: (connector) => this.openingOf(connector),
      contactsBroken: ({ item, kind }) => (this.model.parts.has(item) ? this.contactsBroken(item, kind) : []),
    });
  }

  /** What cuts the power off. */
  get isolation(): readonly string[] {
    return this.power.keys;
  }

  /** The action that opens a connector: a contact opens when its part is lifted. */
  openingOf(connector: string): string {
    const c = this.model.connectors.get(connector)!;
    return CONNECTORS.of(c.kind).byItself ? key('lift', c.from) : key('open', connector);
  }

  private doneOf(item: string): string {
    const { type } = this.model.items.get(item)!;
    if (type === 'part') return key('lift', item);
    if (type === 'fastener') return key('loosen', item);
    if (type === 'connector') return this.openingOf(item);
    return key('release', item);
  }

  /** Everything that joins a part with its family to the rest of the device. */
  private jointsOf(part: string) {
    return once(this.joints, part, () => this.jointsFound(part));
  }

  private jointsFound(part: string) {
    const { anatomy, fasteners } = this.model;
    const family = new Set(this.model.familyOf(part));
    const seat = (id: string): string => (fasteners.has(id) ? seat(fasteners.get(id)!.into) : id);
    const split = (ids: readonly string[]) => ids.some((id) => family.has(id)) && !ids.every((id) => family.has(id));
    return {
      fasteners: anatomy.fasteners.filter((f) => split([...f.holds, seat(f.into)])).map((f) => f.id),
      connectors: anatomy.connectors.filter((c) => split([c.from, c.to])).map((c) => c.id),
      bonds: anatomy.bonds.filter((b) => !partsByItself(this.model, b) && split(b.joins)).map((b) => b.id),
      latches: anatomy.latches.filter((l) => split(l.joins)).map((l) => l.id),
    };
  }

  /** Everything that joins a part with its family to the rest: what holds it, and its flexes. */
  joins(part: string): { fasteners: string[]; connectors: string[]; bonds: string[]; latches: string[] } {
    return this.jointsOf(part);
  }

  /** Fasteners, bonds and latches that hold a part in its place. */
  holdsOf(part: string): string[] {
    const { fasteners, bonds, latches } = this.jointsOf(part);
    return [...fasteners, ...bonds, ...latches];
  }

  /** Is an item out of sight while a part lies in its place: under it, on its inner side, or reached by tilting it? */
  hides(part: string, item: string): boolean {
    return (
      this.covers.get(item)!.includes(part) ||
      levelsOf(this.model, item).behind === part ||
      this.model.connectors.get(item)?.reachedBy?.swing === part
    );
  }

  /** Is a part of the outside: on its own face less than half of it is covered. */
  isOuter(part: string): boolean {
    return once(this.outer, part, () => {
      const { fixed, within, face, outline } = this.model.parts.get(part)!;
      const over = this.covers.get(part)!.map((id) => this.model.parts.get(id)!.outline);
      return !fixed && within === null && face !== 'edge' && shareCovered(outline, over) < OUTSIDE_SHARE;
    });
  }

  /** What lies over a part on each of the sides that it can leave through. */
  coversBySide(part: Part): string[][] {
    if (part.exits.length === 0) return [this.covers.get(part.id)!];
    const over = (at: Exit) => (p: Part) =>
      !p.fixed &&
      p.id !== part.id &&
      p.within === part.within &&
      placementsOf(p).some((own) => own.face === at.face && own.layer < at.layer) &&
      this.model.overlaps(p.id, part.id);
    return placementsOf(part).map((at) => this.model.anatomy.parts.filter(over(at)).map((p) => p.id));
  }

  /** Spring contacts that part when `part` is lifted, or eased or swung on its tethers. */
  contactsBroken(part: string, kind: Action['kind'] = 'lift'): string[] {
    const stays = this.staysMated(this.model.parts.get(part)!, kind);
    return this.jointsOf(part).connectors.filter(
      (id) => CONNECTORS.of(this.model.connectors.get(id)!.kind).byItself && !stays.has(id),
    );
  }

  /** Is a part out of the way once it is swung? One that opens by little uncovers only what says so. */
  clears(part: Part): boolean {
    return part.swing !== null && part.swing.degrees >= CLEARING_DEGREES;
  }

  private reach(item: string, way: (part: string) => Way): Requirement[] {
    const cleared = (id: string, because: Reason): Requirement => {
      const part = this.model.parts.get(id)!;
      if (part.swing?.gap?.reaches.includes(item)) return { key: key('ease', id), because: relation('gap', item) };
      const saysSo = this.model.connectors.get(item)?.reachedBy?.swing === id;
      return { key: key((this.clears(part) || saysSo) && way(id) === 'swing' ? 'swing' : 'lift', id), because };
    };
    const requirements = this.covers.get(item)!.map((part) => cleared(part, relation('covers', item)));
    const { behind } = levelsOf(this.model, item);
    if (behind !== null) requirements.push(cleared(behind, relation('carries', item)));
    for (const flex of this.foldedOver.get(item) ?? []) {
      requirements.push({ key: this.openingOf(flex), because: relation('foldsOver', item) });
      for (const bond of this.heldFlexes.get(flex) ?? [])
        requirements.push({ key: key('release', bond), because: relation('holdsFlex', flex) });
    }
    return requirements;
  }

  /**
   * A1 to A6 for one action.
   * @param way how a swinging part that stands in the way is cleared
   * @param power whether isolation and a clear bench for the iron are asked for (A4, R24); off while finding what lies before them
   */
  needsOf(action: Action, way: (part: string) => Way, power = true): Requirement[] {
    const { model } = this;
    const found: Requirement[] = this.reach(action.item, way);
    const need = (k: string, because: Reason) => found.push({ key: k, because });
    for (const order of this.ordersBefore.get(action.item) ?? [])
      need(this.doneOf(order.first), { why: 'order', first: order.first, then: order.then, words: order.because });

    if (action.kind === 'loosen') {
      for (const f of model.anatomy.fasteners)
        if (f.into === action.item) need(key('loosen', f.id), relation('standsIn', action.item));
    } else if (action.kind === 'open') {
      const c = model.connectors.get(action.item)!;
      if (c.reachedBy) need(key('swing', c.reachedBy.swing), relation('tilts', c.id));
      for (const id of c.beneath) need(this.openingOf(id), relation('liesOn', c.id));
      for (const id of c.after) need(this.doneOf(id), relation('goesBefore', c.id));
      if (power) for (const k of this.power.before(action.key, [c.id])) need(k, rule('A4'));
      if (power && CONNECTORS.of(c.kind).joint) for (const k of this.ironClears(c)) need(k, rule('R24'));
    } else if (action.kind === 'release') {
      const under = this.rimBefore(action.item);
      for (const k of under?.holds ?? []) need(k, relation('holdsRim', under!.panel));
      const latch = model.latches.get(action.item);
      const freed = latch?.release === 'last' ? model.freedBy(latch.id) : null;
      if (freed !== null) {
        const joints = this.jointsOf(freed);
        for (const id of joints.fasteners) need(key('loosen', id), relation('holds', freed));
        for (const id of [...joints.bonds, ...joints.latches])
          if (model.latches.get(id)?.release !== 'last') need(key('release', id), relation('goesBefore', action.item));
      }
    } else {
      const part = model.parts.get(action.item)!;
      const joints = this.jointsOf(part.id);
      const stays = this.staysMated(part, action.kind);
      const family = new Set(model.familyOf(part.id));
      for (const id of joints.fasteners) need(key('loosen', id), relation('holds', part.id));
      for (const id of [...joints.bonds, ...joints.latches]) need(key('release', id), relation('joins', part.id));
      if (power && part.kind === 'battery' && action.kind === 'lift')
        for (const k of this.power.before(action.key, joints.connectors)) need(k, rule('R28'));
      for (const id of joints.connectors) {
        const c = model.connectors.get(id)!;
        if (stays.has(id)) continue;
        if (!CONNECTORS.of(c.kind).byItself) need(key('open', id), relation('joins', part.id));
        else if (c.isolatesPower) {
          if (!family.has(c.from)) need(key('lift', c.from), rule('A4'));
        } else if (power) for (const k of this.power.before(action.key, [c.id])) need(k, rule('A4'));
        if (family.has(c.from)) for (const on of c.under) need(key('lift', on), relation('liesOnFlex', c.id));
      }
    }
    if (!this.trays.includes(action.key)) for (const tray of this.trays) need(tray, rule('A6'));
    return found;
  }

  /** Connectors that stay mated while a part is eased open or swung. */
  private staysMated({ swing }: Part, kind: Action['kind']): ReadonlySet<string> {
    if (kind === 'lift' || swing === null) return new Set();
    return new Set(kind === 'ease' ? [...swing.tether, ...(swing.gap?.reaches ?? [])] : swing.tether);
  }

  /** R24: of what is wanted out of the way of the iron what comes out with the joint closed. */
  private ironClears(joint: Connector): readonly string[] {
    const known = this.clearsOfIron.get(joint.id);
    if (known) return known;
    // While it is looked for, nothing is asked for.
    this.clearsOfIron.set(joint.id, []);
    const clears = wantedOutOf(this.model, joint).filter((k) => {
      try {
        return !this.before(k).some((a) => a.key === key('open', joint.id));
      } catch (error) {
        if (error instanceof NoDive) return false;
        throw error;
      }
    });
    this.clearsOfIron.set(joint.id, clears);
    return clears;
  }

  private rimBefore(id: string): Rim | null {
    const isOuter = (part: string) => this.isOuter(part);
    return once(this.rims, id, () => rimOver(this.model, id, isOuter, (part) => this.jointsOf(part)));
  }

  /** Everything that is done before an action in every order, itself included, power aside. */
  private before(k: string): Action[] {
    return [...this.closureOf(new Map([[k, rule('A4')]]), new Map(), { power: false }).actions.values()];
  }

  /**
   * The smallest set of actions that reaches the goals: everything they need, and nothing else.
   * @throws NoDive when something would have to be done before itself; the message names the chain
   */
  closureOf(
    goals: ReadonlyMap<string, Reason>,
    ways: Ways,
    options: { power?: boolean; from?: Standing | undefined } = {},
  ): Closure {
    const power = options.power ?? true;
    const { from } = options;
    const beforeLift = new Map<string, ReadonlySet<string>>();
    for (const [part, way] of ways) {
      if (way !== 'lift') continue;
      // What must be done to lift the part at all is reached by swinging it; the rest waits for it to be off.
      const { actions } = this.collect(
        new Map([[key('lift', part), plain('target')]]),
        () => () => 'swing',
        power,
        from,
      );
      beforeLift.set(part, new Set(actions.keys()));
    }
    return this.collect(
      goals,
      (forKey) => (part) => (ways.get(part) === 'lift' && !beforeLift.get(part)?.has(forKey) ? 'lift' : 'swing'),
      power,
      from,
    );
  }

  /**
   * As `closureOf`, where no single way for each part will do: everything that can be done is done once, swinging
   * before lifting, and what that order found swung is taken as swung.
   * @throws NoDive when even so a goal is out of reach
   */
  closureByPeeling(goals: ReadonlyMap<string, Reason>, options: { from?: Standing | undefined } = {}): Closure {
    const { from } = options;
    const places = this.peel(from);
    const before = (k: string, then: string) =>
      (places.get(k) ?? Number.POSITIVE_INFINITY) < (places.get(then) ?? Number.POSITIVE_INFINITY);
    return this.collect(
      goals,
      (forKey) => (part) =>
        before(key('swing', part), forKey) || !before(key('lift', part), forKey) ? 'swing' : 'lift',
      true,
      from,
    );
  }

  /** The place of every action that can be done at all, in an order in which each finds what it needs done. */
  private peel(from: Standing | undefined): Map<string, number> {
    const { anatomy } = this.model;
    const all = [
      ...anatomy.fasteners.map((f) => key('loosen', f.id)),
      ...anatomy.connectors.filter((c) => !CONNECTORS.of(c.kind).byItself).map((c) => key('open', c.id)),
      ...[...anatomy.bonds.filter((b) => !partsByItself(this.model, b)), ...anatomy.latches].map((b) =>
        key('release', b.id),
      ),
      ...anatomy.parts.filter((p) => !p.fixed && p.swing?.gap).map((p) => key('ease', p.id)),
      ...anatomy.parts.filter((p) => !p.fixed && p.swing).map((p) => key('swing', p.id)),
      ...anatomy.parts.filter((p) => !p.fixed).map((p) => key('lift', p.id)),
    ].filter((k) => !from?.absent.has(actionOf(k).item));
    const places = new Map<string, number>();
    const isThere = (k: string) => places.has(k) || (from !== undefined && isDone(from, actionOf(k)));
    // A cover is out of the way when it is swung or off; what is reached under a tilted part needs it tilted.
    const met = ({ key: k, because }: Requirement) => {
      const { kind, item } = actionOf(k);
      if (from?.absent.has(item)) return true;
      if (kind === 'ease') return isThere(k) || isThere(key('swing', item)) || isThere(key('lift', item));
      if (kind !== 'swing') return isThere(k);
      if (because.why === 'relation' && because.relation === 'tilts') return isThere(k) && !isThere(key('lift', item));
      return isThere(k) || isThere(key('lift', item));
    };
    for (let left = all.filter((k) => !isThere(k)); ; ) {
      const next = left.find((k) => this.needsOf(actionOf(k), () => 'swing').every(met));
      if (next === undefined) return places;
      places.set(next, places.size);
      left = left.filter((k) => k !== next);
    }
  }

  private collect(
    goals: ReadonlyMap<string, Reason>,
    wayFor: (forKey: string) => (part: string) => Way,
    power: boolean,
    from?: Standing,
  ): Closure {
    const finished = new Set<string>();
    const actions = new Map<string, Action>();
    const needs = new Map<string, Requirement[]>();
    const because = new Map<string, Reason[]>();
    const path: string[] = [];
    const visit = (k: string, reason: Reason): void => {
      const reasons = because.get(k) ?? [];
      if (!reasons.some((other) => reasonKey(other) === reasonKey(reason))) because.set(k, [...reasons, reason]);
      if (path.includes(k))
        throw new NoDive(actionOf(k).item, {
          code: 'waits-for-itself',
          circle: [...path.slice(path.indexOf(k)), k].map(neededHint),
        });
      if (actions.has(k)) return;
      const action = actionOf(k);
      if (from?.absent.has(action.item)) return;
      if (from && isDone(from, action)) {
        actions.set(k, action);
        finished.add(k);
        return;
      }
      if (this.model.parts.get(action.item)?.fixed)
        throw new NoDive(action.item, { code: 'never-comes-off', item: action.item });
      path.push(k);
      const requirements = this.needsOf(action, wayFor(k), power);
      needs.set(k, requirements);
      for (const requirement of requirements) visit(requirement.key, requirement.because);
      path.pop();
      actions.set(k, action);
    };
    for (const [k, reason] of goals) visit(k, reason);
    if (from) {
      for (const k of this.doneKeys(from)) {
        actions.set(k, actionOf(k));
        finished.add(k);
        if (!because.has(k)) because.set(k, [plain('doneAlready')]);
      }
      // Of what is done only the order of the way back is still asked.
      const way = (part: string): Way => (actions.has(key('swing', part)) ? 'swing' : 'lift');
      for (const k of finished) {
        const kept = (from.kept?.needs.get(k) ?? []).map((first) => ({ key: first, because: plain('doneBefore') }));
        // What was opened live is open; that isolation comes first says nothing of the way back.
        const asked = this.needsOf(actions.get(k)!, way, power && !from.kept);
        needs.set(k, [...asked, ...kept]);
      }
    }
    for (const [k, list] of needs)
      needs.set(
        k,
        list.filter((r) => actions.has(r.key)).map((r) => this.bySwing(r, actions)),
      );
    for (const action of actions.values()) {
      if (action.kind !== 'lift' && action.kind !== 'swing') continue;
      for (const kind of action.kind === 'lift' ? (['ease', 'swing'] as const) : (['ease'] as const)) {
        const sooner = key(kind, action.item);
        if (actions.has(sooner)) needs.get(action.key)!.push({ key: sooner, because: plain('opensFirst') });
      }
    }
    return { actions, needs, because, finished };
  }

  /** A cover that is swung before it is lifted is out of the way as soon as it is swung. */
  private bySwing(requirement: Requirement, actions: ReadonlyMap<string, Action>): Requirement {
    const { because } = requirement;
    const { kind, item } = actionOf(requirement.key);
    const covers = because.why === 'relation' && (because.relation === 'covers' || because.relation === 'carries');
    const swing = key('swing', item);
    const clears = kind === 'lift' && actions.has(swing) && this.clears(this.model.parts.get(item)!);
    return covers && clears ? { ...requirement, key: swing } : requirement;
  }

  /** Everything that was done to a device and has to be undone on the way back. */
  private doneKeys(from: Standing): string[] {
    const keys = [
      ...[...from.out].map((id) => key('loosen', id)),
      ...[...from.open]
        .filter((id) => !CONNECTORS.of(this.model.connectors.get(id)!.kind).byItself)
        .map((id) => key('open', id)),
      ...[...from.released]
        .filter((id) => this.model.latches.has(id) || !partsByItself(this.model, this.model.bonds.get(id)!))
        .map((id) => key('release', id)),
      ...[...from.eased].map((id) => key('ease', id)),
      ...[...from.swung].map((id) => key('swing', id)),
      ...[...from.removed].map((id) => key('lift', id)),
    ];
    // A part that is off and hangs on flexes when it comes back is hung on its hinge first.
    for (const id of from.removed)
      if (this.model.parts.get(id)!.swing?.tether.some((c) => from.open.has(c)) || workedWhile(from, 'swing', id))
        keys.push(key('swing', id));
    for (const id of [...from.removed, ...from.swung]) if (workedWhile(from, 'ease', id)) keys.push(key('ease', id));
    return keys.filter((k) => !from.absent.has(actionOf(k).item));
  }
}

const neededHint = (k: string): NeededHint => {
  const { kind, item } = actionOf(k);
  return { code: `doing-${kind}`, item };
};
