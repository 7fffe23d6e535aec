import {
  boundsOf,
  faultsOf,
  modelOf,
  type Anatomy,
  type Connector,
  type Fastener,
  type Part,
  type Point,
} from '../anatomy/index.ts';
import { coversOf } from '../dive/index.ts';
import { renamedMentions } from '../draft/index.ts';
import type { Evidence } from './evidence.ts';
import type { Learnt } from './learn.ts';
import { likeness } from './outline.ts';
import { FRAME, isUnseen, REST } from './unseen.ts';

/** What a dive says against what was known. */
export interface Contradiction {
  item: string;
  words: string;
}

/** What was known of a device, once a dive has been held against it. */
export interface Met {
  anatomy: Anatomy;
  evidence: Evidence[];
  /** Known items that the dive found where they were said to be. */
  confirmed: string[];
  /** Items that nobody had drawn. */
  added: string[];
  contradictions: Contradiction[];
  /** Learnt id → known id. */
  names: ReadonlyMap<string, string>;
}

/** A screw or plug of the drawing and one that was met are the same within this, mm. Origin: a rough hand, four times over. */
const SAME_PLACE = 3;
const SAME_PART = 0.5;
/** Lengths farther apart are of two screws, mm. */
const OTHER_LENGTH = 0.3;

const mid = (a: number, b: number): number => Math.round(((a + b) / 2) * 100) / 100;
const far = (a: Point, b: Point): number => Math.hypot(a[0] - b[0], a[1] - b[1]);

/**
 * Holds what was learnt against what was known of the same model: what is found again is confirmed and its measures are
 * averaged, what is new is added, and what does not fit is told. Relations that are known stay as they were drawn.
 */
export function meet(known: Anatomy, learnt: Learnt): Met {
  const names = matched(known, learnt.anatomy);
  const contradictions: Contradiction[] = [];
  const renamed = rename(learnt.anatomy, names);
  const has = (id: string) => [...names.values()].includes(id);
  const confirmed = [...new Set(names.values())].filter((id) => modelOf(known).items.has(id));
  const parts = known.parts.map((p) =>
    meanPart(
      p,
      renamed.parts.find((q) => q.id === p.id),
    ),
  );
  const measured = new Set(
    [...names].flatMap(([met, id]) => (learnt.told.things.get(met)?.length != null ? [id] : [])),
  );
  const fasteners = known.fasteners.map((f) =>
    meanScrew(
      f,
      renamed.fasteners.find((g) => g.id === f.id),
      measured.has(f.id),
      contradictions,
    ),
  );
  const connectors = known.connectors.map((c) =>
    meanPlug(
      c,
      renamed.connectors.find((d) => d.id === c.id),
    ),
  );
  const isNew = <T extends { id: string }>(list: readonly T[], own: readonly T[]): T[] =>
    list.filter((x) => !own.some((o) => o.id === x.id) && !isUnseen(x.id) && x.id !== FRAME && x.id !== REST);
  const added = {
    parts: isNew(renamed.parts, known.parts),
    fasteners: isNew(renamed.fasteners, known.fasteners),
    connectors: isNew(renamed.connectors, known.connectors),
    bonds: isNew(renamed.bonds, known.bonds),
    latches: isNew(renamed.latches, known.latches),
  };
  const whole: Anatomy = {
    ...known,
    parts: [...parts, ...added.parts],
    fasteners: [...fasteners, ...added.fasteners],
    connectors: [...connectors, ...added.connectors],
    bonds: [...known.bonds, ...added.bonds],
    latches: [...known.latches, ...added.latches],
  };
  contradictions.push(...coversAgainst(known, learnt, names));
  // Where the mean of two roughly drawn things does not fit together, what was drawn stands.
  const fits = faultsOf(whole).length === 0;
  const kept: Anatomy = { ...whole, parts: [...known.parts, ...added.parts] };
  const anatomy = fits ? whole : faultsOf(kept).length === 0 ? kept : known;
  const told = (id: string) => names.get(id) ?? id;
  return {
    anatomy,
    evidence: learnt.evidence.map((e) => ({ ...e, of: told(e.of), to: told(e.to) })),
    confirmed: confirmed.filter(has),
    added: Object.values(added).flatMap((list) => list.map(({ id }) => id)),
    contradictions,
    names,
  };
}

