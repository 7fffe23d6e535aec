import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoModel } from '../../demo/models.ts';
import { blankAnatomy } from '../anatomy/index.ts';
import { Rehearsal } from '../../demo/rehearsal.ts';
import { tinyBond, tinyConnector } from '../../demo/tiny.ts';
import { runContext } from './context.ts';
import type { EventBody, RunEvent } from './events.ts';
import { foldOn, foldRun } from './fold.ts';
import { gateBlockers, toProve } from './gates.ts';
import { circumstanceNow, screwToMeasure } from './state.ts';
import { replanFrom } from './replan.ts';
import { COOLING_SECONDS, coolingId } from './timers.ts';

const seal = () =>
  new Rehearsal('camera', (a) => {
    a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'])];
  });
const pass = (fn: string, circumstance: 'intake' | 'tried' | 'open' | 'closed' = 'open'): EventBody => ({
  type: 'test',
  function: fn,
  outcome: 'pass',
  reason: '',
  circumstance,
});

const SAID = { type: 'losses-agreed', word: 'Imre Falkenrath', said: '2026-01-01T08:00:00.000Z' } as const;

describe('A1 steps are named by their work', () => {
  it('a plan of another part names the same work alike', () => {
    const [a, b] = [new Rehearsal('camera'), new Rehearsal('battery')];
    const ids = (r: Rehearsal) => new Set(r.steps.map((s) => s.id));
    const both = [...ids(a)].filter((id) => ids(b).has(id));
    expect(both).toEqual(expect.arrayContaining(['power-off', 'unscrew.c1', 'disconnect.battery-flex']));
    for (const id of both) {
      const [x, y] = [a, b].map((r) => r.steps.find((s) => s.id === id)!);
      expect([x!.do, x!.items[0]]).toEqual([y!.do, y!.items[0]]);
    }
  });
  it('what was done keeps its name through a new plan, and no name stands twice', () => {
    const r = seal();
    r.until(r.step('disconnect', 'battery-flex').n + 1);
    const before = [...r.state.done.keys()];
    r.add(replanFrom(r.state, { replace: ['camera', 'battery'], because: 'both' }, { budget: 0 }).event);
    expect([...r.state.done.keys()]).toEqual(before);
    expect(new Set(r.steps.map((s) => s.id)).size).toBe(r.steps.length);
    expect(r.state.version).toBe(2);
  });
});

