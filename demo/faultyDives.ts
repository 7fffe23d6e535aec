import type { Model } from '../core/anatomy/index.ts';
import {
  diagnose,
  failedNow,
  LOOK,
  needsOn,
  wayBackOrder,
  type CauseKind,
  type DiveRecord,
  type Stage,
  type TestMade,
} from '../core/diagnosis/index.ts';
import { accessOf, planDive, type Access, type Plan } from '../core/dive/index.ts';
import { chanceOf } from '../core/explore/index.ts';
import { exactOdds, type ShopTruth } from './shopTruth.ts';

/**
 * A made-up shop whose dives go wrong, to judge the diagnosis by. It shares no numbers and no code with the network:
 * it has its own kinds of fault, its own rates and its own idea of what a fault does.
 */
export interface FaultyDive {
  /** Items that are guilty, one or two; of a dive that did nothing wrong, the old fault. */
  guilty: string[];
  /** Of which kind the first of them is. */
  kind: CauseKind;
  /** The dive is to blame. */
  touched: boolean;
  stage: Exclude<Stage, 'before'>;
  record: DiveRecord;
  /** Functions that are truly down. */
  down: ReadonlySet<string>;
}

/** How often a dive of this shop goes wrong in each way, for one item. Own numbers of this file. */
const OWN_RATES: Record<Exclude<CauseKind, 'was-bad-before'>, number> = {
  'not-seated': 0.026,
  dirty: 0.007,
  torn: 0.012,
  pinched: 0.012,
  'wrong-screw': 0.0022,
  loose: 0.003,
  'left-out': 0.004,
  broken: 0.009,
  'spare-bad': 0.06,
};

/** How the shop is set: shares of its dives. */
export const SHOP_FAULTS = { double: 0.1, wrongAnswers: 0.05, nothingTouched: 0.15 } as const;

export type ShopRates = Record<keyof typeof OWN_RATES, number>;

/** The rates of one shop: each up to three times higher or lower than usual. */
export function shopRates(random: () => number): ShopRates {
  return Object.fromEntries(
    Object.entries(OWN_RATES).map(([kind, rate]) => [kind, rate * 3 ** (2 * random() - 1)]),
  ) as ShopRates;
}

/** What a fault of this kind takes down, by a lot drawn for each function. */
const TAKES_DOWN: Record<CauseKind, number> = {
  'not-seated': 0.92,
  dirty: 0.6,
  torn: 0.85,
  pinched: 0.75,
  'wrong-screw': 0.6,
  loose: 0.5,
  'left-out': 0.5,
  broken: 0.85,
  'spare-bad': 0.8,
  'was-bad-before': 0.85,
};

interface Fault {
  item: string;
  kind: CauseKind;
  weight: number;
}

/** Every item that a plan handles. */
export const handledBy = (plan: Plan, model: Model): Set<string> =>
  new Set(plan.steps.flatMap((s) => s.items).filter((id) => model.items.has(id)));

/** Functions that an item of this device serves, as its maker would say. */
function servedBy(model: Model, item: string, random: () => number): string[] {
  const { anatomy } = model;
  const connector = model.connectors.get(item);
  const part = model.parts.get(item);
  const whole = anatomy.functions.map((f) => f.id);
  if (connector) return connector.isolatesPower && random() < 0.5 ? whole : connector.carries;
  if (part) {
    if (part.kind === 'battery' && random() < 0.5) return whole;
    const own = model.familyOf(item).flatMap((id) => model.parts.get(id)!.functions);
    // Now and then it takes what only passes through it along.
    const passing = anatomy.connectors.filter((c) => c.from === item).flatMap((c) => c.carries);
    return random() < 0.3 ? [...new Set([...own, ...passing])] : own;
  }
  const fastener = model.fasteners.get(item);
  if (fastener) {
    const at = (c: { at: readonly [number, number] }) => Math.hypot(c.at[0] - fastener.at[0], c.at[1] - fastener.at[1]);
    const [nearest] = [...anatomy.connectors].sort((a, b) => at(a) - at(b));
    return nearest && at(nearest) < 12 ? nearest.carries : [];
  }
  const joins = model.bonds.get(item)?.joins ?? model.latches.get(item)?.joins ?? [];
  return joins.filter((id) => !model.parts.get(id)!.fixed).flatMap((id) => model.parts.get(id)!.functions);
}

