import Joi from 'joi';
import { DRIVES, FASTENER_KINDS, PART_KINDS, faultsOfJoi, type Reading } from '../anatomy/index.ts';
import { ACTS, THING_TYPES, type ActFile, type Sight } from './acts.ts';

/** Most corners of a rough outline, marks of a photograph, acts of a dive. Origin: own choice, ten times the largest seen. */
const MOST = { corners: 200, marks: 600, acts: 5000 } as const;

/** Shorter than this nothing is measured by hand, mm. */
const LEAST = 0.1;

const number = Joi.number().min(-1e4).max(1e4);
const point = Joi.array().ordered(number.required(), number.required()).length(2);
const points = Joi.array().items(point).max(MOST.corners);
const face = Joi.string().valid('front', 'back', 'edge');
const handle = Joi.string().min(1).max(64);
const on = handle.allow(null);

/** What was seen, as an event or a file gives it. */
export const sightSchema = Joi.object<Sight>({
  at: point,
  face,
  on,
  tool: Joi.string().max(64).allow(null),
  fastener: Joi.string().valid(...FASTENER_KINDS),
  drive: Joi.string().valid(...DRIVES),
  length: Joi.number().min(LEAST).max(100).allow(null),
  head: Joi.number().min(LEAST).max(30),
  connector: Joi.string().valid('press', 'flip-lock', 'slide-lock', 'coax', 'clipped', 'contact', 'solder'),
  size: Joi.array().items(Joi.number().min(LEAST).max(200)).length(2),
  isolates: Joi.boolean(),
  leads: Joi.alternatives(Joi.object({ part: handle.required() }), Joi.object({ at: point.required() })).allow(null),
  bond: Joi.string().valid('tape', 'stretch-tab', 'pull-pouch', 'glue', 'gasket', 'thermal', 'foil'),
  outline: points,
  line: points,
  around: Joi.boolean(),
  tabs: points,
  part: Joi.string()
    .valid(...PART_KINDS)
    .allow(null),
  glass: Joi.boolean(),
  edge: Joi.string().valid('top', 'right', 'bottom', 'left'),
  degrees: Joi.number().min(0).max(180),
  gap: Joi.number().greater(0).max(50),
  count: Joi.number().integer().min(1).max(100),
  hooks: Joi.boolean(),
  spent: Joi.boolean(),
  target: Joi.boolean(),
  printed: Joi.array()
    .items(
      Joi.object({
        row: Joi.number().integer().min(1).required(),
        place: Joi.number().integer().min(1).required(),
      }),
    )
    .max(20),
  name: Joi.string().min(1).max(80),
  set: Joi.number().min(0).max(500),
  seconds: Joi.number().min(0).max(1e6),
  photo: Joi.string()
    .pattern(/^[0-9a-f]{64}$/)
    .allow(null),
  marks: Joi.array()
    .items(
      Joi.object({
        type: Joi.string()
          .valid(...THING_TYPES.filter((t) => t === 'fastener' || t === 'connector'))
          .required(),
        at: point.required(),
        face: face.required(),
        on: on.default(null),
      }),
    )
    .max(MOST.marks),
});

const act = Joi.object({
  id: Joi.string().min(1).max(64).required(),
  act: Joi.string()
    .valid(...ACTS)
    .required(),
  item: handle.allow(null).default(null),
  note: Joi.string().allow('').max(2000).default(''),
  label: Joi.string().max(64),
  seen: sightSchema.default({}),
  at: Joi.string().isoDate().required(),
});

/** Smaller than this is no device, mm. Origin: own choice. */
const size = Joi.number().min(5).max(2000);

const file = Joi.object<ActFile>({
  schema: Joi.string().valid('nibrel.acts/1').required(),
  device: Joi.object({
    name: Joi.string().min(1).max(80).required(),
    kind: Joi.string().valid('phone', 'tablet', 'keypad-phone').required(),
    width: size.required(),
    height: size.required(),
    thickness: size.required(),
    cornerRadius: Joi.number().min(0).max(200).default(0),
    ingress: Joi.string().max(16).allow(null).default(null),
    like: Joi.string().max(64).allow(null).default(null),
    functions: Joi.array()
      .items(
        Joi.object({
          id: handle.required(),
          name: Joi.string().min(1).max(120).required(),
          test: Joi.string().allow('').max(500).required(),
          afterClosing: Joi.boolean().default(false),
        }),
      )
      .max(200)
      .default([]),
    battery: Joi.object({
      volts: Joi.number().greater(0).max(60).required(),
      milliampHours: Joi.number().greater(0).max(1e6).required(),
      cells: Joi.number().integer().min(1).max(20).required(),
    })
      .allow(null)
      .default(null),
  }).required(),
  acts: Joi.array().items(act).max(MOST.acts).required(),
  answers: Joi.object().pattern(Joi.string().max(160), Joi.string().max(64)).default({}),
}).prefs({ abortEarly: false, errors: { wrap: { label: false } } });

/** Reads a field dive from a file. The faults name the act and the field: `acts[4].seen.at`. */
export function readActs(document: unknown): Reading<ActFile> {
  const { error, value } = file.validate(document);
  if (error) return { ok: false, faults: faultsOfJoi(error) };
  return { ok: true, value };
}
