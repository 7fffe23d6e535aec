import { identityFaults } from '../counter/index.ts';
import { outcomesOf } from '../diagnosis/index.ts';
import type { Step } from '../dive/index.ts';
import { specOf } from '../explore/index.ts';
import { isCounterMade, isServerMade, DEVIATION_FACTS, stepOf, type EventBody } from './events.ts';
import type { RunContext } from './context.ts';
import { careFault, cellRefusal } from './care.ts';
import { gateBlockers, isProved, type Blocker } from './gates.ts';
import type { BlockerMessage, RefusalMessage } from './messages.ts';
import { beyondAgreed, isClosed, itemWise, mayTakeBack, priceNow, type RunState } from './state.ts';
import { tryNow } from './tryNow.ts';
import { isCooling, runsBeside, timerId, timerLeft, waitsBefore } from './timers.ts';

/** Why something may not be done now. */
export interface Refusal {
  /** A1 to A7, G1 to G7, `agreed` for what the customer has not agreed to, or `run` for the order of the record itself. */
  rule: string;
  said: RefusalMessage;
  item: string | null;
  blockers: Blocker[];
}

export const refuse = (
  rule: string,
  said: RefusalMessage,
  item: string | null = null,
  blockers: Blocker[] = [],
): Refusal => ({ rule, said, item, blockers });

/** Shortest reason for ending a press or a cure by judgement, words. Origin: own choice; one word is a shrug. */
const WORDS_FOR_A_BOND = 3;

const wordsOf = (text: string): number =>
  text
    .trim()
    .split(/\s+/)
    .filter((w) => /\p{L}/u.test(w)).length;

/** A clock of another device may be ahead by so much, ms. Origin: own choice. */
const SAID_AHEAD = 120_000;

/** What can still be recorded of a job that is signed off. */
const AFTER_SIGNING: ReadonlySet<EventBody['type']> = new Set(['note', 'photo', 'cell-boxed', 'incident']);

/**
 * May this event be added to the record? The browser asks before it sends, the server before it writes.
 * @param now ms since the epoch, when it was made
 * @param by who made it, where that is known: some work is only for people who are named
 * @returns `null` when it may
 */
