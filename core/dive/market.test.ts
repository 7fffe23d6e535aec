import { describe, expect, it } from 'vitest';
import { BUILDS, marketAnatomy } from '../../demo/market.ts';
import { foldAnatomy } from '../../demo/marketFold.ts';
import { mayHaveNone, wrongWith } from '../../demo/planOracle.ts';
import { differences } from '../../demo/readings.ts';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { seededDraw, syntheticAnatomy } from '../../demo/synthetic.ts';
import { amountOf } from '../../demo/thorough.ts';
import { varied } from '../../demo/varied.ts';
import { modelOf, readAnatomy } from '../anatomy/index.ts';
import { Checker } from '../judge/index.ts';
import { DEFAULT_RULES } from './house/rules.ts';
import { planDive } from './plan.ts';
import { NoDive, type Plan } from './types.ts';
import { givesUp } from './changes.ts';

describe('devices as different as those on a counter', () => {
  it.each(BUILDS)('%s: sound as documents, and every part comes off', (build) => {
    const draw = seededDraw(31);
    for (let k = 0; k < amountOf(60, 12); k++) {
      const anatomy = marketAnatomy(draw, build);
      expect(readAnatomy(structuredClone(anatomy))).toMatchObject({ ok: true });
      const judge = new Checker(anatomy);
      for (const part of anatomy.parts.filter((p) => !p.fixed)) expect(judge.comesOff(part.id), part.id).toBe(true);
    }
  });

  const devices = amountOf(2000, 40);
  it(`${devices} of them: single parts, pairs and up to six, and nothing can be said against any plan`, () => {
    const draw = seededDraw(2000);
    const wrong: string[] = [];
    let plans = 0;
    let conceded = 0;
    let again = 0;
    for (let k = 0; k < devices; k++) {
      const model = modelOf(marketAnatomy(draw));
      const parts = model.anatomy.parts.filter((p) => !p.fixed).map((p) => p.id);
      for (const amount of [1, 1, 2, 3 + draw(4)]) {
        const replace = [...new Set(Array.from({ length: amount }, () => parts[draw(parts.length)]!))];
        const onRound = (round: number) => {
          if (round > 0) again++;
        };
        const plan = planDive(model, { replace }, DEFAULT_RULES, { budget: 0, heat: 'usual', onRound });
        plans++;
        if (givesUp(plan)) conceded++;
        const said = wrongWith(model, plan);
        if (said) wrong.push(`${k} ${model.anatomy.id} ${replace}: ${said}`);
      }
    }
    console.log(`${devices} devices: ${plans} plans, ${again} drawn up again, ${conceded} give something up`);
    expect(wrong).toEqual([]);
    expect(conceded).toBeLessThanOrEqual(plans / 50);
  }, 600_000);

  const folds = amountOf(1000, 250);
  it(`${folds} folds of two halves: planner and judge read the same, and nothing can be said against any plan`, () => {
    const draw = seededDraw(404);
    const wrong: string[] = [];
    let plans = 0;
    let conceded = 0;
    for (let k = 0; k < folds; k++) {
      const anatomy = foldAnatomy(draw);
      expect(readAnatomy(structuredClone(anatomy)), `${k}`).toMatchObject({ ok: true });
      const model = modelOf(anatomy);
      expect(differences(model)).toEqual([]);
      const parts = anatomy.parts.filter((p) => !p.fixed).map((p) => p.id);
      for (const amount of [1, 1, 2, 3 + draw(4)]) {
        const replace = [...new Set(Array.from({ length: amount }, () => parts[draw(parts.length)]!))];
        const plan = planDive(model, { replace }, DEFAULT_RULES, { budget: 0, heat: 'usual' });
        plans++;
        if (givesUp(plan)) conceded++;
        const said = wrongWith(model, plan);
        if (said) wrong.push(`${k} ${replace}: ${said}`);
      }
    }
    console.log(`${folds} folds: ${plans} plans, ${conceded} give something up`);
    expect(wrong).toEqual([]);
    expect(conceded).toBeLessThanOrEqual(plans / 50);
  }, 600_000);

  const told = amountOf(1200, 80);
  it(`${told} that somebody drew, told otherwise in up to nine places: every plan holds, and nearly all have one`, () => {
    const wrong: string[] = [];
    let [plans, none] = [0, 0];
    for (let k = 0; k < told; k++) {
      const draw = seededDraw(2000 + k);
      const drawn = [
        () => marketAnatomy(draw),
        () => foldAnatomy(draw),
        () => demoModel(DEVICES[draw(DEVICES.length)]!).anatomy,
        () => syntheticAnatomy(draw, 1 + draw(6)),
      ][k % 4]!();
      const model = modelOf(varied(drawn, draw, 4 + draw(6)));
      const parts = model.anatomy.parts.filter((p) => !p.fixed).map((p) => p.id);
      const replace = [...new Set(Array.from({ length: 1 + (k % 2) }, () => parts[draw(parts.length)]!))];
      const at = `${k} ${model.anatomy.id} ${replace}`;
      expect(differences(model), at).toEqual([]);
      let plan: Plan;
      try {
        plan = planDive(model, { replace }, DEFAULT_RULES, { budget: 0, heat: 'usual' });
      } catch (error) {
        if (!(error instanceof NoDive)) throw error;
        // Some of these can only be taken apart by nobody: an order that leads round in a circle, say.
        if (replace.every((part) => !mayHaveNone(model, part))) none++;
        continue;
      }
      plans++;
      const said = wrongWith(model, plan);
      if (said) wrong.push(`${at}: ${said}`);
    }
    expect(wrong).toEqual([]);
    expect(none).toBeLessThanOrEqual(0.03 * (plans + none));
  }, 600_000);

  it('two cells: neither plug waits for the other, power is off when both are open and joined again by both at the end', () => {
    const draw = seededDraw(5);
    let seen = 0;
    while (seen < 5) {
      const model = modelOf(marketAnatomy(draw, 'tablet'));
      const plugs = model.anatomy.connectors.filter((c) => c.isolatesPower).map((c) => c.id);
      if (plugs.length < 2) continue;
      seen++;
      const { steps } = planDive(model, { replace: ['lower-board'] }, DEFAULT_RULES, { budget: 0, heat: 'usual' });
      const nth = (verb: string, id: string) => steps.findIndex((s) => s.do === verb && s.items.includes(id));
      const inner = steps.findIndex((s) => s.do === 'disconnect' && !s.items.some((id) => plugs.includes(id)));
      for (const id of plugs) expect(nth('disconnect', id)).toBeLessThan(inner);
      const last = steps.findLastIndex((s) => s.do === 'connect' && !s.items.some((id) => plugs.includes(id)));
      for (const id of plugs) expect(nth('connect', id)).toBeGreaterThan(last);
      for (const [i, step] of steps.entries()) {
        const open = plugs.every(
          (id) => nth('disconnect', id) < i && i <= Math.min(...plugs.map((p) => nth('connect', p))),
        );
        if (step.phase !== 'prepare' && step.do !== 'connect') expect(step.live, `step ${step.n}`).toBe(!open);
      }
    }
  });
});
