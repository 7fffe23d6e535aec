import { homographyOf, type Homography } from './homography.ts';
import { crossing, type EdgeLine } from './lines.ts';
import type { Point } from '../anatomy/index.ts';
import type { EdgeFound } from './snap.ts';

/** How four edges are chosen together. Origin: own choice. */
const CHOOSING = {
  /** How far a picture may be from what a camera with square pixels takes: lenses, and pictures that were cropped. */
  mismatch: 0.0025,
  /** What a mismatch costs at most, as an exponent: a picture that was cropped to one side fits none. */
  most: 14,
  /** Focal lengths that are thought of, as multiples of the longer side of the picture. */
  focal: [0.45, 8],
} as const;

/**
 * How far a map is from one that a camera with square pixels and its axis in the middle can make of a body of that size,
 * as a share: 0.01 is one hundredth of a side. A wrong edge makes the body too wide or too narrow.
 */
function mismatchOf(toPicture: Homography, { width, height }: { width: number; height: number }): number {
  const [cx, cy] = [width / 2, height / 2];
  const column = (j: number) => [
    toPicture[j]! - cx * toPicture[6 + j]!,
    toPicture[3 + j]! - cy * toPicture[6 + j]!,
    toPicture[6 + j]!,
  ];
  const [a, b] = [column(0), column(1)] as [number[], number[]];
  const long = Math.max(width, height);
  const [low, high] = CHOOSING.focal;
  let best = Number.POSITIVE_INFINITY;
  for (let i = 0; i <= 32; i++) {
    const f2 = (long * low * (high / low) ** (i / 32)) ** 2;
    const [aa, bb] = [a, b].map(([x, y, z]) => x! * x! + y! * y! + f2 * z! * z!) as [number, number];
    const ab = a[0]! * b[0]! + a[1]! * b[1]! + f2 * a[2]! * b[2]!;
    best = Math.min(best, Math.hypot(ab / Math.sqrt(aa * bb), 0.5 * Math.log(aa / bb)));
  }
  return best;
}

/**
 * Of the edges that lie beside each laid line, the four that a camera could have taken of this body.
 * @returns for each side its edge, and the weight of the ones that were not chosen, 0 to 1
 */
export function chosenEdges(
  found: readonly (readonly EdgeFound[])[],
  laid: readonly EdgeLine[],
  places: readonly Point[],
  size: { width: number; height: number },
): { line: EdgeLine; doubt: { line: EdgeLine; weight: number }[] }[] {
  const sides = found.map((list, i) => (list.length > 0 ? list : [{ line: laid[i]!, score: 1, support: 0 }]));
  const combinations: { pick: number[]; weight: number }[] = [];
  const [t, r, b, l] = sides as [EdgeFound[], EdgeFound[], EdgeFound[], EdgeFound[]];
  t.forEach((top, i) =>
    r.forEach((right, j) =>
      b.forEach((bottom, k) =>
        l.forEach((left, m) => {
          const corners = [
            crossing(top.line, left.line),
            crossing(top.line, right.line),
            crossing(bottom.line, right.line),
            crossing(bottom.line, left.line),
          ];
          const off = mismatchOf(homographyOf(places, corners), size) / CHOOSING.mismatch;
          const borne = top.score * right.score * bottom.score * left.score;
          combinations.push({
            pick: [i, j, k, m],
            weight: borne * Math.exp(-Math.min(CHOOSING.most, 0.5 * off * off)),
          });
        }),
      ),
    ),
  );
  const best = combinations.reduce((p, q) => (q.weight > p.weight ? q : p));
  const total = combinations.reduce((sum, c) => sum + c.weight, 0);
  return sides.map((list, side) => ({
    line: list[best.pick[side]!]!.line,
    doubt: list
      .map((edge, i) => ({
        line: edge.line,
        weight: combinations.reduce((sum, c) => (c.pick[side] === i ? sum + c.weight : sum), 0) / total,
      }))
      .filter((_, i) => i !== best.pick[side]),
  }));
}
