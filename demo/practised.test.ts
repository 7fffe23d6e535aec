import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { modelOf, readAnatomyText, type Model } from '../core/anatomy/index.ts';
import { planDive, type Step } from '../core/dive/index.ts';
import { PRACTISED, type Practised } from './practisedOrders.ts';
import { wrongWith } from './planOracle.ts';

/*
 * The planner's dives beside those of a practised hand, act by act. Where two acts come the other way round, or an act is there
 * that the hand did not name, a reason stands below, written by hand; agreement is the share of pairs in the same order.
 */

/** Pairs that the planner turns round: what the hand does first, what it does after, and why the planner is right or as good. */
const TURNED: { on?: RegExp; first: RegExp; then: RegExp; why: string }[] = [
  {
    first: /^(connect|fit|fasten|try)/,
    then: /^bond (back|cover|display)-seal/,
    why: 'R1: solvent and adhesive are done with before the battery is mated; the liners stay on until the test has passed',
  },
  {
    first: /^(unscrew|lift|disconnect|free)/,
    then: /^unscrew/,
    why: 'R12: with that driver in hand the screws beside go as well; one change of tool less',
  },
  {
    on: /port|speaker-d|low-board/,
    first: /^(lift|free|solvent)/,
    then: /^disconnect/,
    why: 'a plug is opened with those beside it; only its flex waits until the cell is out',
  },
  {
    on: /port-board|low-board/,
    first: /^(connect|fit|fasten)/,
    then: /^((bond|fit|press) (cell|coil|battery)|fit speaker-box|fasten s)/,
    why: 'the flex is laid before the cell, and mated with the plugs beside it once all else lies',
  },
  {
    on: /board/,
    first: /^(disconnect|lift)/,
    then: /^disconnect/,
    why: 'plugs of one board in the way of the hand; what is mated first is opened last',
  },
  { on: /board/, first: /^connect/, then: /^connect/, why: 'plugs of one board in the way of the hand' },
  {
    on: /inner-display/,
    first: /^(connect|try|fit rim)/,
    then: /^(bond|press)/,
    why: 'an inner display that is not bonded may not be folded, and its plug is reached folded: it cannot be tried before',
  },
  {
    on: /inner-display/,
    first: /^(heat|free) inner-tape/,
    then: /^(heat|free) inner-tape/,
    why: 'either half may be the first',
  },
  {
    on: /cairn-2:(display|ear-speaker)/,
    first: /^(connect|try)/,
    then: /^(bond|press) display-seal/,
    why: 'the plug lies on the other side: a display that is not bonded would lie loose while the device is turned over',
  },
];

/** Acts that the hand did not name. */
const BESIDES: { on?: RegExp; act: RegExp; why: string }[] = [
  { act: /^free .*-(tape|pouch)$/, why: 'the hand says it with lifting the part' },
  { act: /^solvent display-seal/, why: 'no heat that the cell bears softens this seal all round by itself' },
  { on: /terrace-11:board/, act: /^(unscrew s\d|lift shield)/, why: 'the shield moves to the new board' },
  {
    on: /almanac-7:main-board/,
    act: /(cover-seal|cover-display|left-shield|ls\d|cell-left-plug|bridge-left-plug|cover-flex)$/,
    why: 'the hinge flex comes from the other half: opened while that is live, its pins would be too',
  },
];

const BACK: ReadonlySet<string> = new Set(['fit', 'connect', 'fasten', 'bond', 'press']);
const IN: ReadonlySet<string> = new Set(['disconnect', 'lift', 'swing', 'heat', 'solvent', 'eject', 'unscrew']);
const FREES: ReadonlySet<string> = new Set(['cut', 'pull', 'ease', 'release']);

/** An act by a verb that both sides know; what is freed, however it is, is freed. */
const act = (verb: string, item: string) => `${FREES.has(verb) ? 'free' : verb} ${item}`;

