import { describe, expect, it } from 'vitest';
import { seededDraw } from '../../demo/synthetic.ts';
import {
  FIT_POINTS,
  judgeFit,
  leakOf,
  STANDARD_AIR,
  type DecaySample,
  type FitPoint,
  type FitReadings,
} from './index.ts';

const PLACE: Record<FitPoint, [number, number]> = {
  'top-left': [-1, -1],
  top: [0, -1],
  'top-right': [1, -1],
  right: [1, 0],
  'bottom-right': [1, 1],
  bottom: [0, 1],
  'bottom-left': [-1, 1],
  left: [-1, 0],
};
const readings = (
  step: (x: number, y: number, at: FitPoint) => number,
  gap: (x: number, y: number) => number = () => 0.15,
): FitReadings =>
  Object.fromEntries(
    FIT_POINTS.map((at) => [at, { step: step(...PLACE[at], at), gap: gap(...PLACE[at]) }]),
  ) as FitReadings;

/** Normal noise by Box and Muller. */
function normal(draw: (below: number) => number): () => number {
  const even = () => (draw(1_000_000) + 0.5) / 1_000_000;
  return () => Math.sqrt(-2 * Math.log(even())) * Math.cos(2 * Math.PI * even());
}

describe('the fit of a panel', () => {
  const cases: [string, FitReadings, string | null][] = [
    ['flush all round', readings(() => 0.02), null],
    ['a swollen cell', readings((x, y) => (x === 0 || y === 0 ? 0.3 : 0.02)), 'swollen-cell'],
    ['a twisted frame', readings((x, y) => 0.2 * x * y), 'bent-frame'],
    ['liners left on', readings(() => 0.15), 'liner-left'],
    ['a flex under one corner', readings((_x, _y, at) => (at === 'bottom-left' ? 0.4 : 0.01)), 'flex-pinched'],
    ['one side pressed less', readings((x) => 0.02 + 0.12 * x), 'pressed-unevenly'],
    [
      'a frame pulled wide',
      readings(
        () => 0.02,
        (x) => 0.15 + 0.35 * Math.max(0, x),
      ),
      'bent-frame',
    ],
  ];
  it.each(cases)('%s', (_, given, cause) => {
    const verdict = judgeFit(given, [70, 145]);
    expect(verdict.flush).toBe(cause === null);
    expect(verdict.says[0]?.cause ?? null).toBe(cause);
  });
  it('is told under the noise of a caliper, nine times in ten', () => {
    const noise = normal(seededDraw(8));
    for (const [name, given, cause] of cases) {
      let right = 0;
      for (let k = 0; k < 100; k++) {
        const noisy = Object.fromEntries(
          FIT_POINTS.map((at) => [
            at,
            { gap: Math.max(0, given[at].gap + 0.015 * noise()), step: given[at].step + 0.015 * noise() },
          ]),
        ) as FitReadings;
        if ((judgeFit(noisy, [70, 145]).says[0]?.cause ?? null) === cause) right++;
      }
      expect(right, name).toBeGreaterThanOrEqual(90);
    }
  });
  it('the tilt is a plane, and the worst step is named', () => {
    const verdict = judgeFit(
      readings((x, y) => 0.05 + 0.1 * x - 0.02 * y),
      [70, 140],
    );
    expect(verdict.plane.across).toBeCloseTo(0.2, 9);
    expect(verdict.plane.down).toBeCloseTo(-0.04, 9);
    expect(verdict.plane.degrees).toBeCloseTo((Math.atan(Math.hypot(0.2 / 70, 0.04 / 140)) * 180) / Math.PI, 9);
    expect(verdict.worst).toEqual({ at: 'top-right', step: expect.closeTo(0.17, 9) });
  });
  it('what is no measure is refused with its place', () => {
    const bad = { ...readings(() => 0), left: { gap: Number.NaN, step: 0 } };
    expect(() => judgeFit(bad, [70, 140])).toThrow(/^left:/);
  });
});

/** A chamber that leaks: the ideal gas law forward in time, by another way than the fit. */
function chamber(
  leakMlMin: number,
  { kelvinPerSecond = 0, noise = 0, seed = 1, seconds = 120, air = STANDARD_AIR, ml = 40, start = 5000 } = {},
): DecaySample[] {
  const random = normal(seededDraw(seed));
  // The leak goes with the pressure above the air: its conductance from the leak at the begin.
  const rate = ((leakMlMin / 60) * air) / ml / start;
  return Array.from({ length: seconds + 1 }, (_, t) => {
    const celsius = 22 + kelvinPerSecond * t;
    const cold = start * Math.exp(-rate * t);
    const warm = (cold + air) * ((celsius + 273.15) / (22 + 273.15)) - air;
    return { seconds: t, pascal: warm + noise * random(), celsius };
  });
}

describe('the pressure-decay tester', () => {
  it('gives the leak, Q = V · Δp/Δt (ideal gas law), with the drift of temperature taken out', () => {
    for (const drift of [-0.002, 0, 0.003])
      for (const leak of [0.05, 0.5, 3]) {
        const found = leakOf(chamber(leak, { kelvinPerSecond: drift }), { millilitres: 40, limit: 1 });
        expect(found.leak / leak).toBeCloseTo(1, 4);
      }
  });
  it('its 95 % interval holds the leak in 93.5 to 96.5 % of 2,000 seeds, with drift', () => {
    let within = 0;
    for (let seed = 0; seed < 2000; seed++) {
      const drift = ((seed % 7) - 3) * 0.0008;
      const found = leakOf(chamber(0.4, { kelvinPerSecond: drift, noise: 6, seed: seed + 1, seconds: 60 }), {
        millilitres: 40,
        limit: 1,
      });
      if (Math.abs(found.leak - 0.4) <= found.half) within++;
    }
    expect(within / 2000).toBeGreaterThanOrEqual(0.935);
    expect(within / 2000).toBeLessThanOrEqual(0.965);
  });
  it('passes, fails, and says when it cannot tell; it never certifies a rating', () => {
    const outcome = (leak: number, noise: number) =>
      leakOf(chamber(leak, { noise, seconds: 40 }), { millilitres: 40, limit: 0.5 });
    expect(outcome(0.1, 2).outcome).toBe('pass');
    expect(outcome(1.5, 2).outcome).toBe('fail');
    expect(outcome(0.5, 20).outcome).toBe('not-told');
    expect(outcome(0.1, 2).because).toMatch(/never certified/);
  });
  it('too few readings, no volume and time that stands still are refused', () => {
    const good = chamber(0.4);
    expect(() => leakOf(good.slice(0, 5), { millilitres: 40, limit: 1 })).toThrow(/at least 8/);
    expect(() => leakOf(good, { millilitres: 0, limit: 1 })).toThrow(/volume/);
    expect(() => leakOf([...good, good[0]!], { millilitres: 40, limit: 1 })).toThrow(/go on/);
  });
});
