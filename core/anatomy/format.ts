import {
  choice,
  either,
  filled,
  list,
  maybe,
  number,
  optional,
  orNone,
  record,
  row,
  since,
  text,
  yes,
  type Of,
} from '../format/index.ts';
import { BONDS, CATCHES, CONNECTORS, FASTENERS } from '../kinds/index.ts';
import {
  ANATOMY_SCHEMAS,
  COLOURS,
  DEVICE_KINDS,
  DRIVES,
  EDGES,
  FACES,
  FATES,
  MATED,
  MOTION_FROM,
  MOTIONS,
  PART_KINDS,
  PART_MATERIALS,
  RELEASED,
} from './lists.ts';

/**
 * `nibrel.anatomy/1` and `/2`, said once: types, reader, JSON Schema, and the limits and choices of forms follow from it. Lengths
 * in mm, angles in degrees, torque in N·cm, temperatures in °C. Points are `[x, y]` with the origin at the top left of the device
 * seen from the front, x to the right, y down; items reached from the back use the same coordinates. What is `since(2, …)` may be
 * left out, and then a device is what `/1` says of it: one rail, one body, no limits known (docs/formats/anatomy-2.md).
 */
const id = text({ written: [/^[a-z0-9][a-z0-9.-]{0,63}$/, 'lower-case letters, digits, dots and hyphens'] });
const name = text({ least: 1, most: 120 });
const ids = list(id, { once: true, most: 200 });
const noIds = filled(ids, []);
const remark = filled(text({ most: 400, blank: true }), '');
const length = number({ least: 0, most: 2000, unit: 'mm' });
const width = number({ above: 0, least: 0, most: 2000, unit: 'mm' });
const coordinate = number({ least: -50, most: 2000, unit: 'mm' });
const degrees = (least: number, most: number) => number({ least, most, unit: '°' });
const layer = number({ whole: true, least: 0, most: 40 });
const edge = choice(EDGES);
const face = choice(FACES);
const no = filled(yes, false);

const point = row(coordinate, coordinate);
export type Point = [x: number, y: number];
export type Rect = [x: number, y: number, width: number, height: number];

const outline = either(
  [
    record({ rect: row(coordinate, coordinate, width, width), radius: optional(length) }),
    record({ polygon: list(point, { least: 3, most: 2000 }) }),
    record({ circle: row(coordinate, coordinate, width) }),
  ],
  'must be an outline: rect [x, y, width, height] with an optional radius, polygon [[x, y], …] or circle [x, y, r]',
);
export type Outline = Of<typeof outline>;

const line = (most: number) => list(point, { least: 2, most });

/** How a part is moved out or in: from which edge or corner, and how far it is tilted or turned. */
const motion = record({
  how: choice(MOTIONS),
  from: maybe(choice(MOTION_FROM)),
  degrees: maybe(degrees(0, 360)),
});
export type Motion = Of<typeof motion>;

const exit = record({ face, layer: filled(layer, 0) });
export type Exit = Of<typeof exit>;

/** The part may be opened without removal while the tether connectors stay mated. */
const swing = record({
  hinge: edge,
  degrees: filled(degrees(1, 270), 90),
  tether: noIds,
  /** A first, small opening, and the connectors that are reached through it; `null` has none. */
  gap: maybe(
    record({
      width: number({ above: 0, most: 40, unit: 'mm' }),
      reaches: list(id, { once: true, least: 1, most: 200 }),
    }),
  ),
});
export type Swing = Of<typeof swing>;

const pairing = record({
  with: id,
  /** Function ids that are lost or degraded when the two part company. */
  loses: noIds,
  remedy: remark,
});
export type Pairing = Of<typeof pairing>;

/** What a part does not bear; heat, cleaning, cutting and cups obey it. */
const limits = record({
  /** °C that no place of it may pass; `null` goes by its kind. */
  hottest: maybe(number({ least: 30, most: 200, unit: '°C' })),
  /** Whether it bears solvent, bending and a suction cup. */
  solvent: filled(yes, true),
  bend: filled(yes, true),
  suction: filled(yes, true),
});
export type Limits = Of<typeof limits>;

