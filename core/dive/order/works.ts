import { boundsOfRegion } from '../../anatomy/index.ts';
import { descentSteps } from '../entry/descent.ts';
import { draft, type Draft } from '../entry/draft.ts';
import type { HeatBasis } from '../entry/heating.ts';
import type { Exchange } from '../graph/choices.ts';
import { actionOf, keyOf } from '../graph/keys.ts';
import { plain, rule, uniqueReasons } from '../graph/reasons.ts';
import type { Closure, StepGraph } from '../graph/stepGraph.ts';
import type { HouseRules } from '../house/rules.ts';
import { SECONDS } from '../house/times.ts';
import { ascentNeeds, mirrorOrder } from '../return/needs.ts';
import { ascentSteps, isClosing, panelOf, type Ascended } from '../return/returns.ts';
import type { Condition, Standing } from '../types.ts';
import { bladesOf } from './blades.ts';
import { isOutside, type Bundle } from './bundles.ts';
import { guardLoose, guardSwung } from './guards.ts';
import { matBundles } from './matWork.ts';
import { naturalOrder } from './naturalOrder.ts';
import { prepare } from './prepare.ts';
import { doubtfulItems, renewals } from './renewals.ts';
import { WorkList } from './workList.ts';

/**
 * What of good order is given up, one thing more each time, where no order keeps it all: nothing; that what is touched
 * is proved before it is sealed; that nothing lies loose in a device that is turned over; that what hangs on its hinge
 * is gone on with at once.
 */
export const RELAXATIONS = ['nothing', 'proof-before-seal', 'loose-parts', 'at-once'] as const;
export type Relaxation = (typeof RELAXATIONS)[number];

/** All that one dive is made from. */
export interface Making {
  graph: StepGraph;
  closure: Closure;
  exchange: Exchange;
  rules: HouseRules;
  condition: Condition;
  from: Standing | undefined;
  /** Functions that the exchange loses for good. */
  lost: readonly string[];
  basis: HeatBasis;
  relaxed: Relaxation;
  /** The house isolates first, and an order that does is looked for. */
  isolationFirst: boolean;
}

/** Ranks of work among equally quick orders: what stands earlier in the dive goes first. */
const RANK = {
  prepare: -100,
  mat: 4000,
  turn: 5000,
  renew: 5001,
  inspect: 5002,
  matBack: 5500,
  back: 6000,
  prove: 9000,
};

/** First and last work of a bundle on the way in. */
type Down = { first: number; last: number };
/** Works of a bundle on the way back: the first and last of what is laid ready before the battery is mated, and the rest. */
type Back = { ready: Down | null; main: number };

/** A limb of the way back: on the device, or on the mat at the turn. */
interface Limb {
  onDevice: boolean;
  needs: Map<number, Set<number>>;
  mirrored: number[];
  drawn: (order: readonly number[]) => Ascended;
}

export interface Works {
  list: WorkList;
  /** Draws gates and tests up again where they are first due in the order that was found. */
  redraw: (order: readonly number[]) => void;
  /** Parts that would have to be turned over with lying loose, unless they are taken out. */
  looseIfLeft: readonly string[];
}

/**
 * All work of a dive for the scheduler: the way in, the turn, the way back and the proof. Work on the mat
 * (taking apart an assembly that is out, and putting its spare together) may fill what the device waits for.
 */
export function worksOf(making: Making, bundles: readonly Bundle[], touched: readonly string[]): Works {
  return new Drawing(making, bundles, touched).works();
}

class Drawing {
  private readonly list: WorkList;
  private readonly onMat: ReadonlySet<number>;
  private readonly main: number[];
  private readonly mat: number[];
  private readonly down = new Map<number, Down>();
  private readonly back = new Map<number, Back>();
  private readonly renewWork = new Map<string, number>();
  private ready: number[] = [];
  private turn = -1;
  private finalTests = -1;
  private readonly openTests: string[];
  /** Functions that the way back, as it was drawn last, proves on the open device. */
  private testedOpen: string[] = [];

