import { describe, expect, it } from 'vitest';
import * as bench from '../../demo/benchDevices.ts';
import { differences } from '../../demo/readings.ts';
import { wrongWith } from '../../demo/planOracle.ts';
import { modelOf, readAnatomy, type Model } from '../anatomy/index.ts';
import { checkPlan, DEFAULT_RULES, planDive, type HouseRules, type Plan, type Step } from './index.ts';
import { relation, rule } from './graph/reasons.ts';

const { work } = bench;
const dive = (model: Model, replace: string, rules: Partial<HouseRules> = {}): Plan =>
  planDive(model, { replace: replace.split(' ') }, { ...DEFAULT_RULES, ...rules }, { heat: 'usual' });
const at = (plan: Plan, words: string): number => {
  const place = work(plan).indexOf(words);
  if (place < 0) throw new Error(`no step "${words}" in ${work(plan).join(' | ')}`);
  return place;
};
const step = (plan: Plan, words: string): Step => plan.steps[at(plan, words)]!;
const changed = (plan: Plan, words: string, change: Partial<Step>): Plan => ({
  ...plan,
  steps: plan.steps.map((s, i) => (i === at(plan, words) ? { ...s, ...change } : s)),
});
const without = (plan: Plan, ...words: string[]): Plan => ({
  ...plan,
  steps: plan.steps.filter((_, i) => !words.includes(work(plan)[i]!)).map((s, i) => ({ ...s, n: i + 1 })),
});
const moved = (plan: Plan, words: string, before: string): Plan => {
  const step = plan.steps[at(plan, words)]!;
  const rest = plan.steps.filter((s) => s !== step);
  rest.splice(rest.indexOf(plan.steps[at(plan, before)]!), 0, step);
  return { ...plan, steps: rest.map((s, i) => ({ ...s, n: i + 1 })) };
};

