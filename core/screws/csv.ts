import {
  type Colour,
  COLOURS,
  type Drive,
  DRIVES,
  type Fastener,
  FASTENERS,
  type Fault,
  type Model,
} from '../anatomy/index.ts';
import type { Piece } from './sort.ts';

const FASTENER_COLUMNS = [
  'id',
  'kind',
  'drive',
  'length',
  'thread',
  'head',
  'holds',
  'into',
  'x',
  'y',
  'face',
  'holeDepth',
  'torque',
  'magnetic',
  'colour',
  'threadlock',
  'fate',
  'order',
] as const;
const PIECE_COLUMNS = ['id', 'length', 'thread', 'head', 'drive', 'magnetic', 'colour', 'uncertainty'] as const;

const quote = (value: unknown): string => {
  const text = value === null || value === undefined ? '' : String(value);
  return /[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
};

/** The fasteners of a device as CSV, one a line, lengths in mm. */
export function fastenersCsv(model: Model): string {
  const rows = model.anatomy.fasteners.map((f) => [
    f.id,
    f.kind,
    f.drive,
    f.length,
    f.thread,
    f.head,
    f.holds.join(' '),
    f.into,
    f.at[0],
    f.at[1],
    f.face,
    f.holeDepth,
    f.torque,
    f.magnetic,
    f.colour,
    f.threadlock,
    f.fate,
    f.order,
  ]);
  return `${[FASTENER_COLUMNS, ...rows].map((row) => row.map(quote).join(',')).join('\n')}\n`;
}

/** Splits CSV into rows of cells. Quotes may hold commas, line ends and doubled quotes. */
export function parseCsv(text: string): string[][] {
  const rows: string[][] = [[]];
  let cell = '';
  let quoted = false;
  for (let i = 0; i < text.length; i++) {
    const c = text[i]!;
    if (quoted) {
      if (c === '"' && text[i + 1] === '"') {
        cell += '"';
        i++;
      } else if (c === '"') quoted = false;
      else cell += c;
    } else if (c === '"') quoted = true;
    else if (c === ',' || c === ';' || c === '\t') {
      rows.at(-1)!.push(cell.trim());
      cell = '';
    } else if (c === '\n') {
      rows.at(-1)!.push(cell.trim());
      cell = '';
      rows.push([]);
    } else if (c !== '\r') cell += c;
  }
  rows.at(-1)!.push(cell.trim());
  return rows.filter((row) => row.some((value) => value !== ''));
}

/** Reads measured pieces from CSV; a fault names the row and the column, and what to do. */
export function readPieces(text: string): { ok: true; value: Piece[] } | { ok: false; faults: Fault[] } {
  const [head, ...rows] = parseCsv(text);
  const faults: Fault[] = [];
  const say = (path: string, message: string) => faults.push({ path, message });
  if (!head)
    return {
      ok: false,
      faults: [
        { path: 'row 1', message: `the file is empty; its first row names the columns: ${PIECE_COLUMNS.join(', ')}` },
      ],
    };
  head.forEach((name, i) => {
    if (!(PIECE_COLUMNS as readonly string[]).includes(name))
      say(`row 1, column ${i + 1}`, `"${name}" is not a column; there are ${PIECE_COLUMNS.join(', ')}`);
  });
  if (!head.includes('length') && !head.includes('drive')) say('row 1', 'there must be a column "length" or "drive"');
  if (rows.length === 0) say('row 2', 'there are no pieces');
  const seen = new Map<string, number>();
  const pieces = rows.map((row, r): Piece => {
    const at = (name: string) => `row ${r + 2}, column ${name}`;
    const cell = (name: (typeof PIECE_COLUMNS)[number]): string => row[head.indexOf(name)] ?? '';
    if (row.length > head.length) say(`row ${r + 2}`, `has ${row.length} cells; the first row names ${head.length}`);
    const size = (name: 'length' | 'thread' | 'head' | 'uncertainty', most: number): number | null => {
      const value = cell(name);
      if (value === '') return null;
      const number = Number(value.replace(/\s*mm$/, ''));
      if (!Number.isFinite(number) || number <= 0 || number > most)
        say(at(name), `"${value}" is not a length between 0 and ${most} mm`);
      return number;
    };
    const drive = cell('drive');
    if (drive !== '' && !(DRIVES as readonly string[]).includes(drive))
      say(at('drive'), `"${drive}" is not a drive; there are ${DRIVES.join(', ')}`);
    const magnetic = cell('magnetic').toLowerCase();
    const yes = ['yes', 'true', '1', 'y'].includes(magnetic);
    if (magnetic !== '' && !yes && !['no', 'false', '0', 'n'].includes(magnetic))
      say(at('magnetic'), `"${magnetic}" is neither yes nor no`);
    const colour = cell('colour').toLowerCase();
    if (colour !== '' && !(COLOURS as readonly string[]).includes(colour))
      say(at('colour'), `"${colour}" is not one of ${COLOURS.join(', ')}`);
    const id = cell('id') || String(r + 1);
    if (seen.has(id)) say(at('id'), `"${id}" is used already in row ${seen.get(id)}`);
    seen.set(id, r + 2);
    const piece = {
      id,
      length: size('length', 60),
      thread: size('thread', 10),
      head: size('head', 20),
      drive: drive === '' ? null : (drive as Drive),
      magnetic: magnetic === '' ? null : yes,
      colour: colour === '' ? null : (colour as Colour),
      uncertainty: size('uncertainty', 5),
    };
    if (piece.length === null && piece.thread === null && piece.head === null && piece.drive === null)
      say(`row ${r + 2}`, 'nothing was measured; give at least its length or its drive');
    return piece;
  });
  return faults.length > 0 ? { ok: false, faults } : { ok: true, value: pieces };
}

/**
 * Reads fasteners from CSV, as `fastenersCsv` writes them. The result is not yet checked against the device: ids,
 * geometry and holes are for the anatomy's own reading.
 */
export function readFasteners(text: string): { ok: true; value: Fastener[] } | { ok: false; faults: Fault[] } {
  const [head, ...rows] = parseCsv(text);
  const faults: Fault[] = [];
  const say = (path: string, message: string) => faults.push({ path, message });
  const needed = ['id', 'drive', 'length', 'thread', 'head', 'holds', 'into', 'x', 'y', 'holeDepth'];
  if (!head)
    return {
      ok: false,
      faults: [
        {
          path: 'row 1',
          message: `the file is empty; its first row names the columns: ${FASTENER_COLUMNS.join(', ')}`,
        },
      ],
    };
  head.forEach((name, i) => {
    if (!(FASTENER_COLUMNS as readonly string[]).includes(name))
      say(`row 1, column ${i + 1}`, `"${name}" is not a column; there are ${FASTENER_COLUMNS.join(', ')}`);
  });
  for (const name of needed) if (!head.includes(name)) say('row 1', `the column "${name}" is missing`);
  if (faults.length > 0) return { ok: false, faults };
  const fasteners = rows.map((row, r): Fastener => {
    const cell = (name: (typeof FASTENER_COLUMNS)[number]): string => row[head.indexOf(name)] ?? '';
    const at = (name: string) => `row ${r + 2}, column ${name}`;
    if (row.length > head.length) say(`row ${r + 2}`, `has ${row.length} cells; the first row names ${head.length}`);
    const number = (name: (typeof FASTENER_COLUMNS)[number], optional = false): number => {
      const value = cell(name);
      const read = Number(value);
      if (value === '' ? !optional : !Number.isFinite(read)) say(at(name), `"${value}" is not a number`);
      return read;
    };
    const one = <T extends string>(name: (typeof FASTENER_COLUMNS)[number], among: readonly T[], fallback: T): T => {
      const value = cell(name);
      if (value === '') return fallback;
      if (!(among as readonly string[]).includes(value)) say(at(name), `"${value}" is not one of ${among.join(', ')}`);
      return value as T;
    };
    const yes = (name: 'magnetic' | 'threadlock', fallback: boolean) =>
      cell(name) === '' ? fallback : one(name, ['true', 'false'] as const, 'true') === 'true';
    if (cell('id') === '') say(at('id'), 'every fastener needs an id');
    if (cell('holds') === '') say(at('holds'), 'name the parts that it holds, separated by spaces');
    return {
      id: cell('id'),
      kind: one('kind', FASTENERS.kinds, 'screw'),
      drive: one('drive', DRIVES, 'none'),
      length: number('length'),
      thread: number('thread'),
      head: number('head'),
      holds: cell('holds').split(/\s+/).filter(Boolean),
      into: cell('into'),
      at: [number('x'), number('y')],
      face: one('face', ['front', 'back', 'edge'] as const, 'front'),
      holeDepth: number('holeDepth'),
      torque: cell('torque') === '' ? null : number('torque'),
      magnetic: yes('magnetic', true),
      colour: one('colour', COLOURS, 'bright'),
      threadlock: yes('threadlock', false),
      fate: one('fate', ['keep', 'renew', 'renew-if-damaged'] as const, 'keep'),
      order: cell('order') === '' ? null : number('order'),
      layer: null,
      alternatives: [],
    };
  });
  return faults.length > 0 ? { ok: false, faults } : { ok: true, value: fasteners };
}