  constructor(
    private readonly making: Making,
    private readonly bundles: readonly Bundle[],
    private readonly touched: readonly string[],
  ) {
    const { graph, exchange, rules, lost } = making;
    this.list = new WorkList(rules);
    this.onMat = matBundles(graph, bundles, exchange);
    const all = bundles.map((_, i) => i);
    this.main = all.filter((i) => !this.onMat.has(i));
    this.mat = all.filter((i) => this.onMat.has(i));
    this.openTests = touched.filter(
      (id) => !lost.includes(id) && !graph.model.anatomy.functions.find((f) => f.id === id)!.afterClosing,
    );
  }

  works(): Works {
    this.prepare();
    this.wayIn();
    this.matAfterLift();
    this.leaveAtOnce();
    this.isolationFirst();
    this.turnRound();
    const limbs = this.limbs();
    for (const limb of limbs) this.wayBack(limb);
    for (const limb of limbs) this.orderBack(limb);
    this.orderAssemblies();
    this.isolationLast(limbs[1]!.mirrored);
    for (const { needs } of limbs) this.layAdhesive(needs);
    this.matesAtOnce();
    this.snapsAtOnce();
    const looseIfLeft = this.guard();
    this.prove();
    return { list: this.list, redraw: (order) => this.redraw(limbs, order), looseIfLeft };
  }

  private get model() {
    return this.making.graph.model;
  }

  /** Where the hand works on the items of a bundle: the middle of them. */
  private placeOf(bundle: Bundle): readonly [number, number] | null {
    if (bundle.face === 'edge') return null;
    const centres = bundle.items.map((id) => {
      const [x, y, w, h] = boundsOfRegion(this.model.accessOf(id));
      return [x + w / 2, y + h / 2] as const;
    });
    const mean = (axis: 0 | 1) => centres.reduce((sum, c) => sum + c[axis], 0) / centres.length;
    return [mean(0), mean(1)];
  }

  private isTray(bundle: Bundle): boolean {
    return bundle.face === 'edge' && this.model.parts.get(bundle.items[0]!)?.kind === 'tray';
  }

  private prepare(): void {
    const { rules, condition, from } = this.making;
    const onDevice = this.main.map((i) => this.bundles[i]!);
    const prepared = prepare(this.model, onDevice, rules, condition, from);
    this.ready = prepared.map((d, k) => this.list.add([d], { rank: RANK.prepare + k }));
    const at = (verb: Draft['do']) => prepared.findIndex((d) => d.do === verb);
    if (at('power-off') >= 0 && at('discharge') >= 0)
      this.list.lag(this.ready[at('discharge')]!, this.ready[at('power-off')]!);
  }

  private wayIn(): void {
    const { graph, rules, condition, basis, from } = this.making;
    const mayBlade = bladesOf(this.model, this.bundles, from);
    const leaves = new Set(this.bundles.flatMap((b) => (b.kind === 'lift' || b.kind === 'swing' ? [b.items[0]!] : [])));
    this.bundles.forEach((bundle, i) => {
      if (bundle.finished) return;
      const onDevice = !this.onMat.has(i);
      const phase = !onDevice ? 'turn' : this.isTray(bundle) ? 'prepare' : 'descent';
      const drafts = descentSteps(this.model, bundle, phase, {
        rules,
        condition,
        basis,
        stripped: from?.stripped,
        isPanel: (bond) => panelOf(graph, bond) !== null,
        staysIn: (part) => !leaves.has(part) && !from?.removed.has(part),
        mayBlade: () => mayBlade(i),
      });
      const rank = onDevice ? bundle.rank : RANK.mat + bundle.rank;
      const face = onDevice ? bundle.face : 'edge';
      this.down.set(i, this.list.addInSeries(drafts, { face, onDevice, rank, at: this.placeOf(bundle) }));
    });
    for (const [i, at] of this.down) {
      for (const [j, { physical }] of this.bundles[i]!.needs) {
        if (!this.down.has(j)) continue;
        // What is only better done before a seam is cut may be done while it soaks; power is off before.
        const soaks = this.list.works[at.first]!.drafts.at(-1)?.do === 'solvent';
        const meanwhile = soaks && !physical && !this.isIsolation(j);
        this.list.order(this.down.get(j)!.last, meanwhile ? at.last : at.first);
      }
      if (!this.onMat.has(i) && !this.isTray(this.bundles[i]!))
        for (const k of this.ready) this.list.order(k, at.first);
    }
  }

