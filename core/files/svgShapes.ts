import type { Point } from '../anatomy/index.ts';

/** a c e / b d f, as SVG writes it. */
export type Matrix = readonly [a: number, b: number, c: number, d: number, e: number, f: number];
export const UNMOVED: Matrix = [1, 0, 0, 1, 0, 0];

export const times = (m: Matrix, n: Matrix): Matrix => [
  m[0] * n[0] + m[2] * n[1],
  m[1] * n[0] + m[3] * n[1],
  m[0] * n[2] + m[2] * n[3],
  m[1] * n[2] + m[3] * n[3],
  m[0] * n[4] + m[2] * n[5] + m[4],
  m[1] * n[4] + m[3] * n[5] + m[5],
];
export const moved = (m: Matrix, [x, y]: Point): Point => [m[0] * x + m[2] * y + m[4], m[1] * x + m[3] * y + m[5]];

/** Numbers of an attribute, however they are parted. */
export const numbersIn = (text: string): number[] =>
  (text.match(/[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?/gi) ?? []).map(Number);

/** A `transform` attribute. @throws Error that names what is not understood */
export function matrixOf(text: string | undefined): Matrix {
  let m: Matrix = UNMOVED;
  for (const [, name, inner] of (text ?? '').matchAll(/(\w+)\s*\(([^)]*)\)/g)) {
    const v = numbersIn(inner!);
    const radians = ((v[0] ?? 0) * Math.PI) / 180;
    const [c, s] = [Math.cos(radians), Math.sin(radians)];
    switch (name) {
      case 'matrix':
        if (v.length !== 6) throw new Error(`transform "${text}": a matrix has six numbers`);
        m = times(m, v as unknown as Matrix);
        break;
      case 'translate':
        m = times(m, [1, 0, 0, 1, v[0] ?? 0, v[1] ?? 0]);
        break;
      case 'scale':
        m = times(m, [v[0] ?? 1, 0, 0, v[1] ?? v[0] ?? 1, 0, 0]);
        break;
      case 'rotate': {
        const [x, y] = [v[1] ?? 0, v[2] ?? 0];
        m = times(times(times(m, [1, 0, 0, 1, x, y]), [c, s, -s, c, 0, 0]), [1, 0, 0, 1, -x, -y]);
        break;
      }
      case 'skewX':
        m = times(m, [1, 0, Math.tan(radians), 1, 0, 0]);
        break;
      case 'skewY':
        m = times(m, [1, Math.tan(radians), 0, 1, 0, 0]);
        break;
      default:
        throw new Error(`transform "${name}" is not known`);
    }
  }
  return m;
}

/** Pieces that a curve is made of. Origin: own choice; the sagitta of a corner of 3 mm is then below 0.02 mm. */
const PIECES = 12;

/**
 * The first closed or open run of a path as points, curves in pieces (SVG 2, chapter 9).
 * @throws Error when the path cannot be read
 */
