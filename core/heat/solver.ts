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
  for (const [name, value] of [
    ['nx', b.nx],
    ['ny', b.ny],
    ['nz', b.nz],
  ] as const)
    if (!Number.isInteger(value) || value < 1)
      throw new Error(`${name} must be a whole number of at least 1, not ${value}`);
  for (const [name, value] of [
    ['dx', b.dx],
    ['dy', b.dy],
  ] as const)
    if (!(value > 0)) throw new Error(`${name} must be a length above 0, not ${value}`);
  const n = b.nx * b.ny * b.nz;
  if (b.dz.length !== b.nz || b.contact.length !== b.nz) throw new Error(`there must be ${b.nz} layers`);
  for (const [name, array] of [
    ['inPlane', b.inPlane],
    ['through', b.through],
    ['capacity', b.capacity],
  ] as const) {
    if (array.length !== n) throw new Error(`${name} has ${array.length} cells, not ${n}`);
    const bad = array.findIndex((v) => !(v > 0));
    if (bad >= 0) throw new Error(`${name}[${bad}] must be above 0, not ${array[bad]}`);
  }
}

/** Columns swept together. Origin: measured here; about half a megabyte of factors. */
const COLUMNS = 1024;

/**
 * A tridiagonal system taken apart once for many right-hand sides (Thomas): forwards `x[i] = own[i] · x[i] +
 * before[i] · x[i−1]`, then backwards `x[i] += upper[i] · x[i+1]`.
 */
interface Factors {
  own: Float64Array;
  before: Float64Array;
  upper: Float64Array;
}

const factors = (n: number): Factors => ({
  own: new Float64Array(n),
  before: new Float64Array(n),
  upper: new Float64Array(n),
});

/**
 * A stepper over one block. Locally one-dimensional splitting: an implicit sweep through the thickness, then along
 * x, then along y, so that any step is stable and every sweep conserves energy to rounding (Yanenko 1971, from
 * memory). First order in time, second in space. The systems are factored when the step or the surfaces change.
 */
export class Conduction {
  readonly temperature: Float64Array;
  /** Heat taken in through all surfaces so far, J. */
  absorbed = 0;
  /** Heat capacity by area, J/m²K. */
  private readonly mass: Float64Array;
  /** Conductance to the next cell down, along x and along y; W/m²K. */
  private readonly downward: Float64Array;
  private readonly alongX: Float64Array;
  private readonly alongY: Float64Array;
  private readonly z: Factors;
  private readonly x: Factors;
  private readonly y: Factors;
  /** Conductance of the surfaces to the middle of the outermost cells, and their share in the outermost right-hand sides. */
  private readonly front: Float64Array;
  private readonly back: Float64Array;
  private readonly frontShare: Float64Array;
  private readonly backShare: Float64Array;
  private planeFor = '';
  private throughFor: { dt: number; front: Float64Array; back: Float64Array } | null = null;

  constructor(
    readonly block: Block,
    start: number,
    /** How often heat goes along the plane, s; 0 is every step. */
    private readonly planeEvery = 0,
  ) {
    checkBlock(block);
    const { nx, ny, nz, dx, dy, dz, inPlane, through, capacity, contact } = block;
    const plane = nx * ny;
    const n = plane * nz;
    this.temperature = new Float64Array(n).fill(start);
    this.mass = new Float64Array(n);
    this.downward = new Float64Array(n);
    this.alongX = new Float64Array(n);
    this.alongY = new Float64Array(n);
    const between = (a: number, b: number, d: number) => (2 * a * b) / (a + b) / d;
    for (let at = 0; at < n; at++) {
      const z = Math.floor(at / plane);
      const x = at % nx;
      const y = Math.floor(at / nx) % ny;
      this.mass[at] = capacity[at]! * dz[z]!;
      if (z + 1 < nz)
        this.downward[at] = 1 / (dz[z]! / (2 * through[at]!) + contact[z]! + dz[z + 1]! / (2 * through[at + plane]!));
      if (x + 1 < nx) this.alongX[at] = between(inPlane[at]!, inPlane[at + 1]!, dx);
      if (y + 1 < ny) this.alongY[at] = between(inPlane[at]!, inPlane[at + nx]!, dy);
    }
    this.z = factors(n);
    this.x = factors(n);
    this.y = factors(n);
    this.front = new Float64Array(plane);
    this.back = new Float64Array(plane);
    this.frontShare = new Float64Array(plane);
    this.backShare = new Float64Array(plane);
  }

  /** Heat content above 0 °C, J. */
  energy(): number {
    let sum = 0;
    for (let i = 0; i < this.mass.length; i++) sum += this.mass[i]! * this.temperature[i]!;
    return sum * this.block.dx * this.block.dy;
  }

  /** Seconds that heat has not gone along the plane yet; below 0 where it has gone ahead. */
  private pending = 0;

