import Flatbush from 'flatbush';
import {
  boundsOf,
  outlineHolds,
  rectAround,
  type Anatomy,
  type Outline,
  type Point,
  type Rect,
} from '../../../core/anatomy/index.ts';

/** How near an edge catches what is dragged, mm, and the grid beneath it. Origin: own choice; less than a drawing may be off. */
export const SNAP = { reach: 0.18, grid: 0.1 } as const;

/** Something on the board that can be pressed. */
export interface Target {
  id: string;
  outline: Outline;
  layer: number;
  face: string;
  /** Screws lie on plugs, plugs on parts. */
  rank: number;
}

export interface Targets {
  /** Ids at a point, what lies on top first. */
  at: (point: Point, reach: number) => string[];
  /** A rectangle moved so that its edges meet those nearby, or the grid. */
  snapped: (rect: Rect, except: ReadonlySet<string>) => { dx: number; dy: number; lines: { x?: number; y?: number }[] };
}

export const toGrid = (v: number): number => Math.round(v / SNAP.grid) * SNAP.grid;
/** A hundredth of a millimetre: less is not drawn. */
export const fine = (v: number): number => Math.round(v * 100) / 100;

export function targetsOf(anatomy: Anatomy, face: 'front' | 'back', layer: number): Targets {
  const list: Target[] = [];
  for (const p of anatomy.parts)
    if (!p.fixed && p.face === face && (p.within !== null || p.layer >= layer))
      list.push({ id: p.id, outline: p.outline, layer: p.layer, face: p.face, rank: p.within ? 1 : 0 });
  for (const b of anatomy.bonds) {
    if ('area' in b.at) list.push({ id: b.id, outline: b.at.area, layer: 50, face, rank: -1 });
    b.tabs.forEach((at) => list.push({ id: b.id, outline: { circle: [...at, 1.2] }, layer: 0, face, rank: 3 }));
  }
  for (const c of anatomy.connectors)
    if (c.face === face) list.push({ id: c.id, outline: rectAround(c.at, c.size), layer: 0, face, rank: 2 });
  for (const f of anatomy.fasteners)
    if (f.face === face) list.push({ id: f.id, outline: { circle: [...f.at, f.head / 2] }, layer: 0, face, rank: 3 });
  const frame: Outline = { rect: [0, 0, anatomy.body.width, anatomy.body.height] };
  const bounds = list.map((t) => boundsOf(t.outline));
  const index = list.length > 0 ? new Flatbush(list.length) : null;
  for (const [x, y, w, h] of bounds) index?.add(x, y, x + w, y + h);
  index?.finish();
  return {
    at: ([x, y], reach) => {
      if (!index) return [];
      const near = index.search(x - reach, y - reach, x + reach, y + reach).map((i) => list[i]!);
      const hit = near.filter(({ outline, rank }) => {
        if (outlineHolds(outline, [x, y])) return true;
        const [u, v, w, h] = boundsOf(outline);
        // A small thing has a finger's room.
        return rank >= 2 && Math.hypot(x - u - w / 2, y - v - h / 2) < reach + Math.max(w, h) / 2;
      });
      hit.sort((a, b) => b.rank - a.rank || a.layer - b.layer || areaOf(a.outline) - areaOf(b.outline));
      return [...new Set(hit.map((t) => t.id))];
    },
    snapped: (rect, except) => {
      const others = index
        ? index
            .search(rect[0] - 8, rect[1] - 8, rect[0] + rect[2] + 8, rect[1] + rect[3] + 8)
            .filter((i) => !except.has(list[i]!.id))
            .map((i) => bounds[i]!)
        : [];
      const all = [...others, boundsOf(frame)];
      const along = (at: number, size: number, edges: readonly (readonly [number, number])[]) => {
        let best: { off: number; line: number } | null = null;
        for (const mine of [at, at + size / 2, at + size])
          for (const [low, high] of edges)
            for (const line of [low, (low + high) / 2, high]) {
              const off = line - mine;
              if (Math.abs(off) <= SNAP.reach && (!best || Math.abs(off) < Math.abs(best.off))) best = { off, line };
            }
        return best;
      };
      const x = along(
        rect[0],
        rect[2],
        all.map(([u, , w]) => [u, u + w] as const),
      );
      const y = along(
        rect[1],
        rect[3],
        all.map(([, v, , h]) => [v, v + h] as const),
      );
      return {
        dx: x ? x.off : toGrid(rect[0]) - rect[0],
        dy: y ? y.off : toGrid(rect[1]) - rect[1],
        lines: [...(x ? [{ x: x.line }] : []), ...(y ? [{ y: y.line }] : [])],
      };
    },
  };
}

function areaOf(outline: Outline): number {
  const [, , w, h] = boundsOf(outline);
  return w * h;
}
