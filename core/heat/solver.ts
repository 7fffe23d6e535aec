/**
 * Transient conduction on a plane grid times layers. Cell (x, y, z) has index (z · ny + y) · nx + x; z = 0 is the
 * front. Lengths in m, times in s, temperatures in °C.
 */
export interface Block {
  nx: number;
  ny: number;
  nz: number;
  dx: number;
  dy: number;
  /** Thickness of each layer. */
  dz: Float64Array;
  /** Conductivity in the plane and through it, W/m·K, by cell. */
  inPlane: Float64Array;
  through: Float64Array;
  /** Heat capacity by volume, J/m³·K, by cell. */
  capacity: Float64Array;
  /** Thermal resistance of the joint below each layer, m²K/W; the last one is not used. */
  contact: Float64Array;
}

/** What a surface meets: a conductance in W/m²K and the temperature behind it, by cell of that surface. */
export interface Surface {
  conductance: Float64Array;
  temperature: Float64Array;
}

export interface Surfaces {
  front: Surface;
  back: Surface;
  /** All four sides alike; `null` is insulated. */
  side: { conductance: number; temperature: number } | null;
}

/** @throws Error naming the first size or number that makes no sense */
export function checkBlock(b: Block): void {
  for (const [name, value] of [['nx', b.nx], ['ny', b.ny], ['nz', b.nz]] as const) if (!Number.isInteger(value) || value < 1) throw new Error(`${name} must be a whole number of at least 1, not ${value}`);
  for (const [name, value] of [['dx', b.dx], ['dy', b.dy]] as const) if (!(value > 0)) throw new Error(`${name} must be a length above 0, not ${value}`);
  const n = b.nx * b.ny * b.nz;
  if (b.dz.length !== b.nz || b.contact.length !== b.nz) throw new Error(`there must be ${b.nz} layers`);
  for (const [name, array] of [['inPlane', b.inPlane], ['through', b.through], ['capacity', b.capacity]] as const) {
    if (array.length !== n) throw new Error(`${name} has ${array.length} cells, not ${n}`);
    const bad = array.findIndex((v) => !(v > 0));
    if (bad >= 0) throw new Error(`${name}[${bad}] must be above 0, not ${array[bad]}`);
  }
}

/** Solves a tridiagonal system in place (Thomas): `upper` and `right` are overwritten, the solution is left in `right`. */
function thomas(n: number, lower: Float64Array, diagonal: Float64Array, upper: Float64Array, right: Float64Array): void {
  upper[0] = upper[0]! / diagonal[0]!;
  right[0] = right[0]! / diagonal[0]!;
  for (let i = 1; i < n; i++) {
    const m = 1 / (diagonal[i]! - lower[i]! * upper[i - 1]!);
    upper[i] = upper[i]! * m;
    right[i] = (right[i]! - lower[i]! * right[i - 1]!) * m;
  }
  for (let i = n - 2; i >= 0; i--) right[i] = right[i]! - upper[i]! * right[i + 1]!;
}

/**
 * A stepper over one block. Locally one-dimensional splitting: an implicit sweep through the thickness, then along
 * x, then along y, so that any step is stable and every sweep conserves energy to rounding (Yanenko 1971, from
 * memory). First order in time, second in space.
 */
export class Conduction {
  readonly temperature: Float64Array;
  /** Heat taken in through all surfaces so far, J. */
  absorbed = 0;
  private readonly lower: Float64Array;
  private readonly diagonal: Float64Array;
  private readonly upper: Float64Array;
  private readonly right: Float64Array;

  constructor(readonly block: Block, start: number) {
    checkBlock(block);
    this.temperature = new Float64Array(block.nx * block.ny * block.nz).fill(start);
    const longest = Math.max(block.nx, block.ny, block.nz);
    this.lower = new Float64Array(longest);
    this.diagonal = new Float64Array(longest);
    this.upper = new Float64Array(longest);
    this.right = new Float64Array(longest);
  }

  /** Heat content above 0 °C, J. */
  energy(): number {
    const { nx, ny, dx, dy, dz, capacity } = this.block;
    let sum = 0;
    for (let i = 0; i < capacity.length; i++) sum += capacity[i]! * this.temperature[i]! * dz[Math.floor(i / (nx * ny))]!;
    return sum * dx * dy;
  }

  /** @param dt seconds, any length */
  step(dt: number, surfaces: Surfaces): void {
    this.sweepThrough(dt, surfaces);
    this.sweepPlane(dt, surfaces.side, true);
    this.sweepPlane(dt, surfaces.side, false);
  }

