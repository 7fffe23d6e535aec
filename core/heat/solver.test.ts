import { describe, expect, it } from 'vitest';
import { seededDraw } from '../../demo/synthetic.ts';
import { checkBlock, Conduction, uniformBlock, uniformSurface, type Block, type Surfaces } from './solver.ts';

const insulated = (cells: number) => uniformSurface(cells, 0, 0);

/** Half of a plane wall of half-thickness L = 1 m, α = 1 m²/s, k = 1, cooled at one face; temperatures from 1 to 0. */
function wall(biot: number, nz: number, dt: number, time: number): { middle: number; mean: number } {
  const block = uniformBlock({ nx: 1, ny: 1, nz, dx: 1, dy: 1, dz: 1 / nz }, { inPlane: 1, through: 1, capacity: 1 });
  const heat = new Conduction(block, 1);
  const surfaces: Surfaces = { front: insulated(1), back: uniformSurface(1, biot, 0), side: null };
  for (let i = 0; i < Math.round(time / dt); i++) heat.step(dt, surfaces);
  // To the very middle from the two nearest cells, whose profile is flat there.
  const middle = (9 * heat.temperature[0]! - heat.temperature[1]!) / 8;
  return { middle, mean: heat.temperature.reduce((a, b) => a + b, 0) / nz };
}

describe('against what is known', () => {
  // Plane wall, one-term transient: θ₀ = C₁ e^(−ζ₁² Fo). ζ₁ and C₁ from Incropera & DeWitt, Table 5.1 (from memory).
  it.each([
    [0.1, 0.3111, 1.016, 2],
    [1, 0.8603, 1.1191, 0.6],
    [10, 1.4289, 1.262, 0.4],
    [1e7, 1.5708, 1.2733, 0.4],
  ])('plane wall, Bi = %s', (biot, zeta, c1, fourier) => {
    expect(wall(biot, 60, 0.0005, fourier).middle).toBeCloseTo(c1 * Math.exp(-zeta * zeta * fourier), 2);
  });
  // Semi-infinite solid with a step at its surface: (T − Ti)/(Ts − Ti) = erfc(x / 2√(αt)); erfc(0.5) = 0.4795
  // (Carslaw & Jaeger; Abramowitz & Stegun, Table 7.1).
  it('semi-infinite solid', () => {
    const nz = 400;
    const block = uniformBlock({ nx: 1, ny: 1, nz, dx: 1, dy: 1, dz: 0.01 }, { inPlane: 1, through: 1, capacity: 1 });
    const heat = new Conduction(block, 0);
    for (let i = 0; i < 1000; i++)
      heat.step(0.0001, { front: uniformSurface(1, 1e9, 1), back: insulated(1), side: null });
    const x = Math.sqrt(0.1);
    const at = x / 0.01 - 0.5;
    const low = Math.floor(at);
    const value = heat.temperature[low]! + (heat.temperature[low + 1]! - heat.temperature[low]!) * (at - low);
    expect(value).toBeCloseTo(0.4795, 3);
  });
  // Lumped body: e^(−t/τ), τ = ρcV/(hA), for Bi < 0.1 (Incropera & DeWitt, ch. 5).
  it('lumped body', () => {
    const block = uniformBlock(
      { nx: 1, ny: 1, nz: 4, dx: 1, dy: 1, dz: 0.002 },
      { inPlane: 200, through: 200, capacity: 2.4e6 },
    );
    const heat = new Conduction(block, 70);
    const tau = (2.4e6 * 0.008) / 20;
    for (let i = 0; i < 2000; i++)
      heat.step(tau / 2000, { front: uniformSurface(1, 10, 20), back: uniformSurface(1, 10, 20), side: null });
    expect((heat.temperature[0]! - 20) / 50).toBeCloseTo(Math.exp(-1), 3);
  });
  it('a block cooled on two sides is the product of two plane walls', () => {
    const n = 24;
    const block = uniformBlock(
      { nx: n, ny: 1, nz: n, dx: 2 / n, dy: 1, dz: 1 / n },
      { inPlane: 1, through: 1, capacity: 1 },
    );
    const heat = new Conduction(block, 1);
    // Sides at both ends of x (a whole wall of half-thickness 1), the back through z.
    const side = { conductance: 2, temperature: 0 };
    // The sweep along y meets the sides too: they are shut off by a single, very wide cell.
    block.dy = 1e9;
    for (let i = 0; i < 400; i++) heat.step(0.001, { front: insulated(n), back: uniformSurface(n, 2, 0), side });
    const one = wall(2, n, 0.001, 0.4);
    const corner = heat.temperature[Math.floor(n / 2)]!;
    expect(corner).toBeCloseTo(one.middle * one.middle, 2);
  });
  it('the error falls with the square of the grid', () => {
    const exact = wall(1, 320, 0.0005, 0.2).mean;
    const errors = [5, 10, 20].map((n) => Math.abs(wall(1, n, 0.0005, 0.2).mean - exact));
    const order = [Math.log2(errors[0]! / errors[1]!), Math.log2(errors[1]! / errors[2]!)];
    for (const o of order) expect(o).toBeGreaterThan(1.8);
  });
});