const part = record({
  id,
  name,
  kind: choice(PART_KINDS),
  /** A fixed part never comes off: the mid-frame, which everything else is fastened to. */
  fixed: no,
  /** The face it comes off through; `edge` slides out of the side and is covered by nothing. */
  face: filled(face, 'front'),
  /** 0 is outermost on that face. */
  layer: filled(layer, 0),
  /** Other faces through which it can come off as well, with its layer there; the planner takes the cheapest. */
  exits: filled(list(exit, { most: 2 }), []),
  outline,
  /** The assembly it travels with; face and layer are then relative to that assembly. */
  within: maybe(id),
  swing: maybe(swing),
  fate: filled(choice(FATES), 'keep'),
  pairing: filled(list(pairing, { most: 20 }), []),
  /** Functions that depend on this part. */
  functions: noIds,
  conductive: no,
  /** Bare glass that can shatter when pried. */
  glass: no,
  /** What its outside is made of; `null` goes by its kind, `glass` and `conductive`. */
  material: maybe(choice(PART_MATERIALS)),
  /** mm through the device; `null` goes by its kind. */
  thickness: maybe(number({ above: 0, most: 60, unit: 'mm' })),
  /** Glass that curves down at its rim: a pick runs flat and shallow, a cup holds badly. */
  curved: no,
  /** How it comes away once nothing holds it, and how it goes in; `null` is straight up, and the way out reversed. */
  leaves: maybe(motion),
  enters: maybe(motion),
  /** Where it is pried from, when only one place will do. */
  pryAt: maybe(point),
  note: filled(text({ most: 2000, blank: true }), ''),
  /** What it does not bear; left out, nothing is known. */
  limits: since(2, orNone(limits)),
  /** The body of a fold that it belongs to; left out, what it is within, or the body that most of it lies in. */
  body: since(2, orNone(id)),
});
export interface Part extends Of<typeof part> {}

const fastener = record({
  id,
  kind: choice(FASTENERS, (kind) => FASTENERS.of(kind).since),
  drive: choice(DRIVES),
  /** Length under the head; `null` while nobody has measured it, and then nothing is known of its hole either. */
  length: orNone(number({ above: 0, most: 60, unit: 'mm' })),
  /** Nominal thread diameter. */
  thread: number({ above: 0, most: 10, unit: 'mm' }),
  /** Head diameter. */
  head: number({ above: 0, most: 20, unit: 'mm' }),
  holds: list(id, { once: true, least: 1, most: 200 }),
  /** A part, or a standoff that this screw is driven into. */
  into: id,
  at: point,
  face: filled(face, 'front'),
  /** Depth available for the screw under its head, through what it holds to the bottom of the hole. */
  holeDepth: number({ above: 0, most: 80, unit: 'mm' }),
  torque: maybe(number({ above: 0, most: 500, unit: 'N·cm' })),
  threadlock: no,
  magnetic: filled(yes, true),
  colour: filled(choice(COLOURS), 'bright'),
  fate: filled(choice(FATES), 'keep'),
  /** Printed driving order, when the maker numbers the screws. */
  order: maybe(number({ whole: true, least: 1, most: 200 })),
  /** Its layer on the face it is driven from; `null` goes by what it holds and stands in on that face. */
  layer: maybe(layer),
  /** Other drivers that turn it at a pinch, each with its caution. */
  alternatives: filled(list(record({ drive: choice(DRIVES), caution: remark }), { most: 6 }), []),
});
export interface Fastener extends Of<typeof fastener> {}

const side = number({ above: 0, most: 200, unit: 'mm' });

