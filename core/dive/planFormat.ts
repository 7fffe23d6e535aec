import { FACES, SIDES } from '../anatomy/index.ts';
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
  text,
  yes,
  type Of,
  type Shape,
} from '../format/index.ts';
import { SOURCE_KINDS, type Where } from '../heat/index.ts';
import { message } from '../message/index.ts';
import type { Change, LossReason, Remedy } from './changes.ts';
import { PLAIN_REASONS, RELATIONS, type Reason } from './graph/reasons.ts';
import type { Hint } from './hints.ts';
import { CAUTIONS } from './house/cautions.ts';
import { rulesFormat } from './house/rules.ts';
import { GATES, RULES } from './ruleNames.ts';
import { PHASES, VERBS, type Pose } from './verbs.ts';

const id = text({ most: 64 });
const ids = list(id);
const words = text();
const seconds = number({ least: 0, unit: 's' });
const celsius = number({ unit: '°C' });
const count = number({ whole: true, least: 0 });
const place = number({ whole: true, least: 1 });

/** What differs between the formats: what is said stood as sentences in the first, and stands as codes since. */
interface Sayings<B, H, L, R, C> {
  schema: Shape<`nibrel.plan/${1 | 2}`>;
  because: Shape<B>;
  hint: Shape<H>;
  loss: Shape<L>;
  remedy: Shape<R>;
  change: Shape<C>;
}

const turn = record({ where: words as Shape<Where>, seconds, rest: seconds });

const heatSetting = record({
  source: choice(SOURCE_KINDS),
  set: celsius,
  /** The face that heat is laid on: on a mat, the one that lies down. */
  on: optional(choice(SIDES)),
  /** The body of a fold that alone is warmed. */
  half: optional(id),
  /** What is out or open by then, as far as it was computed with; left out, nothing. */
  off: optional(list(words)),
  /** °C at which the bond counts as soft; `null` when its anatomy does not say. */
  softensAt: orNone(celsius),
  /** Solvent goes into the seam once it is off the heat. */
  solvent: yes,
  /** False where heat goes by the usual times: thousands of plans are made, or the anatomy says too little. */
  computed: yes,
  /** How long it stays workable, and heating it again after that. */
  staysSoft: seconds,
  reheat: seconds,
  turns: list(turn),
});
export interface HeatSetting extends Of<typeof heatSetting> {}

const transfer = record({ part: id, from: id, spare: orNone(id) });
export interface Transfer extends Of<typeof transfer> {}

const totals = record({
  /** Hands-on time. */
  hands: seconds,
  /** All waits, whether something is done meanwhile or not. */
  waits: seconds,
  /** Waiting that nothing fills. */
  idle: seconds,
  /** From the first step to the last, tool changes and turn-overs counted. */
  elapsed: seconds,
  toolChanges: count,
  turnOvers: count,
  screws: count,
  connectors: count,
});
export interface Totals extends Of<typeof totals> {}

/** What intake found that changes how the device is opened. */
const condition = record({
  crackedGlass: yes,
  /** Charge of the cell in percent; `null` is not known and counts as full. */
  charge: maybe(number({ least: 0, most: 100, unit: '%' })),
  /** The device is dark or dead, so that its cell cannot be drawn down. */
  dark: filled(yes, false),
  /** Functions that worked when it came in: they are proved again on the way back, whether the dive touches them or not. */
  worked: optional(ids),
});
export interface Condition extends Of<typeof condition> {}

