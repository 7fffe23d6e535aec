import { functionIn } from '../anatomy/index.ts';
import type { Step } from '../dive/index.ts';
import type { RunContext } from './context.ts';
import type { RunState, TestResult } from './state.ts';
import { ownWaits } from './care.ts';
import type { BlockerMessage } from './messages.ts';
import { timerId, timerLeft } from './timers.ts';

/** What keeps a gate shut: the item, why, and the step (its id) at which it is made good. */
export interface Blocker {
  item: string;
  said: BlockerMessage;
  step: string | null;
  /** How it may be waived: a screw by a deviation, a test by a reason; anything else not at all. */
  waiver: 'deviation' | 'test' | null;
}

/** May this test stand for the function at a gate? Only one that is fresh and was made with the work in place. */
function proves(result: TestResult | undefined, closed: boolean): result is TestResult {
  if (!result || result.outcome === 'fail') return false;
  if (result.outcome === 'waived') return true;
  return closed ? result.circumstance === 'closed' : result.circumstance !== 'tried';
}

/**
 * Is a function proved as far as it can be by now?
 * @param sealing before a bond is closed; later, what can only be judged closed must have been tested closed
 */
export function isProved(context: RunContext, state: RunState, id: string, sealing = false): boolean {
  const fn = functionIn(context.model.anatomy, id);
  return proves(state.tests.get(id), !sealing && fn.afterClosing);
}

/**
 * What is proved before hand-over: what the dive touched, and what worked before it and is not lost by it, whether the
 * device lists it or not.
 */
export function toProve({ plan, model }: RunContext, state: RunState): string[] {
  const lost = new Set(plan.losses.map((l) => l.function));
  const touched = new Set(plan.touched);
  const good = (id: string) => state.before.get(id)?.outcome === 'pass' && !lost.has(id);
  const listed = model.anatomy.functions.map((f) => f.id);
  const beside = [...state.before.keys()].filter((id) => !listed.includes(id));
  return [...listed.filter((id) => touched.has(id) || good(id)), ...beside.filter(good)];
}

/**
 * What was found to work at the counter after the plan was made: it is proved at the end as well, and stands in no step of the
 * plan until the device is planned anew. None once work has begun.
 */
export function foundSince(state: RunState): string[] {
  const { context, version, startedAt } = state;
  if (version === 0 || startedAt) return [];
  const planned = new Set(context.plan.touched);
  const listed = new Set(context.model.anatomy.functions.map((f) => f.id));
  return toProve(context, state).filter((id) => listed.has(id) && !planned.has(id));
}

/**
 * Everything that keeps the gate of `step` from holding; empty when it holds.
 * @param now ms since the epoch, for waits that must have run
 */
export function gateBlockers(context: RunContext, state: RunState, step: Step, now: number): Blocker[] {
  const { plan } = context;
  const before = plan.steps.slice(0, step.n - 1);
  const stepWith = (verbs: readonly Step['do'][], id: string) =>
    before.findLast((s) => verbs.includes(s.do) && s.items.includes(id))?.id ?? null;
  const plain = (at: Step, said: BlockerMessage): Blocker => ({
    item: at.items[0] ?? at.do,
    said,
    step: at.id,
    waiver: null,
  });
  const undone = (steps: readonly Step[]): Blocker[] =>
    steps
      .filter((s) => !state.done.has(s.id))
      .map((s) => plain(s, { code: 'step-not-done', n: s.n, verb: s.do, items: s.items }));
  const waiting = (steps: readonly Step[]): Blocker[] =>
    steps.flatMap((s) => {
      const timer = state.timers.get(timerId(s));
      if (s.waits === 0 || !state.done.has(s.id)) return [];
      if (!timer) return [plain(s, { code: 'wait-never-started', n: s.n })];
      const left = timerLeft(timer, now);
      return left > 0 ? [plain(s, { code: 'wait-runs', n: s.n, left: Math.ceil(left) })] : [];
    });
  const screws = (ids: readonly string[]): Blocker[] =>
    ids
      .filter((id) => state.device.out.has(id) && !state.device.absent.has(id))
      .map((id) => {
        const well = state.out.get(id);
        return {
          item: id,
          said: well ? { code: 'still-in-well', item: id, well } : { code: 'still-loose', item: id },
          step: stepWith(['fasten'], id),
          waiver: 'deviation',
        };
      });
  const tests = (ids: readonly string[], sealing: boolean): Blocker[] =>
    ids.flatMap((id): Blocker[] => {
      if (isProved(context, state, id, sealing)) return [];
      const result = state.tests.get(id);
      const code = result ? (result.outcome === 'fail' ? 'has-failed' : 'tested-before') : 'not-tested';
      return [{ item: id, said: { code, function: id }, step: stepWith(['test'], id), waiver: 'test' }];
    });
  const mated = (ids: readonly string[]): Blocker[] =>
    ids
      .filter((id) => state.device.open.has(id) && !state.device.absent.has(id))
      .map((id) => ({
        item: id,
        said: { code: 'not-recorded-seated', item: id },
        step: stepWith(['connect', 'solder'], id),
        waiver: null,
      }));
  const own = (): Blocker[] =>
    ownWaits(state, now).map(({ what, left }) => ({
      item: what,
      said: { code: 'own-wait-runs', words: what, left: Math.ceil(left) },
      step: null,
      waiver: null,
    }));
  const concerns = (s: Step) => s.items.some((id) => step.items.includes(id));

  switch (step.gate) {
    case 'G1':
      return mated(step.items);
    case 'G2':
      return screws(step.items);
    case 'G3': {
      const relevant = before.filter(
        (s) => (s.do === 'clean' || s.do === 'inspect') && s.phase === step.phase && concerns(s),
      );
      const loose = state.deviations
        .filter((d) => d.kind === 'extra' && d.note === '')
        .map(
          (d): Blocker => ({
            item: d.item ?? 'extra',
            said: { code: 'extra-unexplained' },
            step: null,
            waiver: null,
          }),
        );
      return [...undone(relevant), ...waiting(relevant), ...loose];
    }
    case 'G4':
      return [...undone(before.filter((s) => s.do === 'power-on').slice(-1)), ...tests(step.items, true)];
    case 'G5':
      return undone(
        before.filter((s) => ((s.do === 'remove-liner' || s.do === 'bond') && concerns(s)) || s.do === 'transfer'),
      );
    case 'G6': {
      const pressed = before.filter((s) => s.do === 'press' || s.do === 'cure');
      return [...undone(pressed.filter(concerns)), ...waiting(pressed), ...own()];
    }
    case 'G7': {
      const unexplained = state.deviations
        .filter((d) => d.note === '' && d.kind !== 'already-replaced')
        .map(
          (d): Blocker => ({
            item: d.item ?? d.kind,
            said: { code: 'deviation-unexplained', item: d.item, kind: d.kind },
            step: null,
            waiver: null,
          }),
        );
      return [
        ...screws([...state.device.out]),
        ...mated([...state.device.open]),
        ...tests(toProve(context, state), false),
        ...undone(before),
        ...waiting(before.filter((s) => s.do === 'press' || s.do === 'cure')),
        ...own(),
        ...unexplained,
      ];
    }
    case null:
      return [];
    default:
      return step.gate satisfies never;
  }
}
