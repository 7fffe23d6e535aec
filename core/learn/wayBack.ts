import { modelOf, type Anatomy, type Face, type Model } from '../anatomy/index.ts';
import {
  checkerFor,
  checkPlan,
  DEFAULT_RULES,
  measureDepth,
  nameSteps,
  NoDive,
  type Change,
  pairLimbs,
  planOn,
  SECONDS,
  setTimes,
  SOUND,
  totalsOf,
  type HouseRules,
  type Plan,
  type PlanOptions,
  type Standing,
  type Step,
  type Verb,
} from '../dive/index.ts';
import { CONNECTORS, FASTENERS } from '../kinds/index.ts';
import { quoted } from '../message/index.ts';
import { closedDevice, type Device } from '../judge/index.ts';
import { specOf, type Act } from '../explore/index.ts';
import type { Dive } from './dives.ts';
import type { Learnt } from './learn.ts';
import type { Sequence } from './order.ts';
import { FRAME, REST } from './unseen.ts';

/** Hands-on seconds of an act where no clock was running. */
const SECONDS_OF: Partial<Record<Verb, number>> = {
  'power-off': SECONDS.powerOff,
  discharge: SECONDS.checkCharge,
  film: SECONDS.film,
  'tape-glass': SECONDS.tapeGlass,
  photo: SECONDS.photo,
  heat: SECONDS.setUpHeat,
  gap: SECONDS.gap,
  cut: SECONDS.gap,
  pull: SECONDS.pullPerTab,
  solvent: SECONDS.solvent,
  release: SECONDS.openLatchEach,
  unscrew: SECONDS.perScrew,
  disconnect: 6,
  desolder: 60,
  'bend-aside': SECONDS.bendAside,
  ease: SECONDS.easeOpen,
  swing: SECONDS.swing,
  lift: SECONDS.lift,
  eject: SECONDS.ejectTray,
  clean: SECONDS.clean,
};

/** The acts as the steps of a dive: what was done, as it was done. Taken up again by `wayBack`. */
export function stepsOfActs(model: Model, acts: readonly Act[]): Step[] {
  const steps: Step[] = [];
  const checker = checkerFor(model);
  let up = sideAtFirst(acts);
  let device = closedDevice();
  let begun = false;
  for (const act of acts) {
    const { of, does } = specOf(act.act);
    if (does === 'back' || does === 'parted' || does === 'tells') continue;
    if (act.item !== null && !model.items.has(act.item)) continue;
    const verb = verbOf(model, act);
    if (act.act === 'turned-over') up = up === 'front' ? 'back' : 'front';
    const tray = verb === 'eject';
    begun ||= of !== null && !tray;
    const face: Face = act.item === null ? up : model.faceOf(act.item) === 'edge' && act.seen.on == null ? 'edge' : up;
    const step: Step = {
      id: '',
      n: steps.length + 1,
      phase: begun && does !== 'prepares' && !tray ? 'descent' : 'prepare',
      do: verb,
      items: act.item === null ? [] : [act.item],
      tool: act.seen.tool ?? null,
      face,
      seconds: act.seen.seconds ?? SECONDS_OF[verb] ?? 10,
      waits: 0,
      waitsFor: [],
      starts: 0,
      live: does !== 'prepares' && !checker.isolated(device),
      because: [],
      cautions: [],
      depth: 0,
      mirrors: null,
      gate: null,
      hint: quoted(act.note),
    };
    device = checker.advance(device, step);
    const last = steps.at(-1);
    const alike =
      last &&
      of === 'fastener' &&
      last.do === 'unscrew' &&
      verb === 'unscrew' &&
      last.tool === step.tool &&
      last.face === face;
    if (alike && last.live === step.live) {
      last.items.push(...step.items);
      last.seconds += step.seconds;
    } else steps.push(step);
  }
  nameSteps(steps);
  steps.forEach((s, i) => {
    s.n = i + 1;
  });
  return steps;
}

