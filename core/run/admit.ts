import { identityFaults, nameOfLoss, tellMoney } from '../counter/index.ts';
import { outcomesOf } from '../diagnosis/index.ts';
import type { Step } from '../dive/index.ts';
import { specOf } from '../explore/index.ts';
import { isCounterMade, isServerMade, stepOf, type DeviationKind, type EventBody } from './events.ts';
import type { RunContext } from './context.ts';
import { careFault, cellRefusal } from './care.ts';
import { gateBlockers, GATE_NAMES, isProved, type Blocker } from './gates.ts';
import { beyondAgreed, isClosed, itemWise, mayTakeBack, priceNow, type RunState } from './state.ts';
import { tryNow } from './tryNow.ts';
import { isCooling, runsBeside, timerId, timerLeft, waitsBefore } from './timers.ts';

/** Why something may not be done now. */
export interface Refusal {
  /** A1 to A7, G1 to G7, `agreed` for what the customer has not agreed to, or `run` for the order of the record itself. */
  rule: string;
  message: string;
  item: string | null;
  blockers: Blocker[];
}

export const refuse = (
  rule: string,
  message: string,
  item: string | null = null,
  blockers: Blocker[] = [],
): Refusal => ({ rule, message, item, blockers });

type ItemType = 'part' | 'fastener' | 'connector' | 'bond' | 'latch';

