import { versionOf, type Anatomy } from '../anatomy/index.ts';
import {
  GROUPS,
  mentionsOf,
  NAMESPACE,
  renamedMentions,
  type AnyEntry,
  type Group,
  type Namespace,
} from './references.ts';
import { DEVICE_FIELDS } from './deviceFields.ts';
import type { Change, Edit } from './format.ts';
import { same } from './same.ts';

export type { Change, Edit } from './format.ts';
export { DEVICE_FIELDS, type DeviceField } from './deviceFields.ts';

/** Why an edit does not fit the document it is put to. */
export class Clash extends Error {
  constructor(
    message: string,
    /** What it is about, by id; `null` for the device itself. */
    readonly item: string | null,
  ) {
    super(message);
  }
}

const listOf = (anatomy: Anatomy, group: Group): AnyEntry[] => anatomy[group] as AnyEntry[];

function placeOf(anatomy: Anatomy, group: Group, id: string): number {
  const at = listOf(anatomy, group).findIndex((entry) => entry.id === id);
  if (at < 0) throw new Clash(`${id} is gone meanwhile`, id);
  return at;
}

/** Ids that are taken in a namespace, by entries and by mentions: a new one must be neither. */
export function takenIds(anatomy: Anatomy, names: Namespace): Set<string> {
  const taken = new Set(mentionsOf(anatomy).flatMap((m) => (m.names === names ? [m.id] : [])));
  for (const group of GROUPS)
    if (NAMESPACE[group] === names) for (const { id } of listOf(anatomy, group)) taken.add(id);
  return taken;
}

/** @throws Clash when what the change was made on is not what is there */
function changed(anatomy: Anatomy, change: Change): Anatomy {
  switch (change.do) {
    case 'device': {
      if (!same(anatomy[change.field], change.from))
        throw new Clash(`the ${change.field} of the device was changed meanwhile`, null);
      const next = { ...anatomy, [change.field]: change.to };
      if (change.to === undefined) delete next[change.field];
      return next;
    }
    case 'set': {
      const at = placeOf(anatomy, change.group, change.id);
      const entry = listOf(anatomy, change.group)[at] as unknown as Record<string, unknown>;
      if (!same(entry[change.field], change.from))
        throw new Clash(`${change.field} of ${change.id} was changed meanwhile`, change.id);
      const next: Record<string, unknown> = { ...entry, [change.field]: change.to };
      if (change.to === undefined) delete next[change.field];
      return { ...anatomy, [change.group]: listOf(anatomy, change.group).with(at, next as unknown as AnyEntry) };
    }
    case 'add': {
      const list = listOf(anatomy, change.group);
      const names = NAMESPACE[change.group];
      const taken = GROUPS.some(
        (g) => NAMESPACE[g] === names && listOf(anatomy, g).some((e) => e.id === change.entry.id),
      );
      if (taken) throw new Clash(`there is another ${change.entry.id} meanwhile`, change.entry.id);
      const index = Math.min(change.index, list.length);
      return { ...anatomy, [change.group]: list.toSpliced(index, 0, change.entry) };
    }
    case 'remove': {
      const at = placeOf(anatomy, change.group, change.entry.id);
      if (!same(listOf(anatomy, change.group)[at], change.entry))
        throw new Clash(`${change.entry.id} was changed meanwhile`, change.entry.id);
      return { ...anatomy, [change.group]: listOf(anatomy, change.group).toSpliced(at, 1) };
    }
    case 'rename': {
      const at = placeOf(anatomy, change.group, change.from);
      const names = NAMESPACE[change.group];
      if (takenIds(anatomy, names).has(change.to))
        throw new Clash(`"${change.to}" is taken or mentioned already; choose another id`, change.from);
      const list = listOf(anatomy, change.group);
      const named = { ...anatomy, [change.group]: list.with(at, { ...list[at]!, id: change.to } as AnyEntry) };
      return renamedMentions(named, names, change.from, change.to);
    }
    default:
      return change satisfies never;
  }
}

