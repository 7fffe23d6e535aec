import { boundsOf, ringOf, type Model, type Outline, type Point } from '../anatomy/index.ts';
import { CHECK_BAR, PAPERS, type Mark, type Page, type Paper, type Sheet } from '../paper/index.ts';
import type { Strip, StripPlan } from './strips.ts';

/** Own choices, mm: the white rim of the paper, the heading, and what neighbouring tiles share. */
const RIM = 12;
const HEADING = 30;
const OVERLAP = 20;

const n = (v: number) => Number(v.toFixed(3));
const path = (points: readonly Point[], closed: boolean): string =>
  `M${points.map(([x, y]) => `${n(x)} ${n(y)}`).join('L')}${closed ? 'Z' : ''}`;

/** The rim of a strip: its line moved half its width to either side, with its ends as they are cut. */
export function rimOf({ line, width, angles }: Strip): Point[] {
  const side = (sign: 1 | -1): Point[] =>
    line.map((p, i): Point => {
      const unit = (a: Point, b: Point): Point => {
        const l = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1;
        return [(b[0] - a[0]) / l, (b[1] - a[1]) / l];
      };
      const d1 = i > 0 ? unit(line[i - 1]!, p) : unit(p, line[1] ?? p);
      const d2 = i < line.length - 1 ? unit(p, line[i + 1]!) : d1;
      const normal: Point = [-(d1[1] + d2[1]) / 2, (d1[0] + d2[0]) / 2];
      const l2 = Math.max(0.2, normal[0] ** 2 + normal[1] ** 2);
      // A mitre makes one side of an end longer than the other.
      const cut = i === 0 ? -angles[0] : i === line.length - 1 ? angles[1] : 0;
      const along = sign * (width / 2) * Math.tan((cut * Math.PI) / 180);
      const [tx, ty] = i === 0 ? d2 : d1;
      return [
        p[0] + (sign * width * normal[0]) / (2 * l2) + along * tx,
        p[1] + (sign * width * normal[1]) / (2 * l2) + along * ty,
      ];
    });
  return [...side(1), ...side(-1).reverse()];
}

/**
 * A template at 1:1 to lay under tape: the outline, every strip with its number, what stays free, where strips meet, and a
 * bar to check the print. A device larger than the paper is tiled, with crosses to lay the tiles by.
 */
export function cutSheet(model: Model, plan: StripPlan, paper: Paper = 'A4', outline?: Outline): Sheet {
  const page = PAPERS[paper];
  const { body } = model.anatomy;
  const drawn: Outline = outline ?? { rect: [0, 0, body.width, body.height], radius: body.cornerRadius };
  const [x0, y0, w, h] = boundsOf(drawn);
  const room = { width: page.width - 2 * RIM, height: page.height - 2 * RIM - HEADING };
  // A wide device lies across a tall paper where that saves a tile.
  const tilesOf = (length: number, fits: number) =>
    length <= fits ? 1 : Math.ceil((length - OVERLAP) / (fits - OVERLAP));
  const [columns, rows] = [tilesOf(w, room.width), tilesOf(h, room.height)];
  const pages: Page[] = [];
  for (let row = 0; row < rows; row++)
    for (let column = 0; column < columns; column++) {
      const left = columns === 1 ? RIM + (room.width - w) / 2 : RIM - column * (room.width - OVERLAP);
      const top = rows === 1 ? RIM + HEADING : RIM + HEADING - row * (room.height - OVERLAP);
      pages.push(pageOf(model, plan, drawn, { left: left - x0, top: top - y0 }, { row, column, rows, columns }, page));
    }
  return { paper: page, pages };
}

