import {
  bondRegion,
  boundsOf,
  boundsOfRegion,
  regionOf,
  regionsOverlap,
  ringsOf,
  type Bond,
  type Edge,
  type Model,
  type Rect,
  type Region,
} from '../anatomy/index.ts';

/** How a card comes under a part that is glued down inside. Lengths in mm. */
export interface WayUnder {
  part: string;
  edge: Edge;
  /** From the edge of the part to where its bond begins, and how far the glue goes on from there, measured across it. */
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

/** What a card meets that comes from one edge, mm: how far in the glue begins, its first stretch, and all of it. */
interface Glue {
  reach: number;
  across: number;
  whole: number;
}

/** Lines along which a card is followed. Origin: own choice; the middle one of so many is not moved by a corner. */
const FOLLOWED = 41;

/** The middle value of what cards meet that come from along an edge; those that meet nothing are left out. */
function glueFrom(region: Region, [x, y, w, h]: Rect, edge: Edge): Glue {
  const upright = edge === 'top' || edge === 'bottom';
  const [bx, by, bw, bh] = boundsOfRegion(region);
  const met: Glue[] = [];
  for (let k = 0; k < FOLLOWED; k++) {
    const at = (upright ? bx : by) + ((upright ? bw : bh) * (k + 0.5)) / FOLLOWED;
    const crossed = crossings(region, at, upright).map((v) => {
      if (edge === 'top') return v - y;
      if (edge === 'bottom') return y + h - v;
      return edge === 'left' ? v - x : x + w - v;
    });
    const cuts = crossed.sort((a, b) => a - b);
    if (cuts.length < 2) continue;
    let whole = 0;
    for (let i = 0; i + 1 < cuts.length; i += 2) whole += cuts[i + 1]! - cuts[i]!;
    met.push({ reach: Math.max(0, cuts[0]!), across: cuts[1]! - cuts[0]!, whole });
  }
  const middle = (of: (g: Glue) => number) => met.map(of).sort((a, b) => a - b)[met.length >> 1] ?? 0;
  return { reach: middle((g) => g.reach), across: middle((g) => g.across), whole: middle((g) => g.whole) };
}

/** Where an upright or a level line crosses the border of a region, unsorted. */
function crossings(region: Region, at: number, upright: boolean): number[] {
  const found: number[] = [];
  for (const ring of ringsOf(region))
    for (const [i, a] of ring.entries()) {
      const b = ring[(i + 1) % ring.length]!;
      const [a0, a1] = upright ? a : [a[1], a[0]];
      const [b0, b1] = upright ? b : [b[1], b[0]];
      if (a0 > at !== b0 > at) found.push(a1 + ((at - a0) / (b0 - a0)) * (b1 - a1));
    }
  return found;
}

/**
 * The nearest side from which a card reaches an area or strip of adhesive under a part: a side with room beside it,
 * and of those the one with the least bond to part.
 * @param stays whether a part is still in its place by then
 * @returns `null` when the bond holds no part that moves
 */
export function wayUnder(model: Model, bond: Bond, stays: (part: string) => boolean): WayUnder | null {
  const held = bond.joins.map((id) => model.parts.get(id)!).filter((p) => !p.fixed);
  // The card goes under what leaves: of two that do, under the one that lies on the other.
  const leaves = held.filter((p) => !stays(p.id));
  const part = (leaves.length > 0 ? leaves : held).toSorted((a, b) => a.layer - b.layer)[0];
  if (!part) return null;
  const region = bondRegion(bond, (id) => model.parts.get(id)!.outline);
  const [x, y, w, h] = boundsOf(part.outline);
  const glue = Object.fromEntries(EDGES.map((edge) => [edge, glueFrom(region, [x, y, w, h], edge)])) as Record<
    Edge,
    Glue
  >;
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
  const free = EDGES.filter((edge) => !blocks(edge));
  const [best] = (free.length > 0 ? free : [...EDGES]).sort(
    (a, b) => glue[a].reach + glue[a].whole - glue[b].reach - glue[b].whole,
  );
  return { part: part.id, edge: best!, reach: glue[best!].reach, across: glue[best!].across };
}