function faultsOf(model: Model, plan: Plan, rates: ShopRates, stage: Stage): Fault[] {
  const handled = handledBy(plan, model);
  const spares = new Set(plan.replace.flatMap((id) => model.familyOf(id)));
  for (const t of plan.transfers) spares.delete(t.part);
  const faults: Fault[] = [];
  for (const id of handled) {
    const add = (kind: keyof ShopRates, times = 1) => faults.push({ item: id, kind, weight: rates[kind] * times });
    const part = model.parts.get(id);
    if (model.connectors.has(id)) {
      const contact = model.connectors.get(id)!.kind === 'contact';
      add('not-seated', contact ? 0.5 : 1);
      add('dirty');
      if (!contact) add('torn');
      if (!contact && stage === 'closed') add('pinched');
    } else if (part && !part.fixed) {
      if (spares.has(id)) add('spare-bad');
      else add('broken', part.kind === 'display' ? 2 : 1);
    } else if (model.fasteners.has(id)) {
      add('wrong-screw');
      add('loose');
    } else if (model.bonds.has(id)) add('left-out');
  }
  return faults;
}

function drawn<T extends { weight: number }>(list: readonly T[], random: () => number): T {
  let left = random() * list.reduce((sum, f) => sum + f.weight, 0);
  for (const f of list) {
    left -= f.weight;
    if (left <= 0) return f;
  }
  return list.at(-1)!;
}

/** Faults that were there before, in what the dive leaves alone. */
function oldFaults(model: Model, plan: Plan): Fault[] {
  const handled = handledBy(plan, model);
  const spares = new Set(plan.replace.flatMap((id) => model.familyOf(id)));
  return [...model.parts.values(), ...model.connectors.values()]
    .filter((i) => !handled.has(i.id) && !spares.has(i.id))
    .map((i): Fault => ({ item: i.id, kind: 'was-bad-before', weight: model.parts.has(i.id) ? 3 : 1 }));
}

/** One dive that went wrong, as far as its tests show it. */
export function faultyDive(
  model: Model,
  plan: Plan,
  access: Access,
  rates: ShopRates,
  random: () => number,
): FaultyDive {
  const open = plan.steps.find((s) => s.phase === 'ascent' && s.do === 'test');
  for (;;) {
    const stage = open && random() < 0.5 ? ('open' as const) : ('closed' as const);
    const handled = handledBy(plan, model);
    const touched = random() >= SHOP_FAULTS.nothingTouched;
    const pool = touched ? faultsOf(model, plan, rates, stage) : oldFaults(model, plan);
    if (pool.length === 0) continue;
    const faults = [drawn(pool, random)];
    if (touched && random() < SHOP_FAULTS.double) faults.push(drawn(pool, random));
    const down = new Set(
      faults.flatMap((f) => servedBy(model, f.item, random).filter(() => random() < TAKES_DOWN[f.kind])),
    );
    const after = new Set(model.anatomy.functions.filter((f) => f.afterClosing).map((f) => f.id));
    const lost = new Set(plan.losses.map((l) => l.function));
    // The one list of the intake is gone through, whoever is to blame.
    const asked = model.anatomy.functions
      .map((f) => f.id)
      .filter((id) => !lost.has(id) && (stage === 'closed' || !after.has(id)));
    const tests = asked.map((id) => judged(id, down, stage, random));
    // Nobody looks for a fault that shows in nothing, and a false alarm alone is cleared by testing again.
    if (!tests.some((t) => t.failed && down.has(t.function))) continue;
    const device = access.after(stage === 'open' ? open!.n : plan.steps.length);
    const record = { handled, device, tests, telltales: [], sound: new Set<string>() };
    return { guilty: [...new Set(faults.map((f) => f.item))], kind: faults[0]!.kind, touched, stage, record, down };
  }
}

/** Every way in which an item may serve functions, with its chance: what `servedBy` draws, told instead of drawn. */
function serving(model: Model, item: string): { chance: number; on: ReadonlySet<string> }[] {
  // The lots that it draws are below a half or not, and below three tenths or not.
  const lots = [
    { lot: 0.1, chance: 0.3 },
    { lot: 0.4, chance: 0.2 },
    { lot: 0.9, chance: 0.5 },
  ];
  const ways = new Map<string, { chance: number; on: ReadonlySet<string> }>();
  for (const first of lots)
    for (const second of lots) {
      const drawn = [first.lot, second.lot];
      const on = servedBy(model, item, () => drawn.shift() ?? 0.9);
      const key = [...on].sort().join();
      const known = ways.get(key)?.chance ?? 0;
      ways.set(key, { chance: known + first.chance * second.chance, on: new Set(on) });
    }
  return [...ways.values()];
}

