import PDFDocument from 'pdfkit';
import { Fonts } from './record/fonts.ts';
import type { Sheet } from '../core/paper/index.ts';

const POINTS_PER_MM = 72 / 25.4;

/** A sheet in millimetres as PDF, 1:1 when printed at 100 %. */
export function sheetPdf({ paper, pages }: Sheet): Promise<Uint8Array<ArrayBuffer>> {
  const doc = new PDFDocument({
    size: [paper.width * POINTS_PER_MM, paper.height * POINTS_PER_MM],
    margin: 0,
    autoFirstPage: false,
    info: { Title: pages[0]?.title ?? 'Nibrel' },
  });
  const fonts = new Fonts(doc);
  const chunks: Buffer[] = [];
  doc.on('data', (chunk: Buffer) => chunks.push(chunk));
  const ended = new Promise<Uint8Array<ArrayBuffer>>((resolve) =>
    doc.on('end', () => resolve(new Uint8Array(Buffer.concat(chunks)))),
  );
  for (const page of pages) {
    doc.addPage();
    doc.scale(POINTS_PER_MM);
    for (const mark of page.marks) {
      if (mark.type === 'text') {
        const face = mark.bold ? 'bold' : 'sans';
        doc.font(face).fontSize(mark.size).fillColor('black');
        const width = fonts.widthOf(mark.text, face);
        const x = mark.x - (mark.anchor === 'middle' ? width / 2 : mark.anchor === 'end' ? width : 0);
        fonts.write(mark.text, face, x, mark.y, { lineBreak: false, baseline: 'alphabetic' });
      } else {
        doc.save().translate(mark.x, mark.y).scale(mark.scale).path(mark.d);
        if (mark.fill) doc.fill('black', 'even-odd');
        else doc.lineWidth(mark.width / mark.scale).stroke('black');
        doc.restore();
      }
    }
  }
  doc.end();
  return ended;
}