  /**
   * Through the thickness every step; along the plane, which changes slowly, once in `planeEvery` seconds.
   * @param dt seconds, any length
   * @param surfaces hand over new arrays when a conductance changes; a temperature may be changed in place
   */
  step(dt: number, surfaces: Surfaces): void {
    this.sweepThrough(dt, surfaces);
    this.pending += dt;
    if (this.pending < this.planeEvery / 2 - 1e-9) return;
    // In the middle of the steps that it stands for: the split is then symmetric, and of second order (Strang 1968, from memory).
    const span = Math.max(dt, this.planeEvery);
    this.alongPlane(span, surfaces);
    this.pending -= span;
  }

  private alongPlane(dt: number, surfaces: Surfaces): void {
    const { nx, ny } = this.block;
    const { side } = surfaces;
    const planeFor = `${dt} ${side?.conductance ?? 0}`;
    if (planeFor !== this.planeFor) {
      this.factorPlane(this.x, dt, side, this.alongX, this.block.dx, nx, 1);
      this.factorPlane(this.y, dt, side, this.alongY, this.block.dy, ny, nx);
      this.planeFor = planeFor;
    }
    for (let z = 0; z < this.block.nz; z++) {
      if (nx > 1 || side) this.sweepX(z, dt, side);
      if (ny > 1 || side) this.sweepY(z, dt, side);
    }
  }

  private factorThrough(dt: number, surfaces: Surfaces): void {
    const { nx, ny, nz, dz, through } = this.block;
    const {
      mass,
      downward,
      front,
      back,
      frontShare,
      backShare,
      z: { own, before, upper },
    } = this;
    const plane = nx * ny;
    const last = (nz - 1) * plane;
    const meets = (conductance: number, at: number, z: number) =>
      conductance > 0 ? 1 / (1 / conductance + dz[z]! / (2 * through[at]!)) : 0;
    for (let p = 0; p < plane; p++) {
      // A surface meets the middle of the outermost cell through half its thickness.
      front[p] = meets(surfaces.front.conductance[p]!, p, 0);
      back[p] = meets(surfaces.back.conductance[p]!, last + p, nz - 1);
    }
    for (let at = 0; at < plane * nz; at++) {
      const above = at >= plane ? downward[at - plane]! : front[at]!;
      const below = at < last ? downward[at]! : back[at - last]!;
      const eliminated = at >= plane ? above * upper[at - plane]! : 0;
      const pivot = 1 / (mass[at]! / dt + above + below - eliminated);
      own[at] = (mass[at]! / dt) * pivot;
      before[at] = at >= plane ? above * pivot : 0;
      upper[at] = at < last ? below * pivot : 0;
      if (at < plane) frontShare[at] = above * pivot;
      if (at >= last) backShare[at - last] = below * pivot;
    }
    this.throughFor = { dt, front: surfaces.front.conductance, back: surfaces.back.conductance };
  }

  private sweepThrough(dt: number, surfaces: Surfaces): void {
    const known = this.throughFor;
    if (
      !known ||
      known.dt !== dt ||
      known.front !== surfaces.front.conductance ||
      known.back !== surfaces.back.conductance
    )
      this.factorThrough(dt, surfaces);
    const { nx, ny, nz, dx, dy } = this.block;
    const {
      temperature: t,
      front,
      back,
      frontShare,
      backShare,
      z: { own, before, upper },
    } = this;
    const { temperature: ahead } = surfaces.front;
    const { temperature: behind } = surfaces.back;
    const plane = nx * ny;
    const n = plane * nz;
    const last = n - plane;
    let gain = 0;
    // A handful of columns at a time, so that both ways through them stay in the cache.
    for (let from = 0; from < plane; from += COLUMNS) {
      const to = Math.min(plane, from + COLUMNS);
      for (let p = from; p < to; p++) t[p] = own[p]! * t[p]! + frontShare[p]! * ahead[p]!;
      for (let z = plane; z < n; z += plane)
        for (let at = z + from; at < z + to; at++) t[at] = own[at]! * t[at]! + before[at]! * t[at - plane]!;
      for (let p = from; p < to; p++) t[last + p] = t[last + p]! + backShare[p]! * behind[p]!;
      for (let z = last - plane; z >= 0; z -= plane)
        for (let at = z + from; at < z + to; at++) t[at] = t[at]! + upper[at]! * t[at + plane]!;
      for (let p = from; p < to; p++) gain += front[p]! * (ahead[p]! - t[p]!) + back[p]! * (behind[p]! - t[last + p]!);
    }
    this.absorbed += dt * dx * dy * gain;
  }

  /** What a cell at the rim gives to the room through half its own width, W/m²K. */
  private rim(side: Surfaces['side'], at: number, d: number): number {
    return side && side.conductance > 0 ? 1 / (1 / side.conductance + d / (2 * this.block.inPlane[at]!)) : 0;
  }

  private factorPlane(
    { own, before, upper }: Factors,
    dt: number,
    side: Surfaces['side'],
    along: Float64Array,
    d: number,
    n: number,
    stride: number,
  ): void {
    const { capacity } = this.block;
    for (let at = 0; at < capacity.length; at++) {
      const i = Math.floor(at / stride) % n;
      const behind = i > 0 ? along[at - stride]! : this.rim(side, at, d);
      const ahead = i + 1 < n ? along[at]! : this.rim(side, at, d);
      const eliminated = i > 0 ? behind * upper[at - stride]! : 0;
      const mass = (capacity[at]! * d) / dt;
      const pivot = 1 / (mass + behind + ahead - eliminated);
      own[at] = mass * pivot;
      before[at] = i > 0 ? behind * pivot : 0;
      upper[at] = i + 1 < n ? ahead * pivot : 0;
    }
  }

