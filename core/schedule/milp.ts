import { HANDS, type Problem } from './problem.ts';

/**
 * The same problem as a mixed-integer model in the LP format that solvers read, for checking the search
 * from outside: tasks are assigned to positions, everything else follows from the positions.
 */
export function lpOf(problem: Problem): string {
  const { tasks, lags, toolChange, turnOver } = problem;
  const n = tasks.length;
  const all = tasks.map((_, i) => i);
  const tools = [
    ...new Set(
      tasks
        .flatMap((t) => [t.firstTool, t.lastTool])
        .concat(problem.startTool)
        .filter((t) => t !== null),
    ),
  ];
  const bigM =
    tasks.reduce((sum, t) => sum + t.hands + t.holds + toolChange + turnOver, 0) +
    lags.reduce((sum, l) => sum + l.least + (l.most ?? 0) + l.redo, 0) +
    1;
  const rows: string[] = [];
  const row = (terms: [number, string][], sense: '<=' | '>=' | '=', right: number) => {
    const merged = new Map<string, number>();
    for (const [c, v] of terms) merged.set(v, (merged.get(v) ?? 0) + c);
    const text = [...merged]
      .filter(([, c]) => c !== 0)
      .map(([v, c]) => `${c < 0 ? '-' : '+'} ${Math.abs(c)} ${v}`)
      .join(' ');
    if (text) rows.push(` c${rows.length}: ${text} ${sense} ${right}`);
  };
  const y = (i: number, p: number) => `y_${i}_${p}`;
  const end = (i: number): [number, string][] => [
    [1, `A_${i}`],
    ...lags.flatMap((lag, l): [number, string][] => (lag.to === i && lag.most !== null ? [[lag.redo, `r_${l}`]] : [])),
  ];
  const minus = (terms: [number, string][]): [number, string][] => terms.map(([c, v]) => [-c, v]);
  const position = (i: number): [number, string][] => all.map((p) => [p, y(i, p)]);

  for (const i of all)
    row(
      all.map((p) => [1, y(i, p)]),
      '=',
      1,
    );
  for (const p of all)
    row(
      all.map((i) => [1, y(i, p)]),
      '=',
      1,
    );
  const precedes = new Set([
    ...tasks.flatMap((t, j) => t.before.map((i) => `${i}>${j}`)),
    ...lags.map((l) => `${l.from}>${l.to}`),
    ...tasks.flatMap((t, i) => (t.then === null ? [] : [`${i}>${t.then}`])),
  ]);
  for (const pair of precedes) {
    const [i, j] = pair.split('>').map(Number) as [number, number];
    row([...position(j), ...minus(position(i))], '>=', 1);
  }
  for (const p of all) {
    // Tool in hand before position p.
    if (p === 0) for (const t of tools) row([[1, `z_0_${t}`]], '=', problem.startTool === t ? 1 : 0);
    else {
      row(
        tools.map((t) => [1, `z_${p}_${t}`]),
        '<=',
        1,
      );
      for (const t of tools) {
        for (const i of all)
          if (tasks[i]!.lastTool === t)
            row(
              [
                [1, `z_${p}_${t}`],
                [-1, y(i, p - 1)],
              ],
              '>=',
              0,
            );
        const idle = all.filter((i) => tasks[i]!.lastTool === null).map((i): [number, string] => [-1, y(i, p - 1)]);
        row([[1, `z_${p}_${t}`], [-1, `z_${p - 1}_${t}`], ...idle], '>=', -1);
        // It is in hand only when the task before ended with it or left it there.
        row(
          [
            [1, `z_${p}_${t}`],
            ...all.filter((i) => tasks[i]!.lastTool === t).map((i): [number, string] => [-1, y(i, p - 1)]),
            [-1, `z_${p - 1}_${t}`],
          ],
          '<=',
          0,
        );
        for (const i of all)
          if (tasks[i]!.lastTool !== null && tasks[i]!.lastTool !== t)
            row(
              [
                [1, `z_${p}_${t}`],
                [1, y(i, p - 1)],
              ],
              '<=',
              1,
            );
      }
    }
    for (const t of tools.filter((tool) => tool !== HANDS))
      row(
        [
          [1, `u_${p}`],
          ...all.filter((i) => tasks[i]!.firstTool === t).map((i): [number, string] => [-1, y(i, p)]),
          [1, `z_${p}_${t}`],
        ],
        '>=',
        0,
      );
    // Face up at position p.
    const before: [number, string][] = p === 0 ? [] : [[1, `f_${p - 1}`]];
    const was = p === 0 ? (problem.startFace === 'back' ? 1 : 0) : 0;
    for (const i of all) {
      if (tasks[i]!.face === 'front')
        row(
          [
            [1, `f_${p}`],
            [1, y(i, p)],
          ],
          '<=',
          1,
        );
      if (tasks[i]!.face === 'back')
        row(
          [
            [1, `f_${p}`],
            [-1, y(i, p)],
          ],
          '>=',
          0,
        );
    }
    const edge = all.filter((i) => tasks[i]!.face === 'edge').map((i): [number, string] => [1, y(i, p)]);
    row([[1, `f_${p}`], ...minus(before), ...edge], '<=', 1 + was);
    row([[-1, `f_${p}`], ...before, ...edge], '<=', 1 - was);
    row([[1, `g_${p}`], [-1, `f_${p}`], ...before], '>=', -was);
    row([[1, `g_${p}`], [1, `f_${p}`], ...minus(before)], '>=', was);
    // While a guard holds there is no turn-over, and while something hangs open nothing is heated.
    const doneBefore = (i: number, sign: number): [number, string][] =>
      Array.from({ length: p }, (_, q) => [sign, y(i, q)]);
    for (const { after, until, hangs } of problem.guards) {
      const lifts = [...after.flatMap((i) => doneBefore(i, 1)), ...until.flatMap((i) => doneBefore(i, -1))];
      row([[1, `g_${p}`], ...lifts], '<=', after.length);
      const shut = all.filter((i) => tasks[i]!.shut).map((i): [number, string] => [1, y(i, p)]);
      if (hangs && shut.length > 0) row([...shut, ...lifts], '<=', after.length);
    }
    if (p === 0)
      for (const j of all)
        row(
          [
            [1, `A_${j}`],
            [-toolChange, 'u_0'],
            [-turnOver, 'g_0'],
            [-bigM, y(j, 0)],
          ],
          '>=',
          -bigM,
        );
    else
      for (const i of all)
        for (const j of all) {
          if (i === j) continue;
          row(
            [
              [1, `A_${j}`],
              ...minus(end(i)),
              [-toolChange, `u_${p}`],
              [-turnOver, `g_${p}`],
              [-bigM, y(i, p - 1)],
              [-bigM, y(j, p)],
            ],
            '>=',
            tasks[i]!.hands - 2 * bigM,
          );
        }
  }
  lags.forEach((lag, l) => {
    row([[1, `A_${lag.to}`], ...minus(end(lag.from))], '>=', tasks[lag.from]!.hands + lag.least);
    if (lag.most !== null)
      row([[1, `A_${lag.to}`], ...minus(end(lag.from)), [-bigM, `r_${l}`]], '<=', tasks[lag.from]!.hands + lag.most);
  });
  const later: string[] = [];
  for (const i of all)
    for (const j of all) {
      if (i === j || tasks[i]!.holds === 0 || !tasks[i]!.onDevice || !tasks[j]!.onDevice) continue;
      later.push(`b_${i}_${j}`);
      row([...position(j), ...minus(position(i)), [-n, `b_${i}_${j}`]], '<=', 0);
      row([[1, `A_${j}`], ...minus(end(i)), [-bigM, `b_${i}_${j}`]], '>=', tasks[i]!.hands + tasks[i]!.holds - bigM);
    }
  const between: string[] = [];
  for (const a of all) {
    const b = tasks[a]!.then;
    if (b === null) continue;
    for (const k of all) {
      if (k === a || k === b || !tasks[k]!.onDevice) continue;
      between.push(`w_${a}_${k}`);
      row([...position(k), ...minus(position(a)), [-n, `w_${a}_${k}`]], '<=', -1);
      row([...position(k), ...minus(position(b)), [-n, `w_${a}_${k}`]], '>=', 1 - n);
    }
  }
  for (const i of all) row([[1, 'C'], ...minus(end(i))], '>=', tasks[i]!.hands);
  const binaries = [
    ...all.flatMap((i) => all.map((p) => y(i, p))),
    ...all.flatMap((p) => tools.map((t) => `z_${p}_${t}`)),
    ...all.flatMap((p) => [`u_${p}`, `g_${p}`, `f_${p}`]),
    ...lags.flatMap((lag, l) => (lag.most === null ? [] : [`r_${l}`])),
    ...later,
    ...between,
  ];
  return `Minimize\n obj: C\nSubject To\n${rows.join('\n')}\nBinary\n ${binaries.join(' ')}\nEnd\n`;
}
