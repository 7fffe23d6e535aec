import type { Model } from '../../anatomy/index.ts';
import { CONNECTORS } from '../../kinds/index.ts';
import { draft, type Draft } from '../entry/draft.ts';
import { rule } from '../graph/reasons.ts';
import type { Hint } from '../hints.ts';
import { SECONDS } from '../house/times.ts';
import type { GateId, Phase } from '../types.ts';
import type { Ascent } from './ascent.ts';

export const gateStep = (
  phase: Phase,
  gate: GateId,
  items: string[],
  hint: Hint[] = [{ code: `holds-${gate}` }],
): Draft => draft(phase, 'gate', items, { gate, because: [rule(gate)], seconds: SECONDS.gate, hint });

/** What of plugs and screws is back by now on a way back, and what of it has passed its gate. */
export class Ledger {
  private readonly model: Model;
  private readonly gated = new Set<string>();
  private readonly back = new Set<number>();

  /**
   * @param opened plugs that were open when this limb began
   * @param loosened screws that were out
   */
  constructor(
    private readonly ascent: Ascent,
    private readonly opened: readonly string[],
    private readonly loosened: readonly string[],
  ) {
    this.model = ascent.graph.model;
  }

  /** A bundle is back. */
  returned(bundle: number): void {
    this.back.add(bundle);
  }

  /** Plugs, and screws, that have to pass their gate, back or not. */
  plugs = (): string[] => [...this.opened, ...this.ungated('G1', this.model.connectors)];
  screws = (): string[] => [...this.loosened, ...this.ungated('G2', this.model.fasteners)];

  seated(connectors: readonly string[], because = rule('R15')): Draft[] {
    const kindOf = (id: string) => this.model.connectors.get(id)!.kind;
    const fresh = [...new Set(connectors)].filter((id) => !this.gated.has(id) && !CONNECTORS.of(kindOf(id)).byItself);
    for (const id of fresh) this.gated.add(id);
    if (fresh.length === 0) return [];
    const hint: Hint[] = [];
    if (fresh.some((id) => !CONNECTORS.of(kindOf(id)).joint)) hint.push({ code: 'all-seated' });
    if (fresh.some((id) => CONNECTORS.of(kindOf(id)).joint)) hint.push({ code: 'all-joints' });
    const gate = gateStep(this.ascent.phase, 'G1', fresh, hint);
    return [{ ...gate, because: [...gate.because, because] }];
  }

  /** R16: what was mated is seen to be seated before the first battery is: a plug half home must not meet power. */
  beforePower(): Draft[] {
    const power = new Set(this.model.anatomy.connectors.filter((c) => c.isolatesPower).map((c) => c.id));
    return this.seated(
      this.restoredOf('open', this.plugs()).filter((id) => !power.has(id)),
      rule('R16'),
    );
  }

  /** One count for all screws that were driven since the last: what a part buries asks for it, the others come along. */
  counted(buried: readonly string[]): Draft[] {
    const due = buried.filter((id) => !this.gated.has(id));
    if (due.length === 0) return [];
    const open = [...new Set(this.screws())].filter((id) => !this.gated.has(id));
    const screws = [...new Set([...due, ...this.restoredOf('loosen', open)])];
    for (const id of screws) this.gated.add(id);
    return [gateStep(this.ascent.phase, 'G2', screws)];
  }

  /** Of these plugs or screws, those that are mated or driven by now. */
  private restoredOf(kind: 'open' | 'loosen', ids: readonly string[]): string[] {
    const { bundles, order, matWork } = this.ascent;
    const waits = (when: (j: number) => boolean) => order.some((j) => !this.back.has(j) && when(j));
    return ids.filter((id) => {
      if (waits((j) => bundles[j]!.kind === kind && bundles[j]!.items.includes(id))) return false;
      if (!matWork.includes(id)) return true;
      // What was made good on the mat is in the device when its assembly is.
      const context = this.model.contextOf(id);
      return !waits((j) => bundles[j]!.kind === 'lift' && bundles[j]!.items[0] === context);
    });
  }

  /** What was undone and made good before this plan began still has to pass its gate. */
  private ungated(gate: 'G1' | 'G2', items: ReadonlyMap<string, unknown>): string[] {
    const { from } = this.ascent;
    if (!from) return [];
    return [...from.touched].filter((id) => items.has(id) && !from.absent.has(id) && !from.gated.get(gate)?.has(id));
  }
}
