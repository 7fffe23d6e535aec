import { outlineHolds, type Edge, type Point, type Rect } from '../anatomy/index.ts';
import { FASTENERS } from '../kinds/index.ts';
import type { Dive, Done, Thing, Told } from './dives.ts';
import { SURE, type Evidence, type Grade, type RelationKind } from './evidence.ts';
import { NO_ANSWERS, type Answers } from './answers.ts';
import { boundsOfJoint, type Orders } from './order.ts';
import { beside, inwards, likeness } from './outline.ts';
import { MISTAKEN } from './sightings.ts';
import { CAUGHT, FRAME, keptOn, REST } from './unseen.ts';

/** Farther than this from a rough outline a place is not on that part, mm: two corners' error. */
const ON_PART = 3;
/** Deeper than this within a rough outline it is on that part for certain, mm. */
const DEEP = 1.2;
/** Two heads nearer than this stand in one another, mm. */
const ONE_AXIS = 2.2;
/** A strip that was cut all round a part has its outline in common with it. */
const ROUND = 0.55;
/** A catch is at the edge of its part, within this, mm. */
const AT_EDGE = 5;
/** What is farther than this from the edge of a part, mm, is no catch of it. Origin: own choice, a hand's aim six times over. */
const OFF_EDGE = 6 * AT_EDGE;

export interface PartRelations {
  within: string | null;
  hinge: Edge | null;
  degrees: number;
  tether: string[];
  gap: { width: number; reaches: string[] } | null;
}

/** What was inferred of the items, before it is drawn. Everything in it stands in the evidence. */
export interface Relations {
  parts: Map<string, PartRelations>;
  fasteners: Map<string, { holds: string[]; into: string }>;
  connectors: Map<string, { from: string; to: string; beneath: string[]; reachedBy: string | null }>;
  joints: Map<string, { joins: string[] }>;
  evidence: Evidence[];
  /** Other parts that a screw may have held, the likelier first. */
  mayHold: Map<string, string[]>;
  /** Parts that a bond may have held of which that is not certain. */
  mayBeBonded: Set<string>;
  /** Plugs whose part is only guessed. */
  guessedPlugs: Set<string>;
}

/** Infers what holds, joins and carries what. Everything errs to the side of more that has to be undone first. */
export function relationsOf(told: Told, orders: Orders, answers: Answers = NO_ANSWERS): Relations {
  return new Inference(told, orders, answers).all();
}

/** A part that was moved after something was undone. */
interface Candidate {
  part: Thing;
  at: number;
}

class Inference {
  private readonly evidence: Evidence[] = [];
  private readonly mayHold = new Map<string, string[]>();
  private readonly mayBeBonded = new Set<string>();

  constructor(
    private readonly told: Told,
    private readonly orders: Orders,
    private readonly answers: Answers,
  ) {}

  all(): Relations {
    const parts = new Map<string, PartRelations>();
    const fasteners: Relations['fasteners'] = new Map();
    const connectors: Relations['connectors'] = new Map();
    const joints: Relations['joints'] = new Map();
    for (const thing of this.told.things.values()) if (thing.type === 'part') parts.set(thing.id, this.part(thing));
    for (const thing of this.told.things.values()) {
      if (thing.type === 'fastener') fasteners.set(thing.id, this.fastener(thing));
      if (thing.type === 'connector') connectors.set(thing.id, this.connector(thing));
      if (thing.type === 'bond' || thing.type === 'latch') joints.set(thing.id, this.joint(thing));
    }
    for (const [id, relations] of parts) this.hang(id, relations, connectors);
    const { evidence, mayHold, mayBeBonded } = this;
    const guessed = evidence.filter((e) => e.relation === 'from' && e.grade === 'guessed').map((e) => e.of);
    return { parts, fasteners, connectors, joints, evidence, mayHold, mayBeBonded, guessedPlugs: new Set(guessed) };
  }

  private say(relation: RelationKind, of: string, to: string, grade: Grade, why: string, sure = SURE[grade]): void {
    this.evidence.push({ relation, of, to, grade, sure, why });
  }

  private part(thing: Thing): PartRelations {
    const within = thing.on;
    if (within !== null) this.say('within', thing.id, within, 'seen', 'it was taken from that part as it lay open');
    const { edge, degrees } = thing.seen;
    const swung = this.told.dives.some((d) => d.done.some((x) => x.thing === thing.id && x.kind !== 'lift'));
    return { within, hinge: swung ? (edge ?? 'left') : null, degrees: degrees ?? 90, tether: [], gap: null };
  }

