/** A straight piece of an isotherm, in cells of the grid: x from the left, y from the top, at the middle of cells. */
export type Stroke = [x1: number, y1: number, x2: number, y2: number];

/** Where a field on a grid has a value: marching squares (Lorensen & Cline 1987 in the plane, from memory). */
export function contour(values: ArrayLike<number>, nx: number, ny: number, level: number): Stroke[] {
  const strokes: Stroke[] = [];
  for (let y = 0; y + 1 < ny; y++)
    for (let x = 0; x + 1 < nx; x++) {
      const [a, b, c, d] = [
        values[y * nx + x]!,
        values[y * nx + x + 1]!,
        values[(y + 1) * nx + x + 1]!,
        values[(y + 1) * nx + x]!,
      ];
      const cut = (p: number, q: number) => (level - p) / (q - p);
      const points: [number, number][] = [];
      if (a < level !== b < level) points.push([x + cut(a, b), y]);
      if (b < level !== c < level) points.push([x + 1, y + cut(b, c)]);
      if (c < level !== d < level) points.push([x + 1 - cut(c, d), y + 1]);
      if (d < level !== a < level) points.push([x, y + 1 - cut(d, a)]);
      for (let i = 0; i + 1 < points.length; i += 2) strokes.push([...points[i]!, ...points[i + 1]!]);
    }
  return strokes;
}
