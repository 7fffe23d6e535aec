import Flatten from '@flatten-js/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { tinyBond, tinyConnector, tinyDevice, tinyLatch, tinyPart } from '../../demo/tiny.ts';
import { boundsOf, modelOf, type Anatomy, type Bond, type Model, type Outline, type Point } from '../anatomy/index.ts';
import { BONDS } from '../kinds/index.ts';
import {
  bestMarks,
  candidates,
  cutBy,
  cutPlan,
  distanceTo,
  MARK_STEP,
  NoCut,
  obstaclesOf,
  openedPart,
  pathOf,
  pickTemplate,
  placeAt,
  seamOf,
  wayUnder,
  windowed,
  type Bed,
  underCell,
} from './index.ts';

const quill = demoModel('velmora-quill-5');

/** The same outline in a general geometry library, arcs as arcs. */
function flat(outline: Outline): Flatten.Polygon {
  if ('circle' in outline)
    return new Flatten.Polygon(
      new Flatten.Circle(new Flatten.Point(outline.circle[0], outline.circle[1]), outline.circle[2]),
    );
  if ('polygon' in outline) return new Flatten.Polygon(outline.polygon);
  const shapes = pathOf(outline).pieces.map((p) =>
    p.kind === 'line'
      ? new Flatten.Segment(new Flatten.Point(...p.a), new Flatten.Point(...p.b))
      : new Flatten.Arc(new Flatten.Point(...p.centre), p.radius, p.from, p.to, true),
  );
  return new Flatten.Polygon(shapes as never);
}

const outline: fc.Arbitrary<Outline> = fc.oneof(
  fc
    .record({
      x: fc.integer({ min: 0, max: 40 }),
      y: fc.integer({ min: 0, max: 40 }),
      w: fc.integer({ min: 4, max: 60 }),
      h: fc.integer({ min: 4, max: 60 }),
      r: fc.integer({ min: 0, max: 9 }),
    })
    .map(({ x, y, w, h, r }): Outline => ({ rect: [x, y, w, h], radius: Math.min(r, w / 2 - 0.5, h / 2 - 0.5) })),
  fc
    .record({
      x: fc.integer({ min: 0, max: 60 }),
      y: fc.integer({ min: 0, max: 60 }),
      r: fc.integer({ min: 1, max: 30 }),
    })
    .map(({ x, y, r }): Outline => ({ circle: [x, y, r] })),
  fc
    .record({
      x: fc.integer({ min: 5, max: 40 }),
      y: fc.integer({ min: 5, max: 40 }),
      radii: fc.array(fc.integer({ min: 3, max: 25 }), { minLength: 3, maxLength: 9 }),
    })
    .map(
      ({ x, y, radii }): Outline => ({
        polygon: radii.map(
          (r, i): Point => [
            x + r * Math.cos((2 * Math.PI * i) / radii.length),
            y + r * Math.sin((2 * Math.PI * i) / radii.length),
          ],
        ),
      }),
    ),
);