export function admit(
  context: RunContext,
  state: RunState,
  event: EventBody,
  now: number,
  by: string | null = null,
): Refusal | null {
  if (isCounterMade(event)) return refuse('run', { code: 'ask-the-server' });
  if (state.signedOff && !AFTER_SIGNING.has(event.type)) {
    return refuse('run', { code: 'signed-off' });
  }
  if (isServerMade(event)) return refuse('run', { code: 'changed-by-server' });
  const named = stepOf(event);
  const step = named === null ? undefined : context.steps.get(named);
  if (named !== null && !step) {
    return refuse('run', context.version === 0 ? { code: 'no-dive' } : { code: 'no-such-step', step: named });
  }

  switch (event.type) {
    case 'step-done':
      return free(context, state, step!) ?? admitDone(context, state, step!, now);
    case 'step-left': {
      if (state.done.has(event.step)) return refuse('run', { code: 'done-already', n: step!.n });
      const { gate } = step!;
      if (!gate) return free(context, state, step!);
      return refuse(gate, { code: 'gate-not-left' }, null, gateBlockers(context, state, step!, now));
    }
    case 'step-undone':
      return admitUndone(context, state, event.step, event.item);
    case 'screw-out':
    case 'screw-in':
      return admitItem(context, state, step!, event.fastener, SCREW_VERBS[event.type], now);
    case 'connector-opened':
    case 'connector-seated':
      return admitItem(context, state, step!, event.connector, CONNECTOR_VERBS[event.type], now);
    case 'gate':
      if (step!.gate !== event.gate) return refuse('run', { code: 'not-that-gate', n: step!.n, gate: event.gate });
      if (event.outcome === 'refused') return null;
      return free(context, state, step!) ?? shut(context, state, step!, now);
    case 'test':
      return admitTest(context, state, event);
    case 'deviation':
      return admitDeviation(context, event);
    case 'timer-started':
      return admitStart(context, state, step!, event.seconds, now);
    case 'timer-ended':
      return admitEnd(context, state, event, now);
    case 'torque':
      if (step!.do !== 'fasten' || !step!.items.includes(event.fastener)) {
        return refuse('run', { code: 'fastens-not', n: step!.n, item: event.fastener }, event.fastener);
      }
      return null;
    case 'screw-measured': {
      const screw = context.model.fasteners.get(event.fastener);
      if (!screw) return refuse('run', { code: 'no-such-screw', thing: event.fastener }, event.fastener);
      return screw.length === null
        ? null
        : refuse('run', { code: 'drawn-with', item: event.fastener, length: screw.length }, event.fastener);
    }
    case 'losses-agreed': {
      const wanted = [...new Set(context.plan.losses.map((l) => l.function))].sort();
      const told = [...new Set(event.losses)].sort();
      if (wanted.length === 0) return refuse('agreed', { code: 'nothing-to-agree' });
      if (!event.word?.trim()) return refuse('agreed', { code: 'whose-word' });
      const said = Date.parse(event.said);
      if (!(said <= now + SAID_AHEAD)) return refuse('agreed', { code: 'said-in-future' });
      if (state.agreed?.signed && beyondAgreed(state).losses.length === 0)
        return refuse('agreed', { code: 'signed-already' });
      if (JSON.stringify(wanted) === JSON.stringify(told)) return null;
      return refuse('agreed', { code: 'agree-to', losses: wanted });
    }
    case 'consent-withdrawn':
      if (!state.agreed) return refuse('agreed', { code: 'nothing-agreed' });
      return mayTakeBack(state) ? null : refuse('agreed', { code: 'work-has-begun' });
    case 'act':
      if (context.version > 0) return refuse('run', { code: 'has-a-dive' });
      if (event.item !== null && context.model.items.size > 0 && !context.model.items.has(event.item)) {
        return refuse('run', { code: 'no-item', thing: event.item }, event.item);
      }
      return event.item === null && event.note.trim() === '' && specOf(event.act).of !== null
        ? refuse('run', { code: 'say-of-what' })
        : null;
    case 'act-undone': {
      if (context.version > 0) return refuse('run', { code: 'way-back-stays' });
      const last = state.acts.at(-1);
      if (!last) return refuse('run', { code: 'nothing-to-take-back' });
      return last.id === event.act ? null : refuse('run', { code: 'only-last-act' }, last.item);
    }
    case 'answered':
      return context.version > 0 ? refuse('run', { code: 'asked-no-more' }) : null;
    case 'signed-off': {
      const last = context.plan.steps.findLast((s) => s.gate === 'G7');
      if (!last) return refuse('G7', { code: 'nothing-to-sign' });
      if (state.gates.get(last.id)?.outcome === 'passed') return null;
      return shut(context, state, last, now) ?? refuse('G7', { code: 'last-gate-first' });
    }
    case 'tried':
      return admitTrial(context, state, event, now);
    case 'looked':
      return context.model.items.has(event.item)
        ? null
        : refuse('run', { code: 'no-item', thing: event.item }, event.item);
    case 'identified': {
      const [fault] = identityFaults(event);
      return fault ? refuse('run', { code: 'quoted', words: `${fault.path}: ${fault.message}` }) : null;
    }
    case 'condition-unmarked':
      return state.counter.marks.has(event.mark) ? null : refuse('run', { code: 'no-such-mark' });
    case 'condition-marked':
    case 'complained':
      return state.startedAt === null ? null : refuse('run', { code: 'came-in-closed' });
    case 'checked': {
      const { check, outcome } = event;
      if (outcome === null || outcomesOf(check).includes(outcome)) return null;
      return refuse('run', { code: 'outcome-of-another', outcome, outcomes: outcomesOf(check) });
    }
    case 'parked':
      return admitParked(context, state);
    case 'wait-started':
    case 'cell-measured':
    case 'cell-seen':
    case 'cell-boxed':
    case 'fit-measured':
    case 'leak-tested':
    case 'transplant-step':
    case 'incident': {
      const fault = careFault(context, state, event, by);
      return fault ? refuse(fault.rule, fault.said) : null;
    }
    case 'resumed':
      return state.counter.parked ? null : refuse('run', { code: 'not-parked' });
    case 'handed-on':
    case 'photo':
    case 'note':
    case 'reading':
      return null;
    default:
      event satisfies never;
      return refuse('run', { code: 'unknown-event' });
  }
}

