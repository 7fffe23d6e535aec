import Flatten from '@flatten-js/core';
import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { amountOf } from '../../demo/thorough.ts';
import { seededDraw, syntheticAnatomy } from '../../demo/synthetic.ts';
import { modelOf, ringOf, type Model, type Outline, type Point } from '../anatomy/index.ts';
import {
  CLOSING_BENCH,
  lengthOf,
  lineWithin,
  NoStrips,
  rimOf,
  runFrom,
  runOf,
  STRIP_LIMITS,
  stripsOf,
  tapeFor,
} from './index.ts';
import { ringHint } from '../dive/index.ts';

/** An outline as the other library has it: curves as curves. */
function shapeOf(outline: Outline): Flatten.Polygon {
  const polygon = new Flatten.Polygon();
  if ('circle' in outline) {
    const [x, y, r] = outline.circle;
    polygon.addFace([new Flatten.Circle(new Flatten.Point(x, y), r).toArc()]);
  } else polygon.addFace(ringOf(outline).map(([x, y]) => new Flatten.Point(x, y)));
  return polygon;
}

/** The middle line of a perimeter bond as the other library has it: four sides and four quarter arcs. */
function perimeterLength(outline: Outline, by: number): number {
  if ('circle' in outline) return new Flatten.Circle(new Flatten.Point(0, 0), outline.circle[2] - by).toArc().length;
  if ('polygon' in outline) throw new Error('asked of rectangles only');
  const [, , w, h] = outline.rect;
  const r = Math.max(0, Math.min(outline.radius ?? 0, w / 2, h / 2) - by);
  const p = (x: number, y: number) => new Flatten.Point(x, y);
  const arc = new Flatten.Arc(p(0, 0), Math.max(r, 1e-9), 0, Math.PI / 2, true);
  const [iw, ih] = [w - 2 * by, h - 2 * by];
  return (
    2 * new Flatten.Segment(p(r, 0), p(iw - r, 0)).length +
    2 * new Flatten.Segment(p(0, r), p(0, ih - r)).length +
    4 * (r > 0 ? arc.length : 0)
  );
}

const ownLength = (line: readonly Point[]) =>
  line.slice(1).reduce((s, [x, y], i) => s + Math.hypot(x - line[i]![0], y - line[i]![1]), 0);

const randomModels = (count: number): [string, Model][] => {
  const draw = seededDraw(414);
  return Array.from({ length: count }, (_, k) => [`random device ${k}`, modelOf(syntheticAnatomy(draw, 2 + (k % 8)))]);
};
const MODELS: [string, Model][] = [
  ...DEVICES.map((id): [string, Model] => [id, demoModel(id)]),
  ...randomModels(amountOf(40, 3)),
];

