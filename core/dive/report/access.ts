import type { Model } from '../../anatomy/index.ts';
import { PRESS_SECONDS } from '../../closing/index.ts';
import { checkerFor } from '../judged.ts';
import { closedDevice, type Device } from '../../judge/index.ts';
import { undoingOf } from '../graph/choices.ts';
import { actionOf, keyOf, type ActionKey, type ActionKind } from '../graph/keys.ts';
import { plain } from '../graph/reasons.ts';
import type { StepGraph, Way } from '../graph/stepGraph.ts';
import { HEAT, SECONDS } from '../house/times.ts';
import { NoDive, type Plan, type Verb } from '../types.ts';
import { graphOf } from './chain.ts';

/** What it takes to get at an item of a device again, by the work of the dive that was there before. */
export interface Access {
  /**
   * Everything that has to be undone on a closed device before the item can be seen to. A plug, a screw or a bond is
   * itself undone; a part only has to lie bare.
   */
  needs(item: string): ReadonlySet<ActionKey>;
  /** s, waits that nothing fills included: of undoing it, and of doing it up again. */
  seconds(action: ActionKey): { down: number; up: number };
  /** The device once a step of the plan is done; 0 is before the first. */
  after(n: number): Device;
}

const UNDOES: Partial<Record<Verb, readonly ActionKind[]>> = {
  unscrew: ['loosen'],
  disconnect: ['open'],
  desolder: ['open'],
  heat: ['release'],
  gap: ['release'],
  cut: ['release'],
  solvent: ['release'],
  release: ['release'],
  pull: ['release'],
  ease: ['ease'],
  swing: ['swing'],
  lift: ['lift'],
  eject: ['lift'],
};

const DOES_UP: Partial<Record<Verb, readonly ActionKind[]>> = {
  fasten: ['loosen'],
  connect: ['open'],
  solder: ['open'],
  bond: ['release'],
  'remove-liner': ['release'],
  press: ['release'],
  cure: ['release'],
  fit: ['lift', 'swing', 'ease'],
};

/** s of work that no step of the dive tells. Origin: the times of the house, for one of each. */
const USUAL: Record<ActionKind, { down: number; up: number }> = {
  loosen: { down: SECONDS.perScrew, up: SECONDS.perScrew },
  open: { down: SECONDS.lift, up: SECONDS.lift },
  release: {
    down: HEAT.mat.hands + HEAT.mat.wait + SECONDS.gap,
    up: SECONDS.newTape + SECONDS.liners + PRESS_SECONDS.most,
  },
  ease: { down: SECONDS.easeOpen, up: SECONDS.easeOpen },
  swing: { down: SECONDS.swing, up: SECONDS.fit },
  lift: { down: SECONDS.lift, up: SECONDS.fit },
};

/** Has this been undone on a device, or gone further than that? */
export function isUndone(device: Device, key: ActionKey): boolean {
  const { kind, item } = actionOf(key);
  switch (kind) {
    case 'loosen':
      return device.out.has(item) || device.absent.has(item);
    case 'open':
      return device.open.has(item);
    case 'release':
      return device.released.has(item);
    case 'ease':
      return device.eased.has(item) || device.swung.has(item) || device.removed.has(item);
    case 'swing':
      return device.swung.has(item) || device.removed.has(item);
    case 'lift':
      return device.removed.has(item);
    default:
      return kind satisfies never;
  }
}

/** Ways back into a device after `plan`; what was opened is got at as the plan got at it. */
export function accessOf(model: Model, plan: Plan): Access {
  const graph = graphOf(model, plan);
  const ways = new Map<string, Way>();
  for (const part of model.anatomy.parts)
    if (part.swing)
      ways.set(part.id, plan.steps.some((s) => s.do === 'lift' && s.items.includes(part.id)) ? 'lift' : 'swing');
  const times = timesOf(plan);
  const known = new Map<string, ReadonlySet<ActionKey>>();
  const devices = new Map<number, Device>();
  return {
    needs: (item) => {
      const there = known.get(item);
      if (there) return there;
      const needs = closureFor(graph, goalsFor(model, graph, item, ways), ways);
      known.set(item, needs);
      return needs;
    },
    seconds: (action) => times.get(action) ?? USUAL[actionOf(action).kind],
    after: (n) => {
      const there = devices.get(n);
      if (there) return there;
      const checker = checkerFor(model, plan);
      const device = plan.steps.slice(0, n).reduce((d, step) => checker.advance(d, step), closedDevice());
      devices.set(n, device);
      return device;
    },
  };
}

/** What is undone to see to an item: for a part, what hides it. */
function goalsFor(model: Model, graph: StepGraph, item: string, ways: ReadonlyMap<string, Way>): ActionKey[] {
  if (!model.parts.has(item)) return [undoingOf(model, item)];
  const family = new Set(model.familyOf(item));
  return model.anatomy.parts
    .filter((p) => !p.fixed && !family.has(p.id) && graph.hides(p.id, item))
    .map((p) => keyOf(ways.get(p.id) === 'swing' ? 'swing' : 'lift', p.id));
}

/** The smallest set of actions that gets there; where every way leads round in a circle, the goals alone. */
function closureFor(
  graph: StepGraph,
  keys: readonly ActionKey[],
  ways: ReadonlyMap<string, Way>,
): ReadonlySet<ActionKey> {
  if (keys.length === 0) return new Set();
  const goals = new Map(keys.map((key) => [key, plain('suspect')]));
  for (const close of [() => graph.closureOf(goals, ways), () => graph.closureByPeeling(goals)]) {
    try {
      return new Set(close().actions.keys());
    } catch (error) {
      if (!(error instanceof NoDive)) throw error;
    }
  }
  return new Set(keys);
}

function timesOf(plan: Plan): Map<ActionKey, { down: number; up: number }> {
  const times = new Map<ActionKey, { down: number; up: number }>();
  for (const step of plan.steps) {
    const [kinds, limb] =
      step.phase === 'descent' ? ([UNDOES[step.do], 'down'] as const) : ([DOES_UP[step.do], 'up'] as const);
    if (!kinds || step.phase === 'prepare') continue;
    for (const item of step.items)
      for (const kind of kinds) {
        const key = keyOf(kind, item);
        const time = times.get(key) ?? { down: 0, up: 0 };
        time[limb] += (step.seconds + step.waits) / step.items.length;
        times.set(key, time);
      }
  }
  return times;
}
