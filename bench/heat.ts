import {
  alternativesTo,
  Conduction,
  recipeFor,
  simulate,
  sourceOf,
  stackOf,
  uniformBlock,
  uniformSurface,
} from '../core/heat/index.ts';
import { cutPlan } from '../core/opening/index.ts';
import { demoModel, DEVICES } from '../demo/models.ts';
import { ms, quantile, ratio, timed, type Table } from './report.ts';

const STEP = 1;
const SECONDS = 900;

/** One multiplication and one addition over as many cells, three arrays: the memory limit, measured beside. */
function plainPass(cells: number): number {
  const [a, b, c] = [1.5, 0.5, 0.25].map((v) => new Float64Array(cells).fill(v)) as [
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  return quantile(
    timed(
      () => {
        for (let i = 0; i < cells; i++) a[i] = a[i]! * b[i]! + c[i]!;
      },
      40,
      10,
    ),
    0.5,
  );
}

/** Fifteen simulated minutes on a mat, on finer and finer grids, and how the time grows. */
export function heatBench(): Table {
  const tablet = demoModel('osterleigh-broadleaf-12');
  const phone = demoModel('velmora-quill-5');
  const cases: [string, typeof phone, number][] = [
    ['phone, 4 mm', phone, 4],
    ['phone, 2 mm', phone, 2],
    ['phone, 1 mm', phone, 1],
    ['tablet, 4 mm', tablet, 4],
    ['tablet, 2 mm, 13 layers', tablet, 2],
  ];
  const points: { cells: number; time: number }[] = [];
  const rows = cases.map(([name, model, grid]) => {
    const stack = stackOf(model, 'display-seal', { grid });
    const cells = stack.block.capacity.length;
    const time = quantile(
      timed(() => simulate(stack, [{ source: sourceOf('mat'), where: 'whole', seconds: SECONDS }], { step: STEP }), 3),
      0.5,
    );
    points.push({ cells, time });
    const perStep = time / (SECONDS / STEP);
    return [name, cells, ms(time), `${(cells / perStep / 1000).toFixed(1)} M/s`, ratio(perStep / plainPass(cells))];
  });
  // The solver by itself, on a plain block of 290 × 200 mm with 8 layers.
  const block = uniformBlock(
    { nx: 145, ny: 100, nz: 8, dx: 0.002, dy: 0.002, dz: 0.001 },
    { inPlane: 20, through: 1, capacity: 2.4e6 },
  );
  const surfaces = {
    front: uniformSurface(14_500, 120, 70),
    back: uniformSurface(14_500, 12, 22),
    side: { conductance: 10, temperature: 22 },
  };
  const alone = quantile(
    timed(() => {
      const heat = new Conduction(block, 22);
      for (let t = 0; t < SECONDS; t += STEP) heat.step(STEP, surfaces);
    }, 3),
    0.5,
  );
  const cells = 145 * 100 * 8;
  rows.push([
    '290 × 200 mm, 2 mm, 8 layers',
    cells,
    ms(alone),
    `${(cells / (alone / (SECONDS / STEP)) / 1000).toFixed(1)} M/s`,
    ratio(alone / (SECONDS / STEP) / plainPass(cells)),
  ]);
  const [first, last] = [points[0]!, points[2]!];
  const exponent = Math.log(last.time / first.time) / Math.log(last.cells / first.cells);
  return {
    title: 'Heat',
    note:
      `15 simulated minutes in steps of ${STEP} s. The last column sets a step beside one plain pass ` +
      `over the same typed arrays. Growth on the phone: cells to the power ${exponent.toFixed(2)}.`,
    columns: ['case', 'cells', 'time', 'cells updated', 'to a plain pass'],
    rows,
  };
}

/** Searches for a recipe, for what else would do, and cut plans; aim for a recipe 5 s. */
export function openingBench(): Table {
  const rows = DEVICES.flatMap((id) => {
    const model = demoModel(id);
    const bond = model.anatomy.bonds.find(
      (b) => 'perimeterOf' in b.at && b.softensAt !== null && b.joins.some((p) => model.parts.get(p)!.fixed),
    );
    if (!bond) return [];
    const recipes = timed(() => recipeFor(model, bond.id, { source: 'mat' }), 3);
    const hardest = timed(() => recipeFor(model, bond.id, { source: 'gun' }), 3);
    const others = timed(() => alternativesTo(model, bond.id, { source: 'mat' }), 1, 0);
    const cuts = timed(() => cutPlan(model, bond.id), 5);
    return [
      [
        `${id}, ${bond.id}`,
        ms(quantile(recipes, 0.5)),
        ms(quantile(hardest, 0.5)),
        ms(others[0]!),
        ms(quantile(cuts, 0.5)),
        ratio(quantile(recipes, 0.5) / quantile(cuts, 0.5)),
      ],
    ];
  });
  return {
    title: 'Recipes and cuts',
    note: 'Aim for a recipe: under 5 s. The last column sets the mat recipe beside the cut plan of the same bond.',
    columns: ['bond', 'recipe, mat', 'recipe, gun', 'all alternatives', 'cut plan', 'recipe to cut'],
    rows,
  };
}