function pageOf(
  model: Model,
  plan: StripPlan,
  outline: Outline,
  { left, top }: { left: number; top: number },
  tile: { row: number; column: number; rows: number; columns: number },
  page: { width: number; height: number },
): Page {
  const text = (
    x: number,
    y: number,
    size: number,
    words: string,
    anchor: 'start' | 'middle' = 'start',
    bold = false,
  ): Mark => ({ type: 'text', x, y, size, text: words, anchor, bold });
  const line = (d: string, x: number, y: number, width: number): Mark => ({
    type: 'path',
    d,
    x,
    y,
    scale: 1,
    fill: false,
    width,
  });
  const name = `${model.anatomy.maker} ${model.anatomy.name}, ${plan.bond}`;
  const tiles =
    tile.rows * tile.columns > 1 ? `, tile ${tile.row + 1}.${tile.column + 1} of ${tile.rows}.${tile.columns}` : '';
  const total = plan.strips.reduce((s, p) => s + p.length, 0);
  const marks: Mark[] = [
    text(RIM, RIM + 5, 4.2, `${name}${tiles}`, 'start', true),
    text(
      RIM,
      RIM + 10,
      2.8,
      `Strips at 1:1, ${plan.strips.length} pieces, ${Math.round(total)} mm of tape. Lay it under the sheet. Print at 100 %.`,
    ),
    line(`M0 0H${CHECK_BAR}`, RIM, RIM + 17, 0.4),
    line('M0 -1.5V1.5', RIM, RIM + 17, 0.3),
    line('M0 -1.5V1.5', RIM + CHECK_BAR, RIM + 17, 0.3),
    text(RIM + CHECK_BAR + 3, RIM + 18, 2.8, `this bar measures ${CHECK_BAR} mm, or the print is not to scale`),
    text(RIM, RIM + 23, 2.5, plan.notes.slice(0, 1).join(' ').slice(0, 130)),
    line(path(ringOf(outline) as Point[], true), left, top, 0.15),
  ];
  for (const zone of plan.zones.filter((z) => plan.free.some((f) => f.part === z.part)))
    marks.push(
      line(path(ringOf(zone.outline) as Point[], true), left, top, 0.15),
      ...hatch(zone.outline, left, top, line),
    );
  for (const strip of plan.strips) {
    marks.push(line(path(rimOf(strip), true), left, top, 0.2));
    const [mx, my] = strip.line[Math.floor(strip.line.length / 2)]!;
    const [cx, cy] = middleOf(outline);
    // The number stands inside the ring, where no tape lies.
    const d = Math.hypot(cx - mx, cy - my) || 1;
    const off = strip.width / 2 + 4;
    marks.push(
      text(left + mx + ((cx - mx) / d) * off, top + my + ((cy - my) / d) * off + 1, 3, `${strip.n}`, 'middle', true),
    );
  }
  for (const [x, y] of plan.joints) marks.push(line('M-2 0H2M0 -2V2', left + x, top + y, 0.15));
  if (tiles !== '')
    for (const [x, y] of crossesOf(outline, page)) marks.push(line('M-3 0H3M0 -3V3', left + x, top + y, 0.2));
  return { title: `Strips, ${name}${tiles}`, marks };
}

const middleOf = (outline: Outline): Point => {
  const [x, y, w, h] = boundsOf(outline);
  return [x + w / 2, y + h / 2];
};

/** Lines across a zone, so that it is seen to stay free. */
function hatch(
  outline: Outline,
  left: number,
  top: number,
  line: (d: string, x: number, y: number, width: number) => Mark,
): Mark[] {
  const [x, y, w, h] = boundsOf(outline);
  const marks: Mark[] = [];
  for (let at = 1.5; at < w; at += 1.5) marks.push(line(`M${n(x + at)} ${n(y)}V${n(y + h)}`, left, top, 0.08));
  return marks;
}

/** Where neighbouring tiles share a cross. */
function crossesOf(outline: Outline, page: { width: number; height: number }): Point[] {
  const [x, y, w, h] = boundsOf(outline);
  const room = { width: page.width - 2 * RIM, height: page.height - 2 * RIM - HEADING };
  const found: Point[] = [];
  for (let c = room.width - OVERLAP / 2; c < w; c += room.width - OVERLAP)
    for (const share of [0.3, 0.7]) found.push([x + c, y + share * Math.min(h, room.height)]);
  for (let r = room.height - OVERLAP / 2; r < h; r += room.height - OVERLAP)
    for (const share of [0.3, 0.7]) found.push([x + share * Math.min(w, room.width), y + r]);
  return found;
}