describe('A4 what is admitted', () => {
  it('a wait is started with the seconds of its step, once, and ended early only by what may end it', () => {
    const r = seal();
    const heat = r.step('heat', 'seal');
    r.until(heat.n);
    const refused = (body: EventBody) => r.refusal(body)?.said;
    expect(refused({ type: 'timer-started', step: heat.id, seconds: 1 })).toMatchObject({ code: 'wait-is' });
    expect(refused({ type: 'timer-started', step: r.step('gap', 'seal').id, seconds: 1 })).toMatchObject({
      code: 'has-no-wait',
    });
    r.add({ type: 'timer-started', step: heat.id, seconds: heat.waits });
    expect(refused({ type: 'timer-started', step: heat.id, seconds: heat.waits })).toMatchObject({
      code: 'wait-runs-already',
    });
    const end = { type: 'timer-ended', timer: heat.id } as const;
    expect(refused({ ...end, how: 'judged', reason: ' 3 ' })).toMatchObject({ code: 'say-why-it-ends' });
    expect(refused({ ...end, how: 'judged', reason: 'gives all round' })).toBeUndefined();
    expect(refused({ ...end, how: 'thermometer', reason: '' })).toBeUndefined();
    expect(refused({ ...end, timer: 'cure.other', how: 'thermometer', reason: '' })).toMatchObject({
      code: 'no-such-wait',
    });
  });
  it('a press is not shrugged off', () => {
    const r = seal();
    const press = r.steps.find((s) => (s.do === 'press' || s.do === 'cure') && s.waits > 0)!;
    for (const s of r.steps) {
      if (s.id === press.id) break;
      r.do(s);
    }
    const before = r.now;
    r.add({ type: 'timer-started', step: press.id, seconds: press.waits });
    const end = { type: 'timer-ended', timer: press.id } as const;
    expect(r.refusal({ ...end, how: 'thermometer', reason: '' })?.said).toMatchObject({
      code: 'thermometer-ends-heat',
    });
    expect(r.refusal({ ...end, how: 'judged', reason: 'fine' })?.said).toMatchObject({ code: 'say-in-words' });
    expect(r.refusal({ ...end, how: 'judged', reason: 'pressed in the jig' })).toBeNull();
    expect(r.now).toBeGreaterThan(before);
  });
  it('what is not known is refused', () => {
    const r = seal();
    expect(r.refusal({ type: 'dance' } as never)).toMatchObject({
      said: expect.objectContaining({ code: 'unknown-event' }),
    });
    expect(r.refusal({ type: 'deviation', item: 'c1', kind: 'other-length', note: '' })?.said).toMatchObject({
      code: 'say-length',
    });
  });
  it('a test bears the circumstance it was made in, and no other', () => {
    const r = seal();
    expect(circumstanceNow(r.state)).toBe('intake');
    expect(r.refusal(pass('camera', 'open'))?.said).toMatchObject({ code: 'not-open-yet' });
    r.until(r.step('disconnect', 'battery-flex').n + 1);
    expect(r.refusal(pass('camera', 'intake'))?.said).toMatchObject({ code: 'not-at-intake' });
    expect(r.refusal(pass('camera', 'open'))?.said).toMatchObject({ code: 'battery-is-off' });
    expect(r.refusal(pass('camera', 'closed'))?.said).toMatchObject({ code: 'not-closed-yet' });
    expect(r.refusal(pass('camera', 'tried'))).toBeNull();
    expect(circumstanceNow(r.state)).toBe('tried');
  });
});

describe('A5 proof goes stale', () => {
  it('a test of before, or one that was only tried, opens no gate', () => {
    const r = seal();
    r.add(pass('camera', 'intake'));
    expect(r.state.before.get('camera')?.outcome).toBe('pass');
    const gate = r.step('G4');
    const test = r.step('test');
    r.until(gate.n, [test.n]);
    for (const f of test.items) r.add(pass(f, 'tried'));
    expect(r.blockers(gate).map((b) => b.said)).toContainEqual({ code: 'tested-before', function: 'camera' });
    for (const f of test.items) r.add(pass(f, 'open'));
    expect(r.blockers(gate)).toEqual([]);
  });
  it('taking back what was mated takes back what was tested on it', () => {
    const r = seal();
    const mate = r.step('connect', 'camera-flex');
    r.until(mate.n + 1);
    expect(r.state.undoable?.step).toBe(mate.id);
    r.add(pass('camera', 'tried'));
    expect(r.state.tests.has('camera')).toBe(true);
    r.add({ type: 'step-undone', ...r.state.undoable! });
    expect(r.state.tests.has('camera')).toBe(false);
    // It stays in the record that it was tested.
    expect(r.state.tested).toHaveLength(1);
    r.add(pass('camera', 'tried'));
    expect(r.state.tests.has('camera')).toBe(true);
  });
  it('a contact that is parted by lifting, and a cell that comes out', () => {
    const r = new Rehearsal('battery', (a) => {
      a.connectors.push(tinyConnector('ear', 'cover', 'board', [30, 30], { kind: 'contact', carries: ['ear'] }));
      a.functions.push({ id: 'ear', name: 'Ear speaker', test: 'Listen.', afterClosing: false });
    });
    const lift = r.step('lift', 'cover');
    r.until(lift.n).add(pass('ear', 'tried'), pass('camera', 'tried'));
    r.do(lift);
    expect([...r.state.tests.keys()]).toEqual(['camera']);
    r.until(r.step('lift', 'battery').n + 1);
    expect(r.state.tests.size).toBe(0);
  });
  it('the fold and the checker agree on what is proved, at every moment of random runs', () => {
    const models = ['velmora-quill-5', 'tannbrook-field-3', 'karnhold-mule-4'].map((id) => demoModel(id));
    const walk = fc.record({ model: fc.nat(2), part: fc.nat(50), moves: fc.array(fc.nat(99), { maxLength: 60 }) });
    fc.assert(
      fc.property(walk, ({ model: m, part, moves }) => {
        const model = models[m]!;
        const parts = model.anatomy.parts.filter((p) => !p.fixed);
        const r = new Rehearsal(parts[part % parts.length]!.id, model);
        const functions = model.anatomy.functions;
        for (const move of moves) {
          const fn = functions[move % functions.length]!.id;
          if (move % 5 === 0) {
            const circumstance = circumstanceNow(r.state);
            const body = { ...pass(fn, circumstance), outcome: move % 2 ? 'fail' : 'pass', reason: 'x' } as EventBody;
            if (r.refusal(body) === null) r.add(body);
          } else if (move % 7 === 0 && r.state.undoable) r.add({ type: 'step-undone', ...r.state.undoable });
          else {
            const next = r.state.cursor === null ? undefined : r.state.context.steps.get(r.state.cursor);
            if (next) r.do(next);
          }
          const { tests, device } = r.state;
          const told = functions.filter((f) => tests.has(f.id) && tests.get(f.id)!.outcome !== 'fail').map((f) => f.id);
          expect([...device.proved].sort()).toEqual(told.sort());
        }
      }),
      { numRuns: 25 },
    );
  });
});

