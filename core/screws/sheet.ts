import { ringOf, type Fastener, type Model } from '../anatomy/index.ts';
import {
  checkBar,
  clippedLine,
  crossMarks,
  isInside,
  PAPERS,
  tileName,
  tilingOf,
  wordsMark,
  type Mark,
  type Page,
  type Paper,
  type Sheet,
} from '../paper/index.ts';
import { classesOf } from './classes.ts';
import { recessPath } from './glyph.ts';
import type { Wells } from './wells.ts';

/** Own choices: what most printers leave white, what neighbouring tiles share, and the room for the heading. */
const MARGIN = 10;
const OVERLAP = 10;
const HEADING = 26;

const circle = (x: number, y: number, r: number, width = 0.2): Mark => ({
  type: 'path',
  d: 'M1 0A1 1 0 1 1-1 0A1 1 0 1 1 1 0Z',
  x,
  y,
  scale: r,
  fill: false,
  width,
});
/**
 * The screw map at 1:1: outline, holes with the symbol of their drive, length and class letter, both faces. The
 * back is mirrored, as it lies before the technician. A device larger than the paper is tiled, with crosses to
 * lay the tiles by.
 */
export function screwMap(model: Model, paper: Paper, wells?: Wells): Sheet {
  const page = PAPERS[paper];
  const { body } = model.anatomy;
  const tiling = tilingOf(page, body, { margin: MARGIN, heading: HEADING, overlap: OVERLAP });
  const letters = new Map(classesOf(model).flatMap((c) => c.fasteners.map((id) => [id, c.letter] as const)));
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
    for (const tile of tiling.tiles) {
      const name = `${model.anatomy.maker} ${model.anatomy.name}, ${side}${tileName(tiling, tile)}`;
      const { left, top } = tile;
      const at = (x: number, y: number): [number, number] => [left + (face === 'back' ? body.width - x : x), top + y];
      const marks: Mark[] = [
        wordsMark(MARGIN, MARGIN + 5, 4.2, name, 'start', true),
        wordsMark(
          MARGIN,
          MARGIN + 10,
          2.8,
          `Screw map at 1:1${face === 'back' ? ', mirrored as seen from the back' : ''}. ` +
            `Letters are classes: same letter, same screw. Print at 100 %.`,
        ),
        ...checkBar(MARGIN, MARGIN + 17),
      ];
      const outline = ringOf({ rect: [0, 0, body.width, body.height], radius: body.cornerRadius }).map(([x, y]) =>
        at(x, y),
      );
      marks.push(...clippedLine([...outline, outline[0]!], tiling.box, 0.35), ...crossMarks(tiling, tile));
      for (const f of here) {
        const [x, y] = at(...f.at);
        if (!isInside(tiling.box, [x, y])) continue;
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
          wordsMark(x + f.head / 2 + 0.5, y + 0.2, 2.6, letters.get(f.id)!, 'start', true),
          wordsMark(
            x + f.head / 2 + 0.5,
            y + 2.4,
            1.9,
            `${f.length ?? '?'}${wells?.get(f.id) && wells.get(f.id) !== f.id ? ` ${wells.get(f.id)}` : ''}`,
          ),
        );
      }
      pages.push({ title: name, marks });
    }
  }
  return { paper: page, pages };
}
