import type { Point } from '../anatomy/index.ts';
import { fittedLine, normalOf, type EdgeLine, type Offset } from './lines.ts';
import type { Picture } from './picture.ts';

/**
 * How an edge is looked for beside a line that a hand laid. Origin: own choice, tried on rendered photographs; nothing
 * in it is of one picture.
 */
export const SNAPPING = {
  /** Most looks across a line; neighbours are at least `apart` px from each other, so that their noise is their own. */
  looks: 240,
  apart: 3,
  /** Width of the step that is looked for, px: a Gaussian of this deviation, differentiated. */
  step: 1.6,
  /** A step that is weaker than this share of the strong ones along the line is none. */
  weakest: 0.15,
  /** Steps of lightness below this are noise. */
  noise: 2.5,
  /** What no edge is known better than at its end, px: the roundness of a rim and the blur of a lens. */
  floor: 0.35,
  /** Share of the looks that must agree. */
  agree: 0.35,
  /** What distance from the hand's line costs: half its exponent, in squared deviations. */
  tolerance: 6,
  /** Edges side by side that are told apart: a rim has two, and a shadow. */
  choices: 4,
} as const;

const luma = (picture: Picture) => {
  const { width, height, channels, data } = picture;
  return (x: number, y: number): number => {
    // Bilinear, clamped at the border.
    const fx = Math.min(width - 1.001, Math.max(0, x - 0.5));
    const fy = Math.min(height - 1.001, Math.max(0, y - 0.5));
    const [ix, iy] = [Math.floor(fx), Math.floor(fy)];
    const [u, v] = [fx - ix, fy - iy];
    const at = (iy * width + ix) * channels;
    const grey = (i: number) =>
      channels === 1 ? data[i]! : 0.299 * data[i]! + 0.587 * data[i + 1]! + 0.114 * data[i + 2]!;
    const below = at + width * channels;
    return (
      (grey(at) * (1 - u) + grey(at + channels) * u) * (1 - v) +
      (grey(below) * (1 - u) + grey(below + channels) * u) * v
    );
  };
};

interface Step extends Offset {
  /** Lightness gained across, signed. */
  rise: number;
}

/** Every step of lightness on looks across the line, within `reach` px of it. */
function stepsAcross(picture: Picture, line: { a: Point; b: Point }, reach: number): { steps: Step[]; looks: number } {
  const at = luma(picture);
  const { a, b } = line;
  const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
  const [nx, ny] = normalOf(line);
  const count = Math.max(8, Math.min(SNAPPING.looks, Math.floor(length / SNAPPING.apart)));
  const pad = Math.ceil(3 * SNAPPING.step);
  const half = Math.ceil(reach) + pad;
  const kernel = Array.from({ length: 2 * pad + 1 }, (_, i) => {
    const t = (i - pad) / SNAPPING.step;
    return t * Math.exp(-0.5 * t * t);
  });
  const sum = kernel.reduce((s, v, i) => s + v * (i - pad), 0);
  const steps: Step[] = [];
  const profile = new Float64Array(2 * half + 1);
  const slope = new Float64Array(2 * half + 1);
  for (let look = 0; look < count; look++) {
    const u = (look + 0.5) / count;
    const [x, y] = [a[0] + (b[0] - a[0]) * u, a[1] + (b[1] - a[1]) * u];
    for (let i = 0; i < profile.length; i++) profile[i] = at(x + nx * (i - half), y + ny * (i - half));
    for (let i = pad; i < profile.length - pad; i++) {
      let s = 0;
      for (let k = 0; k < kernel.length; k++) s += kernel[k]! * profile[i + k - pad]!;
      // The height of a step that this slope is of.
      slope[i] = (s / sum) * SNAPPING.step * 2.5066;
    }
    for (let i = pad + 1; i < profile.length - pad - 1; i++) {
      const here = Math.abs(slope[i]!);
      if (here < SNAPPING.noise || here < Math.abs(slope[i - 1]!) || here <= Math.abs(slope[i + 1]!)) continue;
      const [before, after] = [Math.abs(slope[i - 1]!), Math.abs(slope[i + 1]!)];
      const bend = before - 2 * here + after;
      const across = i - half + (bend < 0 ? (0.5 * (before - after)) / bend : 0);
      if (Math.abs(across) <= reach) steps.push({ along: u * length, across, weight: here, rise: slope[i]! });
    }
  }
  return { steps, looks: count };
}

