import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { seededDraw, syntheticAnatomy } from '../../demo/synthetic.ts';
import { tinyBond, tinyDevice } from '../../demo/tiny.ts';
import { modelOf, type Anatomy } from '../anatomy/index.ts';
import {
  isLocal,
  LIMITS,
  NoHeat,
  SAFETY_MARGIN,
  simulate,
  SOURCE_KINDS,
  sourceOf,
  stackOf,
  takesPart,
  turnsFor,
  ZONES,
} from './index.ts';

/** A glass cover taped over the whole of a small device. */
const taped = (change: (a: Anatomy) => void = () => {}) =>
  modelOf(
    tinyDevice((a) => {
      a.parts[1] = { ...a.parts[1]!, glass: true, outline: { rect: [1, 1, 38, 78], radius: 3 } };
      a.bonds.push(
        tinyBond('seal', 'tape', ['cover', 'frame'], {
          at: { perimeterOf: 'cover', inset: 0.5, width: 1.5, gaps: [] },
        }),
      );
      change(a);
    }),
  );
const softened = (change?: (a: Anatomy) => void) =>
  simulate(stackOf(taped(change), 'seal', { grid: 3 }), [{ source: sourceOf('mat'), where: 'whole', seconds: 120 }]);

describe('layers from an anatomy', () => {
  it('a part says what it is made of and how thick it is, or its kind decides', () => {
    const dz = (thickness: number | null) =>
      stackOf(
        taped((a) => {
          a.parts[1]!.thickness = thickness;
        }),
        'seal',
      ).block.dz;
    const skin = (z: Float64Array) => (z[0]! + z[1]!) * 1000;
    expect(skin(dz(null))).toBeCloseTo(0.7, 9);
    expect(skin(dz(1.4))).toBeCloseTo(1.4, 9);
    const seam = (material: 'glass' | 'metal' | 'plastic' | null) =>
      softened((a) => {
        a.parts[1]!.material = material;
      }).coldest.at(-1)!;
    expect(seam('metal')).toBeGreaterThan(seam('glass'));
    expect(seam('glass')).toBeGreaterThan(seam('plastic'));
    expect(seam(null)).toBe(seam('glass'));
  });
  it('a metal frame carries heat away from the seam, a plastic one keeps it there', () => {
    const seam = (conductive: boolean) =>
      softened((a) => {
        a.parts[0]!.conductive = conductive;
      }).coldest.at(-1)!;
    expect(seam(false)).toBeGreaterThan(seam(true));
  });
  it('the cell is where it lies, in the layers of the interior', () => {
    const stack = stackOf(taped(), 'seal', { grid: 1 });
    const plane = stack.grid.nx * stack.grid.ny;
    for (const c of stack.zones.cell!) {
      expect(['upper interior', 'lower interior']).toContain(stack.layers[Math.floor(c / plane)]);
      const x = ((c % stack.grid.nx) + 0.5) * stack.grid.dx;
      expect(x).toBeGreaterThan(1);
      expect(x).toBeLessThan(17);
    }
  });
  it('a bond whose gaps leave nothing is refused', () => {
    const gone = taped((a) => {
      a.bonds[0]!.at = {
        perimeterOf: 'cover',
        inset: 0.5,
        width: 1.5,
        gaps: (['top', 'right', 'bottom', 'left'] as const).map((edge) => ({ edge, from: -10, to: 200 })),
      };
    });
    expect(() => stackOf(gone, 'seal')).toThrow(NoHeat);
    expect(() => stackOf(gone, 'seal')).toThrow(/has no length/);
  });
  it.each(DEVICES)('%s: every bond that softens has a seam of its own length, a face and a layer', (id) => {
    const model = demoModel(id);
    for (const bond of model.anatomy.bonds.filter((b) => b.softensAt !== null)) {
      const stack = stackOf(model, bond.id, { grid: 4 });
      expect(stack.seam.length, bond.id).toBeGreaterThan(0);
      for (const s of stack.seam)
        expect(Math.floor(s.cell / (stack.grid.nx * stack.grid.ny)), bond.id).toBe(stack.seamLayer);
      expect(stack.layers[stack.seamLayer]).toBeDefined();
    }
  });
});

describe('on made-up devices of any build', () => {
  it('heat is conserved to a thousandth, and nothing leaves the range between room and source', () => {
    let tried = 0;
    for (let seed = 1; seed <= 30; seed++) {
      const model = modelOf(syntheticAnatomy(seededDraw(seed), 3 + (seed % 5)));
      for (const bond of model.anatomy.bonds.filter((b) => b.softensAt !== null)) {
        const source = sourceOf(SOURCE_KINDS[seed % SOURCE_KINDS.length]!);
        const stack = stackOf(model, bond.id, { grid: 5 });
        const run = simulate(stack, [
          { source, where: 'whole', seconds: 60 },
          { source: null, where: 'whole', seconds: 30 },
        ]);
        tried++;
        expect(run.energyError).toBeLessThan(1e-3);
        for (const list of [run.coldest, run.warmest, ...Object.values(run.zones)])
          for (const t of list) {
            expect(t).toBeGreaterThan(22 - 1e-6);
            expect(t).toBeLessThan(source.set + 1e-6);
          }
      }
    }
    expect(tried).toBeGreaterThan(20);
  });
});

describe('turns', () => {
  it.each(SOURCE_KINDS)('%s: together they take the whole seam', (kind) => {
    const stack = stackOf(taped(), 'seal');
    for (const passes of [false, true]) {
      const turns = turnsFor(stack, { kind }, passes);
      expect(turns.length).toBe(!isLocal({ kind }) ? 1 : kind === 'gel-pack' || passes ? 4 : 2);
      for (const s of stack.seam) expect(turns.some((where) => takesPart(s, where))).toBe(true);
    }
  });
  it('every limit has a caution below its stop, with room for the margin, and an origin', () => {
    for (const zone of ZONES) {
      expect(LIMITS[zone].caution).toBeLessThan(LIMITS[zone].stop - SAFETY_MARGIN);
      expect(LIMITS[zone].origin.length).toBeGreaterThan(20);
    }
  });
});
