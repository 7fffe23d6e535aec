import Joi from 'joi';
import { SIDES } from '../anatomy/index.ts';
import { CELL_MARKS, EMERGENCIES, REMOVALS } from '../cells/index.ts';
import { FIT_POINTS, type FitPoint } from '../closing/index.ts';
import { IDENTITY_WAYS, MARK_KINDS, MOST_IMEI } from '../counter/index.ts';
import { CAUSES, CHECK_IDS, SYMPTOMS, type Symptom } from '../diagnosis/index.ts';
import { GATES } from '../dive/index.ts';
import { ACTS, sightFormat } from '../explore/index.ts';
import {
  choice,
  filled,
  list,
  maybe,
  number,
  optional,
  orNone,
  own,
  record,
  row,
  seenTo,
  text,
  yes,
  type Of,
} from '../format/index.ts';
import { message } from '../message/index.ts';
import { TORQUE_VERDICTS } from '../screws/index.ts';
import { DEVIATIONS } from './deviations.ts';
import { CELL_READINGS, CIRCUMSTANCES, EARLY_ENDS, OUTCOMES, PARKED_WHYS, WAIT_KINDS, WHICH_CELLS } from './lists.ts';
import type { BlockerMessage, NoteMessage } from './messages.ts';

const step = text({ least: 1, most: 160 });
const item = text({ most: 64 });
const well = orNone(text({ most: 64 }));
const remark = filled(text({ blank: true, most: 2000 }), '');
const finite = number({ least: -1e6, most: 1e6 });
const notNegative = number({ least: 0, most: 1e6 });
/** A week: nothing on a bench waits longer, s. */
const WEEK = 604_800;
const seconds = (least: number, most = WEEK) => number({ least, most, unit: 's' });
const words = (most: number) => text({ trimmed: true, least: 1, most });
const uuid = text({ as: 'uuid' });
const hash = text({ written: [/^[0-9a-f]{64}$/, 'the hash of a photograph'] });
const ofCell = { cell: item, of: choice(WHICH_CELLS) };
const fitReading = record({
  gap: number({ least: 0, most: 20, unit: 'mm' }),
  step: number({ least: -20, most: 20, unit: 'mm' }),
});

const screw = record({ step, fastener: item, well });
const plug = record({ step, connector: item });

/**
 * Every event that somebody sends, by its type; what only the server makes is read from nobody (`events.ts`). Types, readers and
 * documentation follow from it.
 */