/** One edge of the picture that a laid line may be meant for. */
export interface EdgeFound {
  line: EdgeLine;
  /** How well it is borne out, weighed by how far it lies from where the hand laid it. */
  score: number;
  /** Share of the looks across that agree. */
  support: number;
}

interface Cell {
  atA: number;
  atB: number;
  rising: boolean;
  score: number;
}

/**
 * The picture's own edges beside a line that a hand laid, the likeliest first: straight runs of steps, all rising or all
 * falling, on which many looks across agree.
 * @param sigma how far off the hand may be, px, one deviation
 * @returns none where no straight edge is found within three deviations; the hand's line stands then
 */
export function edgesBeside(picture: Picture, line: Pick<EdgeLine, 'a' | 'b'>, sigma: number): EdgeFound[] {
  const reach = Math.max(4, 3.2 * sigma);
  const { steps, looks } = stepsAcross(picture, line, reach);
  if (steps.length < 5) return [];
  const strengths = steps.map((s) => s.weight).sort((x, y) => x - y);
  const strong = strengths[Math.floor(strengths.length * 0.9)]!;
  const kept = steps.filter((s) => s.weight >= SNAPPING.weakest * strong);
  const length = Math.hypot(line.b[0] - line.a[0], line.b[1] - line.a[1]);
  const grain = Math.max(0.75, reach / 24);
  const cells: Cell[] = [];
  for (const rising of [true, false]) {
    const these = kept.filter((s) => s.rise > 0 === rising);
    if (these.length < looks * SNAPPING.agree) continue;
    for (let atA = -reach; atA <= reach; atA += grain)
      for (let atB = -reach; atB <= reach; atB += grain) {
        let score = 0;
        for (const { along, across, weight } of these) {
          const z = (across - atA - ((atB - atA) * along) / length) / grain;
          // A strong step counts for more than a weak one, but not without end: gloss is strong as well.
          if (Math.abs(z) < 2) score += Math.exp(-0.5 * z * z) * Math.min(1, weight / (0.5 * strong));
        }
        // More tolerant than the hand's own spread: what is laid in haste is laid worse.
        const far = (atA * atA + atB * atB) / (sigma * sigma);
        cells.push({ atA, atB, rising, score: (score / looks) * Math.exp(-far / SNAPPING.tolerance) });
      }
  }
  cells.sort((p, q) => q.score - p.score);
  const found: EdgeFound[] = [];
  const taken: Cell[] = [];
  for (const cell of cells) {
    if (found.length >= SNAPPING.choices || cell.score < 0.2 * cells[0]!.score) break;
    const apart = (other: Cell) =>
      Math.max(Math.abs(cell.atA - other.atA), Math.abs(cell.atB - other.atB)) > 3.5 * grain ||
      cell.rising !== other.rising;
    if (!taken.every(apart)) continue;
    taken.push(cell);
    const near = kept
      .filter((s) => s.rise > 0 === cell.rising)
      .filter((s) => Math.abs(s.across - cell.atA - ((cell.atB - cell.atA) * s.along) / length) < 2.5 * grain)
      .map((s) => ({ ...s, weight: Math.min(1, s.weight / (0.5 * strong)) }));
    const fit = fittedLine(line, near, SNAPPING.floor);
    if (!fit || near.length < looks * SNAPPING.agree) continue;
    found.push({ line: fit.line, score: cell.score, support: Math.min(1, (near.length * fit.support) / looks) });
  }
  return found;
}