describe('strips of every bond of every device', () => {
  it.each(MODELS)('%s: cover the bond less its gaps to 0.1 mm, by another library (flatten-js)', (_, model) => {
    for (const bond of model.anatomy.bonds) {
      const plan = stripsOf(model, bond);
      const free = plan.free.length === 0 ? 0 : plan.length - plan.covered;
      const { at } = bond;
      if ('perimeterOf' in at) {
        const around = perimeterLength(model.parts.get(at.perimeterOf)!.outline, at.inset + at.width / 2);
        const drawn = at.gaps.reduce((s, g) => s + Math.abs(g.to - g.from), 0);
        expect(Math.abs(plan.covered + free - (around - drawn)), bond.id).toBeLessThan(0.1);
      } else if ('line' in at) expect(Math.abs(plan.covered + free - ownLength(at.line)), bond.id).toBeLessThan(0.1);
      // What is said to be covered is what the strips cover, piece by piece.
      const first = plan.strips.filter((s) => s.lane === 0);
      if (!('area' in at) && new Set(plan.strips.map((s) => s.lane)).size === 1)
        expect(Math.abs(first.reduce((s, p) => s + ownLength(p.line), 0) - plan.covered), bond.id).toBeLessThan(0.1);
      for (const s of plan.strips) expect(s.length, `${bond.id} ${s.n}`).toBeCloseTo(ownLength(s.line), 2);
    }
  });

  it.each(MODELS)('%s: nothing lies within the margin of what stays free (flatten-js)', (_, model) => {
    for (const bond of model.anatomy.bonds) {
      const { zones, strips } = stripsOf(model, bond);
      const shapes = zones.map((z) => ({ part: z.part, shape: shapeOf(z.outline) }));
      for (const strip of strips) {
        const rim = rimOf(strip);
        for (const { part, shape } of shapes)
          for (const [i, [x, y]] of rim.entries()) {
            const [u, v] = rim[(i + 1) % rim.length]!;
            if (Math.hypot(u - x, v - y) < 1e-6) continue;
            const side = new Flatten.Segment(new Flatten.Point(x, y), new Flatten.Point(u, v));
            const [d] = shape.distanceTo(side);
            expect(d, `${bond.id}, strip ${strip.n}, ${part}`).toBeGreaterThanOrEqual(CLOSING_BENCH.margin - 0.001);
          }
      }
    }
  });

  it.each(MODELS)('%s: no joint at a corner of a panel, none in a gap', (_, model) => {
    for (const bond of model.anatomy.bonds) {
      if (!('perimeterOf' in bond.at)) continue;
      const part = model.parts.get(bond.at.perimeterOf)!;
      if (part.kind !== 'display' && part.kind !== 'cover') continue;
      const run = runOf(model, bond);
      const plan = stripsOf(model, bond, { corners: 'mitred' });
      expect(plan.corners).toBe('turned');
      for (const [x, y] of plan.joints) {
        const s = run.stations.findIndex((to, i) => {
          if (i === 0) return false;
          const [a, b] = [run.points[i - 1]!, run.points[i % run.points.length]!];
          return (
            Math.abs(Math.hypot(a[0] - x, a[1] - y) + Math.hypot(b[0] - x, b[1] - y) - (to - run.stations[i - 1]!)) <
            1e-4
          );
        });
        expect(s, bond.id).toBeGreaterThan(0);
        const at = run.stations[s - 1]! + Math.hypot(run.points[s - 1]![0] - x, run.points[s - 1]![1] - y);
        for (const c of run.corners) {
          const off = at < c.from ? c.from - at : at > c.to ? at - c.to : 0;
          expect(Math.min(off, run.length - off), `${bond.id} at ${at}`).toBeGreaterThanOrEqual(
            Math.min(STRIP_LIMITS.joint, 4) - 1e-6,
          );
        }
        for (const g of [...plan.gaps, ...plan.free]) expect(at > g.from + 1e-3 && at < g.to - 1e-3).toBe(false);
      }
    }
  });
});

