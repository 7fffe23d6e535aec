/** Versions of the format; a document says the least that holds what it says. */
export const ANATOMY_SCHEMAS = ['nibrel.anatomy/1', 'nibrel.anatomy/2'] as const;
export type AnatomySchema = (typeof ANATOMY_SCHEMAS)[number];

/**
 * The model of one device, `nibrel.anatomy/1` and `/2`. What only `/2` has may be left out, and then a device is what `/1` says
 * of it: one rail, one body, no limits known (docs/formats/anatomy-2.md). Lengths in mm, angles in degrees, torque in N·cm,
 * temperatures in °C. Points are `[x, y]` with the origin at the top left of the device seen from
 * the front, x to the right, y down; items reached from the back use the same coordinates.
 */
export interface Anatomy {
  schema: AnatomySchema;
  id: string;
  name: string;
  maker: string;
  kind: 'phone' | 'tablet' | 'keypad-phone';
  body: Body;
  /** V nominal and mAh of the pack; all its cells, and how many are in a row and side by side where that is told. */
  battery: { volts: number; milliampHours: number; cells: number; series?: number; parallel?: number };
  parts: Part[];
  fasteners: Fastener[];
  connectors: Connector[];
  bonds: Bond[];
  latches: Latch[];
  orders: Order[];
  /** Each list names connectors in the order in which they are mated, first to last. */
  mateOrder: string[][];
  functions: DeviceFunction[];
  spares: Spare[];
  /** Every cell by itself, where there are several. Only in `/2`, as what follows. */
  cells?: Cell[];
  /** What feeds the device, and which of its bodies; left out, one rail feeds all. */
  rails?: Rail[];
  /** The bodies on a hinge, side by side in one plane as when they lie open, seen from the inside; left out, one. */
  bodies?: Half[];
  hinge?: Hinge | null;
}

/** One cell, or several welded into one pack. */
export interface Cell {
  part: string;
  /** V nominal. */
  volts: number;
  milliampHours: number;
  series: number;
  parallel: number;
  rail: string;
}

/** What carries a voltage while it is joined. */
export interface Rail {
  id: string;
  name: string;
  /** Ids of bodies; none is all of them. */
  feeds: string[];
}

/** One of the bodies that a hinge joins. */
export interface Half {
  id: string;
  name: string;
  outline: Outline;
}

export interface Hinge {
  /** Where it runs, in the plane of the opened device. */
  line: [Point, Point];
  /** Connectors whose flex runs over it. */
  crosses: string[];
  /** The display that bends with it, and the least radius it bears, mm. */
  inner: string | null;
  radius: number | null;
  /** Items that are worked with the device half open, standing on its edges. */
  half: string[];
}

/** What a part does not bear; heat, cleaning, cutting and cups obey it. */
export interface Limits {
  /** °C that no place of it may pass; `null` goes by its kind. */
  hottest: number | null;
  /** Whether it bears solvent, bending and a suction cup. */
  solvent: boolean;
  bend: boolean;
  suction: boolean;
}

export interface Body {
  width: number;
  height: number;
  thickness: number;
  cornerRadius: number;
  /** Ingress rating as printed by the maker, `null` when the device has none. */
  ingress: string | null;
}

export type Point = [x: number, y: number];
export type Rect = [x: number, y: number, width: number, height: number];

export type Outline =
  | { rect: Rect; radius?: number }
  | { polygon: Point[] }
  | { circle: [x: number, y: number, radius: number] };

export type Face = 'front' | 'back' | 'edge';
export type Edge = 'top' | 'right' | 'bottom' | 'left';
export type Fate = 'keep' | 'renew' | 'renew-if-damaged';

export const PART_KINDS = [
  'frame',
  'display',
  'cover',
  'lens',
  'board',
  'battery',
  'bracket',
  'shield',
  'camera',
  'speaker',
  'motor',
  'tray',
  'sensor',
  'button',
  'port',
  'reader',
  'coil',
  'plate',
  'mesh',
  'antenna',
  'fan',
  'thermal-module',
  'drive',
  'stand',
  'label',
  'flex',
  'lever',
  'other',
] as const;
export type PartKind = (typeof PART_KINDS)[number];

export const PART_MATERIALS = ['glass', 'metal', 'plastic'] as const;
export type PartMaterial = (typeof PART_MATERIALS)[number];

