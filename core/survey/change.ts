import type { Point } from '../anatomy/index.ts';
import { greyOf } from './picture.ts';
import type { Plate } from './straighten.ts';

/** Settings of the change between two plates. Origin: tried on rendered photographs of the demo devices. */
export const CHANGE = {
  /** Scale at which two plates are held against each other, px a mm. */
  pxPerMm: 3,
  /** How far two plates of one body may be off against each other, mm. */
  shift: 1.4,
  /** Smallest region that is offered, mm². */
  smallest: 12,
  /** Regions that are offered at most. */
  most: 4,
  /** Gaps up to this are closed, mm. */
  close: 1,
  /** Least difference of grey that counts, of 255. */
  least: 14,
} as const;

/** A part that seems to have left: its outline in mm, seen from the front, and how clearly it stands out, 0 to 1. */
export interface Change {
  outline: Point[];
  area: number;
  score: number;
}

interface Grey {
  width: number;
  height: number;
  data: Float32Array;
}

/**
 * What changed between two plates of one body and face, before and after a part came off: both are brought to one scale,
 * shifted onto each other, levelled in brightness, and the largest connected regions of what is left are told.
 */
export function changeBetween(before: Plate, after: Plate, settings = CHANGE): Change[] {
  const a = greyAt(before, settings.pxPerMm);
  const b = greyAt(after, settings.pxPerMm);
  const width = Math.min(a.width, b.width);
  const height = Math.min(a.height, b.height);
  const [dx, dy] = shiftBetween(a, b, width, height, Math.round(settings.shift * settings.pxPerMm));
  const difference = new Float32Array(width * height);
  const level = levelBetween(a, b, width, height, dx, dy);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const there = at(b, x + dx, y + dy);
      difference[y * width + x] = there === null ? 0 : Math.abs(at(a, x, y)! * level.gain + level.offset - there);
    }
  const smooth = boxBlur(difference, width, height, 1);
  const threshold = Math.max(settings.least, otsu(smooth));
  const mask = new Uint8Array(smooth.length);
  smooth.forEach((v, i) => {
    mask[i] = v > threshold ? 1 : 0;
  });
  const closed = closing(mask, width, height, Math.round(settings.close * settings.pxPerMm));
  const regions = regionsOf(closed, width, height);
  const mm2 = settings.pxPerMm ** 2;
  return regions
    .filter((r) => r.cells.length / mm2 >= settings.smallest)
    .sort((p, q) => q.cells.length - p.cells.length)
    .slice(0, settings.most)
    .map(({ cells, x0, y0, x1, y1 }) => {
      const mean = cells.reduce((sum, i) => sum + smooth[i]!, 0) / cells.length;
      const full = cells.length / ((x1 - x0 + 1) * (y1 - y0 + 1));
      return {
        outline: full > BOXY ? box(x0, y0, x1, y1, settings.pxPerMm) : around(cells, width, settings.pxPerMm),
        area: cells.length / mm2,
        score: Math.min(1, mean / (3 * threshold)) * Math.min(1, full / BOXY),
      };
    });
}

/** A region that fills its box by more than this is a rectangle with rough edges. */
const BOXY = 0.72;

function box(x0: number, y0: number, x1: number, y1: number, scale: number): Point[] {
  const [l, t, r, b] = [x0 / scale, y0 / scale, (x1 + 1) / scale, (y1 + 1) / scale];
  return [
    [l, t],
    [r, t],
    [r, b],
    [l, b],
  ];
}

/** The outline of a region by its left and right ends at some heights. */
function around(cells: readonly number[], width: number, scale: number): Point[] {
  const rows = new Map<number, [number, number]>();
  for (const i of cells) {
    const [x, y] = [i % width, Math.floor(i / width)];
    const [l, r] = rows.get(y) ?? [x, x];
    rows.set(y, [Math.min(l, x), Math.max(r, x)]);
  }
  const ys = [...rows.keys()].sort((p, q) => p - q);
  const step = Math.max(1, Math.floor(ys.length / 8));
  const kept = ys.filter((_, i) => i % step === 0 || i === ys.length - 1);
  const left = kept.map((y): Point => [rows.get(y)![0] / scale, y / scale]);
  const right = kept.map((y): Point => [(rows.get(y)![1] + 1) / scale, y / scale]);
  return [...left, ...right.reverse()];
}

/** A plate in grey at a smaller scale, each cell the mean of what it stands for. */
function greyAt(plate: Plate, pxPerMm: number): Grey {
  const full = greyOf(plate);
  const scale = plate.pxPerMm / pxPerMm;
  const width = Math.max(1, Math.floor(full.width / scale));
  const height = Math.max(1, Math.floor(full.height / scale));
  const data = new Float32Array(width * height);
  const span = (n: number, most: number): [number, number] => {
    const from = Math.floor(n * scale);
    return [from, Math.min(most, Math.max(Math.floor((n + 1) * scale), from + 1))];
  };
  for (let y = 0; y < height; y++) {
    const [y0, y1] = span(y, full.height);
    for (let x = 0; x < width; x++) {
      const [x0, x1] = span(x, full.width);
      let sum = 0;
      for (let v = y0; v < y1; v++) for (let u = x0; u < x1; u++) sum += full.data[v * full.width + u]!;
      data[y * width + x] = sum / Math.max(1, (x1 - x0) * (y1 - y0));
    }
  }
  return { width, height, data };
}

