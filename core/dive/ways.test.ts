import { describe, expect, it } from 'vitest';
import { wrongWith } from '../../demo/planOracle.ts';
import { tinyBond, tinyConnector, tinyDevice, tinyLatch, tinyPart, tinyScrew } from '../../demo/tiny.ts';
import { modelOf, readAnatomy, throughExits, type Anatomy, type Bond } from '../anatomy/index.ts';
import { closedDevice } from '../judge/index.ts';
import { stepItemName } from './report/stepItemName.ts';
import { partingOf, type Parting } from './entry/parting.ts';
import { planDive } from './plan.ts';
import { checkerFor, checkPlan } from './judged.ts';
import { DEFAULT_RULES, type HouseRules } from './house/rules.ts';
import { NoDive } from './types.ts';

/** A buzzer between a front and a back cover, that may leave through either. */
const between = (change: (a: Anatomy) => void = () => {}) =>
  modelOf(
    tinyDevice((a) => {
      a.parts.push(
        tinyPart('back', 0, [0, 0, 40, 80], { kind: 'cover', face: 'back' }),
        tinyPart('buzzer', 1, [4, 60, 8, 8], { exits: [{ face: 'back', layer: 1 }] }),
      );
      a.fasteners.push(tinyScrew('x1', 'back', [3, 3], { face: 'back' }));
      a.bonds = [tinyBond('seal', 'tape', ['cover', 'frame'])];
      change(a);
    }),
  );

describe('a part with two exits', () => {
  it('is taken through the face that costs less', () => {
    const plan = planDive(between(), { replace: ['buzzer'] });
    expect(plan.steps.find((s) => s.do === 'lift' && s.items.includes('buzzer'))!.face).toBe('back');
    expect(plan.steps.flatMap((s) => s.items)).not.toContain('seal');
    expect(checkPlan(between(), plan)).toBeNull();
  });
  it('and through the other one when that is open anyway', () => {
    const plan = planDive(between(), { replace: ['buzzer', 'camera'] });
    expect(plan.steps.find((s) => s.do === 'lift' && s.items.includes('buzzer'))!.face).toBe('front');
    expect(plan.steps.flatMap((s) => s.items)).not.toContain('back');
    expect(checkPlan(between(), plan)).toBeNull();
  });
  it('its own bond is come at from the same face', () => {
    const model = between((a) => {
      a.bonds.push({
        ...tinyBond('dot', 'tape', ['buzzer', 'frame']),
        softensAt: null,
        at: { area: { rect: [5, 61, 4, 4] } },
      });
    });
    const plan = planDive(model, { replace: ['buzzer'] });
    expect(checkPlan(model, plan)).toBeNull();
    expect(plan.steps.filter((s) => s.items.includes('dot')).every((s) => s.face === 'back')).toBe(true);
  });
  it('the checker lets it go only through a face that is clear', () => {
    const model = between();
    const checker = checkerFor(model);
    const open = { ...closedDevice(), removed: new Set(['back']), up: 'back' as const };
    expect(
      checker.violation(open, { n: 1, do: 'lift', items: ['buzzer'], tool: null, gate: null, face: 'back' }),
    ).toBeNull();
    expect(
      checker.violation(
        { ...closedDevice(), up: 'front' },
        { n: 1, do: 'lift', items: ['buzzer'], tool: null, gate: null, face: 'front' },
      ),
    ).toMatchObject({ rule: 'A1' });
  });
  it('lies over what is beneath it on both faces', () => {
    const model = between((a) => {
      a.parts.push(tinyPart('under', 2, [5, 61, 6, 6], { face: 'back' }));
    });
    expect(planDive(model, { replace: ['under'] }).steps.flatMap((s) => s.items)).toContain('buzzer');
  });
  it('throughExits swaps the usual place with the other', () => {
    const swapped = throughExits(between(), new Map([['buzzer', 1]])).parts.get('buzzer')!;
    expect([swapped.face, swapped.layer, swapped.exits]).toEqual(['back', 1, [{ face: 'front', layer: 1 }]]);
  });
  it('an exit through no face is a fault with its path', () => {
    const document = structuredClone(between().anatomy) as unknown as { parts: { exits: object[] }[] };
    document.parts.at(-1)!.exits = [{ face: 'top' }];
    const reading = readAnatomy(document);
    expect(reading.ok ? [] : reading.faults.map((f) => f.path)).toContain(
      `parts[${document.parts.length - 1}].exits[0].face`,
    );
  });
});

