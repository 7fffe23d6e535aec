import { readFileSync } from 'node:fs';
import { describe, expect, test } from 'vitest';
import { modelOf, readAnatomyText } from '../anatomy/index.ts';
import { Rehearsal } from '../../demo/rehearsal.ts';
import { replanFrom, runContext } from '../run/index.ts';
import { chainOf, checkPlan, newPartsOf, planDive } from './index.ts';

const DEVICES = ['velmora-quill-5', 'tannbrook-field-3', 'dunvey-pip-61'];
const load = (name: string) => {
  const reading = readAnatomyText(readFileSync(new URL(`../../demo/anatomies/${name}.json`, import.meta.url), 'utf8'));
  if (!reading.ok) throw new Error(reading.faults[0]!.message);
  return modelOf(reading.value);
};

/** Every fourth item, and every connector: what is looked at when a test fails. */
const looked = (model: ReturnType<typeof load>): string[] => {
  const all = [...model.items.keys()].filter((id) => !model.parts.get(id)?.fixed);
  return all.filter((id, i) => model.connectors.has(id) || i % 4 === 0);
};

describe('a dive that only looks at something', () => {
  test.each(DEVICES)('%s: is sound for every connector, and for parts, screws and bonds', (name) => {
    const model = load(name);
    for (const id of looked(model)) {
      const plan = planDive(model, { replace: [], look: [id] }, undefined, { budget: 0, heat: 'usual' });
      expect(checkPlan(model, plan), id).toBeNull();
      expect(plan.look).toEqual([id]);
      const inspect = plan.steps.find((s) => s.do === 'inspect' && s.phase === 'turn' && s.items.includes(id));
      expect(inspect, id).toBeDefined();
      expect(plan.renew.filter((r) => model.parts.get(r)?.kind !== 'battery' && model.parts.has(r))).not.toContain(id);
    }
  });

  test('goes no deeper than the plug it is for, and proves what it opened', () => {
    const model = load('velmora-quill-5');
    const plan = planDive(model, { replace: [], look: ['picture-flex'] });
    const off = plan.steps.filter((s) => s.do === 'lift' && s.phase === 'descent').flatMap((s) => s.items);
    expect(off).not.toContain('battery');
    expect(plan.touched).toContain('picture');
    const open = plan.steps.find((s) => s.do === 'disconnect' && s.items.includes('picture-flex'))!;
    expect(chainOf(model, plan, open).length).toBeGreaterThan(0);
  });

  test('is refused by name for what is not there or never comes off', () => {
    const model = load('velmora-quill-5');
    expect(() => planDive(model, { replace: [], look: ['nothing'] })).toThrow(/no-such-item.*nothing/);
    expect(() => planDive(model, { replace: [], look: ['frame'] })).toThrow(/never-comes-off/);
    expect(() => planDive(model, { replace: [] })).toThrow(/name-a-part/);
  });
});

describe('looking at something once a part has been exchanged', () => {
  test('what moved to the new part is still the device: nothing more is lost than before', () => {
    const model = load('velmora-quill-5');
    const r = new Rehearsal(
      'display',
      runContext(model, planDive(model, { replace: ['display'], spares: ['display-bare'] })),
    );
    const losses = [...r.state.context.plan.losses];
    const test = r.steps.find((s) => s.do === 'test' && s.phase === 'ascent')!;
    r.until(test.n);
    const { event } = replanFrom(r.state, { replace: ['display'], look: ['picture-flex'], because: 'no picture' });
    expect(event.plan.losses).toEqual(losses);
    expect([...newPartsOf(model, event.plan)].sort()).toEqual([...newPartsOf(model, r.context.plan)].sort());
    expect(newPartsOf(model, event.plan).has('sensors')).toBe(false);
    expect(checkPlan(model, event.plan, { laws: true })).toBeNull();
    const inspect = event.plan.steps.findLast((s) => s.do === 'inspect' && s.items.includes('picture-flex'))!;
    const open = event.plan.steps.findLast((s) => s.do === 'disconnect' && s.items.includes('picture-flex'))!;
    expect(open.n).toBeLessThan(inspect.n);
    const again = event.plan.steps.findLast((s) => s.do === 'test' && s.items.includes('picture'))!;
    expect(again.n).toBeGreaterThan(inspect.n);
  });

  test('what is still to be looked at is kept by a later plan, and what was is not opened again', () => {
    const model = load('velmora-quill-5');
    const r = new Rehearsal('camera', runContext(model, planDive(model, { replace: ['camera'] })));
    r.until(r.steps.find((s) => s.do === 'test' && s.phase === 'ascent')!.n);
    r.add(replanFrom(r.state, { replace: ['camera'], look: ['camera-flex'], because: 'dark' }).event);
    expect(r.state.context.plan.look).toEqual(['camera-flex']);
    const again = () => replanFrom(r.state, { replace: ['camera'], because: 'a screw is stripped' }).event.plan.look;
    expect(again()).toEqual(['camera-flex']);
    const inspect = r.steps.findLast((s) => s.do === 'inspect' && s.items.includes('camera-flex'))!;
    for (const step of r.steps) if (step.n <= inspect.n && !r.state.done.has(step.id)) r.do(step);
    expect(again()).toBeUndefined();
  });
});
