import { describe, expect, it } from 'vitest';
import { modelOf, type Anatomy, type Model } from '../anatomy/index.ts';
import { actsOfPlan } from '../explore/index.ts';
import { planDive, type Plan } from '../dive/index.ts';
import { learn, wayBackOf } from '../learn/index.ts';
import { DEVICES, demoModel } from '../../demo/models.ts';
import { Rehearsal } from '../../demo/rehearsal.ts';
import { runContext } from './context.ts';

/*
 * Words are for people. Whatever is said in an anatomy, a plan or a run may be said otherwise: nothing is decided by it.
 */

const SAID = 'x';

/** The anatomy with every word of it replaced; codes, ids and measures stay. */
const wordless = (anatomy: Anatomy): Anatomy => ({
  ...anatomy,
  name: SAID,
  maker: SAID,
  parts: anatomy.parts.map((p) => ({
    ...p,
    name: SAID,
    note: p.note && SAID,
    pairing: p.pairing.map((pair) => ({ ...pair, remedy: SAID })),
  })),
  connectors: anatomy.connectors.map((c) => ({ ...c, name: SAID })),
  orders: anatomy.orders.map((o) => ({ ...o, because: SAID })),
  functions: anatomy.functions.map((f) => ({ ...f, name: SAID, test: SAID })),
  spares: anatomy.spares.map((s) => ({ ...s, name: SAID })),
  ...(anatomy.bodies ? { bodies: anatomy.bodies.map((b) => ({ ...b, name: SAID })) } : {}),
});

/** A plan without what it quotes of an anatomy. */
const unquoted = (plan: Plan): unknown =>
  JSON.parse(JSON.stringify(plan, (key, value) => (key === 'words' ? SAID : (value as unknown))));

/** A plan of which every sentence is gone. */
const mute = (plan: Plan): Plan => ({
  ...plan,
  steps: plan.steps.map((s) => ({ ...s, hint: [], because: [{ why: 'quoted', words: SAID }] })),
  losses: plan.losses.map((l) => ({
    ...l,
    because: { code: 'quoted', words: SAID },
    remedy: { code: 'quoted', words: SAID },
  })),
  changes: plan.changes.map(() => ({ code: 'quoted', words: SAID })),
});

const dive = (model: Model, part: string): Plan =>
  planDive(model, { replace: [part] }, undefined, { budget: 0, heat: 'usual' });

describe.each(DEVICES)('%s without a word', (id) => {
  const model = demoModel(id);
  const dumb = modelOf(wordless(model.anatomy));
  const parts = model.anatomy.parts.filter((p) => !p.fixed).map((p) => p.id);

  it('is planned the same', () => {
    for (const part of parts.filter((_, i) => i % 3 === 0))
      expect(unquoted(dive(dumb, part)), part).toEqual(unquoted(dive(model, part)));
  });
  it('is run the same: gates, tests, waits and what is asked for', () => {
    const [part] = parts.slice(-1);
    const plan = dive(model, part!);
    const told = new Rehearsal([], runContext(model, plan)).until(10_000);
    const silent = new Rehearsal([], runContext(dumb, mute(plan))).until(10_000);
    expect(silent.events).toEqual(told.events);
    expect([...silent.state.done.keys()]).toEqual([...told.state.done.keys()]);
    expect(silent.state.device).toEqual(told.state.device);
    expect([...silent.state.gates]).toEqual([...told.state.gates]);
    expect(silent.state.tests).toEqual(told.state.tests);
  });
});

it('a field dive is learnt and led back the same', () => {
  const model = demoModel(DEVICES[0]!);
  const file = actsOfPlan(model, dive(model, 'battery'), { seed: 1 });
  const silent = { ...file, acts: file.acts.map((act) => ({ ...act, note: '' })) };
  expect(unquoted(wayBackOf(learn([silent])))).toEqual(unquoted(wayBackOf(learn([file]))));
});