describe('distances and paths, against @flatten-js/core', () => {
  it('from a point to an outline, rounded corners included', () => {
    fc.assert(
      fc.property(
        outline,
        fc.double({ min: -20, max: 100, noNaN: true }),
        fc.double({ min: -20, max: 100, noNaN: true }),
        (shape, x, y) => {
          const polygon = flat(shape);
          const point = new Flatten.Point(x, y);
          const [distance] = point.distanceTo(polygon);
          const ours = distanceTo([x, y], { outline: shape });
          if (distance < 1e-6) return;
          if (polygon.contains(point)) expect(ours).toBe(0);
          else expect(ours).toBeCloseTo(distance, 6);
        },
      ),
      { numRuns: 400 },
    );
  });
  it('from a point to a flex', () => {
    const line: Point[] = [
      [0, 0],
      [10, 0],
      [10, 20],
    ];
    const segments = line
      .slice(1)
      .map((b, i) => new Flatten.Segment(new Flatten.Point(...line[i]!), new Flatten.Point(...b)));
    for (const at of [
      [5, 4],
      [-3, -4],
      [14, 10],
      [10, 26],
    ] as Point[]) {
      const least = Math.min(...segments.map((s) => new Flatten.Point(...at).distanceTo(s)[0]));
      expect(distanceTo(at, { line, width: 2 })).toBeCloseTo(Math.max(0, least - 1), 9);
    }
  });
  it('a path is as long as its outline, lies on it and points inwards', () => {
    fc.assert(
      fc.property(outline, fc.double({ min: 0, max: 0.999, noNaN: true }), (shape, share) => {
        const path = pathOf(shape);
        const polygon = flat(shape);
        const perimeter = [...polygon.edges].reduce((sum: number, e) => sum + (e as { length: number }).length, 0);
        expect(path.length).toBeCloseTo(perimeter, 6);
        const { at, inward } = placeAt(path, share * path.length);
        expect(new Flatten.Point(...at).distanceTo(polygon)[0]).toBeLessThan(1e-6);
        expect(Math.hypot(...inward)).toBeCloseTo(1, 9);
        const step = 1e-3;
        const inside = polygon.contains(new Flatten.Point(at[0] + step * inward[0], at[1] + step * inward[1]));
        const corner = path.pieces.some(
          (p) =>
            p.kind === 'line' &&
            (Math.hypot(at[0] - p.a[0], at[1] - p.a[1]) < 0.01 || Math.hypot(at[0] - p.b[0], at[1] - p.b[1]) < 0.01),
        );
        expect(inside || corner).toBe(true);
      }),
      { numRuns: 300 },
    );
  });
});

/** A cover of 60 × 120 mm taped all round over whatever is asked for. */
function opened(change: (a: Anatomy) => void): Model {
  return modelOf(
    tinyDevice((a) => {
      a.body = { ...a.body, width: 60, height: 120 };
      const [frame, cover] = [a.parts[0]!, a.parts[1]!];
      frame.outline = { rect: [0, 0, 60, 120], radius: 8 };
      cover.outline = { rect: [1, 1, 58, 118], radius: 7 };
      a.parts = [frame, cover];
      a.fasteners = [];
      a.connectors = [];
      a.bonds = [
        tinyBond('seal', 'tape', ['cover', 'frame'], { at: { perimeterOf: 'cover', inset: 0.5, width: 2, gaps: [] } }),
      ];
      change(a);
    }),
  );
}