  private sweepThrough(dt: number, { front, back }: Surfaces): void {
    const { nx, ny, nz, dx, dy, dz, through, capacity, contact } = this.block;
    const { lower, diagonal, upper, right, temperature } = this;
    const plane = nx * ny;
    for (let p = 0; p < plane; p++) {
      const half = (z: number) => dz[z]! / (2 * through[z * plane + p]!);
      // A surface meets the middle of the outermost cell through half its thickness.
      const gFront = front.conductance[p]! > 0 ? 1 / (1 / front.conductance[p]! + half(0)) : 0;
      const gBack = back.conductance[p]! > 0 ? 1 / (1 / back.conductance[p]! + half(nz - 1)) : 0;
      let above = 0;
      for (let z = 0; z < nz; z++) {
        const below = z + 1 < nz ? 1 / (half(z) + contact[z]! + half(z + 1)) : 0;
        const mass = (capacity[z * plane + p]! * dz[z]!) / dt;
        lower[z] = -above;
        upper[z] = -below;
        diagonal[z] = mass + above + below;
        right[z] = mass * temperature[z * plane + p]!;
        above = below;
      }
      diagonal[0] = diagonal[0]! + gFront;
      right[0] = right[0]! + gFront * front.temperature[p]!;
      diagonal[nz - 1] = diagonal[nz - 1]! + gBack;
      right[nz - 1] = right[nz - 1]! + gBack * back.temperature[p]!;
      thomas(nz, lower, diagonal, upper, right);
      for (let z = 0; z < nz; z++) temperature[z * plane + p] = right[z]!;
      this.absorbed += dt * dx * dy * (gFront * (front.temperature[p]! - right[0]!) + gBack * (back.temperature[p]! - right[nz - 1]!));
    }
  }

  private sweepPlane(dt: number, side: Surfaces['side'], alongX: boolean): void {
    const { nx, ny, nz, dx, dy, dz, inPlane, capacity } = this.block;
    const { lower, diagonal, upper, right, temperature } = this;
    const [n, lines, d, across] = alongX ? [nx, ny, dx, dy] : [ny, nx, dy, dx];
    if (n === 1 && side === null) return;
    const stride = alongX ? 1 : nx;
    for (let z = 0; z < nz; z++) for (let line = 0; line < lines; line++) {
      const base = z * nx * ny + (alongX ? line * nx : line);
      let before = 0;
      for (let i = 0; i < n; i++) {
        const at = base + i * stride;
        const k = inPlane[at]!;
        const after = i + 1 < n ? (2 * k * inPlane[at + stride]!) / (k + inPlane[at + stride]!) / d : 0;
        const mass = (capacity[at]! * d) / dt;
        lower[i] = -before;
        upper[i] = -after;
        diagonal[i] = mass + before + after;
        right[i] = mass * temperature[at]!;
        before = after;
      }
      const ends: number[] = [];
      if (side) for (const i of n === 1 ? [0, 0] : [0, n - 1]) {
        const g = 1 / (1 / side.conductance + d / (2 * inPlane[base + i * stride]!));
        diagonal[i] = diagonal[i]! + g;
        right[i] = right[i]! + g * side.temperature;
        ends.push(i, g);
      }
      thomas(n, lower, diagonal, upper, right);
      for (let i = 0; i < n; i++) temperature[base + i * stride] = right[i]!;
      for (let e = 0; e < ends.length; e += 2) this.absorbed += dt * across * dz[z]! * ends[e + 1]! * (side!.temperature - right[ends[e]!]!);
    }
  }
}

/** A block of one material, for checks and simple cases. */
export function uniformBlock(size: { nx: number; ny: number; nz: number; dx: number; dy: number; dz: number }, material: { inPlane: number; through: number; capacity: number }): Block {
  const n = size.nx * size.ny * size.nz;
  return {
    ...size, dz: new Float64Array(size.nz).fill(size.dz), contact: new Float64Array(size.nz),
    inPlane: new Float64Array(n).fill(material.inPlane), through: new Float64Array(n).fill(material.through), capacity: new Float64Array(n).fill(material.capacity),
  };
}

export function uniformSurface(cells: number, conductance: number, temperature: number): Surface {
  return { conductance: new Float64Array(cells).fill(conductance), temperature: new Float64Array(cells).fill(temperature) };
}