  /** The flexes that were mated while a part hung open, and what was reached through its first gap. */
  private hang(id: string, part: PartRelations, connectors: Relations['connectors']): void {
    if (part.hinge === null) return;
    const thing = this.told.things.get(id)!;
    const tether = new Set<string>();
    const reaches = new Set<string>();
    for (const dive of this.told.dives) {
      const when = (kind: Done['kind']) => dive.done.find((d) => d.thing === id && d.kind === kind)?.at;
      const eased = when('ease');
      const swung = when('swing');
      const lifted = when('lift') ?? Number.POSITIVE_INFINITY;
      for (const { thing: c, kind, at } of dive.done) {
        if (kind !== 'open') continue;
        const joins = connectors.get(c)!;
        if (eased !== undefined && at > eased && at < (swung ?? lifted)) reaches.add(c);
        const own = joins.from === id || joins.to === id;
        if (own && at > (swung ?? eased ?? Number.POSITIVE_INFINITY) && at < lifted) tether.add(c);
      }
    }
    part.tether = [...tether];
    const guessed = new Set(
      this.evidence.filter((e) => e.relation === 'from' && e.grade === 'guessed').map((e) => e.of),
    );
    for (const c of tether)
      this.say('tether', id, c, guessed.has(c) ? 'guessed' : 'seen', 'it was still mated when the part hung open');
    const width = thing.seen.gap;
    if (width === undefined) return;
    part.gap = { width, reaches: [...reaches] };
    for (const c of reaches) this.say('gap', id, c, 'seen', 'it was opened through the first gap');
  }

  /** Parts that were moved after `thing` was undone, first to last, in the dive that leaves the fewest. */
  private movedAfter(thing: Thing, on: string | null): Candidate[] {
    let least: Candidate[] | null = null;
    for (const n of thing.dives) {
      const at = this.orders.movedAt(n, thing.id);
      if (at === undefined) continue;
      const found = this.candidates(this.told.dives[n]!, at, on);
      if (least === null || found.length < least.length) least = found;
    }
    return least ?? [];
  }

  private candidates(dive: Dive, after: number, on: string | null): Candidate[] {
    const first = new Map<string, number>();
    for (const { thing, kind, at } of dive.done)
      if ((kind === 'lift' || kind === 'swing' || kind === 'ease') && !first.has(thing)) first.set(thing, at);
    return [...first]
      .filter(([id, at]) => at > after && this.told.things.get(id)!.on === on)
      .map(([id, at]) => ({ part: this.told.things.get(id)!, at }))
      .sort((a, b) => a.at - b.at);
  }

  private fastener(thing: Thing): { holds: string[]; into: string } {
    const { place } = thing;
    const candidates = this.movedAfter(thing, thing.on);
    const depth = ({ part }: Candidate) =>
      part.bounds && place ? inwards(part.bounds, place) : Number.NEGATIVE_INFINITY;
    const reached = candidates.filter((c) => depth(c) > -c.part.reach);
    const near = candidates.filter((c) => depth(c) > -ON_PART);
    const sameFace = ({ part }: Candidate) => thing.seen.face === 'edge' || part.seen.face === thing.seen.face;
    const possible = (near.length > 0 ? near : reached).toSorted((a, b) => Number(sameFace(b)) - Number(sameFace(a)));
    const certain = possible.filter((c) => depth(c) > DEEP && place !== null && holdsPlace(c.part, place));
    const ground = thing.on ?? FRAME;
    let held = possible[0] ?? nearest(candidates, place) ?? null;
    let grade: Grade = 'guessed';
    if (held && reached.length === 1) grade = depth(held) > -ON_PART / 2 ? 'inferred' : 'guessed';
    else if (held && certain[0] === held) grade = 'inferred';
    else if (certain.length > 0 && held && depth(held) < 0) held = certain[0]!;
    const said = this.answers.holds.get(thing.id);
    const told = candidates.find((c) => c.part.id === said);
    if (told) {
      this.say('holds', thing.id, told.part.id, 'seen', 'the technician said so');
      this.mayHold.set(thing.id, []);
      return { holds: [told.part.id], into: told.part.id === ground ? REST : ground };
    }
    const others = reached.filter((c) => c !== held).map((c) => c.part.id);
    const holds = held?.part.id ?? (thing.on === null ? REST : null);
    if (holds === null) {
      // Nothing came off that part: what the screw held there is not known.
      this.mayHold.set(thing.id, []);
      this.say('holds', thing.id, thing.on!, 'guessed', 'nothing was taken off there since');
      return { holds: [keptOn(thing.on!)], into: thing.on! };
    }
    this.mayHold.set(thing.id, others);
    const why =
      grade === 'inferred'
        ? 'it goes through that part, which came off next of all that it could hold'
        : possible.length > 0
          ? `${[holds, ...others].join(' or ')}: its place is near all of them`
          : 'nothing that came off since has its place; the nearest is taken';
    this.say('holds', thing.id, holds, grade, why);
    const standoff = this.standoffBeneath(thing);
    if (standoff) {
      this.say('into', thing.id, standoff, 'seen', 'a standoff came out at the same place after it');
      return { holds: [holds], into: standoff };
    }
    const beneath = certain.find((c) => c.part.id !== holds && held !== null && c.at > held.at);
    const into = beneath?.part.id ?? (holds === ground ? REST : ground);
    this.say(
      'into',
      thing.id,
      into,
      'guessed',
      beneath ? 'that part lies beneath it' : 'nothing else came out beneath it',
    );
    return { holds: [holds], into };
  }

