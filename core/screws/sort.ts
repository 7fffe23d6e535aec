import type { Colour, Drive, Fastener, Model } from '../anatomy/index.ts';
import { assign, costIfRestricted } from './assign.ts';
import { classesOf, type ScrewClass } from './classes.ts';
import { fitOf } from './fit.ts';

/** One piece found on the bench. What was not measured is `null`. Lengths in mm, each with its standard uncertainty. */
export interface Piece {
  id: string;
  length: number | null;
  thread: number | null;
  head: number | null;
  drive: Drive | null;
  magnetic: boolean | null;
  colour: Colour | null;
  /** Standard uncertainty of the measured lengths, mm; `null` takes the default of the caliper. */
  uncertainty: number | null;
  /** Of single measures that were read more often: the uncertainty of their mean. */
  uncertainties?: Partial<Record<'length' | 'thread' | 'head', number>>;
}

/** Origin: a hand caliper reads to about 0.05 mm (common practice); slips of eye and note are own estimates. */
export const READING = {
  caliper: 0.05,
  wrongDrive: 0.01,
  wrongMagnet: 0.02,
  wrongColour: 0.05,
  stranger: 0.002,
  lost: 0.02,
} as const;
/** A piece is held back when the chance of a harmful mistake is above this. Origin: own choice, one in a million. */
export const HOLD_BACK = 1e-6;

export type Measure = 'length' | 'thread' | 'head' | 'drive' | 'magnetic' | 'colour';

export interface Sorted {
  piece: string;
  /** The hole it goes back to; `null` is a stranger. */
  fastener: string | null;
  /** Class letter, `null` for a stranger. */
  letter: string | null;
  /** By how much the next best explanation with another class is less likely: difference of log-likelihoods. */
  margin: number;
  /** Likely classes with their probabilities, the likeliest first; `null` is a stranger. */
  chances: { letter: string | null; p: number }[];
  /** Class that it may be instead so that the mistake would do harm, and what would happen. */
  danger: { letter: string; p: number; text: string } | null;
  heldBack: boolean;
  /** What to measure next, when held back: what separates it best from the dangerous class. */
  measureNext: Measure | null;
}

export interface Sorting {
  pieces: Sorted[];
  /** Holes for which nothing was found. */
  lost: string[];
  /** Negative log-likelihood of the most probable explanation. */
  cost: number;
}

const gauss = (difference: number, sigma: number): number =>
  (difference * difference) / (2 * sigma * sigma) + Math.log(sigma);

const sigmaOf = (piece: Piece, key: 'length' | 'thread' | 'head'): number =>
  piece.uncertainties?.[key] ?? piece.uncertainty ?? READING.caliper;

/** One more reading of a piece: the mean of all `count` readings so far and this one, with its smaller uncertainty. */
export function readAgain(piece: Piece, key: 'length' | 'thread' | 'head', value: number, count: number): Piece {
  const before = piece[key];
  if (before === null || count < 1) return { ...piece, [key]: value };
  const sigma = piece.uncertainty ?? READING.caliper;
  return {
    ...piece,
    [key]: Math.round(((before * count + value) / (count + 1)) * 1000) / 1000,
    uncertainties: { ...piece.uncertainties, [key]: sigma / Math.sqrt(count + 1) },
  };
}

/** Negative log-likelihood of what was measured on a piece if it is of this shape. */
export function misfit(
  piece: Piece,
  shape: Pick<Fastener, 'length' | 'thread' | 'head' | 'drive' | 'magnetic' | 'colour'>,
): number {
  let cost = 0;
  for (const key of ['length', 'thread', 'head'] as const)
    if (piece[key] !== null && shape[key] !== null) cost += gauss(piece[key] - shape[key], sigmaOf(piece, key));
  if (piece.drive !== null)
    cost -= Math.log(piece.drive === shape.drive ? 1 - READING.wrongDrive : READING.wrongDrive / 5);
  if (piece.magnetic !== null)
    cost -= Math.log(piece.magnetic === shape.magnetic ? 1 - READING.wrongMagnet : READING.wrongMagnet);
  if (piece.colour !== null)
    cost -= Math.log(piece.colour === shape.colour ? 1 - READING.wrongColour : READING.wrongColour / 2);
  return cost;
}

/** A stranger may measure anything between 0.5 and 6.5 mm. */
function strangerCost(piece: Piece): number {
  const measured = [piece.length, piece.thread, piece.head].filter((v) => v !== null).length;
  return (
    measured * (Math.log(6) - 0.5 * Math.log(2 * Math.PI)) +
    (piece.drive !== null ? Math.log(8) : 0) +
    (piece.magnetic !== null ? Math.log(2) : 0) +
    (piece.colour !== null ? Math.log(3) : 0) -
    Math.log(READING.stranger)
  );
}

