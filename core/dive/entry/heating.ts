import type { Bond, Model } from '../../anatomy/index.ts';
import {
  isLocal,
  NoHeat,
  recipeFor,
  softening,
  type NoRecipe,
  type Recipe,
  type SourceKind,
} from '../../heat/index.ts';
import { cutPlan, NoCut, type CutPlan, type GapWay } from '../../opening/index.ts';
import type { Hint, PartingReason, RecipeHint, TurnHint } from '../hints.ts';
import type { HouseRules } from '../house/rules.ts';
import { HEAT, SECONDS } from '../house/times.ts';
import type { HeatSetting } from '../types.ts';

/** Whether heat steps are computed from the anatomy or go by the usual times of the bench, as when thousands of plans are made. */
export type HeatBasis = 'computed' | 'usual';

/** Recipes and cuts are asked for by many plans of one device. Origin: own choice, enough for a shop's day. */
const KEPT = 400;

/** What was computed of each device, by its signature, and then by what was asked; counted over all devices. */
interface Kept<T> {
  devices: Map<string, Map<string, T>>;
  size: number;
}
const recipes: Kept<KeptRecipe> = { devices: new Map(), size: 0 };
const cuts: Kept<CutPlan | null> = { devices: new Map(), size: 0 };
const signatures = new WeakMap<object, string>();

/** @param make is told the whole key, which says everything that the answer depends on */
function remember<T>(kept: Kept<T>, model: Model, asked: string, make: (key: string) => T): T {
  const signature = signatureOf(model);
  const own = kept.devices.get(signature) ?? new Map<string, T>();
  const known = own.get(asked);
  if (known !== undefined) return known;
  const made = make(`${asked} ${signature}`);
  if (kept.size >= KEPT) {
    // The device that was asked for first goes.
    const [oldest, answers] = kept.devices.entries().next().value!;
    kept.devices.delete(oldest);
    kept.size -= answers.size;
  }
  kept.devices.set(signature, own.set(asked, made));
  kept.size++;
  return made;
}

/** Everything of a device that heat and depth depend on. */
function signatureOf({ anatomy }: Model): string {
  const known = signatures.get(anatomy);
  if (known !== undefined) return known;
  const { id, kind, body, bodies, parts, bonds, connectors, latches } = anatomy;
  const text = JSON.stringify([
    id,
    kind,
    body,
    bodies ?? null,
    parts.map((p) => [
      p.id,
      p.kind,
      p.face,
      p.layer,
      p.within,
      p.fixed,
      p.outline,
      p.conductive,
      p.glass,
      p.material,
      p.thickness,
      p.swing,
      p.limits ?? null,
      p.body ?? null,
    ]),
    bonds,
    connectors,
    latches,
  ]);
  signatures.set(anatomy, text);
  return text;
}

/** What is kept of a recipe that was looked for. */
export type KeptRecipe = Recipe | NoRecipe | null;

/** Keeps recipes for longer than a process lasts. A key says everything that a recipe depends on but the program itself. */
export interface RecipeStore {
  get(key: string): KeptRecipe | undefined;
  set(key: string, recipe: KeptRecipe): void;
}
let store: RecipeStore | null = null;

/** Recipes are looked up in `kept` from now on before they are computed, in this thread. */
export function keepRecipesIn(kept: RecipeStore): void {
  store = kept;
}

/** How a device stands when a bond of it is warmed. */
export interface AsItStands {
  /** Parts that are out or swung open by then. */
  off: readonly string[];
  /** The face that heat is laid on, where it is not the one that the bond is warmed from by itself. */
  face?: 'front' | 'back' | undefined;
}

/** The recipe of a bond under the house rules; `null` when its anatomy says too little of it. */
export function recipeOf(
  model: Model,
  bond: string,
  rules: HouseRules,
  solvent: boolean,
  stands: AsItStands = { off: [] },
): KeptRecipe {
  const { off, face = '' } = stands;
  const bench = JSON.stringify([rules.sources, rules.hottest]);
  const key = `${bond} ${off.join(',')} ${face} ${rules.heat} ${rules.room} ${solvent} ${bench}`;
  return remember(recipes, model, key, (whole) => {
    const kept = store?.get(whole);
    if (kept !== undefined) return kept;
    const made = lookedFor(model, bond, rules, solvent, stands);
    store?.set(whole, made);
    return made;
  });
}

