/**
 * The cheapest order of the actions of one limb of a dive: precedence kept, tool changes and
 * turn-overs avoided.
 */
export interface OrderNode {
  /** Indices of the nodes that must come before. */
  before: readonly number[];
  /** The tool in hand when the node starts and when it ends; `null` needs none and leaves the last one at hand. */
  firstTool: string | null;
  lastTool: string | null;
  face: 'front' | 'back' | 'edge';
  /** The part this node swings open, if any: the device is not turned over until `closes` is done. */
  opens: string | null;
  closes: string | null;
  /** Among equals the smaller rank goes first: outer layers before inner ones. */
  rank: number;
}

export interface OrderCost {
  toolChange: number;
  turnOver: number;
}

export interface Ordering {
  /** Node indices, first to last. */
  order: number[];
  /** Tool changes and turn-overs in seconds; the work itself costs the same in any order. */
  cost: number;
  lowerBound: number;
  proved: boolean;
}

/** Expansions before the exact search gives way to the beam. Origin: keeps a plan of 150 items under 100 ms here. */
const EXACT_BUDGET = 3000;
const BEAM_WIDTH = 48;

interface State {
  done: bigint;
  count: number;
  tool: string | null;
  face: 'front' | 'back';
  open: number;
  cost: number;
  bound: number;
  /** Ranks so far, to break ties towards the natural order from the outside in. */
  untidy: number;
  last: number;
  parent: State | null;
}

class Heap {
  private readonly items: State[] = [];
  get size(): number { return this.items.length; }
  push(state: State): void {
    let i = this.items.push(state) - 1;
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (!better(state, this.items[up]!)) break;
      this.items[i] = this.items[up]!;
      i = up;
    }
    this.items[i] = state;
  }
  pop(): State {
    const top = this.items[0]!;
    const last = this.items.pop()!;
    const n = this.items.length;
    if (n > 0) {
      let i = 0;
      for (;;) {
        let child = 2 * i + 1;
        if (child >= n) break;
        if (child + 1 < n && better(this.items[child + 1]!, this.items[child]!)) child++;
        if (!better(this.items[child]!, last)) break;
        this.items[i] = this.items[child]!;
        i = child;
      }
      this.items[i] = last;
    }
    return top;
  }
}

function better(a: State, b: State): boolean {
  if (a.bound !== b.bound) return a.bound < b.bound;
  if (a.count !== b.count) return a.count > b.count;
  return a.untidy < b.untidy;
}

/**
 * A* over the downsets of the precedence graph with (last tool, face) as state; past its budget a
 * beam, whose gap to the proved lower bound is then reported.
 * @returns `null` when no order exists, because a turn-over would always fall while something is swung open
 * @throws Error when `before` holds a circle
 */
export function cheapestOrder(nodes: readonly OrderNode[], costs: OrderCost, startFace: 'front' | 'back' = 'front'): Ordering | null {
  const n = nodes.length;
  const all = (1n << BigInt(n)) - 1n;
  const masks = nodes.map((node) => node.before.reduce((mask, i) => mask | (1n << BigInt(i)), 0n));
  const bits = nodes.map((_, i) => 1n << BigInt(i));

  const boundFrom = (done: bigint, tool: string | null, face: 'front' | 'back'): number => {
    const tools = new Set<string>();
    const handedOn = new Set<string>();
    let otherFace = false;
    for (let i = 0; i < n; i++) {
      if (done & bits[i]!) continue;
      const node = nodes[i]!;
      if (node.firstTool !== null && node.firstTool !== tool) tools.add(node.firstTool);
      if (node.lastTool !== null && node.lastTool !== node.firstTool) handedOn.add(node.lastTool);
      if (node.face !== 'edge' && node.face !== face) otherFace = true;
    }
    // A tool that some work ends with may come for nothing.
    for (const free of handedOn) tools.delete(free);
    return tools.size * costs.toolChange + (otherFace ? costs.turnOver : 0);
  };
  const successors = (state: State): State[] => {
    const found: State[] = [];
    for (let i = 0; i < n; i++) {
      if (state.done & bits[i]! || (state.done & masks[i]!) !== masks[i]!) continue;
      const node = nodes[i]!;
      const turns = node.face !== 'edge' && node.face !== state.face;
      if (turns && state.open > 0) continue;
      const changes = node.firstTool !== null && node.firstTool !== state.tool;
      const tool = node.lastTool ?? state.tool;
      const face = node.face === 'edge' ? state.face : node.face;
      const done = state.done | bits[i]!;
      const cost = state.cost + (changes ? costs.toolChange : 0) + (turns ? costs.turnOver : 0);
      found.push({
        done, count: state.count + 1, tool, face, cost,
        open: state.open + (node.opens ? 1 : 0) - (node.closes ? 1 : 0),
        bound: cost + boundFrom(done, tool, face),
        untidy: state.untidy + node.rank * (n - state.count),
        last: i, parent: state,
      });
    }
    return found;
  };
  const finish = (state: State, lowerBound: number): Ordering => {
    const order: number[] = [];
    for (let at: State | null = state; at && at.last >= 0; at = at.parent) order.unshift(at.last);
    return { order, cost: state.cost, lowerBound, proved: state.cost <= lowerBound + 1e-9 };
  };
  const start: State = { done: 0n, count: 0, tool: null, face: startFace, open: 0, cost: 0, bound: boundFrom(0n, null, startFace), untidy: 0, last: -1, parent: null };
  if (n === 0) return { order: [], cost: 0, lowerBound: 0, proved: true };

  const heap = new Heap();
  const bestAt = new Map<string, number>();
  heap.push(start);
  let lowerBound = start.bound;
  let expanded = 0;
  while (heap.size > 0 && expanded < EXACT_BUDGET) {
    const state = heap.pop();
    lowerBound = Math.max(lowerBound, state.bound);
    if (state.done === all) return finish(state, state.cost);
    expanded++;
    for (const next of successors(state)) {
      const at = `${next.done.toString(36)}|${next.tool}|${next.face}|${next.open}`;
      const known = bestAt.get(at);
      if (known !== undefined && known <= next.cost) continue;
      bestAt.set(at, next.cost);
      heap.push(next);
    }
  }
  if (heap.size === 0) return blocked(nodes, masks, bits, all);

  let beam = [start];
  for (let depth = 0; depth < n; depth++) {
    const best = new Map<string, State>();
    for (const next of beam.flatMap(successors)) {
      const at = `${next.done.toString(36)}|${next.tool}|${next.face}`;
      const known = best.get(at);
      if (!known || better(next, known)) best.set(at, next);
    }
    beam = [...best.values()].sort((a, b) => (better(a, b) ? -1 : 1)).slice(0, BEAM_WIDTH);
    if (beam.length === 0) return blocked(nodes, masks, bits, all);
  }
  return finish(beam[0]!, lowerBound);
}

/** Tells a circle, which is a mistake of the caller, from a device that cannot be turned over in time. */
function blocked(nodes: readonly OrderNode[], masks: readonly bigint[], bits: readonly bigint[], all: bigint): null {
  let done = 0n;
  for (let grown = true; grown; ) {
    grown = false;
    for (let i = 0; i < nodes.length; i++) {
      if (!(done & bits[i]!) && (done & masks[i]!) === masks[i]!) {
        done |= bits[i]!;
        grown = true;
      }
    }
  }
  if (done !== all) throw new Error('the precedence holds a circle');
  return null;
}
