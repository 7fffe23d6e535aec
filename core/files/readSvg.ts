import { SaxesParser, type SaxesAttributeNS } from 'saxes';
import {
  areaOf,
  boundsOf,
  SHAPE_LIMITS,
  type Anatomy,
  type Fault,
  type Outline,
  type Point,
  type Rect,
} from '../anatomy/index.ts';
import { editBetween, type Edit } from '../draft/index.ts';
import { ringOfOutline } from './drawSvg.ts';
import { matrixOf, moved, numbersIn, pointsOfPath, times, type Matrix } from './svgShapes.ts';

/** What a drawing may be. Origin: own choice; the largest made-up device draws 60 kB and 400 elements. */
export const SVG_LIMITS = { bytes: 8_000_000, elements: 40_000, deep: 60 } as const;

/** Below this nothing was changed, mm: what drawing programs round to. */
const STILL_MM = 0.015;

/** One shape of a drawing, in mm. */
interface Drawn {
  kind: 'outline' | 'line';
  outline: Outline;
  points: Point[];
  /** Stroke of a line, mm. */
  width: number | null;
}

export interface SvgReading {
  /** What the drawing changed, as one edit of the anatomy. */
  edit: Edit;
  /** Groups that are no item of the device, and items of the device that the drawing lacks. */
  strangers: string[];
  missing: string[];
}

/** mm that one unit of a length stands for (CSS: 96 px an inch). */
const UNITS: Record<string, number> = {
  mm: 1,
  cm: 10,
  in: 25.4,
  pt: 25.4 / 72,
  pc: 25.4 / 6,
  px: 25.4 / 96,
  '': 25.4 / 96,
};

function lengthMm(text: string | undefined): number | null {
  const found = /^\s*([-+]?[\d.]+(?:e[-+]?\d+)?)\s*(mm|cm|in|pt|pc|px|)\s*$/i.exec(text ?? '');
  return found ? Number(found[1]) * UNITS[found[2]!.toLowerCase()]! : null;
}

/** From the units of the drawing to mm. */
function toMm(attributes: Record<string, string>): Matrix {
  const box = numbersIn(attributes.viewBox ?? '');
  const [width, height] = [lengthMm(attributes.width), lengthMm(attributes.height)];
  if (box.length !== 4 || !(box[2]! > 0) || !(box[3]! > 0)) {
    const unit = UNITS.px!;
    return [unit, 0, 0, unit, 0, 0];
  }
  const [sx, sy] = [width ? width / box[2]! : UNITS.px!, height ? height / box[3]! : UNITS.px!];
  return [sx, 0, 0, sy, -box[0]! * sx, -box[1]! * sy];
}

const number = (text: string | undefined, fallback = 0): number => {
  const value = Number.parseFloat(text ?? '');
  return Number.isFinite(value) ? value : fallback;
};

