import Joi from 'joi';
import {
  ANATOMY_SCHEMAS,
  COLOURS,
  CORNERS,
  DRIVES,
  FASTENER_KINDS,
  MOTIONS,
  PART_KINDS,
  PART_MATERIALS,
} from './types.ts';

const id = Joi.string().pattern(/^[a-z0-9][a-z0-9.-]{0,63}$/, 'lower-case letters, digits, dots and hyphens');
const name = Joi.string().min(1).max(120);
const mm = Joi.number().min(0).max(2000);
const coordinate = Joi.number().min(-50).max(2000);
const point = Joi.array().ordered(coordinate.required(), coordinate.required());
const edge = Joi.string().valid('top', 'right', 'bottom', 'left');
const face = Joi.string().valid('front', 'back', 'edge');
const fate = Joi.string().valid('keep', 'renew', 'renew-if-damaged');
const ids = Joi.array().items(id).unique().max(200);

const outline = Joi.alternatives()
  .try(
    Joi.object({
      rect: Joi.array()
        .ordered(coordinate.required(), coordinate.required(), mm.positive().required(), mm.positive().required())
        .required(),
      radius: mm,
    }),
    Joi.object({ polygon: Joi.array().items(point).min(3).max(2000).required() }),
    Joi.object({
      circle: Joi.array().ordered(coordinate.required(), coordinate.required(), mm.positive().required()).required(),
    }),
  )
  .messages({
    'alternatives.match':
      '{{#label}} must be an outline: rect [x, y, width, height] with an optional radius, polygon [[x, y], …] or circle [x, y, r]',
  });

const motion = Joi.object({
  how: Joi.string()
    .valid(...MOTIONS)
    .required(),
  from: Joi.string()
    .valid('top', 'right', 'bottom', 'left', ...CORNERS)
    .allow(null)
    .default(null),
  degrees: Joi.number().min(0).max(360).allow(null).default(null),
})
  .allow(null)
  .default(null);
const layer = Joi.number().integer().min(0).max(40);

const part = Joi.object({
  id: id.required(),
  name: name.required(),
  kind: Joi.string()
    .valid(...PART_KINDS)
    .required(),
  fixed: Joi.boolean().default(false),
  face: face.default('front'),
  layer: Joi.number().integer().min(0).max(40).default(0),
  exits: Joi.array()
    .items(
      Joi.object({
        face: Joi.string().valid('front', 'back', 'edge').required(),
        layer: Joi.number().integer().min(0).max(40).default(0),
      }),
    )
    .max(2)
    .default([]),
  outline: outline.required(),
  within: id.allow(null).default(null),
  swing: Joi.object({
    hinge: edge.required(),
    degrees: Joi.number().min(1).max(270).default(90),
    tether: ids.default([]),
    gap: Joi.object({ width: Joi.number().positive().max(40).required(), reaches: ids.min(1).required() })
      .allow(null)
      .default(null),
  })
    .allow(null)
    .default(null),
  fate: fate.default('keep'),
  pairing: Joi.array()
    .items(
      Joi.object({ with: id.required(), loses: ids.default([]), remedy: Joi.string().max(400).allow('').default('') }),
    )
    .max(20)
    .default([]),
  functions: ids.default([]),
  conductive: Joi.boolean().default(false),
  glass: Joi.boolean().default(false),
  material: Joi.string()
    .valid(...PART_MATERIALS)
    .allow(null)
    .default(null),
  thickness: Joi.number().positive().max(60).allow(null).default(null),
  curved: Joi.boolean().default(false),
  leaves: motion,
  enters: motion,
  pryAt: point.allow(null).default(null),
  note: Joi.string().max(2000).allow('').default(''),
  limits: Joi.object({
    hottest: Joi.number().min(30).max(200).allow(null).default(null),
    solvent: Joi.boolean().default(true),
    bend: Joi.boolean().default(true),
    suction: Joi.boolean().default(true),
  }).allow(null),
  body: id.allow(null),
});

