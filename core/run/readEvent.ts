import Joi from 'joi';
import { GATES } from '../dive/index.ts';
import { DEVIATIONS, type EventType, type SentEvent } from './events.ts';

const step = Joi.number().integer().min(1).max(2000);
const itemId = Joi.string().max(64);
const text = Joi.string().allow('').max(2000);

/** A dive is planned anew by the server itself, never by what a sender says. */
const bodies: Record<Exclude<EventType, 'replanned'>, Joi.PartialSchemaMap> = {
  'losses-agreed': { losses: Joi.array().items(Joi.string().max(80)).max(100).required() },
  'step-done': { step: step.required() },
  'step-left': { step: step.required() },
  'step-undone': { step: step.required(), item: itemId.allow(null).default(null) },
  'screw-out': { step: step.required(), fastener: itemId.required(), well: Joi.string().max(8).allow(null).required() },
  'screw-in': { step: step.required(), fastener: itemId.required(), well: Joi.string().max(8).allow(null).required() },
  'connector-opened': { step: step.required(), connector: itemId.required() },
  'connector-seated': { step: step.required(), connector: itemId.required() },
  deviation: {
    item: itemId.allow(null).required(),
    kind: Joi.string()
      .valid(...DEVIATIONS)
      .required(),
    note: text.default(''),
  },
  reading: {
    sensor: Joi.string().max(64).required(),
    value: Joi.number().required(),
    unit: Joi.string().max(16).required(),
  },
  'timer-started': {
    timer: Joi.string().max(64).required(),
    step: step.required(),
    seconds: Joi.number().min(0).max(86400).required(),
  },
  'timer-ended': { timer: Joi.string().max(64).required(), reason: text.default('') },
  photo: {
    photo: Joi.string()
      .pattern(/^[0-9a-f]{64}$/)
      .required(),
    step: step.allow(null).required(),
    note: text.default(''),
  },
  note: { step: step.allow(null).required(), text: Joi.string().min(1).max(2000).required() },
  gate: {
    step: step.required(),
    gate: Joi.string()
      .valid(...GATES)
      .required(),
    outcome: Joi.string().valid('passed', 'refused').required(),
    reason: text.default(''),
  },
  test: {
    function: itemId.required(),
    outcome: Joi.string().valid('pass', 'fail', 'waived').required(),
    reason: text.default(''),
  },
  'signed-off': { name: Joi.string().min(1).max(80).required() },
};

/** Reads one event as a sender gives it; the message of a fault names the field. */
export function readEvent(document: unknown): { ok: true; value: SentEvent } | { ok: false; message: string } {
  const type = (document as { type?: unknown } | null)?.type;
  if (typeof type !== 'string' || !(type in bodies))
    return { ok: false, message: `type: must be one of ${Object.keys(bodies).join(', ')}` };
  const one = Joi.object({
    id: Joi.string().uuid().required(),
    job: Joi.string().max(64),
    seq: Joi.number().integer().min(1).required(),
    at: Joi.string().isoDate().required(),
    by: Joi.string().min(1).max(80).required(),
    type: Joi.string().required(),
    ...bodies[type as keyof typeof bodies],
  });
  const { error, value } = one.validate(document, { convert: false, errors: { wrap: { label: false } } });
  if (error) return { ok: false, message: `${error.details[0]!.path.join('.')}: ${error.message}` };
  return { ok: true, value };
}
