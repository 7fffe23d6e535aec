import { describe, expect, it } from 'vitest';
import { demoModel } from '../../../demo/models.ts';
import { modularAnatomy } from '../../../demo/synthetic.ts';
import { tinyBond, tinyDevice, tinyPart } from '../../../demo/tiny.ts';
import { modelOf } from '../../anatomy/index.ts';
import { chainOf } from './chain.ts';
import { checkPlan } from '../judged.ts';
import { planDive } from '../plan.ts';
import { DEFAULT_RULES, withToolsAtHand } from '../house/rules.ts';
import type { Plan } from '../types.ts';
import { comparePlans, extrasOf } from './weigh.ts';
import { isTried } from '../../../demo/thorough.ts';

const quill = demoModel('velmora-quill-5');
const nacre = demoModel('pellworth-nacre-2');
const mule = demoModel('karnhold-mule-4');

describe('why a step is there', () => {
  it('is told from the target down to the screw', () => {
    const plan = planDive(quill, { replace: ['battery'] });
    const step = plan.steps.find((s) => s.do === 'unscrew' && s.items.includes('p1'))!;
    expect(chainOf(quill, plan, step).map((l) => l.action.key)).toEqual([
      'lift:battery',
      'open:battery-flex',
      'lift:power-cover',
      'loosen:p1',
    ]);
  });
  it('every step of the way in and of the way back has a chain that begins at a target', () => {
    const plan = planDive(nacre, { replace: ['display'] });
    for (const step of plan.steps.filter(
      (s) =>
        (s.phase === 'descent' || s.phase === 'ascent') &&
        s.items.length > 0 &&
        !['gate', 'test', 'clean', 'inspect'].includes(s.do) &&
        isTried(s.n, 6),
    )) {
      const chain = chainOf(nacre, plan, step);
      // What is taken off for the sake of good work (R5, R8) asks for what it needs itself.
      const begins = [
        'display',
        ...plan.steps.flatMap((s) =>
          s.because.some((b) => b.why === 'rule' && ['R5', 'R8'].includes(b.rule)) ? s.items : [],
        ),
      ];
      expect(
        begins.map((id) => `lift:${id}`),
        `${step.n} ${step.do} ${step.items.join()}`,
      ).toContain(chain[0]?.action.key);
      expect(chain.slice(1).every((l) => l.because !== null)).toBe(true);
    }
  });
});

describe('the cheapest way overall', () => {
  it('a part that can leave either way is taken through the back when only it is wanted', () => {
    const plan = planDive(mule, { replace: ['earpiece'] });
    expect(plan.steps.find((s) => s.do === 'lift' && s.items.includes('earpiece'))!.face).toBe('back');
    expect(plan.steps.some((s) => s.items.includes('display-glue'))).toBe(false);
    expect(checkPlan(mule, plan)).toBeNull();
  });
  it('one connector of the glass-backed phone is opened live, and only that', () => {
    const plan = planDive(nacre, { replace: ['battery'] });
    expect(plan.steps.filter((s) => s.do === 'disconnect' && s.live).flatMap((s) => s.items)).toEqual([
      'finger-flex',
      'battery-flex',
    ]);
  });
  it('the battery comes out before the display that hangs on a flex beneath it', () => {
    const { steps } = planDive(nacre, { replace: ['display'] });
    const n = (verb: string, item: string) => steps.find((s) => s.do === verb && s.items.includes(item))!.n;
    expect(n('lift', 'battery')).toBeLessThan(n('lift', 'display'));
    expect(steps.some((s) => s.do === 'turn-over')).toBe(true);
  });
  it('waits are filled: the tray and the film while the charge runs down', () => {
    const { steps, totals } = planDive(quill, { replace: ['battery'] });
    const discharge = steps.find((s) => s.do === 'discharge')!;
    expect(steps.find((s) => s.do === 'eject')!.starts).toBeLessThan(
      discharge.starts + discharge.seconds + discharge.waits,
    );
    expect(totals.idle).toBeLessThan(totals.waits);
  });
  it('a hard bond is warmed, opened a hairline, soaked and cut; soaked alone where the cell forbids such heat', () => {
    const cut = (heat: 'usual' | 'computed') =>
      planDive(mule, { replace: ['display'] }, { ...DEFAULT_RULES, hottest: {} }, { heat })
        .steps.filter((s) => s.items.includes('display-glue') && s.phase === 'descent')
        .map((s) => s.do);
    expect(cut('usual')).toEqual(['heat', 'gap', 'solvent', 'cut']);
    expect(cut('computed')).toEqual(['solvent', 'gap', 'cut']);
  });
});

