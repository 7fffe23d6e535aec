import { describe, expect, it } from 'vitest';
import { demoModel } from '../../../demo/models.ts';
import { tinyBond, tinyDevice, tinyPart } from '../../../demo/tiny.ts';
import type { AgreementTerms } from '../../counter/index.ts';
import { agreementText, tellAll } from '../../../words/index.ts';
import { recipeFor } from '../../heat/index.ts';
import { cutPlan } from '../../opening/index.ts';
import { checkPlan } from '../judged.ts';
import { modelOf, type Model } from '../../anatomy/index.ts';
import { cuttingOf, heatingOf, recipeOf } from './heating.ts';
import { partingOf } from './parting.ts';
import { planDive } from '../plan.ts';
import { DEFAULT_RULES, readRules, type HouseRules } from '../house/rules.ts';
import { HEAT, SECONDS } from '../house/times.ts';
import type { Plan, Step } from '../types.ts';

const quill = demoModel('velmora-quill-5');
const nacre = demoModel('pellworth-nacre-2');
const battery = (rules: Partial<HouseRules> = {}, options = {}): Plan =>
  planDive(quill, { replace: ['battery'] }, { ...DEFAULT_RULES, ...rules }, { budget: 40, ...options });
const stepOf = (plan: Plan, verb: Step['do'], item: string): Step =>
  plan.steps.find((s) => s.do === verb && s.items.includes(item))!;

