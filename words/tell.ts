import type { NoCut } from '../core/opening/index.ts';
import type { BondKind, FastenerKind } from '../core/kinds/index.ts';
import { functionIn, type Anatomy, type Fault } from '../core/anatomy/index.ts';
import { tellMoney } from '../core/counter/index.ts';
import type { Caution, DiveAction, GateId, Reason, Unreached } from '../core/dive/index.ts';
import type { Where } from '../core/heat/index.ts';
import type { Message, Quoted } from '../core/message/index.ts';
import type { NextLook } from '../core/diagnosis/index.ts';
import type { NoteMessage, ReplanReason } from '../core/run/index.ts';
import { minutes } from '../core/units/index.ts';
import { fill, listOf } from './icu.ts';
import type { DriveFamily, Language, Said } from './language.ts';
import { spoken } from './spoken.ts';

/** What items and bodies are called: a model, or `BY_ID` for a device that nobody has drawn. */
export interface Names {
  items: { has(id: string): boolean };
  /** @throws Error for what is no item */
  nameOf(id: string): string;
  anatomy: Partial<Pick<Anatomy, 'bodies' | 'functions'>>;
}

/** Everything is called by its id. */
export const BY_ID: Names = { items: new Set(), nameOf: (id) => id, anatomy: {} };

const nameIn = (names: Names, id: string): string => (names.items.has(id) ? names.nameOf(id) : id);
const bodyIn = ({ anatomy }: Names, id: string): string => anatomy.bodies?.find((b) => b.id === id)?.name ?? id;

const functionName = ({ anatomy }: Pick<Names, 'anatomy'>, id: string): string =>
  functionIn({ functions: anatomy.functions ?? [] }, id).name;

/** `a needs b needs c` */
const chained = (words: readonly string[], joint: string, { tag }: Language): string =>
  words.reduceRight((then, first) => fill(tag, joint, { first, then }));

const oneOf = <K extends string>(table: Readonly<Record<K, string>>, id: string): string =>
  Object.hasOwn(table, id) ? table[id as K] : id;

/** A loss by the name of its function. */
export function nameOfLoss({ anatomy }: Pick<Names, 'anatomy'>, id: string, { losses }: Language = spoken): string {
  if (Object.hasOwn(losses, id)) return losses[id as keyof typeof losses];
  return functionName({ anatomy }, id);
}

/** A tool by its name; `null` is bare or gloved hands. What is no tool of a plan is called as it is. */
export function toolName(id: string | null, language: Language = spoken): string {
  if (id === null) return language.bareHands;
  const [, family, size] = /^driver-([A-Z]+)([0-9.]+)$/.exec(id) ?? [];
  if (family === undefined || !Object.hasOwn(language.drivers, family)) return oneOf(language.tools, id);
  return fill(language.tag, language.drivers[family as DriveFamily], { size: size! });
}

const kilograms = (v: number): string => `${v < 10 ? v.toFixed(1) : Math.round(v)} kg`;
/** Seconds of heat: to the second below two minutes, else in minutes. */
const heatTime = (s: number): string =>
  s < 120 ? `${Math.round(s)} s` : `${(s / 60).toFixed(1).replace(/\.0$/, '')} min`;

function placeWords(place: string | null, language: Language): string {
  if (place === null) return language.someSide;
  return Object.hasOwn(language.edges, place)
    ? fill(language.tag, language.atEdge, { edge: oneOf(language.edges, place) })
    : fill(language.tag, language.atCorner, { corner: oneOf(language.corners, place) });
}

type Wording = (value: never, names: Names, language: Language, said: never) => string | number;

const money = (value: string, _: Names, __: Language, { currency }: { currency: string }) => tellMoney(value, currency);

const list = (words: readonly string[], { tag }: Language): string => listOf(tag, words);
const id = (value: string | null, names: Names) => (value === null ? 'null' : nameIn(names, value));
const ids = (values: readonly string[], names: Names, language: Language) =>
  list(
    values.map((value) => nameIn(names, value)),
    language,
  );
const tool = (value: string, _: Names, language: Language) => toolName(value, language);

