import Flatten from '@flatten-js/core';
import { Matrix, solve } from 'ml-matrix';
import { describe, expect, it } from 'vitest';
import { demoModel, DEVICES } from '../../demo/models.ts';
import { seededDraw } from '../../demo/synthetic.ts';
import { modelOf, type Anatomy, type Bond, type Model } from '../anatomy/index.ts';
import { distanceTo } from '../opening/index.ts';
import {
  beadOf,
  bendingStress,
  CLOSING_BENCH,
  evenPressure,
  FILM,
  inertiaOf,
  leastPressure,
  midwayShare,
  offsetLoad,
  pressOf,
  runOf,
  settingOf,
  weightsFor,
} from './index.ts';

const lined = (model: Model): Bond[] => model.anatomy.bonds.filter((b) => 'perimeterOf' in b.at || 'line' in b.at);

/** The ground of a bond by another library: two rounded rectangles, the one within the other, less its gaps. */
function areaOf(model: Model, bond: Bond): number {
  const { at } = bond;
  const p = (x: number, y: number) => new Flatten.Point(x, y);
  const rounded = ([x, y, w, h]: readonly [number, number, number, number], radius: number) => {
    const r = Math.max(radius, 1e-6);
    const q = Math.PI / 2;
    return new Flatten.Polygon([
      new Flatten.Segment(p(x + r, y), p(x + w - r, y)),
      new Flatten.Arc(p(x + w - r, y + r), r, -q, 0, true),
      new Flatten.Segment(p(x + w, y + r), p(x + w, y + h - r)),
      new Flatten.Arc(p(x + w - r, y + h - r), r, 0, q, true),
      new Flatten.Segment(p(x + w - r, y + h), p(x + r, y + h)),
      new Flatten.Arc(p(x + r, y + h - r), r, q, 2 * q, true),
      new Flatten.Segment(p(x, y + h - r), p(x, y + r)),
      new Flatten.Arc(p(x + r, y + r), r, 2 * q, 3 * q, true),
    ]);
  };
  if (!('perimeterOf' in at)) throw new Error('asked of perimeters only');
  const outline = model.parts.get(at.perimeterOf)!.outline;
  if (!('rect' in outline)) throw new Error('asked of rectangles only');
  const [x, y, w, h] = outline.rect;
  const band = (by: number) =>
    rounded([x + by, y + by, w - 2 * by, h - 2 * by], Math.max(0, (outline.radius ?? 0) - by));
  const gap = at.gaps.reduce((s, g) => s + Math.abs(g.to - g.from) * at.width, 0);
  return Math.abs(band(at.inset).area()) - Math.abs(band(at.inset + at.width).area()) - gap;
}

