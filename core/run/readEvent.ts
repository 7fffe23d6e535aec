import Joi from 'joi';
import { GATES } from '../dive/index.ts';
import { IDENTITY_WAYS, MARK_KINDS, MOST_IMEI } from '../counter/index.ts';
import { CELL_MARKS, EMERGENCIES, REMOVALS } from '../cells/index.ts';
import { FIT_POINTS } from '../closing/index.ts';
import { CAUSES, CHECK_IDS, SYMPTOMS } from '../diagnosis/index.ts';
import { ACTS, sightSchema } from '../explore/index.ts';
import { TORQUE_VERDICTS } from '../screws/index.ts';
import {
  CELL_READINGS,
  CIRCUMSTANCES,
  DEVIATIONS,
  EARLY_ENDS,
  OUTCOMES,
  PARKED_WHYS,
  WAIT_KINDS,
  WHICH_CELLS,
  type CounterMade,
  type EventType,
  type SentEvent,
  type ServerMadeType,
} from './events.ts';
import { messageSchema } from '../message/index.ts';

const step = Joi.string().min(1).max(160);
const itemId = Joi.string().max(64);
const text = Joi.string().allow('').max(2000);
const finite = Joi.number().min(-1e6).max(1e6);
const ofCell = {
  cell: itemId.required(),
  of: Joi.string()
    .valid(...WHICH_CELLS)
    .required(),
};
const fitReading = Joi.object({
  gap: Joi.number().min(0).max(20).required(),
  step: Joi.number().min(-20).max(20).required(),
}).required();

