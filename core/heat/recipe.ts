import type { Bond, Model } from '../anatomy/index.ts';
import { ROOM, SAFETY_MARGIN, SOLVENT_DROP, WORKABLE_DROP, ZONES, type Zone } from './limits.ts';
import type { HeatReason } from './messages.ts';
import { takesPart, type Turn, type Where } from './applicator.ts';
import { bandAnswers, endOf, type BandAnswers } from './band.ts';
import { HEAT_STEP, simulate, type HeatRun, type Moment } from './simulate.ts';
import { isLocal, sourceOf, SOURCE_KINDS, type HeatSource, type SourceKind, type SourceSettings } from './sources.ts';
import { stackOf, type Stack } from './stack.ts';

export interface RecipeRequest {
  source: SourceKind;
  /** What the shop knows of its own sources. */
  own?: Partial<Record<SourceKind, SourceSettings>>;
  /** The hottest setting that may be asked of each source, °C; left out, all that it can do. */
  hottest?: Partial<Record<SourceKind, number>>;
  /** °C */
  room?: number;
  /** Solvent is let into the seam once it is off the heat; it counts only for a bond that it loosens. */
  solvent?: boolean;
  /** Edge by edge with rests, so that the device cools in between; for sources that warm a stretch at a time. */
  passes?: boolean;
  /** The face that heat is laid on; the bond's own when left out. */
  face?: 'front' | 'back' | undefined;
  /** Parts that are out or swung open by then. */
  off?: readonly string[] | undefined;
  /** Width of a cell, mm. */
  grid?: number;
  /** Share done, 0 to 1. */
  onProgress?: (share: number) => void;
}

/** One go of a recipe. */
export interface RecipeTurn {
  where: Where;
  seconds: number;
  /** Left alone before it, s. */
  rest: number;
}

/** The quickest safe heating found. Temperatures in °C, times in s. None of it is a promise: the readings decide. */
export interface Recipe {
  ok: true;
  source: SourceKind;
  solvent: boolean;
  passes: boolean;
  set: number;
  turns: RecipeTurn[];
  /** All turns together, rests counted. */
  seconds: number;
  /** How long the seam stays workable after the last turn; capped at what was computed. */
  staysSoft: number;
  /** Heating it again once it has cooled past that. */
  reheat: number;
  softensAt: number;
  peaks: Partial<Record<Zone, number>>;
  /** When the seam is soft and how hot each zone gets by what is assumed of contact and air, over the same seconds. */
  band: BandAnswers;
}

export interface NoRecipe {
  ok: false;
  source: SourceKind;
  solvent: boolean;
  softensAt: number;
  /** The limit that stands against it, or `source` when it is too weak. */
  against: Zone | 'source';
  reason: HeatReason;
}

/** Longest that a turn is tried, s: the whole device at once, and a stretch of it. Origin: own choice, beyond any practice. */
const LONGEST = { whole: 900, local: 300 } as const;
/** Between passes the device is left alone for this long, s. Origin: own choice, twice the time a seam takes to cool. */
const REST = 240;
/** How long the cooling after a recipe is followed, s. */
const AFTER = 240;
/**
 * Width of a cell in the search, mm, and its time step. Origin: measured on a phone against 1 mm: the seam up to 2 K colder,
 * the cell up to 2 K warmer.
 */
const SEARCH_GRID = 4;
const SEARCH_STEP = HEAT_STEP;
/** Width of the coarser search for tablets, mm: they have eight times the cells. */
const TABLET_GRID = 6;
const SET_STEP = 5;

/** The bond lets go at, °C. */
export function softening(
  { bond, softensAt }: { bond: Pick<Bond, 'solvent'>; softensAt: number },
  solvent: boolean,
): number {
  return softensAt - (solvent && bond.solvent ? SOLVENT_DROP : 0);
}

const EDGES: Where[] = ['left', 'bottom', 'right', 'top'];

/** The order in which a source takes the seam: at once, half by half, or edge by edge. */
export function turnsFor(stack: Pick<Stack, 'seam'>, source: Pick<HeatSource, 'kind'>, passes = false): Where[] {
  const all: Where[] = !isLocal(source)
    ? ['whole']
    : source.kind === 'gel-pack' || passes
      ? EDGES
      : ['first-half', 'last-half'];
  return all.filter((where) => stack.seam.some((s) => takesPart(s, where)));
}

interface Trial {
  soft: boolean;
  turns: RecipeTurn[];
  run: HeatRun;
  /** The first zone that would pass its stop temperature less the margin. */
  passed: Zone | null;
  staysSoft: number;
}

const over = ({ limits }: Stack, zones: Moment['zones']): Zone | null =>
  ZONES.find((z) => (zones[z] ?? Number.NEGATIVE_INFINITY) > limits[z].stop - SAFETY_MARGIN) ?? null;