/** The side that was up when the work began: told by the first thing whose side was seen, and how often it was turned by then. */
export function sideAtFirst(acts: readonly Act[]): 'front' | 'back' {
  const first = acts.findIndex((a) => a.seen.on == null && (a.seen.face === 'front' || a.seen.face === 'back'));
  const turned = acts.slice(0, Math.max(0, first)).filter((a) => a.act === 'turned-over').length;
  const back = first >= 0 && acts[first]!.seen.face === 'back';
  return back === (turned % 2 === 0) ? 'back' : 'front';
}

function verbOf(model: Model, act: Act): Verb {
  if (act.act === 'part-off' && act.seen.part === 'tray') return 'eject';
  if (act.act === 'connector-opened' && act.seen.connector && CONNECTORS.of(act.seen.connector).joint)
    return 'desolder';
  const fastener = act.act === 'screw-out' && act.item !== null ? model.fasteners.get(act.item) : undefined;
  if (fastener && !FASTENERS.of(fastener.kind).turned) return 'release';
  return specOf(act.act).verb;
}

/** The device after these steps, as it was done and whatever rules it broke. */
function deviceAfter(model: Model, steps: readonly Step[]): Device {
  const checker = checkerFor(model);
  return steps.reduce((device, step) => checker.advance(device, step), closedDevice());
}

interface WayBack {
  plan: Plan;
  /** What the plan was made on: what was learnt, without what is only guessed or what contradicts the acts. */
  on: Anatomy;
}

interface WayBackRequest {
  anatomy: Anatomy;
  dive: Dive;
  sequence: Sequence;
  /** Parts that a bond may have held, and plugs of which it is only guessed whose they are. */
  mayBeBonded: ReadonlySet<string>;
  guessedPlugs: ReadonlySet<string>;
  /** Parts of which a new one goes in; what is not named goes back as it was. */
  replace: readonly string[];
  rules?: HouseRules;
}

/**
 * The whole dive from an open device that nobody had drawn: first the acts as they were done, then the way back. It
 * keeps the reverse of what was done, except where it is known that two things do not wait for one another. What was
 * learnt of layers makes it better ordered; where that contradicts what is printed or was done, it is left out, since
 * the order that is kept is safe without it.
 * @throws NoDive when even the reverse breaks a law on what was learnt
 */
function wayBack(request: WayBackRequest, options: PlanOptions = {}): WayBack {
  const known = { ...request, anatomy: withoutOwners(request.anatomy, request.guessedPlugs) };
  const bare = { ...known, anatomy: withoutLayers(known.anatomy) };
  const turned = asTurned(bare.anatomy, request.dive.acts);
  const attempts: [WayBackRequest, boolean][] = [
    [known, false],
    [bare, false],
    [bare, true],
    [{ ...bare, anatomy: turned }, true],
    // Plugs that were opened against their printed order are mated in the reverse of what was done.
    [{ ...bare, anatomy: { ...turned, mateOrder: [] } }, true],
  ];
  // The last resort is the acts in reverse, word for word: an open device always has a way back.
  const wordForWord: WayBackRequest = { ...bare, anatomy: onOneSide(bare.anatomy, request.dive.acts) };
  attempts.push([wordForWord, true]);
  let refused: unknown = null;
  for (const [attempt, singly] of attempts) {
    try {
      const plan = planBack(attempt, singly, options);
      const changes = attempt === wordForWord ? [...plan.changes, WORD_FOR_WORD] : plan.changes;
      return { plan: { ...plan, changes }, on: attempt.anatomy };
    } catch (error) {
      if (!(error instanceof NoDive)) throw error;
      refused ??= error;
    }
  }
  throw refused;
}

/** Can the way back of this plan be followed step by step on this anatomy? */
function isLawful(anatomy: Anatomy, plan: Plan): boolean {
  const done = plan.steps.filter((s) => s.phase === 'prepare' || s.phase === 'descent').length;
  return checkPlan(modelOf(anatomy), plan, { laws: true, done }) === null;
}

