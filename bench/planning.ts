import { modelOf, type Model } from '../core/anatomy/index.ts';
import { checkPlan, NoDive, planDive, StepGraph } from '../core/dive/index.ts';
import { demoModel, DEVICES } from '../demo/models.ts';
import { seededDraw, syntheticAnatomy } from '../demo/synthetic.ts';
import { ms, quantile, ratio, timed, type Table } from './report.ts';

/** The first made-up device of about `items` items whose deepest part can be taken out. */
function syntheticModel(items: number): { model: Model; part: string } {
  for (let seed = 1; seed < 400; seed++) {
    const model = modelOf(syntheticAnatomy(seededDraw(seed), Math.round(items / 4)));
    if (Math.abs(model.items.size - items) > items * 0.1) continue;
    const parts = [...model.parts.values()]
      .filter((p) => !p.fixed)
      .sort((a, b) => model.depthOf(b.id) - model.depthOf(a.id));
    for (const { id } of parts) {
      try {
        planDive(model, { replace: [id] }, undefined, { budget: 0 });
        return { model, part: id };
      } catch (error) {
        if (!(error instanceof NoDive)) throw error;
      }
    }
  }
  throw new Error(`no synthetic device of ${items} items can be taken apart`);
}

/** Planning time from the model to the finished plan, the step graph included, beside replaying the plan with the checker. */
export function planningBench(): Table {
  const cases: [string, Model, string][] = [];
  for (const id of DEVICES) {
    const model = demoModel(id);
    for (const kind of ['battery', 'board']) {
      const target = model.anatomy.parts.find((p) => p.kind === kind && !p.fixed)!.id;
      cases.push([`${id}, ${target}`, model, target]);
    }
  }
  const synthetic = syntheticModel(150);
  cases.push([`synthetic, ${synthetic.model.items.size} items`, synthetic.model, synthetic.part]);
  const rows = cases.map(([name, model, target]) => {
    const from = performance.now();
    const plan = planDive(model, { replace: [target] });
    const first = performance.now() - from;
    const plans = timed(() => planDive(model, { replace: [target] }, undefined, { graph: new StepGraph(model) }), 15);
    const checks = timed(() => checkPlan(model, plan), 15);
    return [
      name,
      plan.steps.length,
      ms(first),
      ms(quantile(plans, 0.5)),
      ms(quantile(plans, 0.95)),
      ratio(quantile(plans, 0.5) / quantile(checks, 0.5)),
    ];
  });
  return {
    title: 'Planning',
    note:
      'From the model to the whole dive. Aim: under 100 ms. The first of a device also searches its heat ' +
      'recipes and cuts, which are kept. The last column sets it beside replaying the plan with the checker.',
    columns: ['device and target', 'steps', 'first', 'median', '95th', 'to replay'],
    rows,
  };
}