const connector = record({
  id,
  name,
  kind: choice(CONNECTORS),
  from: id,
  to: id,
  at: point,
  size: row(side, side),
  face: filled(face, 'front'),
  /** `null` takes the layer of the `to` part. */
  layer: maybe(layer),
  isolatesPower: no,
  /** The rail that it cuts; where several cut one, all of them have to be open. */
  isolates: since(2, orNone(id)),
  /** Connectors that must be open before this one can be. */
  beneath: noIds,
  /** Parts that lie on its flex: they must be out before `from` can leave. */
  under: noIds,
  /** Reachable only while that part is swung. */
  reachedBy: maybe(record({ swing: id })),
  /** Items that must be released before this connector is opened. */
  after: noIds,
  /** Function ids whose signal passes here. */
  carries: noIds,
  /** Where its flex or cable runs, from its part to its socket; `null` when that is not known. */
  route: maybe(record({ line: line(200), width })),
  /** The flex it is a head of, where one flex has several; the heads are opened and folded aside together. */
  flex: maybe(id),
  /** Items that it lies over: they are reached once it is open and folded aside. */
  liesOver: noIds,
  /** The shape in which its flex lies when it is mated: `folded over`, `in an M`, `under the lip`. */
  shape: filled(text({ most: 200, blank: true }), ''),
});
export interface Connector extends Of<typeof connector> {}

/** mm along the edge: x for top and bottom, y for left and right. */
const edgeGap = record({ edge, from: coordinate, to: coordinate });
export type EdgeGap = Of<typeof edgeGap>;

const bondPlace = either(
  [
    record({ perimeterOf: id, inset: length, width, gaps: filled(list(edgeGap, { most: 40 }), []) }),
    record({ area: outline }),
    record({ line: line(2000), width }),
  ],
  'must be perimeterOf (a part) with inset and width, or area (an outline), or line [[x, y], …] with width',
);
export type BondPlace = Of<typeof bondPlace>;

const bond = record({
  id,
  kind: choice(BONDS),
  joins: list(id, { once: true, least: 2, most: 200 }),
  at: bondPlace,
  /** Where stretch tabs or pouches are gripped. */
  tabs: filled(list(point, { most: 40 }), []),
  softensAt: maybe(number({ least: 20, most: 300, unit: '°C' })),
  solvent: no,
  fate: filled(choice(FATES), 'renew'),
  /** The face it is worked from, and its layer there; `null` goes by the part it holds. */
  face: maybe(face),
  layer: maybe(layer),
  /** The connector whose flex it holds down; it is released before that flex is moved. */
  flex: maybe(id),
  /** The part that a bond which is kept stays on; where that part is exchanged it moves to the new one. */
  staysOn: maybe(id),
  /** Screws that press it tight: a gasket that is lifted off and laid, never cut, clamped or cured. */
  compressedBy: since(2, list(id, { once: true, least: 1, most: 200 })),
});
export interface Bond extends Of<typeof bond> {}

const latch = record({
  id,
  joins: list(id, { once: true, least: 2, most: 200 }),
  edge,
  count: filled(number({ whole: true, least: 1, most: 200 }), 1),
  /** `last`: lets go only when everything else that holds the part has. */
  release: filled(choice(RELEASED), 'any'),
  /** `first`: hooked in before the part is laid down; `last`: snapped after. */
  mate: filled(choice(MATED), 'last'),
  /** Where the edge is entered, when there is a notch for it. */
  notch: maybe(point),
  /** Further edges of the same latch. */
  alsoAt: filled(list(edge, { once: true, most: 3 }), []),
  letsGo: filled(choice(CATCHES), 'pried'),
});
export interface Latch extends Of<typeof latch> {}

const order = record({ first: id, then: id, because: text({ most: 400 }) });
export type Order = Of<typeof order>;

const deviceFunction = record({
  id,
  name,
  test: text({ least: 1, most: 400 }),
  /** True when it can only be judged on the closed device. */
  afterClosing: no,
  /** Nobody knows yet what it rests on: every dive proves it. Left out, it rests on what names it. */
  unplaced: optional(yes),
});
export interface DeviceFunction extends Of<typeof deviceFunction> {}