  /** What is taken off an assembly that leaves waits until it lies on the mat, unless it can only leave without it. */
  private matAfterLift(): void {
    for (const i of this.mat)
      for (const context of this.contextsOf(i)) {
        const lift = this.down.get(this.bundleOf('lift', context));
        const at = this.down.get(i);
        if (lift && at) this.list.prefer(lift.last, at.first);
      }
  }

  private bundleOf(kind: Bundle['kind'], item: string): number {
    return this.bundles.findIndex((b) => b.kind === kind && b.items.includes(item));
  }

  /** Tethers of a part, as bundles that open them. */
  private tethersOf(part: string): number[] {
    const { swing } = this.model.parts.get(part)!;
    return (swing?.tether ?? [])
      .map((id) => actionOf(this.making.graph.openingOf(id)))
      .map(({ kind, item }) => this.bundleOf(kind, item))
      .filter((i) => i >= 0 && this.bundles[i]!.items[0] !== part);
  }

  /** By the house's choice nothing is parted or taken out before isolation that is not in its way. */
  private isolationFirst(): void {
    if (!this.making.isolationFirst) return;
    const isolation = this.main.filter((i) => this.isIsolation(i)).flatMap((i) => this.down.get(i) ?? []);
    for (const i of this.main) {
      const at = this.down.get(i);
      // Screws may come along with others of their drive: nothing leaves its place by that.
      if (!at || this.bundles[i]!.kind === 'loosen' || this.isTray(this.bundles[i]!)) continue;
      // What follows another at once goes with it.
      const first = this.list.leadsTo(at.first);
      for (const { last } of isolation) if (!this.list.precedes(at.first, last)) this.list.prefer(last, first);
    }
  }

  /** R5: a swung part whose last tether is opened is lifted off before anything else goes on. */
  private leaveAtOnce(): void {
    if (this.making.relaxed === 'at-once') return;
    for (const i of this.main) {
      const { kind, items, finished } = this.bundles[i]!;
      if (kind !== 'lift' || finished) continue;
      const natural = this.tethersOf(items[0]!)
        .filter((t) => this.down.has(t))
        .sort((a, b) => this.bundles[a]!.rank - this.bundles[b]!.rank);
      // The last of them is the one that may wait longest: not the battery's.
      const last = natural.findLast((t) => !this.isIsolation(t)) ?? natural.at(-1);
      if (last === undefined) continue;
      for (const t of natural) if (t !== last) this.list.prefer(this.down.get(t)!.last, this.down.get(last)!.first);
      if (!this.list.follow(this.down.get(last)!.last, this.down.get(i)!.first)) continue;
      for (const d of this.list.works[this.down.get(i)!.first]!.drafts)
        d.because = uniqueReasons([...d.because, rule('R5')]);
    }
  }

  /** The turn: device work of the way back waits for all of the way in. */
  private turnRound(): void {
    const { exchange, rules, from, closure } = this.making;
    this.turn = this.list.add([], { rank: RANK.turn });
    for (const i of this.main) if (this.down.has(i)) this.list.order(this.down.get(i)!.last, this.turn);
    for (const k of this.ready) this.list.order(k, this.turn);
    for (const d of renewals(this.model, this.bundles, exchange, rules, from)) {
      const id = d.items[0]!;
      const work = this.list.add([d], { onDevice: false, rank: RANK.renew });
      this.renewWork.set(id, work);
      const lift = this.bundleOf('lift', id);
      if (this.down.has(lift)) this.list.order(this.down.get(lift)!.last, work);
      for (const i of this.mat)
        if (this.down.has(i) && this.contextsOf(i).includes(id)) this.list.order(this.down.get(i)!.last, work);
    }
    const doubtful = doubtfulItems(this.model, closure);
    if (doubtful.length === 0) return;
    const inspect = draft('turn', 'inspect', doubtful, {
      seconds: SECONDS.inspect,
      because: [plain('mayBeDamaged')],
      hint: 'Renew what is torn, bent or deformed.',
    });
    const work = this.list.add([inspect], { rank: RANK.inspect });
    for (const { last } of this.down.values()) this.list.order(last, work);
    this.list.order(work, this.turn);
  }

  /** The assemblies that a bundle's item lies in, from the inside out. */
  private contextsOf(i: number): string[] {
    const found: string[] = [];
    const item = this.bundles[i]!.items[0]!;
    for (let context = this.model.contextOf(item); context !== null; context = this.model.contextOf(context))
      found.push(context);
    return found;
  }

