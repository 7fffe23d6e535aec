import { describe, expect, it } from 'vitest';
import { clippedLine, crossMarks, isInside, PAPERS, tileName, tilingOf, type Mark } from './index.ts';

const FRAME = { margin: 10, heading: 20, overlap: 15 };
const tile = (width: number, height: number) => tilingOf(PAPERS.A4, { width, height }, FRAME);

describe('a drawing on pages', () => {
  it('that fits lies on one, in the middle, and has no crosses and no name', () => {
    const one = tile(70, 140);
    expect(one).toMatchObject({ rows: 1, columns: 1, crosses: [] });
    expect(one.tiles).toEqual([{ row: 0, column: 0, left: 70, top: 30 }]);
    expect(tileName(one, one.tiles[0]!)).toBe('');
  });

  it.each([
    [190, 257, 1, 1],
    [191, 257, 1, 2],
    [365, 257, 1, 2],
    [366, 258, 2, 3],
  ])('of %d × %d mm takes %d × %d pages', (width, height, rows, columns) => {
    expect(tile(width, height)).toMatchObject({ rows, columns });
  });

  it('is whole on its tiles: each point of it lies in the box of one at least', () => {
    const [width, height] = [420, 300];
    const tiling = tile(width, height);
    for (let x = 0; x <= width; x += 7)
      for (let y = 0; y <= height; y += 7)
        expect(
          tiling.tiles.some(({ left, top }) => isInside(tiling.box, [left + x, top + y])),
          `${x}, ${y}`,
        ).toBe(true);
    expect(tileName(tiling, tiling.tiles.at(-1)!)).toBe(', tile 2.3 of 2.3');
  });

  it('shares each cross with the page beside it', () => {
    const tiling = tile(300, 200);
    const [left, right] = tiling.tiles.map((t) => crossMarks(tiling, t));
    expect(left).toHaveLength(right!.length);
    expect(left!.length).toBeGreaterThan(0);
    const across = tiling.tiles[0]!.left - tiling.tiles[1]!.left;
    left!.forEach((m, i) => expect(m.x - right![i]!.x).toBeCloseTo(across, 9));
  });
});

describe('a line within a box', () => {
  const box = { x0: 0, y0: 0, x1: 10, y1: 10 };
  const d = (marks: Mark[]) => marks.map((m) => (m as Extract<Mark, { type: 'path' }>).d);
  it.each<[string, [number, number][], string[]]>([
    [
      'all within',
      [
        [1, 1],
        [9, 5],
      ],
      ['M1 1L9 5'],
    ],
    [
      'across both sides',
      [
        [-10, 5],
        [20, 5],
      ],
      ['M0 5L10 5'],
    ],
    [
      'over a corner',
      [
        [-2, 4],
        [4, -2],
      ],
      ['M0 2L2 0'],
    ],
    [
      'beside it',
      [
        [-5, 1],
        [-1, 9],
      ],
      [],
    ],
    [
      'level with it, outside',
      [
        [1, 11],
        [9, 11],
      ],
      [],
    ],
    [
      'that leaves and comes back',
      [
        [5, 5],
        [15, 5],
        [5, 9],
      ],
      ['M5 5L10 5', 'M10 7L5 9'],
    ],
  ])('%s', (_, line, expected) => {
    expect(d(clippedLine(line, box, 0.2))).toEqual(expected);
  });
});
