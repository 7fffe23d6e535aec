import type { Exchange } from '../graph/choices.ts';
import type { StepGraph } from '../graph/stepGraph.ts';
import type { Bundle } from './bundles.ts';

/** What is taken off an assembly that is itself out: done on the mat, at the turn. */
export function matBundles(graph: StepGraph, bundles: readonly Bundle[], exchange: Exchange): Set<number> {
  const { model } = graph;
  const outside = (item: string): boolean => {
    for (let context = model.contextOf(item); context !== null; context = model.contextOf(context))
      if (exchange.targets.includes(context)) return true;
    return false;
  };
  const mat = new Set(bundles.flatMap((b, i) => (b.items.every(outside) ? [i] : [])));
  for (let shrunk = true; shrunk; ) {
    shrunk = false;
    bundles.forEach((bundle, i) => {
      if (mat.has(i)) return;
      for (const j of bundle.needs.keys()) shrunk = mat.delete(j) || shrunk;
    });
  }
  return mat;
}
