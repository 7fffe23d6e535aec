import { describe, expect, it } from 'vitest';
import { seededDraw } from '../../demo/synthetic.ts';
import { Heap } from './heap.ts';
import { lpOf } from './milp.ts';
import { HANDS, type Problem, type Task } from './problem.ts';
import { randomProblem } from './randomProblem.ts';
import { schedule, search } from './schedule.ts';
import { boundOf, extend, keyOf, noWorse, startState } from './search.ts';
import { has, tablesOf } from './tables.ts';
import { timing } from './timing.ts';

const task = (rest: Partial<Task> = {}): Task => ({
  before: [],
  hands: 10,
  firstTool: null,
  lastTool: null,
  face: 'edge',
  onDevice: true,
  holds: 0,
  then: null,
  shut: false,
  at: null,
  rank: 0,
  ...rest,
});
const problem = (tasks: Task[], rest: Partial<Problem> = {}): Problem => ({
  tasks,
  lags: [],
  toolChange: 8,
  turnOver: 15,
  startFace: 'front',
  startTool: null,
  guards: [],
  ...rest,
});
const driver = (rest: Partial<Task> = {}) => task({ firstTool: 'PH000', lastTool: 'PH000', ...rest });
const spudger = (rest: Partial<Task> = {}) => task({ firstTool: 'spudger', lastTool: 'spudger', ...rest });

describe('the heap', () => {
  it('gives everything back in order', () => {
    const draw = seededDraw(8);
    const heap = new Heap<number>((a, b) => a < b);
    const values = Array.from({ length: 300 }, () => draw(1000));
    for (const v of values) heap.push(v);
    expect(heap.peek()).toBe(Math.min(...values));
    expect(values.map(() => heap.pop())).toEqual([...values].sort((a, b) => a - b));
    expect(() => heap.pop()).toThrow(/empty/);
  });
});

describe('what is known before the search', () => {
  it('ancestors and descendants follow precedence and lags', () => {
    const t = tablesOf(
      problem([task(), task({ before: [0] }), task()], { lags: [{ from: 1, to: 2, least: 5, most: null, redo: 0 }] }),
    );
    expect([0, 1].map((i) => has(t.ancestors[2]!, i))).toEqual([true, true]);
    expect(has(t.descendants[0]!, 2)).toBe(true);
  });
  it('a chain that alternates tools forces a run of each', () => {
    const t = tablesOf(problem([driver(), spudger({ before: [0] }), driver({ before: [1] })]));
    const start = startState(t);
    expect(boundOf(t, start)).toBe(30 + 3 * 8);
  });
  it('a wait that nothing can fill is idle; one that other work fills is not', () => {
    const lags = [{ from: 0, to: 1, least: 100, most: null, redo: 0 }];
    expect(tablesOf(problem([task(), task({ before: [0] })], { lags })).idle[0]).toBe(100);
    expect(tablesOf(problem([task(), task({ before: [0] }), task({ hands: 80 })], { lags })).idle[0]).toBe(20);
    // The device is held: only the mat fills it.
    expect(
      tablesOf(problem([task({ holds: 100 }), task({ before: [0] }), task({ hands: 80 })], { lags })).idle[0],
    ).toBe(100);
    expect(
      tablesOf(problem([task({ holds: 100 }), task({ before: [0] }), task({ hands: 80, onDevice: false })], { lags }))
        .idle[0],
    ).toBe(20);
  });
  it('two heatings of one device cannot run at once, so their idle times add up', () => {
    const lags = [
      { from: 0, to: 1, least: 100, most: null, redo: 0 },
      { from: 2, to: 3, least: 100, most: null, redo: 0 },
    ];
    const t = tablesOf(problem([task({ holds: 100 }), task(), task({ holds: 100 }), task()], { lags }));
    expect(t.idleInTurn).toHaveLength(2);
    expect(schedule(problem([task({ holds: 100 }), task(), task({ holds: 100 }), task()], { lags }))).toMatchObject({
      makespan: 240,
      proved: true,
    });
  });
});

