import { isUndone, type Access, type ActionKey } from '../dive/index.ts';
import type { Device } from '../judge/index.ts';

/** Something that can be looked at, and what it is worth. */
export interface Candidate {
  item: string;
  /** Probability that it is what is wrong. */
  odds: number;
  /** s to look at it once it is laid bare. */
  seconds: number;
  /** What has to be undone first. */
  needs: ReadonlySet<ActionKey>;
}

/** s of getting at something and of closing it up again. */
export type Price = (action: ActionKey) => number;

export const priceOf =
  (access: Access): Price =>
  (action) => {
    const { down, up } = access.seconds(action);
    return down + up;
  };

/** Needs of a candidate on a device as it stands. */
export function needsOn(access: Access, device: Device, item: string): Set<ActionKey> {
  return new Set([...access.needs(item)].filter((key) => !isUndone(device, key)));
}

/**
 * In what order to look, so that what is wrong is found soonest on average. What is opened for one candidate stays open
 * for the next, so that the best group to begin with is the one with the most odds for its seconds, getting there
 * included, and so on with what is left: Sidney's decomposition (Sidney 1975, from memory), over the groups that
 * some candidate's needs span. Exact where getting there costs nothing; near it where needs cross.
 */
export function searchOrder(candidates: readonly Candidate[], price: Price): Candidate[] {
  const opened = new Set<ActionKey>();
  const order: Candidate[] = [];
  const left = new Set(candidates);
  while (left.size > 0) {
    let best: { group: Candidate[]; density: number } | null = null;
    for (const goal of left) {
      const reach = new Set([...goal.needs].filter((key) => !opened.has(key)));
      const getting = [...reach].reduce((sum, key) => sum + price(key), 0);
      const beside = [...left]
        .filter((c) => [...c.needs].every((key) => opened.has(key) || reach.has(key)))
        .sort((a, b) => b.odds / b.seconds - a.odds / a.seconds);
      // Of what is laid bare on the way, as much as makes the group better.
      let odds = 0;
      let seconds = getting;
      const group: Candidate[] = [];
      for (const c of beside) {
        if (group.length > 0 && c.odds / c.seconds < odds / seconds) break;
        odds += c.odds;
        seconds += c.seconds;
        group.push(c);
      }
      const density = odds / seconds;
      if (best === null || density > best.density) best = { group, density };
    }
    const group = inside(best!.group, opened, price);
    for (const c of group) {
      order.push(c);
      left.delete(c);
      for (const key of c.needs) opened.add(key);
    }
  }
  return order;
}

/** Groups up to this size are put in order exactly. Origin: measured; 2^8 sets take well under a millisecond. */
const EXACT = 8;

/** A group in the order that finds soonest: by dynamic programming over its subsets (Held and Karp 1962, from memory). */
function inside(group: readonly Candidate[], opened: ReadonlySet<ActionKey>, price: Price): Candidate[] {
  const toOpen = (c: Candidate) => [...c.needs].filter((key) => !opened.has(key));
  if (group.length > EXACT) {
    const cost = (c: Candidate) => toOpen(c).reduce((sum, key) => sum + price(key), c.seconds);
    return [...group].sort((a, b) => b.odds / cost(b) - a.odds / cost(a));
  }
  const size = 1 << group.length;
  // s spent once a set has been looked at, in whatever order.
  const spent = Array.from({ length: size }, (_, set) => {
    const members = group.filter((_, i) => (set >> i) & 1);
    const keys = new Set(members.flatMap(toOpen));
    return [...keys].reduce((sum, key) => sum + price(key), 0) + members.reduce((sum, c) => sum + c.seconds, 0);
  });
  const least = new Float64Array(size).fill(Number.POSITIVE_INFINITY);
  const last = new Int32Array(size).fill(-1);
  least[0] = 0;
  for (let set = 1; set < size; set++)
    for (let i = 0; i < group.length; i++) {
      if (!((set >> i) & 1)) continue;
      const cost = least[set & ~(1 << i)]! + group[i]!.odds * spent[set]!;
      if (cost >= least[set]!) continue;
      least[set] = cost;
      last[set] = i;
    }
  const order: Candidate[] = [];
  for (let set = size - 1; set > 0; set &= ~(1 << last[set]!)) order.unshift(group[last[set]!]!);
  return order;
}

/**
 * s until what is wrong is found, on average, looking in that order.
 * @returns weighed by the odds of the candidates, which need not add up to one
 */
export function expectedSeconds(order: readonly Candidate[], price: Price): number {
  const opened = new Set<ActionKey>();
  let spent = 0;
  let sum = 0;
  let odds = 0;
  for (const c of order) {
    for (const key of c.needs) {
      if (!opened.has(key)) spent += price(key);
      opened.add(key);
    }
    spent += c.seconds;
    sum += c.odds * spent;
    odds += c.odds;
  }
  return odds > 0 ? sum / odds : 0;
}
