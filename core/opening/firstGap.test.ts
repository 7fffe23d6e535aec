import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { tinyBond, tinyDevice, tinyPart } from '../../demo/tiny.ts';
import { modelOf, type Anatomy, type Model, type Outline, type Point } from '../anatomy/index.ts';
import {
  CUP,
  cupsOn,
  cutPlan,
  distanceTo,
  pathAlong,
  pathOf,
  placeAt,
  placesAlong,
  seamOf,
  type GapWay,
} from './index.ts';

/** A cover of w × h mm, taped all round, with lenses that stand out of it. */
function covered(
  w: number,
  h: number,
  lenses: readonly Outline[] = [],
  change: (a: Anatomy) => void = () => {},
): Model {
  return modelOf(
    tinyDevice((a) => {
      a.body = { ...a.body, width: w + 2, height: h + 2 };
      const [frame, cover] = [a.parts[0]!, a.parts[1]!];
      frame.outline = { rect: [0, 0, w + 2, h + 2], radius: 6 };
      a.parts = [
        frame,
        { ...cover, layer: 1, glass: true, outline: { rect: [1, 1, w, h], radius: 5 } },
        ...lenses.map((outline, i) => tinyPart(`lens-${i}`, 0, [0, 0, 1, 1], { kind: 'lens', outline })),
      ];
      a.fasteners = [];
      a.connectors = [];
      a.bonds = [
        tinyBond('seal', 'tape', ['cover', 'frame'], { at: { perimeterOf: 'cover', inset: 0.5, width: 2, gaps: [] } }),
      ];
      change(a);
    }),
  );
}
const lens = fc
  .record({
    x: fc.integer({ min: 6, max: 70 }),
    y: fc.integer({ min: 6, max: 130 }),
    r: fc.integer({ min: 2, max: 12 }),
  })
  .map(({ x, y, r }): Outline => ({ circle: [x, y, r] }));

describe('the first gap', () => {
  it('a cup never stands on a lens nor over the rim; without room on the edge, by brute force, the blade is the way', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 24, max: 76 }),
        fc.integer({ min: 60, max: 140 }),
        fc.array(lens, { maxLength: 4 }),
        (w, h, lenses) => {
          const model = covered(w, h, lenses);
          const plan = cutPlan(model, 'seal');
          const [first] = plan.gaps as [GapWay];
          const free = ([x, y]: Point) =>
            x - CUP.radius >= 1 &&
            y - CUP.radius >= 1 &&
            x + CUP.radius <= w + 1 &&
            y + CUP.radius <= h + 1 &&
            lenses.every((outline) => distanceTo([x, y], { outline }) >= CUP.radius);
          if (first.way === 'suction-cup') {
            expect(free(first.at)).toBe(true);
            // In from its edge: not in the middle of the glass, where it lifts nothing.
            const inFrom = {
              top: first.at[1] - 1,
              bottom: h + 1 - first.at[1],
              left: first.at[0] - 1,
              right: w + 1 - first.at[0],
            }[plan.entry.edge];
            expect(inFrom).toBeLessThanOrEqual(CUP.radius + CUP.rim + 1);
            expect(first.how).toMatchObject({ from: Math.round(inFrom), edge: plan.entry.edge });
          } else {
            // Straight in from anywhere along that edge, corners aside, there is indeed no room.
            const along = seamOf(model, 'seal').samples.filter((s) => s.edge === plan.entry.edge);
            const straight = along.map(
              ({ at, inward }): Point => [
                at[0] + inward[0] * (CUP.radius + CUP.rim),
                at[1] + inward[1] * (CUP.radius + CUP.rim),
              ],
            );
            const inset = CUP.radius + CUP.spare;
            expect(
              straight.some(
                (p) =>
                  free(p) && p[0] >= 1 + inset && p[0] <= w + 1 - inset && p[1] >= 1 + inset && p[1] <= h + 1 - inset,
              ),
            ).toBe(false);
            expect(first).toMatchObject({ way: 'thin-blade', at: plan.entry.at });
          }
        },
      ),
      { numRuns: 150 },
    );
  });
  it('a part narrower than a cup has no place for one at all', () => {
    const small = covered(2 * (CUP.radius + CUP.spare) - 1, 80);
    const wide = covered(2 * (CUP.radius + CUP.spare) + 1, 80);
    const anywhere = (model: Model) => {
      const seam = seamOf(model, 'seal');
      const cup = cupsOn(model, seam);
      return seam.samples.some((s) => cup(s) !== null);
    };
    expect([anywhere(small), anywhere(wide)]).toEqual([false, true]);
  });
  it('where the notch leaves no room above it the cup stands beside the entry, and says how far', () => {
    const plan = cutPlan(
      covered(100, 120, [{ circle: [20, 97, 8] }], (a) =>
        a.latches.push({
          id: 'catch',
          joins: ['cover', 'frame'],
          edge: 'bottom',
          count: 2,
          release: 'any',
          mate: 'last',
          notch: [20, 121],
          alsoAt: [],
          letsGo: 'pried',
        }),
      ),
      'seal',
    );
    expect(plan.entry.because).toEqual({ code: 'entry-at-notch' });
    const { how } = plan.gaps[0]!;
    expect(how).toMatchObject({ code: 'gap-cup', edge: 'bottom', from: 24 });
    expect('beside' in how && how.beside).toBeGreaterThan(0);
    expect(plan.gaps[0]!.at[0]).toBeGreaterThan(20 + 8 + 12);
  });
  it('the asked way comes first where it can; glass is cautioned of, whatever the way', () => {
    const model = covered(70, 120);
    for (const asked of ['suction-cup', 'cup-clamp', 'thin-blade'] as const) {
      const { gaps } = cutPlan(model, 'seal', { firstGap: asked });
      expect(gaps[0]!.way).toBe(asked);
      expect(new Set(gaps.map((g) => g.way)).size).toBe(3);
      for (const g of gaps) expect(g.cautions).toEqual(['glass']);
    }
    expect(cutPlan(model, 'seal', { crackedGlass: true }).gaps.map((g) => g.way)).toEqual([
      'suction-cup',
      'thin-blade',
      'cup-clamp',
    ]);
  });
});

describe('places along a path', () => {
  it('share it evenly, on the way they belong to', () => {
    const path = pathAlong([
      [0, 0],
      [10, 0],
      [10, 5],
    ]);
    expect(path.length).toBe(15);
    expect(placesAlong(path, 5).map((p) => p.at)).toEqual([
      [1.5, 0],
      [4.5, 0],
      [7.5, 0],
      [10, 0.5],
      [10, 3.5],
    ]);
    const round = pathOf({ rect: [0, 0, 30, 20], radius: 6 });
    const places = placesAlong(round, 40);
    for (const [i, p] of places.entries()) expect(p).toEqual(placeAt(round, ((i + 0.5) * round.length) / 40));
    // Neighbours on a rounded rectangle are no farther apart than along it, and hardly nearer.
    for (const [i, p] of places.entries()) {
      const next = places[(i + 1) % places.length]!;
      const apart = Math.hypot(next.at[0] - p.at[0], next.at[1] - p.at[1]);
      expect(apart).toBeLessThanOrEqual(round.length / 40 + 1e-9);
      expect(apart).toBeGreaterThan((round.length / 40) * 0.95);
    }
  });
  it('a line without length is refused', () =>
    expect(() =>
      pathAlong([
        [3, 3],
        [3, 3],
      ]),
    ).toThrow('the line has no length'));
});
