import { describe, expect, it } from 'vitest';
import {
  deadlockedDevice,
  tinyBond,
  tinyConnector,
  tinyDevice,
  tinyLatch,
  tinyPart,
  tinyScrew,
} from '../../demo/tiny.ts';
import { modelOf, type Model } from '../anatomy/index.ts';
import {
  checkPlan,
  DEFAULT_RULES,
  needless,
  planDive,
  depthTable,
  reachOf,
  stepItemName,
  type HouseRules,
  type Plan,
  type Step,
} from './index.ts';
import * as bench from '../../demo/benchDevices.ts';
import { BY_ID, tellAll } from '../../words/index.ts';
import { reasonKey, relation, rule } from './graph/reasons.ts';

const { work } = bench;
const dive = (model: Model, replace: string, rules: Partial<HouseRules> = {}, condition = {}): Plan =>
  planDive(model, { replace: replace.split(' '), condition }, { ...DEFAULT_RULES, ...rules }, { heat: 'usual' });

/** The place of a step said in few words, from 0. */
const at = (plan: Plan, words: string, from = 0): number => {
  const place = work(plan).findIndex((w, i) => i >= from && w === words);
  if (place < 0) throw new Error(`no step "${words}" in ${work(plan).join(' | ')}`);
  return place;
};
const renumbered = (plan: Plan, steps: Step[]): Plan => ({ ...plan, steps: steps.map((s, i) => ({ ...s, n: i + 1 })) });
const moved = (plan: Plan, words: string, behind: string): Plan => {
  const steps = [...plan.steps];
  const [step] = steps.splice(at(plan, words), 1);
  const rest = renumbered(plan, steps);
  steps.splice(at(rest, behind) + 1, 0, step!);
  return renumbered(plan, steps);
};
const changed = (plan: Plan, words: string, change: Partial<Step>): Plan => {
  const place = at(plan, words);
  return { ...plan, steps: plan.steps.map((s, i) => (i === place ? { ...s, ...change } : s)) };
};
const left = (plan: Plan, ...words: string[]): Plan =>
  renumbered(
    plan,
    plan.steps.filter((_, i) => !words.includes(work(plan)[i]!)),
  );
const reasons = (plan: Plan, words: string): string[] => plan.steps[at(plan, words)]!.because.map(reasonKey);
const hint = (plan: Plan, words: string): string => tellAll(BY_ID, plan.steps[at(plan, words)]!.hint);

