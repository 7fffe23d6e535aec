import { ruleText, type Step } from '../dive/index.ts';
import type { EventBody } from './events.ts';
import { itemWise, runsBeside, timerId, timerLeft, waitsBefore, type RunContext, type RunState } from './fold.ts';
import { gateBlockers, GATE_NAMES, type Blocker } from './gates.ts';

/** Why something may not be done now. */
export interface Refusal {
  /** A1 to A7, G1 to G7, or `run` for the order of the record itself. */
  rule: string;
  message: string;
  item: string | null;
  blockers: Blocker[];
}

const refuse = (rule: string, message: string, item: string | null = null, blockers: Blocker[] = []): Refusal => ({
  rule,
  message,
  item,
  blockers,
});

/** What each kind of deviation can be said of. */
const DEVIATES: Record<string, readonly string[]> = {
  stripped: ['fastener'],
  missing: ['fastener', 'part', 'latch', 'bond'],
  extra: [],
  torn: ['connector'],
  broken: ['part', 'latch', 'connector'],
  'not-as-drawn': ['part', 'fastener', 'connector', 'bond', 'latch'],
  'already-replaced': ['part', 'bond', 'connector'],
};

/**
 * May this event be added to the record? The browser asks before it sends, the server before it writes.
 * @param now ms since the epoch
 * @returns `null` when it may
 */
export function admit(context: RunContext, state: RunState, event: EventBody, now: number): Refusal | null {
  if (state.signedOff && event.type !== 'note' && event.type !== 'photo')
    return refuse('run', 'the job is signed off; only notes and photographs can be added');
  if (event.type === 'replanned') return refuse('run', 'a dive is planned anew by the server only');
  const step = 'step' in event && event.step !== null ? context.steps.get(event.step) : undefined;
  if ('step' in event && event.step !== null && !step) return refuse('run', `the dive has no step ${event.step}`);

  switch (event.type) {
    case 'step-done':
      return admitDone(context, state, step!, now);
    case 'step-left':
      if (state.done.has(event.step)) return refuse('run', `step ${event.step} is done already`);
      return step!.do === 'gate'
        ? refuse(step!.gate!, 'a gate cannot be left for later', null, gateBlockers(context, state, step!, now))
        : null;
    case 'step-undone': {
      const last = state.undoable;
      if (!last || last.step !== event.step)
        return refuse(
          'run',
          last ? `only the last action can be taken back: step ${last.step}` : 'there is nothing to take back',
        );
      return null;
    }
    case 'screw-out':
    case 'screw-in':
      return (
        early(state, step!, now) ??
        admitItem(context, state, step!, event.fastener, event.type === 'screw-out' ? ['unscrew'] : ['fasten'])
      );
    case 'connector-opened':
      return early(state, step!, now) ?? admitItem(context, state, step!, event.connector, ['disconnect', 'desolder']);
    case 'connector-seated':
      return early(state, step!, now) ?? admitItem(context, state, step!, event.connector, ['connect', 'solder']);
    case 'gate': {
      if (step!.gate !== event.gate) return refuse('run', `step ${event.step} is not the gate ${event.gate}`);
      if (event.outcome === 'refused') return null;
      return shut(context, state, step!, now);
    }
    case 'test': {
      if (!context.model.anatomy.functions.some((f) => f.id === event.function))
        return refuse('run', `there is no function "${event.function}"`);
      if (event.outcome !== 'pass' && event.reason.trim() === '')
        return refuse(
          'run',
          event.outcome === 'waived' ? 'a waived test needs a reason' : 'say what failed',
          event.function,
        );
      return null;
    }
    case 'deviation': {
      if (event.item === null) return event.note.trim() === '' ? refuse('run', 'say what is different') : null;
      const item = context.model.items.get(event.item);
      if (!item) return refuse('run', `there is no item "${event.item}"`);
      if (!DEVIATES[event.kind]!.includes(item.type))
        return refuse('run', `"${event.kind}" cannot be said of ${context.model.nameOf(event.item)}, a ${item.type}`);
      if (event.kind === 'missing' && event.note.trim() === '')
        return refuse('run', 'say where the missing one was looked for; the count rests on it', event.item);
      return null;
    }
    case 'timer-started':
      return step!.waits > 0 ? early(state, step!, now) : refuse('run', `step ${event.step} has no wait`);
    case 'timer-ended':
      return state.timers.has(event.timer) ? null : refuse('run', `no timer "${event.timer}" is running`);
    case 'signed-off': {
      const last = context.plan.steps.findLast((s) => s.gate === 'G7')!;
      return state.gates.get(last.n)?.outcome === 'passed'
        ? null
        : (shut(context, state, last, now) ?? refuse('G7', 'pass the last gate first'));
    }
    default:
      return null;
  }
}

