import { boundsOf, type Body, type Outline, type Point, type Rect } from '../anatomy/index.ts';
import {
  isBeside,
  openDevice,
  placeBeside,
  specOf,
  type Act,
  type ActFile,
  type Mark,
  type Sight,
  type ThingType,
} from '../explore/index.ts';
import type { ActionKind } from '../dive/index.ts';
import { beside, likeness, meanOutline, median, outlineFrom } from './outline.ts';

/** Acts by which a part moves, so that what it presses or springs against parts. */
const MOVED: ReadonlySet<string> = new Set(['part-off', 'part-swung', 'part-eased']);

/** One thing done to one item, in the order of a dive. */
export interface Done {
  kind: ActionKind;
  /** Id of the thing, over all dives. */
  thing: string;
  /** Its place among the acts that stand. */
  at: number;
  act: Act;
}

export interface Photograph {
  at: number;
  marks: Mark[];
}

/** One field dive, read: what was done in which order, and what was seen when. */
export interface Dive {
  /** From 0. */
  n: number;
  acts: Act[];
  /** What each thing is called over all dives, by the name it was given in this one. */
  names: ReadonlyMap<string, string>;
  done: Done[];
  photographs: Photograph[];
  /** Acts that contradict others; nothing is learnt from them. */
  setAside: { act: string; words: string }[];
  /** Parts that parted by themselves, and with which lift. */
  parted: { thing: string; with: string | null; at: number }[];
}

/** An item as all dives together saw it. */
export interface Thing {
  id: string;
  type: ThingType;
  /** The newest word on each field. */
  seen: Sight;
  /** mm; the mean of what was told. */
  place: Point | null;
  /** mm; standard error of the mean place, 0 for a single look. */
  placeError: number;
  length: number | null;
  lengths: number[];
  outline: Outline | null;
  bounds: Rect | null;
  /** How far beyond those it may reach, mm: of a part with many corners some may not have been drawn. */
  reach: number;
  /** The part it is on, over all dives. */
  on: string | null;
  /** What its label says, where it bears one. */
  label: string | null;
  dives: number[];
}

export interface Told {
  body: Body;
  dives: Dive[];
  things: Map<string, Thing>;
}

const PREFIX: Record<ThingType, string> = {
  part: 'part-',
  fastener: 's',
  connector: 'c',
  bond: 'bond-',
  latch: 'latch-',
};

const ACTION_OF: Partial<Record<ReturnType<typeof specOf>['does'], ActionKind>> = {
  loosen: 'loosen',
  open: 'open',
  release: 'release',
  ease: 'ease',
  swing: 'swing',
  lift: 'lift',
};

/** The middle of a head or a plug is at least this far from the edge of the body, mm. Origin: half the smallest head. */
const RIM = 0.7;
/** Two looks at one screw or plug are within this, mm. Origin: five standard deviations of the difference of two hands. */
const SAME_PLACE = 3.5;
/** A part of which more than this share of its screws was undone the other way round is another. */
const FLIPS = 0.4;
/** Sides of two rough outlines of one small part differ by no more, mm: three corners' error. */
const SAME_SIZE = 4.5;
/** Two rough outlines of one part share at least this. */
const SAME_PART = 0.5;

interface Local {
  /** The part that was moved next after it was undone, by its name in this dive. */
  next: string | null;
  id: string;
  type: ThingType;
  seen: Sight;
  label: string | null;
}

/** What learnt items are called: by names of their own, or by the labels that their acts bear. */
export type Ids = 'own' | 'labels';

/** Reads dives of one model, oldest first, and tells which of their things are the same. */
export function readDives(files: readonly ActFile[], ids: Ids = 'own'): Told {
  const [first] = files;
  if (!first) throw new Error('a device is learnt from at least one dive');
  const mean = (of: (f: ActFile) => number) => median(files.map(of));
  const body: Body = {
    width: mean((f) => f.device.width),
    height: mean((f) => f.device.height),
    thickness: mean((f) => f.device.thickness),
    cornerRadius: mean((f) => f.device.cornerRadius),
    ingress: files.find((f) => f.device.ingress !== null)?.device.ingress ?? null,
  };
  const gathering = new Gathering(body, ids);
  const dives = files.map((file, n) => gathering.add(file, n));
  return { body, dives, things: gathering.things() };
}

