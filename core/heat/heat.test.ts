import { describe, expect, it } from 'vitest';
import { demoModel } from '../../demo/models.ts';
import { areaOf, regionOf, type Model } from '../anatomy/index.ts';
import {
  alternativesTo,
  answersOf,
  calibrate,
  coldAgain,
  familyOf,
  follow,
  freeConductance,
  jetAt,
  LAG,
  LIMITS,
  MATERIALS,
  NoCalibration,
  NoHeat,
  PLATES,
  plateReadings,
  recipeFor,
  SAFETY_MARGIN,
  SCATTER,
  simulate,
  simulating,
  sourceOf,
  stackOf,
  stretchesOf,
  studentT95,
  takesPart,
  thermalDiffusivity,
  thermometer,
  ZONES,
  type HeatReading,
  type HeatRun,
  type SourceKind,
  type Stack,
  type Turn,
  type Where,
} from './index.ts';
import { coverage, gridOver } from './raster.ts';

/** A phone of 7.8 mm, glass over an aluminium frame. */
const quill = demoModel('velmora-quill-5');
const nacre = demoModel('pellworth-nacre-2');
const field = demoModel('tannbrook-field-3');
const broadleaf = demoModel('osterleigh-broadleaf-12');

const mean = (list: ArrayLike<number>): number => Array.from(list).reduce((a, b) => a + b, 0) / list.length;
function meanOf(stack: Stack, temperatures: Float32Array, where: Where): number {
  return mean(
    stack.seam.flatMap((s, i) =>
      where === 'whole' || (where === 'first-half' ? s.half === 'first' : s.edge === where) ? [temperatures[i]!] : [],
    ),
  );
}

/** A normal deviate from a repeatable draw (Box and Muller 1958, from memory). */
function normals(seed: number): () => number {
  let x = (seed * 2654435761) >>> 0 || 1;
  const uniform = () => {
    x ^= x << 13;
    x >>>= 0;
    x ^= x >>> 17;
    x ^= x << 5;
    x >>>= 0;
    return (x + 0.5) / 4294967296;
  };
  return () => Math.sqrt(-2 * Math.log(uniform())) * Math.cos(2 * Math.PI * uniform());
}

describe('materials and surroundings', () => {
  // Incropera & DeWitt, App. A (from memory): glass 1.0 to 1.4, aluminium alloy 168 to 177, air 0.0263 W/m·K at 300 K.
  it('stand in the published ranges', () => {
    expect(MATERIALS.glass.through).toBeGreaterThanOrEqual(1);
    expect(MATERIALS.glass.through).toBeLessThanOrEqual(1.4);
    expect(MATERIALS.aluminium.through).toBeGreaterThanOrEqual(168);
    expect(MATERIALS.aluminium.through).toBeLessThanOrEqual(177);
    expect(MATERIALS.air.through).toBe(0.0263);
    // Aluminium alloy 195 at 300 K: 68.2e-6 m²/s (Incropera & DeWitt, Table A.1, from memory).
    expect(thermalDiffusivity(MATERIALS.aluminium) * 1e6).toBeCloseTo(68.2, 0);
  });
  it('still air and radiation take 8 to 13 W/m²K from a warm phone', () => {
    // Free convection 2 to 25 and radiation about 6 W/m²K at room temperature (Incropera & DeWitt, Table 1.1 and ch. 1, from memory).
    const h = freeConductance(55, 22, 0.024);
    expect(h).toBeGreaterThan(8);
    expect(h).toBeLessThan(17);
    expect(freeConductance(22, 22, 0.024)).toBeCloseTo(5.25, 1);
  });
  it('a jet keeps its core and then fades', () => {
    const gun = sourceOf('gun');
    expect(jetAt({ ...gun, distance: 100 }, 22).temperature).toBe(gun.set);
    expect(jetAt({ ...gun, distance: 240 }, 22).temperature).toBeCloseTo(22 + (gun.set - 22) / 2, 9);
    expect(jetAt({ ...gun, distance: 240 }, 22).conductance).toBeLessThan(gun.conductance);
  });
});