const at = ({ width, height, data }: Grey, x: number, y: number): number | null =>
  x < 0 || y < 0 || x >= width || y >= height ? null : data[y * width + x]!;

/** The shift that makes most of two pictures agree: by the median of differences, which a part that left does not move. */
function shiftBetween(a: Grey, b: Grey, width: number, height: number, most: number): [number, number] {
  let best: [number, number] = [0, 0];
  let least = Number.POSITIVE_INFINITY;
  for (let dy = -most; dy <= most; dy++)
    for (let dx = -most; dx <= most; dx++) {
      const found: number[] = [];
      for (let y = most; y < height - most; y += 5)
        for (let x = most; x < width - most; x += 5) found.push(Math.abs(at(a, x, y)! - at(b, x + dx, y + dy)!));
      found.sort((p, q) => p - q);
      // Of two shifts that agree as well the smaller is taken.
      const middle = (found[Math.floor(found.length * 0.4)] ?? 0) + 0.01 * Math.hypot(dx, dy);
      if (middle < least) {
        least = middle;
        best = [dx, dy];
      }
    }
  return best;
}

/** Gain and offset of brightness between two pictures, by their quartiles. */
function levelBetween(a: Grey, b: Grey, width: number, height: number, dx: number, dy: number) {
  const [p, q]: [number[], number[]] = [[], []];
  for (let y = 0; y < height; y += 3)
    for (let x = 0; x < width; x += 3) {
      const there = at(b, x + dx, y + dy);
      if (there === null) continue;
      p.push(at(a, x, y)!);
      q.push(there);
    }
  p.sort((x, y) => x - y);
  q.sort((x, y) => x - y);
  const quartile = (list: number[], share: number) => list[Math.floor((list.length - 1) * share)] ?? 0;
  const spread = quartile(p, 0.75) - quartile(p, 0.25);
  const gain = spread < 4 ? 1 : Math.min(1.4, Math.max(0.7, (quartile(q, 0.75) - quartile(q, 0.25)) / spread));
  return { gain, offset: quartile(q, 0.5) - gain * quartile(p, 0.5) };
}

function boxBlur(data: Float32Array, width: number, height: number, r: number): Float32Array {
  const out = new Float32Array(data.length);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      let [sum, n] = [0, 0];
      for (let v = Math.max(0, y - r); v <= Math.min(height - 1, y + r); v++)
        for (let u = Math.max(0, x - r); u <= Math.min(width - 1, x + r); u++) {
          sum += data[v * width + u]!;
          n++;
        }
      out[y * width + x] = sum / n;
    }
  return out;
}

/** The threshold that parts a histogram best (Otsu 1979). */
function otsu(data: Float32Array): number {
  const bins = new Array<number>(256).fill(0);
  for (const v of data) bins[Math.min(255, Math.max(0, Math.round(v)))]!++;
  const total = data.length;
  const sum = bins.reduce((s, n, i) => s + n * i, 0);
  let [below, sumBelow, best, at] = [0, 0, -1, 0];
  bins.forEach((n, i) => {
    below += n;
    sumBelow += n * i;
    const above = total - below;
    if (below === 0 || above === 0) return;
    const between = below * above * (sumBelow / below - (sum - sumBelow) / above) ** 2;
    if (between > best) [best, at] = [between, i];
  });
  return at;
}

function closing(mask: Uint8Array, width: number, height: number, r: number): Uint8Array {
  const spread = (from: Uint8Array, to: 0 | 1): Uint8Array => {
    const out = Uint8Array.from(from);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        if (from[y * width + x] !== to) continue;
        for (let v = Math.max(0, y - r); v <= Math.min(height - 1, y + r); v++)
          for (let u = Math.max(0, x - r); u <= Math.min(width - 1, x + r); u++) out[v * width + u] = to;
      }
    return out;
  };
  return spread(spread(mask, 1), 0);
}

function regionsOf(mask: Uint8Array, width: number, height: number) {
  const seen = new Uint8Array(mask.length);
  const regions: { cells: number[]; x0: number; y0: number; x1: number; y1: number }[] = [];
  for (let start = 0; start < mask.length; start++) {
    if (!mask[start] || seen[start]) continue;
    const region = { cells: [] as number[], x0: width, y0: height, x1: 0, y1: 0 };
    const stack = [start];
    seen[start] = 1;
    for (let i = stack.pop(); i !== undefined; i = stack.pop()) {
      const [x, y] = [i % width, Math.floor(i / width)];
      region.cells.push(i);
      region.x0 = Math.min(region.x0, x);
      region.x1 = Math.max(region.x1, x);
      region.y0 = Math.min(region.y0, y);
      region.y1 = Math.max(region.y1, y);
      for (const n of [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width])
        if (n >= 0 && n < mask.length && mask[n] && !seen[n]) {
          seen[n] = 1;
          stack.push(n);
        }
    }
    regions.push(region);
  }
  return regions;
}
