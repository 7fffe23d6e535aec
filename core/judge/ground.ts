import type { BondRead, LatchRead, Rim, Shape, Spot } from './document.ts';

/**
 * The ground that something takes up, mm, cut into lines: which stretches of x it holds at a height y. Two grounds overlap
 * by the area that the stretches they share sweep; curves are kept as they are, and nothing is made a polygon.
 */
export interface Ground {
  readonly x0: number;
  readonly y0: number;
  readonly x1: number;
  readonly y1: number;
  /** Stretches at a height, each `[from, to]`, in order and apart. */
  spans(y: number): Span[];
  /** Heights at which the border turns. */
  readonly turns: readonly number[];
}

type Span = readonly [from: number, to: number];

/**
 * Two outlines that share less than 0.01 mm² merely touch (from the format's description). What is within a factor of two of
 * that is in doubt: how a circle is cut decides it, and nothing is held against anybody.
 */
export const TOUCHING = 0.01;
export const SURELY = 2 * TOUCHING;
export const PERHAPS = TOUCHING / 2;
/** Widest distance of two lines that a ground is looked at by, mm. Origin: own choice, a tenth of the smallest screw head. */
const PITCH = 0.15;
/** Most lines for one pair, so that a tablet's panel does not cost thousands. Origin: own choice. */
const LINES = 400;
/** Half the width of what grips a tab, and how far in from the rim a catch is worked, mm. From the format's description. */
const GRIP = 1.5;
const CATCH = 1.5;

const apart = (spans: Span[]): Span[] => {
  const sorted = spans.filter(([a, b]) => b > a).sort((p, q) => p[0] - q[0]);
  const out: [number, number][] = [];
  for (const [a, b] of sorted) {
    const last = out.at(-1);
    if (last && a <= last[1]) last[1] = Math.max(last[1], b);
    else out.push([a, b]);
  }
  return out;
};

const shared = (p: readonly Span[], q: readonly Span[]): Span[] => {
  const out: Span[] = [];
  for (const [a, b] of p)
    for (const [c, d] of q) {
      const [from, to] = [Math.max(a, c), Math.min(b, d)];
      if (to > from) out.push([from, to]);
    }
  return out;
};

const lessened = (p: readonly Span[], q: readonly Span[]): Span[] => {
  let left = [...p];
  for (const [c, d] of q)
    left = left.flatMap(([a, b]): Span[] =>
      d <= a || c >= b
        ? [[a, b]]
        : [[a, Math.min(b, c)] as Span, [Math.max(a, d), b] as Span].filter(([s, e]) => e > s),
    );
  return left;
};

const lengthOf = (spans: readonly Span[]): number => spans.reduce((sum, [a, b]) => sum + b - a, 0);

function disc(x: number, y: number, r: number): Ground {
  return {
    x0: x - r,
    x1: x + r,
    y0: y - r,
    y1: y + r,
    turns: [y],
    spans: (at) => {
      const half = Math.sqrt(Math.max(0, r * r - (at - y) ** 2));
      return half > 0 ? [[x - half, x + half]] : [];
    },
  };
}

function box(x: number, y: number, w: number, h: number, radius = 0): Ground {
  const r = Math.max(0, Math.min(radius, w / 2, h / 2));
  return {
    x0: x,
    x1: x + w,
    y0: y,
    y1: y + h,
    turns: [y + r, y + h - r],
    spans: (at) => {
      if (at <= y || at >= y + h || w <= 0) return [];
      const into = Math.max(y + r - at, at - (y + h - r), 0);
      const cut = into > 0 ? r - Math.sqrt(Math.max(0, r * r - into * into)) : 0;
      return [[x + cut, x + w - cut]];
    },
  };
}

/** What lies inside of a closed line of corners: every other stretch between its crossings. */
function field(corners: readonly Spot[]): Ground {
  const sides = corners.map((a, i) => [a, corners[(i + 1) % corners.length]!] as const);
  return {
    x0: Math.min(...corners.map(([x]) => x)),
    x1: Math.max(...corners.map(([x]) => x)),
    y0: Math.min(...corners.map(([, y]) => y)),
    y1: Math.max(...corners.map(([, y]) => y)),
    turns: corners.map(([, y]) => y),
    spans: (at) => {
      const crossings: number[] = [];
      for (const [[ax, ay], [bx, by]] of sides)
        if (ay > at !== by > at) crossings.push(ax + ((at - ay) * (bx - ax)) / (by - ay));
      crossings.sort((p, q) => p - q);
      const out: Span[] = [];
      for (let i = 0; i + 1 < crossings.length; i += 2) out.push([crossings[i]!, crossings[i + 1]!]);
      return apart(out);
    },
  };
}

function together(grounds: readonly Ground[]): Ground {
  return {
    x0: Math.min(...grounds.map((g) => g.x0)),
    x1: Math.max(...grounds.map((g) => g.x1)),
    y0: Math.min(...grounds.map((g) => g.y0)),
    y1: Math.max(...grounds.map((g) => g.y1)),
    turns: grounds.flatMap((g) => [g.y0, g.y1, ...g.turns]),
    spans: (at) => apart(grounds.flatMap((g) => (at > g.y0 && at < g.y1 ? g.spans(at) : []))),
  };
}

const nothing: Ground = { x0: 0, x1: 0, y0: 0, y1: 0, turns: [], spans: () => [] };

/** A straight band from one spot to another. */
function bar([ax, ay]: Spot, [bx, by]: Spot, width: number): Ground {
  const length = Math.hypot(bx - ax, by - ay);
  if (length === 0) return nothing;
  const [dx, dy] = [((by - ay) / length) * (width / 2), ((ax - bx) / length) * (width / 2)];
  return field([
    [ax + dx, ay + dy],
    [bx + dx, by + dy],
    [bx - dx, by - dy],
    [ax - dx, ay - dy],
  ]);
}