const SCREW_VERBS = { 'screw-out': ['unscrew'], 'screw-in': ['fasten'] } as const;
const CONNECTOR_VERBS = {
  'connector-opened': ['disconnect', 'desolder'],
  'connector-seated': ['connect', 'solder'],
} as const;

/** Verbs that put nothing at risk that was not agreed: they make safe, look, or keep what is there. */
const MAKES_SAFE: ReadonlySet<Step['do']> = new Set([
  'power-off',
  'bend-aside',
  'photo',
  'inspect',
  'turn-over',
  'clean',
]);

/**
 * Does a step only make the device safe, or close it again? Those never wait for anybody's agreement once the device is
 * open: isolating the battery, and all of the way back.
 */
function safeOrClosing({ model }: RunContext, state: RunState, step: Step): boolean {
  if (state.startedAt === null) return false;
  if (step.phase === 'ascent' || step.phase === 'prove' || MAKES_SAFE.has(step.do)) return true;
  return step.do === 'disconnect' && step.items.every((id) => model.connectors.get(id)?.isolatesPower);
}

/** Nobody works on a job that is parked, nor beyond what was agreed. */
function free(context: RunContext, state: RunState, step: Step): Refusal | null {
  const { parked, collected } = state.counter;
  if (collected) return refuse('run', { code: 'collected-by', name: collected.name });
  if (parked) return refuse('parked', { code: 'parked-at', where: parked.where });
  return agreed(context, state, step);
}

/**
 * Work begins only when what it costs was agreed, and goes on only while nothing else is lost and it costs no more than
 * was signed. Making safe and closing never wait for that.
 */
function agreed(context: RunContext, state: RunState, step: Step): Refusal | null {
  const beyond = beyondAgreed(state);
  if (beyond.losses.length === 0 && !beyond.price) return null;
  if (safeOrClosing(context, state, step)) return null;
  if (beyond.losses.length === 0) {
    const { limit, currency } = state.agreed!.signed!.terms;
    return refuse('agreed', { code: 'costs-more', price: priceNow(state)!, limit: limit!, currency });
  }
  return refuse('agreed', { code: 'not-agreed', losses: beyond.losses });
}

/** Refuses what a running wait stands before. */
function early(state: RunState, step: Step, now: number): Refusal | null {
  const [wait] = waitsBefore(state, step, now);
  if (!wait) return null;
  const { n } = wait.step;
  const left = Math.ceil(wait.left);
  const why: BlockerMessage = isCooling({ id: wait.timer })
    ? { code: 'too-hot-at', n, left }
    : wait.started
      ? { code: 'wait-runs', n, left }
      : { code: 'wait-never-started', n };
  return refuse('run', { code: 'wait-first', why }, null, [
    { item: wait.step.id, said: why, step: wait.step.id, waiver: null },
  ]);
}

function shut(context: RunContext, state: RunState, step: Step, now: number): Refusal | null {
  const blockers = gateBlockers(context, state, step, now);
  if (blockers.length === 0) return null;
  const [{ said: why, item }] = blockers as [Blocker];
  return refuse(step.gate!, { code: 'gate-shut', gate: step.gate!, why }, item, blockers);
}

function physical(context: RunContext, state: RunState, step: Step, items: string[]): Refusal | null {
  const violation = context.checker.violation(state.device, { ...step, items });
  if (!violation) return null;
  const { rule, said, item } = violation;
  return refuse(rule, said, item);
}

function admitItem(
  context: RunContext,
  state: RunState,
  step: Step,
  item: string,
  verbs: readonly Step['do'][],
  now: number,
): Refusal | null {
  const soon = free(context, state, step) ?? early(state, step, now);
  if (soon) return soon;
  if (!verbs.includes(step.do) || !step.items.includes(item)) {
    return refuse('run', { code: 'does-not', n: step.n, verb: verbs[0]!, item }, item);
  }
  if (state.items.get(step.id)?.has(item)) {
    return refuse('run', { code: 'dealt-with', item }, item);
  }
  return physical(context, state, step, [item]);
}

function admitUndone(context: RunContext, state: RunState, step: string, item: string | null): Refusal | null {
  const last = state.undoable;
  if (!last) return refuse('run', { code: 'nothing-to-take-back' });
  if (last.step !== step) return refuse('run', { code: 'only-last-action', n: context.steps.get(last.step)?.n ?? 0 });
  if (item !== null && last.item !== null && item !== last.item) {
    return refuse('run', { code: 'only-last-item', item: last.item }, last.item);
  }
  return null;
}

