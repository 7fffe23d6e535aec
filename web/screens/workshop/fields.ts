import {
  COLOURS,
  CORNERS,
  DRIVES,
  FASTENER_KINDS,
  MOTIONS,
  PART_KINDS,
  PART_MATERIALS,
  type Anatomy,
} from '../../../core/anatomy/index.ts';
import type { Group } from '../../../core/draft/index.ts';

/** How a field of an entry is shown and changed. */
export type Field =
  | { field: string; label: string; as: 'text' | 'words'; none?: boolean }
  | {
      field: string;
      label: string;
      as: 'number';
      unit: string;
      min: number;
      max: number;
      none?: boolean;
      whole?: boolean;
    }
  | { field: string; label: string; as: 'choice'; of: readonly string[]; none?: boolean }
  | { field: string; label: string; as: 'yes' }
  | { field: string; label: string; as: 'point'; none?: boolean }
  | { field: string; label: string; as: 'size' }
  | { field: string; label: string; as: 'one'; of: Named; none?: boolean }
  /** With `orNone` nothing chosen is a field that the document does not have. */
  | { field: string; label: string; as: 'many'; of: Named; orNone?: boolean }
  | {
      field: string;
      label: string;
      as:
        | 'outline'
        | 'swing'
        | 'pairing'
        | 'motion'
        | 'route'
        | 'bondAt'
        | 'tabs'
        | 'exits'
        | 'reachedBy'
        | 'edges'
        | 'alternatives'
        | 'limits';
    };

/** Lists that an id can be chosen from. */
export type Named =
  | 'parts'
  | 'connectors'
  | 'functions'
  | 'bonds'
  | 'items'
  | 'seats'
  | 'fasteners'
  | 'rails'
  | 'bodies';

export function namesOf(anatomy: Anatomy, of: Named): { id: string; name: string }[] {
  const list = (group: { id: string; name?: string }[]) =>
    group.map(({ id, name }) => ({ id, name: name && name !== id ? `${name} (${id})` : id }));
  switch (of) {
    case 'parts':
      return list(anatomy.parts);
    case 'connectors':
      return list(anatomy.connectors);
    case 'functions':
      return list(anatomy.functions);
    case 'bonds':
      return list(anatomy.bonds);
    case 'fasteners':
      return list(anatomy.fasteners);
    case 'rails':
      return list(anatomy.rails ?? []);
    case 'bodies':
      return list(anatomy.bodies ?? []);
    case 'seats':
      return [...list(anatomy.parts), ...list(anatomy.fasteners.filter((f) => f.kind === 'standoff'))];
    case 'items':
      return [
        ...list(anatomy.parts),
        ...list(anatomy.fasteners),
        ...list(anatomy.connectors),
        ...list(anatomy.bonds),
        ...list(anatomy.latches),
      ];
    default:
      return of satisfies never;
  }
}

const EDGES = ['top', 'right', 'bottom', 'left'] as const;
const FACES = ['front', 'back', 'edge'] as const;
const FATES = ['keep', 'renew', 'renew-if-damaged'] as const;
export const MOTION_FROM = [...EDGES, ...CORNERS] as const;
export { EDGES, FACES, MOTIONS };

const layer = { as: 'number', unit: '', min: 0, max: 40, whole: true } as const;

