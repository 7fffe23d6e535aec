import { HANDS, type Guard, type Lag, type Problem, type Task } from './problem.ts';

/** Draws a whole number from 0 to `below` − 1. */
export type Draw = (below: number) => number;

/**
 * A made-up problem with everything in it that a dive can hold: tools and bare hands, faces, things swung open or
 * lying loose, work that follows at once, work on the mat, soaks with and without limits, and a heating that holds
 * the device.
 * @param lying the ways in which the device lies, as often as each shall come
 */
export function randomProblem(
  draw: Draw,
  n: number,
  lying: readonly string[] = ['front', 'front', 'back', 'edge'],
): Problem {
  const tools = ['driver', 'spudger', HANDS, 'tweezers'];
  const tasks: Task[] = Array.from({ length: n }, (_, i) => {
    const first = draw(4) === 0 ? null : tools[draw(3)]!;
    return {
      before: i === 0 ? [] : Array.from({ length: draw(3) }, () => draw(i)),
      hands: 5 + draw(40),
      firstTool: first,
      lastTool: draw(6) === 0 ? tools[draw(4)]! : first,
      face: lying[draw(lying.length)]!,
      onDevice: draw(5) > 0,
      holds: draw(7) === 0 ? 20 + draw(120) : 0,
      then: null,
      shut: draw(8) === 0,
      at: null,
      rank: i,
    };
  });
  const guards: Guard[] = [];
  for (let k = draw(3); k > 0 && n > 3; k--) {
    const open = draw(n - 2);
    const close = open + 1 + draw(n - open - 1);
    const also = draw(3) === 0 ? [draw(n)] : [];
    guards.push({ after: draw(8) === 0 ? [] : [open, ...also], until: [close], hangs: draw(2) === 0 });
  }
  if (n > 2 && draw(3) === 0) {
    const first = draw(n - 1);
    const second = first + 1 + draw(n - first - 1);
    // What has to follow at once waits for nothing that comes after what it follows.
    const between = tasks[second]!.before.filter((i) => i <= first);
    tasks[second] = { ...tasks[second]!, onDevice: true, before: between };
    tasks[first] = { ...tasks[first]!, onDevice: true, then: second };
  }
  const lags: Lag[] = [];
  for (let k = draw(4); k > 0 && n > 1; k--) {
    const from = draw(n - 1);
    const to = from + 1 + draw(n - from - 1);
    const least = draw(3) === 0 ? 0 : 10 + draw(150);
    const follows = tasks.findIndex((t) => t.then === to);
    if (lags.some((lag) => lag.from === from && lag.to === to) || (follows >= 0 && from > follows)) continue;
    lags.push({ from, to, least, most: draw(2) === 0 ? null : least + draw(60), redo: 10 + draw(60) });
  }
  return {
    tasks,
    lags,
    toolChange: 4 + draw(12),
    turnOver: 5 + draw(20),
    startFace: draw(2) ? 'front' : 'back',
    startTool: draw(3) ? null : 'driver',
    guards,
  };
}