export interface Part {
  id: string;
  name: string;
  kind: PartKind;
  /** A fixed part never comes off: the mid-frame, which everything else is fastened to. */
  fixed: boolean;
  /** The face it comes off through; `edge` slides out of the side and is covered by nothing. */
  face: Face;
  /** 0 is outermost on that face. */
  layer: number;
  /** Other faces through which it can come off as well, with its layer there; the planner takes the cheapest. */
  exits: Exit[];
  outline: Outline;
  /** The assembly it travels with; face and layer are then relative to that assembly. */
  within: string | null;
  swing: Swing | null;
  fate: Fate;
  pairing: Pairing[];
  /** Functions that depend on this part. */
  functions: string[];
  conductive: boolean;
  /** Bare glass that can shatter when pried. */
  glass: boolean;
  /** What its outside is made of; `null` goes by its kind, `glass` and `conductive`. */
  material: PartMaterial | null;
  /** mm through the device; `null` goes by its kind. */
  thickness: number | null;
  /** Glass that curves down at its rim: a pick runs flat and shallow, a cup holds badly. */
  curved: boolean;
  /** How it comes away once nothing holds it, and how it goes in; `null` is straight up, and the way out reversed. */
  leaves: Motion | null;
  enters: Motion | null;
  /** Where it is pried from, when only one place will do. */
  pryAt: Point | null;
  note: string;
  /** What it does not bear; left out, nothing is known. Only in `/2`. */
  limits?: Limits | null;
  /** The body of a fold that it belongs to; left out, what it is within, or the body that most of it lies in. Only in `/2`. */
  body?: string | null;
}

export const MOTIONS = ['lift', 'slide', 'tilt', 'hook', 'rotate'] as const;
export const CORNERS = ['top-left', 'top-right', 'bottom-right', 'bottom-left'] as const;
export type Corner = (typeof CORNERS)[number];

/** How a part is moved out or in: from which edge or corner, and how far it is tilted or turned. */
export interface Motion {
  how: (typeof MOTIONS)[number];
  from: Edge | Corner | null;
  degrees: number | null;
}

export interface Exit {
  face: Face;
  layer: number;
}

/** The part may be opened without removal while the tether connectors stay mated. */
export interface Swing {
  hinge: Edge;
  degrees: number;
  tether: string[];
  /** A first, small opening of so many mm, and the connectors that are reached through it; `null` has none. */
  gap: { width: number; reaches: string[] } | null;
}

/**
 * A part that is swung by less uncovers nothing but what says that it is reached that way, degrees. Origin: common
 * practice; a hand with a driver needs about as much.
 */
export const CLEARING_DEGREES = 60;

export interface Pairing {
  with: string;
  /** Function ids that are lost or degraded when the two part company. */
  loses: string[];
  remedy: string;
}

/**
 * Drives by their standard codes: cross-recess, hexalobular, hexalobular-plus, five-lobe, tri-point, slotted (blade
 * in mm), hexagon socket and standoff (across flats in mm).
 */
export const DRIVES = [
  'PH000',
  'PH00',
  'PH0',
  'PH1',
  'T1',
  'T2',
  'T3',
  'T4',
  'T5',
  'T6',
  'T7',
  'T8',
  'T9',
  'T10',
  'IP1',
  'IP2',
  'IP3',
  'IP4',
  'IP5',
  'IP6',
  'P1',
  'P2',
  'P4',
  'P5',
  'P6',
  'Y000',
  'Y00',
  'Y0',
  'Y1',
  'SL1',
  'SL1.5',
  'SL2',
  'H0.7',
  'H0.9',
  'H1.3',
  'H1.5',
  'H2',
  'H2.5',
  'none',
] as const;
export type Drive = (typeof DRIVES)[number];

/** What the eye sees of a screw: bare or nickelled steel, black oxide, yellow passivated or brass. */
export const COLOURS = ['bright', 'black', 'yellow'] as const;
export type Colour = (typeof COLOURS)[number];

export const FASTENER_KINDS = ['screw', 'captive', 'standoff', 'clip', 'cap', 'plug', 'press-fit'] as const;
export type FastenerKind = (typeof FASTENER_KINDS)[number];

export interface Fastener {
  id: string;
  /**
   * captive: loosened, stays in its part; standoff: another screw may be driven into it; clip: a loose spring clip. Only in `/2`:
   * cap, a rubber cap; plug, a plug that sits by friction; press-fit, a pressed pin. Those are pulled or pressed and never turned.
   */
  kind: FastenerKind;
  drive: Drive;
  /** Length under the head; `null` while nobody has measured it, and then nothing is known of its hole either. */
  length: number | null;
  /** Nominal thread diameter. */
  thread: number;
  /** Head diameter. */
  head: number;
  holds: string[];
  /** A part, or a standoff that this screw is driven into. */
  into: string;
  at: Point;
  face: Face;
  /** Depth available for the screw under its head, through what it holds to the bottom of the hole. */
  holeDepth: number;
  torque: number | null;
  threadlock: boolean;
  magnetic: boolean;
  colour: Colour;
  fate: Fate;
  /** Printed driving order, when the maker numbers the screws. */
  order: number | null;
  /** Its layer on the face it is driven from; `null` goes by what it holds and stands in on that face. */
  layer: number | null;
  /** Other drivers that turn it at a pinch, each with its caution. */
  alternatives: { drive: Drive; caution: string }[];
}