function attempt(stack: Stack, source: HeatSource, softensAt: number, room: number, passes: boolean): Trial {
  const order = turnsFor(stack, source, passes);
  const cap = isLocal(source) ? LONGEST.local : LONGEST.whole;
  const rests = passes && isLocal(source);
  // With rests every other turn is one; the cooling at the end comes last either way.
  const turns: Turn[] = order.flatMap((where, i) => [
    ...(rests && i > 0 ? [{ source: null, where, seconds: REST }] : []),
    { source, where, seconds: cap },
  ]);
  turns.push({ source: null, where: order.at(-1)!, seconds: AFTER });
  let passed: Zone | null = null;
  let failed = false;
  const run = simulate(stack, turns, {
    room,
    step: SEARCH_STEP,
    evenSweep: true,
    until: (now) => {
      passed ??= over(stack, now.zones);
      if (passed || failed) return true;
      const turn = turns[now.turn]!;
      if (turn.source === null) return false;
      const soft = now.coldestHere >= softensAt;
      // A turn whose stretch does not get there makes all others idle.
      if (!soft && now.turnTime >= cap - 1e-6) failed = true;
      return soft;
    },
  });
  const told = turns.flatMap((t, i) =>
    t.source ? [{ where: t.where, seconds: run.took[i]!, rest: rests && i > 0 ? run.took[i - 1]! : 0 }] : [],
  );
  const ended = told.reduce((sum, t) => sum + t.seconds + t.rest, 0);
  const here = stack.seam.flatMap((s, i) => (takesPart(s, order.at(-1)!) ? [i] : []));
  const cold = run.times.findIndex(
    (t, i) => t > ended && here.some((k) => run.seam[i]![k]! < softensAt - WORKABLE_DROP),
  );
  return {
    soft: !failed && passed === null,
    turns: told,
    run,
    passed,
    staysSoft: (cold < 0 ? run.times.at(-1)! : run.times[cold]!) - ended,
  };
}

/** How long the last turn takes again once its stretch has cooled past what can be worked. */
function reheatOf(stack: Stack, source: HeatSource, trial: Trial, softensAt: number, room: number): number {
  const { where } = trial.turns.at(-1)!;
  const before = trial.turns.flatMap((t): Turn[] => [
    ...(t.rest > 0 ? [{ source: null, where, seconds: t.rest }] : []),
    { source, where: t.where, seconds: t.seconds },
  ]);
  const turns: Turn[] = [
    ...before,
    { source: null, where, seconds: Math.max(SEARCH_STEP, trial.staysSoft) },
    { source, where, seconds: LONGEST.whole },
  ];
  const run = simulate(stack, turns, {
    room,
    step: SEARCH_STEP,
    evenSweep: true,
    until: (now) => now.turn === turns.length - 1 && now.coldestHere >= softensAt,
  });
  return run.took.at(-1)!;
}

/**
 * The quickest setting and time that soften a seam without passing a limit: the settings of the source from the hottest
 * down, in steps of 5 °C and then of 1 °C, each simulated until every stretch has had its turn and has cooled again.
 * The hotter source is the quicker one, so the first that keeps the limits is the best.
 * @throws NoHeat when the bond is unknown or does not soften
 */
