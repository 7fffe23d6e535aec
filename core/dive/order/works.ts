import { draft, type Draft } from '../entry/draft.ts';
import { rule } from '../graph/reasons.ts';
import { SECONDS } from '../house/times.ts';
import { gateStep } from '../return/ledger.ts';
import type { Bundle } from './bundles.ts';
import { heed } from './demands.ts';
import { guardLoose, guardSwung } from './guards.ts';
import type { WorkList } from './workList.ts';
import { LETS_LIE_LOOSE, type Making } from './making.ts';
import { RANK } from './drawing.ts';
import { WayBack } from './wayBack.ts';

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
  return new AllWorks(making, bundles, touched).works();
}

class AllWorks extends WayBack {
  works(): Works {
    this.drawWayIn();
    const limbs = this.drawWayBack();
    const looseIfLeft = this.guard();
    this.prove();
    this.heatsBeforeOpening();
    heed(this.list, this.making.demands);
    return { list: this.list, redraw: (order) => this.drawFinalTests(this.redraw(limbs, order)), looseIfLeft };
  }

  private guard(): string[] {
    const { graph, from, relaxed } = this.making;
    const sites = {
      graph,
      bundles: this.bundles,
      from,
      down: this.down,
      back: this.back,
      main: this.main,
      taped: this.taped,
    };
    this.list.guards.push(...guardSwung(sites));
    const faces = new Set(this.list.works.filter((w) => w.onDevice && w.face !== 'edge').map((w) => w.pose ?? w.face));
    if (faces.size < 2 || LETS_LIE_LOOSE.has(relaxed)) return [];
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
      const gate = gateStep('prove', 'G6', bonded);
      const g6 = list.add([gate], { rank: RANK.prove + 1 });
      for (const i of pressed) list.lag(i, g6);
      finals.push(g6);
    }
    const leaks = this.leakTest();
    if (leaks) finals.push(list.add([leaks], { rank: RANK.prove + 1 }));
    for (const work of finals) for (const at of this.back.values()) list.order(at.main, work);
    const asked = this.touched.filter((f) => !this.making.lost.includes(f));
    const sign = gateStep('prove', 'G7', asked);
    const g7 = list.add([sign], { rank: RANK.prove + 2 });
    for (let i = 0; i < g7; i++) list.order(i, g7);
    this.drawFinalTests(this.testedOpen);
  }

  /** R22: where a rated device was opened at a gasket, the closed device is tested for leaks. */
  private leakTest(): Draft | null {
    const { graph, rules, from } = this.making;
    if (!this.model.anatomy.body.ingress || rules.lacks.includes('leak-tester')) return null;
    const moved = new Set([
      ...this.bundles.flatMap((b) => (b.kind === 'ease' || b.kind === 'swing' || b.kind === 'lift' ? b.items : [])),
      ...(from?.touched ?? []),
    ]);
    const opened = this.model.anatomy.bonds.filter(
      (b) =>
        this.model.pressedBy(b.id).length > 0 &&
        b.joins.some((id) => graph.isOuter(id)) &&
        b.joins.some((id) => moved.has(id)),
    );
    if (opened.length === 0) return null;
    return draft(
      'prove',
      'leak-test',
      opened.map((b) => b.id),
      {
        tool: 'leak-tester',
        seconds: SECONDS.leakTest,
        because: [rule('R22')],
        hint: [{ code: 'leak-test' }],
      },
    );
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
          hint: [{ code: 'on-closed' }],
        }),
        draft('prove', 'test', closed, { seconds: closed.length * SECONDS.perTest, because: [rule('G7'), rule('R3')] }),
      );
    }
    if (lost.length > 0)
      drafts.push(
        draft('prove', 'confirm-loss', [...lost], {
          seconds: lost.length * SECONDS.confirmLoss,
          because: [rule('R3')],
          hint: [{ code: 'see-what-is-lost' }],
        }),
      );
    this.list.works[this.finalTests]!.drafts = drafts;
  }
}