/** What each kind of deviation can be said of, and whether it can be said of the device as a whole. */
export const DEVIATES: Record<DeviationKind, { of: readonly ItemType[]; device: boolean }> = {
  stripped: { of: ['fastener'], device: false },
  'cross-threaded': { of: ['fastener'], device: false },
  corroded: { of: ['fastener', 'connector', 'part'], device: true },
  missing: { of: ['fastener', 'part', 'latch', 'bond'], device: false },
  'other-length': { of: ['fastener'], device: false },
  'other-screw': { of: ['fastener'], device: false },
  snapped: { of: ['bond', 'latch'], device: false },
  torn: { of: ['connector'], device: false },
  broken: { of: ['part', 'latch', 'connector'], device: false },
  'not-as-drawn': { of: ['part', 'fastener', 'connector', 'bond', 'latch'], device: true },
  'already-replaced': { of: ['part', 'bond', 'connector'], device: false },
  extra: { of: [], device: true },
  overheated: { of: ['bond', 'part'], device: true },
};

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
  if (isCounterMade(event)) return refuse('run', 'this is recorded by asking the server for it');
  if (state.signedOff && !AFTER_SIGNING.has(event.type)) {
    return refuse('run', 'the job is signed off; only notes, photographs, and what becomes of its cell can be added');
  }
  if (isServerMade(event)) return refuse('run', 'plans and anatomies are changed by asking the server for it');
  const named = stepOf(event);
  const step = named === null ? undefined : context.steps.get(named);
  if (named !== null && !step) {
    return refuse('run', context.version === 0 ? 'this job has no dive' : `the dive has no step ${named}`);
  }

  switch (event.type) {
    case 'step-done':
      return free(context, state, step!) ?? admitDone(context, state, step!, now);
    case 'step-left': {
      if (state.done.has(event.step)) return refuse('run', `step ${step!.n} is done already`);
      const { gate } = step!;
      if (!gate) return free(context, state, step!);
      return refuse(gate, 'a gate cannot be left for later', null, gateBlockers(context, state, step!, now));
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
      if (step!.gate !== event.gate) return refuse('run', `step ${step!.n} is not the gate ${event.gate}`);
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
        return refuse('run', `step ${step!.n} does not fasten ${event.fastener}`, event.fastener);
      }
      return null;
    case 'screw-measured': {
      const screw = context.model.fasteners.get(event.fastener);
      if (!screw) return refuse('run', `there is no screw "${event.fastener}"`, event.fastener);
      return screw.length === null
        ? null
        : refuse(
            'run',
            `${event.fastener} is drawn with ${screw.length} mm; say that it is of another length`,
            event.fastener,
          );
    }
    case 'losses-agreed': {
      const wanted = [...new Set(context.plan.losses.map((l) => l.function))].sort();
      const told = [...new Set(event.losses)].sort();
      if (wanted.length === 0) return refuse('agreed', 'this plan loses nothing that would have to be agreed');
      if (!event.word?.trim()) return refuse('agreed', 'say whose word it is');
      const said = Date.parse(event.said);
      if (!(said <= now + SAID_AHEAD)) return refuse('agreed', 'what was said cannot have been said in time to come');
      if (state.agreed?.signed && beyondAgreed(state).losses.length === 0)
        return refuse('agreed', 'the customer has signed for this already');
      if (JSON.stringify(wanted) === JSON.stringify(told)) return null;
      return refuse('agreed', `what this plan loses is ${wanted.join(', ')}; agree to that`);
    }
    case 'consent-withdrawn':
      if (!state.agreed) return refuse('agreed', 'nothing was agreed that could be taken back');
      return mayTakeBack(state)
        ? null
        : refuse('agreed', 'work has begun; what is open is closed first, and what is left is agreed anew');
    case 'act':
      if (context.version > 0) return refuse('run', 'this job has a dive; record it at its step, or as a deviation');
      if (event.item !== null && context.model.items.size > 0 && !context.model.items.has(event.item)) {
        return refuse('run', `there is no item "${event.item}"`, event.item);
      }
      return event.item === null && event.note.trim() === '' && specOf(event.act).of !== null
        ? refuse('run', 'say of what')
        : null;
    case 'act-undone': {
      if (context.version > 0) return refuse('run', 'the way back has been planned on it; it stays');
      const last = state.acts.at(-1);
      if (!last) return refuse('run', 'there is nothing to take back');
      return last.id === event.act ? null : refuse('run', 'only the last act can be taken back', last.item);
    }
    case 'answered':
      return context.version > 0 ? refuse('run', 'the way back has been planned; it is asked no more') : null;
    case 'signed-off': {
      const last = context.plan.steps.findLast((s) => s.gate === 'G7');
      if (!last) return refuse('G7', 'there is no dive to sign for');
      if (state.gates.get(last.id)?.outcome === 'passed') return null;
      return shut(context, state, last, now) ?? refuse('G7', 'pass the last gate first');
    }
    case 'tried':
      return admitTrial(context, state, event, now);
    case 'looked':
      return context.model.items.has(event.item) ? null : refuse('run', `there is no item "${event.item}"`, event.item);
    case 'identified': {
      const [fault] = identityFaults(event);
      return fault ? refuse('run', `${fault.path}: ${fault.message}`) : null;
    }
    case 'condition-unmarked':
      return state.counter.marks.has(event.mark) ? null : refuse('run', 'there is no such mark');
    case 'condition-marked':
    case 'complained':
      return state.startedAt === null ? null : refuse('run', 'the dive has begun; that belongs to how it came in');
    case 'checked': {
      const { check, outcome } = event;
      if (outcome === null || outcomesOf(check).includes(outcome)) return null;
      return refuse('run', `"${outcome}" does not come of that check; ${outcomesOf(check).join(', ')} do`);
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
      return fault ? refuse(fault.rule, fault.message) : null;
    }
    case 'resumed':
      return state.counter.parked ? null : refuse('run', 'this job is not parked');
    case 'handed-on':
    case 'photo':
    case 'note':
    case 'reading':
      return null;
    default:
      event satisfies never;
      return refuse('run', 'this kind of event is not known');
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
  if (collected) return refuse('run', `${collected.name} has collected this device`);
  if (parked) return refuse('parked', `this job is parked at ${parked.where}; take it up again first`);
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
    const price = tellMoney(priceNow(state)!, currency);
    return refuse(
      'agreed',
      `it would cost ${price}, and ${tellMoney(limit!, currency)} was agreed; have it agreed anew first`,
    );
  }
  const names = beyond.losses.map((id) => nameOfLoss(context.model, id));
  return refuse('agreed', `not agreed with the customer yet: ${names.join(', ')}; agree to it on the plan first`);
}

/** Refuses what a running wait stands before. */
function early(state: RunState, step: Step, now: number): Refusal | null {
  const [wait] = waitsBefore(state, step, now);
  if (!wait) return null;
  const { n } = wait.step;
  const seconds = Math.ceil(wait.left);
  const because = wait.timer.startsWith('cool:')
    ? `it was too hot at step ${n}; let it cool, ${seconds} s by the clock`
    : wait.started
      ? `the wait of step ${n} has ${seconds} s to run`
      : `the wait of step ${n} was not started`;
  return refuse('run', `${because}; end it with a reason if it is not needed`, null, [
    { item: `step ${n}`, because, step: wait.step.id, waiver: null },
  ]);
}