/** The anatomy with plugs of which it is only guessed whose they are taken for nobody's; their order is kept anyway. */
function withoutOwners(anatomy: Anatomy, guessed: ReadonlySet<string>): Anatomy {
  // What was reached on the underside of a part is that part's.
  const beneath = new Set(anatomy.connectors.flatMap((c) => (c.reachedBy ? [c.id] : [])));
  const known = (id: string) => beneath.has(id) || !guessed.has(id);
  return {
    ...anatomy,
    parts: anatomy.parts.map((p) =>
      p.swing ? { ...p, swing: { ...p.swing, tether: p.swing.tether.filter(known) } } : p,
    ),
    connectors: anatomy.connectors.map((c) => (known(c.id) ? c : { ...c, from: c.to === FRAME ? REST : FRAME })),
  };
}

/** The anatomy as if everything lay side by side. */
function withoutLayers(anatomy: Anatomy): Anatomy {
  return {
    ...anatomy,
    parts: anatomy.parts.map((p) => ({ ...p, layer: 0 })),
    fasteners: anatomy.fasteners.map((f) => ({ ...f, layer: 0 })),
    connectors: anatomy.connectors.map((c) => ({ ...c, layer: 0, beneath: [] })),
    bonds: anatomy.bonds.map((b) => ({ ...b, layer: b.face === null ? null : 0 })),
  };
}

const WORD_FOR_WORD: Change = { code: 'word-for-word' };

/**
 * The anatomy with everything on the side that was up at the end: nothing has to be turned over any more, and nothing waits for
 * anything but what was done after it.
 */
function onOneSide(anatomy: Anatomy, acts: readonly Act[]): Anatomy {
  const turns = acts.filter((a) => a.act === 'turned-over').length;
  const first = sideAtFirst(acts);
  const up = turns % 2 === 0 ? first : first === 'front' ? 'back' : 'front';
  const here = <T extends { face: Face | null }>(things: readonly T[]): T[] =>
    things.map((t) => (t.face === 'edge' || t.face === null ? t : { ...t, face: up }));
  return {
    ...anatomy,
    parts: here(anatomy.parts).map((p) => ({ ...p, exits: [] })),
    fasteners: here(anatomy.fasteners),
    connectors: here(anatomy.connectors),
    bonds: here(anatomy.bonds),
    mateOrder: [],
  };
}

/**
 * The anatomy with everything on the side that was up when it was undone, as the turns that were told have it: for a
 * side that was told wrongly, by which an open device would have to be turned over in the middle of the work.
 */
function asTurned(anatomy: Anatomy, acts: readonly Act[]): Anatomy {
  const sides = new Map<string, 'front' | 'back'>();
  let up = sideAtFirst(acts);
  for (const { act, item, seen } of acts) {
    if (act === 'turned-over') up = up === 'front' ? 'back' : 'front';
    if (item !== null && seen.on == null && !sides.has(item)) sides.set(item, up);
  }
  const turned = <T extends { id: string; face: Face | null }>(things: readonly T[]): T[] =>
    things.map((t) => ({ ...t, face: t.face === 'edge' || t.face === null ? t.face : (sides.get(t.id) ?? t.face) }));
  return {
    ...anatomy,
    parts: turned(anatomy.parts),
    fasteners: turned(anatomy.fasteners),
    connectors: turned(anatomy.connectors),
    bonds: turned(anatomy.bonds),
  };
}

