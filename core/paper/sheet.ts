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

/** One page as SVG in millimetres, 1:1 when printed at 100 %. */
export function pageSvg({ paper }: Sheet, page: Page): string {
  const n = (v: number) => Number(v.toFixed(3));
  const marks = page.marks.map((m) =>
    m.type === 'text'
      ? `<text x="${n(m.x)}" y="${n(m.y)}" font-size="${m.size}" ` +
        `text-anchor="${m.anchor}"${m.bold ? ' font-weight="bold"' : ''}>${escaped(m.text)}</text>`
      : `<path d="${m.d}" transform="translate(${n(m.x)} ${n(m.y)}) scale(${n(m.scale)})" ` +
        `${m.fill ? 'fill="#000" fill-rule="evenodd"' : `fill="none" stroke="#000" stroke-width="${n(m.width / m.scale)}"`}/>`,
  );
  return (
    `<svg xmlns="http://www.w3.org/2000/svg" width="${paper.width}mm" height="${paper.height}mm" viewBox="0 ` +
    `0 ${paper.width} ${paper.height}" font-family="sans-serif"><title>${escaped(page.title)}</title>\n${marks.join('\n')}\n</svg>\n`
  );
}
