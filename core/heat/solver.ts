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

/** Columns swept together. Origin: measured here; about half a megabyte of factors. */
const COLUMNS = 1024;

/**
 * Solves lines that lie side by side, in place: all of them a cell further at a time, four cells a turn, since a turn of the
 * loop costs as much as a cell.
 * @param first cell of the first line @param count of lines @param length cells of a line @param along from cell to cell
 */
function solveBeside(
  t: Float64Array,
  { own, before, upper }: Factors,
  first: number,
  count: number,
  length: number,
  along: number,
): void {
  const end = first + length * along;
  for (let at = first; at < first + count; at++) t[at] = own[at]! * t[at]!;
  for (let row = first + along; row < end; row += along) {
    let at = row;
    let from = row - along;
    for (; at + 3 < row + count; at += 4, from += 4) {
      t[at] = own[at]! * t[at]! + before[at]! * t[from]!;
      t[at + 1] = own[at + 1]! * t[at + 1]! + before[at + 1]! * t[from + 1]!;
      t[at + 2] = own[at + 2]! * t[at + 2]! + before[at + 2]! * t[from + 2]!;
      t[at + 3] = own[at + 3]! * t[at + 3]! + before[at + 3]! * t[from + 3]!;
    }
    for (; at < row + count; at++, from++) t[at] = own[at]! * t[at]! + before[at]! * t[from]!;
  }
  for (let row = end - 2 * along; row >= first; row -= along) {
    let at = row;
    let from = row + along;
    for (; at + 3 < row + count; at += 4, from += 4) {
      t[at] = t[at]! + upper[at]! * t[from]!;
      t[at + 1] = t[at + 1]! + upper[at + 1]! * t[from + 1]!;
      t[at + 2] = t[at + 2]! + upper[at + 2]! * t[from + 2]!;
      t[at + 3] = t[at + 3]! + upper[at + 3]! * t[from + 3]!;
    }
    for (; at < row + count; at++, from++) t[at] = t[at]! + upper[at]! * t[from]!;
  }
}

/**
 * Solves lines that follow one another, in place, four at a time: a line waits for itself at every cell, four wait for one
 * another.
 * @param n cells of a line
 */
function solveInRow(t: Float64Array, { own, before, upper }: Factors, n: number): void {
  let start = 0;
  for (; start + 4 * n <= t.length; start += 4 * n) {
    let [va, vb, vc, vd] = [0, 0, 0, 0];
    for (let i = 0, a = start, b = a + n, c = b + n, d = c + n; i < n; i++, a++, b++, c++, d++) {
      va = own[a]! * t[a]! + before[a]! * va;
      vb = own[b]! * t[b]! + before[b]! * vb;
      vc = own[c]! * t[c]! + before[c]! * vc;
      vd = own[d]! * t[d]! + before[d]! * vd;
      t[a] = va;
      t[b] = vb;
      t[c] = vc;
      t[d] = vd;
    }
    for (let a = start + n - 2, b = a + n, c = b + n, d = c + n; a >= start; a--, b--, c--, d--) {
      va = t[a]! + upper[a]! * va;
      vb = t[b]! + upper[b]! * vb;
      vc = t[c]! + upper[c]! * vc;
      vd = t[d]! + upper[d]! * vd;
      t[a] = va;
      t[b] = vb;
      t[c] = vc;
      t[d] = vd;
    }
  }
  for (; start < t.length; start += n) {
    let value = 0;
    for (let at = start; at < start + n; at++) {
      value = own[at]! * t[at]! + before[at]! * value;
      t[at] = value;
    }
    for (let at = start + n - 2; at >= start; at--) {
      value = t[at]! + upper[at]! * value;
      t[at] = value;
    }
  }
}

/**
 * The cells at both ends of all lines, cell by cell: its index, what a step brings into it of a degree outside, and the heat
 * of that, J/K.
 */
interface Rim {
  at: number[];
  share: number[];
  gives: number[];
}

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
  private rimX: Rim = { at: [], share: [], gives: [] };
  private rimY: Rim = { at: [], share: [], gives: [] };
  /** Conductance of the surfaces to the middle of the outermost cells, and what a step brings of their temperature into those. */
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
    const { nx, ny, nz, dx, dy } = this.block;
    const { side } = surfaces;
    const planeFor = `${dt} ${side?.conductance ?? 0}`;
    if (planeFor !== this.planeFor) {
      this.factorPlane(this.x, dt, side, this.alongX, dx, nx, 1);
      this.factorPlane(this.y, dt, side, this.alongY, dy, ny, nx);
      this.rimX = this.rimOf(dt, side, dx, dy, nx, 1);
      this.rimY = this.rimOf(dt, side, dy, dx, ny, nx);
      this.planeFor = planeFor;
    }
    const t = this.temperature;
    const plane = nx * ny;
    if (nx > 1 || side) this.withRim(this.rimX, side, () => solveInRow(t, this.x, nx));
    if (ny > 1 || side)
      this.withRim(this.rimY, side, () => {
        for (let z = 0; z < nz; z++) solveBeside(t, this.y, z * plane, nx, ny, nx);
      });
  }

  private withRim(rim: Rim, side: Surfaces['side'], solve: () => void): void {
    const t = this.temperature;
    const outside = side?.temperature ?? 0;
    for (let i = 0; i < rim.at.length; i++) t[rim.at[i]!] = t[rim.at[i]!]! + rim.share[i]! * outside;
    solve();
    for (let i = 0; i < rim.at.length; i++) this.absorbed += rim.gives[i]! * (outside - t[rim.at[i]!]!);
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
      if (at < plane) frontShare[at] = (above * dt) / mass[at]!;
      if (at >= last) backShare[at - last] = (below * dt) / mass[at]!;
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
    const { temperature: t, front, back, frontShare, backShare } = this;
    const { temperature: ahead } = surfaces.front;
    const { temperature: behind } = surfaces.back;
    const plane = nx * ny;
    const last = plane * (nz - 1);
    for (let p = 0; p < plane; p++) {
      t[p] = t[p]! + frontShare[p]! * ahead[p]!;
      t[last + p] = t[last + p]! + backShare[p]! * behind[p]!;
    }
    // A handful of columns at a time, so that both ways through them stay in the cache.
    for (let from = 0; from < plane; from += COLUMNS)
      solveBeside(t, this.z, from, Math.min(COLUMNS, plane - from), nz, plane);
    let gain = 0;
    for (let p = 0; p < plane; p++) gain += front[p]! * (ahead[p]! - t[p]!) + back[p]! * (behind[p]! - t[last + p]!);
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

  /** @param d width of a cell along the lines, m @param across the other way */
  private rimOf(dt: number, side: Surfaces['side'], d: number, across: number, n: number, stride: number): Rim {
    const { nx, ny, dz, capacity } = this.block;
    const rim: Rim = { at: [], share: [], gives: [] };
    if (!side) return rim;
    for (let at = 0; at < capacity.length; at++) {
      const i = Math.floor(at / stride) % n;
      // A line of one cell meets the room at both of its ends.
      const ends = Number(i === 0) + Number(i === n - 1);
      if (ends === 0) continue;
      const conductance = ends * this.rim(side, at, d);
      rim.at.push(at);
      rim.share.push((conductance * dt) / (capacity[at]! * d));
      rim.gives.push(dt * across * dz[Math.floor(at / (nx * ny))]! * conductance);
    }
    return rim;
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
