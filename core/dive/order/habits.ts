import type { Part } from '../../anatomy/index.ts';
import { keyOf } from '../graph/keys.ts';
import { rule, uniqueReasons, type Reason } from '../graph/reasons.ts';
import type { StepGraph } from '../graph/stepGraph.ts';
import { reaches } from './precedence.ts';
import { isCellPlug, isOutside, sideOf, type Bundle } from './bundles.ts';

/** Notes that one bundle had better come before another, unless that cannot be; says whether it could. */
type Habit = (first: number, then: number) => boolean;

/**
 * Good order of the way in that geometry does not demand: power is isolated as soon as it can be reached; a part's
 * flexes are opened before what holds it, so that nothing hangs on them (R4); a seam is cut when the screws of its
 * part are out; flexes are opened in the reverse of their mating order.
 * @param lead the side of the device that is isolated first, where several are
 */
export function addHabits(graph: StepGraph, bundles: Bundle[], lead: string | null = null): void {
  const habit: Habit = (first, then) => {
    if (first === then) return false;
    if (bundles[then]!.needs.has(first)) return true;
    if (reaches(bundles, first, then)) return false;
    bundles[then]!.needs.set(first, { physical: false });
    return true;
  };
  seamsAfterScrews(graph, bundles, habit);
  bareBeforeFreed(graph, bundles, habit);
  ordersWithTheirHolds(graph, bundles, habit);
  isolatorsInTurn(graph, bundles, habit, lead);
  isolationFirst(graph, bundles, habit);
  flexesBeforeHolds(graph, bundles, habit);
  reverseOfMating(graph, bundles, habit);
}

/** Notes why a bundle stands where it does, once. */
function because(bundle: Bundle, reason: Reason): void {
  bundle.because = uniqueReasons([...bundle.because, reason]);
}

function seamsAfterScrews({ model }: StepGraph, bundles: readonly Bundle[], habit: Habit): void {
  bundles.forEach((bundle, then) => {
    const bond = bundle.kind === 'release' ? model.bonds.get(bundle.items[0]!) : undefined;
    if (!bond) return;
    bundles.forEach((other, first) => {
      if (other.kind === 'loosen' && model.fasteners.get(other.items[0]!)!.holds.some((id) => bond.joins.includes(id)))
        habit(first, then);
    });
  });
}

/** R26: what lies on a part is off, or stands open, before the adhesive that holds the part is let go. */
function bareBeforeFreed(graph: StepGraph, bundles: readonly Bundle[], habit: Habit): void {
  bundles.forEach((bundle, then) => {
    if (bundle.kind !== 'release' || !graph.model.bonds.has(bundle.items[0]!)) return;
    const freed = graph.model.freedBy(bundle.items[0]!);
    for (const cover of (freed && graph.covers.get(freed)) ?? [])
      bundles.forEach((other, first) => {
        if ((other.kind === 'lift' || other.kind === 'swing') && other.items[0] === cover) habit(first, then);
      });
  });
}

/** What an order says of a part goes for what holds it as well: a plate that grips a cover is off before its screws are turned. */
function ordersWithTheirHolds(graph: StepGraph, bundles: readonly Bundle[], habit: Habit): void {
  for (const { first, then } of graph.model.anatomy.orders) {
    if (!graph.model.parts.has(first) || !graph.model.parts.has(then)) continue;
    const off = bundles.findIndex((b) => b.kind === 'lift' && b.items[0] === first);
    if (off < 0) continue;
    const holds = new Set(graph.holdsOf(then));
    bundles.forEach((bundle, i) => {
      const own = (bundle.kind === 'loosen' || bundle.kind === 'release') && bundle.items.every((id) => holds.has(id));
      if (own) habit(off, i);
    });
  }
}

/**
 * Of several that cut the power off, one side of the device after the other, the plugs of the cells first: what is left then feeds
 * only what a cell still feeds.
 * @param lead the side that is the first, as `sideOf` says it
 */
function isolatorsInTurn(graph: StepGraph, bundles: readonly Bundle[], habit: Habit, lead: string | null): void {
  const rank = (i: number) => Number(sideOf(bundles[i]!) !== lead) * 2 + Number(!isCellPlug(graph, bundles[i]!));
  const cutting = graph.isolation
    .map((key) => bundles.findIndex((b) => keyOf(b.kind, b.items[0]!) === key))
    .filter((i) => i >= 0)
    .sort((a, b) => rank(a) - rank(b));
  for (let i = 0; i + 1 < cutting.length; i++) habit(cutting[i]!, cutting[i + 1]!);
}