describe('clearance along the seam', () => {
  it('is the distance to what lies behind, less the margin', () => {
    const model = opened((a) => a.parts.push(tinyPart('battery', 2, [7, 40, 20, 40], { kind: 'battery' })));
    const { samples } = seamOf(model, 'seal', { margin: 0.5 });
    const left = samples.filter((s) => s.edge === 'left' && s.at[1] > 45 && s.at[1] < 75);
    for (const s of left) {
      expect(s.clear).toBeCloseTo(6 - 0.5, 9);
      expect(s.behind).toBe('battery');
      expect(s.need).toBe(2.5);
    }
  });
  it('half a millimetre apart, all the way round', () => {
    const { samples, path } = seamOf(quill, 'display-seal');
    expect(path.length / samples.length).toBeGreaterThan(0.49);
    expect(path.length / samples.length).toBeLessThan(0.51);
  });
  it('what runs beneath the bond itself counts from its inner edge', () => {
    const model = opened((a) =>
      a.parts.push(tinyPart('buttons', 3, [0.5, 50, 5, 20], { kind: 'button', name: 'Side buttons' })),
    );
    const seam = seamOf(model, 'seal', { margin: 0.5 });
    expect(seam.obstacles.find((o) => o.item === 'buttons')!.crosses).toBe(true);
    expect(seam.samples.find((s) => s.edge === 'left' && Math.abs(s.at[1] - 60) < 0.3)!.clear).toBeCloseTo(2, 9);
  });
  it('a tether is in the way up to its hinge; its drawn route is taken where there is one', () => {
    const tethered = (route: { line: Point[]; width: number } | null) =>
      opened((a) => {
        a.parts.push(tinyPart('board', 4, [20, 30, 20, 20], { kind: 'board' }));
        a.parts[1]!.swing = { hinge: 'right', degrees: 90, tether: ['flex'], gap: null };
        a.connectors.push(tinyConnector('flex', 'cover', 'board', [30, 40], { route }));
      });
    const at = (model: Model, y: number) =>
      seamOf(model, 'seal').samples.find((s) => s.edge === 'right' && Math.abs(s.at[1] - y) < 0.3)!;
    expect(at(tethered(null), 40).behind).toBe('flex');
    expect(at(tethered(null), 40).clear).toBeLessThan(4);
    const drawn = tethered({
      line: [
        [30, 40],
        [30, 100],
        [55, 100],
      ],
      width: 6,
    });
    expect(at(drawn, 40).behind).not.toBe('flex');
    expect(at(drawn, 100).clear).toBeCloseTo(59 - 55 - 3 - 0.5, 1);
  });
  it('gaps of the bond need no cut', () => {
    const model = opened((a) => {
      a.bonds[0]!.at = { perimeterOf: 'cover', inset: 0.5, width: 2, gaps: [{ edge: 'top', from: 20, to: 40 }] };
    });
    const { samples } = seamOf(model, 'seal');
    expect(samples.filter((s) => s.edge === 'top' && s.at[0] > 21 && s.at[0] < 39).every((s) => s.need === 0)).toBe(
      true,
    );
    expect(samples.filter((s) => s.edge === 'bottom').every((s) => s.need > 0)).toBe(true);
  });
  // One tablet wants 2 mm on three edges and 8 mm on the fourth (common practice).
  it('a wide strip is needed as deep as it reaches', () => {
    const { samples } = seamOf(demoModel('osterleigh-broadleaf-12'), 'display-seal-wide');
    const bottom = samples.filter((s) => s.edge === 'bottom' && s.at[0] > 20 && s.at[0] < 270);
    for (const s of bottom) expect(s.need).toBeCloseTo(199.5 - 190.5, 6);
  });
  it('a part is taken off its assembly, not the other way round', () => {
    expect(openedPart(quill, quill.bonds.get('sensor-tack')!).id).toBe('sensors');
    expect(obstaclesOf(quill, quill.bonds.get('display-seal')!).map((o) => o.item)).toContain('buttons');
  });
  it.each<[string, object, RegExp]>([
    ['nope', {}, /no bond "nope"/],
    ['display-seal', { margin: -1 }, /must be 0 mm or more/],
  ])('%s %s is refused', (bond, options, message) => {
    expect(() => seamOf(quill, bond, options)).toThrow(message);
    expect(() => seamOf(quill, bond, options)).toThrow(NoCut);
  });
});

const bed: fc.Arbitrary<Bed> = fc
  .record({
    allowed: fc.integer({ min: 0, max: 60 }),
    from: fc.integer({ min: 0, max: 10 }),
    width: fc.integer({ min: 0, max: 30 }),
  })
  .map(({ allowed, from, width }) => ({ allowed: allowed / 10 + 0.03, from: from / 10, need: (from + width) / 10 }));

