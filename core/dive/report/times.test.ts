import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../../demo/models.ts';
import { DEFAULT_RULES, planDive, timesOf } from '../index.ts';

describe('how long a dive takes', () => {
  it.each(DEVICES)('%s: what is told adds up, taking up tools and turning over with the work', (id) => {
    const model = demoModel(id);
    const battery = model.anatomy.parts.find((p) => p.kind === 'battery')!;
    const plan = planDive(model, { replace: [battery.id] }, undefined, { heat: 'usual' });
    const { elapsed, work, idle } = timesOf(plan);
    const { hands, toolChanges, turnOvers } = plan.totals;
    expect(work + idle).toBeCloseTo(elapsed, 6);
    expect(work).toBeGreaterThanOrEqual(
      hands + toolChanges * DEFAULT_RULES.toolChange + turnOvers * DEFAULT_RULES.turnOver - 1e-6,
    );
  });
  it('tells apart the wait for a charge that nobody knows', () => {
    const model = demoModel('velmora-quill-5');
    const told = (charge: number | null) =>
      timesOf(planDive(model, { replace: ['battery'], condition: { charge } })).drawingDown;
    expect(told(null)).toBeGreaterThan(3600);
    expect(told(20)).toBeNull();
  });
});