function isolationFirst(graph: StepGraph, bundles: readonly Bundle[], habit: Habit): void {
  for (const key of graph.isolation) {
    const isolation = bundles.findIndex((b) => keyOf(b.kind, b.items[0]!) === key);
    if (isolation < 0) continue;
    // A part that is lifted off its last flex (R5) does not wait for what that flex has to be opened for.
    const leavesSooner = (bundle: Bundle) =>
      bundle.kind === 'lift' &&
      (graph.model.parts.get(bundle.items[0]!)!.swing?.tether ?? []).some((id) => {
        const tether = bundles.findIndex((b) => b.kind === 'open' && b.items[0] === id);
        return tether >= 0 && reaches(bundles, isolation, tether);
      });
    // R12: with the driver in hand that lays the plug bare, the screws beside it come out too; a driver may go in live.
    const inHand = new Set(
      bundles.flatMap((b, i) => (b.kind === 'loosen' && reaches(bundles, isolation, i) ? [b.tool] : [])),
    );
    const beside = (bundle: Bundle) => bundle.kind === 'loosen' && inHand.has(bundle.tool);
    bundles.forEach((bundle, then) => {
      if (bundle.face === 'edge' || leavesSooner(bundle) || beside(bundle)) return;
      if (graph.isolation.includes(keyOf(bundle.kind, bundle.items[0]!))) return;
      // A cover of the other side may be off before.
      if (sideOf(bundle) !== sideOf(bundles[isolation]!) && isOutside(graph, bundle)) return;
      habit(isolation, then);
    });
  }
}

function flexesBeforeHolds(graph: StepGraph, bundles: readonly Bundle[], habit: Habit): void {
  const { model } = graph;
  bundles.forEach((bundle, then) => {
    if (bundle.kind !== 'loosen' || bundle.face === 'edge') return;
    const held = new Set(
      bundle.items.flatMap((id) => model.fasteners.get(id)!.holds).flatMap((id) => model.familyOf(id)),
    );
    bundles.forEach((other, first) => {
      if (other.kind !== 'open') return;
      const c = model.connectors.get(other.items[0]!)!;
      if (held.has(c.from) !== held.has(c.to)) habit(first, then);
    });
  });
  const swings = (part: Part) => bundles.some((b) => b.kind === 'swing' && b.items[0] === part.id);
  bundles.forEach((bundle) => {
    if (bundle.kind !== 'lift' && bundle.kind !== 'swing') return;
    const part = model.parts.get(bundle.items[0]!)!;
    // A tether stays until its part stands open.
    const stays = new Set(swings(part) ? [...part.swing!.tether, ...(part.swing!.gap?.reaches ?? [])] : []);
    const flexes = bundles.flatMap((b, i) =>
      b.kind === 'open' && !stays.has(b.items[0]!) && graph.joins(part.id).connectors.includes(b.items[0]!) ? [i] : [],
    );
    const holds = bundles.flatMap((b, i) =>
      b.kind === 'release' && graph.holdsOf(part.id).includes(b.items[0]!) ? [i] : [],
    );
    for (const flex of flexes) {
      for (const hold of holds) habit(flex, hold);
      // Held only by screws of others that stand in it: one of them waits for the flex, so that the last one does.
      const screws = bundles
        .flatMap((b, i) => (b.kind === 'loosen' && graph.holdsOf(part.id).includes(b.items[0]!) ? [i] : []))
        .sort((a, b) => bundles[b]!.rank - bundles[a]!.rank);
      if (holds.length === 0 && !screws.some((i) => reaches(bundles, i, flex))) screws.some((i) => habit(flex, i));
      if (holds.some((hold) => reaches(bundles, hold, flex))) because(bundles[flex]!, rule('R4'));
    }
  });
}

function reverseOfMating({ model }: StepGraph, bundles: readonly Bundle[], habit: Habit): void {
  for (const list of model.anatomy.mateOrder) {
    const present = list
      .map((id) => bundles.findIndex((b) => b.kind === 'open' && b.items[0] === id))
      .filter((i) => i >= 0);
    for (let i = 0; i + 1 < present.length; i++) habit(present[i + 1]!, present[i]!);
  }
}
