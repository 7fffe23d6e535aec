import type { Anatomy } from '../anatomy/index.ts';

/** The lists of an anatomy whose entries have an id of their own. */
export const GROUPS = ['parts', 'fasteners', 'connectors', 'bonds', 'latches', 'functions', 'spares'] as const;
export type Group = (typeof GROUPS)[number];
export type Entry<G extends Group> = Anatomy[G][number];
export type AnyEntry = Entry<Group>;

/** What an id names: items share one namespace, functions and spares have their own. */
export type Namespace = 'item' | 'function' | 'spare';
export const NAMESPACE: Record<Group, Namespace> = {
  parts: 'item',
  fasteners: 'item',
  connectors: 'item',
  bonds: 'item',
  latches: 'item',
  functions: 'function',
  spares: 'spare',
};

/**
 * Every place of an anatomy that names an id, by what it names: the one table that renaming, deleting and the list of
 * what refers to an item go by. A path is read from the anatomy: `*` stands for every entry of a list.
 */
export const REFERENCES: readonly (readonly [path: string, names: Namespace])[] = [
  ['parts.*.within', 'item'],
  ['parts.*.swing.tether.*', 'item'],
  ['parts.*.swing.gap.reaches.*', 'item'],
  ['parts.*.pairing.*.with', 'item'],
  ['parts.*.pairing.*.loses.*', 'function'],
  ['parts.*.functions.*', 'function'],
  ['fasteners.*.holds.*', 'item'],
  ['fasteners.*.into', 'item'],
  ['connectors.*.from', 'item'],
  ['connectors.*.to', 'item'],
  ['connectors.*.beneath.*', 'item'],
  ['connectors.*.under.*', 'item'],
  ['connectors.*.reachedBy.swing', 'item'],
  ['connectors.*.after.*', 'item'],
  ['connectors.*.carries.*', 'function'],
  ['connectors.*.liesOver.*', 'item'],
  ['bonds.*.joins.*', 'item'],
  ['bonds.*.at.perimeterOf', 'item'],
  ['bonds.*.flex', 'item'],
  ['bonds.*.staysOn', 'item'],
  ['bonds.*.compressedBy.*', 'item'],
  ['latches.*.joins.*', 'item'],
  ['orders.*.first', 'item'],
  ['orders.*.then', 'item'],
  ['mateOrder.*.*', 'item'],
  ['spares.*.replaces', 'item'],
  ['spares.*.includes.*', 'item'],
  ['spares.*.brings.*', 'item'],
  ['cells.*.part', 'item'],
  ['hinge.crosses.*', 'item'],
  ['hinge.inner', 'item'],
  ['hinge.half.*', 'item'],
];

/** One mention of an id. */
export interface Mention {
  /** `fasteners[4].holds[0]` */
  path: string;
  id: string;
  names: Namespace;
  /** The entry that mentions it; for orders and mating orders, none. */
  by: { group: Group; id: string } | null;
}

type Json = { [key: string]: unknown } | unknown[];

function walk(at: unknown, path: readonly string[], said: string, found: (id: string, said: string) => void): void {
  if (at === null || at === undefined) return;
  const [step, ...rest] = path;
  if (step === undefined) {
    if (typeof at === 'string') found(at, said);
  } else if (step === '*') {
    if (Array.isArray(at)) at.forEach((entry, i) => walk(entry, rest, `${said}[${i}]`, found));
  } else if (typeof at === 'object') {
    walk((at as Record<string, unknown>)[step], rest, said === '' ? step : `${said}.${step}`, found);
  }
}

/** Every mention of an id in an anatomy. */
export function mentionsOf(anatomy: Anatomy): Mention[] {
  const out: Mention[] = [];
  for (const [path, names] of REFERENCES)
    walk(anatomy, path.split('.'), '', (id, said) => {
      const [, group, index] = /^(\w+)\[(\d+)\]/.exec(said) ?? [];
      const listed = GROUPS.includes(group as Group) ? anatomy[group as Group][Number(index)] : undefined;
      out.push({ path: said, id, names, by: listed ? { group: group as Group, id: listed.id } : null });
    });
  return out;
}

function replaced(at: unknown, path: readonly string[], from: string, to: string): unknown {
  if (at === null || at === undefined) return at;
  const [step, ...rest] = path;
  if (step === undefined) return at === from ? to : at;
  if (step === '*') {
    if (!Array.isArray(at)) return at;
    let changed = false;
    const next = at.map((entry) => {
      const made = replaced(entry, rest, from, to);
      if (made !== entry) changed = true;
      return made;
    });
    return changed ? next : at;
  }
  if (typeof at !== 'object') return at;
  const here = at as Record<string, unknown>;
  const made = replaced(here[step], rest, from, to);
  return made === here[step] ? (at as Json) : { ...here, [step]: made };
}

/** An id changed everywhere it is mentioned; entries that do not mention it stay the same objects. */
export function renamedMentions(anatomy: Anatomy, names: Namespace, from: string, to: string): Anatomy {
  let next: unknown = anatomy;
  for (const [path, kind] of REFERENCES) if (kind === names) next = replaced(next, path.split('.'), from, to);
  return next as Anatomy;
}
