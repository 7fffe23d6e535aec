import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';

const require = createRequire(import.meta.url);
const file = (family: string, subset: string, weight: number): string =>
  join(
    dirname(require.resolve(`@fontsource/${family}/package.json`)),
    'files',
    `${family}-${subset}-${weight}-normal.woff`,
  );

export type Face = 'sans' | 'bold' | 'mono';

const SUBSETS = ['latin-ext', 'vietnamese', 'greek', 'greek-ext', 'cyrillic', 'cyrillic-ext'];

/** Each face, and behind it those that hold what it lacks: Latin with its extensions, Greek and Cyrillic. */
const FILES: Record<Face, string[]> = {
  sans: [
    file('atkinson-hyperlegible-next', 'latin', 400),
    file('atkinson-hyperlegible-next', 'latin-ext', 400),
    ...SUBSETS.map((subset) => file('noto-sans', subset, 400)),
  ],
  bold: [
    file('atkinson-hyperlegible-next', 'latin', 700),
    file('atkinson-hyperlegible-next', 'latin-ext', 700),
    ...SUBSETS.map((subset) => file('noto-sans', subset, 700)),
  ],
  mono: [file('atkinson-hyperlegible-mono', 'latin', 400), ...SUBSETS.map((subset) => file('noto-sans', subset, 400))],
};

/** What stands where no font has a sign. */
const LACKING = '?';

interface Run {
  font: string;
  text: string;
}

/** The fonts of one document, and which signs none of them held. */
export class Fonts {
  /** Signs that had to be left out, to be said. */
  readonly lacking = new Set<string>();
  private readonly holders = new Map<string, string | null>();

  constructor(private readonly doc: PDFKit.PDFDocument) {
    for (const [face, files] of Object.entries(FILES)) {
      files.forEach((path, i) => doc.registerFont(i === 0 ? face : `${face}-${i}`, path));
    }
  }

  private holds(font: string, sign: string): boolean {
    this.doc.font(font);
    const { font: read } = (this.doc as unknown as { _font: { font: { hasGlyphForCodePoint(cp: number): boolean } } })
      ._font;
    return read.hasGlyphForCodePoint(sign.codePointAt(0)!);
  }

  /** The first font of a face that has a sign. */
  private holderOf(face: Face, sign: string): string | null {
    const key = `${face} ${sign}`;
    const known = this.holders.get(key);
    if (known !== undefined) return known;
    const names = FILES[face].map((_, i) => (i === 0 ? face : `${face}-${i}`));
    const found = /\s/.test(sign) ? face : (names.find((name) => this.holds(name, sign)) ?? null);
    this.holders.set(key, found);
    return found;
  }

  /** A text in pieces that one font each can write. */
  private runs(text: string, face: Face): Run[] {
    const runs: Run[] = [];
    for (const sign of text.normalize('NFC')) {
      const holder = this.holderOf(face, sign);
      if (holder === null) this.lacking.add(sign);
      const font = holder ?? face;
      const last = runs.at(-1);
      if (last?.font === font) last.text += holder === null ? LACKING : sign;
      else runs.push({ font, text: holder === null ? LACKING : sign });
    }
    return runs;
  }

  /** Writes a text as `doc.text` does, each piece in the font that holds it. */
  write(text: string, face: Face, x: number, y: number, options: PDFKit.Mixins.TextOptions = {}): void {
    const runs = this.runs(text, face);
    if (runs.length === 0) return;
    runs.forEach(({ font, text: piece }, i) => {
      const more = { ...options, continued: i < runs.length - 1 };
      this.doc.font(font);
      if (i === 0) this.doc.text(piece, x, y, more);
      else this.doc.text(piece, more);
    });
    this.doc.font(face);
  }

  widthOf(text: string, face: Face): number {
    return this.runs(text, face).reduce(
      (sum, { font, text: piece }) => sum + this.doc.font(font).widthOfString(piece),
      0,
    );
  }

  /** Height of a text set in a width; pieces of several fonts take the tallest line. */
  heightOf(text: string, face: Face, width: number): number {
    const runs = this.runs(text, face);
    const whole = this.doc.font(face).heightOfString(text, { width });
    const lines = Math.max(1, Math.ceil(this.widthOf(text, face) / width));
    const tallest = Math.max(...runs.map(({ font }) => this.doc.font(font).currentLineHeight(true)), 0);
    this.doc.font(face);
    return runs.length > 1 ? Math.max(whole, lines * tallest) : whole;
  }

  /** What could not be written, in words; `null` when all of it could. */
  said(): string | null {
    if (this.lacking.size === 0) return null;
    const codes = [...this.lacking].map((s) => `U+${s.codePointAt(0)!.toString(16).toUpperCase().padStart(4, '0')}`);
    return `Signs that no font of this document holds stand as "${LACKING}": ${codes.join(', ')}.`;
  }
}