describe('what is covered', () => {
  const quill = demoModel('velmora-quill-5');
  const onArea = (area: Outline, tabs = 0) => ({
    ...quill.bonds.get('cell-tabs')!,
    at: { area },
    tabs: Array.from({ length: tabs }, (): Point => [0, 0]),
  });
  /** Share of a shape under some strips, and mm² of strips outside it, by points thrown at them (flatten-js). */
  function thrown(area: Outline, rims: readonly (readonly Point[])[]) {
    const shape = shapeOf(area);
    const polygons = rims.map((rim) => new Flatten.Polygon(rim.map(([x, y]) => new Flatten.Point(x, y))));
    const { xmin, ymin, xmax, ymax } = shape.box;
    const draw = seededDraw(9);
    const count = { shape: 0, both: 0, outside: 0 };
    const n = 6000;
    for (let k = 0; k < n; k++) {
      const at = new Flatten.Point(
        xmin - 5 + ((xmax - xmin + 10) * draw(1_000_000)) / 1_000_000,
        ymin - 5 + ((ymax - ymin + 10) * draw(1_000_000)) / 1_000_000,
      );
      const [inShape, inStrip] = [shape.contains(at), polygons.some((p) => p.contains(at))];
      if (inShape) count.shape++;
      if (inShape && inStrip) count.both++;
      if (!inShape && inStrip) count.outside++;
    }
    return { share: count.both / count.shape, outside: count.outside };
  }
  it('is told by its area: one strip of 5 mm along a pouch of 40 mm is an eighth of it', () => {
    const plan = stripsOf(quill, onArea({ rect: [200, 200, 40, 60] }, 1));
    expect(plan.covered).toBeCloseTo(60, 3);
    expect(plan.coveredArea / plan.area).toBeCloseTo(0.125, 3);
  });
  it('never lies outside its bond, whatever its shape', () => {
    const draw = seededDraw(77);
    const shapes: Outline[] = [
      { circle: [30, 40, 17] },
      { circle: [30, 40, 6] },
      { rect: [10, 10, 26, 18], radius: 8 },
      {
        polygon: [
          [0, 0],
          [40, 0],
          [40, 30],
          [25, 12],
          [15, 12],
          [0, 30],
        ],
      },
      {
        polygon: [
          [0, 0],
          [30, 5],
          [12, 40],
        ],
      },
      ...Array.from({ length: 6 }, (): Outline => {
        const n = 5 + draw(6);
        return {
          polygon: Array.from({ length: n }, (_, i): Point => {
            const r = 12 + draw(12);
            return [30 + r * Math.cos((2 * Math.PI * i) / n), 30 + r * Math.sin((2 * Math.PI * i) / n)];
          }),
        };
      }),
    ];
    for (const area of shapes) {
      const plan = stripsOf(quill, onArea(area));
      const found = thrown(area, plan.strips.map(rimOf));
      expect(found.outside, JSON.stringify(area)).toBe(0);
      expect(Math.abs(found.share - plan.coveredArea / plan.area)).toBeLessThan(0.03);
    }
  });
  it('says first that a ring stays open where the device kept water out', () => {
    const seal = quill.bonds.get('display-seal')!;
    if (!('perimeterOf' in seal.at)) throw new Error('a ring is asked for');
    const gaps = [...seal.at.gaps, { edge: 'bottom' as const, from: 20, to: 47 }];
    const open = { ...seal, at: { ...seal.at, gaps } };
    const plan = stripsOf(quill, open);
    expect(plan.open).toBeGreaterThanOrEqual(27);
    expect(ringHint(quill, plan)).toMatchObject([{ code: 'ring-stays-open', open: plan.open }]);
    const dry = modelOf({ ...quill.anatomy, body: { ...quill.anatomy.body, ingress: null } });
    expect(stripsOf(dry, open)).toMatchObject({ open: 0 });
  });
  it('a strip that is longer than its sheet is said, and cut from none', () => {
    const seal = quill.bonds.get('display-seal')!;
    const plan = stripsOf(quill, seal, { bench: { rolls: [5], sheets: [[60, 40]], margin: 1 } });
    const long = plan.strips.filter((s) => s.length > 60);
    expect(long.length).toBeGreaterThan(0);
    expect(plan.notes.some((n) => n.code === 'strips-too-long')).toBe(true);
    const cut = plan.cuts.flatMap((c) => c.cuts.flatMap((k) => k.pieces));
    for (const s of long) expect(cut).not.toContain(String(s.n));
    // What is told as left over is what the cutting has minimised.
    expect(plan.waste).toBeCloseTo(
      plan.cuts.reduce((s, c) => s + c.waste, 0),
      1,
    );
  });
});