/** A rectangle stays one under a move and a stretch; a turn makes it a polygon. */
function shapeOf(name: string, a: Record<string, string>, m: Matrix): Drawn | null {
  const straight = Math.abs(m[1]) < 1e-9 && Math.abs(m[2]) < 1e-9;
  const even = Math.abs(Math.hypot(m[0], m[1]) - Math.hypot(m[2], m[3])) < 1e-6 * Math.hypot(m[0], m[1]);
  const scale = Math.sqrt(Math.abs(m[0] * m[3] - m[1] * m[2]));
  const stroke = number(a['stroke-width'] ?? /stroke-width:\s*([\d.]+)/.exec(a.style ?? '')?.[1], Number.NaN);
  const width = Number.isFinite(stroke) ? stroke * scale : null;
  const from = (outline: Outline): Drawn => ({ kind: 'outline', outline, points: ringOfOutline(outline), width });
  const ring = (points: Point[]): Drawn =>
    from({
      polygon: cleaned(
        points.map((p) => moved(m, p)),
        true,
      ),
    });
  switch (name) {
    case 'rect': {
      const [x, y, w, h] = [number(a.x), number(a.y), number(a.width), number(a.height)];
      const radius = number(a.rx ?? a.ry);
      if (!(w > 0) || !(h > 0)) return null;
      if (straight) {
        const [x1, y1] = moved(m, [x, y]);
        const [x2, y2] = moved(m, [x + w, y + h]);
        const rect: Rect = [Math.min(x1, x2), Math.min(y1, y2), Math.abs(x2 - x1), Math.abs(y2 - y1)];
        return from(radius > 0 ? { rect, radius: radius * scale } : { rect });
      }
      return ring(ringOfOutline(radius > 0 ? { rect: [x, y, w, h], radius } : { rect: [x, y, w, h] }));
    }
    case 'circle':
    case 'ellipse': {
      const [cx, cy] = [number(a.cx), number(a.cy)];
      const [rx, ry] = name === 'circle' ? [number(a.r), number(a.r)] : [number(a.rx), number(a.ry)];
      if (!(rx > 0) || !(ry > 0)) return null;
      if (even && Math.abs(rx - ry) < 1e-6 * rx) return from({ circle: [...moved(m, [cx, cy]), rx * scale] });
      return ring(ringOfOutline({ circle: [0, 0, 1] }).map(([px, py]): Point => [cx + px * rx, cy + py * ry]));
    }
    case 'polygon':
    case 'polyline': {
      const v = numbersIn(a.points ?? '');
      const points = Array.from({ length: v.length >> 1 }, (_, i): Point => [v[2 * i]!, v[2 * i + 1]!]);
      if (name === 'polygon') return points.length > 2 ? ring(points) : null;
      return line(
        points.map((p) => moved(m, p)),
        width,
      );
    }
    case 'line':
      return line([moved(m, [number(a.x1), number(a.y1)]), moved(m, [number(a.x2), number(a.y2)])], width);
    case 'path': {
      const points = pointsOfPath(a.d ?? '');
      if (points.length < 2) return null;
      const closed = /z\s*$/i.test(a.d ?? '');
      return closed && points.length > 2
        ? ring(points)
        : line(
            points.map((p) => moved(m, p)),
            width,
          );
    }
    default:
      return null;
  }
}

function line(points: Point[], width: number | null): Drawn | null {
  const clean = cleaned(points, false);
  if (clean.length < 2) return null;
  return { kind: 'line', outline: { polygon: clean }, points: clean, width };
}

/** Without points that lie on the one before, and without those that lie on the way between two others. */
function cleaned(points: readonly Point[], closed: boolean): Point[] {
  const apart = points.filter(
    (p, i) => i === 0 || Math.hypot(p[0] - points[i - 1]![0], p[1] - points[i - 1]![1]) > 1e-3,
  );
  if (closed && apart.length > 1) {
    const [first, last] = [apart[0]!, apart.at(-1)!];
    if (Math.hypot(first[0] - last[0], first[1] - last[1]) <= 1e-3) apart.pop();
  }
  return apart.map(([x, y]): Point => [round(x), round(y)]);
}

const round = (v: number): number => Math.round(v * 1000) / 1000;

/** An outline that a drawing program may have written in another way: as it was where it is still that. */
function outlineFrom(before: Outline, drawn: Drawn): Outline {
  const [old, now] = [ringOfOutline(before), drawn.points];
  const [x, y, w, h] = boundsOf({ polygon: old });
  const [u, v, s, t] = boundsOf({ polygon: now });
  const alike =
    Math.abs(w - s) < STILL_MM &&
    Math.abs(h - t) < STILL_MM &&
    Math.abs(areaOf([old]) - areaOf([now])) < 0.004 * areaOf([old]) + STILL_MM * STILL_MM;
  if (alike) {
    const [dx, dy] = [u - x, v - y];
    return Math.hypot(dx, dy) < STILL_MM ? before : shiftedOutline(before, dx, dy);
  }
  if (!('polygon' in drawn.outline)) return tidy(drawn.outline);
  if ('rect' in before) {
    // A rectangle that was written as a path, its round corners as curves.
    const missing = s * t - areaOf([now]);
    const radius = Math.sqrt(Math.max(0, missing) / (4 - Math.PI));
    const corners = now.filter(([px, py]) => onRim(px, u, u + s) || onRim(py, v, v + t));
    if (
      radius < Math.min(s, t) / 2 + 0.05 &&
      corners.length >= Math.min(4, now.length) &&
      missing < 0.2 * s * t &&
      corners.length >= 0.2 * now.length
    )
      return tidy(radius > 0.05 ? { rect: [u, v, s, t], radius } : { rect: [u, v, s, t] });
  }
  return tidy(drawn.outline);
}

const onRim = (value: number, low: number, high: number): boolean =>
  Math.abs(value - low) < 0.02 || Math.abs(value - high) < 0.02;