describe('pressing', () => {
  it.each(DEVICES)('%s: areas are those of another library (flatten-js) to half a percent', (id) => {
    const model = demoModel(id);
    for (const bond of lined(model)) {
      if (!('perimeterOf' in bond.at)) continue;
      const { area } = pressOf(model, bond);
      expect(Math.abs(area / areaOf(model, bond) - 1), bond.id).toBeLessThan(0.005);
    }
  });

  it('a bonded tablet comes to the order of 32 kg for 2 min (common practice), a phone to a few kilograms', () => {
    const tablet = demoModel('osterleigh-broadleaf-12');
    const seals = ['display-seal', 'display-seal-wide'].map((id) =>
      pressOf(tablet, tablet.bonds.get(id)!, { way: 'weight' }),
    );
    const kilograms = seals.reduce((s, p) => s + p.kilograms, 0);
    expect(kilograms).toBeGreaterThan(16);
    expect(kilograms).toBeLessThan(64);
    // What is gentler than the tape asks for stands longer: pressure times time is kept.
    for (const p of seals) {
      const load = p.weights.reduce((s, w) => s + w, 0);
      expect(load).toBeLessThanOrEqual(32);
      expect((load * p.seconds) / (p.panel.kilograms * 120)).toBeGreaterThan(0.95);
    }
    const phone = demoModel('velmora-quill-5');
    const { kilograms: small } = pressOf(phone, phone.bonds.get('display-seal')!);
    expect(small).toBeGreaterThan(3);
    expect(small).toBeLessThan(9);
  });

  it.each(DEVICES)('%s: clips stand on the bond, off what they must not press, and come to the load', (id) => {
    const model = demoModel(id);
    for (const bond of lined(model)) {
      const plan = pressOf(model, bond);
      if (plan.clips.length === 0) continue;
      const run = runOf(model, bond);
      const line = run.closed ? [...run.points, run.points[0]!] : run.points;
      const sides = line
        .slice(1)
        .map(([x, y], i) => new Flatten.Segment(new Flatten.Point(...line[i]!), new Flatten.Point(x, y)));
      for (const { at } of plan.clips) {
        const off = Math.min(...sides.map((s) => new Flatten.Point(...at).distanceTo(s)[0]));
        expect(off, bond.id).toBeLessThan(0.01);
        for (const part of model.anatomy.parts)
          if (['battery', 'camera', 'lens', 'button'].includes(part.kind) && !bond.joins.includes(part.id))
            expect(distanceTo(at, { outline: part.outline }), `${bond.id} on ${part.id}`).toBeGreaterThanOrEqual(
              plan.clip!.foot / 2,
            );
      }
      // Each presses with its own spring, not with a share that somebody wished for.
      for (const clip of plan.clips) expect(clip.newtons).toBe(plan.clip!.newtons);
      expect(plan.newtons / 9.80665).toBeCloseTo(plan.kilograms, 9);
      // Where clips are the way, they come to the load, and press enough at their weakest spot.
      if (plan.way === 'clips') {
        expect(plan.clips.reduce((s, c) => s + c.newtons, 0)).toBeGreaterThanOrEqual(plan.newtons - 1e-6);
        expect(plan.evenness).toBeGreaterThanOrEqual(0.2);
      }
    }
  });

  it('all bonds of one panel are one load, told the same on each of them', () => {
    const tablet = demoModel('osterleigh-broadleaf-12');
    const seals = ['display-seal', 'display-seal-wide'].map((id) =>
      pressOf(tablet, tablet.bonds.get(id)!, { way: 'weight' }),
    );
    for (const p of seals) {
      expect(p.panel.bonds).toEqual(['display-seal', 'display-seal-wide']);
      expect(p.panel.kilograms).toBeCloseTo(seals[0]!.kilograms + seals[1]!.kilograms, 9);
      expect(p.weights.reduce((s, w) => s + w, 0)).toBeGreaterThanOrEqual(Math.min(32, p.panel.kilograms));
    }
  });

  it('the least pressure under clips is that of a beam on an elastic bed, solved by finite differences (ml-matrix)', () => {
    const draw = seededDraw(3);
    const lambda = 12;
    for (let k = 0; k < 12; k++) {
      const closed = k % 2 === 0;
      const length = 200 + draw(200);
      const stations = Array.from({ length: 5 + draw(6) }, () => draw(10 * length) / 10);
      // E I y'''' + k y = p with E I = λ⁴ / 4 and k = 1: what the bed presses is y. A long beam, or a ring.
      const n = 480;
      const around = closed ? length : length + 16 * lambda;
      const h = around / n;
      const ei = lambda ** 4 / 4 / h ** 4;
      const a = Matrix.zeros(n, n);
      const p = Matrix.zeros(n, 1);
      const put = (row: number, column: number, v: number) => {
        if (!closed && (column < 0 || column >= n)) return;
        const at = ((column % n) + n) % n;
        a.set(row, at, a.get(row, at) + v);
      };
      for (let i = 0; i < n; i++)
        for (const [off, v] of [
          [-2, ei],
          [-1, -4 * ei],
          [0, 6 * ei + 1],
          [1, -4 * ei],
          [2, ei],
        ] as const)
          put(i, i + off, v);
      const zero = closed ? 0 : 8 * lambda;
      for (const s of stations) {
        const at = (s + zero) / h;
        const [low, share] = [Math.floor(at), at - Math.floor(at)];
        for (const [i, w] of [
          [low, 1 - share],
          [low + 1, share],
        ] as const) {
          const row = ((i % n) + n) % n;
          p.set(row, 0, p.get(row, 0) + (w * 10) / h);
        }
      }
      const y = solve(a, p).to1DArray();
      const inside = y.filter((_, i) => closed || (i * h >= zero && i * h <= zero + length));
      const found = leastPressure({ length, closed }, [{ from: 0, to: length }], stations, 10, lambda, 1);
      expect(Math.abs(found - Math.min(...inside))).toBeLessThan(0.012);
    }
  });

  it('clips that cannot press evenly enough are not chosen', () => {
    // Three strong clips come to the load and leave most of the seal unpressed.
    const clips = [{ newtons: 40, foot: 3, count: 3 }];
    const plan = pressOf(demoModel('velmora-quill-5'), demoModel('velmora-quill-5').bonds.get('display-seal')!, {
      bench: { ...CLOSING_BENCH, clips },
    });
    expect(plan.way).not.toBe('clips');
  });

  it('a panel that touches what lies beneath it bears no more: a large plate is not a linear one to 8 mm', () => {
    const tablet = demoModel('osterleigh-broadleaf-12');
    const plan = pressOf(tablet, tablet.bonds.get('display-seal-wide')!, {
      way: 'weight',
      bench: { ...CLOSING_BENCH, foamFrame: false, weights: [20, 20] },
    });
    const bears = plan.checks.find((c) => c.what.code === 'check-bears')!;
    expect(bears.holds).toBe(false);
    expect(bears.limit).toBeLessThan(0.1 * bears.value);
    expect(plan.way).not.toBe('weight');
  });

  const quill = demoModel('velmora-quill-5');
  const seal = quill.bonds.get('display-seal')!;
  it('strong clips with wide feet bend bare glass, and the weight stands in for them', () => {
    const clips = [{ newtons: 90, foot: 12, count: 20 }];
    const plan = pressOf(quill, seal, { bench: { ...CLOSING_BENCH, clips } });
    expect(plan.checks.some((c) => !c.holds && c.unit === 'MPa')).toBe(true);
    expect(plan.way).toBe('weight');
  });
  it('a weight flat on bare glass is too much, and on a frame over the bond is not', () => {
    const flat = pressOf(quill, seal, { way: 'weight', bench: { ...CLOSING_BENCH, foamFrame: false } });
    expect(flat.way).toBe('clips');
    expect(pressOf(quill, seal, { way: 'weight' }).way).toBe('weight');
  });
  it('with nothing that serves it says so, and asks for hands', () => {
    const plan = pressOf(quill, seal, {
      bench: { ...CLOSING_BENCH, clips: [], weights: [1], bands: { newtons: 0, count: 0 } },
    });
    expect(plan).toMatchObject({ way: 'hand', clips: [], clip: null });
    expect(plan.because).toEqual({ code: 'nothing-comes-to-load' });
  });
  it.each([
    [5.6, [5, 1]],
    [0.2, [1]],
    [35.1, [10, 10, 5, 5, 2, 2, 1, 1]],
    [9, [5, 2, 2]],
    [0, []],
  ])('for %s kg the weights %j are taken', (kilograms, weights) => {
    expect(weightsFor(kilograms, CLOSING_BENCH.weights)).toEqual(weights);
  });
  it('twelve odd weights come as near as any set of them does', () => {
    const shop = [0.35, 0.62, 0.9, 1.17, 1.41, 1.83, 2.08, 2.56, 3.33, 4.7, 5.05, 7.77];
    const sums = Array.from({ length: 1 << shop.length }, (_, set) =>
      shop.reduce((s, w, i) => ((set >> i) & 1 ? s + w : s), 0),
    );
    for (let wanted = 0.5; wanted < 31; wanted += 0.73) {
      const taken = weightsFor(wanted, shop);
      const sum = taken.reduce((s, w) => s + w, 0);
      expect(new Set(taken).size).toBe(taken.length);
      expect(sum).toBeCloseTo(Math.min(...sums.filter((s) => s >= wanted - 1e-9)), 6);
    }
  });
  it('clips too weak to count are passed over', () => {
    const clips = [{ newtons: 1e-6, foot: 5, count: 24 }];
    expect(pressOf(quill, seal, { bench: { ...CLOSING_BENCH, clips } })).toMatchObject({ clip: null, way: 'weight' });
  });
});