/** What only the server makes is read from nobody. */
const bodies: Record<Exclude<EventType, ServerMadeType | CounterMade['type']>, Joi.PartialSchemaMap> = {
  'losses-agreed': {
    losses: Joi.array().items(Joi.string().max(80)).max(100).required(),
    word: Joi.string().trim().min(1).max(120).required(),
    said: Joi.string().isoDate().required(),
  },
  'consent-withdrawn': { because: Joi.string().trim().min(1).max(400).required() },
  'step-done': { step: step.required() },
  'step-left': { step: step.required() },
  'step-undone': { step: step.required(), item: itemId.allow(null).default(null) },
  'screw-out': {
    step: step.required(),
    fastener: itemId.required(),
    well: Joi.string().max(64).allow(null).required(),
  },
  'screw-in': { step: step.required(), fastener: itemId.required(), well: Joi.string().max(64).allow(null).required() },
  'connector-opened': { step: step.required(), connector: itemId.required() },
  'connector-seated': { step: step.required(), connector: itemId.required() },
  deviation: {
    item: itemId.allow(null).required(),
    kind: Joi.string()
      .valid(...DEVIATIONS)
      .required(),
    note: text.default(''),
    value: finite.allow(null).default(null),
  },
  reading: {
    sensor: Joi.string().max(64).required(),
    value: finite.required(),
    unit: Joi.string().max(16).required(),
    heated: Joi.object({ step: step.required(), at: Joi.string().valid('back', 'seam').required() }).allow(null),
  },
  'screw-measured': { fastener: itemId.required(), length: Joi.number().positive().max(60).required() },
  torque: {
    step: step.required(),
    fastener: itemId.required(),
    peak: finite.min(0).required(),
    verdict: Joi.string()
      .valid(...TORQUE_VERDICTS)
      .required(),
    accepted: Joi.boolean().required(),
  },
  'timer-started': { step: step.required(), seconds: Joi.number().min(0).max(604_800).required() },
  'timer-ended': {
    timer: Joi.string().max(170).required(),
    how: Joi.string()
      .valid(...EARLY_ENDS)
      .default('judged'),
    reason: text.default(''),
  },
  photo: {
    photo: Joi.string()
      .pattern(/^[0-9a-f]{64}$/)
      .required(),
    step: step.allow(null).required(),
    note: text.default(''),
  },
  note: {
    step: step.allow(null).required(),
    said: messageSchema().allow(null),
    text: Joi.when('said', {
      is: Joi.object().required(),
      then: text.default(''),
      otherwise: Joi.string().min(1).max(2000).required(),
    }),
  },
  act: {
    act: Joi.string()
      .valid(...ACTS)
      .required(),
    item: itemId.allow(null).default(null),
    note: text.default(''),
    seen: sightSchema,
  },
  'act-undone': { act: Joi.string().guid().required() },
  answered: { question: Joi.string().min(1).max(400).required(), answer: Joi.string().min(1).max(64).required() },
  tried: {
    standing: step.allow(null).required(),
    mated: Joi.array().items(itemId).max(50).required(),
    worked: Joi.boolean().required(),
    isolated: Joi.boolean().required(),
    note: text.default(''),
  },
  gate: {
    step: step.required(),
    gate: Joi.string()
      .valid(...GATES)
      .required(),
    outcome: Joi.string().valid('passed', 'refused').required(),
    reason: text.default(''),
    blocked: messageSchema().allow(null),
  },
  test: {
    function: itemId.required(),
    outcome: Joi.string()
      .valid(...OUTCOMES)
      .required(),
    reason: text.default(''),
    // Left out, it is what the state of the device says when the event is taken in.
    circumstance: Joi.string().valid(...CIRCUMSTANCES),
  },
  looked: {
    item: itemId.required(),
    found: Joi.string()
      .valid(...CAUSES)
      .allow(null)
      .required(),
    note: text.default(''),
  },
  identified: {
    imei: Joi.array()
      .items(Joi.string().pattern(/^\d{15}$/))
      .max(MOST_IMEI)
      .required(),
    serial: Joi.string().max(40).allow(null).required(),
    how: Joi.string()
      .valid(...IDENTITY_WAYS)
      .required(),
  },
  'condition-marked': {
    mark: Joi.object({
      id: Joi.string().guid().required(),
      kind: Joi.string()
        .valid(...MARK_KINDS)
        .required(),
      face: Joi.string().valid('front', 'back').required(),
      at: Joi.array().items(finite).length(2).required(),
      note: text.default(''),
      photo: Joi.string()
        .pattern(/^[0-9a-f]{64}$/)
        .allow(null)
        .default(null),
    }).required(),
  },
  'condition-unmarked': { mark: Joi.string().guid().required() },
  complained: {
    symptoms: Joi.array()
      .items(Joi.string().valid(...Object.keys(SYMPTOMS)))
      .unique()
      .required(),
  },
  checked: {
    check: Joi.string()
      .valid(...CHECK_IDS)
      .required(),
    outcome: Joi.string().max(40).allow(null).required(),
  },
  parked: {
    why: Joi.string()
      .valid(...PARKED_WHYS)
      .required(),
    where: Joi.string().trim().min(1).max(200).required(),
    note: text.default(''),
  },
  resumed: {},
  'handed-on': {
    to: Joi.string().trim().min(1).max(80).required(),
    where: Joi.string().trim().min(1).max(200).required(),
    note: text.default(''),
  },
  'wait-started': {
    wait: Joi.string().guid().required(),
    kind: Joi.string()
      .valid(...WAIT_KINDS)
      .required(),
    what: Joi.string().trim().min(1).max(120).required(),
    item: itemId.allow(null).default(null),
    seconds: Joi.number().min(1).max(604_800).required(),
  },
  'cell-measured': {
    ...ofCell,
    measure: Joi.string()
      .valid(...CELL_READINGS)
      .required(),
    value: finite.min(0).required(),
    half: finite.min(0).allow(null).default(null),
    hours: Joi.number().positive().max(10_000).allow(null).default(null),
  },
  'cell-seen': {
    ...ofCell,
    removal: Joi.string()
      .valid(...REMOVALS)
      .required(),
    marks: Joi.array()
      .items(Joi.string().valid(...CELL_MARKS))
      .unique()
      .required(),
  },
  'cell-boxed': { ...ofCell, box: Joi.string().trim().min(1).max(80).required(), why: text.default('') },
  'fit-measured': {
    panel: itemId.required(),
    readings: Joi.object(Object.fromEntries(FIT_POINTS.map((at) => [at, fitReading]))).required(),
  },
  'leak-tested': {
    leak: finite.required(),
    half: finite.min(0).required(),
    drift: finite.required(),
    outcome: Joi.string().valid('pass', 'fail', 'not-told').required(),
    limit: finite.positive().required(),
    seconds: Joi.number().min(1).max(86_400).required(),
    simulated: Joi.boolean().required(),
  },
  'transplant-step': {
    cell: itemId.required(),
    stage: Joi.string().max(40).required(),
    value: finite.allow(null).required(),
    good: Joi.boolean().required(),
    note: text.default(''),
  },
  incident: {
    kind: Joi.string()
      .valid(...EMERGENCIES)
      .required(),
    note: text.default(''),
  },
  'signed-off': { name: Joi.string().min(1).max(80).required() },
};

