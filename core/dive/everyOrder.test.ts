import { describe, expect, it } from 'vitest';
import { quickerOrder } from '../../demo/everyOrder.ts';
import { THOROUGH } from '../../demo/thorough.ts';
import { seededDraw, syntheticAnatomy } from '../../demo/synthetic.ts';
import { modelOf } from '../anatomy/index.ts';
import { NoDive, planDive, type Plan } from './index.ts';

describe('no order of the printed steps is quicker', () => {
  it.each(['descent', 'ascent'] as const)(
    'of the %s of small random devices, by trying every order',
    (phase) => {
      const draw = seededDraw(phase === 'descent' ? 12 : 13);
      let compared = 0;
      let orders = 0;
      for (let k = 0; k < 400 && compared < (THOROUGH ? 60 : 25); k++) {
        const model = modelOf(syntheticAnatomy(draw, 1 + (k % 3)));
        for (const part of model.anatomy.parts.filter((p) => !p.fixed)) {
          let plan: Plan;
          try {
            plan = planDive(model, { replace: [part.id] }, undefined, { heat: 'usual' });
          } catch (error) {
            if (error instanceof NoDive) continue;
            throw error;
          }
          const found = quickerOrder(model, plan, phase);
          if (!found) continue;
          compared++;
          orders += found.orders;
          const told = (p: Plan) =>
            p.steps.filter((s) => s.phase === phase).map((s) => `${s.gate ?? s.do} ${s.items.join(' ')}`);
          expect(found.quicker && told(found.quicker), `${k} ${part.id}: ${told(plan).join(' | ')}`).toBeNull();
        }
      }
      expect(compared).toBeGreaterThanOrEqual(25);
      expect(orders).toBeGreaterThan(300);
    },
    240_000,
  );
});
