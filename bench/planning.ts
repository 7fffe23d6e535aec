import { modelOf, type Model } from '../core/anatomy/index.ts';
import { checkPlan, NoDive, planDive, StepGraph, type PlanOptions } from '../core/dive/index.ts';
import { marketAnatomy } from '../demo/market.ts';
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

/** Jobs of several parts, on the demo devices and on devices as on a counter: rounds with the judge, time, and what is proved. */
export function jobsBench(): Table {
  const draw = seededDraw(36);
  const devices = [...DEVICES.map(demoModel), ...Array.from({ length: 6 }, () => modelOf(marketAnatomy(draw)))];
  const single: number[] = [];
  const rows = [1, 2, 3, 4, 5, 6].map((parts) => {
    const times: number[] = [];
    const gaps: number[] = [];
    let [again, proved, conceded, none] = [0, 0, 0, 0];
    for (const model of devices) {
      const loose = model.anatomy.parts.filter((p) => !p.fixed).map((p) => p.id);
      const replace = [...new Set(Array.from({ length: parts }, () => loose[draw(loose.length)]!))];
      let rounds = 0;
      const onRound = (round: number) => {
        rounds = round;
      };
      const plan = (options: PlanOptions) => planDive(model, { replace }, undefined, options);
      try {
        // Heat recipes are kept: the first plan looks for them.
        plan({ budget: 0 });
        const from = performance.now();
        const { optimality, changes } = plan({ onRound });
        times.push(performance.now() - from);
        again += rounds;
        if (optimality.proved) proved++;
        else gaps.push((optimality.cost - optimality.lowerBound) / optimality.cost);
        if (changes.length > 0) conceded++;
      } catch (error) {
        if (!(error instanceof NoDive)) throw error;
        none++;
      }
    }
    if (parts === 1) single.push(...times);
    return [
      parts,
      times.length,
      ms(quantile(times, 0.5)),
      ms(Math.max(...times)),
      ratio(quantile(times, 0.5) / quantile(single, 0.5)),
      proved,
      gaps.length === 0 ? '-' : `${(100 * Math.max(...gaps)).toFixed(1)} %`,
      again,
      conceded,
      none,
    ];
  });
  return {
    title: 'Jobs of several parts',
    note:
      'One job of so many parts on each of twelve devices, heat recipes known. Aim: 2 s for six parts, 0.5 s for one, with a proof or ' +
      'a gap that is told. Drawn up again: rounds after the judge found fault. Gives up: plans with a concession.',
    columns: [
      'parts',
      'plans',
      'median',
      'longest',
      'to one part',
      'proved',
      'widest gap',
      'again',
      'gives up',
      'no plan',
    ],
    rows,
  };
}