function lookedFor(model: Model, bond: string, rules: HouseRules, solvent: boolean, stands: AsItStands): KeptRecipe {
  try {
    const request = {
      source: rules.heat,
      own: rules.sources,
      hottest: rules.hottest,
      room: rules.room,
      solvent,
      ...stands,
    };
    const recipe = recipeFor(model, bond, request);
    // What cannot be warmed half by half may be warmed edge by edge, with rests.
    const passes =
      recipe.ok || rules.heat === 'gel-pack' || !isLocal({ kind: rules.heat })
        ? recipe
        : recipeFor(model, bond, { ...request, passes: true });
    return passes.ok ? passes : recipe;
  } catch (error) {
    if (error instanceof NoHeat) return null;
    throw error;
  }
}

/** The cut of a bond under the house rules; `null` when it is not reached from the edge of its part. */
function cutOf(model: Model, bond: string, rules: HouseRules, crackedGlass: boolean): CutPlan | null {
  const key = `${bond} ${rules.pickMarks} ${rules.pickMargin} ${rules.firstGap} ${crackedGlass}`;
  return remember(cuts, model, key, () => {
    try {
      return cutPlan(model, bond, {
        marks: rules.pickMarks,
        margin: rules.pickMargin,
        firstGap: rules.firstGap,
        crackedGlass,
      });
    } catch (error) {
      if (error instanceof NoCut) return null;
      throw error;
    }
  });
}

/** What a bond is warmed with, and how the device stands then. */
export interface Warming {
  source: SourceKind;
  /** The face that heat is laid on, and what is out by then. */
  on: 'front' | 'back';
  off: readonly string[];
  /** The body of a fold that alone is warmed; `null` in a device of one. */
  half: string | null;
  /** °C that it may be set to, by what the house allows and what lies under it bears; `null` is all that it can. */
  most: number | null;
  /** How; `null` where nothing warms it, or where heat goes by the usual times. */
  recipe: Recipe | null;
  /** Why the house's own way is not gone, where another is. */
  instead: PartingReason | null;
}

/** How a bond is warmed: hands-on and waiting seconds, the setting, and how. */
export function heatingOf(
  bond: Bond,
  rules: HouseRules,
  solvent: boolean,
  { source, recipe, instead, on, off, half, most }: Warming,
): { hands: number; wait: number; setting: HeatSetting; hint: Hint[] } {
  const laid = { on, ...(half === null ? {} : { half }), ...(off.length > 0 ? { off: [...off] } : {}) };
  const lies: Hint[] = [
    ...(source === 'mat' ? [{ code: 'lies-on-mat', face: on } as const] : []),
    ...(half === null ? [] : [{ code: 'half-alone', body: half } as const]),
  ];
  if (!recipe) return usualHeating(bond, source, rules, solvent, laid, lies, most);
  const setting: HeatSetting = {
    source: recipe.source,
    set: recipe.set,
    ...laid,
    turns: recipe.turns,
    softensAt: recipe.softensAt,
    solvent: recipe.solvent,
    computed: true,
    staysSoft: recipe.staysSoft,
    reheat: recipe.reheat,
  };
  const hint: Hint[] = [
    recipeHint(recipe),
    { code: 'heat-computed', softensAt: recipe.softensAt },
    ...lies,
    ...(instead === null ? [] : [{ code: 'not-house-way', why: instead } as const]),
  ];
  // Swept air keeps both hands busy; a mat, a pad or a pack works by itself.
  const rests = recipe.turns.reduce((sum, t) => sum + t.rest, 0);
  const swept = isLocal({ kind: recipe.source }) && recipe.source !== 'gel-pack';
  if (swept) return { hands: SECONDS.setUpHeat + recipe.seconds - rests, wait: rests, setting, hint };
  return {
    hands: SECONDS.setUpHeat + (recipe.turns.length - 1) * SECONDS.movePack,
    wait: recipe.seconds,
    setting,
    hint,
  };
}

