import type { Edge, Point } from '../../../core/anatomy/index.ts';
import type { ActKind, OpenDevice, Sight, Thing } from '../../../core/explore/index.ts';

/** What the next tap on the photograph means, in the order of a dive. */
export const WAYS = [
  'screw',
  'plug',
  'battery',
  'catch',
  'heat',
  'cut',
  'pull',
  'ease',
  'swing',
  'off',
  'leads',
] as const;
export type Way = (typeof WAYS)[number];

interface WaySpec {
  act: ActKind | null;
  word: string;
  /** One key, as in KeyboardEvent.key; `null` has none. */
  key: string | null;
  /** A point is tapped, or a rectangle drawn. */
  takes: 'point' | 'ground';
  hint: string;
}

export const WAY_SPECS: Record<Way, WaySpec> = {
  screw: { act: 'screw-out', word: 'Screw out', key: 's', takes: 'point', hint: 'Tap the head.' },
  plug: { act: 'connector-opened', word: 'Plug open', key: 'c', takes: 'point', hint: 'Tap the plug.' },
  battery: {
    act: 'connector-opened',
    word: 'Battery’s plug',
    key: 'b',
    takes: 'point',
    hint: 'Tap the plug that cuts the battery off.',
  },
  catch: {
    act: 'latch-released',
    word: 'Catch let go',
    key: 'k',
    takes: 'point',
    hint: 'Tap the edge where it lets go.',
  },
  heat: { act: 'heated', word: 'Heated', key: 'h', takes: 'ground', hint: 'Draw round what was heated.' },
  cut: { act: 'bond-cut', word: 'Bond cut', key: 'x', takes: 'ground', hint: 'Draw round what the bond held.' },
  pull: { act: 'pulled', word: 'Strip pulled', key: 'u', takes: 'ground', hint: 'Draw round the strips.' },
  off: { act: 'part-off', word: 'Part off', key: 'o', takes: 'ground', hint: 'Draw round the part.' },
  ease: {
    act: 'part-eased',
    word: 'First gap',
    key: 'g',
    takes: 'ground',
    hint: 'Draw round the part that was eased open.',
  },
  swing: { act: 'part-swung', word: 'Swung open', key: 'w', takes: 'ground', hint: 'Draw round the part.' },
  leads: { act: null, word: 'Leads to', key: null, takes: 'point', hint: 'Tap where its flex goes.' },
};

/** The keys along the edge. */
export const KEYS: readonly Way[] = WAYS.filter((way) => WAY_SPECS[way].key !== null);

/** A ground as it was drawn: two corners of a rectangle. */
export const cornersOf = ([x0, y0]: Point, [x1, y1]: Point): Point[] => [
  [Math.min(x0, x1), Math.min(y0, y1)],
  [Math.max(x0, x1), Math.min(y0, y1)],
  [Math.max(x0, x1), Math.max(y0, y1)],
  [Math.min(x0, x1), Math.max(y0, y1)],
];

/** A bond whose ground is larger than this share of the body ran all round its part. Origin: own choice. */
const ROUND = 0.5;

export const nearestEdge = ([x, y]: Point, { width, height }: { width: number; height: number }): Edge => {
  const far: [number, Edge][] = [
    [y, 'top'],
    [width - x, 'right'],
    [height - y, 'bottom'],
    [x, 'left'],
  ];
  return far.sort((a, b) => a[0] - b[0])[0]![1];
};

export interface Bench {
  body: { width: number; height: number };
  /** The part that is worked on; `null` is the device. */
  on: string | null;
  face: 'front' | 'back';
}

const last = (open: OpenDevice, type: Thing['type']): Thing | undefined =>
  [...open.things.values()].findLast((t) => t.type === type);

/** What a tap at a place, or a ground, says of the thing in hand: the rest as the last one of its kind. */
export function sightOf(way: Way, places: readonly Point[], bench: Bench, open: OpenDevice): Sight {
  const { on, face, body } = bench;
  const where: Sight = { on, face };
  const [at] = places;
  const outline = places.length === 2 ? cornersOf(places[0]!, places[1]!) : [...places];
  switch (way) {
    case 'screw': {
      const like = last(open, 'fastener')?.seen;
      const drive = like?.drive ?? 'PH000';
      return {
        ...where,
        at: at!,
        fastener: 'screw',
        drive,
        head: like?.head ?? 2,
        length: null,
        tool: `driver-${drive}`,
      };
    }
    case 'plug':
    case 'battery': {
      const isolates = way === 'battery';
      return {
        ...where,
        at: at!,
        connector: last(open, 'connector')?.seen.connector ?? 'press',
        tool: 'spudger',
        isolates,
      };
    }
    case 'catch':
      return { ...where, at: at!, edge: nearestEdge(at!, body), count: 1, tool: 'pick' };
    case 'heat':
    case 'cut': {
      const [[x0, y0], , [x1, y1]] = outline as [Point, Point, Point, Point];
      const around = (x1 - x0) * (y1 - y0) > ROUND * body.width * body.height;
      return { ...where, outline, around, bond: 'tape', spent: true, tool: way === 'heat' ? 'mat' : 'pick' };
    }
    case 'pull':
      return { ...where, outline, bond: 'stretch-tab', spent: true, tool: null };
    case 'off':
      return { ...where, outline, part: null, tool: null };
    case 'ease':
      return { ...where, outline, part: null, edge: 'left', gap: 4, tool: null };
    case 'swing':
      return { ...where, outline, part: null, edge: 'left', degrees: 90, tool: null };
    case 'leads':
      return {};
  }
}

/** A bond that was heated and not parted yet, or a part that stands open: the next act of its kind is on it. */
export function inHand(way: Way, open: OpenDevice): Thing | undefined {
  const things = [...open.things.values()];
  if (way === 'cut' || way === 'heat') return things.findLast((t) => t.type === 'bond' && t.stands === 'in');
  if (way === 'off') return things.findLast((t) => t.type === 'part' && (t.stands === 'swung' || t.stands === 'eased'));
  if (way === 'swing') return things.findLast((t) => t.type === 'part' && t.stands === 'eased');
  return undefined;
}

const NAMES: Record<Thing['type'], string> = {
  part: 'part',
  fastener: 'screw',
  connector: 'plug',
  bond: 'bond',
  latch: 'catch',
};

/** The name of the next thing of a type: `screw-3`. */
export function nextName(type: Thing['type'], taken: Iterable<string>): string {
  const all = new Set(taken);
  for (let n = 1; ; n++) if (!all.has(`${NAMES[type]}-${n}`)) return `${NAMES[type]}-${n}`;
}

/** What a thing is called on the screen. */
export function calledThing({ id, type, seen }: Pick<Thing, 'id' | 'type' | 'seen'>): string {
  if (seen.name) return seen.name;
  const n = id.replace(/\D+/g, '');
  if (seen.isolates && type === 'connector') return 'Battery’s plug';
  if (type === 'part' && seen.part && seen.part !== 'other')
    return `${seen.part[0]!.toUpperCase()}${seen.part.slice(1)} ${n}`;
  return `${NAMES[type][0]!.toUpperCase()}${NAMES[type].slice(1)} ${n}`;
}
