import type { Anatomy, Bond, Outline, Point } from '../anatomy/index.ts';
import { editBetween, type Change } from './edits.ts';
import type { AnyEntry, Group } from './references.ts';
import { same } from './same.ts';

/** What an entry of a list is called, one of it. */
const ONE: Record<Group, string> = {
  parts: 'part',
  fasteners: 'screw',
  connectors: 'connector',
  bonds: 'bond',
  latches: 'catch',
  functions: 'function',
  spares: 'spare',
};

/** Fields whose number is a length, mm, an angle or a torque. */
const UNITS: Record<string, string> = {
  length: 'mm',
  thread: 'mm',
  head: 'mm',
  holeDepth: 'mm',
  thickness: 'mm',
  width: 'mm',
  height: 'mm',
  cornerRadius: 'mm',
  torque: 'N·cm',
  softensAt: '°C',
  volts: 'V',
  milliampHours: 'mAh',
};

const FIELD_WORDS: Record<string, string> = {
  at: 'place',
  holeDepth: 'hole depth',
  threadlock: 'threadlocker',
  isolatesPower: 'isolates the power',
  reachedBy: 'reached by',
  liesOver: 'lies over',
  softensAt: 'softens at',
  staysOn: 'stays on',
  pryAt: 'pried at',
  alsoAt: 'further edges',
  letsGo: 'lets go',
  afterClosing: 'tested after closing',
  mateOrder: 'mating order',
  compressedBy: 'pressed by',
  isolates: 'rail that it cuts',
  body: 'half',
  cornerRadius: 'corner radius',
  milliampHours: 'capacity',
};
const wordOf = (field: string): string => FIELD_WORDS[field] ?? field;

const point = ([x, y]: Point): string => `${x}, ${y}`;
function outlineText(outline: Outline): string {
  if ('circle' in outline)
    return `circle at ${outline.circle[0]}, ${outline.circle[1]}, radius ${outline.circle[2]} mm`;
  if ('polygon' in outline) return `${outline.polygon.length} corners`;
  const [x, y, w, h] = outline.rect;
  return `${w} × ${h} mm at ${x}, ${y}${outline.radius ? `, radius ${outline.radius}` : ''}`;
}

function bondPlaceText(at: Bond['at']): string {
  if ('area' in at) return `area ${outlineText(at.area)}`;
  if ('line' in at) return `strip of ${at.line.length} points, ${at.width} mm wide`;
  const gaps = at.gaps.length > 0 ? `, ${at.gaps.length} ${at.gaps.length === 1 ? 'gap' : 'gaps'}` : '';
  return `round ${at.perimeterOf}, ${at.width} mm wide, ${at.inset} mm in${gaps}`;
}

const isPoint = (value: unknown): value is Point =>
  Array.isArray(value) && value.length === 2 && value.every((v) => typeof v === 'number');

/** A value as it is read aloud. */
function say(field: string, value: unknown): string {
  if (value === null || value === undefined) return 'none';
  if (typeof value === 'boolean') return value ? 'yes' : 'no';
  if (typeof value === 'number') return String(value);
  if (typeof value === 'string') return value === '' ? 'none' : value;
  if (field === 'outline') return outlineText(value as Outline);
  if (isPoint(value)) return point(value);
  if (field === 'at' && typeof value === 'object' && !Array.isArray(value)) return bondPlaceText(value as Bond['at']);
  if (Array.isArray(value)) {
    if (value.length === 0) return 'none';
    if (value.every((v) => typeof v === 'string')) return value.join(', ');
    return `${value.length} ${value.length === 1 ? 'entry' : 'entries'}`;
  }
  return Object.entries(value)
    .filter(([, v]) => v !== null && !(Array.isArray(v) && v.length === 0))
    .map(([key, v]) => `${wordOf(key)} ${say(key, v)}`)
    .join(', ');
}

