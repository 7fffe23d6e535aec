import { ringOf, type Fastener, type Model } from '../anatomy/index.ts';
import { CHECK_BAR, PAPERS, type Mark, type Page, type Paper, type Sheet } from '../paper/index.ts';
import { classesOf } from './classes.ts';
import { recessPath } from './glyph.ts';
import type { Wells } from './wells.ts';

/** Own choices: what most printers leave white, what neighbouring tiles share, and the room for the heading. */
const MARGIN = 10;
const OVERLAP = 10;
const HEADING = 26;

const line = (x1: number, y1: number, x2: number, y2: number, width = 0.2): Mark => ({
  type: 'path',
  d: `M${x1} ${y1}L${x2} ${y2}`,
  x: 0,
  y: 0,
  scale: 1,
  fill: false,
  width,
});
const circle = (x: number, y: number, r: number, width = 0.2): Mark => ({
  type: 'path',
  d: 'M1 0A1 1 0 1 1-1 0A1 1 0 1 1 1 0Z',
  x,
  y,
  scale: r,
  fill: false,
  width,
});
const words = (
  x: number,
  y: number,
  size: number,
  text: string,
  anchor: 'start' | 'middle' | 'end' = 'start',
  bold = false,
): Mark => ({ type: 'text', x, y, size, text, anchor, bold });

/**
 * The screw map at 1:1: outline, holes with the symbol of their drive, length and class letter, both faces. The
 * back is mirrored, as it lies before the technician. A device larger than the paper is tiled, with crosses to
 * lay the tiles by.
 */
export function screwMap(model: Model, paper: Paper, wells?: Wells): Sheet {
  const page = PAPERS[paper];
  const { body } = model.anatomy;
  const room = { width: page.width - 2 * MARGIN, height: page.height - 2 * MARGIN - HEADING };
  const letters = new Map(classesOf(model).flatMap((c) => c.fasteners.map((id) => [id, c.letter] as const)));
  const tiles = (length: number, fits: number) =>
    length <= fits ? 1 : Math.ceil((length - OVERLAP) / (fits - OVERLAP));
  const [columns, rows] = [tiles(body.width, room.width), tiles(body.height, room.height)];
  const pages: Page[] = [];
  // Screws of an assembly are driven with it on the mat: they have a page of their own, seen as it lies there.
  const groups = new Map<string, Fastener[]>();
  for (const f of model.anatomy.fasteners) {
    const key = `${model.contextOf(f.id) ?? ''}|${f.face === 'edge' ? 'front' : f.face}`;
    groups.set(key, [...(groups.get(key) ?? []), f]);
  }
  for (const [key, here] of [...groups].sort(
    ([p], [q]) => Number(p[0] !== '|') - Number(q[0] !== '|') || q.localeCompare(p),
  )) {
    const [assembly, face] = key.split('|') as [string, 'front' | 'back'];
    const side =
      assembly === ''
        ? face
        : `${model.nameOf(assembly)}, ${face === model.parts.get(assembly)!.face ? 'outside' : 'inside'}`;
    for (let row = 0; row < rows; row++)
      for (let column = 0; column < columns; column++) {
        const name =
          `${model.anatomy.maker} ${model.anatomy.name}, ` +
          `${side}${columns * rows > 1 ? `, tile ${row + 1}.${column + 1} of ${rows}.${columns}` : ''}`;
        const left = columns === 1 ? MARGIN + (room.width - body.width) / 2 : MARGIN - column * (room.width - OVERLAP);
        const top = rows === 1 ? MARGIN + HEADING : MARGIN + HEADING - row * (room.height - OVERLAP);
        const at = (x: number, y: number): [number, number] => [left + (face === 'back' ? body.width - x : x), top + y];
        const inside = ([x, y]: [number, number]) =>
          x >= MARGIN - 0.01 &&
          x <= MARGIN + room.width + 0.01 &&
          y >= MARGIN + HEADING - 0.01 &&
          y <= MARGIN + HEADING + room.height + 0.01;
        const marks: Mark[] = [
          words(MARGIN, MARGIN + 5, 4.2, name, 'start', true),
          words(
            MARGIN,
            MARGIN + 10,
            2.8,
            `Screw map at 1:1${face === 'back' ? ', mirrored as seen from the back' : ''}. ` +
              `Letters are classes: same letter, same screw. Print at 100 %.`,
          ),
          line(MARGIN, MARGIN + 17, MARGIN + CHECK_BAR, MARGIN + 17, 0.4),
          line(MARGIN, MARGIN + 15.5, MARGIN, MARGIN + 18.5, 0.3),
          line(MARGIN + CHECK_BAR, MARGIN + 15.5, MARGIN + CHECK_BAR, MARGIN + 18.5, 0.3),
          words(
            MARGIN + CHECK_BAR + 3,
            MARGIN + 18,
            2.8,
            `this bar measures ${CHECK_BAR} mm, or the print is not to scale`,
          ),
        ];
        const outline = ringOf({ rect: [0, 0, body.width, body.height], radius: body.cornerRadius }).map(([x, y]) =>
          at(x, y),
        );
        marks.push(
          ...clipped([...outline, outline[0]!], {
            x0: MARGIN,
            y0: MARGIN + HEADING,
            x1: MARGIN + room.width,
            y1: MARGIN + HEADING + room.height,
          }),
        );
        if (columns * rows > 1)
          for (const [x, y] of crosses(columns, rows, room)) {
            const [px, py] = [left + x, top + y];
            if (inside([px, py]))
              marks.push(line(px - 3, py, px + 3, py), line(px, py - 3, px, py + 3), circle(px, py, 1.5));
          }
        for (const f of here) {
          const [x, y] = at(...f.at);
          if (!inside([x, y])) continue;
          marks.push(circle(x, y, f.head / 2, 0.15), {
            type: 'path',
            d: recessPath(f.drive),
            x,
            y,
            scale: f.head / 2,
            fill: true,
            width: 0,
          });
          marks.push(
            words(x + f.head / 2 + 0.5, y + 0.2, 2.6, letters.get(f.id)!, 'start', true),
            words(
              x + f.head / 2 + 0.5,
              y + 2.4,
              1.9,
              `${f.length}${wells?.get(f.id) && wells.get(f.id) !== f.id ? ` ${wells.get(f.id)}` : ''}`,
            ),
          );
        }
        pages.push({ title: name, marks });
      }
  }
  return { paper: page, pages };
}