export function recipeFor(model: Model, bond: string, request: RecipeRequest): Recipe | NoRecipe {
  const { room = ROOM, solvent = false, passes = false, onProgress } = request;
  const grid = request.grid ?? (model.anatomy.kind === 'tablet' ? TABLET_GRID : SEARCH_GRID);
  const stack = stackOf(model, bond, { grid, face: request.face, off: request.off });
  const softensAt = softening(stack, solvent);
  const able = sourceOf(request.source, request.own?.[request.source]);
  const fixed = able.least === able.most;
  const base = fixed ? able : { ...able, most: Math.min(able.most, request.hottest?.[request.source] ?? able.most) };
  // A source that is not hotter than the seam has to be never softens it.
  const lowest = fixed ? base.most : Math.max(base.least, Math.ceil(softensAt) + 1);
  const tried = new Map<number, Trial>();
  const at = (set: number): Trial => {
    const trial = tried.get(set) ?? attempt(stack, { ...base, set }, softensAt, room, passes);
    tried.set(set, trial);
    onProgress?.(Math.min(0.95, tried.size / 12));
    return trial;
  };
  let best: number | null = null;
  let hotter: number | null = null;
  let against: Zone | null = null;
  for (let set: number = base.most; set >= lowest; set -= SET_STEP) {
    const trial = at(set);
    if (trial.soft) {
      best = set;
      break;
    }
    if (trial.passed) against = trial.passed;
    hotter = set;
    if (trial.passed === null) break;
  }
  if (best !== null && hotter !== null) {
    let [low, high] = [best, hotter];
    while (high - low > 1) {
      const middle = Math.floor((low + high) / 2);
      if (at(middle).soft) low = middle;
      else high = middle;
    }
    best = low;
  }
  const none = (against: NoRecipe['against'], reason: HeatReason): NoRecipe => {
    onProgress?.(1);
    return { ok: false, source: request.source, solvent, softensAt, against, reason };
  };
  if (best === null) {
    const weak = against === null;
    return none(
      against ?? 'source',
      weak
        ? { code: 'source-too-weak', source: request.source, most: base.most, softensAt }
        : {
            code: 'zone-too-hot-first',
            zone: against!,
            limit: stack.limits[against!].stop - SAFETY_MARGIN,
            softensAt,
          },
    );
  }
  // The unfavourable end decides about a limit: with the best contact and the least air it is kept too.
  const options = { room, evenSweep: true };
  const whole = (set: number): Turn[] => [
    ...at(set).turns.flatMap((t): Turn[] => [
      ...(t.rest > 0 ? [{ source: null, where: t.where, seconds: t.rest }] : []),
      { source: { ...base, set }, where: t.where, seconds: t.seconds },
    ]),
    { source: null, where: 'whole', seconds: AFTER },
  ];
  const known = new Map<number, HeatRun>();
  const strongAt = (set: number): HeatRun => {
    const run = known.get(set) ?? endOf('strong', stack, whole(set), options);
    known.set(set, run);
    return run;
  };
  /** The zone that the strong end takes past its limit, and how hot it gets. */
  const passedIn = (set: number): { zone: Zone; peak: number } | null => {
    const run = strongAt(set);
    for (const zone of ZONES) {
      const peak = (run.zones[zone] ?? []).reduce((a, b) => Math.max(a, b), 0);
      if (peak > stack.limits[zone].stop) return { zone, peak };
    }
    return null;
  };
  const softAt = (set: number) => set >= lowest && at(set).soft;
  // Down in longer and longer strides to one that keeps them, then by halves to the hottest that does.
  let kept = best;
  for (let [stride, on] = [1, true]; stride >= 1 && passedIn(kept) !== null; ) {
    if (softAt(kept - stride)) kept -= stride;
    else on = false;
    stride = on ? stride * 2 : Math.floor(stride / 2);
  }
  const hot = passedIn(kept);
  if (hot !== null) {
    const { zone, peak } = hot;
    const limit = stack.limits[zone].stop;
    return none(zone, { code: 'zone-may-pass', zone, limit, peak: Math.round(peak), softensAt });
  }
  for (let passed = best; passed - kept > 1; ) {
    const middle = Math.floor((kept + passed) / 2);
    if (softAt(middle) && passedIn(middle) === null) kept = middle;
    else passed = middle;
  }
  best = kept;
  const band = bandAnswers({ weak: endOf('weak', stack, whole(best), options), strong: strongAt(best) }, softensAt);
  const trial = at(best);
  const peaks: Recipe['peaks'] = {};
  for (const zone of ZONES)
    if (trial.run.zones[zone]) peaks[zone] = trial.run.zones[zone].reduce((a, b) => Math.max(a, b));
  const reheat = reheatOf(stack, { ...base, set: best }, trial, softensAt, room);
  onProgress?.(1);
  return {
    ok: true,
    source: request.source,
    solvent: solvent && stack.bond.solvent,
    passes: passes && isLocal(base),
    set: best,
    turns: trial.turns,
    seconds: trial.turns.reduce((sum, t) => sum + t.seconds + t.rest, 0),
    staysSoft: trial.staysSoft,
    reheat,
    softensAt,
    peaks,
    band,
  };
}

/** What else would soften a seam: solvent, several passes, another source; the quickest of each source, quickest first. */
export function alternativesTo(model: Model, bond: string, request: RecipeRequest): Recipe[] {
  const canSolve = model.bonds.get(bond)?.solvent ?? false;
  const kinds = [request.source, ...SOURCE_KINDS.filter((k) => k !== request.source)];
  const all = kinds
    .flatMap((source) =>
      [false, ...(canSolve ? [true] : [])].flatMap((solvent) =>
        [false, ...(isLocal({ kind: source }) && source !== 'gel-pack' ? [true] : [])].map((passes) => ({
          source,
          solvent,
          passes,
        })),
      ),
    )
    .filter(
      (o) =>
        !(
          o.source === request.source &&
          o.solvent === (request.solvent ?? false) &&
          o.passes === (request.passes ?? false)
        ),
    );
  const best = new Map<string, Recipe>();
  all.forEach((option, i) => {
    const { onProgress, ...rest } = request;
    const recipe = recipeFor(model, bond, { ...rest, ...option });
    const key = `${option.source} ${option.solvent}`;
    if (recipe.ok && recipe.seconds < (best.get(key)?.seconds ?? Number.POSITIVE_INFINITY)) best.set(key, recipe);
    onProgress?.((i + 1) / all.length);
  });
  return [...best.values()].sort((a, b) => a.seconds - b.seconds);
}