  /** Heat through both ends of the lines of one layer. */
  private rimGain(
    z: number,
    dt: number,
    side: NonNullable<Surfaces['side']>,
    d: number,
    across: number,
    n: number,
    stride: number,
  ): void {
    const { nx, ny, dz } = this.block;
    const { temperature: t } = this;
    for (let line = 0; line < (nx * ny) / n; line++) {
      const first = z * nx * ny + (stride === 1 ? line * nx : line);
      for (const at of [first, first + (n - 1) * stride])
        this.absorbed += dt * across * dz[z]! * this.rim(side, at, d) * (side.temperature - t[at]!);
    }
  }

  private sweepX(z: number, dt: number, side: Surfaces['side']): void {
    const { nx, ny, dx, dy } = this.block;
    const {
      temperature: t,
      x: { own, before, upper },
    } = this;
    const first = z * nx * ny;
    const last = first + nx * ny;
    if (side)
      for (let start = first; start < last; start += nx)
        for (const at of [start, start + nx - 1]) t[at] = t[at]! + this.rimShare(dt, side, at, dx);
    // Four lines at a time: a line waits for itself at every cell, four wait for one another.
    let start = first;
    for (; start + 3 * nx < last; start += 4 * nx) {
      let [a, b, c, d] = [start, start + nx, start + 2 * nx, start + 3 * nx];
      let [va, vb, vc, vd] = [0, 0, 0, 0];
      for (let i = 0; i < nx; i++, a++, b++, c++, d++) {
        va = own[a]! * t[a]! + before[a]! * va;
        vb = own[b]! * t[b]! + before[b]! * vb;
        vc = own[c]! * t[c]! + before[c]! * vc;
        vd = own[d]! * t[d]! + before[d]! * vd;
        t[a] = va;
        t[b] = vb;
        t[c] = vc;
        t[d] = vd;
      }
      for (let i = nx - 2, p = start + i, q = p + nx, r = q + nx, s = r + nx; i >= 0; i--, p--, q--, r--, s--) {
        va = t[p]! + upper[p]! * va;
        vb = t[q]! + upper[q]! * vb;
        vc = t[r]! + upper[r]! * vc;
        vd = t[s]! + upper[s]! * vd;
        t[p] = va;
        t[q] = vb;
        t[r] = vc;
        t[s] = vd;
      }
    }
    for (; start < last; start += nx) {
      const end = start + nx - 1;
      let value = 0;
      for (let at = start; at <= end; at++) {
        value = own[at]! * t[at]! + before[at]! * value;
        t[at] = value;
      }
      for (let at = end - 1; at >= start; at--) {
        value = t[at]! + upper[at]! * value;
        t[at] = value;
      }
    }
    if (side) this.rimGain(z, dt, side, dx, dy, nx, 1);
  }

  private sweepY(z: number, dt: number, side: Surfaces['side']): void {
    const { nx, ny, dx, dy } = this.block;
    const {
      temperature: t,
      y: { own, before, upper },
    } = this;
    const layer = z * nx * ny;
    const end = layer + nx * ny;
    if (side)
      for (const row of [layer, end - nx])
        for (let at = row; at < row + nx; at++) t[at] = t[at]! + this.rimShare(dt, side, at, dy);
    for (let at = layer; at < layer + nx; at++) t[at] = own[at]! * t[at]!;
    for (let at = layer + nx; at < end; at++) t[at] = own[at]! * t[at]! + before[at]! * t[at - nx]!;
    for (let at = end - nx - 1; at >= layer; at--) t[at] = t[at]! + upper[at]! * t[at + nx]!;
    if (side) this.rimGain(z, dt, side, dy, dx, ny, nx);
  }

  /** What the room adds to the right-hand side of a cell at the rim, in units of its own temperature. */
  private rimShare(dt: number, side: NonNullable<Surfaces['side']>, at: number, d: number): number {
    return (this.rim(side, at, d) * side.temperature * dt) / (this.block.capacity[at]! * d);
  }
}

/** A block of one material, for checks and simple cases. */
export function uniformBlock(
  size: { nx: number; ny: number; nz: number; dx: number; dy: number; dz: number },
  material: { inPlane: number; through: number; capacity: number },
): Block {
  const n = size.nx * size.ny * size.nz;
  return {
    ...size,
    dz: new Float64Array(size.nz).fill(size.dz),
    contact: new Float64Array(size.nz),
    inPlane: new Float64Array(n).fill(material.inPlane),
    through: new Float64Array(n).fill(material.through),
    capacity: new Float64Array(n).fill(material.capacity),
  };
}

export function uniformSurface(cells: number, conductance: number, temperature: number): Surface {
  return {
    conductance: new Float64Array(cells).fill(conductance),
    temperature: new Float64Array(cells).fill(temperature),
  };
}
