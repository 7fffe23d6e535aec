import type { Bond, Model, PartKind } from '../../anatomy/index.ts';
import { heatedFace, skinOf, softening, sourceOf, type HeatReason, type SourceKind } from '../../heat/index.ts';
import type { PartingReason } from '../hints.ts';
import { BOND_KINDS, RELEASES, type ReleaseMethod } from '../house/bondKinds.ts';
import type { HouseRules } from '../house/rules.ts';
import { recipeOf, type HeatBasis, type Warming } from './heating.ts';

/** How one bond is let go, by what works on it. */
export interface Parting extends Warming {
  method: ReleaseMethod;
  /** Why it is cut unsoftened, which risks the panel: nothing at hand softens it within the limits. */
  cold: PartingReason | null;
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
  const joined = bond.joins.map((id) => model.parts.get(id)!);
  const cells = joined.some((p) => p.kind === 'battery');
  const asked = BOND_KINDS.of(bond.kind).release(bond, rules, cells);
  const dry = joined.find((p) => p.limits?.solvent === false);
  // R23: what bears no solvent is not soaked; softened it may be.
  const method =
    dry && RELEASES[asked].first === 'solvent-dropper' ? (bond.softensAt === null ? 'cut' : 'heat-and-cut') : asked;
  const half = model.anatomy.bodies ? model.bodyOf(bond.id) : null;
  const only = (way: Partial<Parting>): Parting => ({
    method,
    source: rules.heat,
    on: 'front',
    off: [],
    half,
    most: rules.hottest[rules.heat] ?? null,
    recipe: null,
    instead: null,
    cold: null,
    ...way,
  });
  if (!RELEASES[method].heats)
    return only(method !== asked && method === 'cut' ? { cold: { code: 'no-solvent-on', part: dry!.id } } : {});
  const has = (tool: string) => !rules.lacks.includes(tool);
  const off = out.filter((id) => WEIGHS.has(model.parts.get(id)?.kind ?? 'other')).sort();
  const { face, open } = heatedFace(model, bond, off);
  // An open face is never laid on a mat: what is warmed then is warmed from above, on the side that it is worked from.
  const on = open ? OTHER[face] : face;
  const stands = { off, face: open ? on : undefined };
  // R25: nothing rests on the inner display of a fold.
  const inner = model.anatomy.hinge?.inner ?? null;
  const rests = on === 'front' && inner !== null && !off.includes(inner);
  const lies = (kind: SourceKind) => kind !== 'mat' || (!open && !rests);
  const sources = [rules.heat, ...ORDER.filter((kind) => kind !== rules.heat && has(kind))].filter(lies);
  const soaks = bond.solvent && !dry && has('solvent-dropper');
  const ways = method === 'heat-solvent-and-cut' && !dry ? [true] : [false, ...(soaks ? [true] : [])];
  let why: PartingReason | null = null;
  // R23: what a joined part bears is all that its seam may be given, and what lies under a source all that that may be set to.
  const least = Math.min(...joined.map((p) => p.limits?.hottest ?? Number.POSITIVE_INFINITY));
  const under = coolest(model, on, half, off);
  const bears = (source: SourceKind): HouseRules =>
    LIES_ON.has(source) && Number.isFinite(under)
      ? { ...rules, hottest: { ...rules.hottest, [source]: Math.min(rules.hottest[source] ?? under, under) } }
      : rules;
  for (const solvent of ways)
    for (const source of sources) {
      const softens = softening({ bond, softensAt: bond.softensAt ?? 0 }, solvent);
      if (softens > least) {
        why ??= { code: 'part-bears-less', bears: least, softensAt: softens };
        continue;
      }
      const found =
        basis === 'usual'
          ? usually(bond, source, bears(source), solvent)
          : recipeOf(model, bond.id, { ...bears(source), heat: source }, solvent, stands);
      if (found === null) return only({ on, off });
      if (found === 'usual' || found.ok)
        return only({
          method: solvent ? 'heat-solvent-and-cut' : 'heat-and-cut',
          source,
          most: bears(source).hottest[source] ?? null,
          on,
          off,
          recipe: found === 'usual' ? null : found,
          instead: why,
        });
      why ??= found.reason;
    }
  why ??= { code: 'nothing-warms-open' };
  if (soaks) return only({ method: 'solvent-and-cut', instead: why });
  return only({ method: 'cut', cold: why });
}

/** Sources that lie on what they warm. */
const LIES_ON: ReadonlySet<SourceKind> = new Set(['mat', 'pad', 'gel-pack']);

/** °C that the tenderest part of the outside on a face bears, of what is there. */
function coolest(model: Model, on: 'front' | 'back', half: string | null, off: readonly string[]): number {
  const here = skinOf(model, on).filter((p) => {
    const body = model.bodyOf(p.id);
    return !off.includes(p.id) && (half === null || body === null || body === half);
  });
  return Math.min(...here.map((p) => p.limits?.hottest ?? Number.POSITIVE_INFINITY));
}

/** Where nothing is computed: is a source let be as hot as the bond has to be? */
function usually(
  bond: Bond,
  source: SourceKind,
  rules: HouseRules,
  solvent: boolean,
): 'usual' | { ok: false; reason: HeatReason } {
  const { most } = sourceOf(source, rules.sources[source]);
  const hottest = Math.min(most, rules.hottest[source] ?? most);
  const softensAt = softening({ bond, softensAt: bond.softensAt ?? 0 }, solvent);
  return hottest >= softensAt
    ? 'usual'
    : { ok: false, reason: { code: 'source-too-weak', source, most: hottest, softensAt } };
}