describe('depth marks', () => {
  /** The most that any choice of marks on the whole 0.1 mm lattice cuts. */
  function byEnumeration(beds: readonly Bed[], most: number): number {
    const lattice = Array.from({ length: 65 }, (_, i) => Math.round((i + 1) * MARK_STEP * 10) / 10);
    const value = (marks: readonly number[]) =>
      beds.reduce(
        (sum, b) => sum + Math.max(0, ...marks.filter((m) => m <= b.allowed + 1e-9).map((m) => cutBy(m, b))),
        0,
      );
    let best = 0;
    lattice.forEach((a, i) => {
      best = Math.max(best, value([a]));
      if (most > 1) for (const b of lattice.slice(i + 1)) if (b - a >= 0.3 - 1e-9) best = Math.max(best, value([a, b]));
    });
    return best;
  }
  it('cut as much as the best of all choices, by enumeration', () => {
    fc.assert(
      fc.property(fc.array(bed, { minLength: 1, maxLength: 12 }), fc.integer({ min: 1, max: 2 }), (beds, most) => {
        const found = bestMarks(beds, most);
        expect(found.marks.length).toBeLessThanOrEqual(most);
        for (let i = 1; i < found.marks.length; i++)
          expect(found.marks[i]! - found.marks[i - 1]!).toBeGreaterThanOrEqual(0.3 - 1e-9);
        expect(found.cut).toBeCloseTo(byEnumeration(beds, most), 6);
        expect(beds.reduce((sum, b, i) => sum + cutBy(found.depths[i]!, b), 0)).toBeCloseTo(found.cut, 6);
      }),
      { numRuns: 120 },
    );
  });
  it('never go deeper than is allowed, and more marks never cut less', () => {
    fc.assert(
      fc.property(fc.array(bed, { minLength: 1, maxLength: 60 }), (beds) => {
        const cuts = [1, 2, 3, 4].map((most) => {
          const found = bestMarks(beds, most);
          found.depths.forEach((d, i) => expect(d).toBeLessThanOrEqual(beds[i]!.allowed + 1e-9));
          return found.cut;
        });
        for (let i = 1; i < cuts.length; i++) expect(cuts[i]!).toBeGreaterThanOrEqual(cuts[i - 1]! - 1e-9);
      }),
      { numRuns: 200 },
    );
  });
  it('one mark too few is a compromise between two depths', () => {
    const beds: Bed[] = [
      { allowed: 8.5, from: 0.5, need: 8.5 },
      { allowed: 2.05, from: 0.5, need: 1 },
    ];
    expect(bestMarks(beds, 2).marks).toEqual([1, 8.5]);
    expect(candidates(beds)).toContain(2);
  });
  it('no bond, no marks; a senseless number of marks is refused', () => {
    expect(bestMarks([{ allowed: 5, from: 1, need: 1 }], 2)).toMatchObject({ marks: [], cut: 0 });
    expect(() => bestMarks([], 0)).toThrow(/whole number from 1 to 10/);
  });
  it('the window is a minimum round the path', () => expect(windowed([5, 1, 4, 6, 9], 1)).toEqual([1, 1, 1, 4, 5]));
});

