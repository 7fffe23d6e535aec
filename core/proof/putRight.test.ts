import { describe, expect, it } from 'vitest';
import { Rehearsal } from '../../demo/rehearsal.ts';
import { diagnose } from '../diagnosis/index.ts';
import { accessOf } from '../dive/index.ts';
import type { EventBody } from '../run/index.ts';
import { putRight, recordOf } from './index.ts';

/** A dive for the camera, put together again, on which some tests have failed. */
function failing(...functions: string[]) {
  const r = new Rehearsal('camera');
  r.until(r.steps.find((s) => s.do === 'test')!.n);
  for (const id of functions) r.add(test(id, 'fail'));
  return r;
}
const test = (id: string, outcome: 'pass' | 'fail'): EventBody => ({
  type: 'test',
  function: id,
  outcome,
  reason: outcome === 'fail' ? 'dark' : '',
  circumstance: 'open',
});
const looked = (item: string, found: 'not-seated' | null): EventBody => ({ type: 'looked', item, found, note: '' });

describe('B5 found and put right', () => {
  it('asks for the tests that rest on it, and for nothing once they are made', () => {
    const r = failing('camera', 'power');
    expect(putRight(r.state)).toBeNull();
    r.now += 60_000;
    r.add(looked('camera-flex', 'not-seated'));
    expect(putRight(r.state)).toEqual({ item: 'camera-flex', kind: 'not-seated', functions: ['camera'] });
    r.now += 60_000;
    r.add(test('camera', 'pass'));
    expect(putRight(r.state)).toBeNull();
  });
  it('is nothing where it was found sound, and asks for all that failed where nothing rests on it', () => {
    const r = failing('camera');
    r.now += 60_000;
    r.add(looked('camera-flex', null));
    expect(putRight(r.state)).toBeNull();
    r.now += 60_000;
    r.add(looked(r.context.model.anatomy.fasteners[0]!.id, 'not-seated'));
    expect(putRight(r.state)?.functions).toEqual(['camera']);
  });
  it('what still fails after it is weighed anew, and what was put right is no more suspected than before', () => {
    const r = failing('camera');
    const { plan, model } = r.context;
    const odds = () =>
      diagnose(model, plan, recordOf(r.state), accessOf(model, plan)).suspects.find((s) => s.item === 'camera-flex')!
        .odds;
    const before = odds();
    r.now += 60_000;
    r.add(looked('camera-flex', 'not-seated'));
    r.now += 60_000;
    r.add(test('camera', 'fail'));
    expect(putRight(r.state)).toBeNull();
    expect(odds()).toBeLessThanOrEqual(before + 0.02);
  });
});

describe('B5 what the counter found stays in the diagnosis', () => {
  it('symptoms and checks point at old faults or away from them, and say so', () => {
    const told = (bodies: EventBody[]) => {
      const r = new Rehearsal('camera');
      r.add(...bodies);
      return recordOf(r.state).telltales.filter((t) => t.said.code.startsWith('counter-points'));
    };
    expect(told([])).toEqual([]);
    const drains = told([{ type: 'complained', symptoms: ['drains'] }]);
    expect(drains.find((t) => t.item === 'battery')).toMatchObject({ kind: 'was-bad-before' });
    expect(drains.find((t) => t.item === 'battery')!.factor).toBeGreaterThan(1.5);
    expect(drains.some((t) => t.factor < 1)).toBe(true);
    for (const { factor } of drains) expect(Math.abs(Math.log(factor))).toBeLessThanOrEqual(Math.log(6) + 1e-9);
  });
});