describe('house rules', () => {
  it('a missing heat source is replaced by another, and the plan says so', () => {
    const plan = planDive(quill, { replace: ['battery'] }, { ...DEFAULT_RULES, lacks: ['mat', 'pad'] });
    expect(plan.steps.find((s) => s.do === 'heat')!.tool).toBe('gun');
    expect(plan.changes).toEqual([{ code: 'other-tool', tool: 'mat', what: 'heat', instead: 'gun' }]);
    expect(plan.missingTools).toEqual([]);
    expect(checkPlan(quill, plan)).toBeNull();
  });
  it('a missing bit cannot be replaced: the plan says which it needs', () => {
    expect(
      planDive(quill, { replace: ['battery'] }, { ...DEFAULT_RULES, lacks: ['driver-Y000'] }).missingTools,
    ).toEqual(['driver-Y000']);
  });
  it('without clips and weight, bonds are pressed by hand', () => {
    expect(withToolsAtHand({ ...DEFAULT_RULES, lacks: ['clips', 'weight'] }).rules.pressing).toBe('by-hand');
  });
  it.each<[string, Partial<typeof DEFAULT_RULES>, (steps: ReturnType<typeof planDive>['steps']) => boolean]>([
    [
      'a clamp for the first gap',
      { firstGap: 'cup-clamp' },
      (s) => s.some((x) => x.do === 'gap' && x.tool === 'cup-clamp'),
    ],
    ['a hot-air gun', { heat: 'gun' }, (s) => s.some((x) => x.do === 'heat' && x.tool === 'gun')],
    [
      'the display taken off',
      { openedDisplay: 'take-off' },
      (s) => s.some((x) => x.do === 'lift' && x.items.includes('display')),
    ],
    [
      'solvent for the cell',
      { gluedBattery: 'solvent' },
      (s) => s.some((x) => x.do === 'solvent' && x.items.includes('cell-tabs')),
    ],
    [
      'liquid glue that cures',
      { seal: 'liquid-glue' },
      (s) => s.some((x) => x.do === 'cure' && x.items.includes('display-seal')),
    ],
    ['pressing under a weight', { pressing: 'weight' }, (s) => s.some((x) => x.do === 'press' && x.tool === 'weight')],
  ])('%s changes the plan, and it stays sound', (_, rules, holds) => {
    const plan = planDive(quill, { replace: ['battery'] }, { ...DEFAULT_RULES, ...rules });
    expect(holds(plan.steps)).toBe(true);
    expect(checkPlan(quill, plan)).toBeNull();
  });
  it('a metal blade parts the rim of a closed device; one that may be open and live gets a plastic pick (A5)', () => {
    const blade = { ...DEFAULT_RULES, firstGap: 'thin-blade' as const };
    const gaps = (plan: Plan) => plan.steps.filter((s) => s.do === 'gap').map((s) => [s.items[0], s.tool]);
    const closed = planDive(quill, { replace: ['battery'] }, blade);
    expect(gaps(closed)).toEqual([['display-seal', 'thin-blade']]);
    const glued = modelOf({
      ...mule.anatomy,
      bonds: mule.anatomy.bonds.map((b) => (b.id === 'back-gasket' ? { ...b, kind: 'tape' as const } : b)),
    });
    const open = planDive(glued, { replace: ['port-flap', 'display'] }, blade);
    expect(gaps(open)).toContainEqual(['back-gasket', 'pick']);
    expect(open.steps.find((s) => s.do === 'gap' && s.items[0] === 'back-gasket')!.hint).toContainEqual({
      code: 'plastic-pick-here',
    });
    for (const [model, plan] of [
      [quill, closed],
      [glued, open],
    ] as const)
      expect(checkPlan(model, plan)).toBeNull();
  });
  it('where a cup has no room the blade raises the gap, though the house works with cups', () => {
    const { steps } = planDive(nacre, { replace: ['camera-bezel'] });
    expect(steps.find((s) => s.do === 'gap')).toMatchObject({
      items: ['bezel-glue'],
      tool: 'thin-blade',
      hint: [expect.objectContaining({ code: 'gap-blade' })],
    });
  });
  it('under a weight nothing else is done on the device', () => {
    const { steps } = planDive(quill, { replace: ['battery'] }, { ...DEFAULT_RULES, pressing: 'weight' });
    const press = steps.find((s) => s.do === 'press' && s.items.includes('display-seal'))!;
    expect(steps.find((s) => s.n === press.n + 1)!.waitsFor).toContain(press.n);
  });
});

describe('weighing', () => {
  it('while you are in there: what lies on the way costs least', () => {
    const plan = planDive(quill, { replace: ['battery'] });
    const extras = extrasOf(quill, plan);
    expect(extras).toHaveLength(quill.anatomy.parts.filter((p) => !p.fixed).length - 1);
    const of = (part: string) => extras.find((e) => e.part === part)!;
    expect(of('motor').extra).toBeLessThan(of('dock').extra);
    for (const { extra, alone } of extras) expect(extra).toBeLessThanOrEqual(alone);
  });
  it('two spares side by side: what only one of them asks for', () => {
    const bare = planDive(quill, { replace: ['display'], spares: ['display-bare'] });
    const full = planDive(quill, { replace: ['display'], spares: ['display-full'] });
    const { onlyFirst, onlySecond, lossesOnlySecond } = comparePlans(bare, full);
    expect(onlyFirst.map((s) => `${s.do} ${s.items.join()}`)).toEqual(expect.arrayContaining(['transfer sensors']));
    expect(onlySecond.some((s) => s.do === 'transfer')).toBe(false);
    expect(lossesOnlySecond).toEqual(['face-unlock']);
  });
  it('a plan beside itself differs in nothing', () => {
    const plan = planDive(
      modelOf(
        tinyDevice((a) => {
          a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'])];
        }),
      ),
      { replace: ['camera'] },
    );
    expect(Object.values(comparePlans(plan, plan)).flat()).toEqual([]);
  });
  it('a device of 200 items is planned soundly, and the gap is told', () => {
    const model = modelOf(modularAnatomy(28));
    const plan = planDive(model, { replace: ['board'] });
    expect(checkPlan(model, plan)).toBeNull();
    expect(plan.optimality.lowerBound).toBeLessThanOrEqual(plan.optimality.cost);
    expect(plan.optimality.lowerBound).toBeGreaterThan(plan.optimality.cost * 0.95);
  });
  it('two parts of one layer in one dive take less than two dives', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.parts.push(tinyPart('motor', 1, [4, 20, 8, 6]));
      }),
    );
    const cost = (...replace: string[]) => planDive(model, { replace }).optimality.cost;
    expect(cost('camera', 'motor')).toBeLessThan(cost('camera') + cost('motor'));
  });
});
