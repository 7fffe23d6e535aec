import type { Model } from '../anatomy/index.ts';
import type { Plan } from '../dive/index.ts';
import { BONDS } from '../kinds/index.ts';
import { added, moneyOf, rounded, taxOn, type Money, type Till } from './money.ts';
import { mishapsOf, type MishapKind } from './mishaps.ts';
import { estimateOf, partsToBuy, SMALL, spareFor, type Line, type Offer, type OwnSpare } from './prices.ts';
import { spreadOf, type PastJob } from './spread.ts';

export interface QuoteRisk {
  kind: MishapKind;
  item: string;
  chance: number;
  /** s of work that it adds, and what it costs with its part, before tax. */
  seconds: number;
  cost: Money;
  /** What to have at hand against it; `null` for nothing. */
  have: string | null;
  origin: string;
}

/** What a dive comes to. Prices with tax unless they say otherwise; s of hands-on work. */
export interface Quote {
  schema: 'nibrel.quote/1';
  currency: string;
  /** Half of such dives are done within p50, nine of ten within p90. Hands-on work only. */
  p50: number;
  p90: number;
  /** From opening to signing, waits that nothing fills included. */
  elapsed: { p50: number; p90: number };
  /** Past jobs that the spread has learnt from. */
  learntFrom: number;
  parts: Line[];
  renewables: Line[];
  price: {
    /** Before tax. */
    parts: Money;
    renewables: Money;
    labour: Money;
    /** What the risks cost on average. */
    risk: Money;
    tax: Money;
    /** What is asked: parts, renewables, labour of half of such dives, and tax. */
    total: Money;
    /** What it can come to: work of nine in ten, and every risk of at least one in twenty happening at once. */
    most: Money;
  };
  risks: QuoteRisk[];
  /** Days until everything is here. */
  days: number;
  /** Why it may not be worth doing; empty where nothing speaks against it. */
  against: string[];
}

export interface QuoteBasis {
  till: Till;
  offers: readonly Offer[];
  shelf?: readonly OwnSpare[];
  past?: readonly PastJob[];
  /** What the device is worth as it stands repaired, where somebody has said so. */
  worth?: Money | null;
}

/** A risk of at least this much is counted in what it can come to. Origin: own choice. */
const PLAUSIBLE = 0.05;
/** A repair that costs more than this share of what the device is worth is said to be so. Origin: own choice. */
const WORTH_SHARE = 0.6;

/** Work in money, at the shop's rate. */
const labourOf = (seconds: number, till: Till) => moneyOf(till.hourly).times(seconds).div(3600);

/** What one thing costs, and where it comes from: the shelf before the supplier, the supplier before an estimate. */
function priced(model: Model, plan: Plan, part: string, { till, offers, shelf = [] }: QuoteBasis): Line {
  const id = spareFor(model, plan, part);
  const name = model.anatomy.spares.find((s) => s.id === id)?.name ?? model.nameOf(part);
  const withMarkup = (price: Money) =>
    rounded(moneyOf(price).times(moneyOf(till.markup).div(100).plus(1)), till.currency);
  const own = shelf.find((s) => s.anatomy === model.anatomy.id && s.spare === id && s.count > s.reserved);
  if (own) return { item: part, name, price: withMarkup(own.price), from: 'shelf', days: 0 };
  const offer = offers.filter((o) => o.spare === id && o.stock > 0).sort((a, b) => a.days - b.days)[0];
  if (offer) return { item: part, name, price: withMarkup(offer.price), from: 'supplier', days: offer.days };
  return { item: part, name, price: withMarkup(estimateOf(model, part)), from: 'estimate', days: 0 };
}

function renewablesOf(model: Model, plan: Plan): Line[] {
  const bought = new Set(partsToBuy(model, plan));
  const table = (item: string, name: string, price: Money): Line => ({ item, name, price, from: 'table', days: 0 });
  const lines = plan.renew
    .filter((id) => !bought.has(id))
    .flatMap((id) => {
      const found = model.items.get(id);
      if (found?.type === 'bond') return [table(id, model.nameOf(id), BONDS.of(found.item.kind).price)];
      if (found?.type === 'fastener') return [table(id, model.nameOf(id), SMALL.fastener)];
      return found?.type === 'part' ? [table(id, model.nameOf(id), SMALL.part)] : [];
    });
  return [...lines, table('', 'Alcohol, wipes, film', SMALL.perDive)];
}

/** What a dive takes in time and money, with its risks. */
export function quoteOf(model: Model, plan: Plan, basis: QuoteBasis): Quote {
  const { till, past = [], worth = null } = basis;
  const { currency } = till;
  const mishaps = mishapsOf(model, plan);
  const hands = Math.max(1, plan.totals.hands);
  const spread = spreadOf(hands, mishaps, past);
  const p50 = Math.round(spread.quantile(0.5));
  const p90 = Math.round(spread.quantile(0.9));
  const waits = Math.max(0, plan.totals.elapsed - plan.totals.hands);

  const parts = partsToBuy(model, plan).map((part) => priced(model, plan, part, basis));
  const renewables = renewablesOf(model, plan);
  const risks = mishaps.map(({ kind, item, chance, seconds, part, origin }): QuoteRisk => {
    const bought = part === null || model.parts.get(part)?.fixed ? null : priced(model, plan, part, basis);
    const cost = rounded(labourOf(seconds, till).plus(bought?.price ?? 0), currency);
    return { kind, item, chance, seconds, cost, have: bought && chance >= PLAUSIBLE ? bought.name : null, origin };
  });
  const sum = (lines: readonly Line[]) => rounded(added(lines.map((l) => l.price)), currency);
  const labour = rounded(labourOf(p50, till), currency);
  const net = added([sum(parts), sum(renewables), labour]);
  const plausible = risks.filter((r) => r.chance >= PLAUSIBLE);
  // The work of nine in ten has some of it in it already; what it can come to errs upwards.
  const worst = added([sum(parts), sum(renewables), labourOf(p90, till), ...plausible.map((r) => r.cost)]);
  const tax = taxOn(net, till);
  const total = rounded(net.plus(tax), currency);
  const most = rounded(worst.plus(taxOn(worst, till)), currency);
  const against: string[] = [];
  if (worth !== null && moneyOf(total).gt(moneyOf(worth).times(WORTH_SHARE)))
    against.push(
      `It would cost ${Math.round(moneyOf(total).div(worth).times(100).toNumber())} % of what the device is worth repaired.`,
    );
  if (parts.some((l) => l.from === 'estimate'))
    against.push('A part is on no shelf and offered by nobody; its price is an estimate.');
  return {
    schema: 'nibrel.quote/1',
    currency,
    p50,
    p90,
    elapsed: { p50: p50 + waits, p90: p90 + waits },
    learntFrom: past.length,
    parts,
    renewables,
    price: {
      parts: sum(parts),
      renewables: sum(renewables),
      labour,
      risk: rounded(added(risks.map((r) => moneyOf(r.cost).times(r.chance))), currency),
      tax,
      total,
      most,
    },
    risks,
    days: Math.max(0, ...parts.map((l) => l.days)),
    against,
  };
}