/** How an argument is told, by its name. What is not here is told as it is. */
const WORDINGS: Record<string, Wording> = {
  item: id,
  part: id,
  items: ids,
  body: (value: string, names) => bodyIn(names, value),
  tool,
  instead: tool,
  rule: (value: string, _, language) => `${oneOf(language.rules, value)} (${value})`,
  gate: (value: string, _, language) => oneOf(language.gates, value),
  function: (value: string, names) => functionName(names, value),
  verb: (value: string, _, language) => oneOf(language.verbs, value).toLowerCase(),
  type: (value: string, _, language) => oneOf(language.types, value),
  functions: (values: readonly string[], names, language) =>
    list(
      values.map((value) => functionName(names, value)),
      language,
    ),
  losses: (values: readonly string[], names, language) =>
    list(
      values.map((value) => nameOfLoss(names, value, language)),
      language,
    ),
  pulled: (value: string, _, language) => language.pulled[value as FastenerKind] ?? value,
  fresh: (value: string, _, language) => language.bonds[value as BondKind]?.fresh ?? value,
  stripsFor: (value: string, _, language) => language.bonds[value as BondKind]?.strips ?? value,
  kind: (value: string, _, language) => oneOf(language.deviations, value).toLowerCase(),
  other: id,
  plugs: (values: readonly string[], names, language) =>
    chained(
      values.map((value) => nameIn(names, value)),
      language.before,
      language,
    ),
  circle: (values: readonly Said[], names, language) =>
    chained(
      values.map((value) => tell(names, value, language)),
      language.needs,
      language,
    ),
  mark: (value: string, _, language) => oneOf(language.marks, value),
  removal: (value: string, _, language) => oneOf(language.removals, value),
  measure: (value: string, _, language) => oneOf(language.measures, value),
  hours: (value: number) => (value < 48 ? `${value} h` : `${Math.ceil(value / 24)} days`),
  source: (value: string, _, language) => oneOf(language.sources, value),
  zone: (value: string, _, language) => oneOf(language.zones, value),
  where: (value: string, _, language) => oneOf(language.wheres, value),
  face: (value: string, _, language) => oneOf(language.faces, value),
  up: (value: string, _, language) => oneOf(language.faces, value),
  edge: (value: string, _, language) => oneOf(language.edges, value),
  edges: (values: readonly string[], _, language) =>
    list(
      values.map((value) => oneOf(language.edges, value)),
      language,
    ),
  place: (value: string | null, _, language) => placeWords(value, language),
  ways: (values: readonly string[], _, language) => values.map((value) => oneOf(language.draws, value)).join(', '),
  caution: (value: string) => value.replace(/\.$/, ''),
  at: (value: readonly number[]) => value.map((v) => v.toFixed(v % 1 === 0 ? 0 : 1)).join(', '),
  duration: (value: number) => minutes(value),
  heats: (value: number) => heatTime(value),
  rests: (value: number) => heatTime(value),
  kilograms: (value: number) => kilograms(value),
  weights: (value: readonly number[]) => value.join(' + '),
  price: money,
  limit: (value: string | number, names, language, said) =>
    typeof value === 'string' ? money(value, names, language, said) : value,
  share: (value: number) => Math.round(value * 100),
  turns: (value: readonly Message[] | number, names, language) =>
    typeof value === 'number' ? value : value.map((turn) => tell(names, turn as Said, language)).join(', '),
};

const isMessage = (value: unknown): value is Said => typeof value === 'object' && value !== null && 'code' in value;

function wording(
  said: Said,
  name: string,
  value: unknown,
  names: Names,
  language: Language,
): string | number | boolean {
  const own = WORDINGS[name] as ((v: unknown, n: Names, l: Language, s: Said) => string | number) | undefined;
  if (own) return own(value, names, language, said);
  if (isMessage(value)) return tell(names, value, language);
  if (Array.isArray(value)) {
    if (value.every(isMessage)) return value.map((one) => tell(names, one, language)).join('; ');
    return list(value.map(String), language);
  }
  return value === null ? 'null' : (value as string | number | boolean);
}

/**
 * What a code says, in words. What another version of the program said, or somebody sent, may have a code that is none, or lack
 * what it is about: it is told by its code.
 */