/** Which learnt items are known ones: by place and kind, parts by what they cover, bonds and catches by what they join. */
function matched(known: Anatomy, learnt: Anatomy): Map<string, string> {
  const names = new Map<string, string>();
  const taken = new Set<string>();
  const pair = <T extends { id: string }>(
    own: readonly T[],
    met: readonly T[],
    apart: (k: T, m: T) => number | null,
  ) => {
    const pairs = own
      .flatMap((k) => met.map((m) => ({ k, m, by: apart(k, m) })))
      .filter((p): p is typeof p & { by: number } => p.by !== null)
      .sort((a, b) => a.by - b.by);
    for (const { k, m } of pairs) {
      if (names.has(m.id) || taken.has(k.id)) continue;
      names.set(m.id, k.id);
      taken.add(k.id);
    }
  };
  const within = (by: number, most: number) => (by <= most ? by : null);
  const real = <T extends { id: string }>(list: readonly T[]) => list.filter(({ id }) => !isUnseen(id));
  pair(known.fasteners, learnt.fasteners, (k, m) =>
    k.drive === m.drive && k.face === m.face ? within(far(k.at, m.at), SAME_PLACE) : null,
  );
  pair(known.connectors, real(learnt.connectors), (k, m) =>
    k.kind === m.kind ? within(far(k.at, m.at), SAME_PLACE) : null,
  );
  const movable = (a: Anatomy) => real(a.parts).filter((p) => !p.fixed);
  pair(movable(known), movable(learnt), (k, m) => {
    if (k.face !== m.face || (m.kind !== 'other' && k.kind !== m.kind)) return null;
    const alike = likeness(boundsOf(k.outline), boundsOf(m.outline));
    return alike >= SAME_PART ? 1 - alike : null;
  });
  const frame = known.parts.find((p) => p.fixed);
  if (frame) for (const id of [FRAME, REST]) names.set(id, frame.id);
  const told = (id: string) => names.get(id) ?? id;
  const joins = (k: { joins: string[] }, m: { joins: string[] }) =>
    m.joins.map(told).some((p) => p !== frame?.id && k.joins.includes(p));
  pair(known.bonds, learnt.bonds, (k, m) => (k.kind === m.kind && joins(k, m) ? 0 : null));
  pair(known.latches, learnt.latches, (k, m) => (k.edge === m.edge && joins(k, m) ? 0 : null));
  return names;
}

function rename(anatomy: Anatomy, names: ReadonlyMap<string, string>): Anatomy {
  // In two steps, so that no new name meets an old one.
  const aside = (id: string) => `~${id}`;
  let next = anatomy;
  const to = (a: Anatomy, from: string, name: string): Anatomy => {
    const moved = renamedMentions(a, 'item', from, name);
    const own = <T extends { id: string }>(list: T[]) => list.map((x) => (x.id === from ? { ...x, id: name } : x));
    return {
      ...moved,
      parts: own(moved.parts),
      fasteners: own(moved.fasteners),
      connectors: own(moved.connectors),
      bonds: own(moved.bonds),
      latches: own(moved.latches),
    };
  };
  for (const id of names.keys()) next = to(next, id, aside(id));
  for (const [id, name] of names) next = to(next, aside(id), name);
  return next;
}

function meanPart(known: Part, met: Part | undefined): Part {
  if (!met || !('rect' in known.outline) || !('rect' in met.outline)) return known;
  const [a, b] = [known.outline.rect, met.outline.rect];
  return {
    ...known,
    outline: { ...known.outline, rect: [mid(a[0], b[0]), mid(a[1], b[1]), mid(a[2], b[2]), mid(a[3], b[3])] },
  };
}

function meanScrew(known: Fastener, met: Fastener | undefined, measured: boolean, against: Contradiction[]): Fastener {
  if (!met) return known;
  const at: Point = [mid(known.at[0], met.at[0]), mid(known.at[1], met.at[1])];
  if (!measured || met.length === null) return { ...known, at };
  if (known.length === null) return { ...known, at, length: met.length, holeDepth: met.holeDepth };
  if (Math.abs(known.length - met.length) > OTHER_LENGTH) {
    against.push({ item: known.id, words: `${known.length} mm is drawn, ${met.length} mm came out` });
    return { ...known, at };
  }
  const length = mid(known.length, met.length);
  return { ...known, at, length, holeDepth: Math.max(known.holeDepth, length) };
}

function meanPlug(known: Connector, met: Connector | undefined): Connector {
  return met ? { ...known, at: [mid(known.at[0], met.at[0]), mid(known.at[1], met.at[1])] } : known;
}

/** What was reached although the drawing says that something lay over it. */
function coversAgainst(known: Anatomy, learnt: Learnt, names: ReadonlyMap<string, string>): Contradiction[] {
  const model = modelOf(known);
  const covers = coversOf(model);
  const found: Contradiction[] = [];
  for (const [met, id] of names)
    for (const over of covers.get(id) ?? []) {
      const part = [...names].find(([, name]) => name === over)?.[0];
      if (part === undefined || !learnt.told.things.has(met) || !learnt.told.things.has(part)) continue;
      if (learnt.orders.notCovered(part, met))
        found.push({
          item: id,
          words: `${model.nameOf(over)} is drawn over it, and it was reached with that in its place`,
        });
    }
  return found;
}
