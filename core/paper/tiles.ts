import type { Mark } from './sheet.ts';
import { pathMark } from './marks.ts';

type Place = readonly [x: number, y: number];
interface Size {
  width: number;
  height: number;
}

/** What a page keeps white all round, keeps for its heading, and shares with the page beside it, mm. */
export interface Frame {
  margin: number;
  heading: number;
  overlap: number;
}

/** One page of a drawing that may be larger than the paper. */
export interface Tile {
  row: number;
  column: number;
  /** Where the drawing's top left lies, mm of the page. */
  left: number;
  top: number;
}

export interface Tiling {
  rows: number;
  columns: number;
  tiles: Tile[];
  /** The part of a page that is drawn on. */
  box: { x0: number; y0: number; x1: number; y1: number };
  /** Where neighbouring tiles share a cross, mm of the drawing. */
  crosses: Place[];
}

/** How a drawing is laid on pages: in the middle of one, or over as many as it takes. */
export function tilingOf(paper: Size, drawing: Size, { margin, heading, overlap }: Frame): Tiling {
  const room = { width: paper.width - 2 * margin, height: paper.height - 2 * margin - heading };
  const count = (length: number, fits: number) =>
    length <= fits ? 1 : Math.ceil((length - overlap) / (fits - overlap));
  const [columns, rows] = [count(drawing.width, room.width), count(drawing.height, room.height)];
  const [across, down] = [room.width - overlap, room.height - overlap];
  const tiles: Tile[] = [];
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++)
      tiles.push({
        row,
        column,
        left: columns === 1 ? margin + (room.width - drawing.width) / 2 : margin - column * across,
        top: margin + heading - row * down,
      });
  const crosses: Place[] = [];
  for (let c = 1; c < columns; c++)
    for (const y of [8, room.height / 2])
      for (let r = 0; r < rows; r++) crosses.push([c * across + overlap / 2, r * down + y]);
  for (let r = 1; r < rows; r++)
    for (const x of [8, room.width / 2])
      for (let c = 0; c < columns; c++) crosses.push([c * across + x, r * down + overlap / 2]);
  const box = { x0: margin, y0: margin + heading, x1: margin + room.width, y1: margin + heading + room.height };
  return { rows, columns, tiles, box, crosses };
}

/** `, tile 1.2 of 1.2`, where there are several. */
export const tileName = ({ rows, columns }: Tiling, { row, column }: Tile): string =>
  rows * columns > 1 ? `, tile ${row + 1}.${column + 1} of ${rows}.${columns}` : '';

export const isInside = ({ x0, y0, x1, y1 }: Tiling['box'], [x, y]: Place): boolean =>
  x >= x0 - 0.01 && x <= x1 + 0.01 && y >= y0 - 0.01 && y <= y1 + 0.01;

/** The crosses that are seen on a tile, to lay its neighbours by. */
export const crossMarks = (tiling: Tiling, { left, top }: Tile): Mark[] =>
  tiling.crosses
    .map(([x, y]): Place => [left + x, top + y])
    .filter((at) => isInside(tiling.box, at))
    .flatMap(([x, y]) => [
      pathMark('M-3 0H3M0 -3V3', x, y, 0.2),
      { ...pathMark('M1 0A1 1 0 1 1-1 0A1 1 0 1 1 1 0Z', x, y, 0.2), scale: 1.5 } as Mark,
    ]);

/** The pieces of a line within a box (Liang and Barsky 1984, from memory). */
export function clippedLine(points: readonly Place[], { x0, y0, x1, y1 }: Tiling['box'], width: number): Mark[] {
  const marks: Mark[] = [];
  for (let i = 0; i + 1 < points.length; i++) {
    const [[ax, ay], [bx, by]] = [points[i]!, points[i + 1]!];
    const [dx, dy] = [bx - ax, by - ay];
    let [from, to] = [0, 1];
    for (const [p, q] of [
      [-dx, ax - x0],
      [dx, x1 - ax],
      [-dy, ay - y0],
      [dy, y1 - ay],
    ] as const) {
      if (p === 0) {
        if (q < 0) to = -1;
      } else if (p < 0) from = Math.max(from, q / p);
      else to = Math.min(to, q / p);
    }
    if (from >= to) continue;
    const at = (t: number) => `${round(ax + t * dx)} ${round(ay + t * dy)}`;
    marks.push(pathMark(`M${at(from)}L${at(to)}`, 0, 0, width));
  }
  return marks;
}

const round = (v: number): number => Number(v.toFixed(4));
