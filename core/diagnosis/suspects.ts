import type { Model } from '../anatomy/index.ts';
import { actionOf, type Access, type Plan } from '../dive/index.ts';
import { networkOf, type DiveNetwork, type DiveRecord, type Rates, type Stage } from './afterDive.ts';
import { LOOK, type CauseKind } from './chances.ts';
import { infer, type Posterior } from './infer.ts';
import type { SuspectMessage } from './messages.ts';
import { expectedSeconds, needsOn, priceOf, searchOrder, type Candidate } from './search.ts';

export interface Suspect {
  item: string;
  /** The likeliest of its causes. */
  cause: CauseKind;
  /** Probability that something is wrong with it, given everything. */
  odds: number;
  /** All its causes, likeliest first. */
  causes: { kind: CauseKind; odds: number }[];
  /** The dive has handled it. */
  touched: boolean;
  because: SuspectMessage[];
}

/** What to look at next. */
export interface NextLook {
  item: string;
  /** What to test once more before anything is opened for it; empty where the failures are beyond doubt. */
  retest: string[];
  /** s of getting there, of looking, and of closing up again what has to be opened for it. */
  seconds: number;
  /** Items that have to be undone to get there, in no order; the plan for it has one. */
  opens: string[];
  /** Probability that it is found there. */
  odds: number;
  /** s saved on average against looking in the order of the way back. */
  saves: number;
}

export interface Diagnosis {
  suspects: Suspect[];
  /** Probability that nothing here is wrong: a test that was judged wrongly, or a cause that no item has. */
  nothing: number;
  /** By how much odds may be off, since what is unlikely together was left out; 0 where all was summed. */
  bound: number;
  next: NextLook | null;
  /** Items in the order in which to look. */
  order: string[];
  /** s until it is found, on average, and in the order of the way back. */
  expected: { seconds: number; wayBack: number };
}

/** Suspects with less than this are not told. Origin: own choice. */
const TOLD = 0.002;
/** How many are told at most. Origin: own choice; a screen of them. */
const MOST_TOLD = 20;
/** Where it is likelier than this that nothing is wrong at all, the tests are made again first. Origin: own choice. */
const DOUBT = 0.3;

/** What has failed by the newest test of each function. */
export function failedNow(tests: readonly { function: string; failed: boolean; stage: Stage }[]): string[] {
  const last = new Map(tests.filter((t) => t.stage !== 'before').map((t) => [t.function, t.failed]));
  return [...last].filter(([, failed]) => failed).map(([id]) => id);
}

/**
 * Which item most likely did it, and what to look at next.
 * @param access ways back into the device, by the same plan
 */
export function diagnose(model: Model, plan: Plan, record: DiveRecord, access: Access, rates: Rates = {}): Diagnosis {
  const network = networkOf(model, plan, record, rates);
  const failed = failedNow(record.tests);
  const posterior = infer(network);
  const suspects = failed.length > 0 ? suspectsOf(plan, record, network, posterior, failed) : [];
  const price = priceOf(access);
  const candidates = suspects.map(
    ({ item, odds }): Candidate => ({
      item,
      odds,
      seconds: LOOK[model.items.get(item)!.type],
      needs: needsOn(access, record.device, item),
    }),
  );
  const order = searchOrder(candidates, price);
  const back = wayBackOrder(plan, candidates);
  const expected = { seconds: expectedSeconds(order, price), wayBack: expectedSeconds(back, price) };
  const saves = Math.max(0, expected.wayBack - expected.seconds);
  const first = order[0];
  let next: NextLook | null = null;
  if (first) {
    const opens = [...new Set([...first.needs].map((key) => actionOf(key).item))];
    const seconds = [...first.needs].reduce((sum, key) => sum + price(key), first.seconds);
    const retest = posterior.nothing > DOUBT && first.needs.size > 0 ? failed : [];
    next = { item: first.item, retest, seconds, opens, odds: first.odds, saves };
  }
  return {
    suspects,
    nothing: posterior.nothing,
    bound: posterior.bound,
    next,
    order: order.map((c) => c.item),
    expected,
  };
}

/** Candidates as somebody meets them who goes back through the way back, from the last thing done to the first. */
export function wayBackOrder(plan: Plan, candidates: readonly Candidate[]): Candidate[] {
  const at = new Map<string, number>();
  for (const step of plan.steps)
    if (step.phase === 'ascent' || step.phase === 'turn') for (const item of step.items) at.set(item, step.n);
  return [...candidates].sort((a, b) => (at.get(b.item) ?? -1) - (at.get(a.item) ?? -1));
}

function suspectsOf(
  plan: Plan,
  record: DiveRecord,
  { causes }: DiveNetwork,
  posterior: Posterior,
  failed: readonly string[],
): Suspect[] {
  const byItem = new Map<string, Map<CauseKind, number>>();
  causes.forEach((c, i) => {
    const kinds = byItem.get(c.item) ?? new Map<CauseKind, number>();
    kinds.set(c.kind, (kinds.get(c.kind) ?? 0) + posterior.causes[i]!);
    byItem.set(c.item, kinds);
  });
  return [...byItem]
    .map(([item, kinds]): Suspect => {
      const told = [...kinds].map(([kind, odds]) => ({ kind, odds })).sort((a, b) => b.odds - a.odds);
      const touched = record.handled.has(item);
      const bears = new Set(causes.filter((c) => c.item === item).flatMap((c) => [...c.effect.on.keys()]));
      return {
        item,
        cause: told[0]!.kind,
        odds: posterior.items.get(item)!,
        causes: told,
        touched,
        because: becauseOf(plan, record, item, bears, failed, told[0]!.kind),
      };
    })
    .filter((s) => s.odds >= TOLD && s.because.some((b) => b.code === 'rests-on'))
    .sort((a, b) => b.odds - a.odds)
    .slice(0, MOST_TOLD);
}

function becauseOf(
  plan: Plan,
  record: DiveRecord,
  item: string,
  bears: ReadonlySet<string>,
  failed: readonly string[],
  cause: CauseKind,
): SuspectMessage[] {
  const because: SuspectMessage[] = [];
  const down = failed.filter((f) => bears.has(f));
  if (down.length > 0) because.push({ code: 'rests-on', functions: down });
  const last = new Map(record.tests.filter((t) => t.stage !== 'before').map((t) => [t.function, t.failed]));
  const works = [...last].filter(([f, no]) => !no && bears.has(f)).map(([f]) => f);
  if (works.length > 0) because.push({ code: 'yet-works', functions: works });
  if (cause === 'spare-bad') because.push({ code: 'new-on-dive' });
  else if (record.handled.has(item)) {
    const step = plan.steps.findLast(
      (s) => s.gate === null && (s.phase === 'ascent' || s.phase === 'turn') && s.items.includes(item),
    );
    if (step) because.push({ code: 'put-back-at', n: step.n });
  } else because.push({ code: 'not-touched' });
  for (const t of record.telltales) if (t.item === item) because.push(t.said);
  if (record.sound.has(item)) because.push({ code: 'found-sound' });
  return because;
}