/**
 * The document after an edit; what the edit does not touch stays the same objects.
 * @throws Clash when it was made on something else; the document is then as it was
 */
export function applied(anatomy: Anatomy, edit: Pick<Edit, 'changes'>): Anatomy {
  const next = edit.changes.reduce(changed, anatomy);
  // A document says the version that holds what it says.
  const schema = versionOf(next);
  return next.schema === schema ? next : { ...next, schema };
}

function inverseOf(change: Change): Change {
  switch (change.do) {
    case 'device':
    case 'set':
      return { ...change, from: change.to, to: change.from };
    case 'rename':
      return { ...change, from: change.to, to: change.from };
    case 'add':
      return { ...change, do: 'remove' };
    case 'remove':
      return { ...change, do: 'add' };
    default:
      return change satisfies never;
  }
}

/** What takes an edit back. */
export function inverseEdit(edit: Edit, id: string): Edit {
  return { id, label: `Take back: ${edit.label}`, changes: edit.changes.map(inverseOf).reverse() };
}

/** What an edit is about, by id. */
export function touchedBy(edit: Pick<Edit, 'changes'>): string[] {
  const ids = edit.changes.flatMap((c) => {
    if (c.do === 'set') return [c.id];
    if (c.do === 'add' || c.do === 'remove') return [c.entry.id];
    return c.do === 'rename' ? [c.from, c.to] : [];
  });
  return [...new Set(ids)];
}

/**
 * Edits of two hands on one document: those of `theirs` are there already, those of `mine` are put on top, each as far
 * as it was made on something that they left alone.
 * @returns the document, the edits of `mine` that fit, and those that clash, each with why
 */
export function merged(
  theirs: Anatomy,
  mine: readonly Edit[],
): { anatomy: Anatomy; kept: Edit[]; clashes: { edit: Edit; why: string; item: string | null }[] } {
  let anatomy = theirs;
  const kept: Edit[] = [];
  const clashes: { edit: Edit; why: string; item: string | null }[] = [];
  for (const edit of mine) {
    try {
      anatomy = applied(anatomy, edit);
      kept.push(edit);
    } catch (error) {
      if (!(error instanceof Clash)) throw error;
      clashes.push({ edit, why: error.message, item: error.item });
    }
  }
  return { anatomy, kept, clashes };
}

/**
 * What leads from one document to another, as one edit: entries by their id, fields by their name.
 * Entries that only changed places in their list are left where they are: order in a list means nothing.
 */
export function editBetween(before: Anatomy, after: Anatomy, id: string, label: string): Edit {
  const changes: Change[] = [];
  for (const group of GROUPS) {
    const [old, now] = [listOf(before, group), listOf(after, group)];
    const known = new Map(now.map((e) => [e.id, e]));
    // From the end, so that each index is right when its turn comes.
    for (let i = old.length - 1; i >= 0; i--)
      if (!known.has(old[i]!.id)) changes.push({ do: 'remove', group, entry: old[i]!, index: i });
  }
  for (const group of GROUPS) {
    const known = new Map(listOf(before, group).map((e) => [e.id, e]));
    listOf(after, group).forEach((entry, index) => {
      const was = known.get(entry.id);
      if (!was) changes.push({ do: 'add', group, entry, index });
      else if (was !== entry) changes.push(...setsBetween(group, was, entry));
    });
  }
  for (const field of DEVICE_FIELDS)
    if (!same(before[field], after[field]))
      changes.push({ do: 'device', field, from: before[field], to: after[field] });
  return { id, label, changes };
}

function setsBetween(group: Group, was: AnyEntry, now: AnyEntry): Change[] {
  const [a, b] = [was, now] as unknown as Record<string, unknown>[];
  const fields = [...new Set([...Object.keys(a!), ...Object.keys(b!)])];
  return fields
    .filter((field) => field !== 'id' && !same(a![field], b![field]))
    .map((field) => ({ do: 'set', group, id: was.id, field, from: a![field], to: b![field] }));
}