function shut(context: RunContext, state: RunState, step: Step, now: number): Refusal | null {
  const blockers = gateBlockers(context, state, step, now);
  if (blockers.length === 0) return null;
  return refuse(step.gate!, `${GATE_NAMES[step.gate!]}: ${blockers[0]!.because}`, blockers[0]!.item, blockers);
}

function physical(context: RunContext, state: RunState, step: Step, items: string[]): Refusal | null {
  const violation = context.checker.violation(state.device, { ...step, items });
  if (!violation) return null;
  const { rule, message, item } = violation;
  return refuse(rule, message, item);
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
    return refuse('run', `step ${step.n} does not ${verbs[0]} ${item}`, item);
  }
  if (state.items.get(step.id)?.has(item)) {
    return refuse('run', `${context.model.nameOf(item)} is dealt with already`, item);
  }
  return physical(context, state, step, [item]);
}

function admitUndone(context: RunContext, state: RunState, step: string, item: string | null): Refusal | null {
  const last = state.undoable;
  if (!last) return refuse('run', 'there is nothing to take back');
  const n = context.steps.get(last.step)?.n;
  if (last.step !== step) return refuse('run', `only the last action can be taken back: step ${n}`);
  if (item !== null && last.item !== null && item !== last.item) {
    return refuse('run', `only the last action can be taken back: ${last.item}`, last.item);
  }
  return null;
}

function admitTest(context: RunContext, state: RunState, event: Extract<EventBody, { type: 'test' }>): Refusal | null {
  const { function: id, outcome, reason, circumstance } = event;
  // What was tried at intake may not be in the device's list; it is tried again all the same.
  if (!context.model.anatomy.functions.some((f) => f.id === id) && !state.before.has(id))
    return refuse('run', `there is no function "${id}"`);
  if (outcome === 'waived' && reason.trim() === '') return refuse('run', 'a waived test needs a reason', id);
  if (outcome === 'fail' && reason.trim() === '') return refuse('run', 'say what failed', id);
  switch (circumstance) {
    case 'intake':
      return state.startedAt === null ? null : refuse('run', 'the dive has begun; that is no test at intake', id);
    case 'tried':
      return null;
    case 'open':
      if (state.startedAt === null) return refuse('run', 'the device is not open yet; that is a test at intake', id);
      return state.isolated && outcome !== 'waived'
        ? refuse('run', 'the battery is off; nothing can be tested on the open device', id)
        : null;
    case 'closed':
      return isClosed(state) || outcome === 'waived'
        ? null
        : refuse('run', 'something is still off or open; that is no test of the closed device', id);
    default:
      circumstance satisfies never;
      return refuse('run', 'say where the device stood when it was tested', id);
  }
}

/** What lies open and waits is isolated. */
function admitParked(context: RunContext, state: RunState): Refusal | null {
  if (state.counter.parked) return refuse('run', `this job is parked already, at ${state.counter.parked.where}`);
  if (state.startedAt === null || isClosed(state)) return null;
  const feeds = context.model.anatomy.connectors.some((c) => c.isolatesPower);
  if (feeds && !state.isolated)
    return refuse('A4', 'the device is open and live; isolate the battery before it is parked');
  return null;
}

/** A trial that left the device live, or was made where it could not be, is no interlude. */
function admitTrial(
  context: RunContext,
  state: RunState,
  event: Extract<EventBody, { type: 'tried' }>,
  now: number,
): Refusal | null {
  if (state.startedAt === null) return refuse('run', 'the dive has not begun; that is a test at intake');
  const trial = tryNow(context, state, now);
  const [lack] = trial.lacks;
  if (lack) return refuse('R10', lack.because, lack.item);
  const other = event.mated.find((id) => !trial.mated.includes(id));
  if (other) return refuse('R10', `${context.model.nameOf(other)} is not mated for a trial as the device lies`, other);
  if (trial.isolates && !event.isolated)
    return refuse('R2', 'open the plug of the battery again and bend it aside before the work goes on');
  return null;
}