describe('cut plans', () => {
  const rounds = fc.record({
    parts: fc.array(
      fc.record({
        x: fc.integer({ min: 0, max: 50 }),
        y: fc.integer({ min: 0, max: 110 }),
        w: fc.integer({ min: 2, max: 25 }),
        h: fc.integer({ min: 2, max: 40 }),
        kind: fc.constantFrom('battery', 'board', 'camera', 'button', 'coil'),
      }),
      { maxLength: 5 },
    ),
    plugs: fc.array(fc.tuple(fc.integer({ min: 2, max: 57 }), fc.integer({ min: 2, max: 117 })), { maxLength: 4 }),
    width: fc.integer({ min: 8, max: 90 }),
    marks: fc.integer({ min: 1, max: 3 }),
  });
  it('nothing is ever cut deeper than is clear, by brute force over the swept ground', () => {
    fc.assert(
      fc.property(rounds, ({ parts, plugs, width, marks }) => {
        const model = opened((a) => {
          parts.forEach((p, i) =>
            a.parts.push(tinyPart(`p${i}`, 2, [p.x, p.y, p.w, p.h], { kind: p.kind as 'board' })),
          );
          a.parts.push(tinyPart('bed', 9, [2, 2, 1, 1], { kind: 'bracket' }));
          plugs.forEach((at, i) => a.connectors.push(tinyConnector(`k${i}`, 'bed', 'bed', at as Point)));
          a.bonds[0]!.at = { perimeterOf: 'cover', inset: 0.5, width: width / 10, gaps: [] };
        });
        const margin = 0.5;
        const seam = seamOf(model, 'seal', { margin });
        const plan = cutPlan(model, 'seal', { marks, margin });
        const inner = 0.5 + width / 10;
        for (const run of plan.runs.filter((r) => r.depth > 0)) {
          const here = seam.samples.filter(
            (s) =>
              s.edge === run.edge &&
              (run.s[0] <= run.s[1]
                ? s.s >= run.s[0] - 1e-6 && s.s <= run.s[1] + 1e-6
                : s.s >= run.s[0] - 1e-6 || s.s <= run.s[1] + 1e-6),
          );
          expect(here.length).toBeGreaterThan(0);
          // Every point that the pick passes over, a fifth of a millimetre apart, stays off what lies behind the bond.
          let least = Number.POSITIVE_INFINITY;
          let spare = Number.POSITIVE_INFINITY;
          for (const s of here) {
            spare = Math.min(spare, s.clear - run.depth);
            for (let d = 0; d <= run.depth; d += 0.2) {
              const at: Point = [s.at[0] + d * s.inward[0], s.at[1] + d * s.inward[1]];
              for (const o of seam.obstacles)
                if (!o.crosses || d > inner) least = Math.min(least, distanceTo(at, o.shape));
            }
          }
          expect(least).toBeGreaterThan(0);
          expect(spare).toBeGreaterThan(-1e-9);
        }
      }),
      { numRuns: 40 },
    );
  });
  it.each(DEVICES)('%s: every bond that is cut has an entry, an order and depths that are clear', (name) => {
    const model = demoModel(name);
    for (const bond of model.anatomy.bonds.filter((b) => BONDS.of(b.kind).seals)) {
      if (underCell(model, bond) !== null) {
        // D3: never a pick under a cell.
        expect(() => cutPlan(model, bond.id)).toThrow(/^no-pick-/);
        continue;
      }
      const plan = cutPlan(model, bond.id);
      expect(plan.marks.length).toBeLessThanOrEqual(2);
      for (const run of plan.runs) {
        if (run.depth > 0) expect(run.depth, bond.id).toBeLessThanOrEqual(run.clear + 1e-9);
        if (run.left > 0.05 && run.behind.length === 0 && run.n === null && !plan.hooked.includes(run.edge))
          expect(run.need).toBeGreaterThan(plan.marks[0] ?? 0);
      }
      const numbered = plan.runs.filter((r) => r.n !== null).map((r) => r.n);
      expect(numbered).toEqual(numbered.map((_, i) => i + 1));
    }
  });
  it('hooked edges are slid out, not cut, and entered opposite', () => {
    const plan = cutPlan(quill, 'display-seal');
    expect(plan.hooked).toEqual(['top']);
    expect(plan.entry.edge).toBe('bottom');
    expect(plan.order.at(-1)).toBe('top');
    expect(plan.runs.filter((r) => r.edge === 'top').every((r) => r.n === null && r.depth === 0)).toBe(true);
    // Open along the sides, then slide the panel down (common practice): the tethered side comes after the free one.
    expect(plan.order.indexOf('left')).toBeLessThan(plan.order.indexOf('right'));
  });
  it('the side with the buttons is cut shallower, and they are named', () => {
    const shallow = cutPlan(quill, 'display-seal').runs.filter((r) => r.behind.includes('buttons'));
    expect(shallow).toHaveLength(1);
    expect(shallow[0]!.edge).toBe('left');
    expect(shallow[0]!.left).toBeCloseTo(0.5, 6);
  });
  it('a second pick stays wherever one edge is left for the next', () => {
    const plan = cutPlan(quill, 'display-seal');
    expect(plan.runs.filter((r) => r.pick).map((r) => r.edge)).toEqual(['bottom', 'left', 'right']);
    // From the bottom it goes on to the left: there the pick stays.
    expect(plan.runs.find((r) => r.n === 1)!.to[0]).toBeLessThan(10);
  });
  it('every edge is begun where the seam is open already', () => {
    const { runs } = cutPlan(quill, 'display-seal');
    const right = runs.find((r) => r.edge === 'right')!;
    // From the bottom, which is open, up to the hooks.
    expect(right.from[1]).toBeGreaterThan(right.to[1]);
    const left = runs.filter((r) => r.edge === 'left').sort((a, b) => a.n! - b.n!);
    for (let i = 1; i < left.length; i++)
      expect(Math.hypot(left[i]!.from[0] - left[i - 1]!.to[0], left[i]!.from[1] - left[i - 1]!.to[1])).toBeLessThan(
        1.1,
      );
  });
  it('without hooks it is entered opposite the hinge; at a notch when there is one', () => {
    const hinged = opened((a) => {
      a.parts[1]!.swing = { hinge: 'left', degrees: 90, tether: [], gap: null };
    });
    expect(cutPlan(hinged, 'seal').entry.edge).toBe('right');
    const notched = opened((a) => a.latches.push({ ...tinyLatch('catch', 'cover'), edge: 'bottom', notch: [12, 119] }));
    const { entry } = cutPlan(notched, 'seal');
    expect(entry.because).toEqual({ code: 'entry-at-notch' });
    expect(Math.hypot(entry.at[0] - 12, entry.at[1] - 119)).toBeLessThan(0.5);
  });
  it('the first run holds the entry; an edge with too little bond is not begun at', () => {
    for (const id of DEVICES) {
      const model = demoModel(id);
      for (const bond of model.anatomy.bonds.filter(
        (b) => 'perimeterOf' in b.at && b.joins.some((p) => model.parts.get(p)!.fixed),
      )) {
        const plan = cutPlan(model, bond.id);
        const first = plan.runs.find((r) => r.n === 1)!;
        expect(first.edge, `${id} ${bond.id}`).toBe(plan.entry.edge);
        expect(plan.order[0]).toBe(plan.entry.edge);
        expect(first.length).toBeGreaterThan(20);
      }
    }
    // The tablet's seal has 9 mm on either side of its wide strip: it is begun at the side.
    expect(cutPlan(demoModel('osterleigh-broadleaf-12'), 'display-seal').entry.edge).toBe('left');
  });
  it('a cup stands on the part with its whole rim, beside any lens and near the entry; where it has no room the blade is the way', () => {
    const ways = new Set<string>();
    for (const id of DEVICES) {
      const model = demoModel(id);
      for (const bond of model.anatomy.bonds.filter((b) => 'perimeterOf' in b.at)) {
        const { gaps, part, entry } = cutPlan(model, bond.id);
        const name = `${id} ${bond.id}`;
        const { outline, face } = model.parts.get(part)!;
        const [x, y, w, h] = boundsOf(outline);
        const [
          {
            way,
            at: [cx, cy],
          },
        ] = [gaps[0]!];
        ways.add(way);
        if (way === 'thin-blade') {
          for (const g of gaps.slice(1))
            expect(g.how, name).toMatchObject({ code: expect.stringMatching(/^gap-no-room/), diameter: 40 });
          continue;
        }
        expect(Math.min(cx - x, x + w - cx, cy - y, y + h - cy), name).toBeGreaterThanOrEqual(20);
        expect(Math.hypot(cx - entry.at[0], cy - entry.at[1]), name).toBeLessThan(30);
        for (const lens of model.anatomy.parts.filter(
          (p) => p.id !== part && p.face === face && p.within === null && p.kind === 'lens',
        ))
          expect(distanceTo([cx, cy], { outline: lens.outline }), `${name}, ${lens.id}`).toBeGreaterThanOrEqual(20);
      }
    }
    expect([...ways].sort()).toEqual(['suction-cup', 'thin-blade']);
  });
  it('the blade goes in where the cut begins, never at the hooks', () => {
    for (const id of DEVICES) {
      const model = demoModel(id);
      for (const bond of model.anatomy.bonds.filter((b) => 'perimeterOf' in b.at)) {
        const { gaps, entry, hooked } = cutPlan(model, bond.id, { firstGap: 'thin-blade' });
        expect(gaps[0], `${id} ${bond.id}`).toMatchObject({
          way: 'thin-blade',
          at: entry.at,
          how: expect.objectContaining({ code: 'gap-blade', edge: entry.edge }),
        });
        expect(hooked).not.toContain(entry.edge);
      }
    }
  });
  it('a lens where the entry would be moves it along the edge, with its cup', () => {
    const wide = (...lenses: Outline[]) =>
      opened((a) => {
        a.body.width = 100;
        a.parts[0]!.outline = { rect: [0, 0, 100, 120], radius: 8 };
        a.parts[1] = { ...a.parts[1]!, layer: 1, outline: { rect: [1, 1, 98, 118], radius: 7 } };
        for (const [i, outline] of lenses.entries())
          a.parts.push(tinyPart(`window-${i}`, 0, [0, 0, 1, 1], { kind: 'lens', outline }));
      });
    const plain = cutPlan(wide(), 'seal');
    const beside = cutPlan(wide({ circle: [50, 98, 4] }), 'seal');
    expect(plain.entry.edge).toBe('bottom');
    expect(beside.entry.edge).toBe('bottom');
    expect(Math.hypot(beside.gaps[0]!.at[0] - 50, beside.gaps[0]!.at[1] - 98)).toBeGreaterThanOrEqual(24);
    expect(beside.gaps[0]!.how).toEqual({ code: 'gap-cup', edge: 'bottom', from: 24, beside: 0, taped: false });
    // Lenses all along leave no room for a cup: then the blade goes in first, though a cup was asked for.
    const full = cutPlan(wide({ rect: [10, 90, 80, 10] }), 'seal');
    expect(full.gaps.map((g) => g.way)).toEqual(['thin-blade', 'suction-cup', 'cup-clamp']);
    expect(beside.entry.at).not.toEqual(plain.entry.at);
  });
  it('no run is a scrap', () => {
    for (const run of cutPlan(demoModel('pellworth-nacre-2'), 'back-seal').runs) expect(run.length).toBeGreaterThan(3);
  });
  it('weak glass: the tape goes on first, and the blade is next in line', () => {
    const plan = cutPlan(quill, 'display-seal', { crackedGlass: true });
    expect(plan.gaps[0]!.how).toMatchObject({ code: 'gap-cup', taped: true });
    expect(plan.gaps[1]!.way).toBe('thin-blade');
    expect(cutPlan(quill, 'display-seal', { firstGap: 'thin-blade' }).gaps[0]!.way).toBe('thin-blade');
    for (const way of plan.gaps) expect(way.cautions).toContain('glass');
  });
  it('less margin lets more be cut', () => {
    expect(cutPlan(quill, 'display-seal', { margin: 0 }).share).toBeGreaterThan(
      cutPlan(quill, 'display-seal', { margin: 1 }).share,
    );
    expect(() => cutPlan(quill, 'display-seal', { marks: 0 })).toThrow(/marks|whole number/);
  });
});