describe('the grid', () => {
  it.each([
    ['a rounded rectangle', { rect: [3.3, 4.1, 40, 60] as [number, number, number, number], radius: 7 }],
    ['a circle', { circle: [30, 40, 12.7] as [number, number, number] }],
    [
      'an L',
      {
        polygon: [
          [5, 5],
          [50, 5],
          [50, 20],
          [20, 20],
          [20, 70],
          [5, 70],
        ] as [number, number][],
      },
    ],
  ])('covers %s with its area', (_, outline) => {
    const grid = gridOver(61, 83, 2.2);
    const region = regionOf(outline);
    expect((mean(coverage(grid, region)) * 61 * 83) / areaOf(region)).toBeCloseTo(1, 2);
  });
  it('leaves out holes', () => {
    const grid = gridOver(10, 10, 1);
    const ring: [number, number][] = [
      [1, 1],
      [9, 1],
      [9, 9],
      [1, 9],
    ];
    const hole: [number, number][] = [
      [3, 3],
      [7, 3],
      [7, 7],
      [3, 7],
    ];
    expect(mean(coverage(grid, [ring, hole])) * 100).toBeCloseTo(48, 6);
  });
  it('a grid of nothing is refused', () => expect(() => gridOver(10, 10, 0)).toThrow(/grid must be above 0/));
});

describe('the stack of a device', () => {
  it('has the layers, the cell and the seam of its anatomy', () => {
    const stack = stackOf(quill, 'display-seal');
    expect(stack.face).toBe('front');
    expect(stack.layers[stack.seamLayer]).toBe('front bond');
    // In all it is as thick as the body.
    expect(stack.block.dz.reduce((a, b) => a + b, 0) * 1000).toBeCloseTo(quill.anatomy.body.thickness, 6);
    const cellPieces = stack.layers.filter((l) => l.endsWith('interior')).length;
    const cellArea = (stack.zones.cell!.length / cellPieces) * stack.grid.dx * stack.grid.dy;
    expect(cellArea / (26 * 80)).toBeGreaterThan(0.9);
    expect(cellArea / (26 * 80)).toBeLessThan(1.1);
    // A seam of 68 × 143.8 mm, 1.2 mm in: every 4 mm.
    expect(stack.seam.length).toBeGreaterThan(95);
    expect(new Set(stack.seam.map((s) => s.edge))).toEqual(new Set(['top', 'right', 'bottom', 'left']));
  });
  it('a bond of the back is warmed from the back, one inside with what lies over it off', () => {
    expect(stackOf(nacre, 'back-seal')).toMatchObject({ face: 'back' });
    const inside = stackOf(quill, 'cell-tabs');
    expect(inside.face).toBe('back');
    expect(inside.layers).not.toContain('panel');
  });
  it('leaves out the gaps of a bond', () => {
    const gap = field.anatomy.bonds.find((b) => b.id === 'display-bond')!;
    expect(stretchesOf(field, gap).some((s) => s.edge === 'top' && s.at[0] > 28 && s.at[0] < 46)).toBe(false);
  });
  it.each([
    ['no-such', /no bond "no-such"/],
    ['camera-foam', /does not soften/],
  ])('%s has none, and says why', (bond, message) => {
    expect(() => stackOf(quill, bond)).toThrow(message);
    expect(() => stackOf(quill, bond)).toThrow(NoHeat);
  });
});

it('a thermometer with a time constant shows 63 % of a step after it (first-order lag, 1 − 1/e)', () => {
  const shown = thermometer(0.5, 4);
  expect(shown(20)).toBe(20);
  const after = Array.from({ length: 8 }, () => shown(70)).at(-1)!;
  expect((after - 20) / 50).toBeCloseTo(1 - Math.exp(-1), 6);
  expect([20, 70].map(thermometer(1, 0))).toEqual([20, 70]);
});