  /** The way back, drawn up first in the order that mirrors the way in. */
  private limbs(): Limb[] {
    const { graph, exchange, rules, from } = this.making;
    const natural = naturalOrder(this.bundles);
    const brought = new Set(
      this.model.anatomy.spares.filter((s) => exchange.spares.includes(s.id)).flatMap((s) => s.brings),
    );
    const matWork = this.mat.flatMap((i) => this.bundles[i]!.items);
    const limb = (indices: readonly number[], onDevice: boolean): Limb => {
      const needs = ascentNeeds(graph, this.bundles, indices);
      const mirrored = mirrorOrder(
        graph,
        this.bundles,
        natural.filter((i) => indices.includes(i)),
        needs,
      );
      const drawn = (order: readonly number[]) =>
        ascentSteps({
          graph,
          bundles: this.bundles,
          order,
          rules,
          phase: onDevice ? 'ascent' : 'turn',
          replaced: new Set(exchange.targets),
          transferred: new Set(onDevice ? [] : exchange.transfers.map((t) => t.part)),
          openTests: onDevice ? this.openTests : [],
          brought,
          matWork: onDevice ? matWork : [],
          from,
        });
      return { onDevice, needs, mirrored, drawn };
    };
    return [limb(this.mat, false), limb(this.main, true)];
  }

  private wayBack({ mirrored, drawn, onDevice }: Limb): void {
    const { returns, tested } = drawn(mirrored);
    this.testedOpen.push(...tested);
    for (const [place, i] of mirrored.entries()) {
      const bundle = this.bundles[i]!;
      const { ready, main } = returns.get(i)!;
      const rank = (onDevice ? RANK.back : RANK.matBack) + place;
      const common = { face: onDevice ? bundle.face : ('edge' as const), onDevice, at: this.placeOf(bundle) };
      const laid = ready.length > 0 ? this.list.addInSeries(ready, { ...common, rank: rank - 0.5 }) : null;
      const work = this.list.add(main, { ...common, rank, bundle: i });
      this.back.set(i, { ready: laid, main: work });
      if (laid) this.list.lag(laid.last, work);
    }
  }

  private orderBack({ needs, onDevice }: Limb): void {
    for (const [then, firsts] of needs) {
      const { ready, main } = this.back.get(then)!;
      for (const work of ready ? [ready.first, main] : [main]) {
        if (onDevice) this.list.order(this.turn, work);
        else
          for (const context of this.contextsOf(then))
            if (this.renewWork.has(context)) this.list.order(this.renewWork.get(context)!, work);
      }
      for (const first of firsts) this.list.order(this.back.get(first)!.main, main);
    }
  }

  /** R9: adhesive is laid when what lies beneath is in, and before the plug that would be in its way is mated. */
  private layAdhesive(needs: ReadonlyMap<number, ReadonlySet<number>>): void {
    for (const [i, firsts] of needs) {
      const { ready } = this.back.get(i)!;
      if (!ready) continue;
      const part = this.bundles[i]!.items[0]!;
      const hung = this.bundleOf('lift', part);
      const tethers = new Set(this.tethersOf(part));
      if (hung >= 0 && hung !== i && this.back.has(hung)) this.list.prefer(ready.last, this.back.get(hung)!.main);
      for (const t of tethers) if (this.back.has(t)) this.list.prefer(ready.last, this.back.get(t)!.main);
      // Solvent and adhesive come before the battery is mated (R1), so they do not wait for what follows that.
      for (const first of firsts)
        if (first !== hung && !tethers.has(first) && !this.followsIsolation(first) && !this.isOutside(first))
          if (ready.last !== ready.first) this.list.prefer(this.back.get(first)!.main, ready.last);
    }
  }

  private isIsolation(i: number): boolean {
    return this.making.graph.isolation.includes(keyOf(this.bundles[i]!.kind, this.bundles[i]!.items[0]!));
  }

  /** Is a bundle work on the outside of the device or on its edge, where the trays are? */
  private isOutside(i: number): boolean {
    const bundle = this.bundles[i]!;
    return bundle.face === 'edge' || isOutside(this.making.graph, bundle);
  }

  private followsIsolation(i: number): boolean {
    const work = this.back.get(i)!.main;
    return this.main.some((iso) => this.isIsolation(iso) && this.list.precedes(this.back.get(iso)!.main, work));
  }