describe('what a strip is cut from', () => {
  const bench = { rolls: [2, 3, 5], sheets: [[148, 210]] as [number, number][] };
  it.each([
    [2, [2]],
    [2.9, [2]],
    [5, [5]],
    [5.3, [5]],
    [5.35, [5]],
    [8.4, [5, 3]],
    [16, [5, 5, 5]],
  ])('a bond of %s mm takes rolls of %j', (width, widths) => {
    expect(tapeFor(width, bench).lanes.map((l) => l.width)).toEqual(widths);
  });
  it('a narrow bond is cut from a sheet, or along the narrowest roll', () => {
    expect(tapeFor(1.4, bench)).toMatchObject({ lanes: [{ width: 1.4 }], from: { sheet: [148, 210] } });
    expect(tapeFor(1.4, { rolls: [3, 2], sheets: [] })).toMatchObject({ from: { roll: 2 }, slit: true });
    expect(() => tapeFor(1.4, { rolls: [], sheets: [] })).toThrow(NoStrips);
  });
  it('side by side they stay within their bond and do not touch', () => {
    for (let width = 2; width < 20; width += 0.37) {
      const { lanes } = tapeFor(width, bench);
      const rims = lanes.map((l) => [l.offset - l.width / 2, l.offset + l.width / 2] as const);
      expect(rims[0]![0]).toBeGreaterThanOrEqual(-width / 2 - 1e-9);
      expect(rims.at(-1)![1]).toBeLessThanOrEqual(width / 2 + 1e-9);
      rims.slice(1).forEach(([low], i) => expect(low - rims[i]![1]).toBeCloseTo(STRIP_LIMITS.apart, 6));
    }
  });
});

describe('corners', () => {
  const model = demoModel('velmora-quill-5');
  const inner = { ...model.bonds.get('display-seal')!, at: { perimeterOf: 'camera', inset: 0.5, width: 2, gaps: [] } };
  const square = runFrom(
    [
      [40, 60],
      [60, 60],
      [60, 90],
      [20, 90],
      [20, 60],
    ],
    true,
    2,
  );
  it('are mitred by half their turn, butted, or turned with a notch', () => {
    const mitred = stripsOf(model, inner, { run: square, corners: 'mitred' });
    expect(mitred.strips.map((s) => s.angles)).toEqual([
      [45, 45],
      [45, 45],
      [45, 45],
      [45, 45],
    ]);
    const butted = stripsOf(model, inner, { run: square, corners: 'butted' });
    expect(butted.strips.every((s) => s.angles.every((a) => a === 0))).toBe(true);
    // One runs through to the outer rim, the other begins behind it: together as long as the run.
    expect(butted.strips.reduce((s, p) => s + p.length, 0)).toBeCloseTo(140, 3);
    const ends = butted.strips.flatMap((s) => [s.line[0]!, s.line.at(-1)!]).flat();
    expect(Math.max(...ends)).toBeCloseTo(91, 3);
    const turned = stripsOf(model, inner, { run: square });
    expect(turned.strips.map((s) => s.notches.map((n) => n.degrees))).toEqual([[90], [90], [90], [90]]);
    for (const plan of [mitred, butted, turned]) expect(plan.covered).toBeCloseTo(140, 3);
  });
  it('a mitre reaches the outer corner and no further', () => {
    const plan = stripsOf(model, inner, { run: square, corners: 'mitred' });
    const rim = plan.strips.flatMap((s) => rimOf(s));
    expect(Math.max(...rim.map(([x]) => x))).toBeCloseTo(61, 3);
    expect(Math.min(...rim.map(([, y]) => y))).toBeCloseTo(59, 3);
  });
  it('a polygon is moved in side by side', () => {
    const ring = lineWithin(
      {
        polygon: [
          [0, 0],
          [60, 0],
          [60, 40],
          [30, 40],
          [30, 80],
          [0, 80],
        ],
      },
      2,
    );
    const other = shapeOf({
      polygon: [
        [2, 2],
        [58, 2],
        [58, 38],
        [28, 38],
        [28, 78],
        [2, 78],
      ],
    });
    expect(Math.abs(shapeOf({ polygon: ring }).area())).toBeCloseTo(Math.abs(other.area()), 6);
    const run = runFrom(ring, true, 2);
    expect(lengthOf([{ from: 0, to: run.length }])).toBeCloseTo(56 * 2 + 76 * 2, 6);
  });
});
