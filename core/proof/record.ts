import type { Model } from '../anatomy/index.ts';
import { newPartsOf } from '../dive/index.ts';
import {
  likelyCauses,
  SLOW,
  TELLTALE,
  type Cases,
  type CauseKind,
  type DiveRecord,
  type Stage,
  type Telltale,
  type TestMade,
} from '../diagnosis/index.ts';
import { CONNECTORS } from '../kinds/index.ts';
import { DEVIATION_FACTS, type Circumstance, type RunState } from '../run/index.ts';

const STAGES: Record<Circumstance, Stage | null> = { intake: 'before', open: 'open', closed: 'closed', tried: null };

/** From which factor on what the counter found is told of an item. Origin: own choice. */
const WORTH_A_WORD = 1.5;

/** What a run has recorded, as the diagnosis reads it. */
export function recordOf(state: RunState): DiveRecord {
  const { model, plan } = state.context;
  const handled = new Set<string>();
  for (const dealt of state.items.values()) for (const id of dealt) if (model.items.has(id)) handled.add(id);
  // What was done in one is not told item by item.
  for (const step of plan.steps)
    if (state.done.has(step.id)) for (const id of step.items) if (model.items.has(id)) handled.add(id);
  const tests = testsOf(state);
  return { handled, device: state.device, tests, telltales: telltalesOf(model, state), sound: soundOf(state) };
}

function testsOf(state: RunState): TestMade[] {
  // What was found and put right has no part in the tests that were made before it, once they were made again.
  const fixedAt = state.looks.findLast((l) => l.found !== null)?.at ?? '';
  const again = new Set(
    state.tested.filter((t) => fixedAt !== '' && t.at > fixedAt && t.circumstance !== 'intake').map((t) => t.function),
  );
  return state.tested.flatMap((t): TestMade[] => {
    const stage = STAGES[t.circumstance];
    if (!stage || t.outcome === 'waived') return [];
    if (stage !== 'before' && again.has(t.function) && t.at <= fixedAt) return [];
    return [{ function: t.function, failed: t.outcome === 'fail', stage }];
  });
}

/** Items that were found sound, and have not been undone by anything since. */
function soundOf(state: RunState): Set<string> {
  const sound = new Set<string>();
  for (const { item, found } of state.looks) {
    if (found === null) sound.add(item);
    else sound.delete(item);
  }
  return sound;
}

function telltalesOf(model: Model, state: RunState): Telltale[] {
  const telltales: Telltale[] = [];
  const renewed = state.device.renewed;
  for (const d of state.deviations) {
    const told = DEVIATION_FACTS.of(d.kind).tells;
    // A part that has been renewed since is another one.
    if (!told || d.item === null || renewed.has(d.item)) continue;
    const connector = model.connectors.get(d.item);
    if (connector && renewed.has(connector.from)) continue;
    telltales.push({ item: d.item, ...told, said: { code: 'recorded-as', kind: d.kind, words: d.note } });
  }
  for (const { fastener, verdict, accepted, peak } of state.torques)
    if (accepted && verdict !== 'good')
      telltales.push({
        item: fastener,
        kind: 'wrong-screw',
        factor: TELLTALE.torque,
        said: { code: 'driver-ended', torque: peak, verdict },
      });
  // Once it was tested again, what was put right is right, or it was something else.
  for (const { item, found, note, at } of state.looks.slice(-1))
    if (found !== null && !state.tested.some((t) => t.at > at))
      telltales.push({
        item,
        kind: found,
        factor: TELLTALE.recorded,
        said: { code: 'looked-and-found', words: note },
      });
  return [...telltales, ...counterOf(model, state), ...slowOf(state)];
}

/**
 * What the counter found points at old faults and away from them: as much as its own odds move by what was said and checked
 * there, within what a hint is worth.
 */
function counterOf(model: Model, state: RunState): Telltale[] {
  const { symptoms, checks } = state.counter;
  if (symptoms.length === 0 && Object.keys(checks).length === 0) return [];
  const thatDid = (outcome: 'pass' | 'fail') =>
    [...state.before].filter(([, t]) => t.outcome === outcome).map(([id]) => id);
  const tests = { failed: thatDid('fail'), passed: thatDid('pass') };
  const plain = new Map(likelyCauses(model, { symptoms: [], checks: {}, ...tests }).map((c) => [c.id, c.odds]));
  return likelyCauses(model, { symptoms, checks, ...tests }).flatMap(({ id, item, odds }): Telltale[] => {
    const before = plain.get(id);
    if (item === null || state.device.renewed.has(item) || !before || odds === 0) return [];
    const factor = Math.max(1 / TELLTALE.hinted, Math.min(TELLTALE.hinted, odds / before));
    if (Math.abs(Math.log(factor)) < Math.log(WORTH_A_WORD)) return [];
    return [
      {
        item,
        kind: 'was-bad-before',
        factor,
        said: { code: factor > 1 ? 'counter-points-to' : 'counter-points-away' },
      },
    ];
  });
}

/** Steps that took far longer than planned: something did not go easily. */
function slowOf(state: RunState): Telltale[] {
  const { steps, model } = state.context;
  const done = [...state.done]
    .map(([id, at]) => ({ step: steps.get(id), at: Date.parse(at) }))
    .sort((a, b) => a.at - b.at);
  return done.flatMap(({ step, at }, i): Telltale[] => {
    const before = done[i - 1];
    if (!step || !before || step.phase !== 'ascent' || before.step?.waits) return [];
    const took = (at - before.at) / 1000;
    if (took < SLOW.least || took < step.seconds * SLOW.times) return [];
    return step.items
      .filter((item) => model.items.has(item))
      .map((item) => ({
        item,
        kind: null,
        factor: TELLTALE.slow,
        said: {
          code: 'took-longer',
          n: step.n,
          took: Math.round(took / 60),
          planned: Math.max(1, Math.round(step.seconds / 60)),
        },
      }));
  });
}

/** What a signed job adds to the shop's cases: how much was handled, and what was found guilty. */
export function casesOf(state: RunState): Cases {
  const { model, plan } = state.context;
  const { handled } = recordOf(state);
  const spares = newPartsOf(model, plan);
  const count = (of: (id: string) => boolean) => [...handled].filter(of).length;
  const plugs = count((id) => model.connectors.has(id));
  const isPlug = (id: string) => {
    const connector = model.connectors.get(id);
    return connector !== undefined && !CONNECTORS.of(connector.kind).byItself;
  };
  const flexes = count((id) => isPlug(id));
  const screws = count((id) => model.fasteners.has(id));
  const kept = count((id) => model.parts.has(id) && !spares.has(id));
  const guilty = (kind: CauseKind) => new Set(state.looks.filter((l) => l.found === kind).map((l) => l.item)).size;
  const handledFor: Record<CauseKind, number> = {
    'not-seated': plugs,
    dirty: plugs,
    torn: flexes,
    pinched: flexes,
    'wrong-screw': screws,
    loose: screws,
    'left-out': count((id) => model.bonds.has(id)),
    broken: kept,
    'spare-bad': plan.replace.length,
    'was-bad-before': model.anatomy.parts.filter((p) => p.functions.length > 0).length,
  };
  const cases: Cases = {};
  for (const [kind, n] of Object.entries(handledFor) as [CauseKind, number][])
    if (n > 0) cases[kind] = { handled: Math.max(n, guilty(kind)), guilty: guilty(kind) };
  return cases;
}