describe("beams and plates (Roark's Formulas, from memory)", () => {
  it('a force in the middle: δ = F L³ / 48 E I, against the integral of the curvature', () => {
    const [f, l, e, i] = [10, 60, 70_000, inertiaOf(8, 0.8)];
    // Twice integrated: y'' = M / E I, with y = 0 at both ends and y' = 0 in the middle.
    const n = 20_000;
    const h = l / 2 / n;
    let [slope, y] = [0, 0];
    for (let k = n; k > 0; k--) {
      const x = (k - 0.5) * h;
      slope += ((f * x) / 2 / (e * i)) * h;
      y += slope * h;
    }
    const middle = offsetLoad(f, l, l / 2, e, i);
    expect(middle.deflection).toBeCloseTo(y, 3);
    expect(middle.moment).toBeCloseTo((f * l) / 4, 9);
  });
  it("a plate against Navier's series (Timoshenko, from memory)", () => {
    const [q, a, b, t, e, nu] = [0.005, 140, 70, 0.8, 70_000, 0.3];
    const d = (e * t ** 3) / (12 * (1 - nu ** 2));
    let w = 0;
    let moment = 0;
    for (let m = 1; m < 60; m += 2)
      for (let n = 1; n < 60; n += 2) {
        const s = Math.sin((m * Math.PI) / 2) * Math.sin((n * Math.PI) / 2);
        const k = (m / a) ** 2 + (n / b) ** 2;
        const term = ((16 * q) / (Math.PI ** 6 * d * m * n * k * k)) * s;
        w += term;
        moment += d * Math.PI ** 2 * ((n / b) ** 2 + nu * (m / a) ** 2) * term;
      }
    const found = evenPressure(q, [a, b], t, e);
    expect(found.deflection / w).toBeCloseTo(1, 2);
    expect(found.stress / bendingStress(moment, 1, t)).toBeCloseTo(1, 2);
  });
  it('clips that stand close press evenly, and far apart not at all midway', () => {
    expect(midwayShare(5, 15)).toBeCloseTo(1, 2);
    expect(midwayShare(30, 15)).toBeGreaterThan(0.85);
    expect(midwayShare(120, 15)).toBeLessThan(0.05);
  });
});