describe('recipes feed the heat steps of a dive', () => {
  it('a mat works by itself: its time is a wait, and the step says the setting', () => {
    const recipe = recipeFor(quill, 'display-seal', { source: 'mat', hottest: DEFAULT_RULES.hottest });
    if (!recipe.ok) throw new Error(recipe.reason.code);
    const step = stepOf(battery(), 'heat', 'display-seal');
    expect(step.waits).toBe(recipe.seconds);
    expect(step.seconds).toBe(SECONDS.setUpHeat);
    expect(step.heat).toMatchObject({
      source: 'mat',
      set: recipe.set,
      computed: true,
      staysSoft: recipe.staysSoft,
      reheat: recipe.reheat,
    });
    expect(tellAll(quill, step.hint)).toMatch(new RegExp(`Heat mat at ${recipe.set} °C`));
  });
  it('swept air keeps the hands busy; its rests are waits', () => {
    const rules: HouseRules = { ...DEFAULT_RULES, heat: 'gun' };
    const bond = quill.bonds.get('dock-glue')!;
    const { hands, wait, setting } = heatingOf(bond, rules, false, partingOf(quill, bond, rules, 'computed'));
    expect(setting.computed).toBe(true);
    const rests = setting.turns.reduce((sum, t) => sum + t.rest, 0);
    expect(wait).toBe(rests);
    expect(hands).toBe(SECONDS.setUpHeat + setting.turns.reduce((sum, t) => sum + t.seconds, 0));
  });
  it('what cannot be warmed half by half is warmed edge by edge, with rests', () => {
    const halves = recipeFor(quill, 'display-seal', { source: 'gun' });
    expect(halves.ok).toBe(false);
    const found = recipeOf(quill, 'display-seal', { ...DEFAULT_RULES, heat: 'gun' }, false);
    expect(found).toMatchObject({ ok: true, passes: true });
    if (found?.ok) expect(found.turns.slice(1).every((t) => t.rest > 0)).toBe(true);
  });
  it('where the source of the house does not soften it, another does, and the step says why', () => {
    const step = stepOf(battery({ heat: 'dryer' }), 'heat', 'display-seal');
    expect(step.tool).toBe('mat');
    expect(step.heat).toMatchObject({ source: 'mat', computed: true });
    expect(tellAll(quill, step.hint)).toMatch(
      /Not as the house does it: the hair dryer at 60 °C does not bring the whole seam to 60 °C/,
    );
  });
  describe('by what works', () => {
    const others = ['mat', 'gun', 'pad', 'gel-pack'];
    const seal = (softensAt: number, solvent: boolean): Model => {
      const { anatomy } = quill;
      const bonds = anatomy.bonds.map((b) => (b.id === 'display-seal' ? { ...b, softensAt, solvent } : b));
      return modelOf({ ...anatomy, id: `seal-${softensAt}-${solvent}`, bonds });
    };
    const dive = (model: Model, rules: Partial<HouseRules> = {}) =>
      planDive(model, { replace: ['battery'] }, { ...DEFAULT_RULES, ...rules }, { budget: 0 });
    it('with solvent once it is off the heat, where dry heat passes a limit', () => {
      const step = stepOf(dive(seal(72, true)), 'heat', 'display-seal');
      expect(step.heat).toMatchObject({ solvent: true, computed: true });
      expect(step.heat!.softensAt).toBeLessThan(72);
    });
    it('with solvent alone, where no heat does', () => {
      const plan = dive(seal(120, true));
      expect(plan.steps.some((s) => s.do === 'heat' && s.items.includes('display-seal'))).toBe(false);
      expect(stepOf(plan, 'solvent', 'display-seal').waits).toBeGreaterThan(0);
      expect(plan.losses.map((l) => l.function)).not.toContain('cold-seam');
      expect(checkPlan(seal(120, true), plan)).toBeNull();
    });
    it('cold where nothing does, which is told before as a risk to be agreed to', () => {
      const model = seal(120, false);
      const plan = dive(model);
      expect(plan.losses).toContainEqual({
        function: 'cold-seam',
        item: 'display-seal',
        because: {
          code: 'cut-cold',
          item: 'display-seal',
          why: { code: 'source-too-weak', source: 'mat', most: 80, softensAt: 120 },
        },
        remedy: { code: 'cold-panel' },
      });
      expect(stepOf(plan, 'cut', 'display-seal').hint[0]).toMatchObject({ code: 'cold-at-risk' });
      expect(checkPlan(model, plan)).toBeNull();
      // That another seam was agreed to says nothing of this one.
      const others = plan.losses.map((l) => (l.function === 'cold-seam' ? { ...l, item: 'dock-glue' } : l));
      for (const losses of [others, plan.losses.filter((l) => l.function !== 'cold-seam')])
        expect(checkPlan(model, { ...plan, losses })).toMatchObject({ rule: 'R20', item: 'display-seal' });
      // The customer reads of every seam, not of the first.
      const two = {
        ...plan,
        losses: [
          ...plan.losses,
          { ...others.at(-1)!, because: { code: 'quoted' as const, words: 'the dock is cut cold too' } },
        ],
      };
      const terms: AgreementTerms = {
        losses: ['cold-seam'],
        limit: null,
        currency: 'EUR',
        data: 'not-touched',
        unfinished: 'keep-and-call',
        language: 'en',
      };
      const lines = agreementText(model, two, terms, 'Quayside').filter((line) => line.startsWith('At risk'));
      expect(lines).toEqual([
        expect.stringContaining('is cut cold: the heat mat'),
        expect.stringContaining('The dock is'),
      ]);
    });
    it('as the device stands: a cell that is out holds nothing back, and what is out carries no heat', () => {
      const bond = nacre.bonds.get('display-seal')!;
      const closed = partingOf(nacre, bond, DEFAULT_RULES, 'computed', []);
      const open = partingOf(nacre, bond, DEFAULT_RULES, 'computed', ['back-cover', 'battery']);
      expect(open.off).toEqual(['back-cover', 'battery']);
      expect(open.recipe!.peaks.cell).toBeUndefined();
      expect(closed.recipe!.peaks.cell).toBeGreaterThan(30);
      expect(open.method).toBe('heat-and-cut');
    });
    it('an open face is never laid on a mat: what is warmed then is warmed from above', () => {
      const model = modelOf(
        tinyDevice((a) => {
          a.parts.push(tinyPart('back', 0, [0, 0, 40, 80], { face: 'back', kind: 'cover' }));
          a.bonds = [tinyBond('pad', 'tape', ['camera', 'frame'], { at: { area: { rect: [6, 6, 6, 6] } } })];
        }),
      );
      const bond = model.bonds.get('pad')!;
      const shut = partingOf(model, bond, DEFAULT_RULES, 'usual', ['cover']);
      expect([shut.source, shut.on]).toEqual(['mat', 'back']);
      const both = partingOf(model, bond, DEFAULT_RULES, 'usual', ['cover', 'back']);
      expect([both.source, both.on]).toEqual(['gun', 'front']);
      const plan = planDive(model, { replace: ['camera', 'back'] }, DEFAULT_RULES, { heat: 'usual' });
      expect(checkPlan(model, plan)).toBeNull();
      const heat = stepOf(plan, 'heat', 'pad');
      expect(heat.hint).toContainEqual({ code: 'lies-on-mat', face: 'back' });
      const steps = plan.steps.map((s) => (s === heat ? { ...s, heat: { ...s.heat!, on: 'front' as const } } : s));
      expect(checkPlan(model, { ...plan, steps })).toMatchObject({ rule: 'R21', item: 'cover' });
    });
    it('a source that the shop lacks is not taken', () => {
      const plan = dive(quill, { heat: 'dryer', lacks: others });
      expect(plan.losses.map((l) => l.function).includes('cold-seam')).toBe(!quill.bonds.get('display-seal')!.solvent);
      expect(plan.steps.some((s) => s.tool !== null && others.includes(s.tool))).toBe(false);
    });
  });
  it('asked for the usual times it computes nothing', () => {
    expect(stepOf(battery({}, { heat: 'usual' }), 'heat', 'display-seal')).toMatchObject({
      waits: HEAT.mat.wait,
      heat: { computed: false, set: 70 },
    });
  });
  it("the room and the shop's own source change the wait", () => {
    const wait = (rules: Partial<HouseRules>) => stepOf(battery(rules), 'heat', 'display-seal').waits;
    expect(wait({ room: 10 })).toBeGreaterThan(wait({}));
    expect(wait({ sources: { mat: { conductance: 90 } } })).toBeGreaterThan(wait({}));
  });
  it('the plans are sound, whatever the source', () => {
    for (const heat of ['mat', 'pad', 'gun', 'gel-pack', 'dryer'] as const)
      for (const model of [quill, nacre]) {
        const plan = planDive(model, { replace: ['battery'] }, { ...DEFAULT_RULES, heat }, { budget: 0 });
        expect(checkPlan(model, plan), `${heat} ${model.anatomy.id}`).toBeNull();
      }
  });
});