export function tell(names: Names, said: Said, language: Language = spoken): string {
  if (said.code === 'quoted') return String(said.words);
  try {
    return inWords(names, said, language);
  } catch {
    return said.code;
  }
}

/** @throws Error where an argument is missing, or is not what its name says */
function inWords(names: Names, said: Exclude<Said, Quoted>, language: Language): string {
  const values: Record<string, string | number | boolean> = {};
  for (const [name, value] of Object.entries(said)) {
    if (name === 'code') continue;
    values[name] = wording(said, name, value, names, language);
    // How many there are, so that a message can say something else where there is none.
    if (Array.isArray(value) || typeof value === 'string') values[`${name}Count`] = value.length;
  }
  return fill(language.tag, language.messages[said.code], values);
}

/** Why no cut can be planned, in words. */
export const whyNoCut = ({ message, said }: NoCut): string => (said ? tell(BY_ID, said) : message);

/** Words with a capital at their head. */
export const sentence = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** Several codes, one sentence after the other. */
export const tellAll = (names: Names, list: readonly Said[], language: Language = spoken): string =>
  list.map((said) => (said.code === 'quoted' ? said.words : stopped(sentence(tell(names, said, language))))).join(' ');

const stopped = (words: string): string => (/[.:!?]$/.test(words) ? words : `${words}.`);

/** A reason in plain words, names instead of ids. */
export function explain(names: Names, reason: Reason, language: Language = spoken): string {
  switch (reason.why) {
    case 'rule':
      return `${language.rules[reason.rule]} (${reason.rule})`;
    case 'relation':
      return fill(language.tag, language.relations[reason.relation], { item: nameIn(names, reason.item) });
    case 'order':
      return reason.words.replace(/\.$/, '');
    case 'quoted':
      return reason.words;
    default:
      return language.reasons[reason.why];
  }
}

/** Reasons in plain words. Two that read the same, as of two screws under caps of one kind, are told once. */
export const explainAll = (names: Names, reasons: readonly Reason[], language: Language = spoken): string[] => [
  ...new Set(reasons.map((reason) => explain(names, reason, language))),
];

/** What a rule says; a name that is none stands as it is. */
export const ruleText = (rule: string, language: Language = spoken): string => oneOf(language.rules, rule);

/** An act of a chain of reasons: `lift off Battery`. */
export const tellAction = (names: Names, { kind, item }: DiveAction, language: Language = spoken): string =>
  fill(language.tag, language.actions[kind], { item: nameIn(names, item) });

export const whereWord = (where: Where, { wheres }: Language = spoken): string => wheres[where];

export const cautionText = (caution: Caution, language: Language = spoken): string => language.cautions[caution];

/** What a gate asks for, in a word or two. */
export const gateName = (gate: GateId, language: Language = spoken): string => language.gates[gate];

/** What of an anatomy cannot be reached, or not be planned yet, as a fault of its document. Ids, as they stand there. */
export function tellUnreached({ path, part, said }: Unreached, planned: boolean, language: Language = spoken): Fault {
  const { tag, unreached } = language;
  const words = tell(BY_ID, said, language);
  if (!planned) return { path, message: part === null ? words : `${part} ${words}` };
  const text = part === null ? unreached.noDive : unreached.part;
  return { path, message: fill(tag, text, { part: part ?? '', why: words }) };
}

/** A note in the words it was written in, or in those of what the program noted. */
export const noteWords = (names: Names, { text, said }: { text: string; said?: NoteMessage | null }): string =>
  said ? sentence(tell(names, said)) : text;

/** Why a dive was planned, or planned anew: somebody's words first. */
export const whyWords = (names: Names, { because, why = [] }: { because: string; why?: ReplanReason[] }): string =>
  [because, ...why.map((reason) => tell(names, reason))].filter(Boolean).join('; ');

/** What to look at next, in a sentence. */
export function tellNext(names: Names, next: NextLook, language: Language = spoken): string {
  const { item, seconds, retest, opens } = next;
  const undone = opens.filter((id) => id !== item).length;
  const inMinutes = Math.max(1, Math.round(seconds / 60));
  return tell(names, { code: 'look-next', again: retest.length > 0, item, undone, minutes: inMinutes }, language);
}
