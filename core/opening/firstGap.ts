import { boundsOf, type Edge, type Model, type Point } from '../anatomy/index.ts';
import type { GapHint } from './messages.ts';
import type { Seam } from './clearance.ts';
import { distanceTo } from './distance.ts';

/** How the first gap is raised (see Schools). */
/** Ways of raising a first gap. */
export const FIRST_GAPS = ['suction-cup', 'cup-clamp', 'thin-blade'] as const;
export type FirstGap = (typeof FIRST_GAPS)[number];

/** One way of raising the first gap: where, and with what cautions. */
export interface GapWay {
  way: FirstGap;
  at: Point;
  how: GapHint;
  cautions: 'glass'[];
}

/** A place on the rim of a part, and straight inwards from there. */
type RimPlace = { at: Point; inward: Point; edge: Edge };

/**
 * Radius of a suction cup, how far in from the edge its rim stands, and how far it stays from any other edge, mm.
 * Origin: common cups of 40 mm; own choice.
 */
export const CUP = { radius: 20, rim: 4, spare: 1 } as const;

/**
 * Where the middle of a cup stands for a place on the rim: whole on the part and on even glass, past no lens or
 * island; `null` when there is no room.
 */
export function cupsOn(model: Model, { part }: Pick<Seam, 'part'>): (place: RimPlace) => Point | null {
  const [x, y, w, h] = boundsOf(part.outline);
  const inset = CUP.radius + CUP.spare;
  const bumps = model.anatomy.parts.filter(
    (p) =>
      p.id !== part.id &&
      (p.kind === 'lens' || p.kind === 'camera') &&
      p.face === part.face &&
      p.within === null &&
      p.layer <= part.layer,
  );
  return ({ at, inward }) => {
    if (Math.min(w, h) < 2 * inset) return null;
    const into = (v: number, from: number, size: number) => Math.min(from + size - inset, Math.max(from + inset, v));
    // However near a corner the place lies, the whole cup stands on the part.
    const cup: Point = [
      into(at[0] + inward[0] * (CUP.radius + CUP.rim), x, w),
      into(at[1] + inward[1] * (CUP.radius + CUP.rim), y, h),
    ];
    return bumps.some((p) => distanceTo(cup, { outline: p.outline }) < CUP.radius) ? null : cup;
  };
}

/** The ways of raising the first gap on this part, the asked one first where it can be used. */
export function gapWays(model: Model, seam: Seam, entry: RimPlace, asked: FirstGap, cracked: boolean): GapWay[] {
  const { part, samples } = seam;
  const cupOn = cupsOn(model, seam);
  const along = samples
    .filter((s) => s.edge === entry.edge)
    .map((s) => ({ s, off: Math.hypot(s.at[0] - entry.at[0], s.at[1] - entry.at[1]) }))
    .sort((a, b) => a.off - b.off);
  // Where no cup stands at the entry itself it stands as near to it as it may, on the same edge.
  const found = [{ s: entry, off: 0 }, ...along].find(({ s }) => cupOn(s));
  const cup = found ? cupOn(found.s)! : null;
  const [x, y, w, h] = boundsOf(part.outline);
  const glass: GapWay['cautions'] = part.glass ? ['glass'] : [];
  const inFrom =
    cup && Math.round({ top: cup[1] - y, bottom: y + h - cup[1], left: cup[0] - x, right: x + w - cup[0] }[entry.edge]);
  const beside = found && found.off > CUP.radius ? Math.round(found.off) : 0;
  const { edge } = entry;
  const diameter = 2 * CUP.radius;
  const at = cup ?? entry.at;
  const ways: GapWay[] = [
    {
      way: 'suction-cup',
      at,
      how: cup
        ? { code: 'gap-cup', edge, from: inFrom!, beside, taped: cracked }
        : { code: 'gap-no-room-cup', edge, diameter },
      cautions: glass,
    },
    {
      way: 'cup-clamp',
      at,
      how: cup ? { code: 'gap-clamp', edge, beside, taped: cracked } : { code: 'gap-no-room-clamp', edge, diameter },
      cautions: glass,
    },
    {
      way: 'thin-blade',
      at: entry.at,
      how: { code: 'gap-blade', edge, clear: along[0]!.s.clear, weak: cracked },
      cautions: glass,
    },
  ];
  // Over cracks a cup loses its grip: the blade stands before the clamp.
  const bears = (part.limits?.suction ?? true) && (part.limits?.bend ?? true);
  const rank = (v: GapWay) =>
    v.way !== 'thin-blade' && (!cup || !bears) ? 3 : v.way === asked ? 0 : cracked && v.way === 'thin-blade' ? 1 : 2;
  return ways.sort((a, b) => rank(a) - rank(b));
}
