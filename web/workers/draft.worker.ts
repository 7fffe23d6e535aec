import { expose } from 'comlink';
import { faultsOf, modelOf, warningsOf, type Anatomy, type Fault } from '../../core/anatomy/index.ts';
import { applied, placeIn, relationsOf, workable, type Edit, type Relations } from '../../core/draft/index.ts';

/** What is wrong with a draft, and the item that it lies at. */
export interface Found extends Fault {
  item: string | null;
  kind: 'fault' | 'warning';
}

export interface Meaning {
  found: Found[];
  relations: Map<string, Relations>;
}

let anatomy: Anatomy | null = null;

function itemAt(path: string): string | null {
  const place = placeIn(path);
  return place ? (anatomy![place.group][place.index]?.id ?? null) : null;
}

function meaning(): Meaning {
  const faults = faultsOf(anatomy!);
  // What rests on faults says nothing yet.
  const warnings = faults.length > 0 ? [] : warningsOf(modelOf(anatomy!));
  const found = [
    ...faults.map((f) => ({ ...f, item: itemAt(f.path), kind: 'fault' as const })),
    ...warnings.map((f) => ({ ...f, item: itemAt(f.path), kind: 'warning' as const })),
  ];
  return { found, relations: relationsOf(workable(anatomy!)) };
}

/**
 * What a draft means, beside the interface. It keeps the document and is told the edits: what an edit does not touch
 * stays the same objects, and is not cut anew.
 */
const reader = {
  open(document: Anatomy): Meaning {
    anatomy = document;
    return meaning();
  },
  edit(edit: Edit): Meaning {
    anatomy = applied(anatomy!, edit);
    return meaning();
  },
};

export type Reader = typeof reader;
expose(reader);
