import { BooleanOperations, Polygon as FlatPolygon } from '@flatten-js/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  areaOf,
  bondRegion,
  boundsOf,
  edgeStrip,
  insetOutline,
  outlineContains,
  outlinesOverlap,
  regionOf,
  ringOf,
} from './geometry.ts';
import type { Bond, Outline } from './types.ts';

const rect = fc.tuple(
  fc.integer({ min: 0, max: 40 }),
  fc.integer({ min: 0, max: 40 }),
  fc.integer({ min: 1, max: 25 }),
  fc.integer({ min: 1, max: 25 }),
);
const outline: fc.Arbitrary<Outline> = fc.oneof(
  rect.map((r): Outline => ({ rect: r })),
  fc.tuple(rect, fc.integer({ min: 1, max: 5 })).map(([r, radius]): Outline => ({ rect: r, radius })),
  fc
    .tuple(fc.integer({ min: 5, max: 40 }), fc.integer({ min: 5, max: 40 }), fc.integer({ min: 1, max: 10 }))
    .map((circle): Outline => ({ circle })),
);

describe('outlines', () => {
  it('measures a rectangle, a circle and a rounded rectangle', () => {
    expect(areaOf(regionOf({ rect: [2, 3, 10, 4] }))).toBeCloseTo(40, 9);
    // A polygon inside the circle lacks less than 1 % of its area.
    expect(areaOf(regionOf({ circle: [0, 0, 5] }))).toBeGreaterThan(Math.PI * 25 * 0.99);
    const rounded = 40 - (4 - Math.PI) * 1;
    expect(areaOf(regionOf({ rect: [0, 0, 10, 4], radius: 1 }))).toBeCloseTo(rounded, 1);
  });

  it('does not take a touching edge for an overlap', () => {
    expect(outlinesOverlap({ rect: [0, 0, 10, 10] }, { rect: [10, 0, 5, 5] })).toBe(false);
    expect(outlinesOverlap({ rect: [0, 0, 10, 10] }, { rect: [9.5, 0, 5, 5] })).toBe(true);
  });

  it('knows that a rounded corner leaves room for what lies in the corner of its box', () => {
    expect(outlinesOverlap({ rect: [0, 0, 20, 20], radius: 8 }, { circle: [0.8, 0.8, 0.7] })).toBe(false);
  });

  it('agrees with a general geometry library (@flatten-js/core) on the area shared by random outlines', () => {
    fc.assert(
      fc.property(outline, outline, (a, b) => {
        const flat = (o: Outline) => {
          const polygon = new FlatPolygon(ringOf(o) as [number, number][]);
          if (polygon.area() > 0 && [...polygon.faces][0]?.orientation() !== 1) polygon.reverse();
          return polygon;
        };
        let shared: number;
        try {
          shared = BooleanOperations.intersect(flat(a), flat(b)).area();
        } catch {
          return; // the other library gives up on some coinciding edges
        }
        if (Math.abs(shared - 0.01) < 0.02) return; // on the threshold itself
        expect(outlinesOverlap(a, b)).toBe(shared > 0.01);
      }),
      { numRuns: 300 },
    );
  });

  it('finds a part within another, and not when it sticks out', () => {
    expect(outlineContains({ rect: [0, 0, 20, 20] }, { rect: [5, 5, 5, 5] })).toBe(true);
    expect(outlineContains({ rect: [0, 0, 20, 20] }, { rect: [18, 5, 5, 5] })).toBe(false);
  });

  it('draws a rectangle inwards on all sides', () => {
    expect(boundsOf(insetOutline({ rect: [1, 1, 10, 20], radius: 3 }, 2))).toEqual([3, 3, 6, 16]);
  });

  it('cuts a strip along an edge between two coordinates', () => {
    expect(edgeStrip({ rect: [0, 0, 40, 80] }, 'right', 2, 10, 30)).toEqual({ rect: [38, 10, 2, 20] });
  });
});

describe('bonds', () => {
  const at = (): Outline => ({ rect: [0, 0, 40, 80] });
  const tape: Bond = {
    id: 'seal',
    kind: 'tape',
    joins: ['a', 'b'],
    at: { perimeterOf: 'a', inset: 1, width: 2, gaps: [] },
    tabs: [],
    softensAt: 60,
    solvent: false,
    fate: 'renew',
    face: null,
    layer: null,
    flex: null,
    staysOn: null,
  };

  it('covers a band of its width around the part', () => {
    expect(areaOf(bondRegion(tape, at))).toBeCloseTo(38 * 78 - 34 * 74, 6);
  });

  it('leaves its gaps free', () => {
    const gapped: Bond = {
      ...tape,
      at: { perimeterOf: 'a', inset: 1, width: 2, gaps: [{ edge: 'top', from: 10, to: 20 }] },
    };
    expect(areaOf(bondRegion(gapped, at))).toBeCloseTo(38 * 78 - 34 * 74 - 10 * 2, 6);
  });
});
