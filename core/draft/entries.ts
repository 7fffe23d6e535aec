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
    length: 2,
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

/**
 * Functions that most devices have, with their tests. Origin: common practice of the trade, in our own words.
 * `of`: kinds of parts that they usually hang on.
 */
export const USUAL_FUNCTIONS: readonly (DeviceFunction & { of: readonly Part['kind'][] })[] = [
  {
    id: 'power',
    name: 'Power',
    test: 'It starts; the charge level is shown.',
    afterClosing: false,
    of: ['battery', 'board'],
  },
  {
    id: 'charging',
    name: 'Charging',
    test: 'It charges from a cable; the current settles.',
    afterClosing: false,
    of: ['port'],
  },
  {
    id: 'wireless-charging',
    name: 'Wireless charging',
    test: 'On the pad it charges in two places.',
    afterClosing: true,
    of: ['coil'],
  },
  {
    id: 'picture',
    name: 'Picture',
    test: 'White, black, red, green, blue: every line, no spots.',
    afterClosing: false,
    of: ['display'],
  },
  { id: 'touch', name: 'Touch', test: 'Drag one icon over the whole surface.', afterClosing: false, of: ['display'] },
  {
    id: 'camera',
    name: 'Camera',
    test: 'A near and a far picture; it focuses, no rattle.',
    afterClosing: false,
    of: ['camera'],
  },
  {
    id: 'front-camera',
    name: 'Front camera',
    test: 'One picture, sharp to the rim.',
    afterClosing: false,
    of: ['camera'],
  },
  { id: 'flash', name: 'Flash', test: 'It lights with a picture and as a lamp.', afterClosing: false, of: ['camera'] },
  {
    id: 'loudspeaker',
    name: 'Loudspeaker',
    test: 'The loudest ring: no rattle.',
    afterClosing: false,
    of: ['speaker'],
  },
  {
    id: 'ear-speaker',
    name: 'Ear speaker',
    test: 'A voice at the ear, clear at half volume.',
    afterClosing: false,
    of: ['speaker'],
  },
  {
    id: 'microphone',
    name: 'Microphone',
    test: 'Record and play back a sentence.',
    afterClosing: false,
    of: ['sensor', 'port'],
  },
  {
    id: 'vibration',
    name: 'Vibration',
    test: 'Silent ring: felt, and not heard to rattle.',
    afterClosing: false,
    of: ['motor'],
  },
  {
    id: 'buttons',
    name: 'Buttons',
    test: 'Each button, twice: it clicks and acts.',
    afterClosing: true,
    of: ['button'],
  },
  {
    id: 'fingerprint',
    name: 'Fingerprint',
    test: 'A known finger opens it three times of three.',
    afterClosing: false,
    of: ['reader', 'button'],
  },
  { id: 'face', name: 'Face', test: 'A known face opens it.', afterClosing: true, of: ['sensor', 'camera'] },
  {
    id: 'light-sensor',
    name: 'Light and nearness',
    test: 'Covered, the screen goes dark in a call.',
    afterClosing: false,
    of: ['sensor'],
  },
  {
    id: 'network',
    name: 'Network',
    test: 'It registers; a call comes in.',
    afterClosing: true,
    of: ['antenna', 'board'],
  },
  {
    id: 'wireless',
    name: 'Wireless network',
    test: 'It finds the shop’s network at arm’s length.',
    afterClosing: true,
    of: ['antenna', 'board'],
  },
  {
    id: 'sim',
    name: 'SIM',
    test: 'The card is read after putting it in again.',
    afterClosing: false,
    of: ['tray', 'reader'],
  },
  {
    id: 'card',
    name: 'Memory card',
    test: 'The card is read and written.',
    afterClosing: false,
    of: ['reader', 'tray'],
  },
  {
    id: 'seal',
    name: 'Seal',
    test: 'The leak test holds, where the house has one.',
    afterClosing: true,
    of: ['cover'],
  },
];
