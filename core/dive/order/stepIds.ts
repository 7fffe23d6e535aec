import type { Step } from '../types.ts';

/** A step as far as its name goes. */
export type NamedWork = Pick<Step, 'do' | 'gate' | 'items'>;

/** What a step is called before it is told from others of the same work: `unscrew.b1`, `gate-G2.k1`, `turn-over`. */
function workName({ do: verb, gate, items }: NamedWork): string {
  const kind = gate ? `${verb}-${gate}` : verb;
  return items.length > 0 ? `${kind}.${items[0]}` : kind;
}

/**
 * The ids of steps in their order: each names its work, so that it means the same work in another plan of the
 * same device, whatever stands before it. The second of the same work is told apart by `~2`.
 * @param taken ids that are given already and stay with their steps
 */
export function stepIds(steps: readonly NamedWork[], taken: Iterable<string> = []): string[] {
  const used = new Set(taken);
  return steps.map((step) => {
    const name = workName(step);
    let id = name;
    for (let n = 2; used.has(id); n++) id = `${name}~${n}`;
    used.add(id);
    return id;
  });
}

/** Gives every step its id. */
export function nameSteps(steps: readonly Step[], taken: Iterable<string> = []): void {
  const ids = stepIds(steps, taken);
  steps.forEach((step, i) => {
    step.id = ids[i]!;
  });
}
