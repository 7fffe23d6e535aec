/** A piece that is wanted, mm. */
export interface Piece {
  id: string;
  length: number;
}

/** Stock of one length: a lane of a sheet, what is left of a roll. `count`: how many there are; left out, as many as needed. */
export interface Stock {
  id: string;
  length: number;
  count?: number;
}

/** One length of stock with what is cut from it, in order. */
export interface Cut {
  stock: string;
  length: number;
  pieces: string[];
  left: number;
}

export interface CutStock {
  cuts: Cut[];
  /** Sum of the stock that is begun, and what of it is left over, mm; the kerf counts as left over. */
  used: number;
  waste: number;
  /** No cutting wastes less than that; `proved` when this one wastes no more. */
  lowerBound: number;
  proved: boolean;
}

/** Why pieces cannot be cut. */
export class NoStock extends Error {}

/**
 * Steps of the exact search, those in which fillings are put together among them, so that it ends within a second whatever is
 * cut. Origin: measured; 20 pieces need far fewer.
 */
const STEPS = 2_000_000;
/** What one filling that is found costs, in steps. Origin: measured. */
const PER_FILLING = 20;
/** Fillings of one stock that are tried at the most; where there are more nothing is proved. Origin: own choice. */
const MOST_FILLINGS = 4000;
const EPS = 1e-9;

interface Bin {
  stock: number;
  pieces: number[];
}

/**
 * One-dimensional cutting stock with stock of several lengths: every piece is cut from one stock, and the least length of
 * stock is begun. First a good cutting (longest first, each stock filled as full as can be: Gupta and Ho 1999's minimum
 * bin slack, from memory), then branch and bound over what goes with the longest piece left (bin completion; Korf 2003,
 * from memory). Only fillings to which nothing can be added are tried, which loses no optimum.
 * @param kerf mm lost by each cut but the last of a stock
 * @throws NoStock naming the piece that is longer than any stock, or when the stock does not suffice
 */
export function cutStock(pieces: readonly Piece[], stocks: readonly Stock[], kerf = 0): CutStock {
  // Kerf is a part of every piece and of every stock: n pieces have n − 1 cuts between them.
  const order = pieces.map((_, i) => i).sort((a, b) => pieces[b]!.length - pieces[a]!.length);
  const lengths = order.map((i) => pieces[i]!.length + kerf);
  const kinds = stocks.map((s) => ({ length: s.length + kerf, count: s.count ?? Infinity }));
  const longest = Math.max(0, ...kinds.filter((k) => k.count > 0).map((k) => k.length));
  for (const i of order) {
    const { id, length } = pieces[i]!;
    if (!(length > 0)) throw new NoStock(`piece ${id}: its length must be above 0, not ${length}`);
    if (length + kerf > longest + EPS)
      throw new NoStock(
        `piece ${id} of ${length.toFixed(1)} mm is longer than any stock (${Math.max(0, longest - kerf).toFixed(1)} mm)`,
      );
  }
  const search = new Search(lengths, kinds, kerf);
  const bins = search.run();
  if (!bins) throw new NoStock('the stock does not suffice for these pieces; add stock or cut fewer');
  const cuts = bins.map(({ stock, pieces: own }): Cut => {
    const full = stocks[stock]!.length;
    const used = own.reduce((s, k) => s + lengths[k]!, 0) - kerf;
    return { stock: stocks[stock]!.id, length: full, pieces: own.map((k) => pieces[order[k]!]!.id), left: full - used };
  });
  const used = cuts.reduce((s, c) => s + c.length, 0);
  const wanted = pieces.reduce((s, p) => s + p.length, 0);
  return { cuts, used, waste: used - wanted, lowerBound: Math.max(0, search.bound - wanted), proved: search.proved };
}

class Search {
  private best: Bin[] | null = null;
  private bestUsed = Infinity;
  private steps = 0;
  proved = true;
  bound = 0;

  constructor(
    private readonly lengths: readonly number[],
    private readonly kinds: readonly { length: number; count: number }[],
    private readonly kerf: number,
  ) {}

  run(): Bin[] | null {
    if (this.lengths.length === 0) return [];
    this.bound = this.atLeast(this.lengths.reduce((s, l) => s + l, 0));
    for (const kinds of this.orders()) this.take(this.filled(kinds));
    if (this.bestUsed > this.bound + EPS) {
      const left = this.kinds.map((k) => k.count);
      this.branch(new Set(this.lengths.keys()), left, [], 0);
      if (this.proved) this.bound = this.bestUsed;
    }
    return this.best;
  }

  /** Counts steps; once they are used up nothing is proved any more. */
  private spent(steps = 1): boolean {
    this.steps += steps;
    if (this.steps > STEPS) this.proved = false;
    return !this.proved;
  }

  private used = (bins: readonly Bin[]): number =>
    bins.reduce((s, b) => s + this.kinds[b.stock]!.length - this.kerf, 0);

  private take(bins: Bin[] | null): void {
    if (!bins) return;
    const used = this.used(bins);
    if (used < this.bestUsed - EPS) [this.best, this.bestUsed] = [bins, used];
  }

  /** The least length of stock that so much can be cut from: exact where there is one length, else the sum itself. */
  private atLeast(sum: number): number {
    if (sum <= EPS) return 0;
    const usable = this.kinds.filter((k) => k.count > 0);
    if (usable.length === 1) {
      const { length } = usable[0]!;
      return Math.ceil(sum / length - 1e-9) * (length - this.kerf);
    }
    // With kerf in every stock at least one cut is free for each stock begun.
    const longest = Math.max(...usable.map((k) => k.length));
    const least = Math.min(...usable.map((k) => k.length)) - this.kerf;
    return Math.max(least, sum - this.kerf * Math.ceil(sum / longest));
  }