describe('A6 agreement belongs to a version of the plan', () => {
  const model = demoModel('velmora-quill-5');
  const losing = () => new Rehearsal('display', model);
  it('no work begins before it, from wherever it is begun', () => {
    const r = losing();
    const first = r.steps[0]!;
    const start = { type: 'timer-started', step: first.id, seconds: first.waits } as const;
    expect(r.refusal(first.waits > 0 ? start : { type: 'step-done', step: first.id })?.rule).toBe('agreed');
    const losses = r.context.plan.losses.map((l) => l.function);
    expect(r.refusal({ ...SAID, losses: losses.slice(1) })?.rule).toBe('agreed');
    r.add({ ...SAID, losses });
    expect(r.state.agreed).toMatchObject({ losses, version: 1 });
    r.do(first);
  });
  it('one that is only said names whose word it was and when, and can be taken back until work begins', () => {
    const r = losing();
    const losses = r.context.plan.losses.map((l) => l.function);
    expect(r.refusal({ ...SAID, losses, word: ' ' })).toMatchObject({
      rule: 'agreed',
      said: { code: 'whose-word' },
    });
    const later = new Date(r.now + 3_600_000).toISOString();
    expect(r.refusal({ ...SAID, losses, said: later })?.said).toMatchObject({ code: 'said-in-future' });
    expect(r.refusal({ type: 'consent-withdrawn', because: 'she rang' })?.said).toMatchObject({
      code: 'nothing-agreed',
    });
    r.add({ ...SAID, losses });
    expect(r.state.agreed).toMatchObject({ signed: null, spoken: { word: 'Imre Falkenrath' } });
    r.add({ type: 'consent-withdrawn', because: 'she rang' });
    expect(r.state.agreed).toBeNull();
    expect(r.refusal({ type: 'step-left', step: r.steps[0]!.id })?.rule).toBe('agreed');
    r.add({ ...SAID, losses });
    r.do(r.steps[0]!);
    expect(r.refusal({ type: 'consent-withdrawn', because: 'she rang' })?.said).toMatchObject({
      code: 'work-has-begun',
    });
  });
  it('what earlier versions recorded is read as it was, without whose word it was', () => {
    const r = losing();
    const losses = r.context.plan.losses.map((l) => l.function);
    r.add({ type: 'losses-agreed', losses } as EventBody);
    expect(r.state.agreed).toMatchObject({ losses, signed: null, spoken: null });
  });
  it('another plan before the dive breaks it', () => {
    const r = losing();
    r.add({ ...SAID, losses: r.context.plan.losses.map((l) => l.function) });
    r.add({ type: 'planned', plan: structuredClone(r.context.plan), because: 'the other spare' });
    expect(r.state).toMatchObject({ agreed: null, version: 2 });
    expect(r.refusal({ type: 'step-left', step: r.steps[0]!.id })?.rule).toBe('agreed');
  });
  it('a new loss in the middle breaks it, the same ones do not', () => {
    const r = losing();
    r.until(6);
    const { event } = replanFrom(r.state, { replace: ['display'], because: 'as before' }, { budget: 0 });
    r.add(event);
    const next = () => ({ type: 'step-left', step: r.state.cursor! }) as const;
    expect(r.refusal(next())).toBeNull();
    const plan = structuredClone(r.state.context.plan);
    plan.losses.push({
      function: 'data',
      because: { code: 'storage-on-board' },
      remedy: { code: 'copy-data' },
    });
    r.add({ ...event, plan, kept: [...r.state.done.keys()] });
    expect(r.refusal(next())).toMatchObject({ rule: 'agreed', said: expect.objectContaining({ code: 'not-agreed' }) });
  });
});