describe('states', () => {
  it('the bound never falls along any order, and is never above what comes of it', () => {
    const draw = seededDraw(61);
    for (let k = 0; k < 80; k++) {
      const t = tablesOf(randomProblem(draw, 7));
      let state = startState(t);
      const bounds = [state.bound];
      while (state.count < t.n) {
        const next = state.ready.flatMap((i) => extend(t, state, i));
        if (next.length === 0) break;
        state = next[draw(next.length)]!;
        bounds.push(state.bound);
      }
      for (let i = 1; i < bounds.length; i++) expect(bounds[i]!).toBeGreaterThanOrEqual(bounds[i - 1]! - 1e-6);
      if (state.count === t.n) for (const b of bounds) expect(b).toBeLessThanOrEqual(state.t + 1e-6);
    }
  });
  it('the same work done in another order has the same key', () => {
    const t = tablesOf(problem([task(), task({ hands: 20 })]));
    const one = extend(t, extend(t, startState(t), 0)[0]!, 1)[0]!;
    const two = extend(t, extend(t, startState(t), 1)[0]!, 0)[0]!;
    expect(keyOf(t, one)).toEqual(keyOf(t, two));
  });
  it('while a limit runs, the order since its start is part of the key', () => {
    const t = tablesOf(
      problem([task(), task(), task(), task({ before: [0, 1, 2] })], {
        lags: [{ from: 0, to: 3, least: 0, most: 50, redo: 9 }],
      }),
    );
    const after = (order: number[]) => order.reduce((s, i) => extend(t, s, i)[0]!, startState(t));
    expect(keyOf(t, after([0, 1, 2])).key).not.toBe(keyOf(t, after([0, 2, 1])).key);
    expect(keyOf(t, after([1, 2])).key).toBe(keyOf(t, after([2, 1])).key);
  });
  it.each<[number[], number[], boolean]>([
    [[10], [10], true],
    [[10], [12], true],
    [[12], [10], false],
    [[10, 10, 50], [10], false],
    [[10], [10, 10, 50], true],
    [[10, 10, 40], [12, 12, 50], true],
    [[10, 10, 60], [12, 12, 50], false],
  ])('%j is never worse than %j: %s', (a, b, answer) => {
    expect(noWorse(a, b)).toBe(answer);
  });
});

describe('times of an order', () => {
  const limited = tablesOf(
    problem([task(), task(), task({ before: [0, 1] })], {
      lags: [
        { from: 0, to: 2, least: 300, most: null, redo: 0 },
        { from: 1, to: 2, least: 20, most: 60, redo: 100 },
      ],
    }),
  );
  it('what a limit started is done later when that keeps it', () => {
    const times = timing(limited, [
      { task: 0, redone: 0 },
      { task: 1, redone: 0 },
      { task: 2, redone: 0 },
    ])!;
    expect([times.end, times.endOf[1]]).toEqual([320, 250]);
  });
  it('a limit that is redone pushes nothing, and takes its time', () => {
    const times = timing(limited, [
      { task: 0, redone: 0 },
      { task: 1, redone: 0 },
      { task: 2, redone: 2 },
    ])!;
    expect([times.end, times.endOf[1]]).toEqual([420, 20]);
  });
  it('a limit that cannot be kept has no times', () => {
    const t = tablesOf(
      problem([task(), task({ before: [0], hands: 90 }), task({ before: [1] })], {
        lags: [{ from: 0, to: 2, least: 0, most: 50, redo: 30 }],
      }),
    );
    expect(
      timing(
        t,
        [0, 1, 2].map((i) => ({ task: i, redone: 0 })),
      ),
    ).toBeNull();
  });
  it('a turn-over with something open has none either', () => {
    const t = tablesOf(
      problem([task({ face: 'front' }), task({ face: 'back' })], { guards: [{ after: [0], until: [], hangs: true }] }),
    );
    expect(
      timing(
        t,
        [0, 1].map((i) => ({ task: i, redone: 0 })),
      ),
    ).toBeNull();
  });
});

