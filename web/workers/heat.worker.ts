import { expose } from 'comlink';
import { modelOf, type Anatomy, type Edge, type Point } from '../../core/anatomy/index.ts';
import {
  alternativesTo,
  answersOf,
  calibrate,
  bandAnswers,
  bandOf,
  coldAgain,
  familyOf,
  follow,
  NoCalibration,
  NoHeat,
  PLATES,
  recipeFor,
  simulate,
  softening,
  sourceOf,
  stackOf,
  turnsFor,
  type BandAnswers,
  type Calibration,
  type Family,
  type Following,
  type HeatAnswers,
  type HeatReading,
  type HeatRun,
  type NoRecipe,
  type Reading,
  type Recipe,
  type RecipeRequest,
  type SourceKind,
  type SourceSettings,
  type Turn,
} from '../../core/heat/index.ts';
import { cutAlong, NoCut, seamOf, type CutPlan, type CutRequest, type Seam } from '../../core/opening/index.ts';
import { whyNoCut } from '../../words/index.ts';

export interface HeatRequest {
  bond: string;
  source: SourceKind;
  own: SourceSettings;
  /** Seconds of each turn; all the same when there is one number. */
  seconds: number | readonly number[];
  /** Turns as a recipe has them; left out, as the source is used. */
  turns?: Turn['where'][];
  rests?: readonly number[];
  room: number;
  start: number;
  solvent: boolean;
  /** The face that heat is laid on; the bond's own when left out. */
  face?: 'front' | 'back' | undefined;
  /** Parts that are out or swung open by then. */
  off?: readonly string[] | undefined;
}

/** A computed heating, as a screen needs it. */
export interface Heating {
  run: HeatRun;
  answers: HeatAnswers;
  /** Both ends of what is assumed of contact and air: answers, and the curves that lie between them, °C. */
  band: BandAnswers & { cell: { low: number[]; high: number[] } | null; coldest: { low: number[]; high: number[] } };
  softensAt: number;
  /** When the heat is taken away, s. */
  heatEnds: number;
  grid: { nx: number; ny: number; dx: number; dy: number };
  /** Where the grid begins in the device, mm. */
  origin: Point;
  body: Float64Array;
  seam: { at: Point; edge: Edge }[];
  face: 'front' | 'back';
  turns: { where: Turn['where']; seconds: number; on: boolean }[];
}

/** A computed cut, and the seam it runs along. */
export interface Cut {
  plan: CutPlan;
  seam: Seam;
}

export type Told<T> = { ok: T } | { refused: string };

/** What the model has no answer to is said, not thrown: errors lose their kind on the way. */
function told<T>(work: () => T): Told<T> {
  try {
    return { ok: work() };
  } catch (error) {
    if (error instanceof NoHeat) return { refused: error.message };
    if (error instanceof NoCut) return { refused: whyNoCut(error) };
    if (error instanceof NoCalibration) return { refused: `${error.path}: ${error.message}` };
    throw error;
  }
}

/** Tells progress now and then: each word to the screen costs time. */
function seldom(onProgress: (share: number) => void): (share: number) => void {
  let last = 0;
  return (share) => {
    if (share - last < 0.04 && share < 1) return;
    last = share;
    onProgress(share);
  };
}

/** How long the cooling is shown, s. */
const COOLING = 300;
let family: Family | null = null;

const heat = {
  heating(anatomy: Anatomy, request: HeatRequest, onProgress: (share: number) => void): Told<Heating> {
    return told(() => {
      const stack = stackOf(modelOf(anatomy), request.bond, {
        grid: anatomy.kind === 'tablet' ? 3 : 2,
        face: request.face,
        off: request.off,
      });
      const source = sourceOf(request.source, request.own);
      const wheres = request.turns ?? turnsFor(stack, source);
      const seconds = (i: number) =>
        typeof request.seconds === 'number' ? request.seconds : (request.seconds[i] ?? request.seconds.at(-1)!);
      const turns: Turn[] = wheres.flatMap((where, i): Turn[] => [
        ...(request.rests?.[i] ? [{ source: null, where, seconds: request.rests[i]! }] : []),
        { source, where, seconds: seconds(i) },
      ]);
      turns.push({ source: null, where: 'whole', seconds: COOLING });
      const run = simulate(stack, turns, {
        room: request.room,
        start: request.start,
        frames: 80,
        onProgress: seldom(onProgress),
      });
      const softensAt = softening(stack, request.solvent);
      const ends = bandOf(stack, turns, { room: request.room, start: request.start });
      const heatEnds = turns.slice(0, -1).reduce((sum, t) => sum + t.seconds, 0);
      return {
        run,
        answers: answersOf(run, softensAt, coldAgain(softensAt), heatEnds),
        band: {
          ...bandAnswers(ends, softensAt),
          cell:
            ends.weak.zones.cell && ends.strong.zones.cell
              ? { low: ends.weak.zones.cell, high: ends.strong.zones.cell }
              : null,
          coldest: { low: ends.weak.coldest, high: ends.strong.coldest },
        },
        softensAt,
        heatEnds,
        grid: stack.grid,
        body: stack.body,
        origin: stack.origin,
        seam: stack.seam.map(({ at, edge }) => ({
          at: [at[0] + stack.origin[0], at[1] + stack.origin[1]],
          edge,
        })),
        face: stack.face,
        turns: turns.map(({ where, seconds: s, source: on }) => ({ where, seconds: s, on: on !== null })),
      };
    });
  },
  recipe(
    anatomy: Anatomy,
    bond: string,
    request: RecipeRequest,
    onProgress: (share: number) => void,
  ): Told<{ recipe: Recipe | NoRecipe; others: Recipe[] }> {
    return told(() => {
      const model = modelOf(anatomy);
      const recipe = recipeFor(model, bond, { ...request, onProgress: (s) => onProgress(s * 0.2) });
      return {
        recipe,
        others: recipe.ok
          ? []
          : alternativesTo(model, bond, { ...request, onProgress: (s) => onProgress(0.2 + s * 0.8) }),
      };
    });
  },
  cut(anatomy: Anatomy, bond: string, { margin, ...request }: Required<CutRequest>): Told<Cut> {
    return told(() => {
      const model = modelOf(anatomy);
      const seam = seamOf(model, bond, { margin });
      return { plan: cutAlong(model, seam, request), seam };
    });
  },
  /** Makes ready to follow a heating on a device. */
  prepare(
    anatomy: Anatomy,
    bond: string,
    source: SourceKind,
    own: SourceSettings,
    room: number,
    { softensAt, face, off }: Pick<HeatRequest, 'face' | 'off'> & { softensAt: number },
  ): Told<true> {
    return told(() => {
      family = familyOf(
        stackOf(modelOf(anatomy), bond, { grid: anatomy.kind === 'tablet' ? 8 : 4, face, off }),
        sourceOf(source, own),
        softensAt,
        { room },
      );
      return true;
    });
  },
  follow(readings: readonly HeatReading[], now: number): Following | null {
    return family && follow(family, readings, now);
  },
  calibrate(
    readings: readonly Reading[],
    plate: string,
    source: SourceKind,
    own: SourceSettings,
    room: number,
    lag: number,
  ): Told<Calibration> {
    return told(() => calibrate(readings, PLATES.find((p) => p.id === plate)!, sourceOf(source, own), { room, lag }));
  },
};

export type HeatWorker = typeof heat;
expose(heat);
