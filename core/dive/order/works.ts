import type { Model } from '../../anatomy/index.ts';
import type { SearchOptions } from '../../schedule/index.ts';
import { ascentNeeds, mirrorOrder } from '../return/needs.ts';
import { ascentSteps } from '../return/returns.ts';
import { RELEASES } from '../house/bondKinds.ts';
import type { Caution } from '../house/cautions.ts';
import type { Exchange } from '../graph/choices.ts';
import { descentSteps, draft, type Draft } from '../entry/descent.ts';
import { plain, relation, rule } from '../graph/reasons.ts';
import type { Closure, StepGraph } from '../graph/stepGraph.ts';
import type { HeatBasis } from '../entry/heating.ts';
import { releaseMethod, type Bundle } from './bundles.ts';
import type { HouseRules } from '../house/rules.ts';
import { WorkList } from './workList.ts';
import { SECONDS } from '../house/times.ts';
import { NoDive, type Condition, type Standing } from '../types.ts';

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

/**
 * Whether metal may part the rim of what a bundle opens, in every order that the bundles allow (A5): the device is
 * isolated by then, or nothing of it is open yet.
 */
function bladesOf(model: Model, bundles: readonly Bundle[], from: Standing | undefined): (i: number) => boolean {
  const known = new Map<number, Set<number>>();
  const earlier = (i: number): Set<number> => {
    let found = known.get(i);
    if (found) return found;
    found = new Set<number>();
    known.set(i, found);
    const next = [i];
    for (let at = next.pop(); at !== undefined; at = next.pop()) {
      for (const j of bundles[at]!.needs.keys())
        if (!found.has(j)) {
          found.add(j);
          next.push(j);
        }
    }
    return found;
  };
  const isolating = model.anatomy.connectors.filter((c) => c.isolatesPower);
  const opens = (b: Bundle) =>
    !b.finished && (b.kind === 'lift' || b.kind === 'swing') && model.parts.get(b.items[0]!)!.face !== 'edge';
  const openings = bundles.flatMap((b, i) => (opens(b) ? [i] : []));
  const openAlready = [...(from?.removed ?? []), ...(from?.swung ?? [])].some(
    (id) => !from!.absent.has(id) && model.parts.get(id)?.face !== 'edge',
  );
  return (i) => {
    const before = earlier(i);
    const cuts = (c: (typeof isolating)[number]) =>
      from?.open.has(c.id) ||
      [...before].some((j) => {
        const { kind, items } = bundles[j]!;
        return kind === 'open' ? items.includes(c.id) : kind === 'lift' && c.kind === 'contact' && items[0] === c.from;
      });
    if (isolating.length > 0 && isolating.every(cuts)) return true;
    return !openAlready && openings.every((k) => !before.has(k) && (k === i || earlier(k).has(i)));
  };
}

function drawsTests(list: WorkList): boolean {
  return list.works.some((w) => w.drafts.some((d) => d.do === 'test'));
}

/**
 * Bundles so that what each needs comes before it, outer layers first.
 * @throws NoDive when these ways in wait for each other; other ways may not
 */
function naturalOrder(bundles: readonly Bundle[]): number[] {
  const done = new Set<number>();
  const order: number[] = [];
  const left = bundles.map((_, i) => i).sort((a, b) => bundles[a]!.rank - bundles[b]!.rank || a - b);
  while (left.length > 0) {
    const at = left.findIndex((i) => [...bundles[i]!.needs.keys()].every((j) => done.has(j)));
    if (at < 0)
      throw new NoDive(
        'order',
        `these wait for each other: ${left.map((i) => `${bundles[i]!.kind} ${bundles[i]!.items.join(' ')}`).join(', ')}; another way in is needed, or the layers and covers want correcting`,
      );
    const [next] = left.splice(at, 1);
    done.add(next!);
    order.push(next!);
  }
  return order;
}