describe('what a catch holds back', () => {
  const shielded = (release: 'any' | 'last') =>
    tinyDevice((a) => {
      a.parts.push(tinyPart('shield', 2, [20, 34, 10, 10], { kind: 'shield', conductive: true }));
      a.latches.push(tinyLatch('rim', 'shield', { joins: ['board', 'shield'], release }));
      a.latches.push(tinyLatch('hook', 'board', { mate: 'first' }));
    });

  it('is the outermost part that it joins: a rim that lets go last asks nothing of the board beneath', () => {
    for (const release of ['any', 'last'] as const) {
      const model = modelOf(shielded(release));
      const { steps } = planDive(model, { replace: ['shield'] }, undefined, { heat: 'usual' });
      const moved = steps.flatMap((s) => (s.phase === 'descent' ? s.items : []));
      expect(moved).toContain('rim');
      expect(moved.filter((id) => ['b1', 'b2', 'board', 'hook'].includes(id))).toEqual([]);
      expect(checkPlan(model, { ...planDive(model, { replace: ['shield'] }) })).toBeNull();
    }
  });

  it('a hook that was let go of a part that stays is pressed home where it is', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.latches.push(tinyLatch('hook', 'board', { mate: 'first' }));
        a.orders.push({ first: 'hook', then: 'camera-flex', because: 'The hook hides the lever.' });
      }),
    );
    const plan = planDive(model, { replace: ['camera'] }, undefined, { heat: 'usual' });
    const done = plan.steps.filter((s) => s.items.includes('hook')).map((s) => `${s.phase} ${s.do}`);
    expect(done).toEqual(['descent release', 'ascent press']);
    expect(wrongWith(model, plan)).toBeNull();
  });

  it('what lets go by itself as its part is turned takes hold as it is turned in', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.latches.push(tinyLatch('bayonet', 'camera', { letsGo: 'turned', mate: 'last' }));
      }),
    );
    const plan = planDive(model, { replace: ['camera'] }, undefined, { heat: 'usual' });
    expect(plan.steps.filter((s) => s.phase === 'ascent' && s.items.includes('bayonet'))).toEqual([]);
    expect(wrongWith(model, plan)).toBeNull();
  });
});

describe('a part that can leave by a second side', () => {
  it('has its usual dive where by the other the power could never be reached', () => {
    const model = modelOf(
      tinyDevice((a) => {
        // Through the back the bracket would wait for the back, whose flex lies beneath the bracket.
        a.parts.push(tinyPart('back', 0, [0, 0, 40, 80], { face: 'back', kind: 'cover' }));
        a.connectors.push(tinyConnector('back-flex', 'back', 'board', [28, 22], {}));
        a.parts.find((p) => p.id === 'bracket')!.exits = [{ face: 'back', layer: 3 }];
      }),
    );
    const plan = planDive(model, { replace: ['camera'] }, undefined, { heat: 'usual' });
    expect(wrongWith(model, plan)).toBeNull();
  });

  it('falls out of whichever side stands open when the device is turned over', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.parts.push(
          tinyPart('back', 0, [0, 0, 40, 80], { face: 'back', kind: 'cover' }),
          tinyPart('loose', 2, [26, 56, 10, 10], { kind: 'speaker', exits: [{ face: 'back', layer: 2 }] }),
        );
        a.fasteners.push(tinyScrew('r1', 'back', [20, 60], { face: 'back' }));
      }),
    );
    const plan = planDive(model, { replace: ['battery', 'back'] }, undefined, { heat: 'usual' });
    expect(wrongWith(model, plan)).toBeNull();
    const turned = plan.steps.findIndex((s) => s.do === 'turn-over');
    const off = (id: string) => plan.steps.findIndex((s) => s.do === 'lift' && s.items.includes(id));
    const opened = Math.min(off('cover'), off('back'));
    if (opened < turned) expect(off('loose')).toBeLessThan(turned);
    expect(off('loose')).toBeGreaterThan(-1);
  });
});

