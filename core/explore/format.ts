import { DEVICE_KINDS, DRIVES, EDGES, FACES, PART_KINDS } from '../anatomy/index.ts';
import {
  choice,
  either,
  filled,
  keyed,
  list,
  maybe,
  number,
  optional,
  orNone,
  record,
  row,
  text,
  yes,
  type Of,
} from '../format/index.ts';
import { BONDS, CONNECTORS, FASTENERS } from '../kinds/index.ts';
import { ACTS, MARKED } from './acts.ts';

/** Most corners of a rough outline, marks of a photograph, acts of a dive. Origin: own choice, ten times the largest seen. */
const MOST = { corners: 200, marks: 600, acts: 5000 } as const;

/** Shorter than this nothing is measured by hand, mm. */
const LEAST = 0.1;

const coordinate = number({ least: -1e4, most: 1e4, unit: 'mm' });
const point = row(coordinate, coordinate);
const points = list(point, { most: MOST.corners });
const face = choice(FACES);
const handle = text({ least: 1, most: 64 });
const side = number({ least: LEAST, most: 200, unit: 'mm' });

/** A head or a plug that was seen in the photograph of a layer, whether anything was done to it or not. */
const mark = record({
  type: choice(MARKED),
  at: point,
  face,
  /** The open or lifted part that it was seen on; `null` is the device itself. */
  on: maybe(handle),
});
export type Mark = Of<typeof mark>;

/** Where a flex was seen to lead: to a part that is open or off, or to a place in the device. */
const leads = either([record({ part: handle }), record({ at: point })]);
export type Leads = Of<typeof leads>;

/**
 * What a person saw of the thing that was dealt with; places in mm, seen from the front. What was not looked at is
 * left out. None of it says what holds what, or how deep anything lies.
 */
export const sightFormat = record({
  at: optional(point),
  /** The side it was worked from: of the device, or of the part that it is on. */
  face: optional(face),
  /** The part it was worked on, where that part stands open, lies on the mat, or was tilted to get beneath it. */
  on: optional(orNone(handle)),
  /** Tool in the words of the plan, `null` for hands. */
  tool: optional(orNone(text({ most: 64 }))),
  fastener: optional(choice(FASTENERS)),
  drive: optional(choice(DRIVES)),
  /** mm under the head, by caliper. */
  length: optional(orNone(number({ least: LEAST, most: 100, unit: 'mm' }))),
  /** mm across the head. */
  head: optional(number({ least: LEAST, most: 30, unit: 'mm' })),
  connector: optional(choice(CONNECTORS)),
  size: optional(row(side, side)),
  /** It is the battery's plug, or the cell that feeds the board by its contacts. */
  isolates: optional(yes),
  leads: optional(orNone(leads)),
  bond: optional(choice(BONDS)),
  /** Corners of a part, or of the ground that a bond holds, as roughly as they were drawn. */
  outline: optional(points),
  /** The line along which a bond was cut. */
  line: optional(points),
  /** It ran all round the part that then came off. */
  around: optional(yes),
  tabs: optional(points),
  part: optional(orNone(choice(PART_KINDS))),
  glass: optional(yes),
  /** The edge of a latch, or the one that a part hangs from. */
  edge: optional(choice(EDGES)),
  degrees: optional(number({ least: 0, most: 180, unit: '°' })),
  /** mm of a first opening. */
  gap: optional(number({ above: 0, most: 50, unit: 'mm' })),
  /** Catches or hooks at that edge. */
  count: optional(number({ whole: true, least: 1, most: 100 })),
  /** Hooks, which go in first, and not catches. */
  hooks: optional(yes),
  /** It cannot go back: cut, torn, bent, locked by thread glue. */
  spent: optional(yes),
  /** It is what the customer came for. */
  target: optional(yes),
  /** Its places in orders of mating that are printed beside it, each with the number of its row. */
  printed: optional(
    list(record({ row: number({ whole: true, least: 1 }), place: number({ whole: true, least: 1 }) }), { most: 20 }),
  ),
  /** What the technician calls it. */
  name: optional(text({ least: 1, most: 80 })),
  /** °C that the source was set to. */
  set: optional(number({ least: 0, most: 500, unit: '°C' })),
  /** Seconds by the clock. */
  seconds: optional(number({ least: 0, most: 1e6, unit: 's' })),
  photo: optional(orNone(text({ written: [/^[0-9a-f]{64}$/, 'the hash of a photograph'] }))),
  marks: optional(list(mark, { most: MOST.marks })),
});
export interface Sight extends Of<typeof sightFormat> {}

/** One act as it was recorded. */
const act = record({
  /** Id of its event. */
  id: text({ least: 1, most: 64 }),
  act: choice(ACTS),
  /** The thing it was done to, by the name it was given when it was first met; `null` is the device. */
  item: maybe(handle),
  note: filled(text({ blank: true, most: 2000 }), ''),
  /** Id of the source's item; nothing is learnt from it. */
  label: optional(text({ most: 64 })),
  seen: filled(sightFormat, {}),
  at: text({ as: 'instant' }),
});
export interface Act extends Of<typeof act> {}

/** Smaller than this is no device, mm. Origin: own choice. */
const extent = number({ least: 5, most: 2000, unit: 'mm' });

/** The device that comes in: what can be seen and measured of it before it is opened. */
const unknownDevice = record({
  name: text({ least: 1, most: 80 }),
  kind: choice(DEVICE_KINDS),
  width: extent,
  height: extent,
  thickness: extent,
  cornerRadius: filled(number({ least: 0, most: 200, unit: 'mm' }), 0),
  /** As printed on it. */
  ingress: maybe(text({ most: 16 })),
  /** Id of a known device that it looks like, for guesses. */
  like: maybe(text({ most: 64 })),
  /** What it does, which is what can be tested of it. */
  functions: filled(
    list(
      record({
        id: handle,
        name: text({ least: 1, most: 120 }),
        test: text({ blank: true, most: 500 }),
        afterClosing: filled(yes, false),
      }),
      { most: 200 },
    ),
    [],
  ),
  /** The cell, as far as its print was read. */
  battery: maybe(
    record({
      volts: number({ above: 0, most: 60, unit: 'V' }),
      milliampHours: number({ above: 0, most: 1e6, unit: 'mAh' }),
      cells: number({ whole: true, least: 1, most: 20 }),
    }),
  ),
});
export interface UnknownDevice extends Of<typeof unknownDevice> {}

/** `nibrel.acts/1`: a field dive as a file. */
export const actsFormat = record({
  schema: choice(['nibrel.acts/1']),
  device: unknownDevice,
  acts: list(act, { most: MOST.acts }),
  /** What was answered, by the question's id. */
  answers: filled(keyed(text({ most: 160 }), text({ most: 64 })), {}),
});
export interface ActFile extends Of<typeof actsFormat> {}