/** Every field of the format, in the order in which it is asked for. */
export const FIELDS: Record<Group, readonly Field[]> = {
  parts: [
    { field: 'name', label: 'Name', as: 'text' },
    { field: 'kind', label: 'Kind', as: 'choice', of: PART_KINDS },
    { field: 'outline', label: 'Outline', as: 'outline' },
    { field: 'face', label: 'Comes off through', as: 'choice', of: FACES },
    { field: 'layer', label: 'Layer', ...layer },
    { field: 'within', label: 'Travels with', as: 'one', of: 'parts', none: true },
    { field: 'fate', label: 'Afterwards', as: 'choice', of: FATES },
    { field: 'functions', label: 'Functions', as: 'many', of: 'functions' },
    { field: 'swing', label: 'Swings open', as: 'swing' },
    { field: 'leaves', label: 'Leaves', as: 'motion' },
    { field: 'enters', label: 'Goes in', as: 'motion' },
    { field: 'glass', label: 'Bare glass', as: 'yes' },
    { field: 'curved', label: 'Curved at its rim', as: 'yes' },
    { field: 'conductive', label: 'Conductive', as: 'yes' },
    { field: 'fixed', label: 'Never comes off', as: 'yes' },
    { field: 'material', label: 'Material', as: 'choice', of: PART_MATERIALS, none: true },
    { field: 'thickness', label: 'Thickness', as: 'number', unit: 'mm', min: 0.05, max: 60, none: true },
    { field: 'pryAt', label: 'Pried at', as: 'point', none: true },
    { field: 'exits', label: 'Other ways off', as: 'exits' },
    { field: 'pairing', label: 'Paired with', as: 'pairing' },
    { field: 'limits', label: 'Does not bear', as: 'limits' },
    { field: 'body', label: 'Half of a fold', as: 'one', of: 'bodies', none: true },
    { field: 'note', label: 'Note', as: 'words' },
  ],
  fasteners: [
    { field: 'kind', label: 'Kind', as: 'choice', of: FASTENER_KINDS },
    { field: 'drive', label: 'Drive', as: 'choice', of: DRIVES },
    { field: 'length', label: 'Length', as: 'number', unit: 'mm', min: 0.3, max: 60 },
    { field: 'thread', label: 'Thread', as: 'number', unit: 'mm', min: 0.4, max: 10 },
    { field: 'head', label: 'Head', as: 'number', unit: 'mm', min: 0.5, max: 20 },
    { field: 'holeDepth', label: 'Hole depth', as: 'number', unit: 'mm', min: 0.3, max: 80 },
    { field: 'at', label: 'Place', as: 'point' },
    { field: 'face', label: 'Driven from', as: 'choice', of: FACES },
    { field: 'holds', label: 'Holds', as: 'many', of: 'parts' },
    { field: 'into', label: 'Stands in', as: 'one', of: 'seats' },
    { field: 'torque', label: 'Torque', as: 'number', unit: 'N·cm', min: 0.5, max: 500, none: true },
    { field: 'order', label: 'Driving order', as: 'number', unit: '', min: 1, max: 200, none: true, whole: true },
    { field: 'colour', label: 'Colour', as: 'choice', of: COLOURS },
    { field: 'magnetic', label: 'Magnetic', as: 'yes' },
    { field: 'threadlock', label: 'Threadlocker', as: 'yes' },
    { field: 'alternatives', label: 'At a pinch', as: 'alternatives' },
    { field: 'fate', label: 'Afterwards', as: 'choice', of: FATES },
    { field: 'layer', label: 'Own layer', ...layer, none: true },
  ],
  connectors: [
    { field: 'name', label: 'Name', as: 'text' },
    {
      field: 'kind',
      label: 'Kind',
      as: 'choice',
      of: ['press', 'flip-lock', 'slide-lock', 'coax', 'clipped', 'contact', 'solder'],
    },
    { field: 'from', label: 'Its part', as: 'one', of: 'parts' },
    { field: 'to', label: 'Its socket is on', as: 'one', of: 'parts' },
    { field: 'at', label: 'Place', as: 'point' },
    { field: 'size', label: 'Size', as: 'size' },
    { field: 'face', label: 'Reached from', as: 'choice', of: FACES },
    { field: 'isolatesPower', label: 'Cuts the battery off', as: 'yes' },
    { field: 'isolates', label: 'Rail that it cuts', as: 'one', of: 'rails', none: true },
    { field: 'route', label: 'Way of its flex', as: 'route' },
    { field: 'carries', label: 'Carries', as: 'many', of: 'functions' },
    { field: 'beneath', label: 'Lies beneath', as: 'many', of: 'connectors' },
    { field: 'under', label: 'Parts on its flex', as: 'many', of: 'parts' },
    { field: 'liesOver', label: 'Its flex lies over', as: 'many', of: 'items' },
    { field: 'after', label: 'Only after', as: 'many', of: 'items' },
    { field: 'layer', label: 'Own layer', ...layer, none: true },
    { field: 'reachedBy', label: 'Only while it swings', as: 'reachedBy' },
    { field: 'flex', label: 'Head of the flex', as: 'text', none: true },
    { field: 'shape', label: 'How its flex lies', as: 'text' },
  ],
  bonds: [
    {
      field: 'kind',
      label: 'Kind',
      as: 'choice',
      of: ['tape', 'stretch-tab', 'pull-pouch', 'glue', 'gasket', 'thermal', 'foil'],
    },
    { field: 'joins', label: 'Joins', as: 'many', of: 'parts' },
    { field: 'at', label: 'Where', as: 'bondAt' },
    { field: 'tabs', label: 'Tabs', as: 'tabs' },
    { field: 'softensAt', label: 'Softens at', as: 'number', unit: '°C', min: 20, max: 200, none: true },
    { field: 'solvent', label: 'Solvent helps', as: 'yes' },
    { field: 'fate', label: 'Afterwards', as: 'choice', of: FATES },
    { field: 'face', label: 'Worked from', as: 'choice', of: FACES, none: true },
    { field: 'layer', label: 'Own layer', ...layer, none: true },
    { field: 'flex', label: 'Holds down', as: 'one', of: 'connectors', none: true },
    { field: 'staysOn', label: 'Stays on', as: 'one', of: 'parts', none: true },
    { field: 'compressedBy', label: 'Pressed by', as: 'many', of: 'fasteners', orNone: true },
  ],
  latches: [
    { field: 'joins', label: 'Joins', as: 'many', of: 'parts' },
    { field: 'edge', label: 'Edge', as: 'choice', of: EDGES },
    { field: 'alsoAt', label: 'Also at', as: 'edges' },
    { field: 'count', label: 'Catches', as: 'number', unit: '', min: 1, max: 200, whole: true },
    { field: 'release', label: 'Lets go', as: 'choice', of: ['any', 'last'] },
    { field: 'mate', label: 'Hooked in', as: 'choice', of: ['first', 'last'] },
    { field: 'letsGo', label: 'How', as: 'choice', of: ['pried', 'turned'] },
    { field: 'notch', label: 'Notch', as: 'point', none: true },
  ],
  functions: [
    { field: 'name', label: 'Name', as: 'text' },
    { field: 'test', label: 'Test', as: 'words' },
    { field: 'afterClosing', label: 'Tested on the closed device', as: 'yes' },
  ],
  spares: [
    { field: 'name', label: 'Name', as: 'text' },
    { field: 'replaces', label: 'Replaces', as: 'one', of: 'parts' },
    { field: 'includes', label: 'Comes with', as: 'many', of: 'parts' },
    { field: 'brings', label: 'Brings its', as: 'many', of: 'bonds' },
  ],
};

export const GROUP_WORDS: Record<Group, string> = {
  parts: 'Part',
  fasteners: 'Screw',
  connectors: 'Connector',
  bonds: 'Bond',
  latches: 'Catch',
  functions: 'Function',
  spares: 'Spare',
};