/** Refuses what a running wait stands before. */
function early(state: RunState, step: Step, now: number): Refusal | null {
  const [wait] = waitsBefore(state, step, now);
  if (!wait) return null;
  const because = state.timers.has(`step-${wait.step}`)
    ? `the wait of step ${wait.step} has ${Math.ceil(wait.left)} s to run`
    : `the wait of step ${wait.step} was not started`;
  return refuse('run', `${because}; end it with a reason if it is not needed`, null, [
    { item: `step ${wait.step}`, because, step: wait.step, waiver: null },
  ]);
}

function shut(context: RunContext, state: RunState, step: Step, now: number): Refusal | null {
  const blockers = gateBlockers(context, state, step, now);
  if (blockers.length === 0) return null;
  return refuse(step.gate!, `${GATE_NAMES[step.gate!]}: ${blockers[0]!.because}`, blockers[0]!.item, blockers);
}

function physical(context: RunContext, state: RunState, step: Step, items: string[]): Refusal | null {
  const violation = context.checker.violation(state.device, { ...step, items });
  return (
    violation &&
    refuse(violation.rule, `${violation.message} (${violation.rule}: ${ruleText(violation.rule)})`, violation.item)
  );
}

function admitItem(
  context: RunContext,
  state: RunState,
  step: Step,
  item: string,
  verbs: Step['do'][],
): Refusal | null {
  if (!verbs.includes(step.do) || !step.items.includes(item))
    return refuse('run', `step ${step.n} does not ${verbs[0]} ${item}`, item);
  if (state.items.get(step.n)?.has(item))
    return refuse('run', `${context.model.nameOf(item)} is dealt with already`, item);
  return physical(context, state, step, [item]);
}

function admitDone(context: RunContext, state: RunState, step: Step, now: number): Refusal | null {
  if (state.done.has(step.n)) return refuse('run', `step ${step.n} is done already`);
  if (step.gate) {
    const gate = state.gates.get(step.n);
    return gate?.outcome === 'passed'
      ? null
      : (shut(context, state, step, now) ?? refuse(step.gate, 'the gate is not passed yet'));
  }
  const soon = early(state, step, now);
  if (soon) return soon;
  const kind = itemWise(step);
  if (kind === 'test') {
    const left = step.items.find((f) => !state.tests.has(f));
    return left ? refuse('run', `${left} is not tested yet`, left) : null;
  }
  const dealt = state.items.get(step.n);
  if (kind) {
    const left = step.items.filter((id) => !dealt?.has(id) && !state.device.absent.has(id));
    if (left.length > 0)
      return refuse(
        'run',
        `${left.length} of ${step.items.length} still to do: ${left.map((id) => context.model.nameOf(id)).join(', ')}`,
        left[0]!,
      );
    return null;
  }
  if (step.waits > 0) {
    const timer = state.timers.get(timerId(step));
    if (!timer) return refuse('run', 'start the wait first');
    const left = timerLeft(timer, now);
    if (left > 0 && !runsBeside(context, step))
      return refuse('run', `the wait has ${Math.ceil(left)} s to run; end it with a reason if it is not needed`);
  }
  if (step.do === 'fit' || step.do === 'transfer') {
    const gate = context.plan.steps.find((s) => s.n < step.n && s.gate && !state.done.has(s.n));
    if (gate) {
      return (
        shut(context, state, gate, now) ??
        refuse(gate.gate!, `${GATE_NAMES[gate.gate!]} stands before this: pass step ${gate.n} first`, null, [
          { item: gate.gate!, because: `the gate at step ${gate.n} is not passed`, step: gate.n, waiver: null },
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