describe('options of the search', () => {
  /** The first problem drawn that has an order at all, and one worth searching for. */
  const p = Array.from({ length: 40 }, (_, seed) => randomProblem(seededDraw(seed), 9)).find(
    (q) => (schedule(q)?.expanded ?? 0) > 5,
  )!;
  it('only orders below a bound are of interest', () => {
    const best = schedule(p)!;
    expect(schedule(p, { below: best.makespan })).toBeNull();
    expect(schedule(p, { below: best.makespan + 1 })!.makespan).toBe(best.makespan);
  });
  it('tallies what it expands, and takes the first good order without searching', () => {
    const tally = { expanded: 0 };
    schedule(p, { tally });
    expect(tally.expanded).toBeGreaterThan(0);
    const quick = schedule(p, { budget: 0 })!;
    expect(quick.expanded).toBe(0);
    expect(quick.makespan).toBeGreaterThanOrEqual(schedule(p)!.makespan);
  });
  it('starts from where the device stands: its face, its tool, what is open', () => {
    expect(schedule(problem([driver({ face: 'back' })], { startFace: 'back', startTool: 'PH000' }))!.makespan).toBe(10);
    const open = (until: number[]) => ({ guards: [{ after: [], until, hangs: true }] });
    expect(schedule(problem([task({ face: 'back' })], open([])))).toBeNull();
    expect(schedule(problem([task(), task({ face: 'back' })], open([0])))!.makespan).toBe(35);
  });
});

describe('what else an order has to keep', () => {
  const at = (x: number) => task({ at: [x, 0] });
  it('among equally quick orders the shorter way of the hand goes first', () => {
    const far = [30, 0, 20, 10].map(at);
    const order = schedule(problem(far))!.order.map((i) => far[i]!.at![0]);
    expect([order, order.toReversed()]).toContainEqual([0, 10, 20, 30]);
  });
  it('bare hands cost nothing to take up, but what was held has to be taken up again', () => {
    const hand = task({ firstTool: HANDS, lastTool: HANDS });
    expect(schedule(problem([driver(), { ...hand, before: [0] }, driver({ before: [1] })]))!.makespan).toBe(30 + 2 * 8);
    expect(schedule(problem([driver(), task({ before: [0] }), driver({ before: [1] })]))!.makespan).toBe(30 + 8);
  });
  it('what has to follow at once does, past quicker errands; the mat may be worked at meanwhile', () => {
    const softened = [
      task({ then: 1, holds: 40 }),
      task({ before: [0] }),
      task({ face: 'back' }),
      task({ onDevice: false }),
    ];
    const { order } = schedule(problem(softened))!;
    expect(order.filter((i) => i !== 3)).toSatisfy((o: number[]) => o.indexOf(1) === o.indexOf(0) + 1);
  });
  it('nothing is heated while something hangs, nor turned over while something lies loose', () => {
    const hangs = (shut: boolean) =>
      problem([task(), task({ shut }), task({ before: [0] })], { guards: [{ after: [0], until: [2], hangs: true }] });
    const { order } = schedule(hangs(true))!;
    expect(order.indexOf(1) < order.indexOf(0) || order.indexOf(1) > order.indexOf(2)).toBe(true);
    const loose = { after: [0, 1], until: [2], hangs: false };
    const turns = problem([task(), task(), task({ before: [0, 1, 3] }), task({ face: 'back', before: [0, 1] })], {
      guards: [loose],
    });
    expect(search(turns)).toEqual({ found: null, lowerBound: Number.POSITIVE_INFINITY });
  });
});

describe('the model for solvers outside', () => {
  it('names every task at every position once, and minimises the end', () => {
    const lp = lpOf(problem([driver(), spudger({ before: [0] })]));
    expect(lp.startsWith('Minimize\n obj: C')).toBe(true);
    expect(lp.match(/y_\d_\d/g)!.length).toBeGreaterThan(8);
    expect(lp.trimEnd().endsWith('End')).toBe(true);
  });
});