const fastener = Joi.object({
  id: id.required(),
  kind: Joi.string()
    .valid(...FASTENER_KINDS)
    .required(),
  drive: Joi.string()
    .valid(...DRIVES)
    .required(),
  length: Joi.number().positive().max(60).allow(null).required(),
  thread: Joi.number().positive().max(10).required(),
  head: Joi.number().positive().max(20).required(),
  holds: ids.min(1).required(),
  into: id.required(),
  at: point.required(),
  face: face.default('front'),
  holeDepth: Joi.number().positive().max(80).required(),
  torque: Joi.number().positive().max(500).allow(null).default(null),
  threadlock: Joi.boolean().default(false),
  magnetic: Joi.boolean().default(true),
  colour: Joi.string()
    .valid(...COLOURS)
    .default('bright'),
  fate: fate.default('keep'),
  order: Joi.number().integer().min(1).max(200).allow(null).default(null),
  layer: layer.allow(null).default(null),
  alternatives: Joi.array()
    .items(
      Joi.object({
        drive: Joi.string()
          .valid(...DRIVES)
          .required(),
        caution: Joi.string().max(400).allow('').default(''),
      }),
    )
    .max(6)
    .default([]),
});

const connector = Joi.object({
  id: id.required(),
  name: name.required(),
  kind: Joi.string().valid('press', 'flip-lock', 'slide-lock', 'coax', 'clipped', 'contact', 'solder').required(),
  from: id.required(),
  to: id.required(),
  at: point.required(),
  size: Joi.array()
    .ordered(Joi.number().positive().max(200).required(), Joi.number().positive().max(200).required())
    .required(),
  face: face.default('front'),
  layer: Joi.number().integer().min(0).max(40).allow(null).default(null),
  isolatesPower: Joi.boolean().default(false),
  isolates: id.allow(null),
  beneath: ids.default([]),
  under: ids.default([]),
  reachedBy: Joi.object({ swing: id.required() }).allow(null).default(null),
  after: ids.default([]),
  carries: ids.default([]),
  route: Joi.object({ line: Joi.array().items(point).min(2).max(200).required(), width: mm.positive().required() })
    .allow(null)
    .default(null),
  flex: id.allow(null).default(null),
  liesOver: ids.default([]),
  shape: Joi.string().max(200).allow('').default(''),
});

const bond = Joi.object({
  id: id.required(),
  kind: Joi.string().valid('tape', 'stretch-tab', 'pull-pouch', 'glue', 'gasket', 'thermal', 'foil').required(),
  joins: ids.min(2).required(),
  at: Joi.alternatives()
    .try(
      Joi.object({
        perimeterOf: id.required(),
        inset: mm.required(),
        width: mm.positive().required(),
        gaps: Joi.array()
          .items(Joi.object({ edge: edge.required(), from: coordinate.required(), to: coordinate.required() }))
          .max(40)
          .default([]),
      }),
      Joi.object({ area: outline.required() }),
      Joi.object({ line: Joi.array().items(point).min(2).max(2000).required(), width: mm.positive().required() }),
    )
    .required()
    .messages({
      'alternatives.match':
        '{{#label}} must be perimeterOf (a part) with inset and width, or area (an outline), or line [[x, y], …] with width',
    }),
  tabs: Joi.array().items(point).max(40).default([]),
  softensAt: Joi.number().min(20).max(300).allow(null).default(null),
  solvent: Joi.boolean().default(false),
  fate: fate.default('renew'),
  face: Joi.string().valid('front', 'back', 'edge').allow(null).default(null),
  layer: layer.allow(null).default(null),
  flex: id.allow(null).default(null),
  staysOn: id.allow(null).default(null),
  compressedBy: ids.min(1),
});