const spare = record({
  id,
  name,
  replaces: id,
  /** Parts the spare brings along; what the old assembly carries beyond them is transferred. */
  includes: list(id, { once: true, least: 1, most: 200 }),
  /** Bonds that come with it ready laid: its adhesive, its gasket. */
  brings: noIds,
});
export interface Spare extends Of<typeof spare> {}

const volts = number({ above: 0, most: 60, unit: 'V' });
const milliampHours = number({ above: 0, most: 60_000, unit: 'mAh' });
const cellCount = number({ whole: true, least: 1, most: 12 });

/** One cell, or several welded into one pack. `volts`: nominal. */
const cell = record({
  part: id,
  volts,
  milliampHours,
  series: filled(cellCount, 1),
  parallel: filled(cellCount, 1),
  rail: id,
});
export interface Cell extends Of<typeof cell> {}

/** What carries a voltage while it is joined. `feeds`: ids of bodies; none is all of them. */
const rail = record({ id, name, feeds: noIds });
export interface Rail extends Of<typeof rail> {}

/** One of the bodies that a hinge joins. */
const half = record({ id, name, outline });
export interface Half extends Of<typeof half> {}

const hinge = record({
  /** Where it runs, in the plane of the opened device. */
  line: row(point, point),
  /** Connectors whose flex runs over it. */
  crosses: noIds,
  /** The display that bends with it, and the least radius it bears, mm. */
  inner: maybe(id),
  radius: maybe(number({ above: 0, most: 60, unit: 'mm' })),
  /** Items that are worked with the device half open, standing on its edges. */
  half: noIds,
});
export interface Hinge extends Of<typeof hinge> {}

const body = record({
  width: number({ above: 0, most: 600, unit: 'mm' }),
  height: number({ above: 0, most: 600, unit: 'mm' }),
  thickness: number({ above: 0, most: 60, unit: 'mm' }),
  cornerRadius: filled(length, 0),
  /** Ingress rating as printed by the maker, `null` when the device has none. */
  ingress: maybe(text({ most: 20 })),
});
export type Body = Of<typeof body>;

/** V nominal and mAh of the pack; all its cells, and how many are in a row and side by side where that is told. */
const battery = record({
  volts,
  milliampHours,
  // Where it is not said, those in a row times those side by side.
  cells: filled(cellCount, ({ series = 1, parallel = 1 }: { series?: number; parallel?: number }) => series * parallel),
  series: optional(cellCount),
  parallel: optional(cellCount),
});

/** What the document of a device may say. What refers to what, and the geometry, is checked by `faultsOf`. */
export const anatomyFormat = record({
  schema: choice(ANATOMY_SCHEMAS, (schema) => Number(schema.split('/')[1])),
  id,
  name,
  maker: name,
  kind: choice(DEVICE_KINDS),
  body,
  battery,
  parts: list(part, { least: 1, most: 400 }),
  fasteners: filled(list(fastener, { most: 600 }), []),
  connectors: filled(list(connector, { most: 300 }), []),
  bonds: filled(list(bond, { most: 200 }), []),
  latches: filled(list(latch, { most: 200 }), []),
  orders: filled(list(order, { most: 200 }), []),
  /** Each list names connectors in the order in which they are mated, first to last. */
  mateOrder: filled(list(list(id, { once: true, least: 2, most: 100 }), { most: 50 }), []),
  functions: filled(list(deviceFunction, { most: 200 }), []),
  spares: filled(list(spare, { most: 100 }), []),
  /** Every cell by itself, where there are several. */
  cells: since(2, list(cell, { least: 1, most: 12 })),
  /** What feeds the device, and which of its bodies; left out, one rail feeds all. */
  rails: since(2, list(rail, { least: 1, most: 12 })),
  /** The bodies on a hinge, side by side in one plane as when they lie open, seen from the inside; left out, one. */
  bodies: since(2, list(half, { least: 2, most: 4 })),
  hinge: since(2, orNone(hinge)),
});
export interface Anatomy extends Of<typeof anatomyFormat> {}
