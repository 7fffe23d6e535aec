import bwipjs from 'bwip-js/node';
import PDFDocument from 'pdfkit';
import { Fonts } from './fonts.ts';

/** A label: what lies in the bag or the box, and a code that finds its job again. */
export interface Label {
  kind: 'bag' | 'parts';
  number: number;
  /** What the code says. */
  link: string;
  device: string;
  lines: readonly string[];
  shop: string;
}

/** mm to points (1 in = 25.4 mm = 72 pt). */
const pt = (mm: number): number => (mm * 72) / 25.4;
/** A roll of labels that every label printer has. Origin: common practice. */
const SIZE = { width: pt(62), height: pt(38) } as const;
const MARGIN = pt(3);

/** One label as a PDF of its own size. It names no customer: a bag on a shelf is seen by many. */
export async function labelPdf({ kind, number, link, device, lines, shop }: Label): Promise<Buffer> {
  const doc = new PDFDocument({ size: [SIZE.width, SIZE.height], margin: MARGIN, info: { Title: `Label ${number}` } });
  const chunks: Buffer[] = [];
  const ended = new Promise<Buffer>((resolve) => {
    doc.on('data', (chunk: Buffer) => chunks.push(chunk));
    doc.on('end', () => resolve(Buffer.concat(chunks)));
  });
  const fonts = new Fonts(doc);
  const code = (await bwipjs.toBuffer({ bcid: 'qrcode', text: link, scale: 6 })) as unknown as Buffer;
  const side = pt(20);
  doc.image(code, SIZE.width - MARGIN - side, MARGIN, { width: side, height: side });
  const width = SIZE.width - 3 * MARGIN - side;
  doc.font('bold').fontSize(17).fillColor('#1f2a2c');
  fonts.write(String(number), 'bold', MARGIN, MARGIN, { width, lineBreak: false });
  doc.fontSize(8.5);
  fonts.write(device, 'bold', MARGIN, MARGIN + 21, { width, height: 22, ellipsis: true });
  const words = kind === 'parts' ? ['Old parts', ...lines] : lines;
  doc.fontSize(8);
  let y = MARGIN + 46;
  for (const line of words.slice(0, 4)) {
    fonts.write(line.length > 60 ? `${line.slice(0, 59)}…` : line, 'sans', MARGIN, y, {
      width: SIZE.width - 2 * MARGIN,
      height: 20,
    });
    y += fonts.heightOf(line.slice(0, 60), 'sans', SIZE.width - 2 * MARGIN) + 1;
    if (y > SIZE.height - MARGIN - 18) break;
  }
  doc.fontSize(6.5).fillColor('#59666a');
  doc.page.margins.bottom = 0;
  fonts.write(shop, 'sans', MARGIN, SIZE.height - MARGIN - 8, { width: SIZE.width - 2 * MARGIN, lineBreak: false });
  doc.end();
  return ended;
}
