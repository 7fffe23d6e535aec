import Flatten from '@flatten-js/core';
import { describe, expect, it } from 'vitest';
import { demoModel } from '../../demo/models.ts';
import { modelOf, ringOf, type Edge, type Outline, type Point } from '../anatomy/index.ts';
import { distanceTo } from '../opening/index.ts';
import { freeZones, lengthOf, lineOf, lineWithin, runFrom, runOf, type Run } from './index.ts';
import { blockedBy } from './freeZones.ts';
import { gapStretches, joined, leftOf, pointAt } from './run.ts';

const square = (size: number): Point[] => [
  [size / 2, 0],
  [size, 0],
  [size, size],
  [0, size],
  [0, 0],
];

describe('the middle line of a bond', () => {
  it('knows its sharp corners and its bends, however finely they are drawn', () => {
    expect(runFrom(square(40), true, 2).corners.map((c) => [c.radius, c.turn])).toEqual([
      [0, 90],
      [0, 90],
      [0, 90],
      [0, 90],
    ]);
    const rect: Outline = { rect: [0, 0, 70, 140], radius: 9 };
    for (const points of [lineWithin(rect, 1), ringOf({ rect: [1, 1, 68, 138], radius: 8 }) as Point[]]) {
      const run = runFrom(points, true, 2);
      expect(run.corners).toHaveLength(4);
      for (const c of run.corners) {
        expect(Math.abs(c.turn)).toBeGreaterThan(75);
        expect(c.radius).toBeGreaterThan(6);
        expect(c.radius).toBeLessThan(10);
      }
    }
  });
  it('a bend is as long as its arc, to 1 in 5,000', () => {
    const run = runFrom(lineWithin({ rect: [0, 0, 60, 90], radius: 10 }, 1), true, 2);
    const arc = new Flatten.Arc(new Flatten.Point(0, 0), 9, 0, Math.PI / 2, true).length;
    expect(run.length / (2 * 40 + 2 * 70 + 4 * arc)).toBeCloseTo(1, 4);
  });
  it('is walked along: every point of a stretch lies on it, in order', () => {
    const run = runFrom(square(40), true, 2);
    const line = lineOf(run, { from: 150, to: 200 });
    expect(line[0]).toEqual(pointAt(run, 150));
    expect(line.at(-1)).toEqual(pointAt(run, 40));
    expect(line.slice(1).reduce((s, [x, y], i) => s + Math.hypot(x - line[i]![0], y - line[i]![1]), 0)).toBeCloseTo(
      50,
      9,
    );
  });
  it('of an area runs along its longer side', () => {
    const model = demoModel('velmora-quill-5');
    const run = runOf(model, model.bonds.get('cell-tabs')!);
    expect(run).toMatchObject({ closed: false, length: 74, breadth: 22 });
  });
});

describe('stretches', () => {
  const ring = runFrom(square(40), true, 2);
  const open = runFrom(
    [
      [0, 0],
      [100, 0],
    ],
    false,
    2,
  );
  it.each([
    ['nothing taken out', ring, [], [[0, 160]]],
    ['in the middle of a ring', ring, [[30, 50]], [[50, 190]]],
    [
      'over the begin of a ring',
      ring,
      [
        [0, 10],
        [150, 160],
      ],
      [[10, 150]],
    ],
    [
      'two of an open line',
      open,
      [
        [20, 30],
        [60, 70],
      ],
      [
        [0, 20],
        [30, 60],
        [70, 100],
      ],
    ],
    ['all of it', open, [[0, 100]], []],
    [
      'what overlaps',
      open,
      [
        [10, 30],
        [20, 40],
        [40, 50],
      ],
      [
        [0, 10],
        [50, 100],
      ],
    ],
  ] as [string, Run, [number, number][], [number, number][]][])('%s', (_, run, out, left) => {
    const stretches = out.map(([from, to]) => ({ from, to }));
    const found = leftOf(run, stretches);
    expect(found.map(({ from, to }) => [from, to])).toEqual(left);
    expect(lengthOf(found) + lengthOf(joined(stretches))).toBeCloseTo(run.length, 9);
  });
  it.each(['top', 'right', 'bottom', 'left'] as Edge[])('a gap at the %s takes its own length', (edge) => {
    const outline: Outline = { rect: [0, 0, 70, 140], radius: 8 };
    const run = runFrom(lineWithin(outline, 1.5), true, 2);
    const gaps = gapStretches(run, outline, [{ edge, from: 20, to: 44 }], 2.5);
    expect(lengthOf(gaps)).toBeCloseTo(24, 6);
  });
});