function actsOf({ anatomy }: Model, step: Step): string[] {
  if (step.do === 'test' && step.phase === 'ascent') return ['try'];
  if (step.phase === 'ascent' || step.phase === 'prove')
    return BACK.has(step.do) ? step.items.map((id) => act(step.do, id)) : [];
  const isScrew = (id: string) => anatomy.fasteners.some((f) => f.id === id);
  if (step.do === 'release') return step.items.map((id) => act(isScrew(id) ? 'unscrew' : 'release', id));
  return IN.has(step.do) || FREES.has(step.do) ? step.items.map((id) => act(step.do, id)) : [];
}

const models = new Map<string, Model>();
function modelNamed(device: string): Model {
  const known = models.get(device);
  if (known) return known;
  const text = readFileSync(fileURLToPath(new URL(`./anatomies/${device}.json`, import.meta.url)), 'utf8');
  const reading = readAnatomyText(text);
  if (!reading.ok) throw new Error(JSON.stringify(reading.faults));
  const model = modelOf(reading.value);
  models.set(device, model);
  return model;
}

const used = new Set<string>();
const because = (list: { on?: RegExp; why: string }[], dive: string, fits: (reason: never) => boolean): boolean => {
  const reason = list.find((r) => (r.on ?? /./).test(dive) && fits(r as never));
  if (reason) used.add(reason.why);
  return reason !== undefined;
};

/** How one dive of the planner compares with the practised one. */
function compared({ device, replace, spares, order }: Practised) {
  const model = modelNamed(device);
  const dive = `${device}:${replace}`;
  const plan = planDive(model, { replace, spares: spares ?? [] });
  const at = new Map<string, number>();
  for (const step of plan.steps) for (const a of actsOf(model, step)) if (!at.has(a)) at.set(a, step.n);
  const said = order.flatMap((line, place) => {
    const [verb, ...items] = line.split(' ') as [string, ...string[]];
    return (items.length === 0 ? [verb] : items.map((id) => act(verb, id))).map((name) => ({ name, place }));
  });
  const pairs = said.flatMap((a) =>
    said.flatMap((b) => (a.place < b.place && at.has(a.name) && at.has(b.name) ? [[a.name, b.name] as const] : [])),
  );
  const turned = pairs.filter(([a, b]) => at.get(a)! > at.get(b)!);
  const names = new Set(said.map((s) => s.name));
  const wayIn = /^(unscrew|disconnect|lift|swing|heat|free|solvent)/;
  return {
    plan,
    agreement: 1 - turned.length / pairs.length,
    missing: said.filter((s) => !at.has(s.name)).map((s) => s.name),
    turned: turned.filter(
      ([a, b]) => !because(TURNED, dive, (r: (typeof TURNED)[number]) => r.first.test(a) && r.then.test(b)),
    ),
    besides: [...at.keys()].filter(
      (a) => wayIn.test(a) && !names.has(a) && !because(BESIDES, dive, (r: (typeof BESIDES)[number]) => r.act.test(a)),
    ),
  };
}

describe('dives as a practised hand does them', () => {
  const agreements: number[] = [];
  it.each(PRACTISED.map((p) => [`${p.device}: ${p.replace.join()}`, p] as const))('%s', (_, practised) => {
    const { plan, agreement, missing, turned, besides } = compared(practised);
    expect(wrongWith(modelNamed(practised.device), plan)).toBeNull();
    expect(plan.changes).toEqual([]);
    expect({ missing, turned, besides }).toEqual({ missing: [], turned: [], besides: [] });
    expect(agreement).toBeGreaterThan(0.92);
    agreements.push(agreement);
  });
  it('agree in rank, and no reason stands here for nothing', () => {
    expect(agreements).toHaveLength(PRACTISED.length);
    expect(agreements.reduce((a, b) => a + b, 0) / agreements.length).toBeGreaterThan(0.97);
    expect([...TURNED, ...BESIDES].map((r) => r.why).filter((why) => !used.has(why))).toEqual([]);
  });
});