/** All that is so of this shop's dives, for who judges a diagnosis of them. */
export function truthOf(model: Model, plan: Plan, rates: ShopRates, stage: Exclude<Stage, 'before'>): ShopTruth {
  const ways = new Map<string, ReturnType<typeof serving>>();
  return {
    own: faultsOf(model, plan, rates, stage),
    old: oldFaults(model, plan),
    ...SHOP_FAULTS,
    bears: ({ item }) => {
      const known = ways.get(item) ?? serving(model, item);
      ways.set(item, known);
      return known;
    },
    takesDown: (kind) => TAKES_DOWN[kind],
  };
}

/** A test as a person judges it: wrong now and then. */
export function judged(id: string, down: ReadonlySet<string>, stage: Stage, random: () => number): TestMade {
  const failed = down.has(id) !== random() < SHOP_FAULTS.wrongAnswers;
  return { function: id, failed, stage };
}

/** How a technician looks for what is wrong. */
export type Searching = 'order of the way back' | 'nibrel' | 'told the true rates';

/** Chance that somebody who looks at a guilty item sees it. Own number of this file. */
const SEES = 0.97;
/** Looks after which the search is given up; what was opened by then is paid for. */
const MOST_LOOKS = 120;

/**
 * s until all that is guilty is found: getting there, looking, and testing once more. After every look that finds
 * something the tests that failed are made anew.
 */
export function searched(
  { model, plan, access }: { model: Model; plan: Plan; access: Access },
  dive: FaultyDive,
  how: Searching,
  rates: ShopRates,
  random: () => number,
): number {
  const opened = new Set<string>();
  const guilty = new Set(dive.guilty.filter((id) => showsIn(model, id, dive.down)));
  const found = new Set<string>();
  const sound = new Set<string>();
  let tests = [...dive.record.tests];
  let spent = 0;
  // Everything that the dive handled, last done first; then what it did not touch.
  const handled = [...dive.record.handled].filter((id) => !model.parts.get(id)?.fixed);
  const plainly = (items: readonly string[]) =>
    wayBackOrder(
      plan,
      items.map((item) => ({ item, odds: 0, seconds: 0, needs: new Set<string>() })),
    ).map((c) => c.item);
  const backwards = [...plainly(handled), ...[...model.parts.keys(), ...model.connectors.keys()]].filter(
    (id, i, all) => all.indexOf(id) === i && !model.parts.get(id)?.fixed,
  );
  for (let looks = 0; looks < MOST_LOOKS && found.size < guilty.size; looks++) {
    // What is still down with what was found put right.
    const down =
      found.size === 0
        ? dive.down
        : stillDown(
            model,
            dive,
            [...guilty].filter((id) => !found.has(id)),
          );
    const plain = how === 'order of the way back';
    const told = how === 'told the true rates' ? rates : {};
    const { order, next } = plain
      ? { order: backwards, next: null }
      : diagnose(model, plan, { ...dive.record, tests, sound }, access, told);
    const retest = () => {
      const failed = failedNow(tests);
      spent += failed.length * LOOK.retest;
      const again = new Map(failed.map((id) => [id, judged(id, down, dive.stage, random)]));
      tests = tests.map((t) => again.get(t.function) ?? t);
    };
    if (next && next.retest.length > 0 && looks < 2) {
      retest();
      continue;
    }
    const item = order.find((id) => !sound.has(id) && !found.has(id)) ?? [...guilty].find((id) => !found.has(id))!;
    for (const key of needsOn(access, dive.record.device, item)) {
      if (!opened.has(key)) spent += access.seconds(key).down;
      opened.add(key);
    }
    spent += LOOK[model.items.get(item)!.type];
    if (guilty.has(item) && random() < SEES) {
      found.add(item);
      if (found.size < guilty.size) retest();
    }
    sound.add(item);
  }
  return spent;
}

/** Whether what an item does could be seen at all. */
const showsIn = (model: Model, item: string, down: ReadonlySet<string>): boolean =>
  servedBy(model, item, () => 0).some((id) => down.has(id));

const stillDown = (model: Model, dive: FaultyDive, left: readonly string[]): ReadonlySet<string> =>
  new Set([...dive.down].filter((id) => left.some((item) => servedBy(model, item, () => 0).includes(id))));

/** A device of the made-up shop with one of its dives. */
export interface ShopDive {
  model: Model;
  plan: Plan;
  access: Access;
}

