import type { Model } from '../core/anatomy/index.ts';
import type { CauseKind, Stage, TestMade } from '../core/diagnosis/index.ts';
import type { Plan } from '../core/dive/index.ts';

/** A fault that this dive may have, with how often it is drawn against the others. */
export interface PossibleFault {
  item: string;
  kind: CauseKind;
  weight: number;
}

/** What somebody knows who knows the shop itself: how its faults are drawn, and what each of them does. */
export interface ShopTruth {
  /** Faults of a dive that went wrong by its own work, and those that were there before. */
  own: readonly PossibleFault[];
  old: readonly PossibleFault[];
  /** Share of dives that are not to blame, and of those with two faults. */
  nothingTouched: number;
  double: number;
  /** Chance that a test is judged wrongly. */
  wrongAnswers: number;
  /** Every set of functions that a fault may bear on, with its chance; each of them is down by `takesDown`. */
  bears: (fault: PossibleFault) => readonly { chance: number; on: ReadonlySet<string> }[];
  takesDown: (kind: CauseKind) => number;
}

/** How likely what the tests said is under one fault: in all, and without any failed function being truly down. */
interface Told {
  all: number;
  unseen: number;
}

/**
 * The odds of each item by Bayes' rule under the shop's own truth, summed over every single fault and every pair of them: no
 * diagnosis from the same tests can do better on average. Written for judging only; it shares no code with the network.
 */
export function exactOdds(truth: ShopTruth, tests: readonly TestMade[]): Map<string, number> {
  const { own, old, double, nothingTouched } = truth;
  const odds = new Map<string, number>();
  const give = (items: readonly string[], weight: number) => {
    for (const item of new Set(items)) odds.set(item, (odds.get(item) ?? 0) + weight);
  };
  const seen = ({ all, unseen }: Told) => all - unseen;
  const sum = (list: readonly PossibleFault[]) => list.reduce((total, f) => total + f.weight, 0);
  const before = sum(old);
  for (const f of old) give([f.item], (nothingTouched * f.weight * seen(likelihood(truth, tests, [f]))) / before);
  const total = sum(own);
  const share = 1 - nothingTouched;
  for (const f of own) give([f.item], (share * (1 - double) * f.weight * seen(likelihood(truth, tests, [f]))) / total);
  // Of two faults one at least bears on something that has failed.
  const able = own.filter((f) => bearsOnFailed(truth, f, tests));
  for (const f of able)
    for (const g of own) {
      const twice = able.includes(g) ? 1 : 2;
      const both = seen(likelihood(truth, tests, [f, g]));
      give([f.item, g.item], (share * double * f.weight * g.weight * twice * both) / total ** 2);
    }
  return odds;
}

const bearsOnFailed = (truth: ShopTruth, fault: PossibleFault, tests: readonly TestMade[]): boolean =>
  truth.bears(fault).some(({ on }) => tests.some((t) => t.failed && on.has(t.function)));

function likelihood(truth: ShopTruth, tests: readonly TestMade[], faults: readonly PossibleFault[]): Told {
  const told: Told = { all: 0, unseen: 0 };
  const ways = faults.map((f) => truth.bears(f));
  const walk = (at: number, chance: number, up: Map<string, number>) => {
    if (at < faults.length) {
      const takes = truth.takesDown(faults[at]!.kind);
      for (const way of ways[at]!) {
        const next = new Map(up);
        for (const id of way.on) next.set(id, (next.get(id) ?? 1) * (1 - takes));
        walk(at + 1, chance * way.chance, next);
      }
      return;
    }
    let all = chance;
    let unseen = chance;
    for (const { function: id, failed } of tests) {
      const sound = up.get(id) ?? 1;
      const wrong = truth.wrongAnswers;
      if (failed) {
        all *= (1 - sound) * (1 - wrong) + sound * wrong;
        unseen *= sound * wrong;
      } else {
        all *= sound * (1 - wrong) + (1 - sound) * wrong;
        unseen *= sound * (1 - wrong) + (1 - sound) * wrong;
      }
    }
    told.all += all;
    told.unseen += unseen;
  };
  walk(0, 1, new Map());
  return told;
}

/** For what a shop's dives are told by. */
export type TruthOf = (model: Model, plan: Plan, stage: Exclude<Stage, 'before'>) => ShopTruth;
