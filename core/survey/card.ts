import type { Point } from '../anatomy/index.ts';
import { CHECK_BAR, PAPERS, type Mark, type Paper, type Sheet } from '../paper/index.ts';
import type { Body2 } from './survey.ts';

/** How far the marks lie beside the body, mm. Origin: own choice; a finger's room, and still on the sheet. */
const BESIDE = 12;

/**
 * Where the marks of the printed sheet lie, mm of the body that is laid in its outline: four corners, and two at half
 * height that tell how well the others were tapped.
 */
export function cardMarks({ width, height }: Body2): { name: string; mm: Point }[] {
  const [l, r, t, b] = [-BESIDE, width + BESIDE, -BESIDE, height + BESIDE];
  return [
    { name: 'A', mm: [l, t] },
    { name: 'B', mm: [r, t] },
    { name: 'C', mm: [r, b] },
    { name: 'D', mm: [l, b] },
    { name: 'E', mm: [l, height / 2] },
    { name: 'F', mm: [r, height / 2] },
  ];
}

/** A sheet at 1:1 with the outline of the body and marks beside it: the device is laid into the outline and photographed. */
export function scaleCard(body: Body2, paper: Paper = 'A4'): Sheet {
  const page = PAPERS[paper];
  const [x, y] = [(page.width - body.width) / 2, (page.height - body.height) / 2 + 4];
  const path = (d: string, at: Point, width: number, fill = false): Mark => ({
    type: 'path',
    d,
    x: at[0],
    y: at[1],
    scale: 1,
    fill,
    width,
  });
  const words = (at: Point, size: number, text: string, bold = false): Mark => ({
    type: 'text',
    x: at[0],
    y: at[1],
    size,
    text,
    anchor: 'start',
    bold,
  });
  const marks: Mark[] = [
    words([12, 10], 4, `Scale sheet for a body of ${body.width} × ${body.height} mm. Print at 100 %.`, true),
    path(`M0 0H${CHECK_BAR}`, [12, 15], 0.4),
    words([12 + CHECK_BAR + 3, 16], 3, `this bar measures ${CHECK_BAR} mm, or the print is not to scale`),
    path(`M0 0H${body.width}V${body.height}H0Z`, [x, y], 0.25),
  ];
  for (const { name, mm } of cardMarks(body)) {
    const at: Point = [x + mm[0], y + mm[1]];
    marks.push(
      // A chequer of two squares: its middle is seen to a tenth of a millimetre at any tilt.
      path('M-3 -3H0V3H3V0H-3Z', at, 0.1, true),
      words([at[0] + 3.6, at[1] - 1.2], 3.4, name, true),
    );
  }
  return { paper: page, pages: [{ title: 'Scale sheet', marks }] };
}