function admitTest(context: RunContext, state: RunState, event: Extract<EventBody, { type: 'test' }>): Refusal | null {
  const { function: id, outcome, reason, circumstance } = event;
  // What was tried at intake may not be in the device's list; it is tried again all the same.
  if (!context.model.anatomy.functions.some((f) => f.id === id) && !state.before.has(id))
    return refuse('run', { code: 'no-function', thing: id });
  if (outcome === 'waived' && reason.trim() === '') return refuse('run', { code: 'waiver-needs-reason' }, id);
  if (outcome === 'fail' && reason.trim() === '') return refuse('run', { code: 'say-what-failed' }, id);
  switch (circumstance) {
    case 'intake':
      return state.startedAt === null ? null : refuse('run', { code: 'not-at-intake' }, id);
    case 'tried':
      return null;
    case 'open':
      if (state.startedAt === null) return refuse('run', { code: 'not-open-yet' }, id);
      return state.isolated && outcome !== 'waived' ? refuse('run', { code: 'battery-is-off' }, id) : null;
    case 'closed':
      return isClosed(state) || outcome === 'waived' ? null : refuse('run', { code: 'not-closed-yet' }, id);
    default:
      circumstance satisfies never;
      return refuse('run', { code: 'say-where-tested' }, id);
  }
}

/** What lies open and waits is isolated. */
function admitParked(context: RunContext, state: RunState): Refusal | null {
  if (state.counter.parked) return refuse('run', { code: 'parked-already', where: state.counter.parked.where });
  if (state.startedAt === null || isClosed(state)) return null;
  const feeds = context.model.anatomy.connectors.some((c) => c.isolatesPower);
  if (feeds && !state.isolated) return refuse('A4', { code: 'isolate-to-park' });
  return null;
}

/** A trial that left the device live, or was made where it could not be, is no interlude. */
function admitTrial(
  context: RunContext,
  state: RunState,
  event: Extract<EventBody, { type: 'tried' }>,
  now: number,
): Refusal | null {
  if (state.startedAt === null) return refuse('run', { code: 'trial-at-intake' });
  const trial = tryNow(context, state, now);
  const [lack] = trial.lacks;
  if (lack) return refuse('R10', lack.said, lack.item);
  const other = event.mated.find((id) => !trial.mated.includes(id));
  if (other) return refuse('R10', { code: 'not-mated-for-trial', item: other }, other);
  if (trial.isolates && !event.isolated) return refuse('R2', { code: 'isolate-after-trial' });
  return null;
}

function admitDeviation(context: RunContext, event: Extract<EventBody, { type: 'deviation' }>): Refusal | null {
  const { item: id, kind, note } = event;
  const value = event.value ?? null;
  const may = DEVIATION_FACTS.of(kind);
  if (kind === 'other-length' && !(value !== null && value > 0)) return refuse('run', { code: 'say-length' }, id);
  if (kind === 'overheated' && value === null) return refuse('run', { code: 'say-peak' }, id);
  if (id === null) {
    if (!may.device) return refuse('run', { code: 'kind-needs-item', kind });
    return note.trim() === '' ? refuse('run', { code: 'say-what-differs' }) : null;
  }
  const item = context.model.items.get(id);
  // A device that nobody has drawn has no items to look up; what is said of it stands as it is said.
  if (!item) return context.model.items.size === 0 ? null : refuse('run', { code: 'no-item', thing: id });
  if (!may.of.includes(item.type)) {
    return refuse('run', { code: 'kind-of-another', kind, item: id, type: item.type });
  }
  if (kind === 'missing' && note.trim() === '') {
    return refuse('run', { code: 'say-where-looked' }, id);
  }
  return null;
}

function admitStart(context: RunContext, state: RunState, step: Step, seconds: number, now: number): Refusal | null {
  if (step.waits === 0) return refuse('run', { code: 'has-no-wait', n: step.n });
  if (seconds !== step.waits) return refuse('run', { code: 'wait-is', n: step.n, seconds: step.waits, given: seconds });
  if (state.done.has(step.id) && !runsBeside(context, step)) return refuse('run', { code: 'done-already', n: step.n });
  const running = state.timers.get(timerId(step));
  if (running && timerLeft(running, now) > 0) return refuse('run', { code: 'wait-runs-already', n: step.n });
  return free(context, state, step) ?? early(state, step, now);
}

