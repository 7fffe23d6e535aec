import {
  healthOf,
  ratingOf,
  refitOf,
  transplantFault,
  transplantState,
  measureFault,
  type CellMeasures,
  type MeasureOf,
  type RefitDecision,
  type TransplantState,
} from '../cells/index.ts';
import { judgeFit, leakOutcome, type FitVerdict } from '../closing/index.ts';
import { boundsOf, type Model } from '../anatomy/index.ts';
import {
  BOND_WAITS,
  type CellMeasured,
  type CellReading,
  type EventBody,
  type RunEvent,
  type WaitKind,
  type WhichCell,
} from './events.ts';
import { cellKey, type CareState, type CellRecord } from './careState.ts';
import type { RunContext } from './context.ts';
import type { RefusalMessage } from './messages.ts';
import type { RunState } from './state.ts';
import { timerLeft } from './timers.ts';

function recordOf(care: CareState, cell: string, of: WhichCell): CellRecord {
  const key = cellKey(cell, of);
  const found = care.cells.get(key) ?? { cell, of, measured: new Map(), seen: null, boxed: null };
  care.cells.set(key, found);
  return found;
}

type Of<T extends RunEvent['type']> = RunEvent & { type: T };

/** One entry for each kind of event of closing and cells. */
export const APPLY_CARE = {
  'cell-measured': ({ care }: RunState, { cell, of, measure, value, half, hours, at }: Of<'cell-measured'>) =>
    void recordOf(care, cell, of).measured.set(measure, { cell, of, measure, value, half, hours, at }),
  'cell-seen': ({ care }: RunState, { cell, of, removal, marks, at, by }: Of<'cell-seen'>) => {
    recordOf(care, cell, of).seen = { removal, marks, at, by };
  },
  'cell-boxed': ({ care }: RunState, { cell, of, box, why, at }: Of<'cell-boxed'>) => {
    recordOf(care, cell, of).boxed = { box, why, at };
  },
  'fit-measured': ({ care }: RunState, { panel, readings, at, by }: Of<'fit-measured'>) =>
    void care.fits.set(panel, { readings, at, by }),
  'leak-tested': (
    { care }: RunState,
    { leak, half, drift, outcome, limit, seconds, simulated, at }: Of<'leak-tested'>,
  ) => void care.leaks.push({ leak, half, drift, outcome, limit, seconds, simulated, at }),
  'transplant-step': ({ care }: RunState, { stage, value, good, note, by, at }: Of<'transplant-step'>) =>
    void care.transplant.push({ step: stage, value, good, note, by, at }),
  incident: ({ care }: RunState, { kind, note, at, by }: Of<'incident'>) =>
    void care.incidents.push({ kind, note, at, by }),
};

/** What each reading is a measure of. */
const MEASURE_OF: Record<Exclude<CellReading, 'charge'>, MeasureOf> = {
  capacity: 'capacity',
  cycles: 'cycles',
  ohms: 'resistance',
  rest: 'rest',
  later: 'self-discharge',
};

/** Why a reading of a cell cannot be true; `null` where it can. */
export function readingFault(
  model: Model,
  { cell, measure, value, half }: Pick<CellMeasured, 'cell' | 'measure' | 'value' | 'half'>,
): RefusalMessage | null {
  if (measure === 'charge') return value >= 0 && value <= 100 ? null : { code: 'charge-of-cell' };
  return measureFault(ratingOf(model.anatomy, cell), MEASURE_OF[measure], value, half);
}

/** What was measured of a cell, as its health reads it. */
function measuresOf(record: CellRecord | undefined): CellMeasures {
  const read = (m: CellMeasured['measure']) => record?.measured.get(m);
  const [capacity, cycles, ohms, rest, later] = [
    read('capacity'),
    read('cycles'),
    read('ohms'),
    read('rest'),
    read('later'),
  ];
  return {
    ...(capacity ? { milliampHours: capacity } : {}),
    ...(cycles ? { cycles: cycles.value } : {}),
    ...(ohms ? { ohms } : {}),
    ...(rest ? { restVolts: rest } : {}),
    ...(later?.hours ? { later: { volts: later, hours: later.hours } } : {}),
  };
}

/** What speaks for and against a cell of a job, and whether it may go back; `null` while nobody has looked at it. */
export function cellJudgement(
  { context, care }: RunState,
  cell: string,
  of: WhichCell,
): { health: ReturnType<typeof healthOf>; refit: RefitDecision | null } {
  const record = care.cells.get(cellKey(cell, of));
  const health = healthOf(ratingOf(context.model.anatomy, cell), measuresOf(record));
  const house = context.plan.rules.removedBattery;
  // A new cell was in no device: only what is seen and measured speaks.
  const rule = of === 'new' ? 'refit-if-flawless' : house;
  return { health, refit: record?.seen ? refitOf(record.seen, health, rule) : null };
}

