import { describe, expect, it } from 'vitest';
import { Rehearsal } from '../../demo/rehearsal.ts';
import { tinyBond } from '../../demo/tiny.ts';
import { runsBeside, waitsBefore } from './timers.ts';
import { itemsLeft, moveAt, moveItem } from './next.ts';
import { replanFrom, proposeReplan } from './replan.ts';

const sealed = () =>
  new Rehearsal('battery', (a) => {
    a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'])];
  });

describe('waits that run beside other work', () => {
  it('the charge runs down while the film goes on; opening waits for it', () => {
    const r = new Rehearsal('battery', (a) => {
      a.parts[1]!.glass = true;
      a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'])];
    });
    const discharge = r.step('discharge');
    const off = r.step('power-off');
    expect(off.waitsFor).toEqual([discharge.n]);
    r.do(discharge);
    expect([runsBeside(r.context, discharge), r.state.done.has(discharge.id)]).toEqual([true, true]);
    expect(r.steps.some((s) => s.do === 'film' && s.n > discharge.n && s.n < off.n)).toBe(true);
    for (const s of r.steps.filter((x) => x.n > discharge.n && x.n < off.n)) r.do(s);
    const left = waitsBefore(r.state, off, r.now);
    expect(left[0]!.left).toBeGreaterThan(1000);
    expect(moveAt(r.context, r.state, off, r.now)).toMatchObject({ kind: 'wait', seconds: left[0]!.left });
    expect(r.refusal({ type: 'step-done', step: off.id })).toMatchObject({
      said: { code: 'wait-first', why: { code: 'wait-runs' } },
    });
    r.now += (left[0]!.left + 1) * 1000;
    expect(waitsBefore(r.state, off, r.now)).toEqual([]);
    r.do(off);
  });
  it('a wait ended by hand lets the work go on at once', () => {
    const r = sealed();
    const heat = r.step('heat', 'seal');
    r.until(heat.n).add({ type: 'timer-started', step: heat.id, seconds: heat.waits });
    expect(moveAt(r.context, r.state, heat, r.now)).toMatchObject({ kind: 'wait' });
    r.add({ type: 'timer-ended', how: 'judged', timer: heat.id, reason: 'soft already' });
    expect(moveAt(r.context, r.state, heat, r.now)).toMatchObject({ kind: 'events' });
  });
  it('work that waits for a wait nobody started is refused, and told where', () => {
    const r = sealed();
    const heat = r.step('heat', 'seal');
    const gap = r.step('gap', 'seal');
    r.until(heat.n);
    expect(r.refusal({ type: 'step-done', step: gap.id })).toMatchObject({
      said: { code: 'wait-first', why: { code: 'wait-never-started' } },
      blockers: [{ step: heat.id }],
    });
  });
});

describe('a screw tapped out of turn', () => {
  it('goes to its well, and the last one closes the step', () => {
    const r = sealed();
    const step = r.step('unscrew', 'c1');
    r.until(step.n);
    const [first, second] = step.items as [string, string];
    const move = moveItem(r.context, r.state, step, second, r.now);
    expect(move).toEqual({
      kind: 'events',
      events: [{ type: 'screw-out', step: step.id, fastener: second, well: 'A1' }],
    });
    if (move.kind === 'events') r.add(...move.events);
    expect(itemsLeft(r.state, step)).toEqual([first]);
    const last = moveItem(r.context, r.state, step, first, r.now);
    expect(last.kind === 'events' && last.events.map((e) => e.type)).toEqual(['screw-out', 'step-done']);
  });
  it('a screw of another step is refused', () => {
    const r = sealed();
    const step = r.step('unscrew', 'c1');
    r.until(step.n);
    expect(moveItem(r.context, r.state, step, 'k1', r.now)).toMatchObject({
      kind: 'refused',
      refusal: { said: expect.objectContaining({ code: 'does-not' }) },
    });
  });
});

describe('planning on from an odd order', () => {
  it('what was done out of order stays done, and the rest is still sound', () => {
    const r = sealed();
    const film = r.steps.filter((s) => s.do === 'film').map((s) => s.n);
    const inside = r.step('unscrew', 'k1').n;
    r.until(inside + 1, film);
    const { event } = replanFrom(r.state, proposeReplan(r.state), { budget: 0 });
    r.add(event);
    r.until(r.steps.length + 1);
    expect(r.state.cursor).toBeNull();
  });
  it('a target that is replaced already is not asked for twice', () => {
    const r = sealed();
    r.until(r.step('fit', 'battery').n + 1);
    const { event } = replanFrom(r.state, { replace: ['battery', 'camera'], because: 'the camera too' }, { budget: 0 });
    const kept = event.kept.length;
    expect(event.plan.steps.filter((s) => s.do === 'renew').map((s) => [s.items[0], s.n <= kept])).toEqual([
      ['battery', true],
      ['camera', false],
    ]);
    r.add(event);
    r.until(r.steps.length + 1);
    expect([...r.state.device.renewed]).toEqual(expect.arrayContaining(['battery', 'camera']));
  });
});