describe('a spring contact in what is swung', () => {
  it('parts with it, live where the plug lies beneath', () => {
    const model = modelOf(
      tinyDevice((a) => {
        a.parts.find((p) => p.id === 'bracket')!.swing = { hinge: 'right', degrees: 90, tether: [], gap: null };
        a.connectors.push(
          tinyConnector('spring', 'bracket', 'board', [30, 22], { kind: 'contact', carries: ['camera'] }),
        );
      }),
    );
    const plan = planDive(model, { replace: ['battery'] }, undefined, { heat: 'usual' });
    expect(wrongWith(model, plan)).toBeNull();
    expect(plan.touched).toContain('camera');
  });
});

describe('how a bond is let go', () => {
  const bond = (kind: Bond['kind'], rest: Partial<Bond> = {}, joins = ['cover', 'frame']): Bond => ({
    ...tinyBond('b', kind, joins),
    tabs: [[4, 70]],
    ...rest,
  });
  const withBond = (b: Bond) =>
    modelOf(
      tinyDevice((a) => {
        a.bonds = [b];
      }),
    );
  const cell = ['battery', 'frame'];
  it.each<[string, Bond, Partial<HouseRules>, Parting['method']]>([
    ['tape that softens', bond('tape'), {}, 'heat-and-cut'],
    ['a hard glue that takes solvent', bond('glue', { softensAt: 95, solvent: true }), {}, 'heat-solvent-and-cut'],
    ['a hard glue that takes none', bond('glue', { softensAt: 95 }), {}, 'heat-and-cut'],
    ['tape that takes solvent only', bond('tape', { softensAt: null, solvent: true }), {}, 'solvent-and-cut'],
    ['tape that takes neither', bond('tape', { softensAt: null }), {}, 'cut'],
    ['foil', bond('foil'), {}, 'peel'],
    ['stretch tabs of a cell', bond('stretch-tab', { solvent: true }, cell), {}, 'pull'],
    [
      'the same where solvent comes first',
      bond('stretch-tab', { solvent: true }, cell),
      { gluedBattery: 'solvent' },
      'solvent-and-cut',
    ],
    [
      'the same where heat comes first',
      bond('stretch-tab', { solvent: true, softensAt: 70 }, cell),
      { gluedBattery: 'heat-and-pry' },
      'heat-and-cut',
    ],
    [
      'tabs that can only be pulled',
      bond('stretch-tab', { softensAt: null }, cell),
      { gluedBattery: 'heat-and-pry' },
      'pull',
    ],
    ['a glued cell', bond('glue', { solvent: true, softensAt: 70 }, cell), {}, 'solvent-and-cut'],
  ])('%s', (_, b, rules, method) =>
    expect(partingOf(withBond(b), b, { ...DEFAULT_RULES, ...rules }, 'usual').method).toBe(method),
  );
});

describe('what items are called', () => {
  const model = modelOf(
    tinyDevice((a) => {
      a.connectors[0]!.name = 'Battery plug';
    }),
  );
  it('the items of a test are functions, those of a step are items', () => {
    expect(stepItemName(model, { do: 'test', gate: null }, 'power')).toBe('Power');
    expect(stepItemName(model, { do: 'disconnect', gate: null }, 'battery-flex')).toBe('Battery plug');
  });
});

describe('what cannot be planned says so', () => {
  const model = between();
  it.each<[string, () => unknown, RegExp]>([
    ['nothing to replace', () => planDive(model, { replace: [] }), /name-a-part/],
    ['an unknown part', () => planDive(model, { replace: ['engine'] }), /no-such-part.*"engine".*"cover"/],
    ['a fixed part', () => planDive(model, { replace: ['frame'] }), /never-comes-off.*"frame"/],
    ['an unknown spare', () => planDive(model, { replace: ['camera'], spares: ['zz'] }), /no-such-spare.*"zz"/],
    [
      'a circle',
      () =>
        planDive(
          modelOf(
            tinyDevice((a) => {
              a.connectors[1]!.after = ['camera'];
            }),
          ),
          { replace: ['camera'] },
        ),
      /waits-for-itself.*doing-open.*camera/,
    ],
    [
      'a soldered joint before isolation',
      () =>
        planDive(
          modelOf(
            tinyDevice((a) => {
              a.connectors.push(tinyConnector('wire', 'bracket', 'board', [30, 40], { kind: 'solder' }));
            }),
          ),
          { replace: ['camera'] },
        ),
      /soldered-before-isolation.*wire/,
    ],
  ])('%s', (_, work, message) => {
    expect(work).toThrow(NoDive);
    expect(work).toThrow(message);
  });
});
