import { studentCdf } from '../statistics/index.ts';

/** A job that is done: what was planned for it, risks counted, and what it took, s of work. */
export interface PastJob {
  planned: number;
  taken: number;
}

/** Something that may go wrong once, and the s of work that it then costs. */
export interface Chanced {
  chance: number;
  seconds: number;
}

/**
 * What is believed of the ratio of time taken to time planned before any job was done: its logarithm is normal with a
 * mean and a spread that are not known, which makes Student's distribution (normal-inverse-gamma; Gelman et al., Bayesian
 * Data Analysis, ch. 3, from memory). Origin of the numbers: own estimate for a practised technician; `weight` jobs.
 */
export const USUAL_RATIO = { logMean: 0, logSpread: 0.22, freedom: 6, weight: 12 } as const;

/** Width of the bins in which what may go wrong is added up, s. Origin: own choice, finer than any promise. */
const BIN = 30;

/** The distribution of the seconds that mishaps add: probability by bin. */
export function mishapBins(mishaps: readonly Chanced[]): number[] {
  let bins = [1];
  for (const { chance, seconds } of mishaps) {
    const shift = Math.round(seconds / BIN);
    const next = new Array<number>(bins.length + shift).fill(0);
    bins.forEach((p, i) => {
      next[i]! += p * (1 - chance);
      next[i + shift]! += p * chance;
    });
    bins = next;
  }
  return bins;
}

/** s of work that a dive is expected to take: its plan, and its risks by their chances. */
export const expectedWork = (hands: number, mishaps: readonly Chanced[]): number =>
  mishaps.reduce((sum, m) => sum + m.chance * m.seconds, hands);

/** The time that a dive takes, as a distribution that can be asked. */
export interface Spread {
  /** Probability that it takes at most `seconds`. */
  atMost(seconds: number): number;
  /** @param share 0 to 1, such as 0.9 for what nine of ten jobs stay within */
  quantile(share: number): number;
}

/**
 * How long a dive takes. Without past jobs it is the plan with its usual ratio and its mishaps; every past job then
 * counts for one, and what was believed for its weight: the predictive distribution of a Dirichlet process around that
 * belief (Ferguson 1973, from memory). So the shop's own days and technicians shape it, whatever form they have.
 * @param hands s of work as planned, > 0
 * @throws RangeError when that is not so
 */
export function spreadOf(hands: number, mishaps: readonly Chanced[], past: readonly PastJob[] = []): Spread {
  if (!(hands > 0)) throw new RangeError(`the work of a dive must take longer than ${hands} s`);
  const bins = mishapBins(mishaps).flatMap((p, i) => (p > 1e-9 ? [{ p, extra: i * BIN }] : []));
  const expected = expectedWork(hands, mishaps);
  const ratios = past
    .filter((j) => j.planned > 0 && j.taken > 0)
    .map((j) => j.taken / j.planned)
    .sort((a, b) => a - b);
  const { logMean, logSpread, freedom, weight } = USUAL_RATIO;
  const believed = (seconds: number): number =>
    bins.reduce((sum, { p, extra }) => {
      const work = seconds - extra;
      return work <= 0 ? sum : sum + p * studentCdf((Math.log(work / hands) - logMean) / logSpread, freedom);
    }, 0);
  const atMost = (seconds: number): number => {
    const within = countBelow(ratios, seconds / expected);
    return (weight * believed(seconds) + within) / (weight + ratios.length);
  };
  const quantile = (share: number): number => {
    let low = 0;
    let high = hands;
    while (atMost(high) < share) high *= 2;
    for (let i = 0; i < 60; i++) {
      const middle = (low + high) / 2;
      if (atMost(middle) < share) low = middle;
      else high = middle;
    }
    return high;
  };
  return { atMost, quantile };
}

/** How many of a sorted list are at most `value`. */
function countBelow(sorted: readonly number[], value: number): number {
  let low = 0;
  let high = sorted.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (sorted[middle]! <= value) low = middle + 1;
    else high = middle;
  }
  return low;
}
