import type { Bond, Connector, Drive, Fastener, Latch, Outline, Part, Point, Rect } from '../core/anatomy/index.ts';
import { newEntry } from '../core/draft/index.ts';
import type { Draw } from './synthetic.ts';

const DRIVES: readonly Drive[] = ['PH000', 'PH00', 'T3', 'T4', 'T5', 'Y000', 'P2', 'IP3'];
const PLUGS = ['press', 'press', 'press', 'flip-lock', 'slide-lock', 'coax', 'clipped'] as const;

/** Where devices of the market are put together, item by item. */
export class Bench {
  readonly parts: Part[] = [];
  readonly fasteners: Fastener[] = [];
  readonly connectors: Connector[] = [];
  readonly bonds: Bond[] = [];
  readonly latches: Latch[] = [];
  readonly functions = new Map<string, boolean>();
  readonly mateOrder: string[][] = [];
  private made = 0;

  constructor(
    readonly draw: Draw,
    /** The side that inner parts are worked from. */
    readonly inner: 'front' | 'back',
  ) {}

  chance(inHundred: number): boolean {
    return this.draw(100) < inHundred;
  }

  /** mm, by tenths. */
  mm(least: number, most: number): number {
    return least + this.draw(Math.max(1, Math.round((most - least) * 10))) / 10;
  }

  oneOf<T>(list: readonly T[]): T {
    return list[this.draw(list.length)]!;
  }

  does(...functions: string[]): string[] {
    for (const f of functions) this.functions.set(f, this.functions.get(f) ?? this.chance(15));
    return functions;
  }

  part(id: string, kind: Part['kind'], layer: number, outline: Rect | Outline, rest: Partial<Part> = {}): Part {
    const made = newEntry.part(id, {
      name: id.replaceAll('-', ' '),
      kind,
      layer,
      face: this.inner,
      outline: Array.isArray(outline) ? { rect: outline } : outline,
      ...rest,
    });
    this.parts.push(made);
    return made;
  }

  screws(held: Part, into: string, at: readonly Point[], rest: Partial<Fastener> = {}): void {
    const drive = this.oneOf(DRIVES);
    const odd = this.chance(30) ? this.oneOf(DRIVES) : drive;
    const usual = this.mm(1.1, 3);
    at.forEach((spot, i) => {
      const length = this.chance(25) ? this.mm(1.1, 4) : usual;
      this.fasteners.push(
        newEntry.fastener(`s${++this.made}`, {
          kind: this.chance(6) ? 'captive' : 'screw',
          drive: i === 0 ? odd : drive,
          length,
          thread: 1.2,
          head: this.mm(1.8, 2.6),
          holds: [held.id],
          into,
          at: [...spot],
          face: held.face,
          holeDepth: length + 0.4,
          fate: this.chance(5) ? 'renew' : 'keep',
          threadlock: this.chance(4),
          magnetic: !this.chance(10),
          ...rest,
        }),
      );
    });
  }

  plug(from: Part, to: Part, at: Point, rest: Partial<Connector> = {}): Connector {
    const made = newEntry.connector(
      `${from.id}-flex${this.connectors.some((c) => c.id === `${from.id}-flex`) ? ++this.made : ''}`,
      {
        name: `${from.id} flex`,
        kind: this.oneOf(PLUGS),
        from: from.id,
        to: to.id,
        at,
        size: [this.mm(3, 7), this.mm(1.5, 2.5)],
        face: this.inner,
        carries: from.functions.slice(0, 2),
        ...rest,
      },
    );
    this.connectors.push(made);
    return made;
  }

  bond(part: Part, to: string, kind: Bond['kind'], at: Bond['at'], rest: Partial<Bond> = {}): Bond {
    const made = newEntry.bond(
      `${part.id}-${kind}${this.bonds.some((b) => b.id === `${part.id}-${kind}`) ? ++this.made : ''}`,
      {
        kind,
        joins: [part.id, to],
        at,
        softensAt: kind === 'gasket' || kind === 'foil' ? null : 58 + this.draw(25),
        solvent: this.chance(60),
        ...rest,
      },
    );
    this.bonds.push(made);
    return made;
  }
}

export const inset = ([x, y, w, h]: Rect, by: number): Rect => [x + by, y + by, w - 2 * by, h - 2 * by];
export const corners = ([x, y, w, h]: Rect, by = 2.2): Point[] => [
  [x + by, y + by],
  [x + w - by, y + by],
  [x + w - by, y + h - by],
  [x + by, y + h - by],
];
export const middle = ([x, y, w, h]: Rect): Point => [x + w / 2, y + h / 2];
