import type { Point } from '../anatomy/index.ts';
import { checkBar, PAPERS, pathMark, wordsMark, type Mark, type Paper, type Sheet } from '../paper/index.ts';
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
  const marks: Mark[] = [
    wordsMark(12, 10, 4, `Scale sheet for a body of ${body.width} × ${body.height} mm. Print at 100 %.`, 'start', true),
    ...checkBar(12, 15, 3),
    pathMark(`M0 0H${body.width}V${body.height}H0Z`, x, y, 0.25),
  ];
  for (const { name, mm } of cardMarks(body)) {
    const at: Point = [x + mm[0], y + mm[1]];
    marks.push(
      // A chequer of two squares: its middle is seen to a tenth of a millimetre at any tilt.
      pathMark('M-3 -3H0V3H3V0H-3Z', ...at, 0.1, true),
      wordsMark(at[0] + 3.6, at[1] - 1.2, 3.4, name, 'start', true),
    );
  }
  return { paper: page, pages: [{ title: 'Scale sheet', marks }] };
}