/** What is taken off an assembly that is itself out: done on the mat, at the turn. */
function matBundles(graph: StepGraph, bundles: readonly Bundle[], exchange: Exchange): Set<number> {
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

function prepare(
  model: Model,
  every: readonly Bundle[],
  rules: HouseRules,
  condition: Condition,
  from: Standing | undefined,
): Draft[] {
  const bundles = every.filter((b) => !b.finished);
  const steps: Draft[] = [];
  const released = bundles
    .filter((b) => b.kind === 'release')
    .map((b) => model.bonds.get(b.items[0]!))
    .filter((b) => b !== undefined);
  const lifted = bundles.filter((b) => b.kind === 'lift').map((b) => model.parts.get(b.items[0]!)!);
  const heated = released.some((b) => RELEASES[releaseMethod(model, b, rules)].heats);
  const pried = released.some((b) => b.joins.some((id) => model.parts.get(id)!.kind === 'battery'));
  if (heated || pried || lifted.some((p) => p.kind === 'battery' && released.some((b) => b.joins.includes(p.id)))) {
    steps.push(
      draft('prepare', 'discharge', [], {
        seconds: SECONDS.checkCharge,
        waits: SECONDS.dischargeWait,
        because: [rule('A6')],
        cautions: ['lithium'],
        hint: 'Charge below 25 % before a cell is heated or pried. Below it already: end the wait.',
      }),
    );
  }
  steps.push(
    draft('prepare', 'power-off', [], {
      seconds: SECONDS.powerOff,
      because: [rule('A6')],
      hint: 'Power off fully, not asleep.',
    }),
  );
  const opened = bundles
    .filter((b) => b.kind === 'lift' || b.kind === 'swing')
    .map((b) => model.parts.get(b.items[0]!)!);
  const glass = [...new Set(opened.filter((p) => p.glass).map((p) => p.id))];
  if (glass.length > 0) {
    if (condition.crackedGlass) {
      steps.push(
        draft('prepare', 'tape-glass', glass, {
          tool: 'cover-tape',
          seconds: SECONDS.tapeGlass,
          because: [rule('A6')],
          cautions: ['glass'],
          hint: 'Overlapping clear tape over the whole face.',
        }),
      );
    } else
      steps.push(
        draft('prepare', 'film', glass, {
          tool: 'film',
          seconds: SECONDS.film,
          because: [rule('A6')],
          hint: 'Protective film on glass and lenses.',
        }),
      );
  }
  return steps.filter((d) => !from?.prepared.has(d.do));
}

/** One step for every part that is exchanged or never goes back. */
function renewals(
  model: Model,
  bundles: readonly Bundle[],
  exchange: Exchange,
  rules: HouseRules,
  from: Standing | undefined,
): Draft[] {
  const steps = exchange.targets.map((id) => {
    const part = model.parts.get(id)!;
    const cell = part.kind === 'battery';
    const moved = exchange.transfers.filter((t) => t.from === id).map((t) => model.parts.get(t.part)!.name);
    const cautions: Caution[] = cell ? ['lithium', 'recycling'] : part.kind === 'sensor' ? ['emitter'] : [];
    return draft('turn', 'renew', [id], {
      seconds: SECONDS.renewPart + moved.length * SECONDS.transferLayOut,
      because: [plain('target')],
      cautions,
      hint: `Lay old and new side by side${moved.length > 0 ? `; ${moved.join(', ')} ${moved.length === 1 ? 'moves' : 'move'} across` : '; compare shape, holes and flexes'}.`,
    });
  });
  const discarded = bundles
    .filter((b) => b.kind === 'lift')
    .map((b) => model.parts.get(b.items[0]!)!)
    .filter(
      (p) =>
        !exchange.asked.includes(p.id) &&
        !from?.renewed.has(p.id) &&
        (p.fate === 'renew' || (p.kind === 'battery' && rules.removedBattery === 'never-refit')),
    );
  for (const part of discarded) {
    steps.push(
      draft('turn', 'renew', [part.id], {
        seconds: SECONDS.renewPart,
        because: [part.kind === 'battery' ? plain('houseRules') : relation('singleUse', part.id)],
        cautions: part.kind === 'battery' ? ['lithium', 'recycling'] : [],
        hint: 'The old one never goes back.',
      }),
    );
  }
  return steps;
}

function doubtfulItems(model: Model, closure: Closure): string[] {
  const items = [...closure.actions.values()].map((a) => model.items.get(a.item)!.item);
  return [
    ...new Set(items.filter((item) => 'fate' in item && item.fate === 'renew-if-damaged').map((item) => item.id)),
  ];
}