const UUID = /^[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}$/i;
const INSTANT = /^[+-]?\d{4,6}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d{1,9})?)?(Z|[+-]\d\d:\d\d)$/;

interface StampField {
  required: boolean;
  must: string;
  holds: (value: unknown) => boolean;
}

const words = (most: number) => (value: unknown) =>
  typeof value === 'string' && value.length > 0 && value.length <= most;
const whole = (least: number) => (value: unknown) => Number.isSafeInteger(value) && (value as number) >= least;

/** What every event bears. Plain checks, since these fields are most of what is read: ten thousand a second. */
const STAMP = new Map<string, StampField>([
  ['id', { required: true, must: 'must be a UUID', holds: (v) => typeof v === 'string' && UUID.test(v) }],
  ['job', { required: false, must: 'must be the id of the job', holds: words(64) }],
  ['seq', { required: true, must: 'must be a whole number from 1', holds: whole(1) }],
  [
    'at',
    {
      required: true,
      must: 'must be an instant by ISO 8601, in UTC or with its offset',
      holds: (v) => typeof v === 'string' && v.length <= 40 && INSTANT.test(v),
    },
  ],
  ['by', { required: false, must: 'must be a name of at most 80 characters', holds: words(80) }],
  ['version', { required: false, must: 'must be a whole number from 0', holds: whole(0) }],
  ['type', { required: true, must: 'must be a type of event', holds: words(40) }],
]);

const schemas = new Map<string, Joi.ObjectSchema>(
  Object.entries(bodies).map(([type, body]) => [
    type,
    Joi.object(body).prefs({ convert: false, errors: { wrap: { label: false } } }),
  ]),
);

export type EventReading = { ok: true; value: SentEvent } | { ok: false; id: string | null; message: string };

/** Reads one event as a sender gives it; the message of a fault names the field. */
export function readEvent(document: unknown): EventReading {
  const given: Record<string, unknown> =
    typeof document === 'object' && document !== null ? (document as Record<string, unknown>) : {};
  const id = typeof given.id === 'string' ? given.id : null;
  const schema = typeof given.type === 'string' ? schemas.get(given.type) : undefined;
  if (!schema) return { ok: false, id, message: `type: must be one of ${[...schemas.keys()].join(', ')}` };
  for (const [field, { required, must, holds }] of STAMP) {
    const value = given[field];
    if (value === undefined ? required : !holds(value)) return { ok: false, id, message: `${field}: ${must}` };
  }
  const body: Record<string, unknown> = {};
  for (const field of Object.keys(given)) {
    if (field === '__proto__') return { ok: false, id, message: '__proto__: is not allowed' };
    if (!STAMP.has(field)) body[field] = given[field];
  }
  const { error, value } = schema.validate(body);
  if (error) return { ok: false, id, message: `${error.details[0]!.path.join('.')}: ${error.message}` };
  // One order of fields for all: what is filled in later then costs nothing.
  const { job, seq, at, by, version, type } = given;
  return { ok: true, value: { id: given.id, job, seq, at, by, version, type, ...(value as object) } as SentEvent };
}
