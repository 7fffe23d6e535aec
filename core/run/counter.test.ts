import { describe, expect, it } from 'vitest';
import { planDive } from '../dive/index.ts';
import { quoteOf, DEFAULT_TILL, type AgreementTerms, type Quote } from '../counter/index.ts';
import { demoModel } from '../../demo/models.ts';
import { Rehearsal } from '../../demo/rehearsal.ts';
import { recordOf, casesOf } from '../proof/index.ts';
import { runContext } from './context.ts';
import type { EventBody, RunEvent } from './events.ts';
import { foldRun } from './fold.ts';
import { gateBlockers } from './gates.ts';
import { readEvent } from './readEvent.ts';
import { replanFrom } from './replan.ts';
import { priceDue, priceNow, beyondAgreed } from './state.ts';

const terms = (rest: Partial<AgreementTerms> = {}): AgreementTerms => ({
  losses: [],
  limit: '80.00',
  currency: 'EUR',
  data: 'saved',
  unfinished: 'close-as-it-is',
  language: 'en',
  ...rest,
});
const signed = (rest: Partial<AgreementTerms> = {}): EventBody => ({
  type: 'agreed',
  ...terms(rest),
  text: ['as shown'],
  signature: 's1',
});
const quoted = (total: string): EventBody => {
  const model = demoModel('velmora-quill-5');
  const plan = planDive(model, { replace: ['battery'] }, undefined, { budget: 0, heat: 'usual' });
  const quote: Quote = quoteOf(model, plan, { till: DEFAULT_TILL, offers: [] });
  return { type: 'quoted', quote: { ...quote, price: { ...quote.price, total } }, supplier: 'x', simulated: true };
};

describe('what was agreed, and what goes beyond it', () => {
  it('a price over the limit stops the way in, and neither isolating nor closing', () => {
    const r = new Rehearsal('camera');
    r.add(signed(), quoted('79.99'));
    r.until(r.step('disconnect', 'battery-flex').n);
    r.add(quoted('80.01'));
    expect(beyondAgreed(r.state)).toEqual({ losses: [], price: true });
    // The battery may be isolated, whatever was agreed.
    const isolate = r.step('disconnect', 'battery-flex');
    expect(r.refusal({ type: 'connector-opened', step: isolate.id, connector: 'battery-flex' })).toBeNull();
    const onwards = r.steps.find((s) => s.phase === 'descent' && s.n > isolate.n && s.do !== 'bend-aside')!;
    expect(r.refusal({ type: 'step-left', step: onwards.id })).toMatchObject({
      rule: 'agreed',
      said: { code: 'costs-more', price: expect.any(String), limit: '80.00', currency: 'EUR' },
    });
    const back = r.steps.find((s) => s.phase === 'ascent' && s.do === 'fasten')!;
    expect(r.refusal({ type: 'step-left', step: back.id })).toBeNull();
    // A new signature for more, and it goes on.
    r.add(signed({ limit: '120.00' }));
    expect(r.refusal({ type: 'step-left', step: onwards.id })).toBeNull();
  });

  it('nothing is begun over the limit, not even the preparation', () => {
    const r = new Rehearsal('camera');
    r.add(signed(), quoted('300.00'));
    expect(r.refusal({ type: 'step-done', step: r.steps[0]!.id })).toMatchObject({ rule: 'agreed' });
  });

  it('without a limit no price is too high, and a quote of an older plan says nothing', () => {
    const r = new Rehearsal('camera');
    r.add(signed({ limit: null }), quoted('900.00'));
    expect(beyondAgreed(r.state).price).toBe(false);
    expect(r.refusal({ type: 'step-left', step: r.steps[0]!.id })).toBeNull();
    r.add(signed({ limit: '10.00' }));
    const { event } = replanFrom(r.state, { replace: ['camera'], because: 'as before' }, { budget: 0 });
    r.add(event);
    // The same work, planned anew: its price is what it was.
    expect(beyondAgreed(r.state).price).toBe(true);
    const other = structuredClone(r.state.context.plan);
    other.replace = ['board'];
    r.add({ ...event, plan: other, kept: [...r.state.done.keys()] });
    expect(beyondAgreed(r.state).price).toBe(false);
  });

  it('what was agreed is what is paid, however often it is quoted again, until other work is done', () => {
    const r = new Rehearsal('camera');
    r.add(quoted('56.00'), signed({ limit: '90.00' }));
    expect(priceDue(r.state)).toEqual({ sum: '56.00', agreed: true });
    r.add(quoted('74.00'), quoted('61.00'));
    expect(priceDue(r.state)).toEqual({ sum: '56.00', agreed: true });
    // A way to a look does no other work.
    r.until(4);
    const { event } = replanFrom(r.state, { replace: ['camera'], because: 'to look' }, { budget: 0 });
    r.add({ ...event, plan: { ...event.plan, look: ['battery-flex'] } });
    expect(priceDue(r.state)).toEqual({ sum: '56.00', agreed: true });
    expect(priceNow(r.state)).toBe('61.00');
    // A second part does.
    r.add({ ...event, plan: { ...event.plan, replace: ['camera', 'battery'] }, kept: [...r.state.done.keys()] });
    expect(priceDue(r.state)).toBeNull();
    r.add(quoted('98.00'));
    expect(beyondAgreed(r.state).price).toBe(true);
  });

  it('nobody but the server records what was signed, asked or collected', () => {
    const r = new Rehearsal('camera');
    for (const body of [signed(), quoted('1.00'), { type: 'collected', name: 'X', signature: null } as EventBody])
      expect(r.refusal(body)).toMatchObject({ said: expect.objectContaining({ code: 'ask-the-server' }) });
    expect(readEvent({ id: crypto.randomUUID(), seq: 1, at: '2026-01-01T00:00:00Z', type: 'agreed' }).ok).toBe(false);
  });
});

