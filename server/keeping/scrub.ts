import { createHmac } from 'node:crypto';
import type { RunEvent } from '../../core/run/index.ts';

/** What stands where a name stood. */
export const ERASED = 'Erased customer';
/** Words of a name that are too short to be looked for in what was written. Origin: own choice. */
const SHORTEST = 3;

/** An event without the fields that name a person by themselves. @param gone photographs that go with the person; `null` for all */
export function withoutPerson(
  type: string,
  body: Record<string, unknown>,
  gone: readonly string[] | null,
): Record<string, unknown> {
  switch (type) {
    case 'identified':
      return { ...body, imei: [], serial: null, how: 'unreadable' };
    case 'collected':
      return { ...body, name: ERASED, signature: null };
    case 'agreed':
      return { ...body, signature: '' };
    case 'losses-agreed':
      return { ...body, word: ERASED };
    case 'photo':
      return gone === null || gone.includes(body.photo as string) ? { ...body, note: '' } : body;
    default:
      return body;
  }
}

/** Fields in which somebody writes what they like; everything else is made by Nibrel, and names nobody. */
const WRITTEN: ReadonlySet<string> = new Set([
  'note',
  'reason',
  'text',
  'because',
  'where',
  'to',
  'answer',
  'what',
  'why',
  'box',
]);

/** Documents that Nibrel makes: nobody writes in them, and their ids must stay as they are. */
const MADE: ReadonlySet<string> = new Set(['plan', 'anatomy', 'quote']);

/** What was written freely, with a person taken out of it, however deep it stands. */
export function scrubbed(value: unknown, scrub: (text: string) => string, written = false): unknown {
  if (typeof value === 'string') return written ? scrub(value) : value;
  if (Array.isArray(value)) return value.map((entry) => scrubbed(entry, scrub, written));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([field, entry]) => [
      field,
      MADE.has(field) ? entry : scrubbed(entry, scrub, written || WRITTEN.has(field)),
    ]),
  );
}

/**
 * Takes a person out of a text: the whole of each thing that is known of them, and each longer word of it that stands by
 * itself, whatever its letter case.
 */
export function scrubber(known: readonly string[]): (text: string) => string {
  const words = wordsOf(known).sort((a, b) => b.length - a.length);
  if (words.length === 0) return (text) => text;
  const escaped = [...new Set(words)].map((w) => w.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'));
  const pattern = new RegExp(`(?<![\\p{L}\\p{N}])(?:${escaped.join('|')})(?![\\p{L}\\p{N}])`, 'giu');
  return (text) => text.replace(pattern, '…');
}

/** What is known of a person, and each longer word of it. */
const wordsOf = (known: readonly string[]): string[] =>
  [...new Set(known.flatMap((text) => [text.trim(), ...text.split(/[\s,;]+/)]))].filter((w) => w.length >= SHORTEST);

/**
 * Marks of what is known of a person: what comes late is told by them, and nobody can read them without the key, which lies
 * elsewhere.
 */
export const marksFor = (key: Buffer, known: readonly string[]): string[] =>
  [...new Set(wordsOf(known).flatMap((word) => piecesOf(word)))].map((word) => markOf(key, word));

const markOf = (key: Buffer, word: string): string =>
  createHmac('sha256', key).update(word.toLowerCase().normalize('NFC')).digest('base64url').slice(0, 22);

/** A word as it stands, without what surrounds it, and its parts. */
function piecesOf(word: string): string[] {
  const bare = word.replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu, '');
  const parts = word.match(/[\p{L}\p{N}]+/gu) ?? [];
  return [...new Set([word, bare, ...parts])].filter((piece) => piece.length >= SHORTEST);
}

/** Takes a person out of a text of whom only marks are known: word by word, and part by part of a word. */
export function scrubberByMarks(key: Buffer, marks: ReadonlySet<string>): (text: string) => string {
  if (marks.size === 0) return (text) => text;
  const known = (piece: string) => piece.length >= SHORTEST && marks.has(markOf(key, piece));
  return (text) =>
    text.replace(/[^\s,;]+/gu, (word) => {
      const bare = word.replace(/^[^\p{L}\p{N}]+|[^\p{L}\p{N}]+$/gu, '');
      if (known(word)) return '…';
      if (bare !== '' && known(bare)) return word.replace(bare, '…');
      return word.replace(/[\p{L}\p{N}]+/gu, (part) => (known(part) ? '…' : part));
    });
}

/** An event of an erased customer that comes late, without the person. */
export function scrubbedLate(event: RunEvent, scrub: (text: string) => string): RunEvent {
  const { id, job, seq, at, by, version, skew, type, ...body } = event;
  const kept = scrubbed(withoutPerson(type, body, null), scrub) as object;
  return { id, job, seq, at, by, version, ...(skew === undefined ? {} : { skew }), type, ...kept } as RunEvent;
}
