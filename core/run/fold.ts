import { apply, resultOf } from './apply.ts';
import type { RunContext } from './context.ts';
import type { RunEvent } from './events.ts';
import { atTheStart, copyState, cursorOf, type RunState } from './state.ts';
import { cancelled, takesBack } from './taken.ts';

/** What stands after the last event: read off the state, so that it is done once for a batch. */
function settle(state: RunState): RunState {
  const { checker } = state.context;
  state.isolated = checker.isolated(state.device);
  state.cursor = cursorOf(state);
  return state;
}

/**
 * @param context what the job began with
 * @param events in the order of their `seq`, from 1 without a gap
 * @param known the state of a beginning of these events, left as it is: only what follows it is folded, unless
 *   something is taken back
 */
export function foldRun(context: RunContext, events: readonly RunEvent[], known?: RunState | null): RunState {
  const from = known?.seq ?? 0;
  const goesOn =
    known &&
    from <= events.length &&
    (from === 0 || events[from - 1]!.seq === from) &&
    !events.slice(from).some(takesBack);
  if (goesOn && from > 0 && from === events.length) return known;
  const state = goesOn ? copyState(known) : atTheStart(context);
  const gone = goesOn ? null : cancelled(context, events);
  for (const event of goesOn ? events.slice(from) : events) {
    if (!gone?.has(event)) apply(state, event);
    else {
      state.seq = event.seq;
      if (event.type === 'test') state.tested.push(resultOf(event));
    }
  }
  return settle(state);
}

/**
 * Folds one more event into a state, in place: the cost does not grow with what has happened before.
 * @returns false, the state untouched, for what has to be folded from the start: an action that is taken back
 */
export function foldOn(state: RunState, event: RunEvent): boolean {
  if (takesBack(event)) return false;
  apply(state, event);
  settle(state);
  return true;
}

/** A fold that goes on event by event, and leaves the state that it began with as it is. */
export class Folding {
  private own = false;
  private readonly added: RunEvent[] = [];

  /**
   * @param origin what the job began with
   * @param before the events that `state` is the fold of
   */
  constructor(
    private readonly origin: RunContext,
    private readonly before: readonly RunEvent[],
    public state: RunState,
  ) {}

  add(event: RunEvent): void {
    this.added.push(event);
    if (!this.own) this.state = copyState(this.state);
    this.own = true;
    if (!foldOn(this.state, event)) this.state = foldRun(this.origin, [...this.before, ...this.added]);
  }
}