describe('cut plans feed the cut steps of a dive', () => {
  it('marks, entry and what lies behind stand in the step; a seam that cools is heated again', () => {
    const plan = cutPlan(quill, 'display-seal');
    const step = stepOf(battery(), 'cut', 'display-seal');
    expect(tellAll(quill, step.hint)).toMatch(
      /Marks at 1\.4 and 1\.9 mm\. Enter at the bottom edge, opposite the hooks of the top edge; then left and right\./,
    );
    expect(tellAll(quill, step.hint)).toMatch(/Only 1\.4 mm on the left edge past Side buttons\./);
    const heat = stepOf(battery(), 'heat', 'display-seal').heat!;
    const reheats = Math.max(0, Math.ceil(plan.seconds / Math.max(20, heat.staysSoft)) - 1);
    expect(step.seconds).toBe(Math.round(plan.seconds + reheats * heat.reheat));
  });
  it('a seam that stays soft for long needs no reheat', () => {
    const heat = { ...stepOf(battery(), 'heat', 'display-seal').heat!, staysSoft: 999 };
    const cutting = cuttingOf(quill, quill.bonds.get('display-seal')!, DEFAULT_RULES, false, heat)!;
    expect(cutting.seconds).toBe(cutPlan(quill, 'display-seal').seconds);
    expect(cutting.hint.some((h) => h.code === 'reheat')).toBe(false);
  });
  it('house rules set the marks and the margin', () => {
    expect(tellAll(quill, stepOf(battery({ pickMarks: 1 }), 'cut', 'display-seal').hint)).toMatch(
      /^Marks at [\d.]+ mm\./,
    );
    expect(readRules({ pickMarks: 0 })).toMatchObject({ ok: false, faults: [{ path: 'pickMarks' }] });
    expect(readRules({ sources: { mat: { conductance: -4 } } })).toMatchObject({
      ok: false,
      faults: [{ path: 'sources.mat.conductance' }],
    });
    expect(readRules({ sources: { toaster: {} } })).toMatchObject({ ok: false });
  });
  it('the gap is raised where the plan says', () =>
    expect(tellAll(quill, stepOf(battery(), 'gap', 'display-seal').hint)).toMatch(
      /^Cup 24 mm in from the bottom edge/,
    ));
});