export interface Connector {
  id: string;
  name: string;
  /** contact: parts when its `from` part is lifted, closes when it is fitted. */
  kind: 'press' | 'flip-lock' | 'slide-lock' | 'coax' | 'clipped' | 'contact' | 'solder';
  from: string;
  to: string;
  at: Point;
  size: [width: number, height: number];
  face: Face;
  /** `null` takes the layer of the `to` part. */
  layer: number | null;
  isolatesPower: boolean;
  /** The rail that it cuts; where several cut one, all of them have to be open. Only in `/2`. */
  isolates?: string | null;
  /** Connectors that must be open before this one can be. */
  beneath: string[];
  /** Parts that lie on its flex: they must be out before `from` can leave. */
  under: string[];
  /** Reachable only while that part is swung. */
  reachedBy: { swing: string } | null;
  /** Items that must be released before this connector is opened. */
  after: string[];
  /** Function ids whose signal passes here. */
  carries: string[];
  /** Where its flex or cable runs, from its part to its socket; `null` when that is not known. */
  route: { line: Point[]; width: number } | null;
  /** The flex it is a head of, where one flex has several; the heads are opened and folded aside together. */
  flex: string | null;
  /** Items that it lies over: they are reached once it is open and folded aside. */
  liesOver: string[];
  /** The shape in which its flex lies when it is mated: `folded over`, `in an M`, `under the lip`. */
  shape: string;
}

export interface EdgeGap {
  edge: Edge;
  /** mm along the edge: x for top and bottom, y for left and right. */
  from: number;
  to: number;
}

export type BondPlace =
  | { perimeterOf: string; inset: number; width: number; gaps: EdgeGap[] }
  | { area: Outline }
  | { line: Point[]; width: number };

export interface Bond {
  id: string;
  kind: 'tape' | 'stretch-tab' | 'pull-pouch' | 'glue' | 'gasket' | 'thermal' | 'foil';
  joins: string[];
  at: BondPlace;
  /** Where stretch tabs or pouches are gripped. */
  tabs: Point[];
  softensAt: number | null;
  solvent: boolean;
  fate: Fate;
  /** The face it is worked from, and its layer there; `null` goes by the part it holds. */
  face: Face | null;
  layer: number | null;
  /** The connector whose flex it holds down; it is released before that flex is moved. */
  flex: string | null;
  /** The part that a bond which is kept stays on; where that part is exchanged it moves to the new one. */
  staysOn: string | null;
  /** Screws that press it tight: a gasket that is lifted off and laid, never cut, clamped or cured. Only in `/2`. */
  compressedBy?: string[];
}

export interface Latch {
  id: string;
  joins: string[];
  edge: Edge;
  count: number;
  /** `last`: lets go only when everything else that holds the part has. */
  release: 'any' | 'last';
  /** `first`: hooked in before the part is laid down; `last`: snapped after. */
  mate: 'first' | 'last';
  /** Where the edge is entered, when there is a notch for it. */
  notch: Point | null;
  /** Further edges of the same latch. */
  alsoAt: Edge[];
  /** `turned`: it lets go by itself when its part is slid or turned out. */
  letsGo: 'pried' | 'turned';
}

export interface Order {
  first: string;
  then: string;
  because: string;
}

export interface DeviceFunction {
  id: string;
  name: string;
  test: string;
  /** True when it can only be judged on the closed device. */
  afterClosing: boolean;
  /** Nobody knows yet what it rests on: every dive proves it. Left out, it rests on what names it. */
  unplaced?: boolean;
}

export interface Spare {
  id: string;
  name: string;
  replaces: string;
  /** Parts the spare brings along; what the old assembly carries beyond them is transferred. */
  includes: string[];
  /** Bonds that come with it ready laid: its adhesive, its gasket. */
  brings: string[];
}

export type Item =
  | { type: 'part'; item: Part }
  | { type: 'fastener'; item: Fastener }
  | { type: 'connector'; item: Connector }
  | { type: 'bond'; item: Bond }
  | { type: 'latch'; item: Latch };

/** One thing that is wrong with an input: where (a path such as `fasteners[4].at`) and what to do. */
export interface Fault {
  path: string;
  message: string;
}
