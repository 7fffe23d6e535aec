import type Joi from 'joi';
import { joiOf } from '../format/index.ts';
import { SENT } from './eventFormat.ts';
import type { SentEvent } from './events.ts';

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

const told = new WeakMap<Joi.Schema, Joi.Schema>();

/** The schema of what a type of event says, as the tables of kinds stand now. */
function schemaOf(type: string): Joi.Schema | undefined {
  if (!Object.hasOwn(SENT, type)) return undefined;
  const schema = joiOf(SENT[type as keyof typeof SENT]);
  const known = told.get(schema) ?? schema.prefs({ convert: false, errors: { wrap: { label: false } } });
  told.set(schema, known);
  return known;
}

export type EventReading = { ok: true; value: SentEvent } | { ok: false; id: string | null; message: string };

/** Reads one event as a sender gives it; the message of a fault names the field. */
export function readEvent(document: unknown): EventReading {
  const given: Record<string, unknown> =
    typeof document === 'object' && document !== null ? (document as Record<string, unknown>) : {};
  const id = typeof given.id === 'string' ? given.id : null;
  const schema = typeof given.type === 'string' ? schemaOf(given.type) : undefined;
  if (!schema) return { ok: false, id, message: `type: must be one of ${Object.keys(SENT).join(', ')}` };
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
