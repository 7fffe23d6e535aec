import type { Model } from '../anatomy/index.ts';
import { newPartsOf, type Plan, type Verb } from '../dive/index.ts';
import type { Device } from '../judge/index.ts';
import { CONNECTORS } from '../kinds/index.ts';
import { BESIDE, CHANCES, ERRORS, FRAILTY, LEAK, OLD_PART, OLD_SHARE, OVERLOOKED, type CauseKind } from './chances.ts';
import { effectsOf, effectsOfSpare, type Effect } from './effects.ts';
import { infer } from './infer.ts';
import type { Cause, Finding, Network } from './network.ts';
import type { TelltaleMessage } from './messages.ts';

/** How far the device was put together when something was tested. */
export type Stage = 'before' | 'open' | 'closed';

export interface TestMade {
  function: string;
  failed: boolean;
  stage: Stage;
}

/** What the record of a dive says that bears on what may be wrong now. */
export interface DiveRecord {
  /** Items that the dive handled, be it once or often. */
  handled: ReadonlySet<string>;
  /** The device as it stands: what is open is not guilty of being badly closed. */
  device: Device;
  /** Tests in the order in which they were made. */
  tests: readonly TestMade[];
  /** Factors on the odds of a cause of an item, with what they rest on; `kind` of `null` is any cause of it. */
  telltales: readonly Telltale[];
  /** Items that were looked at since the last test and found sound. */
  sound: ReadonlySet<string>;
}

export interface Telltale {
  item: string;
  kind: CauseKind | null;
  factor: number;
  said: TelltaleMessage;
}

/** The shop's own rates; what it has none for goes by the table. */
export type Rates = Partial<Record<CauseKind, number>>;

/** A cause as the network of a dive has it. */
export interface DiveCause extends Cause {
  kind: CauseKind;
  /** It acts only once something lies over the item. */
  closedOnly: boolean;
  effect: Effect;
}

export interface DiveNetwork extends Network {
  causes: readonly DiveCause[];
}

const PARTING: ReadonlySet<Verb> = new Set(['gap', 'cut', 'swing', 'ease']);

/** Every cause that what was handled, and what was there before, may have. */
function causesOf(model: Model, plan: Plan, record: DiveRecord, rates: Rates): DiveCause[] {
  const rate = (kind: CauseKind) => rates[kind] ?? CHANCES[kind].rate;
  const spares = newPartsOf(model, plan);
  const lifted = new Set(
    plan.steps.filter((s) => s.do === 'lift' || s.do === 'eject' || s.do === 'transfer').flatMap((s) => s.items),
  );
  const pried = new Set(
    plan.steps
      .filter((s) => PARTING.has(s.do))
      .flatMap((s) => s.items.flatMap((id) => model.bonds.get(id)?.joins ?? [id])),
  );
  const causes: DiveCause[] = [];
  const wide = new Map<string, DiveCause>();
  const add = (item: string, kind: CauseKind, prior: number, closedOnly = false) => {
    const ways = kind === 'spare-bad' ? effectsOfSpare(model, item) : effectsOf(model, item);
    ways.forEach((effect, way) => {
      const told = record.telltales.filter((t) => t.item === item && (t.kind === null || t.kind === kind));
      const factor = told.reduce((product, t) => product * t.factor, record.sound.has(item) ? OVERLOOKED : 1);
      const p = byOdds(prior * effect.share, factor);
      const known = effect.wide ? wide.get(item) : undefined;
      if (known) {
        known.prior = 1 - (1 - known.prior) * (1 - p);
        return;
      }
      const id = `${item}:${kind}${way > 0 ? `~${way + 1}` : ''}`;
      const cause: DiveCause = { id, item, kind, prior: p, closedOnly, effect };
      causes.push(cause);
      if (effect.wide) wide.set(item, cause);
    });
  };
  for (const found of model.items.values()) {
    const { id } = found.item;
    if (record.device.absent.has(id)) continue;
    const handled = record.handled.has(id);
    switch (found.type) {
      case 'connector': {
        const { item } = found;
        const mated = handled && !record.device.open.has(id);
        if (mated) add(id, 'not-seated', rate('not-seated') * CONNECTORS.of(item.kind).unseated);
        if (!spares.has(item.from) || !spares.has(item.to))
          add(id, 'was-bad-before', rate('was-bad-before') * OLD_SHARE.plug);
        if (!mated) break;
        add(id, 'dirty', rate('dirty'));
        if (CONNECTORS.of(item.kind).byItself) break;
        add(id, 'torn', rate('torn'));
        add(id, 'pinched', rate('pinched'), true);
        break;
      }
      case 'part': {
        const { item } = found;
        if (item.fixed) break;
        const frailty = FRAILTY[item.kind] ?? 1;
        if (spares.has(id)) {
          // What travels in a new part is bad with it, and is not looked at by itself.
          if (plan.replace.includes(id)) add(id, 'spare-bad', rate('spare-bad'));
          break;
        }
        add(id, 'was-bad-before', rate('was-bad-before') * (item.functions.length > 0 ? 1 : OLD_SHARE.idle));
        if ((lifted.has(id) && handled) || pried.has(id)) add(id, 'broken', rate('broken') * frailty);
        else if (handled) add(id, 'broken', rate('broken') * frailty * BESIDE);
        break;
      }
      case 'fastener':
        if (!handled || record.device.out.has(id)) break;
        add(id, 'wrong-screw', rate('wrong-screw'));
        add(id, 'loose', rate('loose'));
        break;
      case 'bond':
        if (!handled || record.device.released.has(id)) break;
        add(id, 'left-out', rate('left-out'));
        break;
      case 'latch':
        if (!handled || record.device.released.has(id)) break;
        add(id, 'loose', rate('loose'), true);
        break;
      default:
        found satisfies never;
    }
  }
  return causes;
}