/**
 * The most probable assignment of pieces to holes, with strangers among them and screws lost; for each piece
 * how sure that is, and whether a mistake would do harm.
 * @param holes fasteners that should lie on the bench
 * @throws Error when a piece has no measurement at all
 */
export function sortSpill(model: Model, pieces: readonly Piece[], holes: readonly string[]): Sorting {
  for (const p of pieces)
    if (p.length === null && p.thread === null && p.head === null && p.drive === null)
      throw new Error(`piece "${p.id}" has no measurement; give at least its length or its drive`);
  const classes = classesOf(model, new Set(holes));
  const holeIds = classes.flatMap((c) => c.fasteners);
  const classOfHole = classes.flatMap((c) => c.fasteners.map(() => c));
  const n = pieces.length;
  const h = holeIds.length;
  // Rows: pieces, then one for each hole that may stay empty. Columns: holes, then one for each piece that may be a stranger.
  const size = n + h;
  const costs = new Float64Array(size * size).fill(Number.POSITIVE_INFINITY);
  const lost = -Math.log(READING.lost);
  pieces.forEach((piece, i) => {
    for (let j = 0; j < h; j++) costs[i * size + j] = misfit(piece, classOfHole[j]!.shape);
    costs[i * size + h + i] = strangerCost(piece);
  });
  for (let j = 0; j < h; j++) {
    costs[(n + j) * size + j] = lost;
    for (let k = 0; k < n; k++) costs[(n + j) * size + h + k] = 0;
  }
  const best = assign(costs, size, size);
  const result = pieces.map((piece, i): Sorted => {
    const column = best.columns[i]!;
    const own: ScrewClass | null = column < h ? classOfHole[column]! : null;
    const alternatives = [...classes, null]
      .filter((c) => c !== own)
      .map((c) => {
        const cost = costIfRestricted(costs, size, size, best, i, (j) =>
          c === null ? j === h + i : j < h && classOfHole[j] === c,
        );
        return { cls: c, weight: Math.exp(best.cost - cost) };
      });
    const total = 1 + alternatives.reduce((sum, a) => sum + a.weight, 0);
    const chances = [
      { letter: own?.letter ?? null, p: 1 / total },
      ...alternatives.map((a) => ({ letter: a.cls?.letter ?? null, p: a.weight / total })),
    ].sort((a, b) => b.p - a.p);
    const fastener = column < h ? holeIds[column]! : null;
    const dangers =
      own === null
        ? []
        : alternatives
            .flatMap(({ cls, weight }) => {
              if (cls === null) return [];
              // It is put into the holes of `own` and is in truth of the other class.
              const harm = own.fasteners
                .map((id) => fitOf(model, cls.shape, model.fasteners.get(id)!))
                .find((f) => f.harmful);
              return harm ? [{ letter: cls.letter, p: weight / total, text: harm.text, cls }] : [];
            })
            .sort((a, b) => b.p - a.p);
    const danger = dangers[0] ?? null;
    const heldBack = dangers.reduce((sum, d) => sum + d.p, 0) > HOLD_BACK;
    return {
      piece: piece.id,
      fastener,
      letter: own?.letter ?? null,
      margin: -Math.log(Math.max(1e-300, Math.max(0, ...alternatives.map((a) => a.weight)))),
      chances: chances.filter((c) => c.p > 1e-9).slice(0, 4),
      danger: danger && danger.p > 1e-9 ? { letter: danger.letter, p: danger.p, text: danger.text } : null,
      heldBack,
      measureNext: heldBack && danger && own ? nextMeasure(piece, own, danger.cls) : null,
    };
  });
  const taken = new Set(result.flatMap((r) => (r.fastener ? [r.fastener] : [])));
  return { pieces: result, lost: holeIds.filter((id) => !taken.has(id)), cost: best.cost };
}

/**
 * The measurement that tells two classes apart best: the largest expected gain in log-likelihood, one more reading of
 * a kind counted as new.
 */
function nextMeasure(piece: Piece, a: ScrewClass, b: ScrewClass): Measure {
  const sigma = piece.uncertainty ?? READING.caliper;
  const gain: [Measure, number][] = (['length', 'thread', 'head'] as const).map((key) => [
    key,
    // What is not known of one of them tells nothing apart.
    a.shape[key] === null || b.shape[key] === null ? 0 : (a.shape[key] - b.shape[key]) ** 2 / (2 * sigma * sigma),
  ]);
  if (piece.drive === null && a.shape.drive !== b.shape.drive) gain.push(['drive', -Math.log(READING.wrongDrive / 5)]);
  if (piece.magnetic === null && a.shape.magnetic !== b.shape.magnetic)
    gain.push(['magnetic', -Math.log(READING.wrongMagnet)]);
  if (piece.colour === null && a.shape.colour !== b.shape.colour)
    gain.push(['colour', -Math.log(READING.wrongColour / 2)]);
  return gain.sort((x, y) => y[1] - x[1])[0]![0];
}
