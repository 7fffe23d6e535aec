import { descentSteps } from '../entry/descent.ts';
import { draft, type Draft } from '../entry/draft.ts';
import { plain, rule, uniqueReasons } from '../graph/reasons.ts';
import { SECONDS } from '../house/times.ts';
import { RELEASES } from '../house/bondKinds.ts';
import { panelOf } from '../return/pressing.ts';
import { bladesOf } from './blades.ts';
import { prepare } from './prepare.ts';
import { doubtfulItems, renewals } from './renewals.ts';
import { RANK, Drawing } from './drawing.ts';

/** The way in, and the turn. */
export class WayIn extends Drawing {
  protected drawWayIn(): void {
    this.prepare();
    this.wayIn();
    this.matAfterLift();
    this.leaveAtOnce();
    this.isolationFirst();
    this.turnRound();
  }

  private prepare(): void {
    const { rules, partings, condition, from } = this.making;
    const onDevice = this.main.map((i) => this.bundles[i]!);
    const prepared = prepare(this.model, onDevice, rules, partings, condition, from);
    this.ready = prepared.map((d, k) => this.list.add([d], { rank: RANK.prepare + k }));
    const at = (verb: Draft['do']) => prepared.findIndex((d) => d.do === verb);
    if (at('power-off') >= 0 && at('discharge') >= 0)
      this.list.lag(this.ready[at('discharge')]!, this.ready[at('power-off')]!);
  }

  private wayIn(): void {
    const { graph, rules, condition, partings, from } = this.making;
    const mayBlade = bladesOf(this.model, this.bundles, from);
    const leaves = new Set(this.bundles.flatMap((b) => (b.kind === 'lift' || b.kind === 'swing' ? [b.items[0]!] : [])));
    this.bundles.forEach((bundle, i) => {
      if (bundle.finished) return;
      const onDevice = !this.onMat.has(i);
      const phase = !onDevice ? 'turn' : this.isTray(bundle) ? 'prepare' : 'descent';
      const drafts = descentSteps(this.model, bundle, phase, {
        rules,
        condition,
        partings,
        stripped: from?.stripped,
        isPanel: (bond) => panelOf(graph, bond) !== null,
        staysIn: (part) => !leaves.has(part) && !from?.removed.has(part),
        mayBlade: () => mayBlade(i),
      });
      const rank = onDevice ? bundle.rank : RANK.mat + bundle.rank;
      const face = onDevice ? bundle.face : 'edge';
      this.down.set(
        i,
        this.list.addInSeries(drafts, {
          face,
          pose: onDevice ? bundle.pose : null,
          onDevice,
          rank,
          at: this.placeOf(bundle),
        }),
      );
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
    if (this.making.relaxed === 'at-once' || this.making.relaxed === 'all') return;
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

  /** R21: what is warmed on a mat is warmed before the face that lies on it is opened. */
  protected heatsBeforeOpening(): void {
    const { graph, partings, relaxed } = this.making;
    if (relaxed === 'all') return;
    for (const [i, { first }] of this.down) {
      const bond = this.bundles[i]!.items[0]!;
      const parting = this.bundles[i]!.kind === 'release' ? partings.get(bond) : undefined;
      // An assembly lies on the mat by itself.
      if (parting?.source !== 'mat' || !RELEASES[parting.method].heats || this.model.contextOf(bond) !== null) continue;
      for (const [j, opens] of this.down) {
        const { kind, items, face } = this.bundles[j]!;
        const skin = (kind === 'lift' || kind === 'swing') && face === parting.on && graph.isOuter(items[0]!);
        // Of a fold only the half that is warmed lies there.
        const there = parting.half === null || this.model.bodyOf(items[0]!) === parting.half;
        if (skin && there && j !== i) this.list.prefer(first, opens.first);
      }
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
    const looks: Draft[] = [];
    if (exchange.look.length > 0)
      looks.push(
        draft('turn', 'inspect', exchange.look, {
          seconds: exchange.look.length * SECONDS.inspect,
          because: [plain('suspect')],
          hint: [{ code: 'say-what-found' }],
        }),
      );
    const doubtful = doubtfulItems(this.model, closure).filter((id) => !exchange.look.includes(id));
    if (doubtful.length > 0)
      looks.push(
        draft('turn', 'inspect', doubtful, {
          seconds: SECONDS.inspect,
          because: [plain('mayBeDamaged')],
          hint: [{ code: 'renew-torn' }],
        }),
      );
    if (looks.length === 0) return;
    const work = this.list.add(looks, { rank: RANK.inspect });
    for (const { last } of this.down.values()) this.list.order(last, work);
    this.list.order(work, this.turn);
  }
}
