import { describe, expect, test } from 'vitest';
import { demoModel, DEVICES } from '../../../demo/models.ts';
import { tinyDevice } from '../../../demo/tiny.ts';
import type { Anatomy } from '../../../core/anatomy/index.ts';
import { applied, GROUPS, NAMESPACE, shapeFaults } from '../../../core/draft/index.ts';
import {
  addBond,
  addLatch,
  addPlug,
  addScrews,
  align,
  copy,
  mirror,
  move,
  remove,
  whereIs,
  type Made,
} from './acts.ts';
import { gripped } from './grips.ts';
import { FIELDS } from './fields.ts';
import { targetsOf } from './snapping.ts';

const after = (anatomy: Anatomy, made: Made | null) => {
  expect(made).not.toBeNull();
  const next = applied(anatomy, made!);
  expect(shapeFaults(next, made!)).toEqual([]);
  return next;
};
const STAMP = {
  kind: 'screw',
  drive: 'T5',
  length: 3,
  thread: 1.6,
  head: 2.6,
  colour: 'black',
  magnetic: true,
} as const;

describe('what the hand does', () => {
  const tiny = tinyDevice();
  test('a stamped screw holds what lies on top there, and stands in the next', () => {
    const next = after(tiny, addScrews(tiny, [{ at: [24, 24] }], STAMP, 'front', 1));
    expect(next.fasteners.at(-1)).toMatchObject({
      id: 's1',
      drive: 'T5',
      holds: ['bracket'],
      into: 'board',
      at: [24, 24],
      holeDepth: 3.5,
    });
  });
  test('several are stamped at once, each with an id of its own and the head that was seen', () => {
    const made = addScrews(
      tiny,
      [
        { at: [24, 24], head: 2.04 },
        { at: [30, 24], head: 1.96 },
      ],
      STAMP,
      'front',
      1,
    );
    expect(after(tiny, made).fasteners.slice(-2)).toMatchObject([
      { id: 's1', head: 2 },
      { id: 's2', head: 2 },
    ]);
  });
  test('a plug drawn from its socket to a part is of that part, with its functions and its way', () => {
    const next = after(tiny, addPlug(tiny, [22, 14], [8, 8], 'front', 1, null));
    expect(next.connectors.at(-1)).toMatchObject({
      from: 'camera',
      to: 'board',
      carries: ['camera'],
      route: {
        line: [
          [22, 14],
          [8, 8],
        ],
      },
    });
  });
  test('a moved part takes along what travels with it, a plug the near end of its flex', () => {
    const device = tinyDevice((a) => {
      a.parts[3]!.within = 'cover';
      a.connectors[1]!.route = {
        line: [
          [22, 10],
          [9, 9],
        ],
        width: 2,
      };
    });
    const next = after(device, move(device, ['cover', 'camera-flex'], 1, 0.5));
    expect(next.parts.find((p) => p.id === 'camera')!.outline).toEqual({ rect: [5, 4.5, 10, 10] });
    expect(next.connectors[1]!.route!.line).toEqual([
      [23, 10.5],
      [9, 9],
    ]);
  });
  test('there and back is where it was, on every device', () => {
    for (const device of DEVICES) {
      const { anatomy } = demoModel(device);
      const ids = GROUPS.filter((g) => NAMESPACE[g] === 'item').flatMap((g) =>
        (anatomy[g] as { id: string }[]).map((e) => e.id),
      );
      const there = after(anatomy, move(anatomy, ids, 1.2, -0.7));
      expect(applied(there, move(there, ids, -1.2, 0.7))).toEqual(anatomy);
      const flipped = applied(anatomy, mirror(anatomy, ids));
      const back = applied(flipped, mirror(flipped, ids));
      expect(back.fasteners).toEqual(anatomy.fasteners);
    }
  });
  test('a copy has an id that nothing has, a little aside', () => {
    const made = copy(tiny, ['camera', 'k1']);
    const next = after(tiny, made);
    expect(made.select).toEqual(['camera-2', 's1']);
    expect(whereIs(next, 'camera-2')!.entry).toMatchObject({ outline: { rect: [7, 7, 10, 10] } });
  });
  test('items are lined up with the first', () => {
    const next = after(tiny, align(tiny, ['c1', 'k1', 'k2'], 'left'));
    expect(next.fasteners.filter((f) => ['k1', 'k2'].includes(f.id)).map((f) => f.at[0])).toEqual([3, 3]);
  });
  test('what is taken out is taken out alone; the frame stays', () => {
    const next = after(tiny, remove(tiny, ['frame', 'bracket', 'k1']));
    expect(next.parts.map((p) => p.id)).not.toContain('bracket');
    expect(next.parts.some((p) => p.fixed)).toBe(true);
    expect(next.fasteners.map((f) => f.id)).toContain('k2');
  });
  test('a bond round a part, and catches at the nearest edge', () => {
    const cover = tiny.parts[1]!;
    const next = after(tiny, addBond(tiny, cover, 'round'));
    expect(next.bonds[0]).toMatchObject({ joins: ['cover', 'frame'], at: { perimeterOf: 'cover' }, softensAt: 60 });
    expect(after(next, addLatch(next, cover, [38, 30])).latches[0]).toMatchObject({
      edge: 'right',
      joins: ['cover', 'frame'],
    });
  });
});

describe('on the board', () => {
  test('a screw is pressed before the plug beneath it, that before the part', () => {
    const tiny = tinyDevice();
    expect(targetsOf(tiny, 'front', 1).at([22, 22], 0.5)).toEqual(['k1', 'bracket', 'board']);
    expect(targetsOf(tiny, 'front', 2).at([28, 24], 0.2)).toEqual(['battery-flex', 'board']);
  });
  test('an edge nearby catches, one farther off does not', () => {
    const targets = targetsOf(tinyDevice(), 'front', 1);
    expect(targets.snapped([20.1, 40, 5, 5], new Set())).toMatchObject({ dx: expect.closeTo(-0.1, 6) });
    expect(targets.snapped([25.33, 40, 3.1, 5], new Set()).dx).toBeCloseTo(-0.03, 6);
  });
  test.each([
    ['the right edge of a rectangle', { rect: [2, 2, 10, 10] }, 'e', [15, 5], { rect: [2, 2, 13, 10] }],
    ['a corner beyond the other', { rect: [2, 2, 10, 10] }, 'nw', [50, 50], { rect: [11.8, 11.8, 0.2, 0.2] }],
    ['the rim of a circle', { circle: [5, 5, 2] }, 'r', [5, 9], { circle: [5, 5, 4] }],
    [
      'a corner of an outline',
      {
        polygon: [
          [0, 0],
          [4, 0],
          [4, 4],
        ],
      },
      'p1',
      [6, 1],
      {
        polygon: [
          [0, 0],
          [6, 1],
          [4, 4],
        ],
      },
    ],
  ] as const)('%s is drawn to a place', (_, outline, grip, at, to) => {
    expect(gripped(outline as never, grip, [...at])).toEqual(to);
  });
  test('the inspector asks for every field of the format', () => {
    const { anatomy } = demoModel('velmora-quill-5');
    for (const group of GROUPS) {
      const [entry] = anatomy[group];
      const asked = new Set(FIELDS[group].map((f) => f.field));
      const missing = Object.keys(entry ?? {}).filter((key) => key !== 'id' && !asked.has(key));
      expect(missing).toEqual([]);
    }
  });
});
