import {
  DEFAULT_TILL,
  quoteOf,
  readIdentity,
  spareFor,
  partsToBuy,
  tellMoney,
  type PastJob,
} from '../core/counter/index.ts';
import { diagnose, failedNow, type TestMade } from '../core/diagnosis/index.ts';
import { accessOf, timesOf, type Plan } from '../core/dive/index.ts';
import { type Model, parseJson } from '../core/anatomy/index.ts';
import { minutes } from '../core/units/index.ts';
import { madeUpOffer } from '../server/simulated/supplier.ts';
import { Stop } from './usage.ts';
import { spoken, tell, tellNext } from '../words/index.ts';

/** `nibrel identity`: an IMEI or a serial number. @throws Stop 1 with what is wrong */
export function identity(text: string, json: boolean): string {
  const reading = readIdentity(text);
  const said = json ? JSON.stringify(reading, null, 2) : reading.ok ? `${reading.kind} ${reading.number}` : '';
  if (!reading.ok) throw new Stop(1, reading.because, said);
  return said;
}

/** Tests as a file gives them: functions with `pass` or `fail`. @throws Stop 1 naming what is wrong, and where */
export function testsOf(model: Model, text: string, stage: 'open' | 'closed'): TestMade[] {
  const parsed = parseJson(text);
  if (!parsed.ok) throw new Stop(1, parsed.faults.map((f) => `${f.path}: ${f.message}`).join('\n'));
  const given = parsed.value;
  if (typeof given !== 'object' || given === null || Array.isArray(given))
    throw new Stop(1, 'tests: must be an object of functions, each with "pass" or "fail"');
  const known = new Set(model.anatomy.functions.map((f) => f.id));
  const wrong: string[] = [];
  const tests: TestMade[] = [];
  for (const [id, outcome] of Object.entries(given)) {
    if (!known.has(id)) wrong.push(`tests.${id}: the anatomy has no such function; it has ${[...known].join(', ')}`);
    else if (outcome !== 'pass' && outcome !== 'fail') wrong.push(`tests.${id}: must be "pass" or "fail"`);
    else tests.push({ function: id, failed: outcome === 'fail', stage });
  }
  if (wrong.length > 0) throw new Stop(1, wrong.join('\n'));
  if (tests.length === 0) throw new Stop(1, 'tests: name at least one function that was tested');
  return tests;
}

/** `nibrel diagnose`: which opened item most likely did it, and what to look at next. */
export function diagnoseDive(model: Model, plan: Plan, tests: readonly TestMade[], json: boolean): string {
  const access = accessOf(model, plan);
  const open = plan.steps.find((s) => s.phase === 'ascent' && s.do === 'test');
  const stage = tests[0]!.stage;
  const device = access.after(stage === 'open' && open ? open.n : plan.steps.length);
  const handled = new Set(plan.steps.flatMap((s) => s.items).filter((id) => model.items.has(id)));
  const record = { handled, device, tests, telltales: [], sound: new Set<string>() };
  const found = diagnose(model, plan, record, access);
  if (json) return JSON.stringify(found, null, 2);
  const failed = failedNow(tests);
  if (failed.length === 0) return 'nothing failed; nobody is suspected';
  const percent = (p: number) => `${(100 * p).toFixed(1)} %`.padStart(7);
  return [
    ...found.suspects.map(
      (s) =>
        `${percent(s.odds)}  ${model.nameOf(s.item)} (${s.item}), ${spoken.causes[s.cause]}: ` +
        s.because.map((b) => tell(model, b)).join('; '),
    ),
    `${percent(found.nothing)}  nothing is wrong and a test was judged wrongly`,
    ...(found.bound > 0
      ? [`odds are within ${(found.bound * 100).toFixed(2)} points: what is unlikely together was left out`]
      : []),
    ...(found.next ? [tellNext(model, found.next)] : []),
  ].join('\n');
}

/** Past jobs as a file gives them: planned and taken seconds. @throws Stop 1 */
export function pastOf(text: string): PastJob[] {
  const parsed = parseJson(text);
  if (!parsed.ok) throw new Stop(1, parsed.faults.map((f) => `${f.path}: ${f.message}`).join('\n'));
  if (!Array.isArray(parsed.value)) throw new Stop(1, 'history: must be a list of {"planned": s, "taken": s}');
  return parsed.value.map((entry, i) => {
    const { planned, taken } = (entry ?? {}) as Partial<PastJob>;
    if (!(typeof planned === 'number' && planned > 0 && typeof taken === 'number' && taken > 0))
      throw new Stop(1, `history[${i}]: planned and taken must be seconds above 0`);
    return { planned, taken };
  });
}

/** `nibrel quote`: time and money of a dive, at the usual rates and a made-up supplier's prices. */
export function quoteDive(model: Model, plan: Plan, past: readonly PastJob[], json: boolean): string {
  const offers = partsToBuy(model, plan).map((part) =>
    madeUpOffer(model.anatomy.id, { id: spareFor(model, plan, part), kind: model.parts.get(part)!.kind }),
  );
  const quote = quoteOf(model, plan, { till: DEFAULT_TILL, offers, past });
  if (json) return JSON.stringify({ ...quote, simulated: true }, null, 2);
  const money = (sum: string) => tellMoney(sum, quote.currency);
  const { drawingDown } = timesOf(plan);
  return [
    `work: half of such dives within ${minutes(quote.p50)}, nine of ten within ${minutes(quote.p90)}`,
    `ready: ${minutes(quote.elapsed.p50)} after it is begun, in nine of ten within ${minutes(quote.elapsed.p90)}`,
    ...(drawingDown === null
      ? []
      : [`of this ${minutes(drawingDown)} draw the cell down, whose charge nobody knows: say --charge`]),
    ...[...quote.parts, ...quote.renewables].map((l) => `${money(l.price).padStart(10)}  ${l.name} (${l.from})`),
    `${money(quote.price.labour).padStart(10)}  work`,
    `${money(quote.price.tax).padStart(10)}  tax`,
    `${money(quote.price.total).padStart(10)}  in all; it can come to ${money(quote.price.most)}`,
    ...quote.risks.map(
      (r) => `${(100 * r.chance).toFixed(1).padStart(5)} %  ${r.kind} at ${model.nameOf(r.item)}: ${money(r.cost)}`,
    ),
    ...quote.against.map((words) => `! ${words}`),
    'prices are made up by a simulated supplier; rates are the usual ones',
  ].join('\n');
}
