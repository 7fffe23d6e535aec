import { mkdirSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import highsLoader from 'highs';
import { modelOf } from '../core/anatomy/index.ts';
import { planDive, StepGraph } from '../core/dive/index.ts';
import { lpOf, randomProblem, schedule } from '../core/schedule/index.ts';
import { demoModel, DEVICES } from '../demo/models.ts';
import { modularAnatomy, seededDraw } from '../demo/synthetic.ts';
import { logLogChart } from './chart.ts';
import { ms, quantile, ratio, type Table } from './report.ts';

/** Every part of every demo device: time to the plan, states expanded, and whether the order is proved. */
export function orderBench(): Table {
  const rows = DEVICES.map((id) => {
    const model = demoModel(id);
    const graph = new StepGraph(model);
    const parts = model.anatomy.parts.filter((p) => !p.fixed).map((p) => p.id);
    planDive(model, { replace: [parts[0]!] }, undefined, { graph });
    const runs = parts.map((part) => {
      const tally = { expanded: 0 };
      const from = performance.now();
      const { optimality, totals, rules } = planDive(model, { replace: [part] }, undefined, { graph, tally });
      const taken = performance.now() - from;
      // Fixed waits are left out: they would make any gap look small.
      const moving = totals.hands + totals.toolChanges * rules.toolChange + totals.turnOvers * rules.turnOver;
      const gap = (optimality.cost - optimality.lowerBound) / moving;
      return { part, taken, expanded: tally.expanded, gap, ...optimality };
    });
    const worst = runs.reduce((a, b) => (b.taken > a.taken ? b : a));
    const open = runs.filter((r) => !r.proved);
    return [
      id,
      parts.length,
      ms(
        quantile(
          runs.map((r) => r.taken),
          0.5,
        ),
      ),
      `${ms(worst.taken)} (${worst.part})`,
      Math.round(
        quantile(
          runs.map((r) => r.expanded),
          0.5,
        ),
      ),
      Math.max(...runs.map((r) => r.expanded)),
      `${runs.length - open.length} of ${runs.length}`,
      open.map((r) => `${r.part} ${(r.gap * 100).toFixed(1)} %`).join(', ') || '-',
    ];
  });
  return {
    title: 'Proved order, every part of every device',
    note: 'Aim: proved, each under 0.5 s. The gap of what is not proved is of hands, tool changes and turn-overs alone; under 5 %.',
    columns: ['device', 'dives', 'median', 'longest', 'states', 'most', 'proved', 'gap'],
    rows,
  };
}

/** The same random problems by the search and by HiGHS as a mixed-integer model. */
export async function solverBench(): Promise<Table> {
  const highs = await highsLoader();
  const draw = seededDraw(7);
  const rows = [4, 5, 6, 7].map((n) => {
    const ours: number[] = [];
    const theirs: number[] = [];
    let equal = 0;
    for (let k = 0; k < 12; k++) {
      const problem = randomProblem(draw, n);
      const lp = lpOf(problem);
      let from = performance.now();
      const found = schedule(problem);
      ours.push(performance.now() - from);
      from = performance.now();
      const solved = highs.solve(lp, { mip_rel_gap: 0 });
      theirs.push(performance.now() - from);
      if (Math.abs((found?.makespan ?? 0) - (solved.Status === 'Optimal' ? solved.ObjectiveValue : 0)) < 1e-3) equal++;
    }
    return [
      n,
      `${equal} of 12`,
      ms(quantile(ours, 0.5)),
      ms(quantile(theirs, 0.5)),
      ratio(quantile(theirs, 0.5) / quantile(ours, 0.5)),
    ];
  });
  return {
    title: 'Search beside a mixed-integer model (HiGHS)',
    note:
      'Random problems with waits, limits, holds and faces; medians of 12. A whole dive ' +
      'of 60 tasks is past what the model can finish. Aim: at least 100 times faster.',
    columns: ['tasks', 'equal optimum', 'search', 'HiGHS', 'faster'],
    rows,
  };
}

/** How planning grows with the device: a family of regular build, its board and two of its modules. */
export function growthBench(): Table {
  const points: { x: number; y: number }[] = [];
  const rows = [3, 7, 14, 28, 57].map((modules) => {
    const model = modelOf(modularAnatomy(modules));
    const runs = [['board'], ['m1'], ['m0', `m${modules - 1}`]].map((replace) => {
      const tally = { expanded: 0 };
      const from = performance.now();
      const { optimality, steps } = planDive(model, { replace }, undefined, { tally });
      return {
        taken: performance.now() - from,
        gap: 1 - optimality.lowerBound / optimality.cost,
        proved: optimality.proved,
        steps: steps.length,
        expanded: tally.expanded,
      };
    });
    const longest = Math.max(...runs.map((r) => r.taken));
    points.push({ x: model.items.size, y: longest });
    return [
      model.items.size,
      Math.max(...runs.map((r) => r.steps)),
      ms(
        quantile(
          runs.map((r) => r.taken),
          0.5,
        ),
      ),
      ms(longest),
      Math.max(...runs.map((r) => r.expanded)),
      `${runs.filter((r) => r.proved).length} of ${runs.length}`,
      `${(Math.max(...runs.map((r) => r.gap)) * 100).toFixed(1)} %`,
    ];
  });
  const exponent = slope(points);
  mkdirSync(fileURLToPath(new URL('../docs/charts', import.meta.url)), { recursive: true });
  writeFileSync(
    fileURLToPath(new URL('../docs/charts/planning-growth.svg', import.meta.url)),
    logLogChart({
      title: `Time to plan the deepest part, by items of the device: exponent ${exponent.toFixed(2)}`,
      xLabel: 'items',
      yLabel: 'ms',
      points,
      exponent,
    }),
  );
  return {
    title: 'Growth with the device',
    note:
      `A family of regular build; three dives a size, the deepest takes everything out. Fitted exponent of ` +
      `the longest: ${exponent.toFixed(2)}. Chart in docs/charts/planning-growth.svg. Aim: 200 items proved or within 5 % under 2 s.`,
    columns: ['items', 'most steps', 'median', 'longest', 'most states', 'proved', 'largest gap'],
    rows,
  };
}

/** Slope of the least-squares line through the logarithms. */
function slope(points: readonly { x: number; y: number }[]): number {
  const logs = points.map(({ x, y }) => ({ x: Math.log(x), y: Math.log(y) }));
  const mean = (of: (p: { x: number; y: number }) => number) => logs.reduce((sum, p) => sum + of(p), 0) / logs.length;
  const [mx, my] = [mean((p) => p.x), mean((p) => p.y)];
  return logs.reduce((sum, p) => sum + (p.x - mx) * (p.y - my), 0) / logs.reduce((sum, p) => sum + (p.x - mx) ** 2, 0);
}
