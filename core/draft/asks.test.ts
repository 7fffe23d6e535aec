import { describe, expect, it } from 'vitest';
import * as bench from '../../demo/benchDevices.ts';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { tinyBond, tinyDevice, tinyPart } from '../../demo/tiny.ts';
import { faultsOf, modelOf, type Anatomy } from '../anatomy/index.ts';
import { applied, asksOf, foldedAt, type Ask } from './index.ts';

const answered = (anatomy: Anatomy, ask: Ask, label: string): Anatomy =>
  applied(anatomy, { changes: ask.answers.find((a) => a.label.startsWith(label))!.changes });

describe('what a document leaves open is asked once', () => {
  it('a gasket: pressed by its screws, or glued; either answer stands and is not asked for again', () => {
    const { anatomy } = bench.screwedGasket;
    const [ask] = asksOf(anatomy);
    expect(ask).toMatchObject({ about: 'gasket', question: expect.stringContaining('pressed tight by screws') });
    const pressed = answered(anatomy, ask!, 'Pressed by');
    expect(pressed.schema).toBe('nibrel.anatomy/2');
    expect(modelOf(pressed).pressedBy('gasket')).toEqual(bench.screwedGasket.pressedBy('gasket'));
    const glued = answered(anatomy, ask!, 'Glued');
    expect(modelOf(glued).pressedBy('gasket')).toEqual([]);
    for (const after of [pressed, glued]) {
      expect(asksOf(after)).toEqual([]);
      expect(faultsOf(after)).toEqual([]);
    }
  });

  it('two cells: what each feeds; the pack is shared out over them', () => {
    const anatomy = tinyDevice((a) => {
      a.parts.push(tinyPart('battery-2', 2, [20, 46, 12, 28], { kind: 'battery' }));
      a.battery = { volts: 7.6, milliampHours: 3000, cells: 2, series: 2, parallel: 1 };
    });
    const [ask] = asksOf(anatomy);
    expect(ask).toMatchObject({ id: 'cells', answers: [{ label: 'All feed the whole device' }] });
    const after = answered(anatomy, ask!, 'All feed');
    expect(after.cells).toMatchObject([
      { part: 'battery', volts: 3.8, milliampHours: 3000, rail: 'main' },
      { part: 'battery-2', volts: 3.8, milliampHours: 3000, rail: 'main' },
    ]);
    expect(asksOf(after)).toEqual([]);
    expect(faultsOf(after)).toEqual([]);
  });

  it('two cells of a fold may feed a half each', () => {
    const { cells, rails, ...rest } = structuredClone(demoModel('corvane-almanac-7').anatomy);
    expect(cells).toHaveLength(2);
    expect(rails).toHaveLength(4);
    const anatomy = { ...rest, connectors: rest.connectors.map(({ isolates, ...c }) => c) };
    const ask = asksOf(anatomy).find((a) => a.id === 'cells')!;
    const after = answered(anatomy, ask, 'Each feeds its own half');
    expect(after.rails).toMatchObject([{ feeds: ['left'] }, { feeds: ['right'] }]);
    expect(after.cells!.map((c) => [c.part, c.rail])).toEqual([
      ['cell-left', 'left'],
      ['cell-right', 'right'],
    ]);
  });

  it('a bond between parts that leave by two faces: from which it is worked', () => {
    const anatomy = tinyDevice((a) => {
      a.parts.push(tinyPart('back', 0, [0, 0, 40, 80], { kind: 'cover', face: 'back' }));
      a.bonds = [tinyBond('pad', 'glue', ['battery', 'back'], { softensAt: 60 })];
    });
    const [ask] = asksOf(anatomy);
    const after = answered(anatomy, ask!, 'From the back');
    expect(modelOf(after).faceOf('pad')).toBe('back');
    expect(asksOf(after)).toEqual([]);
  });

  it.each(DEVICES)('%s: its document says all of it, or is asked for what it does not', (id) => {
    const { anatomy } = demoModel(id);
    for (const { about, answers } of asksOf(anatomy)) {
      expect(anatomy.bonds.some((b) => b.id === about) || anatomy.parts.some((p) => p.id === about)).toBe(true);
      for (const { changes } of answers) expect(faultsOf(applied(anatomy, { changes }))).toEqual([]);
    }
  });
});

describe('a device made a fold', () => {
  it('two halves at its hinge, the display over both the inner one; moved, the names and what was told stay', () => {
    const { anatomy } = bench.fold;
    const { bodies, hinge, rails, ...one } = structuredClone(anatomy);
    expect([bodies, hinge, rails].every((x) => x)).toBe(true);
    const made = { ...one, ...foldedAt(one, 40) };
    expect(made.bodies.map((b) => b.outline)).toEqual([{ rect: [0, 0, 40, 80] }, { rect: [40, 0, 40, 80] }]);
    expect(made.hinge).toMatchObject({ inner: 'inner', crosses: [], radius: null });
    const moved = foldedAt({ ...anatomy }, 38);
    expect(moved.bodies[0]).toEqual({ id: 'left', name: 'left half', outline: { rect: [0, 0, 38, 80] } });
    expect(moved.hinge).toMatchObject({
      crosses: ['hinge-flex'],
      radius: 2,
      line: [
        [38, 0],
        [38, 80],
      ],
    });
  });
});
