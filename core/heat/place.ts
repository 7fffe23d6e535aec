import { boundsOf, modelOf, type Bond, type Face, type Model, type Outline, type Part } from '../anatomy/index.ts';
import { halfAround } from './half.ts';

const outermost = (model: Model, face: Face): Part[] =>
  model.anatomy.parts
    .filter(
      (p) => !p.fixed && p.within === null && p.face === face && ['display', 'cover', 'lens', 'plate'].includes(p.kind),
    )
    .sort((a, b) => b.layer - a.layer || 0);

/** Skin parts of a face, deeper first: those nothing but another skin part lies over. */
export function skinOf(model: Model, face: 'front' | 'back'): Part[] {
  const here = outermost(model, face);
  const covering = (part: Part) =>
    here.filter((p) => p.layer < part.layer && overlapShare(p.outline, part.outline) > 0.5);
  return here.filter((p) => covering(p).length === 0);
}

/** Share of the smaller one's bounds that two outlines share; enough to tell a skin from what lies beneath it. */
function overlapShare(a: Outline, b: Outline): number {
  const [ax, ay, aw, ah] = boundsOf(a);
  const [bx, by, bw, bh] = boundsOf(b);
  const w = Math.min(ax + aw, bx + bw) - Math.max(ax, bx);
  const h = Math.min(ay + ah, by + bh) - Math.max(ay, by);
  return w <= 0 || h <= 0 ? 0 : (w * h) / (bw * bh);
}

export function area(part: Part): number {
  const [, , w, h] = boundsOf(part.outline);
  return w * h;
}

/** Where a bond lies in the stack, and from which face it is warmed. */
export interface Place {
  layer: number;
  face: 'front' | 'back';
  /** True when what lies over it is off while it is worked. */
  opened: boolean;
}

export function placeOf(
  model: Model,
  bond: Bond,
  front: readonly Part[],
  back: readonly Part[],
  cellFace: 'front' | 'back',
): Place {
  const joins = bond.joins.map((id) => model.parts.get(id)!);
  const onFront = joins.filter((p) => front.includes(p));
  const onBack = joins.filter((p) => back.includes(p));
  const held = (side: readonly Part[]) => side.length > 0 && joins.some((p) => p.fixed || !side.includes(p));
  // Two skins of one face, such as an island on its back plate, are glued within the skin itself.
  if (onFront.length > 1) return { layer: 1, face: 'front', opened: false };
  if (onBack.length > 1) return { layer: 8, face: 'back', opened: false };
  if (held(onFront) && joins.every((p) => p.fixed || p.within === null))
    return { layer: 2, face: 'front', opened: false };
  if (held(onBack) && joins.every((p) => p.fixed || p.within === null))
    return { layer: 7, face: 'back', opened: false };
  const family = (side: readonly Part[]) => joins.every((p) => side.some((s) => model.familyOf(s.id).includes(p.id)));
  if (family(front)) return { layer: 1, face: 'front', opened: false };
  if (family(back)) return { layer: 8, face: 'back', opened: false };
  const face = model.faceOf(bond.id) === 'back' ? 'back' : 'front';
  // A rim that nothing lies over is on the outside as a skin is.
  if (joins.some((p) => isRim(p, face))) return { layer: face === 'front' ? 2 : 7, face, opened: false };
  // Inside, the device lies open on that face and is warmed through the other one.
  const warm = face === 'front' ? 'back' : 'front';
  if (joins.some((p) => p.kind === 'battery')) return { layer: cellFace === 'front' ? 6 : 3, face: warm, opened: true };
  return { layer: 5, face: warm, opened: true };
}

/** Is a part of the outside of a face, and no skin of it: a rim, a bumper, a strip along an edge? */
const isRim = (part: Part, face: 'front' | 'back'): boolean =>
  !part.fixed && part.within === null && part.face === face && part.layer === 0;

/** Devices without some of their parts: asked for by every plan that is drawn up. */
const standings = new WeakMap<Model, Map<string, Model>>();

/** The device as it stands: without what is off, but for what the bond itself joins. */
export function standing(model: Model, bond: Bond, off: readonly string[]): Model {
  const gone = new Set(off.flatMap((id) => model.familyOf(id)).filter((id) => !bond.joins.includes(id)));
  if (gone.size === 0) return model;
  const known = standings.get(model) ?? new Map<string, Model>();
  standings.set(model, known);
  const key = [...gone].sort().join();
  const found = known.get(key) ?? withoutParts(model, gone);
  known.set(key, found);
  return found;
}

function withoutParts(model: Model, gone: ReadonlySet<string>): Model {
  const { anatomy } = model;
  const there = (ids: readonly string[]) => ids.every((id) => !gone.has(id));
  return modelOf({
    ...anatomy,
    parts: anatomy.parts
      .filter((p) => !gone.has(p.id))
      .map((p) => ({ ...p, swing: null, within: p.within !== null && gone.has(p.within) ? null : p.within })),
    fasteners: [],
    connectors: [],
    bonds: anatomy.bonds.filter((b) => there(b.joins)),
    latches: [],
    orders: [],
    mateOrder: [],
    spares: [],
  });
}

/** A face of which more than this share of the body lies bare is open: nothing may lie on it. Origin: own choice; a camera ring is less. */
const OPEN_SHARE = 0.25;

/** Which face heat is laid on for a bond, and whether that face lies open then. */
export function heatedFace(
  model: Model,
  bond: Bond,
  off: readonly string[] = [],
): { face: 'front' | 'back'; open: boolean } {
  const half = halfAround(model, bond);
  if (half)
    return heatedFace(
      half.model,
      half.bond,
      off.filter((id) => half.model.parts.has(id)),
    );
  const stands = standing(model, bond, off);
  const skins = { front: skinOf(stands, 'front'), back: skinOf(stands, 'back') };
  const battery = stands.anatomy.parts.find((p) => p.kind === 'battery');
  const { face } = placeOf(stands, bond, skins.front, skins.back, battery?.face === 'back' ? 'back' : 'front');
  const { width, height } = model.anatomy.body;
  const bare = skinOf(model, face).filter((p) => !stands.parts.has(p.id));
  return { face, open: bare.reduce((sum, p) => sum + area(p), 0) > OPEN_SHARE * width * height };
}
