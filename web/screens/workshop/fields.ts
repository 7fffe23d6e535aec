import { anatomyFormat, type Anatomy } from '../../../core/anatomy/index.ts';
import type { Group } from '../../../core/draft/index.ts';
import { boundsOf, choicesOf, letteringOf, place, type Bounds, type Shape } from '../../../core/format/index.ts';
import { FASTENERS } from '../../../core/kinds/index.ts';

/** What an id is chosen from, or a form of its own. */
type Own =
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
  | 'limits'
  | 'size';

/** How a field of an entry is shown and changed. */
export type Field =
  | { field: string; label: string; as: 'text' | 'words'; none?: boolean }
  | { field: string; label: string; as: 'number'; bounds: Bounds; none?: boolean }
  | { field: string; label: string; as: 'choice'; of: readonly string[]; none?: boolean }
  | { field: string; label: string; as: 'yes' }
  | { field: string; label: string; as: 'point'; none?: boolean }
  | { field: string; label: string; as: 'one'; of: Named; none?: boolean }
  /** With `orNone` nothing chosen is a field that the document does not have. */
  | { field: string; label: string; as: 'many'; of: Named; orNone?: boolean }
  | { field: string; label: string; as: Own };

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
      return [...list(anatomy.parts), ...list(anatomy.fasteners.filter((f) => FASTENERS.of(f.kind).seat))];
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

/** What is asked of an entry, in this order: its field, its label, and where the format does not say it, from what or how it is chosen. */
const ASKED: Record<Group, readonly (readonly [field: string, label: string, how?: Named | Own])[]> = {
  parts: [
    ['name', 'Name'],
    ['kind', 'Kind'],
    ['outline', 'Outline', 'outline'],
    ['face', 'Comes off through'],
    ['layer', 'Layer'],
    ['within', 'Travels with', 'parts'],
    ['fate', 'Afterwards'],
    ['functions', 'Functions', 'functions'],
    ['swing', 'Swings open', 'swing'],
    ['leaves', 'Leaves', 'motion'],
    ['enters', 'Goes in', 'motion'],
    ['glass', 'Bare glass'],
    ['curved', 'Curved at its rim'],
    ['conductive', 'Conductive'],
    ['fixed', 'Never comes off'],
    ['material', 'Material'],
    ['thickness', 'Thickness'],
    ['pryAt', 'Pried at'],
    ['exits', 'Other ways off', 'exits'],
    ['pairing', 'Paired with', 'pairing'],
    ['limits', 'Does not bear', 'limits'],
    ['body', 'Half of a fold', 'bodies'],
    ['note', 'Note'],
  ],
  fasteners: [
    ['kind', 'Kind'],
    ['drive', 'Drive'],
    ['length', 'Length'],
    ['thread', 'Thread'],
    ['head', 'Head'],
    ['holeDepth', 'Hole depth'],
    ['at', 'Place'],
    ['face', 'Driven from'],
    ['holds', 'Holds', 'parts'],
    ['into', 'Stands in', 'seats'],
    ['torque', 'Torque'],
    ['order', 'Driving order'],
    ['colour', 'Colour'],
    ['magnetic', 'Magnetic'],
    ['threadlock', 'Threadlocker'],
    ['alternatives', 'At a pinch', 'alternatives'],
    ['fate', 'Afterwards'],
    ['layer', 'Own layer'],
  ],
  connectors: [
    ['name', 'Name'],
    ['kind', 'Kind'],
    ['from', 'Its part', 'parts'],
    ['to', 'Its socket is on', 'parts'],
    ['at', 'Place'],
    ['size', 'Size', 'size'],
    ['face', 'Reached from'],
    ['isolatesPower', 'Cuts the battery off'],
    ['isolates', 'Rail that it cuts', 'rails'],
    ['route', 'Way of its flex', 'route'],
    ['carries', 'Carries', 'functions'],
    ['beneath', 'Lies beneath', 'connectors'],
    ['under', 'Parts on its flex', 'parts'],
    ['liesOver', 'Its flex lies over', 'items'],
    ['after', 'Only after', 'items'],
    ['layer', 'Own layer'],
    ['reachedBy', 'Only while it swings', 'reachedBy'],
    ['flex', 'Head of the flex'],
    ['shape', 'How its flex lies'],
  ],
  bonds: [
    ['kind', 'Kind'],
    ['joins', 'Joins', 'parts'],
    ['at', 'Where', 'bondAt'],
    ['tabs', 'Tabs', 'tabs'],
    ['softensAt', 'Softens at'],
    ['solvent', 'Solvent helps'],
    ['fate', 'Afterwards'],
    ['face', 'Worked from'],
    ['layer', 'Own layer'],
    ['flex', 'Holds down', 'connectors'],
    ['staysOn', 'Stays on', 'parts'],
    ['compressedBy', 'Pressed by', 'fasteners'],
  ],
  latches: [
    ['joins', 'Joins', 'parts'],
    ['edge', 'Edge'],
    ['alsoAt', 'Also at', 'edges'],
    ['count', 'Catches'],
    ['release', 'Lets go'],
    ['mate', 'Hooked in'],
    ['letsGo', 'How'],
    ['notch', 'Notch'],
  ],
  functions: [
    ['name', 'Name'],
    ['test', 'Test'],
    ['afterClosing', 'Tested on the closed device'],
  ],
  spares: [
    ['name', 'Name'],
    ['replaces', 'Replaces', 'parts'],
    ['includes', 'Comes with', 'parts'],
    ['brings', 'Brings its', 'bonds'],
  ],
};

const NAMED = new Set<string>([
  'parts',
  'connectors',
  'functions',
  'bonds',
  'items',
  'seats',
  'fasteners',
  'rails',
  'bodies',
] satisfies Named[]);
const isNamed = (how: Named | Own): how is Named => NAMED.has(how);

/** Text longer than this is written in a box of several lines, characters. Origin: own choice. */
const A_LINE = 200;

/** How a field is asked for, as the format says it. */
function fieldOf(shape: Shape, field: string, label: string, how?: Named | Own): Field {
  const { what } = shape;
  const none = shape.none ? { none: true } : {};
  if (how && isNamed(how))
    return what.is === 'list'
      ? { field, label, as: 'many', of: how, ...('leftOut' in shape ? { orNone: true } : {}) }
      : { field, label, as: 'one', of: how, ...none };
  if (how) return { field, label, as: how };
  switch (what.is) {
    case 'text':
      return { field, label, as: (letteringOf(shape).most ?? 0) > A_LINE ? 'words' : 'text', ...none };
    case 'number':
      return { field, label, as: 'number', bounds: boundsOf(shape), ...none };
    case 'choice':
      return { field, label, as: 'choice', of: choicesOf(shape), ...none };
    case 'yes':
      return { field, label, as: 'yes' };
    case 'row':
      return { field, label, as: 'point', ...none };
    default:
      throw new TypeError(`nothing asks for ${field}, which is ${what.is}`);
  }
}

/** Every field of the format that is asked for, with its limits and choices as the format and its tables have them now. */
export const fieldsOf = (group: Group): Field[] =>
  ASKED[group].map(([field, label, how]) => fieldOf(place(anatomyFormat, group, field), field, label, how));

/** The limits of a number of the format: `limits('bonds', 'softensAt')`. */
export const limits = (...path: string[]): Bounds => boundsOf(place(anatomyFormat, ...path));

export const GROUP_WORDS: Record<Group, string> = {
  parts: 'Part',
  fasteners: 'Screw',
  connectors: 'Connector',
  bonds: 'Bond',
  latches: 'Catch',
  functions: 'Function',
  spares: 'Spare',
};
