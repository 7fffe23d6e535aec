import { modelOf, type Model } from '../../core/anatomy/index.ts';
import { DEFAULT_RULES, NoDive, planDive } from '../../core/dive/index.ts';
import { differences } from '../../demo/readings.ts';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { marketAnatomy } from '../../demo/market.ts';
import { mayHaveNone, wrongWith } from '../../demo/planOracle.ts';
import { seededDraw, syntheticAnatomy } from '../../demo/synthetic.ts';

/* Ends with 1 and a word on standard output when anything can be said against the planner as it stands. */

const HOUSES = [
  DEFAULT_RULES,
  { ...DEFAULT_RULES, pressing: 'weight', openedDisplay: 'take-off', toolChange: 40 } as const,
  { ...DEFAULT_RULES, gluedBattery: 'solvent', powerOnTest: 'after-closing', turnOver: 90 } as const,
];

function say(what: string): never {
  console.log(what);
  process.exit(1);
}

let plans = 0;
let givenUp = 0;
let none = 0;

function tried(model: Model, replace: string[], house: number): void {
  try {
    const plan = planDive(model, { replace }, HOUSES[house % HOUSES.length]!, { budget: 40, heat: 'usual' });
    plans++;
    if (plan.changes.length > 0) givenUp++;
    const wrong = wrongWith(model, plan);
    if (wrong) say(`${model.anatomy.id} ${replace}: ${wrong}`);
  } catch (error) {
    if (!(error instanceof NoDive)) throw error;
    none++;
    if (replace.every((part) => !mayHaveNone(model, part)) && error.kind === 'circle')
      say(`${model.anatomy.id} ${replace}: no plan, though it comes off`);
  }
}

for (const id of DEVICES) {
  const told = differences(demoModel(id))[0];
  if (told) say(`${id}: read otherwise, ${told}`);
}
const draw = seededDraw(4711);
for (let k = 0; k < 120; k++) {
  const model = modelOf(syntheticAnatomy(draw, 1 + (k % 6)));
  const told = differences(model)[0];
  if (told) say(`random ${k}: read otherwise, ${told}`);
  const parts = model.anatomy.parts.filter((p) => !p.fixed);
  tried(model, [...new Set(Array.from({ length: 1 + (k % 3) }, () => parts[draw(parts.length)]!.id))], k);
}
const counter = seededDraw(815);
for (let k = 0; k < 24; k++) {
  const model = modelOf(marketAnatomy(counter));
  const told = differences(model)[0];
  if (told) say(`counter ${k}: read otherwise, ${told}`);
  const parts = model.anatomy.parts.filter((p) => !p.fixed);
  for (const amount of [1, 1, 3])
    tried(model, [...new Set(Array.from({ length: amount }, () => parts[counter(parts.length)]!.id))], k);
}
// Much that has no plan, or plans that give up what they should keep, is wrong as well.
if (none > 40) say(`${none} of 120 have no plan`);
DEVICES.forEach((id, d) => {
  const model = demoModel(id);
  model.anatomy.parts
    .filter((p) => !p.fixed)
    .forEach((p, i) => {
      if ((i + d) % 3 === 0) tried(model, [p.id], i);
    });
});
if (givenUp > 0.08 * plans) say(`${givenUp} of ${plans} plans give something up`);