function changeOf(field: string, from: unknown, to: unknown): string {
  const unit = typeof to === 'number' || typeof from === 'number' ? (UNITS[field] ?? '') : isPoint(to) ? 'mm' : '';
  if (Array.isArray(from) && Array.isArray(to) && [...from, ...to].every((v) => typeof v === 'string')) {
    const gone = from.filter((v) => !to.includes(v));
    const come = to.filter((v) => !from.includes(v));
    if (gone.length > 0 || come.length > 0)
      return `${wordOf(field)} ${[...come.map((v) => `+ ${v}`), ...gone.map((v) => `− ${v}`)].join(', ')}`;
  }
  return `${wordOf(field)} ${say(field, from)} → ${say(field, to)}${unit === '' ? '' : ` ${unit}`}`;
}

const named = (entry: AnyEntry): string => ('name' in entry && entry.name !== entry.id ? ` (${entry.name})` : '');

/** What is added, in the words that tell it from others. */
function addedText(group: Group, entry: AnyEntry): string {
  if (group === 'fasteners' && 'drive' in entry)
    return `${entry.drive}, ${entry.length ?? '?'} mm, holds ${entry.holds.join(', ')}`;
  if ('outline' in entry) return outlineText(entry.outline);
  if ('joins' in entry) return `joins ${entry.joins.join(', ')}`;
  if ('from' in entry) return `${entry.from} to ${entry.to}`;
  return '';
}

/** One change of a device in words. */
export interface Difference {
  /** What it is about, by id; `null` for the device itself. */
  item: string | null;
  group: Group | 'device';
  text: string;
}

/** What changed between two anatomies, in words: `u3: length 1.4 → 1.5 mm`. */
export function differences(before: Anatomy, after: Anatomy): Difference[] {
  return editBetween(before, after, 'difference', '').changes.flatMap((change) => inWords(change));
}

/** An edit in words, change by change. */
export function inWords(change: Change): Difference[] {
  switch (change.do) {
    case 'add': {
      const more = addedText(change.group, change.entry);
      const text = `${change.entry.id}: new ${ONE[change.group]}${named(change.entry)}${more === '' ? '' : `, ${more}`}`;
      return [{ item: change.entry.id, group: change.group, text }];
    }
    case 'remove':
      return [
        {
          item: change.entry.id,
          group: change.group,
          text: `${change.entry.id}: ${ONE[change.group]}${named(change.entry)} removed`,
        },
      ];
    case 'rename':
      return [{ item: change.to, group: change.group, text: `${change.from}: now called ${change.to}` }];
    case 'set':
      return [
        {
          item: change.id,
          group: change.group,
          text: `${change.id}: ${changeOf(change.field, change.from, change.to)}`,
        },
      ];
    case 'device': {
      const [from, to] = [change.from, change.to];
      if ((change.field === 'body' || change.field === 'battery') && from && to) {
        const [a, b] = [from as Record<string, unknown>, to as Record<string, unknown>];
        return Object.keys(b)
          .filter((key) => !same(a[key], b[key]))
          .map((key) => ({ item: null, group: 'device', text: `${change.field}: ${changeOf(key, a[key], b[key])}` }));
      }
      if (change.field === 'orders') return ordersInWords(from as Anatomy['orders'], to as Anatomy['orders']);
      if (change.field === 'mateOrder') return mateInWords(from as string[][], to as string[][]);
      return [{ item: null, group: 'device', text: `device: ${changeOf(change.field, from, to)}` }];
    }
    default:
      return change satisfies never;
  }
}

function ordersInWords(from: Anatomy['orders'], to: Anatomy['orders']): Difference[] {
  const text = (o: Anatomy['orders'][number]) => `${o.first} before ${o.then}`;
  const line = (said: string): Difference => ({ item: null, group: 'device', text: said });
  return [
    ...to.filter((o) => !from.some((p) => same(o, p))).map((o) => line(`order: ${text(o)}, ${o.because}`)),
    ...from.filter((o) => !to.some((p) => same(o, p))).map((o) => line(`order: ${text(o)} no longer`)),
  ];
}

function mateInWords(from: string[][], to: string[][]): Difference[] {
  const line = (said: string): Difference => ({ item: null, group: 'device', text: said });
  return [
    ...to.filter((l) => !from.some((p) => same(l, p))).map((l) => line(`mating order: ${l.join(' → ')}`)),
    ...from.filter((l) => !to.some((p) => same(l, p))).map((l) => line(`mating order: ${l.join(' → ')} no longer`)),
  ];
}
