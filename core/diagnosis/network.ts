/**
 * One thing that may be wrong with one item, by itself. A cause is either so or not; given nothing else, causes are
 * independent of each other.
 */
export interface Cause {
  /** `item:kind`, unique in the network. */
  id: string;
  /** The item that it is a cause of; causes of one item are told together. */
  item: string;
  kind: string;
  /** Probability before anything was tested, 0 to 1. */
  prior: number;
}

/** One test that was made: whether it failed, and how likely each cause alone makes what it tests fail. */
export interface Finding {
  /** What was tested. */
  of: string;
  failed: boolean;
  /** By index of the cause: probability that this cause alone brings the function down; 0 where it does not bear on it. */
  strength: ReadonlyMap<number, number>;
  /** Probability that the function is down for no cause of the network. */
  leak: number;
  /** Probability that a sound function is told as failed, and that a broken one is told as passed. */
  falseFail: number;
  falsePass: number;
}

/** A two-level noisy-OR network: causes that are independent, and findings that rest on them. */
export interface Network {
  causes: readonly Cause[];
  findings: readonly Finding[];
}

/** @throws Error naming the cause or finding whose number is no probability */
export function checkNetwork({ causes, findings }: Network): void {
  const probability = (value: number, name: string) => {
    if (!(value >= 0 && value <= 1)) throw new Error(`${name} must be from 0 to 1, not ${value}`);
  };
  for (const c of causes) probability(c.prior, `the chance of ${c.id}`);
  for (const f of findings) {
    probability(f.leak, `the leak of ${f.of}`);
    probability(f.falseFail, `the false fails of ${f.of}`);
    probability(f.falsePass, `the false passes of ${f.of}`);
    for (const [c, strength] of f.strength) {
      if (!causes[c]) throw new Error(`${f.of} rests on cause ${c}, which is not there`);
      probability(strength, `what ${causes[c].id} does to ${f.of}`);
    }
  }
}
