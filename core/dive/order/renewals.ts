import type { Model } from '../../anatomy/index.ts';
import { draft, type Draft } from '../entry/draft.ts';
import type { Exchange } from '../graph/choices.ts';
import { plain, relation } from '../graph/reasons.ts';
import type { Closure } from '../graph/stepGraph.ts';
import type { Caution } from '../house/cautions.ts';
import type { HouseRules } from '../house/rules.ts';
import { SECONDS } from '../house/times.ts';
import type { Standing } from '../types.ts';
import type { Bundle } from './bundles.ts';

/** One step for every part that is exchanged or never goes back. */
export function renewals(
  model: Model,
  bundles: readonly Bundle[],
  exchange: Exchange,
  rules: HouseRules,
  from: Standing | undefined,
): Draft[] {
  const steps = exchange.targets.map((id) => {
    const part = model.parts.get(id)!;
    const cell = part.kind === 'battery';
    const moved = exchange.transfers.filter((t) => t.from === id).map((t) => t.part);
    const cautions: Caution[] = cell ? ['lithium', 'recycling'] : part.kind === 'sensor' ? ['emitter'] : [];
    return draft('turn', 'renew', [id], {
      seconds: SECONDS.renewPart + moved.length * SECONDS.transferLayOut,
      because: [plain('target')],
      cautions,
      hint: [moved.length > 0 ? { code: 'move-across', items: moved } : { code: 'compare-parts' }],
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
        hint: [{ code: 'old-never-back' }],
      }),
    );
  }
  return steps;
}

/** What may have suffered and is looked at before it goes back. */
export function doubtfulItems(model: Model, closure: Closure): string[] {
  const items = [...closure.actions.values()].map((a) => model.items.get(a.item)!.item);
  return [
    ...new Set(items.filter((item) => 'fate' in item && item.fate === 'renew-if-damaged').map((item) => item.id)),
  ];
}
