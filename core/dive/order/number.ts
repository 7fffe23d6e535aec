import type { Connector, Model } from '../../anatomy/index.ts';
import { CONNECTORS } from '../../kinds/index.ts';
import type { Schedule } from '../../schedule/index.ts';
import { CONNECTOR_KINDS } from '../house/connectorKinds.ts';
import { poseHint } from '../graph/pose.ts';
import { plain, uniqueReasons } from '../graph/reasons.ts';
import { draft, type Draft } from '../entry/draft.ts';
import { tighteningOrder } from './driving.ts';
import { looseningOrder } from './bundles.ts';
import { nameSteps } from './stepIds.ts';
import type { HouseRules } from '../house/rules.ts';
import { heldFor, holdsDevice, takesUp, type WorkList } from './workList.ts';
import { SECONDS } from '../house/times.ts';
import type { Pose, Standing, Step, Totals } from '../types.ts';

const COUNTERPART: Partial<Record<Step['do'], readonly Step['do'][]>> = {
  unscrew: ['fasten'],
  disconnect: ['connect'],
  desolder: ['solder'],
  release: ['press', 'bond', 'fasten'],
  cut: ['press', 'cure'],
  pull: ['press'],
  ease: ['fit'],
  swing: ['ease', 'fit'],
  lift: ['swing', 'ease', 'fit', 'transfer'],
  eject: ['fit'],
};

/** How deep each step is: the parts that are off or open by then. What comes off at one depth goes back at the same. */
export function measureDepth(model: Model, steps: readonly Step[], from?: Standing): void {
  const counts = (id: string) => model.parts.get(id)?.within === null && model.parts.get(id)!.face !== 'edge';
  const off = new Set<string>(
    [...(from?.removed ?? []), ...(from?.swung ?? []), ...(from?.eased ?? [])].filter(
      (id) => counts(id) && !from?.absent.has(id),
    ),
  );
  for (const s of steps) {
    if (s.do === 'fit') for (const id of s.items) off.delete(id);
    s.depth = off.size;
    if (s.do === 'ease' || s.do === 'swing' || s.do === 'lift') for (const id of s.items) if (counts(id)) off.add(id);
  }
}

/** Pairs each step of the way in with the one of the way back that undoes it. */
export function pairLimbs(steps: readonly Step[]): void {
  for (const s of steps) s.mirrors = null;
  for (const s of steps) {
    if (s.phase !== 'descent' && s.phase !== 'prepare') continue;
    const back = COUNTERPART[s.do];
    const partner =
      back &&
      steps.find(
        (o) =>
          o.phase === 'ascent' &&
          o.mirrors === null &&
          back.includes(o.do) &&
          o.items.some((id) => s.items.includes(id)),
      );
    if (partner) {
      s.mirrors = partner.n;
      partner.mirrors = s.n;
    }
  }
}

/** Neighbouring steps that are one at the bench: connectors of one kind opened or seated, screws of one part and driver. */
function oneGo(model: Model, a: Step, b: Draft): boolean {
  if (a.do !== b.do || a.tool !== b.tool || a.phase !== b.phase) return false;
  if (a.do === 'disconnect' || a.do === 'connect') {
    const way = (id: string) => {
      const { kind, shape } = model.connectors.get(id)!;
      return `${CONNECTOR_KINDS.of(kind)[a.do === 'disconnect' ? 'open' : 'seat'].way} ${shape ?? ''}`;
    };
    const isOther = (id: string) => model.connectors.get(id)!.isolatesPower || way(id) !== way(a.items[0]!);
    return ![...a.items, ...b.items].some(isOther);
  }
  if (a.do !== 'unscrew' && a.do !== 'fasten') return false;
  const like = (id: string) => {
    const f = model.fasteners.get(id)!;
    return `${f.kind} ${[...f.holds].sort().join(' ')}`;
  };
  return like(a.items[0]!) === like(b.items[0]!);
}