export const SENT = {
  /** A consent that was only said: whose word it was, and when. Earlier versions kept neither. */
  'losses-agreed': record({
    losses: list(text({ most: 80 }), { most: 100 }),
    word: words(120),
    said: text({ as: 'instant' }),
  }),
  /** A consent is taken back, before work has begun. */
  'consent-withdrawn': record({ because: words(400) }),
  'step-done': record({ step }),
  /** The step is passed over for now; a gate will ask for it again. */
  'step-left': record({ step }),
  /** Takes back a step, or only what was last done to `item` in it. */
  'step-undone': record({ step, item: maybe(item) }),
  'screw-out': screw,
  'screw-in': screw,
  'connector-opened': plug,
  'connector-seated': plug,
  /** What the device turned out to be. `value`: the length found (mm), or the peak reached (°C). */
  deviation: record({ item: orNone(item), kind: choice(DEVIATIONS), note: remark, value: optional(maybe(finite)) }),
  /** `sensor` names the instrument; `heated` says where, of a step that is heated. */
  reading: record({
    sensor: text({ most: 64 }),
    value: finite,
    unit: text({ most: 16 }),
    heated: optional(orNone(record({ step, at: choice(['back', 'seam']) }))),
  }),
  /** How long a screw was that nobody had measured, mm under its head. */
  'screw-measured': record({ fastener: item, length: number({ above: 0, most: 60, unit: 'mm' }) }),
  /** What the torque driver said of a screw, N·cm, and whether it was let pass. */
  torque: record({ step, fastener: item, peak: notNegative, verdict: choice(TORQUE_VERDICTS), accepted: yes }),
  'timer-started': record({ step, seconds: seconds(0) }),
  /** A wait ended before its time, by what and why. */
  'timer-ended': record({ timer: text({ most: 170 }), how: filled(choice(EARLY_ENDS), 'judged'), reason: remark }),
  photo: record({ photo: hash, step: orNone(step), note: remark }),
  /** Somebody's words, or what the program notes by itself. */
  note: record({
    step: orNone(step),
    said: optional(orNone(message<NoteMessage>())),
    text: own<string>(() =>
      Joi.when('said', {
        is: Joi.object().required(),
        then: Joi.string().allow('').max(2000).default(''),
        otherwise: Joi.string().min(1).max(2000).required(),
      }),
    ),
  }),
  /** What was done to a device that no plan speaks of, and what was seen of it. */
  act: record({ act: choice(ACTS), item: maybe(item), note: remark, seen: optional(sightFormat) }),
  /** Takes back the last act, by the id of its event. */
  'act-undone': record({ act: uuid }),
  /** What a technician answered to a question on what was done; `skipped` is an answer too. */
  answered: record({ question: text({ least: 1, most: 400 }), answer: text({ least: 1, most: 64 }) }),
  /** A trial in the middle of the work: what was mated for it, what came of it, and that the battery is off again. */
  tried: record({ standing: orNone(step), mated: list(item, { most: 50 }), worked: yes, isolated: yes, note: remark }),
  gate: record({
    step,
    gate: choice(GATES),
    outcome: choice(['passed', 'refused']),
    reason: remark,
    blocked: optional(orNone(message<BlockerMessage>())),
  }),
  /** Where it was made is, left out, what the state of the device says when the event is taken in. */
  test: record({
    function: item,
    outcome: choice(OUTCOMES),
    reason: remark,
    circumstance: seenTo(choice(CIRCUMSTANCES)),
  }),
  /** An item was looked at because a test failed; `found` is what was wrong with it, `null` where it was sound. */
  looked: record({ item, found: orNone(choice(CAUSES)), note: remark }),
  identified: record({
    imei: list(text({ written: [/^\d{15}$/, '15 digits'] }), { most: MOST_IMEI }),
    serial: orNone(text({ most: 40 })),
    how: choice(IDENTITY_WAYS),
  }),
  'condition-marked': record({
    mark: record({
      id: uuid,
      kind: choice(MARK_KINDS),
      face: choice(SIDES),
      at: row(finite, finite),
      note: remark,
      photo: maybe(hash),
    }),
  }),
  'condition-unmarked': record({ mark: uuid }),
  /** What the customer says, in kinds. */
  complained: record({ symptoms: list(choice(Object.keys(SYMPTOMS) as Symptom[]), { once: true }) }),
  /** A check at the counter, and what came of it; `null` takes it back. */
  checked: record({ check: choice(CHECK_IDS), outcome: orNone(text({ most: 40 })) }),
  /** The device lies open, or waits, and nobody works on it: why, and where everything lies. */
  parked: record({ why: choice(PARKED_WHYS), where: words(200), note: remark }),
  resumed: record({}),
  /** Another technician goes on with it. */
  'handed-on': record({ to: words(80), where: words(200), note: remark }),
  /** A wait of one's own, beside those of the plan: something dries, skins, is pressed, cures or sets. */
  'wait-started': record({
    wait: uuid,
    kind: choice(WAIT_KINDS),
    what: words(120),
    item: maybe(item),
    seconds: seconds(1),
  }),
  'cell-measured': record({
    ...ofCell,
    measure: choice(CELL_READINGS),
    value: notNegative,
    /** Half the width of the 95 % interval, where it was fitted. */
    half: maybe(notNegative),
    hours: maybe(number({ above: 0, most: 10_000, unit: 'h' })),
  }),
  'cell-seen': record({ ...ofCell, removal: choice(REMOVALS), marks: list(choice(CELL_MARKS), { once: true }) }),
  /** A cell lies in the sand box, or waits for the licensed collection. */
  'cell-boxed': record({ ...ofCell, box: words(80), why: remark }),
  /** Gap and step of a panel at eight points, mm. */
  'fit-measured': record({
    panel: item,
    readings: record(
      Object.fromEntries(FIT_POINTS.map((at) => [at, fitReading])) as Record<FitPoint, typeof fitReading>,
    ),
  }),
  'leak-tested': record({
    leak: finite,
    half: notNegative,
    drift: finite,
    outcome: choice(['pass', 'fail', 'not-told']),
    limit: number({ above: 0, least: -1e6, most: 1e6 }),
    seconds: seconds(1, 86_400),
    simulated: yes,
  }),
  /** One step of moving a cell to its old protection board; what is off ends it. */
  'transplant-step': record({ cell: item, stage: text({ most: 40 }), value: orNone(finite), good: yes, note: remark }),
  /** Something went wrong with a cell. */
  incident: record({ kind: choice(EMERGENCIES), note: remark }),
  'signed-off': record({ name: text({ least: 1, most: 80 }) }),
} as const;

/** What somebody sends, with its type. */
export type SentBody = { [T in keyof typeof SENT]: { type: T } & Of<(typeof SENT)[T]> }[keyof typeof SENT];
