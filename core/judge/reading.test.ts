import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { differences } from '../../demo/readings.ts';
import { seededDraw, syntheticAnatomy } from '../../demo/synthetic.ts';
import { amountOf } from '../../demo/thorough.ts';
import { modelOf, type Outline } from '../anatomy/index.ts';
import { groundOf, groundOfBond, overlap, shareUnder } from './ground.ts';

describe('a device read twice, by two that share no code', () => {
  it.each(DEVICES)('%s: the same frames, sides, layers, families and overlaps', (id) => {
    expect(differences(demoModel(id))).toEqual([]);
  });

  it('and devices drawn at random', () => {
    const draw = seededDraw(77);
    for (let k = 0; k < amountOf(150, 10); k++)
      expect(differences(modelOf(syntheticAnatomy(draw, 1 + (k % 6))))).toEqual([]);
  });
});

describe('ground, line by line', () => {
  const rect: Outline = { rect: [0, 0, 10, 20] };

  it('touching edges share nothing, a hundredth of a square millimetre decides', () => {
    expect(overlap(groundOf(rect), groundOf({ rect: [10, 0, 5, 20] }))).toBe(false);
    expect(overlap(groundOf(rect), groundOf({ rect: [9.999, 0, 5, 5] }))).toBe(false);
    expect(overlap(groundOf(rect), groundOf({ rect: [9.99, 0, 5, 5] }))).toBe(true);
  });

  it('a rounded corner leaves its tip free, a square one does not', () => {
    const tip: Outline = { circle: [0.5, 0.5, 0.4] };
    expect(overlap(groundOf({ ...rect, radius: 5 }), groundOf(tip))).toBe(false);
    expect(overlap(groundOf(rect), groundOf(tip))).toBe(true);
  });

  it('a bond along a rim lies on the rim, and not where it has a gap or in the middle', () => {
    const bond = groundOfBond(
      {
        at: { perimeterOf: 'panel', inset: 0.5, width: 1, gaps: [{ edge: 'top', from: 4, to: 6 }] },
        tabs: [],
      },
      () => rect,
    );
    const at = (x: number, y: number) => overlap(bond, groundOf({ circle: [x, y, 0.3] }));
    expect([at(1, 10), at(9, 10), at(5, 19), at(2, 1)]).toEqual([true, true, true, true]);
    expect([at(5, 10), at(5, 1)]).toEqual([false, false]);
  });

  it('a hollow is not ground: an L lies beside what stands in its corner, and its bond follows the border', () => {
    const ell: Outline = {
      polygon: [
        [0, 0],
        [20, 0],
        [20, 6],
        [6, 6],
        [6, 20],
        [0, 20],
      ],
    };
    expect(overlap(groundOf(ell), groundOf({ rect: [7, 7, 10, 10] }))).toBe(false);
    const bond = groundOfBond({ at: { perimeterOf: 'ell', inset: 0.5, width: 1, gaps: [] }, tabs: [] }, () => ell);
    const at = (x: number, y: number) => overlap(bond, groundOf({ circle: [x, y, 0.3] }));
    expect([at(5, 12), at(12, 5), at(1, 12), at(12, 1)]).toEqual([true, true, true, true]);
    expect([at(3, 12), at(12, 3)]).toEqual([false, false]);
  });

  it('the share that others lie over counts what two of them cover once', () => {
    expect(shareUnder(groundOf(rect), [])).toBe(0);
    expect(
      shareUnder(groundOf(rect), [groundOf({ rect: [0, 0, 10, 5] }), groundOf({ rect: [0, 0, 10, 5] })]),
    ).toBeCloseTo(0.25, 6);
    expect(shareUnder(groundOf(rect), [groundOf({ circle: [5, 10, 3] })])).toBeCloseTo((Math.PI * 9) / 200, 3);
  });
});