describe('whatever it is made of', () => {
  /** A block of made-up stuff with contact resistance, heated from both faces and cooled at its sides. */
  function patchwork(seed: number): { block: Block; surfaces: Surfaces } {
    const draw = seededDraw(seed);
    const [nx, ny, nz] = [2 + draw(6), 2 + draw(6), 2 + draw(5)];
    const block = uniformBlock(
      { nx, ny, nz, dx: 0.002, dy: 0.003, dz: 0.001 },
      { inPlane: 1, through: 1, capacity: 1e6 },
    );
    for (let i = 0; i < block.inPlane.length; i++) {
      block.inPlane[i] = 0.02 + draw(2000) / 10;
      block.through[i] = 0.02 + draw(100) / 10;
      block.capacity[i] = 1e3 + draw(3_000_000);
    }
    block.contact.fill(draw(100) / 1e6);
    return {
      block,
      surfaces: {
        front: uniformSurface(nx * ny, 10 + draw(150), 70),
        back: uniformSurface(nx * ny, draw(12), 22),
        side: { conductance: 1 + draw(12), temperature: 22 },
      },
    };
  }
  it('energy is conserved to a thousandth, and far better', () => {
    for (let seed = 1; seed < 40; seed++) {
      const { block, surfaces } = patchwork(seed);
      const heat = new Conduction(block, 22);
      const before = heat.energy();
      for (let i = 0; i < 50; i++) heat.step(4, surfaces);
      const gained = heat.energy() - before;
      expect(Math.abs(gained - heat.absorbed)).toBeLessThan(1e-9 * Math.max(1, Math.abs(gained)) + 1e-7);
    }
  });
  it('no temperature leaves the range of what it meets, however long the step', () => {
    for (let seed = 40; seed < 70; seed++) {
      const { block, surfaces } = patchwork(seed);
      const heat = new Conduction(block, 22);
      for (const dt of [0.1, 10, 1000, 1e6]) {
        heat.step(dt, surfaces);
        for (const t of heat.temperature) {
          expect(t).toBeGreaterThanOrEqual(22 - 1e-6);
          expect(t).toBeLessThanOrEqual(70 + 1e-6);
        }
      }
    }
  });
  it('the mirror of a block is warmed as the mirror of its temperatures, of every number of lines', () => {
    for (let seed = 70; seed < 130; seed++) {
      const { block, surfaces } = patchwork(seed);
      const { nx, ny } = block;
      for (const across of [true, false]) {
        const mirror = (at: number) => {
          const [x, y, z] = [at % nx, Math.floor(at / nx) % ny, Math.floor(at / (nx * ny))];
          return (z * ny + (across ? y : ny - 1 - y)) * nx + (across ? nx - 1 - x : x);
        };
        const mirrored = (list: Float64Array) => list.map((_, at) => list[mirror(at)]!);
        const other: Block = {
          ...block,
          inPlane: mirrored(block.inPlane),
          through: mirrored(block.through),
          capacity: mirrored(block.capacity),
        };
        const [one, two] = [new Conduction(block, 22), new Conduction(other, 22)];
        for (let i = 0; i < 10; i++) for (const heat of [one, two]) heat.step(3, surfaces);
        one.temperature.forEach((t, at) => expect(two.temperature[mirror(at)]).toBeCloseTo(t, 9));
      }
    }
  });
  it('a symmetric block stays symmetric', () => {
    const block = uniformBlock(
      { nx: 9, ny: 9, nz: 3, dx: 0.002, dy: 0.002, dz: 0.001 },
      { inPlane: 2, through: 1, capacity: 2e6 },
    );
    const heat = new Conduction(block, 20);
    for (let i = 0; i < 20; i++)
      heat.step(1, {
        front: uniformSurface(81, 120, 70),
        back: insulated(81),
        side: { conductance: 10, temperature: 20 },
      });
    expect(heat.temperature[0]).toBeCloseTo(heat.temperature[8]!, 9);
    expect(heat.temperature[0]).toBeCloseTo(heat.temperature[72]!, 1);
  });
  it.each<[string, (b: Block) => void, RegExp]>([
    [
      'no layers',
      (b) => {
        b.nz = 0;
      },
      /nz must be/,
    ],
    [
      'a length of nothing',
      (b) => {
        b.dx = 0;
      },
      /dx must be/,
    ],
    [
      'a void',
      (b) => {
        b.through[3] = 0;
      },
      /through\[3\]/,
    ],
    [
      'too few cells',
      (b) => {
        b.capacity = new Float64Array(2);
      },
      /capacity has 2 cells/,
    ],
  ])('%s is refused', (_, spoil, message) => {
    const block = uniformBlock({ nx: 2, ny: 2, nz: 2, dx: 1, dy: 1, dz: 1 }, { inPlane: 1, through: 1, capacity: 1 });
    spoil(block);
    expect(() => checkBlock(block)).toThrow(message);
  });
});
