import { describe, expect, it } from 'vitest';
import { tinyBond, tinyConnector, tinyDevice, tinyPart, tinyScrew } from '../../demo/tiny.ts';
import { modelOf, readAnatomy, throughExits, type Anatomy, type Bond } from '../anatomy/index.ts';
import { checkerFor } from './judged.ts';
import { closedDevice } from '../judge/index.ts';
import { explain, ruleText, stepItemName } from './report/explain.ts';
import { partingOf, type Parting } from './entry/parting.ts';
import { planDive } from './plan.ts';
import { checkPlan } from './judged.ts';
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

describe('words for reasons', () => {
  const model = modelOf(
    tinyDevice((a) => {
      a.parts[1]!.name = 'Rear cover';
      a.connectors[0]!.name = 'Battery plug';
    }),
  );
  it.each([
    ['A4', 'power is isolated before other connectors are opened (A4)'],
    ['target', 'this is the part to replace'],
    ['covers battery-flex', 'covers Battery plug'],
    ['joins cover', 'joins Rear cover'],
    ['order: The tray locks it.', 'The tray locks it'],
    ['house rules', 'by the house rules'],
  ])('%s', (because, words) => expect(explain(model, because)).toBe(words));
  it('every rule and gate has words', () => {
    for (const rule of ['A1', 'A2', 'A3', 'A4', 'A5', 'A6', 'A7', 'G1', 'G2', 'G3', 'G4', 'G5', 'G6', 'G7'])
      expect(ruleText(rule)).not.toBe(rule);
  });
  it('the items of a test are functions, those of a step are items', () => {
    expect(stepItemName(model, { do: 'test', gate: null }, 'power')).toBe('Power');
    expect(stepItemName(model, { do: 'disconnect', gate: null }, 'battery-flex')).toBe('Battery plug');
  });
});

describe('what cannot be planned says so', () => {
  const model = between();
  it.each<[string, () => unknown, RegExp]>([
    ['nothing to replace', () => planDive(model, { replace: [] }), /at least one part/],
    ['an unknown part', () => planDive(model, { replace: ['engine'] }), /no part "engine".*cover/],
    ['a fixed part', () => planDive(model, { replace: ['frame'] }), /fixed/],
    ['an unknown spare', () => planDive(model, { replace: ['camera'], spares: ['zz'] }), /no spare "zz"/],
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
      /cannot be reached: .*camera/,
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
      /never worked live/,
    ],
  ])('%s', (_, work, message) => {
    expect(work).toThrow(NoDive);
    expect(work).toThrow(message);
  });
});