describe('heating, against the bench', () => {
  // Sanity case: 70 °C under a glass-and-aluminium phone of 7 to 8 mm, contact 100 to 150 W/m²K: the bond at the edge
  // has 55 to 65 °C after about 5 min, the cell some 8 to 12 °C behind (common practice).
  it.each([100, 125, 150])('a mat at 70 °C with %s W/m²K', (conductance) => {
    const stack = stackOf(quill, 'display-seal');
    const run = simulate(stack, [{ source: sourceOf('mat', { conductance }), where: 'whole', seconds: 300 }], {
      step: 2.5,
      frames: 1,
    });
    const bond = mean(run.seam.at(-1)!);
    const plane = stack.grid.nx * stack.grid.ny;
    const cell = mean(
      [...stack.zones.cell!]
        .filter((c) => Math.floor(c / plane) === stack.cellLayer)
        .map((c) => run.frames.at(-1)!.cell[c % plane]!),
    );
    expect(bond).toBeGreaterThan(55);
    expect(bond).toBeLessThan(65);
    expect(bond - cell).toBeGreaterThan(8);
    expect(bond - cell).toBeLessThan(12);
    expect(run.energyError).toBeLessThan(1e-3);
  });
  // Typical settings and times (common practice). Tapes give from 45 to 65 °C; one heating is rarely enough.
  it.each<[SourceKind, number, Where]>([
    ['mat', 300, 'whole'],
    ['pad', 360, 'whole'],
    ['gun', 120, 'first-half'],
    ['gel-pack', 120, 'left'],
  ])('%s: after its usual %s s the seam is where tapes begin to give', (kind, seconds, where) => {
    for (const [model, bond] of [
      [quill, 'display-seal'],
      [nacre, 'back-seal'],
      [field, 'display-bond'],
    ] as const) {
      const stack = stackOf(model, bond, { grid: 3 });
      const at = meanOf(stack, simulate(stack, [{ source: sourceOf(kind), where, seconds }]).seam.at(-1)!, where);
      expect(at, model.anatomy.id).toBeGreaterThan(45);
      expect(at, model.anatomy.id).toBeLessThan(65);
    }
  });
  it('a dryer works, and is slower than a gun', () => {
    const stack = stackOf(quill, 'display-seal', { grid: 3 });
    const after = (kind: SourceKind, seconds: number) =>
      meanOf(
        stack,
        simulate(stack, [{ source: sourceOf(kind), where: 'first-half', seconds }]).seam.at(-1)!,
        'first-half',
      );
    expect(after('dryer', 120)).toBeLessThan(after('gun', 120) - 5);
    expect(after('dryer', 600)).toBeGreaterThan(45);
  });
  it('the coarse grid of the search errs by little, and on the safe side: seam colder, cell warmer', () => {
    const at = (grid: number, step: number) => {
      const run = simulate(
        stackOf(quill, 'display-seal', { grid }),
        [{ source: sourceOf('mat'), where: 'whole', seconds: 300 }],
        { step },
      );
      return { seam: run.coldest.at(-1)!, cell: run.zones.cell!.at(-1)! };
    };
    const [coarse, fine] = [at(4, 5), at(2, 1)];
    expect(fine.seam - coarse.seam).toBeGreaterThan(-0.1);
    expect(fine.seam - coarse.seam).toBeLessThan(2);
    expect(coarse.cell - fine.cell).toBeGreaterThan(-0.1);
    expect(coarse.cell - fine.cell).toBeLessThan(2);
  });
  it('what was only warmed on one side is warmer there; a pack gives less and less', () => {
    const stack = stackOf(quill, 'display-seal', { grid: 4 });
    const run = simulate(stack, [{ source: sourceOf('gel-pack'), where: 'left', seconds: 900 }]);
    expect(meanOf(stack, run.seam[20]!, 'left')).toBeGreaterThan(meanOf(stack, run.seam[20]!, 'right') + 8);
    const left = run.seam.map((t) => meanOf(stack, t, 'left'));
    expect(Math.max(...left)).toBeGreaterThan(left.at(-1)! + 1);
  });
  it('a jet that is followed along its way warms every stretch about as one spread evenly over it', () => {
    for (const [model, bond] of [
      [quill, 'display-seal'],
      [nacre, 'back-seal'],
      [broadleaf, 'display-seal'],
    ] as const) {
      const stack = stackOf(model, bond, { grid: 4 });
      for (const where of ['first-half', 'last-half', 'top', 'left'] as const) {
        const after = (evenSweep: boolean) =>
          simulate(stack, [{ source: sourceOf('gun'), where, seconds: 120 }], { evenSweep }).seam.at(-1)!;
        const [followed, even] = [after(false), after(true)];
        for (const [i, stretch] of stack.seam.entries())
          if (takesPart(stretch, where))
            expect(
              Math.abs(followed[i]! - even[i]!),
              `${model.anatomy.id}, ${where}, at ${stretch.at.join(' ')}`,
            ).toBeLessThan(3);
      }
    }
  });
  it('goes step by step as it goes at once', () => {
    const stack = stackOf(field, 'display-bond', { grid: 8 });
    const turns: Turn[] = [
      { source: sourceOf('mat'), where: 'whole', seconds: 42 },
      { source: null, where: 'whole', seconds: 10 },
    ];
    const lengths: number[] = [];
    let last: HeatRun | null = null;
    for (const run of simulating(stack, turns, { step: 5 })) {
      lengths.push(run.times.length);
      last = run;
    }
    expect(lengths).toEqual(Array.from({ length: 12 }, (_, i) => i + 1));
    expect(last).toEqual(simulate(stack, turns, { step: 5 }));
    expect(last!.took).toEqual([42, 10]);
  });
  it('a slow sweep warms where it has been', () => {
    const stack = stackOf(quill, 'display-seal', { grid: 4 });
    const slow = { ...sourceOf('gun'), speed: 2 };
    const run = simulate(stack, [{ source: slow, where: 'left', seconds: 20 }], { step: 5 });
    const left = stack.seam.flatMap((s, i) => (s.edge === 'left' ? [{ y: s.at[1], t: run.seam.at(-1)![i]! }] : []));
    const swept = left.sort((a, b) => b.t - a.t)[0]!;
    expect(Math.abs(swept.y - left.reduce((a, b) => (b.y > a.y ? b : a)).y)).toBeLessThan(60);
  });
  it('warmed through the other face the seam comes after the cell', () => {
    const zones = (face?: 'front' | 'back') => {
      const run = simulate(stackOf(quill, 'display-seal', { grid: 4, face }), [
        { source: sourceOf('mat'), where: 'whole', seconds: 180 },
      ]);
      return { seam: run.coldest.at(-1)!, panel: run.zones.panel!.at(-1)! };
    };
    expect(zones('back').panel).toBeLessThan(zones().panel - 10);
    expect(zones('front')).toEqual(zones());
  });
  it('starts from the temperature that the device has, and rooms count', () => {
    const stack = stackOf(field, 'display-bond', { grid: 5 });
    const after = (options: { room?: number; start?: number }) =>
      simulate(stack, [{ source: sourceOf('mat'), where: 'whole', seconds: 120 }], options).coldest.at(-1)!;
    expect(after({ start: 40 })).toBeGreaterThan(after({}) + 3);
    expect(after({ room: 10, start: 22 })).toBeLessThan(after({}));
  });
  it('keeps pictures, evenly spread', () => {
    const run = simulate(
      stackOf(field, 'display-bond', { grid: 5 }),
      [{ source: sourceOf('mat'), where: 'whole', seconds: 200 }],
      { frames: 10 },
    );
    expect(run.frames).toHaveLength(11);
    expect(run.frames.at(-1)!.time).toBe(200);
  });
  it.each([
    [{ step: 0 }, /step must be above 0/],
    [{ room: 900 }, /room must be a temperature/],
  ])('%s is refused', (options, message) => {
    expect(() => simulate(stackOf(field, 'display-bond', { grid: 8 }), [], options)).toThrow(message);
  });
  it('a source beyond what it can do is refused', () => {
    expect(() => sourceOf('mat', { set: 400 })).toThrow(/set of the mat must be 40 to 90/);
    expect(() => sourceOf('mat', { conductance: -1 })).toThrow(/conductance of the mat must be above 0/);
  });
});

