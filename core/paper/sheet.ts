/** Paper sizes, mm (ISO 216; ANSI/ASME Y14.1, from memory). */
export const PAPERS = { A4: { width: 210, height: 297 }, Letter: { width: 215.9, height: 279.4 } } as const;
export type Paper = keyof typeof PAPERS;

/** The bar by which a print is checked, mm. */
export const CHECK_BAR = 50;

/** One thing drawn on a page, mm from its top left. */
export type Mark =
  | { type: 'path'; d: string; x: number; y: number; scale: number; fill: boolean; width: number; dash?: boolean }
  | {
      type: 'text';
      x: number;
      y: number;
      size: number;
      text: string;
      anchor: 'start' | 'middle' | 'end';
      bold?: boolean;
    };

export interface Page {
  title: string;
  marks: Mark[];
}

export interface Sheet {
  paper: { width: number; height: number };
  pages: Page[];
}

const escaped = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!);

const n = (v: number) => Number(v.toFixed(3));

const drawn = (m: Mark): string =>
  m.type === 'text'
    ? `<text x="${n(m.x)}" y="${n(m.y)}" font-size="${m.size}" ` +
      `text-anchor="${m.anchor}"${m.bold ? ' font-weight="bold"' : ''}>${escaped(m.text)}</text>`
    : `<path d="${m.d}" transform="translate(${n(m.x)} ${n(m.y)}) scale(${n(m.scale)})" ` +
      `${m.fill ? 'fill="#000" fill-rule="evenodd"' : `fill="none" stroke="#000" stroke-width="${n(m.width / m.scale)}"`}/>`;

const svg = (width: number, height: number, inner: string): string =>
  `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="0 ` +
  `0 ${width} ${height}" font-family="sans-serif">${inner}\n</svg>\n`;

const inside = ({ title, marks }: Page): string => `<title>${escaped(title)}</title>\n${marks.map(drawn).join('\n')}`;

/** One page as SVG in millimetres, 1:1 when printed at 100 %. */
export const pageSvg = ({ paper }: Sheet, page: Page): string => svg(paper.width, paper.height, inside(page));

/** All pages of a sheet as one SVG, one under the other, each in a group that is named as it is. */
export function sheetSvg(sheet: Sheet): string {
  const { paper, pages } = sheet;
  if (pages.length === 1) return pageSvg(sheet, pages[0]!);
  const groups = pages.map((page, i) => `<g transform="translate(0 ${n(i * paper.height)})">${inside(page)}\n</g>`);
  return svg(paper.width, n(pages.length * paper.height), `\n${groups.join('\n')}`);
}
