import type { SearchOptions } from '../../schedule/index.ts';
import { ascentNeeds, mirrorOrder } from '../return/needs.ts';
import { ascentSteps } from '../return/returns.ts';
import type { Exchange } from '../graph/choices.ts';
import { descentSteps, draft } from '../entry/descent.ts';
import { plain, rule } from '../graph/reasons.ts';
import type { Closure, StepGraph } from '../graph/stepGraph.ts';
import type { HeatBasis } from '../entry/heating.ts';
import type { Bundle } from './bundles.ts';
import type { HouseRules } from '../house/rules.ts';
import { bladesOf } from './blades.ts';
import { matBundles } from './matWork.ts';
import { naturalOrder } from './naturalOrder.ts';
import { prepare } from './prepare.ts';
import { doubtfulItems, renewals } from './renewals.ts';
import { WorkList } from './workList.ts';
import { SECONDS } from '../house/times.ts';
import type { Condition, Standing } from '../types.ts';

/** All that one dive is made from. */
export interface Making {
  graph: StepGraph;
  closure: Closure;
  exchange: Exchange;
  rules: HouseRules;
  condition: Condition;
  from: Standing | undefined;
  options: SearchOptions;
  basis: HeatBasis;
}

/**
 * All work of a dive for the scheduler: the way in, the turn, the way back and the proof. Work on the mat
 * (taking apart an assembly that is out, and putting its spare together) may fill what the device waits for.
 */