/** Where neighbouring tiles share a cross, mm from the device's top left. */
function crosses(columns: number, rows: number, room: { width: number; height: number }): [number, number][] {
  const found: [number, number][] = [];
  for (let c = 1; c < columns; c++)
    for (const y of [8, room.height / 2])
      for (let r = 0; r < rows; r++)
        found.push([c * (room.width - OVERLAP) + OVERLAP / 2, r * (room.height - OVERLAP) + y]);
  for (let r = 1; r < rows; r++)
    for (const x of [8, room.width / 2])
      for (let c = 0; c < columns; c++)
        found.push([c * (room.width - OVERLAP) + x, r * (room.height - OVERLAP) + OVERLAP / 2]);
  return found;
}

/** The pieces of a line within a box (Liang and Barsky 1984, from memory). */
function clipped(points: readonly [number, number][], box: { x0: number; y0: number; x1: number; y1: number }): Mark[] {
  const marks: Mark[] = [];
  for (let i = 0; i + 1 < points.length; i++) {
    const [[ax, ay], [bx, by]] = [points[i]!, points[i + 1]!];
    const [dx, dy] = [bx - ax, by - ay];
    let [from, to] = [0, 1];
    for (const [p, q] of [
      [-dx, ax - box.x0],
      [dx, box.x1 - ax],
      [-dy, ay - box.y0],
      [dy, box.y1 - ay],
    ] as const) {
      if (p === 0) {
        if (q < 0) to = -1;
      } else if (p < 0) from = Math.max(from, q / p);
      else to = Math.min(to, q / p);
    }
    if (from < to) marks.push(line(ax + from * dx, ay + from * dy, ax + to * dx, ay + to * dy, 0.35));
  }
  return marks;
}
