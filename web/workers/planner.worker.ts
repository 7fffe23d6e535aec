import { expose } from 'comlink';
import { modelOf, type Anatomy } from '../../core/anatomy/index.ts';
import {
  extrasOf,
  NoDive,
  planDive,
  type DiveRequest,
  type Extra,
  type HouseRules,
  type NoDiveMessage,
  type Plan,
} from '../../core/dive/index.ts';

export interface SearchProgress {
  expanded: number;
  best: number | null;
  lowerBound: number;
}

/** The planner beside the interface thread. What cannot be planned is said, not thrown: errors lose their kind on the way. */
const planner = {
  plan(
    anatomy: Anatomy,
    request: DiveRequest,
    rules: HouseRules,
    onProgress: (p: SearchProgress) => void,
  ): { plan: Plan } | { refused: NoDiveMessage } {
    try {
      return { plan: planDive(modelOf(anatomy), request, rules, { onProgress }) };
    } catch (error) {
      if (error instanceof NoDive) return { refused: error.said };
      throw error;
    }
  },
  extras(anatomy: Anatomy, plan: Plan, onProgress: (share: number) => void): Extra[] {
    return extrasOf(modelOf(anatomy), plan, plan.rules, onProgress);
  },
};

export type Planner = typeof planner;
expose(planner);