describe('what stays free', () => {
  const model = demoModel('velmora-quill-5');
  it('what travels with the panel whole, of what lies beneath the middle, and nothing that the bond joins', () => {
    const zones = new Map(freeZones(model, model.bonds.get('display-seal')!).map((z) => [z.part, z.outline]));
    expect(zones.get('sensors')).toEqual(model.parts.get('sensors')!.outline);
    expect(zones.get('camera')).toMatchObject({ rect: [8.5 + 5.25, 10 + 5.25, 10.5, 10.5] });
    const tack = freeZones(model, model.bonds.get('sensor-tack')!).map((z) => z.part);
    expect(tack).not.toContain('sensors');
  });
  it('what belongs to the other face counts only where nothing lies between', () => {
    const mule = demoModel('karnhold-mule-4');
    expect(freeZones(mule, mule.bonds.get('display-glue')!).map((z) => z.part)).toContain('earpiece');
    const back = freeZones(mule, mule.bonds.get('back-gasket')!).map((z) => z.part);
    expect(back).toContain('main-camera');
    const anatomy = structuredClone(mule.anatomy);
    // A plate over all of the back, beneath the bond and above the ear speaker.
    anatomy.parts.find((p) => p.id === 'mid-plate')!.outline = { rect: [0, 0, 80, 166] };
    const shut = modelOf(anatomy);
    expect(freeZones(shut, shut.bonds.get('back-gasket')!).map((z) => z.part)).not.toContain('earpiece');
  });
  it('distances are those of flatten-js', () => {
    const outlines: Outline[] = [
      { rect: [10, 10, 20, 8] },
      { circle: [30, 40, 6] },
      {
        polygon: [
          [5, 50],
          [30, 55],
          [20, 70],
          [8, 66],
        ],
      },
    ];
    for (const outline of outlines) {
      const shape =
        'circle' in outline
          ? new Flatten.Circle(new Flatten.Point(outline.circle[0], outline.circle[1]), outline.circle[2])
          : new Flatten.Polygon(ringOf(outline).map(([x, y]) => new Flatten.Point(x, y)));
      for (let x = 0; x < 60; x += 3.7)
        for (let y = 0; y < 90; y += 5.3) {
          const at = new Flatten.Point(x, y);
          const inside = shape instanceof Flatten.Circle ? shape.contains(at) : shape.contains(at);
          const other = inside ? 0 : at.distanceTo(shape)[0];
          expect(distanceTo([x, y], { outline })).toBeCloseTo(other, 6);
        }
    }
  });
  it('blocks a run no longer than it must, and never nearer than the margin', () => {
    const run = runFrom(
      [
        [0, 0],
        [100, 0],
      ],
      false,
      2,
    );
    const zone = { part: 'ear', outline: { rect: [40, 3, 20, 6] } as Outline };
    expect(blockedBy(run, [zone], 1, 1)).toEqual([]);
    const [near] = blockedBy(run, [{ ...zone, outline: { rect: [40, 1.5, 20, 6] } }], 1, 1);
    // Its rim lies 0.5 mm from the zone: 1 mm from the corners it is past them by √(1² − 0.5²).
    const past = Math.sqrt(1 - 0.5 ** 2);
    expect(near!.from).toBeCloseTo(40 - past, 1);
    expect(near!.to).toBeCloseTo(60 + past, 1);
    expect(near!.from).toBeLessThanOrEqual(40 - past);
  });
  it('an end that comes near lengthwise is cut by no more than the margin', () => {
    const run = runFrom(
      [
        [0, 0],
        [50, 0],
      ],
      false,
      6,
    );
    // The rim of the strip reaches 3 mm sideways, and nothing forwards.
    expect(blockedBy(run, [{ part: 'ear', outline: { rect: [52, -4, 6, 8] } }], 3, 1)).toEqual([]);
    const [cut] = blockedBy(run, [{ part: 'ear', outline: { rect: [50.5, -4, 6, 8] } }], 3, 1);
    expect(cut!.from).toBeCloseTo(49.5, 1);
  });
  it('a sharp corner keeps off with all of its square', () => {
    const run = runFrom(square(40), true, 2);
    // Within the corner: the square of both sides ends 1 mm from its middle, so 39 − 1 − 1 is as far as a zone may come.
    expect(blockedBy(run, [{ part: 'ear', outline: { rect: [30, 5, 7.9, 5] } }], 1, 1)).toEqual([]);
    expect(blockedBy(run, [{ part: 'ear', outline: { rect: [30, 5, 8.1, 5] } }], 1, 1)).not.toEqual([]);
    const outer = { part: 'ear', outline: { circle: [41.9, -1.9, 0.3] } as Outline };
    expect(blockedBy(run, [outer], 1, 1)).not.toEqual([]);
  });
});