function admitDeviation(context: RunContext, event: Extract<EventBody, { type: 'deviation' }>): Refusal | null {
  const { item: id, kind, note } = event;
  const value = event.value ?? null;
  const may = DEVIATES[kind];
  if (kind === 'other-length' && !(value !== null && value > 0))
    return refuse('run', 'say the length found, in mm', id);
  if (kind === 'overheated' && value === null) return refuse('run', 'say the peak, in °C', id);
  if (id === null) {
    if (!may.device) return refuse('run', `say of which item; "${kind}" is not said of a whole device`);
    return note.trim() === '' ? refuse('run', 'say what is different') : null;
  }
  const item = context.model.items.get(id);
  // A device that nobody has drawn has no items to look up; what is said of it stands as it is said.
  if (!item) return context.model.items.size === 0 ? null : refuse('run', `there is no item "${id}"`);
  if (!may.of.includes(item.type)) {
    return refuse('run', `"${kind}" cannot be said of ${context.model.nameOf(id)}, a ${item.type}`);
  }
  if (kind === 'missing' && note.trim() === '') {
    return refuse('run', 'say where the missing one was looked for; the count rests on it', id);
  }
  return null;
}

function admitStart(context: RunContext, state: RunState, step: Step, seconds: number, now: number): Refusal | null {
  if (step.waits === 0) return refuse('run', `step ${step.n} has no wait`);
  if (seconds !== step.waits) return refuse('run', `the wait of step ${step.n} is ${step.waits} s, not ${seconds} s`);
  if (state.done.has(step.id) && !runsBeside(context, step)) return refuse('run', `step ${step.n} is done already`);
  const running = state.timers.get(timerId(step));
  if (running && timerLeft(running, now) > 0) return refuse('run', `the wait of step ${step.n} runs already`);
  return free(context, state, step) ?? early(state, step, now);
}

function admitEnd(
  context: RunContext,
  state: RunState,
  { timer: id, how, reason }: Extract<EventBody, { type: 'timer-ended' }>,
  now: number,
): Refusal | null {
  const timer = state.timers.get(id);
  if (!timer) return refuse('run', `no wait "${id}" is running`);
  if (timerLeft(timer, now) <= 0) return refuse('run', 'that wait has run already');
  const step = context.steps.get(timer.step);
  const verb = step?.do;
  switch (how) {
    case 'thermometer':
      return isCooling(timer) || verb === 'heat'
        ? null
        : refuse('run', 'a thermometer ends a heating or a cooling, nothing else; say why in words');
    case 'judged': {
      const words = wordsOf(reason);
      if (words === 0) return refuse('run', 'say in words why the wait ends now');
      if ((verb === 'press' || verb === 'cure') && words < WORDS_FOR_A_BOND) {
        return refuse('run', `say in at least ${WORDS_FOR_A_BOND} words why the ${verb} need not run its time`);
      }
      return null;
    }
    default:
      how satisfies never;
      return refuse('run', 'say what ends the wait: a thermometer, or your judgement');
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
  if (state.done.has(step.id)) return refuse('run', `step ${step.n} is done already`);
  if (step.gate) {
    const gate = state.gates.get(step.id);
    if (gate?.outcome === 'passed') return null;
    return shut(context, state, step, now) ?? refuse(step.gate, 'the gate is not passed yet');
  }
  const soon = early(state, step, now);
  if (soon) return soon;
  const kind = itemWise(step);
  if (kind === 'test') {
    const [left] = testsLeft(context, state, step);
    return left ? refuse('run', `${left} is not tested yet`, left) : null;
  }
  const dealt = state.items.get(step.id);
  if (kind) {
    const left = step.items.filter((id) => !dealt?.has(id) && !state.device.absent.has(id));
    if (left.length === 0) return null;
    const names = left.map((id) => context.model.nameOf(id)).join(', ');
    return refuse('run', `${left.length} of ${step.items.length} still to do: ${names}`, left[0]!);
  }
  if (step.waits > 0) {
    const timer = state.timers.get(timerId(step));
    if (!timer) return refuse('run', 'start the wait first');
    const left = timerLeft(timer, now);
    if (left > 0 && !runsBeside(context, step)) {
      return refuse('run', `the wait has ${Math.ceil(left)} s to run; end it with a reason if it is not needed`);
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
        refuse(gate.gate!, `${GATE_NAMES[gate.gate!]} stands before this: pass step ${gate.n} first`, null, [
          { item: gate.gate!, because: `the gate at step ${gate.n} is not passed`, step: gate.id, waiver: null },
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