  private standoffBeneath(thing: Thing): string | null {
    if (!thing.place) return null;
    for (const other of this.told.things.values()) {
      if (
        other.type !== 'fastener' ||
        other.id === thing.id ||
        !(other.seen.fastener && FASTENERS.of(other.seen.fastener).seat) ||
        !other.place
      )
        continue;
      if (Math.hypot(other.place[0] - thing.place[0], other.place[1] - thing.place[1]) > ONE_AXIS) continue;
      if (this.orders.alwaysAfter(thing.id, other.id)) return other.id;
    }
    return null;
  }

  private connector(thing: Thing): { from: string; to: string; beneath: string[]; reachedBy: string | null } {
    if (thing.seen.isolates) this.say('isolates', thing.id, thing.id, 'seen', 'it is the battery’s');
    if (thing.seen.connector === 'contact') return this.contact(thing);
    const { place, on } = thing;
    const beneath = this.beneath(thing);
    const carrier = on === null ? null : this.told.things.get(on)!;
    const kids = on === null ? [] : this.movedAfter(thing, on);
    if (carrier && kids.length === 0) {
      const others = this.movedAfter(thing, null).filter((c) => c.part.id !== on);
      const { from } = this.ends(thing, place, others, on!, REST);
      const leadsHere = thing.seen.leads && 'part' in thing.seen.leads && thing.seen.leads.part === on;
      if (leadsHere || carrier.seen.edge === undefined) return { from: on!, to: REST, beneath, reachedBy: null };
      this.say('tilts', thing.id, on!, 'inferred', 'it was reached on the underside of that part as it stood tilted');
      return { from: from === on ? REST : from, to: on!, beneath, reachedBy: on };
    }
    if (carrier) return { ...this.ends(thing, place, kids, on!, kids[0]!.part.id), beneath, reachedBy: null };
    return { ...this.ends(thing, place, this.movedAfter(thing, null), REST, FRAME), beneath, reachedBy: null };
  }

