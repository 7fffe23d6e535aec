import { checkNetwork, type Finding, type Network } from './network.ts';

export interface Posterior {
  /** Probability of what was found. */
  evidence: number;
  /** Probability of each cause given what was found, in the order of the network. */
  causes: number[];
  /** Probability that at least one cause of an item is so, by item. */
  items: Map<string, number>;
  /** Probability that no cause of the network is so at all. */
  nothing: number;
  /**
   * By how much any of these may be off, since in networks too large to be summed whole what is unlikely together is left
   * out; 0 where nothing was.
   */
  bound: number;
}

/**
 * Findings that are expanded at once. Beyond them a cause that many findings rest on is taken as given, once so and
 * once not, until what is left falls apart. Origin: measured; 2^9 terms take less than a millisecond.
 */
const EXPANDED = 9;

/**
 * Joint states times findings that are gone through one by one. Origin: measured; twenty causes under eleven findings are as
 * many and take about half a second.
 */
const WHOLE = 12_000_000;
/** The same within a network that has to be cut apart, where it is done again and again. Origin: measured. */
const WHOLE_PIECE = 16_384;

/**
 * Causes that are taken as given at once at most where a network is too large to be summed whole: that three of those which
 * much rests on are so together is left out, and bounded. Origin: measured; with rates of a few in a hundred it moves no
 * odds by a tenth of a percent.
 */
const TOGETHER = 2;

/** A cause that is certain is taken as nearly so, since shares are divided by what is left. */
const NEARLY_SURE = 1 - 1e-12;

/**
 * What a part of the network comes to: the likelihood of its findings, and its share with a cause, or with no cause of
 * an item. What names nothing here has nothing to do with these findings.
 */
interface Share {
  likelihood: number;
  /** P(findings, cause is so), by index of the cause. */
  withCause: Map<number, number>;
  /** P(findings, no cause of the item is so), by item. */
  without: Map<string, number>;
  /** At most so much likelihood was left out. */
  missing: number;
}

interface Row {
  /** Likelihood of the finding: `base + slope · P(function is up)`, where causes leave it up with 1 - strength each. */
  base: number;
  slope: number;
  strength: ReadonlyMap<number, number>;
}

/**
 * The exact posterior of a noisy-OR network. A finding is linear in the product of what its causes leave up, so that
 * the likelihood of all findings expands into 2^n terms which fall apart by cause (the idea of Heckerman 1989,
 * quickscore, from memory; here with tests that may err). Larger networks are first cut apart by conditioning.
 * @param whole joint states times findings up to which what hangs together is summed whole
 * @throws Error when a number of the network is no probability
 */
export function infer(network: Network, whole = WHOLE): Posterior {
  checkNetwork(network);
  const { causes, findings } = network;
  const rows = findings.map(rowOf);
  const bearing = new Set(rows.flatMap((row) => [...row.strength.keys()]));
  const { likelihood, withCause, without, missing } = new Solver(network).solve(rows, [...bearing], TOGETHER, whole);
  if (!(likelihood > 0)) throw new Error('what was found is impossible under this network');
  const items = new Map<string, number>();
  for (const c of causes) items.set(c.item, 1);
  for (const item of items.keys()) items.set(item, (without.get(item) ?? likelihood) / likelihood);
  causes.forEach((c, i) => {
    if (!bearing.has(i)) items.set(c.item, items.get(c.item)! * (1 - c.prior));
  });
  for (const [item, none] of items) items.set(item, within(1 - none));
  const up = rows.reduce((product, row) => product * (row.base + row.slope), 1);
  const free = causes.reduce((product, c) => product * (1 - c.prior), 1);
  return {
    evidence: likelihood,
    causes: causes.map((c, i) => (bearing.has(i) ? within((withCause.get(i) ?? 0) / likelihood) : c.prior)),
    items,
    nothing: within((up * free) / likelihood),
    // With D left out of L, a share w/L was truly somewhere from w/(L + D) to (w + D)/(L + D): within D/(L + D) of it.
    bound: missing / (likelihood + missing),
  };
}

/** Sums of many terms of both signs may leave the unit interval by what a double cannot tell. */
const within = (p: number): number => Math.min(1, Math.max(0, p));

function rowOf({ failed, strength, leak, falseFail, falsePass }: Finding): Row {
  // P(told failed) = falseFail·up + (1 - falsePass)·(1 - up), with up = (1 - leak)·product.
  const base = failed ? 1 - falsePass : falsePass;
  const slope = (failed ? falseFail : 1 - falseFail) - base;
  return { base, slope: slope * (1 - leak), strength };
}

class Solver {
  constructor(private readonly network: Network) {}

