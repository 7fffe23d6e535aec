import type { Guard } from '../../schedule/index.ts';
import { BONDS } from '../../kinds/index.ts';
import { isThreaded } from '../graph/pose.ts';
import type { StepGraph } from '../graph/stepGraph.ts';
import type { Standing } from '../types.ts';
import type { Bundle } from './bundles.ts';

/** Where the works of each bundle stand, by bundle index. */
export interface Sites {
  graph: StepGraph;
  bundles: readonly Bundle[];
  from: Standing | undefined;
  /** Bundles that are worked on the device. */
  main: readonly number[];
  down: ReadonlyMap<number, { first: number; last: number }>;
  back: ReadonlyMap<number, { main: number }>;
  /** Works by which what hangs is laid down for a turn-over, by its part. */
  taped: ReadonlyMap<string, number>;
}

const OPENS: readonly Bundle['kind'][] = ['ease', 'swing', 'lift'];

/** The bundle that does this to an item on the device, or -1. */
function bundleAt({ bundles, main }: Sites, kind: Bundle['kind'], item: string): number {
  return main.find((i) => bundles[i]!.kind === kind && bundles[i]!.items.includes(item)) ?? -1;
}

/** A3: the device is not turned over, nor heated, while a part is eased or swung open. */
export function guardSwung(sites: Sites): Guard[] {
  const { bundles, main, from, down, back, taped } = sites;
  const guards: Guard[] = [];
  const parts = new Set(main.filter((i) => OPENS.includes(bundles[i]!.kind)).map((i) => bundles[i]!.items[0]!));
  for (const part of parts) {
    const stages = OPENS.map((kind) => bundleAt(sites, kind, part));
    const [ease, swing, lift] = stages as [number, number, number];
    const first = ease >= 0 ? ease : swing;
    if (first < 0) continue;
    const closes = [taped.get(part) ?? back.get(first)!.main];
    const leaves = down.get(lift)?.last;
    const opens = [ease, swing].filter((i) => i >= 0 && down.has(i)).map((i) => down.get(i)!.last);
    const openAlready = from !== undefined && (from.swung.has(part) || from.eased.has(part));
    if (opens.length > 0 || openAlready)
      guards.push({
        after: opens.slice(0, 1),
        until: leaves === undefined ? closes : [leaves, ...closes],
        hangs: true,
      });
    if (lift >= 0) guards.push({ after: [back.get(lift)!.main], until: closes, hangs: true });
  }
  return guards;
}

/**
 * R8: the device is not turned over while a part lies in it that nothing holds any more: all that held it is released,
 * and nothing lies over it. A part that nothing ever held, and nothing covered, sits by its own fit.
 * @returns the guards, and the parts that could be taken out to be rid of them
 */
export function guardLoose(sites: Sites): { guards: Guard[]; left: string[] } {
  const { graph, from, down, back } = sites;
  const guards: Guard[] = [];
  const left: string[] = [];
  for (const part of graph.model.anatomy.parts) {
    if (part.fixed || part.within !== null || part.face === 'edge' || from?.absent.has(part.id)) continue;
    if (isThreaded(graph.model, part)) continue;
    const held = graph.holdsOf(part.id).filter((id) => !from?.absent.has(id));
    const stuck = graph.model.anatomy.bonds.some(
      (b) => BONDS.of(b.kind).byItself && b.joins.includes(part.id) && !from?.released.has(b.id),
    );
    const releasing = held.map((id) => Math.max(bundleAt(sites, 'loosen', id), bundleAt(sites, 'release', id)));
    const lift = bundleAt(sites, 'lift', part.id);
    const swing = bundleAt(sites, 'swing', part.id);
    const gone = from?.removed.has(part.id) || from?.swung.has(part.id);
    // It falls out of any side that stands open.
    for (const covers of graph.coversBySide(part)) {
      if (held.length + covers.length === 0) continue;
      const uncovering = covers.map((id) => Math.max(bundleAt(sites, 'swing', id), bundleAt(sites, 'lift', id)));
      const holding = [...releasing, ...uncovering];
      // Something that is never undone holds it all the while.
      if (!stuck && holding.every((i) => i >= 0) && !gone) {
        const after = holding.filter((i) => down.has(i)).map((i) => down.get(i)!.last);
        const out = [swing, lift].filter((i) => down.has(i)).map((i) => down.get(i)!.last);
        const again = holding.map((i) => back.get(i)!.main);
        guards.push({ after, until: out.length > 0 ? out : again, hangs: false });
        if (out.length === 0) left.push(part.id);
      }
      const returns = [bundleAt(sites, 'ease', part.id), swing, lift].find((i) => i >= 0);
      if (returns === undefined || holding.some((i) => i < 0)) continue;
      const laid = back.get(returns)!.main;
      const again = holding.map((i) => back.get(i)!.main).filter((work) => work !== laid);
      if (!joinsAtOnce(graph, part.id)) guards.push({ after: [laid], until: again, hangs: false });
    }
  }
  return { guards, left };
}

/** Is a part held as soon as it is laid in its place, by a bond that closes with it or hooks entered first? */
function joinsAtOnce({ model }: StepGraph, part: string): boolean {
  return (
    model.anatomy.bonds.some(
      (b) => !BONDS.of(b.kind).over && model.pressedBy(b.id).length === 0 && b.joins.includes(part),
    ) || model.anatomy.latches.some((l) => l.mate === 'first' && l.joins.includes(part))
  );
}