/** What the eight points of a panel say; `null` where they were not measured. */
export function fitOf({ context: { model }, care }: RunState, panel: string): FitVerdict | null {
  const fit = care.fits.get(panel);
  const part = model.parts.get(panel);
  if (!fit || !part) return null;
  const [, , w, h] = boundsOf(part.outline);
  return judgeFit(fit.readings, [w, h]);
}

/** Where moving a cell to its old protection board stands; `null` where the plan does not move one. */
export function transplantNow({ context: { plan }, care }: RunState): TransplantState | null {
  const rules = plan.rules.cells.transplant;
  return plan.transplant?.length && rules ? transplantState(rules, care.transplant) : null;
}

/** Waits of one's own that still run, of some kinds. */
export function ownWaits(
  state: RunState,
  now: number,
  kinds: readonly WaitKind[] = BOND_WAITS,
): { what: string; left: number }[] {
  return [...state.timers.values()].flatMap((t) => {
    const left = t.own && kinds.includes(t.own.kind) ? timerLeft(t, now) : 0;
    return left > 0 ? [{ what: t.own!.what, left }] : [];
  });
}

/** Why a cell may not be fitted as the step says; `null` where nothing speaks against it. */
export function cellRefusal(state: RunState, cell: string): RefusalMessage | null {
  const { plan } = state.context;
  const of: WhichCell = plan.renew.includes(cell) ? 'new' : 'old';
  const { refit } = cellJudgement(state, cell, of);
  if (refit && refit.verdict !== 'refit')
    return {
      code: of === 'old' ? 'goes-not-back' : 'new-cell-not-in',
      item: cell,
      why: refit.reasons[0]!,
    };
  if (state.care.cells.get(cellKey(cell, of))?.boxed) return { code: 'in-sand-box', item: cell };
  if (!plan.transplant?.includes(cell)) return null;
  const at = transplantNow(state);
  if (at?.state === 'done') return null;
  return at?.state === 'ended' ? { code: 'moving-was-ended', words: at.because } : { code: 'cell-not-moved-yet' };
}

type Asked = Extract<EventBody, { type: keyof typeof APPLY_CARE | 'wait-started' }>;

/** Why an event of closing or cells may not be recorded; `null` where it may. */
export function careFault(
  context: RunContext,
  state: RunState,
  event: Asked,
  by: string | null,
): { rule: string; said: RefusalMessage } | null {
  const { model, plan } = context;
  const fault = (said: RefusalMessage, rule = 'run') => ({ rule, said });
  switch (event.type) {
    case 'wait-started':
      if (state.timers.has(event.wait)) return fault({ code: 'own-wait-runs-already' });
      return event.item === null || model.items.has(event.item) ? null : fault({ code: 'no-item', thing: event.item });
    case 'cell-measured':
    case 'cell-seen':
    case 'cell-boxed': {
      if (model.parts.get(event.cell)?.kind !== 'battery') return fault({ code: 'no-battery', thing: event.cell });
      if (event.type !== 'cell-measured') return null;
      if (event.measure === 'later' && event.hours === null) return fault({ code: 'hours-after' });
      const wrong = readingFault(model, event);
      return wrong === null ? null : fault(wrong);
    }
    case 'fit-measured': {
      const part = model.parts.get(event.panel);
      return part && !part.fixed ? null : fault({ code: 'no-panel', thing: event.panel });
    }
    case 'transplant-step': {
      const rules = plan.rules.cells.transplant;
      if (!rules || !plan.transplant?.includes(event.cell)) return fault({ code: 'no-cell-moved' });
      if (by !== null && !rules.trained.includes(by))
        return fault({ code: 'not-trained', name: by, names: rules.trained }, 'trained');
      const at = transplantState(rules, state.care.transplant);
      if (at.state === 'ended') return fault({ code: 'transplant-ended' });
      if (at.state === 'done') return fault({ code: 'transplant-done' });
      if (at.next.id !== event.stage) return fault({ code: 'first-do', words: at.next.do });
      const wrong = transplantFault(at.next, event.value, rules, event.note);
      return wrong !== null && event.good ? fault({ code: 'quoted', words: wrong }) : null;
    }
    case 'leak-tested':
      return event.outcome === leakOutcome(event.leak, event.half, event.limit)
        ? null
        : fault({
            code: 'not-that-outcome',
            leak: event.leak,
            half: event.half,
            limit: event.limit,
            outcome: event.outcome,
          });
    case 'incident':
      return null;
    default:
      return event satisfies never;
  }
}
