import type { HeatBasis } from '../entry/heating.ts';
import { partingOf, type Parting } from '../entry/parting.ts';
import { contextsOf } from '../graph/contexts.ts';
import type { StepGraph } from '../graph/stepGraph.ts';
import { RELEASES } from '../house/bondKinds.ts';
import type { HouseRules } from '../house/rules.ts';
import type { Standing } from '../types.ts';
import type { Bundle } from './bundles.ts';

/** How each bond of a dive is let go, by its id: by what works on the device as it stands then. */
export type Partings = ReadonlyMap<string, Parting>;

/**
 * The partings of a dive, of which `mat` are done on the mat. What is out by then is what has to be out in every order: what a bond waits for, and on the mat all
 * that is not of its assembly. The bundles get the tools that follow.
 */
export function partingsOf(
  graph: StepGraph,
  bundles: readonly Bundle[],
  mat: ReadonlySet<number>,
  { rules, basis, from }: { rules: HouseRules; basis: HeatBasis; from: Standing | undefined },
): Partings {
  const { model } = graph;
  const before = [...(from?.removed ?? []), ...(from?.swung ?? []), ...(from?.absent ?? [])];
  const partings = new Map<string, Parting>();
  bundles.forEach((bundle, i) => {
    const bond = bundle.kind === 'release' ? model.bonds.get(bundle.items[0]!) : undefined;
    if (!bond) return;
    const opened = [...before, ...openedBefore(bundles, i)];
    const alone = mat.has(i) || opened.some((id) => id === contextsOf(model, bond.id).at(-1));
    const out = alone ? besides(graph, bond.id) : opened;
    const parting = partingOf(
      model,
      bond,
      rules,
      basis,
      [...new Set(out)].filter((id) => model.parts.has(id)),
    );
    partings.set(bond.id, parting);
    bundle.tool = RELEASES[parting.method].heats ? parting.source : RELEASES[parting.method].first;
  });
  return partings;
}

/** Parts that are lifted or swung before a bundle, in every order. */
function openedBefore(bundles: readonly Bundle[], bundle: number): string[] {
  const found: string[] = [];
  const seen = new Set<number>();
  const stack = [...bundles[bundle]!.needs.keys()];
  for (let at = stack.pop(); at !== undefined; at = stack.pop()) {
    if (seen.has(at)) continue;
    seen.add(at);
    const { kind, items, needs } = bundles[at]!;
    if (kind === 'lift' || kind === 'swing') found.push(...items);
    stack.push(...needs.keys());
  }
  return found;
}

/** Everything that is not of the assembly in which a bond lies. */
function besides({ model }: StepGraph, bond: string): string[] {
  const whole = contextsOf(model, bond).at(-1);
  const family = new Set(whole === undefined ? [] : model.familyOf(whole));
  return model.anatomy.parts.filter((p) => !p.fixed && !family.has(p.id)).map((p) => p.id);
}