class Gathering {
  private readonly looks = new Map<
    string,
    { type: ThingType; seen: Sight[]; label: string | null; dives: number[]; next: string[] }
  >();
  private readonly counts = new Map<ThingType, number>();
  /** For each dive when each thing was first moved, by its name over all dives. */
  private readonly moved: Map<string, number>[] = [];

  constructor(
    private readonly body: Body,
    private readonly ids: Ids,
  ) {}

  add(file: ActFile, n: number): Dive {
    const open = openDevice(file.acts);
    const local = new Map<string, Local>();
    const movedAt = new Map<string, number>();
    for (const [at, act] of open.acts.entries()) {
      const { of, does } = specOf(act.act);
      const told = does === 'tells' && act.item !== null ? local.get(act.item) : undefined;
      if (told) told.seen = mergedSight([told.seen, this.within(act.seen)]);
      if (of === null || act.item === null) continue;
      if (ACTION_OF[does] && !movedAt.has(act.item)) movedAt.set(act.item, at);
      const known = local.get(act.item);
      local.set(act.item, {
        id: act.item,
        type: of,
        seen: mergedSight([...(known ? [known.seen] : []), this.within(act.seen)]),
        label: known?.label ?? act.label ?? null,
        next: known?.next ?? null,
      });
      // What was undone since waits for the part that comes off now.
      if (of === 'part') for (const t of local.values()) if (t.type !== 'part') t.next ??= act.item;
    }
    const names = this.match([...local.values()], n, movedAt);
    this.moved.push(new Map([...movedAt].map(([id, at]) => [names.get(id)!, at])));
    const rename = <T extends string | null | undefined>(id: T): T => (id == null ? id : ((names.get(id) ?? id) as T));
    const acts = open.acts.map((act): Act => {
      const { seen } = act;
      const leads = seen.leads && 'part' in seen.leads ? { part: rename(seen.leads.part) } : seen.leads;
      const marks = seen.marks?.map((m) => ({ ...m, on: rename(m.on) }));
      return {
        ...act,
        item: rename(act.item),
        seen: {
          ...this.within(seen),
          ...(seen.on === undefined ? {} : { on: rename(seen.on) }),
          ...(leads === undefined ? {} : { leads }),
          ...(marks === undefined ? {} : { marks }),
        },
      };
    });
    for (const [id, name] of names) {
      const { seen } = local.get(id)!;
      const leads = seen.leads && 'part' in seen.leads ? { part: rename(seen.leads.part) } : seen.leads;
      const entry = this.looks.get(name)!;
      entry.seen.push({
        ...seen,
        ...(seen.on === undefined ? {} : { on: rename(seen.on) }),
        ...(leads === undefined ? {} : { leads }),
      });
      entry.dives.push(n);
      const { next } = local.get(id)!;
      if (next !== null) entry.next.push(names.get(next)!);
    }
    const dive: Dive = { n, acts, names, done: [], photographs: [], setAside: [], parted: [] };
    dive.setAside = [
      ...open.oddities.map(({ act, words }) => ({ act, words: `${words}; nothing was learnt from it` })),
      ...this.slips(open.acts),
    ];
    const undone = new Map<string, Done[]>();
    acts.forEach((act, at) => {
      if (act.act === 'photographed') dive.photographs.push({ at, marks: act.seen.marks ?? [] });
      const { does } = specOf(act.act);
      if (act.item === null) return;
      if (does === 'back') undone.delete(act.item);
      if (does === 'parted') {
        const lift = acts.slice(0, at).findLast((a) => MOVED.has(a.act));
        dive.parted.push({ thing: act.item, with: lift?.item ?? null, at });
      }
      const kind = ACTION_OF[does];
      if (!kind) return;
      undone.set(act.item, [...(undone.get(act.item) ?? []), { kind, thing: act.item, at, act }]);
    });
    dive.done = [...undone.values()].flat().sort((a, b) => a.at - b.at);
    return dive;
  }

