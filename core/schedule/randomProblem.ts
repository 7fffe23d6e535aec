import type { Lag, Problem, Task } from './problem.ts';

/** Draws a whole number from 0 to `below` − 1. */
export type Draw = (below: number) => number;

/**
 * A made-up problem with everything in it that a dive can hold: tools, faces, something swung open,
 * work on the mat, soaks with and without limits, and a heating that holds the device.
 */
export function randomProblem(draw: Draw, n: number): Problem {
  const tools = ['driver', 'spudger', 'pick', 'tweezers'];
  const tasks: Task[] = Array.from({ length: n }, (_, i) => {
    const first = draw(4) === 0 ? null : tools[draw(3)]!;
    return {
      before: i === 0 ? [] : Array.from({ length: draw(3) }, () => draw(i)),
      hands: 5 + draw(40),
      firstTool: first,
      lastTool: draw(6) === 0 ? tools[draw(4)]! : first,
      face: (['front', 'front', 'back', 'edge'] as const)[draw(4)]!,
      onDevice: draw(5) > 0,
      holds: draw(7) === 0 ? 20 + draw(120) : 0,
      opens: false,
      closes: false,
      rank: i,
    };
  });
  if (n > 3 && draw(3) === 0) {
    const open = draw(n - 2);
    const close = open + 1 + draw(n - open - 1);
    tasks[open] = { ...tasks[open]!, opens: true };
    tasks[close] = { ...tasks[close]!, closes: true, before: [...tasks[close]!.before, open] };
  }
  const startOpen = n > 1 && draw(8) === 0 ? 1 : 0;
  if (startOpen) {
    const close = tasks.findIndex((t) => !t.opens && !t.closes);
    tasks[close] = { ...tasks[close]!, closes: true };
  }
  const lags: Lag[] = [];
  for (let k = draw(4); k > 0 && n > 1; k--) {
    const from = draw(n - 1);
    const to = from + 1 + draw(n - from - 1);
    const least = draw(3) === 0 ? 0 : 10 + draw(150);
    if (lags.some((lag) => lag.from === from && lag.to === to)) continue;
    lags.push({ from, to, least, most: draw(2) === 0 ? null : least + draw(60), redo: 10 + draw(60) });
  }
  return {
    tasks,
    lags,
    toolChange: 4 + draw(12),
    turnOver: 5 + draw(20),
    startFace: draw(2) ? 'front' : 'back',
    startTool: draw(3) ? null : 'driver',
    startOpen,
  };
}