// Each plan is the one that a practised technician writes for the device: common practice, step by step.
describe('what a technician who signs a plan never does', () => {
  it('R1: the battery is mated last; solvent and adhesive come before, its own cover, the test and the closing after', () => {
    const plan = dive(bench.gluedCover, 'camera');
    expect(work(plan, ['ascent'])).toEqual([
      // It dries while the camera goes in.
      'clean cover',
      'fit camera',
      'connect camera-flex',
      'bond seal',
      'G1 camera-flex',
      'connect battery-flex',
      'G1 battery-flex',
      'fit bracket',
      'fasten k1 k2',
      'G2 k1 k2',
      'power-on',
      'test power camera',
      'G4 power camera',
      'power-off',
      'G3 cover',
      'remove-liner seal',
      'G5 seal',
      'fit cover',
      'press seal',
    ]);
    expect(reasons(plan, 'connect battery-flex')).toContain('R1');
    expect(checkPlan(bench.gluedCover, plan)).toBeNull();
    expect(checkPlan(bench.gluedCover, moved(plan, 'bond seal', 'G1 battery-flex'))?.rule).toBe('R1');
    expect(checkPlan(bench.gluedCover, moved(plan, 'clean cover', 'fit bracket'))?.rule).toBe('R1');
  });

  it('R2: after the open test it is switched off before hands go in again', () => {
    const plan = dive(bench.gluedCover, 'camera');
    const off = at(plan, 'power-off', at(plan, 'power-on'));
    expect(plan.steps[off]!.because.map(reasonKey)).toEqual(['R2']);
    const spoilt = renumbered(
      plan,
      plan.steps.filter((_, i) => i !== off),
    );
    expect(checkPlan(bench.gluedCover, spoilt)).toMatchObject({ rule: 'R2', said: { code: 'switched-on' } });
  });

  it('R3: what works by contacts of the cover is tested closed; what is lost is confirmed, never asked for', () => {
    const plan = dive(bench.coilCover, 'camera');
    expect(work(plan)).toContain('test power camera');
    expect(work(plan, ['prove'])).toEqual([
      'power-on',
      'test charging',
      'confirm-loss fingerprint',
      'G6 seal',
      'G7 power camera charging',
    ]);
    const lost = plan.steps[at(plan, 'confirm-loss fingerprint')]!;
    expect(stepItemName(bench.coilCover, lost, 'fingerprint')).toBe('Fingerprint');
    expect(checkPlan(bench.coilCover, plan)).toBeNull();
    const early = changed(plan, 'test power camera', { items: ['power', 'camera', 'charging'] });
    expect(checkPlan(bench.coilCover, early)).toMatchObject({ rule: 'R3', item: 'charging' });
    const asked = changed(plan, 'test charging', { items: ['charging', 'fingerprint'] });
    expect(checkPlan(bench.coilCover, asked)).toMatchObject({ rule: 'R3', item: 'fingerprint' });
  });

  it('R4: the flex is opened before the catch lets the speaker go', () => {
    const plan = dive(bench.caughtSpeaker, 'speaker');
    expect(work(plan, ['descent']).slice(-3)).toEqual(['disconnect speaker-flex', 'release tongue', 'lift speaker']);
    expect(reasons(plan, 'disconnect speaker-flex')).toContain('R4');
    expect(checkPlan(bench.caughtSpeaker, plan)).toBeNull();
    expect(checkPlan(bench.caughtSpeaker, moved(plan, 'disconnect speaker-flex', 'release tongue'))).toMatchObject({
      rule: 'R4',
      item: 'speaker-flex',
    });
  });

  it('R5: a cover whose last flex is open is lifted off at once, and joined at once when it is hung up again', () => {
    const plan = dive(bench.hingedCover, 'battery');
    expect(work(plan, ['descent'])).toEqual([
      'unscrew c1 c2',
      'swing cover',
      'unscrew k1 k2',
      'lift bracket',
      'disconnect battery-flex',
      'bend-aside battery-flex',
      'disconnect touch-flex',
      'lift cover',
      'lift battery',
    ]);
    expect(
      work(plan, ['ascent'])[at(plan, 'swing cover', 10) - plan.steps.findIndex((s) => s.phase === 'ascent') + 1],
    ).toBe('connect touch-flex');
    expect(reasons(plan, 'lift cover')).toContain('R5');
    expect(checkPlan(bench.hingedCover, plan)).toBeNull();
    expect(checkPlan(bench.hingedCover, moved(plan, 'lift cover', 'lift battery'))).toMatchObject({
      rule: 'R5',
      item: 'cover',
    });
  });

  it('R6: the second panel is heated when the first hangs no more, and a softened seam is cut at once', () => {
    const plan = dive(bench.twoPanels, 'battery camera');
    expect(at(plan, 'heat chin-seal')).toBeGreaterThan(at(plan, 'lift cover'));
    expect(reasons(plan, 'heat chin-seal')).toContain('R6');
    expect(checkPlan(bench.twoPanels, plan)).toBeNull();
    expect(checkPlan(bench.twoPanels, moved(plan, 'heat chin-seal', 'swing cover'))).toMatchObject({
      rule: 'R6',
      item: 'cover',
    });
    const errand = moved(plan, 'lift camera', 'heat chin-seal');
    expect(checkPlan(bench.twoPanels, errand)).toMatchObject({ rule: 'R6', item: 'chin-seal' });
    const hot = dive(bench.twoPanels, 'battery', { sources: { mat: { set: 88 } } });
    expect(hot.steps.find((s) => s.do === 'heat')!.heat!.set).toBe(DEFAULT_RULES.hottest.mat);
  });

  it('R6: work on an assembly that is off asks for no discharge of the cell', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.parts.push(tinyPart('lens', 0, [6, 60, 10, 10], { kind: 'lens', within: 'cover', glass: true }));
        a.bonds = [tinyBond('lens-ring', 'tape', ['lens', 'cover'])];
        a.spares = [{ id: 'cover-new', name: 'Cover', replaces: 'cover', includes: ['cover'], brings: [] }];
      }),
    );
    const plan = dive(model, 'cover');
    expect(work(plan, ['turn'])).toContain('heat lens-ring');
    expect(work(plan)).not.toContain('discharge');
    expect(checkPlan(model, plan)).toBeNull();
  });

  it('R7: a seal that is kept is lifted off whole and laid back, neither cut nor cured', () => {
    const plan = dive(bench.keptSeal, 'camera');
    expect(work(plan).filter((w) => w.endsWith(' gasket'))).toEqual(['release gasket', 'G5 gasket', 'press gasket']);
    expect(reasons(plan, 'release gasket')).toContain('R7');
    expect(hint(plan, 'release gasket')).toContain('stays on frame');
    expect(checkPlan(bench.keptSeal, plan)).toBeNull();
    expect(checkPlan(bench.keptSeal, changed(plan, 'release gasket', { do: 'cut' }))).toMatchObject({
      rule: 'R7',
      item: 'gasket',
    });
  });

  it('R8: a buzzer that only the cover held down is taken out before the device is turned over', () => {
    const plan = dive(bench.looseBuzzer, 'camera reader');
    expect(at(plan, 'lift buzzer')).toBeLessThan(at(plan, 'turn-over'));
    expect(reasons(plan, 'lift buzzer')).toEqual(['R8']);
    expect(checkPlan(bench.looseBuzzer, plan)).toBeNull();
    expect(checkPlan(bench.looseBuzzer, left(plan, 'lift buzzer', 'fit buzzer'))).toMatchObject({
      rule: 'R8',
      item: 'buzzer',
    });
  });

  it('R9: the seal is loaded by what presses it evenly, the pad under the camera pressed by hand for seconds', () => {
    const plan = dive(bench.gluedCamera, 'camera');
    expect(plan.steps[at(plan, 'press seal')]).toMatchObject({ waits: 120, tool: 'weight' });
    expect(plan.steps[at(plan, 'press camera-pad')]).toMatchObject({
      waits: 0,
      tool: null,
      because: [relation('returns', 'camera-pad'), rule('R9')],
    });
    expect(checkPlan(bench.gluedCamera, changed(plan, 'press camera-pad', { waits: 600 }))).toMatchObject({
      rule: 'R9',
      item: 'camera-pad',
    });
  });

  it('R9: adhesive is laid before the flex that would be in its way is mated', () => {
    const plan = dive(bench.twoPanels, 'battery camera');
    expect(at(plan, 'bond cover-seal')).toBeLessThan(at(plan, 'swing cover', at(plan, 'lift cover')));
    const late = moved(plan, 'bond cover-seal', 'connect cover-flex');
    expect(checkPlan(bench.twoPanels, late)?.rule).toBe('R9');
  });

  it('R10: a new camera and a new cell are tried dry before they are bonded, unless the house bonds at once', () => {
    const camera = dive(bench.gluedCamera, 'camera');
    expect(at(camera, 'try camera camera-flex battery-flex')).toBeLessThan(at(camera, 'bond camera-pad'));
    const cell = dive(bench.gluedCell, 'battery');
    expect(work(cell, ['ascent'])[0]).toBe('try battery battery-flex');
    expect(checkPlan(bench.gluedCell, cell)).toBeNull();
    expect(checkPlan(bench.gluedCell, left(cell, 'try battery battery-flex'))).toMatchObject({
      rule: 'R10',
      item: 'battery',
    });
    const atOnce = dive(bench.gluedCell, 'battery', { trySpare: 'at-once' });
    expect(work(atOnce).some((w) => w.startsWith('try'))).toBe(false);
    expect(checkPlan(bench.gluedCell, atOnce)).toBeNull();
  });

  it('R10: where its plug is out of reach until it lies glued, the plan says so', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.parts.push(tinyPart('back', 0, [0, 0, 40, 80], { kind: 'cover', face: 'back' }));
        a.fasteners.push(tinyScrew('x1', 'back', [3, 3], { face: 'back' }));
        a.bonds = [
          tinyBond('pad', 'tape', ['camera', 'frame'], { softensAt: null, at: { area: { rect: [5, 5, 8, 8] } } }),
        ];
        a.connectors[1] = tinyConnector('camera-flex', 'camera', 'board', [22, 10], {
          carries: ['camera'],
          face: 'back',
          layer: 1,
        });
      }),
    );
    const plan = dive(model, 'camera');
    expect(hint(plan, 'fit camera')).toContain('cannot be tried before its bond is made');
    expect(checkPlan(model, plan)).toBeNull();
  });

  it('R11: a ring in a display is had without taking off what lies over the rest of the display', () => {
    const plan = dive(bench.ringInDisplay, 'ring');
    expect(work(plan, ['descent'])).toEqual(['unscrew n1', 'lift ring']);
    expect(checkPlan(bench.ringInDisplay, plan)).toBeNull();
    for (const [model, part] of [
      [bench.gluedCover, 'camera'],
      [bench.looseBuzzer, 'reader'],
    ] as const)
      expect(needless(model, dive(model, part))).toBeNull();
    // A plan that takes off the shade as well is sound, and says so.
    const more = dive(bench.ringInDisplay, 'ring shade');
    expect(needless(bench.ringInDisplay, { ...more, replace: ['ring'] })).toBe('shade');
  });

  it('R12: the screws of one part come out in one go, and all screws in reach before the plates', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.parts.push(tinyPart('lid', 1, [20, 32, 16, 8], { kind: 'bracket' }));
        a.fasteners.push(
          tinyScrew('l1', 'lid', [22, 34], { drive: 'Y000' }),
          tinyScrew('l2', 'lid', [34, 38], { drive: 'Y000' }),
        );
        a.connectors[1] = { ...a.connectors[1]!, at: [28, 36] };
      }),
    );
    const plan = dive(model, 'camera');
    const descent = work(plan, ['descent']);
    const lids = descent.findIndex((w) => /^unscrew l/.test(w));
    expect(Math.abs(lids - descent.findIndex((w) => /^unscrew k/.test(w)))).toBe(1);
    expect(reasons(plan, 'unscrew c1 c2')).toContain('R12');
    const split = plan.steps.flatMap((s) =>
      s.do === 'unscrew' && s.items.includes('c1')
        ? [
            { ...s, items: ['c1'] },
            { ...s, do: 'inspect' as const, items: [] },
            { ...s, items: ['c2'] },
          ]
        : [s],
    );
    expect(checkPlan(model, renumbered(plan, split))).toMatchObject({ rule: 'R12', item: 'c2' });
  });

  it('R12: a part is pressed into its catches, edge after edge, before anything else is taken up', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.parts.push(tinyPart('plate', 1, [0, 0, 40, 80], { kind: 'bracket' }));
        for (const part of a.parts) if (part.layer > 0 && part.id !== 'plate') part.layer += 1;
        a.latches = (['left', 'right', 'top'] as const).map((edge) => tinyLatch(`${edge}-catches`, 'plate', { edge }));
      }),
    );
    const plan = dive(model, 'camera');
    const home = at(plan, 'fit plate');
    expect(
      work(plan)
        .slice(home + 1, home + 4)
        .sort(),
    ).toEqual(['press left-catches', 'press right-catches', 'press top-catches']);
    expect(checkPlan(model, plan)).toBeNull();
  });

  it('R13: the cell is drawn down from the charge that it has, unknown counting as full', () => {
    // 3.8 V · 1 Ah = 3.8 Wh; from 65 % to 25 % are 1.52 Wh, at 4 W 22.8 min.
    const waits = (condition: object) => {
      const plan = dive(bench.gluedCell, 'battery', {}, condition);
      expect(checkPlan(bench.gluedCell, plan)).toBeNull();
      return plan.steps[at(plan, 'discharge')]!;
    };
    expect(waits({ charge: 65 }).waits).toBe(23 * 60);
    expect(waits({}).waits).toBe(43 * 60);
    expect(waits({ charge: 20 })).toMatchObject({
      waits: 0,
      hint: [{ code: 'charge-below', limit: 25 }],
    });
    expect(waits({ dark: true })).toMatchObject({
      waits: 0,
      hint: [{ code: 'dark-is-full' }],
      cautions: ['charged-lithium', 'lithium'],
    });
    expect(dive(bench.gluedCell, 'battery', { dischargeWatts: 8 }, { charge: 65 }).steps[0]!.waits).toBe(11 * 60);
    const assumed = dive(bench.gluedCell, 'battery', { dischargeWatts: 8, assumedCharge: 65 });
    expect(assumed.steps[0]).toMatchObject({
      waits: 11 * 60,
      hint: [{ code: 'draw-down', charged: { code: 'charge-unknown', charge: 65 } }, { code: 'draw-fast' }],
    });
    expect(checkPlan(bench.gluedCell, assumed)).toBeNull();
    expect(work(dive(bench.keptGasket, 'battery'))).not.toContain('discharge');
    const plan = dive(bench.gluedCell, 'battery');
    expect(checkPlan(bench.gluedCell, changed(plan, 'discharge', { waits: 0 }))?.rule).toBe('R13');
    const idle = dive(bench.caughtSpeaker, 'speaker');
    const drawn = renumbered(idle, [{ ...idle.steps[0]!, do: 'discharge' }, ...idle.steps]);
    expect(checkPlan(bench.caughtSpeaker, drawn)?.rule).toBe('R13');
  });

  it('R14: glue under a cell and a camera is reached by a card from its nearest free side; cups are for panels', () => {
    const cell = dive(bench.gluedCell, 'battery');
    expect(hint(cell, 'cut cell-glue')).toMatch(
      /Slide a plastic card under battery from the (left|right) edge.*12 mm across/,
    );
    const camera = dive(bench.gluedCamera, 'camera');
    for (const s of camera.steps.filter((s) => s.items.includes('camera-pad')))
      expect(tellAll(BY_ID, s.hint)).not.toMatch(/Marks at|cup/);
    const cup = renumbered(
      camera,
      camera.steps.flatMap((s) =>
        s.do === 'cut' && s.items[0] === 'camera-pad' ? [{ ...s, do: 'gap' as const, tool: 'suction-cup' }, s] : [s],
      ),
    );
    expect(checkPlan(bench.gluedCamera, cup)).toMatchObject({ rule: 'R14', item: 'camera-pad' });
  });

  it('R15: a plug on the inner side of a cover is seen seated before the cover goes in, with the note on how it goes', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.parts[1] = { ...a.parts[1]!, note: 'Its top edge goes under the lip.' };
        a.parts.push(tinyPart('lamp', 0, [6, 60, 6, 6], { kind: 'sensor', within: 'cover', face: 'back' }));
        a.connectors.push(tinyConnector('lamp-plug', 'lamp', 'cover', [20, 63], { face: 'back', layer: 1 }));
      }),
    );
    const plan = dive(model, 'lamp');
    expect(at(plan, 'G1 lamp-plug')).toBeLessThan(at(plan, 'fit cover'));
    expect(reasons(plan, 'G1 lamp-plug')).toEqual(['G1', 'R16']);
    expect(hint(plan, 'fit cover')).toContain('under the lip');
    expect(checkPlan(model, plan)).toBeNull();
    expect(checkPlan(model, moved(plan, 'G1 lamp-plug', 'fit cover'))).toMatchObject({ item: 'lamp-plug' });
    const late = changed(moved(plan, 'G1 lamp-plug', 'connect battery-flex'), 'G1 lamp-plug', { items: [] });
    expect(checkPlan(model, late, { laws: true })).toMatchObject({ rule: 'G1', item: 'lamp-plug' });
  });
  it('R16: every plug is seen to be home before the battery meets it', () => {
    const plan = dive(bench.gluedCover, 'camera');
    expect(at(plan, 'G1 camera-flex')).toBe(at(plan, 'connect battery-flex') - 1);
    expect(checkPlan(bench.gluedCover, moved(plan, 'G1 camera-flex', 'connect battery-flex'))).toMatchObject({
      rule: 'R16',
      item: 'camera-flex',
    });
  });
  it('R17: old and new are laid side by side before anything is peeled or laid', () => {
    const plan = dive(bench.gluedCover, 'cover');
    expect(at(plan, 'renew cover')).toBeLessThan(at(plan, 'bond seal'));
    expect(checkPlan(bench.gluedCover, moved(plan, 'renew cover', 'bond seal'))).toMatchObject({
      rule: 'R17',
      item: 'cover',
    });
  });
  it('R19: whoever opens a rated device is told that its rating is gone, whatever seals it', () => {
    const rated = modelOf(
      tinyDevice((a) => {
        a.body.ingress = 'IP68';
      }),
    );
    const plan = dive(rated, 'camera');
    expect(plan.losses.map((l) => l.function)).toEqual(['moisture-rating']);
    expect(checkPlan(rated, { ...plan, losses: [] })).toMatchObject({ rule: 'R19', item: 'cover' });
  });
  it('R18: a seal stands under its load for its time, lighter where the glass or the shop has less, and then for longer', () => {
    const plan = dive(bench.gluedCover, 'camera');
    expect(checkPlan(bench.gluedCover, changed(plan, 'press seal', { waits: 0 }))).toMatchObject({
      rule: 'R18',
      item: 'seal',
    });
    const few = { ...DEFAULT_RULES.closing, weights: [1, 1], clips: [] };
    const light = dive(bench.gluedCover, 'camera', { pressing: 'weight', closing: few });
    const [usual, longer] = [dive(bench.gluedCover, 'camera', { pressing: 'weight' }), light].map(
      (p) => p.steps[at(p, 'press seal')]!,
    );
    expect(longer!.waits).toBeGreaterThan(usual!.waits);
    expect(checkPlan(bench.gluedCover, light)).toBeNull();
  });
});

