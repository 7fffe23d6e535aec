/** What a mark must know of a place: how deep is allowed, and from where to where the bond lies; mm. */
export interface Bed {
  allowed: number;
  from: number;
  need: number;
}

export interface Marks {
  /** Depths to put on the pick, mm from its tip, shallow to deep. */
  marks: number[];
  /** Width of bond cut, summed over the places, mm. */
  cut: number;
  /** Width of bond there is. */
  whole: number;
  /** The depth to be used at each place: the shallowest mark that cuts as much as any allowed one; 0 where nothing is gained. */
  depths: number[];
}

/** Marks are set to this, mm: as fine as a pen on a pick. */
export const MARK_STEP = 0.1;

/** Two marks closer than this are one to an eye over a seam, mm. Origin: own choice, three strokes of a fine pen. */
export const MARKS_APART = 0.3;

/** How much of the bond a pick cuts that goes in by `depth`. */
export function cutBy(depth: number, { from, need }: Pick<Bed, 'from' | 'need'>): number {
  return Math.max(0, Math.min(depth, need) - from);
}

const down = (v: number) => Math.floor(v / MARK_STEP + 1e-6) * MARK_STEP;
const up = (v: number) => Math.ceil(v / MARK_STEP - 1e-6) * MARK_STEP;
const tidy = (v: number) => Math.round(v * 1000) / 1000;

/**
 * Depths that could be worth a mark: what is allowed somewhere, and what cuts some bond through. Between two of them
 * no depth does better.
 */
export function candidates(beds: readonly Bed[]): number[] {
  const found = new Set<number>();
  const deepest = beds.reduce((most, b) => Math.max(most, b.need > b.from ? up(b.need) : 0), 0);
  for (const b of beds) {
    if (b.need <= b.from) continue;
    for (const depth of [Math.min(b.allowed, deepest), Math.min(b.allowed, up(b.need))])
      if (tidy(down(depth)) > b.from) found.add(tidy(down(depth)));
  }
  return [...found].sort((a, b) => a - b);
}

/**
 * At most `most` depth marks, `MARKS_APART` from each other, by which the most bond is cut while no place is cut deeper than allowed: dynamic
 * programming over the sorted candidate depths. Each place takes the deepest mark that its allowance reaches.
 * @throws Error when `most` is not a whole number of at least 1
 */
export function bestMarks(beds: readonly Bed[], most: number): Marks {
  if (!Number.isInteger(most) || most < 1 || most > 10)
    throw new Error(`the number of marks must be a whole number from 1 to 10, not ${most}`);
  // A mark is worth most at a candidate, or as near to another mark as may be.
  const steps = Array.from({ length: 2 * most - 1 }, (_, k) => (k - most + 1) * MARKS_APART);
  const near = candidates(beds).flatMap((d) => steps.map((by) => tidy(d + by)));
  const depths = [...new Set(near)].filter((d) => d > 0).sort((a, b) => a - b);
  const n = depths.length;
  const whole = beds.reduce((sum, b) => sum + Math.max(0, b.need - b.from), 0);
  if (n === 0) return { marks: [], cut: 0, whole, depths: beds.map(() => 0) };
  // bin k: places that depth k is allowed at, but no deeper one.
  const bins: Bed[][] = depths.map(() => []);
  for (const b of beds) {
    let k = -1;
    while (k + 1 < n && depths[k + 1]! <= b.allowed + 1e-9) k++;
    if (k >= 0) bins[k]!.push(b);
  }
  // gain[i][j]: what mark i cuts in the bins i to j − 1, when the next deeper mark is j.
  const gain = depths.map((depth, i) => {
    const sums = new Float64Array(n + 1);
    for (let k = i; k < n; k++) sums[k + 1] = sums[k]! + bins[k]!.reduce((sum, b) => sum + cutBy(depth, b), 0);
    return sums;
  });
  let best: Float64Array = Float64Array.from(gain, (sums) => sums[n]!);
  const next: Int32Array[] = [new Int32Array(n).fill(-1)];
  for (let used = 2; used <= most; used++) {
    const now = new Float64Array(n);
    const after = new Int32Array(n);
    for (let i = 0; i < n; i++) {
      now[i] = gain[i]![n]!;
      after[i] = -1;
      for (let j = i + 1; j < n; j++) {
        if (depths[j]! - depths[i]! < MARKS_APART - 1e-9) continue;
        const value = gain[i]![j]! + best[j]!;
        if (value > now[i]! + 1e-9) {
          now[i] = value;
          after[i] = j;
        }
      }
    }
    best = now;
    next.push(after);
  }
  let first = 0;
  for (let i = 1; i < n; i++) if (best[i]! > best[first]! + 1e-9) first = i;
  const marks: number[] = [];
  for (let i = first, level = next.length - 1; i >= 0; i = level >= 0 ? next[level]![i]! : -1, level--)
    marks.push(depths[i]!);
  return { marks, cut: best[first]!, whole, depths: beds.map((b) => depthFor(b, marks)) };
}

/** The shallowest mark that cuts as much of the bond as any allowed one. */
export function depthFor(bed: Bed, marks: readonly number[]): number {
  let depth = 0;
  for (const mark of marks) if (mark <= bed.allowed + 1e-9 && cutBy(mark, bed) > cutBy(depth, bed) + 1e-9) depth = mark;
  return depth;
}