// What a technician does with each of these is common practice.
describe('what an anatomy of the second format says, and what follows', () => {
  it('planner and judge read the same of every device here', () => {
    for (const model of [
      bench.fold,
      bench.screwedGasket,
      bench.tenderDisplay,
      bench.solderedPort,
      bench.padUnderCover,
    ]) {
      expect(differences(model)).toEqual([]);
      expect(readAnatomy(structuredClone(model.anatomy))).toMatchObject({ ok: true });
      for (const p of model.anatomy.parts.filter((p) => !p.fixed)) {
        const plan = dive(model, p.id);
        expect(`${p.id}: ${wrongWith(model, plan)}`).toBe(`${p.id}: null`);
        expect(plan.changes, p.id).toEqual([]);
      }
    }
  });

  it('R22: a gasket under screws is neither cut nor cured; it is laid new, pressed by its screws, and proved tight', () => {
    const plan = dive(bench.screwedGasket, 'camera');
    expect(work(plan).filter((w) => w.endsWith(' gasket'))).toEqual(['bond gasket', 'leak-test gasket']);
    expect(at(plan, 'bond gasket')).toBeLessThan(at(plan, 'fit cover'));
    expect(step(plan, 'fasten c1 c2').hint).toContainEqual({ code: 'presses-gasket' });
    expect(at(plan, 'leak-test gasket')).toBeGreaterThan(at(plan, 'fasten c1 c2'));
    expect(plan.steps.map((s) => s.do)).not.toContain('gap');
    expect(checkPlan(bench.screwedGasket, plan)).toBeNull();
    expect(checkPlan(bench.screwedGasket, changed(plan, 'bond gasket', { do: 'cure' }))).toMatchObject({
      item: 'gasket',
    });
    expect(checkPlan(bench.screwedGasket, without(plan, 'leak-test gasket'))).toMatchObject({
      rule: 'R22',
      item: 'gasket',
    });
    const kept = dive(bench.keptGasket, 'camera');
    expect(step(kept, 'inspect gasket').because).toContainEqual(rule('R22'));
    expect(checkPlan(bench.keptGasket, without(kept, 'inspect gasket'))).toMatchObject({ rule: 'R22', item: 'gasket' });
    // A shop without a tester cannot.
    const plain = dive(bench.screwedGasket, 'camera', { lacks: ['leak-tester'] });
    expect(work(plain)).not.toContain('leak-test gasket');
    expect(checkPlan(bench.screwedGasket, plain)).toBeNull();
  });

  it('R23: no cup, no solvent and no more heat than the part bears', () => {
    const plan = dive(bench.tenderDisplay, 'camera', { firstGap: 'suction-cup', heat: 'mat' });
    expect(step(plan, 'heat seal').heat).toMatchObject({ source: 'mat', set: 55 });
    expect(step(plan, 'gap seal').tool).toBe('thin-blade');
    expect(step(plan, 'clean cover').tool).not.toBe('wipes');
    expect(step(plan, 'lift cover').hint).toContainEqual({ code: 'carried-flat' });
    expect(checkPlan(bench.tenderDisplay, plan)).toBeNull();
    const hot = { ...step(plan, 'heat seal').heat!, set: 70 };
    for (const broken of [
      changed(plan, 'heat seal', { heat: hot }),
      changed(plan, 'gap seal', { tool: 'suction-cup' }),
      changed(plan, 'clean cover', { tool: 'wipes' }),
    ])
      expect(checkPlan(bench.tenderDisplay, broken)).toMatchObject({ rule: 'R23', item: 'cover' });
    // What gives only above what the part bears is not heated at all.
    const hard = modelOf({
      ...bench.tenderDisplay.anatomy,
      bonds: bench.tenderDisplay.anatomy.bonds.map((b) => ({ ...b, softensAt: 70 })),
    });
    const cold = dive(hard, 'camera');
    expect(work(cold)).not.toContain('heat seal');
    expect(cold.losses).toMatchObject([{ function: 'cold-seam', item: 'seal' }]);
    expect(checkPlan(hard, cold)).toBeNull();
  });

  it('R24: a joint is worked with its board out on the mat, one in its place with the cell away; wetted, tinned, looked at', () => {
    const model = bench.solderedPort;
    const port = dive(model, 'port');
    const joint = ['flux', 'desolder', 'flux', 'tin', 'solder', 'inspect'].map((verb) => `${verb} port-joint`);
    expect(work(port).filter((w) => w.endsWith(' port-joint') && !w.startsWith('G'))).toEqual(joint);
    expect(at(port, 'desolder port-joint')).toBeGreaterThan(at(port, 'lift board'));
    expect(at(port, 'solder port-joint')).toBeLessThan(at(port, 'fit board'));
    expect(step(port, 'desolder port-joint').live).toBe(false);
    const inPlace = dive(model, 'microphone');
    expect(at(inPlace, 'desolder microphone-joint')).toBeGreaterThan(at(inPlace, 'lift battery'));
    expect(at(inPlace, 'solder microphone-joint')).toBeLessThan(at(inPlace, 'fit battery'));
    for (const plan of [port, inPlace]) expect(checkPlan(model, plan)).toBeNull();
    const near = without(inPlace, 'lift battery', 'fit battery', 'inspect battery', 'clean battery', 'renew battery');
    expect(checkPlan(model, near)).toMatchObject({ rule: 'R24', item: 'battery' });
    expect(checkPlan(model, without(port, 'flux port-joint'))).toMatchObject({ rule: 'R24', item: 'port-joint' });
    expect(checkPlan(model, without(port, 'inspect port-joint'))).toMatchObject({ rule: 'R24', item: 'port-joint' });
  });

  it('A1: what lies in the middle under a panel is cut when nothing holds its rim any more', () => {
    const plan = dive(bench.padUnderCover, 'camera');
    expect(at(plan, 'cut pad')).toBeGreaterThan(at(plan, 'cut seal'));
    expect(step(plan, 'cut seal').because).toContainEqual(relation('holdsRim', 'cover'));
    const early = moved(moved(plan, 'heat pad', 'heat seal'), 'cut pad', 'heat seal');
    expect(checkPlan(bench.padUnderCover, early)).toMatchObject({ rule: 'A1', item: 'seal' });
  });

  it('a fold is worked closed from outside, each half by itself, and opened flat for its inner display', () => {
    const plan = dive(bench.fold, 'inner camera');
    const lying = plan.steps.filter((s) => s.face !== 'edge' && ['lift', 'fit'].includes(s.do));
    expect(lying.map((s) => s.pose)).not.toContain(undefined);
    for (const s of lying) {
      const [id] = s.items;
      if (s.phase === 'turn' || s.phase === 'prepare') continue;
      const half = id!.startsWith('left') ? 'closed-left' : id === 'inner' ? 'flat' : 'closed-right';
      expect(s.pose, `${s.do} ${id}`).toBe(half);
    }
    const turned = plan.steps.filter((s) => s.do === 'turn-over').flatMap((s) => s.hint.map((h) => h.code));
    expect(turned).toContain('pose-closed');
    expect(plan.changes).toEqual([]);
    expect(checkPlan(bench.fold, plan)).toBeNull();
    const folded = plan.steps.findIndex((s) => s.do === 'turn-over');
    const unfolded = { ...plan, steps: plan.steps.filter((_, i) => i !== folded).map((s, i) => ({ ...s, n: i + 1 })) };
    expect(checkPlan(bench.fold, unfolded)).toMatchObject({ rule: 'A3' });
    expect(checkPlan(bench.fold, changed(plan, 'lift left-back', { pose: 'flat' }))).toMatchObject({ rule: 'A3' });
  });

  it('A4: live is told by rail; what feeds a half is cut before its plugs are opened, and the other half is not opened for it', () => {
    const left = dive(bench.fold, 'left-board');
    // The flex over the hinge lies between both halves: both cells are off before it is opened.
    for (const plug of ['left-plug', 'right-plug'])
      expect(at(left, `disconnect ${plug}`)).toBeLessThan(at(left, 'disconnect hinge-flex inner-plug'));
    const camera = dive(bench.fold, 'camera');
    for (const plug of ['left-plug', 'right-plug'])
      expect(at(camera, `disconnect ${plug}`)).toBeLessThan(at(camera, 'disconnect camera-plug'));
    expect(step(camera, 'disconnect camera-plug').live).toBe(false);
    const inner = dive(bench.fold, 'inner');
    expect(step(inner, 'disconnect inner-plug').live).toBe(false);
    const cell = dive(bench.fold, 'left-cell');
    expect(work(cell)).not.toContain('disconnect right-plug');
    expect(step(cell, 'lift left-cell').live).toBe(false);
    for (const plan of [left, camera, inner, cell]) expect(checkPlan(bench.fold, plan)).toBeNull();
    const live = moved(camera, 'disconnect camera-plug', 'disconnect right-plug');
    expect(checkPlan(bench.fold, live)).toMatchObject({ rule: 'A4' });
  });

  it('R25: only the half that is softened is warmed', () => {
    const plan = dive(bench.fold, 'camera', { heat: 'mat' });
    expect(step(plan, 'heat right-seal').heat).toMatchObject({ half: 'right', on: 'back' });
    expect(step(plan, 'heat right-seal').hint).toContainEqual({ code: 'half-alone', body: 'right' });
    const first = work(plan).find((w) => w.startsWith('heat'))!;
    const { half: _, ...whole } = step(plan, first).heat!;
    expect(checkPlan(bench.fold, changed(plan, first, { heat: whole }))).toMatchObject({ rule: 'R25' });
    const inner = dive(bench.fold, 'inner', { heat: 'mat' });
    expect(step(inner, 'heat inner-seal').tool).not.toBe('mat');
  });
});
