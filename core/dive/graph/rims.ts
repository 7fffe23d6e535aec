import type { Bond, Model } from '../../anatomy/index.ts';
import { BONDS, CATCHES } from '../../kinds/index.ts';
import { partsByItself } from '../house/bondKinds.ts';
import { keyOf as key } from './keys.ts';

/** A panel that a bond lies under in the middle, and what has to let its rim go first. */
export interface Rim {
  panel: string;
  /** Action keys. */
  holds: string[];
}

/**
 * A1: what lies in the middle under a panel of the outside is reached when nothing holds the rim of that panel any more.
 * @param isOuter is a part of the outside?
 * @param joints bonds and screws that join a part with its family to the rest
 */
export function rimOver(
  model: Model,
  id: string,
  isOuter: (part: string) => boolean,
  joints: (part: string) => { bonds: readonly string[]; fasteners: readonly string[] },
): Rim | null {
  const bond = model.bonds.get(id);
  if (!bond || !('area' in bond.at) || bond.tabs.length > 0 || BONDS.of(bond.kind).over) return null;
  if (partsByItself(model, bond)) return null;
  const face = model.faceOf(id);
  const [panel, next] = bond.joins
    .map((part) => model.parts.get(part)!)
    .filter((p) => !p.fixed && p.within === null && p.face === face)
    .sort((a, b) => a.layer - b.layer);
  if (!panel || panel.layer === next?.layer || !isOuter(panel.id)) return null;
  const { bonds, fasteners } = joints(panel.id);
  const alongRim = ({ at }: Bond) =>
    !('area' in at) && ('line' in at || at.perimeterOf === panel.id || model.parts.get(at.perimeterOf)!.fixed);
  return {
    panel: panel.id,
    holds: [
      ...bonds
        .map((other) => model.bonds.get(other)!)
        .filter((b) => b.joins.includes(panel.id) && alongRim(b) && !partsByItself(model, b))
        .map((b) => key('release', b.id)),
      ...fasteners.filter((f) => model.fasteners.get(f)!.holds.includes(panel.id)).map((f) => key('loosen', f)),
      ...model.anatomy.latches
        .filter((l) => l.joins.includes(panel.id) && l.release === 'any' && CATCHES.of(l.letsGo).worked)
        .map((l) => key('release', l.id)),
    ],
  };
}
