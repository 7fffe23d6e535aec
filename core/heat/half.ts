import {
  boundsOf,
  modelOf,
  type Bond,
  type Model,
  type Outline,
  type Part,
  type Point,
  type Rect,
} from '../anatomy/index.ts';

/** One half of a fold as a device of its own, its top left at the origin. */
export interface HalfDevice {
  model: Model;
  bond: Bond;
  /** Where its top left lies in the whole, mm. */
  origin: Point;
}

const halves = new WeakMap<Model, Map<string, { model: Model; origin: Point }>>();

/**
 * The half of a fold that a bond lies in, by itself: only that half lies on the heat. A display that bends over both is there as
 * far as it reaches over this half.
 * @returns `null` in a device of one body, and for a bond that lies over several
 */
export function halfAround(model: Model, bond: Bond): HalfDevice | null {
  const body = model.anatomy.bodies ? model.bodyOf(bond.id) : null;
  if (body === null) return null;
  const known = halves.get(model) ?? new Map<string, { model: Model; origin: Point }>();
  halves.set(model, known);
  const half = known.get(body) ?? halfOf(model, body);
  known.set(body, half);
  const own = half.model.bonds.get(bond.id);
  return own ? { ...half, bond: own } : null;
}

function halfOf(model: Model, id: string): { model: Model; origin: Point } {
  const { anatomy } = model;
  const [x0, y0, width, height] = boundsOf(anatomy.bodies!.find((b) => b.id === id)!.outline);
  const window: Rect = [x0, y0, width, height];
  const parts = anatomy.parts.flatMap((part): Part[] => {
    const over = model.bodyOf(part.id);
    if (over !== null && over !== id) return [];
    const outline = over === id ? shifted(part.outline, x0, y0) : within(part.outline, window);
    return outline ? [{ ...part, outline, swing: null, pryAt: null, body: null }] : [];
  });
  const there = new Set(parts.map((p) => p.id));
  const bonds = anatomy.bonds
    .filter((b) => model.bodyOf(b.id) === id && b.joins.every((part) => there.has(part)))
    .map((b) => ({ ...b, at: placed(b.at, x0, y0), tabs: b.tabs.map(([x, y]): Point => [x - x0, y - y0]) }));
  const { bodies: _bodies, hinge: _hinge, rails: _rails, cells: _cells, ...rest } = anatomy;
  return {
    origin: [x0, y0],
    model: modelOf({
      ...rest,
      body: { ...anatomy.body, width, height },
      parts: parts.map((p) => ({ ...p, within: p.within !== null && there.has(p.within) ? p.within : null })),
      fasteners: [],
      connectors: [],
      bonds,
      latches: [],
      orders: [],
      mateOrder: [],
      spares: [],
    }),
  };
}

function shifted(outline: Outline, x0: number, y0: number): Outline {
  if ('rect' in outline) {
    const [x, y, w, h] = outline.rect;
    return { ...outline, rect: [x - x0, y - y0, w, h] };
  }
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    return { circle: [x - x0, y - y0, r] };
  }
  return { polygon: outline.polygon.map(([x, y]): Point => [x - x0, y - y0]) };
}

/** What of the bounds of an outline lies in a window, seen from the corner of that; `null` for nothing. */
function within(outline: Outline, [x0, y0, width, height]: Rect): Outline | null {
  const [x, y, w, h] = boundsOf(outline);
  const [left, top] = [Math.max(x, x0), Math.max(y, y0)];
  const [right, bottom] = [Math.min(x + w, x0 + width), Math.min(y + h, y0 + height)];
  return right > left && bottom > top ? { rect: [left - x0, top - y0, right - left, bottom - top] } : null;
}

function placed(at: Bond['at'], x0: number, y0: number): Bond['at'] {
  if ('area' in at) return { area: shifted(at.area, x0, y0) };
  if ('line' in at) return { ...at, line: at.line.map(([x, y]): Point => [x - x0, y - y0]) };
  const along = ({ edge }: { edge: string }) => (edge === 'top' || edge === 'bottom' ? x0 : y0);
  return { ...at, gaps: at.gaps.map((gap) => ({ ...gap, from: gap.from - along(gap), to: gap.to - along(gap) })) };
}
