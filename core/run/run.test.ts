import { describe, expect, it } from 'vitest';
import { Rehearsal } from '../../demo/rehearsal.ts';
import type { Step } from '../dive/index.ts';
import { foldRun } from './fold.ts';
import { timerLeft } from './timers.ts';
import { proposeReplan, replanFrom } from './replan.ts';

describe('the fold', () => {
  it('stands at the first step before anything has happened', () => {
    expect(new Rehearsal().state).toMatchObject({ seq: 0, cursor: 'discharge', isolated: false, signedOff: null });
  });

  it('one key carries a run from the first step to the last', () => {
    const r = new Rehearsal();
    r.until(r.context.plan.steps.length + 1);
    const { state } = r;
    expect(state.cursor).toBeNull();
    expect(state.screwsOut).toEqual(state.screwsIn);
    expect([state.out.size, state.device.open.size, state.device.removed.size]).toEqual([0, 0, 0]);
    expect(r.refusal({ type: 'signed-off', name: 'Ysolde' })).toBeNull();
  });

  it('counts screws into their wells and out again', () => {
    const r = new Rehearsal();
    const step = r.step('unscrew', 'c1');
    r.until(step.n).add({ type: 'screw-out', step: step.id, fastener: step.items[0]!, well: 'A1' });
    expect([...r.state.out]).toEqual([[step.items[0], 'A1']]);
    expect(r.state.cursor).toBe(step.id);
  });

  it('is live until the battery is off, and again when it is back', () => {
    const r = new Rehearsal();
    const off = r.step('disconnect', 'battery-flex').n;
    r.until(off);
    expect(r.state.isolated).toBe(false);
    r.do(r.context.plan.steps[off - 1]!);
    expect(r.state.isolated).toBe(true);
    r.until(r.step('connect', 'battery-flex').n + 1);
    expect(r.state.isolated).toBe(false);
  });

  it('gives the same state however often it is folded', () => {
    const r = new Rehearsal().until(12);
    expect(foldRun(r.context, structuredClone(r.events))).toEqual(r.state);
  });

  it('folded on from any state is the state folded from the start, and leaves that state as it was', () => {
    const r = new Rehearsal();
    const unscrew = r.step('unscrew', 'c1');
    r.until(unscrew.n + 1);
    r.add(
      { type: 'step-undone', ...r.state.undoable! },
      { type: 'note', step: unscrew.id, text: 'Loose.' },
      { type: 'photo', photo: 'a'.repeat(64), step: unscrew.id, note: '' },
    );
    r.until(r.step('disconnect', 'battery-flex').n + 1);
    r.add(
      { type: 'deviation', item: 'c2', kind: 'missing', note: 'Not on the mat.' },
      { type: 'step-undone', ...r.state.undoable! },
    );
    r.add(replanFrom(r.state, proposeReplan(r.state), { budget: 0 }).event);
    r.until(r.steps.length - 3);
    const { events, context } = r;
    for (let n = 0; n < events.length; n++) {
      const known = foldRun(context, events.slice(0, n));
      for (const end of [n, n + 1, events.length])
        expect(foldRun(context, events.slice(0, end), known)).toEqual(foldRun(context, events.slice(0, end)));
      expect(known).toEqual(foldRun(context, events.slice(0, n)));
    }
  });

  it('takes back one screw, then the next, then the step before', () => {
    const r = new Rehearsal();
    const step = r.step('unscrew', 'c1');
    r.until(step.n + 1);
    expect(r.state.out.size).toBe(2);
    for (const left of [1, 0]) {
      const last = r.state.undoable!;
      expect(last.item).not.toBeNull();
      r.add({ type: 'step-undone', ...last });
      expect(r.state.out.size).toBe(left);
      expect(r.state.cursor).toBe(step.id);
    }
    r.add({ type: 'step-undone', ...r.state.undoable! });
    expect(r.state.cursor).toBe(r.steps[step.n - 2]!.id);
  });

  it('takes back a wait that was started', () => {
    const r = new Rehearsal();
    const heat = r.step('heat', 'seal');
    r.until(heat.n).add({ type: 'timer-started', step: heat.id, seconds: heat.waits });
    r.add({ type: 'step-undone', step: heat.id, item: null });
    expect(r.state.timers.has(heat.id)).toBe(false);
  });

  it('forgets a test when the connector that carries it is opened again', () => {
    const r = new Rehearsal();
    const off = r.step('disconnect', 'camera-flex');
    r.until(off.n).add({ type: 'test', function: 'camera', outcome: 'pass', reason: '', circumstance: 'open' });
    expect(r.state.tests.has('camera')).toBe(true);
    r.do(off);
    expect(r.state.tests.has('camera')).toBe(false);
  });

  it('lets a timer run by the clock, and end by hand', () => {
    const timer = {
      id: 't',
      step: 'heat.seal',
      seconds: 60,
      startedAt: '2026-01-05T09:00:00.000Z',
      endedAt: null,
      how: null,
      reason: '',
    };
    const at = Date.parse(timer.startedAt);
    expect([timerLeft(timer, at), timerLeft(timer, at + 45_000), timerLeft(timer, at + 90_000)]).toEqual([60, 15, 0]);
    expect(timerLeft({ ...timer, endedAt: timer.startedAt }, at)).toBe(0);
  });

  it('keeps deviations, notes and photographs', () => {
    const r = new Rehearsal().until(3);
    r.add(
      { type: 'note', step: r.steps[1]!.id, text: 'Sticky.' },
      { type: 'photo', photo: 'a'.repeat(64), step: r.steps[1]!.id, note: '' },
      { type: 'deviation', item: 'camera-flex', kind: 'torn', note: 'At the fold.' },
    );
    expect([r.state.notes.length, r.state.photos.length, r.state.deviations.length]).toEqual([1, 1, 1]);
  });
});

