import { describe, expect, it } from 'vitest';
import { Rehearsal } from '../../demo/rehearsal.ts';
import { demoModel } from '../../demo/models.ts';
import { FIT_POINTS, type FitReadings } from '../closing/index.ts';
import { DEFAULT_RULES, planDive } from '../dive/index.ts';
import {
  admit,
  cellJudgement,
  fitOf,
  foldRun,
  gateBlockers,
  readEvent,
  runContext,
  transplantNow,
  type EventBody,
  type RunEvent,
  type RunState,
} from './index.ts';
import { tell } from '../../words/index.ts';

const uuid = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const flat = Object.fromEntries(FIT_POINTS.map((at) => [at, { gap: 0.15, step: 0.02 }])) as FitReadings;

/** A run that is added to, with what is refused. */
function following(start: RunState, from: readonly RunEvent[], now: number) {
  const events = [...from];
  let state = start;
  const add = (body: EventBody, by = 'Tobin Hask', at = now) => {
    const refusal = admit(state.context, state, body, at, by);
    if (refusal) return tell(state.context.model, refusal.said);
    const stamp = {
      id: uuid(events.length + 1),
      job: 'j',
      seq: events.length + 1,
      at: new Date(at).toISOString(),
      by,
      version: state.version,
    };
    events.push({ ...stamp, ...body } as RunEvent);
    state = foldRun(start.context, events);
    return null;
  };
  return { add, state: () => state };
}

describe("waits of one's own", () => {
  it('stand before hand-over while they press or cure, and end by themselves', () => {
    const model = demoModel('velmora-quill-5');
    const plan = planDive(model, { replace: ['battery'] });
    const context = runContext(model, plan);
    const now = Date.parse('2026-11-01T10:00:00Z');
    const run = following(foldRun(context, []), [], now);
    const wait = (kind: 'pressing' | 'drying', n: number, seconds: number): EventBody => ({
      type: 'wait-started',
      wait: uuid(900 + n),
      kind,
      what: `the ${kind}`,
      item: 'display-seal',
      seconds,
    });
    expect(run.add(wait('pressing', 1, 300))).toBeNull();
    expect(run.add(wait('drying', 2, 30))).toBeNull();
    expect(run.add(wait('pressing', 1, 300))).toMatch(/runs already/);
    const g6 = plan.steps.find((s) => s.gate === 'G6')!;
    const because = (at: number) => gateBlockers(context, run.state(), g6, at).map((b) => tell(context.model, b.said));
    expect(because(now + 60_000)).toContain('the pressing has 240 s to run');
    expect(because(now + 60_000).join()).not.toMatch(/drying/);
    expect(because(now + 301_000).join()).not.toMatch(/pressing has/);
    expect(
      run.add(
        { type: 'timer-ended', timer: uuid(901), how: 'judged', reason: 'held well by hand' },
        'Ines',
        now + 60_000,
      ),
    ).toBeNull();
    expect(because(now + 61_000).join()).not.toMatch(/pressing has/);
  });
});

describe('a plan of before there were closing and cells', () => {
  it('goes by the defaults of what it does not say', () => {
    const model = demoModel('velmora-quill-5');
    const plan = structuredClone(planDive(model, { replace: ['battery'] }));
    for (const rule of ['closing', 'cells'] as const) delete (plan.rules as Partial<typeof plan.rules>)[rule];
    const { rules } = runContext(model, plan).plan;
    expect(rules.closing).toEqual(DEFAULT_RULES.closing);
    expect(rules.cells.transplant).toBeNull();
  });
});

describe('a cell of a job', () => {
  const model = demoModel('velmora-quill-5');
  const plan = planDive(model, { replace: ['display'] });
  const at = () => following(foldRun(runContext(model, plan), []), [], Date.parse('2026-11-01T10:00:00Z'));
  it('that is doubtful does not go back, whatever the rest says', () => {
    const rehearsal = new Rehearsal('camera').until(10_000);
    const fits = rehearsal.context.plan.steps.find(
      (s) => s.do === 'fit' && s.items.some((id) => model.parts.get(id)?.kind === 'battery'),
    );
    // In this dive the cell is taken out and goes back; another says nothing of it.
    const context = fits
      ? rehearsal.context
      : runContext(model, planDive(model, { replace: ['frame-flex', 'battery'].filter((id) => model.parts.has(id)) }));
    const step = context.plan.steps.find(
      (s) =>
        (s.do === 'fit' || s.do === 'renew') && s.items.some((id) => context.model.parts.get(id)?.kind === 'battery'),
    )!;
    const cell = step.items.find((id) => context.model.parts.get(id)?.kind === 'battery')!;
    const of = context.plan.renew.includes(cell) ? 'new' : 'old';
    const run = following(foldRun(context, []), [], Date.parse('2026-11-01T10:00:00Z'));
    expect(run.add({ type: 'cell-seen', cell, of, removal: 'pried-plastic', marks: ['dented'] })).toBeNull();
    expect(cellJudgement(run.state(), cell, of).refit?.verdict).toBe('unfit');
    const refusal = admit(context, run.state(), { type: 'step-done', step: step.id }, Date.now());
    expect(refusal?.rule === 'cell' || refusal?.rule === 'agreed').toBe(true);
  });
  it('is judged by what is measured and seen', () => {
    const run = at();
    const measure = (
      m: 'capacity' | 'ohms' | 'later',
      value: number,
      half: number | null = null,
      hours: number | null = null,
    ): EventBody => ({ type: 'cell-measured', cell: 'battery', of: 'old', measure: m, value, half, hours });
    expect(run.add(measure('capacity', 2000))).toBeNull();
    expect(run.add(measure('ohms', 0.06, 0.004))).toBeNull();
    expect(run.add(measure('later', 3.8))).toMatch(/how many hours/);
    const { health, refit } = cellJudgement(run.state(), 'battery', 'old');
    expect(health.grade).toBe('bad');
    expect(refit).toBeNull();
    expect(run.add({ ...measure('capacity', 10), cell: 'display' } as EventBody)).toMatch(/no battery/);
  });
  it('a panel is measured at eight points, and a part that is none is refused', () => {
    const run = at();
    expect(run.add({ type: 'fit-measured', panel: 'frame', readings: flat })).toMatch(/no panel/);
    expect(run.add({ type: 'fit-measured', panel: 'display', readings: flat })).toBeNull();
    expect(fitOf(run.state(), 'display')?.flush).toBe(true);
  });
});

