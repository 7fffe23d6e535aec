/** Versions of the format; a document says the least that holds what it says. */
export const ANATOMY_SCHEMAS = ['nibrel.anatomy/1', 'nibrel.anatomy/2'] as const;
export type AnatomySchema = (typeof ANATOMY_SCHEMAS)[number];

export const DEVICE_KINDS = ['phone', 'tablet', 'keypad-phone'] as const;
export type DeviceKind = (typeof DEVICE_KINDS)[number];

export const FACES = ['front', 'back', 'edge'] as const;
export type Face = (typeof FACES)[number];
/** The faces that a device lies on. */
export const SIDES = ['front', 'back'] as const;
export type Side = (typeof SIDES)[number];
export const EDGES = ['top', 'right', 'bottom', 'left'] as const;
export type Edge = (typeof EDGES)[number];
export const CORNERS = ['top-left', 'top-right', 'bottom-right', 'bottom-left'] as const;
export type Corner = (typeof CORNERS)[number];

export const FATES = ['keep', 'renew', 'renew-if-damaged'] as const;
export type Fate = (typeof FATES)[number];

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

export const MOTIONS = ['lift', 'slide', 'tilt', 'hook', 'rotate'] as const;
/** From which edge or corner a part is moved. */
export const MOTION_FROM = [...EDGES, ...CORNERS] as const;

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

/** When a catch lets go: at any time, or only when everything else that holds its part has. */
export const RELEASED = ['any', 'last'] as const;
/** When a catch takes hold: hooked in before its part is laid down, or snapped after. */
export const MATED = ['first', 'last'] as const;
