import { CHECK_BAR, type Mark } from './sheet.ts';

/** A line, or a filled shape, by the `d` of a path in mm from its place. */
export const pathMark = (d: string, x: number, y: number, width: number, fill = false): Mark => ({
  type: 'path',
  d,
  x,
  y,
  scale: 1,
  fill,
  width,
});

/** Words on a page; `size` in mm. */
export const wordsMark = (
  x: number,
  y: number,
  size: number,
  text: string,
  anchor: 'start' | 'middle' | 'end' = 'start',
  bold = false,
): Mark => ({ type: 'text', x, y, size, text, anchor, bold });

/** The bar by which a print is checked, with its ends and what it says. */
export const checkBar = (x: number, y: number, size = 2.8): Mark[] => [
  pathMark(`M0 0H${CHECK_BAR}`, x, y, 0.4),
  pathMark('M0 -1.5V1.5', x, y, 0.3),
  pathMark('M0 -1.5V1.5', x + CHECK_BAR, y, 0.3),
  wordsMark(x + CHECK_BAR + 3, y + 1, size, `this bar measures ${CHECK_BAR} mm, or the print is not to scale`),
];