  things(): Map<string, Thing> {
    const things = this.merged();
    // What nobody met as a part carries nothing, and no part carries itself.
    for (const thing of things.values()) {
      const above = new Set([thing.id]);
      for (let on = thing.on; on !== null; on = things.get(on)!.on) {
        if (things.get(on)?.type === 'part' && !above.has(on)) above.add(on);
        else {
          thing.on = null;
          thing.seen = { ...thing.seen, on: null };
          break;
        }
      }
    }
    return things;
  }

  private merged(): Map<string, Thing> {
    return new Map(
      [...this.looks].map(([id, { type, seen, label, dives }]): [string, Thing] => {
        const places = seen.flatMap((s) => (s.at ? [s.at] : []));
        const lengths = seen.flatMap((s) => (s.length != null ? [s.length] : []));
        const outlines = seen.flatMap((s) => {
          const made = s.outline ? outlineFrom(s.outline, this.body) : null;
          return made ? [made] : [];
        });
        const outline = outlines.length > 0 ? meanOutline(outlines) : null;
        const place = places.length > 0 ? this.inside(meanPlace(places)) : null;
        const merged = mergedSight(seen);
        return [
          id,
          {
            id,
            type,
            seen: merged,
            place,
            placeError: place && places.length > 1 ? spread(places, place) / Math.sqrt(places.length) : 0,
            length: lengths.length > 0 ? lengths.reduce((a, b) => a + b, 0) / lengths.length : null,
            lengths,
            outline,
            bounds: outline ? boundsOf(outline) : null,
            reach: outline ? Math.min(...seen.flatMap((s) => (s.outline ? [reachOf(s.outline, outline)] : []))) : 0,
            on: merged.on ?? null,
            label,
            dives,
          } satisfies Thing,
        ];
      }),
    );
  }

  /** No head and no plug lies half outside its device, however near to the edge a hand put it. */
  private inside([x, y]: Point): Point {
    const { width, height } = this.body;
    return [Math.min(width - RIM, Math.max(RIM, x)), Math.min(height - RIM, Math.max(RIM, y))];
  }

  /** What of these acts cannot be so, in words. */
  private slips(acts: readonly Act[]): { act: string; words: string }[] {
    const parts = new Set(acts.filter((a) => specOf(a.act).of === 'part').map((a) => a.item));
    return acts.flatMap(({ id, seen }) => {
      const words: string[] = [];
      if (placeBeside(seen, this.body)) words.push('it lies outside the body; that place is not used');
      if (seen.on != null && !parts.has(seen.on))
        words.push(`it was seen on ${seen.on}, which was never met as a part; it is taken as on the device`);
      return words.map((w) => ({ act: id, words: w }));
    });
  }

  /** What lies far outside the body is a slip of the hand, and is not used. */
  private within(seen: Sight): Sight {
    const ok = (p: Point) => !isBeside(p, this.body);
    const { at, outline, line, ...rest } = seen;
    return {
      ...rest,
      ...(at && ok(at) ? { at } : {}),
      ...(outline ? { outline: outline.filter(ok) } : {}),
      ...(line ? { line: line.filter(ok) } : {}),
    };
  }

  private made(type: ThingType, label: string | null): string {
    const n = (this.counts.get(type) ?? 0) + 1;
    this.counts.set(type, n);
    if (this.ids === 'labels' && label !== null && !this.looks.has(label)) return label;
    return `${PREFIX[type]}${n}`;
  }