  /** The two parts that a plug joins: the one its flex leads to, and the one its socket lies on. */
  private ends(
    thing: Thing,
    place: Point | null,
    after: readonly Candidate[],
    ground: string,
    other: string,
  ): { from: string; to: string } {
    const { leads } = thing.seen;
    const own = this.told.things.get(leads && 'part' in leads ? leads.part : '');
    let from: string | null = null;
    let grade: Grade = 'guessed';
    let why = 'its flex was not followed';
    if (own?.type === 'part') {
      from = own.id;
      grade = 'seen';
      why = 'its flex was seen to lead to that part';
    } else if (leads && 'at' in leads) {
      const { at } = leads;
      const there = after.filter(({ part }) => part.bounds && beside(part.bounds, at) < ON_PART);
      const clear = there.filter(({ part }) => !place || !part.bounds || inwards(part.bounds, place) < DEEP);
      const [one] = clear.length > 0 ? clear : there;
      if (one) {
        from = one.part.id;
        const about = after.filter(({ part }) => part.bounds && beside(part.bounds, at) < 2 * ON_PART);
        const lone = about.length === 1 && clear.length === 1 && inwards(one.part.bounds!, at) > DEEP;
        grade = lone ? 'inferred' : 'guessed';
        why = 'its flex was seen to lead to a place on that part';
      }
    }
    from ??= this.hungWhile(thing);
    const socket = after.find(
      ({ part }) =>
        part.id !== from &&
        part.seen.face === thing.seen.face &&
        place &&
        part.bounds &&
        inwards(part.bounds, place) > DEEP,
    );
    const to = socket && holdsPlace(socket.part, place!) ? socket.part.id : ground;
    // Where its flex was not followed it is said of what stayed in; the order in which it was opened is kept anyway.
    from ??= to === ground ? other : ground;
    if (from === to) from = to === REST ? FRAME : REST;
    this.say('from', thing.id, from, grade, why);
    const lies = socket ? 'its place lies on that part, which came out later' : 'no part that came out has its place';
    this.say('to', thing.id, to, 'guessed', lies);
    return { from, to };
  }

  /** A part that hung open when a plug was opened and was then taken off: perhaps by that plug's flex it hung. */
  private hungWhile(thing: Thing): string | null {
    if (thing.on !== null || thing.seen.isolates) return null;
    for (const n of thing.dives) {
      const at = this.orders.movedAt(n, thing.id);
      if (at === undefined) continue;
      const { done } = this.told.dives[n]!;
      const hung = done.find(
        (d) =>
          d.kind === 'swing' &&
          d.at < at &&
          this.told.things.get(d.thing)!.seen.face === thing.seen.face &&
          done.some((x) => x.thing === d.thing && x.kind === 'lift' && x.at > at),
      );
      if (hung) return hung.thing;
    }
    return null;
  }

  private contact(thing: Thing): { from: string; to: string; beneath: string[]; reachedBy: null } {
    const lift = this.told.dives.flatMap((d) => d.parted).find((p) => p.thing === thing.id)?.with ?? null;
    const from = lift ?? REST;
    const to = from === REST ? FRAME : (this.told.things.get(from)?.on ?? REST);
    this.say('joins', thing.id, from, lift ? 'seen' : 'guessed', 'its springs parted when that part was lifted');
    return { from, to, beneath: [], reachedBy: null };
  }

  /** Plugs that lay over this one: it showed in no photograph, though no part has been moved since the last. */
  private beneath(thing: Thing): string[] {
    for (const n of thing.dives) {
      const at = this.orders.movedAt(n, thing.id);
      const dive = this.told.dives[n]!;
      if (at === undefined || this.orders.seenBefore(n, thing.id, at)) return [];
      const shot = dive.photographs.findLast((p) => p.at < at);
      if (!shot) return [];
      const between = dive.done.filter((d) => d.at > shot.at && d.at < at);
      if (between.some((d) => d.kind === 'lift' || d.kind === 'swing' || d.kind === 'ease')) return [];
      const { place } = thing;
      const shows = shot.marks.some(
        (m) => m.type === 'connector' && place && Math.hypot(m.at[0] - place[0], m.at[1] - place[1]) < MISTAKEN,
      );
      if (shows || dive.acts.slice(shot.at, at).some((a) => a.act === 'turned-over')) return [];
      const plugs = between.filter((d) => d.kind === 'open');
      if (plugs.length !== 1) return [];
      const [over] = plugs;
      this.say('covers', over!.thing, thing.id, 'inferred', 'it did not show until that plug was open');
      return [over!.thing];
    }
    return [];
  }

  private joint(thing: Thing): { joins: string[] } {
    const every = this.movedAfter(thing, thing.on);
    const sameSide = every.filter(({ part }) => part.seen.face === thing.seen.face);
    const candidates = sameSide.length > 0 ? sameSide : every;
    const ground = thing.on ?? FRAME;
    const lift = this.told.dives.flatMap((d) => d.parted).find((p) => p.thing === thing.id)?.with;
    if (lift) {
      this.say('joins', thing.id, lift, 'seen', 'it parted as that part was lifted');
      return { joins: [lift, this.told.things.get(lift)?.on ?? REST] };
    }
    const { part, grade, why } =
      thing.type === 'latch' ? this.caught(thing, candidates) : this.bonded(thing, candidates);
    const joins = part ?? REST;
    this.say(
      'joins',
      thing.id,
      joins,
      part ? grade : 'guessed',
      part ? why : 'nothing that came off since has its place',
    );
    // The side of a catch is that of what it held.
    if (part === null && thing.type === 'latch' && thing.on === null) return { joins: [CAUGHT, FRAME] };
    return { joins: [joins, joins === ground ? REST : ground] };
  }

