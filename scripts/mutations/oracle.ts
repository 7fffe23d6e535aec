import { basename } from 'node:path';
import { modelOf, type Model } from '../../core/anatomy/index.ts';
import { givesUp, DEFAULT_RULES, NoDive, planDive, type HouseRules, type Plan } from '../../core/dive/index.ts';
import { quickerOrder } from '../../demo/everyOrder.ts';
import * as bench from '../../demo/benchDevices.ts';
import { fieldTrial } from '../../demo/fieldTrial.ts';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { foldAnatomy } from '../../demo/marketFold.ts';
import { marketAnatomy } from '../../demo/market.ts';
import { mayHaveNone, wrongWith } from '../../demo/planOracle.ts';
import { differences } from '../../demo/readings.ts';
import { seededDraw, syntheticAnatomy, type Draw } from '../../demo/synthetic.ts';
import { varied } from '../../demo/varied.ts';
import { handsAmiss } from './hands.ts';
import { housesAmiss } from './houses.ts';
import { likenessAmiss } from './likeness.ts';
import { Manner } from './manner.ts';
import { namesAmiss } from './names.ts';
import { onwardsAmiss } from './onwards.ts';
import { geometryAmiss } from './sampling.ts';
import { tablesAmiss } from './tables.ts';

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

const manner = new Manner();
let plans = 0;
let givenUp = 0;
let none = 0;
/** Plans that the judge had to send back. */
let again = 0;

function tried(model: Model, replace: string[], house: number, further: Draw | null = null): void {
  const rules = HOUSES[house % HOUSES.length]!;
  const at = `${model.anatomy.id} ${replace}, house ${house % HOUSES.length}`;
  let plan: Plan;
  try {
    plan = planDive(model, { replace }, rules, {
      budget: further ? 300 : 40,
      heat: 'usual',
      onRound: (round) => {
        if (round === 1) again++;
      },
    });
  } catch (error) {
    if (!(error instanceof NoDive)) throw error;
    none++;
    if (replace.every((part) => !mayHaveNone(model, part)) && error.said.code === 'waits-for-itself')
      say(`${at}: no plan, though it comes off`);
    return;
  }
  plans++;
  if (givesUp(plan)) givenUp++;
  manner.note(model.anatomy, plan);
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

function planned(model: Model, replace: string[], rules: HouseRules): Plan | null {
  try {
    return planDive(model, { replace }, rules, { heat: 'usual' });
  } catch (error) {
    if (error instanceof NoDive) return null;
    throw error;
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

/** The file that was broken; all is asked where none is named. */
const broken = basename(process.argv[2] ?? '');
const tables = tablesAmiss();
if (tables) say(`tables: ${tables}`);
// Nothing but the order of the hand changes what is told of it.
const hands = ['', 'driving.ts', 'bundles.ts'].includes(broken) ? handsAmiss() : null;
if (hands) say(`hands: ${hands}`);
// Nothing but the geometry itself changes what points tell of it.
const amiss = ['', 'geometry.ts'].includes(broken) ? geometryAmiss() : null;
if (amiss) say(`geometry: ${amiss}`);
for (const id of DEVICES) {
  readAlike(demoModel(id), id);
  const name = namesAmiss(demoModel(id));
  if (name) say(`${id}: ${name}`);
}
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
for (let k = 0; k < 2; k++) {
  const model = modelOf(foldAnatomy(halves));
  readAlike(model, `fold ${k}`);
  for (const amount of [1, 2]) tried(model, anyOf(model, halves, amount), k, amount === 1 ? halves : null);
}
// Devices that somebody drew, told otherwise in a few places.
const other = seededDraw(1201);
for (let k = 0; k < 20; k++) {
  const base = k % 5 === 0 ? demoModel(DEVICES[other(DEVICES.length)]!).anatomy : syntheticAnatomy(other, 2 + (k % 5));
  const model = modelOf(varied(base, other, 8));
  readAlike(model, `varied ${k}`);
  tried(model, anyOf(model, other, 1 + (k % 2)), k, k % 4 === 0 ? other : null);
}
const orders = seededDraw(12);
for (let k = 0; k < 9; k++) {
  const model = modelOf(syntheticAnatomy(orders, 1 + (k % 3)));
  const part = anyOf(model, orders, 1)[0]!;
  const plan = planned(model, [part], DEFAULT_RULES);
  for (const phase of ['descent', 'ascent'] as const)
    if (plan && quickerOrder(model, plan, phase)?.quicker) say(`random ${k}, ${part}: there is a quicker ${phase}`);
}
// The way back of a device that nobody has drawn.
const field = seededDraw(1789);
for (let k = 0; k < 8; k++) {
  const model = modelOf(syntheticAnatomy(field, 1 + (k % 6)));
  const trial = fieldTrial(model, anyOf(model, field, 1)[0]!, { seed: k, ...(k % 2 ? { shuffle: k } : {}) });
  if (trial && trial.broken.length > 0) say(`field dive ${k}: ${trial.broken[0]}`);
  if (trial && trial.ratio > 1.6) say(`field dive ${k}: ${trial.ratio} times the work back`);
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
if (none > 20) say(`${none} have no plan`);
if (again > 0.015 * plans) say(`${again} of ${plans} plans were sent back by the judge`);
if (givenUp > 0.03 * plans) say(`${givenUp} of ${plans} plans give something up`);

const habit = manner.amiss();
if (habit) say(habit);