describe('what a heating means', () => {
  const stack = stackOf(quill, 'display-seal', { grid: 4 });
  const run = simulate(stack, [
    { source: sourceOf('mat', { set: 90 }), where: 'whole', seconds: 420 },
    { source: null, where: 'whole', seconds: 300 },
  ]);
  const answers = answersOf(run, 60, coldAgain(60), 420);
  it('says when each edge and the whole seam are soft', () => {
    expect(answers.softAt).toBeGreaterThan(60);
    for (const at of Object.values(answers.edgeSoftAt)) expect(at!).toBeLessThanOrEqual(answers.softAt! + 1e-9);
    expect(Math.max(...Object.values(answers.edgeSoftAt).map(Number))).toBeCloseTo(answers.softAt!, 9);
  });
  it('says how long it stays so, what is exceeded and when', () => {
    expect(answers.staysSoft).toBeGreaterThan(30);
    const stop = answers.exceeded.find((e) => e.zone === 'cell' && e.level === 'stop')!;
    expect(stop.peak).toBeGreaterThan(LIMITS.cell.stop);
    expect(answers.exceeded.findIndex((e) => e.zone === 'cell' && e.level === 'caution')).toBeLessThan(
      answers.exceeded.indexOf(stop),
    );
  });
  it('a seam that never gets there has no time', () =>
    expect(answersOf(run, 200, 190, 420)).toMatchObject({ softAt: null, staysSoft: null }));
});

