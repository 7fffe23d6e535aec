import { toolOf, type Caution, type DiveAction, type Reason, type RuleName } from '../core/dive/index.ts';
import type { Where } from '../core/heat/index.ts';
import type { Message } from '../core/message/index.ts';
import { minutes } from '../core/units/index.ts';
import { fill, listOf } from './icu.ts';
import type { DriveFamily, Language, Said } from './language.ts';
import { spoken } from './spoken.ts';

/** What items and bodies are called: a model, or `BY_ID` for a device that nobody has drawn. */
export interface Names {
  items: { has(id: string): boolean };
  /** @throws Error for what is no item */
  nameOf(id: string): string;
  anatomy: { bodies?: readonly { id: string; name: string }[] | undefined };
}

/** Everything is called by its id. */
export const BY_ID: Names = { items: new Set(), nameOf: (id) => id, anatomy: {} };

const nameIn = (names: Names, id: string): string => (names.items.has(id) ? names.nameOf(id) : id);
const bodyIn = ({ anatomy }: Names, id: string): string => anatomy.bodies?.find((b) => b.id === id)?.name ?? id;

const oneOf = <K extends string>(table: Readonly<Record<K, string>>, id: string): string =>
  Object.hasOwn(table, id) ? table[id as K] : id;

/** A tool by its name; `null` is bare or gloved hands. */
export function toolName(id: string | null, language: Language = spoken): string {
  if (id === null) return language.bareHands;
  const [, family, size] = /^driver-([A-Z]+)([0-9.]+)$/.exec(toolOf(id).id) ?? [];
  if (family === undefined) return oneOf(language.tools, id);
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

type Wording = (value: never, names: Names, language: Language) => string | number;

/** Empty lists are told as `none`, so that a message can say something else of them. */
const NONE = 'none';
const list = (words: readonly string[], { tag }: Language): string => (words.length === 0 ? NONE : listOf(tag, words));
const id = (value: string, names: Names) => nameIn(names, value);
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
  rule: (value: RuleName, _, language) => `${oneOf(language.rules, value)} (${value})`,
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
  caution: (value: string) => (value === '' ? NONE : value.replace(/\.$/, '')),
  at: (value: readonly number[]) => value.map((v) => v.toFixed(v % 1 === 0 ? 0 : 1)).join(', '),
  duration: (value: number) => minutes(value),
  heats: (value: number) => heatTime(value),
  rests: (value: number) => heatTime(value),
  kilograms: (value: number) => kilograms(value),
  weights: (value: readonly number[]) => value.join(' + '),
  share: (value: number) => (value < 1 ? `${Math.round(value * 100)} % of ` : ''),
  turns: (value: readonly Message[] | number, names, language) =>
    typeof value === 'number' ? value : value.map((turn) => tell(names, turn as Said, language)).join(', '),
};

const isMessage = (value: unknown): value is Said => typeof value === 'object' && value !== null && 'code' in value;

function wording(name: string, value: unknown, names: Names, language: Language): string | number | boolean {
  const own = WORDINGS[name] as ((v: unknown, n: Names, l: Language) => string | number) | undefined;
  if (own) return own(value, names, language);
  if (isMessage(value)) return tell(names, value, language);
  if (Array.isArray(value)) {
    if (value.every(isMessage)) return value.map((one) => tell(names, one, language)).join('; ');
    return list(value.map(String), language);
  }
  return value === null ? 'null' : (value as string | number | boolean);
}

/** What a code says, in words. */
export function tell(names: Names, said: Said, language: Language = spoken): string {
  if (said.code === 'quoted') return said.words;
  const values: Record<string, string | number | boolean> = {};
  for (const [name, value] of Object.entries(said)) {
    if (name === 'code') continue;
    values[name] = wording(name, value, names, language);
    if (Array.isArray(value)) values[`${name}Count`] = value.length;
  }
  return fill(language.tag, language.messages[said.code], values);
}

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

/** What a rule says; a name that is none stands as it is. */
export const ruleText = (rule: string, language: Language = spoken): string => oneOf(language.rules, rule);

/** An act of a chain of reasons: `lift off Battery`. */
export const tellAction = (names: Names, { kind, item }: DiveAction, language: Language = spoken): string =>
  `${language.actions[kind]} ${nameIn(names, item)}`;

export const whereWord = (where: Where, { wheres }: Language = spoken): string => wheres[where];

export const cautionText = (caution: Caution, language: Language = spoken): string => language.cautions[caution];
