/**
 * One pair of hands, one device, a mat beside it. Tasks are done one after another; a task may start
 * a wait (a soak, a heating, a drying, a cure) that runs while other allowed tasks are done.
 * All times in s.
 */
export interface Task {
  /** Tasks whose hands-on work must be finished first. */
  before: readonly number[];
  /** Hands-on time. */
  hands: number;
  /** The tool in hand when the task starts and when it ends; `null` needs none and leaves the last one at hand. `HANDS` puts it down. */
  firstTool: string | null;
  lastTool: string | null;
  /** How the device must lie, by any name: the face that is up, a fold opened or closed. `edge` is worked however it lies. */
  face: string;
  /** False for work on the mat, which goes on while the device is held. */
  onDevice: boolean;
  /** After the hands-on work nothing else may be done on the device for so long: it lies on the heat, under the weight. */
  holds: number;
  /** The next task on the device is this one: a softened seam is cut, a part is lifted off its last flex. `null` leaves it open. */
  then: number | null;
  /** Nothing may hang open beside it: the device is heated. */
  shut: boolean;
  /** Where on the device the hand works, mm; among equally quick orders the shorter way of the hand goes first. `null` is anywhere. */
  at: readonly [x: number, y: number] | null;
  /** Among equally quick orders the smaller rank goes first. */
  rank: number;
}

/** Time that must, and may at most, pass between the end of `from` and the start of `to`. It implies that `from` comes first. */
export interface Lag {
  from: number;
  to: number;
  least: number;
  /** Past it the task `to` needs `redo` seconds of its own first: a seam is heated again. `null` has no limit. */
  most: number | null;
  redo: number;
}

/** Bare hands as a tool: taking them up costs nothing, but what was held is put down. */
export const HANDS = 'hands';

/** Once all of `after` are done and until the first of `until` is, the device is not turned over: something is swung open or lies loose. */
export interface Guard {
  after: readonly number[];
  until: readonly number[];
  /** It hangs open, so that nothing is heated beside it either. */
  hangs: boolean;
}

export interface Problem {
  tasks: readonly Task[];
  lags: readonly Lag[];
  /** Seconds that a change of tool and a turn-over cost. */
  toolChange: number;
  turnOver: number;
  startFace: string;
  startTool: string | null;
  guards: readonly Guard[];
}

export interface Schedule {
  /** Task indices, first to last. */
  order: number[];
  /** Start of the hands-on work of each task, by task index; a redoing of its lag lies before it. */
  starts: number[];
  /** Lag indices whose limit was passed, so that they were redone. */
  redone: number[];
  /** End of the last task. */
  makespan: number;
  /** No order ends earlier than this. */
  lowerBound: number;
  /** True when no order is quicker. */
  proved: boolean;
  /** States expanded by the exact search. */
  expanded: number;
}

/**
 * @throws Error naming the first number or index that makes no sense
 */
export function checkProblem({ tasks, lags, guards, toolChange, turnOver }: Problem): void {
  const time = (value: number, what: string) => {
    if (!Number.isFinite(value) || value < 0) throw new Error(`${what} must be a time of at least 0 s, not ${value}`);
  };
  time(toolChange, 'toolChange');
  time(turnOver, 'turnOver');
  const index = (i: number, what: string) => {
    if (!Number.isInteger(i) || i < 0 || i >= tasks.length)
      throw new Error(`${what} names task ${i}; there are ${tasks.length}`);
  };
  tasks.forEach((t, i) => {
    time(t.hands, `tasks[${i}].hands`);
    time(t.holds, `tasks[${i}].holds`);
    t.before.forEach((b) => index(b, `tasks[${i}].before`));
    if (t.then !== null) index(t.then, `tasks[${i}].then`);
  });
  guards.forEach((guard, i) => {
    for (const t of [...guard.after, ...guard.until]) index(t, `guards[${i}]`);
  });
  lags.forEach((lag, i) => {
    index(lag.from, `lags[${i}].from`);
    index(lag.to, `lags[${i}].to`);
    time(lag.least, `lags[${i}].least`);
    time(lag.redo, `lags[${i}].redo`);
    if (lag.most !== null && !(lag.most >= lag.least)) throw new Error(`lags[${i}].most must be at least its least`);
  });
}