/** Coordinates to a hundredth of a millimetre: less than is ever measured. */
const tidyNumber = (v: number): number => Math.round(v * 100) / 100;
function tidy(outline: Outline): Outline {
  if ('circle' in outline) return { circle: outline.circle.map(tidyNumber) as [number, number, number] };
  if ('polygon' in outline) return { polygon: outline.polygon.map(([x, y]): Point => [tidyNumber(x), tidyNumber(y)]) };
  const rect = outline.rect.map(tidyNumber) as Rect;
  return outline.radius ? { rect, radius: tidyNumber(outline.radius) } : { rect };
}

function shiftedOutline(outline: Outline, dx: number, dy: number): Outline {
  if ('circle' in outline) return tidy({ circle: [outline.circle[0] + dx, outline.circle[1] + dy, outline.circle[2]] });
  if ('polygon' in outline) return tidy({ polygon: outline.polygon.map(([x, y]): Point => [x + dx, y + dy]) });
  const [x, y, w, h] = outline.rect;
  return tidy({ ...outline, rect: [x + dx, y + dy, w, h] });
}

/** A point, as it was where it has not moved. */
const pointFrom = (before: Point, now: Point): Point =>
  Math.hypot(before[0] - now[0], before[1] - now[1]) < STILL_MM ? before : [tidyNumber(now[0]), tidyNumber(now[1])];

const middleOf = (drawn: Drawn): Point => {
  const [x, y, w, h] = boundsOf({ polygon: drawn.points });
  return [x + w / 2, y + h / 2];
};

function lineFrom(before: readonly Point[], drawn: Drawn): Point[] {
  const still =
    drawn.points.length === before.length &&
    before.every(([x, y], i) => Math.hypot(x - drawn.points[i]![0], y - drawn.points[i]![1]) < STILL_MM);
  return still ? [...before] : drawn.points.map(([x, y]): Point => [tidyNumber(x), tidyNumber(y)]);
}

/** Every group of a drawing that has an id, with the shapes that lie in it and in no group within it that has one. */
function groupsIn(text: string): Map<string, Drawn[]> {
  const groups = new Map<string, Drawn[]>();
  const stack: { id: string | null; matrix: Matrix; ignored: boolean }[] = [];
  let elements = 0;
  let problem: Error | null = null;
  const parser = new SaxesParser({ xmlns: true });
  parser.on('error', (error) => {
    problem ??= error;
  });
  parser.on('doctype', () => {
    problem ??= new Error('a document type is declared; save it as plain SVG');
  });
  parser.on('opentag', (tag) => {
    if (problem) return;
    if (++elements > SVG_LIMITS.elements) problem = new Error(`more than ${SVG_LIMITS.elements} elements; simplify it`);
    if (stack.length > SVG_LIMITS.deep)
      problem = new Error(`groups lie more than ${SVG_LIMITS.deep} deep in each other`);
    const a: Record<string, string> = {};
    for (const { local, prefix, value } of Object.values(tag.attributes) as SaxesAttributeNS[])
      if (prefix === '') a[local] = value;
    const above = stack.at(-1);
    try {
      if (!above) {
        if (tag.local !== 'svg') throw new Error(`it begins with <${tag.local}>, not <svg>`);
        stack.push({ id: null, matrix: toMm(a), ignored: false });
        return;
      }
      const ignored = above.ignored || ['defs', 'clipPath', 'mask', 'symbol', 'pattern', 'marker'].includes(tag.local);
      const matrix = a.transform ? times(above.matrix, matrixOf(a.transform)) : above.matrix;
      const id = tag.local === 'g' && a.id ? a.id : above.id;
      stack.push({ id, matrix, ignored });
      if (ignored || tag.local === 'g') {
        if (!ignored && a.id && !groups.has(a.id)) groups.set(a.id, []);
        return;
      }
      // A program that dissolves groups puts the id on the shape itself.
      const owner = a.id && groups.size >= 0 && above.id?.startsWith('_') ? a.id : id;
      const shape = shapeOf(tag.local, a, matrix);
      if (!shape || owner === null) return;
      const known = groups.get(owner) ?? [];
      known.push(shape);
      groups.set(owner, known);
    } catch (error) {
      problem ??= error as Error;
    }
  });
  parser.on('closetag', () => void stack.pop());
  parser.write(text).close();
  if (problem) throw problem;
  if (elements === 0) throw new Error('it is empty');
  return groups;
}

