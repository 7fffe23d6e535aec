import type { Corner, Run, Stretch } from './run.ts';
import { STRIP_LIMITS, type Strip } from './tape.ts';

export type CornerStyle = 'turned' | 'mitred' | 'butted';

/** A bend wider than so many widths of the tape is laid without notches. Origin: own estimate for foam and film tapes. */
const SUPPLE = 12;
/** Degrees that one notch takes. Origin: own choice. */
const NOTCH = 15;

/** A whole ring, from the middle of its longest straight, where a joint may lie. */
export function fromStraight(run: Run): Stretch {
  const straights = run.corners.map((c, i) => {
    const next = run.corners[i + 1]?.from ?? run.corners[0]!.from + run.length;
    return { middle: (c.to + next) / 2, length: next - c.to };
  });
  const longest = straights.reduce((a, b) => (b.length > a.length + 1e-9 ? b : a), { middle: 0, length: 0 });
  const from = longest.middle % run.length;
  return { from, to: from + run.length };
}

/** Where two strips meet: its station, and the sharp corner where it lies at one. */
export interface Joint {
  at: number;
  corner: Corner | null;
}

/** Where a stretch is cut into strips: between two corners, off both, and wherever a strip would be too long. */
export function jointsIn(run: Run, stretch: Stretch, style: CornerStyle): Joint[] {
  const laps = run.closed ? [-run.length, 0, run.length] : [0];
  const inside = run.corners
    .flatMap((c) => laps.map((lap) => ({ ...c, from: c.from + lap, to: c.to + lap })))
    .filter((c) => c.from > stretch.from + 1e-6 && c.to < stretch.to - 1e-6)
    .sort((a, b) => a.from - b.from);
  const { joint, longest } = STRIP_LIMITS;
  const closed = run.closed && stretch.to - stretch.from > run.length - 1e-6;
  const found: Joint[] = [];
  const straights: Stretch[] = [];
  let at = stretch.from;
  for (const c of inside) {
    straights.push({ from: at, to: c.from });
    if (style !== 'turned' && c.radius === 0) found.push({ at: c.from, corner: c });
    at = c.to;
  }
  straights.push({ from: at, to: stretch.to });
  straights.forEach(({ from, to }, i) => {
    const between = i > 0 && i < straights.length - 1;
    if (style === 'turned' && between && to - from >= 2 * joint) found.push({ at: (from + to) / 2, corner: null });
  });
  // A ring without corners has one joint where it begins; one with corners begins on a straight.
  const ends = [stretch.from, ...found.map((f) => f.at).sort((a, b) => a - b), stretch.to];
  for (let i = 0; i + 1 < ends.length; i++) {
    const [from, to] = [ends[i]!, ends[i + 1]!];
    const more = Math.ceil((to - from) / longest) - 1;
    for (let k = 1; k <= more; k++) {
      const wanted = from + ((to - from) * k) / (more + 1);
      const nearest = straights
        .filter((s) => s.to - s.from >= 2 * joint)
        .map((s) => Math.min(s.to - joint, Math.max(s.from + joint, wanted)))
        .filter((s) => s > from + joint && s < to - joint)
        .sort((a, b) => Math.abs(a - wanted) - Math.abs(b - wanted))[0];
      if (nearest !== undefined && !found.some((f) => Math.abs(f.at - nearest) < joint))
        found.push({ at: nearest, corner: null });
    }
  }
  if (closed && (style === 'turned' || found.length === 0)) found.push({ at: stretch.from, corner: null });
  return found.sort((a, b) => a.at - b.at);
}

/** Notches that a strip needs to turn what it turns. */
export function notchesOf(run: Run, stretch: Stretch, width: number): Strip['notches'] {
  const laps = run.closed ? [0, run.length] : [0];
  return run.corners
    .flatMap((c) => laps.map((lap) => ({ ...c, from: c.from + lap, to: c.to + lap })))
    .filter((c) => c.to > stretch.from + 1e-6 && c.from < stretch.to - 1e-6)
    .flatMap((c) => {
      const turn = Math.abs(c.turn);
      if (c.radius === 0) return [{ at: c.from - stretch.from, degrees: turn }];
      if (c.radius > SUPPLE * width) return [];
      const count = Math.max(1, Math.round(turn / NOTCH));
      return Array.from({ length: count }, (_, i) => ({
        at: c.from + ((c.to - c.from) * (i + 0.5)) / count - stretch.from,
        degrees: turn / count,
      }));
    })
    .filter((n) => n.at > 0.5 && n.at < stretch.to - stretch.from - 0.5);
}