describe('recipes', () => {
  it.each<[string, Model, string]>([
    ['Quill', quill, 'display-seal'],
    ['Field', field, 'display-bond'],
    ['Broadleaf', broadleaf, 'display-seal'],
  ])('%s: on a mat the whole seam softens, no limit is passed, and no hotter setting would do', (_, model, bond) => {
    const recipe = recipeFor(model, bond, { source: 'mat' });
    if (!recipe.ok) throw new Error(recipe.reason.code);
    const tablet = model.anatomy.kind === 'tablet';
    const stack = stackOf(model, bond, { grid: tablet ? 6 : 4 });
    const turns = (set: number) => [
      { source: sourceOf('mat', { set }), where: 'whole' as const, seconds: recipe.seconds },
      { source: null, where: 'whole' as const, seconds: 240 },
    ];
    const run = simulate(stack, turns(recipe.set));
    expect(Math.max(...run.coldest)).toBeGreaterThanOrEqual(recipe.softensAt - 0.2);
    for (const zone of ZONES)
      if (run.zones[zone])
        expect(Math.max(...run.zones[zone]), zone).toBeLessThanOrEqual(LIMITS[zone].stop - SAFETY_MARGIN + 0.2);
    if (recipe.set === sourceOf('mat').most) return;
    // One degree more passes a limit before the seam is soft and cooled again.
    const hotter = simulate(
      stack,
      [{ source: sourceOf('mat', { set: recipe.set + 1 }), where: 'whole', seconds: 900 }, turns(0 + recipe.set)[1]!],
      { until: (m) => m.turn === 0 && m.coldest >= recipe.softensAt },
    );
    expect(ZONES.some((z) => hotter.zones[z] && Math.max(...hotter.zones[z]) > LIMITS[z].stop - SAFETY_MARGIN)).toBe(
      true,
    );
  });
  it('a gun takes one half and then the other', () => {
    const recipe = recipeFor(demoModel('dunvey-pip-61'), 'window-tape', { source: 'gun' });
    expect(recipe).toMatchObject({ ok: true });
  });
  it('when none exists it says which limit stands against it, and solvent or another source is offered', () => {
    const gun = recipeFor(quill, 'display-seal', { source: 'gun' });
    expect(gun).toMatchObject({ ok: false, against: 'panel' });
    if (!gun.ok) expect(gun.reason).toEqual({ code: 'zone-too-hot-first', zone: 'panel', limit: 83, softensAt: 60 });
    const others = alternativesTo(quill, 'display-seal', { source: 'gun' });
    expect(others.some((r) => r.solvent)).toBe(true);
    expect(others.some((r) => r.source === 'mat')).toBe(true);
    expect(others.map((r) => r.seconds)).toEqual(others.map((r) => r.seconds).sort((a, b) => a - b));
    for (const r of others) expect(r.peaks.cell ?? 0).toBeLessThanOrEqual(LIMITS.cell.stop - SAFETY_MARGIN);
  });
  it('a source that is too cool is said to be', () => {
    expect(recipeFor(quill, 'display-seal', { source: 'dryer' })).toMatchObject({ ok: false, against: 'source' });
    expect(recipeFor(demoModel('karnhold-mule-4'), 'display-glue', { source: 'mat' })).toMatchObject({ ok: false });
  });
  it('solvent lets it give sooner, a cold room later', () => {
    const seconds = (request: object) => {
      const r = recipeFor(quill, 'display-seal', { source: 'pad', ...request });
      return r.ok ? r.seconds : Number.POSITIVE_INFINITY;
    };
    expect(seconds({ solvent: true })).toBeLessThan(seconds({}));
    expect(seconds({ room: 12 })).toBeGreaterThan(seconds({}));
    // A worse contact takes longer.
    expect(seconds({ own: { pad: { conductance: 90 } } })).toBeGreaterThan(seconds({}));
  });
});