  private caught(thing: Thing, candidates: readonly Candidate[]): { part: string | null; grade: Grade; why: string } {
    const { place } = thing;
    const { edge } = thing.seen;
    const far = ({ part }: Candidate) => (part.bounds && place && edge ? offEdge(part.bounds, edge, place) : 0);
    const near = candidates.filter((c) => far(c) <= AT_EDGE);
    // A catch is let go shortly before its part comes off.
    const best = near[0] ?? candidates.filter((c) => far(c) <= OFF_EDGE).toSorted((a, b) => far(a) - far(b))[0];
    const lone = near.length === 1 && near[0] === best;
    return {
      part: best?.part.id ?? null,
      grade: lone ? 'inferred' : 'guessed',
      why: lone
        ? 'it is at the edge of that part alone'
        : 'several parts have an edge there; the one that came off next is taken',
    };
  }

  private bonded(thing: Thing, candidates: readonly Candidate[]): { part: string | null; grade: Grade; why: string } {
    const ground = boundsOfJoint(thing);
    if (thing.seen.around && ground) {
      const like = ({ part }: Candidate) => (part.bounds ? likeness(part.bounds, ground) : 0);
      const best = candidates.toSorted((a, b) => like(b) - like(a))[0];
      const second = candidates.toSorted((a, b) => like(b) - like(a))[1];
      const clear = best !== undefined && like(best) > ROUND && (!second || like(second) < ROUND);
      const alike = candidates.filter((c) => like(c) > ROUND);
      if (!clear) for (const c of alike) this.mayBeBonded.add(c.part.id);
      return {
        part: (clear ? best : (alike.at(-1) ?? best))?.part.id ?? null,
        grade: clear ? 'inferred' : 'guessed',
        why: 'it ran all round that part, which came off after it',
      };
    }
    const middle: Point | null = ground && [ground[0] + ground[2] / 2, ground[1] + ground[3] / 2];
    const depth = ({ part }: Candidate) => (part.bounds && middle ? inwards(part.bounds, middle) : 0);
    const possible = candidates.filter((c) => depth(c) > -ON_PART);
    // What is pulled by its tabs may lie under more than what showed.
    const deep = thing.seen.tabs === undefined && possible[0] !== undefined && depth(possible[0]) > DEEP;
    const sure = possible.length === 1 || deep;
    // In doubt it is laid with the part that goes back first: then it lies, and its liner is off, whichever it holds.
    // Strips and pouches hold cells (common practice).
    const cell = thing.seen.tabs ? possible.find(({ part }) => part.seen.part === 'battery') : undefined;
    const best = cell ?? (sure ? possible[0] : (possible.at(-1) ?? candidates.at(-1)));
    if (!sure) for (const c of possible) this.mayBeBonded.add(c.part.id);
    return {
      part: best?.part.id ?? null,
      grade: sure ? 'inferred' : 'guessed',
      why: sure
        ? 'it lies under that part, which came off next of all that it could hold'
        : 'the part that came off next is taken',
    };
  }
}

const holdsPlace = (part: Thing, place: Point): boolean =>
  part.outline !== null && ('rect' in part.outline || outlineHolds(part.outline, place));

function nearest(candidates: readonly Candidate[], place: Point | null): Candidate | undefined {
  if (!place) return candidates[0];
  const far = ({ part }: Candidate) => (part.bounds ? beside(part.bounds, place) : 1e6);
  return candidates.toSorted((a, b) => far(a) - far(b))[0];
}

function offEdge([x, y, w, h]: Rect, edge: Edge, [px, py]: Point): number {
  const middle: Record<Edge, Point> = {
    top: [x + w / 2, y],
    bottom: [x + w / 2, y + h],
    left: [x, y + h / 2],
    right: [x + w, y + h / 2],
  };
  return Math.hypot(middle[edge][0] - px, middle[edge][1] - py);
}
