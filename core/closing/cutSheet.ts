import { boundsOf, centreOf, ringOf, type Model, type Outline, type Point } from '../anatomy/index.ts';
import {
  checkBar,
  clippedLine,
  crossMarks,
  isInside,
  PAPERS,
  pathMark,
  tileName,
  tilingOf,
  wordsMark,
  type Mark,
  type Paper,
  type Sheet,
  type Tile,
  type Tiling,
} from '../paper/index.ts';
import { direction } from './offset.ts';
import type { StripPlan } from './strips.ts';
import { rimOf } from './tape.ts';

/** Own choices, mm: the white rim of the paper, the heading, and what neighbouring tiles share. */
const FRAME = { margin: 12, heading: 30, overlap: 20 } as const;
/** mm between two lines of a hatching. Own choice. */
const HATCH = 1.5;

/**
 * A template at 1:1 to lay under tape: the outline, every strip with its number, what stays free, where strips meet, and a
 * bar to check the print. A device larger than the paper is tiled, with crosses to lay the tiles by.
 *
 * @param note what stands under the heading, told already
 */
export function cutSheet(model: Model, plan: StripPlan, paper: Paper = 'A4', outline?: Outline, note = ''): Sheet {
  const page = PAPERS[paper];
  const { body } = model.anatomy;
  const drawn: Outline = outline ?? { rect: [0, 0, body.width, body.height], radius: body.cornerRadius };
  const [x, y, width, height] = boundsOf(drawn);
  const tiling = tilingOf(page, { width, height }, FRAME);
  const pages = tiling.tiles.map((tile) => {
    const name = `${model.anatomy.maker} ${model.anatomy.name}, ${model.nameOf(plan.bond)}${tileName(tiling, tile)}`;
    const at = ([px, py]: Point): Point => [tile.left + px - x, tile.top + py - y];
    return {
      title: `Strips, ${name}`,
      marks: [...headingOf(name, plan, note), ...drawnOn(plan, drawn, at, tiling, tile)],
    };
  });
  return { paper: page, pages };
}

function headingOf(name: string, { strips }: StripPlan, note: string): Mark[] {
  const { margin } = FRAME;
  const total = Math.round(strips.reduce((s, p) => s + p.length, 0));
  return [
    wordsMark(margin, margin + 5, 4.2, name, 'start', true),
    wordsMark(
      margin,
      margin + 10,
      2.8,
      `Strips at 1:1, ${strips.length} pieces, ${total} mm of tape. Lay it under the sheet. Print at 100 %.`,
    ),
    ...checkBar(margin, margin + 17),
    wordsMark(margin, margin + 23, 2.5, note.slice(0, 130)),
  ];
}

/** What of a plan is seen on one tile; nothing is drawn over its heading or its rim. */
function drawnOn(plan: StripPlan, outline: Outline, at: (p: Point) => Point, tiling: Tiling, tile: Tile): Mark[] {
  const { box } = tiling;
  const ring = (points: readonly Point[], width: number) => clippedLine([...points, points[0]!].map(at), box, width);
  const marks = ring(ringOf(outline) as Point[], 0.15);
  const free = plan.zones.filter((z) => plan.free.some((f) => f.part === z.part));
  for (const zone of free) {
    marks.push(...ring(ringOf(zone.outline) as Point[], 0.15));
    const [zx, zy, w, h] = boundsOf(zone.outline);
    for (let across = HATCH; across < w; across += HATCH)
      marks.push(...clippedLine([at([zx + across, zy]), at([zx + across, zy + h])], box, 0.08));
  }
  const middle = centreOf(outline);
  for (const strip of plan.strips) {
    marks.push(...ring(rimOf(strip), 0.2));
    // The number stands inside the ring, where no tape lies.
    const on = strip.line[Math.floor(strip.line.length / 2)]!;
    const [dx, dy] = direction(on, middle);
    const off = strip.width / 2 + 4;
    const place = at([on[0] + dx * off, on[1] + dy * off + 1]);
    if (isInside(box, place)) marks.push(wordsMark(...place, 3, `${strip.n}`, 'middle', true));
  }
  for (const joint of plan.joints.map(at))
    if (isInside(box, joint)) marks.push(pathMark('M-2 0H2M0 -2V2', ...joint, 0.15));
  return [...marks, ...crossMarks(tiling, tile)];
}