describe('A7 what needs no plan', () => {
  it('is recorded on a job that has none, and a step is not', () => {
    const context = runContext(demoModel('velmora-quill-5'), null);
    const stamp = { id: 'e', job: 'j', at: '2026-01-05T09:00:00.000Z', by: 'Y', version: 0 };
    const bodies: EventBody[] = [
      { type: 'note', step: null, text: 'Smells burnt.' },
      { type: 'photo', photo: 'a'.repeat(64), step: null, note: '' },
      { type: 'reading', sensor: 'cell', value: 3.2, unit: 'V' },
      { type: 'act', act: 'screw-out', item: 'p1', note: '' },
      { type: 'deviation', item: 'p1', kind: 'missing', note: 'Not there.' },
    ];
    const state = foldRun(
      context,
      bodies.map((b, i) => ({ ...stamp, ...b, seq: i + 1 }) as RunEvent),
    );
    expect([state.notes, state.photos, state.readings, state.acts, state.deviations].map((l) => l.length)).toEqual([
      1, 1, 1, 1, 1,
    ]);
    expect(state.version).toBe(0);
  });
});

describe('A9 folding', () => {
  it('goes on in place to the same state, whatever happened', () => {
    const r = seal();
    r.until(r.step('disconnect', 'battery-flex').n + 1);
    r.add(
      { type: 'step-undone', ...r.state.undoable! },
      { type: 'deviation', item: 'k1', kind: 'missing', note: 'Rolled off.' },
    );
    r.until(r.steps.length + 1);
    let state = foldRun(r.context, []);
    for (const [i, event] of r.events.entries()) {
      if (!foldOn(state, event)) state = foldRun(r.context, r.events.slice(0, i + 1));
      expect(state).toEqual(foldRun(r.context, r.events.slice(0, i + 1)));
    }
  });
});

describe('D2 red beats green', () => {
  it('a device that was too hot cools first, and the worst peak stands in the record', () => {
    const r = seal();
    const heat = r.step('heat', 'seal');
    r.until(heat.n);
    r.add({ type: 'timer-started', step: heat.id, seconds: heat.waits });
    const hot = (value: number): EventBody => ({
      type: 'deviation',
      item: 'seal',
      kind: 'overheated',
      note: 'Cell.',
      value,
    });
    r.add(hot(61), hot(66.5), hot(63));
    expect(r.state.deviations).toMatchObject([{ kind: 'overheated', value: 66.5 }]);
    r.now += heat.waits * 1000;
    expect(r.refusal({ type: 'step-done', step: heat.id })?.said).toMatchObject({
      code: 'wait-first',
      why: { code: 'too-hot-at' },
    });
    r.add({ type: 'timer-ended', timer: coolingId(heat.id), how: 'thermometer', reason: '38 °C' });
    expect(r.refusal({ type: 'step-done', step: heat.id })).toBeNull();
    r.add(hot(70));
    r.now += COOLING_SECONDS * 1000;
    expect(r.refusal({ type: 'step-done', step: heat.id })).toBeNull();
  });
});

