import type { Model } from '../../anatomy/index.ts';
import { draft, type Draft } from '../entry/descent.ts';
import { rule } from '../graph/reasons.ts';
import { RELEASES } from '../house/bondKinds.ts';
import type { HouseRules } from '../house/rules.ts';
import { SECONDS } from '../house/times.ts';
import type { Condition, Standing } from '../types.ts';
import { releaseMethod, type Bundle } from './bundles.ts';

/** What is made ready before the device is opened (A6). */
export function prepare(
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