  private orderAssemblies(): void {
    for (const i of this.main) {
      const bundle = this.bundles[i]!;
      if (bundle.kind !== 'lift') continue;
      const id = bundle.items[0]!;
      const { ready, main } = this.back.get(i)!;
      const sooner = ready?.first ?? main;
      if (this.renewWork.has(id)) this.list.order(this.renewWork.get(id)!, sooner);
      for (const j of this.mat) if (this.contextsOf(j).includes(id)) this.list.order(this.back.get(j)!.main, main);
    }
  }

  /**
   * R1: the battery is mated when everything that can be done before is done: what comes after it is what covers it,
   * the open test, and the closing of the outside.
   */
  private isolationLast(order: readonly number[]): void {
    const isolation = this.main.filter((i) => this.isIsolation(i)).map((i) => this.back.get(i)!.main);
    const { graph } = this.making;
    // Where the open test is made, what can be done before it is done before it too (R2).
    const closings = this.main.filter(
      (i) => this.isTestedAt(i) || (isClosing(this.bundles, order, i) && graph.isOuter(this.bundles[i]!.items[0]!)),
    );
    const proves = this.openTests.length > 0 && this.making.relaxed === 'nothing';
    // A panel that something else waits for, because the other side is reached only with it closed, is closed before.
    const late = closings.filter(
      (i) => proves && isolation.every((iso) => this.list.prefer(iso, this.back.get(i)!.main)),
    );
    const inside: number[] = [];
    for (const i of this.main) {
      const { ready, main } = this.back.get(i)!;
      if (ready) inside.push(ready.first, ready.last);
      if (!this.isOutside(i)) inside.push(main);
    }
    // Work on the mat is finished before, too: nobody drives a screw beside a device that is live.
    for (const i of this.mat) inside.push(this.back.get(i)!.main);
    for (const work of inside) {
      const sooner = isolation.length > 0 && isolation.every((iso) => this.list.prefer(work, iso));
      if (!sooner) for (const i of late) this.list.prefer(work, this.back.get(i)!.main);
    }
  }

  private isTestedAt(i: number): boolean {
    return this.list.works[this.back.get(i)!.main]!.drafts.some((d) => d.do === 'test');
  }

  /** R5: a part that is hung up again is joined by its first flex at once. */
  private matesAtOnce(): void {
    if (this.making.relaxed === 'at-once') return;
    for (const i of this.main) {
      const { kind, items } = this.bundles[i]!;
      if (kind !== 'lift' || !this.model.parts.get(items[0]!)!.swing) continue;
      if (this.bundleOf('swing', items[0]!) < 0) continue;
      const hang = this.back.get(i)!.main;
      const tethers = this.tethersOf(items[0]!).flatMap((t) => (this.back.has(t) ? [this.back.get(t)!.main] : []));
      tethers.some((tether) => this.list.follow(hang, tether));
    }
  }

  /** R12: a part that goes home is pressed into its catches and onto its foils before anything else is taken up. */
  private snapsAtOnce(): void {
    const byHand = (work: number) => this.list.works[work]!.drafts.every((d) => d.tool === null && d.waits === 0);
    for (const i of this.main) {
      const { kind, items } = this.bundles[i]!;
      if (kind !== 'lift' && kind !== 'swing') continue;
      const home = this.back.get(i)!.main;
      let last = home;
      for (const j of this.holdsOf(items[0]!).sort((a, b) => this.bundles[b]!.rank - this.bundles[a]!.rank)) {
        const press = this.back.get(j)!.main;
        if (byHand(press) && this.list.precedes(home, press) && this.list.follow(last, press)) last = press;
      }
    }
  }

  /** Catches and bonds of a part, as bundles that let them go. */
  private holdsOf(part: string): number[] {
    const joins = (id: string) => (this.model.latches.get(id) ?? this.model.bonds.get(id))?.joins.includes(part);
    return this.main.filter((j) => this.bundles[j]!.kind === 'release' && joins(this.bundles[j]!.items[0]!));
  }