describe('A3 times', () => {
  it('that go backwards are seen, and not summed', () => {
    const r = seal();
    r.until(4);
    const events = structuredClone(r.events);
    events[2]!.at = '2020-01-01T00:00:00.000Z';
    const state = foldRun(r.context, events);
    expect(state.backwards).toBe(1);
    expect(state.elapsed).toBeGreaterThanOrEqual(0);
    expect(gateBlockers(state.context, state, r.step('G7'), r.now).length).toBeGreaterThan(0);
  });
});

describe('what is proved never depends on a list being filled', () => {
  const unlisted = () =>
    new Rehearsal('camera', (a) => {
      a.functions = [];
      for (const p of a.parts) p.functions = [];
      for (const c of a.connectors) c.carries = [];
    });
  it('a device that was drawn without functions is tested for those of its kind, power first', () => {
    const r = unlisted();
    expect(r.state.context.model.anatomy.functions.map((f) => f.id)).toContain('power');
    r.until(r.steps.length);
    const last = r.steps.findLast((s) => s.gate === 'G7')!;
    const proved = r.state.context.plan.touched;
    expect(proved).toContain('power');
    expect(proved).toContain('picture');
    // Nothing of it can be signed while one of them was not tried.
    const without = foldRun(
      r.context,
      r.events.filter((e) => !(e.type === 'test' && e.function === 'power')),
    );
    expect(gateBlockers(without.context, without, last, r.now).map((b) => b.item)).toContain('power');
  });
  it('what worked at intake is proved again, in the list or not', () => {
    const r = new Rehearsal('camera');
    r.add({ ...pass('fingerprint', 'intake') });
    expect(toProve(r.state.context, r.state)).toContain('fingerprint');
    expect(r.refusal(pass('face', 'intake'))?.said).toMatchObject({ code: 'no-function' });
  });
  it.each(['phone', 'tablet', 'keypad-phone'] as const)('a new %s begins with what its kind can do', (kind) => {
    const { functions } = blankAnatomy({ name: 'New', kind, width: null, height: null, thickness: null });
    const ids = functions.map((f) => f.id);
    expect(ids).toEqual(expect.arrayContaining(['power', 'charging', 'picture', 'loudspeaker', 'microphone']));
    expect(ids.includes('touch')).toBe(kind !== 'keypad-phone');
  });
});

describe('a length that was not measured', () => {
  it('is asked for when the screw comes out, and stands in the state from then on', () => {
    const r = new Rehearsal('camera', (a) => {
      for (const f of a.fasteners) f.length = null;
    });
    expect(screwToMeasure(r.state)).toBeNull();
    const step = r.step('unscrew');
    r.until(step.n + 1);
    const asked = screwToMeasure(r.state)!;
    expect(step.items).toContain(asked);
    expect(r.refusal({ type: 'screw-measured', fastener: 'none', length: 2 })?.said).toMatchObject({
      code: 'no-such-screw',
    });
    r.add({ type: 'screw-measured', fastener: asked, length: 1.8 });
    expect(r.state.measured.get(asked)).toBe(1.8);
    expect(screwToMeasure(r.state)).not.toBe(asked);
  });
  it('of a screw that is drawn is said as another length, not measured anew', () => {
    const r = new Rehearsal('camera');
    const [f] = r.context.model.anatomy.fasteners;
    expect(r.refusal({ type: 'screw-measured', fastener: f!.id, length: 9 })?.said).toMatchObject({
      code: 'drawn-with',
    });
  });
});
