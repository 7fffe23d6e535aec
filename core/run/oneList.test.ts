import { describe, expect, it } from 'vitest';
import { checkPlan, planDive } from '../dive/index.ts';
import { modelOf, type Model } from '../anatomy/index.ts';
import { demoModel } from '../../demo/models.ts';
import { seededDraw, syntheticAnatomy } from '../../demo/synthetic.ts';
import { runContext } from './context.ts';
import type { EventBody, RunEvent } from './events.ts';
import { foldRun } from './fold.ts';
import { foundSince, gateBlockers, isProved, toProve } from './gates.ts';
import { moveAt } from './next.ts';
import { replanFrom } from './replan.ts';

const models: [string, Model][] = [
  ['a phone', demoModel('velmora-quill-5')],
  ['a tablet', demoModel('osterleigh-broadleaf-12')],
  ...[811, 812, 813].map((seed): [string, Model] => [
    `drawn by ${seed}`,
    modelOf(syntheticAnatomy(seededDraw(seed), 14)),
  ]),
];

/** Is there a dive to it at all, in a device that was drawn at random? */
function isReached(model: Model, part: string): boolean {
  try {
    return planDive(model, { replace: [part] }, undefined, { budget: 0, heat: 'usual' }).steps.length > 4;
  } catch {
    return false;
  }
}

/** The run of a dive by its one key, every test passed. */
function runThrough(model: Model, part: string, worked: string[], failed: string[]) {
  const plan = planDive(model, {
    replace: [part],
    condition: { crackedGlass: false, charge: null, dark: false, worked },
  });
  const context = runContext(model, plan);
  const log: RunEvent[] = [];
  let at = Date.parse('2026-03-02T09:00:00Z');
  const add = (body: EventBody) =>
    log.push({
      id: `e${log.length}`,
      job: 'j',
      seq: log.length + 1,
      at: new Date(at).toISOString(),
      by: 'Y',
      version: 1,
      ...body,
    } as RunEvent);
  const tested = (id: string, outcome: 'pass' | 'fail'): EventBody => ({
    type: 'test',
    function: id,
    outcome,
    reason: outcome === 'fail' ? 'failed at the counter' : '',
    circumstance: 'intake',
  });
  for (const id of worked) add(tested(id, 'pass'));
  for (const id of failed) add(tested(id, 'fail'));
  if (plan.losses.length > 0)
    add({
      type: 'losses-agreed',
      losses: plan.losses.map((l) => l.function),
      word: 'X',
      said: new Date(at).toISOString(),
    });
  const before = foldRun(context, log);
  for (const step of plan.steps) {
    at += step.seconds * 1000;
    for (let tries = 0; tries < 400; tries++) {
      const state = foldRun(context, log);
      if (state.done.has(step.id)) break;
      const move = moveAt(context, state, step, at, true);
      if (move.kind === 'refused')
        throw new Error(`${part}, step ${step.n} ${step.do}: ${JSON.stringify(move.refusal.said)}`);
      if (move.kind === 'wait') at += move.seconds * 1000 + 500;
      else for (const body of move.events) add(body);
    }
    if (step.do === 'press' || step.do === 'cure') at += step.waits * 1000;
  }
  return { plan, context, before, state: foldRun(context, log), at };
}

describe('B6 one list of tests, made at the intake', () => {
  it.each(models)(
    '%s: the planner splits it, every gate asks no more than it, and the last has no surprise',
    (_, model) => {
      const ids = model.anatomy.functions.map((f) => f.id);
      const failed = ids.filter((_id, i) => i % 5 === 3);
      const worked = ids.filter((id) => !failed.includes(id));
      const part = model.anatomy.parts.find((p) => !p.fixed && p.functions.length > 0 && isReached(model, p.id))!.id;
      const { plan, context, before, state, at } = runThrough(model, part, worked, failed);
      expect(checkPlan(model, plan)).toBeNull();
      // One list: as the plan has it, as the gate asks it before the dive and after.
      expect(toProve(context, before)).toEqual(plan.touched);
      expect(toProve(context, state)).toEqual(plan.touched);
      const tests = plan.steps.filter((s) => s.do === 'test');
      const split = tests.flatMap((s) => s.items);
      expect([...split].sort()).toEqual([...plan.touched].sort());
      // Its time stands in the plan, as much for each.
      const each = new Set(tests.map((s) => s.seconds / s.items.length));
      expect(each.size).toBeLessThanOrEqual(1);
      const lost = plan.losses.map((l) => l.function);
      for (const id of worked) expect(plan.touched.includes(id) || lost.includes(id), id).toBe(true);
      expect(plan.touched.every((id) => isProved(context, state, id))).toBe(true);
      expect(gateBlockers(context, state, plan.steps.findLast((s) => s.gate === 'G7')!, at)).toEqual([]);
    },
  );
  it('keeps what worked when the rest is planned anew, also what was found only after the plan was made', () => {
    const model = demoModel('velmora-quill-5');
    const { context, state } = runThrough(model, 'battery', [], []);
    const untouched = model.anatomy.functions.find((f) => !state.context.plan.touched.includes(f.id))!.id;
    const late = foldRun(context, [
      {
        id: 'e1',
        job: 'j',
        seq: 1,
        at: '2026-03-02T09:00:00Z',
        by: 'Y',
        version: 1,
        type: 'test',
        function: untouched,
        outcome: 'pass',
        reason: '',
        circumstance: 'intake',
      },
    ]);
    expect(foundSince(state)).toEqual([]);
    expect(foundSince(late)).toEqual([untouched]);
    const { event } = replanFrom(late, { replace: ['battery'], because: 'again' }, { budget: 0, heat: 'usual' });
    expect(event.plan.condition.worked).toEqual([untouched]);
    expect(event.plan.steps.filter((s) => s.do === 'test').flatMap((s) => s.items)).toContain(untouched);
  });
});
