import { draft, type Draft } from '../entry/draft.ts';
import { rule } from '../graph/reasons.ts';
import { SECONDS } from '../house/times.ts';
import { ascentNeeds, mirrorOrder } from '../return/needs.ts';
import { ascentSteps, isClosing, type Ascended } from '../return/returns.ts';
import { naturalOrder } from './naturalOrder.ts';
import { RANK, type Down } from './drawing.ts';
import { WayIn } from './wayIn.ts';

/** A limb of the way back: on the device, or on the mat at the turn. */
export interface Limb {
  onDevice: boolean;
  needs: Map<number, Set<number>>;
  mirrored: number[];
  drawn: (order: readonly number[]) => Ascended;
}

/** The way back, in the order of good work, and drawn up again in the order that was found. */
export class WayBack extends WayIn {
  protected drawWayBack(): Limb[] {
    const limbs = this.limbs();
    for (const limb of limbs) this.wayBack(limb);
    for (const limb of limbs) this.orderBack(limb);
    this.orderAssemblies();
    this.isolationLast(limbs[1]!.mirrored);
    for (const { needs } of limbs) this.layAdhesive(needs);
    this.matesAtOnce();
    this.snapsAtOnce();
    if (this.making.relaxed === 'taped-down') this.tapeDown();
    return limbs;
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
          taped: new Set(onDevice && this.making.relaxed === 'taped-down' ? this.hangingParts() : []),
          from,
        });
      return { onDevice, needs, mirrored, drawn };
    };
    return [limb(this.mat, false), limb(this.main, true)];
  }

  /** Parts that stand open on their hinge at some time of the way back. */
  private hangingParts(): string[] {
    return [...new Set(this.main.flatMap((i) => (this.bundles[i]!.kind === 'swing' ? this.bundles[i]!.items : [])))];
  }

  /**
   * What hangs is laid back on its place and taped, so that the device can be turned over for what is worked on the other side:
   * after all that lies beneath it, and before it is opened once more to be closed.
   */
  private tapeDown(): void {
    const { graph } = this.making;
    for (const part of this.hangingParts()) {
      const swing = this.bundleOf('swing', part);
      const first = this.bundleOf('ease', part);
      const closes = this.back.get(first >= 0 ? first : swing)!.main;
      const { face, pose, rank, at } = this.list.works[closes]!;
      const step = draft('ascent', 'tape-down', [part], {
        tool: 'cover-tape',
        seconds: SECONDS.tapeDown,
        because: [rule('A3')],
        hint: [{ code: 'taped-down' }],
      });
      const taped = this.list.add([step], { face, pose, rank: rank - 0.2, at });
      this.list.order(this.turn, taped);
      this.list.order(taped, closes);
      this.taped.set(part, taped);
      const hung = this.bundleOf('lift', part);
      if (this.back.has(hung)) this.list.order(this.back.get(hung)!.main, taped);
      for (const j of [...this.main, ...this.tethersOf(part)]) {
        const { items, kind } = this.bundles[j]!;
        const beneath = items.some((id) => id !== part && graph.hides(part, id)) || this.tethersOf(part).includes(j);
        if (beneath && kind !== 'ease' && this.back.has(j)) this.list.prefer(this.back.get(j)!.main, taped);
      }
    }
  }

  private wayBack({ mirrored, drawn, onDevice }: Limb): void {
    const { returns, tested } = drawn(mirrored);
    this.testedOpen.push(...tested);
    for (const [place, i] of mirrored.entries()) {
      const bundle = this.bundles[i]!;
      const { ready, main } = returns.get(i)!;
      const rank = (onDevice ? RANK.back : RANK.matBack) + place;
      const pose = onDevice ? bundle.pose : null;
      const common = { face: onDevice ? bundle.face : ('edge' as const), pose, onDevice, at: this.placeOf(bundle) };
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

  private followsIsolation(i: number): boolean {
    const work = this.back.get(i)!.main;
    return this.main.some((iso) => this.isIsolation(iso) && this.list.precedes(this.back.get(iso)!.main, work));
  }

  private orderAssemblies(): void {
    for (const i of [...this.main, ...this.mat]) {
      const bundle = this.bundles[i]!;
      if (bundle.kind !== 'lift' && bundle.kind !== 'swing' && bundle.kind !== 'ease') continue;
      const id = bundle.items[0]!;
      const { ready, main } = this.back.get(i)!;
      // R17: old and new are compared before anything is done with the new one.
      const sooner = ready?.first ?? main;
      if (this.renewWork.has(id)) this.list.order(this.renewWork.get(id)!, sooner);
      if (bundle.kind !== 'lift' || this.onMat.has(i)) continue;
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
    const { relaxed } = this.making;
    const proves =
      this.openTests.length > 0 && (relaxed === 'nothing' || relaxed === 'taped-down' || relaxed === 'heat-beside');
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
      // A battery waits for no other, nor for what has to wait for another.
      const follows = isolation.some((iso) => this.list.precedes(iso, work));
      const sooner = !follows && isolation.length > 0 && isolation.every((iso) => this.list.prefer(work, iso));
      if (!sooner) for (const i of late) this.list.prefer(work, this.back.get(i)!.main);
    }
  }

  private isTestedAt(i: number): boolean {
    return this.list.works[this.back.get(i)!.main]!.drafts.some((d) => d.do === 'test');
  }

  /** R5: a part that is hung up again is joined by its first flex at once. */
  private matesAtOnce(): void {
    if (this.making.relaxed === 'at-once' || this.making.relaxed === 'all') return;
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

  /**
   * Gates and tests belong where they are first due in the order that was found.
   * @returns the functions that are proved on the open device in this order
   */
  protected redraw(limbs: readonly Limb[], found: readonly number[]): string[] {
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
    return tested;
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