/** A probability with its odds multiplied. */
function byOdds(p: number, factor: number): number {
  if (factor === 1) return p;
  const odds = (p / (1 - p)) * factor;
  return odds / (1 + odds);
}

/** One row for each test that says something; the strength of each cause that could have acted by then. */
function findingOf(causes: readonly DiveCause[], test: TestMade): Finding {
  const strength = new Map<number, number>();
  causes.forEach((c, i) => {
    const share = c.effect.on.get(test.function) ?? 0;
    if (share === 0 || (c.closedOnly && test.stage !== 'closed')) return;
    if (test.stage === 'before' && c.kind !== 'was-bad-before') return;
    strength.set(i, share * CHANCES[c.kind].strength);
  });
  return { of: test.function, failed: test.failed, strength, leak: LEAK, ...ERRORS };
}

/** The newest result of every function at a stage. */
function newest(tests: readonly TestMade[], stage: Stage): Map<string, TestMade> {
  return new Map(tests.filter((t) => t.stage === stage).map((t) => [t.function, t]));
}

/**
 * The network of a dive: what may be wrong with each item, and what the tests found. What worked before the dive is
 * weighed first, and the old faults go on with the odds that it left them.
 */
export function networkOf(model: Model, plan: Plan, record: DiveRecord, rates: Rates = {}): DiveNetwork {
  let causes = causesOf(model, plan, record, rates);
  const before = [...newest(record.tests, 'before').values()];
  if (before.length > 0) {
    // What is replaced may have been what was wrong; it explains the old failures and is gone.
    const gone = plan.replace.flatMap((item) =>
      effectsOf(model, item).map(
        (effect, way): DiveCause => ({
          id: `${item}:old~${way}`,
          item: `${item} (old)`,
          kind: 'was-bad-before',
          prior: effect.share * OLD_PART,
          closedOnly: false,
          effect,
        }),
      ),
    );
    const old = [...causes.filter((c) => c.kind === 'was-bad-before'), ...gone];
    const weighed = infer({ causes: old, findings: before.map((t) => findingOf(old, t)) });
    const priors = new Map(old.map((c, i) => [c.id, weighed.causes[i]!]));
    causes = causes.map((c) => ({ ...c, prior: priors.get(c.id) ?? c.prior }));
  }
  const open = newest(record.tests, 'open');
  const closed = newest(record.tests, 'closed');
  // Two results that say the same are not two witnesses: the same eyes judged the same thing.
  for (const [id, test] of open) if (closed.get(id)?.failed === test.failed) open.delete(id);
  const tests = [...open.values(), ...closed.values()];
  return { causes, findings: tests.map((t) => findingOf(causes, t)) };
}
