import { describe, expect, it } from 'vitest';
import { CHECK_BAR, pageSvg, PAPERS, type Mark } from './index.ts';

const page = (...marks: Mark[]) => pageSvg({ paper: PAPERS.A4, pages: [] }, { title: 'Map <1> & "more"', marks });

describe('a sheet as SVG', () => {
  it('measures in millimetres: one unit of the drawing is one on paper (ISO 216, from memory)', () => {
    expect(page()).toMatch(/<svg [^>]*width="210mm" height="297mm" viewBox="0 0 210 297"/);
    expect(CHECK_BAR).toBe(50);
  });
  it('keeps a line as wide as it is told, however its path is scaled', () => {
    const svg = page({ type: 'path', d: 'M0 0H10', x: 5, y: 6.12345, scale: 4, fill: false, width: 0.4 });
    expect(svg).toContain(
      '<path d="M0 0H10" transform="translate(5 6.123) scale(4)" fill="none" stroke="#000" stroke-width="0.1"/>',
    );
  });
  it('fills with holes, and sets words where they are told', () => {
    expect(page({ type: 'path', d: 'M0 0H1V1Z', x: 0, y: 0, scale: 1, fill: true, width: 0 })).toContain(
      'fill="#000" fill-rule="evenodd"',
    );
    expect(page({ type: 'text', x: 10, y: 20, size: 3, text: 'A1', anchor: 'middle', bold: true })).toContain(
      '<text x="10" y="20" font-size="3" text-anchor="middle" font-weight="bold">A1</text>',
    );
  });
  it('lets no name break out of its words', () => {
    const svg = page({ type: 'text', x: 0, y: 0, size: 3, text: '</text><script>&"', anchor: 'start' });
    expect(svg).toContain('&lt;/text&gt;&lt;script&gt;&amp;&quot;</text>');
    expect(svg).toContain('<title>Map &lt;1&gt; &amp; &quot;more&quot;</title>');
    expect(svg.match(/<text/g)).toHaveLength(1);
  });
});