describe('calibration', () => {
  const plate = PLATES[0]!;
  const times = Array.from({ length: 40 }, (_, i) => 10 + i * 10);
  it('recovers a known conductance from noisy readings within its 95 % interval in at least 90 of 100 seeds', () => {
    let held = 0;
    for (let seed = 1; seed <= 100; seed++) {
      const normal = normals(seed);
      const truth = 80 + (seed % 10) * 9;
      const clean = plateReadings(plate, { ...sourceOf('mat'), conductance: truth }, times, { lag: 4 });
      const fit = calibrate(
        times.map((time, i) => ({ time, temperature: clean[i]! + 0.4 * normal() })),
        plate,
        sourceOf('mat'),
        { lag: 4 },
      );
      expect(Math.abs(fit.conductance / truth - 1)).toBeLessThan(0.1);
      if (fit.low <= truth && truth <= fit.high) held++;
    }
    expect(held).toBeGreaterThanOrEqual(90);
  });
  it.each<SourceKind>(['pad', 'gun', 'gel-pack', 'dryer'])('finds the value of a %s without noise', (kind) => {
    const source = sourceOf(kind);
    const clean = plateReadings(PLATES[1]!, { ...source, conductance: source.conductance * 0.7 }, times);
    const fit = calibrate(
      times.map((time, i) => ({ time, temperature: clean[i]! })),
      PLATES[1]!,
      source,
    );
    expect(fit.conductance).toBeCloseTo(source.conductance * 0.7, 2);
    expect(fit.deviation).toBeLessThan(1e-3);
  });
  it('a lumped plate follows e^(−t/τ)', () => {
    // Lumped body, Bi < 0.1 (Incropera & DeWitt, ch. 5): 4 mm of aluminium under 120 W/m²K with losses left out of the room.
    const m = MATERIALS.aluminium;
    const tau = (m.density * m.specificHeat * 0.004) / 120;
    const [at] = plateReadings(plate, sourceOf('mat'), [tau / 4], { room: 22 });
    expect((at! - 22) / 48).toBeGreaterThan((1 - Math.exp(-0.25)) * 0.95);
    expect((at! - 22) / 48).toBeLessThan(1 - Math.exp(-0.25));
  });
  // Student's t, two-sided 95 %: 2.228 for 10 and 2.042 for 30 degrees of freedom (Abramowitz & Stegun, Table 26.10).
  it('has the quantiles of Student', () => {
    expect(studentT95(10)).toBeCloseTo(2.228, 2);
    expect(studentT95(30)).toBeCloseTo(2.042, 3);
  });
  it.each<[string, { time: number; temperature: number }[], RegExp]>([
    ['too few', [{ time: 1, temperature: 22 }], /1 readings are too few/],
    ['out of order', [5, 4, 6, 7, 8].map((time) => ({ time, temperature: 22 + time })), /must come after 5 s/],
    ['a thermometer that lies', [1, 2, 3, 4, 5].map((time) => ({ time, temperature: 900 })), /must be °C/],
    ['a plate that stays cold', [10, 20, 30, 40, 50].map((time) => ({ time, temperature: 22 })), /warms by only 0.0 K/],
  ])('%s is refused, with where', (_, readings, message) => {
    expect(() => calibrate(readings, plate, sourceOf('mat'))).toThrow(message);
    expect(() => calibrate(readings, plate, sourceOf('mat'))).toThrow(NoCalibration);
  });
});

