import {
  bodyOfPart,
  boundsOf,
  cellLayout,
  pressedBy,
  type Anatomy,
  type Cell,
  type Half,
  type Hinge,
  type Part,
} from '../anatomy/index.ts';
import { BONDS } from '../kinds/index.ts';
import type { Change } from './edits.ts';

/**
 * What a document leaves open although it changes how the device is worked, and only somebody who has the device before them can
 * say: it is asked once, for an answer stands in the document.
 */
export interface Ask {
  id: string;
  /** The item it is about. */
  about: string;
  question: string;
  answers: { label: string; changes: Change[] }[];
}

/** Everything that is still to be asked, of a drawing that may have faults as well. */
export function asksOf(anatomy: Anatomy): Ask[] {
  const fasteners = new Set(anatomy.fasteners.map((f) => f.id));
  const asks: Ask[] = [];
  const batteries = anatomy.parts.filter((p) => p.kind === 'battery');
  if (batteries.length > 1 && !anatomy.cells && !anatomy.rails) asks.push(askOfCells(anatomy, batteries));
  for (const bond of anatomy.bonds) {
    const set = (field: string, from: unknown, to: unknown): Change => ({
      do: 'set',
      group: 'bonds',
      id: bond.id,
      field,
      from,
      to,
    });
    const screws = pressedBy(anatomy, bond).filter((id) => fasteners.has(id));
    if (BONDS.of(bond.kind).pressed && bond.compressedBy === undefined && screws.length > 0)
      asks.push({
        id: `${bond.id} pressed`,
        about: bond.id,
        question: `${bond.id}: is it pressed tight by screws, or glued?`,
        answers: [
          { label: `Pressed by ${screws.length} screws`, changes: [set('compressedBy', undefined, screws)] },
          { label: 'Glued', changes: [set('kind', bond.kind, 'glue')] },
        ],
      });
    const movers = anatomy.parts.filter((p) => bond.joins.includes(p.id) && !p.fixed && p.within === null);
    if (bond.face === null && new Set(movers.map((p) => p.face)).size > 1)
      asks.push({
        id: `${bond.id} face`,
        about: bond.id,
        question: `${bond.id} joins parts that leave by different faces: from which is it worked?`,
        answers: (['front', 'back'] as const).map((face) => ({
          label: `From the ${face}`,
          changes: [set('face', null, face)],
        })),
      });
  }
  return asks;
}

function askOfCells(anatomy: Anatomy, batteries: readonly Part[]): Ask {
  const device = (field: 'cells' | 'rails', to: unknown): Change => ({ do: 'device', field, from: undefined, to });
  const whole = { id: 'main', name: 'Main', feeds: [] };
  const answers = [
    {
      label: 'All feed the whole device',
      changes: [
        device('rails', [whole]),
        device(
          'cells',
          cellsApart(anatomy, batteries, () => whole.id),
        ),
      ],
    },
  ];
  if (anatomy.bodies) {
    const { bodies } = anatomy;
    const parts = new Map(anatomy.parts.map((p) => [p.id, p]));
    const halfOf = (part: Part) => bodyOfPart(anatomy, parts, part.id) ?? bodies[0]!.id;
    answers.push({
      label: 'Each feeds its own half',
      changes: [
        device(
          'rails',
          bodies.map((b) => ({ id: b.id, name: b.name, feeds: [b.id] })),
        ),
        device('cells', cellsApart(anatomy, batteries, halfOf)),
      ],
    });
  }
  return {
    id: 'cells',
    about: batteries[0]!.id,
    question: `${batteries.length} cells: what does each of them feed?`,
    answers,
  };
}

/** The pack as it is told, shared out over the parts that hold its cells: those in a row share its voltage, others its capacity. */
export function cellsApart(
  { battery }: Pick<Anatomy, 'battery'>,
  batteries: readonly Part[],
  railOf: (part: Part) => string,
): Cell[] {
  const count = Math.max(1, batteries.length);
  const { series, parallel } = cellLayout(battery) ?? { series: 1, parallel: count };
  const inRow = series % count === 0;
  const [rows, columns] = inRow ? [count, 1] : [1, count];
  return batteries.map((part) => ({
    part: part.id,
    volts: Math.round((100 * battery.volts) / rows) / 100,
    milliampHours: Math.round(battery.milliampHours / columns),
    series: series / rows,
    parallel: Math.max(1, Math.floor(parallel / columns)),
    rail: railOf(part),
  }));
}

/** The device as a fold along an upright line at `x` mm: two halves, the display over both the inner one, nothing told of its limits. */
export function foldedAt(anatomy: Anatomy, x: number): { bodies: Half[]; hinge: Hinge } {
  const { width, height } = anatomy.body;
  const [left, right] = anatomy.bodies ?? [];
  const over = (p: Part) => {
    const [x0, , w] = boundsOf(p.outline);
    return p.kind === 'display' && x0 < x && x0 + w > x;
  };
  const { hinge } = anatomy;
  return {
    bodies: [
      { id: left?.id ?? 'left', name: left?.name ?? 'left half', outline: { rect: [0, 0, x, height] } },
      { id: right?.id ?? 'right', name: right?.name ?? 'right half', outline: { rect: [x, 0, width - x, height] } },
    ],
    hinge: {
      line: [
        [x, 0],
        [x, height],
      ],
      crosses: hinge?.crosses ?? [],
      inner: hinge?.inner ?? anatomy.parts.find(over)?.id ?? null,
      radius: hinge?.radius ?? null,
      half: hinge?.half ?? [],
    },
  };
}