describe('a job that is parked', () => {
  const park: EventBody = { type: 'parked', why: 'part-ordered', where: 'shelf 3', note: 'screws in tray B' };
  it('is isolated first where it lies open, and nobody works on it until it is taken up', () => {
    const r = new Rehearsal('camera');
    r.until(r.step('disconnect', 'battery-flex').n);
    expect(r.refusal(park)).toMatchObject({ rule: 'A4' });
    r.until(r.step('disconnect', 'battery-flex').n + 1);
    expect(r.refusal(park)).toBeNull();
    r.add(park);
    expect(r.refusal({ type: 'step-left', step: r.state.cursor! })).toMatchObject({
      rule: 'parked',
      said: { code: 'parked-at', where: 'shelf 3' },
    });
    expect(r.refusal(park)).toMatchObject({ said: expect.objectContaining({ code: 'parked-already' }) });
    r.add({ type: 'resumed' });
    expect(r.refusal({ type: 'step-left', step: r.state.cursor! })).toBeNull();
    expect(r.refusal({ type: 'resumed' })).not.toBeNull();
  });
});

describe('a device that was collected', () => {
  it('is not worked on any more', () => {
    const r = new Rehearsal('camera');
    r.add({ type: 'collected', name: 'Ida Marwick', signature: null });
    expect(r.refusal({ type: 'step-left', step: r.steps[0]!.id })?.said).toEqual({
      code: 'collected-by',
      name: 'Ida Marwick',
    });
  });
});