describe('liquid glue', () => {
  it.each(DEVICES)('%s: the bead has the volume of the film that it becomes', (id) => {
    const model = demoModel(id);
    for (const bond of model.anatomy.bonds) {
      const bead = beadOf(model, bond, 23);
      const section = (Math.PI / 4) * bead.width * bead.height;
      expect(section).toBeCloseTo(bead.spread * FILM, 9);
      expect(bead.millilitres * 1000).toBeCloseTo(section * bead.length, 6);
      const bore = (Math.PI / 4) * bead.nozzle.bore ** 2;
      expect(bead.nozzle.millimetres * bore).toBeCloseTo(bead.millilitres * 1000, 6);
      expect(bead.spread).toBeLessThanOrEqual(('width' in bond.at ? bond.at.width : Infinity) + 1e-9);
    }
  });
  it('keeps off what it must not reach', () => {
    const anatomy = structuredClone(demoModel('karnhold-mule-4').anatomy) as Anatomy;
    const model = modelOf(anatomy);
    const bead = beadOf(model, model.bonds.get('display-glue')!, 23);
    expect(bead.blocked.map((b) => b.part)).toEqual(expect.arrayContaining(['earpiece', 'proximity']));
    for (const line of bead.lines)
      for (const at of line)
        for (const { part } of bead.blocked) {
          const [x, y, w, h] = (model.parts.get(part)!.outline as { rect: [number, number, number, number] }).rect;
          // What it looks through: the middle of it.
          const rect: [number, number, number, number] = [x + w / 4, y + h / 4, w / 2, h / 2];
          const window = { rect, radius: 1 };
          expect(distanceTo(at, { outline: window })).toBeGreaterThanOrEqual(bead.keepOff - 0.001);
        }
  });
  it('sets as its sheet says at 23 °C, slower in the cold and in dry air, within four times', () => {
    const { glue } = CLOSING_BENCH;
    expect(settingOf(glue, 23, 50)).toEqual({ skin: 180, handle: 1800, cure: 86_400 });
    expect(settingOf(glue, 13, 50).handle).toBe(3600);
    expect(settingOf(glue, 23, 25).handle).toBe(3600);
    expect(settingOf({ ...glue, byMoisture: false }, 23, 25).handle).toBe(1800);
    expect(settingOf(glue, -20, 5).handle).toBe(7200);
  });
});