/** Some dives into every device: parts that have functions, each replaced. */
export function shopDives(models: readonly Model[], each: number): ShopDive[] {
  return models.flatMap((model) =>
    model.anatomy.parts
      .filter((p) => !p.fixed && (p.functions.length > 0 || p.kind === 'battery'))
      .slice(0, each)
      .map(({ id }) => {
        const plan = planDive(model, { replace: [id] }, undefined, { budget: 0, heat: 'usual' });
        return { model, plan, access: accessOf(model, plan) };
      }),
  );
}

/** Shares of dives: of ours, and of the most that can be reached. */
export interface Reached {
  ours: number;
  most: number;
}

/** How well the diagnosis does over many dives that went wrong. */
export interface ShopTally {
  dives: number;
  /** Share of dives whose true item is among the first three, in all and by device. */
  firstThree: number;
  byDevice: Record<string, number>;
  /**
   * By kind of the fault: how often the guilty one is first and among the first three, here and by the exact odds under the
   * shop's own truth, which nothing can surpass.
   */
  byKind: Partial<Record<CauseKind, { count: number; first: Reached; three: Reached }>>;
  /** Told odds of the first suspect in tenths, and how often it was guilty. */
  reliability: { told: number; guilty: number; count: number }[];
}

/** A shop of which nothing is known but how shops are. */
const USUAL = shopRates(() => 0.5);

/**
 * @param random one stream for all, so that a seed tells the whole shop
 * @param exactEvery of every how manieth dive the exact odds are summed too, which takes long; 0 for none
 */
export function tallyOf(dives: readonly ShopDive[], count: number, random: () => number, exactEvery = 0): ShopTally {
  const devices = new Map<string, [hit: number, all: number]>();
  const byKind: ShopTally['byKind'] = {};
  const bins = Array.from({ length: 10 }, () => ({ told: 0, guilty: 0, count: 0 }));
  for (let i = 0; i < count; i++) {
    const { model, plan, access } = dives[i % dives.length]!;
    const rates = shopRates(random);
    const dive = faultyDive(model, plan, access, rates, random);
    const { suspects } = diagnose(model, plan, dive.record, access);
    const hit = suspects.slice(0, 3).some((s) => dive.guilty.includes(s.item));
    if (exactEvery > 0 && i % exactEvery === 0) {
      const exact = [...exactOdds(truthOf(model, plan, USUAL, dive.stage), dive.record.tests)].sort(
        (a, b) => b[1] - a[1],
      );
      const of = byKind[dive.kind] ?? { count: 0, first: { ours: 0, most: 0 }, three: { ours: 0, most: 0 } };
      byKind[dive.kind] = of;
      const found = (items: readonly (string | undefined)[]) => Number(items.some((id) => dive.guilty.includes(id!)));
      of.count++;
      of.first.ours += found([suspects[0]?.item]);
      of.first.most += found([exact[0]?.[0]]);
      of.three.ours += Number(hit);
      of.three.most += found(exact.slice(0, 3).map(([item]) => item));
    }
    const [hits, all] = devices.get(model.anatomy.id) ?? [0, 0];
    devices.set(model.anatomy.id, [hits + Number(hit), all + 1]);
    for (const s of suspects.slice(0, 3)) {
      const bin = bins[Math.min(9, Math.floor(s.odds * 10))]!;
      bin.told += s.odds;
      bin.count++;
      if (dive.guilty.includes(s.item)) bin.guilty++;
    }
  }
  const hits = [...devices.values()].reduce((sum, [hit]) => sum + hit, 0);
  return {
    dives: count,
    firstThree: hits / count,
    byKind,
    byDevice: Object.fromEntries([...devices].map(([id, [hit, all]]) => [id, hit / all])),
    reliability: bins.map((b) => ({ told: b.told / b.count, guilty: b.guilty / b.count, count: b.count })),
  };
}

/** Minutes to find what is wrong, on average, by the way it is looked for. */
export function minutesToFind(
  dives: readonly ShopDive[],
  count: number,
  random: () => number,
): Record<Searching, number> {
  const spent: Record<Searching, number> = { 'order of the way back': 0, nibrel: 0, 'told the true rates': 0 };
  for (let i = 0; i < count; i++) {
    const dive = dives[i % dives.length]!;
    const rates = shopRates(random);
    const faulty = faultyDive(dive.model, dive.plan, dive.access, rates, random);
    const seed = Math.floor(random() * 2 ** 31);
    for (const how of Object.keys(spent) as Searching[])
      spent[how] += searched(dive, faulty, how, rates, chanceOf(seed)) / 60 / count;
  }
  return spent;
}