describe('the gates', () => {
  const leave = (r: Rehearsal, gate: Step, ...left: Step[]) =>
    r.until(
      gate.n,
      left.map((s) => s.n),
    );

  it('G1 mated: a connector that is not recorded seated keeps the bracket off', () => {
    const r = new Rehearsal();
    const gate = r.step('G1', 'battery-flex');
    const seat = r.step('connect', 'battery-flex');
    leave(r, gate, seat);
    expect(r.blockers(gate)).toMatchObject([{ item: 'battery-flex', step: seat.id, waiver: null }]);
    r.do(seat);
    expect(r.blockers(gate)).toEqual([]);
  });

  it('G2 counted: a screw in its well stops the layer, and is accounted for by a deviation', () => {
    const r = new Rehearsal();
    const gate = r.context.plan.steps.find((s) => s.gate === 'G2' && s.items.includes('k1'))!;
    const drive = r.step('fasten', 'k1');
    leave(r, gate, drive);
    expect(
      r
        .blockers(gate)
        .map((b) => b.item)
        .sort(),
    ).toEqual(['k1', 'k2']);
    expect(r.blockers(gate)[0]).toMatchObject({
      waiver: 'deviation',
      said: expect.objectContaining({ code: 'still-in-well' }),
    });
    r.add(
      { type: 'deviation', item: 'k1', kind: 'missing', note: 'Fell; searched the bench; new one ordered.' },
      { type: 'deviation', item: 'k2', kind: 'missing', note: 'As k1.' },
    );
    expect(r.blockers(gate)).toEqual([]);
  });

  it('G3 clean: what was not wiped, or is not dry, keeps the battery out', () => {
    const r = new Rehearsal('battery', () => {});
    const gate = r.step('G3', 'battery');
    const clean = r.step('clean', 'battery');
    const inspect = r.step('inspect', 'battery');
    leave(r, gate, clean, inspect);
    expect(r.blockers(gate)).toMatchObject([{ step: clean.id }, { step: inspect.id }]);
    expect(r.refusal({ type: 'step-done', step: inspect.id })).toMatchObject({
      said: { code: 'wait-first', why: { code: 'wait-never-started' } },
      blockers: [{ step: clean.id }],
    });
    r.do(clean);
    r.do(inspect);
    expect(r.blockers(gate)).toEqual([]);
  });

  it('G4 proved: a failed test keeps the seal open, and is waived with a reason', () => {
    const r = new Rehearsal();
    const gate = r.step('G4');
    const test = r.step('test');
    leave(r, gate, test);
    for (const f of test.items)
      r.add({
        type: 'test',
        function: f,
        outcome: f === 'camera' ? 'fail' : 'pass',
        reason: f === 'camera' ? 'black' : '',
        circumstance: 'open',
      });
    expect(r.blockers(gate)).toMatchObject([
      { item: 'camera', said: { code: 'has-failed', function: 'camera' }, waiver: 'test' },
    ]);
    expect(
      r.refusal({ type: 'test', function: 'camera', outcome: 'waived', reason: ' ', circumstance: 'open' }),
    ).toMatchObject({
      said: expect.objectContaining({ code: 'waiver-needs-reason' }),
    });
    r.add({
      type: 'test',
      function: 'camera',
      outcome: 'waived',
      reason: 'Lens was cracked before.',
      circumstance: 'open',
    });
    expect(r.blockers(gate)).toEqual([]);
  });

  it('G5 liners: a liner left on keeps the cover up', () => {
    const r = new Rehearsal();
    const gate = r.step('G5');
    const liner = r.step('remove-liner', 'seal');
    leave(r, gate, liner);
    expect(r.blockers(gate)).toMatchObject([{ item: 'seal', step: liner.id }]);
  });

  it('G6 pressed: the press has to run its time', () => {
    const r = new Rehearsal();
    const gate = r.step('G6');
    r.until(gate.n);
    expect(r.blockers(gate)).toMatchObject([{ item: 'seal', said: expect.objectContaining({ code: 'wait-runs' }) }]);
    r.now += 3600_000;
    expect(r.blockers(gate)).toEqual([]);
  });

  it('G7 signed: nothing open, nothing untested, nothing unexplained', () => {
    const r = new Rehearsal();
    const gate = r.step('G7');
    r.until(gate.n);
    expect(r.blockers(gate)).toEqual([]);
    r.add({ type: 'deviation', item: 'camera-flex', kind: 'torn', note: '' });
    expect(r.blockers(gate)).toMatchObject([{ said: expect.objectContaining({ code: 'deviation-unexplained' }) }]);
    expect(r.refusal({ type: 'signed-off', name: 'Y' })?.rule).toBe('G7');
  });
});