/**
 * The usual setting, where thousands of plans are made or the anatomy says too little: hot enough by a margin, within the
 * house's limit.
 */
function usualHeating(
  bond: Bond,
  source: SourceKind,
  rules: HouseRules,
  solvent: boolean,
  laid: Pick<HeatSetting, 'on' | 'off' | 'half'>,
  lies: readonly Hint[],
  most: number | null,
): { hands: number; wait: number; setting: HeatSetting; hint: Hint[] } {
  const usual = HEAT[source];
  const softens = softening({ bond, softensAt: bond.softensAt ?? 0 }, solvent);
  const wanted = Math.max(usual.set, Math.ceil(softens + USUAL_ABOVE));
  const set = Math.min(rules.sources[source]?.set ?? wanted, most ?? Number.POSITIVE_INFINITY);
  return {
    hands: usual.hands,
    wait: usual.wait,
    hint: [
      { code: `heat-usual-${source}`, set },
      ...(bond.softensAt === null ? [] : [{ code: 'gives-at', softensAt: bond.softensAt } as const]),
      { code: 'one-heating-rarely' },
      ...lies,
    ],
    setting: {
      source,
      ...laid,
      set,
      turns: [{ where: 'whole' as const, seconds: usual.wait || usual.hands - SECONDS.setUpHeat, rest: 0 }],
      softensAt: bond.softensAt === null ? null : softens,
      solvent,
      computed: false,
      staysSoft: rules.workable,
      reheat: rules.reheat,
    },
  };
}

/** A recipe, turn by turn. */
export const recipeHint = ({ source, set, turns, solvent }: Recipe): RecipeHint => ({
  code: 'heat-recipe',
  source,
  set,
  turns: turns.map(({ where, seconds: heats, rest: rests }): TurnHint => {
    if (turns.length === 1) return { code: 'heat-at-once', heats };
    return rests > 0 ? { code: 'heat-rest-turn', where, heats, rests } : { code: 'heat-turn', where, heats };
  }),
  solvent,
});

/** A source is set so much above what its bond gives at, K. Origin: own choice. */
const USUAL_ABOVE = 5;

/** How a seam is cut, and how long that takes with the reheats it needs. */
export function cuttingOf(
  model: Model,
  bond: Bond,
  rules: HouseRules,
  crackedGlass: boolean,
  heat: HeatSetting | null,
): { seconds: number; hint: Hint[]; gap: GapWay } | null {
  const plan = cutOf(model, bond.id, rules, crackedGlass);
  if (!plan || plan.marks.length === 0) return null;
  const cut = plan.runs.filter((r) => r.n !== null);
  const edges = plan.order.filter((e) => cut.some((r) => r.edge === e));
  const [first] = edges;
  const { edge, because: why } = plan.entry;
  const hint: Hint[] = [
    { code: 'cut-marks', marks: plan.marks, edge, why, edges: edges.filter((e) => e !== first) },
    ...cut
      .filter((r) => r.behind.length > 0)
      .slice(0, 3)
      .map((r) => ({ code: 'cut-depth', depth: r.depth, edge: r.edge, items: r.behind }) as const),
  ];
  if (plan.runs.some((r) => r.n === null && !plan.hooked.includes(r.edge))) hint.push({ code: 'rest-by-heat' });
  if (plan.hooked.length > 0) hint.push({ code: 'edges-not-cut', edges: plan.hooked });
  hint.push({ code: 'second-pick' }, { code: 'computed-stop' });
  // What stays soft for less time than the cut takes is heated again on the way.
  const reheats = heat
    ? Math.min(MOST_REHEATS, Math.max(0, Math.ceil(plan.seconds / Math.max(20, heat.staysSoft)) - 1))
    : 0;
  if (heat && reheats > 0) hint.push({ code: 'reheat', times: reheats, seconds: Math.round(heat.reheat) });
  return {
    seconds: plan.seconds + reheats * (heat?.reheat ?? 0),
    hint,
    gap: plan.gaps[0]!,
  };
}

/** Reheats counted into a cut, at most. Origin: own choice; practice is heat, pry, reheat. */
const MOST_REHEATS = 4;
