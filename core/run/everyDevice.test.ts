import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { isTried } from '../../demo/thorough.ts';
import { Rehearsal } from '../../demo/rehearsal.ts';
import type { Model } from '../anatomy/index.ts';
import { planDive } from '../dive/index.ts';
import { replanFrom, runContext } from './index.ts';

/** A run of a plan whose heat is not computed: what is asked here is the run. */
const rehearsed = (model: Model, part: string): Rehearsal =>
  new Rehearsal(part, runContext(model, planDive(model, { replace: [part] }, undefined, { budget: 0, heat: 'usual' })));

const models = DEVICES.map((id) => [id, demoModel(id)] as const);

describe('one key carries the run from the first step to the signature', () => {
  it.each(models)(
    '%s, for parts of every depth',
    (_, model) => {
      for (const [i, part] of model.anatomy.parts.filter((p) => !p.fixed).entries()) {
        if (!isTried(i, 9)) continue;
        const r = rehearsed(model, part.id);
        for (const step of r.steps) {
          const before = r.state;
          r.do(step);
          // What the strip shows is what the device is: live until isolated, isolated until power is back.
          expect(r.state.isolated, `${part.id}, step ${step.n}`).toBe(r.context.checker.isolated(r.state.device));
          expect(r.state.done.size).toBe(before.done.size + 1);
        }
        const { state } = r;
        expect(
          [state.cursor, state.out.size, state.device.open.size, state.device.removed.size, state.device.swung.size],
          part.id,
        ).toEqual([null, 0, 0, 0, 0]);
        expect(state.device.renewed.has(part.id), part.id).toBe(true);
        expect(r.refusal({ type: 'signed-off', name: 'Ysolde' }), part.id).toBeNull();
      }
    },
    60_000,
  );
  it.each(models)(
    '%s: taking everything back leaves a closed device',
    (_, model) => {
      const target = model.anatomy.parts.find((p) => p.kind === 'battery')!.id;
      const r = new Rehearsal(target, model);
      r.until(Math.floor(r.steps.length / 2));
      for (let i = 0; r.state.undoable && i < 400; i++) r.add({ type: 'step-undone', ...r.state.undoable });
      expect([
        r.state.done.size,
        r.state.out.size,
        r.state.device.open.size,
        r.state.device.removed.size,
        r.state.device.released.size,
      ]).toEqual([0, 0, 0, 0, 0]);
      expect(r.state.cursor).toBe(r.steps[0]!.id);
    },
    60_000,
  );
  it.each(models)(
    '%s: turned round at any depth, the old part goes back in and the run is signed',
    (_, model) => {
      const parts = model.anatomy.parts.filter((p) => !p.fixed);
      for (const [i, part] of parts.entries()) {
        if (!isTried(i + 1, 9)) continue;
        const r = rehearsed(model, part.id);
        const opened = r.steps.filter((s) => s.phase === 'descent').length;
        if (opened === 0) continue;
        const first = r.steps.findIndex((s) => s.phase === 'descent');
        r.until(first + 1 + ((7 * i) % opened));
        const { event } = replanFrom(r.state, { replace: [], because: 'turned round' }, { budget: 0, heat: 'usual' });
        r.add(event);
        expect(r.state.context.plan.replace, part.id).toEqual([]);
        for (const step of r.state.context.plan.steps.filter((s) => !r.state.done.has(s.id))) r.do(step);
        const { device } = r.state;
        expect([r.state.out.size, device.open.size, device.removed.size, device.swung.size], part.id).toEqual([
          0, 0, 0, 0,
        ]);
        expect(device.renewed.has(part.id) && part.fate === 'keep' && part.kind !== 'battery', part.id).toBe(false);
        expect(r.refusal({ type: 'signed-off', name: 'Ysolde' }), part.id).toBeNull();
      }
    },
    60_000,
  );
});