describe('what may not be done is refused with the rule', () => {
  it('sealing before the gates', () => {
    const r = new Rehearsal();
    const fit = r.step('fit', 'cover');
    r.until(r.step('G4').n);
    expect(r.refusal({ type: 'step-done', step: fit.id })?.rule).toMatch(/^G/);
  });
  it('a screw under the closed cover', () => {
    const r = new Rehearsal().until(3);
    const step = r.step('unscrew', 'k1');
    expect(r.refusal({ type: 'screw-out', step: step.id, fastener: 'k1', well: 'A2' })).toMatchObject({
      rule: 'A1',
      item: 'cover',
    });
  });
  it('a connector opened live although it need not be', () => {
    const r = new Rehearsal();
    const step = r.step('disconnect', 'camera-flex');
    r.until(step.n, [r.step('disconnect', 'battery-flex').n, r.step('bend-aside').n]);
    expect(r.refusal({ type: 'connector-opened', step: step.id, connector: 'camera-flex' })?.rule).toBe('A4');
  });
  it('a step left half done, a wait cut short, an unknown step', () => {
    const r = new Rehearsal();
    const step = r.step('unscrew', 'c1');
    r.until(step.n);
    expect(r.refusal({ type: 'step-done', step: step.id })?.said).toMatchObject({ code: 'still-to-do' });
    const heat = r.step('heat', 'seal');
    r.until(heat.n).add({ type: 'timer-started', step: heat.id, seconds: heat.waits });
    expect(r.refusal({ type: 'step-done', step: heat.id })?.said).toMatchObject({ code: 'wait-has-left' });
    expect(r.refusal({ type: 'step-done', step: 'gone' })?.said).toMatchObject({ code: 'no-such-step' });
  });
  it('a missing screw without a word, a torn screw, a waived nothing', () => {
    const r = new Rehearsal();
    expect(r.refusal({ type: 'deviation', item: 'k1', kind: 'missing', note: '' })?.said).toMatchObject({
      code: 'say-where-looked',
    });
    expect(r.refusal({ type: 'deviation', item: 'k1', kind: 'torn', note: 'x' })?.said).toMatchObject({
      code: 'kind-of-another',
    });
    expect(r.refusal({ type: 'deviation', item: null, kind: 'extra', note: '' })?.said).toMatchObject({
      code: 'say-what-differs',
    });
    expect(
      r.refusal({ type: 'test', function: 'sound', outcome: 'pass', reason: '', circumstance: 'open' })?.said,
    ).toMatchObject({ code: 'no-function' });
  });
  it('leaving a gate for later, and taking back what is not the last', () => {
    const r = new Rehearsal().until(6);
    expect(r.refusal({ type: 'step-left', step: r.step('G4').id })?.rule).toBe('G4');
    expect(r.refusal({ type: 'step-undone', step: r.steps[0]!.id, item: null })?.said).toMatchObject({
      code: 'only-last-action',
    });
  });
  it('anything after the signature but notes and photographs', () => {
    const r = new Rehearsal();
    r.until(r.context.plan.steps.length + 1).add({ type: 'signed-off', name: 'Ysolde' });
    expect(r.refusal({ type: 'step-undone', step: r.steps[0]!.id, item: null })?.said).toMatchObject({
      code: 'signed-off',
    });
    expect(r.refusal({ type: 'note', step: null, text: 'Called.' })).toBeNull();
  });
});