export function pointsOfPath(d: string): Point[] {
  const tokens = d.match(/[a-zA-Z]|[-+]?(?:\d+\.?\d*|\.\d+)(?:e[-+]?\d+)?/g) ?? [];
  const out: Point[] = [];
  let [x, y, command, at] = [0, 0, '', 0];
  let control: Point | null = null;
  const next = (): number => {
    const value = Number(tokens[at++]);
    if (!Number.isFinite(value))
      throw new Error(`the path breaks off after "${tokens.slice(Math.max(0, at - 4), at).join(' ')}"`);
    return value;
  };
  const to = (nx: number, ny: number) => {
    [x, y] = [nx, ny];
    out.push([x, y]);
  };
  const curve = (p: readonly Point[]) => {
    for (let i = 1; i <= PIECES; i++) {
      let level = p.map((q): Point => [q[0], q[1]]);
      const t = i / PIECES;
      while (level.length > 1)
        level = level
          .slice(1)
          .map((q, k): Point => [level[k]![0] * (1 - t) + q[0] * t, level[k]![1] * (1 - t) + q[1] * t]);
      out.push(level[0]!);
    }
    [x, y] = p.at(-1)!;
  };
  while (at < tokens.length) {
    if (/[a-zA-Z]/.test(tokens[at]!)) command = tokens[at++]!;
    const relative = command === command.toLowerCase();
    const [ox, oy] = relative ? [x, y] : [0, 0];
    const pair = (): Point => [ox + next(), oy + next()];
    const kind = command.toUpperCase();
    if (kind === 'Z') {
      // Only the first run is an outline; a second one is a hole or another thing.
      break;
    }
    if (kind === 'M') {
      if (out.length > 0) break;
      to(...pair());
      command = relative ? 'l' : 'L';
      continue;
    }
    let held: Point | null = null;
    if (kind === 'L') to(...pair());
    else if (kind === 'H') to(ox + next(), y);
    else if (kind === 'V') to(x, oy + next());
    else if (kind === 'C' || kind === 'S') {
      const first: Point = kind === 'C' ? pair() : control ? [2 * x - control[0], 2 * y - control[1]] : [x, y];
      const second = pair();
      curve([[x, y], first, second, pair()]);
      held = second;
    } else if (kind === 'Q' || kind === 'T') {
      const middle: Point = kind === 'Q' ? pair() : control ? [2 * x - control[0], 2 * y - control[1]] : [x, y];
      curve([[x, y], middle, pair()]);
      held = middle;
    } else if (kind === 'A') {
      const [rx, ry, turn, large, sweep] = [next(), next(), next(), next(), next()];
      arc([x, y], [rx, ry], turn, large !== 0, sweep !== 0, pair(), out);
      [x, y] = out.at(-1)!;
    } else throw new Error(`the path has a command "${command}" that is not known`);
    control = held;
  }
  return out;
}

/** An elliptical arc in pieces, from its ends (SVG 2, appendix B.2.4, from memory). */
function arc(
  [x1, y1]: Point,
  [rx0, ry0]: Point,
  degrees: number,
  large: boolean,
  sweep: boolean,
  [x2, y2]: Point,
  out: Point[],
): void {
  let [rx, ry] = [Math.abs(rx0), Math.abs(ry0)];
  if (rx === 0 || ry === 0) {
    out.push([x2, y2]);
    return;
  }
  const turn = (degrees * Math.PI) / 180;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const [dx, dy] = [(x1 - x2) / 2, (y1 - y2) / 2];
  const [u, v] = [c * dx + s * dy, -s * dx + c * dy];
  const grow = (u / rx) ** 2 + (v / ry) ** 2;
  if (grow > 1) [rx, ry] = [rx * Math.sqrt(grow), ry * Math.sqrt(grow)];
  const under = (rx * ry) ** 2 - (rx * v) ** 2 - (ry * u) ** 2;
  const k = (large === sweep ? -1 : 1) * Math.sqrt(Math.max(0, under / ((rx * v) ** 2 + (ry * u) ** 2)));
  const [cu, cv] = [(k * rx * v) / ry, (-k * ry * u) / rx];
  const [cx, cy] = [c * cu - s * cv + (x1 + x2) / 2, s * cu + c * cv + (y1 + y2) / 2];
  const from = Math.atan2((v - cv) / ry, (u - cu) / rx);
  let way = Math.atan2((-v - cv) / ry, (-u - cu) / rx) - from;
  if (sweep && way < 0) way += 2 * Math.PI;
  if (!sweep && way > 0) way -= 2 * Math.PI;
  for (let i = 1; i <= PIECES; i++) {
    const angle = from + (way * i) / PIECES;
    const [px, py] = [rx * Math.cos(angle), ry * Math.sin(angle)];
    out.push(i === PIECES ? [x2, y2] : [c * px - s * py + cx, s * px + c * py + cy]);
  }
}