describe('pick template', () => {
  const plan = cutPlan(quill, 'display-seal');
  const sheet = pickTemplate(quill, plan);
  it('has each mark so far from the tip, at 1:1, and a bar of 50 mm', () => {
    const { marks } = sheet.pages[0]!;
    const base = 12 + 62;
    for (const depth of plan.marks)
      expect(
        marks.some(
          (m) => m.type === 'path' && m.scale === 1 && m.d === 'M-14 0H14' && Math.abs(base - m.y - depth) < 1e-9,
        ),
        `${depth} mm`,
      ).toBe(true);
    expect(marks.some((m) => m.type === 'path' && m.d === 'M0 0H50')).toBe(true);
    expect(marks.some((m) => m.type === 'text' && /behind it Side buttons/.test(m.text))).toBe(true);
  });
  it('says so when there is nothing to mark', () => {
    expect(
      pickTemplate(quill, { ...plan, marks: [], runs: [] }).pages[0]!.marks.some(
        (m) => m.type === 'text' && /nothing to mark/.test(m.text),
      ),
    ).toBe(true);
  });
});

describe('under what is glued down inside', () => {
  const glued = (at: Bond['at'], joins: [string, string], stays: (id: string) => boolean = () => false) => {
    const model = modelOf(
      tinyDevice((a) => {
        a.parts.push(tinyPart('pack', 2, [4, 6, 30, 72]), tinyPart('plate', 1, [4, 6, 30, 72]));
        a.bonds = [tinyBond('glue', 'tape', joins, { at })];
      }),
    );
    return wayUnder(model, model.bonds.get('glue')!, stays);
  };
  it('a strip of 2 mm all round is 2 mm across, from whichever edge', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 30 }), fc.integer({ min: 5, max: 40 }), (inset, width) => {
        const way = glued({ perimeterOf: 'pack', inset: inset / 10, width: width / 10, gaps: [] }, ['pack', 'frame'])!;
        expect(way.reach).toBeCloseTo(inset / 10, 6);
        expect(way.across).toBeCloseTo(width / 10, 6);
      }),
      { numRuns: 40 },
    );
  });
  it('an area is measured from the edge that the card comes from', () => {
    const way = glued({ area: { rect: [10, 12, 12, 60] } }, ['pack', 'frame'])!;
    expect(way).toMatchObject({ part: 'pack', across: 12 });
    expect(['left', 'right']).toContain(way.edge);
  });
  it('the part that leaves is the one that the card goes under', () => {
    const area = { area: { rect: [10, 12, 12, 60] as [number, number, number, number] } };
    expect(glued(area, ['pack', 'plate'], (id) => id === 'plate')).toMatchObject({ part: 'pack' });
    expect(glued(area, ['pack', 'plate'])).toMatchObject({ part: 'plate' });
  });
});