const latch = Joi.object({
  id: id.required(),
  joins: ids.min(2).required(),
  edge: edge.required(),
  count: Joi.number().integer().min(1).max(200).default(1),
  release: Joi.string().valid('any', 'last').default('any'),
  mate: Joi.string().valid('first', 'last').default('last'),
  notch: point.allow(null).default(null),
  alsoAt: Joi.array().items(edge).unique().max(3).default([]),
  letsGo: Joi.string().valid('pried', 'turned').default('pried'),
});

const cell = Joi.object({
  part: id.required(),
  volts: Joi.number().positive().max(60).required(),
  milliampHours: Joi.number().positive().max(60000).required(),
  series: Joi.number().integer().min(1).max(12).default(1),
  parallel: Joi.number().integer().min(1).max(12).default(1),
  rail: id.required(),
});

const hinge = Joi.object({
  line: Joi.array().ordered(point.required(), point.required()).required(),
  crosses: ids.default([]),
  inner: id.allow(null).default(null),
  radius: Joi.number().positive().max(60).allow(null).default(null),
  half: ids.default([]),
}).allow(null);

/** The shape of `nibrel.anatomy/1` and `/2`. What refers to what, and the geometry, is checked by `faultsOf`. */
export const anatomySchema = Joi.object({
  schema: Joi.string()
    .valid(...ANATOMY_SCHEMAS)
    .required(),
  id: id.required(),
  name: name.required(),
  maker: name.required(),
  kind: Joi.string().valid('phone', 'tablet', 'keypad-phone').required(),
  body: Joi.object({
    width: Joi.number().positive().max(600).required(),
    height: Joi.number().positive().max(600).required(),
    thickness: Joi.number().positive().max(60).required(),
    cornerRadius: mm.default(0),
    ingress: Joi.string().max(20).allow(null).default(null),
  }).required(),
  battery: Joi.object({
    volts: Joi.number().positive().max(60).required(),
    milliampHours: Joi.number().positive().max(60000).required(),
    // All cells of the pack; without it, those in a row times those side by side.
    cells: Joi.number()
      .integer()
      .min(1)
      .max(12)
      .default(({ series = 1, parallel = 1 }: { series?: number; parallel?: number }) => series * parallel),
    series: Joi.number().integer().min(1).max(12),
    parallel: Joi.number().integer().min(1).max(12),
  }).required(),
  parts: Joi.array().items(part).min(1).max(400).required(),
  fasteners: Joi.array().items(fastener).max(600).default([]),
  connectors: Joi.array().items(connector).max(300).default([]),
  bonds: Joi.array().items(bond).max(200).default([]),
  latches: Joi.array().items(latch).max(200).default([]),
  orders: Joi.array()
    .items(Joi.object({ first: id.required(), then: id.required(), because: Joi.string().max(400).required() }))
    .max(200)
    .default([]),
  mateOrder: Joi.array().items(Joi.array().items(id).min(2).unique().max(100)).max(50).default([]),
  functions: Joi.array()
    .items(
      Joi.object({
        id: id.required(),
        name: name.required(),
        test: Joi.string().min(1).max(400).required(),
        afterClosing: Joi.boolean().default(false),
        unplaced: Joi.boolean(),
      }),
    )
    .max(200)
    .default([]),
  spares: Joi.array()
    .items(
      Joi.object({
        id: id.required(),
        name: name.required(),
        replaces: id.required(),
        includes: ids.min(1).required(),
        brings: ids.default([]),
      }),
    )
    .max(100)
    .default([]),
  cells: Joi.array().items(cell).min(1).max(12),
  rails: Joi.array()
    .items(Joi.object({ id: id.required(), name: name.required(), feeds: ids.default([]) }))
    .min(1)
    .max(12),
  bodies: Joi.array()
    .items(Joi.object({ id: id.required(), name: name.required(), outline: outline.required() }))
    .min(2)
    .max(4),
  hinge,
}).label('anatomy');