export function groundOf(shape: Shape): Ground {
  if ('circle' in shape) return disc(...shape.circle);
  if ('rect' in shape) return box(...shape.rect, shape.radius);
  return field(shape.polygon);
}

/** What of a shape lies at least so many mm inside of its border. */
function shrunk(shape: Shape, by: number): Ground {
  if ('circle' in shape) {
    const [x, y, r] = shape.circle;
    return r > by ? disc(x, y, r - by) : nothing;
  }
  if ('rect' in shape) {
    const [x, y, w, h] = shape.rect;
    return w > 2 * by && h > 2 * by
      ? box(x + by, y + by, w - 2 * by, h - 2 * by, Math.max(0, (shape.radius ?? 0) - by))
      : nothing;
  }
  const whole = field(shape.polygon);
  if (by <= 0) return whole;
  // A border as broad as what is taken off on either side, with round corners.
  const border = together(
    shape.polygon.flatMap((a, i) => [
      disc(a[0], a[1], by),
      bar(a, shape.polygon[(i + 1) % shape.polygon.length]!, 2 * by),
    ]),
  );
  return { ...whole, turns: border.turns, spans: (y) => lessened(whole.spans(y), border.spans(y)) };
}

/** What lies along an edge of a shape, so many mm deep, between two coordinates along it. */
function strip(g: Ground, edge: Rim, deep: number, from: number, to: number): Ground {
  const lies = edge === 'top' || edge === 'bottom';
  const start = Math.max(from, lies ? g.x0 : g.y0);
  const length = Math.max(0, Math.min(to, lies ? g.x1 : g.y1) - start);
  switch (edge) {
    case 'top':
      return box(start, g.y0, length, deep);
    case 'bottom':
      return box(start, g.y1 - deep, length, deep);
    case 'left':
      return box(g.x0, start, deep, length);
    case 'right':
      return box(g.x1 - deep, start, deep, length);
  }
}

/** Where a tool must get at a bond: its tabs where it has some, else all of it. @param outline of a part by its id */
export function groundOfBond(bond: Pick<BondRead, 'at' | 'tabs'>, outline: (part: string) => Shape): Ground {
  if (bond.tabs.length > 0) return together(bond.tabs.map(([x, y]) => disc(x, y, GRIP)));
  const { at } = bond;
  if ('area' in at) return groundOf(at.area);
  if ('line' in at) {
    const bars = at.line.slice(1).map((to, i) => bar(at.line[i]!, to, at.width));
    return bars.length > 0 ? together(bars) : nothing;
  }
  const around = outline(at.perimeterOf);
  const [outer, inner] = [shrunk(around, at.inset), shrunk(around, at.inset + at.width)];
  const gaps = at.gaps.map((gap) =>
    strip(groundOf(around), gap.edge, at.inset + at.width + TOUCHING, gap.from, gap.to),
  );
  const cut = together([inner, ...gaps]);
  return {
    ...outer,
    turns: [...outer.turns, ...cut.turns],
    spans: (y) => lessened(outer.spans(y), cut.spans(y)),
  };
}

/** Where a catch is worked: a strip along its edges. */
export const groundOfLatch = ({ edge, alsoAt = [] }: Pick<LatchRead, 'edge' | 'alsoAt'>, shape: Shape): Ground => {
  const whole = groundOf(shape);
  return together([edge, ...alsoAt].map((e) => strip(whole, e, CATCH, Number.NEGATIVE_INFINITY, Infinity)));
};

/** The heights at which two grounds are looked at: where a border turns, and so often in between. */
function heights(grounds: readonly Ground[], y0: number, y1: number): number[] {
  const marks = [y0, y1];
  for (const g of grounds) for (const y of [g.y0, g.y1, ...g.turns]) if (y > y0 && y < y1) marks.push(y);
  marks.sort((a, b) => a - b);
  const pitch = Math.max(PITCH, (y1 - y0) / LINES);
  const out = [y0];
  for (const mark of marks.slice(1)) {
    const from = out.at(-1)!;
    const parts = Math.ceil((mark - from) / pitch);
    for (let k = 1; k <= parts; k++) out.push(from + ((mark - from) * k) / parts);
  }
  return out;
}

/** Do two grounds share more than a touching edge? @param least mm² that they have to share */
export function overlap(a: Ground, b: Ground, least = TOUCHING): boolean {
  if (Math.min(a.x1, b.x1) <= Math.max(a.x0, b.x0)) return false;
  const [y0, y1] = [Math.max(a.y0, b.y0), Math.min(a.y1, b.y1)];
  if (y1 <= y0) return false;
  const at = heights([a, b], y0, y1);
  let area = 0;
  for (let i = 1; i < at.length; i++) {
    const y = (at[i]! + at[i - 1]!) / 2;
    const mine = a.spans(y);
    if (mine.length === 0) continue;
    area += lengthOf(shared(mine, b.spans(y))) * (at[i]! - at[i - 1]!);
    if (area > least) return true;
  }
  return false;
}

/** The share of a ground, 0 to 1, that others lie over. */
export function shareUnder(g: Ground, over: readonly Ground[]): number {
  const at = heights([g, ...over], g.y0, g.y1);
  let [whole, hidden] = [0, 0];
  for (let i = 1; i < at.length; i++) {
    const y = (at[i]! + at[i - 1]!) / 2;
    const mine = g.spans(y);
    const high = at[i]! - at[i - 1]!;
    whole += lengthOf(mine) * high;
    hidden += lengthOf(shared(mine, apart(over.flatMap((o) => (y > o.y0 && y < o.y1 ? o.spans(y) : []))))) * high;
  }
  return whole === 0 ? 1 : hidden / whole;
}