  private prior(c: number): number {
    return Math.min(this.network.causes[c]!.prior, NEARLY_SURE);
  }

  private item(c: number): string {
    return this.network.causes[c]!.item;
  }

  /** @param causes those that bear on the rows and are not taken as given */
  solve(rows: readonly Row[], causes: readonly number[], given: number, whole: number): Share {
    return together(
      fallApart(rows, causes).map((piece) => {
        if (piece.rows.length <= EXPANDED) return this.expand(piece);
        return 2 ** piece.causes.length * piece.rows.length <= whole
          ? this.enumerate(piece)
          : this.condition(piece, given, Math.min(whole, WHOLE_PIECE));
      }),
    );
  }

  /** All joint states of the causes, one by one; those of one item stand together, so that it is known when none is so. */
  private enumerate({ rows, causes }: Piece): Share {
    const order = [...causes].sort((a, b) =>
      this.item(a) < this.item(b) ? -1 : this.item(a) > this.item(b) ? 1 : a - b,
    );
    const n = order.length;
    const m = rows.length;
    const left = order.map((c) => Float64Array.from(rows, (row) => 1 - (row.strength.get(c) ?? 0)));
    const prior = order.map((c) => this.prior(c));
    const first = order.map((c, i) => i === 0 || this.item(order[i - 1]!) !== this.item(c));
    const last = order.map((c, i) => i === n - 1 || this.item(order[i + 1]!) !== this.item(c));
    // What the causes decided so far leave up of each row, one line a depth.
    const up = Array.from({ length: n + 1 }, () => new Float64Array(m).fill(1));
    const so = new Float64Array(n);
    const none = new Float64Array(n);
    /** @param clear no cause of the item at hand is so yet */
    const sum = (depth: number, weight: number, clear: boolean): number => {
      const here = up[depth]!;
      if (depth === n) {
        let product = weight;
        for (let r = 0; r < m; r++) product *= rows[r]!.base + rows[r]!.slope * here[r]!;
        return product;
      }
      const untouched = clear || first[depth]!;
      const below = up[depth + 1]!;
      below.set(here);
      const not = sum(depth + 1, weight * (1 - prior[depth]!), untouched);
      if (untouched && last[depth]) none[depth]! += not;
      const leaves = left[depth]!;
      for (let r = 0; r < m; r++) below[r] = here[r]! * leaves[r]!;
      const yes = sum(depth + 1, weight * prior[depth]!, false);
      so[depth]! += yes;
      return not + yes;
    };
    const likelihood = sum(0, 1, true);
    return {
      likelihood,
      withCause: new Map(order.map((c, i) => [c, so[i]!])),
      without: new Map(order.flatMap((c, i) => (last[i] ? [[this.item(c), none[i]!] as const] : []))),
      missing: 0,
    };
  }

  /** Takes the cause that most rows rest on as not so and as so, and adds both up. */
  private condition({ rows, causes }: Piece, given: number, whole: number): Share {
    const bears = (c: number) => rows.filter((row) => row.strength.has(c)).length;
    const hub = causes.reduce((best, c) => (bears(c) > bears(best) ? c : best), causes[0]!);
    const rest = causes.filter((c) => c !== hub);
    const p = this.prior(hub);
    const not = this.solve(
      rows.map((row) => ({ ...row, strength: lacking(row.strength, hub) })),
      rest,
      given,
      whole,
    );
    if (given === 0) return this.withoutCause(not, hub, p * most(rows));
    const so = this.solve(
      rows.map((row) => ({
        ...row,
        slope: row.slope * (1 - (row.strength.get(hub) ?? 0)),
        strength: lacking(row.strength, hub),
      })),
      rest,
      given - 1,
      whole,
    );
    const withCause = new Map(
      rest.map((c) => {
        // A cause that bore on nothing but rows which the hub has settled is as likely as it was.
        const of = (share: Share) => share.withCause.get(c) ?? share.likelihood * this.prior(c);
        return [c, p * of(so) + (1 - p) * of(not)] as const;
      }),
    );
    withCause.set(hub, p * so.likelihood);
    const items = new Set(causes.map((c) => this.item(c)));
    const without = new Map<string, number>();
    for (const item of items) {
      const own = item === this.item(hub);
      const none = (share: Share) => share.without.get(item) ?? share.likelihood;
      without.set(item, (1 - p) * none(not) + (own ? 0 : p * none(so)));
    }
    return {
      likelihood: p * so.likelihood + (1 - p) * not.likelihood,
      withCause,
      without,
      missing: p * so.missing + (1 - p) * not.missing,
    };
  }

