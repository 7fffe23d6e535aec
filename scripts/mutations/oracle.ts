import { modelOf, type Model } from '../../core/anatomy/index.ts';
import { DEFAULT_RULES, NoDive, planDive, type HouseRules, type Plan } from '../../core/dive/index.ts';
import * as bench from '../../demo/benchDevices.ts';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { foldAnatomy } from '../../demo/marketFold.ts';
import { marketAnatomy } from '../../demo/market.ts';
import { mayHaveNone, wrongWith } from '../../demo/planOracle.ts';
import { differences } from '../../demo/readings.ts';
import { seededDraw, syntheticAnatomy, type Draw } from '../../demo/synthetic.ts';
import { housesAmiss } from './houses.ts';
import { likenessAmiss } from './likeness.ts';
import { onwardsAmiss } from './onwards.ts';
import { geometryAmiss } from './sampling.ts';

/* Ends with 1 and a word on standard output when anything can be said against the planner as it stands. */

const HOUSES: readonly HouseRules[] = [
  DEFAULT_RULES,
  { ...DEFAULT_RULES, pressing: 'weight', openedDisplay: 'take-off', toolChange: 40 },
  { ...DEFAULT_RULES, gluedBattery: 'solvent', powerOnTest: 'after-closing', turnOver: 90 },
  { ...DEFAULT_RULES, seal: 'strips', heat: 'gun', isolation: 'as-it-comes', trySpare: 'at-once' },
  {
    ...DEFAULT_RULES,
    seal: 'liquid-glue',
    gluedBattery: 'heat-and-pry',
    cellWhilePried: 'taken-out',
    firstGap: 'thin-blade',
  },
];

function say(what: string): never {
  console.log(what);
  process.exit(1);
}

let plans = 0;
let givenUp = 0;
let none = 0;

function tried(model: Model, replace: string[], house: number, further: Draw | null = null): void {
  const rules = HOUSES[house % HOUSES.length]!;
  const at = `${model.anatomy.id} ${replace}, house ${house % HOUSES.length}`;
  let plan: Plan;
  try {
    plan = planDive(model, { replace }, rules, { budget: further ? 300 : 40, heat: 'usual' });
  } catch (error) {
    if (!(error instanceof NoDive)) throw error;
    none++;
    if (replace.every((part) => !mayHaveNone(model, part)) && error.kind === 'circle')
      say(`${at}: no plan, though it comes off`);
    return;
  }
  plans++;
  if (plan.changes.length > 0) givenUp++;
  const wrong = wrongWith(model, plan);
  if (wrong) say(`${at}: ${wrong}`);
  if (new Set(plan.steps.map((s) => s.id)).size < plan.steps.length) say(`${at}: two steps of one name`);
  if (!further) return;
  const parts = model.anatomy.parts.filter((p) => !p.fixed);
  for (const more of [[], [parts[further(parts.length)]!.id]]) {
    const from = 1 + further(plan.steps.length - 1);
    try {
      const said = onwardsAmiss(model, plan, from, more);
      if (said) say(`${at}, from step ${from} with ${more}: ${said}`);
    } catch (error) {
      if (!(error instanceof NoDive)) throw error;
      if (more.length === 0) say(`${at}: there is no way on from step ${from}: ${error.message}`);
    }
  }
}

const anyOf = (model: Model, draw: Draw, amount: number): string[] => {
  const parts = model.anatomy.parts.filter((p) => !p.fixed);
  return [...new Set(Array.from({ length: amount }, () => parts[draw(parts.length)]!.id))];
};

function readAlike(model: Model, name: string): void {
  const told = differences(model)[0];
  if (told) say(`${name}: read otherwise, ${told}`);
}

// Nothing but the geometry itself changes what points tell of it.
const amiss = /geometry/.test(process.argv[2] ?? 'geometry') ? geometryAmiss() : null;
if (amiss) say(`geometry: ${amiss}`);
for (const id of DEVICES) readAlike(demoModel(id), id);
/* The small devices of the bench: one for each point of good work. */
Object.values(bench).forEach((model, k) => {
  if (typeof model === 'function') return;
  for (const [i, p] of model.anatomy.parts.entries()) if (!p.fixed) tried(model, [p.id], i + k);
});
const draw = seededDraw(4711);
for (let k = 0; k < 48; k++) {
  const model = modelOf(syntheticAnatomy(draw, 1 + (k % 6)));
  readAlike(model, `random ${k}`);
  tried(model, anyOf(model, draw, 1 + (k % 3)), k, k % 2 ? draw : null);
}
const counter = seededDraw(815);
for (let k = 0; k < 8; k++) {
  const model = modelOf(marketAnatomy(counter));
  readAlike(model, `counter ${k}`);
  for (const amount of [1, 3]) tried(model, anyOf(model, counter, amount), k, amount === 1 ? counter : null);
}
// Much that has no plan is wrong as well.
if (none > 16) say(`${none} have no plan`);
const halves = seededDraw(77);
for (let k = 0; k < 3; k++) {
  const model = modelOf(foldAnatomy(halves));
  readAlike(model, `fold ${k}`);
  for (const amount of [1, 2]) tried(model, anyOf(model, halves, amount), k);
}
const alike = seededDraw(5);
for (let k = 0; k < 12; k++) {
  const anatomy = syntheticAnatomy(alike, 1 + (k % 4));
  const said = likenessAmiss(anatomy, anyOf(modelOf(anatomy), alike, 1), HOUSES[k % 2]!, alike);
  if (said) say(`random ${k}: ${said}`);
}
DEVICES.forEach((id, d) => {
  const model = demoModel(id);
  model.anatomy.parts
    .filter((p) => !p.fixed)
    .forEach((p, i) => {
      if ((i + d) % 9 === 0) tried(model, [p.id], i);
    });
});
const answer = housesAmiss();
if (answer) say(answer);
if (givenUp > 0.06 * plans) say(`${givenUp} of ${plans} plans give something up`);