  private guard(): string[] {
    const { graph, from, relaxed } = this.making;
    const sites = { graph, bundles: this.bundles, from, down: this.down, back: this.back, main: this.main };
    this.list.guards.push(...guardSwung(sites));
    const faces = new Set(this.list.works.filter((w) => w.onDevice && w.face !== 'edge').map((w) => w.face));
    if (faces.size < 2 || relaxed === 'loose-parts' || relaxed === 'at-once') return [];
    const { guards, left } = guardLoose(sites);
    this.list.guards.push(...guards);
    return left;
  }

  private prove(): void {
    const { list } = this;
    const { from } = this.making;
    const presses = (i: number) =>
      list.works[i]!.drafts.filter((d) => (d.do === 'press' || d.do === 'cure') && d.waits > 0);
    const pressed = list.works.flatMap((_, i) => (presses(i).length > 0 ? [i] : []));
    this.finalTests = list.add([], { rank: RANK.prove });
    const finals = [this.finalTests];
    const bonded = [
      ...new Set([...(from?.pressed ?? []), ...pressed.flatMap((i) => presses(i).flatMap((d) => d.items))]),
    ];
    if (bonded.length > 0) {
      const gate = this.gate('G6', bonded, 'The press or cure of every new bond has run its time.');
      const g6 = list.add([gate], { rank: RANK.prove + 1 });
      for (const i of pressed) list.lag(i, g6);
      finals.push(g6);
    }
    for (const work of finals) for (const at of this.back.values()) list.order(at.main, work);
    const asked = this.touched.filter((f) => !this.making.lost.includes(f));
    const sign = this.gate('G7', asked, 'Screws even, functions tested, deviations explained: sign.');
    const g7 = list.add([sign], { rank: RANK.prove + 2 });
    for (let i = 0; i < g7; i++) list.order(i, g7);
    this.drawFinalTests(this.testedOpen);
  }

  private gate(gate: 'G6' | 'G7', items: string[], hint: string): Draft {
    return draft('prove', 'gate', items, { gate, because: [rule(gate)], seconds: SECONDS.gate, hint });
  }

  /** What the open device did not prove is tested on the closed one; what the exchange loses is confirmed as lost (R3). */
  private drawFinalTests(testedOpen: readonly string[]): void {
    const { lost } = this.making;
    const closed = this.touched.filter((id) => !testedOpen.includes(id) && !lost.includes(id));
    const drafts: Draft[] = [];
    if (closed.length > 0) {
      drafts.push(
        draft('prove', 'power-on', [], {
          seconds: SECONDS.powerOn,
          because: [rule('G7')],
          hint: 'Closed and complete.',
        }),
        draft('prove', 'test', closed, { seconds: closed.length * SECONDS.perTest, because: [rule('G7'), rule('R3')] }),
      );
    }
    if (lost.length > 0)
      drafts.push(
        draft('prove', 'confirm-loss', [...lost], {
          seconds: lost.length * SECONDS.confirmLoss,
          because: [rule('R3')],
          hint: 'Lost with this exchange, as agreed: see that it is so, and that the notice the device shows is the expected one.',
        }),
      );
    this.list.works[this.finalTests]!.drafts = drafts;
  }

  /** Gates and tests belong where they are first due in the order that was found. */
  private redraw(limbs: readonly Limb[], found: readonly number[]): void {
    const tested: string[] = [];
    for (const { drawn, mirrored } of limbs) {
      const order = found.flatMap((w) => {
        const { bundle } = this.list.works[w]!;
        return bundle !== null && mirrored.includes(bundle) ? [bundle] : [];
      });
      const ascended = drawn(order);
      tested.push(...ascended.tested);
      for (const [i, { ready, main }] of ascended.returns) {
        const at = this.back.get(i)!;
        if (!at.ready) {
          this.list.works[at.main]!.drafts = [...ready, ...main];
          continue;
        }
        this.list.works[at.main]!.drafts = main;
        this.redrawReady(at.ready, ready);
      }
    }
    this.drawFinalTests(tested);
  }

  /** What is laid ready keeps its works: cut behind its wait as before, so that other work may still fill it. */
  private redrawReady({ first, last }: Down, ready: readonly Draft[]): void {
    let from = 0;
    for (let w = first; w <= last; w++) {
      const cut = ready.findIndex((d, k) => k >= from && d.waits > 0) + 1;
      const to = w === last || cut === 0 ? ready.length : cut;
      this.list.works[w]!.drafts = ready.slice(from, to);
      from = to;
    }
  }
}
