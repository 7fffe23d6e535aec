import type { Anatomy, Bond, Connector, DeviceFunction, Fastener, Latch, Part, Spare } from '../anatomy/index.ts';
import { takenIds } from './edits.ts';
import { NAMESPACE, type Group } from './references.ts';

/** Entries with every field of the format, to begin a drawing with. */
export const newEntry = {
  part: (id: string, rest: Partial<Part> & Pick<Part, 'outline'>): Part => ({
    id,
    name: id,
    kind: 'other',
    fixed: false,
    face: 'front',
    layer: 0,
    exits: [],
    within: null,
    swing: null,
    fate: 'keep',
    pairing: [],
    functions: [],
    conductive: false,
    glass: false,
    material: null,
    thickness: null,
    curved: false,
    leaves: null,
    enters: null,
    pryAt: null,
    note: '',
    ...rest,
  }),
  fastener: (id: string, rest: Partial<Fastener> & Pick<Fastener, 'at' | 'holds' | 'into'>): Fastener => ({
    id,
    kind: 'screw',
    drive: 'PH000',
    length: null,
    thread: 1.2,
    head: 2,
    face: 'front',
    holeDepth: 2.5,
    torque: null,
    threadlock: false,
    magnetic: true,
    colour: 'bright',
    fate: 'keep',
    order: null,
    layer: null,
    alternatives: [],
    ...rest,
  }),
  connector: (id: string, rest: Partial<Connector> & Pick<Connector, 'at' | 'from' | 'to'>): Connector => ({
    id,
    name: id,
    kind: 'press',
    size: [5, 2],
    face: 'front',
    layer: null,
    isolatesPower: false,
    beneath: [],
    under: [],
    reachedBy: null,
    after: [],
    carries: [],
    route: null,
    flex: null,
    liesOver: [],
    shape: '',
    ...rest,
  }),
  bond: (id: string, rest: Partial<Bond> & Pick<Bond, 'at' | 'joins'>): Bond => ({
    id,
    kind: 'tape',
    tabs: [],
    softensAt: null,
    solvent: false,
    fate: 'renew',
    face: null,
    layer: null,
    flex: null,
    staysOn: null,
    ...rest,
  }),
  latch: (id: string, rest: Partial<Latch> & Pick<Latch, 'joins' | 'edge'>): Latch => ({
    id,
    count: 2,
    release: 'any',
    mate: 'last',
    notch: null,
    alsoAt: [],
    letsGo: 'pried',
    ...rest,
  }),
  function: (id: string, name: string, test: string, afterClosing = false): DeviceFunction => ({
    id,
    name,
    test,
    afterClosing,
  }),
  spare: (id: string, name: string, replaces: string): Spare => ({
    id,
    name,
    replaces,
    includes: [replaces],
    brings: [],
  }),
};

/** Shortest beginnings of ids: a screw is `s12`, a connector `plug-3`. */
const STEMS: Record<Group, string> = {
  parts: 'part-',
  fasteners: 's',
  connectors: 'plug-',
  bonds: 'bond-',
  latches: 'catch-',
  functions: 'function-',
  spares: 'spare-',
};

/** An id that nothing has or mentions: made of a name where there is one, else counted on. */
export function freeId(anatomy: Anatomy, group: Group, name?: string, beside: ReadonlySet<string> = new Set()): string {
  const taken = takenIds(anatomy, NAMESPACE[group]);
  const free = (id: string) => !taken.has(id) && !beside.has(id);
  const stem = name
    ?.normalize('NFKD')
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '-')
    .replaceAll(/^-+|-+$/g, '')
    .slice(0, 50);
  if (stem && free(stem)) return stem;
  const from = stem ? `${stem}-` : STEMS[group];
  for (let i = stem ? 2 : 1; ; i++) if (free(`${from}${i}`)) return `${from}${i}`;
}
