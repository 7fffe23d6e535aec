import type { GateId, Step } from '../dive/index.ts';
import { timerId, timerLeft, type RunContext, type RunState } from './fold.ts';

/** What keeps a gate shut: the item, why, and the step at which it is made good. */
export interface Blocker {
  item: string;
  because: string;
  step: number | null;
  /** How it may be waived: a screw by a deviation, a test by a reason; anything else not at all. */
  waiver: 'deviation' | 'test' | null;
}

export const GATE_NAMES: Record<GateId, string> = {
  G1: 'Mated',
  G2: 'Counted',
  G3: 'Clean',
  G4: 'Proved',
  G5: 'Liners',
  G6: 'Pressed',
  G7: 'Signed',
};

/**
 * Everything that keeps the gate of `step` from holding; empty when it holds.
 * @param now ms since the epoch, for waits that must have run
 */
export function gateBlockers(context: RunContext, state: RunState, step: Step, now: number): Blocker[] {
  const { plan, model } = context;
  const before = plan.steps.filter((s) => s.n < step.n);
  const name = (id: string) => (model.items.has(id) ? model.nameOf(id) : id);
  const stepWith = (verbs: readonly Step['do'][], id: string) =>
    before.filter((s) => verbs.includes(s.do) && s.items.includes(id)).at(-1)?.n ?? null;
  const undone = (steps: readonly Step[]): Blocker[] =>
    steps
      .filter((s) => !state.done.has(s.n))
      .map((s) => ({
        item: s.items[0] ?? s.do,
        because: `step ${s.n} is not done: ${s.do} ${s.items.map(name).join(', ')}`.trim(),
        step: s.n,
        waiver: null,
      }));
  const waiting = (steps: readonly Step[]): Blocker[] =>
    steps.flatMap((s) => {
      const timer = state.timers.get(timerId(s));
      if (s.waits === 0 || !state.done.has(s.n)) return [];
      if (!timer)
        return [
          { item: s.items[0] ?? s.do, because: `the wait of step ${s.n} was never started`, step: s.n, waiver: null },
        ];
      const left = timerLeft(timer, now);
      return left > 0
        ? [
            {
              item: s.items[0] ?? s.do,
              because: `the wait of step ${s.n} has ${Math.ceil(left)} s to run`,
              step: s.n,
              waiver: null,
            },
          ]
        : [];
    });
  const screws = (ids: readonly string[]): Blocker[] =>
    ids
      .filter((id) => state.device.out.has(id) && !state.device.absent.has(id))
      .map((id) => {
        const well = state.out.get(id);
        return {
          item: id,
          because: `${name(id)} is still ${well ? `in well ${well}` : 'loose'}`,
          step: stepWith(['fasten'], id),
          waiver: 'deviation',
        };
      });
  const tests = (ids: readonly string[]): Blocker[] =>
    ids.flatMap((id): Blocker[] => {
      const result = state.tests.get(id);
      if (result && result.outcome !== 'fail') return [];
      const fn = model.anatomy.functions.find((f) => f.id === id)?.name ?? id;
      return [
        {
          item: id,
          because: result ? `${fn} has failed` : `${fn} is not tested`,
          step: stepWith(['test'], id),
          waiver: 'test',
        },
      ];
    });
  const mated = (ids: readonly string[]): Blocker[] =>
    ids
      .filter((id) => state.device.open.has(id) && !state.device.absent.has(id))
      .map((id) => ({
        item: id,
        because: `${name(id)} is not recorded seated`,
        step: stepWith(['connect', 'solder'], id),
        waiver: null,
      }));

  switch (step.gate) {
    case 'G1':
      return mated(step.items);
    case 'G2':
      return screws(step.items);
    case 'G3': {
      const relevant = before.filter(
        (s) =>
          (s.do === 'clean' || s.do === 'inspect') &&
          s.phase === step.phase &&
          s.items.some((id) => step.items.includes(id)),
      );
      const loose = state.deviations
        .filter((d) => d.kind === 'extra' && d.note === '')
        .map(
          (d): Blocker => ({
            item: d.item ?? 'extra',
            because: 'something extra was found and is not explained; add a note where it belongs',
            step: null,
            waiver: null,
          }),
        );
      return [...undone(relevant), ...waiting(relevant), ...loose];
    }
    case 'G4':
      return [...undone(before.filter((s) => s.do === 'power-on').slice(-1)), ...tests(step.items)];
    case 'G5':
      return undone(
        before.filter(
          (s) =>
            ((s.do === 'remove-liner' || s.do === 'bond') && s.items.some((id) => step.items.includes(id))) ||
            s.do === 'transfer',
        ),
      );
    case 'G6': {
      const pressed = before.filter((s) => s.do === 'press' || s.do === 'cure');
      return [...undone(pressed.filter((s) => s.items.some((id) => step.items.includes(id)))), ...waiting(pressed)];
    }
    case 'G7': {
      const blockers = [
        ...screws([...state.device.out]),
        ...mated([...state.device.open]),
        ...tests(plan.touched),
        ...undone(before),
        ...waiting(before.filter((s) => s.do === 'press' || s.do === 'cure')),
      ];
      const unexplained = state.deviations
        .filter((d) => d.note === '' && d.kind !== 'already-replaced')
        .map(
          (d): Blocker => ({
            item: d.item ?? d.kind,
            because: `${d.item ? name(d.item) : 'the device'}: ${d.kind} is not explained; add a note`,
            step: null,
            waiver: null,
          }),
        );
      return [...blockers, ...unexplained];
    }
    default:
      return [];
  }
}