  /** Which things of a new dive were met before: parts first, since others are told by the part they are on. */
  private match(local: readonly Local[], n: number, movedAt: ReadonlyMap<string, number>): Map<string, string> {
    const names = new Map<string, string>();
    const taken = new Set<string>();
    // Screws and plugs are told by their places, then parts with their help, then what is on those parts.
    const inDevice = (t: Local) => t.seen.on == null;
    const onPart = (t: Local) => t.seen.on != null;
    const turns: [ThingType, (t: Local) => boolean][] = [
      ['fastener', inDevice],
      ['connector', inDevice],
      ['part', inDevice],
      ['part', onPart],
      ['fastener', onPart],
      ['connector', onPart],
      ['bond', () => true],
      ['latch', () => true],
    ];
    for (const [type, now] of turns) {
      const pairs: { a: Local; b: string; far: number }[] = [];
      const met = [...this.looks.keys()];
      for (const a of local.filter((t) => t.type === type && now(t)))
        for (const [b, known] of this.looks) {
          if (known.type !== type || known.dives.includes(n)) continue;
          const away = this.distance(a.seen, known.seen, type, names);
          const next = a.next === null ? null : (names.get(a.next) ?? null);
          // Catches of two parts may be at one edge: they are told by the part that came off with them.
          const other = type === 'latch' && next !== null && known.next.length > 0 && !known.next.includes(next);
          const flips = type === 'part' && away !== null ? this.flips(a, b, names, movedAt) : 0;
          const far = away === null || flips > FLIPS ? null : away + flips + (other ? SAME_PLACE : 0);
          if (far !== null) pairs.push({ a, b, far });
        }
      pairs.sort((p, q) => p.far - q.far || met.indexOf(p.b) - met.indexOf(q.b));
      for (const { a, b } of pairs) {
        if (names.has(a.id) || taken.has(b)) continue;
        names.set(a.id, b);
        taken.add(b);
      }
      for (const a of local) {
        if (a.type !== type || !now(a) || names.has(a.id)) continue;
        const id = this.made(type, a.label);
        names.set(a.id, id);
        this.looks.set(id, { type, seen: [], label: a.label, dives: [], next: [] });
      }
    }
    return names;
  }

  /**
   * Of the screws and plugs on the ground of a part, the share that was undone before it was moved in one dive and after
   * it in another: two parts of one size that lie over one another are told apart by what is between them.
   */
  private flips(a: Local, b: string, names: ReadonlyMap<string, string>, movedAt: ReadonlyMap<string, number>): number {
    const outline = a.seen.outline ? outlineFrom(a.seen.outline, this.body) : null;
    const own = movedAt.get(a.id);
    if (!outline || own === undefined) return 0;
    let [all, turned] = [0, 0];
    for (const earlier of this.moved) {
      const theirs = earlier.get(b);
      if (theirs === undefined) continue;
      for (const [id, name] of names) {
        const [one, other] = [movedAt.get(id), earlier.get(name)];
        const look = this.looks.get(name)!;
        const at = look.seen.at(-1)?.at;
        if (one === undefined || other === undefined || look.type === 'part' || !at) continue;
        if (beside(boundsOf(outline), at) > 0) continue;
        all++;
        if (one < own !== other < theirs) turned++;
      }
    }
    return all === 0 ? 0 : turned / all;
  }

  private sameSize(a: Sight, b: Sight): boolean {
    const [one, other] = [a, b].map((s) => (s.outline ? outlineFrom(s.outline, this.body) : null));
    if (!one || !other) return false;
    const [p, q] = [boundsOf(one), boundsOf(other)];
    return p.every((v, i) => Math.abs(v - q[i]!) <= SAME_SIZE);
  }

