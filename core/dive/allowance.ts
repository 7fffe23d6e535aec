import { budgetFor, search, type Outcome, type Problem, type SearchOptions } from '../schedule/index.ts';

/** States that a later search of one plan may expand at least. Origin: measured, a few tens of ms. */
export const LATER_LOOK = 400;

/**
 * What the searches of one plan may spend together: a dive with several ways in, or one that is drawn up anew, takes no
 * longer than one that is neither. What was not looked at is not claimed as proved.
 */
export class Allowance {
  private spent = 0;

  constructor(private readonly options: SearchOptions) {}

  /** @param most states that this search may expand; left out, what is left of the allowance */
  search(problem: Problem, { below, most }: { below?: number | undefined; most?: number } = {}): Outcome {
    const own = this.options.budget ?? budgetFor(problem.tasks.length);
    const left = Math.max(Math.min(own, LATER_LOOK), own - this.spent);
    const tally = { expanded: 0 };
    const found = search(problem, { ...this.options, budget: Math.min(left, most ?? left), below, tally });
    this.spent += tally.expanded;
    if (this.options.tally) this.options.tally.expanded += tally.expanded;
    return found;
  }
}
