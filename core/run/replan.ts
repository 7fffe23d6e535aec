import { modelOf, type Anatomy } from '../anatomy/index.ts';
import {
  DEFAULT_RULES,
  NoDive,
  planOn,
  type HouseRules,
  type Plan,
  type PlanOptions,
  type Standing,
  type Step,
  type Pose,
} from '../dive/index.ts';
import { sameMessage } from '../message/index.ts';
import { transplantNow } from './care.ts';
import type { ReplanReason } from './messages.ts';
import type { DeviationKind, Replanned } from './events.ts';
import { conditionNow, type RunState } from './state.ts';

export interface ReplanRequest {
  /** Every part that is to be replaced, those already replaced included. */
  replace: string[];
  spares?: string[];
  /** Items to be laid bare and looked at, because a test failed; left out, those that were to be and are not yet. */
  look?: string[];
  /** Batteries that keep their protection board; left out, as planned before. */
  transplant?: string[];
  /** Missing fasteners for which new ones are at hand after all. */
  restored?: string[];
  /** The anatomy as this device really is; left out, as before. */
  anatomy?: Anatomy | null;
  rules?: HouseRules;
  /** In somebody's words. */
  because?: string;
  why?: ReplanReason[];
}

/** A new plan from where the run stands, and what it changes. */
export interface Replan {
  event: Replanned;
  added: Step[];
  dropped: Step[];
}

/** What is found otherwise than drawn, and changes the rest of a dive without a new part. */
const REPLANNED_FOR: ReadonlySet<DeviationKind> = new Set(['stripped', 'missing', 'not-as-drawn']);

/** What the deviations of a run ask for: torn flexes and broken parts become targets, stripped screws are renewed. */
export function proposeReplan(state: RunState): ReplanRequest {
  const { plan, model } = state.context;
  const replace = new Set(plan.replace);
  const why: ReplanReason[] = [];
  for (const { item, kind } of state.deviations) {
    // What was taken out of the anatomy of this job has been seen to.
    if (item === null || !model.items.has(item)) continue;
    const part =
      kind === 'torn' || (kind === 'broken' && model.connectors.has(item))
        ? model.connectors.get(item)?.from
        : kind === 'broken' && model.parts.has(item)
          ? item
          : undefined;
    if (part && !model.parts.get(part)?.fixed && !replace.has(part)) {
      replace.add(part);
      why.push({ code: 'found-deviating', item, kind });
    }
    if (REPLANNED_FOR.has(kind)) why.push({ code: 'found-deviating', item, kind });
  }
  return {
    replace: [...replace],
    spares: [...plan.spares],
    why:
      why.length > 0
        ? why.filter((one, i) => why.findIndex((other) => sameMessage(other, one)) === i)
        : [{ code: 'planned-anew' }],
  };
}

const sameWork = (a: Step, b: Step): boolean =>
  a.do === b.do &&
  a.gate === b.gate &&
  (a.items.length === 0 ? b.items.length === 0 : a.items.some((id) => b.items.includes(id)));

/** Batteries that still keep their protection board: none once moving the cell was ended. */
const stillMoved = (state: RunState): string[] =>
  transplantNow(state)?.state === 'ended' ? [] : (state.context.plan.transplant ?? []);

/** Is this the step at which something is looked at that was opened for it? */
const isLook = (step: Step): boolean => step.do === 'inspect' && step.phase === 'turn';

/**
 * Plans on from where a run stands. What was done is kept, in the order it was done; the rest is planned from
 * the device as it is now.
 * @throws NoDive when no sound dive goes on from here
 */
export function replanFrom(state: RunState, request: ReplanRequest, options: PlanOptions = {}): Replan {
  const { plan: old, model: before } = state.context;
  const model = request.anatomy ? modelOf(request.anatomy) : before;
  const lost = [
    ...state.device.removed,
    ...state.device.swung,
    ...state.device.eased,
    ...state.device.out,
    ...state.device.open,
    ...state.device.released,
  ].find((id) => !model.items.has(id));
  if (lost) throw new NoDive(lost, { code: 'cannot-leave-anatomy', item: lost });
  const restored = (request.restored ?? []).filter((id) => state.device.absent.has(id) && model.fasteners.has(id));

  const kept: Step[] = [];
  const numbers = new Map<number, number>();
  for (const [id, dealt] of state.items) {
    const step = state.context.steps.get(id)!;
    const items = state.done.has(id)
      ? step.items
      : step.items.filter((id) => dealt.has(id) && !(step.do === 'fasten' && state.device.absent.has(id)));
    if (!state.done.has(id) && items.length === 0) continue;
    numbers.set(step.n, kept.length + 1);
    kept.push({ ...step, n: kept.length + 1, items: [...items] });
  }
  for (const step of kept) step.waitsFor = step.waitsFor.flatMap((n) => (numbers.has(n) ? [numbers.get(n)!] : []));

  const out = new Set([...state.device.out, ...restored]);
  const absent = new Set([...state.device.absent].filter((id) => !restored.includes(id)));
  const from: Standing = {
    out,
    open: state.device.open,
    released: state.device.released,
    swung: state.device.swung,
    eased: state.device.eased,
    on: state.device.on,
    removed: state.device.removed,
    absent,
    renewed: state.device.renewed,
    touched: state.device.touched,
    up: state.device.up,
    pose: state.device.pose as Pose | null,
    prepared: new Set(kept.filter((s) => s.phase === 'prepare').map((s) => s.do)),
    stripped: new Set(state.deviations.filter((d) => d.kind === 'stripped' && d.item !== null).map((d) => d.item!)),
    pressed: new Set(kept.filter((s) => (s.do === 'press' || s.do === 'cure') && s.waits > 0).flatMap((s) => s.items)),
    gated: state.device.gated,
  };
  /** A spare whose part is not exchanged any more stays on the shelf. */
  const stillAsked = (spares: readonly string[]) =>
    spares.filter((id) => model.anatomy.spares.some((s) => s.id === id && request.replace.includes(s.replaces)));
  const planned = planOn(
    model,
    kept,
    {
      replace: request.replace,
      spares: request.spares ?? stillAsked(old.spares),
      look: request.look ?? (old.look ?? []).filter((id) => !kept.some((s) => isLook(s) && s.items.includes(id))),
      transplant: (request.transplant ?? stillMoved(state)).filter((id) => request.replace.includes(id)),
      condition: conditionNow(state),
      from,
    },
    request.rules ?? { ...DEFAULT_RULES, ...old.rules },
    {
      ...options,
      // A wait that still runs is waited for by the same work as before.
      tie: (fresh) => {
        for (const step of old.steps) {
          if (numbers.has(step.n)) continue;
          for (const n of step.waitsFor) {
            const heir = numbers.has(n) ? fresh.find((s) => sameWork(s, step)) : undefined;
            if (heir && !heir.waitsFor.includes(numbers.get(n)!)) heir.waitsFor.push(numbers.get(n)!);
          }
        }
      },
    },
  );
  const fresh = planned.steps.slice(kept.length);
  const plan: Plan = { ...planned, renew: [...new Set([...planned.renew, ...restored])] };

  const remaining = old.steps.filter((s) => !state.done.has(s.id));
  return {
    event: {
      type: 'replanned',
      plan,
      kept: kept.map((s) => s.id),
      anatomy: request.anatomy ?? null,
      restored,
      because: request.because ?? '',
      ...(request.why ? { why: request.why } : {}),
    },
    added: fresh.filter((s) => !remaining.some((r) => sameWork(r, s) && r.tool === s.tool)),
    dropped: remaining.filter((r) => !fresh.some((s) => sameWork(s, r))),
  };
}
