import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { tinyBond, tinyDevice } from '../../demo/tiny.ts';
import { readAnatomy } from './read.ts';
import { SHAPE_LIMITS } from './shape.ts';
import type { Anatomy, Point } from './types.ts';

const faultsWith = (change: (a: Anatomy) => void) => {
  const reading = readAnatomy(tinyDevice(change));
  return reading.ok ? [] : reading.faults;
};
const camera = (polygon: Point[]) =>
  faultsWith((a) => {
    a.parts[3]!.outline = { polygon };
  });

describe('A10 shapes that no computation should meet', () => {
  it.each([
    [
      'a corner twice',
      [
        [4, 4],
        [14, 4],
        [14, 4],
        [14, 14],
      ],
      'parts[3].outline.polygon[2]',
    ],
    [
      'corners a hair apart',
      [
        [4, 4],
        [14, 4],
        [14, 4.0000000001],
        [14, 14],
      ],
      'parts[3].outline.polygon[2]',
    ],
    [
      'a bow tie',
      [
        [4, 4],
        [14, 14],
        [14, 4],
        [4, 14],
      ],
      'parts[3].outline.polygon[2]',
    ],
    [
      'a side that comes back on itself',
      [
        [4, 4],
        [14, 4],
        [8, 4],
        [8, 14],
      ],
      'parts[3].outline.polygon',
    ],
    [
      'no area',
      [
        [4, 4],
        [9, 9],
        [14, 14],
      ],
      'parts[3].outline',
    ],
  ] as [string, Point[], string][])('%s is a fault with its path', (_, polygon, path) => {
    const [first] = camera(polygon);
    expect(first!.path).toContain(path);
  });
  it('more corners or points than can be computed in time', () => {
    const many = Array.from({ length: SHAPE_LIMITS.corners + 1 }, (_, i): Point => {
      const angle = (2 * Math.PI * i) / (SHAPE_LIMITS.corners + 1);
      return [9 + 4 * Math.cos(angle), 9 + 4 * Math.sin(angle)];
    });
    expect(camera(many)[0]).toMatchObject({
      path: 'parts[3].outline.polygon',
      message: expect.stringContaining('at most'),
    });
    const zigzag = Array.from({ length: 1500 }, (_, i): Point => [5 + (i % 2) * 20, 5 + i * 0.04]);
    const line = faultsWith((a) => {
      a.bonds = [{ ...tinyBond('glue', 'glue', ['cover', 'frame']), at: { line: zigzag, width: 2 } }];
    });
    expect(line[0]).toMatchObject({ path: 'bonds[0].at.line', message: expect.stringContaining('1500 points') });
  });
  it('the longest line that is taken is read before any test gives up', () => {
    const zigzag = Array.from({ length: SHAPE_LIMITS.linePoints }, (_, i): Point => [5 + (i % 2) * 28, 4 + i * 0.35]);
    faultsWith((a) => {
      a.bonds = [{ ...tinyBond('glue', 'glue', ['cover', 'frame']), at: { line: zigzag, width: 2 } }];
    });
  });
  it('no outline makes the reader throw', () => {
    const near = fc.oneof(
      fc.double({ min: 0, max: 40, noNaN: true }),
      fc.integer({ min: 0, max: 8 }).map((v) => v * 5),
      fc.constant(14 + 1e-9),
    );
    const polygon = fc.array(fc.tuple(near, near), { minLength: 3, maxLength: 12 });
    fc.assert(
      fc.property(polygon, polygon, (a, b) => {
        const faults = faultsWith((device) => {
          device.parts[3]!.outline = { polygon: a as Point[] };
          device.parts[2]!.outline = { polygon: b as Point[] };
          device.bonds = [
            { ...tinyBond('pad', 'foil', ['bracket', 'board']), at: { area: { polygon: b as Point[] } } },
          ];
        });
        for (const fault of faults) expect(fault.path).not.toBe('');
      }),
      { numRuns: 400 },
    );
  });
});