export function worksOf(
  { graph, exchange, rules, condition, from, closure, basis }: Making,
  bundles: readonly Bundle[],
  touched: readonly string[],
): { list: WorkList; redraw: (order: readonly number[]) => void } {
  const { model } = graph;
  const list = new WorkList(rules);
  const onMat = matBundles(graph, bundles, exchange);
  const all = bundles.map((_, i) => i);
  const main = all.filter((i) => !onMat.has(i));
  const mat = all.filter((i) => onMat.has(i));
  const order = (first: number, then: number) => {
    if (first !== then) list.works[then]!.before.add(first);
  };
  const hasSwing = (part: string) => bundles.some((b) => b.kind === 'swing' && b.items[0] === part);
  const isTray = (bundle: Bundle) => bundle.face === 'edge' && model.parts.get(bundle.items[0]!)?.kind === 'tray';

  // Prepare.
  const prepared = prepare(model, bundles, rules, condition, from);
  const ready = prepared.map((d, k) => list.add([d], { rank: k - 100 }));
  const off = prepared.findIndex((d) => d.do === 'power-off');
  const discharge = prepared.findIndex((d) => d.do === 'discharge');
  if (off >= 0 && discharge >= 0) list.lag(ready[discharge]!, ready[off]!);

  // The way in.
  const mayBlade = bladesOf(model, bundles, from);
  const down = new Map<number, { first: number; last: number }>();
  for (const i of all) {
    const bundle = bundles[i]!;
    if (bundle.finished) continue;
    const onDevice = !onMat.has(i);
    const phase = !onDevice ? 'turn' : isTray(bundle) ? 'prepare' : 'descent';
    const drafts = descentSteps(model, bundle, phase, {
      rules,
      condition,
      basis,
      stripped: from?.stripped,
      mayBlade: () => mayBlade(i),
    });
    down.set(
      i,
      list.addInSeries(drafts, {
        face: onDevice ? bundle.face : 'edge',
        onDevice,
        rank: onDevice ? bundle.rank : 4000 + bundle.rank,
        opens: onDevice && bundle.kind === 'swing',
        closes: onDevice && bundle.kind === 'lift' && hasSwing(bundle.items[0]!),
      }),
    );
  }
  for (const [i, at] of down) {
    for (const j of bundles[i]!.needs.keys()) if (down.has(j)) order(down.get(j)!.last, at.first);
    if (!onMat.has(i) && !isTray(bundles[i]!)) for (const k of ready) order(k, at.first);
  }

  // The turn: device work of the way back waits for all of the way in.
  const turn = list.add([], { rank: 5000 });
  for (const i of main) if (down.has(i)) order(down.get(i)!.last, turn);
  for (const k of ready) order(k, turn);
  const renewWork = new Map<string, number>();
  const contextsOf = (item: string): string[] => {
    const found: string[] = [];
    for (let context = model.contextOf(item); context !== null; context = model.contextOf(context)) found.push(context);
    return found;
  };
  for (const d of renewals(model, bundles, exchange, rules, from)) {
    const id = d.items[0]!;
    const work = list.add([d], { onDevice: false, rank: 5001 });
    renewWork.set(id, work);
    const lift = bundles.findIndex((b) => b.kind === 'lift' && b.items[0] === id);
    if (down.has(lift)) order(down.get(lift)!.last, work);
    for (const i of mat)
      if (down.has(i) && contextsOf(bundles[i]!.items[0]!).includes(id)) order(down.get(i)!.last, work);
  }
  const doubtful = doubtfulItems(model, closure);
  if (doubtful.length > 0) {
    const work = list.add(
      [
        draft('turn', 'inspect', doubtful, {
          seconds: SECONDS.inspect,
          because: [plain('mayBeDamaged')],
          hint: 'Renew what is torn, bent or deformed.',
        }),
      ],
      { rank: 5002 },
    );
    for (const { last } of down.values()) order(last, work);
    order(work, turn);
  }

  // The way back, drawn up first in the order that mirrors the way in.
  const natural = naturalOrder(bundles);
  const openTests = touched.filter((id) => !model.anatomy.functions.find((f) => f.id === id)!.afterClosing);
  const limb = (indices: readonly number[], phase: 'ascent' | 'turn') => {
    const needs = ascentNeeds(graph, bundles, indices);
    const mirrored = mirrorOrder(
      bundles,
      natural.filter((i) => indices.includes(i)),
      needs,
    );
    const drawn = (bundleOrder: readonly number[]) =>
      ascentSteps({
        graph,
        bundles,
        order: bundleOrder,
        rules,
        phase,
        replaced: new Set(exchange.targets),
        transferred: new Set(phase === 'turn' ? exchange.transfers.map((t) => t.part) : []),
        openTests: phase === 'ascent' ? openTests : [],
        from,
      });
    return { needs, mirrored, drawn };
  };
  const back = new Map<number, { clean: number | null; main: number }>();
  const limbs = [
    { ...limb(mat, 'turn'), onDevice: false },
    { ...limb(main, 'ascent'), onDevice: true },
  ];
  for (const { mirrored, drawn, onDevice } of limbs) {
    const returns = drawn(mirrored);
    for (const [place, i] of mirrored.entries()) {
      const bundle = bundles[i]!;
      const { clean, main: drafts } = returns.get(i)!;
      const rank = (onDevice ? 6000 : 5500) + place;
      const face = onDevice ? bundle.face : 'edge';
      const cleanWork = clean ? list.add([clean], { face, onDevice, rank: rank - 0.5 }) : null;
      const work = list.add(drafts, {
        face,
        onDevice,
        rank,
        bundle: i,
        opens: onDevice && bundle.kind === 'lift' && hasSwing(bundle.items[0]!),
        closes: onDevice && bundle.kind === 'swing',
      });
      back.set(i, { clean: cleanWork, main: work });
      if (cleanWork !== null) list.lag(cleanWork, work);
    }
  }
  for (const { needs, onDevice } of limbs) {
    for (const [then, firsts] of needs) {
      const at = back.get(then)!;
      for (const work of at.clean === null ? [at.main] : [at.clean, at.main]) {
        for (const first of firsts) order(back.get(first)!.main, work);
        if (onDevice) order(turn, work);
        else
          for (const context of contextsOf(bundles[then]!.items[0]!))
            if (renewWork.has(context)) order(renewWork.get(context)!, work);
      }
    }
  }
  for (const i of main) {
    const bundle = bundles[i]!;
    if (bundle.kind !== 'lift') continue;
    const id = bundle.items[0]!;
    if (renewWork.has(id)) order(renewWork.get(id)!, back.get(i)!.main);
    for (const j of mat)
      if (contextsOf(bundles[j]!.items[0]!).includes(id)) order(back.get(j)!.main, back.get(i)!.main);
  }

  // Prove.
  const presses = (i: number) =>
    list.works[i]!.drafts.filter((d) => (d.do === 'press' || d.do === 'cure') && d.waits > 0);
  const pressed = list.works.flatMap((_, i) => (presses(i).length > 0 ? [i] : []));
  const closed = touched.filter((id) => !openTests.includes(id) || !drawsTests(list));
  const finals: number[] = [];
  if (closed.length > 0) {
    finals.push(
      list.add(
        [
          draft('prove', 'power-on', [], {
            seconds: SECONDS.powerOn,
            because: [rule('G7')],
            hint: 'Closed and complete.',
          }),
          draft('prove', 'test', closed, { seconds: closed.length * SECONDS.perTest, because: [rule('G7')] }),
        ],
        { rank: 9000 },
      ),
    );
  }
  const bonded = [
    ...new Set([...(from?.pressed ?? []), ...pressed.flatMap((i) => presses(i).flatMap((d) => d.items))]),
  ];
  if (bonded.length > 0) {
    const items = bonded;
    const g6 = list.add(
      [
        draft('prove', 'gate', items, {
          gate: 'G6',
          because: [rule('G6')],
          seconds: SECONDS.gate,
          hint: 'The press or cure of every new bond has run its time.',
        }),
      ],
      { rank: 9001 },
    );
    for (const i of pressed) list.lag(i, g6);
    finals.push(g6);
  }
  for (const work of finals) for (const at of back.values()) order(at.main, work);
  const g7 = list.add(
    [
      draft('prove', 'gate', [...touched], {
        gate: 'G7',
        because: [rule('G7')],
        seconds: SECONDS.gate,
        hint: 'Screws even, functions tested, deviations explained: sign.',
      }),
    ],
    { rank: 9002 },
  );
  for (let i = 0; i < g7; i++) order(i, g7);

  // Gates and tests belong where they are first due in the order that was found.
  const redraw = (found: readonly number[]) => {
    for (const { drawn, mirrored } of limbs) {
      const bundleOrder = found.flatMap((w) => {
        const { bundle } = list.works[w]!;
        return bundle !== null && mirrored.includes(bundle) ? [bundle] : [];
      });
      for (const [i, { clean, main: drafts }] of drawn(bundleOrder)) {
        const at = back.get(i)!;
        list.works[at.main]!.drafts = clean && at.clean === null ? [clean, ...drafts] : drafts;
        if (at.clean !== null) list.works[at.clean]!.drafts = clean ? [clean] : [];
      }
    }
  };
  return { list, redraw };
}

function drawsTests(list: WorkList): boolean {
  return list.works.some((w) => w.drafts.some((d) => d.do === 'test'));
}
