import munkres from 'munkres-js';
import { planDive } from '../core/dive/index.ts';
import { assign, sortSpill, trayPlan, type Piece } from '../core/screws/index.ts';
import { modelOf } from '../core/anatomy/index.ts';
import { demoModel, DEVICES } from '../demo/models.ts';
import { modularAnatomy, seededDraw } from '../demo/synthetic.ts';
import { ms, quantile, ratio, timed, type Table } from './report.ts';

/** Assignment alone beside munkres-js, and a whole spill with margins, chances and what to measure next. */
export function assignmentBench(): Table {
  const draw = seededDraw(9);
  const rows = [15, 30, 60, 120].map((n) => {
    const costs = Float64Array.from({ length: n * n }, () => draw(100_000) / 100);
    const matrix = Array.from({ length: n }, (_, i) => [...costs.slice(i * n, (i + 1) * n)]);
    const ours = quantile(
      timed(() => assign(costs, n, n), 9),
      0.5,
    );
    const theirs = quantile(
      timed(() => munkres(matrix.map((row) => [...row])), n > 60 ? 3 : 5),
      0.5,
    );
    const model = modelOf(modularAnatomy(Math.ceil(n / 4)));
    const holes = model.anatomy.fasteners.slice(0, n).map((f) => f.id);
    const pieces = holes.map((id): Piece => {
      const f = model.fasteners.get(id)!;
      return {
        id,
        length: f.length! + (draw(20) - 10) / 200,
        thread: null,
        head: f.head + (draw(20) - 10) / 200,
        drive: f.drive,
        magnetic: null,
        colour: null,
        uncertainty: null,
      };
    });
    const spill = quantile(
      timed(() => sortSpill(model, pieces, holes), 3),
      0.5,
    );
    return [n, ms(ours), ms(theirs), ratio(theirs / ours), ms(spill)];
  });
  return {
    title: 'Screws assigned',
    note: 'Random square matrices; medians. The last column is a whole spilt tray: assignment, margins, chances, harm.',
    columns: ['screws', 'assignment', 'munkres-js', 'faster', 'whole spill'],
    rows,
  };
}

/** The tray plan of the dive with the most screws, for every device. */
export function trayBench(): Table {
  const size = { rows: 4, columns: 6, trays: 1 };
  const rows = DEVICES.map((id) => {
    const model = demoModel(id);
    const plans = model.anatomy.parts
      .filter((p) => !p.fixed)
      .map((p) => planDive(model, { replace: [p.id] }, undefined, { budget: 0 }));
    const plan = plans.reduce((a, b) => (b.totals.screws > a.totals.screws ? b : a));
    const found = trayPlan(model, plan, size);
    return [
      `${id}, ${plan.replace.join()}`,
      plan.totals.screws,
      found.lots.length,
      ms(
        quantile(
          timed(() => trayPlan(model, plan, size), 5),
          0.5,
        ),
      ),
      found.cost,
      found.lowerBound,
      found.proved ? 'yes' : 'no',
      found.conflicts.length,
    ];
  });
  return {
    title: 'Tray plan of the largest dive',
    note: 'A tray of 4 × 6 wells. What is not proved best is within cost less bound.',
    columns: ['dive', 'screws', 'lots', 'median', 'cost', 'bound', 'proved', 'conflicts'],
    rows,
  };
}
