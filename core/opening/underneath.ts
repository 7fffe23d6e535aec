import {
  bondRegion,
  boundsOf,
  boundsOfRegion,
  regionOf,
  regionsOverlap,
  type Bond,
  type Edge,
  type Model,
  type Rect,
} from '../anatomy/index.ts';

/** How a card comes under a part that is glued down inside. Lengths in mm. */
export interface WayUnder {
  part: string;
  edge: Edge;
  /** From the edge of the part to where its bond begins, and across the bond from there. */
  reach: number;
  across: number;
}

/** A card needs so much room beside the part, mm. Origin: own choice: a card and two fingertips. */
const ROOM_BESIDE = 2;
/** The strip beside one edge of a rectangle that a card comes from. */
function beside([x, y, w, h]: Rect, edge: Edge): Rect {
  switch (edge) {
    case 'top':
      return [x, y - ROOM_BESIDE, w, ROOM_BESIDE];
    case 'bottom':
      return [x, y + h, w, ROOM_BESIDE];
    case 'left':
      return [x - ROOM_BESIDE, y, ROOM_BESIDE, h];
    case 'right':
      return [x + w, y, ROOM_BESIDE, h];
    default:
      return edge satisfies never;
  }
}

const EDGES: readonly Edge[] = ['top', 'right', 'bottom', 'left'];

/**
 * The nearest side from which a card reaches an area or strip of adhesive under a part: a side with room beside it,
 * and of those the one with the least bond to part.
 * @param stays whether a part is still in its place by then
 * @returns `null` when the bond holds no part that moves
 */
export function wayUnder(model: Model, bond: Bond, stays: (part: string) => boolean): WayUnder | null {
  const held = bond.joins.map((id) => model.parts.get(id)!).filter((p) => !p.fixed);
  const part = held.sort((a, b) => a.layer - b.layer)[0];
  if (!part) return null;
  const region = bondRegion(bond, (id) => model.parts.get(id)!.outline);
  const [bx, by, bw, bh] = boundsOfRegion(region);
  const [x, y, w, h] = boundsOf(part.outline);
  const reach: Record<Edge, number> = { top: by - y, right: x + w - bx - bw, bottom: y + h - by - bh, left: bx - x };
  const blocks = (edge: Edge) =>
    model.anatomy.parts.some(
      (other) =>
        !other.fixed &&
        other.id !== part.id &&
        other.within === part.within &&
        other.face === part.face &&
        stays(other.id) &&
        regionsOverlap(regionOf({ rect: beside([x, y, w, h], edge) }), regionOf(other.outline)) &&
        other.layer <= part.layer,
    );
  const across = (edge: Edge) => (edge === 'top' || edge === 'bottom' ? bh : bw);
  const free = EDGES.filter((edge) => !blocks(edge));
  const [best] = (free.length > 0 ? free : [...EDGES]).sort(
    (a, b) => Math.max(0, reach[a]) + across(a) - Math.max(0, reach[b]) - across(b),
  );
  return { part: part.id, edge: best!, reach: Math.max(0, reach[best!]), across: across(best!) };
}