  /** Which kinds of stock a first cutting takes up: every kind alone, and the one that is filled best each time. */
  private orders(): (number[] | null)[] {
    return [null, ...this.kinds.map((_, i) => [i, ...this.kinds.keys()].filter((k, j, all) => all.indexOf(k) === j))];
  }

  /** Each stock in turn filled as full as can be with the longest piece left in it. */
  private filled(prefer: number[] | null): Bin[] | null {
    const left = new Set(this.lengths.keys());
    const counts = this.kinds.map((k) => k.count);
    const bins: Bin[] = [];
    while (left.size > 0) {
      const first = Math.min(...left);
      const fits = [...this.kinds.keys()].filter(
        (k) => counts[k]! > 0 && this.kinds[k]!.length >= this.lengths[first]! - EPS,
      );
      if (fits.length === 0) return null;
      const tried = prefer ? [prefer.find((k) => fits.includes(k))!] : fits;
      const options = tried.map((k) => {
        const pieces = [
          first,
          ...this.fullest(
            [...left].filter((p) => p !== first),
            this.kinds[k]!.length - this.lengths[first]!,
          ),
        ];
        const sum = pieces.reduce((s, p) => s + this.lengths[p]!, 0);
        return { stock: k, pieces, share: sum / this.kinds[k]!.length };
      });
      const bin = options.reduce((a, b) => (b.share > a.share + EPS ? b : a));
      counts[bin.stock]!--;
      for (const p of bin.pieces) left.delete(p);
      bins.push({ stock: bin.stock, pieces: bin.pieces });
    }
    return bins;
  }

  /** The pieces that fill a room best; looked for in a bounded number of steps, longest first. */
  private fullest(left: readonly number[], room: number): number[] {
    let best: number[] = [];
    let bestSum = 0;
    let steps = 0;
    const suffix = new Array<number>(left.length + 1).fill(0);
    for (let i = left.length - 1; i >= 0; i--) suffix[i] = suffix[i + 1]! + this.lengths[left[i]!]!;
    const grow = (i: number, sum: number, chosen: number[]): boolean => {
      if (sum > bestSum + EPS) [best, bestSum] = [[...chosen], sum];
      if (bestSum >= room - 1e-6 || ++steps > 20_000) return true;
      if (i >= left.length || sum + suffix[i]! <= bestSum + EPS) return false;
      let last = -1;
      for (let k = i; k < left.length; k++) {
        const l = this.lengths[left[k]!]!;
        // Pieces of one length are one choice.
        if (l === last || sum + l > room + EPS) continue;
        last = l;
        chosen.push(left[k]!);
        const done = grow(k + 1, sum + l, chosen);
        chosen.pop();
        if (done) return true;
      }
      return false;
    };
    grow(0, 0, []);
    return best;
  }

  private branch(left: ReadonlySet<number>, counts: readonly number[], bins: Bin[], used: number): void {
    if (left.size === 0) {
      this.take(structuredClone(bins));
      return;
    }
    if (this.bestUsed <= this.bound + EPS) return;
    if (this.spent()) return;
    // Sets are copied and sorted once a node.
    if (this.spent(left.size)) return;
    const rest = [...left].sort((a, b) => a - b);
    const sum = rest.reduce((s, p) => s + this.lengths[p]!, 0);
    if (used + this.atLeast(sum) >= this.bestUsed - EPS) return;
    const [first, ...others] = rest as [number, ...number[]];
    for (const [stock, kind] of this.kinds.entries()) {
      if (counts[stock]! <= 0 || kind.length < this.lengths[first]! - EPS) continue;
      const after = counts.map((c, i) => (i === stock ? c - 1 : c));
      for (const more of this.completions(others, kind.length - this.lengths[first]!)) {
        const pieces = [first, ...more];
        const next = new Set(left);
        for (const p of pieces) next.delete(p);
        bins.push({ stock, pieces });
        this.branch(next, after, bins, used + kind.length - this.kerf);
        bins.pop();
        if (!this.proved || this.bestUsed <= this.bound + EPS) return;
      }
    }
  }

  /** Every set of pieces that fits a room and to which none can be added, fullest first; equal lengths are one choice. */
  private completions(others: readonly number[], room: number): number[][] {
    const found: { pieces: number[]; sum: number }[] = [];
    const grow = (i: number, sum: number, chosen: number[], smallestSkipped: number) => {
      if (found.length > MOST_FILLINGS || this.spent()) {
        this.proved = false;
        return;
      }
      if (i >= others.length) {
        if (sum + smallestSkipped > room + EPS) {
          found.push({ pieces: [...chosen], sum });
          // Kept, sorted and gone through: so much more than a step.
          this.spent(PER_FILLING);
        }
        return;
      }
      const l = this.lengths[others[i]!]!;
      if (sum + l <= room + EPS) {
        chosen.push(others[i]!);
        grow(i + 1, sum + l, chosen, smallestSkipped);
        chosen.pop();
      }
      // Leaving a piece out leaves all of its length out.
      let next = i + 1;
      while (next < others.length && this.lengths[others[next]!] === l) next++;
      grow(next, sum, chosen, Math.min(smallestSkipped, l));
    };
    grow(0, 0, [], Infinity);
    return found.sort((a, b) => b.sum - a.sum).map((f) => f.pieces);
  }
}