describe('a cell moved to its old protection board', () => {
  const model = demoModel('velmora-quill-5');
  const weld = {
    machine: 'Bench welder',
    setting: 'program 3',
    strip: 'nickel 4 × 0.1 mm',
    coupons: [31, 28, 33],
    date: '2026-10-02',
    by: 'Tobin Hask',
  };
  const rules = {
    ...DEFAULT_RULES,
    cells: { chargeVolts: {}, transplant: { trained: ['Tobin Hask'], pull: 20, welds: [weld] } },
  };
  it('is refused where the house does not offer it, and for what is no battery', () => {
    expect(() => planDive(model, { replace: ['battery'], transplant: ['battery'] })).toThrow(/no-transplant-offered/);
    expect(() => planDive(model, { replace: ['battery'], transplant: ['camera'] }, rules)).toThrow(
      /no-battery-replaced/,
    );
  });
  const plan = planDive(model, { replace: ['battery'], transplant: ['battery'] }, rules);
  it('keeps the pairing, and tells the customer what the cell is', () => {
    const usual = planDive(model, { replace: ['battery'] }, rules).losses.map((l) => l.function);
    const paired = model.parts.get('battery')!.pairing.flatMap((p) => p.loses);
    expect(plan.losses.map((l) => l.function)).toEqual(
      [...usual.filter((f) => !paired.includes(f)), 'original-cell'].sort(
        (a, b) => plan.losses.findIndex((l) => l.function === a) - plan.losses.findIndex((l) => l.function === b),
      ),
    );
    expect(plan.losses.find((l) => l.function === 'original-cell')!.remedy).toEqual({
      code: 'cell-not-makers',
    });
  });
  it('only a trained person records its steps, in their order, and what is off ends it', () => {
    const run = following(foldRun(runContext(model, plan), []), [], Date.parse('2026-11-01T10:00:00Z'));
    const step = (id: string, value: number | null = null, good = true, note = ''): EventBody => ({
      type: 'transplant-step',
      cell: 'battery',
      stage: id,
      value,
      good,
      note,
    });
    expect(run.add(step('page'), 'Ines Varga')).toMatch(/not marked as trained/);
    expect(run.add(step('volts-before', 3.8))).toMatch(/^first: Read the first page/);
    expect(run.add(step('page'))).toBeNull();
    expect(run.add(step('bench'))).toBeNull();
    expect(run.add(step('volts-before', 3.1))).toMatch(/less than 3.5/);
    expect(run.add(step('volts-before', 3.1, false, 'deeply empty'))).toBeNull();
    expect(transplantNow(run.state())).toMatchObject({ state: 'ended', because: 'deeply empty' });
    expect(run.add(step('ohms-before', 50))).toMatch(/it was ended/);
  });
});

describe('events of closing and cells as they are sent', () => {
  const stamp = { id: uuid(1), seq: 1, at: '2026-11-01T10:00:00Z' };
  it.each([
    [{ type: 'wait-started', wait: 'x', kind: 'curing', what: 'glue', item: null, seconds: 60 }, /wait/],
    [{ type: 'wait-started', wait: uuid(2), kind: 'sleeping', what: 'glue', item: null, seconds: 60 }, /kind/],
    [{ type: 'cell-seen', cell: 'battery', of: 'old', removal: 'tabs', marks: ['shiny'] }, /marks/],
    [{ type: 'cell-measured', cell: 'battery', of: 'other', measure: 'rest', value: 3.8 }, /of/],
    [
      { type: 'fit-measured', panel: 'display', readings: { ...flat, left: { gap: -1, step: 0 } } },
      /readings\.left\.gap/,
    ],
    [
      {
        type: 'leak-tested',
        leak: 0.1,
        half: 0.01,
        drift: 0,
        outcome: 'maybe',
        limit: 1,
        seconds: 30,
        simulated: true,
      },
      /outcome/,
    ],
    [{ type: 'incident', kind: 'sparks', note: '' }, /kind/],
  ])('%j is refused with its field', (body, words) => {
    const reading = readEvent({ ...stamp, ...body });
    expect(reading.ok).toBe(false);
    if (!reading.ok) expect(reading.message).toMatch(words);
  });
  it('are read where they are whole', () => {
    for (const body of [
      { type: 'wait-started', wait: uuid(2), kind: 'curing', what: 'glue', seconds: 60 },
      { type: 'cell-boxed', cell: 'battery', of: 'old', box: 'Sand box 1' },
      { type: 'fit-measured', panel: 'display', readings: flat },
      { type: 'incident', kind: 'smoke' },
    ])
      expect(readEvent({ ...stamp, ...body }).ok).toBe(true);
  });
});