/**
 * Reads back a drawing that `drawSvg` wrote and a drawing program may have changed: outlines of parts, places of screws
 * and connectors, the ways of flexes, areas and strips of bonds. What it did not touch stays as it was.
 * @returns the changes, or what is wrong with the file
 */
export function readSvg(
  anatomy: Anatomy,
  text: string,
): { ok: true; value: SvgReading } | { ok: false; faults: Fault[] } {
  const fault = (path: string, message: string) => ({ ok: false as const, faults: [{ path, message }] });
  if (text.length > SVG_LIMITS.bytes)
    return fault('(drawing)', `it is larger than ${SVG_LIMITS.bytes / 1e6} MB; leave pictures out of it`);
  let groups: Map<string, Drawn[]>;
  try {
    groups = groupsIn(text);
  } catch (error) {
    return fault('(drawing)', `this is no drawing that can be read: ${(error as Error).message.split('\n')[0]}`);
  }
  const faults: Fault[] = [];
  const missing: string[] = [];
  const first = (id: string, kind: Drawn['kind']): Drawn | undefined => groups.get(id)?.find((d) => d.kind === kind);
  /** Runs on one item; what it has no shape for is told. */
  const each = <T extends { id: string }>(list: T[], change: (item: T) => T): T[] =>
    list.map((item) => {
      if (!groups.has(item.id) || groups.get(item.id)!.length === 0) {
        missing.push(item.id);
        return item;
      }
      return change(item);
    });
  const limited = (id: string, outline: Outline): Outline => {
    if ('polygon' in outline && outline.polygon.length > SHAPE_LIMITS.corners)
      faults.push({
        path: id,
        message: `${outline.polygon.length} corners; at most ${SHAPE_LIMITS.corners} are taken. Simplify the outline`,
      });
    return outline;
  };
  const next: Anatomy = {
    ...anatomy,
    parts: each(anatomy.parts, (p) => {
      const drawn = first(p.id, 'outline');
      const outline = drawn ? limited(p.id, outlineFrom(p.outline, drawn)) : p.outline;
      return outline === p.outline ? p : { ...p, outline };
    }),
    fasteners: each(anatomy.fasteners, (f) => {
      const drawn = first(f.id, 'outline');
      const at = drawn ? pointFrom(f.at, middleOf(drawn)) : f.at;
      return at === f.at ? f : { ...f, at };
    }),
    connectors: each(anatomy.connectors, (c) => {
      const [block, flex] = [first(c.id, 'outline'), first(c.id, 'line')];
      const at = block ? pointFrom(c.at, middleOf(block)) : c.at;
      const [, , w, h] = block ? boundsOf({ polygon: block.points }) : [0, 0, ...c.size];
      const still = Math.abs(w - c.size[0]) < STILL_MM && Math.abs(h - c.size[1]) < STILL_MM;
      const size: [number, number] = still ? c.size : [tidyNumber(w), tidyNumber(h)];
      const route = c.route && flex ? { line: lineFrom(c.route.line, flex), width: c.route.width } : c.route;
      return { ...c, at, size, route };
    }),
    bonds: anatomy.bonds.map((b) => {
      if ('perimeterOf' in b.at) return b;
      if (!groups.has(b.id)) {
        missing.push(b.id);
        return b;
      }
      if ('area' in b.at) {
        const drawn = first(b.id, 'outline');
        return drawn ? { ...b, at: { area: limited(b.id, outlineFrom(b.at.area, drawn)) } } : b;
      }
      const drawn = first(b.id, 'line');
      return drawn ? { ...b, at: { line: lineFrom(b.at.line, drawn), width: b.at.width } } : b;
    }),
  };
  if (faults.length > 0) return { ok: false, faults };
  const known = new Set(
    [anatomy.parts, anatomy.fasteners, anatomy.connectors, anatomy.bonds, anatomy.latches].flatMap((l) =>
      l.map((e) => e.id),
    ),
  );
  const strangers = [...groups.keys()].filter(
    (id) => !id.startsWith('_') && !known.has(id) && groups.get(id)!.length > 0,
  );
  return { ok: true, value: { edit: editBetween(anatomy, next, 'svg', 'Bring in the drawing'), strangers, missing } };
}