  /** How unlike two things of one type are, or `null` when they cannot be the same. */
  private distance(
    a: Sight,
    looks: readonly Sight[],
    type: ThingType,
    names: ReadonlyMap<string, string>,
  ): number | null {
    const b = mergedSight(looks);
    const apart = a.at && b.at ? Math.hypot(a.at[0] - b.at[0], a.at[1] - b.at[1]) : null;
    const sameSide = a.face === b.face && (a.on == null ? null : (names.get(a.on) ?? a.on)) === (b.on ?? null);
    const boxes = () => {
      const [one, other] = [a, b].map((s) => (s.outline ? outlineFrom(s.outline, this.body) : null));
      return one && other ? likeness(boundsOf(one), boundsOf(other)) : 0;
    };
    switch (type) {
      case 'fastener':
        if (a.drive !== b.drive || (a.fastener ?? 'screw') !== (b.fastener ?? 'screw') || a.face !== b.face)
          return null;
        return apart !== null && apart <= SAME_PLACE ? apart : null;
      case 'connector':
        if (a.connector !== b.connector) return null;
        return apart !== null && apart <= SAME_PLACE ? apart : null;
      case 'part': {
        if (a.part && b.part && a.part !== b.part) return null;
        if (a.face !== b.face && !sameSide) return null;
        const alike = boxes();
        // Of a small part two rough outlines have little in common.
        if (alike < SAME_PART && !(sameSide && this.sameSize(a, b))) return null;
        return 1 - alike;
      }
      case 'bond': {
        if (a.bond !== b.bond || a.face !== b.face) return null;
        if (a.line && b.line) return sameLine(a.line, b.line);
        const alike = boxes();
        return alike >= SAME_PART && (a.around ?? false) === (b.around ?? false) ? 1 - alike : null;
      }
      case 'latch':
        return a.edge === b.edge && a.count === b.count && apart !== null && apart <= SAME_PLACE ? apart : null;
      default:
        return type satisfies never;
    }
  }
}

/** Three corners are a rectangle's, which is known from them; of what has more corners an arm may be missing. */
function reachOf(corners: readonly Point[], outline: Outline): number {
  const xs = new Set(corners.map(([x]) => x));
  const ys = new Set(corners.map(([, y]) => y));
  // A rectangle that was drawn as one has no corner left out.
  if (corners.length <= 3 || (xs.size === 2 && ys.size === 2)) return HAND;
  const [, , w, h] = boundsOf(outline);
  return HAND + ARM * Math.max(w, h);
}

/** Two corners' error of a rough hand, mm. */
const HAND = 3;
/** Share of a part's length that an arm of it may stick out. Origin: boards of phones, whose arms are as long as their bodies. */
const ARM = 1;

/** All looks at one thing: the newest word on each field, except that not knowing takes nothing back. */
function mergedSight(looks: readonly Sight[]): Sight {
  const told = looks.map((s) => Object.fromEntries(Object.entries(s).filter(([key, v]) => v !== null || key === 'on')));
  const merged = Object.assign({}, ...told) as Sight;
  // To which part a flex leads says more than to which place.
  const leads = looks.findLast((s) => s.leads != null && 'part' in s.leads)?.leads;
  return leads ? { ...merged, leads } : merged;
}

function sameLine(a: readonly Point[], b: readonly Point[]): number | null {
  const mid = (l: readonly Point[]) => meanPlace(l);
  const far = Math.hypot(mid(a)[0] - mid(b)[0], mid(a)[1] - mid(b)[1]);
  return far <= 2 * SAME_PLACE ? far : null;
}

/** To a thousandth of a millimetre, so that no crumb of a sum puts a place beside the edge it lies on. */
const rounded = (mm: number): number => Math.round(mm * 1000) / 1000;

function meanPlace(places: readonly Point[]): Point {
  const sum = places.reduce(([x, y], p) => [x + p[0], y + p[1]] as Point, [0, 0] as Point);
  return [rounded(sum[0] / places.length), rounded(sum[1] / places.length)];
}

function spread(places: readonly Point[], [mx, my]: Point): number {
  const squares = places.reduce((sum, [x, y]) => sum + ((x - mx) ** 2 + (y - my) ** 2) / 2, 0);
  return Math.sqrt(squares / Math.max(1, places.length - 1));
}