describe('how it came in', () => {
  it('is said before the dive, and not after it began', () => {
    const r = new Rehearsal('camera');
    const mark = { id: crypto.randomUUID(), kind: 'dent', face: 'back', at: [3, 4], note: '', photo: null } as const;
    const marked: EventBody = { type: 'condition-marked', mark: { ...mark, at: [3, 4] } };
    expect(r.refusal(marked)).toBeNull();
    r.add(marked, { type: 'complained', symptoms: ['drains'] }, { type: 'checked', check: 'restart', outcome: 'not' });
    expect(r.state.counter).toMatchObject({ symptoms: ['drains'], checks: { restart: 'not' } });
    expect(r.state.counter.marks.size).toBe(1);
    expect(r.refusal({ type: 'condition-unmarked', mark: crypto.randomUUID() })).not.toBeNull();
    expect(r.refusal({ type: 'checked', check: 'restart', outcome: 'maybe' })?.said).toMatchObject({
      code: 'outcome-of-another',
      outcomes: expect.arrayContaining(['helps', 'not']),
    });
    r.until(3);
    expect(r.refusal(marked)).toMatchObject({ said: expect.objectContaining({ code: 'came-in-closed' }) });
  });

  it('an identity with a wrong digit is refused by its field', () => {
    const r = new Rehearsal('camera');
    const said = (imei: string): EventBody => ({ type: 'identified', imei: [imei], serial: null, how: 'typed' });
    expect(r.refusal(said('490154203237517'))?.said).toEqual({
      code: 'quoted',
      words: expect.stringContaining('imei[0]: the last digit should be 8'),
    });
    expect(r.refusal(said('490154203237518'))).toBeNull();
  });

  it('what worked before the dive is proved before hand-over, touched or not', () => {
    const model = demoModel('velmora-quill-5');
    const plan = planDive(model, { replace: ['battery'] }, undefined, { budget: 0, heat: 'usual' });
    const context = runContext(model, plan);
    const stamp = { id: 'e', job: 'j', at: '2026-01-05T09:00:00.000Z', by: 'Y', version: 0 };
    const test = { type: 'test', function: 'main-camera', reason: '', circumstance: 'intake' } as const;
    const fold = (outcome: 'pass' | 'fail') => foldRun(context, [{ ...stamp, seq: 1, ...test, outcome } as RunEvent]);
    const last = plan.steps.at(-1)!;
    const asks = (outcome: 'pass' | 'fail') =>
      gateBlockers(context, fold(outcome), last, 0).some((b) => b.item === 'main-camera');
    expect(plan.touched).not.toContain('main-camera');
    expect([asks('pass'), asks('fail')]).toEqual([true, false]);
  });
});

describe('the record as the diagnosis reads it', () => {
  const run = () => {
    const r = new Rehearsal('camera');
    r.until(r.step('connect', 'battery-flex').n + 1);
    return r;
  };
  it('what was recorded of an item is told, what was looked at is sound, and what was renewed is another', () => {
    const r = run();
    r.add({ type: 'deviation', item: 'battery-flex', kind: 'torn', note: 'at the fold' });
    r.add({ type: 'looked', item: 'camera-flex', found: null, note: '' });
    const record = recordOf(r.state);
    expect(record.handled.has('battery-flex')).toBe(true);
    expect(record.telltales).toContainEqual(
      expect.objectContaining({
        item: 'battery-flex',
        kind: 'torn',
        said: { code: 'recorded-as', kind: 'torn', words: 'at the fold' },
      }),
    );
    expect(record.sound).toEqual(new Set(['camera-flex']));
  });

  it('what was found weighs until it is tested again, and old failures are forgotten with it', () => {
    const r = run();
    const fails: EventBody = {
      type: 'test',
      function: 'camera',
      outcome: 'fail',
      reason: 'dark',
      circumstance: 'open',
    };
    const [fn] = r.state.context.model.anatomy.functions;
    r.add({ ...fails, function: fn!.id } as EventBody);
    r.add({ type: 'looked', item: 'battery-flex', found: 'not-seated', note: '' });
    expect(recordOf(r.state).telltales).toContainEqual(
      expect.objectContaining({ item: 'battery-flex', kind: 'not-seated' }),
    );
    expect(recordOf(r.state).tests).toHaveLength(1);
    r.add({ ...fails, function: fn!.id, outcome: 'pass', reason: '' } as EventBody);
    expect(recordOf(r.state).telltales.filter((t) => t.kind === 'not-seated')).toEqual([]);
    expect(recordOf(r.state).tests).toEqual([{ function: fn!.id, failed: false, stage: 'open' }]);
  });

  it('a step that took far longer than planned is a reason to look', () => {
    const r = run();
    const back = r.step('connect', 'battery-flex');
    const slow = { ...r.state, done: new Map(r.state.done) };
    const before = [...slow.done].at(-2)!;
    slow.done.set(back.id, new Date(Date.parse(before[1]) + 600_000).toISOString());
    expect(recordOf(slow).telltales.some((t) => t.said.code === 'took-longer' && t.said.took === 10)).toBe(true);
  });

  it('a signed job counts what it handled, and what was found guilty', () => {
    const r = run();
    r.add({ type: 'looked', item: 'battery-flex', found: 'not-seated', note: '' });
    const cases = casesOf(r.state);
    expect(cases['not-seated']).toMatchObject({ guilty: 1 });
    expect(cases['not-seated']!.handled).toBeGreaterThan(1);
    expect(cases['spare-bad']).toEqual({ handled: 1, guilty: 0 });
  });
});