function admitEnd(
  context: RunContext,
  state: RunState,
  { timer: id, how, reason }: Extract<EventBody, { type: 'timer-ended' }>,
  now: number,
): Refusal | null {
  const timer = state.timers.get(id);
  if (!timer) return refuse('run', { code: 'no-such-wait', thing: id });
  if (timerLeft(timer, now) <= 0) return refuse('run', { code: 'wait-has-run' });
  const step = context.steps.get(timer.step);
  const verb = step?.do;
  switch (how) {
    case 'thermometer':
      return isCooling(timer) || verb === 'heat' ? null : refuse('run', { code: 'thermometer-ends-heat' });
    case 'judged': {
      const words = wordsOf(reason);
      if (words === 0) return refuse('run', { code: 'say-why-it-ends' });
      if ((verb === 'press' || verb === 'cure') && words < WORDS_FOR_A_BOND) {
        return refuse('run', { code: 'say-in-words', least: WORDS_FOR_A_BOND, verb });
      }
      return null;
    }
    default:
      how satisfies never;
      return refuse('run', { code: 'say-what-ends' });
  }
}

/** Functions of a test step that are not tested yet as the gate after it asks. */
export function testsLeft(context: RunContext, state: RunState, step: Step): string[] {
  const sealing = step.phase !== 'prove';
  return step.items.filter((f) => !isTested(context, state, f, sealing));
}

/** Has a function been tested as it stands now, whatever came of it? A failure is an answer too. */
function isTested(context: RunContext, state: RunState, id: string, sealing: boolean): boolean {
  const result = state.tests.get(id);
  if (!result) return false;
  return result.outcome === 'fail' ? result.circumstance !== 'tried' : isProved(context, state, id, sealing);
}

const isCell = ({ model }: RunContext, id: string): boolean => model.parts.get(id)?.kind === 'battery';

function admitDone(context: RunContext, state: RunState, step: Step, now: number): Refusal | null {
  if (state.done.has(step.id)) return refuse('run', { code: 'done-already', n: step.n });
  if (step.gate) {
    const gate = state.gates.get(step.id);
    if (gate?.outcome === 'passed') return null;
    return shut(context, state, step, now) ?? refuse(step.gate, { code: 'gate-not-passed' });
  }
  const soon = early(state, step, now);
  if (soon) return soon;
  const kind = itemWise(step);
  if (kind === 'test') {
    const [left] = testsLeft(context, state, step);
    return left ? refuse('run', { code: 'not-tested', function: left }, left) : null;
  }
  const dealt = state.items.get(step.id);
  if (kind) {
    const left = step.items.filter((id) => !dealt?.has(id) && !state.device.absent.has(id));
    if (left.length === 0) return null;
    return refuse('run', { code: 'still-to-do', left: left.length, of: step.items.length, items: left }, left[0]!);
  }
  if (step.waits > 0) {
    const timer = state.timers.get(timerId(step));
    if (!timer) return refuse('run', { code: 'start-wait-first' });
    const left = timerLeft(timer, now);
    if (left > 0 && !runsBeside(context, step)) {
      return refuse('run', { code: 'wait-has-left', left: Math.ceil(left) });
    }
  }
  const cell = step.do === 'fit' || step.do === 'renew' ? step.items.find((id) => isCell(context, id)) : undefined;
  if (cell !== undefined) {
    const spoken = cellRefusal(state, cell);
    if (spoken) return refuse('cell', spoken, cell);
  }
  if (step.do === 'fit' || step.do === 'transfer') {
    const gate = context.plan.steps.slice(0, step.n - 1).find((s) => s.gate && !state.done.has(s.id));
    if (gate) {
      return (
        shut(context, state, gate, now) ??
        refuse(gate.gate!, { code: 'gate-before', gate: gate.gate!, n: gate.n }, null, [
          { item: gate.gate!, said: { code: 'gate-at', n: gate.n }, step: gate.id, waiver: null },
        ])
      );
    }
  }
  return physical(
    context,
    state,
    step,
    step.items.filter((id) => !dealt?.has(id)),
  );
}
