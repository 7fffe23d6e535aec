import type { Bond, Model } from '../../anatomy/index.ts';
import { BONDS } from '../../kinds/index.ts';
import { newParts, type Exchange } from '../graph/choices.ts';
import type { Closure, StepGraph } from '../graph/stepGraph.ts';
import type { Bundle } from '../order/bundles.ts';
import type { PartingReason } from '../hints.ts';
import type { HouseRules } from '../house/rules.ts';
import type { Loss, Standing } from '../types.ts';

/**
 * Functions whose tests the dive calls for: the one list that the planner splits, that gates ask and that every page counts.
 * @param worked what worked before it: that has to work again, whether the dive touches it or not
 */
export function functionsAsked(
  graph: StepGraph,
  closure: Closure,
  bundles: readonly Bundle[],
  { from, worked }: { from: Standing | undefined; worked: readonly string[] },
): string[] {
  const { model } = graph;
  const touched = new Set<string>(worked);
  const connector = (id: string) => {
    for (const f of model.connectors.get(id)!.carries) touched.add(f);
  };
  for (const action of closure.actions.values()) if (action.kind === 'open') connector(action.item);
  for (const bundle of bundles) {
    if (bundle.kind !== 'lift' && bundle.kind !== 'swing') continue;
    const part = bundle.items[0]!;
    for (const id of model.familyOf(part)) for (const f of model.parts.get(id)!.functions) touched.add(f);
    graph.contactsBroken(part, bundle.kind).forEach(connector);
  }
  for (const id of from?.touched ?? []) {
    if (model.connectors.has(id)) connector(id);
    if (model.parts.has(id))
      for (const p of model.familyOf(id)) for (const f of model.parts.get(p)!.functions) touched.add(f);
  }
  return model.anatomy.functions.filter((f) => f.unplaced || touched.has(f.id)).map((f) => f.id);
}

/** Items that never go back and need a new one at hand. */
export function renewed(
  graph: StepGraph,
  bundles: readonly Bundle[],
  exchange: Exchange,
  rules: HouseRules,
  from: Standing | undefined,
): string[] {
  const { model } = graph;
  const renew = new Set<string>([...exchange.asked, ...(from?.renewed ?? []), ...(from?.stripped ?? [])]);
  for (const bundle of bundles) {
    for (const id of bundle.items) {
      const { type, item } = model.items.get(id)!;
      if (type === 'part' && bundle.kind === 'lift') {
        if (item.fate === 'renew' || (item.kind === 'battery' && rules.removedBattery === 'never-refit')) renew.add(id);
        for (const bond of model.anatomy.bonds)
          if (BONDS.of(bond.kind).byItself && bond.fate === 'renew' && bond.joins.includes(id)) renew.add(bond.id);
      }
      if (
        (type === 'bond' || type === 'fastener') &&
        (item.fate === 'renew' || (type === 'fastener' && item.threadlock))
      )
        renew.add(id);
    }
  }
  return [...renew];
}

/** What is swung or lifted of the outside; a tray that is ejected has a seal of its own, which it keeps. */
function opensOutside(graph: StepGraph, bundles: readonly Bundle[], from: Standing | undefined): boolean {
  const moved = bundles.flatMap((b) => (b.kind === 'ease' || b.kind === 'swing' || b.kind === 'lift' ? b.items : []));
  const before = from ? [...from.touched] : [];
  return [...moved, ...before].some((id) => graph.model.parts.has(id) && graph.isOuter(id));
}

/** A seam that is cut unsoftened may cost the panel, or the cell, that it holds: a choice to be agreed to before. */
function riskOf(model: Model, bond: Bond, why: PartingReason): Loss {
  const parts = bond.joins.map((id) => model.parts.get(id)!).filter((p) => !p.fixed);
  const cell = parts.some((p) => p.kind === 'battery');
  return {
    function: 'cold-seam',
    item: bond.id,
    because: { code: 'cut-cold', item: bond.id, why },
    remedy: { code: cell ? 'cold-cell' : 'cold-panel' },
  };
}

/** What the exchange costs: pairings, the moisture rating, data. */
export function lossesOf(
  graph: StepGraph,
  bundles: readonly Bundle[],
  exchange: Exchange,
  from: Standing | undefined,
  cold: (bond: string) => PartingReason | null,
): Loss[] {
  const { model } = graph;
  const losses: Loss[] = [];
  const family = newParts(model, exchange);
  for (const part of model.anatomy.parts) {
    for (const pair of part.pairing) {
      // The pair parts company when exactly one of the two is exchanged; a new pair must be matched as well.
      if (!family.has(part.id) && !family.has(pair.with)) continue;
      const renewed = family.has(part.id) ? part.id : pair.with;
      const other = renewed === part.id ? pair.with : part.id;
      // The protection board is what is paired, and it stays.
      if (exchange.transplant.includes(renewed)) continue;
      for (const f of pair.loses) {
        losses.push({
          function: f,
          because: { code: 'paired', part: renewed, item: other },
          remedy: { code: 'quoted', words: pair.remedy },
        });
      }
    }
  }
  if (model.anatomy.body.ingress && opensOutside(graph, bundles, from)) {
    losses.push({
      function: 'moisture-rating',
      because: { code: 'seal-opened', ingress: model.anatomy.body.ingress },
      remedy: { code: 'new-seal' },
    });
  }
  for (const bundle of bundles) {
    const bond = bundle.kind === 'release' && !bundle.finished ? model.bonds.get(bundle.items[0]!) : undefined;
    const why = bond ? cold(bond.id) : null;
    if (bond && why !== null) losses.push(riskOf(model, bond, why));
  }
  for (const id of exchange.transplant)
    losses.push({
      function: 'original-cell',
      because: { code: 'new-cell-old-board', part: id },
      remedy: { code: 'cell-not-makers' },
    });
  if (exchange.asked.some((t) => model.parts.get(t)!.kind === 'board')) {
    losses.push({
      function: 'data',
      because: { code: 'storage-on-board' },
      remedy: { code: 'copy-data' },
    });
  }
  return losses;
}