describe('following a heating by its readings', () => {
  const stack = stackOf(quill, 'display-seal', { grid: 5 });
  const source = sourceOf('mat', { set: 85 });
  const family = familyOf(stack, source, 60, { longest: 600 });
  /** What thermometers with lag and scatter say of a mat better or worse than assumed. */
  function readings(factor: number, seed: number): HeatReading[] {
    const run = simulate(stackOf(quill, 'display-seal', { grid: 4 }), [
      { source: { ...source, conductance: source.conductance * factor }, where: 'whole', seconds: 600 },
    ]);
    const normal = normals(seed);
    const back = run.backMiddle.map(thermometer(5, LAG.back));
    const seam = run.seam.map((t) => mean(t)).map(thermometer(5, LAG.seam));
    return run.times.map((time, i) => ({
      time,
      back: back[i]! + SCATTER.back * normal(),
      seam: seam[i]! + SCATTER.seam * normal(),
    }));
  }
  it('before any reading it says what the recipe says', () => {
    const start = follow(family, [], 0);
    expect(start.factor).toBeCloseTo(1, 3);
    expect(start.uncertainty).toBeCloseTo(0.25, 2);
    expect(start.state).toBe('heating');
  });
  it.each([0.7, 0.85, 1.2, 1.4])('a source of %s times the contact is found out, and the time corrected', (factor) => {
    const all = readings(factor, 7);
    const early = follow(
      family,
      all.filter((r) => r.time <= 60),
      60,
    );
    expect(Math.abs(early.factor / factor - 1)).toBeLessThan(0.15);
    expect(early.uncertainty).toBeLessThan(0.1);
    const plain = follow(family, [], 60);
    if (factor < 1) expect(early.softAt ?? 9999).toBeGreaterThan(plain.softAt!);
    else expect(early.softAt!).toBeLessThan(plain.softAt!);
  });
  it('is soft when the coldest stretch is, warns before a limit and sounds the alarm at it', () => {
    const all = readings(1.2, 3);
    const states = Array.from({ length: 60 }, (_, i) => (i + 1) * 10).map(
      (now) =>
        follow(
          family,
          all.filter((r) => r.time <= now),
          now,
        ).state,
    );
    expect(states[0]).toBe('heating');
    expect(states).toContain('warning');
    expect(states).toContain('alarm');
    expect(states.indexOf('warning')).toBeLessThan(states.indexOf('alarm'));
    const alarm = follow(family, all, 600);
    expect(alarm.zone).toBe('cell');
    expect(alarm.zones.cell).toBeGreaterThan(LIMITS.cell.stop - 1);
  });
});