describe('what an anatomy can say', () => {
  it('a clipped flex near the edge is opened through the first small gap, before the back is swung', () => {
    const plan = dive(bench.clippedBack, 'camera');
    expect(work(plan, ['descent']).slice(0, 4)).toEqual([
      'unscrew c1 c2',
      'ease cover',
      'disconnect edge-flex',
      'swing cover',
    ]);
    const ascent = work(plan, ['ascent']);
    expect(ascent.slice(ascent.indexOf('ease cover'), ascent.indexOf('ease cover') + 2)).toEqual([
      'ease cover',
      'connect edge-flex',
    ]);
    expect(hint(plan, 'ease cover')).toContain('gap of 4 mm');
    expect(checkPlan(bench.clippedBack, plan)).toBeNull();
    expect(checkPlan(bench.clippedBack, moved(plan, 'disconnect edge-flex', 'swing cover'))?.rule).toBe('A3');
  });

  it('a part that swings by less than 60° uncovers nothing: it is taken off', () => {
    const narrow = (degrees: number) =>
      modelOf(
        tinyDevice((a) => {
          a.parts[1] = { ...a.parts[1]!, swing: { hinge: 'left', degrees, tether: ['touch-flex'], gap: null } };
          const reach = { layer: 2, reachedBy: { swing: 'cover' } };
          a.connectors.push(tinyConnector('touch-flex', 'cover', 'board', [20, 40], reach));
        }),
      );
    expect(work(dive(narrow(90), 'camera'), ['descent']).slice(0, 3)).toEqual([
      'unscrew c1 c2',
      'swing cover',
      'unscrew k1 k2',
    ]);
    const plan = dive(narrow(40), 'camera');
    expect(work(plan, ['descent']).slice(0, 4)).toEqual([
      'unscrew c1 c2',
      'swing cover',
      'disconnect touch-flex',
      'lift cover',
    ]);
    expect(checkPlan(narrow(40), plan)).toBeNull();
    expect(checkPlan(narrow(40), dive(narrow(90), 'camera'))?.rule).toBe('A1');
  });

  it('heads of one flex are folded aside before what they lie over, past the tape that holds them down', () => {
    const plan = dive(bench.twoHeads, 'microphone');
    expect(work(plan, ['descent']).slice(-5)).toEqual([
      'disconnect camera-flex',
      'bend-aside camera-flex',
      'cut flex-tape',
      'unscrew n1',
      'lift microphone',
    ]);
    expect(work(plan)).not.toContain('disconnect sensor-head');
    expect(hint(plan, 'connect camera-flex')).toContain('folded over the microphone');
    expect(checkPlan(bench.twoHeads, plan)).toBeNull();
    expect(checkPlan(bench.twoHeads, moved(plan, 'unscrew n1', 'bend-aside battery-flex'))?.rule).toBe('A1');
  });

  it('a screw from behind is reached from behind, whatever its part leaves by', () => {
    const plan = dive(bench.heldFromBehind, 'plate');
    expect(work(plan, ['descent'])).toEqual([
      'turn-over',
      'unscrew x1',
      'lift back',
      'unscrew y1',
      'turn-over',
      'unscrew c1 c2',
      'lift cover',
      'lift plate',
    ]);
    expect(checkPlan(bench.heldFromBehind, plan)).toBeNull();
    expect(checkPlan(bench.heldFromBehind, left(plan, 'lift back', 'fit back', 'unscrew x1', 'fasten x1'))?.rule).toBe(
      'A1',
    );
  });

  it('a catch on three edges, one that lets go when its part is turned, and how a part leaves and enters', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.parts.push(
          tinyPart('speaker', 1, [4, 16, 10, 10], {
            kind: 'speaker',
            leaves: { how: 'rotate', from: 'top-left', degrees: 30 },
            enters: { how: 'hook', from: 'top', degrees: 20 },
          }),
        );
        a.latches = [
          tinyLatch('clips', 'cover', { edge: 'left', alsoAt: ['right', 'bottom'], count: 6 }),
          tinyLatch('pin', 'speaker', { letsGo: 'turned' }),
        ];
      }),
    );
    const plan = dive(model, 'speaker');
    expect(hint(plan, 'release clips')).toContain('left, right and bottom');
    expect(plan.steps[at(plan, 'release pin')]).toMatchObject({
      tool: null,
      hint: [{ code: 'latch-turned' }],
    });
    expect(hint(plan, 'lift speaker')).toContain('Turn it out about the top left corner, by about 30°');
    expect(hint(plan, 'fit speaker')).toContain('Hook it in at the top edge first, at about 20°');
    expect(checkPlan(model, plan)).toBeNull();
  });

  it('another driver at a pinch is told with its caution; a spare brings its seal', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.fasteners[0] = {
          ...a.fasteners[0]!,
          alternatives: [{ drive: 'SL1', caution: 'It slips; hold it straight.' }],
        };
        a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'])];
        a.spares = [
          { id: 'cover-sealed', name: 'Cover, sealed', replaces: 'cover', includes: ['cover'], brings: ['seal'] },
        ];
      }),
    );
    const plan = dive(model, 'cover');
    expect(hint(plan, 'unscrew c1 c2')).toContain('At a pinch slotted driver, 1 mm: It slips; hold it straight.');
    expect(hint(plan, 'bond seal')).toContain('The spare brings it');
    expect(plan.steps[at(plan, 'bond seal')]!.seconds).toBeLessThan(30);
    expect(checkPlan(model, plan)).toBeNull();
  });

  it('a mating order that cannot be kept is told once, with its list and its connectors', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.connectors[0] = { ...a.connectors[0]!, beneath: ['camera-flex'] };
        a.mateOrder = [['camera-flex', 'battery-flex']];
      }),
    );
    expect(reachOf(model).faults).toMatchObject([
      {
        path: 'mateOrder[0]',
        part: null,
        said: { code: 'no-mating-order', plugs: ['camera-flex', 'battery-flex'] },
      },
    ]);
  });

  it('what cannot be planned yet is no fault of a sound device', () => {
    const model = modelOf(deadlockedDevice());
    const { faults, warnings } = reachOf(model);
    expect(faults).toEqual([]);
    expect(warnings.map((w) => w.path)).toEqual(['parts[1]', 'parts[5]', 'parts[6]']);
    expect(warnings[0]).toMatchObject({ part: 'cover', said: { code: 'turn-while-open' } });
    const table = depthTable(model);
    expect(table.map((row) => [row.part, 'cannot' in row])).toEqual([
      ['cover', true],
      ['bracket', false],
      ['camera', false],
      ['battery', false],
      ['board', true],
      ['back', true],
    ]);
  });

  it('a part that nothing frees is a fault of its document', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.connectors[1]!.after = ['board'];
      }),
    );
    expect(reachOf(model).faults[0]).toMatchObject({
      path: 'parts[3]',
      part: 'camera',
      said: { code: 'waits-for-itself' },
    });
  });

  it('by the house rule nothing is taken out before isolation but what is in its way', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.parts.push(tinyPart('shield', 2, [20, 30, 16, 16], { kind: 'shield' }));
        a.fasteners.push(tinyScrew('h1', 'shield', [22, 32], { drive: 'Y000' }));
      }),
    );
    const plan = dive(model, 'board');
    expect(work(plan, ['descent']).slice(0, 6)).toEqual([
      'unscrew c1 c2',
      'lift cover',
      // A screw of the same drive comes along: the shield itself stays where it is.
      'unscrew h1',
      'unscrew k1 k2',
      'lift bracket',
      'disconnect battery-flex',
    ]);
    expect(at(plan, 'lift shield')).toBeGreaterThan(at(plan, 'disconnect battery-flex'));
    const anyTime = dive(model, 'board', { isolation: 'as-it-comes' });
    expect([plan, anyTime].map((p) => [checkPlan(model, p), p.changes])).toEqual([
      [null, []],
      [null, []],
    ]);
    expect(anyTime.optimality.cost).toBeLessThanOrEqual(plan.optimality.cost);
  });

  it('by the house rule the cell is out before a panel is pried, where it can be had from the other side', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.fasteners = a.fasteners.filter((f) => !f.holds.includes('cover'));
        a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'])];
        for (const p of a.parts.filter((p) => p.id === 'battery' || p.id === 'bracket'))
          Object.assign(p, { face: 'back' });
        for (const f of a.fasteners.filter((f) => f.holds.includes('bracket'))) f.face = 'back';
        a.connectors[0] = { ...a.connectors[0]!, face: 'back', layer: 2 };
      }),
    );
    const plan = dive(model, 'camera', { cellWhilePried: 'taken-out' });
    expect(at(plan, 'lift battery')).toBeLessThan(at(plan, 'heat seal'));
    expect(checkPlan(model, plan)).toBeNull();
    expect(work(dive(model, 'camera'))).not.toContain('lift battery');
  });
});