function planBack(request: WayBackRequest, singly: boolean, options: PlanOptions): Plan {
  const { anatomy, dive, sequence, mayBeBonded, replace, rules = DEFAULT_RULES } = request;
  // The order of this dive is kept action by action.
  const model = modelOf({ ...anatomy, orders: [] });
  const kept = stepsOfActs(model, dive.acts);
  const device = deviceAfter(model, kept);
  const done = new Set([...dive.done.map((d) => d.thing), ...dive.parted.map((p) => p.thing)]);
  const only = (ids: ReadonlySet<string>) => new Set([...ids].filter((id) => done.has(id)));
  const undone = [device.removed, device.swung, device.eased, device.out, device.open, device.released];
  if (undone.every((ids) => ids.size === 0)) return untouched(model, kept, rules);
  const from: Standing = {
    out: only(device.out),
    open: device.open,
    released: device.released,
    swung: only(device.swung),
    eased: only(device.eased),
    on: false,
    removed: only(device.removed),
    absent: new Set(),
    renewed: new Set(),
    touched: device.touched,
    up: device.up ?? 'front',
    prepared: new Set([...kept.filter((s) => s.phase === 'prepare').map((s) => s.do), 'power-off', 'discharge']),
    stripped: new Set(),
    pressed: new Set(),
    gated: new Map(),
    kept: { needs: sequence.needs, keeps: sequence.keeps, mayBeBonded, singly },
  };
  return planOn(model, kept, { replace: [...replace], condition: SOUND, from }, rules, {
    ...options,
    acts: kept.length,
  });
}

function untouched(model: Model, kept: Step[], rules: HouseRules): Plan {
  measureDepth(model, kept);
  pairLimbs(kept);
  setTimes(kept, rules);
  const totals = totalsOf(kept, rules);
  return {
    schema: 'nibrel.plan/2',
    anatomy: model.anatomy.id,
    replace: [],
    spares: [],
    rules,
    condition: SOUND,
    steps: kept,
    transfers: [],
    renew: [],
    losses: [],
    touched: [],
    totals,
    missingTools: [],
    changes: [{ code: 'nothing-opened' }],
    absent: [],
    optimality: { cost: totals.elapsed, lowerBound: totals.elapsed, proved: true },
  };
}

export interface WayBackAsked {
  /** Which of the dives that were learnt from, from 0; left out, the newest. */
  n?: number;
  replace?: readonly string[];
  rules?: HouseRules;
}

/** The way back of a dive among those that were learnt from. */
function backOf(
  learnt: Learnt,
  { n = learnt.told.dives.length - 1, replace, rules }: WayBackAsked = {},
  options: PlanOptions = {},
): WayBack {
  const dive = learnt.told.dives[n]!;
  return wayBack(
    {
      anatomy: learnt.anatomy,
      dive,
      sequence: learnt.orders.sequence(n),
      mayBeBonded: learnt.relations.mayBeBonded,
      guessedPlugs: learnt.relations.guessedPlugs,
      replace: replace ?? targetsOf(dive),
      ...(rules ? { rules } : {}),
    },
    options,
  );
}

/** The plan of the way back. @throws NoDive */
export const wayBackOf = (learnt: Learnt, asked: WayBackAsked = {}, options: PlanOptions = {}): Plan =>
  backOf(learnt, asked, options).plan;

/**
 * The way back with the anatomy that it can be followed on step by step: what was learnt, or what is left of that where
 * the acts contradict each other.
 * @throws NoDive
 */
export function turnedBack(learnt: Learnt, asked: WayBackAsked = {}, options: PlanOptions = {}) {
  const { plan, on } = backOf(learnt, asked, options);
  return { plan, anatomy: isLawful(learnt.anatomy, plan) ? learnt.anatomy : on };
}

/** What is left of a whole dive once it is turned round: how many steps, and how long, s. */
export function leftOf({ steps, totals }: Plan): { steps: number; seconds: number } {
  const back = steps.filter((s) => s.phase !== 'prepare' && s.phase !== 'descent');
  return { steps: back.length, seconds: back[0] ? totals.elapsed - back[0].starts : 0 };
}

/** Parts that the technician came for and took out, by the last word on each in that dive. */
export function targetsOf({ done, acts }: Dive): string[] {
  const lifted = new Set(done.filter((d) => d.kind === 'lift').map((d) => d.thing));
  const wanted = (part: string) =>
    acts.findLast((a) => a.item === part && a.seen.target !== undefined)?.seen.target === true;
  return [...lifted].filter(wanted);
}