const stepOf = <B, H>({ because, hint }: { because: Shape<B>; hint: Shape<H> }) =>
  record({
    /** Names the work, within this plan and in those that follow it on the same job: `unscrew.b1`. */
    id: text({ most: 160 }),
    /** Its place in the plan, from 1. */
    n: place,
    phase: choice(PHASES),
    do: choice(VERBS),
    /** Anatomy items; function ids for `test` and for the gates G4 and G7. Screws stand in driving order. */
    items: ids,
    /** `null` is bare or gloved hands. */
    tool: orNone(words),
    face: choice(FACES),
    /** How a fold lies meanwhile; left out in a device of one body. */
    pose: optional(text({ written: [/^(flat|half|closed-.+)$/, 'flat, half, or closed- and a body'] }) as Shape<Pose>),
    /** Hands-on time. */
    seconds,
    /** What must pass after it before the steps that name it in `waitsFor` may begin. */
    waits: seconds,
    /** Numbers of earlier steps whose waits must have run before this one begins. */
    waitsFor: list(place),
    /** Planned start of the hands-on work, from the beginning of the dive. */
    starts: seconds,
    /** Done while the battery can still feed the board. */
    live: yes,
    /** What makes the step necessary: an item with its relation, or a rule. */
    because: list(because, { least: 1 }),
    cautions: list(choice(CAUTIONS)),
    /** Parts that are off or open when it is done: the height of the step on the dive profile. */
    depth: count,
    /** The step on the other limb that this one mirrors. */
    mirrors: orNone(place),
    gate: orNone(choice(GATES)),
    /** How to do it, where the verb and the items do not say it all. */
    hint,
    /** For `heat`: setting and turns, computed from the anatomy where a safe recipe was found. Never a promise. */
    heat: optional(orNone(heatSetting)),
  });

const lossOf = <L, R>({ loss, remedy }: { loss: Shape<L>; remedy: Shape<R> }) =>
  record({
    /** A function id, or `moisture-rating`, `data`, `original-cell`, `cold-seam`. */
    function: words,
    /** The bond that it is about, of a `cold-seam`. */
    item: optional(id),
    because: loss,
    remedy,
  });

const formatOf = <B, H, L, R, C>(said: Sayings<B, H, L, R, C>) =>
  record({
    schema: said.schema,
    anatomy: id,
    replace: ids,
    spares: ids,
    /** Items that are opened to be looked at, and go back; left out where there are none. */
    look: optional(ids),
    /** Batteries whose new cell is joined to the old protection board, so that their pairing stays; left out where none is. */
    transplant: optional(ids),
    rules: rulesFormat,
    condition,
    steps: list(stepOf(said)),
    transfers: list(transfer),
    /** Items that never go back and need a new one at hand. */
    renew: ids,
    losses: list(lossOf(said)),
    /** Functions whose tests must pass, be it before sealing or after. */
    touched: ids,
    totals,
    /** Tools a step asks for that the shop lacks, and what the lack of others has changed. */
    missingTools: ids,
    changes: list(said.change),
    /** Items that a run found gone for good and accounted for: they neither hold nor go back. */
    absent: ids,
    /** Well of every screw that comes out, where it was laid out already; else it follows from the house rules. */
    wells: optional(keyed(id, text({ most: 8 }))),
    optimality: record({ cost: number(), lowerBound: number(), proved: yes }),
  });

const reason: Shape<Reason> = either([
  record({ why: choice(['rule']), rule: choice(RULES) }),
  record({ why: choice(['relation']), relation: choice(RELATIONS), item: id }),
  record({ why: choice(['order']), first: id, then: id, words }),
  record({ why: choice(['quoted']), words }),
  record({ why: choice(PLAIN_REASONS) }),
]);

const CODES = {
  because: reason,
  hint: list(message<Hint>()),
  loss: message<LossReason>(),
  remedy: message<Remedy>(),
};
/** `nibrel.plan/2`: one dive. Times in s. */
export const planFormat = formatOf({ ...CODES, schema: choice(['nibrel.plan/2']), change: message<Change>() });
const step = stepOf(CODES);
const loss = lossOf(CODES);
export interface Step extends Of<typeof step> {}
export interface Loss extends Of<typeof loss> {}
export interface Plan extends Of<typeof planFormat> {
  schema: 'nibrel.plan/2';
}

const blank = text({ blank: true });
/** `nibrel.plan/1`, as jobs of before keep it. */
export const planOneFormat = formatOf({
  schema: choice(['nibrel.plan/1']),
  because: words,
  hint: blank,
  loss: words,
  remedy: blank,
  change: words,
});