  /** What a share comes to where a cause is left out as not so, which leaves out at most so much likelihood. */
  private withoutCause({ likelihood, withCause, without, missing }: Share, cause: number, left: number): Share {
    return { likelihood, withCause: new Map([...withCause, [cause, 0]]), without, missing: missing + left };
  }

  /** All 2^n terms at once: bit r of a term's number says whether row r stands in it with its slope. */
  private expand({ rows, causes }: Piece): Share {
    const n = rows.length;
    const size = 1 << n;
    const weight = new Float64Array(size).fill(1);
    for (let s = 0; s < size; s++)
      for (let r = 0; r < n; r++) weight[s]! *= (s >> r) & 1 ? rows[r]!.slope : rows[r]!.base;
    const lefts = causes.map((c) => this.leftUp(rows, c));
    const mixed = causes.map((c, i) => lefts[i]!.map((left) => 1 - this.prior(c) + this.prior(c) * left));
    const term = Float64Array.from(weight);
    for (const mix of mixed) for (let s = 0; s < size; s++) term[s]! *= mix[s]!;
    const likelihood = term.reduce((sum, t) => sum + t, 0);

    const withCause = new Map<number, number>();
    causes.forEach((c, i) => {
      let sum = 0;
      for (let s = 0; s < size; s++)
        if (mixed[i]![s]! > 0) sum += (term[s]! / mixed[i]![s]!) * this.prior(c) * lefts[i]![s]!;
      withCause.set(c, sum);
    });
    const without = new Map<string, number>();
    for (const item of new Set(causes.map((c) => this.item(c)))) {
      const own = causes.flatMap((c, i) => (this.item(c) === item ? [i] : []));
      let sum = 0;
      for (let s = 0; s < size; s++) {
        let share = term[s]!;
        for (const i of own) share *= mixed[i]![s]! > 0 ? (1 - this.prior(causes[i]!)) / mixed[i]![s]! : 0;
        sum += share;
      }
      without.set(item, sum);
    }
    return { likelihood, withCause, without, missing: 0 };
  }

  /** What a cause leaves up, for every set of rows. */
  private leftUp(rows: readonly Row[], c: number): Float64Array {
    const left = new Float64Array(1 << rows.length).fill(1);
    for (let s = 1; s < left.length; s++) {
      const lowest = 31 - Math.clz32(s & -s);
      left[s] = left[s & (s - 1)]! * (1 - (rows[lowest]!.strength.get(c) ?? 0));
    }
    return left;
  }
}

/** The most likelihood that rows can have, whatever their causes leave up. */
const most = (rows: readonly Row[]): number =>
  rows.reduce((product, { base, slope }) => product * Math.max(base, base + slope), 1);

function lacking(strength: ReadonlyMap<number, number>, cause: number): ReadonlyMap<number, number> {
  if (!strength.has(cause)) return strength;
  const rest = new Map(strength);
  rest.delete(cause);
  return rest;
}

interface Piece {
  rows: Row[];
  causes: number[];
}

/** Rows that share no cause have nothing to do with each other. */
function fallApart(rows: readonly Row[], causes: readonly number[]): Piece[] {
  const wanted = new Set(causes);
  const pieceOf = new Map<number, Piece>();
  const pieces = new Set<Piece>();
  for (const row of rows) {
    const piece: Piece = { rows: [row], causes: [] };
    pieces.add(piece);
    for (const c of row.strength.keys()) {
      if (!wanted.has(c)) continue;
      const other = pieceOf.get(c);
      if (other === piece) continue;
      if (!other) {
        piece.causes.push(c);
        pieceOf.set(c, piece);
        continue;
      }
      piece.rows.push(...other.rows);
      piece.causes.push(...other.causes);
      for (const moved of other.causes) pieceOf.set(moved, piece);
      pieces.delete(other);
    }
  }
  return [...pieces];
}

/** Pieces that have nothing to do with each other, as one. */
function together(shares: readonly Share[]): Share {
  const likelihood = shares.reduce((product, s) => product * s.likelihood, 1);
  const others = (i: number) => shares.reduce((product, s, j) => (j === i ? product : product * s.likelihood), 1);
  const withCause = new Map<number, number>();
  shares.forEach((share, i) => {
    for (const [c, joint] of share.withCause) withCause.set(c, joint * others(i));
  });
  const without = new Map<string, number>();
  for (const item of new Set(shares.flatMap((s) => [...s.without.keys()])))
    without.set(
      item,
      shares.reduce((product, s) => product * (s.without.get(item) ?? s.likelihood), 1),
    );
  const missing = shares.reduce((product, s) => product * (s.likelihood + s.missing), 1) - likelihood;
  return { likelihood, withCause, without, missing: Math.max(0, missing) };
}
