import type { Bond, Model, PartKind } from '../../anatomy/index.ts';
import { heatedFace, softening, sourceOf, type SourceKind } from '../../heat/index.ts';
import { BOND_KINDS, RELEASES, type ReleaseMethod } from '../house/bondKinds.ts';
import type { HouseRules } from '../house/rules.ts';
import { recipeOf, type HeatBasis, type Warming } from './heating.ts';

/** How one bond is let go, by what works on it. */
export interface Parting extends Warming {
  method: ReleaseMethod;
  /** Why it is cut unsoftened, which risks the panel: nothing at hand softens it within the limits. */
  cold: string | null;
}

/** Sources in the order in which they are tried after the house's own (common practice). */
const ORDER: readonly SourceKind[] = ['mat', 'gun', 'pad', 'gel-pack', 'dryer'];

const OTHER = { front: 'back', back: 'front' } as const;

/** Parts whose absence changes how a device warms; what is smaller or thinner changes less than is computed. */
const WEIGHS: ReadonlySet<PartKind> = new Set(['battery', 'display', 'cover', 'plate', 'lens', 'board']);

/**
 * The method is the one that works: the house's source, then what else the shop has, then with solvent once it is off the
 * heat, then solvent alone, and cold where nothing else does.
 */
export function partingOf(
  model: Model,
  bond: Bond,
  rules: HouseRules,
  basis: HeatBasis,
  out: readonly string[] = [],
): Parting {
  const cells = bond.joins.some((id) => model.parts.get(id)?.kind === 'battery');
  const method = BOND_KINDS[bond.kind].release(bond, rules, cells);
  const only = (way: Partial<Parting>): Parting => ({
    method,
    source: rules.heat,
    on: 'front',
    off: [],
    recipe: null,
    instead: null,
    cold: null,
    ...way,
  });
  if (!RELEASES[method].heats) return only({});
  const has = (tool: string) => !rules.lacks.includes(tool);
  const off = out.filter((id) => WEIGHS.has(model.parts.get(id)?.kind ?? 'other')).sort();
  const { face, open } = heatedFace(model, bond, off);
  // An open face is never laid on a mat: what is warmed then is warmed from above, on the side that it is worked from.
  const on = open ? OTHER[face] : face;
  const stands = { off, face: open ? on : undefined };
  const lies = (kind: SourceKind) => kind !== 'mat' || !open;
  const sources = [rules.heat, ...ORDER.filter((kind) => kind !== rules.heat && has(kind))].filter(lies);
  const soaks = bond.solvent && has('solvent-dropper');
  const ways = method === 'heat-solvent-and-cut' ? [true] : [false, ...(soaks ? [true] : [])];
  let why: string | null = null;
  for (const solvent of ways)
    for (const source of sources) {
      const found =
        basis === 'usual'
          ? usually(bond, source, rules, solvent)
          : recipeOf(model, bond.id, { ...rules, heat: source }, solvent, stands);
      if (found === null) return only({ on, off });
      if (found === 'usual' || found.ok)
        return only({
          method: solvent ? 'heat-solvent-and-cut' : 'heat-and-cut',
          source,
          on,
          off,
          recipe: found === 'usual' ? null : found,
          instead: why,
        });
      why ??= found.reason;
    }
  why ??= 'nothing at hand warms it while that side lies open';
  if (soaks) return only({ method: 'solvent-and-cut', instead: why });
  return only({ method: 'cut', cold: why });
}

/** Where nothing is computed: is a source let be as hot as the bond has to be? */
function usually(
  bond: Bond,
  source: SourceKind,
  rules: HouseRules,
  solvent: boolean,
): 'usual' | { ok: false; reason: string } {
  const { name, most } = sourceOf(source, rules.sources[source]);
  const hottest = Math.min(most, rules.hottest[source] ?? most);
  const softensAt = softening({ bond, softensAt: bond.softensAt ?? 0 }, solvent);
  return hottest >= softensAt
    ? 'usual'
    : { ok: false, reason: `the ${name} at ${hottest} °C does not bring the whole seam to ${softensAt} °C` };
}