/** Lays the scheduled work out as steps: turn-overs placed, what is done in one go joined, waits tied to what waits for them. */
export function numberSteps(
  model: Model,
  list: WorkList,
  found: Schedule,
  rules: HouseRules,
  start: { face: 'front' | 'back'; pose: Pose | null; from: Standing | undefined },
): Step[] {
  const steps: Step[] = [];
  const firstStep = new Map<number, Step>();
  const waits = new Map<number, Step[]>();
  /** Works that clean and go on by themselves: what follows waits until it is dry. */
  const dried = new Set<number>();
  const ties: [Step, Step][] = [];
  let { face, pose } = start;
  const isolating = model.anatomy.connectors.filter((c) => c.isolatesPower);
  /** What cuts the power off, a plug or the part that a contact goes with, while it is still closed. */
  const cutOff = (c: Connector) => (CONNECTORS.of(c.kind).byItself ? c.from : c.id);
  const joined = new Set(isolating.filter((c) => !start.from?.open.has(c.id)).map(cutOff));
  const isolators = new Set(isolating.map(cutOff));
  /** Is anything joined that feeds these items; without any, anything at all? */
  const isLive = (items: readonly string[]) => {
    const known = items.filter((id) => model.items.has(id));
    const feeding = known.length > 0 ? new Set(known.flatMap((id) => model.isolatorsOf(id))) : isolating;
    return isolating.length === 0 || [...feeding].some((c) => joined.has(cutOff(c)));
  };
  const lying = () => (pose === null ? {} : { pose });
  const blank = { id: '', n: 0, mirrors: null, depth: 0, waitsFor: [] as number[], starts: 0 };

  for (const work of found.order) {
    const { drafts, face: at, pose: lies, onDevice } = list.works[work]!;
    const again = list.lags
      .flatMap((lag, l) =>
        lag.to === work && found.redone.includes(l) ? [{ lag, heat: list.works[lag.from]!.drafts.at(-1)! }] : [],
      )
      .map(({ lag, heat }) =>
        draft(heat.phase, 'heat', heat.items, {
          ...heat,
          seconds: lag.redo,
          waits: 0,
          heat: null,
          hint: [{ code: 'heat-again' }],
        }),
      );
    for (const d of [...again, ...drafts]) {
      if (onDevice && at !== 'edge' && (lies === null ? at !== face : lies !== pose)) {
        face = at;
        pose = lies;
        steps.push({
          ...draft(d.phase, 'turn-over', [], {
            seconds: SECONDS.turnOver,
            hint: [{ code: 'turn-over' }, ...(lies === null ? [] : [poseHint(lies)])],
          }),
          ...blank,
          because: [plain('nextFace')],
          waitsFor: [],
          face,
          ...lying(),
          live: isLive([]),
        });
      }
      const power = d.items.filter((id) => isolators.has(id));
      const opensPower = power.length > 0 && (d.do === 'disconnect' || d.do === 'lift');
      const closesPower = power.length > 0 && (d.do === 'connect' || d.do === 'fit');
      const live = d.phase !== 'prepare' && isLive(d.items);
      for (const id of power) {
        if (opensPower) joined.delete(id);
        if (closesPower) joined.add(id);
      }
      const last = steps.at(-1);
      let step: Step;
      if (
        last &&
        !opensPower &&
        !closesPower &&
        last.live === live &&
        last.face === face &&
        last.pose === (pose ?? undefined) &&
        oneGo(model, last, d)
      ) {
        step = last;
        step.items.push(...d.items);
        const fasteners =
          d.do === 'unscrew' || d.do === 'fasten' ? step.items.map((id) => model.fasteners.get(id)!) : null;
        if (fasteners) step.items = d.do === 'unscrew' ? looseningOrder(fasteners) : tighteningOrder(fasteners);
        step.seconds += d.seconds;
        step.because = uniqueReasons([...step.because, ...d.because]);
      } else {
        step = {
          ...d,
          ...blank,
          waitsFor: [],
          face,
          ...lying(),
          items: [...d.items],
          because: [...d.because],
          live,
        };
        steps.push(step);
      }
      if (!firstStep.has(work)) firstStep.set(work, step);
      if (last && last.waits > 0 && dried.has(work) && !step.waitsFor.length && step !== last) ties.push([step, last]);
      if (step.do === 'clean') dried.add(work);
      if (step.waits > 0) waits.set(work, [...(waits.get(work) ?? []), step]);
    }
  }
  steps.forEach((s, i) => {
    s.n = i + 1;
  });
  const waitFor = (step: Step | undefined, on: Step) => {
    if (step && on.n < step.n && !step.waitsFor.includes(on.n)) step.waitsFor.push(on.n);
  };
  for (const [step, on] of ties) waitFor(step, on);
  for (const lag of list.lags) for (const on of waits.get(lag.from) ?? []) waitFor(firstStep.get(lag.to), on);
  for (const [place, work] of found.order.entries()) {
    const last = list.works[work]!.drafts.at(-1);
    if (!last || !holdsDevice(last, rules) || !list.works[work]!.onDevice) continue;
    const next = found.order.slice(place + 1).find((w) => list.works[w]!.onDevice && firstStep.has(w));
    if (next !== undefined) for (const on of waits.get(work) ?? []) waitFor(firstStep.get(next), on);
  }
  nameSteps(steps);
  measureDepth(model, steps, start.from);
  pairLimbs(steps);
  setTimes(steps, rules);
  return steps;
}

/** Plans the start of every step: as soon as hands, tool and waits allow. */
export function setTimes(steps: readonly Step[], rules: HouseRules): void {
  const ready = new Map<number, number>();
  let t = 0;
  let held: string | null = null;
  for (const s of steps) {
    if (takesUp(s.tool, held)) t += rules.toolChange;
    held = heldFor(s) ?? held;
    if (s.do === 'turn-over') t += rules.turnOver;
    for (const n of s.waitsFor) t = Math.max(t, ready.get(n) ?? 0);
    s.starts = t;
    t += s.seconds;
    ready.set(s.n, t + s.waits);
  }
}

export function totalsOf(steps: readonly Step[], rules: HouseRules): Totals {
  let toolChanges = 0;
  let held: string | null = null;
  for (const s of steps) {
    if (takesUp(s.tool, held)) toolChanges++;
    held = heldFor(s) ?? held;
  }
  const hands = steps.reduce((sum, s) => sum + s.seconds, 0);
  const last = steps.at(-1);
  const elapsed = last ? last.starts + last.seconds : 0;
  const turnOvers = steps.filter((s) => s.do === 'turn-over').length;
  const screws = new Set(steps.filter((s) => s.do === 'unscrew').flatMap((s) => s.items));
  const connectors = new Set(steps.filter((s) => s.do === 'disconnect' || s.do === 'desolder').flatMap((s) => s.items));
  return {
    hands,
    waits: steps.reduce((sum, s) => sum + s.waits, 0),
    idle: Math.max(0, elapsed - hands - toolChanges * rules.toolChange - turnOvers * rules.turnOver),
    elapsed,
    toolChanges,
    turnOvers,
    screws: screws.size,
    connectors: connectors.size,
  };
}
